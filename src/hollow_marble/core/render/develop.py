"""Add passes up, estimate the noise that is left, clean the picture."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

LUMINANCE = np.array([0.2126, 0.7152, 0.0722], np.float32)


MOST_AT_ONCE = 16


def next_pass(done: int, wanted: int) -> int:
    """How many samples a pixel the next pass takes: a quarter of what is there, so that passes of both halves weigh alike; one at first, so
    that something is seen soon.

    A power of two: the renderer adds such samples of a pixel in one order, others in that of its threads, and the same take would come
    out a little different each time.
    """
    most = min(max(done // 4, 1 if done < 4 else 2), MOST_AT_ONCE, wanted - done)
    return int(2 ** math.floor(math.log2(most)))


@dataclass
class Exposure:
    """What the passes so far add up to.

    halves : (2, h, w, 3) float32, radiance summed over the samples of even and of odd passes
    squares : (h, w) float64, squared luminance of each pass's mean, weighted by its samples
    samples : per pixel so far in each half; passes : how many went into them
    """

    halves: NDArray[np.float32]
    squares: NDArray[np.float64]
    samples: tuple[int, int] = (0, 0)
    passes: int = 0

    @classmethod
    def blank(cls, width: int, height: int) -> Exposure:
        return cls(np.zeros((2, height, width, 3), np.float32), np.zeros((height, width)))

    def add(self, image: NDArray[np.float32], samples: int) -> None:
        """Add one pass; light that is not a number is counted as none."""
        image = np.nan_to_num(image, nan=0.0, posinf=0.0, neginf=0.0)
        half = self.passes % 2
        self.halves[half] += image * np.float32(samples)
        self.squares += (image @ LUMINANCE).astype(np.float64) ** 2 * samples
        even, odd = self.samples
        self.samples = (even + samples, odd) if half == 0 else (even, odd + samples)
        self.passes += 1

    @property
    def done(self) -> int:
        """Samples a pixel so far."""
        return sum(self.samples)

    @property
    def mean(self) -> NDArray[np.float32]:
        """Radiance (h, w, 3)."""
        mean: NDArray[np.float32] = (self.halves[0] + self.halves[1]) / np.float32(max(self.done, 1))
        return mean

    def noise(self) -> float | None:
        """Standard error of the mean over all pixels, relative to the picture's mean luminance: the noise before cleaning.

        None before the second pass. The variance of the passes' means estimates the variance of a sample.
        """
        if self.passes < 2:
            return None
        mean = (self.mean @ LUMINANCE).astype(np.float64)
        spread = np.maximum(self.squares / self.done - mean**2, 0) * self.passes / (self.passes - 1)
        error = np.sqrt(spread / self.passes)
        return float(np.sqrt((error**2).mean()) / max(float(mean.mean()), 1e-9))

    def cleaned_noise(self, cleaned: Callable[[NDArray[np.float32]], NDArray[np.float32]]) -> float | None:
        """How far the cleaned picture is off: the root of its mean squared error in luminance, relative to the mean luminance.

        None before both halves have a pass. The halves are cleaned apart: half of their difference is the noise that cleaning left in
        their mean. What cleaning blurs is the same in both and does not show; it goes along with the noise, and `BLURRED` stands for it.
        """
        if 0 in self.samples:
            return None
        one, other = (cleaned(half / np.float32(count)) for half, count in zip(self.halves, self.samples))
        left = float(np.sqrt((((one - other) @ LUMINANCE).astype(np.float64) ** 2).mean())) / 2
        return BLURRED * left / max(float((self.mean @ LUMINANCE).mean()), 1e-9)


BLURRED = 1.65
"""The whole error of a cleaned picture over what its halves differ by: 1.4 to 2.0 in three scenes at 8 to 128 samples, against pictures of
1,536 samples a pixel (`hollow-marble bench --only noise`)."""


def clean(
    mean: NDArray[np.float32], albedo: NDArray[np.float32], normal: NDArray[np.float32], *, hasty: bool = False
) -> NDArray[np.float32]:
    """The picture without its noise, guided by albedo and normals (Intel Open Image Denoise); `hasty` in half the time, for a picture on the
    way."""
    import mitsuba_oidn

    quality = mitsuba_oidn.Quality.Fast if hasty else mitsuba_oidn.Quality.High
    cleaned = mitsuba_oidn.denoise(
        np.ascontiguousarray(mean), albedo=albedo, normal=normal, hdr=True, clean_aux=False, quality=quality
    )
    return np.maximum(np.asarray(cleaned, np.float32), 0)


def psnr(image: NDArray[np.floating], reference: NDArray[np.floating], peak: float = 1.0) -> float:
    """Peak signal-to-noise ratio in dB."""
    error = float(np.mean((np.asarray(image, np.float64) - np.asarray(reference, np.float64)) ** 2))
    return float(10 * np.log10(peak * peak / max(error, 1e-20)))
