"""Grains worked out by rule: moulded, brushed and turned surfaces, wood, stone, leather, cloth. Nothing is downloaded.

A grain is a tile that repeats without a seam: how high it stands and how dark it is, both 0 to 1. Its `size` in mm is what one would
measure: the wavelength of a moulded grain, the pitch of a thread, the distance between rings.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from scipy.spatial import cKDTree

Image = NDArray[np.float32]
Floats = NDArray[np.float64]

PIXELS = 512


@dataclass(frozen=True)
class Tile:
    """height, tone : (n, n) 0 to 1, rows along v; `sizes` : how many sizes the tile is wide."""

    height: Image
    tone: Image
    sizes: float


@dataclass(frozen=True)
class GrainKind:
    """How a grain is made, and along which lines it lies best: "box" where it has no direction, "turned" about an axis, cut
    from a "block" where it goes all through."""

    make: Callable[[int], Tile]
    lies: str = "box"


def _noise(seed: int, n: int, weigh: Callable[[Floats, Floats], Floats]) -> Floats:
    """(n, n) noise that repeats, mean 0 and deviation 1; `weigh` gives the strength of its waves, in waves a tile along v and u."""
    rng = np.random.default_rng(seed)
    v, u = np.meshgrid(np.fft.fftfreq(n, 1 / n), np.fft.fftfreq(n, 1 / n), indexing="ij")
    waves = np.fft.fft2(rng.normal(size=(n, n))) * weigh(v, u)
    waves[0, 0] = 0
    found = np.fft.ifft2(waves).real
    return np.asarray(found / found.std())


def _band(per_tile: float, wide: float = 0.35) -> Callable[[Floats, Floats], Floats]:
    def weigh(v: Floats, u: Floats) -> Floats:
        radius = np.maximum(np.hypot(v, u), 1e-9)
        found: Floats = np.exp(-0.5 * (np.log(radius / per_tile) / wide) ** 2)
        return found

    return weigh


def _fall(power: float) -> Callable[[Floats, Floats], Floats]:
    def weigh(v: Floats, u: Floats) -> Floats:
        found: Floats = np.maximum(np.hypot(v, u), 1.0) ** -power
        return found

    return weigh


def _unit(values: Floats, spread: float = 2.5) -> Image:
    """Into 0 to 1: 0.5 in the middle, cut off at so many deviations."""
    middle, deviation = float(values.mean()), max(float(values.std()), 1e-9)
    return np.clip(0.5 + (values - middle) / (2 * spread * deviation), 0, 1).astype(np.float32)


def _flat(n: int) -> Image:
    return np.full((n, n), 0.5, np.float32)


def _moulded(n: int) -> Tile:
    """Spark-eroded moulds: waves of the size, and finer ones of 0.6 of it."""
    sizes = 32.0
    height = _noise(1, n, _band(sizes)) + 0.67 * _noise(2, n, _band(sizes / 0.6))
    return Tile(_unit(height), _flat(n), sizes)


def _orange_peel(n: int) -> Tile:
    sizes = 16.0
    return Tile(_unit(_noise(3, n, _band(sizes, 0.25))), _flat(n), sizes)


def _brushed(n: int) -> Tile:
    """Scratches as long as the size, a hundredth of it wide, along u."""
    sizes = 3.0
    height = _noise(4, n, lambda v, u: np.exp(-0.5 * (u / (0.35 * sizes)) ** 2) * np.exp(-0.5 * (v / (0.3 * n)) ** 2))
    return Tile(_unit(height), _flat(n), sizes)


def _rings(n: int) -> Tile:
    """The trace of a cutting tool: arcs that meet in sharp ridges, each ring a little different."""
    sizes = 32.0
    v = np.arange(n) / n * sizes
    rng = np.random.default_rng(5)
    deep = rng.uniform(0.8, 1.0, int(sizes))[np.floor(v).astype(int)]
    profile = deep * (2 * (v % 1.0) - 1) ** 2
    return Tile(np.repeat(profile[:, None], n, axis=1).astype(np.float32), _flat(n), sizes)


def _wood(n: int) -> Tile:
    """A board cut beside the heart: growth rings drawn out along u, pores and fibres in them."""
    sizes = 6.0
    bend = _noise(6, n, lambda v, u: np.exp(-0.5 * (u / 1.2) ** 2 - 0.5 * (v / 2.5) ** 2))
    at = np.arange(n)[:, None] / n * sizes + 0.55 * bend
    ring = (at % 1.0) ** 2.2
    fibre = _noise(7, n, lambda v, u: np.exp(-0.5 * (u / 6) ** 2) * np.exp(-0.5 * (v / (n / 6)) ** 2))
    pores = _noise(8, n, lambda v, u: np.exp(-0.5 * (u / 14) ** 2) * np.exp(-0.5 * (v / (n / 4)) ** 2))
    pore = np.clip((pores - 1.5) / 0.8, 0, 1)
    tone = np.clip(0.62 * ring + 0.1 * fibre + 0.5 * pore, 0, 1)
    height = np.clip(0.7 - 0.08 * fibre - 0.6 * pore, 0, 1)
    return Tile(height.astype(np.float32), tone.astype(np.float32), sizes)


def _stone(n: int) -> Tile:
    """Clouds, veins and grains of mineral."""
    sizes = 4.0
    cloud = _noise(9, n, _fall(1.5))
    vein = np.exp(-np.abs(_noise(10, n, _fall(1.9))) * 9)
    speck = _noise(11, n, _band(sizes * 22, 0.4))
    tone = np.clip(0.42 + 0.13 * cloud + 0.1 * speck - 0.28 * vein, 0, 1)
    height = _unit(_noise(12, n, _band(sizes * 12, 0.7)) + 0.5 * cloud)
    return Tile(height, tone.astype(np.float32), sizes)


def _nearest(n: int, count: int, seed: int) -> tuple[Floats, NDArray[np.int64]]:
    """(n², 2) distances in cells of every pixel from the two nearest of count² jittered middles, and which those are."""
    rng = np.random.default_rng(seed)
    rows, columns = np.meshgrid(np.arange(count), np.arange(count), indexing="ij")
    middles = (np.stack([columns, rows], axis=-1) + rng.uniform(0.1, 0.9, (count, count, 2))).reshape(-1, 2)
    at = (np.arange(n) + 0.5) / n * count
    places = np.stack(np.meshgrid(at, at), axis=-1).reshape(-1, 2)
    away, which = cKDTree(middles, boxsize=count).query(places, k=2)
    return np.asarray(away), np.asarray(which, np.int64)


def cells(n: int, count: int, seed: int) -> NDArray[np.int64]:
    """(n, n) which of count² jittered cells each pixel of a tile belongs to."""
    return _nearest(n, count, seed)[1][:, 0].reshape(n, n)


def _leather(n: int) -> Tile:
    """Pebbles with creases between them, and fine pores."""
    sizes = 18.0
    away, _ = _nearest(n, int(sizes), 13)
    near, next_ = away[:, 0].reshape(n, n), away[:, 1].reshape(n, n)
    crease = np.clip((next_ - near) / 0.35, 0, 1)
    height = crease**0.6 * (1 - 0.35 * near) + 0.04 * _noise(14, n, _band(sizes * 5))
    tone = 0.75 * (1 - crease) ** 2 + 0.06 * np.abs(_noise(15, n, _fall(1.2)))
    return Tile(np.clip(height, 0, 1).astype(np.float32), np.clip(tone, 0, 1).astype(np.float32), sizes)


def _threads(
    n: int, pitches: int, over: Callable[[NDArray[np.int64], NDArray[np.int64]], NDArray[np.bool_]]
) -> tuple[Floats, NDArray[np.bool_], Floats]:
    """Height (n, n) of crossing threads, where the one along u lies on top, and how far from a thread's middle a pixel is (0 to 1)."""
    at = (np.arange(n) + 0.5) / n * pitches
    v, u = np.meshgrid(at, at, indexing="ij")
    row, column = np.floor(v).astype(int), np.floor(u).astype(int)
    along = over(row, column)
    across_u, across_v = 2 * (u % 1) - 1, 2 * (v % 1) - 1
    beside = np.where(along, across_v, across_u)
    way = np.where(along, across_u, across_v)
    height = np.sqrt(np.maximum(1 - (0.92 * beside) ** 2, 0)) * (0.55 + 0.45 * np.cos(way * math.pi / 2 * 0.9))
    return height, along, np.abs(beside)


def _weave(n: int) -> Tile:
    """Plain weave of round threads, each a little thicker or thinner."""
    pitches = 24
    height, _, beside = _threads(n, pitches, lambda row, column: (row + column) % 2 == 0)
    uneven = 0.06 * _noise(16, n, lambda v, u: np.exp(-0.5 * (u / 6) ** 2) * np.exp(-0.5 * (v / 40) ** 2))
    fibre = 0.05 * _noise(17, n, _band(n / 5))
    tone = np.clip(0.15 + 0.6 * beside**3 - uneven + fibre, 0, 1)
    return Tile(np.clip(height + uneven + fibre, 0, 1).astype(np.float32), tone.astype(np.float32), float(pitches))


def _twill(n: int) -> Tile:
    """Two over, two under, as carbon is laid: threads across look darker than those along."""
    pitches = 8
    height, along, beside = _threads(n, pitches, lambda row, column: (row + column) % 4 < 2)
    fibre = np.where(
        along,
        _noise(18, n, lambda v, u: np.exp(-0.5 * (u / 8) ** 2) * np.exp(-0.5 * ((np.abs(v) - 110) / 60) ** 2)),
        _noise(19, n, lambda v, u: np.exp(-0.5 * (v / 8) ** 2) * np.exp(-0.5 * ((np.abs(u) - 110) / 60) ** 2)),
    )
    tone = np.where(along, 0.12, 0.62) + 0.06 * fibre + 0.35 * np.clip(beside - 0.8, 0, 1)
    return Tile(height.astype(np.float32), np.clip(tone, 0, 1).astype(np.float32), float(pitches))


GRAINS: dict[str, GrainKind] = {
    "moulded": GrainKind(_moulded),
    "orange peel": GrainKind(_orange_peel),
    "brushed": GrainKind(_brushed),
    "rings": GrainKind(_rings, "turned"),
    "wood": GrainKind(_wood, "block"),
    "stone": GrainKind(_stone),
    "leather": GrainKind(_leather),
    "weave": GrainKind(_weave),
    "twill": GrainKind(_twill),
}
"""Every grain by its name."""


@lru_cache(maxsize=32)
def tile(kind: str, pixels: int = PIXELS) -> Tile:
    """A grain's tile, made once."""
    return GRAINS[kind].make(pixels)
