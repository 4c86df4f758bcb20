"""A cage and its limit surface as a body."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.bodies.body import Body, BodyMesh, Points, rows_of
from hollow_marble.core.bodies.face_keys import Keys, first_keys, kept_keys
from hollow_marble.core.cage.divisions import Strained, strained_faces
from hollow_marble.core.cage.limit import Limit
from hollow_marble.core.cage.mesh import Cage, cage_from_faces, creases_of, faces_of
from hollow_marble.core.cage.skin import (
    Skin,
    SkinPlan,
    derivatives,
    empty_skin,
    evaluate,
    evaluate_patches,
    grid_triangles,
    plan_skin,
)
from hollow_marble.core.cage.weld import weld
from hollow_marble.core.detail.ground import Ground
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.shelf import Shelf
from hollow_marble.core.solids.patches import patches_of
from hollow_marble.core.solids.solid import Kernel, Solid
from hollow_marble.core.surface.curvature import Bends, averaged, bends_of
from hollow_marble.core.surface.probed import Probed, normals_of

FINEST = 6
_LEAST_SEEN = 3
"""Refinements at which it is told how far off a coarser skin is."""


@dataclass(frozen=True, eq=False)
class CageBody(Body):
    """`level` : refinements it is worked on at; `face_keys` : (F,) of the cage's faces."""

    key: str
    cage: Cage
    face_keys: Keys
    level: int = 3
    shelf: Shelf = field(default_factory=lambda: Shelf(10_000_000), repr=False)

    @property
    def closed(self) -> bool:  # type: ignore[override]
        return bool((self.cage.topology.twin >= 0).all())

    @property
    def control(self) -> Cage:
        return self.cage

    def exact(self, kernel: Kernel) -> Solid:
        return self.shelf.get("exact", self.key, lambda: self._exact(kernel))

    def _exact(self, kernel: Kernel) -> Solid:
        patches = patches_of(self.cage)
        names = tuple(f"skin.{min(int(self.face_keys[face]) for face in faces):x}" for faces in patches.cage_faces)
        solid: Solid = kernel("sculpted", patches, names)
        return solid

    def mesh(self, tolerance: float | None = None) -> BodyMesh:
        level = self.level if tolerance is None else self._level_within(tolerance)
        return self.shelf.get("mesh", (self.key, level), lambda: self._mesh(level))

    def _level_within(self, tolerance: float) -> int:
        seen = self.worked_at(max(self.level, _LEAST_SEEN))
        wanted = level_for(seen.plan(seen.level), seen.mesh().positions, tolerance)
        return min(max(self.level, wanted), FINEST)

    def reshaped(self, key: str, origin: str, change: Callable[[Cage], Cage]) -> CageBody:
        cage = change(self.cage)
        return CageBody(key, cage, kept_keys(self.cage, self.face_keys, cage, origin), self.level, self.shelf)

    def stood(self, key: str, place: Callable[[Points], Points], turned_over: bool) -> CageBody:
        points = place(self.cage.points)
        if not turned_over:
            return CageBody(key, self.cage.moved(points), self.face_keys, self.level, self.shelf)
        cage = cage_from_faces(points, [face[::-1] for face in faces_of(self.cage)], creases_of(self.cage))
        return CageBody(key, cage, self.face_keys, self.level, self.shelf)

    def worked_at(self, level: int) -> CageBody:
        return self if level == self.level else CageBody(self.key, self.cage, self.face_keys, level, self.shelf)

    def preview(self, change: Callable[[Cage], Cage]) -> tuple[Cage, BodyMesh, NDArray[np.int64]]:
        plan, cage = self.plan(self.level), change(self.cage)
        patches = plan.patches_moved_by((cage.points != self.cage.points).any(axis=1))
        skin = empty_skin(plan)
        evaluate_patches(plan, cage.points, patches, skin)
        return cage, self._of(plan, skin, self.level), patches

    def preview_bends(self, cage: Cage, patches: NDArray[np.integer]) -> Bends:
        plan = self.plan(self.level)
        rows = rows_of(plan.point_starts, patches)
        bends = bends_of(derivatives(plan, cage.points, patches))
        return averaged(bends, plan.curved[rows], _grids(plan, patches))

    def finer(
        self, level: int, patches: NDArray[np.int64]
    ) -> tuple[NDArray[np.float32], NDArray[np.int16], NDArray[np.uint32]]:
        plan = self.plan(level)
        if len(patches) and patches.max() >= len(plan.widths):
            raise HollowMarbleError("The part has other faces by now. Look again.")
        skin = empty_skin(plan)
        evaluate_patches(plan, self.cage.points, patches, skin)
        rows = rows_of(plan.point_starts, patches)
        return skin.positions[rows], skin.normals[rows], _grids(plan, patches).astype(np.uint32)

    def probed(self) -> Probed:
        return self.shelf.get("probed", (self.key, self.level), self._probed)

    def _probed(self) -> Probed:
        plan, mesh = self.plan(self.level), self.mesh()
        exact = derivatives(plan, self.cage.points)
        return Probed(
            exact[:, 0],
            normals_of(exact, mesh.normal_vectors()),
            mesh.triangles.astype(np.int64),
            mesh.triangle_faces().astype(np.int64),
            mesh.face_keys,
            mesh.edges.astype(np.int64),
            mesh.joined(),
            exact,
            plan.curved,
            off_chord(plan, mesh.positions) / 4,
            self.closed,
        )

    def ground(self, tolerance: float | None = None) -> Ground:
        body = self if tolerance is None else self.worked_at(self._level_within(tolerance))
        return self.shelf.get("ground", (self.key, body.level), body._ground)

    def _ground(self) -> Ground:
        probed, plan = self.probed(), self.plan(self.level)
        limit = Limit(self.cage, plan)
        wide = np.repeat(plan.widths, np.diff(plan.point_starts))
        inner = np.arange(plan.point_count) - np.repeat(plan.point_starts[:-1], np.diff(plan.point_starts))
        places = np.stack([inner % wide, inner // wide], axis=1).astype(np.float64)

        def placed(triangle: NDArray[np.int64], shares: Points) -> tuple[Points, Points]:
            corners = probed.triangles[triangle]
            at = np.einsum("kc,kcj->kj", shares, places[corners])
            exact = limit.at(plan.triangle_patch[triangle], at)
            instead = np.einsum("kc,kcj->kj", shares, probed.normals[corners])
            return exact[:, 0], normals_of(exact, instead)

        return Ground(probed, placed)

    def row(self, edges: NDArray[np.int64]) -> NDArray[np.int64]:
        topology, steps = self.cage.topology, 2**self.level
        numbers = np.array([topology.edge_number(int(a), int(b)) for a, b in edges])
        if (numbers < 0).any():
            raise HollowMarbleError("An edge of the row is no longer in the cage. Pick the row again.")
        # as `weld` numbers the points along an edge, from the lower of its ends
        low, high = edges.min(axis=1), edges.max(axis=1)
        inner = len(self.cage.points) + numbers[:, None] * (steps - 1) + np.arange(steps - 1)
        runs = np.column_stack([low, inner, high])
        stands = np.empty(int(self.mesh().joined().max()) + 1, np.int64)
        stands[self.mesh().joined()] = np.arange(len(self.mesh().positions))
        return np.asarray(stands[np.stack([runs[:, :-1], runs[:, 1:]], axis=2).reshape(-1, 2)])

    def strained(self) -> list[Strained]:
        plan, mesh = self.plan(self.level), self.mesh()
        return strained_faces(self.cage, plan, Skin(mesh.positions, mesh.normals))

    def anchors(self) -> NDArray[np.int32]:
        """Corners of a face's grids lie over its points: all four of a four-cornered face, the first of each other grid."""
        plan, cage = self.plan(self.level), self.cage
        found = np.full(len(cage.points), -1, np.int32)
        starts, counts = plan.point_starts[:-1], np.diff(plan.point_starts)
        at, quad = cage.face_starts[plan.patch_face], np.diff(cage.face_starts)[plan.patch_face] == 4
        first = np.flatnonzero(np.diff(plan.patch_face, prepend=-1))
        grid = np.arange(len(starts)) - np.repeat(first, np.diff(np.append(first, len(starts))))
        for corner, place in enumerate((0 * counts, plan.widths - 1, counts - 1, counts - plan.widths)):
            found[cage.face_points[at[quad] + corner]] = (starts + place)[quad]
        found[cage.face_points[(at + grid)[~quad]]] = starts[~quad]
        return found

    def plan(self, level: int) -> SkinPlan:
        """The weights of its skin."""
        return self.shelf.get("plan", (self.cage.connectivity_key, level), lambda: plan_skin(self.cage, level))

    def _mesh(self, level: int) -> BodyMesh:
        plan = self.plan(level)
        return self._of(plan, evaluate(plan, self.cage.points), level)

    def _of(self, plan: SkinPlan, skin: Skin, level: int) -> BodyMesh:
        connectivity, cage, shelf = self.cage.connectivity_key, self.cage, self.shelf
        starts, triangle_patch, patch_face, rims = plan.layout
        return BodyMesh(
            f"{self.key}-{level}",
            f"{connectivity}-{level}",
            skin.positions,
            skin.normals,
            plan.triangles,
            starts,
            triangle_patch,
            patch_face,
            self.face_keys,
            rims,
            lambda: shelf.get("weld", (connectivity, level), lambda: weld(cage, plan)),
            self.closed,
        )


def _grids(plan: SkinPlan, patches: NDArray[np.integer]) -> NDArray[np.int64]:
    """(T, 3) triangles of some patches, their points numbered from 0 in the patches' order."""
    first = np.cumsum(np.concatenate([[0], plan.widths[patches] ** 2]))[:-1]
    kinds = {width: grid_triangles(width) for width in np.unique(plan.widths[patches]).tolist()}
    return np.concatenate([kinds[int(plan.widths[patch])] + start for patch, start in zip(patches, first)])


def cage_body(key: str, cage: Cage, origin: str, level: int, shelf: Shelf) -> CageBody:
    """A body that begins with a cage; `origin` names the step that made it."""
    return CageBody(key, cage, first_keys(cage, origin), level, shelf)


def level_for(plan: SkinPlan, positions: NDArray[np.float32], tolerance: float) -> int:
    """Refinements after which a skin's triangles lie within `tolerance` mm of it, from the skin at some level.

    A chord of a smooth curve is off by an amount that a refinement makes four times smaller (the second difference of a cubic
    B-spline, Piegl & Tiller 1997, chapter 5). How far every other point of the grids lies beside the chord of its neighbours is
    that amount one level before; a quarter is added for odd points, where it shrinks more slowly.
    """
    worst = 1.25 * off_chord(plan, positions)
    return plan.level - 1 + max(0, math.ceil(math.log(max(worst / tolerance, 1.0), 4.0)))


def off_chord(plan: SkinPlan, positions: NDArray[np.float32]) -> float:
    """How far, at most, every other point of a skin's grids lies beside the chord of its neighbours, mm."""
    off = 0.0
    for width in np.unique(plan.widths).tolist():
        if width < 3:
            continue
        at = plan.point_starts[:-1][plan.widths == width][:, None] + np.arange(width * width)
        grids = positions[at].reshape(-1, width, width, 3)
        for lines in (grids, grids.transpose(0, 2, 1, 3)):
            one, other = lines[:, :, :-2:2], lines[:, :, 2::2]
            along = (other - one) / np.maximum(np.linalg.norm(other - one, axis=-1, keepdims=True), 1e-12)
            beside = lines[:, :, 1::2] - one
            beside = beside - (beside * along).sum(axis=-1, keepdims=True) * along
            off = max(off, float(np.linalg.norm(beside, axis=-1).max()))
    return off
