"""Where elements stand that are spread over a surface: on a lattice, or evenly at random; their size, height, turn and presence by a grey
picture. Lengths mm, angles radians."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numba import njit
from numpy.typing import NDArray
from scipy.interpolate import LinearNDInterpolator

from hollow_marble.core.detail.beside import SkinLine
from hollow_marble.core.detail.chart import Chart
from hollow_marble.core.detail.ground import Floats, Ground, Spots
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.paths import at_shares

MOST = 100_000
"""Elements of one spread."""
_TRIES = 24
"""Places tried for each that there is room for: enough to come near to the densest that darts thrown at random get."""
JAMMED = 0.547
"""Share of a plane that discs cover which are thrown on it at random until no more fit (Feder 1980)."""


@dataclass(frozen=True, eq=False)
class Grey:
    """A picture laid on a surface: grey (h, w), 0 to 1, over `wide` mm of a chart about its middle; clear beyond its edges."""

    pixels: NDArray[np.floating]
    chart: Chart
    wide: float

    def at(self, spots: Spots) -> Floats:
        """(K,) the grey at spots, between its pixels; NaN where it does not lie."""
        flat, _, there = self.chart.asked(spots)
        tall, across = self.pixels.shape
        scale = across / self.wide
        x = flat[:, 0] * scale + across / 2 - 0.5
        y = tall / 2 - 0.5 - flat[:, 1] * scale
        inside = there & (x >= -0.5) & (x <= across - 0.5) & (y >= -0.5) & (y <= tall - 0.5)
        x, y = np.clip(x, 0, across - 1), np.clip(y, 0, tall - 1)
        i, j = np.minimum(x.astype(int), max(across - 2, 0)), np.minimum(y.astype(int), max(tall - 2, 0))
        right, down = np.minimum(i + 1, across - 1), np.minimum(j + 1, tall - 1)
        s, t = x - i, y - j
        p = self.pixels
        found = (p[j, i] * (1 - s) + p[j, right] * s) * (1 - t) + (p[down, i] * (1 - s) + p[down, right] * s) * t
        return np.where(inside, found, np.nan)


def evenly_at_random(ground: Ground, apart: float, seed: int, kept: NDArray[np.bool_] | None = None) -> Spots:
    """Spots no two of which are nearer than `apart` mm, thrown at random until hardly any more fits, over the triangles of a ground that are
    `kept` ((T,) of it; all where left out).

    Raises
    ------
    HollowMarbleError
        where that would be more than `MOST`, with what would fit.
    """
    probed = ground.probed
    area = probed.areas if kept is None else np.where(kept, probed.areas, 0.0)
    total = float(area.sum())
    expected = JAMMED * total / (np.pi * (apart / 2) ** 2)
    if expected > MOST:
        fits = 2 * np.sqrt(JAMMED * total / (np.pi * MOST))
        raise HollowMarbleError(
            f"{apart:g} mm apart there would be about {expected:,.0f} elements on {total:,.0f} mm²; up to {MOST:,} can be spread. "
            f"Put them {np.ceil(100 * fits) / 100:g} mm apart or more."
        )
    count = int(_TRIES * max(expected, 4))
    rng = np.random.default_rng(seed)
    triangle = np.searchsorted(np.cumsum(area), rng.random(count) * total, "right").clip(0, len(area) - 1)
    a, b = np.sqrt(rng.random(count)), rng.random(count)
    shares = np.stack([1 - a, a * (1 - b), a * b], axis=1)
    spots = ground.spots(triangle, shares)
    return spots[_thrown(np.ascontiguousarray(spots.points), apart)]


@njit(cache=True, nogil=True)
def _thrown(points, apart):
    """Which of points in their order keep their distance from all before them that do."""
    low = np.empty(3)
    wide = np.empty(3, np.int64)
    cell = apart
    for axis in range(3):
        low[axis] = points[:, axis].min()
        wide[axis] = int((points[:, axis].max() - low[axis]) / cell) + 3
    size = 1
    while size < 2 * len(points):
        size *= 2
    head = np.full(size, -1)
    following = np.full(len(points), -1)
    kept = np.zeros(len(points), np.bool_)
    for k in range(len(points)):
        i = int((points[k, 0] - low[0]) / cell) + 1
        j = int((points[k, 1] - low[1]) / cell) + 1
        m = int((points[k, 2] - low[2]) / cell) + 1
        free = True
        for di in range(-1, 2):
            for dj in range(-1, 2):
                for dl in range(-1, 2):
                    key = ((i + di) * wide[1] + j + dj) * wide[2] + m + dl
                    other = head[(key * 2654435761) & (size - 1)]
                    while other >= 0 and free:
                        far = 0.0
                        for axis in range(3):
                            far += (points[k, axis] - points[other, axis]) ** 2
                        if far < apart * apart:
                            free = False
                        other = following[other]
        if free:
            kept[k] = True
            key = ((i * wide[1] + j) * wide[2] + m) * 2654435761 & (size - 1)
            following[k] = head[key]
            head[key] = k
    return kept


def on_lattice(
    ground: Ground, chart: Chart, half: tuple[float, float], apart: float, staggered: bool
) -> tuple[Spots, Floats]:
    """Spots on a square lattice of a chart, or a staggered one, within half a width and half a height about its middle, and the way along the
    surface that its right is there (K, 3).

    Raises
    ------
    HollowMarbleError
        where that would be more than `MOST`.
    """
    step = apart * (np.sqrt(3) / 2 if staggered else 1.0)
    columns, rows = int(2 * half[0] / apart) + 1, int(2 * half[1] / step) + 1
    if columns * rows > MOST:
        fits = np.sqrt(4 * half[0] * half[1] / MOST)
        raise HollowMarbleError(
            f"{apart:g} mm apart there would be {columns * rows:,} elements; up to {MOST:,} can be spread. Put them {np.ceil(100 * fits) / 100:g} mm apart or more."
        )
    i, j = np.meshgrid(np.arange(columns), np.arange(rows))
    x = (i - (columns - 1) / 2) * apart + np.where(staggered & (j % 2 == 1), apart / 2, 0.0)
    y = (j - (rows - 1) / 2) * step
    flat = np.stack([x.ravel(), y.ravel()], axis=1)
    flat = flat[(np.abs(flat) <= np.array(half) + 1e-9).all(axis=1)]
    return placed_flat(ground, chart, flat)


def placed_flat(ground: Ground, chart: Chart, flat: Floats) -> tuple[Spots, Floats]:
    """Spots at flat coordinates (K, 2) of a chart, and the way its right is there (K, 3); what does not lie on it is left out."""
    piece = chart.piece
    places = LinearNDInterpolator(piece.flat, piece.points)(flat)
    there = np.isfinite(places).all(axis=1)
    wanted = flat[there]
    spots, _ = ground.nearest(places[there])
    for _ in range(3):  # what is straight between points of the piece is curved on it
        now, ways, _ = chart.asked(spots)
        spots, _ = ground.nearest(spots.points + np.einsum("ki,kij->kj", wanted - now, ways))
    _, ways, _ = chart.asked(spots)
    return spots, ways[:, 0]


def along(line: SkinLine, ground: Ground, apart: float | None, count: int | None) -> tuple[Spots, Floats]:
    """Spots evenly along a line, about so far apart or so many, and the way it runs there (K, 3)."""
    many = count or max(1, round(line.length / (apart or 1.0)))
    if many > MOST:
        raise HollowMarbleError(
            f"{many:,} elements are more than the {MOST:,} that can be spread. Put them further apart."
        )
    shares = np.arange(many) / many if line.closed else (np.linspace(0, 1, many) if many > 1 else np.array([0.5]))
    places = at_shares(line.spots.points[line.ring], shares)
    ways = at_shares(np.hstack([line.spots.points[line.ring], line.tangents[line.ring]]), shares)[:, 3:]
    spots, _ = ground.nearest(places)
    ways -= (ways * spots.normals).sum(axis=1, keepdims=True) * spots.normals
    return spots, np.asarray(ways / np.maximum(np.linalg.norm(ways, axis=1, keepdims=True), 1e-12))


def level_ways(spots: Spots) -> Floats:
    """(K, 3) the level way to the right along a surface, seen from outside; where it lies level itself, along width."""
    right = np.cross(np.array([0.0, 0.0, 1.0]), spots.normals)
    flat = np.linalg.norm(right, axis=1) < 1e-3
    right[flat] = np.cross([0.0, 1.0, 0.0], spots.normals[flat])
    return np.asarray(right / np.maximum(np.linalg.norm(right, axis=1, keepdims=True), 1e-12))


def standing(
    spots: Spots, right: Floats, size: Floats, height: Floats, turn: Floats, sink: Floats | float = 0.0
) -> Floats:
    """(K, 3, 4) matrices that stand an element on each spot: its up along the normal, its right along `right` turned by `turn` (K,) about it,
    `size` (K,) times as large along the surface and `height` (K,) times as high, `sink` mm below."""
    up = spots.normals
    right = right - (right * up).sum(axis=1, keepdims=True) * up
    right = right / np.maximum(np.linalg.norm(right, axis=1, keepdims=True), 1e-12)
    back = np.cross(up, right)
    c, s = np.cos(turn)[:, None], np.sin(turn)[:, None]
    across, deep = c * right + s * back, c * back - s * right
    origin = spots.points - np.broadcast_to(np.asarray(sink, float), (len(spots),))[:, None] * up
    columns = [across * size[:, None], deep * size[:, None], up * height[:, None], origin]
    return np.stack(columns, axis=2)
