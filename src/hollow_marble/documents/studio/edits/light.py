"""Edits of a studio's light: lamps, cards, starts."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Literal

from pydantic import Field, model_validator

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.edit import Frozen, put, without
from hollow_marble.documents.studio.edits.setting import with_fields
from hollow_marble.documents.studio.model import Card, Lamp, Set, Studio, Surround
from hollow_marble.documents.studio.starts import LIGHTS, READY_SETS

Lamps = Annotated[tuple[Lamp, ...], Field(max_length=48)]
if TYPE_CHECKING:
    LightStart = str
    SetStart = str
else:  # the tables say what there is
    LightStart = Literal[tuple(LIGHTS)]
    SetStart = Literal[tuple(READY_SETS)]


class SetLamp(Frozen):
    """Place a lamp or a card, or change one by its id."""

    kind: Literal["set_lamp"] = "set_lamp"
    lamp: Lamp

    def sentence(self) -> str:
        x = self.lamp
        state = "" if x.on else ", off"
        where = f"{x.distance / 1000:.2f} m at {x.azimuth:.0f}°, {x.height:.0f}° high"
        if isinstance(x, Card):
            return f"Set the {x.called.lower()}: {where}{state}"
        return f"Set the {x.called.lower()} lamp: {where}, {x.power:+.1f} stops{state}"

    def applied_to(self, studio: Studio) -> Studio:
        return with_fields(studio, lamps=_room_for(put(studio.setting.lamps, self.lamp)))


class SetLamps(Frozen):
    """Change several lamps at once; those whose id is new are added."""

    kind: Literal["set_lamps"] = "set_lamps"
    lamps: Lamps = Field(min_length=1)
    doing: Literal["Switched on", "Switched off", "Grouped", "Ungrouped", "Mirrored", "Added", "Changed"] = "Changed"

    def sentence(self) -> str:
        return f"{self.doing} {len(self.lamps)} lamps"

    def applied_to(self, studio: Studio) -> Studio:
        lamps = studio.setting.lamps
        for lamp in self.lamps:
            lamps = put(lamps, lamp)
        return with_fields(studio, lamps=_room_for(lamps))


def _room_for(lamps: tuple[Lamp, ...]) -> tuple[Lamp, ...]:
    if len(lamps) > 48:
        raise HollowMarbleError("A set takes 48 lamps and cards. Remove one first.")
    return lamps


class RemoveLamp(Frozen):
    """Take a lamp or a card away."""

    kind: Literal["remove_lamp"] = "remove_lamp"
    id: str

    def sentence(self) -> str:
        return "Took a lamp away"

    def applied_to(self, studio: Studio) -> Studio:
        return with_fields(studio, lamps=without(studio.setting.lamps, self.id, "lamp"))


class StartLight(Frozen):
    """Begin the light anew from one of the starts."""

    kind: Literal["start_light"] = "start_light"
    start: LightStart = "three-point"

    def sentence(self) -> str:
        return f"Began the light: {self.start}"

    def applied_to(self, studio: Studio) -> Studio:
        return with_fields(studio, lamps=LIGHTS[self.start])


class StartSet(Frozen):
    """Begin with a ready set and its light."""

    kind: Literal["start_set"] = "start_set"
    start: SetStart

    def sentence(self) -> str:
        return f"Began with the set {self.start}"

    def applied_to(self, studio: Studio) -> Studio:
        return studio.model_copy(update={"setting": READY_SETS[self.start].put_into(studio.setting)})


class SetLight(Frozen):
    """Take over the lamps, the set and the surround of another studio."""

    kind: Literal["set_light"] = "set_light"
    lamps: Lamps
    set: Set
    surround: Surround = Surround()

    @model_validator(mode="after")
    def _once_each(self) -> SetLight:
        if len({lamp.id for lamp in self.lamps}) != len(self.lamps):
            raise ValueError("two lamps have one id")
        return self

    def sentence(self) -> str:
        return f"Pasted the light: {len(self.lamps)} lamps and the set"

    def applied_to(self, studio: Studio) -> Studio:
        return with_fields(studio, lamps=self.lamps, set=self.set, surround=self.surround)
