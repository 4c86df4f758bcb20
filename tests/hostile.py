"""Files that claim what they do not hold, and whole files to be damaged: one of every kind that can be brought in."""

from __future__ import annotations

import io
import json
import random
import struct
from collections.abc import Callable

import numpy as np
from PIL import Image

from hollow_marble.core.cage import starts
from hollow_marble.exchange import meshes
from hollow_marble.exchange.meshes import NamedMesh, read_triangles
from hollow_marble.exchange.obj import cage_to_obj, obj_to_cage
from hollow_marble.exchange.openraster import Raster, read_openraster, write_openraster
from hollow_marble.exchange.pictures import read_picture
from hollow_marble.exchange.ply import cage_to_ply, ply_to_cage

BOX = starts.box((30, 20, 10), (2, 2, 2))
QUADS = BOX.face_points.reshape(-1, 4)
MESH = NamedMesh("block", BOX.points, np.concatenate([QUADS[:, [0, 1, 2]], QUADS[:, [0, 2, 3]]]))
WHOLE = {
    "obj": cage_to_obj(BOX, "block"),
    "ply": meshes.ply([MESH]),
    "stl": meshes.stl([MESH]),
    "glb": meshes.glb([MESH]),
}


def ply_of(*elements: str) -> bytes:
    return "\n".join(["ply", "format binary_little_endian 1.0", *elements, "end_header", ""]).encode() + b"\1" * 60


def glb_of(tree: dict[str, object], binary: bytes = b"\0" * 64) -> bytes:
    words = json.dumps(tree).encode()
    words += b" " * (-len(words) % 4)
    body = struct.pack("<I4s", len(words), b"JSON") + words + struct.pack("<I4s", len(binary), b"BIN\0") + binary
    return struct.pack("<4sII", b"glTF", 2, 12 + len(body)) + body


def scene(nodes: int = 1, count: int = 3, **accessor: object) -> bytes:
    points = {"bufferView": 0, "componentType": 5126, "type": "VEC3", "count": count, **accessor}
    return glb_of(
        {
            "asset": {"version": "2.0"},
            "scene": 0,
            "scenes": [{"nodes": list(range(nodes))}],
            "nodes": [{"mesh": 0}] * nodes,
            "meshes": [{"primitives": [{"attributes": {"POSITION": 0}}]}],
            "accessors": [{name: value for name, value in points.items() if value is not None}],
            "bufferViews": [{"buffer": 0, "byteLength": 36}],
            "buffers": [{"byteLength": 64}],
        }
    )


VERTICES = "element vertex 3\nproperty float x\nproperty float y\nproperty float z"
CRAFTED = {
    "a header of 2^31 faces": (
        "ply",
        ply_of(VERTICES, "element face 2147483648", "property list uchar int vertex_indices"),
    ),
    "2^31 points": ("ply", ply_of("element vertex 2147483648", "property float x")),
    "more faces than bytes": (
        "ply",
        ply_of(VERTICES, "element face 5000000", "property list uchar int vertex_indices"),
    ),
    "an element of nothing": ("ply", ply_of(VERTICES, "element void 4000000")),
    "fewer faces than none": ("ply", ply_of(VERTICES, "element face -5", "property list uchar int vertex_indices")),
    "an unknown type": ("ply", ply_of("element vertex 1", "property quad x")),
    "no end of the header": ("ply", b"ply\nformat ascii 1.0\nelement vertex 9\n"),
    "a header without end": ("ply", b"ply\n" + b"comment\n" * 20_000 + b"end_header\n"),
    "2^32 - 1 triangles": ("stl", b"\0" * 80 + struct.pack("<I", 2**32 - 1) + b"\0" * 50),
    "an accessor of 2^31 points": ("glb", scene(count=2**31)),
    "an accessor beyond its view": ("glb", scene(count=300)),
    "sparse points out of nothing": (
        "glb",
        scene(count=5_000_000, bufferView=None, sparse={"count": 1, "indices": {}, "values": {}}),
    ),
    "100,000 nodes": ("glb", scene(nodes=100_000)),
    "a length beyond the file": ("glb", b"glTF" + struct.pack("<II", 2, 4_000_000_000) + b"\0" * 40),
    "deep nodes": ("glb", glb_of({"nodes": 3})),
    "JSON nested without end": ("glb", struct.pack("<4sIII4s", b"glTF", 2, 60_020, 60_000, b"JSON") + b"[" * 60_000),
}


def _picture(kind: str) -> bytes:
    file = io.BytesIO()
    pixels = np.random.default_rng(3).integers(0, 255, (40, 60, 3), np.uint8)
    Image.fromarray(pixels).save(file, kind.upper())
    return file.getvalue()


def _layered() -> bytes:
    pixels = np.random.default_rng(4).integers(0, 255, (40, 60, 4), np.uint8)
    pixels[..., 3] = 255
    layer = Raster("Layer", pixels, (0, 0))
    return write_openraster([layer], pixels)


READERS: dict[str, tuple[bytes, Callable[[bytes], object]]] = {
    **{
        kind: (data, lambda data, kind=kind: read_triangles(data, kind, f"file.{kind}"))  # type: ignore[misc]
        for kind, data in WHOLE.items()
    },
    "cage.obj": (WHOLE["obj"], lambda data: obj_to_cage(data, "file.obj")),
    "cage.ply": (cage_to_ply(BOX, "block"), lambda data: ply_to_cage(data, "file.ply")),
    **{
        kind: (_picture(kind), lambda data, kind=kind: read_picture(data, f"file.{kind}"))  # type: ignore[misc]
        for kind in ("png", "jpeg", "tiff", "webp")
    },
    "ora": (_layered(), lambda data: read_openraster(data, "file.ora")),
}
"""A whole file of each kind that can be brought in, and what reads it."""


def damaged(whole: bytes, chance: random.Random) -> bytes:
    """A file with bytes changed, numbers put in, pieces cut out, doubled and torn off."""
    data = bytearray(whole)
    for _ in range(chance.randint(1, 4)):
        at, to = sorted(chance.randrange(len(data)) for _ in range(2))
        how = chance.randrange(5)
        if how == 0:
            data[at] = chance.randrange(256)
        elif how == 1:
            data[at : at + 4] = struct.pack("<i", chance.choice([-1, 2**31 - 1, 0, 70_000]))
        elif how == 2:
            del data[at : at + chance.randint(1, 40)]
        elif how == 3:
            data[at:at] = data[at:to][:200]
        else:
            del data[to + 1 :]
        if len(data) < 4:
            break
    return bytes(data)
