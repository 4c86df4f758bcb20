"""From pen samples to dabs: a quadratic B-spline through the samples' midpoints, stepped evenly."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numba import njit
from numpy.typing import NDArray

from hollow_marble.core.errors import HollowMarbleError

MOST_SAMPLES = 20_000
MOST_WORK = 1.5e9
"""Pixels a stroke may visit, dab by dab: some 4 seconds, and 50 times what a wide nib takes to cover a page."""
LEAN_WIDENS = 3.0
LEAN_PALES = 1.5


@dataclass(frozen=True)
class Nib:
    """What a stroke is drawn with.

    size : diameter in px at full pressure
    tone : darkness 0 to 1 at full pressure
    thin, pale : share of size and tone that is left at no pressure
    soft : width of the edge's ramp in px; 0 fades from the middle to the edge, as a spray does
    grain : how much of the paper's tooth shows at light pressure, 0 to 1
    tooth : px from one bump of the paper to the next
    flow : share of its tone a dab lays on top of what the stroke has laid already; 0 lets the darkest dab win
    lean : how much a tilted pen widens and pales the line, 0 to 1
    lifts : takes ink away instead
    """

    size: float
    tone: float
    thin: float = 0.3
    pale: float = 0.15
    soft: float = 1.2
    grain: float = 0.55
    tooth: float = 1.0
    flow: float = 0.0
    lean: float = 0.0
    lifts: bool = False


def pencil(size: float, tone: float) -> Nib:
    """Pressure gives both tone and width; light pressure catches only the tooth of the paper; leaning it shades."""
    return Nib(size, tone, lean=1.0)


def fineliner(size: float, tone: float) -> Nib:
    """One width and one tone whatever the hand does."""
    return Nib(size, tone, thin=1.0, pale=1.0, soft=1.0, grain=0.0)


def marker(size: float, tone: float) -> Nib:
    """Flat within a stroke; strokes build up on one another."""
    return Nib(size, tone, thin=0.85, pale=0.9, soft=1.6, grain=0.1, tooth=2.0)


def mist(size: float, tone: float) -> Nib:
    """A soft spray that builds up while the hand stays."""
    return Nib(size, tone, thin=0.7, pale=0.05, soft=0.0, grain=0.0, flow=0.12)


def grain(size: float, tone: float) -> Nib:
    """A broad stick over rough paper."""
    return Nib(size, tone, thin=0.7, pale=0.3, soft=5.0, grain=0.95, tooth=2.6, lean=0.5)


def lifter(size: float, tone: float) -> Nib:
    """Takes ink away; pressure gives width, the edge is a little softer than the pencil's."""
    return Nib(size, tone, thin=0.5, pale=0.6, soft=2.0, grain=0.0, lifts=True)


def soft_lifter(size: float, tone: float) -> Nib:
    """Takes ink away little by little, as a putty does."""
    return Nib(size, tone, thin=0.7, pale=0.1, soft=0.0, grain=0.0, flow=0.1, lifts=True)


NIBS = {
    "pencil": pencil,
    "fineliner": fineliner,
    "marker": marker,
    "mist": mist,
    "grain": grain,
    "lifter": lifter,
    "soft lifter": soft_lifter,
}


def samples_from(data: bytes) -> NDArray[np.float32]:
    """Read (N, 4) float32 x, y (page px), pressure 0 to 1, lean 0 (upright) to 1 (flat), and check them."""
    if not data or len(data) % 16:
        raise HollowMarbleError("The stroke arrived damaged, so it was not drawn. Draw it again.")
    samples = np.frombuffer(data, "<f4").reshape(-1, 4)
    if len(samples) > MOST_SAMPLES:
        raise HollowMarbleError(f"The stroke has more than {MOST_SAMPLES:,} samples. Lift the pen now and then.")
    if not np.isfinite(samples).all() or np.abs(samples[:, :2]).max() > 1e5:
        raise HollowMarbleError("The stroke has a place that is not on any page, so it was not drawn. Draw it again.")
    return samples


def check_work(samples: NDArray[np.float32], nib: Nib, times: int = 1) -> None:
    """Raise where a stroke, drawn so many times over, has more to lay down than a hand would ask of it: it would take seconds."""
    places = samples[:, :2].astype(np.float64)
    length = float(np.hypot(*np.diff(places, axis=0).T).sum()) if len(places) > 1 else 0.0
    dabs = times * (1 + length / max(0.4, 0.125 * nib.size))
    if dabs * (20 + ((1 + LEAN_WIDENS * nib.lean) * nib.size + nib.soft) ** 2) > MOST_WORK:
        raise HollowMarbleError(
            "That is more than one stroke can lay down, so it was not drawn. Lift the pen now and then, or take a smaller nib."
        )


def copies(
    samples: NDArray[np.float32], x: float, y: float, angle: float, mirror: bool, turns: int
) -> list[NDArray[np.float32]]:
    """The stroke's other copies under a symmetry, without the stroke itself.

    x, y : the centre, page px
    angle : radians from the page's x direction to the axis
    mirror : reflect across the axis
    turns : repeat this many times around the centre, 1 for not at all
    """
    c, s = np.cos(2 * angle), np.sin(2 * angle)
    flips = [np.eye(2)] + ([np.array([[c, s], [s, -c]])] if mirror else [])
    found = []
    for turn in range(max(1, turns)):
        t = 2 * np.pi * turn / max(1, turns)
        around = np.array([[np.cos(t), -np.sin(t)], [np.sin(t), np.cos(t)]])
        for flip in flips:
            copy = samples.copy()
            copy[:, :2] = (samples[:, :2].astype(np.float64) - (x, y)) @ (around @ flip).T + (x, y)
            found.append(copy)
    return found[1:]


def bounds(samples: NDArray[np.float32], nib: Nib) -> tuple[int, int, int, int]:
    """Left, top, right, bottom of the pixels a stroke can touch (right and bottom not included)."""
    widest = 1 + LEAN_WIDENS * nib.lean * float(np.clip(samples[:, 3], 0, 1).max())
    reach = nib.size / 2 * widest + nib.soft / 2 + 2
    low = np.floor(samples[:, :2].min(axis=0) - reach).astype(int)
    high = np.ceil(samples[:, :2].max(axis=0) + reach).astype(int)
    return int(low[0]), int(low[1]), int(high[0]), int(high[1])


PATTERNS: dict[str, tuple[float, ...]] = {"plain": (), "split": (8.0, 3.0, 1.2, 3.0), "hidden": (3.5, 3.0)}
"""How a line is broken: lengths of ink and of gaps in turn, in units of the nib's size or 2.5 px, whichever is more."""


def broken(along: NDArray[np.float64], line: str, size: float) -> NDArray[np.float64]:
    """The dabs (M, 4) of a line that are left where it is broken."""
    pattern = PATTERNS[line]
    if not pattern or len(along) < 2:
        return along
    steps = np.hypot(along[1:, 0] - along[:-1, 0], along[1:, 1] - along[:-1, 1])
    at = np.concatenate([[0.0], np.cumsum(steps)]) / max(2.5, size)
    ends = np.cumsum(pattern)
    piece = np.searchsorted(ends, at % ends[-1], side="right")
    return np.asarray(along[piece % 2 == 0])


def pieces(samples: NDArray[np.float32], nib: Nib, line: str) -> list[NDArray[np.float32]]:
    """The unbroken pieces of a line, each as samples (N, 4)."""
    if line == "plain":
        return [samples]
    along = dabs(samples, nib.size, nib.thin)
    left = broken(along, line, nib.size)
    place = {tuple(dab): k for k, dab in enumerate(along)}
    at = np.array([place[tuple(dab)] for dab in left], int)
    return [run.astype(np.float32) for run in np.split(left, np.flatnonzero(np.diff(at) > 1) + 1) if len(run)]


def dabs(samples: NDArray[np.float32], size: float, thin: float) -> NDArray[np.float64]:
    """Dabs (M, 4) float64 x, y, pressure, lean along the samples (N, 4).

    Between the midpoints of neighbouring samples the path is a parabola with the sample as its control point; the
    ends are straight. Steps are a quarter of the radius, at least 0.4 px.
    """
    # one kind of array and of numbers: for every other one the loop would be compiled again, which takes seconds
    found: NDArray[np.float64] = _dabs(np.array(samples, np.float32, order="C"), float(size), float(thin))
    return found


@njit(cache=True, nogil=True)
def _dabs(samples, size, thin):
    out = np.empty((256, 4))
    made = 0
    n = len(samples)
    a, b, c = np.empty(4), np.empty(4), np.empty(4)
    for i in range(n):
        for k in range(4):
            c[k] = samples[i, k]
            a[k] = c[k] if i == 0 else (samples[i - 1, k] + c[k]) / 2
            b[k] = c[k] if i == n - 1 else (samples[i + 1, k] + c[k]) / 2
        length = np.hypot(c[0] - a[0], c[1] - a[1]) + np.hypot(b[0] - c[0], b[1] - c[1])
        radius = size / 2 * (thin + (1 - thin) * c[2])
        steps = int(np.ceil(length / max(0.4, 0.25 * radius)))
        last = 1 if i == n - 1 else 0
        for k in range(steps + last):
            t = k / steps if steps else 0.0
            u = 1 - t
            if made == len(out):
                more = np.empty((2 * made, 4))
                more[:made] = out
                out = more
            for j in range(4):
                out[made, j] = u * u * a[j] + 2 * u * t * c[j] + t * t * b[j]
            made += 1
    return out[:made].copy()
