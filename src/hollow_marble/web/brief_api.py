"""The brief: what the product must be, and the board of pictures."""

from __future__ import annotations

from typing import Any

from flask import Response
from flask_openapi3 import Tag
from pydantic import BaseModel

from hollow_marble.application import answers, briefs
from hollow_marble.web import shapes
from hollow_marble.web.blueprint import Blueprint
from hollow_marble.web.documents_api import project_of, told
from hollow_marble.web.running import application, hand
from hollow_marble.web.sketch_api import PictureForm

api = Blueprint("brief", __name__, url_prefix="/api/projects/<project>/briefs", abp_tags=[Tag(name="brief")])


class InPicture(shapes.InDocument):
    picture: str


class OnToRequest(BaseModel):
    """The sheet or form a picture goes to."""

    document: str


@api.get("/<document>", responses={200: shapes.BriefState})
def brief_state(path: shapes.InDocument) -> dict[str, Any]:
    """A brief at its head."""
    return answers.whole(application().workspace, project_of(path), path.document)


@api.post("/<document>/pictures", responses={200: shapes.Changed})
def put_picture(path: shapes.InDocument, form: PictureForm) -> dict[str, Any]:
    """Put a picture file on the board."""
    name, data = (form.file.filename or "Picture")[:60], form.file.stream.read()
    return told(path, briefs.put_picture(application().editing, project_of(path), path.document, name, data, hand()))


@api.get("/<document>/pictures/<picture>.png")
def picture_png(path: InPicture) -> Response:
    """A picture on the board."""
    _, data = briefs.picture_of(project_of(path), path.document, path.picture)
    return Response(data, mimetype="image/png", headers={"Cache-Control": "private, max-age=3600"})


@api.post("/<document>/pictures/<picture>/sheet", responses={200: shapes.Changed})
def picture_on_to_sheet(path: InPicture, body: OnToRequest) -> dict[str, Any]:
    """Place a picture of the board on a sheet; answers with what changed of the sheet."""
    made = briefs.on_to_sheet(
        application().editing, project_of(path), path.document, path.picture, body.document, hand()
    )
    return told(path, made, body.document)


@api.post("/<document>/pictures/<picture>/form", responses={200: shapes.Changed})
def picture_behind_form(path: InPicture, body: OnToRequest) -> dict[str, Any]:
    """Stand a picture of the board behind the form; answers with what changed of the form."""
    made = briefs.behind_form(
        application().editing, project_of(path), path.document, path.picture, body.document, hand()
    )
    return told(path, made, body.document)
