"""Studios: takes, the thread behind a picture; and long work under way."""

from __future__ import annotations

from typing import Any

from flask import Response
from flask_openapi3 import Tag

from hollow_marble.application import contact_sheet, studios
from hollow_marble.core.errors import NotFoundError
from hollow_marble.store.assets import asset_facts
from hollow_marble.store.takes import get_take, list_takes, take_layer
from hollow_marble.web import shapes
from hollow_marble.web.blueprint import Blueprint
from hollow_marble.web.documents_api import project_of
from hollow_marble.web.running import application
from hollow_marble.web.sending import in_ranges

api = Blueprint("studio", __name__, url_prefix="/api/projects/<project>", abp_tags=[Tag(name="studio")])


class PictureQuery(shapes.Asked):
    at: str | None = None


class InLayer(shapes.InTake):
    frame: int
    layer: str


class InTask(shapes.InProject):
    task: str


@api.post("/studios/<document>/takes", responses={200: shapes.TakeShape})
def new_take(path: shapes.InDocument, body: shapes.NewTake) -> dict[str, Any]:
    """Ask for a take of a shot."""
    project, darkroom = project_of(path), application().darkroom
    return darkroom.told(
        darkroom.ask(project, path.document, studios.shot_of(project, path.document, body.shot), body.quality)
    )


@api.post("/studios/<document>/contact-sheet", responses={200: shapes.Takes})
def ask_contact_sheet(path: shapes.InDocument) -> dict[str, Any]:
    """Ask for every shot in every colourway, small; those that are there already are not taken again."""
    project, darkroom = project_of(path), application().darkroom
    takes = contact_sheet.ask(darkroom, project, path.document, studios.studio_of(project, path.document))
    return {"takes": [darkroom.told(take) for take in takes]}


@api.get("/studios/<document>/contact-sheet.png")
def contact_sheet_png(path: shapes.InDocument) -> Response:
    """The contact sheet with what is developed of it."""
    project = project_of(path)
    data = contact_sheet.page(project, studios.studio_of(project, path.document))
    return Response(data, mimetype="image/png", headers={"Cache-Control": "no-store"})


@api.get("/takes", responses={200: shapes.Takes})
def takes(path: shapes.InProject) -> dict[str, Any]:
    """All takes in the order they were asked for."""
    return {"takes": [application().darkroom.told(take) for take in list_takes(project_of(path).database)]}


@api.get("/takes/<take>/picture")
def picture(path: shapes.InTake, query: PictureQuery) -> Response:
    """The present picture of a take; an older one is never missing, a newer one answers for it. `at` only names which was meant."""
    project, darkroom = project_of(path), application().darkroom
    take = get_take(project.database, path.take)
    newest = darkroom.picture(take) if take.state in ("queued", "developing") else None
    if newest is not None:
        data = newest.read_bytes()
        return in_ranges(lambda start, count: data[start : start + count], len(data), "image/png", "no-store")
    return _layer(
        path, 0, "picture", "private, max-age=31536000, immutable" if query.at == take.picture else "no-store"
    )


@api.get("/takes/<take>/frames/<frame>/<layer>")
def frame_layer(path: InLayer) -> Response:
    """A layer of a frame of a take that has ended; answers range requests."""
    return _layer(path, path.frame, path.layer, "private, max-age=3600")


@api.post("/takes/<take>/cancel", responses={200: shapes.TakeShape})
def cancel(path: shapes.InTake) -> dict[str, Any]:
    """Give a take up; the picture so far stays."""
    darkroom = application().darkroom
    return darkroom.told(darkroom.cancel(project_of(path), path.take))


@api.post("/takes/<take>/resume", responses={200: shapes.TakeShape})
def resume(path: shapes.InTake) -> dict[str, Any]:
    """Go on with a take that was given up or failed."""
    darkroom = application().darkroom
    return darkroom.told(darkroom.resume(project_of(path), path.take))


@api.get("/takes/<take>/thread", responses={200: shapes.ThreadShape})
def thread(path: shapes.InTake) -> dict[str, Any]:
    """Where a picture came from: sheets, form, shot."""
    return {"steps": studios.thread(project_of(path), path.take)}


@api.get("/tasks", responses={200: shapes.Tasks})
def tasks(path: shapes.InProject) -> dict[str, Any]:
    """Long work that waits or runs, running work first."""
    return _tasks(path)


@api.post("/tasks/<task>/cancel", responses={200: shapes.Tasks})
def cancel_task(path: InTask) -> dict[str, Any]:
    """Give long work up."""
    if not application().executor.cancel(path.task):
        raise NotFoundError("That work has ended already.")
    return _tasks(path)


def _layer(path: shapes.InTake, frame: int, layer: str, cache: str) -> Response:
    database = project_of(path).database
    sha = take_layer(database, path.take, frame, layer)
    if sha is None:
        raise NotFoundError("That take has no such picture yet.")
    length, media = asset_facts(database, sha)
    return in_ranges(lambda start, count: database.piece(sha, start, count), length, media, cache)


def _tasks(path: shapes.InProject) -> dict[str, Any]:
    return {"tasks": [task.told() for task in application().executor.tasks(project_of(path).entry.id)]}
