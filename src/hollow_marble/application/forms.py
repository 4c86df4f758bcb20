"""What can be done with a form beside plain edits: numbers of steps changed, files brought in and out, picks asked for."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from hollow_marble.application.editing import Editing, Hand, Made, Proposal
from hollow_marble.application.sheets.strokes import new_id
from hollow_marble.application.workspace import Workspace
from hollow_marble.core.bodies.body import Body, BodyMesh, rows_of
from hollow_marble.core.bodies.still_body import MEDIA as MESH_MEDIA
from hollow_marble.core.bodies.still_body import still_to_bytes
from hollow_marble.core.cage.mesh import Cage
from hollow_marble.core.errors import HollowMarbleError, NotFoundError
from hollow_marble.core.surface.curvature import Bends
from hollow_marble.documents.amend import amended
from hollow_marble.documents.edit import asset_of, find
from hollow_marble.documents.form.edits import ChangeStep, DropStep, StartPart
from hollow_marble.documents.form.evaluation import FormEvaluator
from hollow_marble.documents.form.following import followed, tracked
from hollow_marble.documents.form.model import Form, Part
from hollow_marble.documents.form.starts import ImportedStart, StillStart, cage_to_json
from hollow_marble.exchange.meshes import read_triangles
from hollow_marble.exchange.obj import obj_to_cage
from hollow_marble.exchange.ply import ply_to_cage
from hollow_marble.store.library import Project


def form_of(project: Project, ident: str, edit: int | None = None) -> Form:
    """A form at its head, or at a line of its ledger (0 is the start)."""
    state = project.ledger.state(ident) if edit is None else project.ledger.state(ident, edit or None, at_head=False)
    if not isinstance(state, Form):
        raise HollowMarbleError("That document is not a form.")
    return state


def part_of(project: Project, ident: str, part: str) -> tuple[Form, Part]:
    """A form at its head, and one of its parts."""
    form = form_of(project, ident)
    return form, find(form.parts, part, "part")


def with_followers(edit: Any, form: Form, evaluator: FormEvaluator) -> Any:
    """An edit of an earlier step, with the steps after it carried over to what it makes."""
    if not isinstance(edit, ChangeStep | DropStep):
        return edit
    part = find(form.parts, edit.part, "part")
    if edit.index >= len(part.steps):
        raise HollowMarbleError("That step is no longer in the recipe. Look at the recipe again.")
    step = edit.step if isinstance(edit, ChangeStep) else None
    following = (
        followed(part, edit.index, step, evaluator.after) if part.shaped and edit.index < len(part.bare.steps) else None
    )
    return edit.model_copy(update={"following": following})


def step_of(form: Form, part: str, index: int) -> Any:
    """A step of a part's recipe."""
    recipe = find(form.parts, part, "part").steps
    if index >= len(recipe):
        raise NotFoundError("That step is no longer in the recipe. Look at the recipe again.")
    return recipe[index]


def amend_step(form: Form, part: str, index: int, fields: dict[str, Any], evaluator: FormEvaluator) -> ChangeStep:
    """Other numbers for a step, only those that were changed; later steps follow."""
    edit = ChangeStep(part=part, index=index, step=amended(step_of(form, part, index), fields))
    changed: ChangeStep = with_followers(edit, form, evaluator)
    return changed


def bring_in(editing: Editing, project: Project, ident: str, name: str, data: bytes, still: bool, hand: Hand) -> Made:
    """A cage from an OBJ or PLY file as a new part; or any OBJ, PLY, STL or glTF mesh as a still body."""
    kind = name.rsplit(".", 1)[-1].lower() if "." in name else ""
    label = name.rsplit(".", 1)[0][:60] or "Cage"
    start: ImportedStart | StillStart
    if still:
        points, triangles = read_triangles(data, kind, name)
        asset = asset_of(still_to_bytes(points, triangles), MESH_MEDIA)
        start = StillStart(mesh=asset.sha, name=label, triangles=len(triangles))
    else:
        if kind not in ("obj", "ply"):
            raise HollowMarbleError(
                f"{name} is neither OBJ nor PLY. Bring a cage in from one of those, or the mesh as a still body."
            )
        cage = obj_to_cage(data, name) if kind == "obj" else ply_to_cage(data, name)
        asset = asset_of(cage_to_json(cage), "application/json")
        start = ImportedStart(cage=asset.sha, name=label)
    evaluator = editing.workspace.evaluator(project)
    loaded = FormEvaluator(
        lambda sha: asset.data if sha == asset.sha else evaluator.load(sha), evaluator.shelf, evaluator.kernel
    )

    def compose(form: Form) -> Proposal:
        edit = StartPart(part=new_id(8), name=label, start=start)
        loaded.body(
            edit.applied_to(form).parts[-1]
        )  # says what does not fit; what it makes is on the shelf from here on
        return Proposal(edit, (asset,))

    return editing.make(project, ident, compose, hand)


def named_pick(
    workspace: Workspace, project: Project, ident: str, part_id: str, name: str
) -> tuple[str, list[int], int]:
    """A named pick carried through the steps made since it was kept: its kind, its items, how many are gone."""
    _form, part = part_of(project, ident, part_id)
    found = next((pick for pick in part.picks if pick.name == name), None)
    if found is None:
        raise HollowMarbleError("That pick is no longer kept. Pick anew.")
    if found.steps > len(part.steps):
        raise HollowMarbleError("That pick was kept after steps that have been undone. Pick anew.")
    cages = workspace.evaluator(project).cages(part)[found.steps - 1 :]
    items = tracked(cages, found.kind, list(found.items))
    return found.kind, items, len(found.items) - len(items)


def mesh_since(
    workspace: Workspace, project: Project, ident: str, part_id: str, have: str | None, bare: bool = False
) -> tuple[BodyMesh, NDArray[np.int64] | None, tuple[str, ...]]:
    """The mesh a part is worked on by (without the details on its skin where it is to be `bare`), which of its patches differ from one its asker has (None: all of it is new to them), and what is to
    be known of how it was made."""
    form, part = part_of(project, ident, part_id)
    body = workspace.evaluator(project).body(part.bare if bare else part, form.parts)
    mesh = body.mesh()
    workspace.shelf.put("sent", mesh.key, mesh)
    before = _sent(workspace, have) if have else None
    return mesh, mesh.patches_unlike(before) if before is not None else None, body.told


def copies_of(
    workspace: Workspace, project: Project, ident: str, part_id: str
) -> tuple[str, BodyMesh, NDArray[np.float64], tuple[str, ...]] | None:
    """Of a part that is many of one: the key of its mesh, the mesh of one, (K, 3, 4) where each stands, and what is to be known of it."""
    form, part = part_of(project, ident, part_id)
    evaluator = workspace.evaluator(project)
    body = evaluator.body(part, form.parts)
    found = body.copies()
    return None if found is None else (evaluator.key(part, form.parts), *found, body.told)


def cage_since(
    workspace: Workspace, project: Project, ident: str, part_id: str, have: str | None, bare: bool = False
) -> tuple[Body, str, bool]:
    """A part's body, the name of its cage, and whether its asker has another cage of the same faces; see `mesh_since`."""
    form, part = part_of(project, ident, part_id)
    part = part.bare if bare else part
    evaluator = workspace.evaluator(project)
    body, key = evaluator.body(part, form.parts), evaluator.key(part, form.parts)
    faces = f"{body.control.connectivity_key}-{part.level}" if body.control else ""
    workspace.shelf.put("caged", key, faces)
    return body, key, bool(have) and workspace.shelf.known("caged", have) == faces


def previewed(
    workspace: Workspace, project: Project, ident: str, part_id: str, step: Any, bends: bool = False
) -> tuple[str, Cage, Shown, Bends | None]:
    """What a step that only moves points would do: a name for it by which it is known to be there, the cage, the patches that move, and
    where it is wanted the curvature there."""
    form, part = part_of(project, ident, part_id)
    evaluator = workspace.evaluator(project)
    moved, mesh, patches = evaluator.preview(part, step, form.parts)
    every = len(patches) == len(mesh.patch_face)
    rows = slice(None) if every else rows_of(mesh.patch_starts, patches)
    shown = Shown(mesh.key, patches.astype(np.int32), mesh.positions[rows], mesh.normals[rows])
    key = f"preview-{new_id(16)}"
    workspace.shelf.put("previewed", key, shown)
    found = evaluator.body(part.bare, form.parts).preview_bends(moved, patches) if bends and len(patches) else None
    return key, moved, shown, found


@dataclass(frozen=True)
class Shown:
    """Patches as a preview shows them over the mesh they belong to."""

    base: str
    patches: NDArray[np.int32]
    positions: NDArray[np.float32]
    normals: NDArray[np.int16]


def _sent(workspace: Workspace, key: str) -> BodyMesh | None:
    """What whoever was sent a mesh, or a preview over one, has there."""
    shown: Shown | None = workspace.shelf.known("previewed", key)
    base: BodyMesh | None = workspace.shelf.known("sent", shown.base if shown else key)
    if shown is None or base is None:
        return base
    rows = rows_of(base.patch_starts, shown.patches)
    positions, normals = base.positions.copy(), base.normals.copy()
    positions[rows], normals[rows] = shown.positions, shown.normals
    return replace(base, key=key, positions=positions, normals=normals)
