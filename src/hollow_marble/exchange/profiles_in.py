"""Flat profiles in: DXF by its entities, SVG by its shapes, as drawings of exact pieces; lengths in mm, y up.

Lines, arcs, circles, ellipses and splines come in as what they are. A rational spline whose weights differ is followed by one without,
to within `FITTED` mm.
"""

from __future__ import annotations

import io
import itertools
import math
import re
import xml.etree.ElementTree as ET
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.curves.drawing import Drawing, Piece, PieceKind
from hollow_marble.core.curves.splines import fitted
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.exchange.artwork import still_svg

MOST_BYTES = 8_000_000
MOST_PIECES = 4_000
"""Pieces of a file, all its profiles together."""
MOST_POINTS = 400
"""Points and pieces of one drawing."""
TOGETHER = 1e-3
"""mm: ends nearer than this are one."""
FITTED = 1e-3
_FAR = 1e6
_LONG = 150
"""Letters in which a piece of a path may be told: what has more in all is not even taken apart."""
_DRAWS = re.compile(rb"\n[ \t]*0[ \t]*\r?\n[ \t]*(?:LINE|ARC|CIRCLE|ELLIPSE|SPLINE|LWPOLYLINE|VERTEX)[ \t]*\r?\n")
"""Whatever a DXF file draws, without taking it apart."""
Array = NDArray[np.float64]


@dataclass(frozen=True)
class Profiles:
    """What a file draws, and what of it was left out, by kind."""

    drawings: tuple[Drawing, ...]
    left: dict[str, int]


def read_profiles(data: bytes, kind: str, name: str) -> Profiles:
    """The profiles in a DXF or SVG file.

    Raises
    ------
    HollowMarbleError
        where it is damaged, too large, or draws nothing that could be a profile.
    """
    check_size(data, name)
    sketch = _Sketch(name)
    left = _dxf(data, name, sketch) if kind == "dxf" else _svg(data, name, sketch)
    if not sketch.pieces:
        raise HollowMarbleError(
            f"{name} draws no line, arc or curve that could be a profile. Turn its words into outlines, or save other layers."
        )
    return Profiles(tuple(sketch.drawings()), dict(left))


def check_size(data: bytes, name: str) -> None:
    """Refuse a file that is too large to hold profiles only."""
    if len(data) > MOST_BYTES:
        raise HollowMarbleError(
            f"{name} has {len(data) / 1e6:.0f} MB; up to {MOST_BYTES // 1_000_000} MB of profiles can be read. Save only the profiles."
        )


class _Sketch:
    """Points and pieces as they are read; ends that meet become one point."""

    def __init__(self, name: str) -> None:
        self.name = name
        self.points: list[Array] = []
        self.pieces: list[Piece] = []
        self._cells: dict[tuple[int, int], list[int]] = {}

    def point(self, place: Any, meets: bool = True) -> int:
        """The number of a point; of one that is there already, where ends may meet."""
        at = np.array(place, float)[:2]
        if not np.isfinite(at).all() or np.abs(at).max() > _FAR:
            raise HollowMarbleError(
                f"{self.name} draws something further than {_FAR / 1000:g} m from its origin. Move it there and save it again."
            )
        x, y = (int(v) for v in np.floor(at / TOGETHER))
        if meets:
            for cell in ((x + i, y + j) for i in (-1, 0, 1) for j in (-1, 0, 1)):
                for known in self._cells.get(cell, ()):
                    if np.linalg.norm(self.points[known] - at) < TOGETHER:
                        return known
        self.points.append(at)
        if meets:
            self._cells.setdefault((x, y), []).append(len(self.points) - 1)
        return len(self.points) - 1

    def add(self, kind: PieceKind, points: list[int], **more: Any) -> None:
        if len(self.pieces) >= MOST_PIECES:
            raise self.too_much()
        self.pieces.append(Piece(f"{kind}-{len(self.pieces) + 1}", kind, tuple(points), **more))

    def too_much(self) -> HollowMarbleError:
        """The refusal of a file that draws too much."""
        return HollowMarbleError(
            f"{self.name} has more than {MOST_PIECES:,} pieces. Save only the profiles that are wanted."
        )

    def line(self, a: Any, b: Any) -> None:
        one, other = self.point(a), self.point(b)
        if one != other:
            self.add("line", [one, other])

    def conic(self, centre: Any, u: Any, v: Any, start: float, sweep: float) -> None:
        """centre + u cos t + v sin t, from `start` over `sweep` radians; u and v square to one another."""
        centre, u, v = (np.array(value, float)[:2] for value in (centre, u, v))
        a, b = float(np.linalg.norm(u)), float(np.linalg.norm(v))
        if min(a, b) < 1e-6:
            return
        if u[0] * v[1] - u[1] * v[0] < 0:  # told to the right: the same the other way round
            v, start, sweep = -v, -start, -sweep
        middle = self.point(centre, meets=False)
        round_, whole = abs(a - b) < 1e-9 * max(a, b), abs(sweep) > 2 * math.pi - 1e-9
        if whole:
            if round_:
                self.add("circle", [middle], value=a)
            else:
                self.add("ellipse", [middle, self.point(centre + u, meets=False)], value=b)
            return
        if sweep < 0 and not round_:
            start, sweep = start + sweep, -sweep
        ends = [self.point(centre + math.cos(t) * u + math.sin(t) * v) for t in (start, start + sweep)]
        if ends[0] == ends[1]:
            return
        if round_:
            self.add("arc", [*ends, middle], left=sweep > 0)
        else:
            self.add("oval", [middle, self.point(centre + u, meets=False), *ends], value=b)

    def spline(self, degree: int, knots: Array, poles: Array) -> None:
        """A clamped B-spline without weights."""
        if degree == 1 or len(poles) == 2:
            for one, other in itertools.pairwise(poles):
                self.line(one, other)
            return
        low, high = float(knots[0]), float(knots[-1])
        ends = self.point(poles[0]), self.point(poles[-1])
        inner = [self.point(pole, meets=False) for pole in poles[1:-1]]
        unit = tuple(float(np.clip(k, 0, 1)) for k in (np.asarray(knots, float) - low) / (high - low))
        self.add("by", [ends[0], *inner, ends[1]], knots=unit)

    def drawings(self) -> Iterator[Drawing]:
        """As few drawings as hold all pieces, those that hang together in one of them."""
        owner = list(range(len(self.points)))

        def root(point: int) -> int:
            while owner[point] != point:
                owner[point] = owner[owner[point]]
                point = owner[point]
            return point

        for piece in self.pieces:
            for point in piece.points[1:]:
                owner[root(point)] = root(piece.points[0])
        groups: dict[int, list[Piece]] = {}
        for piece in self.pieces:
            groups.setdefault(root(piece.points[0]), []).append(piece)
        held: list[Piece] = []
        for group in groups.values():
            many = len({point for piece in group for point in piece.points})
            if max(many, len(group)) > MOST_POINTS:
                raise HollowMarbleError(
                    f"One line of {self.name} has {many} points; up to {MOST_POINTS} can be held by a curve. Simplify it and try again."
                )
            together = [*held, *group]
            if len({point for piece in together for point in piece.points}) > MOST_POINTS:
                yield self._drawing(held)
                together = list(group)
            held = together
        if held:
            yield self._drawing(held)

    def _drawing(self, pieces: list[Piece]) -> Drawing:
        drawing, _ = Drawing(np.array(self.points), tuple(pieces)).pruned()
        drawing.chains()  # says where more than two meet
        return drawing


def _dxf(data: bytes, name: str, sketch: _Sketch) -> Counter[str]:
    from ezdxf import recover
    from ezdxf.lldxf.const import DXFError
    from ezdxf.units import conversion_factor

    # what draws far too much is not even taken apart; some of it may lie where nobody sees it
    if len(_DRAWS.findall(data)) > 4 * MOST_PIECES:
        raise sketch.too_much()
    try:
        drawing, _ = recover.read(io.BytesIO(data))
        units = int(drawing.header.get("$INSUNITS", 4) or 4)
        scale = float(conversion_factor(units, 4))  # type: ignore[arg-type]
        return _entities(drawing.modelspace(), sketch, scale)
    except HollowMarbleError:
        raise
    except (DXFError, ValueError, TypeError, KeyError, IndexError, AttributeError, OSError, RecursionError) as error:
        raise HollowMarbleError(f"{name} is damaged, or no DXF file. Save it again and retry.") from error


def _entities(entities: Any, sketch: _Sketch, scale: float, deep: int = 0) -> Counter[str]:
    left: Counter[str] = Counter()
    for seen, entity in enumerate(entities):
        if seen > 4 * MOST_PIECES or deep > 8:
            raise HollowMarbleError(
                f"{sketch.name} has more than {MOST_PIECES:,} pieces. Save only the profiles that are wanted."
            )
        kind = entity.dxftype()
        if kind in ("INSERT", "LWPOLYLINE", "POLYLINE"):
            if kind == "INSERT":
                copies = entity.mcount
                if copies > MOST_PIECES:
                    raise HollowMarbleError(
                        f"{sketch.name} has more than {MOST_PIECES:,} pieces. Save only the profiles that are wanted."
                    )
                for one in entity.multi_insert() if copies > 1 else (entity,):
                    left += _entities(one.virtual_entities(), sketch, scale, deep + 1)
            else:
                left += _entities(entity.virtual_entities(), sketch, scale, deep + 1)
            continue
        if kind not in _READ or not _READ[kind](entity, sketch, scale):
            left[kind] += 1
    return left


def _dxf_line(entity: Any, sketch: _Sketch, scale: float) -> bool:
    sketch.line(scale * np.array(entity.dxf.start), scale * np.array(entity.dxf.end))
    return True


def _dxf_arc(entity: Any, sketch: _Sketch, scale: float) -> bool:
    """CIRCLE and ARC; one that is seen from below runs the other way."""
    facing = float(entity.dxf.extrusion[2])
    if abs(abs(facing) - 1) > 1e-6:
        return False
    centre = np.array(entity.ocs().to_wcs(entity.dxf.center))
    radius = scale * float(entity.dxf.radius)
    whole = entity.dxftype() == "CIRCLE"
    start, end = (0.0, 360.0) if whole else (float(entity.dxf.start_angle), float(entity.dxf.end_angle))
    sweep = 2 * math.pi if whole else math.radians((end - start) % 360.0) or 2 * math.pi
    sketch.conic(scale * centre, (radius * math.copysign(1, facing), 0), (0, radius), math.radians(start), sweep)
    return True


def _dxf_ellipse(entity: Any, sketch: _Sketch, scale: float) -> bool:
    facing = float(entity.dxf.extrusion[2])
    if abs(abs(facing) - 1) > 1e-6:
        return False
    major = scale * np.array(entity.dxf.major_axis)[:2]
    minor = math.copysign(1, facing) * float(entity.dxf.ratio) * np.array([-major[1], major[0]])
    start, end = float(entity.dxf.start_param), float(entity.dxf.end_param)
    sweep = (end - start) % (2 * math.pi) or 2 * math.pi
    sketch.conic(scale * np.array(entity.dxf.center), major, minor, start, sweep)
    return True


def _dxf_spline(entity: Any, sketch: _Sketch, scale: float) -> bool:
    tool = entity.construction_tool()
    if tool.count > MOST_POINTS or tool.degree > 11:
        raise HollowMarbleError(
            f"One line of {sketch.name} has {tool.count} points; up to {MOST_POINTS} can be held by a curve. Simplify it and try again."
        )
    knots, poles = np.array(tool.knots(), float), scale * np.array(tool.control_points, float)[:, :2]
    weights = np.array(tool.weights() or [1.0], float)
    clamped = tool.is_clamped
    if clamped and np.ptp(weights) < 1e-9 * abs(weights).max():
        sketch.spline(tool.degree, knots, poles)
    else:
        t = np.linspace(knots[tool.degree], knots[-tool.degree - 1], 801)
        places = scale * np.array([list(place)[:2] for place in tool.points(t)])
        found, _ = fitted("fitted", places, FITTED)
        sketch.spline(found.degree, found.knots, found.poles)
    return True


_READ = {
    "LINE": _dxf_line,
    "CIRCLE": _dxf_arc,
    "ARC": _dxf_arc,
    "ELLIPSE": _dxf_ellipse,
    "SPLINE": _dxf_spline,
}


def _svg(data: bytes, name: str, sketch: _Sketch) -> Counter[str]:
    import svgelements

    root = still_svg(data, name)
    _check_uses(root, name)
    scale, tall = _true_size(root)
    try:
        parsed = svgelements.SVG.parse(io.BytesIO(ET.tostring(root)), reify=True, ppi=96)
        left: Counter[str] = Counter()
        for element in parsed.elements():
            hidden = element.values.get("display") == "none" or element.values.get("visibility") == "hidden"
            if isinstance(element, svgelements.Text | svgelements.Image):
                left[type(element).__name__.lower()] += 1
            elif isinstance(element, svgelements.Shape) and not hidden:
                _path(svgelements.Path(element), sketch, lambda p: scale * np.array([p.x, tall - p.y]))
        return left
    except HollowMarbleError:
        raise
    except (ValueError, TypeError, KeyError, IndexError, AttributeError, ZeroDivisionError, RecursionError) as error:
        raise HollowMarbleError(f"{name} is damaged, or no SVG file. Save it again and retry.") from error


def _path(path: Any, sketch: _Sketch, at: Any) -> None:
    """One path's segments; arcs that go on round the same centre are one."""
    run: tuple[Any, float] | None = None  # the first arc of those that go on, and how far they turn together

    def put(arc: Any, sweep: float) -> None:
        centre, u, v = at(arc.center), at(arc.prx), at(arc.pry)
        sketch.conic(centre, u - centre, v - centre, float(arc.get_start_t()), sweep)

    for segment in path.segments():
        kind = type(segment).__name__
        if kind == "Arc" and segment.rx > 0 and segment.ry > 0:
            goes_on = run and abs(run[0].center - segment.center) < TOGETHER and abs(run[0].rx - segment.rx) < TOGETHER
            if run and goes_on:
                run = (run[0], run[1] + float(segment.sweep))
            else:
                if run:
                    put(*run)
                run = (segment, float(segment.sweep))
            continue
        if run:
            put(*run)
            run = None
        if kind in ("Line", "Close", "Arc"):
            if segment.start is not None and segment.end is not None:
                sketch.line(at(segment.start), at(segment.end))
        elif kind in ("CubicBezier", "QuadraticBezier"):
            controls = (segment.control,) if kind[0] == "Q" else (segment.control1, segment.control2)
            poles = np.array([at(p) for p in (segment.start, *controls, segment.end)])
            if np.ptp(poles, axis=0).max() > TOGETHER:
                degree = len(poles) - 1
                sketch.spline(degree, np.repeat([0.0, 1.0], degree + 1), poles)
    if run:
        put(*run)


def _true_size(root: ET.Element) -> tuple[float, float]:
    """mm a user unit, and how many of them the page is tall; root is told in plain units afterwards."""
    box = [float(v) for v in root.get("viewBox", "").replace(",", " ").split()]
    wide, tall = (_length(root.get(side, "")) for side in ("width", "height"))
    pixel = 25.4 / 96
    for side in ("width", "height", "preserveAspectRatio"):
        root.attrib.pop(side, None)
    if len(box) == 4 and box[2] > 0 and box[3] > 0:
        root.set("width", repr(box[2]))
        root.set("height", repr(box[3]))
        scales = [length / side for length, side in zip((wide, tall), box[2:]) if length]
        return (min(scales) if scales else pixel), box[3]
    root.attrib.pop("viewBox", None)
    return pixel, (tall or 0.0) / pixel


_UNITS = {"mm": 1.0, "cm": 10.0, "in": 25.4, "pt": 25.4 / 72, "pc": 25.4 / 6, "px": 25.4 / 96, "": 25.4 / 96}


def _length(text: str) -> float | None:
    """A length in mm; None where there is none, or it is a share of something."""
    number = text.strip().rstrip("abcdefghijklmnopqrstuvwxyz%")
    unit = text.strip()[len(number) :].lower()
    try:
        return float(number) * _UNITS[unit]
    except (ValueError, KeyError):
        return None


def _check_uses(root: ET.Element, name: str) -> None:
    """Refuse what would be drawn too often: elements that use elements that use elements."""
    by_id = {element.get("id"): element for element in root.iter() if element.get("id")}
    many: dict[int, int] = {}

    def count(element: ET.Element, above: tuple[int, ...]) -> int:
        if id(element) in above:
            raise HollowMarbleError(f"{name} uses a thing inside itself. Save it as plain SVG and try again.")
        if id(element) not in many:
            below = (*above, id(element))
            total = 1 + sum(count(child, below) for child in element)
            if str(element.tag).rsplit("}", 1)[-1] == "use":
                href = next((v for k, v in element.attrib.items() if k.rsplit("}", 1)[-1] == "href"), "")
                used = by_id.get(href.lstrip("#"))
                total += count(used, below) if used is not None else 0
            many[id(element)] = total
        return many[id(element)]

    try:
        total = count(root, ())
    except RecursionError:
        total = MOST_PIECES * 5
    drawn = sum(len(element.get(what, "")) for element in root.iter() for what in ("d", "points"))
    if total > MOST_PIECES * 4 or drawn > MOST_PIECES * _LONG:
        raise HollowMarbleError(f"{name} has more than {MOST_PIECES:,} pieces. Save only the profiles that are wanted.")
