"""Strokes to pixels."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.ink.compose import Plane, fade, on_paper
from hollow_marble.core.ink.outline import outline
from hollow_marble.core.ink.path import bounds, copies, dabs, lifter, pencil, samples_from
from hollow_marble.core.ink.stamp import coverage, lay_ink, lift_ink, tooth


def _line(pressure: float, length: float = 100.0, y: float = 20.0) -> np.ndarray:
    x = np.linspace(10, 10 + length, 12)
    return np.stack([x, np.full(12, y), np.full(12, pressure), np.zeros(12)], axis=1).astype(np.float32)


def _wide(mask: np.ndarray) -> float:
    """Width of a level line in px, from its coverage relative to its middle."""
    column = mask[:, mask.shape[1] // 2]
    return float(column.sum() / column.max())


def test_pressure_gives_tone_and_width() -> None:
    nib = pencil(12.0, 0.9)
    light, heavy = (coverage(_line(p), nib, (0, 0, 120, 40)) for p in (0.2, 1.0))
    assert _wide(heavy) > 1.8 * _wide(light)
    assert heavy.max() > 1.7 * light.max()
    assert heavy.max() == pytest.approx(0.9, abs=0.01)


def test_full_pressure_is_as_wide_as_the_nib_says() -> None:
    for size in (4.0, 9.0, 20.0):
        mask = coverage(_line(1.0), pencil(size, 1.0), (0, 0, 130, 60))
        assert _wide(mask) == pytest.approx(size, abs=0.35)


def test_light_pressure_shows_the_tooth_of_the_paper() -> None:
    light = coverage(_line(0.15), pencil(14.0, 0.8), (0, 0, 120, 40))[18:22, 30:90]
    heavy = coverage(_line(1.0), pencil(14.0, 0.8), (0, 0, 120, 40))[18:22, 30:90]
    assert light.std() / light.mean() > 0.1
    assert heavy.std() / heavy.mean() < 0.01


def test_tone_does_not_depend_on_how_fast_samples_came() -> None:
    along = (np.linspace(10, 110, 200), np.full(200, 20.0), np.full(200, 0.7), np.zeros(200))
    slow = np.stack(along, axis=1).astype(np.float32)
    fast = slow[::20]
    one, two = (coverage(s, pencil(8.0, 0.8), (0, 0, 104, 40)) for s in (slow, fast))
    assert np.abs(one - two)[:, 20:100].max() < 0.04


def test_two_strokes_build_up_and_one_does_not() -> None:
    layer = np.zeros((40, 120, 4), np.uint8)
    mask = coverage(_line(0.6), pencil(8.0, 0.6), (0, 0, 120, 40))
    lay_ink(layer, mask, (0, 0, 120, 40), (0, 0, 0))
    once = layer[20, 60, 3]
    lay_ink(layer, mask, (0, 0, 120, 40), (0, 0, 0))
    assert layer[20, 60, 3] > once
    assert layer[20, 60, 3] == pytest.approx(255 * (1 - (1 - once / 255) ** 2), abs=1.5)


def test_the_lifter_takes_ink_away_where_it_goes() -> None:
    layer = np.zeros((40, 120, 4), np.uint8)
    lay_ink(layer, np.full((40, 120), 1.0, np.float32), (0, 0, 120, 40), (30, 40, 50))
    lift_ink(layer, coverage(_line(1.0), lifter(10.0, 1.0), (0, 0, 120, 40)), (0, 0, 120, 40))
    assert layer[20, 60].tolist() == [0, 0, 0, 0]
    assert layer[2, 60].tolist() == [30, 40, 50, 255]


def test_laying_on_paper_is_source_over() -> None:
    """W3C Compositing and Blending Level 1, 5.1: co = cs αs + cb (1 - αs)."""
    layer = np.zeros((1, 1, 4), np.uint8)
    layer[0, 0] = (50, 20, 10, 128)  # premultiplied
    page = on_paper([Plane(layer, opacity=0.5)], (255, 250, 240), (0, 0, 1, 1))[0, 0]
    keep = 1 - 128 / 255 * 0.5
    assert page.tolist() == [
        round(50 * 0.5 + 255 * keep),
        round(20 * 0.5 + 250 * keep),
        round(10 * 0.5 + 240 * keep),
        255,
    ]


def test_fading_goes_towards_the_paper() -> None:
    page = np.zeros((4, 4, 4), np.uint8)
    fade(page, (200, 200, 200), (1, 1, 3, 3), (0, 0, 4, 4), 0.5)
    assert page[0, 0, 0] == 0
    assert page[1, 1, 0] == 100


@settings(max_examples=40, deadline=None)
@given(
    st.lists(st.tuples(st.floats(20, 180), st.floats(20, 180), st.floats(0, 1)), min_size=1, max_size=12),
    st.floats(1, 30),
)
def test_ink_stays_within_the_bounds_of_its_stroke(places: list[tuple[float, float, float]], size: float) -> None:
    samples = np.array([(*place, 0.3) for place in places], np.float32)
    mask = coverage(samples, pencil(size, 1.0), (0, 0, 220, 220))
    left, top, right, bottom = bounds(samples, pencil(size, 1.0))
    assert mask.any(), "something was drawn"
    mask[max(top, 0) : bottom, max(left, 0) : right] = 0
    assert not mask.any(), "nothing outside the bounds"


def test_dabs_pass_through_both_ends() -> None:
    samples = np.array([[10, 10, 0.5, 0], [40, 30, 0.6, 0], [90, 15, 0.7, 0]], np.float32)
    along = dabs(samples, 6.0, 0.3)
    assert along[0, :2].tolist() == [10, 10]
    assert along[-1, :2].tolist() == [90, 15]
    assert np.hypot(*np.diff(along[:, :2], axis=0).T).max() < 1.6, "no gaps"


def test_a_tap_leaves_a_dot() -> None:
    mask = coverage(np.array([[20, 20, 1.0, 0]], np.float32), pencil(10.0, 1.0), (0, 0, 40, 40))
    assert mask.sum() == pytest.approx(np.pi * 25, rel=0.1)


def test_mirroring_twice_returns_and_keeps_the_axis() -> None:
    samples = np.array([[120, 40, 0.5, 0], [150, 80, 0.9, 0]], np.float32)
    (once,) = copies(samples, 100.0, 60.0, np.pi / 2, True, 1)
    assert np.allclose(once, [[80, 40, 0.5, 0], [50, 80, 0.9, 0]], atol=1e-4)
    (there,) = copies(samples, 90, 20, 0.7, True, 1)
    assert np.allclose(copies(there, 90, 20, 0.7, True, 1)[0], samples, atol=1e-4)


@pytest.mark.parametrize("turns", [2, 5, 24])
def test_turning_around_a_centre_keeps_distances_and_closes(turns: int) -> None:
    samples = np.array([[120, 40, 0.5, 0]], np.float32)
    found = copies(samples, 100.0, 60.0, 0.3, False, turns)
    assert len(found) == turns - 1
    places = np.concatenate([samples, *found])[:, :2] - (100, 60)
    assert np.allclose(np.hypot(*places.T), np.hypot(20, -20), atol=1e-3)
    angles = np.sort(np.arctan2(places[:, 1], places[:, 0]))
    assert np.allclose(np.diff(angles), 2 * np.pi / turns, atol=1e-4)
    assert len(copies(samples, 100.0, 60.0, 0.3, True, turns)) == 2 * turns - 1


def test_an_outline_encloses_what_the_stroke_covers() -> None:
    """Shoelace area of the outline against the sum of coverage."""
    points = outline(_line(1.0, 300.0), pencil(12.0, 1.0))
    x, y = points.T
    area = abs(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1))) / 2
    covered = coverage(_line(1.0, 300.0), pencil(12.0, 1.0), (0, 0, 330, 40)).sum()
    assert area == pytest.approx(covered, rel=0.03)


def test_the_tooth_is_even_and_repeatable() -> None:
    values = np.array([tooth(x, y, 1.0) for x in range(60) for y in range(60)])
    assert values.min() >= 0
    assert values.max() <= 1
    assert values.mean() == pytest.approx(0.5, abs=0.02)
    assert tooth(5, 9, 1.0) == tooth(5, 9, 1.0) == pytest.approx(0.7256733043)


@pytest.mark.parametrize(
    "data", [b"", b"12345", np.array([[np.nan, 0, 0]], "<f4").tobytes(), np.array([[1e9, 0, 0]], "<f4").tobytes()]
)
def test_damaged_strokes_are_refused(data: bytes) -> None:
    with pytest.raises(HollowMarbleError, match="not drawn"):
        samples_from(data)
