"""Curvature against closed forms, soundness against meshes with known faults."""

from __future__ import annotations

import numpy as np
import pytest

from hollow_marble.core.cage import starts
from hollow_marble.core.cage.measure import measure
from hollow_marble.core.cage.mesh import Cage
from hollow_marble.core.cage.skin import derivatives, evaluate, plan_skin
from hollow_marble.core.cage.weld import weld, welded_mesh
from hollow_marble.core.surface.curvature import averaged, bends_of, estimated
from hollow_marble.core.surface.soundness import check_soundness, smallest_angles


def _parametric(place, steps: int = 40) -> np.ndarray:
    """Derivatives (N, 6, 3) of a parametric surface by high-order central differences."""
    u, v = (a.reshape(-1) for a in np.meshgrid(np.linspace(0.3, 5.5, steps), np.linspace(0.4, 2.6, steps)))
    h = 1e-3

    def first(f, k):
        e = np.eye(2)[k] * h
        return (
            -f(u + 2 * e[0], v + 2 * e[1])
            + 8 * f(u + e[0], v + e[1])
            - 8 * f(u - e[0], v - e[1])
            + f(u - 2 * e[0], v - 2 * e[1])
        ) / (12 * h)

    def second(f, k):
        e = np.eye(2)[k] * h
        total = (
            -f(u + 2 * e[0], v + 2 * e[1])
            + 16 * f(u + e[0], v + e[1])
            - 30 * f(u, v)
            + 16 * f(u - e[0], v - e[1])
            - f(u - 2 * e[0], v - 2 * e[1])
        )
        return total / (12 * h * h)

    mixed = (place(u + h, v + h) - place(u + h, v - h) - place(u - h, v + h) + place(u - h, v - h)) / (4 * h * h)
    rows = [place(u, v), first(place, 0), first(place, 1), second(place, 0), mixed, second(place, 1)]
    return np.stack(rows, axis=1)


def test_sphere_has_mean_one_over_r_and_gauss_one_over_r_squared() -> None:
    r = 12.0
    found = _parametric(lambda u, v: r * np.stack([np.cos(u) * np.sin(v), np.sin(u) * np.sin(v), np.cos(v)], axis=-1))
    found[:, 1:3] = found[:, [2, 1]]  # u towards the pole first, so that the normal points outward
    found[:, [3, 5]] = found[:, [5, 3]]
    bends = bends_of(found)
    mean, gauss = bends.mean, bends.gaussian
    assert np.allclose(mean, 1 / r, rtol=1e-5)
    assert np.allclose(gauss, 1 / r**2, rtol=1e-5)


@pytest.mark.parametrize("form", ["cylinder", "cone", "torus", "saddle"])
def test_principal_curvatures_and_their_directions(form: str) -> None:
    """Closed forms (do Carmo 1976): 1/r about a cylinder; cot of half the angle over the distance to the axis's foot for a cone; 1/r and
    cos v / (R + r cos v) for a torus; ± c / (1 + c² (u² + v²)) along the asymptotes' bisectors at a saddle's middle."""
    r, big, slope, c = 7.0, 20.0, 0.6, 0.03
    places = {
        "cylinder": lambda u, v: np.stack([r * np.cos(u), r * np.sin(u), v], axis=-1),
        "cone": lambda u, v: np.stack([slope * v * np.cos(u), slope * v * np.sin(u), -v], axis=-1)[..., [1, 0, 2]],
        "torus": lambda u, v: np.stack(
            [(big + r * np.cos(v)) * np.cos(u), (big + r * np.cos(v)) * np.sin(u), r * np.sin(v)], axis=-1
        ),
        "saddle": lambda u, v: np.stack([u, v, c * u * v], axis=-1),
    }
    found = _parametric(places[form])
    at = found[:, 0]
    bends = bends_of(found)
    assert np.einsum("ij,ij->i", bends.along[:, 0], bends.along[:, 1]) == pytest.approx(0.0, abs=1e-9)
    assert np.linalg.norm(bends.along, axis=2) == pytest.approx(1.0)
    out = np.hypot(at[:, 0], at[:, 1])
    round_ = np.stack([-at[:, 1], at[:, 0], 0 * out], axis=1) / out[:, None]
    if form == "saddle":
        w = 1 + c**2 * (at[:, 0] ** 2 + at[:, 1] ** 2)
        assert bends.high * bends.low == pytest.approx(-(c**2) / w**2, rel=1e-6)
        assert (bends.high + bends.low) / 2 == pytest.approx(c**3 * at[:, 0] * at[:, 1] / w**1.5, abs=1e-9)
        return
    if form == "torus":
        outside = (out - big) / r
        values = {"tube": 1 / r, "round": outside / out}
        high, low = np.maximum(values["tube"], values["round"]), np.minimum(values["tube"], values["round"])
        turned = bends.along[:, 1]  # the tube bends more everywhere
    elif form == "cylinder":
        high, low, turned = np.full(len(at), 1 / r), np.zeros(len(at)), bends.along[:, 0]
    else:
        high, low, turned = 1 / (out * np.sqrt(1 + slope**2)), np.zeros(len(at)), bends.along[:, 0]
    assert bends.high == pytest.approx(high, rel=1e-5)
    assert bends.low == pytest.approx(low, rel=1e-5, abs=1e-8)
    assert np.abs((turned * round_).sum(axis=1)) == pytest.approx(1.0, abs=1e-6), "it runs around the axis"


def test_cylinder_is_flat_along_its_axis() -> None:
    r = 7.0
    bends = bends_of(_parametric(lambda u, v: np.stack([r * np.cos(u), r * np.sin(u), v], axis=-1)))
    assert np.allclose(bends.mean, 1 / (2 * r), rtol=1e-6)
    assert np.allclose(bends.gaussian, 0, atol=1e-8)


def _torus_fit(around: int, section: int, big: float, small: float) -> Cage:
    """A ring cage whose limit points lie on the torus: control points pushed out by the B-spline's shrinkage."""
    shrink_a = (2 + np.cos(2 * np.pi / around)) / 3
    shrink_b = (2 + np.cos(2 * np.pi / section)) / 3
    cage = starts.ring(big, small, around, section)
    points = cage.points
    out = np.hypot(points[:, 0], points[:, 1])
    scale = (big + (out - big) / shrink_b) / out / shrink_a
    return cage.moved(points * np.stack([scale, scale, np.full(len(out), 1 / shrink_b)], axis=1))


def test_torus_curvature_converges_to_the_closed_form() -> None:
    """do Carmo 1976: K = cos v / (r (R + r cos v)), H = (R + 2 r cos v) / (2 r (R + r cos v))."""
    big, small = 30.0, 10.0
    errors = []
    for density in (1, 2):
        cage = _torus_fit(24 * density, 12 * density, big, small)
        plan = plan_skin(cage, 2)
        found = derivatives(plan, cage.points)
        values = averaged(bends_of(found), plan.curved, plan.triangles)
        assert values.exact.all(), "a torus cage has no odd points"
        cosine = (np.hypot(found[:, 0, 0], found[:, 0, 1]) - big) / small
        gauss = cosine / (small * (big + small * cosine))
        mean = (big + 2 * small * cosine) / (2 * small * (big + small * cosine))
        errors.append((np.abs(values.gaussian - gauss).max() * small**2, np.abs(values.mean - mean).max() * small))
    assert errors[1][0] < 0.02
    assert errors[1][1] < 0.01
    assert errors[1][0] < errors[0][0] / 3, "second order in the cage's spacing"


def test_torus_area_and_volume() -> None:
    """do Carmo 1976: area 4π²Rr, volume 2π²Rr²."""
    big, small = 30.0, 10.0
    cage = _torus_fit(48, 24, big, small)
    plan = plan_skin(cage, 3)
    skin = evaluate(plan, cage.points)
    size = measure(skin.positions, plan.triangles, closed=True)
    assert size.volume == pytest.approx(2 * np.pi**2 * big * small**2, rel=2e-3)
    assert size.area == pytest.approx(4 * np.pi**2 * big * small, rel=2e-3)
    assert size.width == pytest.approx(80.0, rel=1e-3)


def test_curvature_integrates_to_gauss_bonnet() -> None:
    """∫ K dA = 2πχ: 4π over a closed body of genus nought, also with odd points (averaged there)."""
    cage = starts.box((40.0, 40.0, 40.0), (4, 4, 4))
    plan = plan_skin(cage, 4)
    found = derivatives(plan, cage.points)
    values = averaged(bends_of(found), plan.curved, plan.triangles)
    assert not values.exact.all(), "eight odd points of valence three"
    corners = found[:, 0][plan.triangles]
    area = np.linalg.norm(np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]), axis=1) / 2
    total = (values.gaussian[plan.triangles].mean(axis=1) * area).sum()
    assert total == pytest.approx(4 * np.pi, rel=0.02)


def _mesh(cage: Cage) -> tuple[np.ndarray, np.ndarray]:
    plan = plan_skin(cage, 2)
    return welded_mesh(evaluate(plan, cage.points).positions, plan.triangles, weld(cage, plan))


def test_a_smooth_box_is_sound() -> None:
    found = check_soundness(*_mesh(starts.box((20.0, 20.0, 20.0), (2, 2, 2))))
    assert (found.closed, found.manifold, found.consistent) == (True, True, True)
    assert not any(found.counts.values())


def test_an_open_sheet_has_one_opening_with_its_rim() -> None:
    found = check_soundness(*_mesh(starts.grid((40.0, 40.0), (4, 4))))
    assert not found.closed
    assert found.counts["opening"] == 1
    assert found.findings[0].amount == pytest.approx(160.0, rel=0.05)


def test_two_boxes_through_one_another_cross() -> None:
    one, one_faces = _mesh(starts.box((20.0, 20.0, 20.0), (2, 2, 2)))
    two, two_faces = one + np.array([7.0, 3.0, 2.0]), one_faces + len(one)
    found = check_soundness(np.concatenate([one, two]), np.concatenate([one_faces, two_faces]))
    assert found.counts["crossing"] > 10
    for finding in found.findings:
        assert finding.place[0] > -4, "where the boxes overlap"
        assert finding.sentence.endswith(".")


def test_apart_they_do_not() -> None:
    one, faces = _mesh(starts.box((20.0, 20.0, 20.0), (2, 2, 2)))
    apart = one + np.array([25.0, 0.0, 0.0])
    found = check_soundness(np.concatenate([one, apart]), np.concatenate([faces, faces + len(one)]))
    assert found.counts["crossing"] == 0


def test_slivers_turned_faces_and_crowded_edges_are_found() -> None:
    points = np.array([[0, 0, 0], [10, 0, 0], [5, 0.01, 0], [5, -8, 0], [5, 0, 8.0]])
    assert smallest_angles(points, np.array([[0, 1, 2]]))[0] == pytest.approx(np.degrees(np.arctan(0.01 / 5)), rel=1e-6)
    found = check_soundness(points, np.array([[0, 1, 2], [0, 1, 3], [0, 1, 4]]))
    assert found.counts["sliver"] == 1
    assert found.counts["crowded edge"] == 1
    assert not found.manifold
    turned = check_soundness(points, np.array([[0, 1, 4], [0, 1, 3]]))
    assert turned.counts["turned face"] == 1
    assert not turned.consistent


def test_curvature_estimated_from_triangles_comes_near_as_they_shrink() -> None:
    """Of a torus (closed form above), from normals of the triangles alone: an estimate, better with finer triangles."""
    from tests.core.surfaces import torus

    errors = []
    for steps in ((60, 30), (120, 60)):
        probed = torus(30.0, 10.0, steps)
        points, triangles = probed.welded()
        normals = np.empty_like(points)
        normals[probed.joined] = probed.normals
        found = estimated(points, normals, triangles)
        out = np.hypot(points[:, 0], points[:, 1])
        assert not found.exact.any()
        errors.append(np.abs(found.gaussian - (out - 30) / 10 / (10 * out)).max() * 100)
    assert errors[1] < 0.05
    assert errors[1] < errors[0] / 2


def test_where_curvature_is_not_defined_it_is_the_mean_of_the_neighbours() -> None:
    cage = starts.box((20.0, 20.0, 20.0), (2, 2, 2))
    plan = plan_skin(cage, 3)
    bends = averaged(bends_of(derivatives(plan, cage.points)), plan.curved, plan.triangles)
    odd = np.flatnonzero(~bends.exact)
    assert len(odd) == 24, "each of eight corners stands in three patches"
    near = plan.triangles[(plan.triangles == odd[0]).any(axis=1)]
    ring = np.setdiff1d(np.unique(near), odd)
    assert bends.high[odd[0]] == pytest.approx(bends.high[ring].mean())
    assert not bends.along[odd].any()


def test_doubled_points_and_slits_are_told() -> None:
    """Two squares side by side, 0.02 mm apart; and the same with a rim of points a ten thousandth apart."""
    square = np.array([[0, 0, 0], [10, 0, 0], [10, 10, 0], [0, 10, 0]], float)
    faces = np.array([[0, 1, 2], [0, 2, 3]])
    slit = check_soundness(
        np.concatenate([square, square + np.array([10.02, 0, 0])]), np.concatenate([faces, faces + 4])
    )
    assert slit.counts["small gap"] == 2
    found = next(f for f in slit.findings if f.kind == "small gap")
    assert found.amount == pytest.approx(0.02)
    assert found.place[0] == pytest.approx(10.01)
    doubled = check_soundness(
        np.concatenate([square, square + np.array([10.0001, 0, 0])]), np.concatenate([faces, faces + 4])
    )
    assert (doubled.counts["doubled point"], doubled.counts["small gap"]) == (2, 0)
