"""Boxes as somebody might draw them, in views that are known, for the bench and the tests of finding the view again."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.drafting.box import CORNERS, EDGES, Placed
from hollow_marble.core.drafting.camera import Camera
from hollow_marble.core.drafting.recover import Recovered

MIDDLE = (1200.0, 800.0)
"""Of a page of 2,400 × 1,600 px."""


@dataclass(frozen=True)
class DrawnBox:
    """A box of round numbers in a view, and its visible edges as they were drawn: direction and ends (2, 2) px."""

    camera: Camera
    size: tuple[float, float, float]
    edges: list[tuple[int, NDArray[np.float64]]]
    placed: Placed

    def off(self, found: Recovered) -> tuple[float, float]:
        """By which shares the focal length and the worse proportion were missed."""
        wanted = np.array(self.size) / self.size[0]
        return abs(found.camera.focal / self.camera.focal - 1), float(np.abs(np.array(found.size) / wanted - 1).max())


def drawn_boxes(
    count: int, points: int = 3, noise: float = 0.0, overshoot: float = 0.0, seed: int = 0
) -> Iterator[DrawnBox]:
    """Random boxes: sides of 30 to 150 mm in whole numbers, lenses of 18 to 54 mm, turned by 20° to 70°, tilted by 10° to 45° (three points) or
    not at all (two), no visible edge shorter than 50 px.

    noise : px (standard deviation) each end strays; overshoot : share of an edge's length its ends go on by at most
    """
    dice = np.random.default_rng(seed)
    while count:
        turn = np.radians(dice.choice([-1, 1]) * dice.uniform(20, 70))
        tilt = np.radians(dice.uniform(10, 45)) if points == 3 else 0.0
        camera = Camera(MIDDLE, dice.uniform(1200, 3600), turn, tilt)
        w, d, h = np.round(dice.uniform(30, 150, 3))
        at = 1200 + dice.uniform(-150, 150), dice.uniform(950, 1300)
        box = Placed(camera, (w, d, h), at, dice.uniform(500, 900) / max(w, d, h))
        drawn = [
            (int(np.flatnonzero(CORNERS[a] != CORNERS[b])[0]), box.corners[[a, b]])
            for (a, b), hidden in zip(EDGES, box.hidden_edges())
            if not hidden
        ]
        lengths = [float(np.hypot(*(ends[1] - ends[0]))) for _, ends in drawn]
        if len(drawn) < 7 or min(lengths) < 50 or float(np.ptp(box.corners, axis=0).max()) > 2200:
            continue
        count -= 1
        edges = []
        for axis, ends in drawn:
            along = ends[1] - ends[0]
            over = dice.uniform(0, overshoot, 2) if overshoot else np.zeros(2)
            strayed = np.array([ends[0] - over[0] * along, ends[1] + over[1] * along]) + dice.normal(0, noise, (2, 2))
            edges.append((axis, strayed[:: int(dice.choice([1, -1]))]))
        yield DrawnBox(camera, (float(w), float(d), float(h)), edges, box)


def least_misses(boxes: list[DrawnBox], noise: float, level: bool) -> NDArray[np.float64]:
    """(N, 2) shares by which an unbiased reading of least variance misses focal lengths and worse proportions, drawn by lot.

    The Cramér–Rao bound (Rao 1945, Cramér 1946) for ends that stray independently by `noise` px, with the camera's height of eye known
    where it is `level`: no unbiased reading of these edges does better, whatever it does.
    """
    dice = np.random.default_rng(3)
    free = [0, 1, 3, 4, 5, 6, 7] if level else list(range(8))
    found = []
    for box in boxes:
        ends = np.array([edge for edge, hidden in zip(EDGES, box.placed.hidden_edges()) if not hidden]).ravel()
        sides = np.array(box.size) * box.placed.scale
        true = np.array([box.camera.focal, box.camera.turn, box.camera.tilt, *box.placed.at, *sides])

        def seen(at: NDArray[np.float64], ends: NDArray[np.int64] = ends) -> NDArray[np.float64]:
            focal, turn, tilt, x, y, w, d, h = (float(value) for value in at)
            return Placed(Camera(MIDDLE, focal, turn, tilt), (w, d, h), (x, y), 1.0).corners[ends].ravel()

        steps = [np.eye(8)[k] * max(1e-4, abs(true[k]) * 1e-5) for k in free]
        slopes = np.column_stack([(seen(true + step) - seen(true - step)) / (2 * step.max()) for step in steps])
        spread = np.linalg.inv(slopes.T @ slopes) * noise**2
        drawn = true.copy()
        drawn[free] += dice.multivariate_normal(np.zeros(len(free)), spread)
        ratios = drawn[6:] / drawn[5] / (true[6:] / true[5])
        found.append((abs(drawn[0] / true[0] - 1), float(np.abs(ratios - 1).max())))
    return np.array(found)
