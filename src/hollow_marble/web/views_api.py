"""Views of a sheet: copied, moved with what is drawn in them, set in line, repeated faintly behind the others."""

from __future__ import annotations

from typing import Any

import numpy as np
from flask import Response
from flask_openapi3 import Tag

from hollow_marble.application.sheets import views
from hollow_marble.exchange.pictures import png
from hollow_marble.web import shapes
from hollow_marble.web.blueprint import Blueprint
from hollow_marble.web.documents_api import project_of, told
from hollow_marble.web.packing import packed
from hollow_marble.web.running import application, hand

api = Blueprint("views", __name__, url_prefix="/api/projects/<project>/sheets", abp_tags=[Tag(name="views")])


@api.post("/<document>/views/<view>/copy", responses={200: shapes.Changed})
def copy_view(path: shapes.InView, body: views.CopyRequest) -> dict[str, Any]:
    """Put a copy of the lines in a view on this sheet or another one, framed as a view of its own."""
    made = views.copy_view(application().editing, project_of(path), path.document, path.view, body, hand())
    return told(path, made, body.to)


@api.post("/<document>/views/move", responses={200: shapes.Changed})
def move_views(path: shapes.InDocument, body: views.MoveRequest) -> dict[str, Any]:
    """Move views with all that is drawn in them."""
    return told(path, views.move_views(application().editing, project_of(path), path.document, body, hand()))


@api.post("/<document>/views/arrange", responses={200: shapes.Changed})
def arrange_views(path: shapes.InDocument, body: views.ArrangeRequest) -> dict[str, Any]:
    """Set views in line, or spread them evenly."""
    return told(path, views.arrange_views(application().editing, project_of(path), path.document, body, hand()))


@api.post("/<document>/views/<view>/faint", responses={200: shapes.Changed})
def repeat_faintly(path: shapes.InView, body: views.FaintRequest) -> dict[str, Any]:
    """Repeat a view's lines faintly behind everything else."""
    made = views.repeat_faintly(application().editing, project_of(path), path.document, path.view, body, hand())
    return told(path, made)


@api.get("/<document>/views/<view>/lines")
def view_lines(path: shapes.InView) -> Response:
    """The courses of a view's lines in px of the page, packed: points (N, 2) and where each line begins (L + 1,)."""
    found = views.view_lines(application().workspace, project_of(path), path.document, path.view)
    points = np.concatenate(found) if found else np.empty((0, 2))
    starts = np.cumsum([0, *(len(line) for line in found)])
    return packed({"lines": len(found)}, {"points": points.astype(np.float32), "starts": starts.astype(np.int32)})


@api.get("/<document>/views/<view>.png")
def view_png(path: shapes.InView) -> Response:
    """A view's ink on a clear ground, to stand behind a form."""
    ink = views.view_ink(application().workspace, project_of(path), path.document, path.view)
    return Response(png(ink), mimetype="image/png", headers={"Cache-Control": "no-store"})
