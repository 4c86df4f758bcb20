"""The skin during a drag, after a topology edit, and what the server needs, for cages of 500, 2,000 and 20,000 faces."""

from __future__ import annotations

import tempfile
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np

from benchmarks.measure import Result, median_ms, within
from hollow_marble.core.cage import skin, starts
from hollow_marble.core.cage.bevels import bevel_edges
from hollow_marble.core.cage.dissolving import split_faces
from hollow_marble.core.cage.insets import inset_faces
from hollow_marble.core.cage.mesh import Cage
from hollow_marble.core.cage.symmetry import ACROSS_WIDTH, find_mates
from hollow_marble.documents.form.starts import cage_to_json

SMALL, LARGE = (10, 7, 11), (20, 14, 22)


def _cage(divisions: tuple[int, int, int] = SMALL) -> Cage:
    """A box of 514 or 2,056 faces, points nudged so that nothing is special."""
    cage = starts.box((62.0, 34.0, 108.0), divisions)
    return cage.moved(cage.points + np.random.default_rng(1).normal(0, 0.2, cage.points.shape))


def _huge() -> Cage:
    """About 20,000 faces."""
    cage = starts.box((62.0, 34.0, 108.0), (32, 22, 34))
    return split_faces(cage, list(range(cage.face_count)))


def evaluation() -> Iterator[Result]:
    """Positions and normals of the whole skin, and of a local drag."""
    for divisions, most in ((SMALL, 2.0), (LARGE, 12.0)):
        cage = _cage(divisions)
        plan = skin.plan_skin(cage, 3)
        room = skin.empty_skin(plan)
        every = np.arange(len(plan.widths))
        whole = median_ms(lambda: skin.evaluate_patches(plan, cage.points, every, room))  # noqa: B023
        yield within(f"skin of {cage.face_count} faces, level 3", "ms", whole, most)
        moved = np.zeros(len(cage.points), bool)
        moved[40] = True
        local = median_ms(lambda: skin.evaluate_patches(plan, cage.points, plan.patches_moved_by(moved), room))  # noqa: B023
        yield within(f"skin of {cage.face_count} faces where one point moves", "ms", local, 1.0)

        def refine_anew(cage: Cage = cage) -> None:
            import trimesh

            faces = np.array([cage.face(f) for f in range(cage.face_count)])
            triangles = np.concatenate([faces[:, [0, 1, 2]], faces[:, [0, 2, 3]]])
            trimesh.remesh.subdivide_loop(  # type: ignore[no-untyped-call]
                cage.points, triangles, iterations=3
            )

        peer = median_ms(refine_anew, times=3, warm=1)
        name = f"skin of {cage.face_count} faces against refining anew"
        yield Result(name, "ms", whole, peer, "trimesh, Loop, 3 iterations", "ratio ≥ 20", peer / whole >= 20)


def planning() -> Iterator[Result]:
    """What a topology edit costs: the edit under symmetry, the weights anew, the skin."""

    def cold() -> None:
        skin._stencils.clear()
        skin.plan_skin(starts.box((62.0, 34.0, 108.0), SMALL), 3)

    yield within("weights with nothing known, 514 faces", "ms", median_ms(cold, times=9), 50.0)
    for divisions, most in ((SMALL, 50.0), (LARGE, 200.0)):
        cage = starts.box((62.0, 34.0, 108.0), divisions)
        mates = find_mates(cage, ACROSS_WIDTH)
        edge = tuple(cage.topology.edges[30].tolist())

        def inset(cage: Cage = cage, mates: Any = mates) -> None:
            made = inset_faces(cage, [40], 0.5, mates=mates)
            plan = skin.plan_skin(made, 3)
            skin.evaluate(plan, made.points)

        def bevel(cage: Cage = cage, mates: Any = mates, edge: Any = edge) -> None:
            made = bevel_edges(cage, [edge], 0.4, 2, mates=mates)
            plan = skin.plan_skin(made, 3)
            skin.evaluate(plan, made.points)

        yield within(f"a face set in, {cage.face_count} faces", "ms", median_ms(inset, times=9, warm=2), most)
        yield within(f"an edge bevelled, {cage.face_count} faces", "ms", median_ms(bevel, times=9, warm=2), most)


def server() -> Iterator[Result]:
    """From a preview request to its bytes, inside the server; undo; a cage of 20,000 faces opened and edited."""
    from hollow_marble.web.app import create_app

    with tempfile.TemporaryDirectory() as folder:
        app = create_app(Path(folder), work=False)
        http = app.test_client()
        for divisions, most in ((SMALL, 8.0), (LARGE, 25.0)):
            cage = starts.box((62.0, 34.0, 108.0), divisions)
            base, form, url = _begin(http, f"Bench {divisions[0]}")
            start = {"kind": "box", "size": [62, 34, 108], "divisions": divisions}
            edit = {"kind": "start_part", "part": "b", "name": "Body", "start": start, "symmetry": {"planes": ["W"]}}
            _edit(http, base, form, edit)
            everything = list(range(len(cage.points)))
            for what, which in (("of the whole cage", everything), ("of one point", [40])):
                times = [_timed(lambda: _preview(http, url, which)) for _ in range(110)][10:]  # noqa: B023
                late = sorted(times)[95]
                yield within(f"server, a drag {what}, {cage.face_count} faces, 95 of 100", "ms", late, most)
            step = {"kind": "inset", "faces": [40], "width": 0.5, "symmetry": {"planes": ["W"]}}
            _edit(http, base, form, {"kind": "shape", "part": "b", "step": step})

            def undo(base: str = base, form: str = form, url: str = url) -> None:
                assert http.post(f"{base}/documents/{form}/undo").status_code == 200
                assert http.get(url.replace("preview", "mesh")).status_code == 200

            def both(base: str = base, form: str = form) -> None:
                undo()
                assert http.post(f"{base}/documents/{form}/redo").status_code == 200

            yield within(f"undo with the mesh, {cage.face_count} faces", "ms", median_ms(both, times=9) / 2, 60.0)
        yield from _twenty_thousand(http, app)
        app.extensions["hollow_marble"].close()


def _twenty_thousand(http: Any, app: Any) -> Iterator[Result]:
    from hollow_marble.store.assets import keep_asset

    huge = _huge()
    base, form, url = _begin(http, "Bench huge")
    project = app.extensions["hollow_marble"].application.workspace.project(base.rsplit("/", 1)[-1])
    sha = keep_asset(project.database, cage_to_json(huge), "application/json")
    edit = {"kind": "start_part", "part": "b", "name": "B", "start": {"kind": "imported", "cage": sha, "name": "B"}}

    def open_it() -> None:
        _edit(http, base, form, edit)
        http.get(url.replace("preview", "mesh"))

    opened = _timed(open_it)
    yield within(f"open a cage of {huge.face_count} faces, skin and all", "ms", opened, 20_000.0)
    drag = median_ms(lambda: _preview(http, url, [40]), times=9)
    yield within(f"server, a drag of one point, {huge.face_count} faces", "ms", drag, 60.0)
    step = {"kind": "inset", "faces": [40], "width": 0.2}
    inset = _timed(lambda: _edit(http, base, form, {"kind": "shape", "part": "b", "step": step}))
    yield within(f"a face set in, {huge.face_count} faces", "ms", inset, 4_000.0)


def _begin(http: Any, name: str) -> tuple[str, str, str]:
    state = http.post("/api/projects", json={"name": name}).json
    project = state["project"]["id"]
    form = next(d["id"] for d in state["documents"] if d["kind"] == "form")
    return f"/api/projects/{project}", form, f"/api/projects/{project}/forms/{form}/parts/b/preview"


def _edit(http: Any, base: str, form: str, edit: dict[str, Any]) -> None:
    answer = http.post(f"{base}/documents/{form}/edits", json={"edit": edit})
    assert answer.status_code == 200, answer.json


def _preview(http: Any, url: str, which: list[int]) -> None:
    step: dict[str, Any] = {
        "kind": "placed",
        "how": "move",
        "points": which,
        "values": [0, 0.5, 1],
        "symmetry": {"planes": ["W"]},
    }
    if len(which) == 1:
        step["symmetry"] = None
    assert http.post(url, json={"step": step}).status_code == 200


def _timed(work: Any) -> float:
    began = time.perf_counter()
    work()
    return (time.perf_counter() - began) * 1000
