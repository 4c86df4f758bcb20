"""Pictures laid on the page by their four corners."""

from __future__ import annotations

import io

import numpy as np
import skia
from numpy.typing import NDArray
from PIL import Image

from hollow_marble.core.ink.stamp import clipped, empty
from hollow_marble.documents.sheet.model import PictureLayer, Rect


def picture_extent(layer: PictureLayer) -> Rect:
    """Smallest rectangle around the corners."""
    corners = np.array(layer.quad)
    low, high = np.floor(corners.min(axis=0)).astype(int), np.ceil(corners.max(axis=0)).astype(int)
    return int(low[0]), int(low[1]), int(high[0]), int(high[1])


def lay_picture(pixels: NDArray[np.uint8], layer: PictureLayer, data: bytes, page: Rect) -> None:
    """Draw a PNG's bytes over a clear layer (H, W, 4), in place."""
    rect = clipped(picture_extent(layer), page)
    if empty(rect):
        return
    source = np.ascontiguousarray(np.asarray(Image.open(io.BytesIO(data)).convert("RGBA")))
    height, width = source.shape[:2]
    corners = [skia.Point(0, 0), skia.Point(width, 0), skia.Point(width, height), skia.Point(0, height)]
    goals = [skia.Point(x - rect[0], y - rect[1]) for x, y in layer.quad]
    matrix = skia.Matrix()
    if not matrix.setPolyToPoly(corners, goals):
        return
    window = np.zeros((rect[3] - rect[1], rect[2] - rect[0], 4), np.uint8)
    surface = skia.Surface(window, colorType=skia.kRGBA_8888_ColorType, alphaType=skia.AlphaType.kPremul_AlphaType)
    canvas = surface.getCanvas()
    canvas.concat(matrix)
    shrinks = np.ptp([x for x, _ in layer.quad]) < width
    how = (
        skia.SamplingOptions(skia.FilterMode.kLinear, skia.MipmapMode.kLinear)
        if shrinks
        else skia.SamplingOptions(skia.CubicResampler.Mitchell())
    )
    image = skia.Image.fromarray(source, colorType=skia.kRGBA_8888_ColorType)
    canvas.drawImage(image, 0, 0, how, skia.Paint(AntiAlias=True))
    pixels[rect[1] : rect[3], rect[0] : rect[2]] = window
