"""Frames carried along a path without turning about it (Wang, Jüttler, Zheng & Liu 2008, ACM TOG 27(1): double reflection)."""

from __future__ import annotations

import numpy as np

from hollow_marble.core.curves.drawing import Chain
from hollow_marble.core.curves.segments import Array, curvature, length
from hollow_marble.core.paths import lengths


def along_path(path: Chain, count: int, first_up: Array | None = None) -> tuple[Array, Array, Array, Array]:
    """Places (n, 3) at even lengths along a path, with directions along, across and up (n, 3) each; about `count` of them.

    Ends of pieces are among them. A closed path's small turn between beginning and end is spread over its length.
    """
    lengths = np.array([length(segment) for segment in path.segments])
    total = float(lengths.sum())
    places, ways = [], []
    for index, segment in enumerate(path.segments):
        many = max(2, round(count * lengths[index] / total)) + 1
        t = _even(segment, many)
        last = index == len(path.segments) - 1
        keep = slice(None) if last else slice(None, -1)
        places.append(segment.at(t)[keep])
        ways.append(segment.along(t)[keep])
    x, way = np.vstack(places), np.vstack(ways)
    way = way / np.linalg.norm(way, axis=1, keepdims=True)
    up = np.empty_like(x)
    up[0] = _square_to(way[0], first_up)
    for k in range(len(x) - 1):
        v = x[k + 1] - x[k]
        c = float(v @ v)
        left, turned = up[k] - 2 / c * (v @ up[k]) * v, way[k] - 2 / c * (v @ way[k]) * v
        w = way[k + 1] - turned
        d = float(w @ w)
        up[k + 1] = left - (2 / d * (w @ left) * w if d > 1e-24 else 0)
    if path.closed:
        side = np.cross(way[0], up[0])
        off = float(np.arctan2(up[-1] @ side, up[-1] @ up[0]))
        share = np.linspace(0, -off, len(x))
        up = up * np.cos(share)[:, None] + np.cross(way, up) * np.sin(share)[:, None]
    return x, way, np.cross(up, way), up


def tightest(path: Chain) -> float:
    """The smallest radius a path bends by, mm."""
    worst = max(float(curvature(segment, np.linspace(0, 1, 129)).max()) for segment in path.segments)
    return 1 / max(worst, 1e-12)


def corners(path: Chain) -> list[float]:
    """Angles in degrees by which a path turns from a piece to the next."""
    found = []
    pairs = list(zip(path.segments, path.segments[1:]))
    if path.closed and len(path.segments) > 1:
        pairs.append((path.segments[-1], path.segments[0]))
    for one, other in pairs:
        a, b = one.along(np.ones(1))[0], other.along(np.zeros(1))[0]
        found.append(float(np.degrees(np.arccos(np.clip(a @ b / (np.linalg.norm(a) * np.linalg.norm(b)), -1, 1)))))
    return found


def _even(segment: object, count: int) -> Array:
    t = np.linspace(0, 1, 8 * count)
    points = segment.at(t)  # type: ignore[attr-defined]
    run = lengths(points)
    return np.interp(np.linspace(0, run[-1], count), run, t)


def _square_to(way: Array, wanted: Array | None) -> Array:
    """A direction square to a way: as near to the wanted one, or to height, as can be."""
    for near in (wanted, np.array([0.0, 0, 1]), np.array([0.0, 1, 0])):
        if near is not None:
            up = near - (near @ way) * way
            if np.linalg.norm(up) > 1e-3:
                return np.asarray(up / np.linalg.norm(up))
    raise AssertionError("two of three directions are never along one way")
