"""Drafting: what a dragged vanishing point costs, the view of a drawn box, a page four times as fine."""

from __future__ import annotations

import time
from collections.abc import Iterator

import numpy as np

from benchmarks.measure import Result, median_ms, within


def drafting() -> Iterator[Result]:
    """Perspective worked out anew."""
    from hollow_marble.core.drafting.camera import Camera, dragged
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


CASES = {
    "exact": (0.0, 0.0, 1e-4, 1e-4),
    "1 px": (1.0, 0.0, 5.0, 2.5),
    "2 px": (2.0, 0.0, 10.0, 4.0),
    "2 px, 6 % overshoot": (2.0, 0.06, 12.0, 6.0),
}
"""Noise, overshoot, and the aims for the 95th percentiles of focal length and proportions, %."""


def views_of_drawn_boxes() -> Iterator[Result]:
    """300 random boxes each, drawn exactly, shakily and past their corners: is the view found again?"""
    from benchmarks.drawn_boxes import drawn_boxes, least_misses
    from hollow_marble.core.drafting.recover import recover
    from hollow_marble.core.errors import HollowMarbleError

    for points in (3, 2):
        for name, (noise, overshoot, lens_aim, size_aim) in CASES.items():
            off, times, refused = [], [], 0
            boxes = list(drawn_boxes(300, points, noise, overshoot))
            for box in boxes:
                began = time.perf_counter()
                try:
                    off.append(box.off(recover(box.edges, box.camera.principal)))
                except HollowMarbleError:
                    refused += 1
                times.append((time.perf_counter() - began) * 1000)
            lens, size = 100 * np.array(off).T
            case = f"{points}-point box, {name}"
            print(f'{{"{case}": "medians {np.median(lens):.2g} % and {np.median(size):.2g} %"}}')
            if noise and not overshoot:
                least = 100 * np.percentile(least_misses(boxes, noise, points == 2), 95, axis=0)
                print(f'{{"{case}": "no unbiased reading has a p95 below {least[0]:.2g} % and {least[1]:.2g} %"}}')
            yield within(f"{case}: focal length, p95", "%", float(np.percentile(lens, 95)), lens_aim)
            yield within(f"{case}: proportions, p95", "%", float(np.percentile(size, 95)), size_aim)
            yield within(f"{case}: refused of 300", "", refused, 3)
            yield within(f"{case}: median", "ms", float(np.median(times)), 250.0)
