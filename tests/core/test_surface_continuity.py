"""Seams: faults of a known size made on purpose, found at their place with their number; and surfaces without a fault."""

from __future__ import annotations

import numpy as np
import pytest

from hollow_marble.core.bodies.cage_body import CageBody, cage_body
from hollow_marble.core.cage import starts
from hollow_marble.core.cage.edits import crease_edges
from hollow_marble.core.cage.mesh import SHARP
from hollow_marble.core.shelf import Shelf
from hollow_marble.core.surface.continuity import around_odd_points, meetings, seams
from hollow_marble.core.surface.findings import Limits, check_meetings
from tests.core.surfaces import patches


def _arc(radius: float, low: float, high: float, lean: float = 0.0):
    """A bent strip: an arc in x, z about (0, −radius) that begins upright at x = 0, turned by `lean` radians about y there; 40 mm deep."""

    def place(u: np.ndarray, v: np.ndarray) -> np.ndarray:
        turn = u / radius
        x, z = radius * np.sin(turn), radius * (np.cos(turn) - 1)
        return np.stack([x * np.cos(lean) + z * np.sin(lean), v, z * np.cos(lean) - x * np.sin(lean)], axis=-1)

    return (place, (low, high), (0.0, 40.0))


def test_a_kink_of_half_a_degree_is_found_with_its_place_and_size() -> None:
    bent = patches([_arc(50.0, -20.0, 0.0), _arc(50.0, 0.0, 20.0, np.radians(0.5))])
    (seam,) = seams(bent)
    assert seam.angle.most == pytest.approx(0.5, abs=1e-5)
    assert seam.angle.mean == pytest.approx(0.5, abs=1e-5)
    assert seam.angle.place[0] == pytest.approx(0.0, abs=1e-9)
    assert seam.length == pytest.approx(40.0)
    assert seam.gap.most == 0.0
    assert seam.keys == (1, 2)


def test_a_curvature_jump_of_a_fifth_is_found() -> None:
    """Tangent, but of radius 40 on one side and 50 on the other: |1/40 − 1/50| over 1/40 is 20 %."""
    blend = patches([_arc(40.0, -15.0, 0.0), _arc(50.0, 0.0, 15.0)])
    (seam,) = seams(blend)
    assert seam.jump.most == pytest.approx(0.2, abs=1e-5)
    assert seam.angle.most == pytest.approx(0.0, abs=1e-6)


def test_where_all_goes_on_there_is_no_seam() -> None:
    assert seams(patches([_arc(40.0, -15.0, 0.0), _arc(40.0, 0.0, 15.0)])) == []


def test_a_gap_of_two_hundredths_is_found_between_parts_and_within_one() -> None:
    one, other = _arc(50.0, -20.0, 0.0), _arc(50.0, 0.0, 20.0)

    def apart(u: np.ndarray, v: np.ndarray) -> np.ndarray:
        return other[0](u, v) + 0.02 * np.eye(3)[0]

    def check(seam) -> None:
        assert seam.gap.most == pytest.approx(0.02, abs=1e-6)
        assert seam.gap.place[0] == pytest.approx(0.01, abs=0.011)
        assert seam.length == pytest.approx(40.0)

    found = meetings([patches([one]), patches([(apart, *other[1:])])], 0.5)
    assert len(found) == 2, "told from either side"
    for number, seam in found:
        assert seam.other == 1 - number
        check(seam)
    within = meetings([patches([one, (apart, *other[1:])])], 0.5)
    assert len(within) == 2
    for _, seam in within:
        assert seam.other is None
        check(seam)


def test_a_finding_where_parts_meet_is_named_alike_in_whatever_order_they_stand() -> None:
    """So that what was accepted stays accepted when another part is hidden or added before them."""
    one, gone = _arc(50.0, -20.0, 0.0), _arc(50.0, 0.0, 20.0)
    other = (lambda u, v: gone[0](u, v) + 0.02 * np.eye(3)[0], *gone[1:])
    far = patches([(lambda u, v: one[0](u, v) + 90 * np.eye(3)[2], *one[1:])])
    there = [patches([one]), patches([other])]
    names = [
        sorted({finding.key for _, _, found in check_meetings(surfaces, Limits()) for finding in found})
        for surfaces in (there, there[::-1], [far, *there])
    ]
    assert names[0]
    assert names[0] == names[1] == names[2]


def test_out_of_reach_nothing_meets() -> None:
    one = patches([_arc(50.0, -20.0, 0.0)])
    far = patches([(lambda u, v: _arc(50.0, 0, 20)[0](u, v) + 3 * np.eye(3)[0], (0.0, 20.0), (0.0, 40.0))])
    assert meetings([one, far], 0.5) == []


def _body(cage) -> CageBody:
    return cage_body("key", cage, "origin", 3, Shelf(20_000_000))


def test_a_cage_without_creases_has_no_seam() -> None:
    """A Catmull-Clark limit goes on in its second derivatives everywhere but at odd points."""
    assert seams(_body(starts.box((30.0, 20.0, 40.0), (4, 3, 5))).probed()) == []


def test_a_sharp_crease_round_a_box_is_one_closed_seam() -> None:
    cage = starts.box((20.0, 20.0, 20.0), (2, 2, 2))
    top = [
        (int(a), int(b))
        for a, b in cage.topology.edges
        if (cage.points[[a, b], 2] > 9.9).all() and (np.abs(cage.points[[a, b], :2]) > 9.9).any(axis=1).all()
    ]
    assert len(top) == 8
    found = seams(_body(crease_edges(cage, top, SHARP)).probed())
    ring = found[0]
    assert ring.angle.most > 30
    assert len(found) == 1
    assert ring.places[:, 2] == pytest.approx(np.full(len(ring.places), 10.0), abs=1.5)


def test_odd_points_are_told_with_how_uneven_it_is_around_them() -> None:
    """A box has eight points of valence three, alike by symmetry; a ring has none."""
    found = around_odd_points(_body(starts.box((20.0, 20.0, 20.0), (2, 2, 2))).probed())
    assert len(found) == 8
    assert [seam.jump.most for seam in found] == pytest.approx([found[0].jump.most] * 8, rel=1e-6)
    assert around_odd_points(_body(starts.ring(20.0, 5.0, 16, 8)).probed()) == []
