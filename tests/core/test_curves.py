"""Curves: exact pieces, dimensions that are kept, offsets; against formulas and SciPy."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.interpolate import BSpline, CubicSpline

from hollow_marble.core.curves import splines
from hollow_marble.core.curves.chains import (
    area_and_centroid,
    chain_length,
    crossing,
    half_of,
    offset,
    outline,
    regions,
)
from hollow_marble.core.curves.drawing import Drawing, Piece
from hollow_marble.core.curves.frames import along_path, tightest
from hollow_marble.core.curves.holding import Hold, check_new, held
from hollow_marble.core.curves.planes import UPRIGHT, on_normal, through_points
from hollow_marble.core.curves.segments import Conic, Line, Spline, curvature, flattened, length
from hollow_marble.core.errors import HollowMarbleError
from tests.core import drawn as d

T = np.linspace(0, 1, 41)


def test_an_arc_is_an_exact_rational_spline() -> None:
    """Piegl & Tiller 1997, section 7.3: a full circle of nine poles; every point at the radius."""
    for sweep in (2 * np.pi, -1.1, 0.4, 3.9):
        arc = Conic("c", np.array([3.0, -2.0]), np.array([7.0, 0]), np.array([0, 7.0]), 0.3, sweep)
        knots, poles, weights = arc.rational()
        homogeneous = BSpline(knots, np.column_stack([poles * weights[:, None], weights]), 2)(T)
        points = homogeneous[:, :2] / homogeneous[:, 2:]
        assert np.abs(np.linalg.norm(points - arc.centre, axis=1) - 7).max() < 1e-12
        assert np.abs(points[[0, -1]] - arc.at(np.array([0.0, 1.0]))).max() < 1e-12
    assert len(Conic("c", np.zeros(2), np.eye(2)[0], np.eye(2)[1], 0, 2 * np.pi).rational()[1]) == 9


def test_splines_are_those_of_the_books() -> None:
    """Through points: SciPy's natural and periodic cubic splines. By points: begins at the first, smooth where it comes round."""
    points = np.array([[0, 0], [10, 4], [14, 12], [30, 9.0], [31, -5]])
    t = np.concatenate([[0], np.cumsum(np.linalg.norm(np.diff(points, axis=0), axis=1))])
    due = CubicSpline(t / t[-1], points, bc_type="natural")
    assert d.close_to(splines.through("s", points).at(T), due(T), 1e-10)
    ring = splines.through("s", points, closed=True)
    ends = np.array([0.0, 1.0])
    for values in (ring.at(ends), ring.along(ends), ring.bent(ends)):
        assert np.abs(values[0] - values[1]).max() < 1e-8
    drawn_to = splines.by_points("s", points)
    assert d.close_to(drawn_to.at(ends), points[[0, -1]], 1e-12)
    closed = splines.by_points("s", points, closed=True)
    assert d.close_to(closed.at(ends)[0], (points[-1] + 4 * points[0] + points[1]) / 6, 1e-12), "uniform cubic B-spline"


@settings(max_examples=40, deadline=None)
@given(st.floats(0, 0.8), st.floats(0.05, 0.2))
def test_a_part_of_a_piece_is_the_piece(begin: float, span: float) -> None:
    points = np.array([[0, 0], [10, 4], [14, 12], [30, 9.0], [31, -5]])
    spline = splines.through("s", points)
    arc = Conic("c", np.zeros(2), np.array([7.0, 0]), np.array([0, 4.0]), 0.3, 2.0)
    for piece in (spline, arc, Line("l", points[0], points[1])):
        cut = piece.part(begin, begin + span)
        # a parameter within 1e-9 of an end is the end
        assert d.close_to(cut.at(T), piece.at(begin + span * T), 1e-7)
        assert d.close_to(piece.back().at(T), piece.at(1 - T), 1e-10)


def test_lengths_and_curvature_of_conics() -> None:
    arc = Conic("c", np.zeros(2), np.array([5.0, 0]), np.array([0, 5.0]), 0, 1.2)
    assert length(arc) == pytest.approx(6.0, rel=1e-12)
    ellipse = Conic("e", np.zeros(2), np.array([5.0, 0]), np.array([0, 3.0]), 0, 2 * np.pi)
    assert length(ellipse) == pytest.approx(25.526998863398124, rel=1e-9), "4 a E(m), m = 1 - b²/a²; SciPy's ellipe"
    assert curvature(ellipse, np.array([0.0, 0.25])) == pytest.approx([5 / 9, 3 / 25]), "a/b² and b/a²"
    line = flattened(arc, 0.01)
    middle = (line[1:] + line[:-1]) / 2
    assert (5 - np.linalg.norm(middle, axis=1)).max() < 0.01


def test_corners_are_rounded_each_with_its_own_radius() -> None:
    """Area lost at a square corner: (1 − π/4) r²; length: (2 − π/2) r."""
    chain = d.rectangle(40, 20, rounds={0: 5.0, 2: 3.0}).chains()[0]
    assert area_and_centroid(chain)[0] == pytest.approx(800 - (1 - np.pi / 4) * 34, rel=1e-12)
    assert chain_length(chain) == pytest.approx(120 - (2 - np.pi / 2) * 8, rel=1e-12)
    for one, other in zip(chain.segments, [*chain.segments[1:], chain.segments[0]]):
        a, b = one.along(np.ones(1))[0], other.along(np.zeros(1))[0]
        rounded = "round" in one.name or "round" in other.name
        assert abs(a @ b / np.linalg.norm(a) / np.linalg.norm(b) - 1) < 1e-9 or not rounded, "tangent"
    with pytest.raises(HollowMarbleError, match="no room for a radius of 12 mm; up to 10 mm fits"):
        d.rectangle(40, 20, rounds={1: 10.0, 2: 12.0}).chains()
    curved = Drawing(
        np.array([[0, 0], [20, 0], [20, 20.0], [10, 30]]),
        (Piece("a", "line", (0, 1)), Piece("b", "through", (1, 2, 3))),
        {1: 4.0},
    )
    arc = next(s for s in curved.chains()[0].segments if s.name.startswith("round"))
    assert isinstance(arc, Conic)
    assert arc.radii[0] == pytest.approx(4.0, abs=1e-6)


def test_offsets_have_the_area_that_steiner_gives() -> None:
    """Outwards with round corners: A + P d + π d² (Steiner's formula for convex outlines)."""
    box = d.rectangle(40, 20).chains()[0]
    out = offset(box, -3)
    assert area_and_centroid(out)[0] == pytest.approx(800 + 120 * 3 + np.pi * 9, rel=1e-12)
    assert area_and_centroid(offset(box, -3, sharp=True))[0] == pytest.approx(46 * 26, rel=1e-12)
    rounded = d.rectangle(40, 20, rounds=dict.fromkeys(range(4), 5.0)).chains()[0]
    assert area_and_centroid(offset(rounded, 6))[0] == pytest.approx(28 * 8), "the arcs are gone, the lines meet"
    bend = d.through([(0, 0), (20, 5), (30, 30), (60, 40)]).chains()[0]
    beside = offset(bend, 2.0)
    far = [np.linalg.norm(outline(bend, 1e-4) - p, axis=1).min() for p in outline(beside, 0.1)]
    assert np.abs(np.array(far) - 2).max() < 0.005
    with pytest.raises(HollowMarbleError, match="bends more tightly"):
        offset(bend, 40.0)
    with pytest.raises(HollowMarbleError, match=r"leaves nothing|no place|no room|has room"):
        offset(box, 11)


def test_what_crosses_itself_is_found_where_it_does() -> None:
    eight = d.outline([(0, 0), (30, 0), (0, 30), (30, 20)]).chains()[0]
    assert crossing(eight) == pytest.approx([18, 12], abs=1e-6)
    assert crossing(d.rectangle(4, 3).chains()[0]) is None
    with pytest.raises(HollowMarbleError, match=r"crosses itself at \(18.00, 12.00\)"):
        regions([eight], "The profile")
    plate = [*d.rectangle(40, 20).chains(), *d.circle(3, (10, 10)).chains(), *d.circle(1, (10, 10)).chains()]
    found = regions(plate, "The plate")
    assert [len(holes) for _, holes in found] == [1, 0], "an island stands in the hole"


def test_a_profile_across_its_axis_is_halved() -> None:
    halves, taken = half_of(d.circle(5, (3, 0)).chains())
    assert taken
    assert outline(halves[0])[:, 0].min() > -1e-9
    assert outline(halves[0])[:, 0].max() == pytest.approx(8)
    left, taken = half_of(d.rectangle(5, 4, (-9, 0)).chains())
    assert not taken
    assert outline(left[0])[:, 0].max() == pytest.approx(9), "what lies on the left alone is mirrored"


HOLDS = (
    Hold("level", pieces=("l0",)), Hold("upright", pieces=("l1",)), Hold("parallel", pieces=("l0", "l2")),
    Hold("square", pieces=("l2", "l3")), Hold("length", pieces=("l0",), value=40), Hold("length", pieces=("l1",), value=20),
    Hold("fixed", points=(0,), at=(1.0, 2.0)),
)  # fmt: skip


def crooked() -> Drawing:
    return d.outline([(0, 0), (38, 2), (41, 19), (-1, 22)])


def test_dimensions_are_kept_and_counted() -> None:
    found = held(crooked(), HOLDS)
    assert d.close_to(found.drawing.points, np.array([[1, 2], [41, 2], [41, 22], [1, 22]]), 1e-8)
    assert found.free == 0
    assert held(crooked(), HOLDS[:4]).free == 4, "8 coordinates, 4 relations: place, width and height are free"
    inscribed = Drawing(np.vstack([crooked().points, [[20, 10]]]), (*crooked().pieces, Piece("c", "circle", (4,), 5.0)))
    touching = tuple(Hold("tangent", pieces=(line, "c")) for line in ("l0", "l1", "l2"))
    result = held(inscribed, (*HOLDS, *touching)).drawing
    assert result.pieces[-1].value == pytest.approx(10)
    assert result.points[4] == pytest.approx([31, 12])


@pytest.mark.parametrize(
    ("hold", "measured"),
    [
        (
            Hold("angle", pieces=("l0", "l1"), value=60),
            lambda p: np.degrees(np.arccos(_cosine(p[1] - p[0], p[2] - p[1]))),
        ),
        (Hold("apart", points=(0, 2), value=55), lambda p: np.linalg.norm(p[2] - p[0])),
    ],
)
def test_each_measure_is_what_a_ruler_says(hold: Hold, measured: object) -> None:
    points = held(crooked(), (hold,)).drawing.points
    assert measured(points) == pytest.approx(hold.value)  # type: ignore[operator]


def _cosine(a: np.ndarray, b: np.ndarray) -> float:
    return float(a @ b / np.linalg.norm(a) / np.linalg.norm(b))


def test_arcs_stay_round_and_tangent_while_an_end_is_dragged() -> None:
    points = np.array([[0, 0], [20, 0], [30, 10], [20, 10.0]])
    slot = Drawing(points, (Piece("a", "line", (0, 1)), Piece("b", "arc", (1, 2, 3))))
    holds = (Hold("tangent", pieces=("a", "b")), Hold("radius", pieces=("b",), value=10), Hold("level", pieces=("a",)))
    found = held(slot, holds, {2: np.array([34.0, 14.0])}).drawing
    p = found.points
    assert np.linalg.norm(p[2] - p[3]) == pytest.approx(10)
    assert np.linalg.norm(p[1] - p[3]) == pytest.approx(10)
    assert (p[1] - p[0]) @ (p[1] - p[3]) == pytest.approx(0, abs=1e-6)
    assert np.linalg.norm(p[2] - [34, 14]) < 1.0, "what is in hand gives way last"


def test_in_a_large_drawing_only_what_hangs_together_moves() -> None:
    ring = np.arange(400) * 2 * np.pi / 400
    points = 30 * np.column_stack([np.cos(ring), np.sin(ring)])
    pieces = tuple(Piece(f"l{k}", "line", (k, (k + 1) % 400)) for k in range(400))
    holds = (
        Hold("length", pieces=("l5",), value=0.6),
        Hold("length", pieces=("l6",), value=0.5),
        Hold("level", pieces=("l200",)),
    )
    kept = held(Drawing(points, pieces), holds, {6: points[6] + [0.1, 0.2], 300: points[300] + [1.0, 0.0]})
    after = kept.drawing.points
    assert kept.free == 800 - 3
    assert np.linalg.norm(after[6] - after[5]) == pytest.approx(0.6, abs=1e-8)
    assert np.linalg.norm(after[7] - after[6]) == pytest.approx(0.5, abs=1e-8)
    assert after[200, 1] == pytest.approx(after[201, 1], abs=1e-9)
    assert after[300] == pytest.approx(points[300] + [1.0, 0.0]), "it goes where the hand is"
    others = np.setdiff1d(np.arange(400), [5, 6, 7, 200, 201, 300])
    assert np.array_equal(after[others], points[others]), "to the bit"


def test_what_contradicts_and_what_is_said_twice_are_named() -> None:
    with pytest.raises(HollowMarbleError, match=r"cannot all be kept at once: .*l0 40 mm long"):
        held(crooked(), (*HOLDS, Hold("length", pieces=("l2",), value=30)))
    with pytest.raises(
        HollowMarbleError, match=r"is so already, because of: .*parallel|is so already, because of: .*square"
    ):
        check_new(held(crooked(), HOLDS).drawing, HOLDS, Hold("upright", pieces=("l3",)))
    with pytest.raises(HollowMarbleError, match="cannot be held so"):
        held(crooked(), (Hold("radius", pieces=("l0",), value=3),))
    with pytest.raises(HollowMarbleError, match="pick 2 points"):
        held(crooked(), (Hold("apart", points=(0, 99), value=3),))


def test_frames_do_not_turn_about_their_path() -> None:
    """Wang et al. 2008: along a helix a frame without twist turns, against the normal, by the torsion's integral."""
    t = np.linspace(0, 1, 400)
    radius, pitch = 10.0, 20.0
    helix = np.column_stack([radius * np.cos(4 * np.pi * t), radius * np.sin(4 * np.pi * t), 2 * pitch * t])
    chain = Drawing(helix, (Piece("h", "through", tuple(range(400))),)).chains()[0]
    assert isinstance(chain.segments[0], Spline)
    assert tightest(chain) > radius
    places, way, _across, up = along_path(chain, 800)
    inward = -places * [1, 1, 0] / np.linalg.norm(places[:, :2], axis=1)[:, None]
    angle = np.unwrap(np.arctan2((np.cross(way, inward) * up).sum(axis=1), (inward * up).sum(axis=1)))
    c = pitch / (2 * np.pi)
    torsion = c / (radius**2 + c**2)
    due = -torsion * 2 * np.hypot(2 * np.pi * radius, pitch)
    assert abs(abs(angle[-1] - angle[0]) - abs(due)) < 0.02


def test_planes() -> None:
    plane = through_points(np.array([1.0, 0, 0]), np.array([3.0, 0, 0]), np.array([1.0, 2, 2]))
    assert d.close_to(plane.at(plane.of(np.array([[5.0, 3, 3]]))), np.array([[5.0, 3, 3]]), 1e-12)
    assert d.close_to(UPRIGHT["front"].normal, np.array([0, -1.0, 0]), 1e-12), (
        "the front looks at whoever stands before it"
    )
    tilted = UPRIGHT["top"].turned(30, 0, 0)
    assert tilted.normal == pytest.approx([0, -0.5, np.sqrt(0.75)])
    assert on_normal(np.zeros(3), np.array([0, 0, -2.0])).normal == pytest.approx([0, 0, -1])
    with pytest.raises(HollowMarbleError, match="one line"):
        through_points(np.zeros(3), np.array([1.0, 0, 0]), np.array([2.0, 0, 0]))
