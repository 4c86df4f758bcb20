"""Mesh files that claim what they do not hold, and files that were damaged on the way: a sentence, little memory, nothing half-read."""

from __future__ import annotations

import json
import random
import struct
import tracemalloc
from collections.abc import Callable

import numpy as np
import pytest

from hollow_marble.core.cage import starts
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.exchange import meshes
from hollow_marble.exchange.meshes import NamedMesh, read_triangles
from hollow_marble.exchange.obj import cage_to_obj, obj_to_cage
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


@pytest.mark.parametrize("what", CRAFTED)
def test_what_a_file_claims_is_held_against_its_bytes(what: str) -> None:
    """The 190 bytes that took 7.4 GB, and their like in other formats (found by an independent check)."""
    kind, data = CRAFTED[what]
    tracemalloc.start()
    try:
        with pytest.raises(HollowMarbleError, match=r"^file\.\w+ .*\.$"):
            read_triangles(data, kind, f"file.{kind}")
        assert tracemalloc.get_traced_memory()[1] < 60e6
    finally:
        tracemalloc.stop()


@pytest.mark.parametrize(
    ("kind", "data"),
    [
        ("obj", b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 4\n"),
        ("obj", b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 0 1 2\n"),
        ("obj", b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf -1 -2 -9\n"),
        (
            "ply",
            ply_of(VERTICES, "element face 1", "property list uchar int vertex_indices")[:-60]
            + struct.pack("<9f", *range(9))
            + struct.pack("<B3i", 3, 0, 1, -1),
        ),
        (
            "ply",
            ply_of(VERTICES, "element face 1", "property list uchar int vertex_indices")[:-60]
            + struct.pack("<9f", *range(9))
            + struct.pack("<B3i", 3, 0, 1, 3),
        ),
    ],
)
def test_triangles_of_points_that_do_not_exist_are_refused(kind: str, data: bytes) -> None:
    with pytest.raises(HollowMarbleError, match=r"uses a point that does not exist|cannot be read as OBJ"):
        read_triangles(data, kind, f"file.{kind}")


def test_points_counted_from_the_last_one_on_are_those() -> None:
    """OBJ: a negative number counts back from the point read last (the format's specification)."""
    data = b"v 9 9 9\nv 0 0 0\nv 1 0 0\nv 0 1 0\nv 1 1 0\nf -4 -3 -1 -2\n"
    points, triangles = read_triangles(data, "obj", "back.obj")
    assert points[triangles].tolist()[0] == [[0, 0, 0], [1, 0, 0], [1, 1, 0]]
    assert len(triangles) == 2


READERS: dict[str, tuple[str, Callable[[bytes], object]]] = {
    **{kind: (kind, lambda data, kind=kind: read_triangles(data, kind, f"file.{kind}")) for kind in WHOLE},  # type: ignore[misc]
    "cage.obj": ("obj", lambda data: obj_to_cage(data, "file.obj")),
    "cage.ply": ("cage", lambda data: ply_to_cage(data, "file.ply")),
}


@pytest.mark.parametrize("reader", READERS)
def test_damaged_files_are_read_or_refused_in_words(reader: str) -> None:
    """Bytes changed, cut out, doubled, swapped and torn off: 116 of 6,400 ended in an error of the program before."""
    kind, read = READERS[reader]
    whole = cage_to_ply(BOX, "block") if kind == "cage" else WHOLE[kind]
    read(whole)
    chance = random.Random(9)
    refused: list[str] = []
    for _ in range(250):
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
        try:
            read(bytes(data))
        except HollowMarbleError as error:
            refused.append(str(error))
    assert len(refused) > 20
    assert all(sentence.endswith(".") for sentence in refused)
