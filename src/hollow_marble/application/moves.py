"""Moves that need the product itself: a highlight put where it was touched, a focus, a frame, a meter reading, a lamp on the other side.

Each gives back the thing as it would be; the interface shows it while a hand drags, and keeps it as an edit like any other.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import BaseModel, Field

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.studio import highlight
from hollow_marble.core.studio.emitters import FAR
from hollow_marble.documents.edit import find
from hollow_marble.documents.form.evaluation import FormEvaluator
from hollow_marble.documents.form.model import Form
from hollow_marble.documents.studio.changes import another, mirrored
from hollow_marble.documents.studio.model import Camera, Light, PictureBehind, Setting
from hollow_marble.documents.studio.staging import Staging, facts_of, stage, widened
from hollow_marble.documents.studio.staging.picking import picker_of

Place = tuple[Annotated[float, Field(ge=-10_000, le=20_000)], Annotated[float, Field(ge=-10_000, le=20_000)]]
Pixels = tuple[Annotated[int, Field(ge=16, le=8_192)], Annotated[int, Field(ge=16, le=8_192)]]

FLOOR = 5.0
"""How far over the floor a lamp's middle stays, mm."""
FILLS = 0.72
"""Share of the frame that a framed product fills."""


class Highlight(BaseModel):
    """The lamp goes to where its mirror image sits at a place of the picture, px; `length` of that image on the surface, mm."""

    kind: Literal["highlight"]
    at: Place
    size: Pixels
    length: float | None = Field(None, ge=0.1, le=2_000)


class Lux(BaseModel):
    """The lamp gives so much light to the product, lux."""

    kind: Literal["lux"]
    lux: float = Field(ge=0.01, le=1e7)


class Copied(BaseModel):
    """A second lamp beside one."""

    kind: Literal["copy"]


class Mirrored(BaseModel):
    """A second lamp on the other side of the camera."""

    kind: Literal["mirror"]


class Frame(BaseModel):
    """The camera goes as far away as it takes for the product to fill the frame."""

    kind: Literal["frame"]
    size: Pixels


class Meter(BaseModel):
    """The exposure is that of a grey card at the product."""

    kind: Literal["meter"]


class KeepSize(BaseModel):
    """Another lens, and the product as large in the frame as before."""

    kind: Literal["lens"]
    focal: float = Field(ge=12, le=400)


class Focus(BaseModel):
    """What lies at a place of the picture, px, is sharp."""

    kind: Literal["focus"]
    at: Place
    size: Pixels


LampMove = Annotated[Highlight | Lux | Copied | Mirrored, Field(discriminator="kind")]
CameraMove = Annotated[Frame | Meter | KeepSize | Focus, Field(discriminator="kind")]


def lamp_moved(
    setting: Setting, form: Form, evaluator: FormEvaluator, ident: str, move: LampMove
) -> tuple[Any, float | None]:
    """A lamp after a move, and how long its mirror image is where that was asked for, mm."""
    lamp = find(setting.lamps, ident, "lamp")
    match move:
        case Copied():
            return another(lamp, setting.lamps), None
        case Mirrored():
            return mirrored(lamp, setting.lamps, setting), None
        case Lux():
            if not isinstance(lamp, Light):
                raise HollowMarbleError("A card gives no light of its own. Choose a lamp.")
            lit = setting.model_copy(update={"lamps": (lamp.model_copy(update={"on": True}),)})
            facts = facts_of(lit, stage(lit, form, evaluator), evaluator.load, evaluator.shelf).lamps.get(lamp.id)
            if facts is None or facts.lux <= 0:
                raise HollowMarbleError("No light of this lamp reaches the product. Turn it towards the product first.")
            power = lamp.power + math.log2(move.lux / facts.lux)
            return type(lamp).model_validate({**lamp.model_dump(), "power": min(max(power, -10.0), 10.0)}), None
    return _highlighted(setting, form, evaluator, lamp, move)


def _highlighted(
    setting: Setting, form: Form, evaluator: FormEvaluator, lamp: Any, move: Highlight
) -> tuple[Any, float | None]:
    staging = stage(setting, form, evaluator)
    look = picker_of(setting, staging, form, evaluator, move.size).look
    at = highlight.touched(staging.lens, look, move.at, move.size)
    if at is None:
        raise HollowMarbleError("There is no product there. Touch a place on the product.")
    aim = staging.centre + np.array(lamp.aim)
    place = highlight.lamp_place(at, aim, lamp.distance, -math.inf if lamp.distance >= FAR else FLOOR)
    azimuth, height, _ = highlight.angles_of(place, aim)
    held = {"camera": setting.camera.azimuth, "product": setting.units[0].turn}.get(lamp.held, 0.0)
    lamp = type(lamp).model_validate(
        {**lamp.model_dump(), "azimuth": (azimuth - held + 180) % 360 - 180, "height": height}
    )
    moved = setting.model_copy(
        update={"lamps": tuple(lamp if other.id == lamp.id else other for other in setting.lamps)}
    )
    upright = lamp.shape().extent[1] >= lamp.shape().extent[0]
    stood = next((one.stood for one in stage(moved, form, evaluator).lamps if one.id == lamp.id), None)
    if stood is None:
        return lamp, None
    image = highlight.MirrorImage(staging.lens, look, stood, move.at, move.size)
    if move.length is None:
        return lamp, image.length(max(lamp.shape().extent), upright)
    field = "diameter" if hasattr(lamp, "diameter") else "tall" if upright else "width"
    if not hasattr(lamp, field):
        raise HollowMarbleError("This kind of lamp has no size to set. Choose a soft box, a strip or a disc.")
    extent = image.extent_for(move.length, upright, 10.0, 4_000.0)
    return type(lamp).model_validate({**lamp.model_dump(), field: extent}), move.length


@dataclass(frozen=True)
class Touched:
    """A part, the place on it in the form's own coordinates, and the key of the face there."""

    part: str
    place: tuple[float, float, float]
    face: str


def touched_part(setting: Setting, form: Form, evaluator: FormEvaluator, at: Place, size: Pixels) -> Touched | None:
    """What lies under a place of the picture; None where there is no product."""
    staging = stage(setting, form, evaluator)
    found = picker_of(setting, staging, form, evaluator, size).touched(at)
    if found is None:
        return None
    (part, unit), place, face = found
    x, y, z = (float(v) for v in np.linalg.solve(staging.units[unit].matrix, [*place, 1.0])[:3])
    return Touched(part, (x, y, z), f"{face:016x}")


def camera_moved(setting: Setting, form: Form, evaluator: FormEvaluator, move: CameraMove) -> Camera:
    """The camera after a move."""
    camera = setting.camera
    staging = stage(setting, form, evaluator)
    match move:
        case Meter():
            metered = facts_of(setting, staging, evaluator.load, evaluator.shelf).metered
            if metered is None:
                raise HollowMarbleError(
                    "No light reaches the product, so there is nothing to meter. Switch a lamp on first."
                )
            return _with(camera, exposure=round(min(max(metered, -4.0), 24.0), 2))
        case KeepSize():
            return _nearer(camera, staging, move.focal / camera.focal, focal=move.focal)
        case Focus():
            at = highlight.touched(
                staging.lens, picker_of(setting, staging, form, evaluator, move.size).look, move.at, move.size
            )
            if at is None:
                raise HollowMarbleError("There is no product there. Touch the place that is to be sharp.")
            away = at.place - staging.centre
            return _with(camera, focus=tuple(float(v) for v in away), aperture=camera.aperture or 8.0)
    return _framed(camera, staging, move)


def _with(camera: Camera, **fields: object) -> Camera:
    return Camera.model_validate({**camera.model_dump(), **fields})


def _nearer(camera: Camera, staging: Staging, share: float, **fields: object) -> Camera:
    """The camera so many times as far from what it looks at, along its own line of sight."""
    target = np.array([0.0, 0.0, camera.aim])
    place = target + (staging.lens.place - target) * share
    distance = float(np.hypot(place[0], place[1]))
    return _with(
        camera,
        distance=min(max(distance, 50.0), 20_000.0),
        height=min(max(float(place[2]), -500.0), 10_000.0),
        **fields,
    )


def _framed(camera: Camera, staging: Staging, move: Frame) -> Camera:
    low, high = (
        np.min([unit.low for unit in staging.units], axis=0),
        np.max([unit.high for unit in staging.units], axis=0),
    )
    corners = np.array([[x, y, z] for x in (low[0], high[0]) for y in (low[1], high[1]) for z in (low[2], high[2])])
    middle = (low + high) / 2
    side = math.radians(camera.azimuth)
    aside = float(middle[0] * math.cos(side) + middle[1] * math.sin(side))
    camera = _with(camera, aim=float(middle[2]), aside=aside if len(staging.units) > 1 else 0.0, shift=(0.0, 0.0))
    rise = staging.lens.place[2] - middle[2]
    level = camera.distance
    width, height = move.size
    for _ in range(12):
        place = np.array([level * math.sin(side), -level * math.cos(side), middle[2] + rise * level / camera.distance])
        forward = middle - place
        forward /= np.linalg.norm(forward)
        right = np.cross(forward, (0, 0, 1.0))
        right /= np.linalg.norm(right)
        up = np.cross(right, forward)
        there = corners - place
        ahead = np.maximum(there @ forward, 1.0)
        wide = float(np.abs(there @ right / ahead).max()) * 2 * camera.focal / 36.0
        tall = float(np.abs(there @ up / ahead).max()) * 2 * camera.focal / 36.0 * width / height
        fills = max(wide, tall)
        if abs(fills / FILLS - 1) < 1e-3:
            break
        level *= fills / FILLS
    share = min(max(level, 50.0), 20_000.0) / camera.distance
    return _with(camera, distance=camera.distance * share, height=min(max(middle[2] + rise * share, -500.0), 10_000.0))


class Widen(BaseModel):
    """The set reaches past all sides of the frame."""

    kind: Literal["widen"]
    size: Pixels


class Horizon(BaseModel):
    """The picture behind is hung so that what was touched, its horizon, is as high as the lens."""

    kind: Literal["horizon"]
    at: Place
    size: Pixels


class Foot(BaseModel):
    """The picture behind is made so large that what was touched of its ground lies where the wall meets the floor."""

    kind: Literal["foot"]
    at: Place
    size: Pixels


SetMove = Annotated[Widen | Horizon | Foot, Field(discriminator="kind")]


def set_moved(setting: Setting, form: Form, evaluator: FormEvaluator, move: SetMove) -> Any:
    """The set after a move."""
    if isinstance(move, Widen):
        return set_widened(setting, form, evaluator, move.size)
    chosen = setting.set
    if not isinstance(chosen, PictureBehind):
        raise HollowMarbleError("There is no picture behind the product. Hang one there first.")
    lens = stage(setting, form, evaluator).lens
    way = lens.rays(np.array([move.at], float), *move.size)[0]
    if way[1] < 1e-6:
        raise HollowMarbleError("The picture behind is not there. Touch a place on it.")
    high = float(lens.place[2] + way[2] * (chosen.depth - lens.place[1]) / way[1])
    share = (high - chosen.foot) / chosen.tall
    if not 0 <= share <= 1:
        raise HollowMarbleError("The picture behind is not there. Touch a place on it.")
    if isinstance(move, Horizon):
        return _picture(chosen, horizon=share, level=float(lens.place[2]))
    if chosen.level < 1 or share >= chosen.horizon - 0.01:
        raise HollowMarbleError("Touch the picture’s horizon first, then a place of its ground below it.")
    return _picture(chosen, width=chosen.level / (chosen.horizon - share) * chosen.size[0] / chosen.size[1])


def _picture(chosen: PictureBehind, **fields: float) -> PictureBehind:
    width = min(max(fields.get("width", chosen.width), 200.0), 20_000.0)
    return PictureBehind.model_validate({**chosen.model_dump(), **fields, "width": width})


def set_widened(setting: Setting, form: Form, evaluator: FormEvaluator, size: tuple[int, int]) -> Any:
    """The set, reaching past the frame on all sides."""
    found = widened(setting, stage(setting, form, evaluator), size[0] / size[1]).set
    if found == setting.set:
        raise HollowMarbleError("This set reaches as far as it can. Lower the camera, or choose a longer lens.")
    return found
