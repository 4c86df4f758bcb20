"""Drafting: what a dragged vanishing point costs, the view of a drawn box, a page four times as fine."""

from __future__ import annotations

import time
from collections.abc import Iterator

import numpy as np

from benchmarks.measure import Result, median_ms, within


def drafting() -> Iterator[Result]:
    """Perspective worked out anew, and a camera found from nine noisy edges."""
    from hollow_marble.core.drafting.box import CORNERS, EDGES, Placed
    from hollow_marble.core.drafting.camera import Camera, dragged
    from hollow_marble.core.drafting.recover import recover
    from hollow_marble.documents.sheet.drafting import drafted, perspective_of
    from hollow_marble.documents.sheet.model import ConstructionBox, Sheet

    camera = Camera((1200, 800), 2600, 0.6, 0.35)
    box = ConstructionBox(size=(62, 34, 108), at=(1180, 1100), scale=6)
    point = camera.vanishing()[0]
    goal = (float(point[0] / point[2]) * 1.02, float(point[1] / point[2]))

    def one_drag() -> None:
        moved = dragged(camera, 3, 0, goal)
        drafted(Sheet(perspective=perspective_of(moved, 3), box=box))

    yield within("vanishing point dragged: camera, grid, box", "ms", median_ms(one_drag, times=40, warm=3), 16.0)

    placed = Placed(camera, (62, 34, 108), (1150, 1050), 6.0)
    dice = np.random.default_rng(3)
    runs, focal, size = [], [], []
    for _ in range(30):
        edges = [
            (int(np.flatnonzero(CORNERS[a] != CORNERS[b])[0]), placed.corners[[a, b]] + dice.normal(0, 1, (2, 2)))
            for (a, b), hidden in zip(EDGES, placed.hidden_edges())
            if not hidden
        ]
        began = time.perf_counter()
        found = recover(edges, camera.principal)
        runs.append((time.perf_counter() - began) * 1000)
        focal.append(100 * abs(found.camera.focal / camera.focal - 1))
        size.append(100 * np.abs(np.array(found.size) / (np.array([62, 34, 108]) / 62) - 1).max())
    yield within("view of a box drawn with 1 px of noise", "ms", float(np.median(runs)), 200.0)
    yield within("its focal length off by", "%", float(np.median(focal)), 1.8)
    yield within("its proportions off by", "%", float(np.median(size)), 1.8)
