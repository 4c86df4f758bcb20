"""Add passes up, estimate the noise that is left, clean the picture."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

LUMINANCE = np.array([0.2126, 0.7152, 0.0722], np.float32)


@dataclass
class Exposure:
    """What the passes so far add up to.

    total : (h, w, 3) float64, radiance summed over samples
    squares : (h, w) float64, squared luminance of each pass's mean, weighted by its samples
    samples : per pixel so far; passes : how many went into it
    """

    total: NDArray[np.float64]
    squares: NDArray[np.float64]
    samples: int = 0
    passes: int = 0

    @classmethod
    def blank(cls, width: int, height: int) -> Exposure:
        return cls(np.zeros((height, width, 3)), np.zeros((height, width)))

    def add(self, image: NDArray[np.float32], samples: int) -> None:
        """Add one pass; light that is not a number is counted as none."""
        image = np.nan_to_num(image, nan=0.0, posinf=0.0, neginf=0.0)
        self.total += image.astype(np.float64) * samples
        self.squares += (image @ LUMINANCE).astype(np.float64) ** 2 * samples
        self.samples += samples
        self.passes += 1

    @property
    def mean(self) -> NDArray[np.float32]:
        """Radiance (h, w, 3)."""
        mean: NDArray[np.float32] = (self.total / max(self.samples, 1)).astype(np.float32)
        return mean

    def noise(self) -> float | None:
        """Standard error of the mean over all pixels, relative to the picture's mean luminance.

        None before the second pass. The variance of the passes' means estimates the variance of a sample.
        """
        if self.passes < 2:
            return None
        mean = (self.total / self.samples) @ LUMINANCE.astype(np.float64)
        spread = np.maximum(self.squares / self.samples - mean**2, 0) * self.passes / (self.passes - 1)
        error = np.sqrt(spread / self.passes)
        return float(np.sqrt((error**2).mean()) / max(float(mean.mean()), 1e-9))


def clean(mean: NDArray[np.float32], albedo: NDArray[np.float32], normal: NDArray[np.float32]) -> NDArray[np.float32]:
    """The picture without its noise, guided by albedo and normals (Intel Open Image Denoise)."""
    import mitsuba_oidn

    cleaned = mitsuba_oidn.denoise(np.ascontiguousarray(mean), albedo=albedo, normal=normal, hdr=True, clean_aux=False)
    return np.maximum(np.asarray(cleaned, np.float32), 0)


def psnr(image: NDArray[np.floating], reference: NDArray[np.floating], peak: float = 1.0) -> float:
    """Peak signal-to-noise ratio in dB."""
    error = float(np.mean((np.asarray(image, np.float64) - np.asarray(reference, np.float64)) ** 2))
    return float(10 * np.log10(peak * peak / max(error, 1e-20)))
