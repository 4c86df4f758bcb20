"""Small pictures of documents at any line of their ledgers, for a history to be looked through, a shelf, a thread.

* `painting` draws shaded triangles, the far ones first
* `forms` a form from a corner; `studios` what the camera of a studio sees, by its lamps
* `boards` what hangs on a board and what was said of it; `briefs` a brief's page
"""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from typing import Any

import numpy as np
from numpy.typing import NDArray

from hollow_marble.application.portraits.boards import draw_board
from hollow_marble.application.portraits.briefs import draw_brief
from hollow_marble.application.portraits.forms import draw_form
from hollow_marble.application.portraits.studios import draw_studio
from hollow_marble.application.sheets.pages import small_page_at
from hollow_marble.application.workspace import Workspace
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.board.model import Board
from hollow_marble.documents.brief.model import Brief
from hollow_marble.documents.form.model import Form
from hollow_marble.documents.sheet.model import Sheet
from hollow_marble.documents.studio.model import Studio
from hollow_marble.exchange.pictures import png
from hollow_marble.store.library import Project

DRAWN_BY = 2
"""Counts up whenever pictures are drawn in another way: those that are kept are drawn anew then."""
Drawn = tuple[str, Callable[[], NDArray[np.uint8]]]
"""What a picture depends on, in words, and how it is drawn, (tall, wide, 3)."""


def portrait(workspace: Workspace, project: Project, ident: str, edit: int | None, wide: int) -> bytes:
    """PNG of a document at a line of its ledger (None is its start), so many px wide; kept, for there it always looks the same."""
    state: Any = project.ledger.state(ident, edit, at_head=False)
    if isinstance(state, Sheet):
        return small_page_at(workspace, project, ident, edit, wide)
    depends, draw = _drawn(workspace, project, state, (wide, round(wide * 2 / 3)))
    name = hashlib.sha256(f"portrait {DRAWN_BY} {wide} {state.__class__.__name__} {depends}".encode()).hexdigest()
    data = workspace.drawn.get(name)
    if data is None:
        data = png(draw())
        workspace.drawn.put(name, lambda: data)
    return data


def _drawn(workspace: Workspace, project: Project, state: Any, size: tuple[int, int]) -> Drawn:
    if isinstance(state, Board):
        return state.model_dump_json(), lambda: draw_board(project.database, state, size)
    if isinstance(state, Brief):
        return state.model_dump_json(), lambda: draw_brief(project.database, state, size)
    evaluator = workspace.evaluator(project)
    if isinstance(state, Form):
        meshes = [mesh for _, mesh in evaluator.shown(state)]
        return " ".join(mesh.key for mesh in meshes), lambda: draw_form(meshes, size)
    if isinstance(state, Studio):
        # a studio does not say which line of the form's ledger was seen then: the form as it stands is what is lit
        form: Any = project.ledger.state(project.ledger.rows("form")[0].id)
        keys = " ".join(f"{part.id} {mesh.key}" for part, mesh in evaluator.shown(form))
        return f"{state.setting.model_dump_json()} {keys}", lambda: draw_studio(state.setting, form, evaluator, size)
    raise HollowMarbleError("There is no small picture of that kind of document.")
