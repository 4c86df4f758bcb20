"""A finish as metal-and-roughness renderers draw it: glTF 2.0 and the live view."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.studio.finishes.coats import Colour
from hollow_marble.core.studio.finishes.table import Made


@dataclass(frozen=True)
class Ramp:
    """Where a finish runs into another: along an axis of the form (0 width, 1 depth, 2 height), mm from the low end of the part. Nothing of the
    other up to `begin`, all of it from `end` on."""

    axis: int
    begin: float
    end: float

    def shares(self, points: NDArray[np.floating], low: float) -> NDArray[np.float32]:
        """(N,) how much of the other there is at points (N, 3) of a part whose low end lies at `low`."""
        along = points[:, self.axis] - low
        shares: NDArray[np.float32] = np.clip((along - self.begin) / (self.end - self.begin), 0, 1).astype(np.float32)
        return shares


@dataclass(frozen=True)
class Look:
    """Base colour linear (3,); `lacquer` is a clear coat over it and its roughness; `absorbs` per mm; `glow` is added light, linear; `speck` is
    how much of a dielectric's own reflection there is. Reflections drawn out along a grain are as wide here as they are in the mean.
    Where there is a ramp, the colour runs into `last`."""

    colour: Colour
    metalness: float
    roughness: float
    ior: float
    transmission: float
    lacquer: float = 0.0
    lacquer_roughness: float = 0.0
    absorbs: Colour = (0.0, 0.0, 0.0)
    glow: Colour = (0.0, 0.0, 0.0)
    speck: float = 1.0
    ramp: Ramp | None = None
    last: Colour | None = None

    @property
    def mean(self) -> Colour:
        """Its colour where there is room for one."""
        if self.last is None:
            return self.colour
        r, g, b = ((one + other) / 2 for one, other in zip(self.colour, self.last))
        return r, g, b


def look_of(made: Made) -> Look:
    """How what a surface is made of is told to a metal-and-roughness renderer."""
    lacquer, dull = (1.0, float(made.lacquer**0.5)) if made.lacquer is not None else (0.0, 0.0)
    if made.base == "metal":
        wide = (made.alpha[0] * made.alpha[1]) ** 0.5
        return Look(made.colour, 1.0, wide**0.5, 1.5, 0.0, lacquer, dull)
    if made.base == "glass":
        r, g, b = (value**2 for value in made.colour)
        return Look((r, g, b), 0.0, made.alpha[0] ** 0.5, made.ior, 1.0, absorbs=made.absorbs)
    if made.base == "glow":
        return Look((0.0, 0.0, 0.0), 0.0, 1.0, 1.5, 0.0, glow=made.colour, speck=0.0)
    if made.coat is None:
        return Look(
            made.colour,
            0.5 * made.flakes[0],
            0.55 if made.flakes[0] else 1.0,
            1.5,
            0.0,
            lacquer,
            dull,
            speck=1.0 if made.flakes[0] else 0.0,
        )
    return Look(made.colour, 0.0, made.coat.alpha**0.5, made.coat.ior, 0.0, lacquer, dull)
