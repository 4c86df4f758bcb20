"""Solids parted by a plane, by a curve drawn through them, or by a surface, with a gap."""

from __future__ import annotations

import itertools
from dataclasses import replace
from typing import Any

import numpy as np
from OCP.BRepAlgoAPI import BRepAlgoAPI_Common, BRepAlgoAPI_Splitter
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace
from OCP.BRepPrimAPI import BRepPrimAPI_MakeHalfSpace
from OCP.gp import gp_Pln
from OCP.TopAbs import TopAbs_ShapeEnum

from hollow_marble.core.curves.chains import offset
from hollow_marble.core.curves.planes import Drawn, Plane
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.solids.kernel import wires
from hollow_marble.core.solids.kernel.building import extruded
from hollow_marble.core.solids.kernel.dressing import offset_shape
from hollow_marble.core.solids.kernel.shapes import (
    Named,
    all_of,
    box,
    checked,
    compound_of,
    enclosed,
    is_closed,
    met,
    named_after,
    read,
    single,
    written,
)
from hollow_marble.core.solids.solid import Solid


def split(origin: str, solid: Solid, plane: Plane, gap: float, keep_above: bool) -> Solid:
    """What lies above a plane (where its normal looks to), or below it, `gap` / 2 mm away from it."""
    named = read(solid)
    side = 1.0 if keep_above else -1.0
    at = plane.lifted(side * gap / 2)
    face = BRepBuilderAPI_MakeFace(gp_Pln(wires.pnt(at.origin), wires.direction(plane.normal))).Face()
    half = BRepPrimAPI_MakeHalfSpace(face, wires.pnt(at.origin + side * plane.normal)).Solid()
    builder = BRepAlgoAPI_Common()
    shape = single(met("Splitting", builder, [named.shape], [half]), "Splitting")
    found = _named(shape, origin, named, builder)
    if enclosed(found) > enclosed(named) * (1 - 1e-9):
        raise HollowMarbleError("The plane does not pass through the part. Move it so that it does.")
    return written(found)


def split_by(origin: str, solid: Solid, by: Drawn | Solid, gap: float, keep_above: bool) -> Solid:
    """What lies on one side of a surface (where its normal looks to), or on the other, `gap` / 2 mm away from it.

    by : an open surface, or an open flat curve that is drawn through the solid square to its plane

    Raises
    ------
    HollowMarbleError
        where the surface does not part the solid.
    """
    named = read(solid)
    side = 1.0 if keep_above else -1.0
    sheet = _through(named, by, side * gap / 2) if isinstance(by, Drawn) else _beside(read(by), side * gap / 2)
    builder = BRepAlgoAPI_Splitter()
    shape = met("Splitting", builder, [named.shape], [sheet])
    solids = all_of(shape, TopAbs_ShapeEnum.TopAbs_SOLID)
    kept = [piece for piece in solids if _lies_above(piece, sheet, builder) == keep_above]
    if len(solids) < 2 or not kept or len(kept) == len(solids):
        raise HollowMarbleError(
            "What it is split by does not pass all the way through the part, so nothing comes apart. Draw it longer, or move it."
        )
    return written(_named(kept[0] if len(kept) == 1 else compound_of(kept), origin, named, builder))


def _named(shape: Any, origin: str, named: Named, builder: Any) -> Named:
    """What is left of a solid, the faces it was cut by named so."""
    result = named_after(shape, origin, named, builder=builder)
    names = tuple(f"{origin}.cut" if name.startswith(f"{origin}.new") else name for name in result.names)
    return checked(replace(result, names=names), "Splitting", (0.0, enclosed(named)))


def _through(named: Named, curve: Drawn, beside: float) -> Any:
    """The sheet that an open curve draws, `beside` mm to the side its normal looks to, from before a shape to behind it."""
    plane = curve.flat("a split")
    if len(curve.chains) != 1 or curve.chains[0].closed:
        raise HollowMarbleError(
            f"{curve.name} does not part anything: a split follows one open curve. Draw such a one."
        )
    # what is drawn looks to the left of its curve
    chain = offset(curve.chains[0], beside) if beside else curve.chains[0]
    low, high = box(named.shape)
    corners = np.array(list(itertools.product(*zip(low, high))))
    deep = (corners - plane.origin) @ plane.normal
    sheet = extruded("sheet", Drawn(curve.name, (chain,), plane), float(deep.max()) + 1, 1 - float(deep.min()))
    return read(sheet).shape


def _beside(surface: Named, distance: float) -> Any:
    """An open surface, moved along its normal."""
    if is_closed(surface.shape):
        raise HollowMarbleError(
            "A split needs a surface that is open; this part is closed. Cut it away, or choose another."
        )
    if not distance:
        return surface.shape
    return offset_shape(f"A gap of {2 * abs(distance):g} mm", surface, distance)[0]


def _lies_above(piece: Any, sheet: Any, builder: Any) -> bool:
    """Whether a piece lies where a sheet's normal looks to: there the sheet bounds it the other way round."""
    faces = all_of(piece, TopAbs_ShapeEnum.TopAbs_FACE)
    turned = 0
    for face in all_of(sheet, TopAbs_ShapeEnum.TopAbs_FACE):
        for part in list(builder.Modified(face)) or [face]:
            for own in faces:
                if own.IsSame(part):
                    turned += 1 if own.Orientation() != part.Orientation() else -1
    return turned > 0
