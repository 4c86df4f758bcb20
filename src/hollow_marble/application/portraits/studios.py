"""What the camera of a studio sees, lit by its lamps, without shadows and reflections. It tells one line of a history from
the next; how a picture will look, the darkroom tells."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from hollow_marble.application.portraits.painting import SIGHTS, Size, Values, canvas_of, made_small, seen
from hollow_marble.core.studio.colour import hex_to_linear, to_picture
from hollow_marble.core.studio.sets import Gradient, Piece
from hollow_marble.core.surface.pictures import Skin, met
from hollow_marble.documents.form.evaluation import FormEvaluator
from hollow_marble.documents.form.model import Form
from hollow_marble.documents.studio.model import Finish, Setting
from hollow_marble.documents.studio.staging import StagedLamp, front_of, gain_of, in_picture, stage


def draw_studio(setting: Setting, form: Form, evaluator: FormEvaluator, size: Size) -> NDArray[np.uint8]:
    """(tall, wide, 3) what the camera sees."""
    staging = stage(setting, form, evaluator)
    shown: list[tuple[Skin, Values]] = [(piece, _shade(piece)) for piece in setting.set.pieces(front_of(setting))]
    for unit in staging.units:
        for part, mesh in in_picture(setting, form, evaluator):
            if len(mesh.triangles):
                shown.append((seen(mesh, unit.matrix), hex_to_linear(setting.finishes.get(part.id, Finish()).colour)))
    canvas = canvas_of(size, (12, 12, 12), SIGHTS)
    if not shown:
        return made_small(canvas, size)
    wide, tall = canvas.size
    y, x = np.mgrid[:tall, :wide] + 0.5
    lens = staging.lens
    found = met(
        [skin for skin, _ in shown], lens.place, lens.rays(np.stack([x.ravel(), y.ravel()], axis=1), wide, tall)
    )
    albedo = np.array(gain_of(setting)) * np.array([shade for _, shade in shown])[found.surface]
    picture = np.array(canvas)
    linear = albedo * lit(found.place, found.normal, staging.lamps) / np.pi
    picture.reshape(-1, 3)[found.px] = to_picture(linear[None])[0]
    return made_small(Image.fromarray(picture), size)


def _shade(piece: Piece) -> Values:
    dress = piece.dress
    if isinstance(dress, str):
        return hex_to_linear(dress)
    if isinstance(dress, Gradient):
        return (hex_to_linear(dress.top) + hex_to_linear(dress.bottom)) / 2
    return hex_to_linear(dress.colour) if isinstance(dress, Finish) else np.full(3, 0.3)


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
