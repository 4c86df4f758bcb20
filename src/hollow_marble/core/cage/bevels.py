"""Bevelled edges: an edge gives way to a strip of faces, rounded or held tight by rows beside it."""

from __future__ import annotations

import itertools
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.cage.edits import check_edges, without_loose_points
from hollow_marble.core.cage.mesh import Cage, area_vector, creases_of, faces_of
from hollow_marble.core.cage.symmetry import Mates, symmetrised
from hollow_marble.core.errors import HollowMarbleError

MOST_SEGMENTS = 12
Place = NDArray[np.float64]


@dataclass
class _Bevel:
    """New points and faces as they come about.

    corner : by half-edge, the points its corner gives way to (one or several, in the order the face turns)
    runs : by half-edge that leaves a point along a bevelled edge, the points across the strip there, right to left
    kept : an old edge and new points that lie along it beside the end of a strip
    """

    cage: Cage
    width: float
    segments: int
    sharp: bool
    bevelled: NDArray[np.bool_]
    points: list[Place]
    corner: dict[int, list[int]] = field(default_factory=dict)
    runs: dict[int, list[int]] = field(default_factory=dict)
    caps: list[list[int]] = field(default_factory=list)
    kept: list[tuple[int, list[int]]] = field(default_factory=list)

    def add(self, place: Place) -> int:
        self.points.append(np.asarray(place, float))
        return len(self.points) - 1


def _check_numbers(width: float, segments: int, sharp: bool) -> None:
    if width <= 0:
        raise HollowMarbleError("A bevel needs a width above 0 mm.")
    if not 1 <= segments <= MOST_SEGMENTS:
        raise HollowMarbleError(f"A bevel takes 1 to {MOST_SEGMENTS} segments.")
    if sharp and segments % 2:
        raise HollowMarbleError("A sharp bevel keeps the edge in its middle, so it needs an even number of segments.")


def bevel_edges(
    cage: Cage,
    edges: list[tuple[int, int]],
    width: float,
    segments: int = 2,
    sharp: bool = False,
    mates: Mates | None = None,
) -> Cage:
    """Replace edges by strips of faces.

    Each side of an edge moves `width` mm into its face. A round strip is the conic that is tangent to both faces there, a
    circular arc where both sides move equally far (Farin, Curves and Surfaces for CAGD, chapter on conics). A sharp strip
    keeps the edge where it was, with rows beside it that hold the skin close.

    Parameters
    ----------
    segments : faces across the strip, even where it is sharp. Where three and more bevelled edges meet an even number
        gives a corner of four-cornered faces, an odd one a single face.
    """
    check_edges(cage, edges)
    _check_numbers(width, segments, sharp)
    topology = cage.topology
    picked = sorted({topology.edge_number(a, b) for a, b in (edges if mates is None else mates.edges(edges))})
    if (topology.twin[topology.edge_half[picked]] < 0).any():
        raise HollowMarbleError(
            "An open edge has no face on its other side, so there is nothing to bevel. Pick others."
        )
    bevelled = np.zeros(len(topology.edges), bool)
    bevelled[picked] = True
    bevel = _Bevel(cage, width, segments, sharp, bevelled, list(cage.points))
    for point in sorted({int(p) for p in topology.edges[picked].ravel()}):
        _open_point(bevel, point)
    faces = []
    for number, face in enumerate(faces_of(cage)):
        start = int(cage.face_starts[number])
        faces.append([p for k, old in enumerate(face) for p in bevel.corner.get(start + k, [old])])
    points = np.array(bevel.points)
    _check_sound(cage, faces, points)
    creases = creases_of(cage)
    strips = []
    for edge in picked:
        half = int(topology.edge_half[edge])
        here, there = bevel.runs[half], bevel.runs[int(topology.twin[half])][::-1]
        strips += [[here[k], there[k], there[k + 1], here[k + 1]] for k in range(segments)]
        value = creases.pop((int(topology.edges[edge, 0]), int(topology.edges[edge, 1])), None)
        if value and sharp:
            a, b = here[segments // 2], there[segments // 2]
            creases[min(a, b), max(a, b)] = value
    for half in range(len(cage.face_points)):
        a, b = int(cage.face_points[half]), int(cage.face_points[topology.next[half]])
        value = creases.get((min(a, b), max(a, b)))
        if value and not bevelled[topology.edge_of[half]]:
            c = bevel.corner.get(half, [a])[-1]
            d = bevel.corner.get(int(topology.next[half]), [b])[0]
            creases[min(c, d), max(c, d)] = value
    for edge, piece in bevel.kept:
        kept = creases.get((int(topology.edges[edge, 0]), int(topology.edges[edge, 1])), 0.0)
        if kept:
            creases.update({(min(a, b), max(a, b)): kept for a, b in itertools.pairwise(piece)})
    made = without_loose_points(points, faces + strips + bevel.caps, creases)
    return made if mates is None else symmetrised(made, mates.symmetry)


def _fan(cage: Cage, point: int) -> tuple[list[int], int]:
    """Half-edges that leave a point, counter-clockwise; and the last spoke's half-edge towards it where the fan is open."""
    topology = cage.topology
    start = half = int(topology.point_half[point])
    found = []
    while True:
        found.append(half)
        before = int(topology.previous[half])
        half = int(topology.twin[before])
        if half < 0:
            return found, before
        if half == start:
            return found, -1


def _open_point(bevel: _Bevel, point: int) -> None:
    """Give a point's faces their new corners, and its bevelled spokes their runs."""
    cage, topology = bevel.cage, bevel.cage.topology
    halves, closing = _fan(cage, point)
    cut = [bool(bevel.bevelled[topology.edge_of[half]]) for half in halves]
    if closing < 0:
        first = cut.index(True)
        halves, cut = halves[first:] + halves[:first], cut[first:] + cut[:first]
        if sum(cut) == 1:
            _end_inside(bevel, point, halves)
            return
    starts = [k for k, is_cut in enumerate(cut) if is_cut or k == 0]
    sectors = [halves[a:b] for a, b in zip(starts, [*starts[1:], len(halves)])]
    places = []
    for number, sector in enumerate(sectors):
        from_border = closing >= 0 and number == 0 and not cut[0]
        to_border = closing >= 0 and number == len(sectors) - 1
        places.append(bevel.add(_sector_place(bevel, point, sector, from_border, to_border, closing)))
        for half in sector:
            bevel.corner[half] = [places[-1]]
    spokes = [k for k, sector in enumerate(sectors) if bevel.bevelled[topology.edge_of[sector[0]]]]
    through = len(spokes) == 2 and closing < 0
    runs: list[list[int]] = []
    for k in spokes:
        half = sectors[k][0]
        right, left = places[k - 1], places[k]
        if through and runs:
            run = runs[0][::-1]
        else:
            run = _run(bevel, point, half, right, left, through or (closing >= 0 and len(spokes) == 1))
        bevel.runs[half] = run
        runs.append(run)
    if len(spokes) > 2 or (closing >= 0 and len(spokes) > 1):
        _cap(bevel, point, runs, closing < 0)


def _end_inside(bevel: _Bevel, point: int, halves: list[int]) -> None:
    """A single bevelled edge ends at a point that faces lie all around."""
    cage, topology = bevel.cage, bevel.cage.topology
    if len(halves) < 3:
        raise HollowMarbleError("A picked edge ends where only two faces meet. Pick the edge that goes on there too.")
    here = cage.points[point]
    ways = [_unit(cage.points[int(cage.face_points[topology.next[half]])] - here) for half in halves]
    left = bevel.add(here + ways[1] * bevel.width / _sine(ways[0], ways[1]))
    right = bevel.add(here + ways[-1] * bevel.width / _sine(ways[0], ways[-1]))
    run = _run(bevel, point, halves[0], right, left, True)
    middle = bevel.segments // 2
    if bevel.sharp and len(halves) > 3:
        run[middle] = point
    bevel.runs[halves[0]] = run
    bevel.corner[halves[0]] = [left]
    bevel.corner[halves[-1]] = [right]
    beside, behind = int(topology.edge_of[halves[1]]), int(topology.edge_of[halves[-1]])
    if bevel.sharp:
        bevel.kept += [(beside, run[middle:]), (behind, run[: middle + 1])]
    elif len(halves) > 3:
        bevel.kept += [(beside, [point, left]), (behind, [right, point])]
    if len(halves) == 3:
        bevel.corner[halves[1]] = run
        return
    if bevel.sharp:
        bevel.corner[halves[1]] = run[middle:]
        bevel.corner[halves[-2]] = run[: middle + 1]
        return
    bevel.corner[halves[1]] = [point, left]
    bevel.corner[halves[-2]] = [right, point]
    bevel.caps.append([*run, point])


def _sector_place(
    bevel: _Bevel, point: int, sector: list[int], from_border: bool, to_border: bool, closing: int
) -> Place:
    """Where the faces of a sector meet now: `width` mm from the bevelled edges beside it."""
    cage, topology = bevel.cage, bevel.cage.topology
    here = cage.points[point]
    ends = [int(cage.face_points[topology.next[half]]) for half in sector]
    ends.append(int(cage.face_points[topology.previous[sector[-1]]]))
    ways = [_unit(cage.points[end] - here) for end in ends]
    if from_border and to_border:
        return np.array(here)
    if from_border:
        return np.asarray(here + ways[0] * bevel.width / _sine(ways[0], ways[-1]))
    if to_border:
        return np.asarray(here + ways[-1] * bevel.width / _sine(ways[0], ways[-1]))
    if len(sector) == 1:
        normal = _unit(np.cross(ways[0], ways[1]))
        first, second = np.cross(normal, ways[0]), np.cross(ways[1], normal)
        return np.asarray(here + bevel.width * (first + second) / max(1 + float(first @ second), 0.2))
    inner = ways[1:-1]
    mean = _unit(np.mean(inner, axis=0)) if len(inner) % 2 == 0 else inner[len(inner) // 2]
    reach = 0.5 * (bevel.width / _sine(ways[0], mean) + bevel.width / _sine(ways[-1], mean))
    return np.asarray(here + reach * mean)


def _run(bevel: _Bevel, point: int, half: int, right: int, left: int, at_point: bool) -> list[int]:
    """Points across a strip from its right side to its left."""
    cage = bevel.cage
    here = cage.points[point]
    a, b = bevel.points[right], bevel.points[left]
    along = _unit(cage.points[int(cage.face_points[cage.topology.next[half]])] - here)
    control = here if at_point else here + along * float((0.5 * (a + b) - here) @ along)
    found = [right]
    half_chord, side = (
        0.5 * float(np.linalg.norm(a - b)),
        0.5 * float(np.linalg.norm(a - control) + np.linalg.norm(b - control)),
    )
    weight = min(half_chord / max(side, 1e-12), 1.0)
    for k in range(1, bevel.segments):
        if bevel.sharp:
            share = 2 * k / bevel.segments
            found.append(bevel.add(a + share * (control - a) if share <= 1 else control + (share - 1) * (b - control)))
            continue
        # even turns along the arc, not even parameters
        angle = np.arccos(weight)
        t = _even(k / bevel.segments, float(angle))
        u, v, w = (1 - t) ** 2, 2 * t * (1 - t) * weight, t**2
        found.append(bevel.add((u * a + v * control + w * b) / (u + v + w)))
    return [*found, left]


def _even(share: float, half_turn: float) -> float:
    """Parameter of a conic in standard form whose point lies `share` of the way along the arc's turn of 2 half_turn."""
    if half_turn < 1e-9:
        return share
    ratio = np.tan((2 * share - 1) * half_turn / 2) / np.tan(half_turn / 2)
    return float(0.5 * (1 + ratio))


def _cap(bevel: _Bevel, point: int, runs: list[list[int]], closed: bool) -> None:
    """Close the gap between the strips that meet at a point. Run j leads from sector j - 1 to sector j, counter-clockwise."""
    if not closed or bevel.segments == 1 or bevel.segments % 2:
        around = [p for run in runs for p in run[:-1]] + ([] if closed else [runs[-1][-1]])
        bevel.caps.append(around)
        return
    middle = bevel.segments // 2
    mids = [bevel.points[run[middle]] for run in runs]
    here = bevel.cage.points[point]
    mean = np.mean(mids, axis=0)
    # a fifth of the way out: on the sphere where three square edges meet
    centre = bevel.add(here if bevel.sharp else mean + 0.2 * (here - mean))
    spokes = []
    for run in runs:
        a, b = bevel.points[run[middle]], bevel.points[centre]
        inner = [bevel.add(a + (b - a) * k / middle) for k in range(1, middle)]
        spokes.append([run[middle], *inner, centre])
    for j, run in enumerate(runs):
        nxt = (j + 1) % len(runs)
        # corner at the end of this run and the beginning of the next
        low = run[middle:][::-1]  # from the corner back to this run's middle
        side = runs[nxt][: middle + 1]  # from the corner to the next run's middle
        grid = np.full((middle + 1, middle + 1), -1)
        grid[0, :], grid[:, 0] = low, side
        grid[-1, :], grid[:, -1] = spokes[nxt], spokes[j]
        _fill_grid(bevel, grid)
        for r in range(middle):
            for c in range(middle):
                bevel.caps.append([int(grid[r, c]), int(grid[r + 1, c]), int(grid[r + 1, c + 1]), int(grid[r, c + 1])])


def _fill_grid(bevel: _Bevel, grid: NDArray[np.int64]) -> None:
    """Points inside a grid whose rim is there (a bilinearly blended Coons patch)."""
    n = len(grid) - 1

    def at(r: int, c: int) -> Place:
        return bevel.points[int(grid[r, c])]

    for r in range(1, n):
        for c in range(1, n):
            s, t = r / n, c / n
            place = (1 - s) * at(0, c) + s * at(n, c) + (1 - t) * at(r, 0) + t * at(r, n)
            place = place - (1 - s) * ((1 - t) * at(0, 0) + t * at(0, n)) - s * ((1 - t) * at(n, 0) + t * at(n, n))
            grid[r, c] = bevel.add(place)


def _unit(vector: Place) -> Place:
    length = float(np.linalg.norm(vector))
    if length < 1e-12:
        raise HollowMarbleError("A picked edge, or one beside it, has no length. Weld its two points first.")
    return np.asarray(vector / length)


def _sine(a: Place, b: Place) -> float:
    return max(float(np.linalg.norm(np.cross(a, b))), 0.2)


def _check_sound(cage: Cage, faces: list[list[int]], points: Place) -> None:
    """Refuse a bevel so wide that a face turned over."""
    for number, corners in enumerate(faces):
        before = cage.face(number).tolist()
        if corners == before:
            continue
        old, new = area_vector(cage.points[before]), area_vector(points[corners])
        if old @ new <= 0:
            raise HollowMarbleError("The bevel is wider than a face beside it. Make it narrower.")
