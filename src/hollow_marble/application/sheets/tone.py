"""Painting on tone layers: strokes held in by a selection, fills, gradients, clearing, shading, merging."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import BaseModel, Field

from hollow_marble.application.editing import Editing, Hand, Made, Proposal
from hollow_marble.application.sheets.selections import kept_selection, selection_of
from hollow_marble.application.sheets.strokes import StrokeWish, new_id
from hollow_marble.core.drafting import light
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.ink import paint, select
from hollow_marble.core.ink.fill import region
from hollow_marble.core.ink.path import NIBS, samples_from
from hollow_marble.core.ink.reshape import similarity
from hollow_marble.core.ink.select import Selection
from hollow_marble.documents.edit import Asset, asset_of, find
from hollow_marble.documents.sheet import painting
from hollow_marble.documents.sheet.drafting import camera_of, placed_box
from hollow_marble.documents.sheet.edits import DuplicateLayer, MergeLayers, PaintTone
from hollow_marble.documents.sheet.model import Colour, GroupLayer, InkLayer, Rect, Sheet, rgb
from hollow_marble.documents.sheet.raster import SheetRaster
from hollow_marble.documents.sheet.raster.tiles import MEDIA as TILE_MEDIA
from hollow_marble.store.library import Project

Opacity = Annotated[float, Field(ge=0, le=1)]


class PaintWish(StrokeWish):
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


@dataclass(frozen=True)
class Easel:
    """A tone layer being worked on: what stands there, what is selected."""

    sheet: Sheet
    raster: SheetRaster
    layer: Any
    chosen: Selection | None

    @property
    def page(self) -> Rect:
        return painting.page_of(self.sheet)

    @property
    def pixels(self) -> painting.Window:
        """The layer's pixels (H, W, 4), not to be written to."""
        return self.raster.raw(self.layer.id)

    def selected(self) -> Selection:
        """What is selected, or a sentence that nothing is."""
        if self.chosen is None:
            raise HollowMarbleError("Nothing is selected yet. Select something first.")
        return self.chosen

    def change(self, rect: Rect, change: Callable[[painting.Window], painting.Window], said: str) -> Proposal:
        """Change a rectangle of the layer by a function of its pixels."""
        return self._keep(painting.exchanged(self.raster, self.sheet, self.layer.id, rect, change), said)

    def put(
        self, rect: Rect, pixels: painting.Window, said: str, assets: tuple[Asset, ...] = (), **more: Any
    ) -> Proposal:
        """Put new pixels in a rectangle of the layer."""
        tiles = painting.packed_tiles(self.raster, self.sheet, self.pixels, rect, pixels)
        return self._keep(tiles, said, assets, more)

    def _keep(
        self, tiles: painting.Tiles, said: str, assets: tuple[Asset, ...] = (), more: dict[str, Any] | None = None
    ) -> Proposal:
        if not tiles.names:
            raise HollowMarbleError(
                "Nothing changed: there is no paint of the layer there to change, or its transparency is locked."
            )
        edit = PaintTone(layer=self.layer.id, tiles=tiles.names, said=said[:120])
        return Proposal(edit, (*tile_assets(tiles), *assets), more or {})


Work = Callable[[Easel], Proposal]


class Toning:
    """Work on the tone layers of a sheet."""

    def __init__(self, editing: Editing, project: Project, ident: str, hand: Hand) -> None:
        self._editing, self._project, self._ident, self._hand = editing, project, ident, hand

    def paint(self, wish: PaintWish, data: bytes) -> Made:
        """Paint a stroke whose samples are float32 x, y, pressure, lean."""
        samples = samples_from(data)

        def work(easel: Easel) -> Proposal:
            nib, repeat = (wish.nib, wish.size, wish.tone), easel.sheet.symmetry.repeat()
            rect, cover = painting.stroke_cover(samples, *nib, repeat, easel.chosen, easel.page, wish.line)
            lifts, lock = NIBS[wish.nib](wish.size, wish.tone).lifts, easel.layer.lock_paint
            name = easel.layer.name
            said = f"Lifted paint on {name}" if lifts else f"Painted with the {wish.nib} on {name}"
            return easel.change(rect, lambda old: paint.laid(old, cover, rgb(wish.colour), lifts, lock), said)

        return self._at_easel(wish.layer, wish.selection, work)

    def fill(self, wish: FillRequest) -> Made:
        """Fill a region bounded by ink, or the selection."""

        def work(easel: Easel) -> Proposal:
            where = easel.chosen if wish.at is None else region(easel.raster.lines(), wish.at, wish.gap)
            if where is None:
                raise HollowMarbleError("Touch the region to fill, or select something first.")
            if wish.at is not None and easel.chosen is not None:
                where = select.combined(easel.chosen, where, "keep common")
            cover = where.mask.astype(np.float32) / np.float32(255) * np.float32(wish.opacity)
            lock, said = easel.layer.lock_paint, f"Filled a region on {easel.layer.name}"
            return easel.change(where.rect, lambda old: paint.laid(old, cover, rgb(wish.colour), False, lock), said)

        return self._at_easel(wish.layer, wish.selection, work)

    def gradient(self, wish: GradientRequest) -> Made:
        """Lay a gradient."""

        def work(easel: Easel) -> Proposal:
            chosen = easel.chosen or select.boxed(easel.page, easel.page)
            left, top = chosen.rect[:2]
            start, end = ((x - left, y - top) for x, y in (wish.start, wish.end))
            share = paint.ramp(chosen.mask.shape, start, end, wish.shape)
            cover = chosen.mask.astype(np.float32) / np.float32(255)
            ends = (rgb(wish.first), wish.first_opacity), (rgb(wish.last), wish.last_opacity)
            lock, said = easel.layer.lock_paint, f"Laid a gradient on {easel.layer.name}"
            return easel.change(chosen.rect, lambda old: paint.graded(old, share, cover, *ends, lock), said)

        return self._at_easel(wish.layer, wish.selection, work)

    def clear(self, wish: ClearRequest) -> Made:
        """Clear inside or outside the selection."""

        def work(easel: Easel) -> Proposal:
            chosen = easel.selected()
            rect = easel.page if wish.outside else chosen.rect
            cover = chosen.within(rect).astype(np.float32) / np.float32(255)
            said = f"Cleared {easel.layer.name} {'outside' if wish.outside else 'inside'} the selection"
            return easel.change(rect, lambda old: paint.cleared(old, 1 - cover if wish.outside else cover), said)

        return self._at_easel(wish.layer, wish.selection, work)

    def shift(self, wish: ShiftRequest) -> Made:
        """Move, turn, scale or mirror the selected paint, or put a copy of it; the selection goes along."""

        def work(easel: Easel) -> Proposal:
            chosen = easel.selected()
            left, top, right, bottom = chosen.rect
            centre = ((left + right) / 2, (top + bottom) / 2)
            matrix = similarity(centre, wish.by, math.radians(wish.turn), wish.scale, wish.mirror)
            rect, changed, moved = paint.shifted(easel.pixels, chosen, matrix, wish.copies, easel.page)
            said = f"{'Put a copy of' if wish.copies else 'Moved'} selected paint on {easel.layer.name}"
            asset, told = kept_selection(moved)
            return easel.put(rect, changed, said, (asset,), selection=told)

        return self._at_easel(wish.layer, wish.selection, work)

    def shade(self, wish: ShadeRequest) -> Made:
        """Paint the sides of the box, or of the cylinder in it, and the shadow it casts; paint like any other."""

        def work(easel: Easel) -> Proposal:
            box = placed_box(easel.sheet)
            toward = light.in_view(light.direction(*wish.light), box.camera.turn)
            rect, changed = painting.shaded(easel.pixels, box, toward, wish.base, wish.body, wish.shadow)
            return easel.put(rect, changed, f"Shaded a {wish.body} on {easel.layer.name}")

        return self._at_easel(wish.layer, None, work)

    def merge(self, layer: str) -> Made:
        """Merge a layer into the one below it in its group. Plain ink stays strokes; everything else becomes tone."""

        def compose(sheet: Sheet) -> Proposal:
            upper = find(sheet.layers, layer, "layer")
            fellows = sheet.within(upper.group)
            place = fellows.index(upper)
            if place == 0:
                raise HollowMarbleError(f"There is no layer below “{upper.name}” to merge it into.")
            lower = fellows[place - 1]
            if isinstance(upper, GroupLayer) or isinstance(lower, GroupLayer):
                raise HollowMarbleError("A group cannot be merged. Take its layers out of it first.")
            both = (upper, lower)
            if all(isinstance(x, InkLayer) and x.mode == "normal" and x.opacity == 1 and not x.clipped for x in both):
                return Proposal(MergeLayers(upper=upper.id, lower=lower.id))
            with self._editing.workspace.pixels_of(self._project, self._ident, sheet) as raster:
                page = painting.page_of(sheet)
                pixels = raster.pair(lower.id, upper.id, page)
                tiles = painting.packed_tiles(raster, sheet, np.zeros_like(pixels), page, pixels)
            kept = {name: sha for name, sha in tiles.names.items() if sha is not None}
            return Proposal(MergeLayers(upper=upper.id, lower=lower.id, tiles=kept), tile_assets(tiles))

        return self._editing.make(self._project, self._ident, compose, self._hand)

    def duplicate(self, layer: str) -> Made:
        """Put a copy of a layer, with all that is in it, above it."""

        def compose(sheet: Sheet) -> Proposal:
            find(sheet.layers, layer, "layer")
            ids = {old: new_id(8) for old in {layer, *sheet.under(layer)}}
            return Proposal(DuplicateLayer(layer=layer, ids=ids))

        return self._editing.make(self._project, self._ident, compose, self._hand)

    def _at_easel(self, layer: str, selection: str | None, work: Work) -> Made:
        chosen = selection_of(self._editing.workspace, self._project, selection)

        def compose(sheet: Sheet) -> Proposal:
            with self._editing.workspace.pixels_of(self._project, self._ident, sheet) as raster:
                return work(Easel(sheet, raster, painting.tone_layer(sheet, layer), chosen))

        return self._editing.make(self._project, self._ident, compose, self._hand)


def tile_assets(tiles: painting.Tiles) -> tuple[Asset, ...]:
    """The bytes of painted tiles as they are kept."""
    return tuple(asset_of(data, TILE_MEDIA) for data in tiles.data.values())


def three_tones(sheet: Sheet, across: float, up: float, base: float) -> tuple[float, float, float]:
    """Greys of a box's lit, middle and shaded side, in the sheet's perspective where there is one."""
    turn = camera_of(sheet.perspective).turn if sheet.perspective else 0.6
    lit, middle, shaded = light.three_tones(light.in_view(light.direction(across, up), turn), base, turn)
    return float(lit), float(middle), float(shaded)
