"""What was worked out is kept by bytes and by use, and made once."""

from __future__ import annotations

import threading
from concurrent.futures import ThreadPoolExecutor

import numpy as np
import pytest

from hollow_marble.core.shelf import Shelf, weight


def test_it_holds_no_more_bytes_than_it_may_and_the_least_used_go_first() -> None:
    shelf = Shelf(10_500)
    for number in range(10):
        shelf.get("a", number, lambda: np.zeros(1000, np.uint8))
        shelf.get("a", 0, lambda: np.zeros(1000, np.uint8))
    assert shelf.bytes <= 10_500
    assert shelf.known("a", 0) is not None, "asked for all the time"
    assert shelf.known("a", 1) is None
    shelf.put("a", "whale", np.zeros(20_000, np.uint8))
    assert shelf.known("a", "whale") is None
    assert shelf.known("a", 0) is not None, "what is too large for the shelf empties it for nobody"


def test_what_several_ask_for_at_once_is_made_once() -> None:
    shelf, made, barrier = Shelf(10**6), [], threading.Barrier(8)

    def ask(_number: int) -> float:
        barrier.wait()
        return float(shelf.get("x", "key", lambda: made.append(1) or np.ones(10)).sum())  # type: ignore[func-returns-value]

    with ThreadPoolExecutor(8) as pool:
        assert list(pool.map(ask, range(8))) == [10.0] * 8
    assert len(made) == 1


def test_an_error_is_told_and_the_next_one_tries_again() -> None:
    shelf = Shelf(1000)
    with pytest.raises(ZeroDivisionError):
        shelf.get("x", 1, lambda: 1 / 0)
    assert shelf.get("x", 1, lambda: "made") == "made"


def test_the_weight_of_a_thing_is_that_of_its_arrays() -> None:
    assert weight(np.zeros(1000)) == pytest.approx(8000, rel=0.05)
    assert weight((np.zeros(1000), [np.zeros(500)])) == pytest.approx(12000, rel=0.05)


def test_long_rows_of_heavy_things_drive_out_none_of_what_others_wait_for() -> None:
    """A body with eight details is cut in sixteen steps of many megabytes: it emptied the shelf of all else at each change."""
    shelf = Shelf(20_000)
    shelf.put("body", 1, np.zeros(2000, np.uint8))
    for number in range(20):
        shelf.put("cut", number, np.zeros(3000, np.uint8))
    assert shelf.known("body", 1) is not None
    assert shelf.known("cut", 19) is not None
    assert shelf.bytes <= 20_000
