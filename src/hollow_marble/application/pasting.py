"""Things copied from one document into another, of the same project or not.

A copy is an address: the project, the document, the line of its ledger and the things meant. What is pasted is what lay there then.
"""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field

from hollow_marble.application.editing import Editing, Hand, Made, Proposal
from hollow_marble.application.sheets.strokes import copied_strokes, new_id, open_ink_layer
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.edit import Asset, find
from hollow_marble.documents.form.edits import AddPart
from hollow_marble.documents.form.model import Form
from hollow_marble.documents.naming import payloads
from hollow_marble.documents.sheet.edits import ChangeStrokes
from hollow_marble.documents.sheet.model import InkLayer, Sheet
from hollow_marble.documents.studio.edits import SetLight
from hollow_marble.documents.studio.model import Studio
from hollow_marble.store.assets import load_asset
from hollow_marble.store.library import Project

BESIDE = 40.0
"""Px a copy lies beside what it was made of on the same sheet."""


class CopyOf(BaseModel):
    """What was copied: where it lies, at which line of the ledger (0 is the start), and which things."""

    project: str
    document: str
    at: int = Field(ge=0, le=2**53)
    what: Literal["lines", "part", "light"]
    items: Annotated[list[str], Field(max_length=20_000)] = []


class PasteRequest(BaseModel):
    """`layer` is where lines go; the topmost open ink layer where it is left out."""

    of: CopyOf
    layer: str | None = None


def paste(editing: Editing, project: Project, ident: str, wish: PasteRequest, hand: Hand) -> Made:
    """Put what was copied into a document."""
    source = editing.workspace.project(wish.of.project)
    state: Any = source.ledger.state(wish.of.document, wish.of.at or None, at_head=False)
    same = source is project and wish.of.document == ident

    def compose(target: Any) -> Proposal:
        if wish.of.what == "lines" and isinstance(target, Sheet) and isinstance(state, Sheet):
            return _lines(editing, source, wish, state, target, same)
        if wish.of.what == "part" and isinstance(target, Form) and isinstance(state, Form):
            return _part(source, wish, state, target)
        if wish.of.what == "light" and isinstance(target, Studio) and isinstance(state, Studio):
            return Proposal(SetLight(lamps=state.setting.lamps, sweep=state.setting.sweep))
        goes = {"lines": "a sheet", "part": "a form", "light": "a studio"}[wish.of.what]
        raise HollowMarbleError(f"What was copied goes into {goes}. Open one and paste there.")

    return editing.make(project, ident, compose, hand)


def _lines(editing: Editing, source: Project, wish: PasteRequest, state: Sheet, target: Sheet, same: bool) -> Proposal:
    wanted = set(wish.of.items)
    found = [
        stroke
        for layer in state.layers
        if isinstance(layer, InkLayer)
        for stroke in layer.strokes
        if stroke.id in wanted
    ]
    if not found:
        raise HollowMarbleError("The lines that were copied are no longer there. Copy them again.")
    layer = wish.layer or open_ink_layer(target, "to paste on")
    ink = editing.workspace.raster(source, wish.of.document).ink
    by = (BESIDE, BESIDE) if same else (0.0, 0.0)
    added, assets = copied_strokes(ink, found, by)
    said = "Pasted a line" if len(added) == 1 else f"Pasted {len(added)} lines"
    return Proposal(ChangeStrokes(layer=layer, added=added, said=said), assets)


def _part(source: Project, wish: PasteRequest, state: Form, target: Form) -> Proposal:
    part = find(state.parts, wish.of.items[0] if wish.of.items else "", "part")
    if part.takes_in_others:
        raise HollowMarbleError(f"{part.name} is made with other parts. Copy it where they are.")
    names = {other.name for other in target.parts}
    name, number = part.name, 2
    while name in names:
        name, number = f"{part.name[:55]} {number}", number + 1
    copy = part.model_copy(update={"id": new_id(8), "name": name, "link": None, "locked": False, "visible": True})
    shas = {sha for _, sha, _ in payloads(copy.model_dump(mode="json"))}
    assets = [Asset(sha, *load_asset(source.database, sha)) for sha in sorted(shas)]
    return Proposal(AddPart(added=copy), tuple(assets))
