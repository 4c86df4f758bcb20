"""Curves and surfaces as the kernel takes them: exact edges, wires, flat faces and B-splines."""

from __future__ import annotations

from typing import Any

import numpy as np
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeEdge, BRepBuilderAPI_MakeFace, BRepBuilderAPI_MakeWire
from OCP.collections import Array1_double, Array1_gp_Pnt, Array1_int, Array2_gp_Pnt
from OCP.Geom import Geom_BSplineCurve, Geom_BSplineSurface
from OCP.gp import gp_Ax2, gp_Circ, gp_Dir, gp_Elips, gp_Pln, gp_Pnt, gp_Vec
from OCP.TopoDS import TopoDS
from scipy.interpolate import make_interp_spline

from hollow_marble.core.curves.drawing import NEAR, Chain
from hollow_marble.core.curves.planes import Plane
from hollow_marble.core.curves.segments import Array, Conic, Line, Segment
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.paths import lengths


def pnt(p: Array) -> gp_Pnt:
    """A point."""
    return gp_Pnt(float(p[0]), float(p[1]), float(p[2]))


def direction(v: Array) -> gp_Dir:
    """A direction."""
    return gp_Dir(float(v[0]), float(v[1]), float(v[2]))


def vec(v: Array) -> gp_Vec:
    """A vector."""
    return gp_Vec(float(v[0]), float(v[1]), float(v[2]))


def edge(segment: Segment) -> Any:
    """A piece in space as an edge: lines and conics stay what they are."""
    ends = segment.at(np.array([0.0, 1.0]))
    if isinstance(segment, Line):
        if np.linalg.norm(ends[1] - ends[0]) < NEAR:
            raise HollowMarbleError(f"The line {segment.name} has no length. Move one of its ends, or take it out.")
        return BRepBuilderAPI_MakeEdge(pnt(ends[0]), pnt(ends[1])).Edge()
    if isinstance(segment, Conic):
        return _conic(segment)
    poles = Array1_gp_Pnt(1, len(segment.poles))
    for k, pole in enumerate(segment.poles):
        poles.SetValue(k + 1, pnt(pole))
    return BRepBuilderAPI_MakeEdge(Geom_BSplineCurve(poles, *_knots(segment.knots), segment.degree)).Edge()


def through(places: Array) -> Any:
    """An edge through places (n, 3): the cubic spline that passes them, by their chord lengths."""
    found = make_interp_spline(lengths(places), places, k=min(3, len(places) - 1))
    poles = Array1_gp_Pnt(1, len(found.c))
    for k, pole in enumerate(found.c):
        poles.SetValue(k + 1, pnt(pole))
    return BRepBuilderAPI_MakeEdge(Geom_BSplineCurve(poles, *_knots(found.t), int(found.k))).Edge()


def surface(knots_u: Array, knots_v: Array, degree: tuple[int, int], poles: Array) -> Any:
    """A B-spline surface of poles (m, n, 3)."""
    count_u, count_v = poles.shape[:2]
    places = Array2_gp_Pnt(1, count_u, 1, count_v)
    for i, row in enumerate(poles.tolist()):
        for j, place in enumerate(row):
            places.SetValue(i + 1, j + 1, gp_Pnt(*place))
    return Geom_BSplineSurface(places, *_knots(knots_u, knots_v), *degree)


def _knots(*all_knots: Array) -> tuple[Any, ...]:
    values, counts = [], []
    for knots in all_knots:
        each, many = np.unique(knots, return_counts=True)
        at, multiplicity = Array1_double(1, len(each)), Array1_int(1, len(each))
        for k, (knot, count) in enumerate(zip(each.tolist(), many.tolist())):
            at.SetValue(k + 1, knot)
            multiplicity.SetValue(k + 1, count)
        values.append(at)
        counts.append(multiplicity)
    return (*values, *counts)


def _conic(conic: Conic) -> Any:
    a, b = conic.radii
    start, stop = conic.start, conic.start + conic.sweep
    u, v = conic.u, conic.v
    if b > a:  # the kernel's ellipses begin at their longer half axis
        a, b, u, v = b, a, conic.v, -conic.u
        start, stop = start - np.pi / 2, stop - np.pi / 2
    normal = np.cross(u, v)
    frame = gp_Ax2(pnt(conic.centre), direction(normal), direction(u))
    curve = gp_Circ(frame, a) if conic.is_round else gp_Elips(frame, a, b)
    low, high = min(start, stop), max(start, stop)
    if conic.is_whole:
        made = BRepBuilderAPI_MakeEdge(curve, low, low + 2 * np.pi).Edge()
    else:
        made = BRepBuilderAPI_MakeEdge(curve, low, high).Edge()
    return TopoDS.Edge(made.Reversed()) if conic.sweep < 0 else made


def wire(chain: Chain) -> tuple[Any, list[tuple[Any, str]]]:
    """A chain in space as a wire, and its edges with the names of their pieces."""
    maker, edges = BRepBuilderAPI_MakeWire(), []
    for segment in chain.segments:
        maker.Add(edge(segment))
        if not maker.IsDone():
            raise HollowMarbleError(f"The curve breaks off at {segment.name}. Join its ends, and try again.")
        edges.append((maker.Edge(), segment.name))
    return maker.Wire(), edges


def face(outer: Chain, holes: list[Chain], plane: Plane) -> tuple[Any, list[tuple[Any, str]]]:
    """A flat region, in its plane's coordinates, as a face that looks along the plane's normal; its edges with names."""
    surface = gp_Pln(pnt(plane.origin), direction(plane.normal))
    outline, edges = wire(plane.placed(_round(outer, True)))
    maker = BRepBuilderAPI_MakeFace(surface, outline, True)
    for hole in holes:
        inner, more = wire(plane.placed(_round(hole, False)))
        maker.Add(inner)
        edges += more
    if not maker.IsDone():
        raise HollowMarbleError("The profile does not enclose a flat region. Close it, and try again.")
    return maker.Face(), edges


def _round(chain: Chain, left: bool) -> Chain:
    """A closed chain that runs to the left, or to the right."""
    from hollow_marble.core.curves.chains import area_and_centroid

    return chain if (area_and_centroid(chain)[0] > 0) == left else chain.back()
