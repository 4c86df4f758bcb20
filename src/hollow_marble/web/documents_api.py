"""Documents and their ledgers."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from flask import Response, stream_with_context
from flask_openapi3 import Tag
from pydantic import BaseModel, Field

from hollow_marble import __version__
from hollow_marble.application import answers, duplicating, pasting
from hollow_marble.application.amending import amend
from hollow_marble.application.editing import Made, Proposal
from hollow_marble.application.forms import with_followers
from hollow_marble.application.portraits import portrait
from hollow_marble.core import warm
from hollow_marble.store.assets import load_asset
from hollow_marble.store.library import Project
from hollow_marble.web import shapes
from hollow_marble.web.blueprint import Blueprint
from hollow_marble.web.running import application, hand, running

api = Blueprint("documents", __name__, url_prefix="/api", abp_tags=[Tag(name="documents")])


class PortraitQuery(shapes.Asked):
    at: int = Field(ge=0, description="a line of the ledger")
    wide: int = Field(160, ge=16, le=800)


class Listening(BaseModel):
    project: str = Field("", description="news of one project; of all where it is left out")


@api.get("/status", responses={200: shapes.Status})
def status() -> dict[str, Any]:
    """What is running."""
    note = application().renderer
    return {"version": __version__, "renderer": note, "warm": warm.done()}


@api.get("/events")
def events(query: Listening) -> Response:
    """News as server-sent events, each with the project it is of."""
    stream = stream_with_context(running().news.listen(query.project))
    headers = {"Cache-Control": "no-store", "X-Accel-Buffering": "no"}
    return Response(stream, mimetype="text/event-stream", headers=headers)


@api.post("/projects/<project>/documents", responses={200: shapes.DocumentShape})
def new_document(path: shapes.InProject, body: shapes.NewDocument) -> dict[str, Any]:
    """Add a sheet."""
    return asdict(project_of(path).ledger.create(body.kind, body.name))


@api.post("/projects/<project>/documents/<document>/duplicate", responses={200: shapes.DocumentShape})
def duplicate_document(path: shapes.InDocument) -> dict[str, Any]:
    """Begin a sheet that looks like this one, beside it; both go on by themselves."""
    return asdict(duplicating.duplicate(project_of(path), path.document))


@api.post("/projects/<project>/documents/<document>/place", responses={200: shapes.ProjectState})
def place_document(path: shapes.InDocument, body: shapes.NewPlace) -> dict[str, Any]:
    """Put a document at a place among those of its kind; 0 is first."""
    project = project_of(path)
    project.ledger.arrange(path.document, body.place)
    return project_state(project)


@api.post("/projects/<project>/documents/<document>/name", responses={200: shapes.Standing})
def rename_document(path: shapes.InDocument, body: shapes.NewName) -> dict[str, Any]:
    """Give a document another name."""
    project = project_of(path)
    project.ledger.rename(path.document, body.name)
    place = project.ledger.standing(path.document)
    news = {"document": path.document, "head": place.head, "tab": hand().tab}
    application().workspace.publish(project.entry.id, "document", news)
    return asdict(place)


@api.get("/projects/<project>/sheets/<document>", responses={200: shapes.SheetState})
def sheet_state(path: shapes.InDocument) -> dict[str, Any]:
    """A sheet at its head, without its strokes."""
    return _whole(path)


@api.get("/projects/<project>/forms/<document>", responses={200: shapes.FormState})
def form_state(path: shapes.InDocument) -> dict[str, Any]:
    """A form at its head, with what its steps did in words and the keys of its parts' meshes."""
    return _whole(path)


@api.get("/projects/<project>/studios/<document>", responses={200: shapes.StudioState})
def studio_state(path: shapes.InDocument) -> dict[str, Any]:
    """A studio at its head."""
    return _whole(path)


@api.get("/projects/<project>/boards/<document>", responses={200: shapes.BoardState})
def board_state(path: shapes.InDocument) -> dict[str, Any]:
    """A board at its head."""
    return _whole(path)


@api.get("/projects/<project>/documents/<document>/since/<head>", responses={200: shapes.Changed})
def since(path: shapes.InSince) -> dict[str, Any]:
    """What has changed since a line of the ledger (0 is its start)."""
    return answers.since(application().workspace, project_of(path), path.document, path.head or None)


@api.post("/projects/<project>/documents/<document>/edits", responses={200: shapes.Changed})
def edit(path: shapes.InDocument, body: shapes.EditRequest) -> dict[str, Any]:
    """Make one edit. When this answers, the edit is on disk."""
    project = project_of(path)
    evaluator = application().workspace.evaluator(project)

    def compose(document: Any) -> Proposal:
        return Proposal(with_followers(body.edit, document, evaluator))

    return told(path, application().editing.make(project, path.document, compose, hand()))


@api.post("/projects/<project>/documents/<document>/amendments", responses={200: shapes.Changed})
def amendment(path: shapes.InDocument, body: shapes.AmendRequest) -> dict[str, Any]:
    """Change only what is named of a thing: a number of a step, of a lamp, of a guide."""
    return told(path, amend(application().editing, project_of(path), path.document, body.amend, hand()))


@api.post("/projects/<project>/documents/<document>/undo", responses={200: shapes.Changed})
def undo(path: shapes.InDocument) -> dict[str, Any]:
    """Step back in the ledger."""
    return told(path, application().editing.step(project_of(path), path.document, hand()))


@api.post("/projects/<project>/documents/<document>/redo", responses={200: shapes.Changed})
def redo(path: shapes.InDocument) -> dict[str, Any]:
    """Step forward in the ledger."""
    return told(path, application().editing.step(project_of(path), path.document, hand(), on=True))


@api.post("/projects/<project>/documents/<document>/go", responses={200: shapes.Changed})
def go(path: shapes.InDocument, body: shapes.Place) -> dict[str, Any]:
    """Stand at any line of the ledger."""
    return told(path, application().editing.step(project_of(path), path.document, hand(), to=body.edit))


@api.post("/projects/<project>/documents/<document>/paste", responses={200: shapes.Changed})
def paste(path: shapes.InDocument, body: pasting.PasteRequest) -> dict[str, Any]:
    """Put what was copied from this or another document, of this or another project, into a document."""
    return told(path, pasting.paste(application().editing, project_of(path), path.document, body, hand()))


@api.get("/projects/<project>/documents/<document>/ledger", responses={200: shapes.LedgerShape})
def ledger(path: shapes.InDocument) -> dict[str, Any]:
    """Every line of a document's ledger with its branches and versions."""
    return _ledger(path)


@api.post("/projects/<project>/documents/<document>/versions", responses={200: shapes.LedgerShape})
def name_version(path: shapes.InDocument, body: shapes.NewVersion) -> dict[str, Any]:
    """Put a name on a line of the ledger."""
    project = project_of(path)
    project.ledger.name_version(path.document, body.edit, body.name)
    news = {"document": path.document, "head": project.ledger.row(path.document).head, "tab": hand().tab}
    application().workspace.publish(project.entry.id, "document", news)
    return _ledger(path)


@api.get("/projects/<project>/documents/<document>/portrait.png")
def portrait_png(path: shapes.InDocument, query: PortraitQuery) -> Response:
    """A small picture of a sheet or a form at a line of its ledger (0 is its start)."""
    data = portrait(application().workspace, project_of(path), path.document, query.at or None, query.wide)
    return Response(data, mimetype="image/png", headers={"Cache-Control": "private, max-age=3600"})


@api.get("/projects/<project>/assets/<sha>")
def asset(path: shapes.InAsset) -> Response:
    """A binary payload of the project."""
    data, media = load_asset(project_of(path).database, path.sha)
    return Response(data, mimetype=media, headers={"Cache-Control": "private, max-age=31536000, immutable"})


def project_of(path: shapes.InProject) -> Project:
    """The project an address names."""
    return application().workspace.project(path.project)


def told(path: shapes.InDocument, made: Made, document: str | None = None) -> dict[str, Any]:
    """What an edit changed, for the tab that made it."""
    return answers.changed(application().workspace, project_of(path), document or path.document, made)


def _whole(path: shapes.InDocument) -> dict[str, Any]:
    return answers.whole(application().workspace, project_of(path), path.document)


def project_state(project: Project) -> dict[str, Any]:
    """A project and its documents."""
    return {"project": asdict(project.entry), "documents": [asdict(row) for row in project.ledger.rows()]}


def _ledger(path: shapes.InDocument) -> dict[str, Any]:
    project = project_of(path)
    row = project.ledger.row(path.document)
    return {
        "head": row.head,
        "tip": row.tip,
        "lines": [asdict(line) for line in project.ledger.lines(path.document)],
        "versions": project.ledger.versions(path.document),
    }
