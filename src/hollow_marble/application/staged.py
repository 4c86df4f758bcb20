"""A setting worked out for the interface: where things stand, how they are drawn, what they mean."""

from __future__ import annotations

import math
from dataclasses import asdict
from typing import Any

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.studio.camera import FRAME_WIDTH
from hollow_marble.core.studio.colour import hex_to_linear
from hollow_marble.core.studio.finishes import Colour, Look, look_of
from hollow_marble.core.studio.sets import Gradient, Pictured
from hollow_marble.core.studio.surround import needed_width
from hollow_marble.documents.form.evaluation import FormEvaluator
from hollow_marble.documents.form.model import Form
from hollow_marble.documents.studio.model import Artwork, Colourway, Finish, Light, Setting
from hollow_marble.documents.studio.staging import (
    facts_of,
    front_of,
    gain_of,
    in_picture,
    stage,
    surround_map,
)
from hollow_marble.documents.studio.staging.dressing import dressed, surface_of
from hollow_marble.documents.studio.staging.marks import OVER, laid_mark
from hollow_marble.documents.studio.staging.placing import StagedLamp, Staging
from hollow_marble.documents.studio.staging.scenes import look_on, marks_on, pixel_size, shares_at, sheets_seen, shown
from hollow_marble.documents.studio.staging.thrown import Thrown, reaching_product, thrown_back
from hollow_marble.documents.studio.staging.zones import faces_in, wearer_under, worn_over, zones_of


def staged(setting: Setting, form: Form, evaluator: FormEvaluator, colourways: tuple[Colourway, ...]) -> dict[str, Any]:
    """What the live view and the plan show of a setting."""
    staging = stage(setting, form, evaluator)
    lens, first = staging.lens, staging.units[0]
    around = surround_map(setting, evaluator.load, evaluator.shelf)
    bare = {"white": "white", "shadow": "through", "black": "black"}.get(setting.set.kind)
    worn = {unit.colourway for unit in setting.units}
    wearers = [part.id for part in form.parts] + [zone.id for zone in setting.zones]
    pixel = pixel_size(staging, LIVE_WIDE)
    thrown = thrown_back(staging, around)

    def looks(finishes: dict[str, Finish]) -> dict[str, Any]:
        found = {}
        for wearer in wearers:
            finish = finishes.get(wearer, Finish())
            surface = surface_of(finish, evaluator.load, evaluator.shelf)
            sheets = sheets_seen(finish, surface, pixel)
            found[wearer] = {**asdict(look_on(surface)), "sheets": asdict(sheets)}
        return found

    return {
        "centre": staging.centre.tolist(),
        "low": first.low.tolist(),
        "high": first.high.tolist(),
        "lens": {
            "place": lens.place.tolist(),
            "right": lens.right.tolist(),
            "up": lens.up.tolist(),
            "forward": lens.forward.tolist(),
            "view": lens.view,
            "shift": (lens.shift[0] / FRAME_WIDTH, lens.shift[1] / FRAME_WIDTH),
        },
        "units": [
            {"id": unit.unit.id, "matrix": unit.matrix.reshape(-1).tolist(), "colourway": unit.unit.colourway}
            for unit in staging.units
        ],
        "lamps": [_lamp(lamp, staging, thrown) for lamp in staging.lamps],
        "pieces": _pieces(setting, evaluator),
        "looks": looks(setting.finishes),
        "wardrobe": {way.id: looks(way.finishes) for way in colourways if way.id in worn},
        "room": around[0, 0].tolist() if around.shape[0] == 2 else None,
        "gain": gain_of(setting),
        "thrown": thrown.ground.tolist(),
        "shadow": setting.set.ground.shadow,
        "bare": bare,
        "facts": asdict(facts_of(setting, staging, evaluator.load, evaluator.shelf)),
        "marks": _marks(setting, form, evaluator),
        "zones": [
            {"id": zone.id, "part": part.id, "faces": faces_in(mesh, zone).tolist()}
            for part, mesh in in_picture(setting, form, evaluator)
            for zone in zones_of(setting, part)
        ],
        "map_wanted": _map_wanted(setting, form),
    }


def _map_wanted(setting: Setting, form: Form) -> int:
    """How wide a map of surroundings the smoothest finish in the picture wants, px."""
    parts = shown(form, setting)
    wearers = [part.id for part in parts] + [zone.id for part in parts for zone in zones_of(setting, part)]
    made = [setting.finishes.get(wearer, Finish()).made() for wearer in wearers]
    return needed_width(min((one.sharpest for one in made), default=1.0))


LIVE_WIDE = 780
"""Px of the width of the live view."""


def _lamp(lamp: StagedLamp, staging: Staging, thrown: Thrown) -> dict[str, Any]:
    shape, stood, placed = lamp.shape, lamp.stood, lamp.placed
    width, tall = shape.extent
    radiance = thrown.cards[lamp.id] if lamp.id in thrown.cards else reaching_product(lamp, staging)
    within = placed.lit_within if isinstance(placed, Light) else None
    return {
        "id": lamp.id,
        "kind": placed.kind,  # type: ignore[attr-defined]
        "middle": stood.middle.tolist(),
        "across": (stood.right * width / 2).tolist(),
        "up": (stood.up * tall / 2).tolist(),
        "round": shape.round,
        "hole": shape.hole,
        "rim": shape.profile.rim,
        "radiance": radiance.tolist(),
        "lit_within": within and tuple(math.cos(math.radians(angle)) for angle in within),
        "cast": thrown.shares.get(lamp.id, 0.0),
        "sheets": [
            stood.placed(sheet, ahead).tolist()
            for screen, ahead in lamp.screens
            if len(screen.sheets) <= 40
            for sheet in screen.sheets
        ],
    }


def _pieces(setting: Setting, evaluator: FormEvaluator) -> list[dict[str, Any]]:
    found = []
    for piece in setting.set.pieces(front_of(setting)):
        surface, _ = dressed(piece.dress, setting.set.ground, evaluator.load, evaluator.shelf)
        look: Look = look_of(surface.made)
        colours = None
        shares = shares_at(piece.points, surface, piece.points.min(axis=0))
        if shares is not None and surface.into is not None:
            colours = _between(look.colour, look_of(surface.into.made).colour, shares)
        if isinstance(piece.dress, Gradient):
            look = Look(_three(piece.dress.bottom), 0.0, 1.0, 1.5, 0.0, speck=0.0)
            colours = _between(look.colour, _three(piece.dress.top), piece.texture[:, 1])
        elif isinstance(piece.dress, Pictured):
            look = Look((piece.dress.brightness,) * 3, 0.0, 1.0, 1.5, 0.0, speck=0.0)
        found.append(
            {
                "points": piece.points.tolist(),
                "normals": piece.normals.tolist(),
                "triangles": piece.triangles.tolist(),
                "look": asdict(look),
                "colours": colours,
                "picture": piece.dress.picture if isinstance(piece.dress, Pictured) else None,
                "at": piece.texture.tolist(),
                "ground": piece.ground,
            }
        )
    return found


def _between(one: Colour, other: Colour, shares: NDArray[np.floating]) -> list[list[float]]:
    """(N, 3) colours between two, by how much of the other there is (N,)."""
    mixed: NDArray[np.float64] = np.array(one) + (np.array(other) - one) * shares[:, None]
    return [[float(value) for value in row] for row in mixed]


def _three(colour: str) -> tuple[float, float, float]:
    r, g, b = (float(v) for v in hex_to_linear(colour))
    return r, g, b


def _marks(setting: Setting, form: Form, evaluator: FormEvaluator) -> list[dict[str, Any]]:
    found = []
    for part, mesh in in_picture(setting, form, evaluator):
        covers = worn_over(mesh, part, zones_of(setting, part))
        for mark in marks_on(setting, part):
            worn = setting.finishes.get(wearer_under(covers, mesh, mark.at), Finish())
            laid = laid_mark(mark, mesh, worn, evaluator.load, evaluator.shelf)
            look = look_of((worn if mark.way == "relief" else mark.worn).made())
            found.append(
                {
                    "id": mark.id,
                    "points": (laid.piece.points + OVER * laid.piece.normals).tolist(),
                    "normals": laid.piece.normals.tolist(),
                    "triangles": laid.piece.triangles.tolist(),
                    "at": (laid.at / (mark.width, laid.tall)).tolist(),
                    "look": asdict(look),
                    "own": mark.way == "print" and isinstance(mark.what, Artwork),
                    "picture": mark.model_dump_json(include={"id", "part", "what", "at"}),
                }
            )
    return found
