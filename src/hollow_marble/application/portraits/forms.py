"""A form from a corner, in one light."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from hollow_marble.application.portraits.painting import SIGHTS, Size, canvas_of, made_small, seen
from hollow_marble.core.bodies.body import BodyMesh
from hollow_marble.core.surface.pictures import camera_on, look

AZIMUTH, RISE = 0.62, 0.32
"""Radians: three-quarter from above, as Form looks at a form first."""

TOWARDS_LIGHT = np.array([-0.35, -0.55, 0.75]) / np.linalg.norm([-0.35, -0.55, 0.75])
GROUND = (239, 235, 228)
DARK, PALE = np.array((96.0, 90.0, 82.0)), np.array((214.0, 208.0, 197.0))


def draw_form(meshes: Sequence[BodyMesh], size: Size) -> NDArray[np.uint8]:
    """(tall, wide, 3) meshes from a corner."""
    skins = [seen(mesh) for mesh in meshes if len(mesh.triangles)]
    canvas = canvas_of(size, GROUND, SIGHTS)
    if not skins:
        return made_small(canvas, size)
    sight = look(skins, camera_on(skins, AZIMUTH, RISE, *canvas.size))
    light = np.clip(0.5 + 0.5 * (sight.normal @ TOWARDS_LIGHT), 0, 1)[:, None]
    picture = np.array(canvas)
    picture.reshape(-1, 3)[sight.px] = np.rint(DARK + (PALE - DARK) * light)
    return made_small(Image.fromarray(picture), size)
