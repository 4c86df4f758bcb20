"""Projects, documents and their ledgers."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from flask import Response, stream_with_context
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel

from hollow_marble import __version__
from hollow_marble.core import warm
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.edit import find
from hollow_marble.documents.form.edits import ChangeStep, DropStep
from hollow_marble.documents.form.following import followed
from hollow_marble.documents.kinds import KINDS
from hollow_marble.documents.sheet.model import Sheet
from hollow_marble.store.assets import load_asset
from hollow_marble.store.library import Project
from hollow_marble.web import shapes
from hollow_marble.web.services import services

api = APIBlueprint("documents", __name__, url_prefix="/api", abp_tags=[Tag(name="documents")])


class Listening(BaseModel):
    project: str


@api.get("/status", responses={200: shapes.Status})
def status() -> dict[str, Any]:
    """What is running."""
    tracer = services().darkroom.tracer
    return {"version": __version__, "renderer": tracer.note, "variant": tracer.variant, "warm": warm.done()}


@api.get("/events")
def events(query: Listening) -> Response:
    """News of a project as server-sent events."""
    stream = stream_with_context(services().news.listen(query.project))
    headers = {"Cache-Control": "no-store", "X-Accel-Buffering": "no"}
    return Response(stream, mimetype="text/event-stream", headers=headers)


@api.get("/projects", responses={200: shapes.Projects})
def projects() -> dict[str, Any]:
    """All projects, newest first."""
    return {"projects": [asdict(entry) for entry in services().library.entries()]}


@api.post("/projects", responses={200: shapes.ProjectState})
def new_project(body: shapes.NewProject) -> dict[str, Any]:
    """Begin a project."""
    return _project_state(services().library.create(body.name, body.maker))


@api.get("/projects/<project>", responses={200: shapes.ProjectState})
def project_state(path: shapes.InProject) -> dict[str, Any]:
    """A project and its documents."""
    return _project_state(services().project(path.project))


@api.post("/projects/<project>/documents", responses={200: shapes.DocumentShape})
def new_document(path: shapes.InProject, body: shapes.NewDocument) -> dict[str, Any]:
    """Add a sheet."""
    row = services().project(path.project).ledger.create(body.kind, body.name)
    return asdict(row)


@api.post("/projects/<project>/documents/<document>/duplicate", responses={200: shapes.DocumentShape})
def duplicate_document(path: shapes.InDocument) -> dict[str, Any]:
    """Begin a sheet that looks like this one, beside it; both go on by themselves."""
    ledger = services().project(path.project).ledger
    row = ledger.row(path.document)
    if row.kind != "sheet":
        raise HollowMarbleError("Only sheets can be duplicated.")
    made = ledger.create(row.kind, f"{row.name[:55]} copy", ledger.state(path.document))
    ledger.arrange(made.id, row.place + 1)
    return asdict(ledger.row(made.id))


@api.post("/projects/<project>/documents/<document>/place", responses={200: shapes.ProjectState})
def place_document(path: shapes.InDocument, body: shapes.NewPlace) -> dict[str, Any]:
    """Put a document at a place among those of its kind; 0 is first."""
    project = services().project(path.project)
    project.ledger.arrange(path.document, body.place)
    return _project_state(project)


@api.post("/projects/<project>/documents/<document>/name", responses={200: shapes.Standing})
def rename_document(path: shapes.InDocument, body: shapes.NewName) -> dict[str, Any]:
    """Give a document another name."""
    project = services().project(path.project)
    project.ledger.rename(path.document, body.name)
    services().changed(project, path.document, project.ledger.row(path.document).head)
    return standing(project, path.document)


@api.get("/projects/<project>/sheets/<document>", responses={200: shapes.SheetState})
def sheet_state(path: shapes.InDocument) -> dict[str, Any]:
    """A sheet at its head, without its strokes."""
    return state(services().project(path.project), path.document)


@api.get("/projects/<project>/forms/<document>", responses={200: shapes.FormState})
def form_state(path: shapes.InDocument) -> dict[str, Any]:
    """A form at its head, with what its steps did in words."""
    found = state(services().project(path.project), path.document)
    form = services().form(services().project(path.project), path.document, found["standing"]["head"] or 0)
    return {**found, "said": {part.id: [step.sentence() for step in part.steps] for part in form.parts}}


@api.get("/projects/<project>/studios/<document>", responses={200: shapes.StudioState})
def studio_state(path: shapes.InDocument) -> dict[str, Any]:
    """A studio at its head."""
    return state(services().project(path.project), path.document)


@api.get("/projects/<project>/boards/<document>", responses={200: shapes.BoardState})
def board_state(path: shapes.InDocument) -> dict[str, Any]:
    """A board at its head."""
    return state(services().project(path.project), path.document)


@api.post("/projects/<project>/documents/<document>/edits", responses={200: shapes.Standing})
def edit(path: shapes.InDocument, body: shapes.EditRequest) -> dict[str, Any]:
    """Make one edit. When this answers, the edit is on disk."""
    project = services().project(path.project)
    return commit(project, path.document, _with_following(project, path.document, body.edit))


def _with_following(project: Project, document: str, made: Any) -> Any:
    """An edit of an earlier step, with what that does to the picks of later steps."""
    if not isinstance(made, (ChangeStep, DropStep)) or made.following is not None:
        return made
    part = find(services().form(project, document).parts, made.part, "part")
    if made.index >= len(part.steps) - 1 or part.link is not None or part.still:
        return made
    step = made.step if isinstance(made, ChangeStep) else None
    following = followed(part, made.index, step, services().evaluator(project).after)
    if following == part.steps[made.index + 1 :]:
        return made
    return made.model_copy(update={"following": following})


@api.post("/projects/<project>/documents/<document>/undo", responses={200: shapes.Standing})
def undo(path: shapes.InDocument) -> dict[str, Any]:
    """Step back in the ledger."""
    project = services().project(path.project)
    project.ledger.undo(path.document)
    return _moved(project, path.document)


@api.post("/projects/<project>/documents/<document>/redo", responses={200: shapes.Standing})
def redo(path: shapes.InDocument) -> dict[str, Any]:
    """Step forward in the ledger."""
    project = services().project(path.project)
    project.ledger.redo(path.document)
    return _moved(project, path.document)


@api.post("/projects/<project>/documents/<document>/go", responses={200: shapes.Standing})
def go_to(path: shapes.InDocument, body: shapes.Place) -> dict[str, Any]:
    """Stand at any line of the ledger."""
    project = services().project(path.project)
    project.ledger.go_to(path.document, body.edit)
    return _moved(project, path.document)


@api.get("/projects/<project>/documents/<document>/ledger", responses={200: shapes.LedgerShape})
def ledger(path: shapes.InDocument) -> dict[str, Any]:
    """Every line of a document's ledger with its branches and versions."""
    project = services().project(path.project)
    row = project.ledger.row(path.document)
    return {
        "head": row.head,
        "tip": row.tip,
        "lines": [asdict(line) for line in project.ledger.lines(path.document)],
        "versions": project.ledger.versions(path.document),
    }


@api.post("/projects/<project>/documents/<document>/versions", responses={200: shapes.LedgerShape})
def name_version(path: shapes.InDocument, body: shapes.NewVersion) -> dict[str, Any]:
    """Put a name on a line of the ledger."""
    project = services().project(path.project)
    project.ledger.name_version(path.document, body.edit, body.name)
    services().changed(project, path.document, project.ledger.row(path.document).head)
    return ledger(path)


@api.get("/projects/<project>/assets/<sha>")
def asset(path: shapes.InAsset) -> Response:
    """A binary payload, for example a take's picture."""
    data, media = load_asset(services().project(path.project).database, path.sha)
    return Response(data, mimetype=media, headers={"Cache-Control": "private, max-age=31536000, immutable"})


def commit(project: Project, document: str, made: Any) -> dict[str, Any]:
    """Store an edit after checking that what it leads to can be worked out; returns where the document stands."""
    row = project.ledger.row(document)
    KINDS[row.kind].edits.validate_python(made)  # an edit of another kind of document does not belong here
    head, _ = project.ledger.append(document, made, lambda state: services().check(project, state))
    services().changed(project, document, head)
    return standing(project, document)


def standing(project: Project, document: str) -> dict[str, Any]:
    """Where a document stands."""
    ledger = project.ledger
    row = ledger.row(document)
    line = ledger.line(row.head) if row.head is not None else None
    return {
        "id": row.id,
        "name": row.name,
        "head": row.head,
        "sentence": line.sentence if line else "Nothing done yet",
        "edits": line.depth if line else 0,
        "can_undo": row.head is not None,
        "can_redo": row.tip != row.head and row.tip is not None,
        "since": ledger.version_passed(row),
    }


def state(project: Project, document: str) -> dict[str, Any]:
    """A document at its head with its place in the ledger."""
    place = standing(project, document)
    found = project.ledger.state(document, place["head"], at_head=False)
    body: BaseModel = shapes.outline(found) if isinstance(found, Sheet) else found
    return {"standing": place, "body": body.model_dump(mode="json")}


def _moved(project: Project, document: str) -> dict[str, Any]:
    services().changed(project, document, project.ledger.row(document).head)
    return standing(project, document)


def _project_state(project: Project) -> dict[str, Any]:
    rows = project.ledger.rows()
    documents = [{**asdict(row), "chosen": is_chosen(project, row.id)} for row in rows]
    return {"project": asdict(project.entry), "documents": documents}


def is_chosen(project: Project, document: str) -> bool:
    """Whether a document is a sheet marked as the direction gone on with."""
    row = project.ledger.row(document)
    if row.kind != "sheet":
        return False
    sheet = project.ledger.state(document)
    return isinstance(sheet, Sheet) and sheet.chosen
