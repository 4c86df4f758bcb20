"""Built surfaces and solids: turned, extruded, swept, along rails, piped, lofted; each checked by a formula of its own."""

from __future__ import annotations

from typing import Any

import numpy as np
from OCP.BRepAlgoAPI import BRepAlgoAPI_Cut
from OCP.BRepBuilderAPI import BRepBuilderAPI_TransitionMode
from OCP.BRepOffsetAPI import BRepOffsetAPI_MakePipeShell
from OCP.BRepPrimAPI import BRepPrimAPI_MakePrism, BRepPrimAPI_MakeRevol
from OCP.gp import gp_Ax1
from OCP.LocOpe import LocOpe_DPrism

from hollow_marble.core.curves.chains import area_and_centroid, check_simple, half_of, offset, outline, regions
from hollow_marble.core.curves.drawing import NEAR, Chain
from hollow_marble.core.curves.frames import along_path, corners, tightest
from hollow_marble.core.curves.lofting import strips_through
from hollow_marble.core.curves.planes import Drawn, Plane
from hollow_marble.core.curves.segments import Array, Conic, Line, length
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.solids.kernel import wires
from hollow_marble.core.solids.kernel.lofting import Ends, loft
from hollow_marble.core.solids.kernel.shapes import (
    Named,
    built,
    checked,
    compound_of,
    enclosed,
    lying_on,
    met,
    named_after,
    numbered,
    on_plane,
    single,
    turned_out,
    with_told,
    written,
)
from hollow_marble.core.solids.solid import Solid

_HALF = "The profile lies on both sides of its axis: its right half was taken."
_SECTIONS = 64
_TWIST = 7.5
"""Degrees a section turns at most from one place it is laid through to the next."""


def turned(origin: str, profile: Drawn, axis: tuple[Array, Array], angle: float, capped: bool = True) -> Solid:
    """A profile turned about a line of its plane: a place and a direction (2,) each; `angle` in degrees.

    A profile that ends on the axis, or beside it with `capped`, is closed and gives a solid; else a surface.
    """
    what = f"{profile.name}, turned,"
    place, way = axis
    up = way / np.linalg.norm(way)
    across = np.array([up[1], -up[0]])
    flat = np.vstack([across, up])
    plane = profile.flat("a turned form")
    own = Plane(plane.at(place[None])[0], plane.matrix @ across, plane.matrix @ up)
    chains, taken = half_of([chain.moved(flat, -flat @ place) for chain in profile.chains])
    if not chains:
        raise HollowMarbleError(
            f"{profile.name} lies on its axis, so there is nothing to turn. Move it beside the axis."
        )
    ends_open = [chain for chain in chains if not chain.closed]
    solid = capped or all(np.abs(_ends(chain)[:, 0]).max() < NEAR for chain in ends_open)
    line = gp_Ax1(wires.pnt(own.origin), wires.direction(own.up))
    whole = abs(angle) >= 360 - 1e-9
    sweep = 2 * np.pi if whole else np.radians(angle)
    if not solid:
        chain = chains[0]
        check_simple(chain, profile.name)
        base, edges = wires.wire(own.placed(chain))
        builder = BRepPrimAPI_MakeRevol(base, line, sweep)
        shape = built(what, builder)
        return _named(shape, origin, builder, edges, taken, what, None, closed=False)
    parts = regions([_closed_on_axis(chain) for chain in chains], profile.name)
    if len(parts) > 1:
        raise HollowMarbleError(f"{profile.name} encloses {len(parts)} regions apart. Turn one at a time.")
    outer, holes = parts[0]
    base, edges = wires.face(outer, holes, own)
    builder = BRepPrimAPI_MakeRevol(base, line, sweep)
    shape = turned_out(built(what, builder))
    moment = 0.0
    for chain, sign in [(outer, 1.0), *((hole, -1.0) for hole in holes)]:
        size, centre = area_and_centroid(chain)
        moment += sign * abs(size) * centre[0]
    due = abs(sweep) * moment  # Pappus: area × the way of its centroid
    ends = [] if whole else [(builder.FirstShape(), "start"), (builder.LastShape(), "end")]
    return _named(shape, origin, builder, edges, taken, what, (due, due), ends)


def extruded(origin: str, profile: Drawn, distance: float, back: float = 0.0, taper: float = 0.0) -> Solid:
    """A flat profile drawn out along its normal by `distance` mm, and `back` the other way; `taper` in degrees narrows it."""
    what = f"{profile.name}, extruded,"
    plane = profile.flat("an extrusion")
    deep = distance + back
    if abs(deep) < NEAR:
        raise HollowMarbleError("An extrusion of no depth leaves nothing. Give it a distance.")
    open_ones = [chain for chain in profile.chains if not chain.closed]
    low = plane.lifted(-back)
    way = wires.vec(deep * plane.normal)
    if open_ones:
        if len(profile.chains) > 1 or taper:
            raise HollowMarbleError(f"{profile.name} is open. Close it, or extrude a single open curve without taper.")
        base, edges = wires.wire(low.placed(open_ones[0]))
        sheet = BRepPrimAPI_MakePrism(base, way)
        return _named(built(what, sheet), origin, sheet, edges, False, what, None, closed=False)
    found: list[Named] = []
    for outer, holes in regions(list(profile.chains), profile.name):
        if taper:
            found.append(_tapered(origin, what, outer, holes, low, deep, taper))
            continue
        base, edges = wires.face(outer, holes, low)
        flat = abs(area_and_centroid(outer)[0]) - sum(abs(area_and_centroid(hole)[0]) for hole in holes)
        builder = BRepPrimAPI_MakePrism(base, way)
        shape = turned_out(built(what, builder))
        ends = [(builder.FirstShape(), "start"), (builder.LastShape(), "end")]
        named = _history(shape, origin, builder, edges, ends)
        found.append(checked(named, what, (flat * abs(deep), flat * abs(deep))))
    return written(_together(found))


def _tapered(origin: str, what: str, outer: Chain, holes: list[Chain], low: Plane, deep: float, taper: float) -> Named:
    """An extrusion whose sides lean in by `taper` degrees (out where negative); those of its holes lean the other way, as a mould lets go."""
    solid = _leaning(origin, what, outer, low, deep, taper)
    for hole in holes:
        core = _leaning(origin, what, hole, low, deep, -taper)
        cut = BRepAlgoAPI_Cut()
        shape = turned_out(single(met(what, cut, [solid.shape], [core.shape]), what))
        due = enclosed(solid) - enclosed(core)
        solid = checked(named_after(shape, origin, solid, core, builder=cut), what, (due, due))
    return solid


def _leaning(origin: str, what: str, outline: Chain, low: Plane, deep: float, taper: float) -> Named:
    """One outline extruded with sides that lean in, checked against the integral of its areas."""
    base, edges = wires.face(outline, [], low)
    inward = abs(deep) * np.tan(np.radians(taper)) * (1 if area_and_centroid(outline)[0] > 0 else -1)
    nodes, weights = np.polynomial.legendre.leggauss(4)
    areas = [abs(area_and_centroid(offset(outline, share * inward, sharp=True))[0]) for share in (1 + nodes) / 2]
    due = float(weights / 2 @ areas) * abs(deep)
    builder = LocOpe_DPrism(base, deep / np.cos(np.radians(taper)), np.radians(taper))  # it measures along the side
    shape = turned_out(built(what, builder, lambda: None))
    names: list[tuple[Any, str]] = []
    for one, name in edges:
        names += [(face, name) for face in builder.Shapes(one)]
    ends = [*on_plane(shape, low, "start"), *on_plane(shape, low.lifted(deep), "end")]
    return checked(_by_faces(shape, origin, [*names, *ends]), what, (due, due))


def piped(origin: str, path: Drawn, radius: float, capped: bool = True) -> Solid:
    """A path with a round section of `radius` mm."""
    what = f"{path.name}, piped with a radius of {radius:g} mm,"
    chain = path.one("a pipe")
    tight = tightest(chain)
    if tight <= radius * (1 + 1e-6):
        raise HollowMarbleError(
            f"{path.name} bends by a radius of {tight:.2f} mm, so a pipe of {radius:g} mm radius would cross itself. "
            f"Make it thinner than {tight:.2f} mm, or the path's bends wider."
        )
    ring = Chain((Conic("section", np.zeros(2), radius * np.eye(2)[0], radius * np.eye(2)[1], 0.0, 2 * np.pi),), True)
    sharp = [angle for angle in corners(chain) if angle > 0.5]
    due = np.pi * radius**2 * sum(length(segment) for segment in chain.segments)
    slack = sum(np.pi * radius**3 * np.tan(np.radians(min(angle, 170)) / 2) for angle in sharp)
    return _along(origin, what, chain, Drawn("section", (ring,), None), (due - slack, due + slack), bool(sharp), capped)


def swept(
    origin: str,
    profile: Drawn,
    path: Drawn,
    twist: float = 0.0,
    scale: float = 1.0,
    turn: float = 0.0,
    capped: bool = True,
) -> Solid:
    """A flat profile carried along a path, square to it; turned by `turn` degrees, twisting by `twist` degrees and growing to `scale`
    times its size on the way. Its plane's origin runs along the path."""
    what = f"{profile.name}, swept along {path.name},"
    profile.flat("a sweep")
    chain = path.one("a sweep")
    angle = np.radians(turn)
    spun = np.array([[np.cos(angle), -np.sin(angle)], [np.sin(angle), np.cos(angle)]])
    section = [one.moved(spun, np.zeros(2)) for one in profile.chains]
    for one in section:
        check_simple(one, profile.name)
    reach = max(float(np.linalg.norm(outline(one), axis=1).max()) for one in section) * max(1.0, scale)
    tight = tightest(chain)
    told = () if tight > reach else (
        f"{path.name} bends by {tight:.2f} mm, and {profile.name} reaches {reach:.2f} mm from it: look whether it crosses itself.",
    )  # fmt: skip
    sharp = any(bend > 0.5 for bend in corners(chain))
    if sharp and (twist or scale != 1):
        raise HollowMarbleError(f"{path.name} has corners: round them before its sweep can twist or grow.")
    if not twist and scale == 1:
        places, _way, across, up = along_path(chain, 2 * _SECTIONS)
        due = _swept_volume(section, places, across, up)
        bound = None if due is None or sharp else (0.99 * due, 1.01 * due)
        return _along(origin, what, chain, Drawn(profile.name, tuple(section), None), bound, sharp, capped, told)
    if len(section) != 1:
        raise HollowMarbleError(f"{profile.name} has several outlines. Sweep one at a time where it twists or grows.")
    if chain.closed and (scale != 1 or twist % 360):
        raise HollowMarbleError(
            f"{path.name} comes round, and {profile.name} would not end as it began. Twist it by whole turns, with a scale of 1."
        )
    places, _way, across, up = along_path(chain, max(_SECTIONS, int(abs(twist) / _TWIST)))
    share = np.linspace(0, 1, len(places))
    turning, growing = np.radians(twist) * share, 1 + (scale - 1) * share
    return _through(origin, what, section[0], (places, across, up, turning, growing), capped, told, chain.closed)


def railed(origin: str, profile: Drawn, left: Drawn, right: Drawn, capped: bool = True) -> Solid:
    """A flat profile carried between two rails: its origin's left and right edge stay on them, and it grows with their distance."""
    what = f"{profile.name}, along {left.name} and {right.name},"
    profile.flat("a form along rails")
    if len(profile.chains) != 1:
        raise HollowMarbleError(f"{profile.name} has several outlines. Run one at a time along rails.")
    section = profile.chains[0]
    line = outline(section)
    low, high = float(line[:, 0].min()), float(line[:, 0].max())
    if high - low < NEAR:
        raise HollowMarbleError(
            f"{profile.name} has no width to stretch between the rails. Draw it from left to right."
        )
    one, other = left.one("a form along rails"), right.one("a form along rails")
    a, b = along_path(one, _SECTIONS)[0], along_path(other, _SECTIONS)[0]
    if np.linalg.norm(a[0] - b[-1]) + np.linalg.norm(a[-1] - b[0]) < np.linalg.norm(a[0] - b[0]) + np.linalg.norm(
        a[-1] - b[-1]
    ):
        b = b[::-1]
    share = np.linspace(0, 1, _SECTIONS + 1)
    a, b = (np.column_stack([np.interp(share, np.linspace(0, 1, len(p)), p[:, k]) for k in range(3)]) for p in (a, b))
    between = b - a
    apart = np.linalg.norm(between, axis=1)
    if apart.min() < 1e-3:
        where = int(apart.argmin())
        raise HollowMarbleError(
            f"The rails meet at ({', '.join(f'{v:.1f}' for v in a[where])}) mm, so the form has no width there. Keep them apart."
        )
    across = between / apart[:, None]
    middle = (a + b) / 2
    way = np.gradient(middle, axis=0)
    way -= (way * across).sum(axis=1, keepdims=True) * across
    size = np.linalg.norm(way, axis=1, keepdims=True)
    if size.min() < 1e-9:
        raise HollowMarbleError(
            "The rails run towards one another, so the profile cannot stand square to them. Move one of them."
        )
    way = way / size
    up = np.cross(way, across)
    centred = section.moved(np.eye(2), np.array([-(low + high) / 2, 0.0]))
    return _through(origin, what, centred, (middle, across, up, 0 * share, apart / (high - low)), capped)


def lofted(
    origin: str,
    profiles: list[Drawn],
    straight: bool = False,
    square_ends: tuple[float, float] = (0.0, 0.0),
    capped: bool = True,
) -> Solid:
    """From profile to profile: smoothly, or `straight`. `square_ends`: how strongly it leaves the first plane and arrives at the last
    square to it, 1 as strongly as it has way to go; 0 where it may end as it likes."""
    what = f"The form through {', '.join(profile.name for profile in profiles)}"
    if len(profiles) < 2:
        raise HollowMarbleError("A lofted form needs at least two profiles. Pick another.")
    chains = [profile.one("a lofted form") for profile in profiles]
    if len({chain.closed for chain in chains}) > 1:
        raise HollowMarbleError("Some of the profiles are open and some closed. Close all of them, or none.")
    normals = [profile.flat("a lofted form").normal for profile in profiles]
    first, *_, last = (outline(chain).mean(axis=0) for chain in chains)
    if straight and any(square_ends):
        raise HollowMarbleError(
            "A straight loft has no end that is square to its profile. Set both to 0, or draw it smooth."
        )
    ways = [
        strength * np.sign(normal @ (last - first)) * normal if strength else None
        for strength, normal in zip(square_ends, (normals[0], normals[-1]))
    ]
    strips = strips_through(chains, straight, (ways[0], ways[1]))
    return loft(
        origin, what, strips, len(chains) - 1 if straight else 1, "lids" if capped and chains[0].closed else "open"
    )


def _through(
    origin: str,
    what: str,
    section: Chain,
    frames: tuple[Array, ...],
    capped: bool,
    told: tuple[str, ...] = (),
    comes_round: bool = False,
) -> Solid:
    """A loft through a section in many places: these (n, 3), its directions across and up (n, 3), turn in radians and size (n,)."""
    placed = []
    for place, across, up, twist, scale in zip(*frames):
        c, s = scale * np.cos(twist), scale * np.sin(twist)
        matrix = np.column_stack([c * across + s * up, -s * across + c * up])
        placed.append(section.moved(matrix, place))
    strips = strips_through(placed, alike=True, comes_round=comes_round)
    ends: Ends = "none" if comes_round else "lids" if capped and section.closed else "open"
    return loft(origin, what, strips, 1, ends, told)


def _along(
    origin: str,
    what: str,
    path: Chain,
    section: Drawn,
    bound: tuple[float, float] | None,
    sharp: bool,
    capped: bool,
    told: tuple[str, ...] = (),
) -> Solid:
    """A section carried along a path by the kernel, its origin on the path, square to it."""
    place, _way, across, up = (v[0] for v in along_path(path, _SECTIONS))
    frame = Plane(place, across, up)
    spine, _ = wires.wire(path)
    found: list[Named] = []
    for one in section.chains:
        solid = capped and one.closed
        builder = BRepOffsetAPI_MakePipeShell(spine)
        builder.SetMode(False)
        if sharp:
            builder.SetTransitionMode(BRepBuilderAPI_TransitionMode.BRepBuilderAPI_RoundCorner)
        outline_wire, edges = wires.wire(frame.placed(one))
        builder.Add(outline_wire, False, False)
        shape = built(what, builder)
        if solid:
            shape = built(what, builder, lambda: builder.MakeSolid())  # noqa: B023
        names: list[Any] = [(face, name) for edge, name in edges for face in builder.Generated(edge)]
        if solid and not path.closed:
            names += [(builder.FirstShape(), "start"), (builder.LastShape(), "end")]
        named = with_told(_by_faces(turned_out(shape), origin, names), *told)
        found.append(checked(named, what, bound, closed=solid))
    return written(_together(found))


def _swept_volume(section: list[Chain], places: Array, across: Array, up: Array) -> float | None:
    """Volume of a carried section, from its own polygon mesh: the sum of what its bands of quads and its ends enclose."""
    total = 0.0
    for chain in section:
        if not chain.closed:
            return None
        line = outline(chain, 1e-3)[:-1]
        points = places[:, None] + line[None, :, :1] * across[:, None] + line[None, :, 1:] * up[:, None]
        a, b = points[:-1], np.roll(points[:-1], -1, axis=1)
        d, e = points[1:], np.roll(points[1:], -1, axis=1)
        found = float((np.cross(a, b) * e).sum() + (np.cross(a, e) * d).sum())
        for ring, side in ((points[0], -1.0), (points[-1], 1.0)):
            found += side * float((np.cross(ring, np.roll(ring, -1, axis=0)) @ ring.mean(axis=0)).sum())
        total += found / 6 if area_and_centroid(chain)[0] > 0 else -found / 6
    return abs(total)


def _closed_on_axis(chain: Chain) -> Chain:
    """A chain beside x = 0 closed: its ends brought square to the axis, and joined along it."""
    if chain.closed:
        return chain
    first, last = _ends(chain)
    more: list[Line] = []
    low, high = np.array([0.0, last[1]]), np.array([0.0, first[1]])
    if abs(last[0]) > NEAR:
        more.append(Line("cap-end", last, low))
    if np.linalg.norm(low - high) > NEAR:
        more.append(Line("axis", low if abs(last[0]) > NEAR else last, high if abs(first[0]) > NEAR else first))
    if abs(first[0]) > NEAR:
        more.append(Line("cap-start", high, first))
    return Chain((*chain.segments, *more), True)


def _ends(chain: Chain) -> Array:
    return np.vstack([chain.segments[0].at(np.zeros(1)), chain.segments[-1].at(np.ones(1))])


def _named(
    shape: Any,
    origin: str,
    builder: Any,
    edges: list[tuple[Any, str]],
    taken: bool,
    what: str,
    bound: tuple[float, float] | None,
    ends: list[tuple[Any, str]] | None = None,
    closed: bool = True,
) -> Solid:
    named = _history(shape, origin, builder, edges, ends or [])
    named = with_told(named, *((_HALF,) if taken else ()))
    return written(checked(named, what, bound, closed))


def _history(shape: Any, origin: str, builder: Any, edges: list[tuple[Any, str]], ends: list[tuple[Any, str]]) -> Named:
    """Faces named by the edges they were drawn out of, and the two ends."""
    made = [(list(builder.Generated(edge)), edge, name) for edge, name in edges]
    names = [(face, name) for faces, _, name in made for face in faces]
    silent = [(edge, name) for faces, edge, name in made if not faces]
    return _by_faces(shape, origin, [*names, *ends, *lying_on(shape, silent)])


def _by_faces(shape: Any, origin: str, made: list[tuple[Any, str]]) -> Named:
    """A shape some of whose faces are known by a name; the first name told of a face holds."""

    class Known:
        """History told in advance."""

        def Generated(self, source: Any) -> list[Any]:
            return [source]

    return named_after(shape, origin, builder=Known(), made_of=[(face, name) for face, name in made])


def _together(found: list[Named]) -> Named:
    """Several solids as one shape."""
    if len(found) == 1:
        return found[0]
    names = [name for named in found for name in named.names]
    return Named(
        compound_of([named.shape for named in found]),
        numbered(names, [face for named in found for face in named.faces]),
        found[0].told,
    )
