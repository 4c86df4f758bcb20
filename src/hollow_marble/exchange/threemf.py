"""3MF (3MF Consortium, core specification 1.3): parts as named meshes in millimetres, each in its finish's colour."""

from __future__ import annotations

import ctypes

import numpy as np

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.studio.colour import to_srgb
from hollow_marble.exchange.meshes import NamedMesh


def threemf(meshes: list[NamedMesh]) -> bytes:
    """A 3MF package of meshes, one object each, written by the Consortium's library.

    Raises
    ------
    HollowMarbleError
        where a mesh is not closed: such a package is printed, and an open skin has no inside.
    """
    import lib3mf

    wrapper = lib3mf.get_wrapper()
    model = wrapper.CreateModel()
    model.SetUnit(lib3mf.ModelUnit.MilliMeter)
    finishes = model.AddBaseMaterialGroup()
    opened = []
    for mesh in meshes:
        item = model.AddMeshObject()
        item.SetName(mesh.name)
        item.SetGeometry(
            _structures(np.asarray(mesh.points, "<f4"), lib3mf.Position),
            _structures(np.asarray(mesh.triangles, "<u4"), lib3mf.Triangle),
        )
        if not item.IsManifoldAndOriented():
            opened.append(mesh.name)
        colour = lib3mf.Color(*np.rint(255 * to_srgb(np.array(mesh.look.mean[:3]))).astype(int).tolist(), 255)
        item.SetObjectLevelProperty(finishes.GetResourceID(), finishes.AddMaterial(mesh.name, colour))
        model.AddBuildItem(item, wrapper.GetIdentityTransform())
    if opened:
        raise HollowMarbleError(
            f"{', '.join(opened[:3])}: not closed, so it has no inside to be printed. Close it, or hide it and try again."
        )
    written = model.QueryWriter("3mf")
    return bytes(written.WriteToBuffer())


def _structures(rows: np.ndarray, kind: type[ctypes.Structure]) -> ctypes.Array[ctypes.Structure]:
    """Rows of three as the library's structures, which lie in memory as they do."""
    return (kind * len(rows)).from_buffer_copy(np.ascontiguousarray(rows).tobytes())
