"""Flat outlines pressed into a surface or raised on it, where they lie on it without shear. Lengths mm."""

from __future__ import annotations

import hashlib
import math
from dataclasses import dataclass, replace

import numpy as np

from hollow_marble.core.detail.chart import Chart
from hollow_marble.core.detail.facets import Facets
from hollow_marble.core.detail.ground import Floats, Ints, Spots
from hollow_marble.core.detail.outlines import Outlines
from hollow_marble.core.detail.profiles import Profile
from hollow_marble.core.detail.relief import CLOSE, Moved, Told

FINEST, COARSEST = 0.12, 1.0
"""mm of the edges beside an outline: at its corners, and where it is straight."""

_STEP = 0.25


@dataclass(frozen=True, eq=False)
class Stamp:
    """Outlines on a chart, and the side that leads from the skin to what lies within them."""

    key: str
    names: str
    chart: Chart
    outlines: Outlines
    profile: Profile

    flat = False

    def facet(self, spots: Spots) -> Ints:
        """Its side tells its faces apart."""
        return np.zeros(len(spots), np.int64)

    @property
    def fine(self) -> str:
        """Names how fine it needs the surface: its outlines, where they lie, and about how far its side reaches."""
        told = hashlib.sha256(self.chart.piece.points.tobytes())
        for loop in self.outlines.loops:
            told.update(loop.tobytes())
        return f"{told.hexdigest()} {self._side}"

    @property
    def _side(self) -> float:
        """How far its side reaches at most, in steps, so that a little more depth asks for no other surface."""
        return math.ceil(self.profile.reach / _STEP) * _STEP

    def sliced(self, facets: Facets) -> Facets:
        """Facets with edges along every edge of its side."""
        eps = min(0.02 * self.profile.finest, 0.002)
        return facets.sliced(self._across(facets.spots), self.profile.at, self._across, eps)[0]

    def refined(self, facets: Facets) -> Facets:
        """Facets fine enough to be cut along its outlines."""
        return facets.refined(self._wanted, self.chart.piece.points, 2 * FINEST + self.chart.spacing)

    def told(self, spots: Spots) -> Told:
        """Where spots are in it."""
        flat, ways, there = self.chart.asked(spots)
        across, way, _ = self.outlines.asked(flat, self._reach)
        across = np.where(there, across, np.inf)
        return Told(across, np.ones(len(spots)), np.einsum("ki,kij->kj", way, ways))

    def stood(self, moved: Moved) -> Stamp:
        """It after its body was stood elsewhere."""
        by, piece = moved.scale, self.chart.piece
        stands = replace(
            piece,
            points=moved.places(piece.points),
            normals=moved.ways(piece.normals),
            flat=piece.flat * by,
            ways=moved.ways(piece.ways),
        )
        return replace(
            self, chart=Chart(stands), outlines=self.outlines.moved(0.0, by), profile=self.profile.scaled(by)
        )

    @property
    def _reach(self) -> float:
        return self._side + 2 * COARSEST

    def _across(self, spots: Spots) -> Floats:
        flat, _, there = self.chart.asked(spots)
        across, _, _ = self.outlines.asked(flat, self._reach)
        return np.where(there, across, np.inf)

    def _wanted(self, spots: Spots) -> Floats:
        flat, _, there = self.chart.asked(spots)
        across, _, piece = self.outlines.asked(flat, self._reach)
        near = there & (piece >= 0)
        radius = np.where(near, self.outlines.fine[np.maximum(piece, 0)], np.inf)
        fine = np.clip(np.sqrt(8 * CLOSE * np.minimum(radius, 1e3)), FINEST, COARSEST)
        beyond = np.maximum(np.abs(across) - self._side, 0.0)
        return np.where(near & (beyond < 2 * fine), fine + beyond, np.inf)
