"""Sheets: strokes in, tiles out, pictures and lines in open formats."""

from __future__ import annotations

import time
from dataclasses import asdict
from typing import Any

import numpy as np
from flask import Response, request
from flask_openapi3 import FileStorage, Tag
from pydantic import BaseModel, ConfigDict, Field

from hollow_marble.application.editing import Made
from hollow_marble.application.sheets import pages, strokes
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.sheet.model import Rect, Sheet
from hollow_marble.documents.sheet.raster.differences import differences
from hollow_marble.store.assets import load_asset
from hollow_marble.store.takes import get_take
from hollow_marble.web import shapes
from hollow_marble.web.blueprint import Blueprint
from hollow_marble.web.documents_api import project_of, told
from hollow_marble.web.packing import packed
from hollow_marble.web.running import application, hand
from hollow_marble.web.sending import download

api = Blueprint("sketch", __name__, url_prefix="/api/projects/<project>/sheets", abp_tags=[Tag(name="sketch")])


class StrokeQuery(shapes.Asked, strokes.StrokeWish):
    """How a stroke is to be drawn."""


class TilesQuery(shapes.Asked):
    """Tiles that differ from the page at an earlier line of the ledger (0 is its start); all where it is left out."""

    since: int | None = None


class PageQuery(shapes.Asked):
    """`wide` asks for a picture so many px wide; `scale` for so many px a px of the page; `head` only makes the address change with it."""

    wide: int | None = Field(None, ge=16, le=2400)
    scale: int = Field(1, ge=1, le=4)
    head: int | None = None


class TakeRequest(BaseModel):
    take: str


class PictureForm(BaseModel):
    model_config = ConfigDict(arbitrary_types_allowed=True)
    file: FileStorage


@api.post("/<document>/strokes")
def draw(path: shapes.InDocument, query: StrokeQuery) -> Response:
    """Draw a stroke; answers with the tiles that changed, packed. The body holds its samples as float32 x, y, pressure, lean."""
    began = time.perf_counter()
    made = strokes.draw(application().editing, project_of(path), path.document, query, request.get_data(), hand())
    return changed_tiles(path, made, began)


@api.get("/<document>/tiles")
def tiles(path: shapes.InDocument, query: TilesQuery) -> Response:
    """Tiles of the page, packed: all of them, or those that differ from an earlier line."""
    began = time.perf_counter()
    ledger = project_of(path).ledger
    # the head that is told and the pixels that are sent must be one state, whatever is drawn meanwhile
    place = ledger.standing(path.document)
    sheet = ledger.state(path.document, place.head, at_head=False)
    if not isinstance(sheet, Sheet):
        raise HollowMarbleError("That document is not a sheet.")
    changed: list[Rect] = [(0, 0, sheet.width, sheet.height)]
    if query.since is not None:
        earlier = ledger.state(path.document, query.since or None, at_head=False)
        assert isinstance(earlier, Sheet)
        changed = differences(earlier, sheet)
    return _tiles(path, sheet, changed, {"standing": asdict(place)}, began)


@api.get("/<document>/page.png")
def page_png(path: shapes.InDocument, query: PageQuery) -> Response:
    """The whole page as PNG."""
    if query.wide is not None:
        data = pages.small_page(application().workspace, project_of(path), path.document, query.wide)
        return Response(data, mimetype="image/png", headers={"Cache-Control": "private, max-age=3600"})
    return _page(path, "png", query.scale)


@api.get("/<document>/page.pdf")
def page_pdf(path: shapes.InDocument) -> Response:
    """The page as PDF, its notes as text."""
    return _page(path, "pdf")


@api.get("/<document>/page.svg")
def page_svg(path: shapes.InDocument) -> Response:
    """The page's lines as SVG."""
    return _page(path, "svg")


@api.get("/<document>/page.ora")
def page_ora(path: shapes.InDocument) -> Response:
    """The page with its layers as OpenRaster."""
    return _page(path, "ora")


@api.post("/<document>/layers", responses={200: shapes.Changed})
def bring_in_layers(path: shapes.InDocument, form: PictureForm) -> dict[str, Any]:
    """Bring in the layers of an OpenRaster file, on top of the others."""
    name, data = (form.file.filename or "Layers")[:60], form.file.stream.read()
    made = pages.bring_in_layers(application().editing, project_of(path), path.document, name, data, hand())
    return told(path, made)


@api.post("/<document>/pictures", responses={200: shapes.Changed})
def place_picture(path: shapes.InDocument, form: PictureForm) -> dict[str, Any]:
    """Place a picture in the middle of the page, scaled to fit."""
    name, data = (form.file.filename or "Picture")[:60], form.file.stream.read()
    return told(path, pages.place_picture(application().editing, project_of(path), path.document, name, data, hand()))


@api.post("/<document>/pictures/take", responses={200: shapes.Changed})
def place_take(path: shapes.InDocument, body: TakeRequest) -> dict[str, Any]:
    """Place a take's picture on the page, to draw over."""
    project = project_of(path)
    take = get_take(project.database, body.take)
    if take.picture is None:
        raise HollowMarbleError("That take has no picture yet. Wait for its first one.")
    data = load_asset(project.database, take.picture)[0]
    return told(path, pages.place_picture(application().editing, project, path.document, take.name, data, hand()))


def changed_tiles(path: shapes.InDocument, made: Made, began: float) -> Response:
    """The tiles an edit changed since the state its hand had seen, packed, with the rest of its answer."""
    assert isinstance(made.seen, Sheet)
    assert isinstance(made.after, Sheet)
    return _tiles(path, made.after, differences(made.seen, made.after), {**told(path, made), **made.more}, began)


def _tiles(path: shapes.InDocument, sheet: Sheet, changed: list[Rect], meta: dict[str, Any], began: float) -> Response:
    found = application().workspace.raster(project_of(path), path.document).tiles(changed, sheet)
    rects = np.array([rect for rect, _ in found], np.int32).reshape(-1, 4)
    bare = np.array([pixels is None for _, pixels in found], np.uint8)
    inked = [pixels.reshape(-1) for _, pixels in found if pixels is not None]
    body = np.concatenate(inked) if inked else np.empty(0, np.uint8)
    meta = {**meta, "milliseconds": (time.perf_counter() - began) * 1000}
    return packed(meta, {"rects": rects, "bare": bare, "pixels": body})


def _page(path: shapes.InDocument, ending: pages.Ending, scale: int = 1) -> Response:
    project = project_of(path)
    data = pages.page_as(application().workspace, project, path.document, ending, scale)
    name = f"{project.entry.name} {project.ledger.row(path.document).name}.{ending}"
    return download(data, pages.MEDIA[ending], name)
