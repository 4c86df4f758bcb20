"""Pixels of ink layers, drawn from their strokes.

A stroke put on top is drawn over what is there; one taken off the top again (undo) gives back the pixels it covered.
Any other change draws anew what lies in the rectangle that changed.
"""

from __future__ import annotations

import hashlib
import inspect
import struct
import zlib
from collections.abc import Callable
from typing import Protocol

import numpy as np
from cachetools import LRUCache
from numpy.typing import NDArray

from hollow_marble.core.ink import path, stamp
from hollow_marble.core.ink.path import NIBS, samples_from
from hollow_marble.core.ink.stamp import clipped, empty, union
from hollow_marble.core.locks import CACHE, RankedLock
from hollow_marble.documents.edit import LoadAsset
from hollow_marble.documents.sheet.drawing import repeats
from hollow_marble.documents.sheet.model import InkLayer, Rect, Stroke
from hollow_marble.documents.sheet.raster.planes import lay_stroke

_SAMPLES_BYTES = 48_000_000
_UNDER_BYTES = 64_000_000
_MOST_UNDER = 4_000_000
"""Largest area in px of what lay under a stroke that is kept."""

EVERY = 64
"""Strokes after which a layer's pixels are put into the cache."""

Under = list[tuple[Rect, NDArray[np.uint8]]]


class Cache(Protocol):
    """Where pixels that can be drawn anew at any time are kept, so that they need not be."""

    def get(self, name: str) -> bytes | None:
        """What was put under a name, None where it is not there any more."""
        ...

    def put(self, name: str, make: Callable[[], bytes]) -> None:
        """Keep what `make` returns under a name, some time."""
        ...


class NoCache:
    """Keeps nothing."""

    def get(self, name: str) -> bytes | None:
        return None

    def put(self, name: str, make: Callable[[], bytes]) -> None:
        return None


def drawing_rules() -> str:
    """A hash of the code that draws strokes: pixels drawn by other rules are not to be taken from a cache."""
    code = "".join(inspect.getsource(module) for module in (path, stamp))
    return hashlib.sha256(code.encode()).hexdigest()


def touched(stroke: Stroke) -> list[Rect]:
    """Rectangles a stroke and its copies can touch."""
    return [stroke.bounds, *stroke.copies]


def in_common(old: tuple[Stroke, ...], new: tuple[Stroke, ...]) -> int:
    """How many strokes two states of a layer begin with in common. One that goes on from the other is told at once, however long."""
    shorter = min(len(old), len(new))
    if old[:shorter] == new[:shorter]:
        return shorter
    return next(k for k, (one, other) in enumerate(zip(old, new)) if one is not other and one != other)


class InkDrawer:
    """Draws strokes into a layer's pixels (H, W, 4)."""

    def __init__(self, load: LoadAsset, cache: Cache | None = None) -> None:
        self._load = load
        self._cache = cache or NoCache()
        self._lock = RankedLock("samples of strokes", CACHE)
        self._samples: LRUCache[str, NDArray[np.float32]] = LRUCache(_SAMPLES_BYTES, getsizeof=lambda run: run.nbytes)
        self._under: LRUCache[tuple[str, str], Under] = LRUCache(_UNDER_BYTES, getsizeof=_area_bytes)

    def samples(self, sha: str) -> NDArray[np.float32]:
        """(N, 4) float32 x, y, pressure, lean."""
        with self._lock:
            found = self._samples.get(sha)
        if found is None:
            found = samples_from(self._load(sha))
            with self._lock:
                self._samples[sha] = found
        return found

    def fill(self, pixels: NDArray[np.uint8], layer: InkLayer, page: Rect) -> None:
        """Draw a whole layer on clear pixels, from as far on as the cache goes."""
        self.forget(layer.id)
        names = _names(layer, page)
        start = 0
        for place in reversed(range(len(names))):
            kept = self._cache.get(names[place])
            if kept is not None and _unpacked(kept, pixels):
                start = (place + 1) * EVERY
                break
        whole = len(names) * EVERY
        for stroke in layer.strokes[start:whole]:
            self._draw(pixels, stroke, page)
        if whole > start:
            state = pixels.copy()
            self._cache.put(names[-1], lambda: _packed(state))
        for stroke in layer.strokes[whole:]:
            self._draw(pixels, stroke, page)

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
        common = in_common(old.strokes, new.strokes)
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
        with self._lock:
            for key in [key for key in self._under if key[0] == layer]:
                del self._under[key]

    def _keep_under(self, pixels: NDArray[np.uint8], layer: str, stroke: Stroke, page: Rect) -> None:
        rects = [rect for rect in (clipped(r, page) for r in touched(stroke)) if not empty(rect)]
        if sum((r[2] - r[0]) * (r[3] - r[1]) for r in rects) > _MOST_UNDER:
            self.forget(layer)
            return
        # in the order of the stroke's copies, so that giving back in reverse ends with what was there first
        with self._lock:
            self._under[layer, stroke.id] = [(r, pixels[r[1] : r[3], r[0] : r[2]].copy()) for r in rects]

    def _draw(self, pixels: NDArray[np.uint8], stroke: Stroke, rect: Rect) -> None:
        nib = NIBS[stroke.nib](stroke.size, stroke.tone)
        own = self.samples(stroke.samples)
        runs = [(own, stroke.bounds), *zip(repeats(own, stroke.repeat), stroke.copies)]
        for samples, bounds in runs:
            inside = clipped(bounds, rect)
            if empty(inside):
                continue
            lay_stroke(pixels, stroke, samples, nib, inside)


def _area_bytes(under: Under) -> int:
    return 200 + sum(piece.nbytes for _, piece in under)


def _names(layer: InkLayer, page: Rect) -> list[str]:
    """A name for the layer's pixels after each 64 strokes: a hash of the page's size and of all strokes so far."""
    found = []
    running = hashlib.sha256(f"{page[2]}x{page[3]}".encode())
    for count, stroke in enumerate(layer.strokes, 1):
        running.update(stroke.model_dump_json(exclude={"id"}).encode())
        if count % EVERY == 0:
            found.append(running.hexdigest())
    return found


def _packed(pixels: NDArray[np.uint8]) -> bytes:
    rows = np.flatnonzero(pixels[..., 3].any(axis=1))
    if not len(rows):
        return struct.pack("<2i", 0, 0)
    top, bottom = int(rows[0]), int(rows[-1]) + 1
    return struct.pack("<2i", top, bottom) + zlib.compress(pixels[top:bottom].tobytes(), 1)


def _unpacked(data: bytes, pixels: NDArray[np.uint8]) -> bool:
    """Write packed pixels into clear ones; False, and they stay clear, where the data is torn."""
    try:
        top, bottom = struct.unpack("<2i", data[:8])
        if bottom > top:
            raw = np.frombuffer(zlib.decompress(data[8:]), np.uint8)
            pixels[top:bottom] = raw.reshape(bottom - top, *pixels.shape[1:])
    except (struct.error, zlib.error, ValueError):
        return False
    return True
