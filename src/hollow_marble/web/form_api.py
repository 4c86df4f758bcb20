"""Forms: meshes, previews while dragging, cages and meshes in open formats."""

from __future__ import annotations

import time
import uuid
from typing import Annotated, Any, Literal

import numpy as np
from flask import Response
from flask_openapi3 import APIBlueprint, FileStorage, Tag
from pydantic import BaseModel, ConfigDict, Field

from hollow_marble.core.cage.divisions import strained_faces
from hollow_marble.core.cage.picks import How, Kind, picked_more
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.edit import find
from hollow_marble.documents.form.changes import FittedRow, PlacedPoints, SlidRow
from hollow_marble.documents.form.edits import StartPart
from hollow_marble.documents.form.evaluation import Shaped
from hollow_marble.documents.form.following import tracked
from hollow_marble.documents.form.model import Form, Part
from hollow_marble.documents.form.starts import ImportedStart, StillStart, cage_to_json
from hollow_marble.documents.form.still import StillBody, still_to_bytes
from hollow_marble.exchange.forms import FORMATS, export
from hollow_marble.exchange.meshes import read_triangles
from hollow_marble.exchange.obj import obj_to_cage
from hollow_marble.exchange.ply import ply_to_cage
from hollow_marble.store.assets import keep_asset
from hollow_marble.web import shapes
from hollow_marble.web.documents_api import commit
from hollow_marble.web.packing import packed
from hollow_marble.web.services import services

api = APIBlueprint("form", __name__, url_prefix="/api/projects/<project>/forms", abp_tags=[Tag(name="form")])


class PreviewRequest(BaseModel):
    step: Annotated[PlacedPoints | SlidRow | FittedRow, Field(discriminator="kind")]


class PickMoreRequest(BaseModel):
    """What is picked, and what more is to be."""

    kind: Kind
    items: Annotated[list[int], Field(min_length=1, max_length=200_000)]
    how: How


class Picked(BaseModel):
    items: list[int]


class NamedPickPath(shapes.InPart):
    pick: str


class TrackedPick(BaseModel):
    """Where a named pick is now, and how many of its items are gone."""

    kind: Kind
    items: list[int]
    gone: int


class StrainedFace(BaseModel):
    """A face with too few divisions; degrees."""

    face: int
    turn: float
    twist: float


class StrainedFaces(BaseModel):
    faces: list[StrainedFace]


class ExportQuery(BaseModel):
    format: Literal["glb", "stl", "ply", "obj", "cage.ply"]
    part: str | None = Field(None, description="one part; all shown parts where it is left out")


class CageForm(BaseModel):
    model_config = ConfigDict(arbitrary_types_allowed=True)
    file: FileStorage
    still: bool = Field(False, description="a body to build against, not a cage to shape")


class AtEdit(BaseModel):
    edit: Annotated[int | None, Field(description="a line of the ledger; the head where it is left out")] = None


@api.get("/<document>/parts/<part>/mesh")
def mesh(path: shapes.InPart) -> Response:
    """A part's cage and skin, packed."""
    began = time.perf_counter()
    _form, part = _part(path)
    evaluator = services().evaluator(services().project(path.project))
    shaped = evaluator.body(part)
    if isinstance(shaped, StillBody):
        return _still_mesh(shaped, began)
    cage, plan = shaped.cage, shaped.plan
    meta = {**_facts(shaped, began), "level": plan.level, "still": False}
    return packed(
        meta,
        {
            "points": cage.points,
            "faceStarts": cage.face_starts.astype(np.int32),
            "facePoints": cage.face_points.astype(np.int32),
            "edges": cage.topology.edges.astype(np.int32),
            "creaseEdges": cage.crease_edges.astype(np.int32),
            "creaseSharpness": cage.crease_sharpness.astype(np.float32),
            "positions": shaped.skin.positions,
            "normals": shaped.skin.normals,
            "triangles": plan.triangles,
            "patchStarts": plan.point_starts.astype(np.int32),
            "patchFace": plan.patch_face.astype(np.int32),
            "trianglePatch": plan.triangle_patch.astype(np.int32),
            "cornerPoints": cage.corner_points.astype(np.int32),
            "cornerSharpness": cage.corner_sharpness.astype(np.float32),
        },
    )


def _still_mesh(body: StillBody, began: float) -> Response:
    none, ints = np.empty((0, 3)), np.empty(0, np.int32)
    facts = {"key": body.key, "milliseconds": (time.perf_counter() - began) * 1000, "faces": 0}
    return packed(
        {**facts, "level": 0, "still": True},
        {
            "points": none,
            "faceStarts": np.zeros(1, np.int32),
            "facePoints": ints,
            "edges": ints,
            "creaseEdges": ints,
            "creaseSharpness": np.empty(0, np.float32),
            "positions": body.skin.positions,
            "normals": body.skin.normals,
            "triangles": body.triangles,
            "patchStarts": np.zeros(1, np.int32),
            "patchFace": ints,
            "trianglePatch": ints,
            "cornerPoints": ints,
            "cornerSharpness": np.empty(0, np.float32),
        },
    )


@api.post("/<document>/parts/<part>/pick", responses={200: Picked})
def pick_more(path: shapes.InPart, body: PickMoreRequest) -> dict[str, Any]:
    """Rows, bands, more, less, all that hangs together, everything else."""
    _form, part = _part(path)
    cage = services().evaluator(services().project(path.project)).cage(part)
    return {"items": picked_more(cage, body.kind, body.items, body.how)}


@api.get("/<document>/parts/<part>/picks/<pick>", responses={200: TrackedPick})
def named_pick(path: NamedPickPath) -> dict[str, Any]:
    """A named pick carried through the steps made since it was kept."""
    _form, part = _part(path)
    found = next((pick for pick in part.picks if pick.name == path.pick), None)
    if found is None:
        raise HollowMarbleError("That pick is no longer kept. Pick anew.")
    if found.steps > len(part.steps):
        raise HollowMarbleError("That pick was kept after steps that have been undone. Pick anew.")
    cages = services().evaluator(services().project(path.project)).cages(part)[found.steps - 1 :]
    items = tracked(cages, found.kind, list(found.items))
    return {"kind": found.kind, "items": items, "gone": len(found.items) - len(items)}


@api.get("/<document>/parts/<part>/divisions", responses={200: StrainedFaces})
def divisions(path: shapes.InPart) -> dict[str, Any]:
    """Faces with too few divisions, worst first."""
    _form, part = _part(path)
    if part.still:
        return {"faces": []}
    shaped = services().evaluator(services().project(path.project)).shaped(part)
    found = strained_faces(shaped.cage, shaped.plan, shaped.skin)
    return {"faces": [{"face": one.face, "turn": one.turn, "twist": one.twist} for one in found]}


@api.post("/<document>/parts/<part>/preview")
def preview(path: shapes.InPart, body: PreviewRequest) -> Response:
    """What a step that only moves points would do, without storing it: cage points and the patches that differ."""
    began = time.perf_counter()
    _, part = _part(path)
    evaluator = services().evaluator(services().project(path.project))
    shaped, patches = evaluator.preview(part, body.step)
    skin = shaped.skin
    every = len(patches) == len(shaped.plan.widths)
    rows = slice(None) if every else _rows(shaped.plan.point_starts, patches)
    return packed(
        _facts(shaped, began, evaluated=False),
        {
            "points": shaped.cage.points.astype(np.float32),
            "patches": patches.astype(np.int32),
            "positions": skin.positions[rows],
            "normals": skin.normals[rows],
        },
    )


@api.get("/<document>/size", responses={200: shapes.SizeShape})
def size(path: shapes.InDocument) -> dict[str, Any]:
    """Extent, volume, weights and counts of the shown parts."""
    began = time.perf_counter()
    project = services().project(path.project)
    form = services().form(project, path.document)
    evaluator = services().evaluator(project)
    found = evaluator.size(form)
    return {
        "width": found.width,
        "depth": found.depth,
        "height": found.height,
        "volume": found.volume,
        "area": found.area,
        "parts": len(form.parts),
        "faces": sum(evaluator.cage(part).face_count for part in form.parts if part.visible and not part.still),
        "grams": evaluator.weights(form),
        "milliseconds": (time.perf_counter() - began) * 1000,
    }


@api.post("/<document>/import", responses={200: shapes.Standing})
def import_cage(path: shapes.InDocument, form: CageForm) -> dict[str, Any]:
    """Bring a cage in from an OBJ or PLY file as a new part; or any OBJ, PLY, STL or glTF mesh as a still body."""
    name = form.file.filename or "cage.obj"
    kind = name.rsplit(".", 1)[-1].lower() if "." in name else ""
    project = services().project(path.project)
    data = form.file.stream.read()
    label = name.rsplit(".", 1)[0][:60] or "Cage"
    start: ImportedStart | StillStart
    if form.still:
        points, triangles = read_triangles(data, kind, name)
        sha = keep_asset(project.database, still_to_bytes(points, triangles), "application/x-npz")
        start = StillStart(mesh=sha, name=label, triangles=len(triangles))
    else:
        if kind not in ("obj", "ply"):
            raise HollowMarbleError(
                f"{name} is neither OBJ nor PLY. Bring a cage in from one of those, or the mesh as a still body."
            )
        cage = obj_to_cage(data, name) if kind == "obj" else ply_to_cage(data, name)
        sha = keep_asset(project.database, cage_to_json(cage), "application/json")
        start = ImportedStart(cage=sha, name=label)
    return commit(project, path.document, StartPart(part=uuid.uuid4().hex[:8], name=label, start=start))


@api.get("/<document>/export")
def export_form(path: shapes.InDocument, query: ExportQuery) -> Response:
    """The skin as glTF, STL or PLY, or a cage as OBJ."""
    project = services().project(path.project)
    form = services().form(project, path.document)
    data = export(form, services().evaluator(project), query.format, query.part)
    name = f"{project.entry.name}.{query.format}"
    headers = {"Content-Disposition": f'attachment; filename="{name}"'}
    return Response(data, mimetype=FORMATS[query.format], headers=headers)


def _part(path: shapes.InPart) -> tuple[Form, Part]:
    form = services().form(services().project(path.project), path.document)
    return form, find(form.parts, path.part, "part")


def _rows(starts: np.ndarray, patches: np.ndarray) -> np.ndarray:
    """Rows of the skin's arrays that the given patches hold, in order."""
    counts = starts[patches + 1] - starts[patches]
    ends = np.cumsum(counts)
    rows: np.ndarray = np.arange(ends[-1] if len(ends) else 0) + np.repeat(starts[patches] - ends + counts, counts)
    return rows


def _facts(shaped: Shaped, began: float, evaluated: bool = True) -> dict[str, Any]:
    facts: dict[str, Any] = {"key": shaped.key, "milliseconds": (time.perf_counter() - began) * 1000}
    if evaluated:
        facts["faces"] = shaped.cage.face_count
    return facts
