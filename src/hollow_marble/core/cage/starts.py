"""First cages: the shapes a form begins with."""

from __future__ import annotations

import itertools

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.cage.mesh import Cage, cage_from_faces, faces_of
from hollow_marble.core.errors import HollowMarbleError

MOST_DIVISIONS = 40
MOST_SIDES = 128


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
    _check_size((*size, 1.0))
    for count in divisions:
        check_count("A grid", count, 1, MOST_DIVISIONS)
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
    if not 0 < tube_radius < radius or radius > 1e5:
        raise HollowMarbleError("The tube of a ring must be thinner than the ring is wide. Make its radius smaller.")
    check_count("A ring", around, 3, MOST_SIDES)
    check_count("A ring", section, 3, MOST_SIDES)
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


def sphere(size: tuple[float, float, float], divisions: int) -> Cage:
    """A closed ellipsoid of quads about the origin: a box whose points are carried out on to it, evenly by angle.

    Parameters
    ----------
    size : width, depth, height in mm
    divisions : faces along each side of the box, so 6 n² faces
    """
    _check_size(size)
    check_count("A sphere", divisions, 1, MOST_DIVISIONS)
    start = box((2.0, 2.0, 2.0), (divisions, divisions, divisions))
    bent = np.tan(start.points * np.pi / 4)
    out = bent / np.linalg.norm(bent, axis=1, keepdims=True)
    return cage_from_faces(out * np.array(size) / 2, faces_of(start))


def cylinder(size: tuple[float, float, float], sides: int, rows: int) -> Cage:
    """A closed upright cylinder about the origin; its two ends are faces of as many corners as it has sides."""
    _check_size(size)
    check_count("A cylinder", sides, 3, MOST_SIDES)
    check_count("A cylinder", rows, 1, MOST_DIVISIONS)
    rim = circle(sides) * (size[0] / 2, size[1] / 2)
    heights = np.linspace(-size[2] / 2, size[2] / 2, rows + 1)
    points = np.array([[x, y, z] for z in heights for x, y in rim])
    faces = bands(sides, rows)
    faces += [list(range(sides))[::-1], [rows * sides + k for k in range(sides)]]
    return cage_from_faces(points, faces)


def disc(size: tuple[float, float], sides: int, rings: int) -> Cage:
    """An open disc in the plane z = 0: rings of quads about a middle face of as many corners as it has sides."""
    _check_size((*size, 1.0))
    check_count("A disc", sides, 3, MOST_SIDES)
    check_count("A disc", rings, 1, MOST_DIVISIONS)
    rim = circle(sides) * (size[0] / 2, size[1] / 2)
    shares = np.linspace(1 / (rings + 1), 1, rings + 1)
    points = np.array([[x * share, y * share, 0.0] for share in shares for x, y in rim])
    return cage_from_faces(points, [*bands(sides, rings, outward=True), list(range(sides))])


def tube(size: tuple[float, float, float], wall: float | tuple[float, float], sides: int, rows: int) -> Cage:
    """A closed upright tube about the origin, `wall` mm thick (along x and y where two are given), open through its middle."""
    _check_size(size)
    check_count("A tube", sides, 3, MOST_SIDES)
    check_count("A tube", rows, 1, MOST_DIVISIONS)
    along_x, along_y = wall if isinstance(wall, tuple) else (wall, wall)
    if not (0 < along_x < size[0] / 2 and 0 < along_y < size[1] / 2):
        raise HollowMarbleError("The wall of a tube must be thinner than half of its width and depth. Make it thinner.")
    rim = circle(sides)
    outer = rim * (size[0] / 2, size[1] / 2)
    inner = rim * (size[0] / 2 - along_x, size[1] / 2 - along_y)
    heights = np.linspace(-size[2] / 2, size[2] / 2, rows + 1)
    # round the section: up outside, down inside
    section = [(outer, z) for z in heights] + [(inner, z) for z in heights[::-1]]
    points = np.array([[x, y, z] for ring_, z in section for x, y in ring_])
    count = len(section)
    faces = [
        [
            a * sides + k,
            a * sides + (k + 1) % sides,
            (a + 1) % count * sides + (k + 1) % sides,
            (a + 1) % count * sides + k,
        ]
        for a in range(count)
        for k in range(sides)
    ]
    return cage_from_faces(points, faces)


def circle(sides: int) -> NDArray[np.float64]:
    """(sides, 2) on the unit circle, the same to the last bit on both sides of x = 0 where the count is even."""
    angle = (np.arange(sides) + 0.5) * 2 * np.pi / sides
    x, y = np.cos(angle), np.sin(angle)
    if sides % 2 == 0:
        other = (sides // 2 - 1 - np.arange(sides)) % sides
        x = (x - x[other]) / 2
        y = (y + y[other]) / 2
    return np.column_stack([x, y])


def bands(sides: int, rows: int, outward: bool = False) -> list[list[int]]:
    """Quads between rows of points that run round; counter-clockwise from outside, or from above where they go outward."""
    faces = []
    for row in range(rows):
        for k in range(sides):
            a, b = row * sides + k, row * sides + (k + 1) % sides
            quad = [a, b, b + sides, a + sides]
            faces.append(quad[::-1] if outward else quad)
    return faces


def _check_size(size: tuple[float, ...]) -> None:
    if min(size) <= 0 or not np.isfinite(size).all() or max(size) > 1e5:
        raise HollowMarbleError("Width, depth and height must be above 0 mm.")


def check_count(what: str, count: int, least: int, most: int) -> None:
    if not least <= count <= most:
        raise HollowMarbleError(f"{what} takes {least} to {most} of them. Choose a number in between.")
