"""The limit surface at any place: against the grid's own exact weights, which are checked elsewhere against an outside library."""

from __future__ import annotations

import numpy as np
import pytest

from hollow_marble.core.cage import starts
from hollow_marble.core.cage.limit import Limit
from hollow_marble.core.cage.mesh import Cage, with_creases
from hollow_marble.core.cage.skin import derivatives, plan_skin


def shaken(cage: Cage, crease: float = 0.0) -> Cage:
    """Points moved about, some edges creased."""
    moved = cage.moved(cage.points + np.random.default_rng(7).normal(0, 1, cage.points.shape))
    return with_creases(moved, {(int(a), int(b)): crease for a, b in cage.topology.edges[2:9]}) if crease else moved


@pytest.mark.parametrize("crease", [0.0, 1.3, 3.0])
@pytest.mark.parametrize(
    "cage", [starts.box((60, 30, 90), (2, 2, 3)), starts.cylinder((40, 40, 80), 7, 2), starts.grid((30, 40), (3, 4))]
)
def test_a_place_of_a_coarse_grid_is_where_a_fine_one_has_it(cage: Cage, crease: float) -> None:
    """Faces with odd corners, with other than four, open ones and creased ones: at places of level 5 told from level 3."""
    cage = shaken(cage, crease)
    limit, fine = Limit(cage, plan_skin(cage, 3)), plan_skin(cage, 5)
    exact = derivatives(fine, cage.points)
    patch = np.repeat(np.arange(len(fine.widths)), np.diff(fine.point_starts))
    inner = np.arange(fine.point_count) - fine.point_starts[patch]
    wide = fine.widths[patch]
    ratio = (wide - 1) // (limit.plan.widths[patch] - 1)
    found = limit.at(patch, np.stack([inner % wide, inner // wide], axis=1) / ratio[:, None])
    assert np.abs(found[:, 0] - exact[:, 0]).max() < 1e-9, "mm"
    told = fine.curved  # elsewhere tangents have no length of their own
    assert np.abs(found[told, 1] - exact[told, 1] * ratio[told, None]).max() < 1e-6
    assert np.abs(found[told, 2] - exact[told, 2] * ratio[told, None]).max() < 1e-6


def test_tangents_are_the_slopes_of_places() -> None:
    """Central differences (any text of numerical analysis) on an irregular patch."""
    cage = shaken(starts.box((60, 30, 90), (1, 1, 1)))
    limit = Limit(cage, plan_skin(cage, 3))
    at = np.random.default_rng(3).uniform(0.3, 7.7, (200, 2))
    patch = np.random.default_rng(4).integers(0, len(limit.plan.widths), 200)
    step = 1e-4
    found = limit.at(patch, at)
    for axis in (0, 1):
        way = np.eye(2)[axis] * step
        slope = (limit.at(patch, at + way)[:, 0] - limit.at(patch, at - way)[:, 0]) / (2 * step)
        assert found[:, 1 + axis] == pytest.approx(slope, abs=1e-5)
