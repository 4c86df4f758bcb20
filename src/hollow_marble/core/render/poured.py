"""Liquid in a vessel. Where the two touch there is one surface, with glass on its one side and liquid on the other, and no air.

A liquid that is told as a body of its own has a thin gap of air around it, and shines like mercury in its glass. Here it clings to what it
is poured into, and the two are cut along one another into three skins: the vessel against the air, the liquid against the air, and what
lies between them.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.spatial import cKDTree

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.render.scene import Body

CLINGS = 1.0
"""A gap so wide between liquid and vessel is closed, mm."""
INTO = 0.3
"""How far the liquid then reaches into the wall, where it is cut off, mm."""
LEVEL = 0.8
"""Cosine from which a surface that looks up is the liquid's own, and stays where it is."""


def poured(bodies: list[Body]) -> list[Body]:
    """Bodies with each liquid joined to the vessels of glass it touches.

    Raises
    ------
    HollowMarbleError
        where one of the two that touch is not closed.
    """
    liquids = [body for body in bodies if body.surface.made.liquid]
    vessels = [body for body in bodies if body.surface.made.base == "glass" and not body.surface.made.liquid]
    if not liquids or not vessels:
        return bodies
    skins = [body for body in bodies if body not in liquids and body not in vessels]
    touching = [(liquid, [vessel for vessel in vessels if _near(liquid, vessel)]) for liquid in liquids]
    glass = {id(vessel): _Solid.of(vessel) for _, touched in touching for vessel in touched}
    dry, spilt = dict(glass), []
    for liquid, touched in touching:
        if not touched:
            skins.append(liquid)
            continue
        inside, reaching = _Solid.of(liquid), _Solid.of(_clinging(liquid, touched))
        held = reaching
        for vessel in touched:
            held, beyond = (held - glass[id(vessel)]).parted(inside)
            # where it reached through a thin wall, the far side of that is dry all the same
            spilt.append(beyond.skin(glass[id(vessel)], vessel, turned=True))
            dry[id(vessel)] -= reaching
        for vessel in touched:
            between = held.skin(glass[id(vessel)], vessel)
            skins.append(replace(between, normals=-between.normals, surface=liquid.surface, beyond=vessel.surface.made))
        skins.append(held.skin(held, liquid))
    skins += [dry[id(body)].skin(glass[id(body)], body) if id(body) in glass else body for body in vessels]
    return [skin for skin in skins + spilt if len(skin.triangles)]


def _near(liquid: Body, vessel: Body) -> bool:
    low, high = vessel.points.min(axis=0) - CLINGS, vessel.points.max(axis=0) + CLINGS
    return bool((liquid.points.max(axis=0) > low).all() and (liquid.points.min(axis=0) < high).all())


def _clinging(liquid: Body, vessels: list[Body]) -> Body:
    """The liquid with its sides and its bottom pushed into the walls that they nearly touch."""
    walls = np.concatenate([vessel.points[vessel.triangles].reshape(-1, 3) for vessel in vessels])
    middles = np.concatenate([vessel.points[vessel.triangles].mean(axis=1) for vessel in vessels])
    edges = np.concatenate(
        [np.linalg.norm(np.diff(vessel.points[vessel.triangles], axis=1), axis=2).max(axis=1) for vessel in vessels]
    )
    away, nearest = cKDTree(np.concatenate([walls, middles])).query(liquid.points)
    reach = CLINGS + np.concatenate([np.repeat(edges, 3), edges])[nearest] / 2
    # points that lie together move together, and those at the edge of what is level stay as high as they are
    places, which = np.unique(np.round(liquid.points, 3), axis=0, return_inverse=True)
    ways = np.zeros((len(places), 3))
    np.add.at(ways, which, liquid.normals * (liquid.normals[:, 2] < LEVEL)[:, None])
    ways /= np.maximum(np.linalg.norm(ways, axis=1, keepdims=True), 1e-9)
    near = np.zeros(len(places), bool)
    np.logical_or.at(near, which, away < reach)
    points = liquid.points + (CLINGS + INTO) * (ways * near[:, None])[which]
    return replace(liquid, points=points.astype(np.float32))


@dataclass(frozen=True, eq=False)
class _Solid:
    """A closed body that can be cut by another, its normals and texture carried along."""

    solid: Any
    ident: int

    @classmethod
    def of(cls, body: Body) -> _Solid:
        import manifold3d

        texture = body.texture if body.texture is not None else np.zeros((len(body.points), 2), np.float32)
        rows = np.ascontiguousarray(np.hstack([body.points, body.normals, texture]), np.float32)
        ident = manifold3d.Manifold.reserve_ids(1)
        mesh = manifold3d.Mesh(
            rows,
            np.ascontiguousarray(body.triangles, np.uint32),
            run_index=np.array([0, 3 * len(body.triangles)], np.uint32),
            run_original_id=np.array([ident], np.uint32),
        )
        mesh.merge()
        solid = manifold3d.Manifold(mesh)
        if solid.status() != manifold3d.Error.NoError or solid.is_empty():
            raise HollowMarbleError(
                "What is poured in and its vessel have to be closed for the picture to tell where the one ends. Close both in Form, "
                "or choose another finish."
            )
        return cls(solid, ident)

    def __sub__(self, other: _Solid) -> _Solid:
        return _Solid(self.solid - other.solid, self.ident)

    def parted(self, other: _Solid) -> tuple[_Solid, _Solid]:
        """The pieces of it that another has a share in, and those that it has none in."""
        import manifold3d

        pieces = self.solid.decompose()
        shared = [not (piece ^ other.solid).is_empty() for piece in pieces]
        both = ([p for p, has in zip(pieces, shared, strict=True) if has is which] for which in (True, False))
        one, rest = (_Solid(manifold3d.Manifold.compose(some), self.ident) for some in both)
        return one, rest

    def skin(self, of: _Solid, body: Body, *, turned: bool = False) -> Body:
        """What of its surface comes from a body; `turned` looks the other way, as what was cut off by the body does."""
        mesh = self.solid.to_mesh()
        runs = list(zip(mesh.run_original_id, mesh.run_index[:-1], mesh.run_index[1:], strict=True))
        pieces = [mesh.tri_verts[begin // 3 : end // 3] for ident, begin, end in runs if ident == of.ident]
        triangles = np.concatenate(pieces) if pieces else np.zeros((0, 3), np.uint32)
        used, numbers = np.unique(triangles, return_inverse=True)
        rows: NDArray[np.float32] = np.asarray(mesh.vert_properties, np.float32)[used]
        return replace(
            body,
            points=rows[:, :3],
            normals=rows[:, 3:6] / np.maximum(np.linalg.norm(rows[:, 3:6], axis=1, keepdims=True), 1e-9),
            triangles=numbers.reshape(-1, 3)[:, :: -1 if turned else 1].astype(np.uint32),
            texture=rows[:, 6:8] if body.texture is not None else None,
        )
