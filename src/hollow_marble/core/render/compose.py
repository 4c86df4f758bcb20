"""What is shown of what was traced: exposure, the backdrop as it was asked for, transparency, grain."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.render.develop import LUMINANCE
from hollow_marble.core.render.scene import Backdrop, Scene
from hollow_marble.core.studio.camera import Lens
from hollow_marble.core.studio.colour import display, to_srgb

Image = NDArray[np.float32]

GRAIN = 0.15
"""Share of the picture before cleaning that is left in a picture of many samples: wholly clean ones look painted (common practice)."""
GRAIN_FROM = 64
"""Samples a pixel from which on grain is fine enough to be left in."""


def with_grain(cleaned: Image, raw: Image, samples: int) -> Image:
    """A cleaned picture with some of its grain."""
    if samples < GRAIN_FROM:
        return cleaned
    # single bright sparks are no grain
    found: Image = cleaned + np.float32(GRAIN) * np.clip(raw - cleaned, -0.5 * cleaned, 0.5 * cleaned)
    return found


def without_product(scene: Scene) -> Scene:
    """The scene as it is before the product is put there: against it the product's shadow is told."""
    return replace(scene, bodies=[body for body in scene.bodies if not body.product])


def around(scene: Scene, lens: Lens, width: int, height: int) -> Image:
    """(h, w, 3) the surround as each pixel would see it, were there nothing else."""
    image = scene.surround
    x, y = np.meshgrid(np.arange(width) + 0.5, np.arange(height) + 0.5)
    ways = lens.rays(np.stack([x.reshape(-1), y.reshape(-1)], axis=1), width, height)
    tall, wide = image.shape[:2]
    column = (np.arctan2(ways[:, 0], -ways[:, 1]) % (2 * np.pi)) / (2 * np.pi) * wide
    row = (np.pi / 2 - np.arcsin(np.clip(ways[:, 2], -1, 1))) / np.pi * tall
    found: Image = image[np.clip(row.astype(int), 0, tall - 1), column.astype(int) % wide]
    return found.reshape(height, width, 3)


@dataclass(frozen=True, eq=False)
class Composer:
    """backdrop and gain of the scene; `cover` (h, w) is the share of each pixel that the product covers, `unseen` (h, w, 3) the light of the
    surround that is not to be seen, None where there is none."""

    backdrop: Backdrop
    gain: tuple[float, float, float]
    cover: Image | None = None
    unseen: Image | None = None

    def bytes_of(self, full: Image, plate: Image | None) -> NDArray[np.uint8]:
        """(h, w, 3 or 4) what is shown of a picture with the product and one without it, both linear."""
        if self.unseen is not None:
            full = np.maximum(full - self.unseen, 0)
        gain = np.array(self.gain, np.float32)
        if plate is None or self.cover is None:
            return _bytes(display(full * gain))
        cover = self.cover[..., None]
        lit = (full @ LUMINANCE) / np.maximum(plate @ LUMINANCE, 1e-6)
        dark = self.backdrop.shadow * (1 - np.clip(lit, 0, 1))[..., None]
        if self.backdrop.through:
            alpha = cover + (1 - cover) * dark
            colour = display(full * gain) * cover / np.maximum(alpha, 1e-6)
            return np.concatenate([_bytes(colour), np.rint(np.clip(alpha, 0, 1) * 255).astype(np.uint8)], axis=-1)
        if self.backdrop.white:
            return _bytes(display(full * gain) * cover + (1 - cover) * (1 - dark))
        ground = full + (1 - cover) * (1 - self.backdrop.shadow) * (plate - full)
        return _bytes(display(np.maximum(ground, 0) * gain))


def _bytes(linear: NDArray[np.floating]) -> NDArray[np.uint8]:
    found: NDArray[np.uint8] = np.rint(to_srgb(linear) * 255).astype(np.uint8)
    return found
