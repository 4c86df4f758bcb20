"""From pen samples to dabs: a quadratic B-spline through the samples' midpoints, stepped evenly."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numba import njit
from numpy.typing import NDArray

from hollow_marble.core.errors import HollowMarbleError

MOST_SAMPLES = 20_000


@dataclass(frozen=True)
class Nib:
    """What a stroke is drawn with.

    size : diameter in px at full pressure
    tone : darkness 0 to 1 at full pressure
    thin, pale : share of size and tone that is left at no pressure
    soft : width of the edge's ramp in px
    grain : how much of the paper's tooth shows at light pressure, 0 to 1
    """

    size: float
    tone: float
    thin: float = 0.3
    pale: float = 0.15
    soft: float = 1.2
    grain: float = 0.55


def pencil(size: float, tone: float) -> Nib:
    """Pressure gives both tone and width; light pressure catches only the tooth of the paper."""
    return Nib(size, tone)


def lifter(size: float, tone: float) -> Nib:
    """Takes ink away; pressure gives width, the edge is a little softer than the pencil's."""
    return Nib(size, tone, thin=0.5, pale=0.6, soft=2.0, grain=0.0)


NIBS = {"pencil": pencil, "lifter": lifter}


def samples_from(data: bytes) -> NDArray[np.float32]:
    """Read (N, 3) float32 x, y (page px), pressure 0 to 1 from a stroke's bytes, and check them."""
    if not data or len(data) % 12:
        raise HollowMarbleError("The stroke arrived damaged, so it was not drawn. Draw it again.")
    samples = np.frombuffer(data, "<f4").reshape(-1, 3)
    if len(samples) > MOST_SAMPLES:
        raise HollowMarbleError(f"The stroke has more than {MOST_SAMPLES:,} samples. Lift the pen now and then.")
    if not np.isfinite(samples).all() or np.abs(samples[:, :2]).max() > 1e5:
        raise HollowMarbleError("The stroke has a place that is not on any page, so it was not drawn. Draw it again.")
    return samples


def mirrored(samples: NDArray[np.float32], x: float, y: float, angle: float) -> NDArray[np.float32]:
    """The stroke reflected across the line through (x, y) at `angle` radians from the page's x direction."""
    offset = samples[:, :2].astype(np.float64) - (x, y)
    c, s = np.cos(2 * angle), np.sin(2 * angle)
    result = samples.copy()
    result[:, 0] = offset[:, 0] * c + offset[:, 1] * s + x
    result[:, 1] = offset[:, 0] * s - offset[:, 1] * c + y
    return result


def bounds(samples: NDArray[np.float32], size: float) -> tuple[int, int, int, int]:
    """Left, top, right, bottom of the pixels a stroke can touch (right and bottom not included)."""
    reach = size / 2 + 3
    low = np.floor(samples[:, :2].min(axis=0) - reach).astype(int)
    high = np.ceil(samples[:, :2].max(axis=0) + reach).astype(int)
    return int(low[0]), int(low[1]), int(high[0]), int(high[1])


@njit(cache=True, nogil=True)
def dabs(samples, size, thin):
    """Dabs (M, 3) float64 x, y, pressure along the samples (N, 3).

    Between the midpoints of neighbouring samples the path is a parabola with the sample as its control point; the
    ends are straight. Steps are a quarter of the radius, at least 0.4 px.
    """
    out = np.empty((256, 3))
    made = 0
    n = len(samples)
    for i in range(n):
        cx, cy, cp = float(samples[i, 0]), float(samples[i, 1]), float(samples[i, 2])
        if i == 0:
            ax, ay, ap = cx, cy, cp
        else:
            ax, ay, ap = (samples[i - 1, 0] + cx) / 2, (samples[i - 1, 1] + cy) / 2, (samples[i - 1, 2] + cp) / 2
        if i == n - 1:
            bx, by, bp = cx, cy, cp
        else:
            bx, by, bp = (samples[i + 1, 0] + cx) / 2, (samples[i + 1, 1] + cy) / 2, (samples[i + 1, 2] + cp) / 2
        length = np.hypot(cx - ax, cy - ay) + np.hypot(bx - cx, by - cy)
        radius = size / 2 * (thin + (1 - thin) * cp)
        steps = int(np.ceil(length / max(0.4, 0.25 * radius)))
        last = 1 if i == n - 1 else 0
        for k in range(steps + last):
            t = k / steps if steps else 0.0
            u = 1 - t
            if made == len(out):
                more = np.empty((2 * made, 3))
                more[:made] = out
                out = more
            out[made, 0] = u * u * ax + 2 * u * t * cx + t * t * bx
            out[made, 1] = u * u * ay + 2 * u * t * cy + t * t * by
            out[made, 2] = u * u * ap + 2 * u * t * cp + t * t * bp
            made += 1
    return out[:made].copy()
