"""The shelf: projects come, go, are copied, named, put away and brought back."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from flask import Response, request, send_file
from flask_openapi3 import Tag
from pydantic import Field

from hollow_marble.application import projects as shelf
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.store.database import SUFFIX
from hollow_marble.store.library import Library, Project, ProjectCard
from hollow_marble.web import shapes
from hollow_marble.web.blueprint import Blueprint
from hollow_marble.web.documents_api import project_of, project_state
from hollow_marble.web.running import application, running

api = Blueprint("projects", __name__, url_prefix="/api", abp_tags=[Tag(name="projects")])

MOST_PROJECT_BYTES = 1 << 30
MEDIA = "application/vnd.sqlite3"


class FileQuery(shapes.Asked):
    name: str = Field("The file", max_length=200, description="what the file is called where it comes from")


@api.get("/projects", responses={200: shapes.Projects})
def projects() -> dict[str, Any]:
    """All projects, the one changed last first."""
    return {"projects": [_card(card) for card in _library().cards()]}


@api.post("/projects", responses={200: shapes.ProjectState})
def new_project(body: shapes.NewProject) -> dict[str, Any]:
    """Begin a project."""
    return _begun(_library().create(body.name, body.maker))


@api.get("/projects/away", responses={200: shapes.AwayProjects})
def projects_put_away() -> dict[str, Any]:
    """Projects that were put away."""
    return _away()


@api.post("/projects/file", responses={200: shapes.Arrived})
def receive_project(query: FileQuery) -> dict[str, Any]:
    """A project comes in: the body is its file."""
    length = request.content_length
    if length is None or length > MOST_PROJECT_BYTES:
        raise HollowMarbleError(
            f"A project file can have up to {MOST_PROJECT_BYTES >> 20} MB here. Put a larger one into the data folder."
        )
    request.max_content_length = length + 1  # of a body that is told to end, the limit itself counts as beyond it
    project, said = _library().receive(request.stream, length, query.name)
    return {**_begun(project), "said": said}


@api.get("/projects/<project>", responses={200: shapes.ProjectState})
def one_project(path: shapes.InProject) -> dict[str, Any]:
    """A project and its documents."""
    return project_state(project_of(path))


@api.post("/projects/<project>/name", responses={200: shapes.ProjectState})
def rename_project(path: shapes.InProject, body: shapes.NewProject) -> dict[str, Any]:
    """Give a project another name and maker."""
    return project_state(shelf.rename(application().workspace, path.project, body.name, body.maker))


@api.post("/projects/<project>/duplicate", responses={200: shapes.ProjectState})
def duplicate_project(path: shapes.InProject) -> dict[str, Any]:
    """A copy of a project beside it, with all its documents, ledgers and takes."""
    return _begun(_library().duplicate(path.project))


@api.post("/projects/<project>/away", responses={200: shapes.AwayProjects})
def put_project_away(path: shapes.InProject) -> dict[str, Any]:
    """Take a project off the shelf; nothing of it is deleted."""
    shelf.put_away(application().workspace, path.project)
    return _away()


@api.post("/projects/<project>/back", responses={200: shapes.ProjectState})
def bring_project_back(path: shapes.InProject) -> dict[str, Any]:
    """Put a project back on the shelf."""
    return _begun(_library().bring_back(path.project))


@api.get("/projects/<project>/file")
def project_file(path: shapes.InProject) -> Response:
    """The whole project as one file: SQLite, with its documents as JSON."""
    copy = _library().copy_of(path.project)
    file = copy.open("rb")
    copy.unlink()  # it is read to its end all the same
    name = f"{project_of(path).entry.name}{SUFFIX}"
    return send_file(file, mimetype=MEDIA, as_attachment=True, download_name=name)


@api.get("/demo", responses={200: shapes.DemoShape})
def demo() -> dict[str, Any]:
    """How far the demo's projects are."""
    return asdict(running().demo.told())


@api.post("/demo", responses={200: shapes.DemoShape})
def bring_demo() -> dict[str, Any]:
    """Build the demo's projects where they are missing."""
    return asdict(running().demo.begin())


def _begun(project: Project) -> dict[str, Any]:
    """A project that is new on the shelf, told in every window."""
    application().workspace.publish("", "projects", {})
    return project_state(project)


def _away() -> dict[str, Any]:
    return {"projects": [asdict(entry) for entry in _library().put_away_entries()]}


def _library() -> Library:
    return application().workspace.library


def _card(card: ProjectCard) -> dict[str, Any]:
    told = asdict(card)
    take, form, sheet = (told.pop(name) for name in ("take", "form", "sheet"))
    place = f"/api/projects/{card.id}"
    picture = (
        f"{place}/takes/{take[0]}/picture?at={take[1]}"
        if take
        else f"{place}/documents/{form[0]}/portrait.png?wide=480&at={form[1]}"
        if form
        else f"{place}/sheets/{sheet[0]}/page.png?wide=480&head={sheet[1]}"
        if sheet
        else None
    )
    return {**told, "picture": picture}
