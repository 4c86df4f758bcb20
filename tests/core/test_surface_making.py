"""Draft, walls, weight, standing and deviation against closed forms; faults made on purpose, found where they are."""

from __future__ import annotations

import numpy as np
import pytest

from hollow_marble.core.cage import starts
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.surface.deviation import deviation, from_outline, silhouette
from hollow_marble.core.surface.making import bulk, draft, standing, thin_regions, wall_by_ray, wall_by_sphere
from hollow_marble.core.surface.probed import Probed, probed_mesh
from tests.core.surfaces import cone, patches, sphere, torus

X, Y, Z = np.eye(3)


def _mesh(mesh: object) -> Probed:
    return probed_mesh(np.asarray(mesh.vertices, float), np.asarray(mesh.faces, np.int64), True)


def test_a_cone_has_the_draft_of_its_half_angle() -> None:
    """A cone that narrows by 1 mm in 20 mm leans by arctan(1/20) from its axis everywhere."""
    found = draft(cone(0.05, 100.0, 140.0), Z, 1.0)
    lean = np.degrees(np.arctan(0.05))
    assert np.abs(found.angle) == pytest.approx(lean, rel=1e-6)
    assert found.least == pytest.approx(lean, rel=1e-6)
    assert not found.steep
    steeper = draft(cone(0.05, 100.0, 140.0), Z, 3.0)
    assert [region.worst for region in steeper.steep] == pytest.approx([lean], rel=1e-4)
    whole = np.pi * (5 + 7) * np.hypot(2, 40)  # mantle of a frustum
    assert steeper.steep[0].area == pytest.approx(whole, rel=2e-3)


def test_a_sphere_parts_at_its_equator_and_is_not_steep_there() -> None:
    ball = sphere(10.0)
    found = draft(ball, Z, 1.0)
    at = found.parting.bent(ball.points, ball.normals)
    assert (found.parting.closed.tolist(), len(found.parting.level)) == ([True], 1)
    assert at[:, 2] == pytest.approx(0.0, abs=1e-6)
    assert not found.steep, "it passes through nought, as every round form must"
    assert not found.undercuts


def test_a_torus_pulled_across_its_axis_is_undercut_within() -> None:
    """Pulled along x, the inner side that looks at the hole and meets the other half of the tube does not let go."""
    ring = torus(20.0, 6.0)
    found = draft(ring, X, 1.0)
    assert found.undercut.any()
    middle = ring.points[ring.triangles[found.undercut]].mean(axis=1)
    assert np.hypot(middle[:, 0], middle[:, 1]).max() < 20.3, "only what looks at the hole"
    assert not draft(ring, Z, 1.0).undercuts, "along its axis all of it lets go"


def test_an_undercut_made_on_purpose_is_found_with_its_area() -> None:
    """A groove round a post, 4 mm high and 2 mm deep: its upper flank looks down at its lower one. Pulled up, what looks down within the
    groove meets the flank below it (area of the ring between both radii), and so does what looks up in it the other way."""
    import trimesh

    outline = np.array([[0, 0], [10, 0], [10, 8], [8, 8], [8, 12], [10, 12], [10, 20], [0, 20]], float)
    post = _mesh(trimesh.creation.revolve(outline, sections=256))
    found = draft(post, Z, 0.0)
    ring = np.pi * (100 - 64)
    assert [region.area for region in found.undercuts] == pytest.approx([ring, ring], rel=2e-3)
    assert sorted(region.place[2] for region in found.undercuts) == pytest.approx([8.0, 12.0])


def test_a_pull_without_length_is_refused() -> None:
    with pytest.raises(HollowMarbleError, match="no direction"):
        draft(sphere(5.0, (12, 6)), np.zeros(3), 1.0)


def _shell(outer: float, inner: float) -> Probed:
    one, other = sphere(outer, (96, 48)), sphere(inner, (96, 48))
    return Probed(
        np.concatenate([one.points, other.points]),
        np.concatenate([one.normals, -other.normals]),
        np.concatenate([one.triangles, other.triangles[:, ::-1] + len(one.points)]),
        np.concatenate([one.faces, other.faces + 1]),
        np.array([1, 2], np.uint64),
        np.concatenate([one.rims, other.rims + len(one.points)]),
        np.concatenate([one.joined, other.joined + int(one.joined.max()) + 1]),
        None,
        np.zeros(2 * len(one.points), bool),
        outer * (1 - np.cos(np.pi / 96)),
        True,
    )


def test_walls_of_concentric_shells() -> None:
    """By ray and by sphere it is the difference of the radii; both as near as facets of 3.75 degrees are to their sphere."""
    shell = _shell(20.0, 17.5)
    assert wall_by_ray(shell) == pytest.approx(2.5, abs=0.03)
    assert wall_by_sphere(shell) == pytest.approx(2.5, abs=0.03)


def test_the_sphere_within_a_wedge_is_smaller_than_the_ray() -> None:
    """In a ball both are its diameter. Across a slab that narrows to an edge the sphere touches both faces: of a half angle a and at a
    distance d from the edge along a face its diameter is 2 d tan a, the ray square to the face d tan 2a."""
    import trimesh

    ball = sphere(9.0)
    assert wall_by_sphere(ball) == pytest.approx(18.0, rel=2e-3)
    tall, half = 40.0, np.radians(10.0)
    top = tall * np.tan(half)
    points = np.array([[0, y, 0] for y in (-30, 30)] + [[tall, y, s * top] for y in (-30, 30) for s in (-1, 1)], float)
    wedge = trimesh.Trimesh(points, trimesh.convex.convex_hull(points).faces).convex_hull
    fine = wedge.subdivide().subdivide().subdivide().subdivide()
    probed = _mesh(fine)
    flank = np.flatnonzero(
        (np.abs(probed.points[:, 1]) < 12)
        & (probed.points[:, 0] > 6)
        & (probed.points[:, 0] < 20)
        & (probed.points[:, 2] > 0.5)
    )
    d = probed.points[flank, 0] / np.cos(half)
    assert len(flank) > 10
    assert wall_by_ray(probed, flank) == pytest.approx(d * np.tan(2 * half), rel=1e-3, abs=2e-3)
    assert wall_by_sphere(probed, flank) == pytest.approx(2 * d * np.tan(half), rel=1e-3, abs=2e-3)


def test_a_thin_place_is_found_where_it_is() -> None:
    """A sphere within another, off its middle by 1 mm: the wall is thinnest, by 1 mm less, on that side."""
    shell = _shell(20.0, 16.0)
    count = len(shell.points) // 2
    moved = Probed(**{**shell.__dict__, "points": np.concatenate([shell.points[:count], shell.points[count:] + X])})
    regions = thin_regions(moved, wall_by_ray(moved), 3.1)
    assert len(regions) == 2, "seen from outside and from within"
    for region in regions:
        assert region.worst == pytest.approx(3.0, abs=0.02)
        assert region.place[0] > 16 - 0.5
        assert np.hypot(*region.place[1:]) < 3.0


def test_volume_and_centre_of_a_torus_and_a_cone() -> None:
    """Pappus: 2π² R r². A solid cone's centre is a quarter of its height up."""
    import trimesh

    found = bulk(torus(30.0, 10.0, (240, 120)))
    assert found.volume == pytest.approx(2 * np.pi**2 * 30 * 100, rel=1e-3)
    assert found.area == pytest.approx(4 * np.pi**2 * 300, rel=1e-3)
    assert found.centre == pytest.approx((0, 0, 0), abs=1e-9)
    pointed = bulk(_mesh(trimesh.creation.cone(radius=10, height=40, sections=256)))
    assert pointed.centre[2] == pytest.approx(10.0, rel=1e-6)


def test_an_open_surface_holds_no_volume() -> None:
    with pytest.raises(HollowMarbleError, match="open"):
        bulk(cone(0.1, 10.0, 20.0))


def test_a_block_stands_until_its_centre_is_over_its_edge() -> None:
    """A block 20 × 30 × 40 with its centre in the middle: 10 mm to the nearer edge, tips at arctan(10 / 20)."""
    corners = np.array([[x, y, z] for x in (0, 20) for y in (0, 30) for z in (0, 40)], float)
    found = standing(corners, np.array([10.0, 15.0, 20.0]))
    assert found.stands
    assert found.margin == pytest.approx(10.0)
    assert found.tip == pytest.approx(np.degrees(np.arctan(0.5)))
    off = standing(corners, np.array([23.0, 15.0, 20.0]))
    assert not off.stands
    assert off.margin == pytest.approx(-3.0)


def test_on_a_point_nothing_stands() -> None:
    assert not standing(sphere(5.0).points, np.zeros(3), 1e-6).stands


def test_deviation_of_two_spheres_is_the_difference_of_their_radii() -> None:
    big, small = sphere(10.3), sphere(10.0)
    found = deviation(big, small)
    assert found.away == pytest.approx(0.3, abs=0.011), "facets of 3.75 degrees are 0.005 mm within their sphere"
    assert found.mean == pytest.approx(0.3, abs=0.011)
    assert deviation(small, big).mean == pytest.approx(-0.3, abs=0.011), "it lies within"
    counts, bounds = found.histogram()
    assert counts.sum() == len(found.away)
    assert bounds[0] == -bounds[-1]


def test_deviation_tells_where_it_is_greatest() -> None:
    plain = sphere(10.0)
    bump = 0.4 * np.exp(-(((plain.points - [0, 0, 10]) ** 2).sum(axis=1)) / 8)
    raised = Probed(**{**plain.__dict__, "points": plain.points + bump[:, None] * plain.normals})
    found = deviation(raised, plain)
    assert found.most == pytest.approx(0.4, abs=0.01)
    assert found.place == pytest.approx((0, 0, 10.4), abs=0.05)


def test_an_outline_is_measured_against_the_silhouette() -> None:
    """Seen along y a torus about z is a stadium of half height r and half width R + r; from a place, a sphere's outline is a cone's."""
    ring = torus(20.0, 6.0)
    pieces = silhouette(ring, None, Y)[:, :, [0, 2]]
    straight = np.column_stack([np.linspace(-15, 15, 40), np.full(40, 6.25)])
    distance, place, _ = from_outline(straight, pieces)
    assert distance == pytest.approx(0.25, abs=1e-3)
    assert place[:, 1] == pytest.approx(6.0, abs=1e-3)
    ball = sphere(10.0)
    seen = silhouette(ball, np.array([0.0, -50.0, 0.0]), Y).reshape(-1, 3)
    assert seen[:, 1] == pytest.approx(-2.0, abs=5e-3), "r² / distance before its middle"


def test_a_box_of_a_cage_is_closed_and_of_one_kind() -> None:
    """A cage's skin, an imported mesh and patches answer the same questions."""
    from hollow_marble.core.bodies.cage_body import cage_body
    from hollow_marble.core.shelf import Shelf

    body = cage_body("k", starts.box((20.0, 20.0, 20.0), (2, 2, 2)), "o", 3, Shelf(10_000_000))
    skin = body.probed()
    plain = probed_mesh(*skin.welded(), closed=True)
    assert bulk(skin).volume == pytest.approx(bulk(plain).volume, rel=1e-12)
    assert draft(skin, Z, 1.0).least == pytest.approx(draft(plain, Z, 1.0).least, abs=0.1)
    sheet = patches([(lambda u, v: np.stack([u, v, 0 * u], axis=-1), (0, 5), (0, 5))], (4, 4))
    assert not sheet.closed
