"""Bodies: one mesh format for every representation, as fine as it is asked for, with keys that stay."""

from __future__ import annotations

import numpy as np
import pytest

from hollow_marble.core.bodies.body import Body
from hollow_marble.core.bodies.cage_body import CageBody, cage_body
from hollow_marble.core.bodies.still_body import StillBody, still_body, still_to_bytes
from hollow_marble.core.cage import starts
from hollow_marble.core.cage.edits import moving, place_points
from hollow_marble.core.cage.insets import inset_faces
from hollow_marble.core.cage.mesh import Cage
from hollow_marble.core.shelf import Shelf
from tests.core.cages import faces_where

SHELF = Shelf(50_000_000)


def box() -> CageBody:
    return cage_body("box", starts.box((60, 30, 90), (2, 2, 3)), "0:box", 3, SHELF)


def tetrahedron() -> StillBody:
    points = np.array([[0, 0, 0], [30, 0, 0], [0, 30, 0], [0, 0, 30.0]])
    triangles = np.array([[0, 2, 1], [0, 1, 3], [0, 3, 2], [1, 2, 3]])
    return still_body("rock", still_to_bytes(points, triangles), SHELF)


@pytest.mark.parametrize("body", [box(), tetrahedron()], ids=["cage", "still"])
def test_every_body_answers_the_same_mesh(body: Body) -> None:
    mesh = body.mesh()
    assert mesh.positions.dtype == np.float32
    assert mesh.triangles.max() == len(mesh.positions) - 1
    assert mesh.patch_starts[-1] == len(mesh.positions)
    assert len(mesh.triangle_patch) == len(mesh.triangles)
    inside = mesh.patch_starts[mesh.triangle_patch][:, None] <= mesh.triangles
    assert (inside & (mesh.triangles < mesh.patch_starts[mesh.triangle_patch + 1][:, None])).all()
    assert mesh.patch_face.max() + 1 == len(mesh.face_keys) == len(set(mesh.face_keys.tolist()))
    assert np.allclose(np.linalg.norm(mesh.normal_vectors(), axis=1), 1, atol=1e-3)
    assert mesh.edges.size == 0 or mesh.edges.max() < len(mesh.positions)
    assert mesh.closed
    points, triangles = mesh.welded()
    edges = len(
        np.unique(
            np.sort(np.concatenate([triangles[:, [0, 1]], triangles[:, [1, 2]], triangles[:, [2, 0]]]), 1), axis=0
        )
    )
    assert len(points) - edges + len(triangles) == 2, "Euler–Poincaré: one closed piece"
    assert body.mesh() is mesh, "made once"


def test_texture_is_in_mm_and_no_triangle_is_torn() -> None:
    """Box mapping: within a patch two points are as far apart on the picture as they are along its two axes."""
    mesh = box().mesh()
    texture = mesh.texture()
    for patch in range(len(mesh.patch_face)):
        rows = slice(mesh.patch_starts[patch], mesh.patch_starts[patch + 1])
        spread = np.ptp(mesh.positions[rows], axis=0)
        across = np.ptp(texture[rows], axis=0)
        assert any(across == pytest.approx(np.delete(spread, axis), abs=1e-4) for axis in range(3))


@pytest.mark.parametrize("tolerance", [0.5, 0.05, 0.005])
def test_a_mesh_is_as_fine_as_it_is_asked_for(tolerance: float) -> None:
    """No point of a much finer mesh lies further than the tolerance from the chord it lies over."""
    body = cage_body("b", starts.box((60, 30, 90), (2, 2, 3)), "0:box", 1, SHELF)
    mesh, finest = body.mesh(tolerance), body.worked_at(6).mesh()
    width, wide = (int(np.sqrt(m.patch_starts[1])) for m in (mesh, finest))
    step = (wide - 1) // (width - 1)
    worst = 0.0
    for patch in range(len(mesh.patch_face)):
        fine = finest.positions[finest.patch_starts[patch] : finest.patch_starts[patch + 1]].reshape(wide, wide, 3)
        for line in (fine[::step], fine[:, ::step].transpose(1, 0, 2)):
            for run in line:
                one, other = np.repeat(run[:-1:step], step, axis=0), np.repeat(run[step::step], step, axis=0)
                along = (other - one) / np.linalg.norm(other - one, axis=1, keepdims=True)
                beside = run[:-1] - one
                beside = beside - (beside * along).sum(axis=1, keepdims=True) * along
                worst = max(worst, float(np.linalg.norm(beside, axis=1).max()))
    assert worst <= tolerance


def test_faces_keep_their_keys_through_steps_that_do_not_make_them() -> None:
    body = box()
    top = faces_where(body.cage, z=45)

    def inset(cage: Cage) -> Cage:
        return inset_faces(cage, top[:1], 3.0, False, None)

    after = body.reshaped("inset", "1:inset", inset)
    before, now = set(body.face_keys.tolist()), set(after.face_keys.tolist())
    assert len(now) == after.cage.face_count
    gone = before - now
    assert gone == {int(body.face_keys[top[0]])}, "only the face that was set in is another one"
    for face, key in enumerate(body.face_keys.tolist()):
        if key in gone:
            continue
        same = after.face_keys.tolist().index(key)
        assert np.allclose(
            body.cage.points[body.cage.face(face)].mean(axis=0), after.cage.points[after.cage.face(same)].mean(axis=0)
        )
    wider = body.reshaped("wider", "1:inset", lambda cage: inset_faces(cage, top[:1], 5.0, False, None))
    assert set(wider.face_keys.tolist()) == now, "other numbers of the step make the same faces"
    moved = after.reshaped("moved", "2:placed", lambda cage: place_points(cage, [0], moving((1, 2, 3)), None, 0))
    assert moved.face_keys is after.face_keys


def test_two_meshes_of_one_connectivity_tell_which_patches_differ() -> None:
    body = box()
    moved = body.reshaped("m", "1:placed", lambda cage: place_points(cage, [0], moving((0, 0, -2)), None, 0))
    unlike = moved.mesh().patches_unlike(body.mesh())
    assert unlike is not None
    assert 0 < len(unlike) < len(body.mesh().patch_face)
    assert body.mesh().patches_unlike(body.mesh()) == pytest.approx([])
    assert tetrahedron().mesh().patches_unlike(body.mesh()) is None


def test_a_body_stood_elsewhere_keeps_its_size_and_its_inside() -> None:
    for body in (box(), tetrahedron()):
        stood = body.stood("s", lambda points: points * [-1, 1, 1] + [5, 0, 0], True)
        assert stood.mesh().size.volume == pytest.approx(body.mesh().size.volume, rel=1e-5)
        assert stood.closed
