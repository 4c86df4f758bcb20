"""Whether a part can be made: draft and undercuts against a pull, the parting line, wall thickness, weight and whether it stands."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components
from scipy.spatial import ConvexHull, QhullError, cKDTree

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.surface.directions import unit
from hollow_marble.core.surface.finding import Place, at_place
from hollow_marble.core.surface.lines import Lines, level_lines
from hollow_marble.core.surface.probed import Probed

Values = NDArray[np.float64]
Numbers = NDArray[np.int64]

_HIDDEN = 1e-3
"""mm a ray starts above the surface, so that it does not meet where it starts."""

SAFE = 0.01
"""mm its centre of mass is to be within its feet."""

_SMALLEST_SHARE = 2e-5
"""Of the whole area: what is smaller is no region."""


@dataclass(frozen=True)
class Region:
    """A connected piece of a surface: area mm²; place (3,) in it, where it is worst; worst: the value there; reach: mm from the parting line."""

    area: float
    place: Place
    worst: float
    reach: float = 0.0


@dataclass(frozen=True, eq=False)
class Draft:
    """angle (N,) degrees between the surface and the pull: positive where the half that is drawn along the pull lets go of it, negative
    where the other does, 0 where it is along the pull.

    least : degrees, the least of all places that reach further from the parting line than rounding explains
    parting : the line between both halves; undercut (T,) whether neither half lets go; undercuts, steep : regions, largest first
    """

    angle: Values
    least: float
    parting: Lines
    undercut: NDArray[np.bool_]
    undercuts: list[Region]
    steep: list[Region]


def pull_of(way: Values) -> Values:
    """A pull direction of length 1.

    Raises
    ------
    HollowMarbleError
        where it has no length.
    """
    return unit(way, "The pull has no direction. Give one of its numbers another value than 0.")


def draft_angles(probed: Probed, pull: Values) -> Values:
    """(N,) degrees a surface leans from a pull (3,) of length 1."""
    return np.degrees(np.arcsin(np.clip(probed.normals @ pull, -1.0, 1.0)))


def parting_line(probed: Probed, pull: Values) -> Lines:
    """Where the surface turns from one half to the other: where it lies along the pull."""
    return level_lines(probed.triangles, probed.joined, probed.normals @ pull, np.zeros(1))


def draft(probed: Probed, way: Values, wanted: float, near: float = 0.5) -> Draft:
    """Draft against a pull, with `wanted` degrees.

    Near the parting line of a round form the angle passes through nought, as it must; a region is steep where it reaches further than
    `near` mm from that line.

    Raises
    ------
    HollowMarbleError
        where the pull has no length.
    """
    pull = pull_of(way)
    angle = draft_angles(probed, pull)
    parting = parting_line(probed, pull)
    middle = angle[probed.triangles].mean(axis=1)
    hidden = _hidden(probed, pull)
    undercuts = [region for region, _ in _regions(probed, hidden, np.abs(middle))]
    places = parting.bent(probed.points, probed.normals)
    if len(places):
        far = cKDTree(places).query(probed.points[probed.triangles].mean(axis=1))[0]
    else:
        far = np.full(len(probed.triangles), np.inf)
    steep = []
    for region, members in _regions(probed, (np.abs(middle) < wanted) & ~hidden, -np.abs(middle)):
        reach = float(far[members].max())
        if reach > near:
            beyond = members[far[members] > near]
            at = beyond[np.abs(middle[beyond]).argmin()]
            place = probed.points[probed.triangles[at]].mean(axis=0)
            steep.append(Region(region.area, at_place(place), float(np.abs(middle[at])), min(reach, probed.size)))
    beyond = far > near
    least = float(np.abs(middle[beyond]).min()) if beyond.any() else 90.0
    return Draft(angle, least, parting, hidden, undercuts, steep)


def _hidden(probed: Probed, pull: Values) -> NDArray[np.bool_]:
    """(T,) whether a triangle, drawn along the pull of its own half, meets the part again."""
    corners = probed.points[probed.triangles]
    cross = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    size = np.linalg.norm(cross, axis=1, keepdims=True)
    flat = np.divide(cross, size, out=np.zeros_like(cross), where=size > 0)
    lean = flat @ pull
    ways = np.where(lean >= 0, 1.0, -1.0)[:, None] * pull
    met = probed.nearest.met(corners.mean(axis=1) + _HIDDEN * flat, ways, 0.0)
    # what is met within the facets of a rounding is the rounding itself
    slack = 2 * probed.tolerance + 1e-6 * probed.size
    there = np.isfinite(met.distance)
    depth = np.zeros(len(lean))
    depth[there] = np.abs((flat[met.triangle[there]] * ways[there]).sum(axis=1)) * met.distance[there]
    found: NDArray[np.bool_] = there & (depth > slack) & (np.abs(lean) > 1e-6)
    return found


def _regions(probed: Probed, wanted: NDArray[np.bool_], badness: Values) -> list[tuple[Region, Numbers]]:
    """Connected regions of triangles ((T,) bool), largest first, with their triangles; what is next to nothing is left out."""
    chosen = np.flatnonzero(wanted)
    if not len(chosen):
        return []
    corners = probed.joined[probed.triangles[chosen]]
    owner = np.repeat(np.arange(len(chosen)), 3)
    count = int(probed.joined.max()) + 1
    graph = coo_matrix(
        (np.ones(3 * len(chosen)), (owner, len(chosen) + corners.ravel())), shape=(len(chosen) + count,) * 2
    )
    label = connected_components(graph, directed=False)[1][: len(chosen)]
    label = np.unique(label, return_inverse=True)[1]
    area = np.bincount(label, probed.areas[chosen])
    found = []
    least = _SMALLEST_SHARE * float(probed.areas.sum())
    order = np.argsort(label, kind="stable")
    bounds = np.searchsorted(label[order], np.arange(len(area) + 1))
    for k in np.argsort(-area).tolist():
        if area[k] < least:
            continue
        members = chosen[order[bounds[k] : bounds[k + 1]]]
        worst = members[badness[members].argmax()]
        place = probed.points[probed.triangles[worst]].mean(axis=0)
        found.append((Region(float(area[k]), at_place(place), float(badness[worst])), members))
    return found


@dataclass(frozen=True, eq=False)
class Wall:
    """thickness (N,) mm at every point, inf where nothing lies behind it; thinnest : regions below what was wanted, thinnest first."""

    thickness: Values
    thinnest: list[Region]


Told = Callable[[float], None]
"""Hears the share that is done; may raise to give up."""


def _quiet(_: float) -> None:
    """Nobody asks how far it is."""


def wall(probed: Probed, way: Literal["ray", "sphere"], wanted: float, told: Told = _quiet) -> Wall:
    """Thickness everywhere, straight inward or by the largest sphere, and the regions below what is wanted.

    Raises
    ------
    HollowMarbleError
        where the surface is open.
    """
    if not probed.closed:
        raise HollowMarbleError("It is open, so it has no wall. Fill its openings, or leave it out, and try again.")
    # points that patches share are asked once
    _, first, number = np.unique(probed.joined, return_index=True, return_inverse=True)
    measure = wall_by_ray if way == "ray" else wall_by_sphere
    found = []
    for begin in range(0, len(first), _AT_ONCE):
        found.append(measure(probed, first[begin : begin + _AT_ONCE]))
        told(min((begin + _AT_ONCE) / len(first), 1.0))
    thickness = np.concatenate(found)[number]
    return Wall(thickness, thin_regions(probed, thickness, wanted))


_AT_ONCE = 8192
"""Points between two words about how far it is."""


def wall_by_ray(probed: Probed, chosen: Numbers | None = None) -> Values:
    """How far it is straight inward to the other side, (N,) mm or of the (K,) chosen points; inf where nothing is met."""
    at = np.arange(len(probed.points)) if chosen is None else chosen
    start = probed.points[at] - _HIDDEN * probed.normals[at]
    return probed.nearest.met(start, -probed.normals[at], 0.0).distance + _HIDDEN


def wall_by_sphere(probed: Probed, chosen: Numbers | None = None) -> Values:
    """Diameter of the largest sphere inside that touches the surface at a point, (N,) mm or of the (K,) chosen points; inf where nothing
    bounds it. It shrinks until nothing of the surface is within (Ma, Bae & Choi 2012, 3D medial axis point approximation using nearest
    neighbors and the normal field), here with the nearest place of the triangles and not of points."""
    at = np.arange(len(probed.points)) if chosen is None else chosen
    points, inward = probed.points[at], -probed.normals[at]
    across = wall_by_ray(probed, at)
    radius = np.where(np.isfinite(across), across, probed.size) / 2
    left = np.arange(len(at))
    for _ in range(24):
        middle = points[left] + radius[left, None] * inward[left]
        found = probed.nearest.closest(middle)
        way = points[left] - found.place
        square = (way * way).sum(axis=1)
        into = -(way * inward[left]).sum(axis=1)
        with np.errstate(divide="ignore", invalid="ignore"):
            smaller = square / (2 * into)
        # it may reach through as far as the triangles lie within the surface: the facets beside the point itself do
        within = radius[left] - found.distance > 2 * probed.tolerance + 1e-6 * probed.size
        shrinks = within & (into > 0) & (smaller < radius[left])
        if not shrinks.any():
            break
        radius[left[shrinks]] = smaller[shrinks]
        left = left[shrinks]
    return np.where(np.isfinite(across), 2 * radius, np.inf)


def thin_regions(probed: Probed, thickness: Values, wanted: float) -> list[Region]:
    """Regions whose thickness (N,) is below what is wanted in mm, thinnest first."""
    least = thickness[probed.triangles].min(axis=1)
    found = [region for region, _ in _regions(probed, least < wanted, -least)]
    turned = [Region(region.area, region.place, -region.worst) for region in found]
    return sorted(turned, key=lambda region: region.worst)


@dataclass(frozen=True)
class Bulk:
    """volume mm³, area mm², centre of mass (3,) mm of matter of one density."""

    volume: float
    area: float
    centre: Place


def bulk(probed: Probed) -> Bulk:
    """Volume and centre of mass inside a closed surface (divergence theorem over its triangles: Mirtich 1996).

    Raises
    ------
    HollowMarbleError
        where the surface is open.
    """
    if not probed.closed:
        raise HollowMarbleError("It is open, so it holds no volume. Fill its openings, or leave it out, and try again.")
    a, b, c = probed.points[probed.triangles].transpose(1, 0, 2)
    six = np.einsum("ij,ij->i", a, np.cross(b, c))
    volume = float(six.sum()) / 6
    if abs(volume) < 1e-12:
        raise HollowMarbleError("It encloses nothing. Look at it with Soundness: it may be flat or inside out.")
    centre = ((a + b + c) * six[:, None]).sum(axis=0) / 24 / volume
    return Bulk(volume, float(probed.areas.sum()), at_place(centre))


@dataclass(frozen=True, eq=False)
class Standing:
    """Whether something stands on the ground beneath it. feet (k, 2) mm, the outline of what touches; margin mm from what is over it to
    the nearest edge of that outline, negative where it falls; tip: degrees it can be leaned before it falls."""

    feet: Values
    margin: float
    tip: float

    @property
    def stands(self) -> bool:
        return self.margin > SAFE


def standing(points: Values, centre: Values, touching: float = 0.05) -> Standing:
    """How points (N, 3) with a centre of mass (3,) stand on a level ground that touches the lowest of them; all within `touching` mm of it
    carry."""
    low = float(points[:, 2].min())
    feet = points[points[:, 2] < low + touching][:, :2]
    over = centre[:2]
    height = max(float(centre[2]) - low, 1e-9)
    try:
        hull = ConvexHull(feet)
        margin = float(-(hull.equations[:, :2] @ over + hull.equations[:, 2]).max())
        outline = feet[hull.vertices]
    except (QhullError, ValueError):  # a point or a line carries nothing
        margin = -float(np.linalg.norm(feet - over, axis=1).min())
        outline = feet[:1]
    return Standing(outline, margin, float(np.degrees(np.arctan2(margin, height))))
