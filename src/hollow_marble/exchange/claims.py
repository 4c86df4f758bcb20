"""What a file from outside claims to hold, checked against its bytes before any room is made for it.

A file of 190 bytes may say that two thousand million faces follow; a reader that believes it asks for gigabytes. Every claim is
therefore held against what is there: so many things of at least so many bytes need so many bytes. Sources: the PLY format
(Turk 1994), binary STL (3D Systems 1989), glTF 2.0 (ISO/IEC 12113).
"""

from __future__ import annotations

import json
import struct
from typing import Any

from hollow_marble.core.bodies.still_body import MOST_TRIANGLES
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.locks import FILES, RankedLock

one_at_a_time = RankedLock("files from outside", FILES)
"""Held while a file is unpacked, so that uploads side by side do not add up what each may take."""

MOST_POINTS = 6_000_000
MOST_NODES = 5_000
"""Nodes of a scene: each is placed by itself."""

_SIZES = {
    **dict.fromkeys(("char", "uchar", "int8", "uint8"), 1),
    **dict.fromkeys(("short", "ushort", "int16", "uint16"), 2),
    **dict.fromkeys(("int", "uint", "float", "int32", "uint32", "float32"), 4),
    **dict.fromkeys(("double", "float64"), 8),
}
_PIECES = {"SCALAR": 1, "VEC2": 2, "VEC3": 3, "VEC4": 4, "MAT2": 4, "MAT3": 9, "MAT4": 16}
_WIDTHS = {5120: 1, 5121: 1, 5122: 2, 5123: 2, 5125: 4, 5126: 4}


def check_claims(data: bytes, kind: str, name: str) -> None:
    """Raise where a file cannot hold what it claims to hold, or claims more than can be shown.

    kind : "ply", "stl", "glb"; an OBJ file claims nothing
    """
    try:
        if kind == "ply":
            _check_ply(data, name)
        elif kind == "stl":
            _check_stl(data, name)
        elif kind == "glb":
            _check_glb(data, name)
    except (ValueError, KeyError, IndexError, TypeError, AttributeError, struct.error, RecursionError) as error:
        raise HollowMarbleError(f"{name} cannot be read as {kind.upper()}. Export it again and retry.") from error


def check_count(count: int, most: int, what: str, name: str) -> None:
    """Raise where there are more of something than can be shown."""
    if count > most:
        raise HollowMarbleError(
            f"{name} holds {count:,} {what}; up to {most:,} can be brought in. Reduce it and retry."
        )


def _missing(name: str, what: str, claimed: int) -> HollowMarbleError:
    return HollowMarbleError(
        f"{name} says that it holds {claimed:,} {what}, but is too short for them. Export it again and retry."
    )


def _check_ply(data: bytes, name: str) -> None:
    head, end, body = data.partition(b"end_header")
    if not end or len(head) > 65_536:
        raise ValueError("no header")
    lines = [line.split() for line in head.decode("ascii", "replace").splitlines()]
    text = any(line[:2] == ["format", "ascii"] for line in lines)
    needed, row, count = 0, 0, 0
    for line in [*lines, ["element", "", "0"]]:
        if line[:1] == ["property"]:
            # a list is at least its own length; a number in words is a letter and a space
            row += 2 if text else _SIZES[line[2] if line[1] == "list" else line[1]]
        elif line[:1] == ["element"]:
            if count and not row:
                raise ValueError("an element of nothing")
            needed += count * row
            if needed > len(body) + 1:
                raise _missing(name, "things", count)
            row, count = 0, int(line[2])
            if count < 0:
                raise ValueError("fewer than none")
            check_count(count, MOST_POINTS, "points or faces", name)


def _check_stl(data: bytes, name: str) -> None:
    if len(data) >= 84 and data.lstrip()[:5].lower() != b"solid":
        (count,) = struct.unpack_from("<I", data, 80)
        if 84 + 50 * count > len(data):
            raise _missing(name, "triangles", count)
        check_count(count, MOST_TRIANGLES, "triangles", name)


def _check_glb(data: bytes, name: str) -> None:
    magic, _version, length, size = struct.unpack_from("<4sIII", data)
    if magic != b"glTF" or length > len(data) or 20 + size > len(data):
        raise _missing(name, "bytes", max(length, size))
    tree: dict[str, Any] = json.loads(data[20 : 20 + size])
    accessors, views = tree.get("accessors", []), tree.get("bufferViews", [])
    for accessor in accessors:
        count = int(accessor["count"])
        check_count(count, MOST_POINTS, "points", name)
        width = _PIECES[accessor["type"]] * _WIDTHS[accessor["componentType"]]
        if "bufferView" in accessor and count * width > int(views[accessor["bufferView"]]["byteLength"]):
            raise _missing(name, "points", count)
        if "sparse" in accessor:
            raise HollowMarbleError(
                f"{name} keeps its points sparsely, which is not read here. Export it without that."
            )
    if sum(int(view["byteLength"]) for view in views) > 8 * len(data):
        raise _missing(name, "bytes", sum(int(view["byteLength"]) for view in views))
    nodes = tree.get("nodes", [])
    check_count(len(nodes), MOST_NODES, "nodes", name)
    corners = [
        sum(int(accessors[p.get("indices", p["attributes"]["POSITION"])]["count"]) for p in mesh["primitives"])
        for mesh in tree.get("meshes", [])
    ]
    # a mesh that stands in many places is many meshes
    check_count(sum(corners[node["mesh"]] for node in nodes if "mesh" in node) // 3, MOST_TRIANGLES, "triangles", name)
