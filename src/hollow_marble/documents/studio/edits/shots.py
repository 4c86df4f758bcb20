"""Edits of shots."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Literal, get_args

from pydantic import Field

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.edit import Frozen, find, given, replaced, without
from hollow_marble.documents.studio.edits.setting import Name
from hollow_marble.documents.studio.model import Colourway, Setting, Shot, Studio


class KeepShot(Frozen):
    """Keep the present setting and form as a shot."""

    kind: Literal["keep_shot"] = "keep_shot"
    id: str
    name: Name
    width: int = Field(ge=16, le=8_192)
    height: int = Field(ge=16, le=8_192)
    form: str
    form_edit: int

    def sentence(self) -> str:
        return f"Kept the shot {self.name}, {self.width} × {self.height}"

    def applied_to(self, studio: Studio) -> Studio:
        if any(shot.name == self.name for shot in studio.shots):
            raise HollowMarbleError(f"There is a shot named {self.name} already. Choose another name.")
        shot = Shot(
            **self.model_dump(exclude={"kind"}),
            setting=studio.setting,
            colourways=_worn(studio.setting, studio.colourways),
        )
        return studio.model_copy(update={"shots": (*studio.shots, shot)})


def _worn(setting: Setting, ways: Iterable[Colourway]) -> tuple[Colourway, ...]:
    """Those of some colourways that units of a setting wear."""
    worn = {unit.colourway for unit in setting.units}
    return tuple(way for way in ways if way.id in worn)


class DuplicateShot(Frozen):
    """Make another shot like one there is; that one stays as it is."""

    kind: Literal["duplicate_shot"] = "duplicate_shot"
    of: str
    id: str
    name: Name

    def sentence(self) -> str:
        return f"Duplicated a shot as {self.name}"

    def applied_to(self, studio: Studio) -> Studio:
        if any(shot.name == self.name for shot in studio.shots):
            raise HollowMarbleError(f"There is a shot named {self.name} already. Choose another name.")
        shot: Shot = find(studio.shots, self.of, "shot")
        return studio.model_copy(
            update={"shots": (*studio.shots, shot.model_copy(update={"id": self.id, "name": self.name}))}
        )


Kept = Literal["set", "units", "lamps", "surround", "camera", "finishes", "marks", "hidden", "form"]
"""What of a shot can be brought up to date by itself; zones belong to the finishes."""


class ChangeShot(Frozen):
    """Rename a shot, give it another size, or bring it up to date with the present setting and form: with all of it, or `only` with some."""

    kind: Literal["change_shot"] = "change_shot"
    id: str
    name: Name | None = None
    width: int | None = Field(None, ge=16, le=8_192)
    height: int | None = Field(None, ge=16, le=8_192)
    update: bool = False
    form_edit: int | None = None
    only: tuple[Kept, ...] | None = None

    def sentence(self) -> str:
        return "Brought a shot up to date" if self.update else "Changed a shot"

    def applied_to(self, studio: Studio) -> Studio:
        shot = find(studio.shots, self.id, "shot")
        fields: dict[str, object] = given(name=self.name, width=self.width, height=self.height)
        if self.update:
            fields |= self._renewed(studio, shot)
        return studio.model_copy(update={"shots": replaced(studio.shots, shot.model_copy(update=fields))})

    def _renewed(self, studio: Studio, shot: Shot) -> dict[str, object]:
        """Fields of the shot with what it takes in."""
        chosen = set(get_args(Kept) if self.only is None else self.only)
        names = (chosen - {"form"}) | ({"zones"} if "finishes" in chosen else set())
        setting = shot.setting.model_copy(update={name: getattr(studio.setting, name) for name in names})
        # finishes that are not taken in stay as they were kept, those of colourways too
        kept = () if "finishes" in chosen else shot.colourways
        ways = {way.id: way for way in (*studio.colourways, *kept)}
        worn = _worn(setting, ways.values())
        return given(setting=setting, form_edit=self.form_edit if "form" in chosen else None, colourways=worn)


class OpenShot(Frozen):
    """Bring a shot's setting back to work on."""

    kind: Literal["open_shot"] = "open_shot"
    id: str

    def sentence(self) -> str:
        return "Went back to a shot’s setting"

    def applied_to(self, studio: Studio) -> Studio:
        setting: Setting = find(studio.shots, self.id, "shot").setting
        return studio.model_copy(update={"setting": setting})


class RemoveShot(Frozen):
    """Remove a shot; takes made of it stay."""

    kind: Literal["remove_shot"] = "remove_shot"
    id: str

    def sentence(self) -> str:
        return "Removed a shot"

    def applied_to(self, studio: Studio) -> Studio:
        return studio.model_copy(update={"shots": without(studio.shots, self.id, "shot")})
