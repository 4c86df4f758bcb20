"""A stroke as a filled outline, for formats that hold lines."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.ink.path import Nib, dabs


def outline(samples: NDArray[np.float32], nib: Nib) -> NDArray[np.float64]:
    """Closed outline (M, 2) of a stroke in page px: its left side out, a round end, its right side back, a round end."""
    along = dabs(samples, nib.size, nib.thin)
    spaced = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(along[:, :2], axis=0).T))])
    moving = np.concatenate([[True], np.diff(spaced) > 1e-9])
    along, spaced = along[moving], spaced[moving]
    radius = nib.size / 2 * (nib.thin + (1 - nib.thin) * along[:, 2])
    if len(along) < 2:
        turn = np.linspace(0, 2 * np.pi, 24, endpoint=False)
        ring: NDArray[np.float64] = along[0, :2] + radius[0] * np.stack([np.cos(turn), np.sin(turn)], axis=1)
        return ring
    keep = np.unique(np.searchsorted(spaced, np.arange(0, spaced[-1], max(1.0, nib.size / 2))))
    keep = np.unique(np.append(keep[keep < len(along)], len(along) - 1))
    centre, radius = along[keep, :2], radius[keep]
    forward = np.gradient(centre, axis=0)
    forward /= np.maximum(np.linalg.norm(forward, axis=1), 1e-12)[:, None]
    side = np.stack([-forward[:, 1], forward[:, 0]], axis=1) * radius[:, None]
    return np.concatenate(
        [
            centre + side,
            _cap(centre[-1], side[-1]),
            (centre - side)[::-1],
            _cap(centre[0], -side[0]),
        ]
    )


def _cap(centre: NDArray[np.float64], side: NDArray[np.float64]) -> NDArray[np.float64]:
    """Half a turn from the side given to the opposite one."""
    turn = -np.linspace(0, np.pi, 8)[1:-1]
    c, s = np.cos(turn), np.sin(turn)
    points: NDArray[np.float64] = centre + np.stack([side[0] * c - side[1] * s, side[0] * s + side[1] * c], axis=1)
    return points
