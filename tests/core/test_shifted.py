"""Selected paint carried over: cut out where it was, laid down where it goes, exact where it can be."""

import numpy as np
import pytest

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.ink.paint import shifted
from hollow_marble.core.ink.reshape import similarity, through
from hollow_marble.core.ink.select import Selection, boxed

PAGE = (0, 0, 200, 160)


def layer() -> np.ndarray:
    """A block of paint with a slope of colour, 40 × 30, its upper left at (50, 60)."""
    pixels = np.zeros((160, 200, 4), np.uint8)
    pixels[60:90, 50:90, 3] = 255
    pixels[60:90, 50:90, 0] = np.linspace(20, 200, 40).astype(np.uint8)
    return pixels


def whole(rect: tuple[int, int, int, int], changed: np.ndarray, base: np.ndarray) -> np.ndarray:
    out = base.copy()
    out[rect[1] : rect[3], rect[0] : rect[2]] = changed
    return out


def move(dx: float, dy: float) -> np.ndarray:
    return similarity((70, 75), (dx, dy), 0.0, 1.0, False)


def test_whole_pixels_are_moved_exactly() -> None:
    base = layer()
    chosen = boxed((50, 60, 90, 90), PAGE)
    rect, changed, moved = shifted(base, chosen, move(33, -21), False, PAGE)
    after = whole(rect, changed, base)
    assert np.array_equal(after[39:69, 83:123], base[60:90, 50:90])
    assert after[60:90, 50:83].sum() == 0
    assert moved.rect == (83, 39, 123, 69)


def test_a_copy_leaves_what_was_there() -> None:
    base = layer()
    rect, changed, _ = shifted(base, boxed((50, 60, 90, 90), PAGE), move(60, 0), True, PAGE)
    after = whole(rect, changed, base)
    assert np.array_equal(after[60:90, 50:90], base[60:90, 50:90])
    assert np.array_equal(after[60:90, 110:150], base[60:90, 50:90])


def test_a_quarter_turn_turns_and_a_whole_turn_changes_next_to_nothing() -> None:
    base = layer()
    chosen = boxed((50, 60, 90, 90), PAGE)
    rect, changed, moved = shifted(base, chosen, similarity((70, 75), (0, 0), np.pi / 2, 1.0, False), False, PAGE)
    after = whole(rect, changed, base)
    left, top, right, bottom = moved.rect
    assert (right - left, bottom - top) == pytest.approx((30, 40), abs=2)
    column = after[56:94, 70, 0].astype(int)
    assert (np.diff(column) >= 0).all()
    rect, changed, _ = shifted(base, chosen, similarity((70, 75), (0, 0), 2 * np.pi, 1.0, False), False, PAGE)
    assert np.abs(whole(rect, changed, base)[65:85, 55:85].astype(int) - base[65:85, 55:85]).max() <= 2


def test_half_selected_paint_is_half_moved_and_nothing_is_lost() -> None:
    """Coverage in is coverage out, while both pieces lie apart."""
    base = layer()
    mask = np.full((30, 40), 128, np.uint8)
    rect, changed, _ = shifted(base, Selection((50, 60, 90, 90), mask), move(0, -45), False, PAGE)
    after = whole(rect, changed, base)
    assert after[..., 3].sum() == pytest.approx(base[..., 3].sum(), rel=0.01)
    assert after[20, 60, 3] == pytest.approx(128, abs=1)
    assert after[70, 60, 3] == pytest.approx(127, abs=1)


def test_colour_never_exceeds_coverage() -> None:
    """Bicubic filters overshoot; premultiplied colour above its coverage would shine."""
    base = layer()
    base[60:90, 50:90, :3] = 255
    for turn in (0.3, 1.1, 2.0):
        _, changed, _ = shifted(
            base, boxed((50, 60, 90, 90), PAGE), similarity((70, 75), (3.3, 1.7), turn, 1.3, True), False, PAGE
        )
        assert (changed[..., :3] <= changed[..., 3:]).all()


def test_paint_at_the_edge_is_cut_and_beyond_it_refused() -> None:
    base = layer()
    chosen = boxed((50, 60, 90, 90), PAGE)
    rect, _, moved = shifted(base, chosen, move(130, 0), False, PAGE)
    assert rect[2] <= 200
    assert moved.rect == (180, 60, 200, 90)
    with pytest.raises(HollowMarbleError, match="leave the page"):
        shifted(base, chosen, move(500, 0), False, PAGE)
    with pytest.raises(HollowMarbleError, match="no paint"):
        shifted(base, boxed((120, 10, 150, 30), PAGE), move(5, 5), False, PAGE)


def test_lines_through_a_homography_bend_as_they_should() -> None:
    """A straight line stays straight, its middle does not stay its middle (projective geometry)."""
    t = np.linspace(0, 100, 3)
    samples = np.column_stack([t, 0 * t, 0 * t + 0.5, 0 * t]).astype(np.float32)
    matrix = np.array([[1.0, 0, 0], [0, 1, 0], [0.004, 0, 1]])
    out = through(samples, matrix)
    assert len(out) > 20
    assert out[:, 1] == pytest.approx(0)
    assert out[-1, 0] == pytest.approx(100 / 1.4)
    middle = out[len(out) // 2, 0]
    assert middle == pytest.approx(50 / 1.2, rel=0.02)
    assert out[:, 2] == pytest.approx(0.5)
