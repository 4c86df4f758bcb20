"""Edits of a studio."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.edit import Frozen, find, given, put, replaced, without
from hollow_marble.documents.studio.model import THREE_POINT, Camera, Finish, Lamp, Setting, Shot, Studio, Sweep

Name = Annotated[str, Field(min_length=1, max_length=60)]


def _with(studio: Studio, **fields: object) -> Studio:
    return studio.model_copy(update={"setting": studio.setting.model_copy(update=fields)})


class SetLamp(Frozen):
    """Place a lamp, or change one by its id."""

    kind: Literal["set_lamp"] = "set_lamp"
    lamp: Lamp

    def sentence(self) -> str:
        x = self.lamp
        state = "" if x.on else ", off"
        return f"Set the {x.role} lamp: {x.distance / 1000:.2f} m at {x.azimuth:.0f}°, {x.height:.0f}° high, {x.power:+.1f} stops{state}"

    def applied_to(self, studio: Studio) -> Studio:
        return _with(studio, lamps=put(studio.setting.lamps, self.lamp))


class StartThreePoint(Frozen):
    """Put key, fill and back lamp at their usual places."""

    kind: Literal["start_three_point"] = "start_three_point"

    def sentence(self) -> str:
        return "Set up key, fill and back lamp"

    def applied_to(self, studio: Studio) -> Studio:
        return _with(studio, lamps=THREE_POINT)


class SetLight(Frozen):
    """Take over the lamps and the sweep of another studio."""

    kind: Literal["set_light"] = "set_light"
    lamps: tuple[Lamp, ...] = Field(max_length=24)
    sweep: Sweep

    @model_validator(mode="after")
    def _once_each(self) -> SetLight:
        if len({lamp.id for lamp in self.lamps}) != len(self.lamps):
            raise ValueError("two lamps have one id")
        return self

    def sentence(self) -> str:
        return f"Pasted the light: {len(self.lamps)} lamps and the sweep"

    def applied_to(self, studio: Studio) -> Studio:
        setting = studio.setting.model_copy(update={"lamps": self.lamps, "sweep": self.sweep})
        return studio.model_copy(update={"setting": setting})


class SetCamera(Frozen):
    """Place the camera."""

    kind: Literal["set_camera"] = "set_camera"
    camera: Camera

    def sentence(self) -> str:
        c = self.camera
        return f"Placed the camera: {c.focal:.0f} mm at {c.distance / 1000:.2f} m, {c.height:.0f} mm high"

    def applied_to(self, studio: Studio) -> Studio:
        return _with(studio, camera=self.camera)


class SetSweep(Frozen):
    """Colour or shape the sweep."""

    kind: Literal["set_sweep"] = "set_sweep"
    sweep: Sweep

    def sentence(self) -> str:
        return "Changed the sweep"

    def applied_to(self, studio: Studio) -> Studio:
        return _with(studio, sweep=self.sweep)


class SetFinish(Frozen):
    """Give a part a finish."""

    kind: Literal["set_finish"] = "set_finish"
    part: str
    name: Name
    finish: Finish

    def sentence(self) -> str:
        return f"Finished {self.name} in {self.finish.material}, {self.finish.colour}"

    def applied_to(self, studio: Studio) -> Studio:
        return _with(studio, finishes={**studio.setting.finishes, self.part: self.finish})


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
        shot = Shot(**self.model_dump(exclude={"kind"}), setting=studio.setting)
        return studio.model_copy(update={"shots": (*studio.shots, shot)})


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
            fields |= given(setting=studio.setting, form_edit=self.form_edit)
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


StudioEdit = Annotated[
    SetLamp
    | StartThreePoint
    | SetLight
    | SetCamera
    | SetSweep
    | SetFinish
    | KeepShot
    | ChangeShot
    | OpenShot
    | RemoveShot,
    Field(discriminator="kind"),
]
