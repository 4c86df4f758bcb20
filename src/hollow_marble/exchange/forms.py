"""A form's parts as meshes and cages in open formats."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.bodies.body import BodyMesh
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.studio.finishes import Look
from hollow_marble.documents.edit import find
from hollow_marble.documents.form.evaluation import FormEvaluator
from hollow_marble.documents.form.model import Form, Part
from hollow_marble.exchange import meshes
from hollow_marble.exchange.obj import cage_to_obj
from hollow_marble.exchange.ply import cage_to_ply
from hollow_marble.exchange.threemf import threemf

FORMATS = {
    "glb": "model/gltf-binary",
    "stl": "model/stl",
    "3mf": "model/3mf",
    "ply": "application/octet-stream",
    "skin.obj": "model/obj",
    "obj": "model/obj",
    "cage.ply": "application/octet-stream",
}
WORKED = {"stl": meshes.stl, "3mf": threemf, "ply": meshes.ply, "glb": meshes.glb, "skin.obj": meshes.obj}
"""Formats that hold the skin, and what writes them."""


class Cover(NamedTuple):
    """Triangles (T, 3) of a part's mesh, how they are drawn, and under which name they stand in the file."""

    name: str
    triangles: NDArray[np.integer]
    look: Look


Dress = Callable[[Part, BodyMesh], Sequence[Cover]]
"""What covers a part's mesh, every triangle of it once."""


def undressed(part: Part, mesh: BodyMesh) -> Sequence[Cover]:
    """A part in no finish."""
    return [Cover(part.name, mesh.triangles, meshes.PLAIN)]


def export(form: Form, evaluator: FormEvaluator, kind: str, part: str | None = None, dress: Dress = undressed) -> bytes:
    """Bytes of one part, or of all shown parts; `obj` and `cage.ply` hold one part's cage, the others the skin."""
    parts = [find(form.parts, part, "part")] if part else [p for p in form.parts if p.shown]
    if not parts:
        raise HollowMarbleError("There is nothing to export yet. Begin a part in Form first.")
    if kind not in WORKED:
        return cage_file(parts, evaluator, kind)
    return WORKED[kind](named_meshes(parts, form, evaluator, kind, dress))


def cage_file(parts: Sequence[Part], evaluator: FormEvaluator, kind: str) -> bytes:
    """The cage of one part as OBJ or PLY."""
    if kind not in FORMATS:
        raise HollowMarbleError(f"Choose one of {', '.join(FORMATS)}.")
    if len(parts) > 1:
        raise HollowMarbleError("A cage file holds the cage of one part. Choose the part to export.")
    cage = evaluator.cage(parts[0])
    return cage_to_obj(cage, parts[0].name) if kind == "obj" else cage_to_ply(cage, parts[0].name)


def named_meshes(
    parts: Sequence[Part],
    form: Form,
    evaluator: FormEvaluator,
    kind: str,
    dress: Dress,
    tolerance: float | None = None,
) -> list[meshes.NamedMesh]:
    """The skins of parts as a format wants them, within `tolerance` mm of the surface or as fine as they are worked on: glTF with
    normals at every point and finishes, 3MF in one colour a part, the others plain; all but glTF welded."""
    found = []
    for part in parts:
        mesh = evaluator.body(part, form.parts).mesh(tolerance)
        if kind == "glb":
            # where patches meet each has its own point and normal, but the place must be one to the last bit
            places = mesh.welded()[0][mesh.joined()]
            normals = mesh.normal_vectors().astype(np.float64)
            for name, triangles, look in dress(part, mesh):
                used, corners = np.unique(triangles, return_inverse=True)
                found.append(meshes.NamedMesh(name, places[used], corners.reshape(-1, 3), normals[used], look))
        else:
            look = dress(part, mesh)[0].look if kind == "3mf" else meshes.PLAIN
            found.append(meshes.NamedMesh(part.name, *mesh.welded(), look=look))
    return found
