"""What several tests ask of a cage."""

from __future__ import annotations

import numpy as np

from hollow_marble.core.cage.mesh import Cage


def euler(cage: Cage) -> int:
    """V - E + F = 2 - 2g for closed surfaces of genus g; one less for each opening (Euler-Poincaré)."""
    return len(cage.points) - len(cage.topology.edges) + cage.face_count


def closed(cage: Cage) -> bool:
    return bool((cage.topology.twin >= 0).all())


def volume(cage: Cage) -> float:
    """Volume inside a closed cage, mm³, by the divergence theorem."""
    corners = [cage.points[cage.face(f)] for f in range(cage.face_count)]
    return float(sum(np.cross(c[0], c[k]) @ c[k + 1] for c in corners for k in range(1, len(c) - 1)) / 6)


def edges_where(cage: Cage, **near: float) -> list[tuple[int, int]]:
    """Edges whose two ends have the given coordinates."""
    axes = {"x": 0, "y": 1, "z": 2}
    keep = np.ones(len(cage.topology.edges), bool)
    for name, value in near.items():
        keep &= np.isclose(cage.points[cage.topology.edges][:, :, axes[name]], value).all(axis=1)
    return [(int(a), int(b)) for a, b in cage.topology.edges[keep]]


def faces_where(cage: Cage, **near: float) -> list[int]:
    """Faces whose middles have the given coordinates."""
    middles = np.array([cage.points[cage.face(f)].mean(axis=0) for f in range(cage.face_count)])
    axes = {"x": 0, "y": 1, "z": 2}
    keep = np.ones(len(middles), bool)
    for name, value in near.items():
        keep &= np.isclose(middles[:, axes[name]], value)
    return np.flatnonzero(keep).tolist()


def open_edges(cage: Cage) -> list[tuple[int, int]]:
    topology = cage.topology
    return [
        (int(a), int(b)) for (a, b), half in zip(topology.edges, topology.edge_half) if int(topology.twin[half]) < 0
    ]
