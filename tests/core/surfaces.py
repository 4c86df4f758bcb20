"""Surfaces given by formulas, as probes read them: patches of points with derivatives."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np

from hollow_marble.core.surface.curvature import bends_of
from hollow_marble.core.surface.probed import Probed, normals_of

Place = Callable[[np.ndarray, np.ndarray], np.ndarray]
Range = tuple[float, float]


def derived(place: Place, u: np.ndarray, v: np.ndarray, h: float = 1e-3) -> np.ndarray:
    """Position, u, v, uu, uv, vv (N, 6, 3) by central differences of fourth order."""

    def first(du: float, dv: float) -> np.ndarray:
        at = [place(u + k * du, v + k * dv) for k in (-2, -1, 1, 2)]
        return (at[0] - 8 * at[1] + 8 * at[2] - at[3]) / (12 * h)

    def second(du: float, dv: float) -> np.ndarray:
        at = [place(u + k * du, v + k * dv) for k in (-2, -1, 0, 1, 2)]
        return (-at[0] + 16 * at[1] - 30 * at[2] + 16 * at[3] - at[4]) / (12 * h * h)

    both, less = second(h, h), second(h, -h)
    mixed = (both - less) / 4
    return np.stack([place(u, v), first(h, 0), first(0, h), second(h, 0), mixed, second(0, h)], axis=1)


def patches(
    made: Sequence[tuple[Place, Range, Range]], steps: tuple[int, int] = (24, 24), closed: bool = False
) -> Probed:
    """Patches over ranges of u and v, joined where their points come to lie on one another."""
    wide, tall = steps
    derivatives, triangles, faces, rims = [], [], [], []
    for number, (place, us, vs) in enumerate(made):
        u, v = (a.ravel() for a in np.meshgrid(np.linspace(*us, wide + 1), np.linspace(*vs, tall + 1)))
        derivatives.append(derived(place, u, v))
        first = number * (wide + 1) * (tall + 1)
        at = first + np.arange((wide + 1) * (tall + 1)).reshape(tall + 1, wide + 1)
        a, b, c, d = at[:-1, :-1].ravel(), at[:-1, 1:].ravel(), at[1:, 1:].ravel(), at[1:, :-1].ravel()
        triangles += [np.stack([a, b, c], axis=1), np.stack([a, c, d], axis=1)]
        faces.append(np.full(2 * len(a), number))
        for run in (at[0], at[-1], at[:, 0], at[:, -1]):
            rims.append(np.stack([run[:-1], run[1:]], axis=1))
    exact = np.concatenate(derivatives)
    points = exact[:, 0]
    joined = np.unique(np.round(points, 7) + 0.0, axis=0, return_inverse=True)[1].reshape(-1)
    faces_of = np.concatenate(triangles)
    keep = np.array([len(set(row)) == 3 for row in joined[faces_of].tolist()])
    flat = normals_of(exact, np.zeros_like(points))
    return Probed(
        points,
        flat,
        faces_of[keep],
        np.concatenate(faces)[keep],
        np.arange(1, len(made) + 1).astype(np.uint64),
        np.concatenate(rims),
        joined,
        exact,
        np.isfinite(bends_of(exact).high),
        0.0,
        closed,
    )


def sphere(r: float, steps: tuple[int, int] = (96, 48), middle: tuple[float, float, float] = (0, 0, 0)) -> Probed:
    """A whole one about z; its poles are points where the tangents vanish."""

    def place(u: np.ndarray, v: np.ndarray) -> np.ndarray:
        return np.stack([r * np.cos(v) * np.cos(u), r * np.cos(v) * np.sin(u), r * np.sin(v)], axis=-1) + middle

    made = patches([(place, (0, 2 * np.pi), (-np.pi / 2, np.pi / 2))], steps, closed=True)
    normals = (made.points - middle) / r
    off = r * (1 - np.cos(np.pi / steps[0]) * np.cos(np.pi / 2 / steps[1]))
    return Probed(**{**made.__dict__, "normals": normals, "tolerance": off})


def cylinder(r: float, tall: float, steps: tuple[int, int] = (96, 24)) -> Probed:
    """Open, about z, its outside outside."""
    place = lambda u, v: np.stack([r * np.cos(u), r * np.sin(u), v], axis=-1)  # noqa: E731
    return patches([(place, (0, 2 * np.pi), (-tall / 2, tall / 2))], steps)


def cone(slope: float, low: float, high: float, steps: tuple[int, int] = (96, 24)) -> Probed:
    """Open, about z; its radius falls by `slope` mm a mm of height, from where it would be nought at z = 0."""
    place = lambda u, v: np.stack([-slope * v * np.cos(u), -slope * v * np.sin(u), v], axis=-1)  # noqa: E731
    return patches([(place, (0, 2 * np.pi), (-high, -low))], steps)


def torus(big: float, small: float, steps: tuple[int, int] = (120, 60)) -> Probed:
    def place(u: np.ndarray, v: np.ndarray) -> np.ndarray:
        out = big + small * np.cos(v)
        return np.stack([out * np.cos(u), out * np.sin(u), small * np.sin(v)], axis=-1)

    return patches([(place, (0, 2 * np.pi), (0, 2 * np.pi))], steps, closed=True)
