"""A sheet's layers to rasters and back, for formats that hold layers."""

from __future__ import annotations

import uuid

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.ink.stamp import Rect, clipped, empty
from hollow_marble.documents.sheet.model import GroupLayer, Layer, Sheet, ToneLayer, rgb
from hollow_marble.documents.sheet.painting import packed_tiles, page_of
from hollow_marble.documents.sheet.raster.ground import border_cover, paper_pixels
from hollow_marble.documents.sheet.raster.page import SheetRaster
from hollow_marble.exchange.openraster import Raster


def rasters_of(sheet: Sheet, raster: SheetRaster, group: str | None = None) -> list[Raster]:
    """Layers of a group, lowest first, each cut to what is painted on it; the paper is the lowest of all."""
    found = []
    if group is None:
        paper = np.full((sheet.height, sheet.width, 4), 255, np.uint8)
        paper[..., :3] = np.rint(paper_pixels(sheet, page_of(sheet)))
        found.append(Raster("Paper", paper))
    for layer in sheet.within(group):
        made = Raster(layer.name, visible=layer.visible, opacity=layer.opacity, mode=layer.mode)
        if isinstance(layer, GroupLayer):
            made.inner = rasters_of(sheet, raster, layer.id)
        else:
            made.pixels = straight(raster.layer_pixels(layer.id, page_of(sheet)))
        found.append(made)
    cover = border_cover(sheet, page_of(sheet)) if group is None else None
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
