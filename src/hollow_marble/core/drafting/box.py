"""A construction box of the product's proportions set into a perspective, its faces as planes to draw on, circles on them."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.drafting.camera import Camera
from hollow_marble.core.drafting.division import homography
from hollow_marble.core.errors import HollowMarbleError

Array = NDArray[np.float64]
Face = Literal["front", "back", "left", "right", "top", "bottom"]

CORNERS = np.array([[x, y, z] for z in (0.0, 1.0) for y in (0.0, 1.0) for x in (0.0, 1.0)])
"""Corners of the unit box, (8, 3): x runs fastest."""

EDGES = [(a, b) for a in range(8) for b in range(a + 1, 8) if (CORNERS[a] != CORNERS[b]).sum() == 1]
"""The twelve edges as pairs of corners."""

FACES: dict[Face, tuple[int, float]] = {
    "left": (0, 0.0),
    "right": (0, 1.0),
    "front": (1, 0.0),
    "back": (1, 1.0),
    "bottom": (2, 0.0),
    "top": (2, 1.0),
}
"""Axis a face stands across, and at which end of it."""


def face_axes(face: Face) -> tuple[int, int]:
    """The two directions that lie in a face: its first and second coordinate."""
    across = FACES[face][0]
    first, second = (k for k in range(3) if k != across)
    return first, second


@dataclass(frozen=True)
class Placed:
    """A box of W × D × H mm, its base's middle seen at a place of the page, `scale` px a mm there."""

    camera: Camera
    size: tuple[float, float, float]
    at: tuple[float, float]
    scale: float

    @cached_property
    def middle(self) -> Array:
        """(3,) the base's middle relative to the eye, mm."""
        away: Array = self.camera.ray(self.at) * (self.camera.focal / self.scale)
        return away

    def points(self, shares: Array) -> Array:
        """(N, 3) relative to the eye, mm, of shares (N, 3) of the box: 0 left, front, bottom; 1 right, back, top."""
        return np.asarray(self.middle + (shares - (0.5, 0.5, 0.0)) * np.asarray(self.size))

    @cached_property
    def corners(self) -> Array:
        """(8, 2) px."""
        return self.camera.project(self.points(CORNERS))

    @cached_property
    def seen(self) -> dict[Face, bool]:
        """Which faces look at the eye."""
        found = {}
        for face, (axis, end) in FACES.items():
            spot = np.full(3, 0.5)
            spot[axis] = end
            outward = np.zeros(3)
            outward[axis] = 1 if end else -1
            found[face] = bool(self.points(spot[None])[0] @ outward < 0)
        return found

    def hidden_edges(self) -> list[bool]:
        """For each of `EDGES`, whether both faces at it look away."""
        result = []
        for a, b in EDGES:
            faces = [face for face, (axis, end) in FACES.items() if CORNERS[a][axis] == end and CORNERS[b][axis] == end]
            result.append(not any(self.seen[face] for face in faces))
        return result

    def quad(self, face: Face) -> Array:
        """(4, 2) px corners of a face: origin, along its first direction, opposite, along its second."""
        first, second = face_axes(face)
        axis, end = FACES[face]
        shares = np.zeros((4, 3))
        shares[:, axis] = end
        shares[1:3, first] = 1
        shares[2:4, second] = 1
        return self.camera.project(self.points(shares))

    def on_face(self, face: Face, place: tuple[float, float]) -> tuple[float, float]:
        """Millimetres along a face's two directions of a place on the page."""
        axis, end = FACES[face]
        ray = self.camera.ray(place)
        corner = self.points(np.zeros((1, 3)))[0]
        level = corner[axis] + end * self.size[axis]
        if abs(ray[axis]) < 1e-9 or level / ray[axis] <= 0:
            raise HollowMarbleError("That place does not lie on the face. Touch the face itself.")
        point = ray * (level / ray[axis]) - corner
        first, second = face_axes(face)
        return float(point[first]), float(point[second])

    def from_face(self, face: Face, places: Array) -> Array:
        """(N, 2) px of places (N, 2) in mm along a face's two directions."""
        return self.camera.project(self.in_space(face, places))

    def in_space(self, face: Face, places: Array) -> Array:
        """(N, 3) relative to the eye of places (N, 2) in mm on a face."""
        first, second = face_axes(face)
        axis, end = FACES[face]
        points = np.zeros((len(places), 3))
        points[:, first], points[:, second] = places[:, 0], places[:, 1]
        points[:, axis] = end * self.size[axis]
        return points + self.points(np.zeros((1, 3)))

    def laid_on(self, face: Face, middle: tuple[float, float], scale: float) -> Array:
        """(3, 3) homography that lays what is drawn square-on, `scale` px a mm, on a face; `middle` px comes to its middle.

        Up on the page is up on the face, or back on the top.
        """
        first, second = face_axes(face)
        w, h = self.size[first], self.size[second]
        corners = np.array([[0.0, 0.0], [w, 0.0], [w, h], [0.0, h]])
        flat = np.column_stack(
            [middle[0] + (corners[:, 0] - w / 2) * scale, middle[1] - (corners[:, 1] - h / 2) * scale]
        )
        onto, back = homography(self.from_face(face, corners)), homography(flat)
        matrix: Array = onto @ np.linalg.inv(back)
        return np.asarray(matrix / matrix[2, 2])

    def circle(self, face: Face, centre: tuple[float, float], radius: float) -> Ellipse:
        """The exact image of a circle on a face; mm."""
        first, second = face_axes(face)
        origin = self.in_space(face, np.array([centre]))[0]
        frame = np.zeros((3, 3))
        frame[first, 0] = radius
        frame[second, 1] = radius
        frame[:, 2] = origin
        seen = self.camera.rotation @ frame  # (u, v, 1) on the unit circle to homogeneous camera coordinates
        # px relative to the principal point, so that numbers stay small
        image = np.diag([self.camera.focal, self.camera.focal, 1.0]) @ seen
        try:
            back = np.linalg.inv(image)
        except np.linalg.LinAlgError as error:
            raise HollowMarbleError("That face is seen from its edge, so no circle shows on it.") from error
        conic = back.T @ np.diag([1.0, 1.0, -1.0]) @ back
        ellipse = ellipse_of(conic)
        x, y = self.camera.principal
        return Ellipse((ellipse.centre[0] + x, ellipse.centre[1] + y), ellipse.across, ellipse.down, ellipse.turn)


@dataclass(frozen=True)
class Ellipse:
    """Centre px, half axes px with the longer one first, turn of that one in radians."""

    centre: tuple[float, float]
    across: float
    down: float
    turn: float


def ellipse_of(conic: Array) -> Ellipse:
    """Centre, axes and turn of a conic xᵀ C x = 0. Raises where it is no ellipse."""
    flat = conic[:2, :2]
    if np.linalg.det(flat) <= 0:
        raise HollowMarbleError(
            "Part of that circle lies behind the eye. Make it smaller or move the box farther away."
        )
    centre = -np.linalg.solve(flat, conic[:2, 2])
    rest = float(conic[2, 2] + conic[:2, 2] @ centre)
    values, vectors = np.linalg.eigh(flat)
    lengths = np.sqrt(np.abs(-rest / values))
    long = int(np.argmax(lengths))
    way = vectors[:, long]
    turn = float(np.arctan2(way[1], way[0])) % np.pi
    return Ellipse((float(centre[0]), float(centre[1])), float(lengths[long]), float(lengths[1 - long]), turn)
