"""Edits of a form."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.materials import Material
from hollow_marble.documents.edit import Frozen, find, given, put, replaced, without
from hollow_marble.documents.form.altering import added, check_free, gone, with_part
from hollow_marble.documents.form.built_edits import (
    CombineParts,
    CurveEdit,
    ExtendCurve,
    JoinEnds,
    PartAlong,
    PartOff,
    TrimCurve,
)
from hollow_marble.documents.form.changes import StoodPart
from hollow_marble.documents.form.checking import AcceptFinding, ForgetLine, KeepLine, ReopenFinding, SetChecking
from hollow_marble.documents.form.evaluation import FormEvaluator
from hollow_marble.documents.form.model import (
    Change,
    Form,
    Measure,
    MergedCage,
    NamedPick,
    Part,
    Seat,
    Start,
    Step,
)
from hollow_marble.documents.form.pinning import ChangeReference, PinReference, UnpinReference
from hollow_marble.documents.form.recipe import without_step
from hollow_marble.documents.form.steps import FormSymmetry, symmetry_of_old

Name = Annotated[str, Field(min_length=1, max_length=60)]


class StartPart(Frozen):
    """Begin a part."""

    kind: Literal["start_part"] = "start_part"
    part: str
    name: Name
    start: Start
    symmetry: FormSymmetry | None = None

    @model_validator(mode="before")
    @classmethod
    def _old(cls, value: Any) -> Any:
        return symmetry_of_old(value)

    def sentence(self) -> str:
        return f"{self.start.sentence()}: {self.name}"

    def applied_to(self, form: Form) -> Form:
        part = Part(id=self.part, name=self.name, symmetry=self.symmetry, steps=(self.start,))
        return added(form, part)


class StartParts(Frozen):
    """Begin several parts at once, as those of a file; `left` is what of the file could not be one."""

    kind: Literal["start_parts"] = "start_parts"
    parts: Annotated[tuple[StartPart, ...], Field(min_length=1, max_length=2000)]
    file: Name
    left: str = Field("", max_length=200)

    def sentence(self) -> str:
        many = (
            f"{len(self.parts)} {'curves' if self.parts[0].start.draws else 'solids'} of "
            if len(self.parts) > 1
            else ""
        )
        left = f", without {self.left}" if self.left else ""
        return f"Brought in {many}{self.file}{left}"

    def applied_to(self, form: Form) -> Form:
        for one in self.parts:
            form = one.applied_to(form)
        return form


class AddPart(Frozen):
    """Take in a part made elsewhere, with its whole recipe, and the parts (`along`) that it is made of."""

    kind: Literal["add_part"] = "add_part"
    added: Part
    along: tuple[Part, ...] = Field((), exclude_if=lambda along: not along)

    def sentence(self) -> str:
        return f"Pasted {self.added.name}"

    def applied_to(self, form: Form) -> Form:
        for part in (*self.along, self.added):
            form = added(form, part)
        return form


class Shape(Frozen):
    """Add a step to a part's recipe."""

    kind: Literal["shape"] = "shape"
    part: str
    step: Change

    def sentence(self) -> str:
        return self.step.sentence()

    def applied_to(self, form: Form) -> Form:
        part = find(form.parts, self.part, "part")
        check_free(form, part)
        if not part.shaped and self.step.gives_shape:
            raise HollowMarbleError(f"{part.name} is {part.steps[0].what}: it has no cage that this could shape.")
        return with_part(form, part.with_step(self.step))


class ChangeStep(Frozen):
    """Give an earlier step of a recipe other numbers; later steps follow.

    following : the later steps with their picks carried over to the new cage, where that changed them
    """

    kind: Literal["change_step"] = "change_step"
    part: str
    index: int = Field(ge=0)
    step: Step
    following: tuple[Step, ...] | None = None

    def sentence(self) -> str:
        return f"Changed step {self.index + 1}: {self.step.sentence()[0].lower()}{self.step.sentence()[1:]}"

    def applied_to(self, form: Form) -> Form:
        part = find(form.parts, self.part, "part")
        own_place = part.link is not None and self.index == len(part.steps) - 1 and self.step.kind == "stood"
        if not own_place:
            check_free(form, part)
        if self.index >= len(part.steps) or part.steps[self.index].kind != self.step.kind:
            raise HollowMarbleError("That step is no longer in the recipe. Look at the recipe again.")
        self.step.check_after(part.steps[self.index])
        later = part.steps[self.index + 1 :] if self.following is None else self.following
        return with_part(form, part.model_copy(update={"steps": (*part.steps[: self.index], self.step, *later)}))


class DropStep(Frozen):
    """Take an earlier step out of a recipe; later steps follow."""

    kind: Literal["drop_step"] = "drop_step"
    part: str
    index: int = Field(ge=1)
    following: tuple[Step, ...] | None = None

    def sentence(self) -> str:
        return f"Took step {self.index + 1} out"

    def applied_to(self, form: Form) -> Form:
        part = find(form.parts, self.part, "part")
        check_free(form, part)
        if self.index >= len(part.steps):
            raise HollowMarbleError("That step is no longer in the recipe. Look at the recipe again.")
        later = part.steps[self.index + 1 :] if self.following is None else self.following
        later = tuple(without_step(step, self.index) for step in later)
        return with_part(form, part.model_copy(update={"steps": (*part.steps[: self.index], *later)}))


class ChangePart(Frozen):
    """Rename a part, show, hide, lock or group it, set its symmetry or its smoothness."""

    kind: Literal["change_part"] = "change_part"
    part: str
    name: Name | None = None
    visible: bool | None = None
    locked: bool | None = None
    group: Annotated[str, Field(max_length=60)] | None = None
    symmetry: FormSymmetry | None = None
    level: int | None = Field(None, ge=1, le=5)
    take_level: int | None = Field(None, ge=1, le=6)
    material: Material | None = None

    @model_validator(mode="before")
    @classmethod
    def _old(cls, value: Any) -> Any:
        if isinstance(value, dict) and value.get("symmetric") is False:
            return {k: v for k, v in value.items() if k != "symmetric"} | {"symmetry": {}}
        return symmetry_of_old(value)

    def sentence(self) -> str:
        parts = []
        if self.name is not None:
            parts.append(f"renamed a part to {self.name}")
        if self.visible is not None:
            parts.append("showed a part" if self.visible else "hid a part")
        if self.locked is not None:
            parts.append("locked a part" if self.locked else "unlocked a part")
        if self.group is not None:
            parts.append(f"put a part in the group {self.group}" if self.group else "took a part out of its group")
        if self.symmetry is not None:
            on = self.symmetry.planes or self.symmetry.turns > 1
            parts.append(f"switched symmetry {self.symmetry.words()} on" if on else "switched symmetry off")
        if self.level is not None:
            parts.append(f"set smoothness to level {self.level}")
        if self.take_level is not None:
            parts.append(f"set smoothness in takes to level {self.take_level}")
        if self.material is not None:
            parts.append(f"made a part of {self.material}")
        text = ", ".join(parts) or "left a part as it was"
        return text[0].upper() + text[1:]

    def applied_to(self, form: Form) -> Form:
        part = find(form.parts, self.part, "part")
        fields = given(
            name=self.name,
            visible=self.visible,
            locked=self.locked,
            level=self.level,
            take_level=self.take_level,
            material=self.material,
        )
        if self.group is not None:
            fields["group"] = self.group or None
        if self.symmetry is not None:
            fields["symmetry"] = self.symmetry if self.symmetry.planes or self.symmetry.turns > 1 else None
        return form.model_copy(update={"parts": replaced(form.parts, part.model_copy(update=fields))})


class DuplicatePart(Frozen):
    """Make a copy of a part: one that goes its own way, or one that follows its original (`linked`) and stands elsewhere."""

    kind: Literal["duplicate_part"] = "duplicate_part"
    part: str
    copy_id: str
    name: Name
    linked: bool = False
    stood: StoodPart = Field(default_factory=StoodPart)

    def sentence(self) -> str:
        return f"Made {'a linked copy' if self.linked else 'a copy'}: {self.name}"

    def applied_to(self, form: Form) -> Form:
        part = find(form.parts, self.part, "part")
        source = part.link or part.id
        fields = {"id": self.copy_id, "name": self.name, "locked": False, "link": source if self.linked else None}
        steps = find(form.parts, source, "part").steps if self.linked else part.steps
        moved = self.linked or self.stood != StoodPart()
        return added(form, part.model_copy(update={**fields, "steps": (*steps, self.stood) if moved else steps}))


class BreakLink(Frozen):
    """Let a linked copy go its own way, as it is."""

    kind: Literal["break_link"] = "break_link"
    part: str

    def sentence(self) -> str:
        return "Broke the link of a part"

    def applied_to(self, form: Form) -> Form:
        part = find(form.parts, self.part, "part")
        if part.link is None:
            raise HollowMarbleError(f"{part.name} is not linked to another part.")
        return form.model_copy(update={"parts": replaced(form.parts, part.model_copy(update={"link": None}))})


class MergeParts(Frozen):
    """Take another part's cage into a part; the other goes."""

    kind: Literal["merge_parts"] = "merge_parts"
    part: str
    other: str

    def sentence(self) -> str:
        return "Merged two parts"

    def applied_to(self, form: Form) -> Form:
        part, other = find(form.parts, self.part, "part"), find(form.parts, self.other, "part")
        if part.id == other.id:
            raise HollowMarbleError("A part cannot be merged with itself. Choose another.")
        for one in (part, other):
            check_free(form, one)
            if not one.shaped:
                raise HollowMarbleError(f"{one.name} is {one.steps[0].what}, so it has no cage to merge.")
        step = MergedCage(name=other.name, steps=other.steps)
        return with_part(gone(form, other), part.with_step(step))


class KeepPick(Frozen):
    """Keep what is picked under a name."""

    kind: Literal["keep_pick"] = "keep_pick"
    part: str
    name: Name
    of: Literal["points", "edges", "faces"]
    items: tuple[int, ...] = Field(min_length=1)

    def sentence(self) -> str:
        return f"Kept a pick as {self.name}"

    def applied_to(self, form: Form) -> Form:
        part = find(form.parts, self.part, "part")
        pick = NamedPick(name=self.name, kind=self.of, items=self.items, steps=len(part.steps))
        others = tuple(other for other in part.picks if other.name != self.name)
        changed = part.model_copy(update={"picks": (*others, pick)})
        return form.model_copy(update={"parts": replaced(form.parts, changed)})


class ForgetPick(Frozen):
    """Forget a named pick."""

    kind: Literal["forget_pick"] = "forget_pick"
    part: str
    name: Name

    def sentence(self) -> str:
        return f"Forgot the pick {self.name}"

    def applied_to(self, form: Form) -> Form:
        part = find(form.parts, self.part, "part")
        left = tuple(pick for pick in part.picks if pick.name != self.name)
        return form.model_copy(update={"parts": replaced(form.parts, part.model_copy(update={"picks": left}))})


class KeepSeat(Frozen):
    """Keep a seat of the handle under its name."""

    kind: Literal["keep_seat"] = "keep_seat"
    seat: Seat

    def sentence(self) -> str:
        return f"Kept the seat {self.seat.name}"

    def applied_to(self, form: Form) -> Form:
        others = tuple(seat for seat in form.seats if seat.name != self.seat.name)
        return form.model_copy(update={"seats": (*others, self.seat)})


class ForgetSeat(Frozen):
    """Forget a named seat."""

    kind: Literal["forget_seat"] = "forget_seat"
    name: Name

    def sentence(self) -> str:
        return f"Forgot the seat {self.name}"

    def applied_to(self, form: Form) -> Form:
        return form.model_copy(update={"seats": tuple(seat for seat in form.seats if seat.name != self.name)})


class PutMeasure(Frozen):
    """Set a dimension between two points, or change one."""

    kind: Literal["put_measure"] = "put_measure"
    measure: Measure

    def sentence(self) -> str:
        return "Measured between two points"

    def applied_to(self, form: Form) -> Form:
        for anchor in (self.measure.first, self.measure.second):
            find(form.parts, anchor.part, "part")
        if self.measure.first == self.measure.second:
            raise HollowMarbleError("A dimension needs two points. Pick another one.")
        return form.model_copy(update={"measures": put(form.measures, self.measure)})


class RemoveMeasure(Frozen):
    """Take a dimension away."""

    kind: Literal["remove_measure"] = "remove_measure"
    id: str

    def sentence(self) -> str:
        return "Took a dimension away"

    def applied_to(self, form: Form) -> Form:
        return form.model_copy(update={"measures": without(form.measures, self.id, "dimension")})


class RemovePart(Frozen):
    """Remove a part."""

    kind: Literal["remove_part"] = "remove_part"
    part: str

    def sentence(self) -> str:
        return "Removed a part"

    def applied_to(self, form: Form) -> Form:
        part = find(form.parts, self.part, "part")
        if part.locked:
            raise HollowMarbleError(f"{part.name} is locked. Unlock it first.")
        user = next((other for other in form.parts if other.id != part.id and other.takes_in(part.id)), None)
        if user is not None:
            raise HollowMarbleError(
                f"{user.name} is made with {part.name}. Take that step out of its recipe first, or hide the part."
            )
        return gone(form, part)


class BeginOver(Frozen):
    """Stand a sheet's view behind the form, and begin a part over it: one move, undone as one."""

    kind: Literal["begin_over"] = "begin_over"
    pin: PinReference | None = None
    begin: StartPart

    def sentence(self) -> str:
        return self.begin.sentence() + (", over its pinned view" if self.pin else "")

    def applied_to(self, form: Form) -> Form:
        return self.begin.applied_to(self.pin.applied_to(form) if self.pin else form)


FormEdit = Annotated[
    StartPart
    | StartParts
    | BeginOver
    | AddPart
    | Shape
    | ChangeStep
    | DropStep
    | ChangePart
    | DuplicatePart
    | BreakLink
    | MergeParts
    | CombineParts
    | PartOff
    | PartAlong
    | TrimCurve
    | ExtendCurve
    | JoinEnds
    | RemovePart
    | KeepPick
    | ForgetPick
    | KeepSeat
    | ForgetSeat
    | PutMeasure
    | RemoveMeasure
    | PinReference
    | ChangeReference
    | UnpinReference
    | SetChecking
    | AcceptFinding
    | ReopenFinding
    | KeepLine
    | ForgetLine,
    Field(discriminator="kind"),
]


def still_meant(edit: Any, seen: Form, met: Form, evaluator: FormEvaluator) -> bool:
    """Whether what an edit picks in a part by number is the same in the state it meets as in the one that was seen.

    Numbers of points, edges and faces mean the same while the cage's connectivity is the same; the number of a step while the
    steps up to it are of the same kinds.
    """
    ident = getattr(edit, "part", None)
    before = next((part for part in seen.parts if part.id == ident), None)
    now = next((part for part in met.parts if part.id == ident), None)
    if before is None or now is None or before.steps is now.steps or before.steps == now.steps:
        return True  # where the part is gone, or was not there, the edit says so itself
    if isinstance(edit, ChangeStep | DropStep):
        kinds = [[step.kind for step in part.steps[: edit.index + 1]] for part in (before, now)]
        return kinds[0] == kinds[1]
    if isinstance(edit, CurveEdit):
        drawn = [
            [(piece.name, piece.points) for piece in getattr(part.steps[0], "pieces", ())] for part in (before, now)
        ]
        return drawn[0] == drawn[1]
    if isinstance(edit, Shape | KeepPick):
        # a step on a solid names faces and edges by what made them, and is refused where they are gone
        numbered = ("points", "edges", "edge", "faces")
        picks = isinstance(edit, KeepPick) or (
            edit.step.keeps_cage and any(name in type(edit.step).model_fields for name in numbered)
        )
        return not picks or evaluator.cage(before).connectivity_key == evaluator.cage(now).connectivity_key
    return True
