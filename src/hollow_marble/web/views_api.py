"""Views of a sheet: copied, moved with what is drawn in them, set in line, repeated faintly behind the others."""

from __future__ import annotations

import uuid
from typing import Annotated, Any, Literal

import numpy as np
from flask import Response
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel, Field

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.ink.reshape import carried
from hollow_marble.core.ink.stamp import clipped
from hollow_marble.documents.edit import find
from hollow_marble.documents.sheet import painting
from hollow_marble.documents.sheet.drawing import MEDIA as SAMPLES_MEDIA
from hollow_marble.documents.sheet.drawing import lines_in, moved_stroke, view_strokes
from hollow_marble.documents.sheet.edits import MoveViews, PutCopy, RepeatFaintly
from hollow_marble.documents.sheet.model import InkLayer, Sheet, Stroke, ToneLayer
from hollow_marble.exchange.pictures import png
from hollow_marble.store.assets import keep_asset
from hollow_marble.web import shapes
from hollow_marble.web.documents_api import commit
from hollow_marble.web.packing import packed
from hollow_marble.web.services import services
from hollow_marble.web.sketch_api import keep_tiles

api = APIBlueprint("views", __name__, url_prefix="/api/projects/<project>/sheets", abp_tags=[Tag(name="views")])

Way = Literal["left", "centre", "right", "top", "middle", "bottom", "spread across", "spread down"]


class CopyRequest(BaseModel):
    """The sheet the copy goes to, and where its middle lies; the same place where that is left out."""

    to: str
    at: tuple[float, float] | None = None


class MoveRequest(BaseModel):
    """Px to the right and down for each view that moves."""

    moves: Annotated[dict[str, tuple[float, float]], Field(min_length=1)]


class ArrangeRequest(BaseModel):
    """Views set in line with one another, or spread so that the gaps between them are even; all where none are named."""

    way: Way
    views: list[str] = []


class FaintRequest(BaseModel):
    """A view's lines again, behind everything: how dark, how large, where their middle lies."""

    at: tuple[float, float]
    scale: float = Field(1.6, gt=0.05, le=20)
    opacity: float = Field(0.14, gt=0, le=1)


@api.post("/<document>/views/<view>/copy", responses={200: shapes.Standing})
def copy_view(path: shapes.InView, body: CopyRequest) -> dict[str, Any]:
    """Put a copy of the lines in a view on this sheet or another one, framed as a view of its own."""
    project = services().project(path.project)
    sheet, raster = services().current_raster(project, path.document)
    view = find(sheet.views, path.view, "view")
    target = project.ledger.state(body.to)
    if not isinstance(target, Sheet):
        raise HollowMarbleError("A view can be copied to a sheet only.")
    left, top, right, bottom = view.rect
    dx = dy = 0.0
    if body.at is not None:
        dx, dy = body.at[0] - (left + right) / 2, body.at[1] - (top + bottom) / 2
    layer = next((x for x in reversed(target.layers) if x.kind == "ink" and x.visible and not x.locked), None)
    if layer is None:
        raise HollowMarbleError("There is no open ink layer to put the copy on. Add one first.")
    with project.database.write():
        strokes = []
        for stroke in view_strokes(sheet, view):
            samples = raster.ink.samples(stroke.samples).copy()
            samples[:, :2] += (dx, dy)
            sha = keep_asset(project.database, samples.astype("<f4").tobytes(), SAMPLES_MEDIA)
            strokes.append(moved_stroke(stroke, uuid.uuid4().hex[:12], samples, sha, (dx, dy)))
        if not strokes:
            raise HollowMarbleError("There are no lines in that view to copy.")
        rect = (round(left + dx), round(top + dy), round(right + dx), round(bottom + dy))
        page = (0, 0, target.width, target.height)
        copy = view.model_copy(
            update={
                "id": uuid.uuid4().hex[:8],
                "rect": clipped(rect, page),
                "name": f"{view.name} copy"[:60],
                "struck": False,
            }
        )
        edit = PutCopy(view=copy, layer=layer.id, strokes=tuple(strokes))
        return commit(project, body.to, edit)


@api.post("/<document>/views/move", responses={200: shapes.Standing})
def move_views(path: shapes.InDocument, body: MoveRequest) -> dict[str, Any]:
    """Move views with all that is drawn in them."""
    count = len(body.moves)
    said = "Moved a view" if count == 1 else f"Moved {count} views"
    return _moved(path, {ident: (round(x), round(y)) for ident, (x, y) in body.moves.items()}, said)


@api.post("/<document>/views/arrange", responses={200: shapes.Standing})
def arrange_views(path: shapes.InDocument, body: ArrangeRequest) -> dict[str, Any]:
    """Set views in line, or spread them evenly."""
    sheet, _ = services().current_raster(services().project(path.project), path.document)
    views = [view for view in sheet.views if not body.views or view.id in body.views]
    if len(views) < (3 if "spread" in body.way else 2):
        raise HollowMarbleError("Frame more views first: two to set in line, three to spread evenly.")
    rects = np.array([view.rect for view in views], float)
    axis = 0 if body.way in ("left", "centre", "right", "spread across") else 1
    low, high = rects[:, axis], rects[:, axis + 2]
    shift = np.zeros((len(views), 2))
    if body.way in ("left", "top"):
        shift[:, axis] = low.min() - low
    elif body.way in ("right", "bottom"):
        shift[:, axis] = high.max() - high
    elif body.way in ("centre", "middle"):
        shift[:, axis] = ((low + high).mean() - low - high) / 2
    else:
        order = np.argsort(low + high)
        wide = (high - low)[order]
        gap = (high.max() - low.min() - wide.sum()) / (len(views) - 1)
        starts = low.min() + np.concatenate([[0.0], np.cumsum(wide[:-1] + gap)])
        shift[order, axis] = starts - low[order]
    moves = {view.id: (round(x), round(y)) for view, (x, y) in zip(views, shift) if round(x) or round(y)}
    if not moves:
        raise HollowMarbleError("The views stand like that already.")
    return _moved(path, moves, f"Set {len(views)} views {'in line' if 'spread' not in body.way else 'evenly apart'}")


@api.post("/<document>/views/<view>/faint", responses={200: shapes.Standing})
def repeat_faintly(path: shapes.InView, body: FaintRequest) -> dict[str, Any]:
    """Repeat a view's lines faintly behind everything else."""
    project = services().project(path.project)
    sheet, raster = services().current_raster(project, path.document)
    view = find(sheet.views, path.view, "view")
    left, top, right, bottom = view.rect
    middle = np.array([(left + right) / 2, (top + bottom) / 2])
    matrix = np.column_stack([np.eye(2) * body.scale, np.array(body.at) - middle * body.scale])
    strokes = []
    with project.database.write():
        for stroke in view_strokes(sheet, view):
            samples = carried(raster.ink.samples(stroke.samples), matrix)
            sha = keep_asset(project.database, samples.astype("<f4").tobytes(), SAMPLES_MEDIA)
            plain = stroke.model_copy(update={"repeat": None, "size": min(600.0, stroke.size * body.scale)})
            strokes.append(moved_stroke(plain, uuid.uuid4().hex[:12], samples, sha, (0, 0)))
        if not strokes:
            raise HollowMarbleError("There are no lines in that view to repeat.")
        name = f"Faint {view.name}"[:60]
        layer = InkLayer(id=uuid.uuid4().hex[:8], name=name, opacity=body.opacity, strokes=tuple(strokes))
        return commit(project, path.document, RepeatFaintly(layer=layer))


@api.get("/<document>/views/<view>/lines")
def view_lines(path: shapes.InView) -> Response:
    """The courses of a view's lines in px of the page, packed: points (N, 2) and where each line begins (L + 1,)."""
    sheet, raster = services().current_raster(services().project(path.project), path.document)
    found = [raster.ink.samples(s.samples)[:, :2] for s in view_strokes(sheet, find(sheet.views, path.view, "view"))]
    points = np.concatenate(found) if found else np.empty((0, 2))
    starts = np.cumsum([0, *(len(line) for line in found)])
    return packed({"lines": len(found)}, {"points": points.astype(np.float32), "starts": starts.astype(np.int32)})


@api.get("/<document>/views/<view>.png")
def view_png(path: shapes.InView) -> Response:
    """A view's ink on a clear ground, to stand behind a form."""
    sheet, raster = services().current_raster(services().project(path.project), path.document)
    ink = raster.view_ink(find(sheet.views, path.view, "view"))
    return Response(png(ink), mimetype="image/png", headers={"Cache-Control": "no-store"})


def _moved(path: shapes.InDocument, moves: dict[str, tuple[int, int]], said: str) -> dict[str, Any]:
    """Carry lines, paint, pictures and notes of each view with it."""
    project = services().project(path.project)
    sheet, raster = services().current_raster(project, path.document)
    for ident in moves:
        find(sheet.views, ident, "view")
    strokes: dict[str, tuple[Stroke, ...]] = {}
    tiles: dict[str, dict[str, str | None]] = {}
    with project.database.write():
        for layer in sheet.layers:
            if isinstance(layer, InkLayer):
                moved = []
                for ident, by in moves.items():
                    for stroke in lines_in(layer, find(sheet.views, ident, "view").rect):
                        samples = raster.ink.samples(stroke.samples).copy()
                        samples[:, :2] += by
                        sha = keep_asset(project.database, samples.astype("<f4").tobytes(), SAMPLES_MEDIA)
                        moved.append(moved_stroke(stroke, stroke.id, samples, sha, by))
                if moved:
                    strokes[layer.id] = tuple({stroke.id: stroke for stroke in moved}.values())
            elif isinstance(layer, ToneLayer) and layer.tiles:
                changed = _moved_paint(sheet, raster.raw(layer.id), moves)
                made = painting.packed_tiles(raster, sheet, raster.raw(layer.id), painting.page_of(sheet), changed)
                keep_tiles(project, made.data)
                if made.names:
                    tiles[layer.id] = made.names
        return commit(project, path.document, MoveViews(moves=moves, strokes=strokes, tiles=tiles, said=said))


def _moved_paint(sheet: Sheet, old: painting.Window, moves: dict[str, tuple[int, int]]) -> painting.Window:
    """A layer's pixels with each view's rectangle cut out and laid down where it goes."""
    page = painting.page_of(sheet)
    new = old.copy()
    rects = {ident: clipped(find(sheet.views, ident, "view").rect, page) for ident in moves}
    for left, top, right, bottom in rects.values():
        new[top:bottom, left:right] = 0
    for ident, (dx, dy) in moves.items():
        rect = rects[ident]
        goal = clipped((rect[0] + dx, rect[1] + dy, rect[2] + dx, rect[3] + dy), page)
        if goal[2] <= goal[0] or goal[3] <= goal[1]:
            continue
        piece = old[goal[1] - dy : goal[3] - dy, goal[0] - dx : goal[2] - dx].astype(np.float32)
        under = new[goal[1] : goal[3], goal[0] : goal[2]]
        under[:] = np.rint(under * (1 - piece[..., 3:] / 255) + piece)
    return new
