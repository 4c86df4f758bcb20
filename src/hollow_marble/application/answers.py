"""What is told of documents: whole when they are opened, and of an edit only what it changed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict
from typing import Any

from hollow_marble.application.editing import Made
from hollow_marble.application.workspace import Workspace
from hollow_marble.documents.difference import difference, told
from hollow_marble.documents.form.altering import why_held
from hollow_marble.documents.form.model import Form, Part
from hollow_marble.documents.kinds import Document
from hollow_marble.documents.sheet.model import Sheet
from hollow_marble.documents.sheet.outline import outline
from hollow_marble.store.library import Project


def whole(workspace: Workspace, project: Project, ident: str) -> dict[str, Any]:
    """A document at its head with its place in the ledger, and for a form the keys of its parts' meshes."""
    place = project.ledger.standing(ident)
    document = project.ledger.state(ident, place.head, at_head=False)
    answer = {"standing": asdict(place), "body": told(_view(document))}
    if isinstance(document, Form):
        answer |= _keys(workspace, project, document, document.parts)
    return answer


def changed(workspace: Workspace, project: Project, ident: str, made: Made) -> dict[str, Any]:
    """Where a document stands after an edit, and what leads from the state its hand had seen to it.

    The standing is that of this edit, whatever others did meanwhile.
    """
    place = project.ledger.standing(ident, made.head)
    answer: dict[str, Any] = {"standing": asdict(place), "change": difference(_view(made.seen), _view(made.after))}
    if isinstance(made.after, Form) and isinstance(made.seen, Form):
        answer |= _keys(workspace, project, made.after, made.after.unlike(made.seen))
    return answer


def since(workspace: Workspace, project: Project, ident: str, head: int | None) -> dict[str, Any]:
    """What leads from the state at a line of the ledger to the one at the head."""
    row = project.ledger.row(ident)
    seen = project.ledger.state(ident, head, at_head=False)
    now = project.ledger.state(ident, row.head, at_head=False)
    return changed(workspace, project, ident, Made(seen, now, now, row.head, {}))


def _view(document: Document) -> Any:
    """What the interface knows of a document: all of it, but of a sheet not its strokes."""
    return outline(document) if isinstance(document, Sheet) else document


def _keys(workspace: Workspace, project: Project, form: Form, parts: Sequence[Part]) -> dict[str, Any]:
    """Keys of the meshes of some parts of a form; of all parts, why they cannot be worked out, as far as that was tried, and why they are
    not to be shaped. What takes in other parts is worked out by whoever asks for its mesh: a form opens at once."""
    evaluator = workspace.evaluator(project)
    problems = {
        part.id: problem for part in form.parts if (problem := evaluator.known_problem(part, form.parts)) is not None
    }
    keys = {part.id: "" if part.id in problems else evaluator.key(part, form.parts) for part in parts}
    held = {part.id: why for part in form.parts if (why := why_held(form, part)) is not None}
    return {"keys": keys, "problems": problems, "held": held}
