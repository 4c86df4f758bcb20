"""The pixels of a sheet, kept up to date from one state of the document to the next.

What changed is found by comparing both states, so drawing, undo, a jump in the ledger and a change from another window
all take the same path, and the cost depends on what changed, not on how many edits there were.
"""

from __future__ import annotations

from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager

import numpy as np
from cachetools import LRUCache
from numpy.typing import NDArray

from hollow_marble.core.ink.compose import Plane, fade, on_nothing, on_paper
from hollow_marble.core.ink.path import NIBS
from hollow_marble.core.ink.stamp import clipped, coverage, empty, lay_ink, union
from hollow_marble.core.locks import RASTER, RankedLock
from hollow_marble.documents.edit import LoadAsset, find
from hollow_marble.documents.sheet.model import (
    GroupLayer,
    InkLayer,
    Layer,
    NotesLayer,
    PictureLayer,
    Rect,
    Sheet,
    ToneLayer,
    View,
    rgb,
)
from hollow_marble.documents.sheet.raster.differences import differences, scales
from hollow_marble.documents.sheet.raster.ground import border_cover, lay_border, paper_pixels
from hollow_marble.documents.sheet.raster.ink import Cache, InkDrawer
from hollow_marble.documents.sheet.raster.notes import lay_notes
from hollow_marble.documents.sheet.raster.picture import lay_picture
from hollow_marble.documents.sheet.raster.planes import plane_of
from hollow_marble.documents.sheet.raster.tiles import TILE, TileShelf, tile_rect

NOTHING: Rect = (0, 0, 0, 0)
STRUCK_FADE = 0.62
_MANY_TILES = 8
"""Tiles from which on composing is shared by two hands."""
_COMPOSED_BYTES = 48_000_000
"""Composed tiles that are kept: a page of 4,000 × 3,000 px."""


class SheetRaster:
    """Layer pixels of one sheet. Not shared between sheets; calls are serialised by a lock."""

    def __init__(self, load: LoadAsset, cache: Cache | None = None) -> None:
        self._load = load
        self._lock = RankedLock("pixels of a sheet", RASTER)
        self._sheet: Sheet | None = None
        self._pixels: dict[str, NDArray[np.uint8]] = {}
        self.ink = InkDrawer(load, cache)
        self.shelf = TileShelf(load)
        self._composed_tiles: LRUCache[Rect, NDArray[np.uint8] | None] = LRUCache(_COMPOSED_BYTES, getsizeof=_bytes_of)

    def update(self, sheet: Sheet) -> list[Rect]:
        """Bring the pixels to a state of the sheet; returns the rectangles of the page that changed."""
        with self._lock:
            changed = self._brought_to(sheet)
            for tile in [tile for tile in self._composed_tiles if any(not empty(clipped(tile, x)) for x in changed)]:
                del self._composed_tiles[tile]
            return changed

    def _brought_to(self, sheet: Sheet) -> list[Rect]:
        old, self._sheet = self._sheet, sheet
        page: Rect = (0, 0, sheet.width, sheet.height)
        if old is None or (old.width, old.height) != (sheet.width, sheet.height):
            self._pixels.clear()
            with ThreadPoolExecutor(2) as hands:  # drawing holds no lock of the interpreter
                list(hands.map(lambda layer: self._make(layer, page), sheet.layers))
            return [page]
        before = {layer.id: layer for layer in old.layers}
        rescaled = scales(old) != scales(sheet)
        for layer in sheet.layers:
            if rescaled and isinstance(layer, NotesLayer):
                before.pop(layer.id, None)
            self._follow(before.get(layer.id), layer, page)
        for ident in {layer.id for layer in old.layers} - {layer.id for layer in sheet.layers}:
            self._pixels.pop(ident, None)
            self.ink.forget(ident)
        return differences(old, sheet)

    @contextmanager
    def held(self, sheet: Sheet) -> Iterator[None]:
        """The pixels brought to a state of the sheet and kept there while this is open."""
        with self._lock:
            self.update(sheet)
            yield

    @property
    def weight(self) -> int:
        """About the bytes it holds."""
        return (
            1_000_000
            + sum(pixels.nbytes for pixels in tuple(self._pixels.values()))
            + int(self._composed_tiles.currsize)
        )

    def pixels(self, rect: Rect) -> NDArray[np.uint8]:
        """(h, w, 4) uint8 of the page with its paper within a rectangle."""
        with self._lock:
            return self._composed(rect)

    def _composed(self, rect: Rect) -> NDArray[np.uint8]:
        """The page within a rectangle; the lock is held by whoever asks."""
        sheet = self._state()
        page = on_paper(self._planes(None), paper_pixels(sheet, rect), rect)
        for view in sheet.views:
            inside = clipped(view.rect, rect)
            if view.struck and not empty(inside):
                fade(page, paper_pixels(sheet, inside), inside, rect, STRUCK_FADE)
                strike(page, view, rect)
        lay_border(page, sheet, rect)
        return page

    def at(self, sheet: Sheet) -> NDArray[np.uint8]:
        """(H, W, 4) uint8: the whole page at a state of the sheet."""
        with self._lock:
            self.update(sheet)
            return np.concatenate(
                [
                    self.pixels((0, top, sheet.width, min(top + TILE, sheet.height)))
                    for top in range(0, sheet.height, TILE)
                ]
            )

    def layer_pixels(self, ident: str, rect: Rect) -> NDArray[np.uint8]:
        """(h, w, 4) uint8 premultiplied: what one layer or group holds, before its own mode and opacity."""
        with self._lock:
            layer = find(self._state().layers, ident, "layer")
            alone = self._plane(layer)
            return on_nothing([Plane(alone.pixels, alone.parts, tint=alone.tint)], rect)

    def pair(self, lower: str, upper: str, rect: Rect) -> NDArray[np.uint8]:
        """(h, w, 4) uint8 premultiplied: one layer laid on another, without the lower one's own mode and opacity."""
        with self._lock:
            layers = self._state().layers
            below, above = (self._plane(find(layers, ident, "layer")) for ident in (lower, upper))
            return on_nothing([Plane(below.pixels, tint=below.tint), above], rect)

    def raw(self, ident: str) -> NDArray[np.uint8]:
        """A layer's own pixels (H, W, 4), not to be written to."""
        with self._lock:
            return self._layer(find(self._state().layers, ident, "layer").id)

    def lines(self) -> NDArray[np.uint8]:
        """(H, W) uint8: the strongest coverage of any shown ink, which bounds a fill."""
        with self._lock:
            sheet = self._state()
            found = np.zeros((sheet.height, sheet.width), np.uint8)
            for layer in sheet.layers:
                if isinstance(layer, InkLayer) and layer.visible and layer.id in self._pixels:
                    np.maximum(found, self._pixels[layer.id][..., 3], out=found)
            return found

    def tiles(self, changed: list[Rect], state: Sheet | None = None) -> list[tuple[Rect, NDArray[np.uint8] | None]]:
        """The page's tiles that the changes touch, each cut to what changed in it; None where it is bare paper.

        With a state of the sheet they are that state's, whatever others bring the pixels to meanwhile.
        """
        with self._lock:
            if state is not None:
                self.update(state)
            sheet = self._state()
            whole = [
                (left, top, min(left + TILE, sheet.width), min(top + TILE, sheet.height))
                for top in range(0, sheet.height, TILE)
                for left in range(0, sheet.width, TILE)
            ]
            parts = [part for part in (_within(tile, changed) for tile in whole) if not empty(part)]
            made = self._shown([part for part in parts if part not in self._composed_tiles])
            found = [(part, made[part] if part in made else self._composed_tiles[part]) for part in parts]
            for tile in made.keys() & set(whole):
                self._composed_tiles[tile] = made[tile]
            return found

    def _shown(self, parts: list[Rect]) -> dict[Rect, NDArray[np.uint8] | None]:
        """Parts of the page composed; None where it is bare paper."""
        sheet = self._state()

        def shown(part: Rect) -> NDArray[np.uint8] | None:
            return None if self._bare(sheet, part) else self._composed(part)

        if len(parts) < _MANY_TILES:
            return {part: shown(part) for part in parts}
        with ThreadPoolExecutor(2) as hands:  # composing holds the interpreter only now and then
            return dict(zip(parts, hands.map(shown, parts)))

    def view_ink(self, view: View) -> NDArray[np.uint8]:
        """(h, w, 4) straight-alpha picture of a view: ink where the page is darker than its paper, clear elsewhere."""
        with self._lock:
            sheet = self._state()
            rect = clipped(view.rect, (0, 0, sheet.width, sheet.height))
            paper = np.array(rgb(sheet.paper), np.float32)
            page = on_paper(self._planes(None), paper.reshape(1, 1, 3), rect)[..., :3].astype(np.float32)
            alpha = np.clip(1 - (page / paper).min(axis=2), 0, 1)
            out = np.zeros((*alpha.shape, 4), np.float32)
            safe = np.maximum(alpha, 1 / 255)[..., None]
            out[..., :3] = np.clip((page - paper * (1 - safe)) / safe, 0, 255)
            out[..., 3] = alpha * 255
            return np.rint(out).astype(np.uint8)

    def memory(self) -> int:
        """Bytes held for layer pixels."""
        with self._lock:
            return sum(pixels.nbytes for pixels in self._pixels.values())

    def _state(self) -> Sheet:
        if self._sheet is None:
            raise RuntimeError("the raster has not been given a sheet yet")
        return self._sheet

    def _layer(self, ident: str) -> NDArray[np.uint8]:
        sheet = self._state()
        if ident not in self._pixels:
            self._pixels[ident] = np.zeros((sheet.height, sheet.width, 4), np.uint8)
        return self._pixels[ident]

    def _planes(self, group: str | None) -> list[Plane]:
        return [self._plane(layer) for layer in self._state().within(group) if layer.visible]

    def _plane(self, layer: Layer) -> Plane:
        if isinstance(layer, GroupLayer):
            return plane_of(layer, None, tuple(self._planes(layer.id)))
        return plane_of(layer, self._pixels.get(layer.id), None)

    def _bare(self, sheet: Sheet, rect: Rect) -> bool:
        left, top, right, bottom = rect
        if sheet.ground is not None or border_cover(sheet, rect) is not None:
            return False
        return not any(
            layer.visible and layer.id in self._pixels and self._pixels[layer.id][top:bottom, left:right, 3].any()
            for layer in sheet.layers
        ) and not any(v.struck and not empty(clipped(v.rect, rect)) for v in sheet.views)

    def _follow(self, before: Layer | None, layer: Layer, page: Rect) -> None:
        """Bring one layer's pixels from one state to the next."""
        if before is layer:
            return
        if isinstance(layer, InkLayer) and isinstance(before, InkLayer):
            if before.strokes is not layer.strokes:
                self.ink.follow(self._layer(layer.id), before, layer, page)
        elif isinstance(layer, ToneLayer) and isinstance(before, ToneLayer):
            for name in {*before.tiles, *layer.tiles}:
                if before.tiles.get(name) != layer.tiles.get(name):
                    self._put_tile(layer, name, page)
        elif not (
            isinstance(layer, PictureLayer)
            and isinstance(before, PictureLayer)
            and (before.quad, before.picture) == (layer.quad, layer.picture)
        ):
            self._pixels.pop(layer.id, None)
            self._make(layer, page)

    def _make(self, layer: Layer, page: Rect) -> None:
        if isinstance(layer, PictureLayer):
            lay_picture(self._layer(layer.id), layer, self._load(layer.picture), page)
        elif isinstance(layer, ToneLayer):
            for name in layer.tiles:
                self._put_tile(layer, name, page)
        elif isinstance(layer, NotesLayer):
            if layer.notes:
                lay_notes(self._layer(layer.id), layer.notes, self._state().views)
        elif isinstance(layer, InkLayer) and layer.strokes:
            self.ink.fill(self._layer(layer.id), layer, page)

    def _put_tile(self, layer: ToneLayer, name: str, page: Rect) -> None:
        whole = tile_rect(name)
        rect = clipped(whole, page)
        if not empty(rect):
            window = self._layer(layer.id)[rect[1] : rect[3], rect[0] : rect[2]]
            sha = layer.tiles.get(name)
            window[:] = 0 if sha is None else self.shelf.pixels(sha)[: rect[3] - rect[1], : rect[2] - rect[0]]


def _within(tile: Rect, changed: list[Rect]) -> Rect:
    """The part of a tile that changes touch."""
    part: Rect = NOTHING
    for rect in changed:
        part = union(part, clipped(rect, tile))
    return part


def _bytes_of(pixels: NDArray[np.uint8] | None) -> int:
    return 64 if pixels is None else pixels.nbytes


def strike(page: NDArray[np.uint8], view: View, within: Rect) -> None:
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
        run = np.array([[*a, 0.6, 0], [*b, 0.6, 0]], np.float32)
        mask = coverage(run, NIBS["pencil"](7.0, 0.55), inside)
        lay_ink(window, mask, (0, 0, 0, 0), rgb("#9B2C3B"))
