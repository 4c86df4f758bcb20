"""Weights from the control points around a cage face to its piece of the limit surface.

The neighbourhood is refined by the Catmull-Clark rules, keeping only the face's own region and the faces that touch
it, then masks take every grid point to the limit. Weights are dense: a face has a few dozen control points.

A face of four corners gives one grid of (2^level + 1)^2 points; a face of n corners gives n grids at half that width.
"""

from __future__ import annotations

import numpy as np
from numba import njit
from numpy.typing import NDArray

from hollow_marble.core.cage.masks import corner_point, crease_point, crease_second, regular_second, smooth_point
from hollow_marble.core.cage.mesh import SHARP
from hollow_marble.core.cage.neighbourhood import CODE, MOST_AROUND

ROWS = 6
"""Position, two tangents, three second derivatives."""

MOST_SPOKES = MOST_AROUND + 1


def grid_width(corners: int, level: int) -> int:
    """Points along one side of each grid of a face."""
    return int(2**level + 1 if corners == 4 else 2 ** (level - 1) + 1)


def limit_stencils(reading: NDArray[np.int64], level: int) -> tuple[NDArray[np.float64], NDArray[np.bool_]]:
    """Weights for one reading.

    Returns
    -------
    weights : (grids, width * width, 6, K) float64
    curved : (grids, width * width) bool, where the second derivatives are exact; elsewhere they are zero
    """
    corners, count = int(reading[0]), int(reading[1])
    grids = 1 if corners == 4 else corners
    width = grid_width(corners, level)
    weights = np.zeros((grids, width * width, ROWS, count))
    curved = np.zeros((grids, width * width), np.bool_)
    _refine(reading, level, width, weights, curved, SHARP, CODE)
    return weights, curved


@njit(cache=True, nogil=True)
def unread(reading, code):
    """Where each face of a reading begins (F + 1,), the points of all of them (H,), the sharpness of their edges (H,) and of the points
    (K,)."""
    count, faces = reading[1], reading[2]
    starts = np.zeros(faces + 1, np.int64)
    place = 3
    for f in range(faces):
        starts[f + 1] = starts[f] + reading[place]
        place += reading[place] + 1
    points_of = np.empty(starts[faces], np.int64)
    place = 3
    for f in range(faces):
        for c in range(reading[place]):
            points_of[starts[f] + c] = reading[place + 1 + c]
        place += reading[place] + 1
    sharpness = np.empty(starts[faces])
    for h in range(starts[faces]):
        sharpness[h] = reading[place + h] / code
    place += starts[faces]
    corner = np.empty(count)
    for p in range(count):
        corner[p] = reading[place + p] / code
    return starts, points_of, sharpness, corner


@njit(cache=True, nogil=True)
def _refine(reading, level, width, out, curved, sharp, code):
    size, count = reading[0], reading[1]
    starts, points_of, sharpness, corner = unread(reading, code)
    rows = np.eye(count)
    inner = 1  # faces 0..inner-1 are the face's own region
    patch = np.zeros(1, np.int64)
    gx = np.zeros((1, 4), np.int64)
    gy = np.zeros((1, 4), np.int64)
    n = width - 1
    gx[0, 1], gx[0, 2], gy[0, 2], gy[0, 3] = n, n, n, n
    for step in range(level):
        split = step == 0 and size != 4
        starts, points_of, sharpness, corner, rows, inner, patch, gx, gy = refine_once(
            starts, points_of, sharpness, corner, rows, inner, patch, gx, gy, split, n, sharp
        )
    limit_places(starts, points_of, sharpness, corner, rows, inner, patch, gx, gy, width, out, curved)


@njit(cache=True, nogil=True)
def _twins(starts, points_of, point_count):
    """(next, previous, twin, face) of every half-edge, and one leaving half-edge a point (open first)."""
    faces = len(starts) - 1
    total = starts[faces]
    following = np.empty(total, np.int64)
    previous = np.empty(total, np.int64)
    face_of = np.empty(total, np.int64)
    twin = np.full(total, -1, np.int64)
    newest = np.full(point_count, -1, np.int64)
    chain = np.full(total, -1, np.int64)
    for f in range(faces):
        a, b = starts[f], starts[f + 1]
        for h in range(a, b):
            following[h] = h + 1 if h + 1 < b else a
            previous[h] = h - 1 if h > a else b - 1
            face_of[h] = f
            p = points_of[h]
            chain[h] = newest[p]
            newest[p] = h
    for h in range(total):
        if twin[h] >= 0:
            continue
        p, q = points_of[h], points_of[following[h]]
        other = newest[q]
        while other >= 0:
            if points_of[following[other]] == p:
                twin[h], twin[other] = other, h
                break
            other = chain[other]
    leaving = np.full(point_count, -1, np.int64)
    for h in range(total):
        p = points_of[h]
        if leaving[p] < 0 or twin[h] < 0:
            leaving[p] = h
    return following, previous, twin, face_of, leaving


@njit(cache=True, nogil=True)
def refine_once(starts, points_of, sharpness, corner, rows, inner, patch, gx, gy, split, n, sharp):  # noqa: C901 — one compiled loop
    faces = len(starts) - 1
    count, width = rows.shape
    following, previous, twin, face_of, leaving = _twins(starts, points_of, count)
    inside = np.zeros(count, np.bool_)
    for h in range(starts[inner]):
        inside[points_of[h]] = True
    children = 0
    for h in range(starts[faces]):
        if inside[points_of[h]]:
            children += 1
    new_rows = np.zeros((4 * children, width))
    new_corner = np.zeros(4 * children)
    made = 0
    face_row = np.full(faces, -1, np.int64)
    edge_row = np.full(starts[faces], -1, np.int64)
    point_row = np.full(count, -1, np.int64)
    centres = np.zeros((faces, width))
    for f in range(faces):
        for h in range(starts[f], starts[f + 1]):
            for k in range(width):
                centres[f, k] += rows[points_of[h], k]
        for k in range(width):
            centres[f, k] /= starts[f + 1] - starts[f]
    child_points = np.empty(4 * children, np.int64)
    child_sharp = np.zeros(4 * children)
    inner_children = starts[inner]
    new_patch = np.zeros(inner_children, np.int64)
    new_gx = np.zeros((inner_children, 4), np.int64)
    new_gy = np.zeros((inner_children, 4), np.int64)
    child = 0
    for f in range(faces):
        for h in range(starts[f], starts[f + 1]):
            p = points_of[h]
            if not inside[p]:
                continue
            if point_row[p] < 0:
                point_row[p] = made
                new_corner[made] = _decayed(corner[p], sharp)
                _point_rule(
                    new_rows[made],
                    p,
                    rows,
                    centres,
                    points_of,
                    following,
                    previous,
                    twin,
                    face_of,
                    leaving,
                    sharpness,
                    corner[p],
                    sharp,
                )
                made += 1
            before = previous[h]
            for half in (h, before):
                if edge_row[half] < 0:
                    edge_row[half] = made
                    if twin[half] >= 0:
                        edge_row[twin[half]] = made
                    _edge_rule(
                        new_rows[made], half, rows, centres, points_of, following, twin, face_of, sharpness[half]
                    )
                    made += 1
            if face_row[f] < 0:
                face_row[f] = made
                new_rows[made] = centres[f]
                made += 1
            base = 4 * child
            child_points[base] = point_row[p]
            child_points[base + 1] = edge_row[h]
            child_points[base + 2] = face_row[f]
            child_points[base + 3] = edge_row[before]
            child_sharp[base] = _decayed(sharpness[h], sharp)
            child_sharp[base + 3] = _decayed(sharpness[before], sharp)
            if f < inner:
                if split:
                    new_patch[child] = h - starts[f]
                    new_gx[child, 1], new_gx[child, 2], new_gy[child, 2], new_gy[child, 3] = n, n, n, n
                else:
                    c = h - starts[f]
                    d, e, g = (c + 1) % 4, (c + 2) % 4, (c + 3) % 4
                    new_patch[child] = patch[f]
                    # the child keeps the parent's sense of u and v: its corners are stored as points of the grid
                    new_gx[child, 0], new_gy[child, 0] = gx[f, c], gy[f, c]
                    new_gx[child, 1], new_gy[child, 1] = (gx[f, c] + gx[f, d]) // 2, (gy[f, c] + gy[f, d]) // 2
                    new_gx[child, 2], new_gy[child, 2] = (gx[f, c] + gx[f, e]) // 2, (gy[f, c] + gy[f, e]) // 2
                    new_gx[child, 3], new_gy[child, 3] = (gx[f, c] + gx[f, g]) // 2, (gy[f, c] + gy[f, g]) // 2
            child += 1
    new_starts = np.arange(children + 1) * 4
    return (
        new_starts,
        child_points,
        child_sharp,
        new_corner[:made].copy(),
        new_rows[:made].copy(),
        inner_children,
        new_patch,
        new_gx,
        new_gy,
    )


@njit(cache=True, nogil=True)
def _decayed(value, sharp):
    if value >= sharp:
        return sharp
    return max(value - 1.0, 0.0)


@njit(cache=True, nogil=True)
def _edge_rule(out, half, rows, centres, points_of, following, twin, face_of, sharpness):
    a, b = points_of[half], points_of[following[half]]
    mix = min(sharpness, 1.0)
    if twin[half] < 0:
        mix = 1.0
    for k in range(len(out)):
        middle = 0.5 * (rows[a, k] + rows[b, k])
        if mix >= 1.0:
            out[k] = middle
        else:
            smooth = 0.5 * middle + 0.25 * (centres[face_of[half], k] + centres[face_of[twin[half]], k])
            out[k] = mix * middle + (1 - mix) * smooth


@njit(cache=True, nogil=True)
def _point_rule(  # noqa: C901 — one compiled loop
    out, p, rows, centres, points_of, following, previous, twin, face_of, leaving, sharpness, corner, sharp
):
    """Smooth, crease or corner rule by the number of sharp spokes; blended while a sharpness runs out below 1."""
    start = leaving[p]
    half = start
    valence = 0
    sharp_now = 0
    sharp_next = 0
    fading = 0
    fade = 0.0
    first, second = -1, -1  # neighbours along the sharp spokes now
    first_next, second_next = -1, -1
    open_fan = twin[start] < 0
    neighbours = np.empty(MOST_SPOKES, np.int64)
    ring_faces = np.empty(MOST_SPOKES, np.int64)
    face_total = 0
    while True:
        neighbours[valence] = points_of[following[half]]
        ring_faces[face_total] = face_of[half]
        face_total += 1
        s = sharpness[half]
        before = previous[half]
        last = twin[before] < 0
        for spoke in range(2 if last else 1):
            if spoke == 1:
                valence += 1
                neighbours[valence] = points_of[before]
                s = sharpness[before]
            if s > 0:
                sharp_now += 1
                if first < 0:
                    first = neighbours[valence]
                else:
                    second = neighbours[valence]
                if _decayed(s, sharp) > 0:
                    sharp_next += 1
                    if first_next < 0:
                        first_next = neighbours[valence]
                    else:
                        second_next = neighbours[valence]
                else:
                    fading += 1
                    fade += min(s, 1.0)
        valence += 1
        if last:
            break
        half = twin[before]
        if half == start:
            break
    corner_next = _decayed(corner, sharp)
    if corner > 0 and corner_next == 0:
        fading += 1
        fade += min(corner, 1.0)
    rule_now = 2 if corner > 0 or sharp_now > 2 else (1 if sharp_now == 2 else 0)
    rule_next = 2 if corner_next > 0 or sharp_next > 2 else (1 if sharp_next == 2 else 0)
    if open_fan and rule_now == 0:
        rule_now = 1
    mix = 1.0
    if rule_now != rule_next and fading:
        mix = fade / fading
    _add_rule(out, rule_now, mix, p, first, second, neighbours, valence, ring_faces, face_total, rows, centres)
    if mix < 1.0:
        _add_rule(
            out,
            rule_next,
            1 - mix,
            p,
            first_next,
            second_next,
            neighbours,
            valence,
            ring_faces,
            face_total,
            rows,
            centres,
        )


@njit(cache=True, nogil=True)
def _add_rule(out, rule, weight, p, first, second, neighbours, valence, ring_faces, face_total, rows, centres):
    if rule == 2:
        for k in range(len(out)):
            out[k] += weight * rows[p, k]
    elif rule == 1:
        for k in range(len(out)):
            out[k] += weight * (0.75 * rows[p, k] + 0.125 * (rows[first, k] + rows[second, k]))
    else:
        inverse = 1.0 / (valence * valence)
        for k in range(len(out)):
            total = 0.0
            for i in range(valence):
                total += rows[neighbours[i], k]
            for i in range(face_total):
                total += centres[ring_faces[i], k]
            out[k] += weight * (total * inverse + (valence - 2) / valence * rows[p, k])


@njit(cache=True, nogil=True)
def limit_places(starts, points_of, sharpness, corner, rows, inner, patch, gx, gy, width, out, curved):
    count, weights = rows.shape
    following, previous, twin, _face_of, _leaving = _twins(starts, points_of, count)
    done = np.zeros((out.shape[0], width * width), np.bool_)
    spokes = np.empty((MOST_SPOKES, weights))
    corners = np.empty((MOST_SPOKES, weights))
    for f in range(inner):
        for c in range(4):
            spot = gy[f, c] * width + gx[f, c]
            if done[patch[f], spot]:
                continue
            done[patch[f], spot] = True
            half = 4 * f + c
            target = out[patch[f], spot]
            p = points_of[half]
            # direction of the spoke along `half` in the grid: 0 +u, 1 +v, 2 -u, 3 -v
            d = (c + 1) % 4
            dx, dy = gx[f, d] - gx[f, c], gy[f, d] - gy[f, c]
            heading = 0 if dx > 0 else (1 if dy > 0 else (2 if dx < 0 else 3))
            start, faces, kind, turned = _sector(half, following, previous, twin, sharpness, corner[p] > 0)
            _gather(start, faces, kind, following, previous, twin, points_of, rows, spokes, corners)
            first = (heading - turned) % 4
            if kind == 0:
                if faces == 4:
                    _rotate_ring(spokes, corners, first)
                    smooth_point(target, rows[p], spokes, corners, 4)
                    regular_second(target, rows[p], spokes, corners)
                    curved[patch[f], spot] = True
                else:
                    smooth_point(target, rows[p], spokes, corners, faces)
            elif kind == 1:
                crease_point(target, rows[p], spokes, corners, faces)
                if faces == 2:
                    crease_second(target, rows[p], spokes, corners)
                    _turn_frame(target, first)
                    curved[patch[f], spot] = True
            else:
                corner_point(target, rows[p], spokes, faces)


@njit(cache=True, nogil=True)
def _sector(half, following, previous, twin, sharpness, fixed):  # noqa: C901 — one compiled loop
    """The faces around a point that share a smooth surface with the face of `half`.

    Returns the first half-edge of the sector, its number of faces, its kind (0 smooth all round, 1 between two ends
    of a crease, 2 a corner), and how many spokes lie between the first one and `half`.
    """
    total = 0
    sharp_count = 0
    walker = half
    opened = False
    while True:
        total += 1
        if sharpness[walker] > 0:
            sharp_count += 1
        before = previous[walker]
        if twin[before] < 0:
            opened = True
            break
        walker = twin[before]
        if walker == half:
            break
    if opened:
        sharp_count += 1
        walker = half
        while twin[walker] >= 0:
            walker = following[twin[walker]]
            total += 1
            if sharpness[walker] > 0:
                sharp_count += 1
    if sharp_count < 2 and not fixed:
        return half, total, 0, 0
    start = half
    turned = 0
    while sharpness[start] == 0 and twin[start] >= 0 and turned < total:
        start = following[twin[start]]
        turned += 1
    faces = 0
    walker = start
    while True:
        faces += 1
        before = previous[walker]
        if sharpness[before] > 0 or twin[before] < 0:
            break
        walker = twin[before]
        if walker == start:
            break
    kind = 2 if fixed or sharp_count > 2 else 1
    return start, faces, kind, turned


@njit(cache=True, nogil=True)
def _gather(start, faces, kind, following, previous, twin, points_of, rows, spokes, corners):
    walker = start
    for i in range(faces):
        spokes[i] = rows[points_of[following[walker]]]
        corners[i] = rows[points_of[following[following[walker]]]]
        if i == faces - 1:
            if kind != 0:
                spokes[faces] = rows[points_of[previous[walker]]]
            break
        walker = twin[previous[walker]]


@njit(cache=True, nogil=True)
def _rotate_ring(spokes, corners, first):
    """Bring the spoke that points along +u to the front of a ring of four; spoke 0 points along `first`."""
    old_spokes = spokes[:4].copy()
    old_corners = corners[:4].copy()
    for i in range(4):
        spokes[(i + first) % 4] = old_spokes[i]
        corners[(i + first) % 4] = old_corners[i]


@njit(cache=True, nogil=True)
def _turn_frame(target, first):
    """Express tangents and second derivatives taken along heading `first` along +u."""
    for _ in range(first):
        for k in range(target.shape[1]):
            u, v = target[1, k], target[2, k]
            uu, uv, vv = target[3, k], target[4, k], target[5, k]
            target[1, k], target[2, k] = -v, u
            target[3, k], target[4, k], target[5, k] = vv, -uv, uu
