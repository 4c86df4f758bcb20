"""The page drawn larger than it is: strokes, notes and pictures drawn anew, painted pixels enlarged, band by band."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace

import cv2
import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.ink.compose import Plane, fade, on_paper
from hollow_marble.core.ink.path import NIBS, bounds
from hollow_marble.core.ink.stamp import clipped, empty
from hollow_marble.documents.edit import LoadAsset
from hollow_marble.documents.sheet.drawing import repeats
from hollow_marble.documents.sheet.model import (
    GroupLayer,
    InkLayer,
    Layer,
    NotesLayer,
    PictureLayer,
    Rect,
    Sheet,
    ToneLayer,
)
from hollow_marble.documents.sheet.raster.ground import lay_border, paper_pixels
from hollow_marble.documents.sheet.raster.ink import InkDrawer
from hollow_marble.documents.sheet.raster.notes import lay_notes
from hollow_marble.documents.sheet.raster.page import STRUCK_FADE, SheetRaster, strike
from hollow_marble.documents.sheet.raster.picture import lay_picture
from hollow_marble.documents.sheet.raster.planes import lay_stroke, plane_of

BAND = 384
_MARGIN = 4
"""Rows of a painted layer beyond a band that its enlarging looks at."""


def enlarged(sheet: Sheet, raster: SheetRaster, load: LoadAsset, scale: int) -> NDArray[np.uint8]:
    """(H × scale, W × scale, 3) uint8 of the whole page."""
    page = np.empty((sheet.height * scale, sheet.width * scale, 3), np.uint8)
    for top, rows in bands(sheet, raster, load, scale):
        page[top : top + len(rows)] = rows[..., :3]
    return page


def bands(sheet: Sheet, raster: SheetRaster, load: LoadAsset, scale: int) -> Iterator[tuple[int, NDArray[np.uint8]]]:
    """Upper rows and pixels of bands of the enlarged page, from the top."""
    height = sheet.height * scale
    tops = range(0, height, BAND)
    # read here: whoever asks may hold the pixels, and the hands below must not wait for them
    painted = {layer.id: raster.raw(layer.id) for layer in sheet.layers if isinstance(layer, ToneLayer)}

    def drawn(top: int) -> NDArray[np.uint8]:
        return _Band(sheet, raster.ink, painted, load, scale, top, min(height, top + BAND)).pixels()

    with ThreadPoolExecutor(2) as hands:  # drawing and composing hold the interpreter only now and then
        yield from zip(tops, hands.map(drawn, tops))


class _Band:
    def __init__(
        self,
        sheet: Sheet,
        ink: InkDrawer,
        painted: Mapping[str, NDArray[np.uint8]],
        load: LoadAsset,
        scale: int,
        top: int,
        bottom: int,
    ) -> None:
        self.sheet, self.ink, self.painted, self.load, self.scale = sheet, ink, painted, load, scale
        self.rect: Rect = (0, top, sheet.width * scale, bottom)
        self.own: Rect = (0, 0, sheet.width * scale, bottom - top)

    def pixels(self) -> NDArray[np.uint8]:
        sheet, rect = self.sheet, self.rect
        page = on_paper(self._planes(None), paper_pixels(sheet, rect, self.scale), self.own)
        for view in sheet.views:
            large = view.model_copy(update={"rect": _times(view.rect, self.scale)})
            inside = clipped(large.rect, rect)
            if view.struck and not empty(inside):
                fade(page, paper_pixels(sheet, inside, self.scale), inside, rect, STRUCK_FADE)
                strike(page, large, rect)
        lay_border(page, sheet, rect, self.scale)
        return page

    def _planes(self, group: str | None) -> list[Plane]:
        return [self._plane(layer) for layer in self.sheet.within(group) if layer.visible]

    def _plane(self, layer: Layer) -> Plane:
        if isinstance(layer, GroupLayer):
            return plane_of(layer, None, tuple(self._planes(layer.id)))
        return plane_of(layer, self._drawn(layer), None)

    def _drawn(self, layer: Layer) -> NDArray[np.uint8]:
        if isinstance(layer, ToneLayer):
            return self._painted(layer)
        pixels = np.zeros((self.own[3], self.own[2], 4), np.uint8)
        top = self.rect[1]
        if isinstance(layer, PictureLayer):
            quad = tuple((x * self.scale, y * self.scale - top) for x, y in layer.quad)
            lay_picture(pixels, layer.model_copy(update={"quad": quad}), self.load(layer.picture), self.own)
        elif isinstance(layer, NotesLayer):
            lay_notes(pixels, layer.notes, self.sheet.views, self.scale, (0.0, top / self.scale))
        elif isinstance(layer, InkLayer):
            self._ink(pixels, layer)
        return pixels

    def _ink(self, pixels: NDArray[np.uint8], layer: InkLayer) -> None:
        for stroke in layer.strokes:
            touch = [clipped(_times(rect, self.scale), self.rect) for rect in (stroke.bounds, *stroke.copies)]
            if all(empty(rect) for rect in touch):
                continue
            small = NIBS[stroke.nib](stroke.size, stroke.tone)
            # the pencil's tooth is the paper's own, as fine as the pixels; broad nibs keep theirs in proportion
            every = small.tooth if small.tooth <= 1 else small.tooth * self.scale
            nib = replace(small, size=small.size * self.scale, soft=small.soft * self.scale, tooth=every)
            own = self.ink.samples(stroke.samples)
            for run in (own, *repeats(own, stroke.repeat)):
                large = run.copy()
                large[:, :2] *= self.scale
                large[:, 1] -= self.rect[1]
                inside = clipped(bounds(large, nib), self.own)
                if empty(inside):
                    continue
                lay_stroke(pixels, stroke, large, nib, inside)

    def _painted(self, layer: ToneLayer) -> NDArray[np.uint8]:
        """Painted pixels enlarged with a bicubic filter, which is held within what can be."""
        source = self.painted[layer.id]
        low = max(0, self.rect[1] // self.scale - _MARGIN)
        high = min(self.sheet.height, -(-self.rect[3] // self.scale) + _MARGIN)
        window = np.ascontiguousarray(source[low:high])
        large = cv2.resize(window, None, fx=self.scale, fy=self.scale, interpolation=cv2.INTER_CUBIC)
        start = self.rect[1] - low * self.scale
        rows = np.ascontiguousarray(large[start : start + self.own[3]], np.uint8)
        np.minimum(rows[..., :3], rows[..., 3:], out=rows[..., :3])
        return rows


def _times(rect: Rect, scale: int) -> Rect:
    return rect[0] * scale, rect[1] * scale, rect[2] * scale, rect[3] * scale
