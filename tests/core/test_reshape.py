"""Strokes changed after they were drawn."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from hollow_marble.core.ink import reshape


def line(n: int = 40, wave: float = 0.0) -> np.ndarray:
    x = np.linspace(0, 300, n)
    return np.stack([x, 100 + wave * np.sin(x * 0.9), 0 * x + 0.5, 0 * x], axis=1).astype(np.float32)


@settings(max_examples=40, deadline=None)
@given(st.floats(-3, 3), st.floats(0.2, 4), st.booleans(), st.tuples(st.floats(-90, 90), st.floats(-90, 90)))
def test_a_similarity_keeps_shapes_and_its_centre(turn: float, scale: float, mirror: bool, by: tuple) -> None:
    matrix = reshape.similarity((50.0, 40.0), by, turn, scale, mirror)
    centre = reshape.carried(np.array([[50, 40, 1, 0]], np.float32), matrix)[0, :2]
    assert centre == pytest.approx((50 + by[0], 40 + by[1]), abs=1e-3)
    before = line()
    after = reshape.carried(before, matrix)
    assert np.hypot(*np.diff(after[:, :2], axis=0).T) == pytest.approx(
        scale * np.hypot(*np.diff(before[:, :2], axis=0).T), rel=1e-3
    )
    assert np.sign(np.linalg.det(matrix[:, :2])) == (-1 if mirror else 1)


def test_turning_by_a_quarter_follows_the_page() -> None:
    """The page's y runs down, so a positive turn is clockwise to the eye."""
    matrix = reshape.similarity((0, 0), (0, 0), np.pi / 2, 1.0, False)
    assert reshape.carried(np.array([[10, 0, 1, 0]], np.float32), matrix)[0, :2] == pytest.approx((0, 10), abs=1e-5)


def test_evened_samples_lie_on_the_line_at_even_steps() -> None:
    even = reshape.evened(line(7), 5.0)
    assert np.diff(even[:, 0]) == pytest.approx(5.0, rel=1e-3)
    assert (even[0] == line()[0]).all()
    assert (even[-1] == line()[-1]).all()
    tap = np.array([[3, 3, 0.5, 0]], np.float32)
    assert (reshape.evened(tap) == tap).all()


def test_smoothing_takes_out_shaking_and_keeps_ends_and_pressure() -> None:
    rough = line(200, wave=4.0)
    soft = reshape.smoothed(rough, 40.0)
    inner = slice(20, -20)
    assert np.abs(soft[inner, 1] - 100).max() < 0.4 < np.abs(rough[:, 1] - 100).max()
    assert soft[0, :2] == pytest.approx(rough[0, :2], abs=1e-3)
    assert soft[-1, :2] == pytest.approx(rough[-1, :2], abs=1e-3)
    assert soft[:, 2] == pytest.approx(0.5)


def test_smoothing_keeps_a_wide_curve() -> None:
    t = np.linspace(0, np.pi, 200)
    arc = np.stack([200 * np.cos(t), 200 * np.sin(t), 0 * t + 1, 0 * t], axis=1).astype(np.float32)
    soft = reshape.smoothed(arc, 40.0)
    assert np.hypot(soft[:, 0], soft[:, 1])[30:-30] == pytest.approx(200, abs=1.2)


def test_a_pull_moves_the_place_by_all_of_it_and_far_places_not_at_all() -> None:
    moved = reshape.pulled(line(), (150, 100), (0, 30), 20)
    at = np.abs(moved[:, 0] - 150).argmin()
    assert moved[at, 1] == pytest.approx(130, abs=0.2)
    beside = np.abs(moved[:, 0] - 170).argmin()
    assert moved[beside, 1] == pytest.approx(100 + 30 * np.exp(-0.5), abs=1.0)
    assert moved[0, 1] == pytest.approx(100, abs=1e-3)


def test_a_piece_is_cut_out_and_two_are_left() -> None:
    box = np.array([[100, 50], [160, 50], [160, 150], [100, 150]], float)
    left, right = reshape.pieces_outside(line(), box)
    assert left[-1, 0] == pytest.approx(100, abs=2)
    assert right[0, 0] == pytest.approx(160, abs=2)
    (whole,) = reshape.pieces_outside(line(), box + 500)
    assert np.ptp(whole[:, 0]) == pytest.approx(300)
    assert reshape.pieces_outside(line(), np.array([[-9, 0], [400, 0], [400, 200], [-9, 200]], float)) == []


def test_inside_by_crossings_agrees_with_a_circle() -> None:
    t = np.linspace(0, 2 * np.pi, 400, endpoint=False)
    circle = np.stack([np.cos(t), np.sin(t)], axis=1)
    points = np.random.default_rng(2).uniform(-1.4, 1.4, (2000, 2))
    away = np.hypot(*points.T)
    sure = np.abs(away - 1) > 0.01
    assert (reshape.inside(points, circle) == (away < 1))[sure].all()


def test_distance_is_to_the_nearest_piece_of_the_line() -> None:
    assert reshape.distance_to(line(), (150, 112)) == pytest.approx(12)
    assert reshape.distance_to(line(), (-30, 140)) == pytest.approx(50)
    assert reshape.distance_to(np.array([[3, 4, 1, 0]], np.float32), (0, 0)) == pytest.approx(5)
