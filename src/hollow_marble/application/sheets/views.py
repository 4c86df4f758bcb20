"""Views of a sheet: copied, moved with what is drawn in them, set in line, repeated faintly behind the others."""

from __future__ import annotations

from typing import Annotated, Any, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, Field

from hollow_marble.application.editing import Editing, Hand, Made, Proposal
from hollow_marble.application.sheets.strokes import copied_strokes, kept_samples, new_id, open_ink_layer
from hollow_marble.application.sheets.tone import tile_assets
from hollow_marble.application.workspace import Workspace
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.ink import paint
from hollow_marble.core.ink.reshape import carried
from hollow_marble.core.ink.stamp import clipped
from hollow_marble.documents.edit import Asset, find
from hollow_marble.documents.sheet import painting
from hollow_marble.documents.sheet.drawing import lines_in, moved_stroke, view_strokes
from hollow_marble.documents.sheet.edits import MoveViews, PutCopy, RepeatFaintly
from hollow_marble.documents.sheet.model import InkLayer, Sheet, Stroke, ToneLayer, View
from hollow_marble.documents.sheet.raster import SheetRaster
from hollow_marble.documents.sheet.raster.ink import InkDrawer
from hollow_marble.store.library import Project

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


def copy_view(editing: Editing, project: Project, ident: str, view: str, wish: CopyRequest, hand: Hand) -> Made:
    """Put a copy of the lines in a view on this sheet or another one, framed as a view of its own."""
    source: Any = project.ledger.state(ident)
    ink = editing.workspace.raster(project, ident).ink
    original = find(source.views, view, "view")
    left, top, right, bottom = original.rect
    by = (0.0, 0.0) if wish.at is None else (wish.at[0] - (left + right) / 2, wish.at[1] - (top + bottom) / 2)

    def compose(target: Any) -> Proposal:
        if not isinstance(target, Sheet):
            raise HollowMarbleError("A view can be copied to a sheet only.")
        return view_copied(ink, source, original, target, by)

    return editing.make(project, wish.to, compose, hand if wish.to == ident else Hand(hand.tab))


def view_copied(ink: InkDrawer, source: Sheet, original: View, target: Sheet, by: tuple[float, float]) -> Proposal:
    """A copy on `target` of the lines in a view of `source`, so many px right and down, framed as a view of its own."""
    layer = open_ink_layer(target, "to put the copy on")
    strokes, assets = copied_strokes(ink, view_strokes(source, original), by)
    if not strokes:
        raise HollowMarbleError("There are no lines in that view to copy.")
    left, top, right, bottom = original.rect
    rect = (round(left + by[0]), round(top + by[1]), round(right + by[0]), round(bottom + by[1]))
    copy = original.model_copy(
        update={
            "id": new_id(8),
            "rect": clipped(rect, (0, 0, target.width, target.height)),
            "name": f"{original.name} copy"[:60],
            "struck": False,
        }
    )
    return Proposal(PutCopy(view=copy, layer=layer, strokes=strokes), assets)


def move_views(editing: Editing, project: Project, ident: str, wish: MoveRequest, hand: Hand) -> Made:
    """Move views with all that is drawn in them."""
    count = len(wish.moves)
    moves = {view: (round(x), round(y)) for view, (x, y) in wish.moves.items()}
    said = "Moved a view" if count == 1 else f"Moved {count} views"
    return editing.make(project, ident, lambda sheet: _moved(editing, project, ident, sheet, moves, said), hand)


def arrange_views(editing: Editing, project: Project, ident: str, wish: ArrangeRequest, hand: Hand) -> Made:
    """Set views in line, or spread them evenly."""

    def compose(sheet: Sheet) -> Proposal:
        views = [view for view in sheet.views if not wish.views or view.id in wish.views]
        if len(views) < (3 if "spread" in wish.way else 2):
            raise HollowMarbleError("Frame more views first: two to set in line, three to spread evenly.")
        shift = shifts_in_line(np.array([view.rect for view in views], float), wish.way)
        moves = {view.id: (round(x), round(y)) for view, (x, y) in zip(views, shift) if round(x) or round(y)}
        if not moves:
            raise HollowMarbleError("The views stand like that already.")
        said = f"Set {len(views)} views {'in line' if 'spread' not in wish.way else 'evenly apart'}"
        return _moved(editing, project, ident, sheet, moves, said)

    return editing.make(project, ident, compose, hand)


def shifts_in_line(rects: NDArray[np.float64], way: Way) -> NDArray[np.float64]:
    """(n, 2) px that rectangles (n, 4) go to stand in line, or so that the gaps between them are even."""
    axis = 0 if way in ("left", "centre", "right", "spread across") else 1
    low, high = rects[:, axis], rects[:, axis + 2]
    shift = np.zeros((len(rects), 2))
    if way in ("left", "top"):
        shift[:, axis] = low.min() - low
    elif way in ("right", "bottom"):
        shift[:, axis] = high.max() - high
    elif way in ("centre", "middle"):
        shift[:, axis] = ((low + high).mean() - low - high) / 2
    else:
        order = np.argsort(low + high)
        wide = (high - low)[order]
        gap = (high.max() - low.min() - wide.sum()) / (len(rects) - 1)
        starts = low.min() + np.concatenate([[0.0], np.cumsum(wide[:-1] + gap)])
        shift[order, axis] = starts - low[order]
    return shift


def repeat_faintly(editing: Editing, project: Project, ident: str, view: str, wish: FaintRequest, hand: Hand) -> Made:
    """Repeat a view's lines faintly behind everything else."""
    ink = editing.workspace.raster(project, ident).ink

    def compose(sheet: Sheet) -> Proposal:
        original = find(sheet.views, view, "view")
        left, top, right, bottom = original.rect
        middle = np.array([(left + right) / 2, (top + bottom) / 2])
        matrix = np.column_stack([np.eye(2) * wish.scale, np.array(wish.at) - middle * wish.scale])
        strokes, assets = [], []
        for stroke in view_strokes(sheet, original):
            samples = carried(ink.samples(stroke.samples), matrix)
            assets.append(kept_samples(samples))
            plain = stroke.model_copy(update={"repeat": None, "size": min(600.0, stroke.size * wish.scale)})
            strokes.append(moved_stroke(plain, new_id(), samples, assets[-1].sha, (0, 0)))
        if not strokes:
            raise HollowMarbleError("There are no lines in that view to repeat.")
        name = f"Faint {original.name}"[:60]
        layer = InkLayer(id=new_id(8), name=name, opacity=wish.opacity, strokes=tuple(strokes))
        return Proposal(RepeatFaintly(layer=layer), tuple(assets))

    return editing.make(project, ident, compose, hand)


def view_lines(workspace: Workspace, project: Project, ident: str, view: str) -> list[NDArray[np.float32]]:
    """The courses (N, 2) of a view's lines in px of the page."""
    sheet: Any = project.ledger.state(ident)
    ink = workspace.raster(project, ident).ink
    return [ink.samples(s.samples)[:, :2] for s in view_strokes(sheet, find(sheet.views, view, "view"))]


def view_ink(workspace: Workspace, project: Project, ident: str, view: str) -> NDArray[np.uint8]:
    """(h, w, 4) a view's ink on a clear ground, to stand behind a form."""
    sheet: Any = project.ledger.state(ident)
    with workspace.pixels_of(project, ident, sheet) as raster:
        return raster.view_ink(find(sheet.views, view, "view"))


def _moved(
    editing: Editing, project: Project, ident: str, sheet: Sheet, moves: dict[str, tuple[int, int]], said: str
) -> Proposal:
    """Carry lines, paint, pictures and notes of each view with it."""
    for view in moves:
        find(sheet.views, view, "view")
    strokes: dict[str, tuple[Stroke, ...]] = {}
    tiles: dict[str, dict[str, str | None]] = {}
    assets: list[Asset] = []
    with editing.workspace.pixels_of(project, ident, sheet) as raster:
        for layer in sheet.layers:
            if isinstance(layer, InkLayer):
                moved = _moved_strokes(sheet, layer, raster, moves, assets)
                if moved:
                    strokes[layer.id] = moved
            elif isinstance(layer, ToneLayer) and layer.tiles:
                old = raster.raw(layer.id)
                made = painting.packed_tiles(
                    raster, sheet, old, painting.page_of(sheet), _moved_paint(sheet, old, moves)
                )
                assets += tile_assets(made)
                if made.names:
                    tiles[layer.id] = made.names
    return Proposal(MoveViews(moves=moves, strokes=strokes, tiles=tiles, said=said), tuple(assets))


def _moved_strokes(
    sheet: Sheet, layer: InkLayer, raster: SheetRaster, moves: dict[str, tuple[int, int]], assets: list[Asset]
) -> tuple[Stroke, ...]:
    moved = {}
    for view, by in moves.items():
        for stroke in lines_in(layer, find(sheet.views, view, "view").rect):
            samples = raster.ink.samples(stroke.samples).copy()
            samples[:, :2] += by
            assets.append(kept_samples(samples))
            moved[stroke.id] = moved_stroke(stroke, stroke.id, samples, assets[-1].sha, by)
    return tuple(moved.values())


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
        under[:] = paint.over(under, piece)
    return new
