"""PLY: cages in and out, polygons with creases. Lengths mm, z up.

Creases stand in an element `edge` with `vertex1`, `vertex2` (the customary names of the format) and `crease`, the sharpness in
refinements; a corner's own sharpness in a vertex property `corner`.
"""

from __future__ import annotations

import io

import numpy as np
from plyfile import PlyData, PlyElement

from hollow_marble.core.cage.mesh import Cage, cage_from_faces, faces_of
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.exchange.claims import check_claims, check_count
from hollow_marble.exchange.obj import MOST_CORNERS, MOST_FACES


def cage_to_ply(cage: Cage, name: str) -> bytes:
    """Binary PLY of a cage in double precision, so that reading it back gives the same bits."""
    vertex = np.zeros(len(cage.points), [("x", "f8"), ("y", "f8"), ("z", "f8"), ("corner", "f8")])
    for axis, letter in enumerate("xyz"):
        vertex[letter] = cage.points[:, axis]
    vertex["corner"][cage.corner_points] = cage.corner_sharpness
    face = np.zeros(cage.face_count, [("vertex_indices", object)])
    for number, corners in enumerate(faces_of(cage)):
        face["vertex_indices"][number] = np.array(corners, np.int32)
    edge = np.zeros(len(cage.crease_edges), [("vertex1", "i4"), ("vertex2", "i4"), ("crease", "f8")])
    edge["vertex1"], edge["vertex2"] = cage.crease_edges[:, 0], cage.crease_edges[:, 1]
    edge["crease"] = cage.crease_sharpness
    elements = [
        PlyElement.describe(vertex, "vertex"),
        PlyElement.describe(face, "face", val_types={"vertex_indices": "i4"}, len_types={"vertex_indices": "u2"}),
        PlyElement.describe(edge, "edge"),
    ]
    out = io.BytesIO()
    comment = f"cage of {' '.join(name.split())}, millimetres, z up"
    PlyData(elements, text=False, byte_order="<", comments=[comment]).write(out)
    return out.getvalue()


def ply_to_cage(data: bytes, name: str) -> Cage:
    """The cage in a PLY file; points that no face uses are left out.

    Raises
    ------
    HollowMarbleError
        where the file cannot be read, holds no faces or too many, or its faces are not a sheet.
    """
    check_claims(data, "ply", name)
    try:
        content = PlyData.read(io.BytesIO(data))
        vertex = content["vertex"]
        points = np.column_stack([np.asarray(vertex[letter], float) for letter in "xyz"])
        own = {p.name for p in vertex.properties}
        corner = np.asarray(vertex["corner"], float) if "corner" in own else np.zeros(len(points))
        lists = content["face"][content["face"].properties[0].name] if "face" in content else []
    except Exception as error:
        raise HollowMarbleError(f"{name} cannot be read as PLY. Export it again and retry.") from error
    if len(lists) > MOST_FACES:
        raise HollowMarbleError(
            f"{name} has more than {MOST_FACES:,} faces, too many to shape as a cage. Bring it in as a still body, or "
            "reduce it."
        )
    check_count(sum(np.size(corners) for corners in lists), MOST_CORNERS, "corners of faces", name)
    faces = [[int(p) for p in np.ravel(corners)] for corners in lists]
    if not faces:
        raise HollowMarbleError(f"{name} holds no faces, so there is no cage in it. Choose another file.")
    if any(not 0 <= p < len(points) for corners in faces for p in corners):
        raise HollowMarbleError(f"A face in {name} uses a point that does not exist. Export the file again.")
    used = sorted({p for corners in faces for p in corners})
    place = {p: k for k, p in enumerate(used)}
    creases = {(place[p], place[p]): float(corner[p]) for p in used if corner[p] > 0}
    if "edge" in content:
        edge = content["edge"]
        named = {p.name for p in edge.properties}
        sharpness = next((edge[n] for n in ("crease", "sharpness") if n in named), None)
        if sharpness is not None and {"vertex1", "vertex2"} <= named:
            for a, b, value in zip(edge["vertex1"].tolist(), edge["vertex2"].tolist(), sharpness.tolist()):
                if a in place and b in place and value > 0:
                    creases[place[a], place[b]] = float(value)
    cage = cage_from_faces(points[used], [[place[p] for p in corners] for corners in faces], creases)
    topology = cage.topology
    if any(topology.edge_number(int(a), int(b)) < 0 for a, b in cage.crease_edges):
        raise HollowMarbleError(f"A crease in {name} is not on an edge of a face. Export the file again.")
    return cage
