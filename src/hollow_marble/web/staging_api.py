"""Studios while they are set up: where things stand, moves that need the product, the surround, what there is to choose from."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any, Literal

import numpy as np
from flask import Response
from flask_openapi3 import FileStorage, Tag
from pydantic import BaseModel, ConfigDict, Field

from hollow_marble.application import forms, moves, studio_pictures, studios, surrounds
from hollow_marble.application.live_finishes import SheetKind, laid_out, sheet_picture
from hollow_marble.application.staged import staged
from hollow_marble.application.studio_choices import choices
from hollow_marble.core.errors import NotFoundError
from hollow_marble.core.studio import rgbe
from hollow_marble.documents.form.evaluation import FormEvaluator
from hollow_marble.documents.form.model import Form
from hollow_marble.documents.studio.model import Finish, Setting
from hollow_marble.web import shapes, studio_shapes
from hollow_marble.web.blueprint import Blueprint
from hollow_marble.web.documents_api import project_of, told
from hollow_marble.web.packing import packed
from hollow_marble.web.running import application, hand

api = Blueprint("staging", __name__, url_prefix="/api/projects/<project>", abp_tags=[Tag(name="studio")])


class StagingRequest(BaseModel):
    form: str
    setting: Setting
    studio: str | None = Field(None, description="whose colourways its units wear")


class LampMoved(StagingRequest):
    lamp: str
    move: moves.LampMove


class CameraMoved(StagingRequest):
    move: moves.CameraMove


class SetMoved(StagingRequest):
    move: moves.SetMove


class PartTouched(StagingRequest):
    at: moves.Place
    size: moves.Pixels


class LaidAsked(StagingRequest):
    wearer: str = Field(description="a part or a zone")
    finish: Finish


class SheetQuery(shapes.Asked):
    finish: str
    of: SheetKind


class SurroundAsked(BaseModel):
    setting: Setting
    how: surrounds.Shown = "unrolled"


class MapForm(BaseModel):
    model_config = ConfigDict(arbitrary_types_allowed=True)
    file: FileStorage
    values: Literal["display", "linear"] = Field(
        "display", description="what the numbers of an ordinary picture are meant for"
    )


class LaidForm(BaseModel):
    model_config = ConfigDict(arbitrary_types_allowed=True)
    file: FileStorage
    part: str | None = Field(None, description="the part it is laid on; behind the product where it is left out")
    name: str = Field("the part", max_length=60)
    use: Literal["colour", "bump", "roughness"] = "colour"


class ArtworkForm(BaseModel):
    model_config = ConfigDict(arbitrary_types_allowed=True)
    file: FileStorage
    id: str
    part: str
    x: float
    y: float
    z: float


class PreviewQuery(shapes.Asked):
    mark: str


class MapQuery(shapes.Asked):
    format: Literal["hdr", "exr"] = "hdr"


def _around(path: shapes.InProject, body: StagingRequest) -> tuple[Form, FormEvaluator]:
    """The form a request's setting stands around, and what works its bodies out."""
    project = project_of(path)
    return forms.form_of(project, body.form), application().workspace.evaluator(project)


@api.post("/staging", responses={200: studio_shapes.StagingShape})
def staging(path: shapes.InProject, body: StagingRequest) -> dict[str, Any]:
    """A setting worked out around a form, without storing it: for the preview, also while something is dragged."""
    project = project_of(path)
    form = forms.form_of(project, body.form)
    colourways = studios.studio_of(project, body.studio).colourways if body.studio else ()
    return staged(body.setting, form, application().workspace.evaluator(project), colourways)


@api.post("/staging/lamp", responses={200: studio_shapes.MovedLamp})
def moved_lamp(path: shapes.InProject, body: LampMoved) -> dict[str, Any]:
    """A lamp after a move that needs the product: a highlight touched, lux, a copy, the other side."""
    lamp, length = moves.lamp_moved(body.setting, *_around(path, body), body.lamp, body.move)
    return {"lamp": lamp.model_dump(mode="json"), "length": length}


@api.post("/staging/camera", responses={200: studio_shapes.MovedCamera})
def moved_camera(path: shapes.InProject, body: CameraMoved) -> dict[str, Any]:
    """The camera after a move that needs the product: focus touched, framed, metered, another lens from another place."""
    camera = moves.camera_moved(body.setting, *_around(path, body), body.move)
    return {"camera": camera.model_dump(mode="json")}


@api.post("/staging/set", responses={200: studio_shapes.MovedSet})
def moved_set(path: shapes.InProject, body: SetMoved) -> dict[str, Any]:
    """The set after a move that needs the camera: widened past the frame, a picture's horizon or ground touched."""
    found = moves.set_moved(body.setting, *_around(path, body), body.move)
    return {"set": found.model_dump(mode="json")}


@api.post("/staging/part", responses={200: studio_shapes.TouchedPart})
def touched_part(path: shapes.InProject, body: PartTouched) -> dict[str, Any]:
    """Which part lies at a place of the picture."""
    found = moves.touched_part(body.setting, *_around(path, body), body.at, body.size)
    return asdict(found) if found else {"part": None, "place": None, "face": None}


@api.get("/studio-choices", responses={200: studio_shapes.StudioChoices})
def studio_choices(path: shapes.InProject) -> dict[str, Any]:
    """What there is to choose from: materials and their numbers, grains, lights and sets to begin with."""
    return choices()


@api.post("/studios/<document>/artwork", responses={200: shapes.Changed})
def lay_artwork(path: shapes.InDocument, form: ArtworkForm) -> dict[str, Any]:
    """Lay artwork on a part: PNG, another picture, or SVG."""
    name, data = form.file.filename or "The artwork", form.file.read()
    where = studio_pictures.Where(form.id, form.part, (form.x, form.y, form.z))
    return told(
        path,
        studio_pictures.lay_artwork(
            application().editing, project_of(path), path.document, (name, data), where, hand()
        ),
    )


@api.get("/mark-picture.png")
def mark_picture(path: shapes.InProject, query: PreviewQuery) -> Response:
    """Lettering or artwork as the live view lays it on: white words, or the picture, clear where there is nothing."""
    evaluator = application().workspace.evaluator(project_of(path))
    data = studio_pictures.shown(query.mark, evaluator)
    return Response(data, mimetype="image/png", headers={"Cache-Control": "private, max-age=86400"})


@api.post("/staging/laid")
def laid(path: shapes.InProject, body: LaidAsked) -> Response:
    """How a finish lies on what wears it, packed: which point of the part's mesh each of its points is, its triangles, mm across and up."""
    found = laid_out(body.setting, *_around(path, body), body.wearer, body.finish)
    if found is None:
        raise NotFoundError("Nothing wears this finish any more.")
    arrays = {"point": found.point, "triangles": found.triangles, "texture": found.texture}
    kinds = {"point": np.uint32, "triangles": np.uint32, "texture": np.float32}
    return packed({}, {name: array.astype(kinds[name]) for name, array in arrays.items()})


@api.get("/finish-sheet.png")
def finish_sheet(path: shapes.InProject, query: SheetQuery) -> Response:
    """What is laid on a finish (its JSON), as the live view shows it."""
    finish = Finish.model_validate_json(query.finish)
    data = sheet_picture(finish, query.of, application().workspace.evaluator(project_of(path)))
    return Response(data, mimetype="image/png", headers={"Cache-Control": "private, max-age=86400"})


@api.post("/surround-picture")
def surround_picture(path: shapes.InProject, body: SurroundAsked) -> Response:
    """What is all around as a PNG: unrolled, or as a mirror ball shows it."""
    evaluator = application().workspace.evaluator(project_of(path))
    return Response(
        surrounds.shown(body.setting, evaluator, body.how), mimetype="image/png", headers={"Cache-Control": "no-store"}
    )


@api.post("/surround-map")
def surround_map(path: shapes.InProject, body: SurroundAsked) -> Response:
    """The map itself (Radiance), for the live view."""
    evaluator = application().workspace.evaluator(project_of(path))
    return Response(surrounds.live(body.setting, evaluator), mimetype=rgbe.MEDIA, headers={"Cache-Control": "no-store"})


@api.get("/studios/<document>/surround")
def surround_file(path: shapes.InDocument, query: MapQuery) -> Response:
    """The surround as a file, Radiance or OpenEXR."""
    project = project_of(path)
    setting = studios.studio_of(project, path.document).setting
    data = surrounds.sent_out(setting, application().workspace.evaluator(project), query.format)
    media = rgbe.MEDIA if query.format == "hdr" else "image/x-exr"
    return Response(
        data, mimetype=media, headers={"Content-Disposition": f'attachment; filename="surround.{query.format}"'}
    )


@api.post("/studios/<document>/surround", responses={200: shapes.Changed})
def bring_surround(path: shapes.InDocument, form: MapForm) -> dict[str, Any]:
    """Bring a map in: .hdr, .exr or an ordinary picture."""
    name, data = form.file.filename or "The file", form.file.read()
    made = surrounds.bring_in(application().editing, project_of(path), path.document, name, data, form.values, hand())
    return told(path, made)


@api.post("/studios/<document>/pictures", responses={200: shapes.Changed})
def lay_picture(path: shapes.InDocument, form: LaidForm) -> dict[str, Any]:
    """Lay a picture on a part, or hang it behind the product."""
    name, data = form.file.filename or "The picture", form.file.read()
    onto = studio_pictures.Onto(form.part, form.name, form.use) if form.part else None
    return told(
        path, studio_pictures.lay(application().editing, project_of(path), path.document, (name, data), onto, hand())
    )
