"""Places along a line of straight pieces, by its length."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray


def lengths(path: NDArray[np.float64]) -> NDArray[np.float64]:
    """Length of a path (n, k) from its beginning to each of its points, (n,)."""
    return np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(path, axis=0), axis=1))])


def at_shares(path: NDArray[np.float64], shares: NDArray[np.float64]) -> NDArray[np.float64]:
    """Places on a path (n, k) at shares (m,) of its length, (m, k)."""
    along = lengths(path)
    return np.column_stack([np.interp(shares * along[-1], along, path[:, axis]) for axis in range(path.shape[1])])


def evenly(path: NDArray[np.float64], count: int) -> NDArray[np.float64]:
    """As many places evenly along a path (n, k), its ends among them."""
    return at_shares(path, np.linspace(0, 1, count))
