"""Shapes of the kernel as bytes and back, their faces and edges, their measures; and whether they are what they claim to be."""

from __future__ import annotations

import io
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from OCP.BinTools import BinTools
from OCP.Bnd import Bnd_Box
from OCP.BRep import BRep_Builder, BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Curve, BRepAdaptor_Surface
from OCP.BRepBndLib import BRepBndLib
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeVertex
from OCP.BRepCheck import BRepCheck_Analyzer
from OCP.BRepExtrema import BRepExtrema_DistShapeShape
from OCP.BRepGProp import BRepGProp
from OCP.BRepLib import BRepLib
from OCP.BRepTools import BRepTools
from OCP.collections import (
    IndexedDataMap_TopoDS_Shape_List_TopoDS_Shape_TopTools_ShapeMapHasher as Ancestors,
)
from OCP.collections import IndexedMap_TopoDS_Shape_TopTools_ShapeMapHasher as ShapeMap
from OCP.collections import List_TopoDS_Shape
from OCP.GCPnts import GCPnts_AbscissaPoint
from OCP.GeomAbs import GeomAbs_SurfaceType
from OCP.GProp import GProp_GProps
from OCP.TopAbs import TopAbs_ShapeEnum as Kind
from OCP.TopExp import TopExp
from OCP.TopoDS import TopoDS, TopoDS_Compound, TopoDS_Shape

from hollow_marble.core.curves.planes import Plane
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.solids.solid import Array, EdgeName, Solid


@dataclass(frozen=True, eq=False)
class Named:
    """A shape with the names of its faces in order; `enclosed` is its volume where that is known."""

    shape: Any
    names: tuple[str, ...]
    told: tuple[str, ...] = ()
    enclosed: float | None = None

    @property
    def faces(self) -> list[Any]:
        """Its faces, in the order of their names."""
        return all_of(self.shape, Kind.TopAbs_FACE)


def all_of(shape: Any, kind: Any) -> list[Any]:
    """Sub-shapes of a kind, each once."""
    found = ShapeMap()
    TopExp.MapShapes_s(shape, kind, found)
    cast = {
        Kind.TopAbs_FACE: TopoDS.Face, Kind.TopAbs_EDGE: TopoDS.Edge, Kind.TopAbs_VERTEX: TopoDS.Vertex,
        Kind.TopAbs_SHELL: TopoDS.Shell, Kind.TopAbs_SOLID: TopoDS.Solid, Kind.TopAbs_WIRE: TopoDS.Wire,
    }[kind]  # fmt: skip
    return [cast(found.FindKey(k)) for k in range(1, found.Size() + 1)]


def read(solid: Solid) -> Named:
    """The kernel's shape of a solid."""
    shape = TopoDS_Shape()
    BinTools.Read_s(shape, io.BytesIO(solid.shape))
    return Named(shape, solid.names, solid.told, solid.volume if solid.closed else None)


def written(named: Named) -> Solid:
    """A shape for everybody else, with its volume."""
    stream = io.BytesIO()
    BinTools.Write_s(named.shape, stream)
    closed = is_closed(named.shape)
    enclosed = (volume(named.shape) if named.enclosed is None else named.enclosed) if closed else 0.0
    return Solid(stream.getvalue(), named.names, enclosed, closed, named.told)


def volume(shape: Any) -> float:
    """Volume enclosed, signed, mm³: refined till it changes by less than a hundred-thousandth (a hundredth of that in fact).

    Without that the kernel is off by a sixth of a per cent where knots of a spline are graded (seen with 8.0.1), and slower.
    """
    found = GProp_GProps()
    BRepGProp.VolumeProperties_s(shape, found, 1e-5)
    return float(found.Mass())


def area(shape: Any) -> float:
    """Area of all faces, mm²."""
    found = GProp_GProps()
    BRepGProp.SurfaceProperties_s(shape, found)
    return float(found.Mass())


def box(shape: Any) -> tuple[Array, Array]:
    """Lowest and highest corner of a box around a shape; round splines it is that of their poles."""
    found = Bnd_Box()
    BRepBndLib.Add_s(shape, found, False)  # the close one takes seconds for splines
    if found.IsVoid():
        raise HollowMarbleError("That leaves nothing. Change its numbers, and try again.")
    low, high = found.CornerMin(), found.CornerMax()
    return np.array([low.X(), low.Y(), low.Z()]), np.array([high.X(), high.Y(), high.Z()])


def is_closed(shape: Any) -> bool:
    """Whether every edge has a face on both sides, and there is a solid."""
    if not all_of(shape, Kind.TopAbs_SOLID):
        return False
    around = Ancestors()
    TopExp.MapShapesAndAncestors_s(shape, Kind.TopAbs_EDGE, Kind.TopAbs_FACE, around)
    for k in range(1, around.Size() + 1):
        edge = TopoDS.Edge(around.FindKey(k))
        if around.FindFromIndex(k).Size() < 2 and not BRep_Tool.Degenerated_s(edge):
            return False
    return True


def edges_of(named: Named) -> Iterator[tuple[Any, EdgeName]]:
    """Edges that lie between two faces, with their names; seams and points are left out."""
    around = Ancestors()
    TopExp.MapShapesAndAncestors_s(named.shape, Kind.TopAbs_EDGE, Kind.TopAbs_FACE, around)
    number = ShapeMap()
    TopExp.MapShapes_s(named.shape, Kind.TopAbs_FACE, number)
    for k in range(1, around.Size() + 1):
        edge = TopoDS.Edge(around.FindKey(k))
        if BRep_Tool.Degenerated_s(edge):
            continue
        beside = sorted({number.FindIndex(face) - 1 for face in around.FindFromIndex(k)})
        if len(beside) > 2 or (len(beside) == 1 and around.FindFromIndex(k).Size() > 1):
            continue
        one, other = (named.names[i] for i in (beside if len(beside) == 2 else (*beside, *beside)))
        curve = BRepAdaptor_Curve(edge)
        middle = curve.Value((curve.FirstParameter() + curve.LastParameter()) / 2)
        first, second = sorted((one, other if len(beside) == 2 else ""))
        yield (
            edge,
            EdgeName(
                (first, second), (middle.X(), middle.Y(), middle.Z()), float(GCPnts_AbscissaPoint.Length_s(curve))
            ),
        )


def found_edges(named: Named, wanted: tuple[EdgeName, ...]) -> list[Any]:
    """The edges of a shape that bear names; of several between the same faces the one that lies nearest and is most alike in size.

    Raises
    ------
    HollowMarbleError
        where faces an edge lay between no longer meet.
    """
    there = list(edges_of(named))
    result = []
    for name in wanted:
        # a face may have been cut into pieces since: pieces bear its name with a number
        same = [(edge, found) for edge, found in there if tuple(map(stem, found.faces)) == tuple(map(stem, name.faces))]
        if not same:
            raise HollowMarbleError(
                "An edge it works on is no longer there: the faces it lay between do not meet any more. "
                "Change the step before so that they do, or take this one out and pick edges anew."
            )
        exact = [one for one in same if one[1].faces == name.faces] or same

        def unlike(one: tuple[Any, EdgeName], name: EdgeName = name) -> float:
            return float(np.linalg.norm(np.subtract(one[1].middle, name.middle))) + abs(one[1].length - name.length)

        result.append(min(exact, key=unlike)[0])
    return result


def found_faces(named: Named, wanted: tuple[str, ...]) -> list[Any]:
    """The faces of a shape that bear names, all pieces of each.

    Raises
    ------
    HollowMarbleError
        where one is no longer there.
    """
    faces, result = named.faces, []
    for name in wanted:
        same = [face for face, other in zip(faces, named.names) if other == name]
        same = same or [face for face, other in zip(faces, named.names) if stem(other) == stem(name)]
        if not same:
            raise HollowMarbleError(
                "A face it works on is no longer there. Change the step before, or take this one out and pick faces anew."
            )
        result += same
    return result


def stem(name: str) -> str:
    """A face's name without the number of its piece."""
    return name.rsplit("#", 1)[0]


def numbered(names: list[str], faces: list[Any]) -> tuple[str, ...]:
    """Names made different from one another: pieces of the same face get numbers, in the order of where they lie, so that it does not
    depend on the order in which the kernel happens to give them."""
    alike: dict[str, list[int]] = {}
    for place, name in enumerate(names):
        alike.setdefault(name, []).append(place)
    result = list(names)
    for name, places in alike.items():
        if len(places) > 1:
            places.sort(key=lambda place: _centre(faces[place]))
            for number, place in enumerate(places, 1):
                result[place] = f"{name}#{number}"
    return tuple(result)


def _centre(face: Any) -> tuple[float, ...]:
    """A place that tells a face from its like: the middle of its parameters, and how far they go."""
    u0, u1, v0, v1 = BRepTools.UVBounds_s(face)
    middle = BRepAdaptor_Surface(face).Value((u0 + u1) / 2, (v0 + v1) / 2)
    return tuple(round(v, 5) for v in (middle.X(), middle.Y(), middle.Z(), u0, v0))


def named_after(
    shape: Any, origin: str, *before: Named, builder: Any, made_of: list[tuple[Any, str]] | None = None
) -> Named:
    """A shape that a builder made of others, its faces named by their history.

    What was kept or changed keeps its name; what was made of an edge, a corner or a face (`made_of`, by what) is named after that.
    """
    number = ShapeMap()
    TopExp.MapShapes_s(shape, Kind.TopAbs_FACE, number)
    names = [""] * number.Size()

    def give(face: Any, name: str) -> None:
        at = number.FindIndex(face)
        if at and not names[at - 1]:
            names[at - 1] = name

    for named in before:
        for face, name in zip(named.faces, named.names):
            if number.FindIndex(face):
                give(face, stem(name))  # as it was; the builder need not be asked, which takes long
            elif not builder.IsDeleted(face):
                for piece in builder.Modified(face):
                    give(piece, stem(name))
    for source, name in made_of or []:
        for piece in builder.Generated(source):
            if piece.ShapeType() == Kind.TopAbs_FACE:
                give(piece, f"{origin}.{name}")
    names = [name or f"{origin}.new" for name in names]
    told = tuple(dict.fromkeys(line for named in before for line in named.told))
    return Named(shape, numbered(names, all_of(shape, Kind.TopAbs_FACE)), told)


def lying_on(shape: Any, edges: list[tuple[Any, str]]) -> list[tuple[Any, str]]:
    """Faces on which edges of the profile they were drawn out of lie, where the kernel's history is silent: with the edges' names."""
    found = []
    faces = all_of(shape, Kind.TopAbs_FACE)
    bounds = np.array([box(face) for face in faces])
    for edge, name in edges:
        curve = BRepAdaptor_Curve(edge)
        at = [
            curve.Value(curve.FirstParameter() + s * (curve.LastParameter() - curve.FirstParameter()))
            for s in (0.3, 0.7)
        ]
        vertices = [BRepBuilderAPI_MakeVertex(point).Vertex() for point in at]
        places = np.array([(point.X(), point.Y(), point.Z()) for point in at])
        near = ((places[:, None] > bounds[:, 0] - 1e-5) & (places[:, None] < bounds[:, 1] + 1e-5)).all(axis=(0, 2))
        found += [
            (faces[number], name)
            for number in np.flatnonzero(near)
            if all(BRepExtrema_DistShapeShape(vertex, faces[number]).Value() < 1e-6 for vertex in vertices)
        ]
    return found


def on_plane(shape: Any, plane: Plane, name: str) -> list[tuple[Any, str]]:
    """Faces that lie in a plane, with a name."""
    found = []
    for face in all_of(shape, Kind.TopAbs_FACE):
        surface = BRepAdaptor_Surface(face)
        if surface.GetType() == GeomAbs_SurfaceType.GeomAbs_Plane:
            flat = surface.Plane()
            at, way = flat.Location(), flat.Axis().Direction()
            off = np.array([at.X(), at.Y(), at.Z()]) - plane.origin
            along = abs(np.array([way.X(), way.Y(), way.Z()]) @ plane.normal)
            if abs(off @ plane.normal) < 1e-6 and along > 1 - 1e-9:
                found.append((face, name))
    return found


def single(shape: Any, what: str) -> Any:
    """The one solid in a shape; several are kept together as they are.

    Raises
    ------
    HollowMarbleError
        where there is none.
    """
    solids = all_of(shape, Kind.TopAbs_SOLID)
    if not solids:
        raise HollowMarbleError(
            f"{what} leaves nothing. Move the parts so that they overlap differently, or change its numbers."
        )
    if len(solids) == 1:
        return solids[0]
    return compound_of(solids)


def compound_of(shapes: list[Any]) -> Any:
    """Several shapes as one."""
    builder, compound = BRep_Builder(), TopoDS_Compound()
    builder.MakeCompound(compound)
    for shape in shapes:
        builder.Add(compound, shape)
    return compound


def enclosed(named: Named) -> float:
    """Volume of a solid, worked out where it is not known yet, mm³."""
    return volume(named.shape) if named.enclosed is None else named.enclosed


def turned_out(shape: Any) -> Any:
    """A solid whose faces look outwards."""
    if shape.ShapeType() == Kind.TopAbs_SOLID and volume(shape) < 0:
        shape = shape.Reversed()
    if shape.ShapeType() == Kind.TopAbs_SOLID:
        solid = TopoDS.Solid(shape)
        BRepLib.OrientClosedSolid_s(solid)
        return solid
    return shape


def is_valid(named: Named, what: str) -> Named:
    """What the kernel made, or a refusal where it says itself that it is broken."""
    if not BRepCheck_Analyzer(named.shape, True, True).IsValid():  # on all cores
        raise HollowMarbleError(
            f"{what} came out broken: its faces cross themselves or one another. Change its numbers a little."
        )
    return named


def checked(named: Named, what: str, expected: tuple[float, float] | None = None, closed: bool = True) -> Named:
    """What the kernel made, or a refusal where it is not what it claims to be: `IsDone` is not enough.

    expected : least and greatest volume in mm³ that it can have, told by a formula that does not ask the kernel
    """
    is_valid(named, what)
    if not closed:
        return named
    if not is_closed(named.shape):
        raise HollowMarbleError(f"{what} came out open, so it has no inside. Change its numbers a little.")
    found = enclosed(named)
    if expected is not None:
        low, high = expected
        slack = 2e-3 * max(abs(high), 1e-9)
        if not low - slack <= found <= high + slack:
            said = f"{low:.1f}" if high - low < 2 * slack else f"between {low:.1f} and {high:.1f}"
            raise HollowMarbleError(
                f"{what} came out with {found:.1f} mm³ where {said} mm³ were due, so it overlaps itself somewhere. "
                "Make it thinner, or its path less tightly bent."
            )
    elif found <= 0:
        raise HollowMarbleError(f"{what} came out inside out. Change its numbers a little.")
    return replace(named, enclosed=found)


def built(what: str, builder: Any, make: Callable[[], Any] | None = None) -> Any:
    """What a builder makes, or a refusal in a sentence where it gives up."""
    try:
        (make or builder.Build)()
        if not builder.IsDone():
            raise HollowMarbleError(f"{what} is more than can be built here. Change its numbers, and try again.")
        return builder.Shape()
    except HollowMarbleError:
        raise
    except Exception as error:
        raise HollowMarbleError(
            f"{what} is more than can be built here ({type(error).__name__}). Change its numbers, and try again."
        ) from error


def met(what: str, builder: Any, one: list[Any], other: list[Any]) -> Any:
    """What a builder of Boolean operations makes of two lots of shapes.

    They are handed over one by one: a builder that is made with its shapes works at once, and again when it is asked to build.
    """
    for shapes, take in ((one, builder.SetArguments), (other, builder.SetTools)):
        listed = List_TopoDS_Shape()
        for shape in shapes:
            listed.Append(shape)
        take(listed)
    return built(what, builder)


def with_told(named: Named, *lines: str) -> Named:
    """With sentences about how it was made."""
    return replace(named, told=tuple(dict.fromkeys((*named.told, *lines))))
