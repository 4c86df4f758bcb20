"""Which of a part's faces wear what."""

from __future__ import annotations

import hashlib
from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.bodies.body import BodyMesh
from hollow_marble.documents.form.model import Part
from hollow_marble.documents.studio.model import Setting, Zone


@dataclass(frozen=True, eq=False)
class Worn:
    """What wears one finish: `wearer` is the id of a part or a zone, `triangles` (T, 3) those of the part's mesh that it covers, which `key`
    names among all that may be covered of it."""

    wearer: str
    triangles: NDArray[np.uint32]
    key: str


def zones_of(setting: Setting, part: Part) -> list[Zone]:
    """The zones of a part."""
    return [zone for zone in setting.zones if zone.part == part.id]


def worn_over(mesh: BodyMesh, part: Part, zones: Iterable[Zone]) -> list[Worn]:
    """A part's mesh by what its faces wear: every triangle once; what has no triangle is left out."""
    zones = list(zones)
    cut = hashlib.sha256("|".join(",".join(zone.faces) for zone in zones).encode()).hexdigest() if zones else ""
    left = np.ones(len(mesh.triangles), bool)
    found = []
    for zone in zones:
        inside = np.isin(mesh.triangle_faces(), faces_in(mesh, zone)) & left
        left &= ~inside
        if inside.any():
            found.append(Worn(zone.id, mesh.triangles[inside], zone.id + cut))
    if left.all():
        return [Worn(part.id, mesh.triangles, "")]
    return ([Worn(part.id, mesh.triangles[left], cut)] if left.any() else []) + found


def wearer_under(covers: list[Worn], mesh: BodyMesh, place: tuple[float, float, float]) -> str:
    """Whose finish lies at a place (3,) of a part: what covers the nearest of its triangles."""
    if len(covers) == 1:
        return covers[0].wearer

    def away(cover: Worn) -> float:
        middles = mesh.positions[cover.triangles].mean(axis=1)
        return float(((middles - np.array(place)) ** 2).sum(axis=1).min())

    return min(covers, key=away).wearer


def faces_in(mesh: BodyMesh, zone: Zone) -> NDArray[np.int64]:
    """Numbers of the mesh's faces that are in a zone; those that its recipe no longer makes are passed over."""
    keys = np.array([int(key, 16) for key in zone.faces], np.uint64)
    return np.flatnonzero(np.isin(mesh.face_keys, keys))
