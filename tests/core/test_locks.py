"""Locks know their order, so that an order that could freeze the server fails at once."""

from __future__ import annotations

import threading

import pytest

from hollow_marble.core.locks import CACHE, DOCUMENT, WRITING, LockOrderError, RankedLock, held


def test_locks_are_taken_outermost_first() -> None:
    document, writing, cache = RankedLock("d", DOCUMENT), RankedLock("w", WRITING), RankedLock("c", CACHE)
    with document, writing, cache:
        assert held() == ["d", "w", "c"]
    assert held() == []


def test_the_other_way_round_is_refused_at_once_whether_or_not_anybody_waits() -> None:
    """The order in which a stroke and an edit once froze the server: the file's lock, then the ledger's."""
    document, writing = RankedLock("a document", DOCUMENT), RankedLock("the file", WRITING)
    with writing, pytest.raises(LockOrderError, match="“a document” was asked for while “the file” was held"):
        document.acquire()
    with document, writing:
        pass


def test_two_of_one_rank_are_never_held_together_and_one_may_be_taken_again() -> None:
    one, other = RankedLock("one", DOCUMENT), RankedLock("other", DOCUMENT)
    with one, one:
        with pytest.raises(LockOrderError):
            other.acquire()
        assert held() == ["one", "one"]
    with other:
        pass


def test_a_lock_keeps_others_out() -> None:
    lock = RankedLock("x", CACHE)
    order: list[str] = []
    inside = threading.Event()

    def second() -> None:
        inside.wait()
        with lock:
            order.append("second")

    thread = threading.Thread(target=second)
    thread.start()
    with lock:
        inside.set()
        order.append("first")
    thread.join(10)
    assert order == ["first", "second"]
