"""The pixels of a sheet, kept up to date from one state of the document to the next.

What changed is found by comparing the strokes of both states, so drawing, undo, a jump in the ledger and a change
from another window all take the same path, and the cost depends on what changed, not on how many edits there were.
"""

from __future__ import annotations

import io
from collections import OrderedDict
from threading import RLock

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from hollow_marble.core.ink.compose import fade, on_paper
from hollow_marble.core.ink.path import NIBS, mirrored, samples_from
from hollow_marble.core.ink.stamp import clipped, coverage, empty, lay_ink, lift_ink, union
from hollow_marble.documents.edit import LoadAsset
from hollow_marble.documents.sheet.model import InkLayer, Layer, PictureLayer, Rect, Sheet, Stroke, View, rgb

TILE = 256
NOTHING: Rect = (0, 0, 0, 0)
STRUCK_FADE = 0.62
_KEPT_SAMPLES = 6000


class SheetRaster:
    """Layer pixels of one sheet. Not shared between sheets; calls are serialised by a lock."""

    def __init__(self, load: LoadAsset) -> None:
        self._load = load
        self._lock = RLock()
        self._sheet: Sheet | None = None
        self._pixels: dict[str, NDArray[np.uint8]] = {}
        self._samples: OrderedDict[str, NDArray[np.float32]] = OrderedDict()

    def update(self, sheet: Sheet) -> list[Rect]:
        """Bring the pixels to a state of the sheet; returns the rectangles of the page that changed."""
        with self._lock:
            old, self._sheet = self._sheet, sheet
            page: Rect = (0, 0, sheet.width, sheet.height)
            if old is None or (old.width, old.height, old.paper) != (sheet.width, sheet.height, sheet.paper):
                self._pixels.clear()
                for layer in sheet.layers:
                    self._redraw(layer, page)
                return [page]
            changed: list[Rect] = []
            before = {layer.id: layer for layer in old.layers}
            for layer in sheet.layers:
                changed += self._follow(before.get(layer.id), layer, page)
            for layer in old.layers:
                if all(layer.id != other.id for other in sheet.layers):
                    self._pixels.pop(layer.id, None)
                    changed.append(page)
            if [x.id for x in old.layers if x.id in self._pixels] != [x.id for x in sheet.layers if x.id in before]:
                changed.append(page)
            changed += _struck_changes(old, sheet)
            return [rect for rect in (clipped(r, page) for r in changed) if not empty(rect)]

    def pixels(self, rect: Rect) -> NDArray[np.uint8]:
        """(h, w, 4) uint8 of the page with its paper within a rectangle."""
        with self._lock:
            sheet = self._state()
            shown = [(self._layer(x), x.opacity) for x in sheet.layers if x.visible and x.id in self._pixels]
            page = on_paper(shown, rgb(sheet.paper), rect)
            for view in sheet.views:
                inside = clipped(view.rect, rect)
                if view.struck and not empty(inside):
                    fade(page, rgb(sheet.paper), inside, rect, STRUCK_FADE)
                    self._strike(page, view, rect)
            return page

    def tiles(self, changed: list[Rect]) -> list[tuple[Rect, NDArray[np.uint8] | None]]:
        """The page's tiles that the changes touch, each cut to what changed in it; None where it is bare paper."""
        with self._lock:
            sheet = self._state()
            found = []
            for top in range(0, sheet.height, TILE):
                for left in range(0, sheet.width, TILE):
                    tile: Rect = (left, top, min(left + TILE, sheet.width), min(top + TILE, sheet.height))
                    part: Rect = NOTHING
                    for rect in changed:
                        part = union(part, clipped(rect, tile))
                    if not empty(part):
                        found.append((part, None if self._bare(sheet, part) else self.pixels(part)))
            return found

    def view_ink(self, view: View) -> NDArray[np.uint8]:
        """(h, w, 4) straight-alpha picture of a view: ink where the page is darker than its paper, clear elsewhere."""
        with self._lock:
            sheet = self._state()
            rect = clipped(view.rect, (0, 0, sheet.width, sheet.height))
            page = self.pixels(rect)[..., :3].astype(np.float32)
            paper = np.array(rgb(sheet.paper), np.float32)
            alpha = np.clip(1 - (page / paper).min(axis=2), 0, 1)
            out = np.zeros((*alpha.shape, 4), np.float32)
            safe = np.maximum(alpha, 1 / 255)[..., None]
            out[..., :3] = np.clip((page - paper * (1 - safe)) / safe, 0, 255)
            out[..., 3] = alpha * 255
            return np.rint(out).astype(np.uint8)

    def _state(self) -> Sheet:
        if self._sheet is None:
            raise RuntimeError("the raster has not been given a sheet yet")
        return self._sheet

    def _layer(self, layer: Layer) -> NDArray[np.uint8]:
        sheet = self._state()
        if layer.id not in self._pixels:
            self._pixels[layer.id] = np.zeros((sheet.height, sheet.width, 4), np.uint8)
        return self._pixels[layer.id]

    def _bare(self, sheet: Sheet, rect: Rect) -> bool:
        left, top, right, bottom = rect
        return not any(
            layer.visible and layer.id in self._pixels and self._pixels[layer.id][top:bottom, left:right, 3].any()
            for layer in sheet.layers
        ) and not any(v.struck and not empty(clipped(v.rect, rect)) for v in sheet.views)

    def _follow(self, old: Layer | None, layer: Layer, page: Rect) -> list[Rect]:
        if old is None:
            self._redraw(layer, page)
            return [_extent(layer)]
        changed = []
        if (old.visible, old.opacity) != (layer.visible, layer.opacity):
            changed.append(union(_extent(old), _extent(layer)))
        if isinstance(layer, PictureLayer) or isinstance(old, PictureLayer):
            if old.model_copy(update={"name": layer.name}) != layer:
                self._redraw(layer, page)
                changed.append(union(_extent(old), _extent(layer)))
            return changed
        if old.strokes is layer.strokes:
            return changed
        common = 0
        for one, other in zip(old.strokes, layer.strokes):
            if one is not other and one != other:
                break
            common += 1
        if common == len(old.strokes):
            for stroke in layer.strokes[common:]:
                self._draw(layer, stroke, page)
                changed += _touched(stroke)
        else:
            gone: Rect = NOTHING
            for stroke in (*old.strokes[common:], *layer.strokes[common:]):
                for rect in _touched(stroke):
                    gone = union(gone, rect)
                    changed.append(rect)
            self._redraw(layer, clipped(gone, page))
        return changed

    def _redraw(self, layer: Layer, rect: Rect) -> None:
        if empty(rect) or (isinstance(layer, InkLayer) and not layer.strokes and layer.id not in self._pixels):
            return
        left, top, right, bottom = rect
        self._layer(layer)[top:bottom, left:right] = 0
        if isinstance(layer, PictureLayer):
            self._paint(layer, rect)
            return
        for stroke in layer.strokes:
            if any(not empty(clipped(r, rect)) for r in _touched(stroke)):
                self._draw(layer, stroke, rect)

    def _paint(self, layer: PictureLayer, rect: Rect) -> None:
        picture = Image.open(io.BytesIO(self._load(layer.picture))).convert("RGBa")
        size = (layer.rect[2] - layer.rect[0], layer.rect[3] - layer.rect[1])
        scaled = np.asarray(
            picture.resize(size, Image.Resampling.BOX if size[0] < picture.width else Image.Resampling.BILINEAR)
        )
        inside = clipped(layer.rect, rect)
        if not empty(inside):
            rows = slice(inside[1] - layer.rect[1], inside[3] - layer.rect[1])
            columns = slice(inside[0] - layer.rect[0], inside[2] - layer.rect[0])
            self._layer(layer)[inside[1] : inside[3], inside[0] : inside[2]] = scaled[rows, columns]

    def _draw(self, layer: InkLayer, stroke: Stroke, rect: Rect) -> None:
        pixels = self._layer(layer)
        nib = NIBS[stroke.nib](stroke.size, stroke.tone)
        samples = self._samples_of(stroke.samples)
        runs = [(samples, stroke.bounds)]
        if stroke.mirror is not None and stroke.mirror_bounds is not None:
            axis = stroke.mirror
            runs.append((mirrored(samples, axis.x, axis.y, float(np.radians(axis.angle))), stroke.mirror_bounds))
        for run, bounds in runs:
            inside = clipped(bounds, rect)
            if empty(inside):
                continue
            mask = coverage(run, nib, inside)
            if stroke.nib == "lifter":
                lift_ink(pixels, mask, inside)
            else:
                lay_ink(pixels, mask, inside, rgb(stroke.colour))

    def _samples_of(self, sha: str) -> NDArray[np.float32]:
        found = self._samples.get(sha)
        if found is None:
            found = self._samples[sha] = samples_from(self._load(sha))
            if len(self._samples) > _KEPT_SAMPLES:
                self._samples.popitem(last=False)
        return found

    def _strike(self, page: NDArray[np.uint8], view: View, within: Rect) -> None:
        """Two soft lines across a struck-out view."""
        left, top, right, bottom = view.rect
        inset_x, inset_y = (right - left) * 0.16, (bottom - top) * 0.16
        ends = [
            ((left + inset_x, top + inset_y), (right - inset_x, bottom - inset_y)),
            ((right - inset_x, top + inset_y), (left + inset_x, bottom - inset_y)),
        ]
        inside = clipped(view.rect, within)
        window = page[inside[1] - within[1] : inside[3] - within[1], inside[0] - within[0] : inside[2] - within[0]]
        for a, b in ends:
            run = np.array([[*a, 0.6], [*b, 0.6]], np.float32)
            mask = coverage(run, NIBS["pencil"](7.0, 0.55), inside)
            lay_ink(window, mask, (0, 0, 0, 0), rgb("#9B2C3B"))


def _touched(stroke: Stroke) -> list[Rect]:
    return [stroke.bounds] if stroke.mirror_bounds is None else [stroke.bounds, stroke.mirror_bounds]


def _extent(layer: Layer) -> Rect:
    if isinstance(layer, PictureLayer):
        return layer.rect
    whole: Rect = NOTHING
    for stroke in layer.strokes:
        for rect in _touched(stroke):
            whole = union(whole, rect)
    return whole


def _struck_changes(old: Sheet, new: Sheet) -> list[Rect]:
    before = {view.id: view.rect for view in old.views if view.struck}
    after = {view.id: view.rect for view in new.views if view.struck}
    return [rect for key in {*before, *after} if before.get(key) != after.get(key)
            for rect in (before.get(key), after.get(key)) if rect]  # fmt: skip
