"""Where everything of a setting stands: the product and its copies, lamps, the lens."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.bodies.body import BodyMesh
from hollow_marble.core.studio import emitters
from hollow_marble.core.studio.camera import Lens, camera_place, lens_at
from hollow_marble.core.studio.colour import hex_to_linear, warmth_to_rgb
from hollow_marble.core.studio.emitters import Pieces, Shape, Stand, pieces_of, stand
from hollow_marble.core.studio.screens import Screen
from hollow_marble.core.studio.sky import sun_share, sun_warmth
from hollow_marble.documents.form.evaluation import FormEvaluator
from hollow_marble.documents.form.model import Form, Part
from hollow_marble.documents.studio.model import Light, Placed, Setting, Sky, Unit

Floats = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class StagedUnit:
    """A copy of the product in place: `matrix` (4, 4) takes the form to the set; low and high corner of the box around it (3,)."""

    unit: Unit
    matrix: Floats
    low: Floats
    high: Floats


@dataclass(frozen=True, eq=False)
class StagedLamp:
    """A lamp or a card in place. `radiance` (3,) linear, mean over it; nothing for a card. Screens, each with how far before it, mm."""

    placed: Placed
    shape: Shape
    stood: Stand
    radiance: Floats
    screens: tuple[tuple[Screen, float], ...]

    @property
    def id(self) -> str:
        return self.placed.id

    @property
    def colour(self) -> Floats:
        """(3,) of its light, of luminance 1."""
        return self.radiance / float(self.radiance @ LUMINANCE)

    def pieces(self) -> Pieces:
        """It in pieces, by the luminance of its light."""
        return pieces_of(self.shape, self.stood, float(self.radiance @ LUMINANCE))

    def reaching(self, place: Floats) -> Pieces:
        """What of it reaches a place (3,) past what stands before it."""
        pieces = self.pieces()
        for screen, ahead in self.screens:
            pieces = pieces.cut(screen.clear(self._own(place[None], ahead)[0], self._own(pieces.places, ahead)))
        return pieces

    def _own(self, places: Floats, ahead: float) -> Floats:
        """Places (N, 3) in the lamp's own directions, from the plane so far before it."""
        away = places - self.stood.middle
        return np.stack([away @ self.stood.right, away @ self.stood.up, away @ self.stood.forward - ahead], axis=1)


LUMINANCE = np.array([0.2126, 0.7152, 0.0722])


@dataclass(frozen=True, eq=False)
class Staging:
    """Where things stand. `centre` (3,) is the middle of the first product, which lamps look at."""

    units: list[StagedUnit]
    centre: Floats
    lamps: list[StagedLamp]
    lens: Lens

    @property
    def shift(self) -> Floats:
        """(3,) how the form is moved where it just stands in the middle."""
        return self.units[0].matrix[:3, 3]


def stage(setting: Setting, form: Form, evaluator: FormEvaluator) -> Staging:
    """Stand the products on the ground and place lamps and camera around the first."""
    meshes = [mesh for _, mesh in in_picture(setting, form, evaluator)]
    units = [_stood(unit, meshes) for unit in setting.units]
    first = units[0]
    centre = (first.low + first.high) / 2
    camera = setting.camera
    lamps = [_lit(lamp, setting, centre) for lamp in setting.lamps if lamp.on]
    place = camera_place(camera.distance, camera.azimuth, camera.height)
    side = math.radians(camera.azimuth)
    target = np.array([camera.aside * math.cos(side), camera.aside * math.sin(side), camera.aim])
    focus = centre + np.array(camera.focus) if camera.focus is not None else centre
    lens = lens_at(
        place,
        target,
        camera.focal,
        upright=camera.upright,
        roll=camera.roll,
        shift=camera.shift,
        aperture=camera.aperture,
        focus=focus,
    )
    return Staging(units, centre, lamps, lens)


def in_picture(setting: Setting, form: Form, evaluator: FormEvaluator) -> list[tuple[Part, BodyMesh]]:
    """The parts that are in the picture and can be worked out, with their meshes."""
    hidden = set(setting.hidden)
    return [(part, mesh) for part, mesh in evaluator.shown(form) if part.id not in hidden]


def azimuth_of(placed: Placed, setting: Setting) -> float:
    """Where something stands around the room, degrees, whatever it is held to."""
    if placed.held == "camera":
        return placed.azimuth + setting.camera.azimuth
    if placed.held == "product":
        return placed.azimuth + setting.units[0].turn
    return placed.azimuth


def stand_of(placed: Placed, setting: Setting, centre: Floats) -> Stand:
    """Where something stands, and the way it looks."""
    return stand(
        azimuth_of(placed, setting), placed.height, placed.distance, centre + np.array(placed.aim), placed.turn
    )


def _lit(placed: Placed, setting: Setting, centre: Floats) -> StagedLamp:
    shape = placed.shape()
    stood = stand_of(placed, setting, centre)
    if not isinstance(placed, Light):
        return StagedLamp(placed, shape, stood, np.zeros(3), ())
    warmth, power = placed.warmth, placed.power
    if isinstance(placed, Sky):
        # at 0 stops sky and sun together give a level card what a far source at 0 stops gives
        share = sun_share(placed.height, placed.haze)
        level = max(math.sin(math.radians(placed.height)), 0.02)
        warmth, power = sun_warmth(placed.height), power + math.log2(max(share / level, 1e-9))
    mean = emitters.radiance(shape, power, placed.distance)
    return StagedLamp(placed, shape, stood, mean * warmth_to_rgb(warmth) * hex_to_linear(placed.gel), placed.screens)


_POSES = {"stand": 0.0, "hang": 0.0, "lie": -90.0, "face down": 90.0, "lean": 0.0}


def _stood(unit: Unit, meshes: list[BodyMesh]) -> StagedUnit:
    low, high = np.full(3, np.inf), np.full(3, -np.inf)
    for mesh in meshes:
        own = mesh.extent
        low, high = np.minimum(low, own[0]), np.maximum(high, own[1])
    if not np.isfinite(low).all():
        low, high = np.zeros(3), np.zeros(3)
    middle = np.array([(low[0] + high[0]) / 2, (low[1] + high[1]) / 2, low[2]])
    tip = math.radians(_POSES[unit.pose] - unit.tip)
    turn = math.radians(unit.turn)
    tipped = np.array([[1, 0, 0], [0, math.cos(tip), -math.sin(tip)], [0, math.sin(tip), math.cos(tip)]])
    turned = np.array([[math.cos(turn), -math.sin(turn), 0], [math.sin(turn), math.cos(turn), 0], [0, 0, 1.0]])
    way = turned @ tipped
    if np.array_equal(way, np.eye(3)):
        corner_low, corner_high = low - middle, high - middle
    else:
        corner_low, corner_high = np.full(3, np.inf), np.full(3, -np.inf)
        for mesh in meshes:
            there = (mesh.positions - middle) @ way.T
            corner_low, corner_high = (
                np.minimum(corner_low, there.min(axis=0)),
                np.maximum(corner_high, there.max(axis=0)),
            )
        if not meshes:
            corner_low, corner_high = np.zeros(3), np.zeros(3)
    middle_there = (corner_low + corner_high) / 2
    to = np.array(
        [
            unit.x - middle_there[0],
            unit.y - middle_there[1],
            (unit.high if unit.pose == "hang" else 0.0) - corner_low[2],
        ]
    )
    matrix = np.eye(4)
    matrix[:3, :3], matrix[:3, 3] = way, to - way @ middle
    return StagedUnit(unit, matrix, corner_low + to, corner_high + to)
