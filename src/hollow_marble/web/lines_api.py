"""Strokes picked and changed after they were drawn."""

from __future__ import annotations

import time
from typing import Any

from flask import Response
from flask_openapi3 import Tag
from pydantic import BaseModel

from hollow_marble.application.sheets import lines
from hollow_marble.web import shapes
from hollow_marble.web.blueprint import Blueprint
from hollow_marble.web.documents_api import project_of
from hollow_marble.web.running import application, hand
from hollow_marble.web.sketch_api import changed_tiles

api = Blueprint("lines", __name__, url_prefix="/api/projects/<project>/sheets", abp_tags=[Tag(name="lines")])


class PickedLine(BaseModel):
    """A picked stroke: its id and a few places along it."""

    id: str
    path: list[tuple[float, float]]


class PickedLines(BaseModel):
    lines: list[PickedLine]


@api.post("/<document>/lines/pick", responses={200: PickedLines})
def pick_lines(path: shapes.InDocument, body: lines.PickRequest) -> dict[str, Any]:
    """Pick lines of a layer."""
    found = lines.pick(application().workspace, project_of(path), path.document, body)
    return {"lines": [{"id": ident, "path": places} for ident, places in found]}


@api.post("/<document>/lines/change")
def change_lines(path: shapes.InDocument, body: lines.LinesRequest) -> Response:
    """Change picked lines; answers with the tiles that changed, packed."""
    began = time.perf_counter()
    made = lines.change(application().editing, project_of(path), path.document, body, hand())
    return changed_tiles(path, made, began)
