"""What the camera of a studio sees, lit by its lamps: each triangle by the light that falls on its middle, without shadows and
reflections. It tells one line of a history from the next; how a picture will look, the darkroom tells."""

from __future__ import annotations

import itertools

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from hollow_marble.application.portraits.painting import Size, Values, canvas_of, corners_of, made_small, paint
from hollow_marble.core.studio.colour import hex_to_linear, to_picture
from hollow_marble.documents.form.evaluation import FormEvaluator
from hollow_marble.documents.form.model import Form
from hollow_marble.documents.studio.model import Finish, Setting
from hollow_marble.documents.studio.staging import StagedLamp, Staging, stage, sweep_of

STEP = 60.0
"""Mm between the strips that the sweep is drawn in."""
NEAR = 20.0
"""Mm from the lens at which things are left out."""


def draw_studio(setting: Setting, form: Form, evaluator: FormEvaluator, size: Size) -> NDArray[np.uint8]:
    """(tall, wide, 3) what the camera sees."""
    staging = stage(setting, form, evaluator)
    canvas = canvas_of(size, (12, 12, 12))
    # the sweep is behind all that stands on it
    quads = _sweep_quads(setting)
    halves = np.concatenate([quads[:, [0, 1, 2]], quads[:, [0, 2, 3]]])
    middles = np.tile(quads.mean(axis=1), (2, 1))
    _paint_lit(canvas, staging, halves, middles, np.tile(hex_to_linear(setting.sweep.colour), (len(halves), 1)))
    bodies = [
        (corners_of(mesh) + staging.shift, hex_to_linear(setting.finishes.get(part.id, Finish()).colour))
        for part, mesh in evaluator.shown(form)
        if len(mesh.triangles)
    ]
    if bodies:
        triangles = np.concatenate([corners for corners, _ in bodies])
        albedo = np.concatenate([np.tile(colour, (len(corners), 1)) for corners, colour in bodies])
        _paint_lit(canvas, staging, triangles, triangles.mean(axis=1), albedo)
    return made_small(canvas, size)


def lit(places: Values, normals: Values, lamps: list[StagedLamp]) -> Values:
    """(n, 3) irradiance on places (n, 3) that face along normals (n, 3), each lamp taken as if all its light came from its middle."""
    light = np.zeros_like(places)
    for lamp in lamps:
        middle = lamp.corners.mean(axis=0)
        across, up = lamp.corners[1] - lamp.corners[0], lamp.corners[3] - lamp.corners[0]
        faces = np.cross(across, up)
        area = float(np.linalg.norm(faces))
        towards = middle - places
        away = np.linalg.norm(towards, axis=1)
        towards /= away[:, None]
        falls = np.clip((normals * towards).sum(axis=1), 0, None) * np.abs(towards @ (faces / area))
        light += lamp.radiance * (falls * area / away**2)[:, None]
    return light


def _paint_lit(canvas: Image.Image, staging: Staging, triangles: Values, middles: Values, albedo: Values) -> None:
    """Triangles (t, 3, 3) as the lens sees them, each lit as its middle (t, 3) is."""
    forward = staging.target - staging.lens
    forward /= np.linalg.norm(forward)
    right = np.cross(forward, [0.0, 0.0, 1.0])
    right /= max(float(np.linalg.norm(right)), 1e-9)
    seen = (triangles - staging.lens) @ np.stack([right, np.cross(right, forward), forward], axis=1)
    front = (seen[..., 2] > NEAR).all(axis=1)
    triangles, middles, albedo, seen = triangles[front], middles[front], albedo[front], seen[front]
    if not len(triangles):
        return
    wide, tall = canvas.width, canvas.height
    scale = wide / 2 / np.tan(staging.view / 2)
    spots = seen[..., :2] / seen[..., 2:] * scale * (1, -1) + (wide / 2, tall / 2)
    normals = np.cross(triangles[:, 1] - triangles[:, 0], triangles[:, 2] - triangles[:, 0])
    normals /= np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-12)
    normals *= np.where(((staging.lens - middles) * normals).sum(axis=1) < 0, -1.0, 1.0)[:, None]
    linear = albedo * lit(middles, normals, staging.lamps) / np.pi
    paint(canvas, spots, seen[..., 2].mean(axis=1), to_picture(linear[None])[0])


def _sweep_quads(setting: Setting) -> Values:
    """(n, 4, 3) the sweep in pieces fine enough to be lit unevenly and to be left out behind the lens."""
    side = sweep_of(setting)
    fine = [side[:1]]
    for start, end in itertools.pairwise(side):
        count = max(1, int(np.ceil(np.linalg.norm(end[:2] - start[:2]) / STEP)))
        fine.append(start + (end - start) * (np.arange(1, count + 1) / count)[:, None])
    along = np.vstack(fine)[:, :2]
    across = np.linspace(-0.5, 0.5, int(np.ceil(setting.sweep.width / STEP)) + 1) * setting.sweep.width
    points = np.dstack([np.tile(across, (len(along), 1)), *(np.repeat(v[:, None], len(across), 1) for v in along.T)])
    quads = np.stack([points[:-1, :-1], points[:-1, 1:], points[1:, 1:], points[1:, :-1]], axis=2)
    return quads.reshape(-1, 4, 3)
