"""Fairing: what is fair stays, what is not becomes so, nothing goes further than asked."""

from __future__ import annotations

import numpy as np
import pytest

from hollow_marble.core.cage import starts
from hollow_marble.core.cage.edits import crease_edges
from hollow_marble.core.cage.fairing import faired
from hollow_marble.core.cage.mesh import SHARP, Cage
from hollow_marble.core.cage.skin import derivatives, plan_skin
from hollow_marble.core.cage.symmetry import ACROSS_WIDTH, find_mates
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.surface.curvature import averaged, bends_of
from tests.core.cages import edges_where


def _changes(cage: Cage) -> float:
    """How much largest curvature changes from a skin's point to the next, root mean square, 1/mm."""
    plan = plan_skin(cage, 3)
    bends = averaged(bends_of(derivatives(plan, cage.points)), plan.curved, plan.triangles)
    sides = plan.triangles[:, :2]
    return float(np.sqrt((np.diff(bends.largest[sides], axis=1) ** 2).mean()))


def _nudged() -> Cage:
    cage = starts.box((60.0, 40.0, 100.0), (4, 4, 6))
    return cage.moved(cage.points + np.random.default_rng(2).normal(0, 0.6, cage.points.shape))


def test_a_rough_body_becomes_fairer_the_further_its_points_may_go() -> None:
    cage = _nudged()
    every = list(range(len(cage.points)))
    rough = [_changes(faired(cage, every, within)) for within in (1e-9, 0.5, 1.0, 2.0)]
    assert rough[0] == pytest.approx(_changes(cage), rel=1e-3)
    assert rough == sorted(rough, reverse=True)
    assert rough[-1] < 0.75 * rough[0]


@pytest.mark.parametrize("within", [0.05, 0.7, 3.0])
def test_no_point_goes_further_than_asked_and_the_furthest_goes_about_so_far(within: float) -> None:
    cage = _nudged()
    went = np.linalg.norm(faired(cage, list(range(len(cage.points))), within).points - cage.points, axis=1)
    assert 0.9 * within < went.max() <= within + 1e-9


def test_what_is_not_picked_stays() -> None:
    cage = _nudged()
    picked = np.flatnonzero(cage.points[:, 2] > 10).tolist()
    result = faired(cage, picked, 1.0)
    still = np.setdiff1d(np.arange(len(cage.points)), picked)
    assert np.array_equal(result.points[still], cage.points[still])
    assert not np.allclose(result.points[picked], cage.points[picked])


def test_a_plane_of_even_rows_is_fair_already() -> None:
    """Third differences of what is even are nought (forward differences of a polynomial of second degree)."""
    cage = starts.grid((40.0, 40.0), (8, 8))
    bent = cage.points.copy()
    bent[:, 2] = 0.01 * bent[:, 0] ** 2
    assert faired(cage.moved(bent), list(range(len(bent))), 1.0).points == pytest.approx(bent, abs=1e-6)


def test_both_sides_of_a_symmetry_stay_alike() -> None:
    cage = starts.box((60.0, 40.0, 100.0), (4, 4, 6))
    mates = find_mates(cage, ACROSS_WIDTH)
    one = np.flatnonzero(cage.points[:, 0] > 0.1).tolist()
    result = faired(cage, one, 1.5, mates)
    image = mates.maps[1]
    assert result.points[image] == pytest.approx(result.points * [-1, 1, 1], abs=1e-9)
    assert not np.allclose(result.points, cage.points)


def test_across_a_crease_no_row_is_followed() -> None:
    """Points beside a sharp rim are faired with what lies on their own side of it."""
    cage = starts.box((60.0, 40.0, 100.0), (6, 6, 8))
    rim = [e for e in edges_where(cage, z=50.0) if (np.abs(cage.points[list(e), :2]) >= [29.9, 19.9]).any(axis=1).all()]
    creased = crease_edges(cage, rim, SHARP)
    lifted = creased.points.copy()
    top = np.setdiff1d(np.flatnonzero(lifted[:, 2] > 49.9), np.unique(rim))
    lifted[top, 2] += 5.0
    wall = np.flatnonzero(np.abs(creased.points[:, 2]) < 30).tolist()
    assert faired(creased.moved(lifted), wall, 1.0).points[wall] == pytest.approx(
        faired(creased, wall, 1.0).points[wall], abs=1e-9
    )


def test_what_cannot_be_faired_is_said() -> None:
    with pytest.raises(HollowMarbleError, match="Pick the points"):
        faired(_nudged(), [], 1.0)
    with pytest.raises(HollowMarbleError, match="No row runs on"):
        faired(starts.box((10.0, 10.0, 10.0), (1, 1, 1)), [0, 1], 1.0)
