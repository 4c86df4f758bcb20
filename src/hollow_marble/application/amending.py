"""Edits that say only what was changed of a thing; the rest is taken from the document as it stands.

So a number typed just after a switch cannot put the switch back, and two people may change two numbers of one lamp.
"""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field

from hollow_marble.application.editing import Editing, Hand, Made, Proposal
from hollow_marble.application.forms import amend_step, step_of
from hollow_marble.core.errors import HollowMarbleError, NotFoundError
from hollow_marble.documents.amend import amended, value_at
from hollow_marble.documents.edit import Edit, Frozen, find, put
from hollow_marble.documents.form.edits import PutMeasure
from hollow_marble.documents.form.evaluation import FormEvaluator
from hollow_marble.documents.form.model import Form
from hollow_marble.documents.kinds import Document
from hollow_marble.documents.sheet.edits import PutGuide, PutNote, SetPerspective, SetSymmetry
from hollow_marble.documents.sheet.model import NotesLayer, Sheet
from hollow_marble.documents.studio.changes import held_to, of_kind, turned_finish
from hollow_marble.documents.studio.edits import (
    BuildSet,
    PlaceUnits,
    PutMark,
    SetCamera,
    SetFinish,
    SetLamp,
    SetSurround,
)
from hollow_marble.documents.studio.model import Finish, Studio
from hollow_marble.store.library import Project

Fields = Annotated[dict[str, Any], Field(min_length=1, max_length=40)]
"""What was changed: values by name, or by a path ("size.0")."""


class Amended(BaseModel):
    """Some fields of a thing in a document."""

    fields: Fields

    def thing(self, document: Any) -> Frozen:
        """The thing as it stands. Raises NotFoundError where it is no longer there."""
        raise NotImplementedError

    def edit(self, document: Any, evaluator: FormEvaluator) -> Edit:
        """The edit that gives the thing its new fields."""
        return self.put(amended(self.thing(document), self.fields), document)

    def put(self, thing: Any, document: Any) -> Edit:
        """The edit that puts the thing in its place."""
        raise NotImplementedError


class StepAmended(Amended):
    """A step of a part's recipe."""

    kind: Literal["step"]
    part: str
    index: int = Field(ge=0)

    def thing(self, document: Form) -> Frozen:
        step: Frozen = step_of(document, self.part, self.index)
        return step

    def edit(self, document: Form, evaluator: FormEvaluator) -> Edit:
        return amend_step(document, self.part, self.index, self.fields, evaluator)


class MeasureAmended(Amended):
    """A dimension on a form."""

    kind: Literal["measure"]
    id: str

    def thing(self, document: Form) -> Frozen:
        return find(document.measures, self.id, "dimension")

    def put(self, thing: Any, document: Form) -> Edit:
        return PutMeasure(measure=thing)


class LampAmended(Amended):
    """A lamp of a studio."""

    kind: Literal["lamp"]
    id: str

    def thing(self, document: Studio) -> Frozen:
        lamp = find(document.setting.lamps, self.id, "lamp")
        if "kind" in self.fields:
            lamp = of_kind(lamp, self.fields["kind"])
        return held_to(lamp, self.fields["held"], document.setting) if "held" in self.fields else lamp

    def put(self, thing: Any, document: Studio) -> Edit:
        return SetLamp(lamp=thing)


class CameraAmended(Amended):
    """The camera of a studio."""

    kind: Literal["camera"]

    def thing(self, document: Studio) -> Frozen:
        return document.setting.camera

    def put(self, thing: Any, document: Studio) -> Edit:
        return SetCamera(camera=thing)


class SetAmended(Amended):
    """The set of a studio."""

    kind: Literal["set"]

    def thing(self, document: Studio) -> Frozen:
        chosen = document.setting.set
        return of_kind(chosen, self.fields["kind"]) if "kind" in self.fields else chosen

    def put(self, thing: Any, document: Studio) -> Edit:
        return BuildSet(set=thing)


class UnitAmended(Amended):
    """A copy of the product in the set."""

    kind: Literal["unit"]
    id: str

    def thing(self, document: Studio) -> Frozen:
        return find(document.setting.units, self.id, "copy of the product")

    def put(self, thing: Any, document: Studio) -> Edit:
        return PlaceUnits(units=put(document.setting.units, thing))


class SurroundAmended(Amended):
    """The surround of a studio."""

    kind: Literal["surround"]

    def thing(self, document: Studio) -> Frozen:
        return document.setting.surround

    def put(self, thing: Any, document: Studio) -> Edit:
        return SetSurround(surround=thing)


class AreaAmended(Amended):
    """A panel or a flag of a studio's surround."""

    kind: Literal["area"]
    id: str

    def thing(self, document: Studio) -> Frozen:
        return find(document.setting.surround.areas, self.id, "panel")

    def put(self, thing: Any, document: Studio) -> Edit:
        surround = document.setting.surround
        return SetSurround(surround=surround.model_copy(update={"areas": put(surround.areas, thing)}))


class FinishAmended(Amended):
    """The finish of a part; `name` is the part's, for the ledger. A material with a colour of its own brings it, unless one is chosen with it."""

    kind: Literal["finish"]
    part: str
    name: Annotated[str, Field(min_length=1, max_length=60)]

    def thing(self, document: Studio) -> Frozen:
        finish = document.setting.finishes.get(self.part, Finish())
        return turned_finish(finish, self.fields["material"]) if "material" in self.fields else finish

    def put(self, thing: Any, document: Studio) -> Edit:
        return SetFinish(part=self.part, name=self.name, finish=thing)


class MarkAmended(Amended):
    """Lettering or artwork on a part."""

    kind: Literal["mark"]
    id: str

    def thing(self, document: Studio) -> Frozen:
        mark = find(document.setting.marks, self.id, "mark")
        # a relief of no depth could not be seen
        flat = self.fields.get("way") == "relief" and mark.depth == 0
        return mark.model_copy(update={"depth": -0.1}) if flat else mark

    def put(self, thing: Any, document: Studio) -> Edit:
        return PutMark(mark=thing)


class SymmetryAmended(Amended):
    """The symmetry a sheet is drawn under."""

    kind: Literal["symmetry"]

    def thing(self, document: Sheet) -> Frozen:
        return document.symmetry

    def put(self, thing: Any, document: Sheet) -> Edit:
        return SetSymmetry(**thing.model_dump())


class GuideAmended(Amended):
    """A guide on a sheet."""

    kind: Literal["guide"]
    id: str

    def thing(self, document: Sheet) -> Frozen:
        return find(document.guides, self.id, "guide")

    def put(self, thing: Any, document: Sheet) -> Edit:
        return PutGuide(guide=thing)


class NoteAmended(Amended):
    """A note on a sheet."""

    kind: Literal["note"]
    layer: str
    id: str

    def thing(self, document: Sheet) -> Frozen:
        layer = find(document.layers, self.layer, "layer")
        return find(layer.notes if isinstance(layer, NotesLayer) else (), self.id, "note")

    def put(self, thing: Any, document: Sheet) -> Edit:
        return PutNote(layer=self.layer, note=thing)


class PerspectiveAmended(Amended):
    """The perspective of a sheet."""

    kind: Literal["perspective"]

    def thing(self, document: Sheet) -> Frozen:
        if document.perspective is None:
            raise NotFoundError("There is no perspective on this sheet. Set one first.")
        return document.perspective

    def put(self, thing: Any, document: Sheet) -> Edit:
        return SetPerspective(perspective=thing, box=document.box)


class BoxAmended(Amended):
    """The construction box in the perspective of a sheet."""

    kind: Literal["box"]

    def thing(self, document: Sheet) -> Frozen:
        if document.box is None:
            raise NotFoundError("There is no construction box on this sheet. Set one first.")
        return document.box

    def put(self, thing: Any, document: Sheet) -> Edit:
        return SetPerspective(perspective=document.perspective, box=thing, what="box")


Amendment = Annotated[
    StepAmended
    | MeasureAmended
    | LampAmended
    | CameraAmended
    | SetAmended
    | UnitAmended
    | SurroundAmended
    | AreaAmended
    | MarkAmended
    | FinishAmended
    | SymmetryAmended
    | GuideAmended
    | NoteAmended
    | PerspectiveAmended
    | BoxAmended,
    Field(discriminator="kind"),
]

_OF: dict[type[BaseModel], type[Any]] = {
    StepAmended: Form,
    MeasureAmended: Form,
    LampAmended: Studio,
    CameraAmended: Studio,
    **dict.fromkeys((SetAmended, UnitAmended, SurroundAmended, AreaAmended, MarkAmended), Studio),
    FinishAmended: Studio,
}


class ClashError(HollowMarbleError):
    """Two set the same number. `more` holds what the interface offers: `theirs`, which stands, and `yours`, which was not set."""

    status = 409

    def __init__(self, field: str, theirs: Any, yours: Any, done: str) -> None:
        name = field.split(".")[0].replace("_", " ").capitalize()
        super().__init__(
            f"{name} was changed in another window while you changed it (“{done}”). Keep what stands, or set yours."
        )
        self.more = {"theirs": theirs, "yours": yours}


def amend(editing: Editing, project: Project, ident: str, wish: Amended, hand: Hand) -> Made:
    """Change only what is named of a thing in a document.

    Raises
    ------
    ClashError
        where somebody else changed the same field since its hand saw it: both are told, and neither is lost in silence.
    """
    evaluator = editing.workspace.evaluator(project)

    def compose(document: Document) -> Proposal:
        if not isinstance(document, _OF.get(type(wish), Sheet)):
            raise HollowMarbleError("That thing does not belong to this kind of document.")
        return Proposal(wish.edit(document, evaluator))

    def clashes(seen: Document, met: Document) -> None:
        try:
            before, now = (wish.thing(document).model_dump(mode="json") for document in (seen, met))
        except NotFoundError:
            return  # new since, or gone, of which `compose` tells
        for field, yours in wish.fields.items():
            was, theirs = value_at(before, field), value_at(now, field)
            if was != theirs and not _same(theirs, yours):
                head = project.ledger.row(ident).head
                raise ClashError(field, theirs, yours, project.ledger.line(head).sentence if head else "The start")

    return editing.make(project, ident, compose, hand, clashes)


def _same(one: Any, other: Any) -> bool:
    """Whether a value that was sent is one that stands."""
    if isinstance(one, str) and isinstance(other, str):
        return one.casefold() == other.casefold()  # colours
    return bool(one == other)
