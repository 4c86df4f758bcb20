"""What a setting means: light in lux and stops, shadows, the sharp part, and whether the frame leaves the set."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.shelf import Shelf
from hollow_marble.core.studio.camera import NORMAL_EXPOSURE, depth_of_field, shutter
from hollow_marble.core.studio.colour import hex_to_linear
from hollow_marble.core.studio.emitters import Pieces
from hollow_marble.core.studio.meaning import STANDS_OFF, key_to_fill, meaning_of, rim_stands_off, side_lit
from hollow_marble.core.studio.sets import Piece
from hollow_marble.core.studio.shadows import softness
from hollow_marble.documents.edit import LoadAsset
from hollow_marble.documents.studio.model import Light, Setting
from hollow_marble.documents.studio.staging.placing import LUMINANCE, StagedLamp, Staging, azimuth_of
from hollow_marble.documents.studio.staging.scenes import front_of
from hollow_marble.documents.studio.staging.surroundings import surround_light, surround_map

Floats = NDArray[np.float64]

DARK_PRODUCT = 0.2
"""Reflectance a rim is reckoned with: that of a middling product."""


@dataclass(frozen=True)
class LampFacts:
    """What a lamp means: lux on the product, stops against the key on the side that faces the camera, widths of its shadow's edge at the end
    and at the sides (mm), a word for them, which side it lights, and for one from behind how far its rim stands off the backdrop (stops)."""

    lux: float
    stops: float | None
    shadow_end: float | None
    shadow_sides: float | None
    softness: str | None
    side: str
    rim: float | None
    stands_off: bool


@dataclass(frozen=True)
class Facts:
    """lamps by id; key to fill in stops; metered is the exposure value for a grey card at the product; near and far end of what is sharp,
    mm from what is focused on (None: all of it, or without end); seconds the shutter would be open; sides where the frame leaves the set."""

    lamps: dict[str, LampFacts]
    key_to_fill: float | None
    metered: float | None
    focus: float
    near: float | None
    far: float | None
    shutter: float | None
    beyond: tuple[str, ...]


def facts_of(setting: Setting, staging: Staging, load: LoadAsset, shelf: Shelf) -> Facts:
    """What the choices mean, reckoned at the middle of the first product."""
    centre, lens = staging.centre, staging.lens
    towards = (lens.place - centre) / np.linalg.norm(lens.place - centre)
    lit = [lamp for lamp in staging.lamps if isinstance(lamp.placed, Light) and lamp.radiance.max() > 0]
    by_role = {lamp.placed.role: lamp for lamp in reversed(lit) if isinstance(lamp.placed, Light)}
    key = by_role.get("key")
    given = {lamp.id: lamp.reaching(centre) for lamp in lit}
    strength = float(given[key.id].onto(centre, towards).sum()) if key else None
    behind = _behind(setting, staging, lit)
    lamps = {}
    for lamp in lit:
        found = meaning_of(given[lamp.id], centre, towards, strength)
        edge = found.edge
        wide = math.inf if edge.end is None or edge.sides is None else math.sqrt(edge.end * edge.sides)
        side = side_lit(azimuth_of(lamp.placed, setting), setting.camera.azimuth)
        rim = _rim(lamp, given[lamp.id], staging, behind) if side == "from behind" else None
        stops = None if key is not None and lamp.id == key.id else found.stops
        lamps[lamp.id] = LampFacts(
            found.lux, stops, edge.end, edge.sides, softness(wide), side, rim, rim is not None and rim >= STANDS_OFF
        )
    ratio = None
    if key and (fill := by_role.get("fill")):
        pair = [float(given[lamp.id].onto(centre, towards).sum()) for lamp in (key, fill)]
        ratio = key_to_fill(*pair) if min(pair) > 0 else None
    return Facts(
        lamps,
        ratio,
        _metered(setting, sum(float(one.onto(centre, towards).sum()) for one in given.values()), towards, load, shelf),
        *_sharp(setting, staging),
        beyond_of(setting, staging),
    )


def _sharp(setting: Setting, staging: Staging) -> tuple[float, float | None, float | None, float | None]:
    camera, lens = setting.camera, staging.lens
    if camera.aperture is None:
        return lens.focus, None, None, None
    sharp = depth_of_field(camera.focal, camera.aperture, lens.focus)
    far = None if sharp.far is None else sharp.far - lens.focus
    return lens.focus, lens.focus - sharp.near, far, shutter(camera.aperture, camera.exposure)


def _metered(setting: Setting, total: float, towards: Floats, load: LoadAsset, shelf: Shelf) -> float | None:
    """Exposure value at which a card of any grey that stands at the product and faces the camera comes out as it is: by what lamps and
    surroundings give it, without what the set throws back; `total` is what the lamps give."""
    total += float(surround_light(surround_map(setting, load, shelf), towards) @ LUMINANCE)
    return NORMAL_EXPOSURE + math.log2(total / math.pi) if total > 0 else None


def _behind(setting: Setting, staging: Staging, lamps: list[StagedLamp]) -> tuple[float, float, float]:
    """Radiance of the set behind the product, to the left and to the right of it as the camera sees it; nothing where there is no set."""
    pieces = setting.set.pieces(front_of(setting))
    lens, centre = staging.lens, staging.centre
    half = float(np.linalg.norm(staging.units[0].high - staging.units[0].low)) / 2
    found = []
    for side in (-1.0, 0.0, 1.0):
        way = centre + side * half * lens.right - lens.place
        met = meets(pieces, lens.place, way[None] / np.linalg.norm(way))
        piece = met[1][0]
        if piece < 0:
            found.append(surround_radiance(setting))
            continue
        there = lens.place + way / np.linalg.norm(way) * met[0][0]
        normal = pieces[piece].normals[0] if len(pieces[piece].normals) == 4 else _upright(way)
        light = sum(float(lamp.reaching(there).onto(there, normal).sum()) for lamp in lamps)
        dress = pieces[piece].dress
        colour = hex_to_linear(dress) if isinstance(dress, str) else np.full(3, 0.3)
        found.append(float(colour @ LUMINANCE) * light / math.pi)
    return found[0], found[1], found[2]


def surround_radiance(setting: Setting) -> float:
    """Radiance of the bare room."""
    return float(2.0 ** (setting.surround.room + setting.surround.strength))


def _upright(way: Floats) -> Floats:
    level = way * (1, 1, 0)
    return -level / max(float(np.linalg.norm(level)), 1e-9)


def _rim(lamp: StagedLamp, given: Pieces, staging: Staging, behind: tuple[float, float, float]) -> float:
    """Stops by which the edge of the product on the lamp's side stands off what is behind it."""
    lens = staging.lens
    beside = float((lamp.stood.middle - staging.centre) @ lens.right)
    over = float((lamp.stood.middle - staging.centre) @ lens.up)
    edge = beside * lens.right + over * lens.up
    edge /= max(float(np.linalg.norm(edge)), 1e-9)
    light = float(given.onto(staging.centre, edge).sum())
    dark = behind[1] if abs(over) > abs(beside) else behind[0] if beside < 0 else behind[2]
    return rim_stands_off(light, DARK_PRODUCT, dark)


def meets(pieces: list[Piece], start: Floats, ways: Floats) -> tuple[Floats, NDArray[np.int64]]:
    """(R,) how far from a place (3,) along directions (R, 3) a set is met first, and which of its pieces it is, -1 for none."""
    away, which = np.full(len(ways), np.inf), np.full(len(ways), -1)
    for number, piece in enumerate(pieces):
        corners = piece.points[piece.triangles]
        a, b = corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]
        # Möller & Trumbore 1997
        p = np.cross(ways[:, None], b[None])
        det = (p * a).sum(-1)
        with np.errstate(divide="ignore", invalid="ignore"):
            t0 = start - corners[:, 0]
            u = (p * t0).sum(-1) / det
            q = np.cross(t0, a)
            v = (ways @ q.T) / det
            t = (q * b).sum(-1) / det
        hit = (np.abs(det) > 1e-12) & (u >= 0) & (v >= 0) & (u + v <= 1) & (t > 1e-6)
        near = np.where(hit, t, np.inf).min(axis=1)
        which[near < away] = number
        away = np.minimum(away, near)
    return away, which


_ALONG = 24


def beyond_of(setting: Setting, staging: Staging, aspect: float = 1.6) -> tuple[str, ...]:
    """Sides of the frame at which the set is not behind the picture."""
    if setting.set.endless or setting.surround.seen:
        return ()
    width, height = 1000, round(1000 / aspect)
    at = (np.arange(_ALONG) + 0.5) / _ALONG
    sides = {
        "left": np.stack([np.zeros(_ALONG), at * height], axis=1),
        "right": np.stack([np.full(_ALONG, width), at * height], axis=1),
        "top": np.stack([at * width, np.zeros(_ALONG)], axis=1),
        "bottom": np.stack([at * width, np.full(_ALONG, height)], axis=1),
    }
    pieces = setting.set.pieces(front_of(setting))
    ways = staging.lens.rays(np.concatenate(list(sides.values())), width, height)
    lost = meets(pieces, staging.lens.place, ways)[1].reshape(4, _ALONG) < 0
    return tuple(name for name, missing in zip(sides, lost) if missing.any())


def widened(setting: Setting, staging: Staging, aspect: float) -> Setting:
    """The setting with a set that reaches past all edges of the frame, as far as its limits go."""
    for _ in range(24):
        beyond = beyond_of(setting, staging, aspect)
        if not beyond:
            break
        fields = setting.set.grown(beyond)
        if not fields:
            break
        setting = setting.model_copy(
            update={"set": type(setting.set).model_validate({**setting.set.model_dump(), **fields})}
        )
    return setting


__all__ = ["Facts", "LampFacts", "beyond_of", "facts_of", "meets", "widened"]
