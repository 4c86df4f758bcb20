"""Wavefront OBJ: cages in and out. Lengths mm, z up."""

from __future__ import annotations

import numpy as np

from hollow_marble.core.cage.mesh import Cage, cage_from_faces, faces_of
from hollow_marble.core.errors import HollowMarbleError

MOST_FACES = 50_000
MOST_CORNERS = 400_000
"""Of all faces of a cage together."""


def cage_to_obj(cage: Cage, name: str) -> bytes:
    """OBJ text of a cage. Coordinates are written in full, so reading back gives the same bits; creases have no place in the format."""
    lines = [f"# cage of {' '.join(name.split())}, millimetres, z up", f"o {'_'.join(name.split()) or 'cage'}"]
    creases = len(cage.crease_edges) + len(cage.corner_points)
    if creases:
        lines.insert(
            1, f"# {creases} creases and sharp corners are left out: this format has no place for them, PLY has"
        )
    lines += [f"v {x!r} {y!r} {z!r}" for x, y, z in cage.points.tolist()]
    lines += ["f " + " ".join(str(p + 1) for p in face) for face in faces_of(cage)]
    return ("\n".join(lines) + "\n").encode()


def read_faces(data: bytes, name: str) -> tuple[np.ndarray, list[list[int]]]:
    """Points (P, 3) and faces of an OBJ file.

    Raises
    ------
    HollowMarbleError
        where a line cannot be read or the file holds no faces.
    """
    points: list[list[float]] = []
    faces: list[list[int]] = []
    corners_read = 0
    for number, line in enumerate(data.decode("utf-8", "replace").splitlines(), 1):
        words = line.split()
        try:
            if words[:1] == ["v"]:
                points.append([float(words[1]), float(words[2]), float(words[3])])
            elif words[:1] == ["f"]:
                corners = [int(word.split("/")[0]) for word in words[1:]]
                faces.append([c - 1 if c > 0 else len(points) + c for c in corners])
        except (ValueError, IndexError) as error:
            raise HollowMarbleError(
                f"Line {number} of {name} cannot be read: “{line[:60]}”. Export the file again."
            ) from error
        if words[:1] == ["f"]:
            corners_read += len(words) - 1
        if len(faces) > MOST_FACES or corners_read > MOST_CORNERS:
            raise HollowMarbleError(
                f"{name} has more than {MOST_FACES:,} faces, too many to shape as a cage. Reduce it and try again."
            )
    if not faces:
        raise HollowMarbleError(f"{name} holds no faces, so there is no cage in it. Choose another file.")
    return np.array(points, float).reshape(-1, 3), faces


def obj_to_cage(data: bytes, name: str) -> Cage:
    """The cage in an OBJ file; points that no face uses are left out."""
    points, faces = read_faces(data, name)
    used = sorted({p for face in faces for p in face if 0 <= p < len(points)})
    place = {p: k for k, p in enumerate(used)}
    if any(p not in place for face in faces for p in face):
        raise HollowMarbleError(f"A face in {name} uses a point that does not exist. Export the file again.")
    return cage_from_faces(points[used], [[place[p] for p in face] for face in faces])
