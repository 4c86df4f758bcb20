"""A sheet's layers to rasters and back, for formats that hold layers."""

from __future__ import annotations

import uuid

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.ink.blend import blend_onto
from hollow_marble.core.ink.stamp import Rect, clipped, empty
from hollow_marble.documents.sheet.model import GroupLayer, Layer, Sheet, ToneLayer, rgb
from hollow_marble.documents.sheet.painting import packed_tiles, page_of
from hollow_marble.documents.sheet.raster.ground import border_cover, paper_pixels
from hollow_marble.documents.sheet.raster.page import STRUCK_FADE, SheetRaster, strike
from hollow_marble.exchange.openraster import Raster


def rasters_of(sheet: Sheet, raster: SheetRaster, group: str | None = None) -> list[Raster]:
    """Layers of a group, lowest first; the paper is the lowest of all, struck-out views and the border the highest.

    A layer with others clipped to it becomes a group with them.
    """
    found = [_paper(sheet)] if group is None else []
    runs: list[list[Layer]] = []
    seen: list[Layer] | None = None  # the run that what is clipped joins: hidden layers between do not count
    for layer in sheet.within(group):
        if layer.visible and layer.clipped and seen is not None:
            seen.append(layer)
            continue
        runs.append([layer])
        seen = runs[-1] if layer.visible else seen
    for base, *above in runs:
        found.append(_clipped_together(base, above, sheet, raster) if above else _raster_of(base, sheet, raster))
    over = _over_all(sheet) if group is None else []
    return [*found, *over]


def _raster_of(layer: Layer, sheet: Sheet, raster: SheetRaster) -> Raster:
    made = Raster(layer.name, visible=layer.visible, opacity=layer.opacity, mode=layer.mode)
    if isinstance(layer, GroupLayer):
        made.inner = rasters_of(sheet, raster, layer.id)
    else:
        made.pixels = straight(raster.layer_pixels(layer.id, page_of(sheet)))
    return made


def _clipped_together(base: Layer, clipped: list[Layer], sheet: Sheet, raster: SheetRaster) -> Raster:
    """A group of a layer and those clipped to it.

    The format knows no clipping but an operation, source-atop, that does the same within a group. It knows it in no other blend mode: a layer
    that is clipped and blended at once goes as the colours it gives.
    """
    lowest = _raster_of(base, sheet, raster)
    lowest.opacity, lowest.mode = 1.0, "normal"
    own = raster.layer_pixels(base.id, page_of(sheet)).astype(np.float32) / np.float32(255)
    above = []
    for layer in clipped:
        paint = raster.layer_pixels(layer.id, page_of(sheet)).astype(np.float32) / np.float32(255)
        blend_onto(own, paint, layer.mode, layer.opacity, atop=True)
        if layer.mode == "normal":
            made = _raster_of(layer, sheet, raster)
        else:
            looks = np.zeros(own.shape, np.uint8)
            looks[..., :3] = np.rint(np.clip(own[..., :3] / np.maximum(own[..., 3:], 1e-6), 0, 1) * 255)
            looks[..., 3] = np.where((paint[..., 3] > 0) & (own[..., 3] > 0), 255, 0)
            made = Raster(f"{layer.name}, {layer.mode}", looks)
        made.clipped = True
        above.append(made)
    return Raster(base.name, opacity=base.opacity, mode=base.mode, inner=[lowest, *above])


def _paper(sheet: Sheet) -> Raster:
    paper = np.full((sheet.height, sheet.width, 4), 255, np.uint8)
    paper[..., :3] = np.rint(paper_pixels(sheet, page_of(sheet)))
    return Raster("Paper", paper)


def _over_all(sheet: Sheet) -> list[Raster]:
    """What lies over all layers: views that are struck out, faded and crossed; the border."""
    page = page_of(sheet)
    found = []
    for view in sheet.views:
        inside = clipped(view.rect, page)
        if view.struck and not empty(inside):
            faded = np.zeros((sheet.height, sheet.width, 4), np.uint8)
            window = faded[inside[1] : inside[3], inside[0] : inside[2]]
            window[..., :3] = np.rint(paper_pixels(sheet, inside))
            window[..., 3] = round(STRUCK_FADE * 255)
            crossed = np.zeros_like(faded)
            strike(crossed, view, page)
            found += [Raster(f"{view.name}, struck out", faded), Raster(f"{view.name}, crossed", straight(crossed))]
    cover = border_cover(sheet, page)
    if cover is not None and sheet.border is not None:
        border = np.zeros((sheet.height, sheet.width, 4), np.uint8)
        border[..., :3] = rgb(sheet.border.colour)
        border[..., 3] = np.rint(cover * 255)
        found.append(Raster("Border", border))
    return found


def straight(pixels: NDArray[np.uint8]) -> NDArray[np.uint8]:
    """(h, w, 4) with its colour no longer multiplied by its coverage."""
    alpha = pixels[..., 3:].astype(np.float32)
    out = pixels.copy()
    out[..., :3] = np.rint(np.minimum(255, pixels[..., :3] * (255 / np.maximum(alpha, 1))))
    return out


def premultiplied(pixels: NDArray[np.uint8]) -> NDArray[np.uint8]:
    """(h, w, 4) with its colour multiplied by its coverage."""
    out = pixels.copy()
    out[..., :3] = np.rint(pixels[..., :3] * (pixels[..., 3:].astype(np.float32) / 255))
    return out


def layers_from(
    rasters: list[Raster], sheet: Sheet, raster: SheetRaster, group: str | None = None
) -> tuple[list[Layer], dict[str, bytes]]:
    """Tone layers and groups for rasters, lowest first, and the tiles to keep by SHA-256."""
    layers: list[Layer] = []
    data: dict[str, bytes] = {}
    page = page_of(sheet)
    for one in rasters:
        look = {
            "id": uuid.uuid4().hex[:8],
            "name": one.name[:60],
            "visible": one.visible,
            "opacity": one.opacity,
            "mode": one.mode,
            "group": group,
            "clipped": one.clipped,
        }
        if one.pixels is None:
            layers.append(GroupLayer(**look))
            inner, more = layers_from(one.inner, sheet, raster, layers[-1].id)
            layers += inner
            data |= more
            continue
        pixels = premultiplied(one.pixels)
        left, top = one.at
        whole: Rect = (left, top, left + pixels.shape[1], top + pixels.shape[0])
        rect = clipped(whole, page)
        tiles: dict[str, str] = {}
        if not empty(rect):
            piece = pixels[rect[1] - top : rect[3] - top, rect[0] - left : rect[2] - left]
            bare = np.zeros((sheet.height, sheet.width, 4), np.uint8)
            made = packed_tiles(raster, sheet, bare, rect, piece)
            tiles = {name: sha for name, sha in made.names.items() if sha is not None}
            data |= made.data
        layers.append(ToneLayer(**look, tiles=tiles))
    return layers, data
