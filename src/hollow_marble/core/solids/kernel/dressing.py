"""Edges rounded and chamfered, solids hollowed, faces moved out."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np
from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Curve, BRepAdaptor_Surface
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeSolid, BRepBuilderAPI_MakeVertex
from OCP.BRepClass import BRepClass_FaceClassifier
from OCP.BRepExtrema import BRepExtrema_DistShapeShape
from OCP.BRepFilletAPI import BRepFilletAPI_MakeChamfer, BRepFilletAPI_MakeFillet
from OCP.BRepOffset import BRepOffset_Mode
from OCP.BRepOffsetAPI import BRepOffsetAPI_MakeOffsetShape, BRepOffsetAPI_MakeThickSolid
from OCP.BRepTools import BRepTools
from OCP.collections import List_TopoDS_Shape
from OCP.GCPnts import GCPnts_AbscissaPoint
from OCP.GeomAbs import GeomAbs_JoinType
from OCP.gp import gp_Pnt, gp_Pnt2d, gp_Vec
from OCP.TopAbs import TopAbs_Orientation, TopAbs_State
from OCP.TopAbs import TopAbs_ShapeEnum as Kind
from OCP.TopoDS import TopoDS

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.solids.kernel.shapes import (
    Named,
    all_of,
    area,
    built,
    checked,
    edges_of,
    enclosed,
    found_edges,
    found_faces,
    is_closed,
    named_after,
    read,
    single,
    turned_out,
    volume,
    written,
)
from hollow_marble.core.solids.solid import EdgeName, Solid


def filleted(origin: str, solid: Solid, edges: tuple[EdgeName, ...], radius: float, end: float | None = None) -> Solid:
    """Edges rounded with a radius in mm; towards their ends with another, where it is given."""
    named = read(solid)
    wanted = [(edge, radius, radius if end is None else end) for edge in found_edges(named, edges)]
    what = f"A rounding of {radius:g} mm" if end is None else f"A rounding that runs from {radius:g} to {end:g} mm"
    return written(rounded_edges(origin, named, wanted, what))


def rounded_edges(
    origin: str,
    named: Named,
    edges: list[tuple[Any, float, float]],
    what: str,
    bounds: tuple[float, float] | None = None,
) -> Named:
    """Edges rounded, each with a radius at its beginning and at its end; where that is too much, it is said what would fit.

    bounds : least and greatest volume before, mm³; worked out where they are not given
    """
    low, high = bounds or (enclosed(named), enclosed(named))

    def attempt(share: float) -> Named:
        builder = BRepFilletAPI_MakeFillet(named.shape)
        for edge, first, last in edges:
            if first == last:
                builder.Add(share * first, edge)
            else:
                builder.Add(share * first, share * last, edge)
        shape = single(built(what, builder), what)
        made = _with_names(named, [edge for edge, _, _ in edges])
        corners = {_key(v): v for edge, _, _ in edges for v in all_of(edge, Kind.TopAbs_VERTEX)}
        made += [(vertex, "corner") for vertex in corners.values()]
        reach = sum(share**2 * max(a, b) ** 2 * _length(edge) for edge, a, b in edges)
        found = named_after(shape, origin, named, builder=builder, made_of=made)
        return checked(found, what, (low - reach, high + reach))

    return _or_what_fits(attempt, max(max(a, b) for _, a, b in edges), what)


def chamfered(origin: str, solid: Solid, edges: tuple[EdgeName, ...], width: float) -> Solid:
    """Edges cut off, `width` mm from them on both faces."""
    named = read(solid)
    there = found_edges(named, edges)
    what = f"A chamfer of {width:g} mm"

    def attempt(share: float) -> Named:
        builder = BRepFilletAPI_MakeChamfer(named.shape)
        for edge in there:
            builder.Add(share * width, edge)
        shape = single(built(what, builder), what)
        made = _with_names(named, there)
        reach = sum((share * width) ** 2 * _length(edge) for edge in there)
        before = enclosed(named)
        return checked(
            named_after(shape, origin, named, builder=builder, made_of=made), what, (before - reach, before + reach)
        )

    return written(_or_what_fits(attempt, width, what))


def _with_names(named: Named, edges: list[Any]) -> list[tuple[Any, str]]:
    """Edges with the faces they lie between, as what is made of them is named."""
    names = {_key(edge): f"{name.faces[0]}~{name.faces[1]}" for edge, name in edges_of(named)}
    return [(edge, names.get(_key(edge), "edge")) for edge in edges]


def _or_what_fits(attempt: Callable[[float], Named], size: float, what: str) -> Named:
    """What an attempt gives at its full size; where it fails, a refusal that names a size that does not."""
    try:
        return attempt(1.0)
    except HollowMarbleError as error:
        low, high = 0.0, 1.0
        for _ in range(6):
            middle = (low + high) / 2
            try:
                attempt(middle)
                low = middle
            except HollowMarbleError:
                high = middle
        if low == 0:
            raise HollowMarbleError(
                f"{what} does not fit these edges, nor does a much smaller one. Pick other edges."
            ) from error
        raise HollowMarbleError(
            f"{what} is more than the faces beside it have room for; {_rounded_down(low * size)} mm fits. Give it a smaller one."
        ) from error


def _rounded_down(value: float) -> str:
    digits = 10.0 ** (np.floor(np.log10(value)) - 1)
    return f"{np.floor(value / digits + 1e-9) * digits:g}"


def hollowed(origin: str, solid: Solid, wall: float, open_faces: tuple[str, ...]) -> Solid:
    """A solid hollowed to a wall of `wall` mm inside its skin; faces taken away leave openings."""
    named = read(solid)
    what = f"Hollowing to a wall of {wall:g} mm"
    away = found_faces(named, open_faces)
    _check_room(named, wall, what)
    if not away:
        return written(_hollow(origin, named, wall, [], what))
    try:
        return written(_hollow(origin, named, wall, away, what))
    except HollowMarbleError:
        # a convex form has room for a ball of volume / area (Bonnesen & Fenchel 1934); with less the kernel may end its process
        if wall > enclosed(named) / area(named.shape):
            raise
        _hollow(origin, named, wall, [], what)  # says what is the matter where it is not the opening
        raise HollowMarbleError(
            f"{what} works here, but not with these faces open. Hollow it without openings, and cut them away with another part."
        ) from None


def _hollow(origin: str, named: Named, wall: float, away: list[Any], what: str) -> Named:
    before = enclosed(named)
    made = [(face, f"in.{name}") for face, name in zip(named.faces, named.names)]
    if away:
        faces = List_TopoDS_Shape()
        for face in away:
            faces.Append(face)
        builder = BRepOffsetAPI_MakeThickSolid()
        arc = GeomAbs_JoinType.GeomAbs_Arc
        mode = BRepOffset_Mode.BRepOffset_Skin
        shape = built(
            what,
            builder,
            lambda: builder.MakeThickSolidByJoin(named.shape, faces, -wall, 1e-4, mode, False, False, arc),
        )
        result = named_after(turned_out(single(shape, what)), origin, named, builder=builder, made_of=made)
    else:
        inside, builder = offset_shape(what, named, -wall)
        inner = named_after(turned_out(single(inside, what)), origin, builder=builder, made_of=made)
        result = _emptied(what, origin, named, inner)
    result = checked(result, what, (0.0, before))
    _check_wall(named, result, origin, wall, what)
    return result


def _emptied(what: str, origin: str, named: Named, inner: Named) -> Named:
    """A solid with what lies wholly inside it taken out: its skin and the hollow's are two shells that do not meet, so nothing is cut."""
    skins, hollows = (all_of(one.shape, Kind.TopAbs_SHELL) for one in (named, inner))
    if len(skins) != 1 or len(hollows) != 1:
        raise HollowMarbleError(f"{what} needs one piece. Hollow it before it is repeated or split into several.")
    maker = BRepBuilderAPI_MakeSolid(skins[0])
    maker.Add(TopoDS.Shell(hollows[0].Reversed()))
    return named_after(maker.Solid(), origin, named, inner, builder=maker)


def _check_room(named: Named, wall: float, what: str) -> None:
    """Refuse a wall that reaches beyond the middle of a face's own bend: the kernel ends its process there (seen with 8.0.1)."""
    for face in named.faces:
        tight = _tightest_bulge(face)
        if tight <= wall * (1 + 1e-6):
            raise HollowMarbleError(
                f"{what} has no room where the skin is rounded by only {tight:.3g} mm. Make the wall thinner than that, or hollow it first "
                "and round its edges afterwards."
            )


def _tightest_bulge(face: Any) -> float:
    """The smallest radius a face bulges outwards by, mm, at nine places of it; without end where it does not."""
    u0, u1, v0, v1 = BRepTools.UVBounds_s(face)
    surface, p = BRepAdaptor_Surface(face), gp_Pnt()
    d = [gp_Vec() for _ in range(5)]
    over = -1.0 if face.Orientation() == TopAbs_Orientation.TopAbs_REVERSED else 1.0
    worst = 0.0
    for s in (0.1, 0.5, 0.9):
        for t in (0.1, 0.5, 0.9):
            surface.D2(u0 + s * (u1 - u0), v0 + t * (v1 - v0), p, *d)
            u, v, uu, vv, uv = (np.array([w.X(), w.Y(), w.Z()]) for w in d)
            normal = over * np.cross(u, v)
            size = float(np.linalg.norm(normal))
            if size < 1e-12 * max(float(u @ u), float(v @ v)):
                continue
            normal = normal / size
            first = np.array([[u @ u, u @ v], [u @ v, v @ v]])
            second = np.array([[uu @ normal, uv @ normal], [uv @ normal, vv @ normal]])
            worst = min(worst, float(np.linalg.eigvals(np.linalg.solve(first, second)).real.min()))
    return 1 / -worst if worst < -1e-9 else np.inf


def _check_wall(before: Named, after: Named, origin: str, wall: float, what: str) -> None:
    """Hold the middle of each inner face against the skin it was made from: it must lie a wall away."""
    skin = all_of(before.shape, Kind.TopAbs_SHELL)[0]  # not the solid: to that, what is inside is no way away
    if not any(name.startswith(f"{origin}.in.") for name in after.names):
        raise HollowMarbleError(f"{what} leaves no hollow: the form is not twice as thick. Make the wall thinner.")
    for face, name in zip(after.faces, after.names):
        if not name.startswith(f"{origin}.in."):
            continue
        vertex = _middle_of(face)
        away = BRepExtrema_DistShapeShape(vertex, skin).Value()
        if abs(away - wall) > max(0.02 * wall, 1e-3):
            raise HollowMarbleError(
                f"{what} came out {away:.2f} mm thick at one place, so the form is too tight for it. Make the wall thinner."
            )


def _middle_of(face: Any) -> Any:
    """A vertex in the midst of a face, on it."""
    u0, u1, v0, v1 = BRepTools.UVBounds_s(face)
    inside = BRepClass_FaceClassifier()
    surface = BRep_Tool.Surface_s(face)
    for s, t in (
        (0.5, 0.5),
        (0.3, 0.5),
        (0.7, 0.5),
        (0.5, 0.3),
        (0.5, 0.7),
        (0.2, 0.2),
        (0.8, 0.8),
        (0.2, 0.8),
        (0.8, 0.2),
    ):
        u, v = u0 + s * (u1 - u0), v0 + t * (v1 - v0)
        inside.Perform(face, gp_Pnt2d(u, v), 1e-7)
        if inside.State() == TopAbs_State.TopAbs_IN:
            return BRepBuilderAPI_MakeVertex(surface.Value(u, v)).Vertex()
    edge = all_of(face, Kind.TopAbs_EDGE)[0]
    curve = BRepAdaptor_Curve(edge)
    return BRepBuilderAPI_MakeVertex(curve.Value((curve.FirstParameter() + curve.LastParameter()) / 2)).Vertex()


def moved_out(origin: str, solid: Solid, distance: float) -> Solid:
    """A solid or surface with its skin `distance` mm further out (in where negative)."""
    named = read(solid)
    what = f"An offset of {distance:g} mm"
    shape, builder = offset_shape(what, named, distance)
    closed = is_closed(named.shape)
    made = [(face, name) for face, name in zip(named.faces, named.names)]
    result = named_after(turned_out(shape), origin, builder=builder, made_of=made)
    if not closed:
        return written(checked(result, what, closed=False))
    before, skin = enclosed(named), area(named.shape)
    grown = volume(result.shape) - before
    if grown * distance <= 0 or abs(grown) < 0.2 * skin * abs(distance) * (1 if distance > 0 else 0):
        raise HollowMarbleError(f"{what} came out wrong in size, so the form is too tight for it. Make it smaller.")
    return written(checked(result, what))


def offset_shape(what: str, named: Named, distance: float) -> tuple[Any, Any]:
    """A shape with its skin so many mm further out, and the builder that made it."""
    builder = BRepOffsetAPI_MakeOffsetShape()
    arc = GeomAbs_JoinType.GeomAbs_Arc
    mode = BRepOffset_Mode.BRepOffset_Skin

    def make() -> None:
        builder.PerformByJoin(named.shape, distance, 1e-4, mode, False, False, arc)

    shape = built(what, builder, make)
    if is_closed(named.shape) and shape.ShapeType() != Kind.TopAbs_SOLID:
        shells = all_of(shape, Kind.TopAbs_SHELL)
        if shells:
            shape = turned_out(BRepBuilderAPI_MakeSolid(shells[0]).Solid())
    return shape, builder


def _key(shape: Any) -> int:
    """The same for the same edge, whichever way it runs."""
    return hash(shape.TShape()) if not hasattr(shape, "__hash__") else hash(shape)


def _length(edge: Any) -> float:
    return float(GCPnts_AbscissaPoint.Length_s(BRepAdaptor_Curve(edge)))
