"""A setting worked out: where everything stands, what the lamps give, and the scene to be traced."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.render.scene import Body, Lens, Material, Panel, Scene
from hollow_marble.core.studio import lamps
from hollow_marble.core.studio.camera import camera_place, field_of_view
from hollow_marble.core.studio.colour import hex_to_linear, warmth_to_rgb
from hollow_marble.core.studio.finishes import Look, look_of
from hollow_marble.core.studio.sweep import outline, sweep_mesh
from hollow_marble.documents.form.evaluation import FormEvaluator
from hollow_marble.documents.form.model import Form, Part
from hollow_marble.documents.studio.model import Finish, Lamp, Setting

PIXEL_SHARE = 0.25
"""How far a body's outline may be off in a picture, as a share of a pixel at the product; normals are exact at any fineness."""

WALL_HEIGHT = 1_800.0
ROOM = (0.02, 0.02, 0.021)


@dataclass(frozen=True)
class StagedLamp:
    """A lamp in place: corners (4, 3) mm, radiance (3,) linear."""

    id: str
    corners: NDArray[np.float64]
    radiance: NDArray[np.float64]


@dataclass(frozen=True)
class Staging:
    """Where things stand. `shift` moves the form onto the floor; `view` is the horizontal angle in radians."""

    shift: NDArray[np.float64]
    centre: NDArray[np.float64]
    lamps: list[StagedLamp]
    lens: NDArray[np.float64]
    target: NDArray[np.float64]
    view: float


@dataclass(frozen=True)
class LightFacts:
    """What the lamps mean: widths of the key's shadow edge at the shadow's end and at its sides (mm), a word for them, key to fill (stops),
    and a word for which side of the product the key lights. None where the lamp it needs is off, or too low to cast the shadow."""

    shadow_end: float | None
    shadow_sides: float | None
    softness: str | None
    key_to_fill: float | None
    kind: str | None


def stage(setting: Setting, form: Form, evaluator: FormEvaluator) -> Staging:
    """Stand the product on the floor and place lamps and camera around it."""
    low, high = np.full(3, np.inf), np.full(3, -np.inf)
    for _, mesh in evaluator.shown(form):
        own = mesh.extent
        low, high = np.minimum(low, own[0]), np.maximum(high, own[1])
    if not np.isfinite(low).all():
        low, high = np.zeros(3), np.zeros(3)
    shift = np.array([-(low[0] + high[0]) / 2, -(low[1] + high[1]) / 2, -low[2]])
    centre = np.array([0.0, 0.0, (high[2] - low[2]) / 2])
    camera = setting.camera
    return Staging(
        shift,
        centre,
        [_staged(lamp, centre) for lamp in setting.lamps if lamp.on],
        camera_place(camera.distance, camera.azimuth, camera.height),
        np.array([0.0, 0.0, camera.aim]),
        field_of_view(camera.focal),
    )


def light_facts(setting: Setting, staging: Staging) -> LightFacts:
    """What the choice of lamps means, reckoned at the middle of the product.

    The shadow edge is that of an edge as high as the product's middle, on the floor (`lamps.shadow_edge`). Key to fill compares a card at the product's
    middle that faces the camera, lit by key and fill against fill alone.
    """
    by_role = {lamp.role: lamp for lamp in setting.lamps if lamp.on}
    key, fill = by_role.get("key"), by_role.get("fill")
    if key is None:
        return LightFacts(None, None, None, None, None)
    light = {x.id: x for x in staging.lamps}
    edge = lamps.shadow_edge(light[key.id].corners, staging.centre)
    wide = math.inf if edge.end is None or edge.sides is None else math.sqrt(edge.end * edge.sides)
    ratio = None
    if fill is not None:
        card = staging.lens - staging.centre
        card = card / np.linalg.norm(card)
        given = [
            lamps.irradiance(light[x.id].corners, float(light[x.id].radiance.mean()), staging.centre, card)
            for x in (key, fill)
        ]
        ratio = lamps.key_to_fill(*given) if min(given) > 0 else None
    beside = abs((key.azimuth - setting.camera.azimuth + 180) % 360 - 180)
    kind = "frontal" if beside < 25 else "broad" if beside < 60 else "short" if beside < 120 else "from behind"
    return LightFacts(edge.end, edge.sides, lamps.softness(wide), ratio, kind)


def sweep_of(setting: Setting) -> NDArray[np.float64]:
    """The sweep seen from its side (`core.studio.sweep.outline`); its floor reaches behind the camera."""
    sweep = setting.sweep
    return outline(sweep.depth, sweep.cove, max(sweep.depth, setting.camera.distance + 400.0), WALL_HEIGHT)


def looks_of(setting: Setting, form: Form) -> dict[str, Look]:
    """How the finish of each part that is in the picture is drawn, by part."""
    looks = {}
    for part in shown(form):
        finish = setting.finishes.get(part.id, Finish())
        looks[part.id] = look_of(finish.material, _rgb(finish.colour))
    return looks


def scene_of(setting: Setting, form: Form, evaluator: FormEvaluator, width: int = 960) -> Scene:
    """The scene of a setting, ready to trace as a picture so many px wide."""
    parts = shown(form)
    if not parts:
        raise HollowMarbleError("There is nothing to photograph yet. Begin a part in Form first.")
    staging = stage(setting, form, evaluator)
    sweep = setting.sweep
    points, normals, triangles = sweep_mesh(sweep.width, sweep_of(setting))
    bodies = [_body(points, normals, triangles, Material("backdrop", _rgb(sweep.colour)))]
    tolerance = PIXEL_SHARE * pixel_size(staging, width)
    for part in parts:
        mesh = evaluator.taken(part, tolerance, form.parts)
        finish = setting.finishes.get(part.id, Finish())
        bodies.append(
            _body(
                mesh.positions + staging.shift,
                mesh.normal_vectors(),
                mesh.triangles,
                Material(finish.material, _rgb(finish.colour)),
            )
        )
    panels = [Panel(lamp.corners, _three(lamp.radiance)) for lamp in staging.lamps]
    return Scene(bodies, panels, Lens(staging.lens, staging.target, staging.view), ROOM)


def pixel_size(staging: Staging, width: int) -> float:
    """How many mm of the product's middle a pixel shows, in a picture so many px wide."""
    away = float(np.linalg.norm(staging.lens - staging.centre))
    return 2 * away * float(np.tan(staging.view / 2)) / width


def shown(form: Form) -> list[Part]:
    """The parts that are in the picture."""
    return [part for part in form.parts if part.visible]


def _staged(lamp: Lamp, centre: NDArray[np.float64]) -> StagedLamp:
    corners = lamps.lamp_corners(lamp.azimuth, lamp.height, lamp.distance, lamp.width, lamp.tall, centre)
    glow = lamps.radiance(lamp.width, lamp.tall, lamp.power)
    return StagedLamp(lamp.id, corners, glow * warmth_to_rgb(lamp.warmth))


def _rgb(colour: str) -> tuple[float, float, float]:
    return _three(hex_to_linear(colour))


def _three(values: NDArray[np.float64]) -> tuple[float, float, float]:
    r, g, b = (float(v) for v in values)
    return r, g, b


def _body(
    points: NDArray[np.floating], normals: NDArray[np.floating], triangles: NDArray[np.integer], material: Material
) -> Body:
    return Body(points.astype(np.float32), normals.astype(np.float32), triangles.astype(np.uint32), material)
