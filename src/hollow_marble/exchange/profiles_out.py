"""Flat profiles out: DXF (release AC1015) and SVG 1.1, one unit a millimetre, y up in DXF; every piece as what it is."""

from __future__ import annotations

import io
import math
from collections.abc import Callable, Sequence
from html import escape
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.curves.chains import outline
from hollow_marble.core.curves.drawing import Chain
from hollow_marble.core.curves.segments import Conic, Line, Segment, Spline
from hollow_marble.exchange.flat import MARGIN

Array = NDArray[np.float64]
BESIDE = 1e-3
"""mm a spline of a higher degree may lie beside the cubic pieces SVG has for it."""


def profile_dxf(name: str, chains: Sequence[Chain]) -> bytes:
    """LINE, ARC, CIRCLE, ELLIPSE and SPLINE, on a layer of the curve's name."""
    from ezdxf import document, units

    drawing = document.Drawing.new("AC1015")
    drawing.units = units.MM
    layer = "".join(c if c.isalnum() or c in "-_ " else "_" for c in name)[:60] or "profile"
    drawing.layers.add(layer)
    model, on = drawing.modelspace(), {"layer": layer}
    for segment in (segment for chain in chains for segment in chain.segments):
        if isinstance(segment, Line):
            model.add_line(segment.a.tolist(), segment.b.tolist(), on)
        elif isinstance(segment, Spline):
            spline = model.add_spline(degree=segment.degree, dxfattribs=on)
            spline.control_points = [(*pole, 0.0) for pole in segment.poles.tolist()]
            spline.knots = segment.knots.tolist()
        else:
            centre, turned = segment.centre.tolist(), _left(segment)
            begin, end = turned.start, turned.start + turned.sweep
            if segment.is_round and segment.is_whole:
                model.add_circle(centre, segment.radii[0], on)
            elif segment.is_round:
                angle = math.atan2(turned.u[1], turned.u[0])
                first, last = np.degrees([angle + begin, angle + end]).tolist()
                model.add_arc(centre, segment.radii[0], first, last, dxfattribs=on)
            else:
                u, v = turned.u, turned.v
                if np.linalg.norm(v) > np.linalg.norm(u):  # the first axis is the longer one
                    u, v, begin, end = v, -u, begin - math.pi / 2, end - math.pi / 2
                ratio = float(np.linalg.norm(v) / np.linalg.norm(u))
                model.add_ellipse(centre, u.tolist(), ratio, begin, end, on)
    text = io.StringIO()
    drawing.write(text)
    return text.getvalue().encode(drawing.encoding)


def profile_svg(name: str, chains: Sequence[Chain], width: float = 0.25) -> str:
    """A path a chain, in true size; arcs as arcs, splines as cubics."""
    every = np.concatenate([outline(chain) for chain in chains])
    left, low = every.min(axis=0) - MARGIN
    right, high = every.max(axis=0) + MARGIN

    def at(place: Array) -> str:
        return f"{place[0] - left:.6f},{high - place[1]:.6f}"

    paths = ""
    for chain in chains:
        run = "M" + at(chain.segments[0].at(np.zeros(1))[0])
        run += "".join(_run(segment, at) for segment in chain.segments)
        paths += f'<path d="{run}{"Z" if chain.closed else ""}"/>'
    wide, tall = right - left, high - low
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide:.6f}mm" height="{tall:.6f}mm" viewBox="0 0 {wide:.6f} {tall:.6f}">'
        f"<title>{escape(name)}</title>"
        f'<g fill="none" stroke="#20282b" stroke-width="{width:g}" stroke-linejoin="round">{paths}</g></svg>'
    )


def _left(conic: Conic) -> Conic:
    """The same conic turning to the left, its axes too."""
    if np.linalg.det(np.column_stack([conic.u, conic.v])) < 0:
        conic = Conic(conic.name, conic.centre, conic.u, -conic.v, -conic.start, -conic.sweep)
    return conic if conic.sweep > 0 else conic.back()


def _run(segment: Segment, say: Callable[[Array], str]) -> str:
    if isinstance(segment, Line):
        return "L" + say(segment.b)
    if isinstance(segment, Conic):
        turned = _left(segment)
        a, b = turned.radii
        angle = math.degrees(-math.atan2(turned.u[1], turned.u[0]))
        # a whole turn has no two ends for an arc to run between
        stops = [0.5, 1.0] if abs(segment.sweep) > math.pi - 1e-9 else [1.0]
        forward = (segment.sweep > 0) == (np.linalg.det(np.column_stack([segment.u, segment.v])) > 0)
        return "".join(
            f"A{a:.6f},{b:.6f} {angle:.6f} 0 {0 if forward else 1} {say(segment.at(np.array([stop]))[0])}"
            for stop in stops
        )
    return "".join("C" + " ".join(say(pole) for pole in poles[1:]) for poles in cubics(segment))


def cubics(spline: Spline) -> list[Array]:
    """(4, 2) Bézier points of cubics that follow a spline: exactly to degree 3, within `BESIDE` mm above."""
    found = []
    breaks = np.unique(spline.knots)
    todo = list(pairwise(breaks))[::-1]
    while todo:
        low, high = todo.pop()
        ends, h = np.array([low, high]), (high - low) / 3
        (a, b), (da, db) = spline.at(ends), spline.along(ends)
        poles = np.array([a, a + h * da, b - h * db, b])
        s = np.linspace(0, 1, 9)
        weights = np.stack([(1 - s) ** 3, 3 * s * (1 - s) ** 2, 3 * s**2 * (1 - s), s**3], axis=1)
        off = np.abs(weights @ poles - spline.at(low + s * (high - low))).max()
        if off > BESIDE and high - low > 1e-4:
            middle = (low + high) / 2
            todo += [(middle, high), (low, middle)]
        else:
            found.append(poles)
    return found
