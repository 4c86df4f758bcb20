"""Things copied from one document into another, of the same project or not.

A copy is an address: the project, the document, the line of its ledger and the things meant. What is pasted is what lay there then.
"""

from __future__ import annotations

from typing import Annotated, Any, Literal

import numpy as np
from pydantic import BaseModel, Field

from hollow_marble.application.editing import Editing, Hand, Made, Proposal
from hollow_marble.application.sheets.selections import selection_of
from hollow_marble.application.sheets.strokes import copied_strokes, new_id, open_ink_layer
from hollow_marble.application.sheets.tone import tile_assets
from hollow_marble.application.sheets.views import view_copied
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.ink import paint
from hollow_marble.core.ink.stamp import clipped
from hollow_marble.documents.edit import Asset, Edit, find
from hollow_marble.documents.form.edits import AddPart
from hollow_marble.documents.form.model import Form, Part
from hollow_marble.documents.form.recipe import FromPart
from hollow_marble.documents.naming import payloads
from hollow_marble.documents.sheet import painting
from hollow_marble.documents.sheet.edits import ChangeStrokes, PaintTone
from hollow_marble.documents.sheet.model import InkLayer, Sheet, ToneLayer
from hollow_marble.documents.sheet.raster.ink import InkDrawer
from hollow_marble.documents.studio.changes import pasted_lamp
from hollow_marble.documents.studio.edits import SetCamera, SetFinish, SetLamp, SetLight
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
    what: Literal["lines", "view", "paint", "part", "light", "lamp", "camera", "finish"]
    items: Annotated[list[str], Field(max_length=20_000)] = Field(
        [], description="ids; of paint its layer, and what is selected of it"
    )


class PasteRequest(BaseModel):
    """`onto` is the layer, lamp or part it goes on, called so; where it is left out, what comes nearest to where it was."""

    of: CopyOf
    onto: str | None = None
    called: str = Field("", max_length=60)


GOES: dict[str, tuple[type, str]] = {
    "lines": (Sheet, "a sheet"),
    "view": (Sheet, "a sheet"),
    "paint": (Sheet, "a sheet"),
    "part": (Form, "a form"),
    "light": (Studio, "a studio"),
    "lamp": (Studio, "a studio"),
    "camera": (Studio, "a studio"),
    "finish": (Studio, "a studio"),
}
"""What kind of document each thing lies in, and is pasted into."""


def paste(editing: Editing, project: Project, ident: str, wish: PasteRequest, hand: Hand) -> Made:
    """Put what was copied into a document."""
    source = editing.workspace.project(wish.of.project)
    state: Any = source.ledger.state(wish.of.document, wish.of.at or None, at_head=False)
    goes, place = GOES[wish.of.what]

    def compose(target: Any) -> Proposal:
        match state, target:
            case Sheet(), Sheet() if goes is Sheet:
                return _drawn(editing, (source, wish, state), (project, ident, target))
            case Form(), Form() if goes is Form:
                return _part(source, wish, state, target)
            case Studio(), Studio() if goes is Studio:
                return Proposal(_setting(wish, state, target))
        raise HollowMarbleError(f"What was copied goes into {place}. Open one and paste there.")

    return editing.make(project, ident, compose, hand)


def _first(wish: PasteRequest) -> str:
    return wish.of.items[0] if wish.of.items else ""


def _setting(wish: PasteRequest, state: Studio, target: Studio) -> Edit:
    """A studio's light as a whole, or one thing of its setting."""
    setting = state.setting
    if wish.of.what == "light":
        return SetLight(lamps=setting.lamps, set=setting.set, surround=setting.surround)
    if wish.of.what == "camera":
        return SetCamera(camera=setting.camera)
    if wish.of.what == "finish":
        finish = setting.finishes.get(_first(wish))
        if finish is None or wish.onto is None:
            raise HollowMarbleError("Choose a part that has a finish to copy, and one to paste it on.")
        return SetFinish(part=wish.onto, name=wish.called or "the part", finish=finish)
    lamp = find(setting.lamps, _first(wish), "lamp")
    onto = find(target.setting.lamps, wish.onto, "lamp") if wish.onto else None
    return SetLamp(lamp=pasted_lamp(lamp, onto, target.setting.lamps))


From = tuple[Project, PasteRequest, Sheet]
Onto = tuple[Project, str, Sheet]


def _drawn(editing: Editing, of: From, onto: Onto) -> Proposal:
    """Lines, a view or paint of a sheet."""
    (source, wish, state), (project, ident, target) = of, onto
    if wish.of.what == "paint":
        return _paint(editing, of, onto)
    ink = editing.workspace.raster(source, wish.of.document).ink
    by = (BESIDE, BESIDE) if source is project and wish.of.document == ident else (0.0, 0.0)
    if wish.of.what == "view":
        return view_copied(ink, state, find(state.views, _first(wish), "view"), target, by)
    return _lines(ink, wish, state, target, by)


def _paint(editing: Editing, of: From, onto: Onto) -> Proposal:
    """Selected paint laid over what is on a tone layer, at the same place of the page."""
    (source, wish, state), (project, ident, target) = of, onto
    layer = painting.tone_layer(state, _first(wish))
    chosen = selection_of(editing.workspace, source, wish.of.items[1] if len(wish.of.items) > 1 else None)
    if chosen is None:
        raise HollowMarbleError("Nothing is selected yet. Select something first.")
    shown = [other.id for other in target.layers if isinstance(other, ToneLayer) and not other.locked]
    if not wish.onto and not shown:
        raise HollowMarbleError("There is no open tone layer to paste on. Add one first.")
    goal = painting.tone_layer(target, wish.onto or shown[-1])
    rect = left, top, right, bottom = clipped(clipped(chosen.rect, painting.page_of(state)), painting.page_of(target))
    cover = chosen.within(rect)[..., None].astype(np.float32) / np.float32(255)
    with editing.workspace.pixels_of(source, wish.of.document, state) as raster:
        piece = raster.raw(layer.id)[top:bottom, left:right] * cover
    with editing.workspace.pixels_of(project, ident, target) as raster:
        tiles = painting.exchanged(raster, target, goal.id, rect, lambda under: paint.over(under, piece))
    if not tiles.names and piece[..., 3].any():
        raise HollowMarbleError("That paint lies there already. Choose another layer, or move what lies there first.")
    if not tiles.names:
        raise HollowMarbleError("There was no paint of that layer in the selection. Select some and copy again.")
    said = f"Pasted paint on {goal.name}"
    return Proposal(PaintTone(layer=goal.id, tiles=tiles.names, said=said[:120]), tile_assets(tiles))


def _lines(ink: InkDrawer, wish: PasteRequest, state: Sheet, target: Sheet, by: tuple[float, float]) -> Proposal:
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
    layer = wish.onto or open_ink_layer(target, "to paste on")
    added, assets = copied_strokes(ink, found, by)
    said = "Pasted a line" if len(added) == 1 else f"Pasted {len(added)} lines"
    return Proposal(ChangeStrokes(layer=layer, added=added, said=said), assets)


def _part(source: Project, wish: PasteRequest, state: Form, target: Form) -> Proposal:
    """A part with all that it is made of, under ids and names of their own."""
    part = find(state.parts, _first(wish), "part")
    wanted = _made_of(part, {other.id: other for other in state.parts})
    ids = {other.id: new_id(8) for other in wanted}
    names = {other.name for other in target.parts}
    copies = []
    for other in wanted:
        name, number = other.name, 2
        while name in names:
            name, number = f"{other.name[:55]} {number}", number + 1
        names.add(name)
        steps = tuple(_taking(step, ids) for step in other.steps)
        fields = {"id": ids[other.id], "name": name, "link": None, "locked": False, "steps": steps}
        copies.append(other.model_copy(update=fields))
    *along, copy = copies
    edit = AddPart(added=copy.model_copy(update={"visible": True}), along=tuple(along))
    shas = {sha for _, sha, _ in payloads(edit.model_dump(mode="json"))}
    assets = [Asset(sha, *load_asset(source.database, sha)) for sha in sorted(shas)]
    return Proposal(edit, tuple(assets))


def _made_of(part: Part, parts: dict[str, Part]) -> list[Part]:
    """A part after all that its recipe takes in, and what theirs take in, each once."""
    found: dict[str, Part] = {}

    def walk(one: Part) -> None:
        for step in one.steps:
            for taken in step.inputs.values():
                if isinstance(taken, FromPart) and taken.part in parts and taken.part not in found:
                    walk(parts[taken.part])
        found[one.id] = one

    walk(part)
    return list(found.values())


def _taking(step: Any, ids: dict[str, str]) -> Any:
    """A step that takes in the copies."""
    inputs = {
        name: FromPart(part=ids[taken.part]) if isinstance(taken, FromPart) and taken.part in ids else taken
        for name, taken in step.inputs.items()
    }
    return step.model_copy(update={"inputs": inputs}) if inputs else step
