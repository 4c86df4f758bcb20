"""Triangle meshes: STL (binary), PLY (binary), OBJ and glTF 2.0 (binary) out; OBJ, STL and PLY in for checking.

STL, PLY and OBJ hold millimetres, z up. glTF holds metres, y up, as ISO/IEC 12113 asks, and the finishes: glass by Khronos' extensions
KHR_materials_transmission and KHR_materials_ior.
"""

from __future__ import annotations

import io
import re
import struct
from dataclasses import dataclass
from typing import Any

import numpy as np
import pygltflib as gltf
from numpy.typing import NDArray

from hollow_marble.core.bodies.still_body import MOST_TRIANGLES
from hollow_marble.core.cage.weld import joined_corners
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.studio.finishes import Look
from hollow_marble.exchange.claims import MOST_POINTS, check_claims, check_count, one_at_a_time
from hollow_marble.exchange.obj import read_faces

PLAIN = Look((0.6, 0.6, 0.6), 0.0, 0.5, 1.5, 0.0)


@dataclass(frozen=True)
class NamedMesh:
    """points (N, 3) mm, triangles (T, 3); normals (N, 3) where known; how its finish is drawn."""

    name: str
    points: NDArray[np.floating]
    triangles: NDArray[np.integer]
    normals: NDArray[np.floating] | None = None
    look: Look = PLAIN


def stl(meshes: list[NamedMesh]) -> bytes:
    """Binary STL of all meshes together."""
    corners = np.concatenate([m.points[m.triangles] for m in meshes]).astype("<f4")
    normals = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    normals /= np.maximum(np.linalg.norm(normals, axis=1), 1e-20)[:, None]
    record = np.zeros(len(corners), dtype=[("normal", "<f4", 3), ("corners", "<f4", (3, 3)), ("attribute", "<u2")])
    record["normal"], record["corners"] = normals, corners
    return b"Hollow Marble, millimetres".ljust(80) + struct.pack("<I", len(corners)) + record.tobytes()


def ply(meshes: list[NamedMesh]) -> bytes:
    """Binary little-endian PLY of all meshes together."""
    points = np.concatenate([m.points for m in meshes]).astype("<f4")
    offsets = np.cumsum([0, *(len(m.points) for m in meshes[:-1])])
    triangles = np.concatenate([m.triangles + offset for m, offset in zip(meshes, offsets)])
    header = (
        "ply\nformat binary_little_endian 1.0\ncomment Hollow Marble, millimetres, z up\n"
        f"element vertex {len(points)}\nproperty float x\nproperty float y\nproperty float z\n"
        f"element face {len(triangles)}\nproperty list uchar int vertex_indices\nend_header\n"
    )
    faces = np.zeros(len(triangles), dtype=[("count", "u1"), ("corners", "<i4", 3)])
    faces["count"], faces["corners"] = 3, triangles
    return header.encode() + points.tobytes() + faces.tobytes()


def glb(meshes: list[NamedMesh]) -> bytes:
    """Binary glTF, one node a mesh, in metres with y up."""
    document = gltf.GLTF2(asset=gltf.Asset(version="2.0", generator="Hollow Marble"))
    blob = b""
    for mesh in meshes:
        points = _y_up(np.asarray(mesh.points) / 1000.0)
        arrays: list[tuple[str, NDArray[np.floating] | NDArray[np.integer]]] = [("POSITION", points)]
        if mesh.normals is not None:
            lengths = np.linalg.norm(mesh.normals, axis=1)
            arrays.append(("NORMAL", _y_up(mesh.normals / np.maximum(lengths, 1e-9)[:, None])))
        attributes = gltf.Attributes()
        for label, values in arrays:
            setattr(attributes, label, len(document.accessors))
            blob += _add(document, values.astype("<f4"), gltf.FLOAT, gltf.VEC3, gltf.ARRAY_BUFFER, len(blob))
        index = len(document.accessors)
        corners = mesh.triangles.reshape(-1).astype("<u4")
        blob += _add(document, corners, gltf.UNSIGNED_INT, gltf.SCALAR, gltf.ELEMENT_ARRAY_BUFFER, len(blob))
        document.materials.append(_finish(mesh.name, mesh.look))
        primitive = gltf.Primitive(attributes=attributes, indices=index, material=len(document.materials) - 1)
        document.meshes.append(gltf.Mesh(name=mesh.name, primitives=[primitive]))
        document.nodes.append(gltf.Node(name=mesh.name, mesh=len(document.meshes) - 1))
    document.extensionsUsed = sorted({name for material in document.materials for name in material.extensions})
    document.scenes.append(gltf.Scene(nodes=list(range(len(document.nodes)))))
    document.scene = 0
    document.buffers.append(gltf.Buffer(byteLength=len(blob)))
    document.set_binary_blob(blob)
    return b"".join(document.save_to_bytes())


def _finish(name: str, look: Look) -> gltf.Material:
    shade = gltf.PbrMetallicRoughness(
        baseColorFactor=[*look.mean, 1.0], metallicFactor=look.metalness, roughnessFactor=look.roughness
    )
    extensions: dict[str, dict[str, float]] = {}
    if look.ior != _IOR_MEANT:
        extensions["KHR_materials_ior"] = {"ior": look.ior}
    if look.transmission:
        extensions["KHR_materials_transmission"] = {"transmissionFactor": look.transmission}
    return gltf.Material(name=name, pbrMetallicRoughness=shade, extensions=extensions)


_IOR_MEANT = 1.5
"""What glTF 2.0 means where a file says nothing (KHR_materials_ior)."""


def obj(meshes: list[NamedMesh]) -> bytes:
    """OBJ text of meshes, one object each; coordinates to a tenth of a micrometre."""
    lines = ["# skin, millimetres, z up"]
    before = 1
    for mesh in meshes:
        lines.append(f"o {'_'.join(mesh.name.split()) or 'part'}")
        lines += [f"v {x:.4f} {y:.4f} {z:.4f}" for x, y, z in np.asarray(mesh.points).tolist()]
        lines += [f"f {a} {b} {c}" for a, b, c in (mesh.triangles + before).tolist()]
        before += len(mesh.points)
    return ("\n".join(lines) + "\n").encode()


def read_triangles(data: bytes, kind: str, name: str) -> tuple[NDArray[np.float64], NDArray[np.int64]]:
    """Points (N, 3) mm, z up, and triangles (T, 3) of an OBJ, STL, PLY or glTF (binary) file as they stand in it.

    Raises
    ------
    HollowMarbleError
        where the file cannot be read, holds too much, less than it says, or triangles of points that do not exist.
    """
    if kind not in ("obj", "stl", "ply", "glb"):
        raise HollowMarbleError(f"{name} is of no kind that can be brought in. Choose an OBJ, STL, PLY or GLB file.")
    with one_at_a_time:
        return _read(data, kind, name)


def _read(data: bytes, kind: str, name: str) -> tuple[NDArray[np.float64], NDArray[np.int64]]:
    import trimesh

    check_claims(data, kind, name)
    if kind == "obj" and _NOUGHT.search(data):
        raise HollowMarbleError(f"A face in {name} uses a point that does not exist. Export the file again.")
    if kind == "obj" and _RELATIVE.search(data):
        points, faces = read_faces(data, name)  # counted from the last point on, which the library reads otherwise
        return _checked(points, _fans(faces), name)
    try:
        loaded: Any = trimesh.load(io.BytesIO(data), file_type=kind, process=False, force="mesh")
        points = np.asarray(loaded.vertices, np.float64).reshape(-1, 3)
        triangles = np.asarray(loaded.faces, np.int64).reshape(-1, 3)
    except Exception as error:
        raise HollowMarbleError(f"{name} cannot be read as {kind.upper()}. Export it again and retry.") from error
    if kind == "glb":  # metres with y up
        points = np.column_stack([points[:, 0], -points[:, 2], points[:, 1]]) * 1000.0
    return _checked(points, triangles, name)


_NOUGHT = re.compile(rb"^f\b[^\n]*\s0+(?=[/\s]|$)", re.MULTILINE)
"""A face of an OBJ file that names point 0: they are counted from 1 on."""

_RELATIVE = re.compile(rb"^f\b[^\n]*\s-\d", re.MULTILINE)
"""A face of an OBJ file that counts its points backwards."""


def _fans(faces: list[list[int]]) -> NDArray[np.int64]:
    found = [(face[0], face[k], face[k + 1]) for face in faces for k in range(1, len(face) - 1)]
    return np.array(found, np.int64).reshape(-1, 3)


def _checked(
    points: NDArray[np.float64], triangles: NDArray[np.int64], name: str
) -> tuple[NDArray[np.float64], NDArray[np.int64]]:
    check_count(len(triangles), MOST_TRIANGLES, "triangles", name)
    check_count(len(points), MOST_POINTS, "points", name)
    if len(triangles) and not (triangles.min() >= 0 and triangles.max() < len(points)):
        raise HollowMarbleError(f"A face in {name} uses a point that does not exist. Export the file again.")
    return points, triangles


def read_mesh(data: bytes, kind: str, name: str) -> tuple[NDArray[np.float64], NDArray[np.int64]]:
    """Points (N, 3) and triangles (T, 3) of an OBJ, STL or PLY file; STL corners at the same place are joined.

    Raises
    ------
    HollowMarbleError
        where the file cannot be read.
    """
    points, triangles = read_triangles(data, kind, name)
    if not len(triangles):
        raise HollowMarbleError(f"{name} holds no triangles. Choose another file.")
    if not np.isfinite(points).all():
        raise HollowMarbleError(f"{name} has coordinates that are not numbers. Repair it and try again.")
    return joined_corners(points, triangles)


def _y_up(values: NDArray[np.floating]) -> NDArray[np.float64]:
    turned: NDArray[np.float64] = np.stack([values[:, 0], values[:, 2], -values[:, 1]], axis=1).astype(np.float64)
    return turned


def _add(
    document: gltf.GLTF2, values: NDArray[np.generic], component: int, shape: str, target: int, offset: int
) -> bytes:
    """Describe an array and return its bytes, padded to four."""
    body = values.tobytes()
    limits = {}
    if shape == gltf.VEC3:
        limits = {"min": values.min(axis=0).tolist(), "max": values.max(axis=0).tolist()}
    document.bufferViews.append(gltf.BufferView(buffer=0, byteOffset=offset, byteLength=len(body), target=target))
    document.accessors.append(
        gltf.Accessor(
            bufferView=len(document.bufferViews) - 1, componentType=component, count=len(values), type=shape, **limits
        )
    )
    return body + b"\0" * (-len(body) % 4)
