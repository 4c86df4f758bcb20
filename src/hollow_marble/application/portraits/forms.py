"""A form from a corner, in one light."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from hollow_marble.application.portraits.painting import Size, Values, canvas_of, corners_of, made_small, paint
from hollow_marble.core.bodies.body import BodyMesh

AZIMUTH, RISE = 0.62, 0.32
"""Radians: three-quarter from above, as Form looks at a form first."""

TOWARDS_LIGHT = np.array([-0.35, -0.55, 0.75]) / np.linalg.norm([-0.35, -0.55, 0.75])
GROUND = (239, 235, 228)
DARK, PALE = np.array((96.0, 90.0, 82.0)), np.array((214.0, 208.0, 197.0))


def draw_form(meshes: Sequence[BodyMesh], size: Size) -> NDArray[np.uint8]:
    """(tall, wide, 3) meshes from a corner."""
    canvas = canvas_of(size, GROUND)
    corners = [corners_of(mesh) for mesh in meshes if len(mesh.triangles)]
    if corners:
        triangles = np.concatenate(corners)
        right, up, away = _axes()
        flat = np.stack([triangles @ right, triangles @ up], axis=-1)
        low, high = flat.reshape(-1, 2).min(axis=0), flat.reshape(-1, 2).max(axis=0)
        scale = 0.84 * min(canvas.width / max(high[0] - low[0], 1e-6), canvas.height / max(high[1] - low[1], 1e-6))
        spots = (flat - (low + high) / 2) * scale * (1, -1) + (canvas.width / 2, canvas.height / 2)
        normals = np.cross(triangles[:, 1] - triangles[:, 0], triangles[:, 2] - triangles[:, 0])
        normals /= np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-12)
        normals *= np.where(normals @ away > 0, -1.0, 1.0)[:, None]  # shells open to the eye show their inside
        light = np.clip(0.5 + 0.5 * (normals @ TOWARDS_LIGHT), 0, 1)[:, None]
        paint(canvas, spots, (triangles @ away).mean(axis=1), np.rint(DARK + (PALE - DARK) * light).astype(int))
    return made_small(canvas, size)


def _axes() -> tuple[Values, Values, Values]:
    """Right, up and away from the eye."""
    level = np.cos(RISE)
    away = np.array([-np.sin(AZIMUTH) * level, np.cos(AZIMUTH) * level, -np.sin(RISE)])
    right = np.cross(away, [0.0, 0.0, 1.0])
    right /= np.linalg.norm(right)
    return right, np.cross(right, away), away
