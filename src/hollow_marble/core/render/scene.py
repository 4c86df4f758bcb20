"""What is to be photographed: meshes with materials, glowing panels, a camera. Lengths mm, colours linear Rec. 709."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.studio.finishes import Kind


@dataclass(frozen=True)
class Material:
    """A kind of surface and its colour (3,) linear."""

    kind: Kind
    colour: tuple[float, float, float]


@dataclass(frozen=True)
class Body:
    """points (N, 3), normals (N, 3) float32, triangles (T, 3) uint32."""

    points: NDArray[np.float32]
    normals: NDArray[np.float32]
    triangles: NDArray[np.uint32]
    material: Material


@dataclass(frozen=True)
class Panel:
    """A glowing quadrilateral: corners (4, 3), counter-clockwise from the lit side; radiance (3,)."""

    corners: NDArray[np.float64]
    radiance: tuple[float, float, float]


@dataclass(frozen=True)
class Lens:
    """place, target (3,), horizontal angle of view in radians."""

    place: NDArray[np.float64]
    target: NDArray[np.float64]
    view: float


@dataclass(frozen=True)
class Scene:
    """Everything in the picture; `room_glow` is the radiance (3,) of the dim room around the set."""

    bodies: list[Body]
    panels: list[Panel]
    lens: Lens
    room_glow: tuple[float, float, float] = (0.02, 0.02, 0.02)
