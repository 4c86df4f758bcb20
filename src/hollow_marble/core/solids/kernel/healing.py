"""What is the matter with a shape that came from elsewhere, and how it is mended."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Curve
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeSolid, BRepBuilderAPI_Sewing
from OCP.BRepCheck import BRepCheck_Analyzer
from OCP.collections import IndexedDataMap_TopoDS_Shape_List_TopoDS_Shape_TopTools_ShapeMapHasher as Ancestors
from OCP.GCPnts import GCPnts_AbscissaPoint
from OCP.ShapeFix import ShapeFix_Shape
from OCP.TopAbs import TopAbs_ShapeEnum as Kind
from OCP.TopExp import TopExp
from OCP.TopoDS import TopoDS

from hollow_marble.core.solids.kernel.shapes import (
    Named,
    all_of,
    box,
    is_closed,
    read,
    turned_out,
    volume,
    written,
)
from hollow_marble.core.solids.solid import Solid

_SMALL = 0.01
"""mm: edges shorter than this are told."""
_TIGHT = 1e-6
"""mm: what is closer than this has no gap that anybody could see or make."""


@dataclass(frozen=True)
class Diagnosis:
    """What is the matter with a part that was read: numbers of open edges, of edges shorter than 0.01 mm, of faces that do not hold
    together; the greatest gap in mm that it allows itself."""

    open_edges: int
    small_edges: int
    broken_faces: int
    gap: float
    closed: bool

    def sentence(self) -> str:
        """It in words."""
        if self.closed and not (self.small_edges or self.broken_faces):
            if self.gap <= _TIGHT:
                return "It is a closed solid; its faces meet without a gap."
            return f"It is a closed solid; its faces meet within {self.gap:.2g} mm."
        said = []
        if not self.closed:
            said.append(f"it is open along {self.open_edges} edges")
        if self.small_edges:
            said.append(f"{self.small_edges} edges are shorter than 0.01 mm")
        if self.broken_faces:
            said.append(f"{self.broken_faces} faces do not hold together")
        text = ", ".join(said)
        return f"{text[0].upper()}{text[1:]}; gaps reach {self.gap:.2g} mm. Heal it, or go on with it as it is."


def diagnosed(named: Named) -> Diagnosis:
    """What is the matter with a shape."""
    around = Ancestors()
    TopExp.MapShapesAndAncestors_s(named.shape, Kind.TopAbs_EDGE, Kind.TopAbs_FACE, around)
    loose = small = 0
    gap = 0.0
    for k in range(1, around.Size() + 1):
        edge = TopoDS.Edge(around.FindKey(k))
        if BRep_Tool.Degenerated_s(edge):
            continue
        gap = max(gap, float(BRep_Tool.Tolerance_s(edge)))
        loose += around.FindFromIndex(k).Size() < 2
        small += float(GCPnts_AbscissaPoint.Length_s(BRepAdaptor_Curve(edge))) < _SMALL
    broken = sum(not BRepCheck_Analyzer(face).IsValid() for face in named.faces)
    return Diagnosis(loose, small, broken, gap, is_closed(named.shape) and volume(named.shape) > 0)


def healed_shape(shape: Any) -> Any:
    """Gaps sewn, small edges and self-crossing wires fixed, shells made solids where they close."""
    faces = all_of(shape, Kind.TopAbs_FACE)
    if not all_of(shape, Kind.TopAbs_SOLID) or not is_closed(shape):
        low, high = box(shape)
        sewing = BRepBuilderAPI_Sewing(max(1e-3, 1e-4 * float(np.linalg.norm(high - low))))
        for face in faces:
            sewing.Add(face)
        sewing.Perform()
        shape = sewing.SewedShape()
    fix = ShapeFix_Shape(shape)
    fix.SetPrecision(1e-6)
    fix.Perform()
    shape = fix.Shape()
    shells = all_of(shape, Kind.TopAbs_SHELL)
    if not all_of(shape, Kind.TopAbs_SOLID) and len(shells) == 1:
        solid = BRepBuilderAPI_MakeSolid(shells[0]).Solid()
        if is_closed(solid):
            return turned_out(solid)
    return shape


def healed(origin: str, solid: Solid) -> Solid:
    """A solid or surface after gaps were sewn and edges fixed; faces are named anew."""
    shape = healed_shape(read(solid).shape)
    count = len(all_of(shape, Kind.TopAbs_FACE))
    return written(Named(shape, tuple(f"{origin}.face-{k + 1}" for k in range(count))))
