"""A stroke from the pen to the page."""

from __future__ import annotations

import tempfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np

from benchmarks.measure import Result, median_ms, within
from hollow_marble.core.ink import path, stamp


def _samples() -> np.ndarray:
    """A stroke of about 300 dabs with a nib of 6 px."""
    t = np.linspace(0, 1, 40)
    return np.stack([900 + 180 * t, 700 + 60 * np.sin(5 * t), 0.3 + 0.5 * t, 0 * t], axis=1).astype(np.float32)


def stamping() -> Iterator[Result]:
    """Dabs to coverage to ink."""
    samples, nib = _samples(), path.pencil(6.0, 0.8)
    layer = np.zeros((1600, 2400, 4), np.uint8)
    rect = path.bounds(samples, nib)
    count = len(path.dabs(samples, 6.0, nib.thin))

    def draw() -> None:
        stamp.lay_ink(layer, stamp.coverage(samples, nib, rect), rect, (32, 40, 43))

    yield within(f"stamping {count} dabs", "ms", median_ms(draw), 10.0)


def commit() -> Iterator[Result]:
    """A stroke's request to the changed tiles' bytes, stored on disk."""
    from hollow_marble.web.app import create_app

    with tempfile.TemporaryDirectory() as folder:
        app = create_app(Path(folder), work=False)
        http = app.test_client()
        state: Any = http.post("/api/projects", json={"name": "Bench"}).json
        project = state["project"]["id"]
        sheet = next(d["id"] for d in state["documents"] if d["kind"] == "sheet")
        body = _samples().astype("<f4").tobytes()
        url = f"/api/projects/{project}/sheets/{sheet}/strokes?layer=rough"

        def draw() -> None:
            assert http.post(url, data=body).status_code == 200

        yield within("stroke commit, one layer, tiles included", "ms", median_ms(draw), 15.0)
        undo = f"/api/projects/{project}/documents/{sheet}/undo"

        def back() -> None:
            http.post(undo)
            http.get(f"/api/projects/{project}/sheets/{sheet}/tiles?since=1")

        yield within("undo of a stroke, tiles included", "ms", median_ms(back, times=15), 80.0)
        app.extensions["hollow_marble"].close()
