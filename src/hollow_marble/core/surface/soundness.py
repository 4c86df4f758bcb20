"""Whether a triangle mesh could be made: closed, manifold, turning one way, no slivers, no doubled points or slits, not through itself."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numba import njit
from numpy.typing import NDArray
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components
from scipy.spatial import cKDTree

from hollow_marble.core.surface.finding import Finding, at_place
from hollow_marble.core.surface.nearest import pierced

SMALLEST_ANGLE = 1.0
"""Degrees below which a triangle is a sliver."""

DOUBLED = 1e-3
"""mm within which two points are one that was told twice."""

SLIT = 0.1
"""mm within which two rims look closed."""

MOST_FINDINGS = 50


@dataclass(frozen=True)
class Soundness:
    """What a check found. `counts` holds the number of each kind even where not every finding is listed."""

    closed: bool
    manifold: bool
    consistent: bool
    counts: dict[str, int]
    findings: list[Finding]


def check_soundness(points: NDArray[np.float64], triangles: NDArray[np.int64]) -> Soundness:
    """Check a welded mesh: points (N, 3) mm, triangles (T, 3)."""
    findings: list[Finding] = []
    tail = triangles.reshape(-1)
    head = np.roll(triangles, -1, axis=1).reshape(-1)
    low, high = np.minimum(tail, head), np.maximum(tail, head)
    keys, group, uses = np.unique(low * len(points) + high, return_inverse=True, return_counts=True)
    ends = np.stack([keys // len(points), keys % len(points)], axis=1)
    middle = points[ends].mean(axis=1)
    lengths = np.linalg.norm(points[ends[:, 0]] - points[ends[:, 1]], axis=1)

    openings = _clusters(ends[uses == 1], len(points))
    for edges in openings:
        chosen = np.flatnonzero(uses == 1)[edges]
        rim = float(lengths[chosen].sum())
        place = middle[chosen].mean(axis=0)
        findings.append(
            _found(
                "opening", place, rim, 0.0, f"An opening with a rim of {rim:.1f} mm. Fill it or leave it on purpose."
            )
        )
    crowded = np.flatnonzero(uses > 2)
    for edge in crowded[:MOST_FINDINGS]:
        n = int(uses[edge])
        findings.append(
            _found("crowded edge", middle[edge], n, 2, f"{n} faces meet at one edge; a surface has two there.")
        )
    forward = np.bincount(group, weights=(tail == low).astype(float), minlength=len(keys))
    turned = np.flatnonzero((uses == 2) & (forward != 1))
    opposite = "Two faces here face opposite ways."
    findings += [_found("turned face", middle[edge], 1, 0, opposite) for edge in turned[:MOST_FINDINGS]]
    angle = smallest_angles(points, triangles)
    slivers = np.flatnonzero(angle < SMALLEST_ANGLE)
    for face in slivers[np.argsort(angle[slivers])][:MOST_FINDINGS]:
        place = points[triangles[face]].mean(axis=0)
        sentence = f"A sliver with a corner of {angle[face]:.2f}° (at least {SMALLEST_ANGLE:.0f}° is sound)."
        findings.append(_found("sliver", place, float(angle[face]), SMALLEST_ANGLE, sentence))
    doubled = _doubled(points)
    for one, other in doubled[:MOST_FINDINGS]:
        apart = float(np.linalg.norm(points[one] - points[other]))
        sentence = f"Two points {apart:.4f} mm apart that ought to be one. Join them."
        findings.append(_found("doubled point", points[one], apart, DOUBLED, sentence))
    slits = _slits(points, ends[uses == 1])
    for one, other in slits[:MOST_FINDINGS]:
        apart = float(np.linalg.norm(points[one] - points[other]))
        sentence = f"Two rims run {apart:.3f} mm apart: a slit that is open where it looks closed. Join them."
        findings.append(_found("small gap", (points[one] + points[other]) / 2, apart, SLIT, sentence))
    crossings = crossing_places(points, triangles)
    for place in _thinned(crossings, MOST_FINDINGS):
        findings.append(
            _found("crossing", place, 1, 0, "The surface passes through itself here. Move the faces apart.")
        )
    counts = {
        "opening": len(openings),
        "crowded edge": len(crowded),
        "turned face": len(turned),
        "sliver": len(slivers),
        "doubled point": len(doubled),
        "small gap": len(slits),
        "crossing": len(crossings),
    }
    return Soundness(not openings, len(crowded) == 0, len(turned) == 0, counts, findings)


def smallest_angles(points: NDArray[np.float64], triangles: NDArray[np.int64]) -> NDArray[np.float64]:
    """Smallest corner of each triangle in degrees, (T,)."""
    corners = points[triangles]
    smallest = np.full(len(triangles), 180.0)
    for k in range(3):
        a = corners[:, (k + 1) % 3] - corners[:, k]
        b = corners[:, (k + 2) % 3] - corners[:, k]
        sine = np.linalg.norm(np.cross(a, b), axis=1)
        smallest = np.minimum(smallest, np.degrees(np.arctan2(sine, np.einsum("ij,ij->i", a, b))))
    return smallest


def crossing_places(points: NDArray[np.float64], triangles: NDArray[np.int64]) -> NDArray[np.float64]:
    """Points (X, 3) where an edge of one triangle pierces another that shares no corner with it."""
    corners = points[triangles]
    low, high = corners.min(axis=1), corners.max(axis=1)
    cell = max(float(np.median(high - low)) * 2, float((high - low).max()) / 64, 1e-9)
    first = np.floor((low - points.min(axis=0)) / cell).astype(np.int64)
    last = np.floor((high - points.min(axis=0)) / cell).astype(np.int64)
    shape = last.max(axis=0) + 1
    boxes = np.prod(last - first + 1, axis=1)
    owner = np.repeat(np.arange(len(triangles)), boxes)
    step = np.arange(len(owner)) - np.repeat(np.cumsum(boxes) - boxes, boxes)
    span = (last - first + 1)[owner]
    x, rest = step % span[:, 0], step // span[:, 0]
    y, z = rest % span[:, 1], rest // span[:, 1]
    place = first[owner] + np.stack([x, y, z], axis=1)
    key = (place[:, 0] * shape[1] + place[:, 1]) * shape[2] + place[:, 2]
    order = np.argsort(key, kind="stable")
    starts = np.flatnonzero(np.concatenate([[True], np.diff(key[order]) > 0, [True]]))
    places: NDArray[np.float64] = _pierced(points, triangles, low, high, owner[order], starts)
    return places


@njit(cache=True, nogil=True)
def _pierced(points, triangles, low, high, members, starts):  # noqa: C901 — one compiled loop
    places = np.empty((1024, 3))
    count = 0
    for cell in range(len(starts) - 1):
        for i in range(starts[cell], starts[cell + 1]):
            s = members[i]
            for j in range(starts[cell], starts[cell + 1]):
                t = members[j]
                if s == t:
                    continue
                apart = False
                for axis in range(3):
                    if low[s, axis] > high[t, axis] or low[t, axis] > high[s, axis]:
                        apart = True
                        break
                if apart:
                    continue
                shared = False
                for a in range(3):
                    for b in range(3):
                        if triangles[s, a] == triangles[t, b]:
                            shared = True
                if shared:
                    continue
                for k in range(3):
                    a, b = triangles[s, k], triangles[s, (k + 1) % 3]
                    if a > b:
                        continue
                    hit = _segment_hit(points[a], points[b], points[triangles[t]])
                    if hit >= 0.0:
                        if count == len(places):
                            more = np.empty((2 * count, 3))
                            more[:count] = places
                            places = more
                        for axis in range(3):
                            places[count, axis] = points[a, axis] + hit * (points[b, axis] - points[a, axis])
                        count += 1
    return places[:count].copy()


@njit(cache=True, nogil=True)
def _segment_hit(p, q, triangle):
    """Parameter along p-q where it pierces the triangle's inside, -1 where it does not."""
    t, u, v = pierced(p[0], p[1], p[2], q[0] - p[0], q[1] - p[1], q[2] - p[2], triangle)
    inside = 1e-9 <= t <= 1 - 1e-9 and u >= 1e-9 and v >= 1e-9 and u + v <= 1 - 1e-9
    return t if inside else -1.0


def _doubled(points: NDArray[np.float64]) -> NDArray[np.int64]:
    """(D, 2) points that lie within `DOUBLED` of one another."""
    pairs: NDArray[np.int64] = cKDTree(points).query_pairs(DOUBLED, output_type="ndarray")
    return pairs


def _slits(points: NDArray[np.float64], rims: NDArray[np.int64]) -> NDArray[np.int64]:
    """(G, 2) points of rims (R, 2) within `SLIT` of one another that no side joins and that are not doubled; one a piece of rim."""
    if not len(rims):
        return np.empty((0, 2), np.int64)
    on_rim = np.unique(rims)
    pairs = on_rim[cKDTree(points[on_rim]).query_pairs(SLIT, output_type="ndarray")]
    if not len(pairs):
        return np.empty((0, 2), np.int64)
    pairs = np.sort(pairs, axis=1)
    count = len(points)
    near = np.isin(pairs @ [count, 1], np.sort(rims, axis=1) @ [count, 1])
    apart = np.linalg.norm(points[pairs[:, 0]] - points[pairs[:, 1]], axis=1)
    side = np.zeros(count)
    np.maximum.at(side, rims.ravel(), np.repeat(np.linalg.norm(points[rims[:, 0]] - points[rims[:, 1]], axis=1), 2))
    # along one rim whose pieces are shorter than a slit is wide, its own points are no slit
    fine = np.minimum(side[pairs[:, 0]], side[pairs[:, 1]]) < 2 * SLIT
    kept: NDArray[np.int64] = pairs[~near & (apart > DOUBLED) & ~fine]
    return kept[np.unique(kept[:, 0], return_index=True)[1]] if len(kept) else kept


def _clusters(edges: NDArray[np.int64], count: int) -> list[NDArray[np.int64]]:
    """Group edges that hang together; each group lists rows of `edges`."""
    if not len(edges):
        return []
    graph = coo_matrix((np.ones(len(edges)), (edges[:, 0], edges[:, 1])), shape=(count, count))
    label = connected_components(graph, directed=False)[1][edges[:, 0]]
    return [np.flatnonzero(label == number) for number in np.unique(label)]


def _thinned(places: NDArray[np.float64], most: int) -> NDArray[np.float64]:
    """An even choice of at most `most` rows."""
    if len(places) <= most:
        return places
    chosen: NDArray[np.float64] = places[np.linspace(0, len(places) - 1, most).astype(int)]
    return chosen


def _found(kind: str, place: NDArray[np.float64], amount: float, tolerance: float, sentence: str) -> Finding:
    unit = {"opening": "mm", "sliver": "°", "doubled point": "mm", "small gap": "mm"}.get(kind, "")
    return Finding("soundness", kind, at_place(place), float(amount), float(tolerance), unit, sentence)
