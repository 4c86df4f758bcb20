"""Strokes picked and changed after they were drawn."""

from __future__ import annotations

import math
import time
import uuid
from typing import Annotated, Any, Literal

import numpy as np
from flask import Response
from flask_openapi3 import APIBlueprint, Tag
from numpy.typing import NDArray
from pydantic import BaseModel, Field

from hollow_marble.core.drafting.box import Face, Placed, face_axes
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.ink import reshape
from hollow_marble.documents.sheet.drafting import placed_box
from hollow_marble.documents.sheet.drawing import MEDIA, made_stroke
from hollow_marble.documents.sheet.edits import ChangeStrokes
from hollow_marble.documents.sheet.edits.strokes import ink_layer
from hollow_marble.documents.sheet.model import Colour, LineStyle, NibName, Sheet, Stroke
from hollow_marble.documents.sheet.notes import scale_at
from hollow_marble.documents.sheet.raster.differences import differences
from hollow_marble.store.assets import keep_asset
from hollow_marble.web import shapes
from hollow_marble.web.documents_api import commit
from hollow_marble.web.services import services
from hollow_marble.web.sketch_api import answer_tiles, sheet_of

api = APIBlueprint("lines", __name__, url_prefix="/api/projects/<project>/sheets", abp_tags=[Tag(name="lines")])

Place = tuple[float, float]
REACH = 14.0
"""Px within which a touch finds a line."""


class PickRequest(BaseModel):
    """Lines of a layer inside an outline, or the one nearest to a single place."""

    layer: str
    points: Annotated[list[Place], Field(min_length=1, max_length=20_000)]


class PickedLine(BaseModel):
    """A picked stroke: its id and a few places along it."""

    id: str
    path: list[Place]


class PickedLines(BaseModel):
    lines: list[PickedLine]


class Carry(BaseModel):
    """Mirror, scale (factor) and turn (degrees) about the pick's middle, then move (px); as a copy where asked."""

    how: Literal["carry"]
    by: Place = (0.0, 0.0)
    turn: float = 0.0
    scale: float = Field(1.0, gt=0.01, lt=100)
    mirror: bool = False
    copies: bool = False


class Restyle(BaseModel):
    """Another colour, nib or tone; widths multiplied."""

    how: Literal["restyle"]
    colour: Colour | None = None
    nib: NibName | None = None
    line: LineStyle | None = None
    tone: float | None = Field(None, gt=0, le=1)
    wider: float = Field(1.0, gt=0.05, lt=20)


class Smooth(BaseModel):
    how: Literal["smooth"]
    width: float = Field(40.0, gt=0, le=600)


class Pull(BaseModel):
    """Pull on the line at a place."""

    how: Literal["pull"]
    at: Place
    by: Place
    reach: float = Field(60.0, gt=0, le=1000)


class CutOut(BaseModel):
    """Take away what lies inside an outline."""

    how: Literal["cut out"]
    points: Annotated[list[Place], Field(min_length=3, max_length=20_000)]


class LayOn(BaseModel):
    """Put a copy on a face of the construction box, as if it were drawn there: in true size where the view around the
    lines has a scale, as large as the face otherwise."""

    how: Literal["lay on"]
    face: Face


class Remove(BaseModel):
    how: Literal["remove"]


class LinesRequest(BaseModel):
    layer: str
    ids: Annotated[list[str], Field(min_length=1, max_length=5000)]
    change: Annotated[Carry | Restyle | Smooth | Pull | CutOut | LayOn | Remove, Field(discriminator="how")]


@api.post("/<document>/lines/pick", responses={200: PickedLines})
def pick_lines(path: shapes.InDocument, body: PickRequest) -> dict[str, Any]:
    """Pick lines of a layer."""
    sheet, raster = services().current_raster(services().project(path.project), path.document)
    layer = ink_layer(sheet, body.layer)
    outline = np.array(body.points, float)
    found: list[tuple[Stroke, NDArray[np.float32]]] = []
    if len(outline) >= 3 and np.ptp(outline, axis=0).max() > 6:
        for stroke in layer.strokes:
            samples = raster.ink.samples(stroke.samples)
            if reshape.inside(samples[:, :2].astype(float), outline).mean() > 0.5:
                found.append((stroke, samples))
    else:
        place = (float(outline[-1][0]), float(outline[-1][1]))
        near = [
            (reshape.distance_to(raster.ink.samples(s.samples), place) - s.size / 2, s)
            for s in layer.strokes
            if s.bounds[0] - REACH <= place[0] <= s.bounds[2] + REACH
            and s.bounds[1] - REACH <= place[1] <= s.bounds[3] + REACH
        ]
        if near:
            gap, stroke = min(reversed(near), key=lambda item: item[0])
            if gap <= REACH:
                found.append((stroke, raster.ink.samples(stroke.samples)))
    return {"lines": [{"id": s.id, "path": reshape.evened(samples, 12.0)[:, :2].tolist()} for s, samples in found]}


@api.post("/<document>/lines/change")
def change_lines(path: shapes.InDocument, body: LinesRequest) -> Response:
    """Change picked lines; answers with the tiles that changed, packed."""
    began = time.perf_counter()
    project = services().project(path.project)
    sheet, raster = services().current_raster(project, path.document)
    layer = ink_layer(sheet, body.layer)
    chosen = [stroke for stroke in layer.strokes if stroke.id in set(body.ids)]
    if not chosen:
        raise HollowMarbleError("Those lines are no longer there. Pick them again.")
    change = body.change
    changed: list[Stroke] = []
    removed: list[str] = []
    added: list[Stroke] = []
    with project.database.write():

        def kept(stroke: Stroke, samples: NDArray[np.float32], ident: str, **look: Any) -> Stroke:
            sha = keep_asset(project.database, samples.astype("<f4").tobytes(), MEDIA)
            fields = {
                name: getattr(stroke, name) for name in ("nib", "size", "tone", "colour", "repeat", "inside", "line")
            }
            return made_stroke(ident, samples, sha, **{**fields, **look})

        if isinstance(change, Remove):
            removed = [stroke.id for stroke in chosen]
        elif isinstance(change, Carry):
            matrix = _matrix(chosen, change)
            for stroke in chosen:
                moved = reshape.carried(raster.ink.samples(stroke.samples), matrix)
                ident = uuid.uuid4().hex[:12] if change.copies else stroke.id
                size = min(600.0, max(0.2, stroke.size * change.scale))
                (added if change.copies else changed).append(kept(stroke, moved, ident, size=size))
        elif isinstance(change, LayOn):
            box = placed_box(sheet)
            middle, scale = _lying(sheet, chosen, change.face, box)
            onto = box.laid_on(change.face, middle, scale)
            added = [
                kept(
                    stroke,
                    reshape.through(raster.ink.samples(stroke.samples), onto),
                    uuid.uuid4().hex[:12],
                    repeat=None,
                )
                for stroke in chosen
            ]
        elif isinstance(change, CutOut):
            outline = np.array(change.points, float)
            for stroke in chosen:
                samples = raster.ink.samples(stroke.samples)
                pieces = reshape.pieces_outside(samples, outline)
                if len(pieces) == 1 and len(pieces[0]) == len(reshape.evened(samples, 1.5)):
                    continue
                removed.append(stroke.id)
                added += [kept(stroke, piece, uuid.uuid4().hex[:12]) for piece in pieces]
            if not removed:
                raise HollowMarbleError("None of the picked lines runs through there. Nothing was cut out.")
        else:
            for stroke in chosen:
                samples = raster.ink.samples(stroke.samples)
                look: dict[str, Any] = {}
                if isinstance(change, Smooth):
                    samples = reshape.smoothed(samples, change.width)
                elif isinstance(change, Pull):
                    samples = reshape.pulled(samples, change.at, change.by, change.reach)
                else:
                    look = {"size": min(600.0, max(0.2, stroke.size * change.wider))}
                    look |= {k: v for k in ("colour", "nib", "tone", "line") if (v := getattr(change, k)) is not None}
                changed.append(kept(stroke, samples, stroke.id, **look))
        edit = ChangeStrokes(
            layer=layer.id,
            changed=tuple(changed),
            removed=tuple(removed),
            added=tuple(added),
            said=_said(change, len(chosen)),
        )
        place = commit(project, path.document, edit)
    after = sheet_of(path)
    return answer_tiles(path, raster, after, differences(sheet, after), place, began)


def _lying(sheet: Sheet, strokes: list[Stroke], face: Face, box: Placed) -> tuple[Place, float]:
    """Middle of strokes, px, and px a mm that they are drawn in."""
    rects = np.array([stroke.bounds for stroke in strokes], float)
    low, high = rects[:, :2].min(axis=0), rects[:, 2:].max(axis=0)
    middle = (float((low[0] + high[0]) / 2), float((low[1] + high[1]) / 2))
    scale = scale_at(sheet.views, middle)
    if scale is None:
        first, second = face_axes(face)
        scale = float(max((high[0] - low[0]) / box.size[first], (high[1] - low[1]) / box.size[second]))
    return middle, scale


def _matrix(strokes: list[Stroke], change: Carry) -> NDArray[np.float64]:
    boxes = np.array([stroke.bounds for stroke in strokes], float)
    low, high = boxes[:, :2].min(axis=0), boxes[:, 2:].max(axis=0)
    centre = (float((low[0] + high[0]) / 2), float((low[1] + high[1]) / 2))
    return reshape.similarity(centre, change.by, math.radians(change.turn), change.scale, change.mirror)


def _said(change: object, count: int) -> str:
    lines = "a line" if count == 1 else f"{count} lines"
    if isinstance(change, Carry):
        if change.copies:
            return f"Duplicated {lines}"
        parts = [
            word
            for word, on in (
                ("mirrored", change.mirror),
                ("scaled", change.scale != 1),
                ("turned", change.turn != 0),
                ("moved", change.by != (0.0, 0.0)),
            )
            if on
        ]
        return f"{' and '.join(parts or ['moved']).capitalize()} {lines}"
    if isinstance(change, LayOn):
        return f"Laid {lines} on the {change.face} of the box"
    if isinstance(change, Restyle):
        if change.colour:
            return f"Recoloured {lines}"
        return f"Made {lines} {'wider' if change.wider > 1 else 'finer'}" if change.wider != 1 else f"Redrew {lines}"
    words = {Smooth: "Smoothed", Pull: "Pulled on", CutOut: "Cut a piece out of", Remove: "Removed"}
    return f"{words[type(change)]} {lines}"  # type: ignore[index]
