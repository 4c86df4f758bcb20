"""Drafting on a sheet: perspective dragged by its vanishing points, the view of a drawn box, circles on faces."""

from __future__ import annotations

from typing import Any

from flask_openapi3 import Tag
from pydantic import BaseModel, Field

from hollow_marble.application.sheets import drafting, pages
from hollow_marble.documents.sheet.drafting import GuideShape, guide_shape
from hollow_marble.web import shapes
from hollow_marble.web.blueprint import Blueprint
from hollow_marble.web.documents_api import project_of, told
from hollow_marble.web.running import application, hand

api = Blueprint("drafting", __name__, url_prefix="/api/projects/<project>/sheets", abp_tags=[Tag(name="drafting")])


class RecoverAnswer(BaseModel):
    """error : px the marked lines' ends lie beside the box found, on the whole; lens : focal length for a frame 36 mm wide."""

    made: shapes.Changed
    error: float
    corners: int
    left_out: int = Field(description="marked lines that do not hang together with the others")
    lens_within: float | None = Field(
        description="share within which the lens lies, 19 times of 20; null where the drawing does not tell"
    )
    size_within: float | None = Field(description="the same of the proportions")
    doubt: str | None
    size: tuple[float, float, float]
    lens: float


@api.post("/<document>/draft", responses={200: drafting.DraftAnswer})
def draft(path: shapes.InDocument, body: drafting.DraftRequest) -> dict[str, Any]:
    """Work out a perspective without storing it, while a hand drags it."""
    return drafting.draft(pages.sheet_of(project_of(path), path.document), body.change).model_dump()


@api.post("/<document>/guides/shape", responses={200: GuideShape})
def shape_of_guide(path: shapes.InDocument, body: drafting.GuideRequest) -> dict[str, Any]:
    """How a guide would lie on the page; nothing is stored."""
    return guide_shape(body.guide, pages.sheet_of(project_of(path), path.document)).model_dump()


@api.post("/<document>/guides/circle", responses={200: shapes.Changed})
def put_circle(path: shapes.InDocument, body: drafting.CircleRequest) -> dict[str, Any]:
    """Put a circle on a face of the construction box."""
    return told(path, drafting.put_circle(application().editing, project_of(path), path.document, body, hand()))


@api.post("/<document>/recover", responses={200: RecoverAnswer})
def recover_view(path: shapes.InDocument, body: drafting.RecoverRequest) -> dict[str, Any]:
    """Find the view and the proportions of the box whose edges are marked, and set perspective and box to them."""
    made = drafting.recover_view(application().editing, project_of(path), path.document, body, hand())
    return {"made": told(path, made), **made.more}
