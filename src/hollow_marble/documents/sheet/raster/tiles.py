"""Tiles of painted pixels as bytes: 256 × 256, red, green, blue premultiplied by coverage, packed with zlib."""

from __future__ import annotations

import hashlib
import zlib

import numpy as np
from cachetools import LRUCache
from numpy.typing import NDArray

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.ink.stamp import clipped, empty
from hollow_marble.core.locks import CACHE, RankedLock
from hollow_marble.documents.edit import LoadAsset
from hollow_marble.documents.sheet.model import Rect

TILE = 256
MEDIA = "application/vnd.hollow-marble.tile"
_KEPT_BYTES = 100_000_000


def tile_rect(name: str) -> Rect:
    """Where the tile "column,row" lies."""
    column, row = (int(part) for part in name.split(","))
    return column * TILE, row * TILE, (column + 1) * TILE, (row + 1) * TILE


def tiles_under(rect: Rect, page: Rect) -> list[tuple[str, Rect]]:
    """Names and places of the tiles a rectangle of the page touches."""
    inside = clipped(rect, page)
    if empty(inside):
        return []
    return [
        (f"{column},{row}", (column * TILE, row * TILE, (column + 1) * TILE, (row + 1) * TILE))
        for row in range(inside[1] // TILE, (inside[3] - 1) // TILE + 1)
        for column in range(inside[0] // TILE, (inside[2] - 1) // TILE + 1)
    ]


class TileShelf:
    """Packs tiles, and remembers the pixels of those seen last so that they need not be unpacked."""

    def __init__(self, load: LoadAsset) -> None:
        self._load = load
        self._lock = RankedLock("tiles", CACHE)
        self._seen: LRUCache[str, NDArray[np.uint8]] = LRUCache(_KEPT_BYTES, getsizeof=lambda tile: tile.nbytes)

    def pack(self, pixels: NDArray[np.uint8]) -> tuple[str, bytes] | None:
        """SHA-256 and bytes of a tile (256, 256, 4); None where it is bare."""
        if not pixels[..., 3].any():
            return None
        data = zlib.compress(pixels.tobytes(), 1)
        sha = hashlib.sha256(data).hexdigest()
        self._remember(sha, pixels)
        return sha, data

    def pixels(self, sha: str) -> NDArray[np.uint8]:
        """(256, 256, 4) uint8."""
        with self._lock:
            found = self._seen.get(sha)
        if found is None:
            try:
                raw = zlib.decompress(self._load(sha))
                found = np.frombuffer(raw, np.uint8).reshape(TILE, TILE, 4)
            except (zlib.error, ValueError) as error:
                raise HollowMarbleError("A painted piece of the page is damaged in the project’s file.") from error
            self._remember(sha, found)
        return found

    def _remember(self, sha: str, pixels: NDArray[np.uint8]) -> None:
        with self._lock:
            self._seen[sha] = pixels
