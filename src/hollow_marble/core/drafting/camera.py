"""A drawn perspective as a camera: principal point, focal length in px, and three angles.

The camera at rest looks at the front, along +y. `turn` carries the eye to the product's right, `tilt` raises it, `roll` turns
the page. Rows of its rotation are right, down and forward. A direction e has the vanishing point K R e; those of three
directions at right angles form a triangle whose orthocentre is the principal point (Caprile & Torre 1990).
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property
from itertools import product

import numpy as np
from numpy.typing import NDArray
from scipy.spatial.transform import Rotation

from hollow_marble.core.errors import HollowMarbleError

Array = NDArray[np.float64]

REST = np.array([[1.0, 0, 0], [0, 0, -1], [0, 1, 0]])
"""Right, down and forward of the camera at rest."""

NO_VIEW = (
    "Three vanishing points belong to a real view only while the triangle between them is acute. "
    "Drag the point farther out."
)
NO_PAIR = "The two vanishing points must lie on both sides of the middle of the view. Drag the point farther out."


@dataclass(frozen=True)
class Camera:
    """Principal point and focal length in px of the page; turn, tilt and roll in radians."""

    principal: tuple[float, float]
    focal: float
    turn: float
    tilt: float
    roll: float = 0.0

    @cached_property
    def rotation(self) -> Array:
        """(3, 3): rows right, down, forward in space."""
        right, down, forward = REST @ Rotation.from_euler("z", -self.turn).as_matrix()
        sunk = np.cos(self.tilt) * forward + np.sin(self.tilt) * down
        low = np.cos(self.tilt) * down - np.sin(self.tilt) * forward
        c, s = np.cos(self.roll), np.sin(self.roll)
        return np.array([c * right - s * low, s * right + c * low, sunk])

    def project(self, points: Array) -> Array:
        """Places (N, 2) on the page of points (N, 3) relative to the eye, mm. Points must lie in front of the eye."""
        seen = points @ self.rotation.T
        if (seen[:, 2] <= 1e-9).any():
            raise HollowMarbleError("Part of that lies behind the eye. Move it farther away.")
        return np.asarray(self.principal) + self.focal * seen[:, :2] / seen[:, 2:]

    def ray(self, place: tuple[float, float]) -> Array:
        """Direction (3,) in space of a place on the page, with depth 1."""
        x, y = (np.asarray(place) - self.principal) / self.focal
        return np.array([x, y, 1.0]) @ self.rotation

    def vanishing(self) -> Array:
        """(3, 3): homogeneous vanishing points of width, depth and height, a row each; the last number is 0 at infinity."""
        seen = self.rotation.T  # row k: how direction k lies in the camera
        found = np.column_stack([self.focal * seen[:, :2] + np.outer(seen[:, 2], self.principal), seen[:, 2]])
        found[np.abs(found[:, 2]) < 1e-6, 2] = 0.0
        return found

    def horizon(self) -> Array:
        """Line (3,) a x + b y + c = 0, a² + b² = 1: where level directions vanish."""
        up = self.rotation[:, 2]
        line = np.array([up[0], up[1], self.focal * up[2] - up[:2] @ self.principal])
        return np.asarray(line / np.hypot(line[0], line[1]))


def from_rotation(principal: tuple[float, float], focal: float, rotation: Array) -> Camera:
    """A camera whose rows right, down, forward are given."""
    forward = rotation[2]
    tilt = float(np.arcsin(np.clip(-forward[2], -1, 1)))
    turn = float(np.arctan2(-forward[0], forward[1]))
    level = Camera(principal, focal, turn, tilt).rotation
    roll = float(np.arctan2(rotation[1] @ level[0], rotation[0] @ level[0]))
    return Camera(principal, focal, turn, tilt, roll)


def dragged(camera: Camera, count: int, which: int, to: tuple[float, float]) -> Camera:
    """The camera after the vanishing point of direction `which` (0 width, 1 depth, 2 height) was dragged.

    count : how many of the view's vanishing points are finite: 1, 2 or 3. The others stay where they are.
    """
    if count == 1:
        return replace(camera, principal=to)
    points = camera.vanishing()
    places = {k: points[k, :2] / points[k, 2] for k in range(3) if points[k, 2]}
    places[which] = np.asarray(to, float)
    if count == 2:
        return _from_pair(camera, places[0], places[1])
    return _from_three(camera, [places[0], places[1], places[2]])


def _from_pair(camera: Camera, first: Array, second: Array) -> Camera:
    """Two points on the horizon; the middle of the view slides along with it."""
    along = second - first
    length = float(np.hypot(*along))
    if length < 1:
        raise HollowMarbleError(NO_PAIR)
    along = along / length
    share = float((np.asarray(camera.principal) - first) @ along)
    if not 0.02 * length < share < 0.98 * length:
        raise HollowMarbleError(NO_PAIR)
    middle = first + share * along
    focal = float(np.sqrt(share * (length - share)))
    return _settled(camera, middle, focal, [first, second])


def _from_three(camera: Camera, places: list[Array]) -> Camera:
    a, b, c = places
    for p, q, r in ((a, b, c), (b, c, a), (c, a, b)):
        if (q - p) @ (r - p) <= 1e-6 * np.hypot(*(q - p)) * np.hypot(*(r - p)):
            raise HollowMarbleError(NO_VIEW)
    # orthocentre: the altitudes through a and b
    middle = np.linalg.solve(np.array([b - c, c - a]), np.array([(b - c) @ a, (c - a) @ b]))
    focal = float(np.sqrt(-(a - middle) @ (b - middle)))
    return _settled(camera, middle, focal, places)


def _settled(camera: Camera, middle: Array, focal: float, places: list[Array]) -> Camera:
    """The camera with these vanishing points that lies nearest to the one before: each may be of a direction or its opposite."""
    ways = [np.append(place - middle, focal) for place in places]
    ways = [way / np.linalg.norm(way) for way in ways]
    best, least = camera.rotation, np.inf
    for signs in product((1, -1), repeat=2):
        x, y = signs[0] * ways[0], signs[1] * ways[1]
        rotation = np.column_stack([x, y, np.cross(x, y)])
        away = float(np.abs(rotation - camera.rotation).sum())
        if away < least:
            best, least = rotation, away
    return from_rotation((float(middle[0]), float(middle[1])), focal, best)


def preset(count: int, width: float, height: float) -> Camera:
    """A view to begin with on a page or a frame of this size, its middle in the middle."""
    angles = {1: (0.0, 0.0), 2: (0.6, 0.0), 3: (0.62, 0.34)}[count]
    return Camera((width / 2, height / 2), 1.35 * max(width, height), *angles)


def grid(
    camera: Camera, rect: tuple[float, float, float, float], each: int = 9
) -> list[list[list[tuple[float, float]]]]:
    """Lines of each direction within a rectangle of the page, evenly spread: per direction, a list of two ends."""
    corners = np.array([[x, y] for x in rect[::2] for y in rect[1::2]], float)
    found = []
    for point in camera.vanishing():
        if point[2]:
            place = point[:2] / point[2]
            runs = [(place, np.array([np.cos(t), np.sin(t)])) for t in _angles(place, corners, rect, each)]
        else:
            along = point[:2] / np.hypot(*point[:2])
            across = np.array([-along[1], along[0]])
            low, high = np.sort(corners @ across)[[0, -1]]
            levels = low + (high - low) * (np.arange(each) + 0.5) / each
            runs = [(across * level, along) for level in levels]
        found.append([line for line in (cut(start, along, rect) for start, along in runs) if line])
    return found


def _angles(place: Array, corners: Array, rect: tuple[float, float, float, float], each: int) -> Array:
    """Directions from a place that fan out over a rectangle; all around where the place lies in it."""
    if rect[0] <= place[0] <= rect[2] and rect[1] <= place[1] <= rect[3]:
        return np.asarray(np.pi * (np.arange(each) + 0.5) / each)
    away = corners.mean(axis=0) - place
    facing = np.arctan2(away[1], away[0])
    off = corners - place
    turns = np.angle(np.exp(1j * (np.arctan2(off[:, 1], off[:, 0]) - facing)))
    return np.asarray(facing + turns.min() + np.ptp(turns) * (np.arange(each) + 0.5) / each)


def cut(start: Array, along: Array, rect: tuple[float, float, float, float]) -> list[tuple[float, float]] | None:
    """The piece of an endless line within a rectangle (Liang–Barsky); None where it misses."""
    low, high = -np.inf, np.inf
    for k in range(2):
        if abs(along[k]) < 1e-12:
            if not rect[k] <= start[k] <= rect[k + 2]:
                return None
            continue
        a, b = (rect[k] - start[k]) / along[k], (rect[k + 2] - start[k]) / along[k]
        low, high = max(low, min(a, b)), min(high, max(a, b))
    if low >= high:
        return None
    ends = start + low * along, start + high * along
    return [(float(end[0]), float(end[1])) for end in ends]
