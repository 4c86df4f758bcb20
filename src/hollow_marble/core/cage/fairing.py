"""Fairing: points of a cage moved as little as asked, so that the skin's curvature changes as evenly as it can."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_matrix, csr_matrix, identity
from scipy.sparse.linalg import splu

from hollow_marble.core.cage.mesh import Cage
from hollow_marble.core.cage.symmetry import Mates
from hollow_marble.core.cage.topology import Topology
from hollow_marble.core.errors import HollowMarbleError

_STIFFEST, _SOFTEST = 1e6, 1e-7
"""How much staying where it is can weigh beside being fair, at the most and at the least."""

_CLOSE = 0.02
"""Natural logarithm of that weight to which it is found."""


def faired(cage: Cage, points: list[int], within: float, mates: Mates | None = None) -> Cage:
    """Fair picked points; none of them moves further than `within` mm.

    What is made small is the sum of squared third differences along all rows: the change of curvature along the lines of a uniform cubic
    B-spline (Moreton & Séquin 1992 minimise the change of curvature; here as differences, so that it is linear). Points that are not
    picked stay; rows are not followed across creases.

    Raises
    ------
    HollowMarbleError
        where no point is picked, or none of them lies on a row that runs on.
    """
    if not points:
        raise HollowMarbleError("No points are picked. Pick the points to fair first.")
    picked = np.zeros(len(cage.points), bool)
    picked[points] = True
    if mates is not None:
        picked[mates.points(points)] = True
    runs = _runs(cage)
    runs = runs[picked[runs].any(axis=1)]
    if not len(runs):
        raise HollowMarbleError("No row runs on through these points. Pick more of them, or points away from creases.")
    count, free = len(cage.points), np.flatnonzero(picked)
    weights, rows = np.tile([-1.0, 3.0, -3.0, 1.0], len(runs)), np.repeat(np.arange(len(runs)), 4)
    differences = coo_matrix((weights, (rows, runs.ravel())), shape=(len(runs), count)).tocsr()
    energy = differences.T @ differences
    pull = -(energy @ cage.points)[free]
    along = _going_along(cage, picked, runs)
    inner = (energy + along.T @ along)[free][:, free].tocsc()
    scale = float(inner.diagonal().mean())
    low, high = np.log(_SOFTEST), np.log(_STIFFEST)
    moved = np.zeros((len(free), 3))
    while high - low > _CLOSE:
        middle = (low + high) / 2
        stiff = (inner + scale * np.exp(middle) * identity(len(free))).tocsc()
        step = splu(stiff).solve(pull)
        if np.linalg.norm(step, axis=1).max() <= within:
            high, moved = middle, step
        else:
            low = middle
    placed = cage.points.copy()
    placed[free] += moved
    return cage.moved(placed)


def _runs(cage: Cage) -> NDArray[np.int64]:
    """(R, 4) points of every piece of a row that runs straight on over two points of four edges each, each once."""
    topology, points = cage.topology, cage.face_points
    valence = np.bincount(topology.edges.ravel(), minlength=len(cage.points))
    open_half = topology.twin < 0
    plain = valence == 4
    plain[np.unique(np.concatenate([points[open_half], points[topology.next[open_half]]]))] = False
    if len(cage.crease_edges):
        plain[np.unique(cage.crease_edges)] = False
    plain[cage.corner_points] = False
    found = []
    for half in range(len(points)):
        b, c = int(points[half]), int(points[topology.next[half]])
        if not (plain[b] and plain[c]) or b > c:
            continue
        ahead, behind = _onward(topology, half), _onward(topology, int(topology.twin[half]))
        if ahead is None or behind is None:
            continue
        found.append((int(points[topology.next[behind]]), b, c, int(points[topology.next[ahead]])))
    return np.array(found, np.int64).reshape(-1, 4)


def _onward(topology: Topology, half: int) -> int | None:
    """The half-edge that goes straight on from the head of one, at a point of four edges."""
    following = topology.next[half]
    across = topology.twin[following]
    if across < 0:
        return None
    return int(topology.next[across])


def _going_along(cage: Cage, picked: NDArray[np.bool_], runs: NDArray[np.int64]) -> csr_matrix:
    """(A, P) what a picked point on no run, as an odd point, moves other than its neighbours do on the mean."""
    count = len(cage.points)
    on_run = np.zeros(count, bool)
    on_run[runs[:, 1:3]] = True
    alone = np.flatnonzero(picked & ~on_run)
    edges = np.concatenate([cage.topology.edges, cage.topology.edges[:, ::-1]])
    edges = edges[np.isin(edges[:, 0], alone)]
    row = np.searchsorted(alone, edges[:, 0])
    share = 1 / np.bincount(row, minlength=len(alone))[row]
    each = np.arange(len(alone))
    values = np.concatenate([np.ones(len(alone)), -share])
    places = (np.concatenate([each, row]), np.concatenate([alone, edges[:, 1]]))
    return coo_matrix((values, places), shape=(len(alone), count)).tocsr()
