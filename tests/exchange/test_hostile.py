"""Files that claim what they do not hold, and files that were damaged on the way: a sentence, little memory, nothing half-read."""

from __future__ import annotations

import random
import struct
import tracemalloc

import pytest

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.exchange.meshes import read_triangles
from tests.hostile import CRAFTED, READERS, VERTICES, damaged, ply_of


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


@pytest.mark.parametrize("reader", READERS)
def test_damaged_files_are_read_or_refused_in_words(reader: str) -> None:
    """Bytes changed, cut out, doubled, swapped and torn off: 116 of 6,400 ended in an error of the program before."""
    whole, read = READERS[reader]
    read(whole)
    chance = random.Random(9)
    refused: list[str] = []
    for _ in range(250):
        data = damaged(whole, chance)
        try:
            read(data)
        except HollowMarbleError as error:
            refused.append(str(error))
    assert len(refused) > 20
    assert all(sentence.endswith(".") for sentence in refused)
