"""The nearest place and the first hit, against closed forms and against trying every triangle."""

from __future__ import annotations

import numpy as np
import pytest
import trimesh

from hollow_marble.core.surface.nearest import Nearest
from tests.core.surfaces import sphere


def _knobbly() -> tuple[np.ndarray, np.ndarray]:
    mesh = trimesh.creation.icosphere(subdivisions=3, radius=10.0)
    points = np.asarray(mesh.vertices) * (1 + 0.1 * np.random.default_rng(3).normal(size=(len(mesh.vertices), 1)))
    return points, np.asarray(mesh.faces)


def test_the_nearest_place_is_what_trying_all_triangles_finds() -> None:
    """trimesh's routine for one point and one triangle is the witness."""
    points, triangles = _knobbly()
    places = np.random.default_rng(4).uniform(-16, 16, (60, 3))
    found = Nearest(points, triangles).closest(places)
    corners = points[triangles]
    for place, distance, where, shares, triangle in zip(
        places, found.distance, found.place, found.shares, found.triangle
    ):
        each = trimesh.triangles.closest_point(corners, np.repeat(place[None], len(corners), axis=0))
        assert distance == pytest.approx(np.linalg.norm(each - place, axis=1).min(), abs=1e-9)
        assert np.linalg.norm(where - place) == pytest.approx(distance, abs=1e-9)
        assert shares @ corners[triangle] == pytest.approx(where)


@pytest.mark.parametrize("turn", [0, 1, 2])
def test_triangles_without_area_are_near_as_the_line_or_the_point_they_are(turn: int) -> None:
    """Such come with files, and when places are rounded to floats."""
    points = np.array([[0.0, 0, 0], [0, 0, 0], [4, 0, 0], [2, 0, 0], [9, 9, 9]])
    for corners in ([0, 1, 2], [0, 3, 2], [2, 2, 2]):
        found = Nearest(points, np.roll(np.array([corners]), turn, axis=1)).closest(
            np.array([[3.0, 2, 0], [9.0, 0, 0]])
        )
        expected = [2.0, 5.0] if corners != [2, 2, 2] else [np.sqrt(5), 5.0]
        assert found.distance == pytest.approx(expected)


def test_beyond_reach_nothing_is_near() -> None:
    points, triangles = _knobbly()
    found = Nearest(points, triangles).closest(np.array([[100.0, 0.0, 0.0], [12.0, 0.0, 0.0]]), reach=6.0)
    assert (found.triangle[0], found.distance[0]) == (-1, np.inf)
    assert found.triangle[1] >= 0


def test_rays_meet_what_trying_all_triangles_finds() -> None:
    """Each triangle's plane solved for the ray, with NumPy, is the witness."""
    points, triangles = _knobbly()
    lots = np.random.default_rng(5)
    starts = lots.uniform(-14, 14, (200, 3))
    ways = lots.normal(size=(200, 3))
    ways[:6] = np.concatenate([np.eye(3), -np.eye(3)])  # beside the boxes' sides
    ways /= np.linalg.norm(ways, axis=1, keepdims=True)
    found = Nearest(points, triangles).met(starts, ways)
    corners = points[triangles]
    sides = np.stack([corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]], axis=2)
    for start, way, distance in zip(starts, ways, found.distance):
        system = np.concatenate([sides, np.broadcast_to(-way[:, None], (len(sides), 3, 1))], axis=2)
        u, v, on = np.linalg.solve(system, (start - corners[:, 0])[..., None])[..., 0].T
        hit = (u >= 0) & (v >= 0) & (u + v <= 1) & (on > 0)
        assert distance == pytest.approx(on[hit].min() if hit.any() else np.inf, abs=1e-7)


def test_from_the_middle_of_a_sphere_all_is_one_radius_away() -> None:
    ball = sphere(8.0)
    ways = np.random.default_rng(6).normal(size=(50, 3))
    ways /= np.linalg.norm(ways, axis=1, keepdims=True)
    found = ball.nearest.met(np.zeros((50, 3)), ways)
    assert found.distance == pytest.approx(8.0, rel=2e-3), "of facets 4 degrees wide"
