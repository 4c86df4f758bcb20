"""What was worked out, kept under its key: bounded by bytes, the least recently used goes first, each thing made once.

What comes in long rows of heavy things, each for the next one to begin with (`HEAVY`), has a part of the shelf to itself, so that it never
drives out what many others wait for.
"""

from __future__ import annotations

import threading
from collections.abc import Callable
from dataclasses import fields, is_dataclass
from typing import Any, TypeVar, cast

import numpy as np
from cachetools import LRUCache

from hollow_marble.core.locks import CACHE, RankedLock

V = TypeVar("V")

HEAVY = ("cut",)
_SHARE = 0.5
"""Of all bytes, for all that is heavy."""


_Kept = LRUCache[tuple[str, Any], Any]


def weight(value: Any) -> int:
    """About how many bytes a value holds: its arrays, and those of its parts."""
    if isinstance(value, np.ndarray):
        return int(value.nbytes) + 100
    if isinstance(value, str | bytes):
        return len(value) + 50
    if isinstance(value, tuple | list):
        return 60 + sum(weight(item) for item in value)
    if is_dataclass(value) and not isinstance(value, type):
        return 200 + sum(weight(getattr(value, part.name)) for part in fields(value))
    return 50


class Shelf:
    """Safe to use from several threads. Making something holds no lock: whoever asks for the same meanwhile waits for it."""

    def __init__(self, most_bytes: int) -> None:
        self._lock = RankedLock("shelf", CACHE)
        heavy = int(_SHARE * most_bytes)
        self._light: _Kept = LRUCache(most_bytes - heavy, getsizeof=weight)
        self._heavy: _Kept = LRUCache(heavy, getsizeof=weight)
        self._making: dict[tuple[str, Any], threading.Event] = {}

    def get(self, what: str, key: Any, make: Callable[[], V]) -> V:
        """What stands under a key, made where it is not there. An error in making it is raised to whoever made it."""
        name = (what, key)
        while True:
            with self._lock:
                kept = self._of(what)
                if name in kept:
                    return cast(V, kept[name])
                other = self._making.get(name)
                if other is None:
                    mine = self._making[name] = threading.Event()
                    break
            other.wait()
        try:
            value = make()
            self.put(what, key, value)
            return value
        finally:
            with self._lock:
                del self._making[name]
            mine.set()

    def known(self, what: str, key: Any) -> Any:
        """What stands under a key, None where nothing does."""
        with self._lock:
            return self._of(what).get((what, key))

    def put(self, what: str, key: Any, value: Any) -> None:
        """Keep something; what is heavier than all that its kind has room for is not kept."""
        with self._lock:
            kept = self._of(what)
            if weight(value) <= kept.maxsize:
                kept[what, key] = value

    def clear(self) -> None:
        """Keep nothing any more."""
        with self._lock:
            self._light.clear()
            self._heavy.clear()

    @property
    def bytes(self) -> int:
        """About how many bytes are kept."""
        with self._lock:
            return int(self._light.currsize + self._heavy.currsize)

    def _of(self, what: str) -> _Kept:
        return self._heavy if what in HEAVY else self._light
