"""Knurls: teeth, or pyramids, all along a line on a surface. Lengths mm."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property
from typing import Literal

import numpy as np

from hollow_marble.core.detail.beside import Aside, Beside, SkinLine
from hollow_marble.core.detail.facets import Facets
from hollow_marble.core.detail.ground import Floats, Ints, Spots
from hollow_marble.core.detail.profiles import STEEPEST, Profile
from hollow_marble.core.detail.relief import Moved, Told


@dataclass(frozen=True, eq=False)
class Knurl:
    """`count` teeth along a line, over `width` mm across it, cut `depth` mm deep, fading over `fade` mm towards both sides.

    Straight teeth run across the line. Diamonds lie between two families of cuts that cross: as steep as makes them square, but for
    what it takes to come round.
    """

    key: str
    names: str
    line: SkinLine
    count: int
    width: float
    depth: float
    pattern: Literal["straight", "diamond"] = "straight"
    fade: float = 0.0

    flat = True
    """Its faces are flat: they have the normals of their triangles."""

    @property
    def profile(self) -> Profile:
        """From the tip of a tooth (0) to the bottom of a cut (1)."""
        return Profile(np.array([0.0, 1.0]), np.array([0.0, -self.depth]), np.array([[-self.depth, -self.depth]]), True)

    @property
    def pitch(self) -> float:
        """From tooth to tooth, mm."""
        return self.line.length / self.count

    @cached_property
    def beside(self) -> Beside:
        """What tells how far places are from its line."""
        return Beside(self.line, self.width / 2 + self.pitch)

    def told(self, spots: Spots) -> Told:
        """Where spots are in it; its faces are flat, so that no slope is told."""
        aside = self.beside.asked(spots)
        across = np.max([_wave(phase) for phase in self._phases(aside)], axis=0)
        off = np.abs(np.where(np.isfinite(aside.off), aside.off, np.inf))
        within = (off <= self.width / 2 + 0.5 * STEEPEST) & (aside.past == 0)
        share = np.ones(len(spots))
        if self.fade > 0:
            t = np.clip((self.width / 2 - np.minimum(off, self.width)) / self.fade, 0, 1)
            share = t * t * (3 - 2 * t)
        return Told(np.where(within, across, np.inf), share, np.zeros((len(spots), 3)))

    def facet(self, spots: Spots) -> Ints:
        """(K,) numbers that differ from face to face of a tooth."""
        phases = self._phases(self.beside.asked(spots))
        deeper = np.argmax([_wave(phase) for phase in phases], axis=0)
        which = np.choose(deeper, [np.floor(2 * phase).astype(np.int64) for phase in phases])
        return np.asarray(2 * (which % 4) + deeper)

    @property
    def fine(self) -> str:
        """Names how fine it needs the surface: all but its depth."""
        return f"{self.line.key} {self.count} {self.width:.9f}"

    def refined(self, facets: Facets) -> Facets:
        """Facets as fine as its teeth need them."""
        pitch, half = self.pitch, self.width / 2

        def wanted(spots: Spots) -> Floats:
            aside = self.beside.asked(spots)
            beyond = np.maximum(np.abs(aside.off) - half, 0.0)
            return np.where((beyond < pitch) & (aside.past == 0), 0.6 * pitch + beyond, np.inf)

        return facets.refined(wanted, self.line.spots.points, half + 0.5 * pitch)

    def sliced(self, facets: Facets) -> Facets:
        """Such facets with edges along tips and bottoms, and along both sides."""
        half = self.width / 2

        def off(spots: Spots) -> Floats:
            aside = self.beside.asked(spots)
            return np.where(aside.past == 0, aside.off, np.inf)

        # without a fade the teeth end in a wall, as upright as one with a height at every place can be
        sides = [-half, half] if self.fade > 0 else [-half - STEEPEST, -half, half, half + STEEPEST]
        if self.fade > 0:
            inner = [half - self.fade * share for share in (0.25, 0.5, 0.75, 1.0)]
            sides += [side for side in inner if side > 1e-3] + [-side for side in inner if side > 1e-3]
        facets, _ = facets.sliced(off(facets.spots), np.array(sorted(sides)), off, 0.1 * STEEPEST)
        families = [(1.0, 0.0)] if self.pattern == "straight" else [(1.0, 1.0), (1.0, -1.0), (1.0, 0.0)]
        for along, across in families:
            facets = self._edged(facets, along, across)
        if self.pattern == "diamond":
            rise = self._rise
            count = int(half * rise * 2) + 1
            levels = np.arange(-count, count + 1) / (2 * rise)
            levels = levels[np.abs(levels) < half - 1e-3]
            facets, _ = facets.sliced(off(facets.spots), levels, off, 1e-3)
        return facets

    def stood(self, moved: Moved) -> Knurl:
        """It after its body was stood elsewhere."""
        by = moved.scale
        return replace(
            self, line=moved.line(self.line), width=self.width * by, depth=self.depth * by, fade=self.fade * by
        )

    @property
    def _rise(self) -> float:
        """Teeth by which a cut of diamonds moves on over a mm across the line."""
        return 1 / self.pitch

    def _phases(self, aside: Aside) -> list[Floats]:
        along = aside.along / self.pitch
        if self.pattern == "straight":
            return [along]
        off = np.where(np.isfinite(aside.off), aside.off, 0.0) * self._rise
        return [along + off, along - off]

    def _edged(self, facets: Facets, along: float, across: float) -> Facets:
        """With edges at every half tooth of one family. A closed line is taken in two halves, neither of which comes round."""
        total = float(self.count)
        reach = self.width / 2 * self._rise * abs(across) + 1

        def phase(spots: Spots, turned: bool) -> Floats:
            aside = self.beside.asked(spots)
            there = (np.abs(aside.off) <= self.width / 2 + 1e-3) & (aside.past == 0)
            s = aside.along / self.pitch
            if turned:
                s = (s + total / 2) % total - total / 2
                there &= np.abs(s) < 0.375 * total
            elif self.line.closed:
                there &= (s > 0.125 * total) & (s < 0.875 * total)
            off = np.where(np.isfinite(aside.off), aside.off, 0.0) * self._rise
            return np.where(there, along * s + across * off, np.inf)

        halves = [False, True] if self.line.closed else [False]
        for turned in halves:
            low, high = (-total / 4, total / 4) if turned else (total / 4, 3 * total / 4)
            if not self.line.closed:
                low, high = 0.0, total
            levels = np.arange(np.ceil(2 * (low - reach)), np.floor(2 * (high + reach)) + 1) / 2

            def value(spots: Spots, turned: bool = turned) -> Floats:
                return phase(spots, turned)

            facets, _ = facets.sliced(value(facets.spots), levels, value, 1e-3)
        return facets


def _wave(phase: Floats) -> Floats:
    """From the tip of a tooth (0, halfway) to the bottom of a cut (1, at whole phases)."""
    return np.asarray(np.abs(2 * (phase % 1.0) - 1))
