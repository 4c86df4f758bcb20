"""Cages whose skin has the size that was asked for: a skin lies inside its cage, by as much as the divisions say."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.cage import starts
from hollow_marble.core.cage.mesh import Cage
from hollow_marble.core.cage.skin import evaluate, plan_skin

LEVEL = 3
"""Refinement at which sizes are measured: that of a skin at rest."""

CLOSE = 2e-7
ROUNDS = 6

Values = NDArray[np.float64]


def box(size: Sequence[float], divisions: tuple[int, int, int]) -> Cage:
    """A box (`starts.box`) whose skin is `size` mm wide, deep and high."""
    return _fitted(lambda v: starts.box((v[0], v[1], v[2]), divisions), size, extents)


def sphere(size: Sequence[float], divisions: int) -> Cage:
    """A sphere (`starts.sphere`) whose skin is `size` mm wide, deep and high."""
    return _fitted(lambda v: starts.sphere((v[0], v[1], v[2]), divisions), size, extents)


def cylinder(size: Sequence[float], sides: int, rows: int) -> Cage:
    """A cylinder (`starts.cylinder`) whose skin is `size` mm wide, deep and high."""
    return _fitted(lambda v: starts.cylinder((v[0], v[1], v[2]), sides, rows), size, extents)


def disc(size: Sequence[float], sides: int, rings: int) -> Cage:
    """A disc (`starts.disc`) whose skin is `size` mm wide and deep."""
    return _fitted(lambda v: starts.disc((v[0], v[1]), sides, rings), size, lambda points: extents(points)[:2])


def tube(size: Sequence[float], wall: float, sides: int, rows: int) -> Cage:
    """A tube (`starts.tube`) whose skin is `size` mm wide, deep and high, and `wall` mm thick at half its height."""
    starts.tube((size[0], size[1], size[2]), wall, sides, rows)  # refuses what is no tube

    def measured(points: Values) -> Values:
        own = extents(points)
        return np.array([*own, *(own[:2] - _inside(points)) / 2])

    def make(v: Values) -> Cage:
        return starts.tube((v[0], v[1], v[2]), (v[3], v[4]), sides, rows)

    return _fitted(make, [*size, wall, wall], measured)


def ring(radius: float, thick: float, around: int, section: int) -> Cage:
    """A ring (`starts.ring`) whose skin has these radii in mm: outside, inside and in height."""
    plain = starts.ring(radius, thick, around, section)

    def measured(points: Values) -> Values:
        return np.array([*extents(points), _inside(points)[0]]) * 0.5

    def make(v: Values) -> Cage:
        wide, deep, high, hole = v
        cage = starts.ring((wide + hole) / 2, (wide - hole) / 2, around, section)
        return plain.moved(cage.points * (1.0, deep / wide, 2 * high / (wide - hole)))

    return _fitted(make, [radius + thick, radius + thick, thick, radius - thick], measured)


def extents(points: Values) -> Values:
    """Width, depth and height (3,) of points (N, 3)."""
    size: Values = np.ptp(points, axis=0)
    return size


def _inside(points: Values) -> Values:
    """Width and depth (2,) of the opening about the z axis at half height, of points (N, 3) on both sides of z = 0."""
    level = points[np.abs(points[:, 2]) < 1e-4 * np.ptp(points[:, 2])]
    out = np.hypot(level[:, 0] / np.ptp(level[:, 0]), level[:, 1] / np.ptp(level[:, 1]))
    inside: Values = extents(level[out < (out.min() + out.max()) / 2])[:2]
    return inside


def _fitted(make: Callable[[Values], Cage], wished: Sequence[float], measured: Callable[[Values], Values]) -> Cage:
    """The cage, by Newton's method, whose skin measures what is wished: the skin is linear in the points, so it takes two steps."""
    wish = np.array(wished, float)
    values = wish.copy()
    cage = make(values)
    plan = plan_skin(cage, LEVEL)

    def off(at: Values) -> Values:
        found: Values = measured(evaluate(plan, make(at).points).positions.astype(float)) - wish
        return found

    for _ in range(ROUNDS):
        error = off(values)
        if np.abs(error / wish).max() < CLOSE:
            break
        steps = np.diag(wish * 1e-2)
        slopes = np.column_stack([(off(values + step) - error) / step.max() for step in steps])
        values = values - np.linalg.solve(slopes, error)
    return cage.moved(make(values).points)
