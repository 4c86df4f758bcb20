"""A form's parts as meshes in open formats."""

from __future__ import annotations

import numpy as np

from hollow_marble.core.cage.weld import welded_mesh
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.edit import find
from hollow_marble.documents.form.evaluation import FormEvaluator, Shaped
from hollow_marble.documents.form.model import Form
from hollow_marble.exchange import meshes
from hollow_marble.exchange.obj import cage_to_obj
from hollow_marble.exchange.ply import cage_to_ply

FORMATS = {
    "glb": "model/gltf-binary",
    "stl": "model/stl",
    "ply": "application/octet-stream",
    "obj": "model/obj",
    "cage.ply": "application/octet-stream",
}


def export(form: Form, evaluator: FormEvaluator, kind: str, part: str | None = None) -> bytes:
    """Bytes of one part, or of all shown parts; OBJ holds one part's cage, the others the skin."""
    parts = [find(form.parts, part, "part")] if part else [p for p in form.parts if p.visible]
    if not parts:
        raise HollowMarbleError("There is nothing to export yet. Begin a part in Form first.")
    if kind in ("obj", "cage.ply"):
        if len(parts) > 1:
            raise HollowMarbleError("A cage file holds the cage of one part. Choose the part to export.")
        cage = evaluator.cage(parts[0])
        return cage_to_obj(cage, parts[0].name) if kind == "obj" else cage_to_ply(cage, parts[0].name)
    if kind == "glb":
        named = []
        for one in parts:
            shaped = evaluator.body(one)
            normals = shaped.skin.normals[:, :3] / 32767.0
            # where patches meet each has its own point and normal, but the place must be one to the last bit
            places = shaped.skin.positions.astype(np.float64)
            if isinstance(shaped, Shaped):
                numbers = evaluator.weld(shaped)
                places = welded_mesh(shaped.skin.positions, shaped.triangles, numbers)[0][numbers]
            named.append(meshes.NamedMesh(one.name, places, shaped.triangles, normals))
        return meshes.glb(named)
    if kind not in FORMATS:
        raise HollowMarbleError("Choose glb, stl, ply, obj or cage.ply.")
    welded = [meshes.NamedMesh(one.name, *evaluator.mesh(one)) for one in parts]
    return meshes.stl(welded) if kind == "stl" else meshes.ply(welded)
