"""A cage's limit surface as exact B-spline faces, and as a solid."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.spatial import cKDTree

from hollow_marble.core.cage import extrusions, starts
from hollow_marble.core.cage.mesh import SHARP, Cage, with_creases
from hollow_marble.core.cage.refining import refined
from hollow_marble.core.cage.skin import derivatives, plan_skin
from hollow_marble.core.solids.patches import Patches, fidelity_of, patches_of
from hollow_marble.core.solids.solid import Solid, here


def shaken(cage: Cage, by: float = 0.6) -> Cage:
    return cage.moved(cage.points + np.random.default_rng(3).normal(0, by, cage.points.shape))


def box(*divisions: int) -> Cage:
    return starts.box((60, 30, 90), divisions)  # type: ignore[arg-type]


def creased(sharpness: float) -> Cage:
    cage = box(4, 4, 6)
    p = cage.points
    top = [
        (a, b)
        for a, b in cage.topology.edges.tolist()
        if min(p[a, 2], p[b, 2]) > 44 and (min(abs(p[a, 0]), abs(p[b, 0])) > 29 or min(abs(p[a, 1]), abs(p[b, 1])) > 14)
    ]
    assert len(top) == 16
    return with_creases(cage, dict.fromkeys(top, sharpness))


def solid_of(found: Patches) -> Solid:
    solid: Solid = here("sculpted", found, tuple(f"face-{k}" for k in range(len(found.surfaces))))
    return solid


CAGES = {
    "regular and four odd corners at a time": box(4, 4, 6),
    "every face with an odd corner": box(2, 2, 2),
    "several odd corners a face": box(1, 1, 1),
    "open": starts.grid((60, 60), (4, 4)),
    "all round both ways": starts.ring(20, 5, 16, 8),
    "faces of many corners": starts.cylinder((50, 50, 80), 16, 3),
    "sharp rim": creased(SHARP),
    "soft rim": creased(2.0),
    "drawn out": extrusions.extrude_faces(box(5, 5, 7), [40, 41], 12.0, None, "normal", None, 2),
}


@pytest.mark.parametrize("cage", CAGES.values(), ids=CAGES)
def test_faces_are_the_limit_surface(cage: Cage) -> None:
    """Against the limit masks of the skin, in the same parameters: nought but rounding; and watertight, valid, of the right volume."""
    cage = shaken(cage)
    found, fidelity = patches_of(cage), fidelity_of(cage)
    assert fidelity.off < 1e-12 * float(np.linalg.norm(np.ptp(cage.points, axis=0)))
    assert fidelity.jumps.get(3, 0.0) < 0.1, "degrees between neighbours' normals where three faces meet"
    assert fidelity.jumps.get(4, 0.0) < 1e-4
    assert fidelity.jumps.get(5, 0.0) < 0.25
    assert {face for faces in found.cage_faces for face in faces} == set(range(cage.face_count))
    solid = solid_of(found)
    assert solid.closed == bool((cage.topology.twin >= 0).all())
    if solid.closed:
        exact, plan = limit(cage, 5)
        a, b, c = (exact[plan.triangles[:, k]] for k in range(3))
        assert solid.volume == pytest.approx(float(np.einsum("ij,ij->", a, np.cross(b, c))) / 6, rel=2e-3)
        assert here("measures", solid)[0] == pytest.approx(solid.volume, rel=1e-6), "as the kernel integrates it"


def limit(cage: Cage, level: int) -> tuple[np.ndarray, object]:
    plan = plan_skin(cage, level)
    return derivatives(plan, cage.points)[:, 0], plan


def test_large_regular_regions_are_few_surfaces() -> None:
    cage = box(9, 9, 9)
    found = patches_of(cage)
    assert cage.face_count == 486
    assert len(found.surfaces) <= 60
    assert sum(surface.poles.size for surface in found.surfaces) < 20_000


def test_the_surface_lies_on_the_mesh_that_is_shown() -> None:
    """1,000 points of the kernel's own mesh against a fine skin."""
    cage = shaken(box(4, 4, 6))
    found = here("mesh", solid_of(patches_of(cage)), 0.05)
    exact, _ = limit(cage, 6)
    away, _ = cKDTree(exact).query(found.points[:: max(1, len(found.points) // 1000)])
    assert away.max() < 0.35, "half a cell of the fine skin at most"
    assert np.median(away) < 0.2


@pytest.mark.parametrize("creases", [{}, {(0, 1): SHARP}, {(0, 1): 1.5, (1, 2): 3.0, (2, 2): 2.0}])
@pytest.mark.parametrize("start", [box(2, 2, 2), starts.grid((60, 60), (3, 3)), starts.cylinder((50, 50, 80), 7, 2)])
def test_a_refined_cage_has_the_same_limit(start: Cage, creases: dict[tuple[int, int], float]) -> None:
    """Catmull & Clark 1978; DeRose, Kass & Truong 1998: refining does not change the surface."""
    edges = {tuple(edge) for edge in start.topology.edges.tolist()}
    cage = with_creases(shaken(start), {e: s for e, s in creases.items() if e in edges or e[0] == e[1]})
    finer = refined(cage)
    one, other = limit(cage, 4)[0], limit(finer, 3)[0]
    assert cKDTree(other).query(one)[0].max() < 1e-10
    assert cKDTree(one).query(other)[0].max() < 1e-10
