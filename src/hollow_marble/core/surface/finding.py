"""What a probe says is wrong."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

Place = tuple[float, float, float]
Which = Literal["soundness", "continuity", "draft", "wall"]


@dataclass(frozen=True)
class Finding:
    """One thing that is wrong: by which probe, what, where (mm), how much against which tolerance, and a plain sentence.

    key : names it as long as the faces it lies on are made by the same recipe; beyond : past its tolerance, and not only near it
    """

    probe: Which
    kind: str
    place: Place
    amount: float
    tolerance: float
    unit: str
    sentence: str
    key: str = ""
    beyond: bool = True


def at_place(place: NDArray[np.floating]) -> Place:
    """A place as plain numbers."""
    x, y, z = (float(value) for value in place)
    return (x, y, z)
