"""Edits that say only what was changed of a thing; the rest is taken from the document as it stands.

So a number typed just after a switch cannot put the switch back, and two people may change two numbers of one lamp.
"""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field

from hollow_marble.application.editing import Editing, Hand, Made, Proposal
from hollow_marble.application.forms import amend_step
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.amend import amended
from hollow_marble.documents.edit import Edit, find
from hollow_marble.documents.form.edits import PutMeasure
from hollow_marble.documents.form.evaluation import FormEvaluator
from hollow_marble.documents.form.model import Form
from hollow_marble.documents.kinds import Document
from hollow_marble.documents.sheet.edits import PutGuide, PutNote, SetPerspective, SetSymmetry
from hollow_marble.documents.sheet.model import NotesLayer, Sheet
from hollow_marble.documents.studio.edits import SetCamera, SetFinish, SetLamp, SetSweep
from hollow_marble.documents.studio.model import OWN_COLOURS, Finish, Studio
from hollow_marble.store.library import Project

Fields = Annotated[dict[str, Any], Field(min_length=1, max_length=40)]
"""What was changed: values by name, or by a path ("size.0")."""


class StepAmended(BaseModel):
    """A step of a part's recipe."""

    kind: Literal["step"]
    part: str
    index: int = Field(ge=0)
    fields: Fields

    def edit(self, form: Form, evaluator: FormEvaluator) -> Edit:
        return amend_step(form, self.part, self.index, self.fields, evaluator)


class MeasureAmended(BaseModel):
    """A dimension on a form."""

    kind: Literal["measure"]
    id: str
    fields: Fields

    def edit(self, form: Form, evaluator: FormEvaluator) -> Edit:
        return PutMeasure(measure=amended(find(form.measures, self.id, "dimension"), self.fields))


class LampAmended(BaseModel):
    """A lamp of a studio."""

    kind: Literal["lamp"]
    id: str
    fields: Fields

    def edit(self, studio: Studio, evaluator: FormEvaluator) -> Edit:
        return SetLamp(lamp=amended(find(studio.setting.lamps, self.id, "lamp"), self.fields))


class CameraAmended(BaseModel):
    """The camera of a studio."""

    kind: Literal["camera"]
    fields: Fields

    def edit(self, studio: Studio, evaluator: FormEvaluator) -> Edit:
        return SetCamera(camera=amended(studio.setting.camera, self.fields))


class SweepAmended(BaseModel):
    """The sweep of a studio."""

    kind: Literal["sweep"]
    fields: Fields

    def edit(self, studio: Studio, evaluator: FormEvaluator) -> Edit:
        return SetSweep(sweep=amended(studio.setting.sweep, self.fields))


class FinishAmended(BaseModel):
    """The finish of a part; `name` is the part's, for the ledger. A material with a colour of its own brings it, unless one is chosen with it."""

    kind: Literal["finish"]
    part: str
    name: Annotated[str, Field(min_length=1, max_length=60)]
    fields: Fields

    def edit(self, studio: Studio, evaluator: FormEvaluator) -> Edit:
        own = OWN_COLOURS.get(self.fields.get("material", ""))
        fields = {"colour": own, **self.fields} if own else self.fields
        finish = amended(studio.setting.finishes.get(self.part, Finish()), fields)
        return SetFinish(part=self.part, name=self.name, finish=finish)


class SymmetryAmended(BaseModel):
    """The symmetry a sheet is drawn under."""

    kind: Literal["symmetry"]
    fields: Fields

    def edit(self, sheet: Sheet, evaluator: FormEvaluator) -> Edit:
        return SetSymmetry(**amended(sheet.symmetry, self.fields).model_dump())


class GuideAmended(BaseModel):
    """A guide on a sheet."""

    kind: Literal["guide"]
    id: str
    fields: Fields

    def edit(self, sheet: Sheet, evaluator: FormEvaluator) -> Edit:
        return PutGuide(guide=amended(find(sheet.guides, self.id, "guide"), self.fields))


class NoteAmended(BaseModel):
    """A note on a sheet."""

    kind: Literal["note"]
    layer: str
    id: str
    fields: Fields

    def edit(self, sheet: Sheet, evaluator: FormEvaluator) -> Edit:
        layer = find(sheet.layers, self.layer, "layer")
        notes = layer.notes if isinstance(layer, NotesLayer) else ()
        return PutNote(layer=self.layer, note=amended(find(notes, self.id, "note"), self.fields))


class PerspectiveAmended(BaseModel):
    """The perspective of a sheet."""

    kind: Literal["perspective"]
    fields: Fields

    def edit(self, sheet: Sheet, evaluator: FormEvaluator) -> Edit:
        if sheet.perspective is None:
            raise HollowMarbleError("There is no perspective on this sheet. Set one first.")
        return SetPerspective(perspective=amended(sheet.perspective, self.fields), box=sheet.box)


class BoxAmended(BaseModel):
    """The construction box in the perspective of a sheet."""

    kind: Literal["box"]
    fields: Fields

    def edit(self, sheet: Sheet, evaluator: FormEvaluator) -> Edit:
        if sheet.box is None:
            raise HollowMarbleError("There is no construction box on this sheet. Set one first.")
        return SetPerspective(perspective=sheet.perspective, box=amended(sheet.box, self.fields), what="box")


Amendment = Annotated[
    StepAmended
    | MeasureAmended
    | LampAmended
    | CameraAmended
    | SweepAmended
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
    SweepAmended: Studio,
    FinishAmended: Studio,
}


def amend(editing: Editing, project: Project, ident: str, wish: Any, hand: Hand) -> Made:
    """Change only what is named of a thing in a document."""
    evaluator = editing.workspace.evaluator(project)

    def compose(document: Document) -> Proposal:
        if not isinstance(document, _OF.get(type(wish), Sheet)):
            raise HollowMarbleError("That thing does not belong to this kind of document.")
        return Proposal(wish.edit(document, evaluator))

    return editing.make(project, ident, compose, hand)
