"""A solid as everybody but the kernel knows it, and the line to the kernel. Lengths mm, volumes mm³, areas mm²."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Solid:
    """A solid or an open surface.

    shape : the kernel's own bytes, for keeping and for handing back
    names : of its faces, in the shape's order; the same for the same face as long as its recipe makes it
    volume : 0 where it is open; closed : whether it has an inside
    told : sentences about how it was made that a designer ought to know
    """

    shape: bytes
    names: tuple[str, ...]
    volume: float
    closed: bool
    told: tuple[str, ...] = ()


@dataclass(frozen=True, eq=False)
class SolidMesh:
    """N points in F faces, T triangles. Points of neighbouring faces are not shared.

    points : (N, 3); normals : (N, 3) exact; triangles : (T, 3), counter-clockwise from outside
    face_starts : (F + 1,) where a face's points begin; triangle_face : (T,)
    joined : (N,) number of the point of the surface behind each: those at the same place have the same
    lines : edges of the body one after the other, point numbers; line_starts : (E + 1,); line_names : (E,)
    beyond : the same lines on the edges' other faces, point numbers of the same places; -1 where there is none
    places : (N, 2) parameters of each point on its face's surface
    """

    points: Array
    normals: Array
    triangles: NDArray[np.int64]
    face_starts: NDArray[np.int64]
    triangle_face: NDArray[np.int64]
    joined: NDArray[np.int64]
    lines: NDArray[np.int64]
    line_starts: NDArray[np.int64]
    line_names: tuple[str, ...]
    beyond: NDArray[np.int64]
    places: Array


@dataclass(frozen=True, eq=False)
class Bent:
    """Derivatives at the points of a mesh, (N, 3) each: along u, v, uu, uv, vv; `known` (N,) where the surface has them."""

    derivatives: Array
    known: NDArray[np.bool_]


@dataclass(frozen=True)
class EdgeName:
    """An edge by the faces it lies between, with a place and a length as a second witness where faces meet in several."""

    faces: tuple[str, str]
    middle: tuple[float, float, float]
    length: float


@dataclass(frozen=True)
class Measured:
    """What is to be known of picked edges and faces: length of the edges in mm and area of the faces in mm² together; the radius in mm
    where all have the same one; of two, how far they are apart in mm, the angle in degrees between them where both are straight, flat
    or turned about an axis, and how far their axes are apart in mm where these run the same way."""

    length: float
    area: float
    radius: float | None
    apart: float | None
    angle: float | None
    axes: float | None


Kernel = Callable[..., Any]
"""kernel(name, *arguments): do what `kernel.DOES` has under a name. Raises HollowMarbleError with a sentence."""


def here(name: str, *arguments: Any) -> Any:
    """The kernel in this process, loaded when it is first asked for: for the command line and for tests."""
    from hollow_marble.core.solids.kernel import DOES

    does: Callable[..., Any] = DOES[name]
    return does(*arguments)
