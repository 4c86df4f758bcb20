"""The skin against an independent library, B-splines and the published limit rules."""

from __future__ import annotations

import itertools
from pathlib import Path

import numpy as np
import pytest
from scipy.interpolate import BSpline
from scipy.spatial import cKDTree

from hollow_marble.core.cage import starts
from hollow_marble.core.cage.mesh import SHARP, Cage, cage_from_faces, faces_of
from hollow_marble.core.cage.skin import derivatives, evaluate, evaluate_patches, plan_skin
from hollow_marble.core.cage.weld import weld, welded_mesh

DATA = Path(__file__).parents[1] / "data" / "subdivision"
FILES = sorted(DATA.glob("*.npz"))


def _reference(path: Path) -> tuple[Cage, np.ndarray, np.ndarray, int]:
    data = np.load(path)
    ends = np.concatenate([[0], np.cumsum(data["face_sizes"])])
    faces = [data["face_vertices"][a:b].tolist() for a, b in itertools.pairwise(ends)]
    creases = {(int(a), int(b)): float(s) for (a, b), s in zip(data["crease_edges"], data["crease_sharpness"])}
    return cage_from_faces(data["vertices"], faces, creases), data["limit"], data["limit_normals"], int(data["level"])


@pytest.mark.parametrize("level", [1, 2, 3])
def test_a_straight_corner_of_a_single_face_has_the_normal_of_what_is_around_it(level: int) -> None:
    """Its two borders lie in one line, so that the tangents along them are parallel; the face is flat, which gives the normal."""
    points = np.array([[0, 0, 0], [10, 0, 0], [20, 0, 0], [20, 20, 0], [0, 20, 0]], float)
    turn = np.linalg.qr(np.random.default_rng(2).normal(size=(3, 3)))[0]
    turn *= np.sign(np.linalg.det(turn))
    for faces in ([[0, 1, 2, 3, 4]], [[0, 1, 2, 3]]):
        cage = cage_from_faces(points @ turn.T, faces)
        skin = evaluate(plan_skin(cage, level), cage.points)
        normals = skin.normals[:, :3] / 32767
        assert normals == pytest.approx(np.tile(turn[:, 2], (len(normals), 1)), abs=1e-4)


def test_the_reference_data_is_all_there() -> None:
    assert len(FILES) == 7


@pytest.mark.parametrize("path", FILES, ids=lambda path: path.stem)
def test_limit_positions_and_normals_agree_with_opensubdiv(path: Path) -> None:
    """OpenSubdiv 3.5, Far::TopologyRefiner, boundary rule "edge and corner", level 3."""
    cage, limit, normals, level = _reference(path)
    plan = plan_skin(cage, level)
    found = derivatives(plan, cage.points)
    tolerance = 1e-7 if "semi_sharp" in path.stem else 1e-12  # float32 sharpness in the reference
    tree = cKDTree(found[:, 0])
    assert tree.query(limit)[0].max() <= tolerance
    assert cKDTree(limit).query(found[:, 0])[0].max() <= tolerance

    own = np.cross(found[:, 1], found[:, 2])
    own /= np.linalg.norm(own, axis=1)[:, None]
    worst = 0.0
    for place, normal in zip(limit, normals):
        # along a sharp edge there are two normals; the reference names one of them
        same = tree.query_ball_point(place, 1e-6)
        worst = max(worst, min(np.linalg.norm(own[k] - normal) for k in same))
    assert worst <= 1e-6


def test_regular_cage_limit_is_the_bicubic_b_spline() -> None:
    """Catmull & Clark 1978: on a regular grid the limit surface is the uniform bicubic B-spline (SciPy's BSpline)."""
    rng = np.random.default_rng(4)
    cage = starts.grid((50.0, 50.0), (7, 7))
    cage = cage.moved(cage.points + rng.normal(0, 3, cage.points.shape))
    grid = cage.points.reshape(8, 8, 3)
    plan = plan_skin(cage, 3)
    found = derivatives(plan, cage.points)
    knots = np.arange(-3, 9, dtype=float)  # control point i sits at parameter i - 1 of the inner grid
    middle = 3 * 7 + 3  # the face in column 3, row 3
    patch = slice(plan.point_starts[middle], plan.point_starts[middle + 1])
    t = np.arange(9) / 8 + 2.0
    for order_v, order_u, row in ((0, 0, 0), (0, 1, 1), (1, 0, 2), (0, 2, 3), (1, 1, 4), (2, 0, 5)):
        along = (
            BSpline(knots, grid.transpose(1, 0, 2), 3).derivative(order_u)
            if order_u
            else BSpline(knots, grid.transpose(1, 0, 2), 3)
        )
        across = np.array([BSpline(knots, c, 3).derivative(order_v)(t) if order_v else BSpline(knots, c, 3)(t)
                           for c in along(t)])  # fmt: skip
        expected = across.transpose(1, 0, 2) / 8.0 ** (order_u + order_v)
        assert np.abs(found[patch, row].reshape(9, 9, 3) - expected).max() < 1e-12


@pytest.mark.parametrize("valence", range(3, 13))
def test_limit_weights_at_every_valence(valence: int) -> None:
    """Halstead, Kass & DeRose 1993: n² v + 4 Σe + Σf over n (n + 5), for a fan of quads around a point."""
    rng = np.random.default_rng(valence)
    points = rng.normal(0, 10, (1 + 2 * valence, 3))
    spoke = [1 + 2 * i for i in range(valence)]
    faces = [[0, spoke[i], spoke[i] + 1, spoke[(i + 1) % valence]] for i in range(valence)]
    cage = cage_from_faces(points, faces)
    plan = plan_skin(cage, 1)
    at_centre = [plan.point_starts[p] for p in range(valence)]
    expected = valence**2 * points[0] + 4 * points[1::2].sum(axis=0) + points[2::2].sum(axis=0)
    expected /= valence * (valence + 5)
    for row in at_centre:
        assert np.allclose(derivatives(plan, points)[row, 0], expected, atol=1e-12)


def test_open_edge_is_the_cubic_b_spline_of_its_points() -> None:
    """DeRose, Kass & Truong 1998: a fully sharp boundary is the uniform cubic B-spline curve of its points."""
    cage = starts.grid((60.0, 40.0), (6, 4))
    cage = cage.moved(cage.points + np.random.default_rng(1).normal(0, 2, cage.points.shape))
    plan = plan_skin(cage, 3)
    skin = derivatives(plan, cage.points)[:, 0]
    rim = cage.points[:7]  # the row y = -20
    curve = BSpline(np.arange(-3, 8, dtype=float), rim, 3)
    patch = 2
    edge = skin[plan.point_starts[patch] : plan.point_starts[patch] + 9]
    assert np.abs(edge - curve(np.arange(9) / 8 + 1)).max() < 1e-12


def test_fully_sharp_edges_meet_at_a_corner_that_stays() -> None:
    """Three sharp edges at a point hold it where it is (DeRose, Kass & Truong 1998, corner rule)."""
    cage = starts.box((10.0, 20.0, 30.0), (1, 1, 1))
    sharp = cage_from_faces(cage.points, faces_of(cage), {tuple(e): SHARP for e in cage.topology.edges.tolist()})
    skin = evaluate(plan_skin(sharp, 3), sharp.points)
    assert np.allclose(skin.positions.min(axis=0), [-5, -10, -15], atol=1e-6)
    assert np.allclose(skin.positions.max(axis=0), [5, 10, 15], atol=1e-6)


@pytest.mark.parametrize("path", FILES, ids=lambda path: path.stem)
def test_welded_skin_is_a_sheet_with_the_cages_genus(path: Path) -> None:
    """Euler-Poincaré: refining keeps V - E + F."""
    cage, *_ = _reference(path)
    plan = plan_skin(cage, 2)
    numbers = weld(cage, plan)
    skin = evaluate(plan, cage.points)
    points, triangles = welded_mesh(skin.positions, plan.triangles, numbers)
    assert np.abs(points[numbers] - skin.positions).max() < 1e-5, "patches meet where they are welded"
    edges = np.unique(np.sort(triangles[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2), axis=1), axis=0)
    own = len(cage.points) - len(cage.topology.edges) + cage.face_count
    assert len(points) - len(edges) + len(triangles) == own


def test_only_touched_patches_change_in_a_local_drag() -> None:
    cage = starts.box((40.0, 40.0, 40.0), (4, 4, 4))
    plan = plan_skin(cage, 3)
    before = evaluate(plan, cage.points)
    moved = np.zeros(len(cage.points), bool)
    moved[7] = True
    points = cage.points.copy()
    points[7] += (1.0, 2.0, -1.0)
    patches = plan.patches_moved_by(moved)
    assert 0 < len(patches) < cage.face_count / 2
    local = evaluate(plan, cage.points)
    evaluate_patches(plan, points, patches, local)
    whole = evaluate(plan, points)
    assert np.array_equal(local.positions, whole.positions)
    assert np.array_equal(local.normals, whole.normals)
    assert not np.array_equal(before.positions, whole.positions)
