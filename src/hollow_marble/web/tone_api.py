"""Painting on tone layers: selections, strokes held in by them, fills, gradients, clearing, merging."""

from __future__ import annotations

import math
import time
import uuid
from collections.abc import Callable
from typing import Annotated, Any, Literal

import numpy as np
from flask import Response, request
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel, Field

from hollow_marble.core.drafting import light
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.ink import paint, select
from hollow_marble.core.ink.fill import region
from hollow_marble.core.ink.path import NIBS, samples_from
from hollow_marble.core.ink.reshape import similarity
from hollow_marble.core.ink.select import Selection
from hollow_marble.documents.edit import find
from hollow_marble.documents.sheet import painting
from hollow_marble.documents.sheet.drafting import camera_of, placed_box
from hollow_marble.documents.sheet.edits import DuplicateLayer, MergeLayers, PaintTone
from hollow_marble.documents.sheet.model import Colour, GroupLayer, InkLayer, Rect, rgb
from hollow_marble.documents.sheet.raster.differences import differences
from hollow_marble.store.assets import keep_asset
from hollow_marble.store.library import Project
from hollow_marble.web import shapes
from hollow_marble.web.documents_api import commit
from hollow_marble.web.services import services
from hollow_marble.web.sketch_api import StrokeQuery, answer_tiles, keep_tiles, sheet_of

api = APIBlueprint("tone", __name__, url_prefix="/api/projects/<project>/sheets", abp_tags=[Tag(name="tone")])

Places = Annotated[list[tuple[float, float]], Field(max_length=20_000)]
Opacity = Annotated[float, Field(ge=0, le=1)]


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


class SelectionShape(BaseModel):
    """A selection: its name for later requests, the rectangle around it, closed lines along its edge."""

    selection: str
    rect: tuple[int, int, int, int]
    edges: list[list[tuple[float, float]]]


class PaintQuery(StrokeQuery):
    """A stroke on a tone layer, held in by a selection where there is one."""

    selection: str | None = None


class FillRequest(BaseModel):
    """Fill the region around a place, or the selection where no place is given."""

    layer: str
    at: tuple[float, float] | None = None
    gap: float = Field(12.0, ge=0, le=120)
    colour: Colour
    opacity: Opacity = 1.0
    selection: str | None = None


class GradientRequest(BaseModel):
    """A gradient laid over the selection, or over the whole page."""

    layer: str
    shape: Literal["linear", "radial"] = "linear"
    start: tuple[float, float]
    end: tuple[float, float]
    first: Colour
    last: Colour
    first_opacity: Opacity = 1.0
    last_opacity: Opacity = 0.0
    selection: str | None = None


class ClearRequest(BaseModel):
    """Clear a layer inside the selection, or outside it."""

    layer: str
    selection: str
    outside: bool = False


class ShiftRequest(BaseModel):
    """Mirror, scale (factor) and turn (degrees) the selected paint about its middle, then move it (px)."""

    layer: str
    selection: str
    by: tuple[float, float] = (0.0, 0.0)
    turn: float = 0.0
    scale: float = Field(1.0, gt=0.01, lt=100)
    mirror: bool = False
    copies: bool = False


class ShadeRequest(BaseModel):
    """Shade the body in the construction box from a light on a sphere seen from the front (across, up: -1 to 1).

    base : grey 0 to 255 of a side square to the light; shadow : how dark the cast shadow is, 0 for none
    """

    layer: str
    body: Literal["box", "cylinder"] = "box"
    light: tuple[float, float]
    base: float = Field(200.0, ge=0, le=255)
    shadow: float = Field(0.5, ge=0, le=1)


class TonesQuery(BaseModel):
    across: float
    up: float
    base: float = Field(200.0, ge=0, le=255)


class Tones(BaseModel):
    """Greys of the lit, middle and shaded side, 0 to 255."""

    lit: float
    middle: float
    shaded: float


class LayerRequest(BaseModel):
    layer: str


@api.post("/<document>/selection", responses={200: SelectionShape})
def make_selection(path: shapes.InDocument, body: SelectRequest) -> dict[str, Any]:
    """Select part of the page."""
    project = services().project(path.project)
    sheet, raster = services().current_raster(project, path.document)
    page = painting.page_of(sheet)
    before = _selection(project, body.before)
    wish = body.shape
    if isinstance(wish, ByRest | BySoftening):
        if before is None:
            raise HollowMarbleError("Nothing is selected yet. Select something first.")
        rest = isinstance(wish, ByRest)
        found = select.inverted(before, page) if rest else select.feathered(before, wish.radius, page)  # type: ignore[union-attr]
    else:
        if isinstance(wish, ByOutline):
            new = select.outlined(np.array(wish.points, float).reshape(-1, 2), page)
        elif isinstance(wish, ByBox):
            new = select.boxed(wish.rect, page)
        elif isinstance(wish, ByPaint):
            find(sheet.layers, wish.layer, "layer")
            new = select.painted(raster.layer_pixels(wish.layer, page))
        else:
            new = region(raster.lines(), wish.at, wish.gap)
        found = select.combined(before, select.feathered(new, body.feather, page), body.how)
    return _told(project, found)


@api.post("/<document>/paint")
def paint_stroke(path: shapes.InDocument, query: PaintQuery) -> Response:
    """Paint a stroke on a tone layer; answers with the tiles it changed, packed. The body is as for a stroke of ink."""
    samples = samples_from(request.get_data())
    easel = _Easel(path, query.layer, query.selection)
    nib, repeat = (query.nib, query.size, query.tone), easel.sheet.symmetry.repeat()
    rect, cover = painting.stroke_cover(samples, *nib, repeat, easel.chosen, easel.page, query.line)
    lifts, lock = NIBS[query.nib](query.size, query.tone).lifts, easel.layer.lock_paint
    name = easel.layer.name
    said = f"Lifted paint on {name}" if lifts else f"Painted with the {query.nib} on {name}"
    return easel.change(rect, lambda old: paint.laid(old, cover, rgb(query.colour), lifts, lock), said)


@api.post("/<document>/fill")
def fill(path: shapes.InDocument, body: FillRequest) -> Response:
    """Fill a region bounded by ink, or the selection."""
    easel = _Easel(path, body.layer, body.selection)
    where = easel.chosen if body.at is None else region(easel.raster.lines(), body.at, body.gap)
    if where is None:
        raise HollowMarbleError("Touch the region to fill, or select something first.")
    if body.at is not None and easel.chosen is not None:
        where = select.combined(easel.chosen, where, "keep common")
    cover = where.mask.astype(np.float32) / 255 * np.float32(body.opacity)
    lock, said = easel.layer.lock_paint, f"Filled a region on {easel.layer.name}"
    return easel.change(where.rect, lambda old: paint.laid(old, cover, rgb(body.colour), False, lock), said)


@api.post("/<document>/gradient")
def gradient(path: shapes.InDocument, body: GradientRequest) -> Response:
    """Lay a gradient on a tone layer."""
    easel = _Easel(path, body.layer, body.selection)
    chosen = easel.chosen or select.boxed(easel.page, easel.page)
    left, top = chosen.rect[:2]
    start, end = ((x - left, y - top) for x, y in (body.start, body.end))
    share = paint.ramp(chosen.mask.shape, start, end, body.shape)
    cover = chosen.mask.astype(np.float32) / 255
    ends = (rgb(body.first), body.first_opacity), (rgb(body.last), body.last_opacity)
    lock, said = easel.layer.lock_paint, f"Laid a gradient on {easel.layer.name}"
    return easel.change(chosen.rect, lambda old: paint.graded(old, share, cover, *ends, lock), said)


@api.post("/<document>/clear")
def clear(path: shapes.InDocument, body: ClearRequest) -> Response:
    """Clear a tone layer inside or outside the selection."""
    easel = _Easel(path, body.layer, body.selection)
    chosen = easel.selected()
    rect = easel.page if body.outside else chosen.rect
    cover = chosen.within(rect).astype(np.float32) / 255
    said = f"Cleared {easel.layer.name} {'outside' if body.outside else 'inside'} the selection"
    return easel.change(rect, lambda old: paint.cleared(old, 1 - cover if body.outside else cover), said)


@api.post("/<document>/shift")
def shift(path: shapes.InDocument, body: ShiftRequest) -> Response:
    """Move, turn, scale or mirror the selected paint of a tone layer, or put a copy of it; the selection goes along."""
    easel = _Easel(path, body.layer, body.selection)
    chosen = easel.selected()
    left, top, right, bottom = chosen.rect
    centre = ((left + right) / 2, (top + bottom) / 2)
    matrix = similarity(centre, body.by, math.radians(body.turn), body.scale, body.mirror)
    rect, changed, moved = paint.shifted(easel.pixels, chosen, matrix, body.copies, easel.page)
    said = f"{'Put a copy of' if body.copies else 'Moved'} selected paint on {easel.layer.name}"
    return easel.put(rect, changed, said, {"selection": _told(easel.project, moved)})


@api.get("/<document>/tones", responses={200: Tones})
def tones(path: shapes.InDocument, query: TonesQuery) -> dict[str, Any]:
    """The greys of a box's three sides in this light, in the sheet's perspective where there is one."""
    sheet = sheet_of(path)
    turn = camera_of(sheet.perspective).turn if sheet.perspective else 0.6
    found = light.three_tones(light.in_view(light.direction(query.across, query.up), turn), query.base, turn)
    return dict(zip(("lit", "middle", "shaded"), found))


@api.post("/<document>/shade")
def shade(path: shapes.InDocument, body: ShadeRequest) -> Response:
    """Paint the sides of the box, or of the cylinder in it, and the shadow it casts; paint like any other."""
    easel = _Easel(path, body.layer)
    box = placed_box(easel.sheet)
    toward = light.in_view(light.direction(*body.light), box.camera.turn)
    rect, changed = painting.shaded(easel.pixels, box, toward, body.base, body.body, body.shadow)
    return easel.put(rect, changed, f"Shaded a {body.body} on {easel.layer.name}")


@api.post("/<document>/merge", responses={200: shapes.Standing})
def merge(path: shapes.InDocument, body: LayerRequest) -> dict[str, Any]:
    """Merge a layer into the one below it in its group. Plain ink stays strokes; everything else becomes tone."""
    project = services().project(path.project)
    sheet, raster = services().current_raster(project, path.document)
    upper = find(sheet.layers, body.layer, "layer")
    fellows = sheet.within(upper.group)
    place = fellows.index(upper)
    if place == 0:
        raise HollowMarbleError(f"There is no layer below “{upper.name}” to merge it into.")
    lower = fellows[place - 1]
    if isinstance(upper, GroupLayer) or isinstance(lower, GroupLayer):
        raise HollowMarbleError("A group cannot be merged. Take its layers out of it first.")
    plain = all(
        isinstance(x, InkLayer) and x.mode == "normal" and x.opacity == 1 and not x.clipped for x in (upper, lower)
    )
    edit = MergeLayers(upper=upper.id, lower=lower.id)
    with project.database.write():
        if not plain:
            page = painting.page_of(sheet)
            pixels = raster.pair(lower.id, upper.id, page)
            tiles = painting.packed_tiles(raster, sheet, np.zeros_like(pixels), page, pixels)
            keep_tiles(project, tiles.data)
            kept = {name: sha for name, sha in tiles.names.items() if sha is not None}
            edit = MergeLayers(upper=upper.id, lower=lower.id, tiles=kept)
        return commit(project, path.document, edit)


@api.post("/<document>/duplicate", responses={200: shapes.Standing})
def duplicate(path: shapes.InDocument, body: LayerRequest) -> dict[str, Any]:
    """Put a copy of a layer, with all that is in it, above it."""
    project = services().project(path.project)
    sheet = sheet_of(path)
    find(sheet.layers, body.layer, "layer")
    ids = {old: uuid.uuid4().hex[:8] for old in {body.layer, *sheet.under(body.layer)}}
    return commit(project, path.document, DuplicateLayer(layer=body.layer, ids=ids))


@api.get("/<document>/colour", responses={200: shapes.ColourAt})
def colour_at(path: shapes.InDocument, query: shapes.PlaceQuery) -> dict[str, Any]:
    """The colour of the page at a place, as it shows (a mean of 3 × 3 px)."""
    sheet, raster = services().current_raster(services().project(path.project), path.document)
    x = min(max(int(query.x), 1), sheet.width - 2)
    y = min(max(int(query.y), 1), sheet.height - 2)
    red, green, blue = (
        raster.pixels((x - 1, y - 1, x + 2, y + 2))[..., :3].reshape(-1, 3).mean(axis=0).round().astype(int)
    )
    return {"colour": f"#{red:02X}{green:02X}{blue:02X}"}


def _told(project: Project, found: Selection) -> dict[str, Any]:
    """A selection kept, and what the interface needs to know of it."""
    sha = keep_asset(project.database, painting.selection_to_bytes(found), painting.SELECTION_MEDIA)
    edges = [np.round(line, 1).tolist() for line in select.edges(found)]
    return {"selection": sha, "rect": found.rect, "edges": edges}


def _selection(project: Project, sha: str | None) -> Selection | None:
    if sha is None:
        return None
    return painting.selection_from(services().loader(project)(sha))


class _Easel:
    """A tone layer being worked on: what stands there now, and how what was painted is kept and answered."""

    def __init__(self, path: shapes.InDocument, layer: str, selection: str | None = None) -> None:
        self._began, self._path = time.perf_counter(), path
        self.project = services().project(path.project)
        self.sheet, self.raster = services().current_raster(self.project, path.document)
        self.layer = painting.tone_layer(self.sheet, layer)
        self.page = painting.page_of(self.sheet)
        self.chosen = _selection(self.project, selection)

    @property
    def pixels(self) -> painting.Window:
        """The layer's pixels (H, W, 4), not to be written to."""
        return self.raster.raw(self.layer.id)

    def selected(self) -> Selection:
        """What is selected, or a sentence that nothing is."""
        if self.chosen is None:
            raise HollowMarbleError("Nothing is selected yet. Select something first.")
        return self.chosen

    def change(self, rect: Rect, change: Callable[[painting.Window], painting.Window], said: str) -> Response:
        """Change a rectangle of the layer by a function of its pixels."""
        return self.keep(painting.exchanged(self.raster, self.sheet, self.layer.id, rect, change), said)

    def put(self, rect: Rect, pixels: painting.Window, said: str, more: dict[str, Any] | None = None) -> Response:
        """Put new pixels in a rectangle of the layer."""
        return self.keep(painting.packed_tiles(self.raster, self.sheet, self.pixels, rect, pixels), said, more)

    def keep(self, tiles: painting.Tiles, said: str, more: dict[str, Any] | None = None) -> Response:
        """Keep exchanged tiles as an edit; answers with what changed on the page."""
        if not tiles.names:
            raise HollowMarbleError(
                "Nothing changed: there is no paint of the layer there to change, or its transparency is locked."
            )
        with self.project.database.write():
            keep_tiles(self.project, tiles.data)
            edit = PaintTone(layer=self.layer.id, tiles=tiles.names, said=said[:120])
            place = commit(self.project, self._path.document, edit)
        after = sheet_of(self._path)
        changed = differences(self.sheet, after)
        return answer_tiles(self._path, self.raster, after, changed, place, self._began, more)
