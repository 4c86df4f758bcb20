"""Drawings that tests of curves and solids have in common."""

from __future__ import annotations

import numpy as np

from hollow_marble.core.curves.drawing import Drawing, Piece
from hollow_marble.core.curves.planes import UPRIGHT, Drawn, Plane
from hollow_marble.core.curves.segments import Array

UP = (np.zeros(2), np.array([0.0, 1.0]))
"""An axis through the origin, upright in its plane."""


def outline(points: list[tuple[float, float]], closed: bool = True, rounds: dict[int, float] | None = None) -> Drawing:
    """Straight lines from point to point."""
    count = len(points)
    pieces = tuple(Piece(f"l{k}", "line", (k, (k + 1) % count)) for k in range(count if closed else count - 1))
    return Drawing(np.array(points, float), pieces, rounds or {})


def rectangle(
    wide: float, high: float, at: tuple[float, float] = (0, 0), rounds: dict[int, float] | None = None
) -> Drawing:
    x, y = at
    return outline([(x, y), (x + wide, y), (x + wide, y + high), (x, y + high)], rounds=rounds)


def circle(radius: float, at: tuple[float, float] = (0, 0)) -> Drawing:
    return Drawing(np.array([at], float), (Piece("c", "circle", (0,), radius),))


def through(points: list[tuple[float, float]]) -> Drawing:
    return Drawing(np.array(points, float), (Piece("s", "through", tuple(range(len(points)))),))


def drawn(drawing: Drawing, plane: Plane | str = "front", name: str = "The profile") -> Drawn:
    return Drawn(name, tuple(drawing.chains()), UPRIGHT[plane] if isinstance(plane, str) else plane)


def lifted(distance: float, plane: str = "top") -> Plane:
    return UPRIGHT[plane].lifted(distance)


def close_to(found: Array, due: Array, within: float) -> bool:
    return bool(np.abs(np.asarray(found) - due).max() < within)
