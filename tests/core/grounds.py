"""Surfaces whose every place is known by a formula, for details to lie on; and what is asked of meshes of details."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from hollow_marble.core.bodies.cage_body import CageBody, cage_body
from hollow_marble.core.cage.mesh import Cage
from hollow_marble.core.detail.ground import Floats, Ground, Ints
from hollow_marble.core.shelf import Shelf
from hollow_marble.core.surface.probed import Probed

Place = Callable[[Floats], tuple[Floats, Floats]]


def _net(wide: int, tall: int, place: Place, round_u: bool, closed: bool) -> Ground:
    """A net of (u, v) in 0 to 1; `place` tells points and normals at (K, 2)."""
    u, v = np.meshgrid(np.linspace(0, 1, wide + 1), np.linspace(0, 1, tall + 1), indexing="ij")
    at = np.stack([u.ravel(), v.ravel()], axis=1)
    k = (np.arange(wide)[:, None] * (tall + 1) + np.arange(tall)).ravel()
    up, on = k + 1, k + tall + 1
    triangles = np.concatenate([np.stack([k, on, on + 1], 1), np.stack([k, on + 1, up], 1)])
    points, normals = place(at)
    number = np.arange(len(at))
    if round_u:
        number[-(tall + 1) :] = number[: tall + 1]
    _, joined = np.unique(number, return_inverse=True)
    count = len(triangles)
    nothing = np.zeros(len(points), bool)
    probed = Probed(
        points, normals, triangles, np.zeros(count, np.int64), np.array([1], np.uint64), np.empty((0, 2), np.int64),
        joined, None, nothing, 0.0, closed,
    )  # fmt: skip

    def placed(triangle: Ints, shares: Floats) -> tuple[Floats, Floats]:
        return place(np.einsum("kc,kcj->kj", shares, at[triangles[triangle]]))

    return Ground(probed, placed)


def cylinder(radius: float = 20.0, tall: float = 60.0) -> Ground:
    """Open at both ends, about the upright, from -tall/2 to tall/2."""

    def place(at: Floats) -> tuple[Floats, Floats]:
        t = 2 * np.pi * at[:, 0]
        normals = np.stack([np.cos(t), np.sin(t), 0 * t], axis=1)
        return radius * normals + np.stack([0 * t, 0 * t, tall * (at[:, 1] - 0.5)], axis=1), normals

    return _net(60, 24, place, True, False)


def sphere(radius: float = 30.0) -> Ground:
    """Without two caps of 0.2 radians about its poles, which no line here comes near."""

    def place(at: Floats) -> tuple[Floats, Floats]:
        t, h = 2 * np.pi * at[:, 0], (at[:, 1] - 0.5) * (np.pi - 0.4)
        normals = np.stack([np.cos(h) * np.cos(t), np.cos(h) * np.sin(t), np.sin(h)], axis=1)
        return radius * normals, normals

    return _net(72, 36, place, True, False)


def torus(ring: float = 15.0, tube: float = 1.0) -> Ground:
    """Both radii, mm; about the upright."""

    def place(at: Floats) -> tuple[Floats, Floats]:
        t, h = 2 * np.pi * at.T
        normals = np.stack([np.cos(h) * np.cos(t), np.cos(h) * np.sin(t), np.sin(h)], axis=1)
        return ring * np.stack([np.cos(t), np.sin(t), 0 * t], axis=1) + tube * normals, normals

    return _net(120, 24, place, True, False)


def sculpted(cage: Cage, level: int = 3) -> CageBody:
    """A cage as a body."""
    return cage_body("a", cage, "a", level, Shelf(100_000_000))


def sides(corners: Ints) -> tuple[Ints, Ints]:
    """Directed sides of triangles as numbers, and the same the other way, sorted."""
    ends = np.stack([corners, np.roll(corners, -1, axis=1)], axis=2).reshape(-1, 2)
    count = int(corners.max()) + 1
    return np.sort(ends @ [count, 1]), np.sort(ends @ [1, count])


def is_watertight(corners: Ints) -> bool:
    """Whether every side has two triangles, one each way."""
    one, other = sides(corners)
    return bool((np.diff(one) > 0).all() and np.array_equal(one, other))


def volume(points: Floats, corners: Ints) -> float:
    """Enclosed by triangles, mm³ (Gauss)."""
    a, b, c = points[corners].transpose(1, 0, 2)
    return float((a * np.cross(b, c)).sum() / 6)
