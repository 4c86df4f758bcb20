"""Selections, fills and paint on pixels."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.ndimage import gaussian_filter, map_coordinates

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.ink import paint, select
from hollow_marble.core.ink.compose import Plane, on_paper
from hollow_marble.core.ink.fill import region
from hollow_marble.core.ink.path import fineliner, pencil
from hollow_marble.core.ink.stamp import coverage, lay_ink

PAGE = (0, 0, 400, 300)


def circle(x: float, y: float, r: float, steps: int = 200) -> np.ndarray:
    t = np.linspace(0, 2 * np.pi, steps, endpoint=False)
    return np.stack([x + r * np.cos(t), y + r * np.sin(t)], axis=1)


def test_an_outlined_circle_has_the_area_of_a_circle() -> None:
    found = select.outlined(circle(150.3, 120.7, 60), PAGE)
    assert found.mask.sum() / 255 == pytest.approx(np.pi * 3600, rel=2e-3)
    assert found.mask[60, 60] == 255
    assert 0 < found.mask[0].max() < 255, "its edge is smooth"


@pytest.mark.parametrize("radius", [0.7, 5.0, 12.5, 31.0, 90.0, 400.0])
def test_a_feather_of_any_width_is_the_gaussian_to_one_level(radius: float) -> None:
    """Beside SciPy's, cut at six deviations; wide ones are worked out on a coarser grid."""
    page = (0, 0, 700, 500)
    chosen = select.outlined(circle(420.3, 220.7, 150), page)
    wanted = gaussian_filter(chosen.within(page).astype(float), radius, mode="constant", truncate=6)
    found = select.feathered(chosen, radius, page).within(page).astype(float)
    assert np.abs(found - wanted).max() < 1.0


def test_selections_go_together() -> None:
    left, right = select.boxed((10, 10, 60, 60), PAGE), select.boxed((40, 10, 90, 60), PAGE)
    areas = {
        how: select.combined(left, right, how).mask.astype(int).sum() / 255  # type: ignore[arg-type]
        for how in ("instead", "add", "take away", "keep common")
    }
    assert areas == {"instead": 2500, "add": 4000, "take away": 1500, "keep common": 1000}
    rest = select.inverted(left, PAGE)
    assert rest.mask.astype(int).sum() / 255 == 400 * 300 - 2500
    assert select.inverted(rest, PAGE).rect == left.rect


def test_a_feathered_edge_is_a_gaussian_of_that_width() -> None:
    """Half way at the edge, 84 % one standard deviation inside (normal distribution)."""
    found = select.feathered(select.boxed((100, 50, 300, 250), PAGE), 10.0, PAGE)
    row = found.within(PAGE)[150].astype(float) / 255
    assert row[99:101].mean() == pytest.approx(0.5, abs=0.01)
    assert row[109:111].mean() == pytest.approx(0.841, abs=0.015)
    assert row[89:91].mean() == pytest.approx(0.159, abs=0.015)


def test_selections_that_are_empty_are_refused_and_say_so() -> None:
    box = select.boxed((10, 10, 20, 20), PAGE)
    with pytest.raises(HollowMarbleError, match="beside the page"):
        select.boxed((500, 500, 600, 600), PAGE)
    with pytest.raises(HollowMarbleError, match="no inside"):
        select.outlined(np.array([[1, 1], [2, 2]], float), PAGE)
    with pytest.raises(HollowMarbleError, match="as it was"):
        select.combined(box, box, "take away")
    with pytest.raises(HollowMarbleError, match="Nothing is selected yet"):
        select.combined(None, box, "take away")
    with pytest.raises(HollowMarbleError, match="no paint"):
        select.painted(np.zeros((5, 5, 4), np.uint8))


def test_the_edge_of_a_selection_runs_around_it() -> None:
    (line,) = select.edges(select.boxed((30, 40, 90, 80), PAGE))
    assert line.min(axis=0) == pytest.approx([30, 40], abs=1)
    assert line.max(axis=0) == pytest.approx([90, 80], abs=1)
    hollow = select.combined(select.boxed((10, 10, 90, 90), PAGE), select.boxed((30, 30, 60, 60), PAGE), "take away")
    assert len(select.edges(hollow)) == 2


def drawn(openings: float, width: float = 5.0) -> np.ndarray:
    """Ink (300, 400) of a ring of radius 100 with a gap of so many px, drawn with the fineliner."""
    half = openings / 2 / 100
    t = np.linspace(half, 2 * np.pi - half, 160)
    samples = np.stack([200 + 100 * np.cos(t), 150 + 100 * np.sin(t), 0 * t + 1, 0 * t], axis=1).astype(np.float32)
    layer = np.zeros((300, 400, 4), np.uint8)
    lay_ink(layer, coverage(samples, fineliner(width, 1.0), PAGE), PAGE, (20, 20, 20))
    return layer


def test_a_fill_reaches_under_the_line_and_leaves_no_fringe() -> None:
    """Laid beneath the ink, no pixel along the line is paler than both the fill and the paper's side of the line."""
    ink = drawn(0.0)
    found = region(ink[..., 3], (200, 150), 12)
    tone = np.zeros((300, 400, 4), np.uint8)
    left, top, right, bottom = found.rect
    tone[top:bottom, left:right] = paint.laid(
        tone[top:bottom, left:right], found.mask.astype(np.float32) / 255, (120, 140, 130), False, False
    )
    page = on_paper([Plane(tone), Plane(ink)], (255, 255, 255), PAGE)[..., 1].astype(int)
    y, x = np.mgrid[0:300, 0:400]
    away = np.hypot(x + 0.5 - 200, y + 0.5 - 150)
    inner = (away < 100) & (away > 90)
    assert (page[inner] > 141).sum() == 0, "no pixel between fill and line is paler than the fill"
    assert (page[away < 97] <= 141).all()
    outside = away > 104
    assert (tone[outside][:, 3] == 0).all(), "nothing runs out on the other side"


@pytest.mark.parametrize(("opening", "gap", "closed"), [(8, 12, True), (20, 26, True), (30, 12, False)])
def test_openings_up_to_the_gap_count_as_closed(opening: float, gap: float, closed: bool) -> None:
    found = region(drawn(opening)[..., 3], (200, 150), gap)
    area = (found.mask > 0).sum()
    if closed:
        assert np.pi * 99.5**2 < area < np.pi * 102.5**2, "to the middle of the line and not over its outer edge"
    else:
        assert area > 300 * 400 * 0.9, "it leaks out over the page"


def test_a_narrow_region_is_filled_whatever_the_gap() -> None:
    ink = np.zeros((100, 200), np.uint8)
    ink[40:42, 20:180] = ink[52:54, 20:180] = 255
    ink[40:54, 20:22] = ink[40:54, 178:180] = 255
    found = region(ink, (100, 46), 60)
    assert (found.mask > 0).sum() >= 156 * 10
    assert found.rect[1] >= 39
    assert found.rect[3] <= 55


def ring(width: float, strength: float, radius: float = 100.3) -> np.ndarray:
    """Coverage (300, 400) of an exact ring about (200.4, 150.7), by 8 × 8 places a pixel."""
    y, x = (np.mgrid[0 : 300 * 8, 0 : 400 * 8] + 0.5) / 8
    covered = np.abs(np.hypot(x - 200.4, y - 150.7) - radius) < width / 2
    return np.rint(covered.reshape(300, 8, 400, 8).mean(axis=(1, 3)) * strength * 255).astype(np.uint8)


@pytest.mark.parametrize(("width", "strength"), [(0.7, 1.0), (0.7, 0.6), (1.0, 1.0), (2.5, 0.6)])
def test_no_px_of_a_fill_lies_outside_a_hair_line(width: float, strength: float) -> None:
    """A px on the outside is farther out than the line's outer edge with its whole area, and carries none of its ink."""
    ink = ring(width, strength)
    filled = region(ink, (200, 150), 0).within(PAGE)
    y, x = np.mgrid[0:300, 0:400] + 0.5
    away = np.hypot(x - 200.4, y - 150.7)
    assert (filled[(away > 100.3) & (ink == 0)] == 0).all()
    assert (filled[away < 100.3 - width / 2 - 0.71] == 255).all()


@pytest.mark.parametrize("width", [5.0, 6.0, 12.0])
def test_under_a_pale_line_the_edge_of_a_fill_is_smooth_and_inside(width: float) -> None:
    """How far out it reaches along rays, read between its px, is the ring's radius within half a px everywhere."""
    filled = region(ring(width, 0.6), (200, 150), 0).within(PAGE).astype(float) / 255
    y, x = np.mgrid[0:300, 0:400] + 0.5
    assert filled[np.hypot(x - 200.4, y - 150.7) > 100.3 + width / 2].max() == 0
    out, turn = np.meshgrid(np.arange(90, 112, 0.05), np.linspace(0, 2 * np.pi, 720, endpoint=False))
    places = [150.7 + out * np.sin(turn) - 0.5, 200.4 + out * np.cos(turn) - 0.5]
    reach = 90 + map_coordinates(filled, places, order=1).sum(axis=1) * 0.05
    assert reach == pytest.approx(100.3, abs=0.5)
    assert reach.std() < 0.2


def test_the_tooth_of_a_pencil_line_leaves_no_pinholes() -> None:
    t = np.linspace(0, 2 * np.pi, 160)
    samples = np.stack([200 + 100 * np.cos(t), 150 + 100 * np.sin(t), 0 * t + 0.6, 0 * t], axis=1).astype(np.float32)
    layer = np.zeros((300, 400, 4), np.uint8)
    lay_ink(layer, coverage(samples, pencil(14.0, 0.8), PAGE), PAGE, (20, 20, 20))
    assert len(select.edges(region(layer[..., 3], (200, 150), 12))) == 1


def test_places_that_cannot_be_filled_are_refused() -> None:
    ink = drawn(0.0)[..., 3]
    with pytest.raises(HollowMarbleError, match="on a line"):
        region(ink, (300, 150), 12)
    with pytest.raises(HollowMarbleError, match="beside the page"):
        region(ink, (-4, 150), 12)


def test_paint_with_locked_transparency_stays_where_paint_was() -> None:
    base = np.zeros((10, 10, 4), np.uint8)
    base[:, :5] = (0, 0, 0, 128)
    cover = np.ones((10, 10), np.float32)
    done = paint.laid(base, cover, (255, 255, 255), False, True)
    assert np.array_equal(done[..., 3], base[..., 3])
    assert (done[:, :5, 0] == 128).all()
    assert np.array_equal(paint.laid(base, cover, (0, 0, 0), True, True), base), "lifting would change transparency"


def test_a_gradient_runs_evenly_and_a_clear_end_pulls_no_colour() -> None:
    bare = np.zeros((1, 101, 4), np.uint8)
    share = paint.ramp((1, 101), (0.5, 0.5), (100.5, 0.5), "linear")
    cover = np.ones((1, 101), np.float32)
    grey = paint.graded(bare, share, cover, ((0, 0, 0), 1.0), ((200, 200, 200), 1.0), False)
    assert grey[0, ::25, 0].tolist() == [0, 50, 100, 150, 200]
    fading = paint.graded(bare, share, cover, ((255, 0, 0), 1.0), ((0, 0, 255), 0.0), False)
    assert fading[0, 50, 3] in (127, 128)
    assert fading[0, 50, 2] == 0, "no blue comes in from the clear end"
    round_ = paint.ramp((101, 101), (50.5, 50.5), (100.5, 50.5), "radial")
    assert round_[50, 50] == 0
    assert round_[50, 75] == pytest.approx(0.5, abs=0.001)
    assert round_[0, 0] == 1


def test_clearing_by_half_leaves_half() -> None:
    base = np.full((2, 2, 4), 200, np.uint8)
    assert (paint.cleared(base, np.full((2, 2), 0.5, np.float32)) == 100).all()
