"""Mending a mesh that came from elsewhere: points joined, doubled faces dropped, faces turned one way, openings filled."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import breadth_first_order, connected_components
from scipy.spatial import cKDTree

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.surface.sections import chained

Values = NDArray[np.float64]
Numbers = NDArray[np.int64]


@dataclass(frozen=True)
class Did:
    """How many points were joined to others, faces dropped (they had closed up, or were told twice), faces turned, openings filled."""

    joined: int
    dropped: int
    turned: int
    filled: int

    @property
    def nothing(self) -> bool:
        return not (self.joined or self.dropped or self.turned or self.filled)


def mended(points: Values, triangles: Numbers, within: float, fill: float) -> tuple[Values, Numbers, Did]:
    """The mesh with points closer than `within` mm made one, and openings whose rim is no longer than `fill` mm filled.

    Faces of a closed piece look outward after it; of an open one they look the way most of them did.

    Raises
    ------
    HollowMarbleError
        where nothing would be left of it.
    """
    points, triangles, joined, dropped = _joined(points, triangles, within)
    if not len(triangles):
        raise HollowMarbleError(f"Joined within {within:g} mm nothing would be left of it. Join within less.")
    triangles, turned = _one_way(points, triangles)
    points, triangles, filled = _filled(points, triangles, fill)
    triangles, over = _outward(points, triangles)
    return points, triangles, Did(joined, dropped, turned + over, filled)


def _joined(points: Values, triangles: Numbers, within: float) -> tuple[Values, Numbers, int, int]:
    pairs = cKDTree(points).query_pairs(within, output_type="ndarray") if within > 0 else np.empty((0, 2), np.int64)
    graph = coo_matrix((np.ones(len(pairs)), (pairs[:, 0], pairs[:, 1])), shape=(len(points),) * 2)
    count, label = connected_components(graph, directed=False)
    sums = np.stack([np.bincount(label, points[:, axis], count) for axis in range(3)], axis=1)
    whole = label[triangles].astype(np.int64)
    a, b, c = whole.T
    kept = whole[(a != b) & (b != c) & (c != a)]
    _, first = np.unique(np.sort(kept, axis=1), axis=0, return_index=True)
    kept = kept[np.sort(first)]
    used, numbers = np.unique(kept, return_inverse=True)
    middles = sums / np.bincount(label, minlength=count)[:, None]
    return middles[used], numbers.reshape(-1, 3), len(points) - count, len(triangles) - len(kept)


def _sides(triangles: Numbers) -> tuple[Numbers, Numbers, Numbers]:
    """(3T,) tail and head of every side, and (3T,) its triangle."""
    tail, head = triangles.reshape(-1), np.roll(triangles, -1, axis=1).reshape(-1)
    return tail, head, np.repeat(np.arange(len(triangles)), 3)


def _one_way(points: Values, triangles: Numbers) -> tuple[Numbers, int]:
    """Faces turned so that neighbours run along their common side in opposite directions; the fewer of a piece are turned."""
    tail, head, owner = _sides(triangles)
    key = np.minimum(tail, head) * len(points) + np.maximum(tail, head)
    order = np.argsort(key, kind="stable")
    sorted_key = key[order]
    bounds = np.flatnonzero(np.concatenate([[True], np.diff(sorted_key) > 0, [True]]))
    pairs = bounds[:-1][np.diff(bounds) == 2]
    one, other = order[pairs], order[pairs + 1]
    against = (tail[one] == tail[other]).astype(float)  # the same way along it: one of both is turned over
    count = len(triangles)
    weights = np.concatenate([against, against]) + 1.0
    rows = np.concatenate([owner[one], owner[other]])
    columns = np.concatenate([owner[other], owner[one]])
    # one walk over all pieces: beside the faces stands a beginning that a face of each piece is joined to
    _, label = connected_components(coo_matrix((weights, (rows, columns)), shape=(count, count)), directed=False)
    firsts = np.unique(label, return_index=True)[1]
    begin = np.full(len(firsts), count)
    weights = np.concatenate([weights, np.ones(2 * len(firsts))])
    rows, columns = np.concatenate([rows, begin, firsts]), np.concatenate([columns, firsts, begin])
    graph = coo_matrix((weights, (rows, columns)), shape=(count + 1, count + 1)).tocsr()
    visited, before = breadth_first_order(graph, count, directed=False)
    steps = visited[1:]
    turns = np.asarray(graph[steps, before[steps]]).ravel() > 1.5
    over = np.zeros(count + 1, bool)
    for face, turn in zip(steps.tolist(), turns.tolist()):
        over[face] = over[before[face]] != turn
    over = over[:count]
    over ^= (np.bincount(label, over) > np.bincount(label) / 2)[label]
    turned = triangles.copy()
    turned[over] = turned[over][:, ::-1]
    return turned, int(over.sum())


def _outward(points: Values, triangles: Numbers) -> tuple[Numbers, int]:
    """Closed pieces that are inside out turned over."""
    tail, head, _ = _sides(triangles)
    graph = coo_matrix((np.ones(len(tail)), (tail, head)), shape=(len(points),) * 2)
    pieces, label = connected_components(graph, directed=False)
    of_face = label[triangles[:, 0]]
    a, b, c = points[triangles].transpose(1, 0, 2)
    volume = np.bincount(of_face, np.einsum("ij,ij->i", a, np.cross(b, c)), pieces)
    key = np.minimum(tail, head) * len(points) + np.maximum(tail, head)
    _, number, uses = np.unique(key, return_inverse=True, return_counts=True)
    open_piece = np.zeros(pieces, bool)
    open_piece[label[tail[uses[number] == 1]]] = True
    inside_out = (volume < 0) & ~open_piece
    over = inside_out[of_face]
    turned = triangles.copy()
    turned[over] = turned[over][:, ::-1]
    return turned, int(over.sum())


def _filled(points: Values, triangles: Numbers, fill: float) -> tuple[Values, Numbers, int]:
    """Openings closed by a fan about the middle of their rim."""
    tail, head, _ = _sides(triangles)
    forward = tail * len(points) + head
    alone = ~np.isin(forward, head * len(points) + tail)
    rim = np.stack([head[alone], tail[alone]], axis=1)  # the way the missing faces run along it
    if not len(rim) or fill <= 0:
        return points, triangles, 0
    chain, starts, closed = chained(rim, rim)
    added_points, added, filled = [points], [triangles], 0
    count = len(points)
    following = dict(rim.tolist())
    for start, end, shut in zip(starts[:-1].tolist(), starts[1:].tolist(), closed.tolist()):
        ring = chain[start:end]
        if not shut or len(ring) < 3:
            continue
        if following.get(int(ring[0])) != int(ring[1]):
            ring = ring[::-1]
        around = points[ring]
        if np.linalg.norm(np.roll(around, -1, axis=0) - around, axis=1).sum() > fill:
            continue
        filled += 1
        if len(ring) == 3:
            added.append(ring[None])
            continue
        added_points.append(around.mean(axis=0)[None])
        added.append(np.stack([ring, np.roll(ring, -1), np.full(len(ring), count)], axis=1))
        count += 1
    return np.concatenate(added_points), np.concatenate(added), filled
