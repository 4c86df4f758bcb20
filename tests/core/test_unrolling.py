"""A label unrolled on surfaces whose unrolling is known: cylinder, cone, sphere."""

from __future__ import annotations

import numpy as np
import pytest

from hollow_marble.core.studio.mapping import Way, laid
from hollow_marble.core.surface.unrolling import unrolled

UP = np.array([0.0, 0.0, 1.0])


def net(place, normal, u: np.ndarray, v: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Points, normals and triangles over a net of two parameters."""
    a, b = (x.reshape(-1) for x in np.meshgrid(u, v))
    wide = len(u)
    k = (np.arange(len(v) - 1)[:, None] * wide + np.arange(wide - 1)).reshape(-1)
    triangles = np.concatenate([np.stack([k, k + 1, k + wide + 1], 1), np.stack([k, k + wide + 1, k + wide], 1)])
    return place(a, b), normal(a, b), triangles


def test_on_a_cylinder_arcs_and_heights_are_kept() -> None:
    """It can be unrolled: across is R times the angle, up is the height (formula)."""
    radius = 30.0
    points, normals, triangles = net(
        lambda t, z: np.stack([radius * np.sin(t), -radius * np.cos(t), z], axis=1),
        lambda t, z: np.stack([np.sin(t), -np.cos(t), 0 * t], axis=1),
        np.linspace(-2, 2, 120),
        np.linspace(-40, 40, 80),
    )
    found = unrolled(points, normals, triangles, np.array([0, -radius, 3.0]), UP, (20, 10))
    true = np.stack([radius * np.arctan2(found.points[:, 0], -found.points[:, 1]), found.points[:, 2] - 3], axis=1)
    assert np.abs(found.flat - true).max() < 0.003
    assert found.flat.max(axis=0) == pytest.approx([20.7, 10.7], abs=1.0), "as large as the label and a triangle more"


def test_on_a_cone_lengths_along_its_lines_are_kept() -> None:
    slope = 0.5
    points, normals, triangles = net(
        lambda t, z: np.stack([(40 - slope * z) * np.sin(t), -(40 - slope * z) * np.cos(t), z], axis=1),
        lambda t, z: np.stack([np.sin(t), -np.cos(t), slope + 0 * t], axis=1) / np.hypot(1, slope),
        np.linspace(-1.5, 1.5, 160),
        np.linspace(-30, 30, 90),
    )
    found = unrolled(points, normals, triangles, np.array([0, -40.0, 0.0]), UP, (12, 12))
    line = np.abs(found.points[:, 0]) < 0.4
    assert found.flat[line, 1] == pytest.approx(found.points[line, 2] * np.hypot(1, slope), abs=0.03)
    # an unrolled cone is a fan: the distance from its tip stays what it was
    tip = np.array([0.0, 80 * np.hypot(1, slope)])
    assert np.linalg.norm(found.flat - tip, axis=1) == pytest.approx(
        (80 - found.points[:, 2]) * np.hypot(1, slope), abs=0.03
    )


def test_on_a_sphere_a_label_keeps_its_distances_from_its_middle_and_is_not_sheared() -> None:
    radius = 40.0
    points, normals, triangles = net(
        lambda t, h: radius * np.stack([np.cos(h) * np.sin(t), -np.cos(h) * np.cos(t), np.sin(h)], axis=1),
        lambda t, h: np.stack([np.cos(h) * np.sin(t), -np.cos(h) * np.cos(t), np.sin(h)], axis=1),
        np.linspace(-1.2, 1.2, 100),
        np.linspace(-1.2, 1.2, 100),
    )
    found = unrolled(points, normals, triangles, np.array([0, -radius, 0.0]), UP, (15, 8))
    arc = radius * np.arccos(np.clip(-found.points[:, 1] / radius, -1, 1))
    assert np.linalg.norm(found.flat, axis=1) == pytest.approx(arc, abs=0.12), "half a percent over 18 mm"
    turned = unrolled(points, normals, triangles, np.array([0, -radius, 0.0]), np.array([1.0, 0, 0]), (8, 15))
    assert np.allclose(
        np.sort(np.linalg.norm(turned.flat, axis=1))[:50], np.sort(np.linalg.norm(found.flat, axis=1))[:50]
    )


def test_a_box_is_unrolled_by_its_sides_and_a_cylinder_around() -> None:
    """Coordinates are mm: an edge 30 mm long is 30 mm long on the sheet; the long way round a cylinder is its circumference."""
    points = np.array([[0, 0, 0], [30, 0, 0], [30, 0, 10], [0, 0, 10.0]])
    normals = np.tile([0, -1.0, 0], (4, 1))
    sheet = laid(points, normals, np.array([[0, 1, 2], [0, 2, 3]]), Way())
    assert np.ptp(sheet.texture, axis=0) == pytest.approx([30, 10])
    turn = np.linspace(0, 2 * np.pi, 49)[:-1]
    ring = np.concatenate([np.stack([20 * np.cos(turn), 20 * np.sin(turn), z + 0 * turn], axis=1) for z in (0.0, 15.0)])
    out = np.concatenate([np.stack([np.cos(turn), np.sin(turn), 0 * turn], axis=1)] * 2)
    k, after = np.arange(48), (np.arange(48) + 1) % 48
    triangles = np.concatenate([np.stack([k, after, after + 48], 1), np.stack([k, after + 48, k + 48], 1)])
    around = laid(ring, out, triangles, Way("cylinder"))
    assert np.ptp(around.texture, axis=0) == pytest.approx([2 * np.pi * 20, 15], rel=0.01)
    corners = around.texture[around.triangles]
    assert np.ptp(corners, axis=1).max() < 20, "no triangle is torn across the seam"


def test_what_is_cut_from_a_block_has_no_seam_and_its_rings_lie_around_one_heart() -> None:
    """A log's rings are circles about its heart, and its fibres run along it (common knowledge): by the longest side where none is told."""
    rng = np.random.default_rng(5)
    points = rng.normal(size=(400, 3))
    points *= np.array([40.0, 12.0, 9.0]) / np.linalg.norm(points, axis=1, keepdims=True)
    triangles = rng.integers(0, 400, (300, 3))
    found = laid(points, points / np.linalg.norm(points, axis=1, keepdims=True), triangles, Way("block", "longest"))
    assert len(np.unique(found.point)) == len(found.point), "no point is doubled"
    places = points[found.point]
    assert found.texture[:, 0] == pytest.approx(places[:, 0])
    # two unknowns of the heart by least squares from |p - h|² = v²
    a, b = places[:, 1], places[:, 2]
    rows = np.stack([2 * a, 2 * b, np.ones(len(a))], axis=1)
    heart = np.linalg.lstsq(rows, a**2 + b**2 - found.texture[:, 1] ** 2, rcond=None)[0]
    assert np.hypot(a - heart[0], b - heart[1]) == pytest.approx(found.texture[:, 1], abs=1e-6)
