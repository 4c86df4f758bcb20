"""Lay layers on paper (source over, W3C Compositing and Blending Level 1, section 5.1)."""

from __future__ import annotations

import numpy as np
from numba import njit
from numpy.typing import NDArray

from hollow_marble.core.ink.stamp import Rect


def on_paper(
    layers: list[tuple[NDArray[np.uint8], float]], paper: tuple[int, int, int], rect: Rect
) -> NDArray[np.uint8]:
    """Lay (layer, opacity) pairs, lowest first, on paper of an sRGB colour; returns (h, w, 4) uint8, opaque."""
    left, top, right, bottom = rect
    page = np.empty((bottom - top, right - left, 3), np.float32)
    page[:] = paper
    for layer, opacity in layers:
        _over(page, layer, left, top, opacity)
    out = np.full((*page.shape[:2], 4), 255, np.uint8)
    out[..., :3] = np.rint(page)
    return out


def fade(page: NDArray[np.uint8], paper: tuple[int, int, int], rect: Rect, within: Rect, share: float) -> None:
    """Fade `rect` of the page towards the paper, in place; `within` says which part of the page the pixels are."""
    window = page[rect[1] - within[1] : rect[3] - within[1], rect[0] - within[0] : rect[2] - within[0], :3]
    window[:] = np.rint(window + (np.array(paper, np.float32) - window) * share)


@njit(cache=True, nogil=True)
def _over(page, layer, left, top, opacity):
    for row in range(page.shape[0]):
        for column in range(page.shape[1]):
            pixel = layer[row + top, column + left]
            if pixel[3] == 0:
                continue
            keep = 1 - pixel[3] / 255 * opacity
            for channel in range(3):
                page[row, column, channel] = page[row, column, channel] * keep + pixel[channel] * opacity
