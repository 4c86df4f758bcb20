"""A profile turned about an axis: a cage whose skin runs along the drawn line."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy.linalg import solve_banded

from hollow_marble.core.cage.mesh import Cage, cage_from_faces
from hollow_marble.core.cage.skin import evaluate, plan_skin
from hollow_marble.core.cage.starts import MOST_DIVISIONS, MOST_SIDES, bands, check_count, circle
from hollow_marble.core.cage.weld import weld
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.paths import evenly

CLOSE = 1e-7
ROUNDS = 60

ON_AXIS = 0.02
"""A profile's end this near to the axis, as a share of the profile's extent, lies on it."""


def turned(profile: NDArray[np.float64], sides: int, rows: int, closed: bool = False, fit: bool = False) -> Cage:
    """Turn a profile about the z axis.

    The skin passes through `rows + 1` places evenly spaced along the profile and is round to within the spline's own error:
    control points are solved for along the profile (interpolation by a natural cubic B-spline) and lie 3 / (2 + cos(2π/n))
    times as far out as the skin (the limit of n points on a circle).

    Parameters
    ----------
    profile : (k, 2) place across from the axis and height, mm; of one that runs over the axis a half is taken (`half_of`)
    closed : the profile comes round to its beginning, for a ring of that section
    fit : pass through the places at the axis too, where the skin is no spline
    """
    check_count("A turned form", sides, 3, MOST_SIDES)
    check_count("A turned form", rows, 2 + closed, MOST_DIVISIONS)
    profile = np.asarray(profile, float).reshape(-1, 2)
    if len(profile) < 2 or not np.isfinite(profile).all():
        raise HollowMarbleError("A profile needs a line. Draw one beside the axis.")
    profile, closed, _ = half_of(profile, closed)
    extent = float(np.ptp(profile, axis=0).max())
    if extent < 1e-3 or profile[:, 0].max() < 1e-3:
        raise HollowMarbleError("The profile lies on the axis or is too short. Draw it to one side of the axis.")
    if closed:
        profile = np.concatenate([profile, profile[:1]])
    else:
        for end in (0, -1):
            if profile[end, 0] < ON_AXIS * extent:
                profile[end, 0] = 0.0
    through = evenly(profile, rows + 1)
    control = _closed_controls(through[:-1]) if closed else _open_controls(through)
    control = _outside(control, through, closed)
    return _fitted(control, through, sides, closed) if fit else _swept(control, sides, closed)


def half_of(profile: NDArray[np.float64], closed: bool) -> tuple[NDArray[np.float64], bool, bool]:
    """One half of a profile that runs over its own axis, which would make two skins in one place.

    Parameters
    ----------
    profile : (k, 2) place across, on either side of the axis, and height, mm
    closed : it comes round to its beginning

    Returns
    -------
    The profile on one side, distances from the axis 0 and more; whether it still comes round; whether a half was taken. Of several
    pieces the longest counts, on the right where both are as long. What reaches over the axis by less than `ON_AXIS` of the
    extent is drawn up to it.
    """
    across = profile[:, 0]
    slip = ON_AXIS * float(np.ptp(profile, axis=0).max())
    if across.min() >= -slip or across.max() <= slip:
        side = 1.0 if across.max() > -across.min() else -1.0
        return np.column_stack([np.maximum(side * across, 0.0), profile[:, 1]]), closed, False
    line = np.concatenate([profile, profile[:1]]) if closed else profile
    crossed = np.flatnonzero(line[:-1, 0] * line[1:, 0] < 0)
    shares = line[crossed, 0] / (line[crossed, 0] - line[crossed + 1, 0])
    on_axis = line[crossed] + shares[:, None] * (line[crossed + 1] - line[crossed])
    on_axis[:, 0] = 0.0
    line = np.insert(line, crossed + 1, on_axis, axis=0)
    ends = np.flatnonzero(line[:, 0] == 0)
    pieces = np.split(line, ends)
    pieces = [np.concatenate([piece, follow[:1]]) for piece, follow in zip(pieces, [*pieces[1:], line[:0]])]
    if closed:  # the first piece goes on where the last one ends
        pieces = [*pieces[1:-1], np.concatenate([pieces[-1][:-1], pieces[0]])]
    longest = max(pieces, key=lambda piece: (round(_length(piece), 6), piece[:, 0].sum()))
    return np.column_stack([np.abs(longest[:, 0]), longest[:, 1]]), False, True


def _length(line: NDArray[np.float64]) -> float:
    return float(np.hypot(*np.diff(line, axis=0).T).sum())


def _outside(control: NDArray[np.float64], through: NDArray[np.float64], closed: bool) -> NDArray[np.float64]:
    """Controls on their side of the axis, ends as far out as they were drawn."""
    control[:, 0] = np.maximum(control[:, 0], 0.0)
    if not closed:
        control[[0, -1], 0] = through[[0, -1], 0]
    return control


def _fitted(control: NDArray[np.float64], through: NDArray[np.float64], sides: int, closed: bool) -> Cage:
    """The cage whose skin passes through the places also near the axis, where faces meet in a point: each control moves by what the skin
    over it is off, which is less by a third and more each time (the spline's mask is (1, 4, 1) / 6)."""
    wish = through[: len(control)]
    cage = _swept(control, sides, closed)
    plan = plan_skin(cage, 1)
    numbers = weld(cage, plan)
    over = np.empty(len(cage.points), np.int64)
    own = np.flatnonzero(numbers < len(cage.points))
    over[numbers[own]] = own
    poles = [not closed and bool(wish[end, 0] == 0) for end in (0, -1)]
    rings = np.arange(len(control) - sum(poles)) * sides
    low, high = ([len(cage.points) - sum(poles)] * poles[0]), ([len(cage.points) - 1] * poles[1])
    seen = over[
        np.concatenate([low, rings, high]).astype(np.int64)
    ]  # of each control, the skin's point over one of its points
    for _ in range(ROUNDS):
        limit = evaluate(plan, _swept(control, sides, closed).points).positions[seen].astype(float)
        off = wish - np.column_stack([np.hypot(limit[:, 0], limit[:, 1]), limit[:, 2]])
        control = _outside(control + off, wish, closed)
        if np.abs(off).max() < CLOSE * np.ptp(wish):
            break
    return _swept(control, sides, closed)


def _open_controls(through: NDArray[np.float64]) -> NDArray[np.float64]:
    """Control points c with (c[i-1] + 4 c[i] + c[i+1]) / 6 = p[i] inside and c = p at the ends."""
    inner = through[1:-1] * 6
    if not len(inner):
        return through.copy()
    inner[0] -= through[0]
    inner[-1] -= through[-1]
    bands_ = np.ones((3, len(inner)))
    bands_[1] = 4
    return np.concatenate([through[:1], solve_banded((1, 1), bands_, inner), through[-1:]])


def _closed_controls(through: NDArray[np.float64]) -> NDArray[np.float64]:
    count = len(through)
    matrix = 4 * np.eye(count) + np.roll(np.eye(count), 1, axis=0) + np.roll(np.eye(count), -1, axis=0)
    return np.asarray(np.linalg.solve(matrix, 6 * through))


def _swept(control: NDArray[np.float64], sides: int, closed: bool) -> Cage:
    out = circle(sides) * 3 / (2 + np.cos(2 * np.pi / sides))
    poles = [not closed and control[end, 0] < 1e-9 for end in (0, -1)]
    rings = control[int(poles[0]) : len(control) - int(poles[1])]
    if not len(rings):
        raise HollowMarbleError("The profile runs along the axis. Draw it to one side of the axis.")
    points = [np.array([[x * r, y * r, z] for x, y in out]) for r, z in rings]
    faces = bands(sides, len(rings) - 1)
    if closed:
        last = (len(rings) - 1) * sides
        faces += [[last + k, last + (k + 1) % sides, (k + 1) % sides, k] for k in range(sides)]
    count = len(rings) * sides
    for end, first in ((0, 0), (-1, (len(rings) - 1) * sides)):
        if not poles[end]:
            continue
        points.append(np.array([[0.0, 0.0, control[end, 1]]]))
        fan = [[first + (k + 1) % sides, first + k, count] for k in range(sides)]
        faces += fan if end == 0 else [face[::-1] for face in fan]
        count += 1
    if _turns_inward(rings, control, closed):
        faces = [face[::-1] for face in faces]
    return cage_from_faces(np.concatenate(points), faces)


def _turns_inward(rings: NDArray[np.float64], control: NDArray[np.float64], closed: bool) -> bool:
    """Whether faces built with the profile going up would look at the axis."""
    line = np.concatenate([control, control[:1]]) if closed else control
    steps = np.diff(line, axis=0)
    middle = 0.5 * (line[1:] + line[:-1])
    if closed or control[[0, -1], 0].max() < 1e-9:
        # enclosed area to the left of the way up, by Green's theorem: outward where it lies inside
        return float((middle[:, 0] * steps[:, 1]).sum()) < 0
    # an open shell looks away from the axis on the whole, or up where it lies level
    away = float((middle[:, 0] * steps[:, 1]).sum())
    return away < 0 if abs(away) > 1e-9 else float((middle[:, 0] * steps[:, 0]).sum()) > 0
