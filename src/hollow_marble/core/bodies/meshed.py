"""Closed meshes joined, cut and kept in common (manifold3d): for still bodies, which have no exact faces."""

from __future__ import annotations

from typing import Any, Literal

import numpy as np

from hollow_marble.core.bodies.body import Body
from hollow_marble.core.bodies.still_body import StillBody
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.shelf import Shelf

How = Literal["join", "cut away", "keep common"]


def combined_meshes(key: str, one: Body, other: Body, how: How, shelf: Shelf) -> StillBody:
    """Two bodies combined by their meshes.

    Raises
    ------
    HollowMarbleError
        where one of them is open, or nothing is left.
    """
    a, b = _manifold(one), _manifold(other)
    found = {"join": lambda: a + b, "cut away": lambda: a - b, "keep common": lambda: a ^ b}[how]()
    if found.is_empty():
        raise HollowMarbleError("That leaves nothing: move the parts so that they overlap differently.")
    mesh = found.to_mesh64()
    points = np.ascontiguousarray(mesh.vert_properties[:, :3])
    return StillBody(key, points, mesh.tri_verts.astype(np.uint32), shelf)


def _manifold(body: Body) -> Any:
    import manifold3d

    if not body.closed:
        raise HollowMarbleError("One of the two is open, so it has no inside to combine. Mend it in Surface first.")
    points, triangles = body.mesh().welded()
    found = manifold3d.Manifold(manifold3d.Mesh64(points, triangles.astype(np.uint64)))
    if found.status() != manifold3d.Error.NoError:
        raise HollowMarbleError("One of the two does not close cleanly. Mend it in Surface first.")
    return found
