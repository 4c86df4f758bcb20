"""The cache beside the projects: it makes opening quick and is never needed."""

from __future__ import annotations

import os
from pathlib import Path

import numpy as np
import pytest

from hollow_marble.documents.sheet.raster import SheetRaster
from hollow_marble.documents.sheet.raster.ink import EVERY, drawing_rules
from hollow_marble.store.cache import FolderCache
from tests.documents.test_sheet import Desk

WHOLE = (0, 0, 600, 400)


def full(count: int) -> Desk:
    desk = Desk()
    random = np.random.default_rng(3)
    for number in range(count):
        a, b = random.uniform(0, 600, 2), random.uniform(0, 400, 2)
        nib = ("pencil", "marker", "lifter")[number % 3]
        desk.do(desk.stroke([(a[0], b[0]), (a[1], b[1])], nib=nib, size=9))
    return desk


def test_what_was_put_is_found_by_another_cache_of_the_same_rules(tmp_path: Path) -> None:
    cache = FolderCache(tmp_path, "rules-1")
    assert cache.get("a") is None
    cache.put("a", lambda: b"pixels")
    cache.close()
    assert FolderCache(tmp_path, "rules-1").get("a") == b"pixels"
    other = FolderCache(tmp_path, "rules-2")
    assert other.get("a") is None
    other.close()
    assert not (tmp_path / "rules-1").exists(), "what other rules made is cleared away"


def test_the_ones_not_asked_for_longest_go_first(tmp_path: Path) -> None:
    """Bounded by bytes: what is kept is what was asked for last, and never much more than the bound."""
    bound = 2_000_000
    cache = FolderCache(tmp_path, "r", most_bytes=bound)
    for number in range(40):
        cache.put(f"n{number}", lambda: os.urandom(200_000))
        cache.settle()
        assert cache.get("n0") is not None, "asked for now, so it stays"
    kept = [number for number in range(40) if cache.get(f"n{number}")]
    cache.close()
    assert 39 in kept
    assert len(kept) * 200_000 <= bound
    assert sum(file.stat().st_size for file in (tmp_path / "r").rglob("*") if file.is_file()) < 2 * bound


def test_a_folder_that_cannot_be_written_is_no_failure(tmp_path: Path) -> None:
    blocked = tmp_path / "file"
    blocked.write_text("not a folder")
    cache = FolderCache(blocked, "r")
    cache.put("a", lambda: b"x")
    cache.close()
    assert cache.get("a") is None


@pytest.mark.parametrize("more", [0, 1, EVERY + 5])
def test_a_layer_opened_from_the_cache_is_the_layer_drawn_anew(tmp_path: Path, more: int) -> None:
    desk = full(2 * EVERY + 7)
    cache = FolderCache(tmp_path, "r")
    SheetRaster(desk.assets.__getitem__, cache).update(desk.sheet)
    cache.close()
    for number in range(more):
        desk.do(desk.stroke([(10 + number, 20), (300, 30 + 4 * number)], size=5))
    opened = SheetRaster(desk.assets.__getitem__, FolderCache(tmp_path, "r"))
    opened.update(desk.sheet)
    assert np.array_equal(opened.pixels(WHOLE), desk.page())


def test_opening_reads_only_the_strokes_after_the_cache(tmp_path: Path) -> None:
    desk = full(2 * EVERY + 7)
    cache = FolderCache(tmp_path, "r")
    SheetRaster(desk.assets.__getitem__, cache).update(desk.sheet)
    cache.close()
    read: list[str] = []

    def load(sha: str) -> bytes:
        read.append(sha)
        return desk.assets[sha]

    SheetRaster(load, FolderCache(tmp_path, "r")).update(desk.sheet)
    assert len(read) == 7


def test_a_torn_file_is_drawn_over(tmp_path: Path) -> None:
    desk = full(EVERY + 3)
    cache = FolderCache(tmp_path, "r")
    SheetRaster(desk.assets.__getitem__, cache).update(desk.sheet)
    cache.close()
    files = list((tmp_path / "r").rglob("*.val"))
    assert files
    for file in files:
        file.write_bytes(file.read_bytes()[:60])
    opened = SheetRaster(desk.assets.__getitem__, FolderCache(tmp_path, "r"))
    opened.update(desk.sheet)
    assert np.array_equal(opened.pixels(WHOLE), desk.page())


def test_the_rules_are_told_from_the_code_that_draws() -> None:
    assert drawing_rules() == drawing_rules()
    assert len(drawing_rules()) == 64
