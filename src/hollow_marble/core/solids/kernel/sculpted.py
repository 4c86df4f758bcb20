"""Exact B-spline faces of a cage as a shape of the kernel: surfaces that share their edges, nothing sewn."""

from __future__ import annotations

from typing import Any

import numpy as np
from OCP.BRep import BRep_Builder
from OCP.BRepLib import BRepLib
from OCP.collections import Array1_double, Array1_gp_Pnt2d, Array1_int
from OCP.Geom2d import Geom2d_BSplineCurve
from OCP.gp import gp_Pnt, gp_Pnt2d
from OCP.TopAbs import TopAbs_Orientation, TopAbs_ShapeEnum
from OCP.TopLoc import TopLoc_Location
from OCP.TopoDS import TopoDS_Edge, TopoDS_Face, TopoDS_Shell, TopoDS_Solid, TopoDS_Vertex, TopoDS_Wire

from hollow_marble.core.solids.edges import Edge, Side
from hollow_marble.core.solids.kernel.shapes import Named, all_of, checked, numbered, written
from hollow_marble.core.solids.kernel.wires import surface
from hollow_marble.core.solids.patches import Patches
from hollow_marble.core.solids.solid import Solid

_TIGHT = 1e-7
_BACKWARDS = TopAbs_Orientation.TopAbs_REVERSED


def sculpted(patches: Patches, names: tuple[str, ...]) -> Solid:
    """A solid of a cage's faces where they close, else a surface; `names` are the faces'."""
    builder = BRep_Builder()
    surfaces = [surface(one.knots_u, one.knots_v, (3, 3), one.poles) for one in patches.surfaces]
    vertices = []
    for place in patches.corners:
        vertex = TopoDS_Vertex()
        builder.MakeVertex(vertex, gp_Pnt(*(float(v) for v in place)), _TIGHT)
        vertices.append(vertex)
    edges, flipped = [], []
    for edge in patches.edges:
        made, flip = _edge(builder, edge, patches, surfaces, vertices)
        edges.append(made)
        flipped.append(flip)
    shell = TopoDS_Shell()
    builder.MakeShell(shell)
    for number, loop in enumerate(patches.loops):
        face, wire = TopoDS_Face(), TopoDS_Wire()
        builder.MakeFace(face, surfaces[number], _TIGHT)
        builder.MakeWire(wire)
        for edge_number, way in loop:
            backwards = (way < 0) != flipped[edge_number]
            builder.Add(wire, edges[edge_number].Oriented(_BACKWARDS) if backwards else edges[edge_number])
        builder.Add(face, wire)
        builder.Add(shell, face)
    closed = all(len(edge.sides) == 2 for edge in patches.edges)
    shell.Closed(closed)
    shape: Any = shell
    if closed:
        solid = TopoDS_Solid()
        builder.MakeSolid(solid)
        builder.Add(solid, shell)
        shape = solid
    BRepLib.UpdateTolerances_s(shape)
    named = Named(shape, numbered(list(names), all_of(shape, TopAbs_ShapeEnum.TopAbs_FACE)), enclosed=patches.volume)
    return written(checked(named, "The exact form of the cage", closed=closed))


def _edge(
    builder: BRep_Builder, edge: Edge, patches: Patches, surfaces: list[Any], vertices: list[Any]
) -> tuple[Any, bool]:
    """An edge with its curve, which is that of its first side, and its places on both surfaces; whether it was turned round for that."""
    side = edge.sides[0]
    along = 0 if abs(side.end[0] - side.begin[0]) > abs(side.end[1] - side.begin[1]) else 1
    flip = bool(side.end[along] < side.begin[along])
    sides = [Side(s.surface, s.end, s.begin) if flip else s for s in edge.sides]
    first, last = (edge.last, edge.first) if flip else (edge.first, edge.last)
    own = sides[0]
    across = float(own.begin[1 - along])
    there = surfaces[own.surface]
    curve = there.VIso(across) if along == 0 else there.UIso(across)
    low, high = float(own.begin[along]), float(own.end[along])
    made = TopoDS_Edge()
    tolerance = _TIGHT if len(sides) == 1 else max(_TIGHT, 1.2 * _apart(patches, sides))
    builder.MakeEdge(made, curve, tolerance)
    builder.Add(made, vertices[first].Oriented(TopAbs_Orientation.TopAbs_FORWARD))
    builder.Add(made, vertices[last].Oriented(_BACKWARDS))
    for one in sides:
        builder.UpdateEdge(made, _flat(one, low, high), surfaces[one.surface], TopLoc_Location(), tolerance)
    builder.Range(made, low, high)
    builder.SameParameter(made, True)
    builder.SameRange(made, True)
    return made, flip


def _flat(side: Side, low: float, high: float) -> Any:
    """The straight line an edge makes in a surface's parameters."""
    poles = Array1_gp_Pnt2d(1, 2)
    poles.SetValue(1, gp_Pnt2d(*(float(v) for v in side.begin)))
    poles.SetValue(2, gp_Pnt2d(*(float(v) for v in side.end)))
    at, counts = Array1_double(1, 2), Array1_int(1, 2)
    for k, knot in enumerate((low, high)):
        at.SetValue(k + 1, knot)
        counts.SetValue(k + 1, 2)
    return Geom2d_BSplineCurve(poles, at, counts, 1)


def _apart(patches: Patches, sides: list[Side]) -> float:
    """How far an edge's curves on its two surfaces are apart at most, mm."""
    t = np.linspace(0, 1, 17)[:, None]
    one, other = (patches.surfaces[s.surface].at(s.begin + t * (s.end - s.begin)) for s in sides)
    return float(np.linalg.norm(one - other, axis=1).max())
