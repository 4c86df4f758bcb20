"""Meshes of solids with exact normals and, where they are asked for, exact derivatives."""

from __future__ import annotations

from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray
from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Surface
from OCP.BRepMesh import BRepMesh_IncrementalMesh
from OCP.BRepTools import BRepTools
from OCP.gp import gp_Pnt, gp_Vec
from OCP.TopAbs import TopAbs_Orientation
from OCP.TopLoc import TopLoc_Location
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components
from scipy.spatial import cKDTree

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.solids.kernel.shapes import Named, box, edges_of, read
from hollow_marble.core.solids.solid import Array, Bent, Solid, SolidMesh

Ints = NDArray[np.int64]
ANGLE = 0.25
"""Radians between neighbouring triangles at most."""
MOST_TRIANGLES = 2_000_000


def mesh(solid: Solid, tolerance: float | None, share: float = 1e-3) -> SolidMesh:
    """Triangles nowhere further than `tolerance` mm from the surface, or a share of its size where that is left out."""
    return _mesh(read(solid), tolerance, share)[0]


def bent(solid: Solid, tolerance: float | None, share: float = 1e-3) -> tuple[SolidMesh, Bent]:
    """A mesh with the surface's derivatives at its points."""
    found, derivatives = _mesh(read(solid), tolerance, share, True)
    assert derivatives is not None
    length = np.linalg.norm(np.cross(derivatives[:, 0], derivatives[:, 1]), axis=1)
    scale = np.linalg.norm(derivatives[:, 0], axis=1) * np.linalg.norm(derivatives[:, 1], axis=1)
    return found, Bent(derivatives, length > 1e-9 * np.maximum(scale, 1e-300))


def _mesh(named: Named, tolerance: float | None, share: float, bends: bool = False) -> tuple[SolidMesh, Array | None]:
    shape = named.shape
    if tolerance is None:
        low, high = box(shape)
        tolerance = max(share * float(np.linalg.norm(high - low)), 1e-4)
    BRepTools.Clean_s(shape)
    BRepMesh_IncrementalMesh(shape, tolerance, False, ANGLE, False)
    points, normals, triangles, starts, owners, derivatives, places = [], [], [], [0], [], [], []
    lines: dict[int, Any] = {}
    for number, face in enumerate(named.faces):
        place = TopLoc_Location()
        found = BRep_Tool.Triangulation_s(face, place)
        if found is None:
            raise HollowMarbleError(
                "A face of it cannot be shown: it has no inside of its own. Take its last step out."
            )
        matrix = _matrix(place)
        count = found.NbNodes()
        flat = np.array([(p.X(), p.Y(), p.Z()) for p in (found.Node(k) for k in range(1, count + 1))])
        if matrix is not None:
            flat = flat @ matrix[:3, :3].T + matrix[:3, 3]
        corners = (
            np.array([found.Triangle(k).Get() for k in range(1, found.NbTriangles() + 1)], np.int64).reshape(-1, 3) - 1
        )
        places.append(np.array([(p.X(), p.Y()) for p in (found.UVNode(k) for k in range(1, count + 1))]))
        over = face.Orientation() == TopAbs_Orientation.TopAbs_REVERSED
        if over:
            corners = corners[:, ::-1]
        exact = _derivatives(face, found, count, bends)
        normals.append(_normals(exact, over, flat, corners))
        if bends:
            derivatives.append(exact)
        base = starts[-1]
        points.append(flat)
        triangles.append(corners + base)
        owners.append(np.full(len(corners), number))
        starts.append(base + count)
        if starts[-1] > MOST_TRIANGLES:
            raise HollowMarbleError("That fine it would have over two million points. Ask for a coarser mesh.")
        lines[number] = found, place, base
    every = np.vstack(points)
    runs, beyond, names = _lines(named, lines)
    return SolidMesh(
        every,
        np.vstack(normals),
        np.vstack(triangles),
        np.array(starts, np.int64),
        np.concatenate(owners).astype(np.int64),
        _joined(every),
        np.concatenate(runs).astype(np.int64) if runs else np.empty(0, np.int64),
        np.cumsum([0, *map(len, runs)]).astype(np.int64),
        names,
        np.concatenate(beyond).astype(np.int64) if beyond else np.empty(0, np.int64),
        np.vstack(places),
    ), np.vstack(derivatives) if bends else None


_STEPS = 3


@lru_cache(maxsize=3)
def _kept(shape: bytes, names: tuple[str, ...]) -> Named:
    """A solid that is asked again and again, read once. Nothing may be done to it."""
    return read(Solid(shape, names, 0.0, False))


def placed_on(solid: Solid, faces: Ints, places: Array, near: Array) -> tuple[Array, Array]:
    """Points of faces by number (K,) nearest to places (K, 3), and unit normals there that look outwards; found from parameters (K, 2) near them
    by Newton's method. A normal of nought where the surface has none."""
    named = _kept(solid.shape, solid.names)
    points, normals = np.empty((len(faces), 3)), np.zeros((len(faces), 3))
    p, u, v = gp_Pnt(), gp_Vec(), gp_Vec()
    for number in np.unique(faces).tolist():
        face = named.faces[number]
        surface = BRepAdaptor_Surface(face)
        rows = np.flatnonzero(faces == number)
        tangents, here, at = np.empty((len(rows), 2, 3)), np.empty((len(rows), 3)), places[rows].copy()
        low = np.array([surface.FirstUParameter(), surface.FirstVParameter()])
        high = np.array([surface.LastUParameter(), surface.LastVParameter()])
        for _ in range(_STEPS):
            for k, (s, t) in enumerate(at.tolist()):
                surface.D1(s, t, p, u, v)
                here[k] = p.X(), p.Y(), p.Z()
                tangents[k] = (u.X(), u.Y(), u.Z()), (v.X(), v.Y(), v.Z())
            away = near[rows] - here
            square = np.einsum("kaj,kbj->kab", tangents, tangents)
            det = square[:, 0, 0] * square[:, 1, 1] - square[:, 0, 1] ** 2
            told = det > 1e-12 * np.maximum(square[:, 0, 0] * square[:, 1, 1], 1e-300)
            onto = np.einsum("kaj,kj->ka", tangents, away)
            det = np.where(told, det, 1.0)
            step = np.stack(
                [
                    (square[:, 1, 1] * onto[:, 0] - square[:, 0, 1] * onto[:, 1]) / det,
                    (square[:, 0, 0] * onto[:, 1] - square[:, 0, 1] * onto[:, 0]) / det,
                ],
                axis=1,
            )
            at = np.clip(at + np.where(told[:, None], step, 0.0), np.minimum(low, at), np.maximum(high, at))
        points[rows] = here
        normal = np.cross(tangents[:, 0], tangents[:, 1])
        length = np.linalg.norm(normal, axis=1, keepdims=True)
        scale = np.linalg.norm(tangents, axis=2).prod(axis=1, keepdims=True)
        told = length > 1e-9 * np.maximum(scale, 1e-300)
        side = -1.0 if face.Orientation() == TopAbs_Orientation.TopAbs_REVERSED else 1.0
        normals[rows] = np.where(told, side * normal / np.maximum(length, 1e-300), 0.0)
    return points, normals


def _matrix(place: Any) -> Array | None:
    if place.IsIdentity():
        return None
    t = place.Transformation()
    return np.array([[t.Value(row, column) for column in range(1, 5)] for row in range(1, 4)])


def _derivatives(face: Any, found: Any, count: int, bends: bool) -> Array:
    """(n, 2, 3) derivatives along u and v at the points of a face's triangles; (n, 5, 3) with those along uu, uv, vv."""
    surface = BRepAdaptor_Surface(face)
    p, d = gp_Pnt(), [gp_Vec() for _ in range(5 if bends else 2)]
    result = np.empty((count, len(d), 3))
    for k in range(count):
        at = found.UVNode(k + 1)
        if bends:
            u, v, uu, uv, vv = d
            surface.D2(at.X(), at.Y(), p, u, v, uu, vv, uv)
        else:
            surface.D1(at.X(), at.Y(), p, *d)
        result[k] = [(w.X(), w.Y(), w.Z()) for w in d]
    return result


def _normals(exact: Array, over: bool, points: Array, corners: Ints) -> Array:
    """(n, 3) unit normals that look outwards; at a pole, where the surface has none, the mean of the triangles there."""
    normal = np.cross(exact[:, 0], exact[:, 1])
    length = np.linalg.norm(normal, axis=1)
    scale = np.linalg.norm(exact[:, 0], axis=1) * np.linalg.norm(exact[:, 1], axis=1)
    weak = length < 1e-9 * np.maximum(scale, scale.max() * 1e-9) + 1e-300
    normal = normal * (-1.0 if over else 1.0)
    if weak.any():
        sides = np.cross(points[corners[:, 1]] - points[corners[:, 0]], points[corners[:, 2]] - points[corners[:, 0]])
        mean = np.zeros_like(points)
        for k in range(3):
            np.add.at(mean, corners[:, k], sides)
        normal[weak] = mean[weak]
        length = np.linalg.norm(normal, axis=1)
    return np.asarray(normal / np.maximum(length, 1e-300)[:, None])


def _lines(named: Named, faces: dict[int, Any]) -> tuple[list[Ints], list[Ints], tuple[str, ...]]:
    """Points of the mesh along each edge that is drawn, on its first face and on its other one, and the edges' names."""
    runs, others, names = [], [], []
    order = {name: number for number, name in enumerate(named.names)}
    for edge, name in edges_of(named):
        first, *other = [face for face in name.faces if face]
        run = _run(edge, *faces[order[first]])
        if run is None:
            continue
        beyond = _run(edge, *faces[order[other[0]]]) if other else None
        runs.append(run)
        others.append(beyond if beyond is not None and len(beyond) == len(run) else np.full(len(run), -1))
        names.append(edge_text(name))
    return runs, others, tuple(names)


def _run(edge: Any, found: Any, place: Any, base: int) -> Ints | None:
    """Point numbers along an edge on one of its faces; None where the face's triangles do not tell."""
    polygon = BRep_Tool.PolygonOnTriangulation_s(edge, found, place)
    if polygon is None:
        return None
    return np.array([polygon.Node(k) - 1 + base for k in range(1, polygon.NbNodes() + 1)], np.int64)


def edge_text(name: Any) -> str:
    """An edge's name as one text: its faces, a middle and a length."""
    numbers = ",".join(f"{v:.4f}" for v in (*name.middle, name.length))
    return f"{name.faces[0]}|{name.faces[1]}|{numbers}"


def _joined(points: Array) -> Ints:
    """(n,) number of the point of the surface behind each: those at the same place have the same."""
    pairs = cKDTree(points).query_pairs(1e-6, output_type="ndarray")
    graph = coo_matrix((np.ones(len(pairs)), (pairs[:, 0], pairs[:, 1])), shape=(len(points), len(points)))
    _count, group = connected_components(graph, directed=False)
    return np.asarray(group, np.int64)
