"""What else is picked: more around it, less, all that hangs together, everything else."""

from __future__ import annotations

from typing import Literal

import numpy as np

from hollow_marble.core.cage.edits import check_faces, check_points
from hollow_marble.core.cage.mesh import Cage
from hollow_marble.core.cage.rows import edge_ring, edge_row, face_band
from hollow_marble.core.errors import HollowMarbleError

Kind = Literal["points", "edges", "faces"]
How = Literal["row", "band", "grow", "shrink", "linked", "rest", "alike"]
LIKENESS = 0.02
"""Lengths and areas that differ by less than this share are alike."""


def picked_more(cage: Cage, kind: Kind, items: list[int], how: How) -> list[int]:
    """Numbers of what is picked after one more gesture, lowest first.

    row : the edges that run on end to end from the picked ones (of faces, the band of faces instead)
    band : the edges side by side with the picked ones, or the faces they run across
    alike : points where as many edges meet, edges as long, faces of as many corners and as large, within 2 %
    """
    _check(cage, kind, items)
    count = {"points": len(cage.points), "edges": len(cage.topology.edges), "faces": cage.face_count}[kind]
    if how == "rest":
        return sorted(set(range(count)) - set(items))
    if how == "alike":
        return _alike(cage, kind, items)
    if how in ("row", "band"):
        return _rows(cage, kind, items, how)
    touched = _touching(cage, kind)
    chosen = np.zeros(count, bool)
    chosen[items] = True
    if how == "grow":
        chosen |= _spread(touched, chosen)
    elif how == "shrink":
        chosen &= ~_spread(touched, ~chosen)
    else:
        while True:
            more = chosen | _spread(touched, chosen)
            if (more == chosen).all():
                break
            chosen = more
    return np.flatnonzero(chosen).tolist()


def _check(cage: Cage, kind: Kind, items: list[int]) -> None:
    if kind == "points":
        check_points(cage, items)
    elif kind == "faces":
        check_faces(cage, items)
    elif not items or min(items) < 0 or max(items) >= len(cage.topology.edges):
        raise HollowMarbleError("Pick an edge first.")


def _rows(cage: Cage, kind: Kind, items: list[int], how: How) -> list[int]:
    found: set[int] = set(items)
    if kind == "points":
        raise HollowMarbleError("Rows and bands are of edges and faces. Choose Edges or Faces first.")
    if kind == "edges":
        for edge in items:
            found |= set(edge_row(cage, edge) if how == "row" else edge_ring(cage, edge))
        return sorted(found)
    for face in items:
        # through the sides it shares with another picked face, or through its first ones
        starts = range(int(cage.face_starts[face]), int(cage.face_starts[face + 1]))
        topology = cage.topology
        shared = [h for h in starts if topology.twin[h] >= 0 and int(topology.face_of[topology.twin[h]]) in set(items)]
        for half in shared or list(starts)[:1] if how == "row" else list(starts)[1:2]:
            found |= set(face_band(cage, int(topology.edge_of[half])))
    return sorted(found)


def _alike(cage: Cage, kind: Kind, items: list[int]) -> list[int]:
    """Items like any of the picked ones."""
    edges = cage.topology.edges
    if kind == "points":
        valence = np.bincount(edges.ravel(), minlength=len(cage.points))
        return np.flatnonzero(np.isin(valence, valence[items])).tolist()
    if kind == "edges":
        size = np.linalg.norm(cage.points[edges[:, 0]] - cage.points[edges[:, 1]], axis=1)
        sides = np.zeros(len(edges))
    else:
        here, ahead = cage.points[cage.face_points], cage.points[cage.face_points[cage.topology.next]]
        size = np.linalg.norm(np.add.reduceat(np.cross(here, ahead), cage.face_starts[:-1], axis=0), axis=1)
        sides = np.diff(cage.face_starts).astype(float)
    alike = np.zeros(len(size), bool)
    for corners in np.unique(sides[items]):
        wanted = np.unique(size[items][sides[items] == corners])
        after = np.searchsorted(wanted, size)
        for beside in (np.maximum(after - 1, 0), np.minimum(after, len(wanted) - 1)):
            near = np.abs(size - wanted[beside]) <= LIKENESS * np.maximum(wanted[beside], 1e-9)
            alike |= near & (sides == corners)
    return np.flatnonzero(alike).tolist()


def _touching(cage: Cage, kind: Kind) -> np.ndarray:
    """(N, 2) pairs of an item and a point it has."""
    if kind == "faces":
        return np.column_stack([cage.topology.face_of, cage.face_points])
    edges = cage.topology.edges
    if kind == "edges":
        return np.column_stack([np.repeat(np.arange(len(edges)), 2), edges.ravel()])
    # points touch through edges: each edge stands for a place both its ends have
    return np.column_stack([edges.ravel(), np.repeat(np.arange(len(edges)), 2)])


def _spread(touched: np.ndarray, chosen: np.ndarray) -> np.ndarray:
    """Items that share a place with a chosen one."""
    places = np.zeros(int(touched[:, 1].max()) + 1, bool)
    places[touched[chosen[touched[:, 0]], 1]] = True
    found = np.zeros(len(chosen), bool)
    found[touched[places[touched[:, 1]], 0]] = True
    return found
