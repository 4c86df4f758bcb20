"""Selecting part of a page. A selection is kept under its SHA-256, so that later requests can name it."""

from __future__ import annotations

from typing import Annotated, Any, Literal

import numpy as np
from pydantic import BaseModel, Field

from hollow_marble.application.workspace import Workspace
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.ink import select
from hollow_marble.core.ink.fill import region
from hollow_marble.core.ink.select import Selection
from hollow_marble.documents.edit import Asset, asset_of, find
from hollow_marble.documents.sheet import painting
from hollow_marble.documents.sheet.model import Rect, Sheet
from hollow_marble.store.assets import keep_asset
from hollow_marble.store.library import Project

Places = Annotated[list[tuple[float, float]], Field(max_length=20_000)]


class ByOutline(BaseModel):
    """The inside of a line drawn around something."""

    by: Literal["outline"]
    points: Places


class ByBox(BaseModel):
    by: Literal["box"]
    rect: Rect


class ByPaint(BaseModel):
    """Where a layer has paint."""

    by: Literal["paint"]
    layer: str


class ByRegion(BaseModel):
    """The region closed in by shown ink around a place; openings up to `gap` px count as closed."""

    by: Literal["region"]
    at: tuple[float, float]
    gap: float = Field(12.0, ge=0, le=120)


class ByRest(BaseModel):
    """Everything that is not selected now."""

    by: Literal["rest"]


class BySoftening(BaseModel):
    """The selection with its edge softened."""

    by: Literal["softening"]
    radius: float = Field(gt=0, le=400)


class SelectRequest(BaseModel):
    """One more selection, and how it goes together with the one there is (`before`)."""

    shape: Annotated[
        ByOutline | ByBox | ByPaint | ByRegion | ByRest | BySoftening,
        Field(discriminator="by"),
    ]
    how: Literal["instead", "add", "take away", "keep common"] = "instead"
    before: str | None = None
    feather: float = Field(0.0, ge=0, le=400)


def make_selection(workspace: Workspace, project: Project, ident: str, wish: SelectRequest) -> dict[str, Any]:
    """Select part of a page; says what was selected and under which name."""
    sheet: Any = project.ledger.state(ident)
    page = painting.page_of(sheet)
    before = selection_of(workspace, project, wish.before)
    shape = wish.shape
    if isinstance(shape, ByRest | BySoftening):
        if before is None:
            raise HollowMarbleError("Nothing is selected yet. Select something first.")
        found = (
            select.inverted(before, page) if isinstance(shape, ByRest) else select.feathered(before, shape.radius, page)
        )
    else:
        new = _selected(workspace, project, ident, sheet, shape, page)
        found = select.combined(before, select.feathered(new, wish.feather, page), wish.how)
    asset, told = kept_selection(found)
    keep_asset(project.database, asset.data, asset.media)
    return told


def _selected(
    workspace: Workspace,
    project: Project,
    ident: str,
    sheet: Sheet,
    by: ByOutline | ByBox | ByPaint | ByRegion,
    page: Rect,
) -> Selection:
    if isinstance(by, ByOutline):
        return select.outlined(np.array(by.points, float).reshape(-1, 2), page)
    if isinstance(by, ByBox):
        return select.boxed(by.rect, page)
    with workspace.pixels_of(project, ident, sheet) as raster:
        if isinstance(by, ByPaint):
            find(sheet.layers, by.layer, "layer")
            return select.painted(raster.layer_pixels(by.layer, page))
        return region(raster.lines(), by.at, by.gap)


def kept_selection(found: Selection) -> tuple[Asset, dict[str, Any]]:
    """A selection as it is kept, and what is told of it: its name, the rectangle around it, closed lines along its edge."""
    asset = asset_of(painting.selection_to_bytes(found), painting.SELECTION_MEDIA)
    edges = [np.round(line, 1).tolist() for line in select.edges(found)]
    return asset, {"selection": asset.sha, "rect": found.rect, "edges": edges}


def selection_of(workspace: Workspace, project: Project, sha: str | None) -> Selection | None:
    """The selection kept under a name."""
    return None if sha is None else painting.selection_from(workspace.loader(project)(sha))
