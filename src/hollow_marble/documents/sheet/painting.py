"""What painting does to a tone layer: new tiles for the rectangle that was painted."""

from __future__ import annotations

import struct
import zlib
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.drafting import light
from hollow_marble.core.drafting.box import Placed
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.ink.path import NIBS, bounds, check_work
from hollow_marble.core.ink.select import Selection, outlined
from hollow_marble.core.ink.stamp import clipped, coverage, empty, union
from hollow_marble.documents.sheet.drawing import repeats
from hollow_marble.documents.sheet.edits.strokes import open_layer
from hollow_marble.documents.sheet.model import LineStyle, NibName, Rect, Repeat, Sheet, ToneLayer
from hollow_marble.documents.sheet.raster.page import SheetRaster
from hollow_marble.documents.sheet.raster.tiles import TILE, tiles_under

SELECTION_MEDIA = "application/vnd.hollow-marble.selection"

Window = NDArray[np.uint8]


@dataclass(frozen=True)
class Tiles:
    """Tiles to exchange: their SHA-256 by name (None where bare now), and the bytes to keep by SHA-256."""

    names: dict[str, str | None]
    data: dict[str, bytes]


def tone_layer(sheet: Sheet, ident: str) -> ToneLayer:
    """A tone layer that can be painted on."""
    layer = open_layer(sheet, ident)
    if not isinstance(layer, ToneLayer):
        raise HollowMarbleError(f"“{layer.name}” is not a tone layer. Choose a tone layer, or add one, to paint on.")
    return layer


def page_of(sheet: Sheet) -> Rect:
    """The whole page."""
    return 0, 0, sheet.width, sheet.height


def exchanged(raster: SheetRaster, sheet: Sheet, layer: str, rect: Rect, change: Callable[[Window], Window]) -> Tiles:
    """Tiles of a layer after a rectangle of it was changed by a function of its pixels (h, w, 4)."""
    rect = clipped(rect, page_of(sheet))
    if empty(rect):
        raise HollowMarbleError("That lies beside the page. Nothing was painted.")
    old = raster.raw(layer)
    new = change(np.ascontiguousarray(old[rect[1] : rect[3], rect[0] : rect[2]]))
    return packed_tiles(raster, sheet, old, rect, new)


def packed_tiles(raster: SheetRaster, sheet: Sheet, old: Window, rect: Rect, new: Window) -> Tiles:
    """Tiles that differ once `new` (h, w, 4) stands in a rectangle of `old` (H, W, 4)."""
    names: dict[str, str | None] = {}
    data: dict[str, bytes] = {}
    for name, tile in tiles_under(rect, page_of(sheet)):
        shown = clipped(tile, page_of(sheet))
        part = clipped(tile, rect)
        piece = new[part[1] - rect[1] : part[3] - rect[1], part[0] - rect[0] : part[2] - rect[0]]
        if np.array_equal(piece, old[part[1] : part[3], part[0] : part[2]]):
            continue
        pixels = np.zeros((TILE, TILE, 4), np.uint8)
        pixels[: shown[3] - shown[1], : shown[2] - shown[0]] = old[shown[1] : shown[3], shown[0] : shown[2]]
        pixels[part[1] - tile[1] : part[3] - tile[1], part[0] - tile[0] : part[2] - tile[0]] = piece
        packed = raster.shelf.pack(pixels)
        names[name] = packed[0] if packed else None
        if packed:
            data[packed[0]] = packed[1]
    return Tiles(names, data)


def stroke_cover(
    samples: NDArray[np.float32],
    nib: NibName,
    size: float,
    tone: float,
    repeat: Repeat | None,
    selection: Selection | None,
    page: Rect,
    line: LineStyle = "plain",
) -> tuple[Rect, NDArray[np.float32]]:
    """Rectangle and coverage (h, w) of a stroke with its copies, held in by the selection."""
    made = NIBS[nib](size, tone)
    runs = [samples, *repeats(samples, repeat)]
    check_work(samples, made, len(runs))
    whole: Rect = (0, 0, 0, 0)
    for run in runs:
        whole = union(whole, clipped(bounds(run, made), page))
    if selection is not None:
        whole = clipped(whole, selection.rect)
    if empty(whole):
        raise HollowMarbleError("That stroke lies outside the selection or the page, so nothing was painted.")
    cover = np.zeros((whole[3] - whole[1], whole[2] - whole[0]), np.float32)
    for run in runs:
        rect = clipped(bounds(run, made), whole)
        if not empty(rect):
            window = cover[rect[1] - whole[1] : rect[3] - whole[1], rect[0] - whole[0] : rect[2] - whole[0]]
            own = coverage(run, made, rect, line)
            window += (1 - window) * own
    if selection is not None:
        cover *= selection.within(whole).astype(np.float32) / 255
    return whole, cover


def shaded(
    old: Window, box: Placed, toward: NDArray[np.float64], base: float, body: light.Body, shadow: float
) -> tuple[Rect, Window]:
    """Rectangle and new pixels of a layer (H, W, 4) after a box or cylinder was shaded on it, its cast shadow beneath."""
    sides = light.box_sides(box, toward, base) if body == "box" else light.round_sides(box, toward, base)
    page: Rect = (0, 0, old.shape[1], old.shape[0])
    plan: list[tuple[NDArray[np.float64], float, float]] = [(corners, grey, 1.0) for corners, grey in sides]
    if shadow > 0:
        plan.insert(0, (light.cast_shadow(box, toward, body), 0.0, shadow))
    selections = [(outlined(corners, page), grey, opacity) for corners, grey, opacity in plan]
    rect: Rect = (0, 0, 0, 0)
    for selection, _, _ in selections:
        rect = union(rect, selection.rect)
    sheet = old[rect[1] : rect[3], rect[0] : rect[2]].astype(np.float32)
    # sides that meet share their edge pixels: gathered first, so that no seam of what is beneath shows
    gathered = np.zeros_like(sheet)
    for selection, grey, _ in selections[1:] if shadow > 0 else selections:
        cover = selection.within(rect).astype(np.float32) / 255
        gain = np.minimum(cover, 1 - gathered[..., 3] / 255)[..., None]
        np.add(gathered, gain * np.array([grey, grey, grey, 255], np.float32), out=gathered)
    if shadow > 0:
        dark = selections[0][0].within(rect).astype(np.float32)[..., None] / 255 * np.float32(shadow)
        np.copyto(sheet, sheet * (1 - dark) + dark * np.array([0, 0, 0, 255], np.float32))
    done: Window = np.rint(sheet * (1 - gathered[..., 3:] / 255) + gathered).astype(np.uint8)
    return rect, done


def selection_to_bytes(selection: Selection) -> bytes:
    """A selection as it is kept: its rectangle and its packed mask."""
    return struct.pack("<4i", *selection.rect) + zlib.compress(selection.mask.tobytes(), 1)


def selection_from(data: bytes) -> Selection:
    """Read what `selection_to_bytes` wrote."""
    left, top, right, bottom = struct.unpack("<4i", data[:16])
    mask = np.frombuffer(zlib.decompress(data[16:]), np.uint8).reshape(bottom - top, right - left)
    return Selection((left, top, right, bottom), mask)
