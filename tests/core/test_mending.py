"""Faults made on purpose are mended: a box torn open, turned over in part, with a hole, and told twice."""

from __future__ import annotations

import numpy as np
import pytest
import trimesh

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.surface.mending import Did, mended
from hollow_marble.core.surface.soundness import check_soundness


def _box() -> tuple[np.ndarray, np.ndarray]:
    mesh = trimesh.creation.box((10.0, 20.0, 30.0)).subdivide()
    return np.asarray(mesh.vertices, float), np.asarray(mesh.faces, np.int64)


def _volume(points: np.ndarray, triangles: np.ndarray) -> float:
    a, b, c = points[triangles].transpose(1, 0, 2)
    return float(np.einsum("ij,ij->", a, np.cross(b, c)) / 6)


def _sound(points: np.ndarray, triangles: np.ndarray) -> bool:
    found = check_soundness(points, triangles)
    return found.closed and found.manifold and found.consistent and not any(found.counts.values())


def test_a_sound_mesh_stays_as_it_is() -> None:
    points, triangles = _box()
    after, faces, did = mended(points, triangles, 0.01, 50.0)
    assert did == Did(0, 0, 0, 0)
    assert did.nothing
    assert _volume(after, faces) == pytest.approx(6000)


def test_triangles_that_share_no_point_are_joined() -> None:
    """As an STL holds them, each a little off."""
    points, triangles = _box()
    soup = points[triangles].reshape(-1, 3) + np.random.default_rng(1).uniform(-0.001, 0.001, (3 * len(triangles), 3))
    after, faces, did = mended(soup, np.arange(len(soup)).reshape(-1, 3), 0.01, 0.0)
    assert did.joined == len(soup) - len(points)
    assert _sound(after, faces)
    assert _volume(after, faces) == pytest.approx(6000, rel=1e-3)


def test_faces_turned_over_are_turned_back() -> None:
    points, triangles = _box()
    some = np.random.default_rng(2).permutation(len(triangles))[: len(triangles) // 3]
    triangles[some] = triangles[some][:, ::-1]
    after, faces, did = mended(points, triangles, 0.0, 0.0)
    assert did.turned == len(some)
    assert _sound(after, faces)
    assert _volume(after, faces) == pytest.approx(6000)


def test_a_mesh_that_is_inside_out_is_turned_over() -> None:
    points, triangles = _box()
    after, faces, did = mended(points, triangles[:, ::-1], 0.0, 0.0)
    assert did.turned == len(triangles)
    assert _volume(after, faces) == pytest.approx(6000)


def test_a_hole_is_filled_where_it_is_small_enough() -> None:
    points, triangles = _box()
    corner = int(np.argmax(points.sum(axis=1)))
    torn = triangles[~(triangles == corner).any(axis=1)]
    assert not check_soundness(points, torn).closed
    _, _, left = mended(points, torn, 0.0, 5.0)
    assert left.filled == 0, "its rim is longer"
    after, faces, did = mended(points, torn, 0.0, 100.0)
    assert did.filled == 1
    assert _sound(after, faces)
    assert 5500 < _volume(after, faces) < 6000, "a flat cap cuts the corner off"


def test_what_is_told_twice_is_dropped() -> None:
    points, triangles = _box()
    after, faces, did = mended(points, np.concatenate([triangles, triangles[:7]]), 0.0, 0.0)
    assert did.dropped == 7
    assert _sound(after, faces)


def test_where_nothing_would_be_left_it_is_said() -> None:
    with pytest.raises(HollowMarbleError, match="nothing would be left"):
        mended(*_box(), 100.0, 0.0)


def test_very_many_pieces_are_walked_over_once() -> None:
    """20,000 loose pairs of triangles, one of each pair turned over: a walk over all faces for each piece would never end."""
    count = 20_000
    square = np.array([[0, 0, 0], [1, 0, 0], [1, 1, 0], [0, 1, 0]], float)
    points = (square[None] + 3.0 * np.arange(count)[:, None, None] * [1, 0, 0]).reshape(-1, 3)
    pair = np.array([[0, 1, 2], [0, 3, 2]])
    triangles = (pair[None] + 4 * np.arange(count)[:, None, None]).reshape(-1, 3)
    after, faces, did = mended(points, triangles, 0.0, 0.0)
    assert did == Did(0, 0, count, 0)
    assert check_soundness(after, faces).consistent
