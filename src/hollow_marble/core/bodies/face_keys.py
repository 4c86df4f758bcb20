"""Keys of faces that stay the same while steps are added: a face keeps its key as long as its corners stay where they are."""

from __future__ import annotations

import hashlib

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.cage.mesh import Cage

Keys = NDArray[np.uint64]
_ROUNDED = 6


def first_keys(cage: Cage, origin: str) -> Keys:
    """(F,) keys of the faces a step makes; `origin` names the step."""
    return _made(origin, cage.face_count)


def kept_keys(before: Cage, keys: Keys, after: Cage, origin: str) -> Keys:
    """(F,) keys after a step: faces whose corners are those of a face before keep its key, the others are new."""
    if after.face_points is before.face_points or (
        np.array_equal(after.face_starts, before.face_starts) and np.array_equal(after.face_points, before.face_points)
    ):
        return keys
    _, number = np.unique(
        np.round(np.concatenate([before.points, after.points]), _ROUNDED) + 0.0, axis=0, return_inverse=True
    )
    number = number.reshape(-1)
    then = _signatures(before, number[: len(before.points)])
    now = _signatures(after, number[len(before.points) :])
    order = np.argsort(then, kind="stable")
    at = np.minimum(np.searchsorted(then[order], now), len(order) - 1)
    found = then[order][at] == now
    result = _made(origin, after.face_count)
    result[found] = keys[order][at][found]
    return result


def _signatures(cage: Cage, number: NDArray[np.int64]) -> Keys:
    """(F,) one number a face that does not depend on where its corners begin."""
    mixed = _mix(number[cage.face_points].astype(np.uint64) + np.uint64(1))
    return np.add.reduceat(mixed, cage.face_starts[:-1]) + np.diff(cage.face_starts).astype(np.uint64)


def _made(origin: str, count: int) -> Keys:
    base = np.uint64(int.from_bytes(hashlib.sha256(origin.encode()).digest()[:8], "little"))
    return _mix(base + np.arange(count, dtype=np.uint64))


def _mix(values: Keys) -> Keys:
    """Scramble 64-bit numbers (the finaliser of splitmix64, Steele, Lea & Flood 2014)."""
    with np.errstate(over="ignore"):
        z = values + np.uint64(0x9E3779B97F4A7C15)
        z = (z ^ (z >> np.uint64(30))) * np.uint64(0xBF58476D1CE4E5B9)
        z = (z ^ (z >> np.uint64(27))) * np.uint64(0x94D049BB133111EB)
        return np.asarray(z ^ (z >> np.uint64(31)))
