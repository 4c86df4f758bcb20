"""What a cage starts from, and how large its skin is."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from hollow_marble.core.cage import profiles, sizing, starts
from hollow_marble.core.cage.extrusions import extrude_faces
from hollow_marble.core.cage.measure import measure
from hollow_marble.core.cage.mesh import Cage
from hollow_marble.core.cage.skin import evaluate, plan_skin
from hollow_marble.core.cage.weld import weld, welded_mesh
from hollow_marble.core.errors import HollowMarbleError

SIZES = st.tuples(st.floats(5, 200), st.floats(5, 200), st.floats(5, 200))
DIVISIONS = st.tuples(st.integers(2, 5), st.integers(2, 5), st.integers(2, 5))


def mesh_of(cage: Cage, level: int = 3) -> tuple[np.ndarray, np.ndarray]:
    plan = plan_skin(cage, level)
    return welded_mesh(evaluate(plan, cage.points).positions, plan.triangles, weld(cage, plan))


@settings(max_examples=25, deadline=None)
@given(SIZES, DIVISIONS)
def test_a_boxs_skin_has_the_size_that_was_asked_for(size: tuple, divisions: tuple) -> None:
    """From two divisions on, the points in the middle of a side have all neighbours in its plane and stay there."""
    cage = starts.box(size, divisions)
    points, triangles = mesh_of(cage, 2)
    found = measure(points, triangles, True)
    assert (found.width, found.depth, found.height) == pytest.approx(size, rel=1e-5)
    a, b, c = divisions
    assert cage.face_count == 2 * (a * b + b * c + c * a)
    assert 0.3 * np.prod(size) < found.volume < np.prod(size)


def opening(points: np.ndarray, triangles: np.ndarray) -> np.ndarray:
    """Width and depth of the hole through a mesh at half its height: where its edges cross a plane there."""
    edges = np.concatenate([triangles[:, [0, 1]], triangles[:, [1, 2]]])
    one, other = points[edges[:, 0]].astype(float), points[edges[:, 1]].astype(float)
    height = 1e-7
    cross = (one[:, 2] - height) * (other[:, 2] - height) < 0
    share = (height - one[cross, 2]) / (other[cross, 2] - one[cross, 2])
    level = (one[cross] + share[:, None] * (other[cross] - one[cross]))[:, :2]
    out = np.linalg.norm(level / np.ptp(level, axis=0), axis=1)
    return np.ptp(level[out < (out.min() + out.max()) / 2], axis=0)


@settings(max_examples=20, deadline=None)
@given(SIZES, st.integers(1, 5), st.integers(3, 30), st.integers(1, 4))
def test_the_skin_of_every_start_has_the_size_that_was_typed(
    size: tuple, divisions: int, sides: int, rows: int
) -> None:
    """Whatever the divisions, to 1e-6 of the size, on the mesh that is measured (definition of the sizes)."""
    for cage, wished in (
        (sizing.box(size, (divisions, rows, 1)), size),
        (sizing.sphere(size, divisions), size),
        (sizing.cylinder(size, sides, rows), size),
        (sizing.disc(size[:2], sides, rows), (*size[:2], 0)),
    ):
        assert np.ptp(mesh_of(cage)[0], axis=0) == pytest.approx(np.array(wished, float), abs=1e-6 * max(size))


@pytest.mark.parametrize(("sides", "rows"), [(16, 1), (18, 2), (24, 3), (7, 1)])
def test_the_wall_of_a_tube_is_as_thick_as_typed(sides: int, rows: int) -> None:
    points, triangles = mesh_of(sizing.tube((50.0, 40.0, 80.0), 4.0, sides, rows))
    assert np.ptp(points, axis=0) == pytest.approx([50, 40, 80], rel=1e-6)
    assert opening(points, triangles) == pytest.approx([42, 32], abs=1e-4)


@pytest.mark.parametrize(("around", "section"), [(16, 8), (18, 6), (5, 5), (64, 16)])
def test_a_ring_has_the_radii_that_were_typed(around: int, section: int) -> None:
    points, triangles = mesh_of(sizing.ring(20.0, 5.0, around, section))
    assert np.ptp(points, axis=0) == pytest.approx([50, 50, 10], rel=1e-6)
    assert opening(points, triangles)[0] == pytest.approx(30, abs=1e-4)


def test_a_turned_ball_is_as_tall_as_its_profile() -> None:
    """The skin passes through the ends of the profile on the axis, where the faces meet in a point."""
    angle = np.linspace(0, np.pi, 60)
    profile = np.column_stack([30 * np.sin(angle), -30 * np.cos(angle)])
    for rows in (4, 9):
        points, _ = mesh_of(profiles.turned(profile, 24, rows, fit=True))
        assert np.ptp(points[:, 2]) == pytest.approx(60, rel=1e-6)
        assert np.ptp(mesh_of(profiles.turned(profile, 24, rows))[0][:, 2]) < 59.7, "as parts of before stay"


def test_a_box_is_its_own_mirror_image_in_all_three_directions() -> None:
    points = starts.box((62.0, 34.0, 108.0), (4, 3, 6)).points
    for axis in range(3):
        flipped = points.copy()
        flipped[:, axis] *= -1
        assert {tuple(p) for p in np.round(flipped, 9) + 0.0} == {tuple(p) for p in np.round(points, 9) + 0.0}


def test_a_ring_of_many_divisions_nears_the_torus() -> None:
    """Pappus: volume 2π²Rr²; do Carmo: area 4π²Rr. The uniform cubic B-spline of a regular polygon's n points has
    (2 + cos 2π/n)/3 of its radius (its limit mask is (1, 4, 1)/6)."""
    points, triangles = mesh_of(starts.ring(20.0, 5.0, 48, 24))
    found = measure(points, triangles, True)
    great, small = 20 * (2 + np.cos(2 * np.pi / 48)) / 3, 5 * (2 + np.cos(2 * np.pi / 24)) / 3
    assert found.volume == pytest.approx(2 * np.pi**2 * great * small**2, rel=0.005)
    assert found.area == pytest.approx(4 * np.pi**2 * great * small, rel=0.005)
    assert found.height == pytest.approx(2 * small, rel=0.005)


def test_a_grid_is_open_and_flat() -> None:
    cage = starts.grid((40.0, 30.0), (4, 3))
    assert cage.face_count == 12
    assert (cage.topology.twin < 0).sum() == 2 * (4 + 3)
    points, triangles = mesh_of(cage)
    assert np.abs(points[:, 2]).max() < 1e-9
    assert measure(points, triangles, False).volume == 0
    assert measure(points, triangles, False).area == pytest.approx(1200, rel=1e-6)


@pytest.mark.parametrize(
    "make",
    [
        lambda: starts.box((0.0, 10.0, 10.0), (1, 1, 1)),
        lambda: starts.box((10.0, 10.0, 10.0), (0, 1, 1)),
        lambda: starts.ring(20.0, 5.0, 2, 8),
    ],
)
def test_starts_without_a_body_are_refused(make: object) -> None:
    with pytest.raises(HollowMarbleError):
        make()  # type: ignore[operator]


def test_measures_of_a_tetrahedron_are_those_of_the_book() -> None:
    """Volume a·(b × c)/6 and area (3·½ + √3/2) for the corner tetrahedron of side 1."""
    points = np.array([[0, 0, 0], [1, 0, 0], [0, 1, 0], [0, 0, 1]], float)
    triangles = np.array([[0, 2, 1], [0, 1, 3], [0, 3, 2], [1, 2, 3]])
    found = measure(points, triangles, True)
    assert found.volume == pytest.approx(1 / 6)
    assert found.area == pytest.approx(1.5 + np.sqrt(3) / 2)
    assert measure(points + 40, triangles, True).volume == pytest.approx(1 / 6), "wherever it stands"


@settings(max_examples=25, deadline=None)
@given(
    st.lists(st.tuples(st.integers(0, 200), st.floats(-6, 12).filter(lambda d: abs(d) > 0.1)), min_size=1, max_size=6)
)
def test_every_extrusion_keeps_eulers_number_and_all_its_quads(work: list[tuple[int, float]]) -> None:
    cage = starts.box((30.0, 20.0, 40.0), (2, 2, 3))
    for face, distance in work:
        before = cage
        cage = extrude_faces(cage, [face % cage.face_count], distance)
        assert cage.face_count == before.face_count + 4
        assert len(cage.points) - len(cage.topology.edges) + cage.face_count == 2
        assert set(np.diff(cage.face_starts).tolist()) == {4}
        assert (cage.topology.twin >= 0).all()
        assert np.array_equal(
            cage.points[: len(before.points)][_kept(before, cage)], before.points[_kept(before, cage)]
        )


def _kept(before: Cage, after: Cage) -> np.ndarray:
    """Old points that stayed in their place."""
    return np.flatnonzero((after.points[: len(before.points)] == before.points).all(axis=1))
