"""Probes of a skin of about 130,000 triangles, each beside what a general library offers for the nearest thing, and a probe that follows a
drag."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from dataclasses import replace

import numpy as np
import trimesh
from numpy.typing import NDArray
from scipy.spatial import cKDTree

from benchmarks.cages import SMALL
from benchmarks.cages import _cage as cage_of
from benchmarks.measure import Result, median_ms
from hollow_marble.core.bodies.cage_body import CageBody, cage_body
from hollow_marble.core.cage import starts
from hollow_marble.core.cage.skin import derivatives
from hollow_marble.core.shelf import Shelf
from hollow_marble.core.surface.curvature import averaged, bends_of
from hollow_marble.core.surface.deviation import deviation
from hollow_marble.core.surface.highlight import highlight_lines, line_lights
from hollow_marble.core.surface.making import draft_angles, parting_line, wall_by_ray
from hollow_marble.core.surface.nearest import Nearest
from hollow_marble.core.surface.probed import Probed
from hollow_marble.core.surface.soundness import check_soundness

_UP = np.array([0.0, 0.0, 1.0])


def _body(name: str, grown: float = 1.0) -> CageBody:
    """A box of 248 faces at level 4: 126,976 triangles, points nudged so that nothing is special."""
    cage = starts.box((62.0, 34.0, 108.0), (6, 4, 10))
    nudged = cage.points + np.random.default_rng(1).normal(0, 0.15, cage.points.shape)
    return cage_body(name, cage.moved(nudged * grown), "bench", 4, Shelf(500_000_000))


def _beside(name: str, ours: float, most: float, peer: float, what: str) -> Result:
    return Result(name, "ms", ours, peer, what, f"≤ {most:g} ms", ours <= most)


def _once(work: Callable[[], object]) -> float:
    began = time.perf_counter()
    work()
    return (time.perf_counter() - began) * 1000


def probes() -> Iterator[Result]:
    """Curvature, highlight lines, draft, walls, deviation, soundness."""
    body = _body("a")
    probed = body.probed()
    plan, cage = body.plan(4), body.cage
    mesh = trimesh.Trimesh(*probed.welded(), process=False)
    size = f"{len(probed.triangles):,} triangles"

    def curved() -> None:
        averaged(bends_of(derivatives(plan, cage.points)), plan.curved, probed.triangles)

    def curved_by_peer() -> None:
        trimesh.curvature.discrete_gaussian_curvature_measure(  # type: ignore[no-untyped-call]
            mesh, mesh.vertices[:500], 1.0
        )

    peer = _once(curved_by_peer) / 500 * len(mesh.vertices)
    yield _beside(f"curvature of {size}", median_ms(curved, 9), 60, peer, "trimesh, 500 points, by proportion")

    _ = probed.smooth
    lights = line_lights(np.zeros(3), 110.0, np.array([0.5, -1.0, 0.5]), 0.3, 20, 10.0)
    ours = median_ms(lambda: highlight_lines(probed, lights), 9)

    def cut_by_peer() -> None:
        for offset in np.linspace(-50, 50, 20):
            mesh.section(_UP, (0, 0, offset))

    yield _beside(f"20 highlight lines over {size}", ours, 150, _once(cut_by_peer), "trimesh, 20 plane sections")

    ours = median_ms(lambda: (draft_angles(probed, _UP), parting_line(probed, _UP)), 15)
    yield _beside(
        f"draft of {size}", ours, 30, _once(lambda: mesh.section(_UP, (0, 0, 0))), "trimesh, one plane section"
    )

    few = np.arange(0, len(probed.points), 8000)
    peer = _once(lambda: _every_triangle(probed, few)) / len(few) * 130_000
    every = np.resize(np.arange(len(probed.points)), 130_000)

    def walls() -> None:
        wall_by_ray(replace(probed), every)

    yield _beside("130,000 wall rays", median_ms(walls, 3, 1), 1500, peer, f"NumPy, {len(few)} rays, by proportion")

    other = _body("b", 1.01).probed()
    ours = median_ms(lambda: deviation(probed, replace(other)), 3, 1)
    tree = _once(lambda: _to_points(probed, other))
    yield _beside(f"deviation of {size}", ours, 1500, tree, "SciPy's tree, to points only")

    points, triangles = probed.welded()
    yield _beside(
        f"soundness of {size}",
        median_ms(lambda: check_soundness(points, triangles), 3, 1),
        1000,
        _once(lambda: trimesh.Trimesh(points, triangles, process=True).is_watertight),
        "trimesh, closed or not only",
    )
    ours = median_ms(lambda: Nearest(probed.points, probed.triangles), 5)
    yield _beside(f"boxes over {size}", ours, 300, _once(lambda: cKDTree(mesh.triangles_center)), "SciPy, of points")


def _every_triangle(probed: Probed, rows: NDArray[np.int64]) -> None:
    """The first hit of rays inward by trying every triangle."""
    corners = probed.points[probed.triangles]
    sides = np.stack([corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]], axis=2)
    for row in rows:
        way = np.broadcast_to(probed.normals[row][:, None], (len(sides), 3, 1))
        try:
            np.linalg.solve(np.concatenate([sides, way], axis=2), (probed.points[row] - corners[:, 0])[..., None])
        except np.linalg.LinAlgError:
            continue


def _to_points(probed: Probed, other: Probed) -> None:
    cKDTree(other.points).query(probed.points)


def following() -> Iterator[Result]:
    """What the server needs for a probe that follows a drag at level 3: the moved patches, and curvature there."""
    cage = cage_of(SMALL)
    body = cage_body("drag", cage, "bench", 3, Shelf(200_000_000))
    body.mesh()
    for points, what in (([40], "one point"), (list(range(len(cage.points))), "all points")):

        def follow(points: list[int] = points) -> None:
            def change(cage):  # type: ignore[no-untyped-def]
                moved = cage.points.copy()
                moved[points] += 0.3
                return cage.moved(moved)

            moved, _, patches = body.preview(change)
            body.preview_bends(moved, patches)

        def anew(points: list[int] = points) -> None:
            moved = cage.points.copy()
            moved[points] += 0.3
            cage_body("anew", cage.moved(moved), "bench", 3, Shelf(200_000_000)).probed().bends  # noqa: B018

        ours = median_ms(follow, 15)
        name = f"curvature follows {what} of {cage.face_count} faces"
        yield _beside(name, ours, 60, median_ms(anew, 3, 1), "ours, worked out anew")
