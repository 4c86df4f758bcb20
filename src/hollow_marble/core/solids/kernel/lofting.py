"""Surfaces through sections as a shape of the kernel."""

from __future__ import annotations

from typing import Literal

from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace, BRepBuilderAPI_MakeSolid, BRepBuilderAPI_MakeVertex
from OCP.BRepExtrema import BRepExtrema_DistShapeShape

from hollow_marble.core.curves.lofting import Strip, enclosed_by
from hollow_marble.core.solids.kernel.closing import lidded, sewn
from hollow_marble.core.solids.kernel.shapes import checked, named_after, turned_out, with_told, written
from hollow_marble.core.solids.kernel.wires import pnt, surface
from hollow_marble.core.solids.solid import Solid

Ends = Literal["lids", "open", "none"]
_FLAT = 1e-7


def loft(origin: str, what: str, strips: list[Strip], bands: int, ends: Ends, told: tuple[str, ...] = ()) -> Solid:
    """A solid, or with its ends open a surface, of strips through sections (see core.curves.lofting); what comes round has no ends."""
    faces = [
        BRepBuilderAPI_MakeFace(surface(*strip.knots, strip.degree, strip.poles), _FLAT).Face() for strip in strips
    ]
    shell, history = sewn(faces)
    made = [(face, strip.name) for face, strip in zip(faces, strips)]
    if ends == "none":
        shell = turned_out(BRepBuilderAPI_MakeSolid(shell).Solid())
    sides = named_after(shell, origin, builder=history, made_of=made)
    if ends != "lids":
        return written(with_told(checked(sides, what, closed=ends == "none"), *told))
    begin = BRepBuilderAPI_MakeVertex(pnt(strips[0].poles[0, 0])).Vertex()
    due = enclosed_by(strips, bands)
    whole = lidded(
        origin,
        sides,
        lambda lid, _: "start" if BRepExtrema_DistShapeShape(begin, lid).Value() < 1e-5 else "end",
    )
    return written(with_told(checked(whole, what, (due, due)), *told))
