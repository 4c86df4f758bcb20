"""Shapes that sets are built of. Lengths mm; the product stands on z = 0 with its middle at x = y = 0, -y is the front."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.paths import lengths

Floats = NDArray[np.float64]

WALL_HEIGHT = 1_800.0
EDGE = 1.2
"""Radius of the rounded edges of blocks and columns, mm: no edge in a workshop is sharper, and it is what catches the light."""


@dataclass(frozen=True)
class Gradient:
    """A card whose colour runs from one at its top to one at its foot, #rrggbb."""

    top: str
    bottom: str


@dataclass(frozen=True)
class Pictured:
    """A card with a picture on it, by its SHA-256, so many times as bright as white paper shows it."""

    picture: str
    brightness: float


@dataclass(frozen=True, eq=False)
class Piece:
    """points, normals (N, 3), triangles (T, 3), texture (N, 2) mm (0 to 1 where it carries a picture or a gradient).

    dress : what it is finished in, as its maker told it: the colour of paper (#rrggbb), a `Gradient`, a `Pictured`, or a finish
    ground : whether it is what the product stands on, or behind it, as one; shadows on it are the set's shadows
    """

    points: Floats
    normals: Floats
    triangles: NDArray[np.int64]
    texture: Floats
    dress: Any
    ground: bool = False

    def moved(self, by: tuple[float, float, float]) -> Piece:
        """The same elsewhere."""
        return replace(self, points=self.points + np.array(by))


def outline(depth: float, cove: float, front: float, height: float) -> Floats:
    """(N, 4): y and z in mm and the unit normal's y and z along a sweep seen from its side.

    The floor is z = 0 from y = -front to the cove, the wall stands at y = depth up to `height`; `cove` is the radius
    between them, smaller where there is no room.
    """
    radius = min(cove, depth, height)
    turn = np.linspace(0, math.pi / 2, 25)
    around = [depth - radius + radius * np.sin(turn), radius - radius * np.cos(turn), -np.sin(turn), np.cos(turn)]
    return np.vstack([[-front, 0.0, 0.0, 1.0], np.stack(around, axis=1), [depth, height, -1.0, 0.0]])


def sweep(size: tuple[float, float], depth: float, cove: float, front: float, dress: Any) -> Piece:
    """A seamless sweep of paper, so wide and so tall."""
    width, tall = size
    side = outline(depth, cove, front, tall)
    count = len(side)
    across = np.repeat([[-width / 2], [width / 2]], count, axis=0)
    points = np.hstack([across, np.tile(side[:, :2], (2, 1))])
    normals = np.hstack([np.zeros_like(across), np.tile(side[:, 2:], (2, 1))])
    low = np.arange(count - 1)
    a, b, c, d = low, low + count, low + 1 + count, low + 1
    triangles = np.concatenate([np.stack([a, b, c], 1), np.stack([a, c, d], 1)])
    along = lengths(side[:, :2])
    texture = np.stack([across[:, 0], np.tile(along, 2)], axis=1)
    return Piece(points, normals, triangles, texture, dress, True)


def _quad(corner: Floats, a: Floats, b: Floats, dress: Any, *, unit: bool = False, ground: bool = False) -> Piece:
    """A flat parallelogram; it faces along a x b."""
    points = np.array([corner, corner + a, corner + a + b, corner + b])
    normal = np.cross(a, b)
    normal /= np.linalg.norm(normal)
    across, up = (1.0, 1.0) if unit else (float(np.linalg.norm(a)), float(np.linalg.norm(b)))
    texture = np.array([[0, 0], [across, 0], [across, up], [0, up]])
    return Piece(points, np.tile(normal, (4, 1)), np.array([[0, 1, 2], [0, 2, 3]]), texture, dress, ground)


def floor(width: float, depth: float, front: float, dress: Any) -> Piece:
    """A level floor from in front of the camera to so far behind the product."""
    return _quad(
        np.array([-width / 2, -front, 0.0]),
        np.array([width, 0, 0.0]),
        np.array([0, front + depth, 0.0]),
        dress,
        ground=True,
    )


def card(width: float, tall: float, colours: tuple[str, str]) -> Piece:
    """An upright card that faces the front, its colour running from its top to its foot."""
    dress: Any = colours[0] if colours[0] == colours[1] else Gradient(*colours)
    return _quad(
        np.array([-width / 2, 0, 0.0]), np.array([width, 0, 0.0]), np.array([0, 0, tall]), dress, unit=True, ground=True
    )


def picture_wall(width: float, tall: float, picture: str, brightness: float) -> Piece:
    """An upright picture that faces the front."""
    return _quad(
        np.array([-width / 2, 0, 0.0]),
        np.array([width, 0, 0.0]),
        np.array([0, 0, tall]),
        Pictured(picture, brightness),
        unit=True,
    )


def block(size: tuple[float, float, float], dress: Any) -> Piece:
    """A block with rounded edges whose top is z = 0."""
    w, d, h = size
    corners = _rounded(w / 2, d / 2, EDGE, 6)
    return _solid(corners, h, dress)


def column(across: float, tall: float, dress: Any) -> Piece:
    """A round column with rounded edges whose top is z = 0."""
    turn = 2 * np.pi * np.arange(96) / 96
    return _solid(np.stack([np.cos(turn), np.sin(turn)], axis=1) * across / 2, tall, dress)


def _rounded(w: float, d: float, radius: float, steps: int) -> Floats:
    turn = np.linspace(0, np.pi / 2, steps)
    rounds = []
    for k, (x, y) in enumerate(((1, 1), (-1, 1), (-1, -1), (1, -1))):
        at = turn + k * np.pi / 2
        rounds.append(
            np.stack([x * (w - radius) + radius * np.cos(at), y * (d - radius) + radius * np.sin(at)], axis=1)
        )
    return np.vstack(rounds)


def _solid(rim: Floats, tall: float, dress: Any) -> Piece:
    """A body of an outline (N, 2), counter-clockwise, with its upper edge rounded; top at z = 0."""
    count = len(rim)
    ahead, behind = np.roll(rim, -1, axis=0), np.roll(rim, 1, axis=0)
    out = np.stack([(ahead - behind)[:, 1], -(ahead - behind)[:, 0]], axis=1)
    out /= np.maximum(np.linalg.norm(out, axis=1, keepdims=True), 1e-12)
    radius = min(EDGE, tall / 2)
    turn = np.linspace(0, np.pi / 2, 7)
    rows, normals = [], []
    around = lengths(rim)
    texture = []
    for level, (t, z) in enumerate(
        [(np.pi / 2, -tall), *[(np.pi / 2 - a, -radius + radius * math.sin(a)) for a in turn]]
    ):
        inward = radius * (1 - math.sin(t)) if level else 0.0
        rows.append(np.column_stack([rim - out * inward, np.full(count, z)]))
        normals.append(np.column_stack([out * math.sin(t), np.full(count, math.cos(t))]))
        texture.append(np.column_stack([around, np.full(count, z)]))
    k = np.arange(count)
    after = (k + 1) % count
    triangles = []
    for row in range(len(rows) - 1):
        a, b, c, d = row * count + k, row * count + after, (row + 1) * count + after, (row + 1) * count + k
        triangles += [np.stack([a, b, c], 1), np.stack([a, c, d], 1)]
    lid = len(rows) * count
    top = rows[-1] * (1, 1, 0)
    rows.append(np.vstack([top, top.mean(axis=0)]))
    normals.append(np.tile([0.0, 0.0, 1.0], (count + 1, 1)))
    texture.append(rows[-1][:, :2])
    triangles.append(np.stack([lid + k, lid + after, np.full(count, lid + count)], 1))
    return Piece(np.vstack(rows), np.vstack(normals), np.concatenate(triangles), np.vstack(texture), dress, True)


def corner(depth: float, beside: float, front: float, board: Any, wall: Any) -> list[Piece]:
    """A board with a wall behind and one beside it, to the right where `beside` is more than nothing."""
    far = 3_000.0
    left, right = (-far, beside) if beside > 0 else (beside, far)
    up = np.array([0.0, 0.0, WALL_HEIGHT])
    wide, deep = np.array([right - left, 0, 0.0]), np.array([0, front + depth, 0.0])
    shelf = _quad(np.array([left, -front, 0.0]), wide, deep, board, ground=True)
    back = _quad(np.array([left, depth, 0.0]), wide, up, wall, ground=True)
    x = right if beside > 0 else left
    side = (
        _quad(np.array([x, depth, 0.0]), -deep, up, wall, ground=True)
        if beside > 0
        else _quad(np.array([x, -front, 0.0]), deep, up, wall, ground=True)
    )
    return [shelf, back, side]
