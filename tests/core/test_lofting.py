"""Surfaces through sections: exact in every section, tangents exact at the ends, volumes by formula."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from scipy.optimize import brentq

from hollow_marble.core.curves.lofting import enclosed_by, strips_through
from hollow_marble.core.curves.planes import on_normal
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.solids.solid import Solid, here
from tests.core import drawn as d


def sections(*drawings: Any, apart: float = 10.0) -> list[Any]:
    return [d.drawn(one, d.lifted(k * apart)).placed()[0] for k, one in enumerate(drawings)]


def lofted(profiles: list[Any], *more: Any) -> Solid:
    found: Solid = here("lofted", "l", profiles, *more)
    return found


HALF = np.linspace(0, 1, 41)


def test_a_section_lies_on_the_surface_and_the_ends_are_square_all_along() -> None:
    shapes = [d.circle(5), d.rectangle(12, 8, (-6, -4), rounds={0: 2.0, 2: 3.0}), d.circle(3, (4, 1))]
    up = np.array([0.0, 0.0, 1.0])
    chains = sections(*shapes)
    strips = strips_through(chains, ends=(0.8 * up, 1.5 * up))
    assert len({strip.name for strip in strips}) == 1, "faces are named by the first section's piece"
    for end, radius, middle in ((0.0, 5.0, (0, 0)), (1.0, 3.0, (4, 1))):
        for strip in strips:
            place, along, across = (v[:, 0] for v in strip.at(HALF, np.array([end])))
            assert np.abs(np.linalg.norm(place[:, :2] - middle, axis=1) - radius).max() < 1e-8
            assert np.abs(np.cross(across, up)).max() < 1e-10, "leaves square to its plane at every place"
            speed = across[:, 2] / (1.5 if end else 0.8)
            assert np.ptp(speed) < 1e-9
            assert 20 < speed[0] < 25, "as fast as it has way to go, as its sections' middles lie"
            assert np.abs(along[:, 2]).max() < 1e-10
    height = brentq(lambda v: strips[0].at(np.array([0.3]), np.array([v]))[0][0, 0, 2] - 10, 0, 1, xtol=1e-15)
    between = np.vstack([strip.at(HALF, np.array([height]))[0][:, 0] for strip in strips])
    assert np.abs(between[:, 2] - 10).max() < 1e-9, "the middle section lies in its plane"
    straight = (np.abs(np.abs(between[:, 0]) - 6) < 1e-9) | (np.abs(np.abs(between[:, 1]) - 4) < 1e-9)
    corners = np.abs(np.linalg.norm(between[:, :2] + (4, 2), axis=1) - 2) < 1e-8
    corners |= np.abs(np.linalg.norm(between[:, :2] - (3, 1), axis=1) - 3) < 1e-8
    assert (straight | corners).all(), "on its lines and its two round corners"


def test_volumes_by_formula() -> None:
    cone = sections(d.circle(5), d.circle(8))
    assert enclosed_by(strips_through(cone), 1) == pytest.approx(np.pi * 10 / 3 * (25 + 40 + 64), rel=1e-9)
    stack = sections(d.rectangle(4, 4, (-2, -2)), d.rectangle(8, 8, (-4, -4)), d.rectangle(4, 4, (-2, -2)))
    straight = strips_through(stack, straight=True)
    assert len(straight) == 8
    assert enclosed_by(straight, 2) == pytest.approx(2 * 10 / 3 * (16 + 64 + 32), rel=1e-12), "two frusta"
    up = np.array([0.0, 0.0, 1.0])
    tube = strips_through(sections(d.circle(5), d.circle(5)), ends=(up, up))
    assert enclosed_by(tube, 1) == pytest.approx(np.pi * 250, rel=1e-9), "square at both ends: a cylinder"


def test_the_kernel_makes_a_solid_of_it_with_names() -> None:
    body = d.drawn(d.rectangle(20, 12, (-10, -6), rounds={0: 3.0, 1: 3.0, 2: 3.0, 3: 3.0}), "top")
    lip = d.drawn(d.circle(4), on_normal(np.array([5.0, 0, 30]), np.array([0.4, 0.0, 1.0])))
    found = lofted([body, lip], False, (1.0, 1.0))
    assert found.closed
    assert {name.split("#")[0] for name in found.names} >= {"l.start", "l.end", "l.l0", "l.l1", "l.l2", "l.l3"}
    place, normal = here("face_middle", found, "l.start")
    assert place[2] == pytest.approx(0, abs=1e-9)
    assert normal[2] < 0
    skin = found.volume
    bulging = lofted([body, lip], False, (3.0, 1.0)).volume
    assert bulging > skin, "a stronger beginning keeps it wide for longer"


def test_what_is_lofted_can_be_hollowed() -> None:
    """Rational sections could not be: their splines have double knots, which the kernel does not offset (seen with 8.0.1)."""
    body = d.drawn(d.rectangle(40, 28, (-20, -14), rounds=dict.fromkeys(range(4), 2.0)), "top")
    cup = lofted([body, d.drawn(d.circle(9), d.lifted(40))], False, (1.0, 0.7))
    for away in (("l.end",), ()):
        hollow: Solid = here("hollowed", "h", cup, 1.2, away)
        shell = here("measures", cup)[1] * 1.2
        assert 0.85 * shell < hollow.volume < shell, "skin × wall, less where it is bent (Steiner)"
    slant = lofted([d.drawn(d.rectangle(40, 28, (-20, -14)), "top"), d.drawn(d.circle(9), d.lifted(40))])
    with pytest.raises(HollowMarbleError, match="works here, but not with these faces open"):
        here("hollowed", "h", slant, 1.2, ("l.end",))


def test_corner_goes_to_corner_and_nothing_is_twisted() -> None:
    square = d.rectangle(6, 6, (-3, -3))
    turned_about = d.outline([(3, 3), (-3, 3), (-3, -3), (3, -3)])
    other_way = d.outline([(-3, 3), (3, 3), (3, -3), (-3, -3)])
    for other in (turned_about, other_way):
        strips = strips_through(sections(square, other))
        assert enclosed_by(strips, 1) == pytest.approx(360, rel=1e-12)
    round_to_square = strips_through(sections(d.circle(4), square))
    assert len(round_to_square) == 4


def test_a_twisted_ring_comes_round_smoothly() -> None:
    ring = d.drawn(d.circle(20), "top")
    oval = d.drawn(d.rectangle(6, 3, (-3, -1.5)))
    found = here("swept", "s", oval, ring, 360.0, 1.0)
    assert found.closed
    assert found.volume == pytest.approx(18 * 40 * np.pi, rel=2e-3), "Pappus: its centroid runs along the circle"
    with pytest.raises(HollowMarbleError, match="comes round, and The profile would not end as it began"):
        here("swept", "s", oval, ring, 90.0, 1.0)


def test_what_cannot_be_lofted_is_said() -> None:
    flat = d.drawn(d.circle(5), "top")
    with pytest.raises(HollowMarbleError, match="lie in the same place"):
        lofted([flat, flat])
    with pytest.raises(HollowMarbleError, match="Some of the profiles are open"):
        lofted([flat, d.drawn(d.through([(0, 0), (5, 5), (9, 2)]), d.lifted(5))])
    with pytest.raises(HollowMarbleError, match="straight loft has no end"):
        lofted([flat, d.drawn(d.circle(3), d.lifted(5))], True, (1.0, 0.0))
    sheet = lofted([d.drawn(d.through([(0, 0), (5, 5), (9, 2)]), d.lifted(z)) for z in (0, 5, 12)])
    assert not sheet.closed
