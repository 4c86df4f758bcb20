"""Directions that somebody gives."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.errors import HollowMarbleError


def unit(way: NDArray[np.float64], otherwise: str) -> NDArray[np.float64]:
    """A direction (3,) made 1 long.

    Raises
    ------
    HollowMarbleError
        with the sentence `otherwise`, where it has no length.
    """
    size = float(np.linalg.norm(way))
    if not size > 1e-9:
        raise HollowMarbleError(otherwise)
    return np.asarray(way / size)
