"""A body with details on its skin: what they lie on stays what it is, whatever that is made of."""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.bodies.body import Body, BodyMesh, Points
from hollow_marble.core.bodies.solid_body import face_keys, matrix_of
from hollow_marble.core.cage.mesh import Cage
from hollow_marble.core.detail.beside import SkinLine
from hollow_marble.core.detail.checking import check_folds, check_wall
from hollow_marble.core.detail.cuts import Cut, Surfaced, surfaced
from hollow_marble.core.detail.facets import Facets, facets_of
from hollow_marble.core.detail.ground import Ground
from hollow_marble.core.detail.relief import Moved, Relief, raised
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.shelf import Shelf
from hollow_marble.core.solids.solid import Kernel, Solid
from hollow_marble.core.surface.probed import Probed

_LEFT_OUT = "The details on its skin are not part of its exact faces; takes and meshes have them."


@dataclass(frozen=True, eq=False)
class DetailedBody(Body):
    """`base` : what the details lie on; `reliefs` : what raises and presses it; `cuts` : what takes some of it away;
    `laid` : the line its last step laid, where it did."""

    key: str
    base: Body
    reliefs: tuple[Relief, ...] = ()
    cuts: tuple[Cut, ...] = ()
    laid: SkinLine | None = None
    shelf: Shelf = field(default_factory=lambda: Shelf(10_000_000), repr=False)

    because = "It has details on its skin: what shapes it goes beneath them."

    @property
    def closed(self) -> bool:  # type: ignore[override]
        if any(cut.hollow for cut in self.cuts):
            return self.base.closed
        return self.base.closed and all(cut.edge == "closed" for cut in self.cuts)

    @property
    def told(self) -> tuple[str, ...]:
        return self.base.told

    @property
    def bare(self) -> Body:
        return self.base

    @property
    def control(self) -> Cage | None:
        """That of what the details lie on, as long as they change nothing of its skin."""
        return None if self.made else self.base.control

    def anchors(self) -> NDArray[np.int32]:
        return self.base.anchors()

    @property
    def leads(self) -> Points | None:
        return self.cuts[-1].divider.leads if self.cuts else None

    @property
    def made(self) -> bool:
        """Whether anything changes its skin."""
        return bool(self.reliefs or self.cuts)

    def with_cut(self, key: str, cut: Cut) -> DetailedBody:
        """What a cut leaves of the body.

        Raises
        ------
        HollowMarbleError
            where something is pressed in deeper than the wall it then has; so does `with_relief`.
        """
        check_wall(self.reliefs, (*self.cuts, cut))
        return replace(self, key=key, cuts=(*self.cuts, cut), laid=None)

    def other_side(self, key: str) -> DetailedBody:
        """What its last cut took away.

        Raises
        ------
        HollowMarbleError
            where nothing was cut.
        """
        if not self.cuts:
            raise HollowMarbleError(
                "Nothing is parted off there any more. Take this part out, or part the other one again."
            )
        return replace(self, key=key, cuts=(*self.cuts[:-1], self.cuts[-1].other_side()), laid=None)

    def with_line(self, key: str, line: SkinLine) -> DetailedBody:
        """The body with a line laid on it."""
        return replace(self, key=key, laid=line)

    def with_relief(self, key: str, relief: Relief) -> DetailedBody:
        """The body with one more relief."""
        check_wall((*self.reliefs, relief), self.cuts)
        return replace(self, key=key, reliefs=(*self.reliefs, relief), laid=None)

    def exact(self, kernel: Kernel) -> Solid:
        solid = self.base.exact(kernel)
        if self.cuts:
            raise HollowMarbleError(
                "It was parted off along a line on its skin, which no exact face ends at. Send it out as STL or 3MF, "
                "or part it by a plane as a solid."
            )
        return replace(solid, told=(*solid.told, _LEFT_OUT)) if self.reliefs else solid

    def ground(self, tolerance: float | None = None) -> Ground:
        return self.base.ground(tolerance)

    def worked_at(self, level: int) -> DetailedBody:
        return replace(self, base=self.base.worked_at(level))

    def stood(self, key: str, place: Callable[[Points], Points], turned_over: bool) -> DetailedBody:
        matrix = matrix_of(place)
        moved = Moved(matrix, float(np.cbrt(abs(np.linalg.det(matrix[:, :3])))), turned_over)
        return replace(
            self,
            key=key,
            base=self.base.stood(f"{key}-base", place, turned_over),
            reliefs=tuple(relief.stood(moved) for relief in self.reliefs),
            cuts=tuple(cut.stood(moved) for cut in self.cuts),
            laid=moved.line(self.laid) if self.laid else None,
        )

    def mesh(self, tolerance: float | None = None) -> BodyMesh:
        if not self.made:
            return self.base.mesh(tolerance)
        return replace(self._worked(tolerance).mesh, beneath=lambda: self.base.mesh(tolerance))

    def check(self) -> None:
        if self.made:
            self.mesh()  # what is cut and raised is found out by doing it; whoever looks at it next needs it anyway

    def probed(self) -> Probed:
        if not self.made:
            return self.base.probed()
        return self._worked(None).probed

    def _worked(self, tolerance: float | None) -> Worked:
        flat = self.base.mesh(tolerance)
        name = hashlib.sha256("|".join((flat.key, *(key for key, _ in self._doings))).encode()).hexdigest()
        return self.shelf.get("detailed", name, lambda: self._made(name, flat, tolerance))

    @property
    def _doings(self) -> list[tuple[str, Callable[[Facets], Facets]]]:
        """What refines the ground, and then slices it, one after the other, each by its key: what others had done serves again. How fine it
        is to be does not depend on heights, so that all of that stays where only a height is another one."""
        does: list[Relief | Cut] = [*self.reliefs, *self.cuts]
        found: list[tuple[str, Callable[[Facets], Facets]]] = [(one.fine, one.refined) for one in does]
        return found + [(one.key, one.sliced) for one in does]

    def _made(self, name: str, flat: BodyMesh, tolerance: float | None) -> Worked:
        ground = self.base.ground(tolerance)
        cut: Facets | None = None
        key = flat.key
        for doing, done in self._doings:  # what was cut for the first ones serves again when a later one changes
            key = f"{key}|{doing}"
            before = cut
            cut = self.shelf.get("cut", key, lambda: done(before or facets_of(ground)))  # noqa: B023
        assert cut is not None
        names = [f"{one.names}.relief" for one in self.reliefs] + [f"{one.names}.edge" for one in self.cuts]
        names += [f"{self.cuts[0].names}.inside"] if self.cuts else []
        keys = np.concatenate([flat.face_keys, face_keys(tuple(names))])
        found = raised(cut, self.reliefs)
        check_folds(found, self.reliefs)
        toothed = tuple(number for number, one in enumerate(self.reliefs) if one.flat)
        return Worked(name, cut.ground, surfaced(found, self.cuts, self.base.closed), keys, flat.lined, toothed)


@dataclass(frozen=True, eq=False)
class Worked:
    """A surface in patches: triangles of one face of the body and one region, whose points are their own.

    lined : whether the borders of faces are drawn; toothed : numbers of the reliefs whose borders are not, for they run in and out of teeth
    """

    key: str
    ground: Ground
    surface: Surfaced
    keys: NDArray[np.uint64]
    lined: bool
    toothed: tuple[int, ...] = ()

    @cached_property
    def faces(self) -> NDArray[np.int64]:
        """(T,) the face each triangle belongs to: one of what it lies on, or that of what made it."""
        found = self.surface
        return np.where(found.made >= 0, len(self.ground.probed.face_keys) + found.made, found.below)

    @cached_property
    def _pieces(self) -> tuple[NDArray[np.int64], ...]:
        """The patch of each triangle, in order; triangles in the order of their patches; their corners as points; the vertex of each point;
        one corner that stands for it; where patches begin."""
        found = self.surface
        corners, count = found.corners, len(found.points)
        names = (self.faces * (int(found.below.max()) + 1) + found.below) * (int(found.region.max()) + 1) + found.region
        _, patch = np.unique(names, return_inverse=True)
        patch = patch.reshape(-1)
        order = np.argsort(patch, kind="stable")
        pairs = np.repeat(patch[order], 3) * count + corners[order].ravel()
        named, first, point = np.unique(pairs, return_index=True, return_inverse=True)
        starts = np.searchsorted(named, np.arange(int(patch.max()) + 2) * count)
        return patch[order], order, point.reshape(-1, 3), named % count, first, starts

    @cached_property
    def normals(self) -> Points:
        """(N, 3) at every point."""
        _, order, _, _, first, _ = self._pieces
        return self.surface.normals[order].reshape(-1, 3)[first]

    @cached_property
    def mesh(self) -> BodyMesh:
        """As it is drawn."""
        patch, order, triangles, vertex, _, starts = self._pieces
        packed = np.zeros((len(vertex), 4), np.int16)
        packed[:, :3] = np.rint(self.normals * 32767)
        first = np.searchsorted(patch, np.arange(len(starts) - 1))
        connectivity = hashlib.sha256(triangles.tobytes() + vertex.tobytes()).hexdigest()
        return BodyMesh(
            self.key,
            connectivity,
            self.surface.points[vertex].astype(np.float32),
            packed,
            triangles.astype(np.uint32),
            starts.astype(np.int32),
            patch.astype(np.int32),
            self.faces[order][first].astype(np.int32),
            self.keys,
            self._borders(self.toothed).astype(np.int32) if self.lined else np.empty((0, 2), np.int32),
            lambda: vertex,
            self.surface.closed,
            self.lined,
        )

    @cached_property
    def rims(self) -> NDArray[np.int64]:
        """(E, 2) points along the borders between faces, and along what is open."""
        return self._borders(())

    def _borders(self, beside: tuple[int, ...]) -> NDArray[np.int64]:
        """The same without what borders on some reliefs."""
        _, order, triangles, vertex, _, _ = self._pieces
        sides = np.stack([triangles, np.roll(triangles, -1, axis=1)], axis=2).reshape(-1, 2)
        named = np.sort(vertex[sides], axis=1) @ np.array([len(self.surface.points), 1])
        face = np.repeat(self.faces[order], 3)
        by_name = np.lexsort((face, named))
        names, own = named[by_name], face[by_name]
        begins = np.flatnonzero(np.diff(names, prepend=-1))
        ends = np.append(begins[1:], len(names)) - 1
        border = (own[begins] != own[ends]) | (begins == ends)
        left_out = np.array(beside, np.int64) + len(self.ground.probed.face_keys)
        border &= ~(np.isin(own[begins], left_out) | np.isin(own[ends], left_out))
        return np.asarray(np.concatenate([sides[by_name[begins[border]]], sides[by_name[ends[border]]]]))

    @cached_property
    def probed(self) -> Probed:
        """As probes read it: curvature is an estimate, edges were made so."""
        _, order, triangles, vertex, _, _ = self._pieces
        return Probed(
            self.surface.points[vertex],
            self.normals,
            triangles,
            self.faces[order],
            self.keys,
            self.rims,
            vertex,
            None,
            np.zeros(len(vertex), bool),
            self.ground.probed.tolerance,
            self.surface.closed,
            edged=True,
        )


def detailed(body: Body, key: str, shelf: Shelf) -> DetailedBody:
    """A body that details can be put on."""
    return body if isinstance(body, DetailedBody) else DetailedBody(key, body, shelf=shelf)
