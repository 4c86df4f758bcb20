"""Trimming, drawing on, joining: places and shapes by formula (crossings of lines and circles, from memory), continuity by derivatives."""

from __future__ import annotations

import numpy as np
import pytest

from hollow_marble.core.curves.changing import extended, joined, trimmed
from hollow_marble.core.curves.drawing import Drawing, Piece
from hollow_marble.core.curves.holding import Hold, held
from hollow_marble.core.curves.meeting import meetings, nearest_on
from hollow_marble.core.curves.segments import curvature, length
from hollow_marble.core.curves.splines import by_points, through
from hollow_marble.core.errors import HollowMarbleError


def drawing(points: object, *pieces: Piece) -> Drawing:
    return Drawing(np.array(points, float), pieces)


CROSS = drawing(
    [(-10, 0), (10, 0), (-4, -5), (-4, 5), (6, -5), (6, 5)],
    Piece("a", "line", (0, 1)),
    Piece("b", "line", (2, 3)),
    Piece("c", "line", (4, 5)),
)


def test_the_stretch_between_two_crossings_goes_and_its_ends_stay_on_what_cut_it() -> None:
    holds = (Hold("level", pieces=("a",)), Hold("length", pieces=("a",), value=20))
    after, kept = trimmed(CROSS, holds, "a", np.array([0.0, 0.2]))
    ends = {piece.name: after.points[list(piece.points)].tolist() for piece in after.pieces}
    assert ends["a"] == [[-10, 0], [-4, 0]]
    assert ends["a-1"] == [[6, 0], [10, 0]]
    said = sorted((hold.kind, *hold.pieces) for hold in kept)
    assert said == [("level", "a"), ("level", "a-1"), ("on", "b"), ("on", "c")]  # no more 20 mm long
    moved = held(after, kept, {3: np.array([-2.0, 5.0])}).drawing  # the upper end of b is dragged: a's end stays on it
    a, b = (moved.segment(piece) for piece in moved.pieces[:1] + tuple(p for p in moved.pieces if p.name == "b"))
    assert nearest_on(b, a.at(np.ones(1))[0])[1] < 1e-6


@pytest.mark.parametrize(("place", "left"), [((-8, 0), [[-4, 0], [10, 0]]), ((8, 0), [[-10, 0], [6, 0]])])
def test_what_hangs_over_at_an_end_goes(place: tuple[float, float], left: list[list[float]]) -> None:
    after, _ = trimmed(CROSS, (), "a", np.array(place, float))
    assert after.points[list(after.pieces[0].points)].tolist() == left


def test_both_lines_trimmed_to_their_corner_share_its_point() -> None:
    after, holds = trimmed(CROSS, (), "a", np.array([-8.0, 0]))
    after, holds = trimmed(after, holds, "b", np.array([-4.0, -4]))
    a, b = (next(piece for piece in after.pieces if piece.name == name) for name in "ab")
    assert a.points[0] == b.points[0]
    assert not [hold for hold in holds if hold.kind == "on" and "b" in hold.pieces]
    assert len(after.chains()) == 2


def test_what_nothing_crosses_goes_whole_and_the_last_piece_does_not() -> None:
    alone = drawing([(0, 0), (5, 0), (0, 3), (5, 3)], Piece("a", "line", (0, 1)), Piece("b", "line", (2, 3)))
    after, _ = trimmed(alone, (Hold("level", pieces=("a",)),), "a", np.array([2.0, 0]))
    assert [piece.name for piece in after.pieces] == ["b"]
    assert after.points.tolist() == [[0, 3], [5, 3]]
    with pytest.raises(HollowMarbleError, match="all there is"):
        trimmed(after, (), "b", np.array([2.0, 3]))


def test_a_circle_is_opened_where_a_line_crosses_it_and_keeps_its_radius() -> None:
    one = drawing([(0, 0), (-9, 3), (9, 3)], Piece("round", "circle", (0,), 5.0), Piece("line", "line", (1, 2)))
    after, holds = trimmed(one, (Hold("radius", pieces=("round",), value=5),), "round", np.array([0.0, 5.1]))
    arc = after.segment(after.pieces[0])
    # what is left of the circle: the chord at 3 of 5 leaves 2 pi - 2 acos(3/5)
    assert length(arc) == pytest.approx(5 * (2 * np.pi - 2 * np.arccos(0.6)), rel=1e-12)
    assert np.allclose(sorted(arc.at(np.array([0.0, 1.0])).tolist()), [[-4, 3], [4, 3]])
    assert held(after, holds).free >= 1
    assert {hold.kind for hold in holds} == {"radius", "on"}
    tangent = drawing([(0, 0), (-9, 5), (9, 5)], Piece("round", "circle", (0,), 5.0), Piece("line", "line", (1, 2)))
    with pytest.raises(HollowMarbleError, match="crossed only once"):
        trimmed(tangent, (), "round", np.array([0.0, -5]))


def test_an_ellipse_is_opened_exactly_and_its_ends_stay_on_it() -> None:
    one = drawing([(1, 2), (9, 2), (1, -9), (1, 9)], Piece("e", "ellipse", (0, 1), 4.0), Piece("line", "line", (2, 3)))
    after, holds = trimmed(one, (), "e", np.array([-7.0, 2]))
    oval = after.segment(after.pieces[0])
    p = oval.at(np.linspace(0, 1, 101)) - [1, 2]
    assert np.allclose((p[:, 0] / 8) ** 2 + (p[:, 1] / 4) ** 2, 1, atol=1e-12)
    assert p[:, 0].min() > -1e-9
    ends = after.pieces[0].ends
    assert ends is not None
    dragged = held(after, holds, {ends[0]: np.array([3.0, -3.0])}).drawing
    end = dragged.points[ends[0]]
    assert np.linalg.norm(dragged.segment(dragged.pieces[0]).at(np.zeros(1))[0] - end) < 1e-6


@pytest.mark.parametrize("closed", [False, True])
@pytest.mark.parametrize("made", [through, by_points])
def test_a_spline_cut_is_the_same_spline(made: object, closed: bool) -> None:
    points = [(-10, 0), (-4, 6), (0, -3), (5, 5), (10, 0), (2, -9)]
    kind = "through" if made is through else "by"
    one = drawing(
        [*points, (-7, -20), (-7, 20), (6, -20), (6, 20)],
        Piece("s", kind, tuple(range(6)), closed=closed),
        Piece("left", "line", (6, 7)),
        Piece("right", "line", (8, 9)),
    )
    whole = one.segment(one.pieces[0])
    # take away the stretch that lies most to the right
    t = np.linspace(0, 1, 2001)
    after, _ = trimmed(one, (), "s", whole.at(t[[whole.at(t)[:, 0].argmax()]])[0])
    rest = [after.segment(piece) for piece in after.pieces if piece.name.startswith("s")]
    assert rest
    assert all(piece.kind == "by" for piece in after.pieces if piece.name.startswith("s"))
    for segment in rest:
        places = segment.at(np.linspace(0, 1, 60))
        assert max(nearest_on(whole, place)[1] for place in places) < 1e-7
    assert sum(map(length, rest)) < length(whole) - 5
    ends = np.vstack([segment.at(np.array([0.0, 1.0])) for segment in rest])
    assert np.isclose(ends[:, 0], 6, atol=1e-8).sum() == 2


def test_crossings_of_a_line_and_a_circle_are_where_the_formula_says() -> None:
    one = drawing([(0, 0), (-7, 1), (8, 2)], Piece("c", "circle", (0,), 6.0), Piece("l", "line", (1, 2)))
    circle, line = (one.segment(piece) for piece in one.pieces)
    there = np.array([line.at(np.array([t]))[0] for _, t in meetings(circle, line)])
    assert len(there) == 2
    assert np.allclose(np.linalg.norm(there, axis=1), 6, atol=1e-9)
    way = np.array([15.0, 1.0])
    roots = np.roots([way @ way, 2 * way @ [-7, 1], 50 - 36])
    assert np.allclose(sorted(there[:, 0]), sorted(-7 + 15 * roots), atol=1e-9)


def test_a_line_is_drawn_on_to_what_it_meets_first_and_stays_on_it() -> None:
    one = drawing(
        [(0, 0), (2, 1), (8, -10), (8, 10), (20, 0)],
        Piece("a", "line", (0, 1)),
        Piece("wall", "line", (2, 3)),
        Piece("far", "circle", (4,), 3.0),
    )
    after, holds = extended(one, (Hold("length", pieces=("a",), value=5**0.5),), 1)
    assert np.allclose(after.points[1], [8, 4])
    assert holds == (Hold("on", (1,), ("wall",)),)
    longer, _ = extended(one, (), 1, by=5**0.5)
    assert np.allclose(longer.points[1], [4, 2])
    with pytest.raises(HollowMarbleError, match="Nothing lies ahead"):
        extended(one, (), 0)
    with pytest.raises(HollowMarbleError, match="not a loose end"):
        extended(one, (), 4)


def test_an_arc_is_drawn_on_round_its_centre_and_a_spline_straight() -> None:
    one = drawing(
        [(5, 0), (0, 5), (0, 0), (-9, 3), (9, 3), (-3, -9), (-3, 9)],
        Piece("arc", "arc", (0, 1, 2)),
        Piece("wall", "line", (5, 6)),
    )
    after, _ = extended(one, (), 1)
    assert np.allclose(after.points[1], [-3, 4])
    assert length(after.segment(after.pieces[0])) == pytest.approx(5 * (np.pi / 2 + np.arcsin(0.6)))
    spline = drawing(
        [(0, 0), (3, 4), (6, 0), (20, -30), (20, 30)], Piece("s", "through", (0, 1, 2)), Piece("w", "line", (3, 4))
    )
    on, holds = extended(spline, (), 2)
    s, line = on.segment(on.pieces[0]), on.segment(on.pieces[1])
    one_way, other = s.along(np.ones(1))[0], line.along(np.zeros(1))[0]
    assert abs(one_way[0] * other[1] - one_way[1] * other[0]) < 1e-9 * np.linalg.norm(one_way) * np.linalg.norm(other)
    assert on.points[-1][0] == pytest.approx(20)
    assert holds[-1].kind == "on"
    assert len(on.chains()) == 2


OPEN = drawing(
    [(-10, 0), (-3, 1), (4, 6), (9, 2), (3, 9)],
    Piece("line", "line", (0, 1)),
    Piece("bow", "through", (2, 4, 3)),
)


@pytest.mark.parametrize("how", ["smooth", "curvature"])
def test_ends_are_joined_by_direction_or_curvature_and_stay_so_while_they_are_dragged(how: str) -> None:
    after, holds = joined(OPEN, (), 1, 2, how)  # type: ignore[arg-type]
    for grip in ({}, {0: np.array([-9.0, 4.0])}, {4: np.array([5.0, 12.0])}):
        (chain,) = held(after, holds, grip).drawing.chains()
        for one, other in zip(chain.segments, chain.segments[1:]):
            a, b = one.along(np.ones(1))[0], other.along(np.zeros(1))[0]
            turn = np.degrees(np.arctan2(a[0] * b[1] - a[1] * b[0], a @ b))
            jump = abs(curvature(one, np.ones(1))[0] - curvature(other, np.zeros(1))[0])
            assert abs(turn) < 1e-9
            assert how == "smooth" or jump < 1e-9


def test_two_lines_are_joined_at_the_corner_they_run_to() -> None:
    one = drawing([(0, 0), (4, 0), (9, 3), (9, 8)], Piece("a", "line", (0, 1)), Piece("b", "line", (2, 3)))
    after, _ = joined(one, (Hold("length", pieces=("a",), value=4),), 1, 2, "corner")
    assert len(after.points) == 3
    assert np.allclose(after.points[1], [9, 0])
    assert len(after.chains()) == 1
    straight, _ = joined(one, (), 1, 2, "straight")
    assert [piece.kind for piece in straight.pieces] == ["line"] * 3
    assert len(straight.chains()) == 1
    with pytest.raises(HollowMarbleError, match="one straight line"):
        joined(one, (), 0, 1, "straight")
    with pytest.raises(HollowMarbleError, match="not a loose end"):
        joined(straight, (), 1, 2, "straight")


def test_nothing_that_is_done_to_random_drawings_breaks_them() -> None:
    """Whatever is trimmed, drawn on or joined leaves a drawing that can be kept, or is refused with a sentence."""
    done = 0
    for seed in range(25):
        random = np.random.default_rng(seed)
        points = random.uniform(-20, 20, (14, 2))
        one, holds = (
            drawing(
                points,
                *(Piece(f"line-{k}", "line", (2 * k, 2 * k + 1)) for k in range(3)),
                Piece("c", "circle", (6,), 8.0),
                Piece("s", "through", (7, 8, 9, 10)),
                Piece("e", "ellipse", (11, 12), 6.0),
            ),
            (Hold("level", pieces=("line-0",)),),
        )
        one = held(one, holds).drawing
        for _ in range(8):
            try:
                kind = random.integers(3)
                if kind == 0:
                    piece = one.pieces[random.integers(len(one.pieces))]
                    one, holds = trimmed(one, holds, piece.name, random.uniform(-20, 20, 2))
                elif kind == 1:
                    one, holds = extended(one, holds, int(random.integers(len(one.points))))
                else:
                    a, b = (int(n) for n in random.integers(len(one.points), size=2))
                    one, holds = joined(one, holds, a, b, ("corner", "straight", "smooth", "curvature")[seed % 4])  # type: ignore[arg-type]
                done += 1
            except HollowMarbleError:
                continue
            one = held(one, holds).drawing
            assert np.isfinite(one.points).all()
            used = {point for piece in one.pieces for point in piece.points}
            assert used == set(range(len(one.points)))
    assert done > 60
