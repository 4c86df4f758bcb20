"""Pixels of ink layers, drawn from their strokes.

A stroke put on top is drawn over what is there; one taken off the top again (undo) gives back the pixels it covered.
Any other change draws anew what lies in the rectangle that changed.
"""

from __future__ import annotations

from collections import OrderedDict

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.ink.path import NIBS, samples_from
from hollow_marble.core.ink.stamp import clipped, coverage, empty, lay_ink, lay_inside, lift_ink, union
from hollow_marble.documents.edit import LoadAsset
from hollow_marble.documents.sheet.drawing import repeats
from hollow_marble.documents.sheet.model import InkLayer, Rect, Stroke, rgb

_KEPT_SAMPLES = 6000
_KEPT_UNDER = 96
_MOST_UNDER = 4_000_000
"""Largest area in px of what lay under a stroke that is kept."""

Under = list[tuple[Rect, NDArray[np.uint8]]]


def touched(stroke: Stroke) -> list[Rect]:
    """Rectangles a stroke and its copies can touch."""
    return [stroke.bounds, *stroke.copies]


class InkDrawer:
    """Draws strokes into a layer's pixels (H, W, 4)."""

    def __init__(self, load: LoadAsset) -> None:
        self._load = load
        self._samples: OrderedDict[str, NDArray[np.float32]] = OrderedDict()
        self._under: OrderedDict[tuple[str, str], Under] = OrderedDict()

    def samples(self, sha: str) -> NDArray[np.float32]:
        """(N, 4) float32 x, y, pressure, lean."""
        found = self._samples.get(sha)
        if found is None:
            found = self._samples[sha] = samples_from(self._load(sha))
            if len(self._samples) > _KEPT_SAMPLES:
                self._samples.popitem(last=False)
        return found

    def redraw(self, pixels: NDArray[np.uint8], layer: InkLayer, rect: Rect) -> None:
        """Draw everything in a rectangle anew."""
        self.forget(layer.id)
        left, top, right, bottom = rect
        pixels[top:bottom, left:right] = 0
        for stroke in layer.strokes:
            if any(not empty(clipped(r, rect)) for r in touched(stroke)):
                self._draw(pixels, stroke, rect)

    def follow(self, pixels: NDArray[np.uint8], old: InkLayer, new: InkLayer, page: Rect) -> None:
        """Bring pixels from one state of the layer to another."""
        common = 0
        for one, other in zip(old.strokes, new.strokes):
            if one is not other and one != other:
                break
            common += 1
        gone = old.strokes[common:]
        if not gone:
            for stroke in new.strokes[common:]:
                self._keep_under(pixels, layer=new.id, stroke=stroke, page=page)
                self._draw(pixels, stroke, page)
        elif common == len(new.strokes) and all((new.id, stroke.id) in self._under for stroke in gone):
            for stroke in reversed(gone):
                for rect, under in self._under.pop((new.id, stroke.id)):
                    pixels[rect[1] : rect[3], rect[0] : rect[2]] = under
        else:
            whole: Rect = (0, 0, 0, 0)
            for stroke in (*gone, *new.strokes[common:]):
                for rect in touched(stroke):
                    whole = union(whole, clipped(rect, page))
            if not empty(whole):
                self.redraw(pixels, new, whole)

    def forget(self, layer: str) -> None:
        """What lay under a layer's strokes no longer holds."""
        for key in [key for key in self._under if key[0] == layer]:
            del self._under[key]

    def _keep_under(self, pixels: NDArray[np.uint8], layer: str, stroke: Stroke, page: Rect) -> None:
        rects = [rect for rect in (clipped(r, page) for r in touched(stroke)) if not empty(rect)]
        if sum((r[2] - r[0]) * (r[3] - r[1]) for r in rects) > _MOST_UNDER:
            self.forget(layer)
            return
        # in the order of the stroke's copies, so that giving back in reverse ends with what was there first
        self._under[layer, stroke.id] = [(r, pixels[r[1] : r[3], r[0] : r[2]].copy()) for r in rects]
        if len(self._under) > _KEPT_UNDER:
            self._under.popitem(last=False)

    def _draw(self, pixels: NDArray[np.uint8], stroke: Stroke, rect: Rect) -> None:
        nib = NIBS[stroke.nib](stroke.size, stroke.tone)
        own = self.samples(stroke.samples)
        runs = [(own, stroke.bounds), *zip(repeats(own, stroke.repeat), stroke.copies)]
        for samples, bounds in runs:
            inside = clipped(bounds, rect)
            if empty(inside):
                continue
            mask = coverage(samples, nib, inside)
            if nib.lifts:
                lift_ink(pixels, mask, inside)
            elif stroke.inside:
                lay_inside(pixels, mask, inside, rgb(stroke.colour))
            else:
                lay_ink(pixels, mask, inside, rgb(stroke.colour))
