"""What the camera of a studio sees, lit by its lamps: each triangle by the light that falls on its middle, without shadows and
reflections. It tells one line of a history from the next; how a picture will look, the darkroom tells."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from hollow_marble.application.portraits.painting import Size, Values, canvas_of, corners_of, made_small, paint
from hollow_marble.core.studio.colour import hex_to_linear, to_picture
from hollow_marble.core.studio.sets import Gradient, Piece
from hollow_marble.documents.form.evaluation import FormEvaluator
from hollow_marble.documents.form.model import Form
from hollow_marble.documents.studio.model import Finish, Setting
from hollow_marble.documents.studio.staging import StagedLamp, Staging, front_of, gain_of, in_picture, stage

STEP = 160.0
"""Longest side of the pieces that a set is drawn in, mm."""
FURTHEST = 4_000.0
"""Mm from the product at which a set is no longer drawn."""
NEAR = 20.0
"""Mm from the lens at which things are left out."""


def draw_studio(setting: Setting, form: Form, evaluator: FormEvaluator, size: Size) -> NDArray[np.uint8]:
    """(tall, wide, 3) what the camera sees."""
    staging = stage(setting, form, evaluator)
    canvas = canvas_of(size, (12, 12, 12))
    gain = np.array(gain_of(setting))
    # the set is behind all that stands on it
    for piece in setting.set.pieces(front_of(setting)):
        triangles = _fine(piece.points[piece.triangles])
        middles = triangles.mean(axis=1)
        _paint_lit(canvas, staging, triangles, middles, gain * np.tile(_shade(piece), (len(triangles), 1)))
    meshes = in_picture(setting, form, evaluator)
    drawn: list[tuple[Values, Values]] = []
    for unit in staging.units:
        for part, mesh in meshes:
            if len(mesh.triangles):
                corners = corners_of(mesh) @ unit.matrix[:3, :3].T + unit.matrix[:3, 3]
                shade = gain * hex_to_linear(setting.finishes.get(part.id, Finish()).colour)
                drawn.append((corners, np.tile(shade, (len(corners), 1))))
    if drawn:
        triangles = np.concatenate([corners for corners, _ in drawn])
        _paint_lit(canvas, staging, triangles, triangles.mean(axis=1), np.concatenate([shade for _, shade in drawn]))
    return made_small(canvas, size)


def _shade(piece: Piece) -> Values:
    dress = piece.dress
    if isinstance(dress, str):
        return hex_to_linear(dress)
    if isinstance(dress, Gradient):
        return (hex_to_linear(dress.top) + hex_to_linear(dress.bottom)) / 2
    return hex_to_linear(dress.colour) if isinstance(dress, Finish) else np.full(3, 0.3)


def _fine(triangles: Values) -> Values:
    """Triangles (t, 3, 3) cut until they are small enough to be lit unevenly, as far as they are near."""
    for _ in range(12):
        sides = np.linalg.norm(triangles - np.roll(triangles, -1, axis=1), axis=2)
        low = np.linalg.norm(np.clip(0, triangles.min(axis=1), triangles.max(axis=1)), axis=1)
        large = (sides.max(axis=1) > STEP) & (low < FURTHEST)
        if not large.any():
            break
        longest = sides[large].argmax(axis=1)
        rows = np.arange(len(longest))
        a, b, c = (triangles[large][rows, (longest + k) % 3] for k in range(3))
        middle = (a + b) / 2
        halves = np.concatenate([np.stack([a, middle, c], axis=1), np.stack([middle, b, c], axis=1)])
        triangles = np.concatenate([triangles[~large], halves])
    return triangles


def lit(places: Values, normals: Values, lamps: list[StagedLamp]) -> Values:
    """(n, 3) irradiance on places (n, 3) that face along normals (n, 3), each lamp taken as if all its light came from its middle."""
    light = np.zeros_like(places)
    for lamp in lamps:
        towards = lamp.stood.middle - places
        away = np.linalg.norm(towards, axis=1)
        towards /= away[:, None]
        falls = np.clip((normals * towards).sum(axis=1), 0, None) * np.clip(-(towards @ lamp.stood.forward), 0, None)
        light += lamp.radiance * (falls * lamp.shape.area / away**2)[:, None]
    return light


def _paint_lit(canvas: Image.Image, staging: Staging, triangles: Values, middles: Values, albedo: Values) -> None:
    """Triangles (t, 3, 3) as the lens sees them, each lit as its middle (t, 3) is."""
    lens = staging.lens
    seen = lens.seen(triangles.reshape(-1, 3), canvas.width, canvas.height).reshape(-1, 3, 3)
    front = (seen[..., 2] > NEAR).all(axis=1)
    triangles, middles, albedo, seen = triangles[front], middles[front], albedo[front], seen[front]
    if not len(triangles):
        return
    normals = np.cross(triangles[:, 1] - triangles[:, 0], triangles[:, 2] - triangles[:, 0])
    normals /= np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-12)
    normals *= np.where(((lens.place - middles) * normals).sum(axis=1) < 0, -1.0, 1.0)[:, None]
    linear = albedo * lit(middles, normals, staging.lamps) / np.pi
    paint(canvas, seen[..., :2], seen[..., 2].mean(axis=1), to_picture(linear[None])[0])
