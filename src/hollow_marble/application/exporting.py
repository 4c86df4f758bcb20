"""A project's form or sheet as bytes of an open format: all that the interface offers."""

from __future__ import annotations

from typing import get_args

from hollow_marble.application.sheets import pages
from hollow_marble.application.studios import dress_in
from hollow_marble.application.workspace import Workspace
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.form.model import Form
from hollow_marble.exchange.forms import FORMATS, export
from hollow_marble.store.library import Project

OF_SHEETS: tuple[pages.Ending, ...] = get_args(pages.Ending)
KINDS = (*FORMATS, *OF_SHEETS)


def exported(workspace: Workspace, project: Project, kind: str, name: str | None, scale: int = 1) -> bytes:
    """A sheet's page (`name` chooses the sheet; `scale` px of a PNG a px of the page), or a form's parts (`name` chooses one)."""
    ending = next((ending for ending in OF_SHEETS if ending == kind), None)
    if ending is not None:
        rows = project.ledger.rows("sheet")
        row = next((r for r in rows if name is None or r.name.casefold() == name.casefold()), None)
        if row is None:
            raise HollowMarbleError(f"There is no sheet named {name}. Sheets here: {', '.join(r.name for r in rows)}.")
        return pages.page_as(workspace, project, row.id, ending, scale)
    form = project.ledger.state(project.ledger.rows("form")[0].id)
    assert isinstance(form, Form)
    part = next((p for p in form.parts if name is not None and p.name.casefold() == name.casefold()), None)
    if name is not None and part is None:
        raise HollowMarbleError(f"There is no part named {name}. Parts here: {', '.join(p.name for p in form.parts)}.")
    return export(
        form,
        workspace.evaluator(project),
        kind,
        part.id if part else None,
        dress_in(project, workspace.evaluator(project)),
    )
