"""Edits of what stands in a studio and how it is seen: set, products, surround, camera, views."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.edit import Frozen, find, put, without
from hollow_marble.documents.studio.edits.setting import Name, with_fields
from hollow_marble.documents.studio.model import Camera, KeptView, Set, Studio, Surround, Unit


class SetCamera(Frozen):
    """Place the camera."""

    kind: Literal["set_camera"] = "set_camera"
    camera: Camera

    def sentence(self) -> str:
        c = self.camera
        return f"Placed the camera: {c.focal:.0f} mm at {c.distance / 1000:.2f} m, {c.height:.0f} mm high"

    def applied_to(self, studio: Studio) -> Studio:
        return with_fields(studio, camera=self.camera)


class KeepView(Frozen):
    """Keep the camera as it is under a name, or rename a view that is kept."""

    kind: Literal["keep_view"] = "keep_view"
    view: KeptView

    def sentence(self) -> str:
        return f"Kept the view {self.view.name}"

    def applied_to(self, studio: Studio) -> Studio:
        if any(other.name == self.view.name and other.id != self.view.id for other in studio.views):
            raise HollowMarbleError(f"There is a view named {self.view.name} already. Choose another name.")
        return studio.model_copy(update={"views": put(studio.views, self.view)})


class GoToView(Frozen):
    """Bring the camera back to a view that was kept, and a shot's frame with it."""

    kind: Literal["go_to_view"] = "go_to_view"
    id: str
    shot: str | None = Field(None, description="the shot whose frame becomes that of the view")

    def sentence(self) -> str:
        return "Went back to a view"

    def applied_to(self, studio: Studio) -> Studio:
        view: KeptView = find(studio.views, self.id, "view")
        there = with_fields(studio, camera=view.camera)
        if self.shot is None:
            return there
        framed = find(studio.shots, self.shot, "shot").model_copy(update={"width": view.width, "height": view.height})
        return there.model_copy(update={"shots": put(studio.shots, framed)})


class ForgetView(Frozen):
    """Forget a view that was kept."""

    kind: Literal["forget_view"] = "forget_view"
    id: str

    def sentence(self) -> str:
        return "Forgot a view"

    def applied_to(self, studio: Studio) -> Studio:
        return studio.model_copy(update={"views": without(studio.views, self.id, "view")})


class BuildSet(Frozen):
    """Build what the product stands on and in front of."""

    kind: Literal["build_set"] = "build_set"
    set: Set

    def sentence(self) -> str:
        return f"Built the set: {self.set.kind}"

    def applied_to(self, studio: Studio) -> Studio:
        return with_fields(studio, set=self.set)


class PlaceUnits(Frozen):
    """Place the product and its copies."""

    kind: Literal["place_units"] = "place_units"
    units: Annotated[tuple[Unit, ...], Field(min_length=1, max_length=12)]

    @model_validator(mode="after")
    def _once_each(self) -> PlaceUnits:
        if len({unit.id for unit in self.units}) != len(self.units):
            raise ValueError("two units have one id")
        return self

    def sentence(self) -> str:
        return "Placed the product" if len(self.units) == 1 else f"Placed {len(self.units)} of the product"

    def applied_to(self, studio: Studio) -> Studio:
        return with_fields(studio, units=self.units)


class SetSurround(Frozen):
    """Change what is all around."""

    kind: Literal["set_surround"] = "set_surround"
    surround: Surround

    def sentence(self) -> str:
        count = len(self.surround.areas)
        return f"Set the surround: {count} panels and flags" if count else "Set the surround"

    def applied_to(self, studio: Studio) -> Studio:
        return with_fields(studio, surround=self.surround)


class HidePart(Frozen):
    """Leave a part out of the picture, or take it in again."""

    kind: Literal["hide_part"] = "hide_part"
    part: str
    name: Name
    hidden: bool

    def sentence(self) -> str:
        return f"Left {self.name} out of the picture" if self.hidden else f"Took {self.name} into the picture"

    def applied_to(self, studio: Studio) -> Studio:
        others = tuple(part for part in studio.setting.hidden if part != self.part)
        return with_fields(studio, hidden=(*others, self.part) if self.hidden else others)
