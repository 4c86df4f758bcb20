"""Forms: meshes and cages, previews while dragging, cages and meshes in open formats."""

from __future__ import annotations

import time
from typing import Annotated, Any, Literal

import numpy as np
from flask import Response
from flask_openapi3 import FileStorage, Tag
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field

from hollow_marble.application import beginning, briefs, checks, driving, forms, sheet_following, throwing
from hollow_marble.core.bodies.body import BodyMesh, rows_of
from hollow_marble.core.cage.mesh import Cage
from hollow_marble.core.cage.picks import How, Kind, picked_more
from hollow_marble.documents.form.changes import FittedRow, PlacedPoints, SlidRow
from hollow_marble.documents.form.evaluation import FormEvaluator
from hollow_marble.exchange.forms import FORMATS
from hollow_marble.web import shapes
from hollow_marble.web.blueprint import Blueprint
from hollow_marble.web.documents_api import project_of, told
from hollow_marble.web.packing import packed
from hollow_marble.web.running import application, hand
from hollow_marble.web.sending import download
from hollow_marble.web.sketch_api import PictureForm

api = Blueprint("form", __name__, url_prefix="/api/projects/<project>/forms", abp_tags=[Tag(name="form")])


class PreviewRequest(BaseModel):
    step: Annotated[PlacedPoints | SlidRow | FittedRow, Field(discriminator="kind")]
    bends: bool = Field(False, description="both principal curvatures of the patches too, 1/mm")


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


class MeshQuery(shapes.Asked):
    have: str | None = Field(
        None, description="key of a mesh of this part that is here already: only what differs is sent"
    )
    edges: bool = Field(False, description="the lines along its edges too, as point numbers")
    bare: bool = Field(False, description="without the details on its skin")


class CageQuery(shapes.Asked):
    have: str | None = Field(None, description="key of a cage of this part that is here already")
    bare: bool = Field(False, description="the cage beneath the details on its skin")


class ExportQuery(shapes.Asked):
    format: Literal["glb", "stl", "3mf", "ply", "skin.obj", "obj", "cage.ply"]
    part: str | None = Field(None, description="one part; all shown parts where it is left out")
    tolerance: float | None = Field(
        None,
        ge=0.001,
        le=10,
        description="mm the skin may be off at most; as fine as it is worked on where it is left out",
    )


class CageForm(BaseModel):
    model_config = ConfigDict(arbitrary_types_allowed=True)
    file: FileStorage
    still: bool = Field(False, description="a body to build against, not a cage to shape")


@api.get("/<document>/parts/<part>/mesh")
def mesh(path: shapes.InPart, query: MeshQuery) -> Response:
    """A part's mesh, packed; where a mesh of the same connectivity is had already, only the patches that differ."""
    began = time.perf_counter()
    workspace = application().workspace
    many = forms.copies_of(workspace, project_of(path), path.document, path.part)
    if many is not None:
        return _copies(*many, began)
    found, unlike, told = forms.mesh_since(
        workspace, project_of(path), path.document, path.part, query.have, query.bare
    )
    meta = {"key": found.key, "connectivity": found.connectivity, "closed": found.closed, "lined": found.lined}
    meta |= {"whole": unlike is None, "told": list(told)}
    arrays: dict[str, NDArray[Any]]
    if unlike is None:
        arrays = {
            "positions": found.positions,
            "normals": found.normals,
            "triangles": found.triangles,
            "patchStarts": found.patch_starts,
            "patchFace": found.patch_face,
            "trianglePatch": found.triangle_patch,
        }
        if query.edges or found.lined:
            arrays["edges"] = found.edges
    else:
        rows = rows_of(found.patch_starts, unlike)
        arrays = {
            "patches": unlike.astype(np.int32),
            "positions": found.positions[rows],
            "normals": found.normals[rows],
        }
    return packed({**meta, "milliseconds": (time.perf_counter() - began) * 1000}, arrays)


def _copies(key: str, one: BodyMesh, matrices: NDArray[np.float64], told: tuple[str, ...], began: float) -> Response:
    """The mesh of one, and where each of many stands (`copies`: (K, 12) rows of their matrices)."""
    meta = {"key": key, "connectivity": f"{len(matrices)}-{one.connectivity}", "closed": one.closed, "lined": False}
    meta |= {"whole": True, "told": list(told), "milliseconds": (time.perf_counter() - began) * 1000}
    arrays: dict[str, NDArray[Any]] = {
        "positions": one.positions,
        "normals": one.normals,
        "triangles": one.triangles,
        "patchStarts": one.patch_starts,
        "patchFace": one.patch_face,
        "trianglePatch": one.triangle_patch,
        "copies": matrices.reshape(-1, 12).astype(np.float32),
    }
    return packed(meta, arrays)


NO_CAGE = Cage(np.empty((0, 3)), np.zeros(1, np.int64), np.empty(0, np.int64))


@api.get("/<document>/parts/<part>/cage")
def cage(path: shapes.InPart, query: CageQuery) -> Response:
    """
    The cage a part is shaped by, packed: no points where it has none. `limitOf` is the mesh point over each of its points. Where a
    cage of the same faces is had already, its faces are left out.
    """
    workspace = application().workspace
    body, key, had = forms.cage_since(workspace, project_of(path), path.document, path.part, query.have, query.bare)
    found = body.control or NO_CAGE
    meta = {"key": key, "faces": body.control.face_count if body.control else 0, "whole": not had}
    arrays: dict[str, NDArray[Any]] = {
        "points": found.points,
        "creaseEdges": found.crease_edges.astype(np.int32),
        "creaseSharpness": found.crease_sharpness.astype(np.float32),
        "cornerPoints": found.corner_points.astype(np.int32),
        "cornerSharpness": found.corner_sharpness.astype(np.float32),
    }
    if not had:
        arrays |= {
            "faceStarts": found.face_starts.astype(np.int32),
            "facePoints": found.face_points.astype(np.int32),
            "edges": found.topology.edges.astype(np.int32) if body.control else np.empty((0, 2), np.int32),
            "limitOf": body.anchors() if body.control else np.empty(0, np.int32),
        }
    return packed(meta, arrays)


@api.get("/<document>/parts/<part>/lines")
def skin_lines(path: shapes.InPart) -> Response:
    """Lines that steps lay on a part's skin, packed: their places and which way is out there, end to end, the number of each one's step, its length in mm."""
    form, part = forms.part_of(project_of(path), path.document, path.part)
    found = _evaluator(path).lines(part, form.parts)
    places = [line.spots.points[line.ring] for _, line in found]
    normals = [line.spots.normals[line.ring] for _, line in found]
    meta = {"steps": [index for index, _ in found], "lengths": [line.length for _, line in found]}
    arrays = {
        "places": np.concatenate([*places, np.empty((0, 3))]).astype(np.float32),
        "normals": np.concatenate([*normals, np.empty((0, 3))]).astype(np.float32),
        "starts": np.cumsum([0, *map(len, places)]).astype(np.int32),
    }
    return packed(meta, arrays)


@api.post("/<document>/parts/<part>/throw", responses={200: shapes.Changed})
def throw_line(path: shapes.InPart, body: throwing.ThrowRequest) -> dict[str, Any]:
    """Lay a touched line of a sheet on a part's skin."""
    return told(path, throwing.throw(application().editing, project_of(path), path.document, path.part, body, hand()))


class Followed(BaseModel):
    """How many steps followed their sheets, and what could not."""

    steps: int
    told: list[str]


@api.post("/<document>/follow", responses={200: Followed})
def follow_sheets(path: shapes.InDocument) -> dict[str, Any]:
    """Let the form follow the sheets it takes lines and paint of."""
    made, said = sheet_following.follow(application().editing, project_of(path), path.document, hand())
    return {"steps": len(made), "told": said}


@api.post("/<document>/parts/<part>/pick", responses={200: Picked})
def pick_more(path: shapes.InPart, body: PickMoreRequest) -> dict[str, Any]:
    """Rows, bands, more, less, all that hangs together, everything else."""
    _form, part = forms.part_of(project_of(path), path.document, path.part)
    return {"items": picked_more(_evaluator(path).cage(part), body.kind, body.items, body.how)}


@api.get("/<document>/parts/<part>/picks/<pick>", responses={200: TrackedPick})
def named_pick(path: NamedPickPath) -> dict[str, Any]:
    """A named pick carried through the steps made since it was kept."""
    workspace = application().workspace
    kind, items, gone = forms.named_pick(workspace, project_of(path), path.document, path.part, path.pick)
    return {"kind": kind, "items": items, "gone": gone}


@api.get("/<document>/parts/<part>/divisions", responses={200: StrainedFaces})
def divisions(path: shapes.InPart) -> dict[str, Any]:
    """Faces with too few divisions, worst first."""
    form, part = forms.part_of(project_of(path), path.document, path.part)
    found = _evaluator(path).body(part, form.parts).strained()
    return {"faces": [{"face": one.face, "turn": one.turn, "twist": one.twist} for one in found]}


@api.post("/<document>/parts/<part>/preview")
def preview(path: shapes.InPart, body: PreviewRequest) -> Response:
    """What a step that only moves points would do, without storing it: cage points and the patches that differ."""
    began = time.perf_counter()
    workspace, project = application().workspace, project_of(path)
    key, moved, shown, bends = forms.previewed(workspace, project, path.document, path.part, body.step, body.bends)
    arrays: dict[str, NDArray[Any]] = {
        "points": moved.points.astype(np.float32),
        "patches": shown.patches,
        "positions": shown.positions,
        "normals": shown.normals,
    }
    if bends is not None:
        arrays |= {"high": bends.high.astype(np.float32), "low": bends.low.astype(np.float32)}
    return packed({"key": key, "milliseconds": (time.perf_counter() - began) * 1000}, arrays)


@api.get("/<document>/size", responses={200: shapes.SizeShape})
def size(path: shapes.InDocument) -> dict[str, Any]:
    """Extent, volume, weights and counts of the shown parts."""
    began = time.perf_counter()
    form = forms.form_of(project_of(path), path.document)
    evaluator = _evaluator(path)
    found = evaluator.size(form)
    return {
        "width": found.width,
        "depth": found.depth,
        "height": found.height,
        "volume": found.volume,
        "area": found.area,
        "parts": len(form.parts),
        "faces": evaluator.faces(form),
        "grams": evaluator.weights(form),
        "milliseconds": (time.perf_counter() - began) * 1000,
    }


@api.post("/<document>/begin", responses={200: shapes.Changed})
def begin_over(path: shapes.InDocument, body: beginning.BeginRequest) -> dict[str, Any]:
    """Pin a view of a sheet behind the form, and begin a part over it."""
    return told(path, beginning.begin_over(application().editing, project_of(path), path.document, body, hand()))


@api.post("/<document>/pictures", responses={200: shapes.Changed})
def stand_picture(path: shapes.InDocument, form: PictureForm) -> dict[str, Any]:
    """Stand a picture file behind the form, seen from the front."""
    name, data = (form.file.filename or "Picture")[:60], form.file.stream.read()
    made = briefs.stand_picture(application().editing, project_of(path), path.document, name, data, hand())
    return told(path, made)


@api.post("/<document>/parts/<part>/grey", responses={200: shapes.Changed})
def drive_spread(path: shapes.InPart, form: PictureForm) -> dict[str, Any]:
    """Let a picture file drive what is spread."""
    file = ((form.file.filename or "The picture")[:60], form.file.stream.read())
    made = driving.drive_by_file(application().editing, project_of(path), path.document, path.part, file, hand())
    return told(path, made)


@api.post("/<document>/parts/<part>/paint", responses={200: shapes.Changed})
def drive_spread_by_paint(path: shapes.InPart, body: driving.PaintWish) -> dict[str, Any]:
    """Let a sheet's tone layer drive what is spread; it follows when that is painted on."""
    made = driving.drive_by_paint(application().editing, project_of(path), path.document, path.part, body, hand())
    return told(path, made)


@api.post("/<document>/import", responses={200: shapes.Changed})
def import_cage(path: shapes.InDocument, form: CageForm) -> dict[str, Any]:
    """Bring a cage in from an OBJ or PLY file as a new part; or any OBJ, PLY, STL or glTF mesh as a still body."""
    name, data = form.file.filename or "cage.obj", form.file.stream.read()
    made = forms.bring_in(application().editing, project_of(path), path.document, name, data, form.still, hand())
    return told(path, made)


@api.get("/<document>/export")
def export_form(path: shapes.InDocument, query: ExportQuery) -> Response:
    """The skin as glTF, STL or PLY, or a cage as OBJ."""
    project = project_of(path)
    form = forms.form_of(project, path.document)
    data = checks.exported(application(), project, form, query.format, query.part, query.tolerance)
    return download(data, FORMATS[query.format], f"{project.entry.name}.{query.format}")


def _evaluator(path: shapes.InProject) -> FormEvaluator:
    return application().workspace.evaluator(project_of(path))
