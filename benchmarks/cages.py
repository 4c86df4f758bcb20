"""The skin during a drag, and after a topology edit."""

from __future__ import annotations

import tempfile
from collections.abc import Iterator
from pathlib import Path

import numpy as np

from benchmarks.measure import Result, median_ms, within
from hollow_marble.core.cage import skin, starts


def _cage():
    """A box of 514 faces, points nudged so that nothing is special."""
    cage = starts.box((62.0, 34.0, 108.0), (10, 7, 11))
    return cage.moved(cage.points + np.random.default_rng(1).normal(0, 0.4, cage.points.shape))


def evaluation() -> Iterator[Result]:
    """Positions and normals of the whole skin, and of a local drag."""
    cage = _cage()
    plan = skin.plan_skin(cage, 3)
    room = skin.empty_skin(plan)
    every = np.arange(len(plan.widths))
    whole = median_ms(lambda: skin.evaluate_patches(plan, cage.points, every, room))
    yield within(f"skin of {cage.face_count} faces, level 3", "ms", whole, 2.0)
    moved = np.zeros(len(cage.points), bool)
    moved[40] = True
    local = median_ms(lambda: skin.evaluate_patches(plan, cage.points, plan.patches_moved_by(moved), room))
    yield within("skin where one point moves", "ms", local, 1.0)

    def refine_anew() -> None:
        import trimesh

        faces = np.array([cage.face(f) for f in range(cage.face_count)])
        triangles = np.concatenate([faces[:, [0, 1, 2]], faces[:, [0, 2, 3]]])
        trimesh.remesh.subdivide_loop(cage.points, triangles, iterations=3)

    peer = median_ms(refine_anew, times=3, warm=1)
    yield Result(
        "skin against refining anew", "ms", whole, peer, "trimesh, Loop, 3 iterations", "ratio ≥ 20", peer / whole >= 20
    )


def planning() -> Iterator[Result]:
    """What a topology edit costs, with nothing known beforehand."""

    def cold() -> None:
        skin._stencils.clear()
        skin.plan_skin(starts.box((62.0, 34.0, 108.0), (10, 7, 11)), 3)

    yield within("weights after a topology edit, 514 faces", "ms", median_ms(cold, times=9), 50.0)


def server() -> Iterator[Result]:
    """From a preview request to its bytes, inside the server."""
    from hollow_marble.web.app import create_app

    with tempfile.TemporaryDirectory() as folder:
        app = create_app(Path(folder), work=False)
        http = app.test_client()
        state = http.post("/api/projects", json={"name": "Bench"}).json
        project = state["project"]["id"]
        form = next(d["id"] for d in state["documents"] if d["kind"] == "form")
        start = {"kind": "box", "size": [62, 34, 108], "divisions": [10, 7, 11]}
        edit = {"kind": "start_part", "part": "b", "name": "Body", "start": start, "symmetry": {"planes": ["W"]}}
        http.post(f"/api/projects/{project}/documents/{form}/edits", json={"edit": edit})
        url = f"/api/projects/{project}/forms/{form}/parts/b/preview"
        points = list(range(516))

        def ask(which: list[int]) -> None:
            step = {
                "kind": "placed",
                "how": "move",
                "points": which,
                "values": [0, 0.5, 1],
                "symmetry": {"planes": ["W"]},
            }
            assert http.post(url, json={"step": step}).status_code == 200

        yield within("server, a drag of the whole cage", "ms", median_ms(lambda: ask(points)), 8.0)
        yield within("server, a drag of one point", "ms", median_ms(lambda: ask([40])), 8.0)
        app.extensions["hollow_marble"].library.close()
