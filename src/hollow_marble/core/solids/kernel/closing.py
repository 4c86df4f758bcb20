"""Faces sewn together, and flat openings closed."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace, BRepBuilderAPI_MakeSolid, BRepBuilderAPI_Sewing
from OCP.ShapeAnalysis import ShapeAnalysis_FreeBounds
from OCP.TopAbs import TopAbs_ShapeEnum as Kind

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.solids.kernel.shapes import (
    Named,
    all_of,
    checked,
    is_closed,
    named_after,
    read,
    turned_out,
    written,
)
from hollow_marble.core.solids.solid import Solid

_TIGHT = 1e-5


def capped(origin: str, solid: Solid) -> Solid:
    """A surface whose flat openings are closed, so that it has an inside.

    Raises
    ------
    HollowMarbleError
        where an opening is not flat, or it is closed already.
    """
    named = read(solid)
    if is_closed(named.shape):
        raise HollowMarbleError("It is closed already and needs no lid.")
    return written(checked(lidded(origin, named, lambda _lid, number: f"lid-{number}"), "Capping"))


def lidded(origin: str, named: Named, name: Callable[[Any, int], str]) -> Named:
    """A surface with a flat lid on each of its rims, each named by `name` of the lid and its number."""
    bounds = ShapeAnalysis_FreeBounds(named.shape)
    rims = all_of(bounds.GetClosedWires(), Kind.TopAbs_WIRE)
    if not rims:
        raise HollowMarbleError(
            "It has no closed rim to cap. Draw its profile on, or make a second surface to meet it."
        )
    lids = []
    for rim in rims:
        maker = BRepBuilderAPI_MakeFace(rim, True)
        if not maker.IsDone():
            raise HollowMarbleError("One of its openings is not flat, so a lid has no plane. Cut it flat first.")
        lids.append(maker.Face())
    shell, history = sewn([named.shape, *lids])
    shape = turned_out(BRepBuilderAPI_MakeSolid(shell).Solid())
    made = [(lid, name(lid, number)) for number, lid in enumerate(lids, 1)]
    return named_after(shape, origin, named, builder=history, made_of=made)


class Sewn:
    """What became of faces that were sewn."""

    def __init__(self, sewing: BRepBuilderAPI_Sewing) -> None:
        self._sewing = sewing

    def IsDeleted(self, _face: Any) -> bool:
        return False

    def Modified(self, face: Any) -> list[Any]:
        return [self._sewing.Modified(face)]

    Generated = Modified


def sewn(faces: list[Any]) -> tuple[Any, Sewn]:
    """One shell of faces that meet at their edges, and what became of each.

    Raises
    ------
    HollowMarbleError
        where they do not hold together.
    """
    sewing = BRepBuilderAPI_Sewing(_TIGHT)
    for face in faces:
        sewing.Add(face)
    sewing.Perform()
    shape = sewing.SewedShape()
    if shape.ShapeType() == Kind.TopAbs_FACE:
        return shape, Sewn(sewing)
    shells = all_of(shape, Kind.TopAbs_SHELL)
    if len(shells) != 1:
        raise HollowMarbleError("Its lids do not meet its rim. Cut the openings flat first.")
    return shells[0], Sewn(sewing)
