"""A setting as a scene to be traced."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.bodies.body import BodyMesh
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.render.poured import poured
from hollow_marble.core.render.scene import Backdrop, Body, Glowing, Scene, Sheet, Surface
from hollow_marble.core.studio.camera import NORMAL_EXPOSURE
from hollow_marble.core.studio.colour import warmth_to_rgb
from hollow_marble.core.studio.finishes import Colour, Look, Made, look_of
from hollow_marble.core.studio.mapping import Laid, Way, laid
from hollow_marble.core.surface.unrolling import Unrolled
from hollow_marble.documents.form.evaluation import FormEvaluator
from hollow_marble.documents.form.model import Form, Part
from hollow_marble.documents.studio.model import Card, Colourway, Finish, Mark, Setting
from hollow_marble.documents.studio.model.sets import Black, ShadowOnly, White
from hollow_marble.documents.studio.staging.dressing import dressed, grain_of, surface_of, way_of
from hollow_marble.documents.studio.staging.marks import OVER, cut_out
from hollow_marble.documents.studio.staging.placing import StagedLamp, StagedUnit, Staging, stage
from hollow_marble.documents.studio.staging.surroundings import surround_map
from hollow_marble.documents.studio.staging.zones import Worn, wearer_under, worn_over, zones_of

Floats = NDArray[np.float64]

PIXEL_SHARE = 0.25
"""How far a body's outline may be off in a picture, as a share of a pixel at the product; normals are exact at any fineness."""

BLACK = Made("scatter", (0.0, 0.0, 0.0))
CARDS = {
    "white": Made("scatter", (0.88, 0.88, 0.87)),
    "silver": Made("metal", (0.86, 0.86, 0.85), (0.3, 0.3)),
    "black": Made("scatter", (0.025, 0.025, 0.025)),
}
"""White card board, crumpled foil, black velvet (common practice)."""


def front_of(setting: Setting) -> float:
    """How far the floor reaches in front of the product: behind the camera."""
    return setting.camera.distance + 400.0


def scene_of(
    setting: Setting, form: Form, evaluator: FormEvaluator, width: int = 960, colourways: tuple[Colourway, ...] = ()
) -> Scene:
    """The scene of a setting, ready to trace as a picture so many px wide. `colourways` are those its units may wear."""
    parts = shown(form, setting)
    if not parts:
        raise HollowMarbleError("There is nothing to photograph yet. Begin a part in Form first.")
    staging = stage(setting, form, evaluator)
    check_outside(staging)
    bodies = _set_bodies(setting, evaluator)
    tolerance = PIXEL_SHARE * pixel_size(staging, width)
    wardrobe = {one.id: one.finishes for one in colourways}
    surfaces: dict[str, Surface] = {}
    for part in parts:
        mesh = evaluator.taken(part, tolerance, form.parts)
        covered = worn_over(mesh, part, zones_of(setting, part))
        for unit in staging.units:
            finishes = wardrobe.get(unit.unit.colourway or "", setting.finishes)
            for cover in covered:
                worn = finishes.get(cover.wearer, Finish())
                name = worn.model_dump_json()
                if name not in surfaces:
                    surfaces[name] = surface_of(worn, evaluator.load, evaluator.shelf)
                bodies.append(_part_body(mesh, cover, worn, surfaces[name], unit, evaluator))
            for mark in marks_on(setting, part):
                worn = finishes.get(wearer_under(covered, mesh, mark.at), Finish())
                skin, piece, at = cut_out(mark, mesh, worn, evaluator.load, evaluator.shelf)
                bodies.append(_mark_body(skin.surface, piece, at, mesh, unit))
    bodies = poured(bodies)
    lamps = []
    for lamp in staging.lamps:
        bodies += _lamp_bodies(lamp)
        if lamp.radiance.max() > 0:
            lamps.append(_glowing(lamp))
    chosen = setting.set
    backdrop = Backdrop(chosen.ground.shadow, isinstance(chosen, White), isinstance(chosen, ShadowOnly))
    surround = surround_map(setting, evaluator.load, evaluator.shelf)
    seen = setting.surround.seen and not isinstance(chosen, Black)
    return Scene(bodies, lamps, staging.lens, surround, seen, gain_of(setting), backdrop)


def gain_of(setting: Setting) -> tuple[float, float, float]:
    """What a picture is multiplied with for its exposure and white balance (3,)."""
    gain = 2.0 ** (NORMAL_EXPOSURE - setting.camera.exposure) / warmth_to_rgb(setting.camera.white)
    r, g, b = (float(v) for v in gain)
    return r, g, b


def check_outside(staging: Staging) -> None:
    """Raises HollowMarbleError where the camera is in a product: all it would see is the inside of a shell."""
    place = staging.lens.place
    for unit in staging.units:
        if (place > unit.low).all() and (place < unit.high).all():
            raise HollowMarbleError("The camera stands inside the product. Move it further away.")


def pixel_size(staging: Staging, width: int) -> float:
    """How many mm of the product's middle a pixel shows, in a picture so many px wide."""
    away = float(np.linalg.norm(staging.lens.place - staging.centre))
    return 2 * away * float(np.tan(staging.lens.view / 2)) / width


def shown(form: Form, setting: Setting | None = None) -> list[Part]:
    """The parts that are in the picture."""
    hidden = set(setting.hidden) if setting is not None else set()
    return [part for part in form.parts if part.shown and part.id not in hidden]


@dataclass(frozen=True)
class SheetsSeen:
    """What is laid on a finish (its JSON) and can be told in a picture: how wide and tall each sheet lies, mm; of the relief also from its
    lowest place to its highest."""

    finish: str
    colour: tuple[float, float] | None = None
    relief: tuple[float, float, float] | None = None
    rough: tuple[float, float] | None = None


def sheets_seen(finish: Finish, surface: Surface, pixel: float) -> SheetsSeen:
    """What of the sheets on a finish's surface is seen where a pixel shows so many mm; a grain finer than that is not."""
    grain = grain_of(finish)
    fine = grain is not None and grain.size < 1.5 * pixel and not finish.pictures

    def size(sheet: Sheet | None) -> tuple[float, float] | None:
        return None if sheet is None or fine else (sheet.wide, sheet.tall)

    relief = size(surface.relief)
    deep = float(np.ptp(surface.relief.pixels)) if surface.relief is not None else 0.0
    return SheetsSeen(finish.model_dump_json(), size(surface.colour), relief and (*relief, deep), size(surface.rough))


def look_in(finish: Finish, evaluator: FormEvaluator) -> Look:
    """How a finish is drawn by a metal-and-roughness renderer."""
    return look_on(surface_of(finish, evaluator.load, evaluator.shelf))


def look_on(surface: Surface) -> Look:
    """How a surface is drawn by a metal-and-roughness renderer. What is laid on it in colour counts by its mean."""
    look = replace(look_of(surface.made), colour=_mean(surface.made, surface.colour))
    if surface.into is None:
        return look
    return replace(look, ramp=surface.into.ramp, last=_mean(surface.into.made, surface.into.colour))


def _mean(made: Made, sheet: Sheet | None) -> Colour:
    if sheet is None:
        return look_of(made).colour
    r, g, b = (float(v) for v in sheet.pixels.mean(axis=(0, 1)))
    return r, g, b


def _set_bodies(setting: Setting, evaluator: FormEvaluator) -> list[Body]:
    bodies = []
    for piece in setting.set.pieces(front_of(setting)):
        surface, at = dressed(piece.dress, setting.set.ground, evaluator.load, evaluator.shelf)
        shares = shares_at(piece.points, surface, piece.points.min(axis=0))
        bodies.append(_body(piece.points, piece.normals, piece.triangles, surface, at(piece.texture), shares))
    return bodies


def _part_body(
    mesh: BodyMesh, piece: Worn, finish: Finish, surface: Surface, unit: StagedUnit, evaluator: FormEvaluator
) -> Body:
    points, normals, triangles = (
        mesh.positions.astype(np.float64),
        mesh.normal_vectors().astype(np.float64),
        piece.triangles,
    )
    texture = None
    if (
        surface.colour is not None
        or surface.relief is not None
        or surface.rough is not None
        or surface.made.flakes[0]
        or surface.made.alpha[0] != surface.made.alpha[1]
    ):
        spread = textured(mesh, piece, way_of(finish), evaluator)
        points, normals, triangles, texture = (
            points[spread.point],
            normals[spread.point],
            spread.triangles.astype(np.uint32),
            spread.texture,
        )
    way = unit.matrix[:3, :3]
    shares = shares_at(points, surface, mesh.extent[0])
    return _body(
        points @ way.T + unit.matrix[:3, 3], normals @ way.T, triangles, surface, texture, shares, product=True
    )


def shares_at(points: Floats, surface: Surface, low: Floats) -> NDArray[np.float32] | None:
    """(N,) how much points (N, 3) of a thing have of what its surface runs into; None where it runs into nothing. `low` : (3,) its low corner."""
    if surface.into is None:
        return None
    ramp = surface.into.ramp
    return ramp.shares(points, float(low[ramp.axis]))


def textured(mesh: BodyMesh, piece: Worn, way: Way, evaluator: FormEvaluator) -> Laid:
    """Texture coordinates of what wears a finish, laid as on the whole part; worked out once."""
    return evaluator.shelf.get(
        "laid",
        (mesh.key, way, piece.key),
        lambda: laid(
            mesh.positions.astype(np.float64),
            mesh.normal_vectors().astype(np.float64),
            piece.triangles,
            way,
            mesh.patch_starts,
        ),
    )


def marks_on(setting: Setting, part: Part) -> list[Mark]:
    """The marks that are seen on a part."""
    return [mark for mark in setting.marks if mark.part == part.id and mark.on]


def _mark_body(surface: Surface, piece: Unrolled, at: Floats, mesh: BodyMesh, unit: StagedUnit) -> Body:
    way = unit.matrix[:3, :3]
    points = (piece.points + OVER * piece.normals) @ way.T + unit.matrix[:3, 3]
    shares = shares_at(piece.points, surface, mesh.extent[0])
    return _body(points, piece.normals @ way.T, piece.triangles, surface, at, shares, product=True)


def _lamp_bodies(lamp: StagedLamp) -> list[Body]:
    """What stands there beside the glowing of a lamp: a card, and what is before a lamp."""
    bodies = []
    if isinstance(lamp.placed, Card):
        flat = lamp.stood.placed(lamp.shape.points)
        normals = np.tile(lamp.stood.forward, (len(flat), 1))
        bodies.append(_body(flat, normals, lamp.shape.triangles, Surface(CARDS[lamp.placed.surface])))
    for screen, ahead in lamp.screens:
        sheets = screen.sheets
        if not len(sheets):
            continue
        places = lamp.stood.placed(sheets.reshape(-1, 3), ahead)
        corner = 4 * np.arange(len(sheets))[:, None]
        triangles = np.concatenate([corner + np.array(way) for way in ((0, 1, 2), (0, 2, 3))])
        across = np.cross(places[1::4] - places[::4], places[3::4] - places[::4])
        across /= np.maximum(np.linalg.norm(across, axis=1, keepdims=True), 1e-12)
        bodies.append(_body(places, np.repeat(across, 4, axis=0), triangles, Surface(BLACK)))
    return bodies


def _glowing(lamp: StagedLamp) -> Glowing:
    r, g, b = (float(v) for v in lamp.radiance)
    picture = None if lamp.shape.profile.even else lamp.shape.picture()
    return Glowing(
        lamp.stood.placed(lamp.shape.points),
        lamp.shape.triangles,
        (r, g, b),
        None if picture is None else lamp.shape.texture,
        picture,
    )


def _body(
    points: Floats,
    normals: Floats,
    triangles: NDArray[np.integer],
    surface: Surface,
    texture: NDArray[np.floating] | None = None,
    shares: NDArray[np.float32] | None = None,
    *,
    product: bool = False,
) -> Body:
    at = None if texture is None else np.asarray(texture, np.float32)
    return Body(
        points.astype(np.float32),
        normals.astype(np.float32),
        triangles.astype(np.uint32),
        surface,
        at,
        product,
        shares,
    )
