"""Solids joined, cut and kept in common, their seams rounded; repeated; each answer held against samples of what was given."""

from __future__ import annotations

from typing import Any, Literal

import numpy as np
from OCP.BRepAlgoAPI import BRepAlgoAPI_Common, BRepAlgoAPI_Cut, BRepAlgoAPI_Fuse
from OCP.BRepBuilderAPI import BRepBuilderAPI_Transform
from OCP.BRepClass3d import BRepClass3d_SolidClassifier
from OCP.gp import gp_Ax1, gp_Ax2, gp_Dir, gp_Pnt, gp_Trsf
from OCP.TopAbs import TopAbs_ShapeEnum, TopAbs_State
from OCP.TopoDS import TopoDS

from hollow_marble.core.curves.planes import Plane
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.solids.kernel import wires
from hollow_marble.core.solids.kernel.dressing import rounded_edges
from hollow_marble.core.solids.kernel.shapes import (
    Named,
    all_of,
    box,
    checked,
    enclosed,
    is_closed,
    is_valid,
    met,
    named_after,
    read,
    single,
    stem,
    written,
)
from hollow_marble.core.solids.solid import Array, Solid

How = Literal["join", "cut away", "keep common"]
_SAMPLES = 12
_WORDS = {"join": "Joining", "cut away": "Cutting away", "keep common": "Keeping what is common"}


def combined(origin: str, solid: Solid, other: Solid, how: How, blend: float = 0.0) -> Solid:
    """Two solids joined, one cut away from the other, or what both have; the seam rounded by `blend` mm."""
    return written(_combined(origin, read(solid), read(other), how, blend))


def _combined(origin: str, one: Named, other: Named, how: How, blend: float) -> Named:
    what = _WORDS[how]
    for named in (one, other):
        if not is_closed(named.shape):
            raise HollowMarbleError(f"{what} needs two solids, and one of them is open. Close its openings first.")
    tool = Named(other.shape, tuple(f"{origin}/{stem(name)}" for name in other.names), other.told)
    maker = {"join": BRepAlgoAPI_Fuse, "cut away": BRepAlgoAPI_Cut, "keep common": BRepAlgoAPI_Common}[how]
    builder = maker()
    shape = single(met(what, builder, [one.shape], [tool.shape]), what)
    a, b = enclosed(one), enclosed(other)
    bounds = {"join": (max(a, b), a + b), "cut away": (a - b, a), "keep common": (0.0, min(a, b))}[how]
    named = named_after(shape, origin, one, tool, builder=builder)
    named = is_valid(named, what) if blend else checked(named, what, bounds)
    _hold_against_samples(one.shape, tool.shape, named.shape, how, what)
    seam = [TopoDS.Edge(edge) for edge in builder.SectionEdges()]
    if not seam and how != "join" and (how == "keep common" or abs(enclosed(named) - a) < 1e-6 * a):
        raise HollowMarbleError(f"{what} changes nothing: the two do not touch. Move one of them, or make it larger.")
    if blend > 0:
        if not seam:
            raise HollowMarbleError(
                "There is no seam to round: the two do not meet. Move one of them, or set the blend to 0."
            )
        there = [
            edge for edge in all_of(named.shape, TopAbs_ShapeEnum.TopAbs_EDGE) if any(edge.IsSame(s) for s in seam)
        ]
        edges = [(edge, blend, blend) for edge in there]
        named = rounded_edges(f"{origin}.blend", named, edges, f"A blend of {blend:g} mm", bounds)
    return named


def _hold_against_samples(one: Any, other: Any, result: Any, how: How, what: str) -> None:
    """Ask of points strewn about the other one whether they are inside, and whether the answer agrees."""
    low, high = box(other)  # elsewhere there is nothing that could have changed
    low, high = low - 0.02 * (high - low), high + 0.02 * (high - low)
    points = low + _strewn(_SAMPLES) * (high - low)
    a, b, found = (_inside(shape, points) for shape in (one, other, result))
    due = {"join": a | b, "cut away": a & ~b, "keep common": a & b}[how]
    sure = (a >= 0) & (b >= 0) & (found >= 0)
    wrong = int((sure & (found.astype(bool) != due.astype(bool))).sum())
    if wrong:
        raise HollowMarbleError(
            f"{what} came out wrong: {wrong} of {int(sure.sum())} places are on the wrong side of its skin. "
            "Move one of the two by a little, and try again."
        )


def _inside(shape: Any, points: Array) -> Any:
    """(n,) 1 inside, 0 outside, -1 on the skin."""
    low, high = box(shape)
    within = ((points > low - 1e-3) & (points < high + 1e-3)).all(axis=1)  # what lies beside its box is outside
    classifier = BRepClass3d_SolidClassifier(shape) if within.any() else None
    answers = {TopAbs_State.TopAbs_IN: 1, TopAbs_State.TopAbs_OUT: 0}
    found = np.zeros(len(points), int)
    for number in np.flatnonzero(within):
        assert classifier is not None
        classifier.Perform(wires.pnt(points[number]), 1e-6)
        found[number] = answers.get(classifier.State(), -1)
    return found


def _strewn(count: int) -> Array:
    """(count, 3) points spread evenly over the unit cube, the same every time (Roberts' additive recurrence)."""
    golden = 1.2207440846057596
    steps = np.array([1 / golden, 1 / golden**2, 1 / golden**3])
    return np.asarray((0.5 + np.arange(1, count + 1)[:, None] * steps) % 1)


def repeated(
    origin: str,
    solid: Solid,
    count: int,
    step: tuple[float, float, float] | None,
    about: tuple[Array, Array, float] | None,
) -> Solid:
    """So many of a solid: each `step` mm further, or turned about a place and a direction by an angle in degrees; joined where they meet."""
    copies = []
    for k in range(1, count):
        move = gp_Trsf()
        if about is not None:
            place, way, angle = about
            move.SetRotation(gp_Ax1(wires.pnt(place), wires.direction(way)), np.radians(angle * k))
        else:
            assert step is not None
            move.SetTranslation(wires.vec(k * np.array(step)))
        copies.append((f"{origin}/{k + 1}", move))
    return _with_copies(read(solid), copies)


def mirrored(origin: str, solid: Solid, plane: Plane) -> Solid:
    """A solid and its mirror image across a plane, joined where they meet."""
    move = gp_Trsf()
    move.SetMirror(gp_Ax2(wires.pnt(plane.origin), wires.direction(plane.normal)))
    return _with_copies(read(solid), [(f"{origin}/mirror", move)])


def _with_copies(named: Named, copies: list[tuple[str, Any]]) -> Solid:
    result = named
    for label, move in copies:
        copy = BRepBuilderAPI_Transform(named.shape, move, True).Shape()
        result = _combined(label, result, Named(copy, named.names, named.told), "join", 0.0)
    return written(result)


def placed(solid: Solid, matrix: Array) -> Solid:
    """A solid elsewhere: `matrix` (3, 4) turns, moves, mirrors or scales it evenly."""
    named = read(solid)
    move = gp_Trsf()
    turn = matrix[:, :3]
    scale = float(np.cbrt(np.linalg.det(turn)))
    if abs(abs(scale) - 1) < 1e-9 and scale < 0:
        # the kernel's own mirror, and a turn after it
        mirror = gp_Trsf()
        mirror.SetMirror(gp_Ax2(gp_Pnt(0, 0, 0), gp_Dir(1, 0, 0)))
        rest = gp_Trsf()
        _set(rest, turn @ np.diag([-1.0, 1, 1]), matrix[:, 3])
        move = rest.Multiplied(mirror)
    else:
        _set(move, turn, matrix[:, 3])
    shape = BRepBuilderAPI_Transform(named.shape, move, True).Shape()
    return written(Named(shape, named.names, named.told))


def _set(move: gp_Trsf, turn: Array, shift: Array) -> None:
    rows = [float(v) for row, s in zip(turn, shift) for v in (*row, s)]
    move.SetValues(*rows)
