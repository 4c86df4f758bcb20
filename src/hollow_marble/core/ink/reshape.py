"""Strokes changed after they were drawn. Samples are (N, 4) float32 x, y, pressure, lean; px of the page."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import gaussian_filter1d

Samples = NDArray[np.float32]


def carried(samples: Samples, matrix: NDArray[np.float64]) -> Samples:
    """Moved, turned, scaled or mirrored by an affine matrix (2, 3)."""
    out = samples.copy()
    out[:, :2] = samples[:, :2].astype(np.float64) @ matrix[:, :2].T + matrix[:, 2]
    return out


def through(samples: Samples, matrix: NDArray[np.float64]) -> Samples:
    """Carried through a homography (3, 3), with samples close enough that straight pieces bend as they should."""
    out = evened(samples)
    mapped = np.column_stack([out[:, :2].astype(np.float64), np.ones(len(out))]) @ matrix.T
    out[:, :2] = mapped[:, :2] / mapped[:, 2:]
    return out


def similarity(
    centre: tuple[float, float], by: tuple[float, float], turn: float, scale: float, mirror: bool
) -> NDArray[np.float64]:
    """Matrix (2, 3) that mirrors across the upright through the centre, scales, turns (radians) about it, then moves."""
    c, s = np.cos(turn) * scale, np.sin(turn) * scale
    linear = np.array([[c, -s], [s, c]]) @ np.diag([-1.0 if mirror else 1.0, 1.0])
    middle = np.array(centre)
    return np.column_stack([linear, middle + by - linear @ middle])


def evened(samples: Samples, every: float = 3.0) -> Samples:
    """The same line with samples at even steps of `every` px."""
    steps = np.hypot(*np.diff(samples[:, :2].astype(np.float64), axis=0).T)
    along = np.concatenate([[0.0], np.cumsum(steps)])
    if along[-1] < every:
        return samples.copy()
    at = np.linspace(0, along[-1], int(np.ceil(along[-1] / every)) + 1)
    return np.column_stack([np.interp(at, along, samples[:, k]) for k in range(4)]).astype(np.float32)


def smoothed(samples: Samples, width: float) -> Samples:
    """Shaking shorter than about `width` px taken out (Gaussian along the line); both ends stay where they are."""
    even = evened(samples)
    if len(even) < 4:
        return even
    spread = width / 6.0
    # mirrored through its ends the line runs on as it came, so that both ends stay in their place
    beyond = min(len(even) - 1, int(np.ceil(4 * spread)))
    longer = np.pad(even.astype(np.float64), ((beyond, beyond), (0, 0)), mode="reflect", reflect_type="odd")
    soft = gaussian_filter1d(longer, spread, axis=0)[beyond : beyond + len(even)]
    result: Samples = soft.astype(np.float32)
    return result


def pulled(samples: Samples, at: tuple[float, float], by: tuple[float, float], reach: float) -> Samples:
    """Pulled at a place by so many px; what is `reach` px away along the page moves by three fifths as much."""
    even = evened(samples)
    away = np.hypot(even[:, 0] - at[0], even[:, 1] - at[1])
    share = np.exp(-0.5 * (away / max(reach, 1e-6)) ** 2)[:, None]
    even[:, :2] += (share * np.array(by)).astype(np.float32)
    return even


def pieces_outside(samples: Samples, outline: NDArray[np.float64]) -> list[Samples]:
    """What is left of a line when the part inside a closed outline (M, 2) is taken away, piece by piece."""
    even = evened(samples, 1.5)
    out = ~inside(even[:, :2].astype(np.float64), outline)
    edges = np.flatnonzero(np.diff(np.concatenate([[False], out, [False]]).astype(np.int8)))
    runs = [(int(a), int(b)) for a, b in zip(edges[::2], edges[1::2])]
    return [even[a:b] for a, b in runs if b - a > 1]


def inside(points: NDArray[np.float64], outline: NDArray[np.float64]) -> NDArray[np.bool_]:
    """Which points (N, 2) lie inside a closed outline (M, 2), by counting crossings."""
    x, y = points[:, 0][:, None], points[:, 1][:, None]
    x1, y1 = outline.T
    x2, y2 = np.roll(outline, -1, axis=0).T
    spans = (y1 > y) != (y2 > y)
    with np.errstate(divide="ignore", invalid="ignore"):
        crossing = x < (x2 - x1) * (y - y1) / (y2 - y1) + x1
    odd: NDArray[np.bool_] = (np.count_nonzero(spans & crossing, axis=1) % 2).astype(bool)
    return odd


def distance_to(samples: Samples, place: tuple[float, float]) -> float:
    """Shortest distance in px from a place to the line."""
    points = samples[:, :2].astype(np.float64)
    target = np.array(place)
    if len(points) == 1:
        return float(np.hypot(*(points[0] - target)))
    a, along = points[:-1], np.diff(points, axis=0)
    length = np.maximum((along**2).sum(axis=1), 1e-12)
    t = np.clip(((target - a) * along).sum(axis=1) / length, 0, 1)
    return float(np.hypot(*(a + along * t[:, None] - target).T).min())
