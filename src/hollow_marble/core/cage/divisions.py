"""Too few divisions: where the skin turns or twists more within one face than it can follow gracefully."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.cage.mesh import Cage
from hollow_marble.core.cage.skin import Skin, SkinPlan

MOST_TURN = 120.0
MOST_TWIST = 30.0


@dataclass(frozen=True)
class Strained:
    """A face with too few divisions: degrees its skin turns within it, degrees its cage is twisted."""

    face: int
    turn: float
    twist: float


def strained_faces(cage: Cage, plan: SkinPlan, skin: Skin) -> list[Strained]:
    """Faces whose skin turns by more than `MOST_TURN` or whose cage is twisted by more than `MOST_TWIST`, worst first.

    The turn is the largest angle between the normals at two of a patch's corners; the twist of a quad is the larger angle
    between its two triangles, folded along either diagonal (common practice for warped quads).
    """
    turns = np.zeros(cage.face_count)
    for width in np.unique(plan.widths).tolist():
        patches = np.flatnonzero(plan.widths == width)
        at = plan.point_starts[patches][:, None] + np.array([0, width - 1, width * width - 1, width * (width - 1)])
        normals = skin.normals[at, :3] / 32767.0
        cosine = np.einsum("pik,pjk->pij", normals, normals).min(axis=(1, 2))
        np.maximum.at(turns, plan.patch_face[patches], np.degrees(np.arccos(np.clip(cosine, -1, 1))))
    twists = _twists(cage)
    found = [
        Strained(int(f), float(turns[f]), float(twists[f]))
        for f in np.flatnonzero((turns > MOST_TURN) | (twists > MOST_TWIST))
    ]
    return sorted(found, key=lambda one: -max(one.turn / MOST_TURN, one.twist / MOST_TWIST))


def _twists(cage: Cage) -> NDArray[np.float64]:
    result = np.zeros(cage.face_count)
    quads = np.flatnonzero(np.diff(cage.face_starts) == 4)
    if not len(quads):
        return result
    corners = cage.points[cage.face_points[cage.face_starts[quads][:, None] + np.arange(4)]]
    for first in (0, 1):
        a, b, c, d = (corners[:, (first + k) % 4] for k in range(4))
        one, other = np.cross(b - a, c - a), np.cross(c - a, d - a)
        size = np.linalg.norm(one, axis=1) * np.linalg.norm(other, axis=1)
        cosine = np.divide((one * other).sum(axis=1), size, out=np.ones(len(size)), where=size > 1e-12)
        result[quads] = np.maximum(result[quads], np.degrees(np.arccos(np.clip(cosine, -1, 1))))
    return result
