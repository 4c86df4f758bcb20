"""A setting, the shots kept of it, and the studio that holds them. Lengths mm, angles degrees, warmth kelvin, power in stops.

The product stands on the floor (z = 0) with the middle of its size at x = y = 0. Azimuth 0 is the front (-y), where
the camera starts, and grows to the camera's right.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from hollow_marble.documents.edit import Frozen
from hollow_marble.documents.studio.model.camera import Camera, KeptView
from hollow_marble.documents.studio.model.finish import Finish
from hollow_marble.documents.studio.model.lamps import THREE_POINT, Lamp
from hollow_marble.documents.studio.model.marks import Mark
from hollow_marble.documents.studio.model.sets import Set, Sweep
from hollow_marble.documents.studio.model.surround import Surround
from hollow_marble.documents.studio.model.zones import Zone

Name = Annotated[str, Field(min_length=1, max_length=60)]


class Unit(Frozen):
    """One copy of the product in the set.

    pose : stand and lie on the ground, lean against what is behind by `tip` degrees, hang `high` mm over the ground
    x, y : where its middle is, mm; turn : about the upright, degrees
    colourway : the finishes it has, by the id of a colourway; None for those being worked on
    """

    id: str
    pose: Literal["stand", "lie", "face down", "lean", "hang"] = "stand"
    x: float = Field(0.0, ge=-5_000, le=5_000)
    y: float = Field(0.0, ge=-5_000, le=5_000)
    turn: float = Field(0.0, ge=-180, le=180)
    tip: float = Field(0.0, ge=-90, le=90)
    high: float = Field(0.0, ge=0, le=3_000)
    colourway: str | None = None


class Setting(Frozen):
    """Everything a picture depends on beside the form: set, units of the product, lamps, surround, camera, finishes by part or zone.

    zones : faces of parts that wear a finish of their own
    hidden : parts that are left out of the picture; marks : lettering and artwork on the parts
    """

    set: Set = Sweep()
    units: Annotated[tuple[Unit, ...], Field(min_length=1, max_length=12)] = (Unit(id="first"),)
    lamps: Annotated[tuple[Lamp, ...], Field(max_length=48)] = ()
    surround: Surround = Surround()
    camera: Camera = Camera()
    finishes: dict[str, Finish] = {}
    zones: Annotated[tuple[Zone, ...], Field(max_length=200)] = ()
    hidden: tuple[str, ...] = ()
    marks: Annotated[tuple[Mark, ...], Field(max_length=60)] = ()


class Colourway(Frozen):
    """A set of finishes by part or zone, under a name."""

    id: str
    name: Name
    finishes: dict[str, Finish] = {}


class Shot(Frozen):
    """A kept setting and the state of the form it was made for. `form_edit` is a line in the form's ledger.

    colourways : those its units wear, as they were when it was kept
    """

    id: str
    name: str
    width: int = Field(960, ge=16, le=8_192)
    height: int = Field(600, ge=16, le=8_192)
    setting: Setting
    form: str
    form_edit: int
    colourways: tuple[Colourway, ...] = ()


class Studio(Frozen):
    """The setting being worked on, the shots kept from it, colourways and views."""

    setting: Setting = Setting(lamps=THREE_POINT)
    shots: tuple[Shot, ...] = ()
    colourways: tuple[Colourway, ...] = ()
    views: tuple[KeptView, ...] = ()
