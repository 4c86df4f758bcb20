"""Linnet as it is drawn: a solid of the front's and the side's outlines, seen through a sheet's camera.

A designer carries such a solid in the head; here it gives the demo's hand true outlines, sections and light.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy.interpolate import PchipInterpolator
from scipy.ndimage import gaussian_filter1d

from hollow_marble.core.drafting.box import Placed
from hollow_marble.demo.sheets.ideas import FRONT, SIDE

Array = NDArray[np.float64]
SIZE = (62.0, 34.0, 108.0)
ROUND = 2.5
"""Exponent of the sections' superellipse: 2 is an ellipse, more is boxier."""

DIAL = (0.0, 20.0, 11.0)
"""Across, height and radius of the level dial, mm."""

WINDOW = (0.0, -24.0, 5.0)


def radii(height: Array) -> tuple[Array, Array, Array]:
    """How far the body reaches to the side, forward and back at heights, mm."""
    wide, fore, back = (outline(height) for outline in _outlines())
    # the outlines end in flats; the solid closes round
    cap = np.sqrt(np.clip(1 - (np.clip(np.abs(height) - 50, 0, None) / 4.001) ** 2.4, 0, 1))
    return np.maximum(wide * cap, 0.05), np.maximum(fore * cap, 0.05), np.maximum(back * cap, 0.05)


@cache
def _outlines() -> tuple[PchipInterpolator, PchipInterpolator, PchipInterpolator]:
    """To the side, forward and back, over heights."""
    front, side = np.array(FRONT[::-1]), np.array(SIDE[::-1])
    columns = (front[:, 0], front[:, 2]), (side[:, 0], side[:, 1]), (side[:, 0], side[:, 2])
    wide, fore, back = (PchipInterpolator(heights, reach, extrapolate=True) for heights, reach in columns)
    return wide, fore, back


def surface(turn: Array, height: Array) -> Array:
    """Points (..., 3) mm from the body's middle; turn in radians from the right side, three quarters round is the front."""
    wide, fore, back = radii(height)
    c, s = np.cos(turn), np.sin(turn)
    share = 2 / ROUND
    x = wide * np.sign(c) * np.abs(c) ** share
    y = np.where(s < 0, fore, back) * np.sign(s) * np.abs(s) ** share
    return np.stack([x, y, height + 0 * x], axis=-1)


def normals(turn: Array, height: Array) -> Array:
    """Unit outward normals (..., 3)."""
    step = 1e-3
    along = surface(turn + step, height) - surface(turn - step, height)
    up = surface(turn, np.clip(height + step * 20, -54, 54)) - surface(turn, np.clip(height - step * 20, -54, 54))
    found = np.cross(along, up)
    return np.asarray(found / np.maximum(np.linalg.norm(found, axis=-1, keepdims=True), 1e-12))


@dataclass(frozen=True)
class Drawn:
    """The product standing in a construction box on a sheet."""

    box: Placed

    def eye(self, points: Array) -> Array:
        """Points (..., 3) from the body's middle to points relative to the eye."""
        middle = self.box.points(np.array([[0.5, 0.5, 0.5]]))[0]
        return np.asarray(points + middle)

    def place(self, points: Array) -> Array:
        """(..., 2) px of points from the body's middle."""
        flat = self.eye(points).reshape(-1, 3)
        return self.box.camera.project(flat).reshape(*points.shape[:-1], 2)

    def outline(self, count: int = 90) -> Array:
        """(count, 2) px: the silhouette, closed, from the top clockwise."""
        turn, height = np.meshgrid(np.linspace(0, 2 * np.pi, 181), np.linspace(-54, 54, 161))
        places = self.place(surface(turn, height))
        low = np.floor(places.min(axis=(0, 1))) - 4
        scale = 4.0
        grid = np.rint((places - low) * scale).astype(np.int32)
        mask = np.zeros(grid.max(axis=(0, 1))[::-1] + 8, np.uint8)
        quads = np.stack([grid[:-1, :-1], grid[:-1, 1:], grid[1:, 1:], grid[1:, :-1]], axis=2).reshape(-1, 4, 2)
        for quad in quads:
            cv2.fillConvexPoly(mask, quad, 255)
        contours, _ = cv2.findContours(mask, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
        edge = max(contours, key=len).reshape(-1, 2).astype(float) / scale + low
        edge = gaussian_filter1d(edge, 14, axis=0, mode="wrap")
        area = float((edge[:, 0] * np.roll(edge[:, 1], -1) - np.roll(edge[:, 0], -1) * edge[:, 1]).sum())
        if area < 0:
            edge = edge[::-1]
        edge = np.roll(edge, -int(np.argmin(edge[:, 1])), axis=0)
        at = np.linspace(0, len(edge), count, endpoint=False).astype(int)
        return np.asarray(edge[at])

    def facing(self, turn: Array, height: Array) -> Array:
        """How squarely a place of the surface looks at the eye, -1 to 1."""
        points = self.eye(surface(turn, height))
        toward = -points / np.linalg.norm(points, axis=-1, keepdims=True)
        return np.asarray((normals(turn, height) * toward).sum(axis=-1))

    def section(self, height: float, slope: float = 0.0, least: float = 0.02) -> Array:
        """(N, 2) px: the part in sight of a section at a height; `slope` mm that it falls from the front to the back."""
        turn = np.linspace(np.pi * 0.6, np.pi * 2.6, 241)
        level = height + slope * np.sin(turn)
        seen = self.facing(turn, level) > least
        run = max(
            np.split(np.arange(len(turn)), np.flatnonzero(np.diff(seen.astype(int))) + 1),
            key=lambda r: len(r) * seen[r[0]],
        )
        return self.place(surface(turn[run], level[run]))

    def across(self, height: float, half: float) -> Array:
        """(N, 2) px: a slot over the front at a height, `half` mm to both sides of its middle."""
        turn = np.linspace(1.2 * np.pi, 1.8 * np.pi, 241)
        points = surface(turn, np.full_like(turn, height))
        return self.place(points[np.abs(points[:, 0]) <= half])

    def meridian(self, turn: float, least: float = 0.0) -> Array:
        """(N, 2) px: the part in sight of a line from the foot to the top."""
        height = np.linspace(-53.5, 53.5, 160)
        seen = self.facing(np.full_like(height, turn), height) > least
        return self.place(surface(np.full_like(height, turn)[seen], height[seen]))

    def ring_on_front(self, across: float, height: float, radius: float, proud: float = 0.6) -> Array:
        """(N, 2) px: a circle on a plane that stands `proud` mm before the front at its middle."""
        depth = float(surface(np.array(1.5 * np.pi), np.array(height))[1]) - proud
        t = np.linspace(0, 2 * np.pi, 61)[:-1]
        points = np.column_stack([across + radius * np.cos(t), np.full_like(t, depth), height + radius * np.sin(t)])
        return self.place(points)

    def lanyard(self, radius: float) -> Array:
        """(N, 2) px: the ring on top, across the width."""
        t = np.linspace(0, 2 * np.pi, 49)[:-1]
        points = np.column_stack([radius * np.cos(t), np.zeros_like(t), 58.5 + radius * np.sin(t)])
        return self.place(points)
