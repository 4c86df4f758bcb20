"""Measures of solids, and of what is picked of them: taken from the exact geometry, no mesh between."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any, Literal

import numpy as np
from OCP.BRepAdaptor import BRepAdaptor_Curve, BRepAdaptor_Surface
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeVertex
from OCP.BRepExtrema import BRepExtrema_DistShapeShape
from OCP.BRepGProp import BRepGProp
from OCP.BRepTools import BRepTools
from OCP.GCPnts import GCPnts_AbscissaPoint
from OCP.GeomAbs import GeomAbs_CurveType, GeomAbs_SurfaceType
from OCP.gp import gp_Pnt, gp_Vec
from OCP.GProp import GProp_GProps
from OCP.TopAbs import TopAbs_Orientation
from OCP.TopAbs import TopAbs_ShapeEnum as Kind

from hollow_marble.core.solids.kernel.shapes import all_of, area, compound_of, found_edges, found_faces, read
from hollow_marble.core.solids.solid import Array, EdgeName, Measured, Solid

_PARALLEL = 1e-3
"""Degrees between two axes that are taken to run the same way."""


@dataclass(frozen=True, eq=False)
class _Bearing:
    """The way (3,) that a straight edge runs, a flat face looks or an axis runs, a place (3,) on it, and a radius, as far as there are."""

    kind: Literal["straight", "flat", "turned", "free"]
    way: Array
    place: Array
    radius: float | None = None


_FREE = _Bearing("free", np.zeros(3), np.zeros(3))


def measured(solid: Solid, edges: tuple[EdgeName, ...], faces: tuple[str, ...]) -> Measured:
    """What is to be known of edges and faces of a solid.

    Raises
    ------
    HollowMarbleError
        where one is no longer there.
    """
    named = read(solid)
    lines = found_edges(named, edges)
    patches = [found_faces(named, (name,)) for name in faces]
    bearings = [*map(_of_edge, lines), *(_of_face(pieces[0]) for pieces in patches)]
    radii = {one.radius if one.radius is None else round(one.radius, 6) for one in bearings}
    apart = angle = axes = None
    if len(bearings) == 2:
        one, other = bearings
        found = BRepExtrema_DistShapeShape(*lines, *(compound_of(pieces) for pieces in patches))
        apart = float(found.Value()) if found.IsDone() else None
        if "free" not in (one.kind, other.kind):
            steep = float(np.degrees(np.arccos(np.clip(abs(one.way @ other.way), 0, 1))))
            angle = steep if (one.kind == "flat") == (other.kind == "flat") else 90 - steep
            if one.kind == other.kind == "turned" and steep < _PARALLEL:
                axes = float(np.linalg.norm(np.cross(other.place - one.place, one.way)))
    return Measured(
        sum(float(GCPnts_AbscissaPoint.Length_s(BRepAdaptor_Curve(line))) for line in lines),
        sum(area(face) for pieces in patches for face in pieces),
        radii.pop() if len(radii) == 1 else None,
        apart,
        angle,
        axes,
    )


def _of_edge(edge: Any) -> _Bearing:
    curve = BRepAdaptor_Curve(edge)
    if curve.GetType() == GeomAbs_CurveType.GeomAbs_Line:
        line = curve.Line()
        return _Bearing("straight", _xyz(line.Direction()), _xyz(line.Location()))
    if curve.GetType() == GeomAbs_CurveType.GeomAbs_Circle:
        ring = curve.Circle()
        return _Bearing("turned", _xyz(ring.Axis().Direction()), _xyz(ring.Location()), float(ring.Radius()))
    return _FREE


def _of_face(face: Any) -> _Bearing:
    surface = BRepAdaptor_Surface(face)
    kind = surface.GetType()
    if kind == GeomAbs_SurfaceType.GeomAbs_Plane:
        axis = surface.Plane().Axis()
        return _Bearing("flat", _xyz(axis.Direction()), _xyz(axis.Location()))
    turned = {
        GeomAbs_SurfaceType.GeomAbs_Cylinder: (surface.Cylinder, "Radius"),
        GeomAbs_SurfaceType.GeomAbs_Torus: (surface.Torus, "MinorRadius"),
        GeomAbs_SurfaceType.GeomAbs_Cone: (surface.Cone, ""),
    }
    if kind in turned:
        take, radius = turned[kind]
        form = take()
        return _Bearing(
            "turned",
            _xyz(form.Axis().Direction()),
            _xyz(form.Location()),
            float(getattr(form, radius)()) if radius else None,
        )
    if kind == GeomAbs_SurfaceType.GeomAbs_Sphere:
        return replace(_FREE, radius=float(surface.Sphere().Radius()))
    return _FREE


def _xyz(place: Any) -> Array:
    return np.array([place.X(), place.Y(), place.Z()])


def face_middle(solid: Solid, name: str) -> tuple[Array, Array]:
    """A place (3,) in the midst of a face, and the direction (3,) it looks to there."""
    named = read(solid)
    face = found_faces(named, (name,))[0]
    u0, u1, v0, v1 = BRepTools.UVBounds_s(face)
    surface, p, u, v = BRepAdaptor_Surface(face), gp_Pnt(), gp_Vec(), gp_Vec()
    surface.D1((u0 + u1) / 2, (v0 + v1) / 2, p, u, v)
    normal = u.Crossed(v)
    sign = -1.0 if face.Orientation() == TopAbs_Orientation.TopAbs_REVERSED else 1.0
    return np.array([p.X(), p.Y(), p.Z()]), sign * np.array([normal.X(), normal.Y(), normal.Z()])


def away(solid: Solid, points: Array) -> Array:
    """(n,) distances in mm of points (n, 3) from the skin of a solid."""
    skin = all_of(read(solid).shape, Kind.TopAbs_SHELL)[0]
    found = []
    for x, y, z in points.tolist():
        vertex = BRepBuilderAPI_MakeVertex(gp_Pnt(x, y, z)).Vertex()
        found.append(float(BRepExtrema_DistShapeShape(vertex, skin).Value()))
    return np.array(found)


def measures(solid: Solid) -> tuple[float, float, Array]:
    """Volume mm³, area mm² and centre of mass (3,) of a closed solid, as the kernel integrates them."""
    shape = read(solid).shape
    found = GProp_GProps()
    BRepGProp.VolumeProperties_s(shape, found, 1e-5)
    middle = found.CentreOfMass()
    return float(found.Mass()), area(shape), np.array([middle.X(), middle.Y(), middle.Z()])
