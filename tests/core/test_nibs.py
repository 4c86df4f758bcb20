"""What each nib does to paper."""

from __future__ import annotations

import numpy as np
import pytest

from hollow_marble.core.ink.path import NIBS, bounds, dabs, samples_from
from hollow_marble.core.ink.stamp import clipped, coverage, empty, lay_ink, lay_inside, lift_ink, tooth, union

RECT = (0, 0, 240, 120)


def line(pressure: float = 0.8, lean: float = 0.0, y: float = 60.0) -> np.ndarray:
    x = np.linspace(20, 220, 30)
    return np.stack([x, 0 * x + y, 0 * x + pressure, 0 * x + lean], axis=1).astype(np.float32)


def profile(mask: np.ndarray) -> np.ndarray:
    """Mean coverage across a level line, away from its ends."""
    return mask[:, 80:160].mean(axis=1)


def width(mask: np.ndarray) -> float:
    across = profile(mask)
    return float(across.sum() / across.max())


def test_the_fineliner_does_not_care_how_hard_the_hand_presses() -> None:
    light, heavy = (coverage(line(p), NIBS["fineliner"](6.0, 0.9), RECT) for p in (0.1, 1.0))
    assert np.array_equal(light, heavy)
    assert light.max() == pytest.approx(0.9, abs=1e-6)
    assert width(light) == pytest.approx(6.0, rel=0.05)


def test_the_marker_is_flat_within_a_stroke_and_builds_up_over_strokes() -> None:
    there_and_back = np.concatenate([line(), line()[::-1]])
    nib = NIBS["marker"](30.0, 0.4)
    once, twice_over = coverage(line(), nib, RECT), coverage(there_and_back, nib, RECT)
    assert np.allclose(profile(once), profile(twice_over), atol=0.02)
    layer = np.zeros((120, 240, 4), np.uint8)
    lay_ink(layer, once, RECT, (0, 0, 0))
    first = int(layer[60, 120, 3])
    lay_ink(layer, once, RECT, (0, 0, 0))
    assert layer[60, 120, 3] == pytest.approx(255 * (1 - (1 - first / 255) ** 2), abs=2)


def test_mist_builds_up_while_the_hand_stays_but_not_beyond_its_tone() -> None:
    nib = NIBS["mist"](60.0, 0.5)
    passes = [coverage(np.concatenate([line()] * n), nib, RECT).max() for n in (1, 3, 40)]
    assert passes[0] < passes[1] < passes[2] <= 0.5
    assert passes[2] > 0.4


def test_mist_has_no_edge() -> None:
    across = profile(coverage(line(1.0), NIBS["mist"](80.0, 0.8), RECT))
    assert np.abs(np.diff(across)).max() < 0.06 * across.max()
    assert across[19] < 0.02 * across.max()


def test_grain_shows_the_paper_more_than_the_pencil_does() -> None:
    def roughness(nib: str) -> float:
        inner = coverage(line(0.7), NIBS[nib](40.0, 0.9), RECT)[50:70, 80:160]
        return float(inner.std() / inner.mean())

    assert roughness("grain") > 1.5 * roughness("pencil") > 0


def test_a_leaning_pencil_is_wider_and_paler() -> None:
    nib = NIBS["pencil"](8.0, 0.9)
    upright, flat = (coverage(line(0.6, lean), nib, RECT) for lean in (0.0, 1.0))
    assert width(flat) > 2.5 * width(upright)
    assert flat.max() < 0.6 * upright.max()


def test_a_fineliner_does_not_shade_when_it_leans() -> None:
    nib = NIBS["fineliner"](8.0, 0.9)
    assert np.array_equal(coverage(line(0.6, 0.0), nib, RECT), coverage(line(0.6, 1.0), nib, RECT))


@pytest.mark.parametrize("name", ["lifter", "soft lifter"])
def test_lifters_take_ink_away_the_soft_one_little_by_little(name: str) -> None:
    layer = np.full((120, 240, 4), 200, np.uint8)
    nib = NIBS[name](40.0, 0.9)
    assert nib.lifts
    lift_ink(layer, coverage(line(), nib, RECT), RECT)
    once = int(layer[60, 120, 3])
    assert once < 200
    assert layer[5, 120, 3] == 200
    assert (once > 60) == (name == "soft lifter")


def test_ink_laid_inside_keeps_the_layers_transparency() -> None:
    layer = np.zeros((120, 240, 4), np.uint8)
    layer[:, :120] = (0, 0, 0, 160)
    before = layer[..., 3].copy()
    lay_inside(layer, coverage(line(), NIBS["marker"](30.0, 0.8), RECT), RECT, (255, 0, 0))
    assert np.array_equal(layer[..., 3], before)
    assert layer[60, 80, 0] > 60
    assert not layer[:, 120:].any()


@pytest.mark.parametrize("name", list(NIBS))
@pytest.mark.parametrize("lean", [0.0, 1.0])
def test_no_nib_paints_outside_the_bounds_it_says(name: str, lean: float) -> None:
    nib = NIBS[name](22.0, 1.0)
    samples = line(1.0, lean)
    mask = coverage(samples, nib, RECT)
    left, top, right, bottom = clipped(bounds(samples, nib), RECT)
    outside = mask.copy()
    outside[top:bottom, left:right] = 0
    assert mask.any()
    assert not outside.any()


@pytest.mark.parametrize("name", list(NIBS))
def test_a_stroke_in_pieces_of_the_page_is_the_stroke(name: str) -> None:
    """Tiles are drawn one by one; their seams must not show."""
    nib = NIBS[name](18.0, 0.8)
    whole = coverage(line(0.6, 0.4), nib, RECT)
    left, right = coverage(line(0.6, 0.4), nib, (0, 0, 100, 120)), coverage(line(0.6, 0.4), nib, (100, 0, 240, 120))
    assert np.array_equal(whole, np.concatenate([left, right], axis=1))


def test_a_coarser_tooth_changes_more_slowly_from_pixel_to_pixel() -> None:
    fine = np.array([[tooth(x, y, 1.0) for x in range(80)] for y in range(20)])
    coarse = np.array([[tooth(x, y, 3.0) for x in range(80)] for y in range(20)])
    assert np.abs(np.diff(coarse, axis=1)).mean() < 0.6 * np.abs(np.diff(fine, axis=1)).mean()
    assert 0 <= coarse.min() < 0.15
    assert 0.85 < coarse.max() <= 1


def test_lean_and_pressure_run_smoothly_along_the_stroke() -> None:
    samples = np.array([[0, 0, 0.2, 0.0], [50, 0, 0.6, 0.5], [100, 0, 1.0, 1.0]], np.float32)
    along = dabs(samples, 8.0, 0.3)
    assert (np.diff(along[:, 2]) >= -1e-9).all()
    assert (np.diff(along[:, 3]) >= -1e-9).all()
    assert along[0, 2] == pytest.approx(0.2)
    assert along[-1, 3] == pytest.approx(1.0)


def test_samples_come_as_four_floats_each() -> None:
    data = line().astype("<f4").tobytes()
    assert np.array_equal(samples_from(data), line())
    assert samples_from(data).shape == (30, 4)


def test_rectangles_join_and_cut() -> None:
    a, b = (0, 0, 10, 10), (5, 5, 20, 8)
    assert union(a, b) == (0, 0, 20, 10)
    assert clipped(a, b) == (5, 5, 10, 8)
    assert empty(clipped(a, (30, 30, 40, 40)))
    assert union(a, (7, 7, 7, 9)) == a
    assert union((7, 7, 7, 9), a) == a
