"""Edits of shots."""

from __future__ import annotations

from typing import Literal

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
        shot = Shot(**self.model_dump(exclude={"kind"}), setting=studio.setting, colourways=_worn(studio))
        return studio.model_copy(update={"shots": (*studio.shots, shot)})


def _worn(studio: Studio) -> tuple[Colourway, ...]:
    """The colourways that units of the setting wear."""
    worn = {unit.colourway for unit in studio.setting.units}
    return tuple(way for way in studio.colourways if way.id in worn)


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


class ChangeShot(Frozen):
    """Rename a shot, give it another size, or bring it up to date with the present setting and form."""

    kind: Literal["change_shot"] = "change_shot"
    id: str
    name: Name | None = None
    width: int | None = Field(None, ge=16, le=8_192)
    height: int | None = Field(None, ge=16, le=8_192)
    update: bool = False
    form_edit: int | None = None

    def sentence(self) -> str:
        return "Brought a shot up to date" if self.update else "Changed a shot"

    def applied_to(self, studio: Studio) -> Studio:
        shot = find(studio.shots, self.id, "shot")
        fields: dict[str, object] = given(name=self.name, width=self.width, height=self.height)
        if self.update:
            fields |= given(setting=studio.setting, form_edit=self.form_edit, colourways=_worn(studio))
        return studio.model_copy(update={"shots": replaced(studio.shots, shot.model_copy(update=fields))})


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
