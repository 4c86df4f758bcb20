"""Edits of finishes, marks and colourways."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.edit import Frozen, find, put, without
from hollow_marble.documents.studio.edits.setting import Name, with_fields
from hollow_marble.documents.studio.model import Colourway, Finish, Mark, Studio, Zone


class SetFinish(Frozen):
    """Give a part a finish."""

    kind: Literal["set_finish"] = "set_finish"
    part: str
    name: Name
    finish: Finish

    def sentence(self) -> str:
        ramp = self.finish.ramp
        into = f" running into {ramp.to}" if ramp else ""
        return f"Finished {self.name} in {self.finish.material}, {self.finish.colour}{into}"

    def applied_to(self, studio: Studio) -> Studio:
        return with_fields(studio, finishes={**studio.setting.finishes, self.part: self.finish})


class PutMark(Frozen):
    """Lay lettering or artwork on a part, or change it by its id."""

    kind: Literal["put_mark"] = "put_mark"
    mark: Mark

    def sentence(self) -> str:
        return f"Laid {self.mark.called} on, {self.mark.width:.0f} mm wide"

    def applied_to(self, studio: Studio) -> Studio:
        marks = put(studio.setting.marks, self.mark)
        if len(marks) > 60:
            raise HollowMarbleError("A product takes 60 marks. Remove one first.")
        return with_fields(studio, marks=marks)


class RemoveMark(Frozen):
    """Take lettering or artwork off."""

    kind: Literal["remove_mark"] = "remove_mark"
    id: str

    def sentence(self) -> str:
        return "Took a mark off"

    def applied_to(self, studio: Studio) -> Studio:
        return with_fields(studio, marks=without(studio.setting.marks, self.id, "mark"))


class PutZone(Frozen):
    """Let faces of a part wear a finish of their own, or say by its id which faces a zone has.

    A new one begins in what its part wears; a face that was in another zone of the part leaves it.
    """

    kind: Literal["put_zone"] = "put_zone"
    zone: Zone

    def sentence(self) -> str:
        count = len(self.zone.faces)
        return f"{self.zone.name} is {count} {'face' if count == 1 else 'faces'}"

    def applied_to(self, studio: Studio) -> Studio:
        zone, finishes = self.zone, studio.setting.finishes
        if zone.id not in {one.id for one in studio.setting.zones}:
            if zone.id in finishes:
                raise HollowMarbleError("A part has this name already. Choose another for the zone.")
            finishes = {**finishes, zone.id: finishes.get(zone.part, Finish())}
        zones = put(tuple(_without(one, zone) for one in studio.setting.zones), zone)
        if len(zones) > MOST_ZONES:
            raise HollowMarbleError(f"A product takes {MOST_ZONES} zones. Remove one first.")
        return with_fields(studio, zones=tuple(one for one in zones if one.faces), finishes=finishes)


MOST_ZONES = 200


def _without(other: Zone, zone: Zone) -> Zone:
    """Another zone without the faces that one has."""
    if other.part != zone.part or other.id == zone.id:
        return other
    taken = set(zone.faces)
    return other.model_copy(update={"faces": tuple(face for face in other.faces if face not in taken)})


class RemoveZone(Frozen):
    """Give a zone's faces back to the finish of their part."""

    kind: Literal["remove_zone"] = "remove_zone"
    id: str

    def sentence(self) -> str:
        return "Removed a zone"

    def applied_to(self, studio: Studio) -> Studio:
        zones = without(studio.setting.zones, self.id, "zone")
        finishes = {wearer: finish for wearer, finish in studio.setting.finishes.items() if wearer != self.id}
        return with_fields(studio, zones=zones, finishes=finishes)


class SetFinishes(Frozen):
    """Give several parts one finish. `said` names them for the ledger."""

    kind: Literal["set_finishes"] = "set_finishes"
    parts: Annotated[tuple[str, ...], Field(min_length=1, max_length=400)]
    finish: Finish

    def sentence(self) -> str:
        return f"Finished {len(self.parts)} parts in {self.finish.material}, {self.finish.colour}"

    def applied_to(self, studio: Studio) -> Studio:
        return with_fields(studio, finishes={**studio.setting.finishes, **dict.fromkeys(self.parts, self.finish)})


class ClearFinishes(Frozen):
    """Forget the finishes and the zones of parts that are not there any more."""

    kind: Literal["clear_finishes"] = "clear_finishes"
    kept: Annotated[tuple[str, ...], Field(max_length=2_000)] = Field(description="parts that are there")

    def sentence(self) -> str:
        return "Cleared finishes that no part wears"

    def applied_to(self, studio: Studio) -> Studio:
        zones = tuple(zone for zone in studio.setting.zones if zone.part in self.kept)
        kept = {*self.kept, *(zone.id for zone in zones)}

        def worn(finishes: dict[str, Finish]) -> dict[str, Finish]:
            return {part: finish for part, finish in finishes.items() if part in kept}

        colourways = tuple(way.model_copy(update={"finishes": worn(way.finishes)}) for way in studio.colourways)
        cleared = with_fields(studio, finishes=worn(studio.setting.finishes), zones=zones).model_copy(
            update={"colourways": colourways}
        )
        if cleared == studio:
            raise HollowMarbleError("Every finish is worn by a part. There is nothing to clear.")
        return cleared


class KeepColourway(Frozen):
    """Keep the finishes as they are as a colourway, new or by its id."""

    kind: Literal["keep_colourway"] = "keep_colourway"
    id: str
    name: Name

    def sentence(self) -> str:
        return f"Kept the colourway {self.name}"

    def applied_to(self, studio: Studio) -> Studio:
        if any(way.name == self.name and way.id != self.id for way in studio.colourways):
            raise HollowMarbleError(f"There is a colourway named {self.name} already. Choose another name.")
        way = Colourway(id=self.id, name=self.name, finishes=studio.setting.finishes)
        return studio.model_copy(update={"colourways": put(studio.colourways, way)})


class WearColourway(Frozen):
    """Put the finishes of a colourway on."""

    kind: Literal["wear_colourway"] = "wear_colourway"
    id: str
    name: Name

    def sentence(self) -> str:
        return f"Put {self.name} on"

    def applied_to(self, studio: Studio) -> Studio:
        way: Colourway = find(studio.colourways, self.id, "colourway")
        return with_fields(studio, finishes={**studio.setting.finishes, **way.finishes})


class RemoveColourway(Frozen):
    """Remove a colourway; units that wear it go back to the finishes being worked on."""

    kind: Literal["remove_colourway"] = "remove_colourway"
    id: str

    def sentence(self) -> str:
        return "Removed a colourway"

    def applied_to(self, studio: Studio) -> Studio:
        units = tuple(
            unit.model_copy(update={"colourway": None}) if unit.colourway == self.id else unit
            for unit in studio.setting.units
        )
        left = without(studio.colourways, self.id, "colourway")
        return with_fields(studio, units=units).model_copy(update={"colourways": left})
