"""First cages: the shapes a form begins with."""

from __future__ import annotations

import itertools

import numpy as np

from hollow_marble.core.cage.mesh import Cage, cage_from_faces
from hollow_marble.core.errors import HollowMarbleError

MOST_DIVISIONS = 40


def box(size: tuple[float, float, float], divisions: tuple[int, int, int]) -> Cage:
    """A closed box about the origin.

    Parameters
    ----------
    size : width, depth, height in mm (x, y, z)
    divisions : faces along each direction

    Examples
    --------
    >>> box((62, 34, 108), (2, 1, 3)).face_count
    22
    """
    if min(size) <= 0 or not np.isfinite(size).all():
        raise HollowMarbleError("A box needs a width, depth and height above 0 mm.")
    if min(divisions) < 1 or max(divisions) > MOST_DIVISIONS:
        raise HollowMarbleError(f"A box takes 1 to {MOST_DIVISIONS} divisions in each direction.")
    number: dict[tuple[int, int, int], int] = {}
    points: list[list[float]] = []

    def point(cell: tuple[int, int, int]) -> int:
        if cell not in number:
            number[cell] = len(points)
            # symmetric to the last bit: the same magnitudes on both sides of the middle
            points.append([(2 * c - n) / (2 * n) * s for c, n, s in zip(cell, divisions, size)])
        return number[cell]

    faces: list[list[int]] = []
    for axis in range(3):
        u, v = (axis + 1) % 3, (axis + 2) % 3
        for end, i, j in itertools.product((0, divisions[axis]), range(divisions[u]), range(divisions[v])):
            corners = []
            for du, dv in ((0, 0), (1, 0), (1, 1), (0, 1)):
                cell = [0, 0, 0]
                cell[axis], cell[u], cell[v] = end, i + du, j + dv
                corners.append(point((cell[0], cell[1], cell[2])))
            faces.append(corners if end else corners[::-1])
    return cage_from_faces(np.array(points), faces)


def grid(size: tuple[float, float], divisions: tuple[int, int]) -> Cage:
    """An open sheet in the plane z = 0 about the origin; size in mm along x and y."""
    columns, rows = divisions
    xs = np.linspace(-size[0] / 2, size[0] / 2, columns + 1)
    ys = np.linspace(-size[1] / 2, size[1] / 2, rows + 1)
    points = np.array([[x, y, 0.0] for y in ys for x in xs])
    faces = [
        [j * (columns + 1) + i, j * (columns + 1) + i + 1, (j + 1) * (columns + 1) + i + 1, (j + 1) * (columns + 1) + i]
        for j in range(rows)
        for i in range(columns)
    ]
    return cage_from_faces(points, faces)


def ring(radius: float, tube_radius: float, around: int, section: int) -> Cage:
    """A torus cage about the z axis whose points lie on the torus; radii in mm."""
    a = np.arange(around) * 2 * np.pi / around
    b = np.arange(section) * 2 * np.pi / section
    out = radius + tube_radius * np.cos(b)
    points = np.stack(
        [
            np.outer(np.cos(a), out),
            np.outer(np.sin(a), out),
            np.broadcast_to(tube_radius * np.sin(b), (around, section)),
        ],
        axis=-1,
    ).reshape(-1, 3)
    faces = [
        [
            i * section + j,
            (i + 1) % around * section + j,
            (i + 1) % around * section + (j + 1) % section,
            i * section + (j + 1) % section,
        ]
        for i in range(around)
        for j in range(section)
    ]
    return cage_from_faces(points, faces)
