"""A studio. Lengths mm, angles degrees, warmth kelvin, power in stops.

The product stands on the floor (z = 0) with the middle of its size at x = y = 0. Azimuth 0 is the front (-y), where
the camera starts, and grows to the camera's right.
"""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from hollow_marble.documents.edit import Frozen
from hollow_marble.documents.sheet.model import Colour

LampRole = Literal["key", "fill", "back"]
FinishKind = Literal["matte plastic", "gloss plastic", "polished metal", "clear glass", "rubber"]


class Lamp(Frozen):
    """A soft box aimed at the middle of the product.

    azimuth, height : where it stands around the product and how far above its middle, degrees
    distance : from the product's middle to the lamp, mm
    power : stops over or under the reference lamp (`core.studio.lamps.REFERENCE_FLUX`)
    """

    id: str
    role: LampRole
    on: bool = True
    azimuth: float = Field(ge=-180, le=180)
    height: float = Field(ge=-10, le=90)
    distance: float = Field(ge=100, le=10_000)
    width: float = Field(ge=10, le=4_000)
    tall: float = Field(ge=10, le=4_000)
    power: float = Field(0.0, ge=-8, le=8)
    warmth: float = Field(5600.0, ge=1_700, le=12_000)


class Sweep(Frozen):
    """A seamless sweep: floor and wall joined by a cove."""

    colour: Colour = "#D9D5CE"
    width: float = Field(1_600.0, ge=200, le=10_000)
    depth: float = Field(700.0, ge=100, le=10_000, description="from the product's middle to the wall, mm")
    cove: float = Field(260.0, ge=10, le=2_000, description="radius of the cove, mm")


class Camera(Frozen):
    """A camera aimed at the product; lens in 35 mm terms."""

    focal: float = Field(70.0, ge=12, le=400)
    distance: float = Field(620.0, ge=50, le=20_000)
    azimuth: float = Field(0.0, ge=-180, le=180)
    height: float = Field(120.0, ge=-500, le=10_000, description="of the lens above the floor, mm")
    aim: float = Field(54.0, ge=-1_000, le=5_000, description="height of the point looked at, mm")


OWN_COLOURS: dict[str, str] = {"polished metal": "#E4E0DA", "clear glass": "#F6F8F7"}
"""Materials that begin bright: the colour of a pigment would make them black."""


class Finish(Frozen):
    """Colour and material of a part."""

    material: FinishKind = "matte plastic"
    colour: Colour = "#C9C4BA"


class Setting(Frozen):
    """Everything a picture depends on beside the form: set, lamps, camera, finishes by part."""

    sweep: Sweep = Sweep()
    lamps: tuple[Lamp, ...] = ()
    camera: Camera = Camera()
    finishes: dict[str, Finish] = {}


class Shot(Frozen):
    """A kept setting and the state of the form it was made for. `form_edit` is a line in the form's ledger."""

    id: str
    name: str
    width: int = Field(960, ge=16, le=8_192)
    height: int = Field(600, ge=16, le=8_192)
    setting: Setting
    form: str
    form_edit: int


THREE_POINT = (
    Lamp(id="key", role="key", azimuth=-48, height=38, distance=720, width=420, tall=520, power=0.6, warmth=5_200),
    Lamp(id="fill", role="fill", azimuth=62, height=18, distance=900, width=700, tall=700, power=-1.2, warmth=5_800),
    Lamp(id="back", role="back", azimuth=148, height=52, distance=640, width=220, tall=420, power=0.2, warmth=6_200),
)


class Studio(Frozen):
    """The setting being worked on, and the shots kept from it."""

    setting: Setting = Setting(lamps=THREE_POINT)
    shots: tuple[Shot, ...] = ()
