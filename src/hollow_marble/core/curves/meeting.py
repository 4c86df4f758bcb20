"""Where flat pieces meet, and the place of a piece that is nearest to a point."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
from scipy.optimize import fsolve, minimize_scalar

from hollow_marble.core.curves.drawing import NEAR
from hollow_marble.core.curves.segments import Array, Segment, Spline

_FINE = 0.02
"""mm a polyline may lie beside its piece while crossings are looked for; they are found exactly afterwards."""


def nearest_on(segment: Segment, place: Array) -> tuple[float, float]:
    """The parameter of the place on a piece nearest to a point (d,), and how far away it is, mm."""
    t = np.linspace(0, 1, 257)
    apart = np.linalg.norm(segment.at(t) - place, axis=1)
    padded = np.concatenate([[np.inf], apart, [np.inf]])
    lowest = np.flatnonzero((apart <= padded[:-2]) & (apart <= padded[2:]))
    # where it passes itself closely, the nearest sample may lie on the other stretch
    lowest = lowest[apart[lowest].argsort()[:3]]
    tries = [_nearest_between(segment, place, t[max(k - 1, 0)], t[min(k + 1, len(t) - 1)]) for k in lowest]
    return min(tries, key=lambda found: found[1])


def _nearest_between(segment: Segment, place: Array, low: float, high: float) -> tuple[float, float]:
    def away(s: float) -> float:
        return float(((segment.at(np.array([s]))[0] - place) ** 2).sum())

    found = minimize_scalar(away, bounds=(low, high), method="bounded", options={"xatol": 1e-12})
    at = float(found.x)
    # squares know a place to half the digits only; where the way there is square to the piece, all of them
    for _ in range(4):
        first, second = segment.along(np.array([at]))[0], segment.bent(np.array([at]))[0]
        between = segment.at(np.array([at]))[0] - place
        bend = float(first @ first + between @ second)
        at = float(np.clip(at - between @ first / bend, low, high)) if bend > 0 else at
    at = min((at, float(found.x), float(low), float(high)), key=away)
    return at, float(np.sqrt(away(at)))


def meetings(one: Segment, other: Segment) -> list[tuple[float, float]]:
    """Parameters (on the first, on the second) at which two pieces cross or touch, in order along the first; to 1e-9 mm."""
    t, line = _sampled(one)
    s, second = _sampled(other)
    a, b = line[:-1, None], line[1:, None]
    c, d = second[None, :-1], second[None, 1:]
    way, over, between = b - a, d - c, c - a
    flat = way[..., 0] * over[..., 1] - way[..., 1] * over[..., 0]
    with np.errstate(divide="ignore", invalid="ignore"):
        u = (between[..., 0] * over[..., 1] - between[..., 1] * over[..., 0]) / flat
        v = (between[..., 0] * way[..., 1] - between[..., 1] * way[..., 0]) / flat
    slack = 0.02  # a chord may fall short of what its piece reaches
    hit = (u > -slack) & (u < 1 + slack) & (v > -slack) & (v < 1 + slack)
    guesses = [(t[i] + u[i, j] * (t[i + 1] - t[i]), s[j] + v[i, j] * (s[j + 1] - s[j])) for i, j in np.argwhere(hit)]
    guesses += [(end, nearest_on(other, one.at(np.array([end]))[0])[0]) for end in (0.0, 1.0)]
    guesses += [(nearest_on(one, other.at(np.array([end]))[0])[0], end) for end in (0.0, 1.0)]
    found: list[tuple[float, float]] = []
    for guess in guesses:
        met = _exactly(one, other, guess)
        if met is not None and all(abs(met[0] - known[0]) + abs(met[1] - known[1]) > 1e-6 for known in found):
            found.append(met)
    return sorted(found)


def _sampled(segment: Segment) -> tuple[Array, Array]:
    breaks = np.unique(segment.knots) if isinstance(segment, Spline) else np.linspace(0, 1, 5)
    bend = np.linalg.norm(segment.bent(np.linspace(0, 1, 33)), axis=1).max()
    pieces = max(1, min(200, int(np.ceil(np.sqrt(bend / (8 * _FINE)) / (len(breaks) - 1)))))
    t = np.concatenate([np.linspace(a, b, pieces + 1)[:-1] for a, b in pairwise(breaks)] + [[1.0]])
    return t, segment.at(t)


def _exactly(one: Segment, other: Segment, guess: tuple[float, float]) -> tuple[float, float] | None:
    """The crossing near a guess; None where there is none on both pieces."""

    def apart(x: Array) -> Array:
        return np.asarray((one.at(np.clip(x[:1], 0, 1)) - other.at(np.clip(x[1:], 0, 1)))[0])

    x = np.clip(np.array(guess), 0, 1)
    if np.abs(apart(x)).max() > NEAR / 10:
        x = np.clip(fsolve(apart, x, xtol=1e-13, full_output=True)[0], 0, 1)
    return (float(x[0]), float(x[1])) if np.abs(apart(x)).max() < NEAR / 10 else None
