"""Shapes of what the server says of a studio that is being set up."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, Field

from hollow_marble.documents.studio.edits import LightStart, SetStart
from hollow_marble.documents.studio.model import Camera, Lamp, Set


class StagedLampShape(BaseModel):
    """A lamp or a card in place, flat: the ways from its middle to its right and its upper edge as one stands behind it, mm. What stands
    before it is told as parallelograms."""

    id: str
    kind: str
    middle: tuple[float, float, float]
    across: tuple[float, float, float]
    up: tuple[float, float, float]
    round: bool
    hole: float = Field(description="width of the hole in its middle as a share of its own")
    rim: float = Field(description="how bright its rim is against its middle")
    radiance: tuple[float, float, float] = Field(
        description="of a lamp the mean of what reaches the product, of a card what it throws back"
    )
    lit_within: tuple[float, float] | None = Field(
        description="cosines of the angles from straight ahead up to which all of its light goes and from which none does"
    )
    cast: float = Field(description="share of the light on the ground at the product that is its")
    sheets: list[list[tuple[float, float, float]]]


class LampFactsShape(BaseModel):
    lux: float = Field(description="on a card at the product that faces the lamp")
    stops: float | None = Field(description="against the key, on the side that faces the camera")
    shadow_end: float | None = Field(description="from 5 to 95 % of the lamp's light, at the end of the shadow, mm")
    shadow_sides: float | None
    softness: str | None
    side: str
    rim: float | None = Field(description="stops by which its rim stands off the backdrop")
    stands_off: bool = Field(description="whether that is enough to be seen")


class FactsShape(BaseModel):
    lamps: dict[str, LampFactsShape]
    key_to_fill: float | None
    metered: float | None = Field(description="exposure value for a grey card at the product")
    focus: float
    near: float | None = Field(description="mm before what is focused on from which it is sharp; None where all is")
    far: float | None
    shutter: float | None = Field(description="seconds at ISO 100")
    beyond: list[str] = Field(description="sides of the frame where there is no set")


class RampShape(BaseModel):
    """Where a colour runs into another: mm from the low end of the part along an axis of the form (0, 1 or 2)."""

    axis: int
    begin: float
    end: float


class SheetsShape(BaseModel):
    """How wide and tall what is laid on a finish (its JSON) lies, mm; of the relief also how deep it is."""

    finish: str
    colour: tuple[float, float] | None
    relief: tuple[float, float, float] | None
    rough: tuple[float, float] | None


class LookShape(BaseModel):
    """A finish as a metal-and-roughness renderer draws it: base colour linear."""

    colour: tuple[float, float, float]
    metalness: float
    roughness: float
    ior: float
    transmission: float
    lacquer: float
    lacquer_roughness: float
    absorbs: tuple[float, float, float]
    glow: tuple[float, float, float]
    speck: float
    ramp: RampShape | None
    last: tuple[float, float, float] | None = Field(description="what the colour runs into")


class WornLookShape(LookShape):
    sheets: SheetsShape


class LensShape(BaseModel):
    place: tuple[float, float, float]
    right: tuple[float, float, float]
    up: tuple[float, float, float]
    forward: tuple[float, float, float]
    view: float = Field(description="horizontal, radians, without shift")
    shift: tuple[float, float] = Field(description="shares of the frame's width, to the right and up")


class UnitShape(BaseModel):
    id: str
    matrix: list[float] = Field(description="16 numbers, row by row: from the form to the set")
    colourway: str | None


class PieceShape(BaseModel):
    points: list[tuple[float, float, float]]
    normals: list[tuple[float, float, float]]
    triangles: list[tuple[int, int, int]]
    look: LookShape
    colours: list[tuple[float, float, float]] | None = Field(
        description="of each point, where it has not the look's all over"
    )
    picture: str | None
    at: list[tuple[float, float]]
    ground: bool


class LaidMarkShape(BaseModel):
    """A mark as a skin over its part, in the form's own coordinates; `at` 0 to 1 across and up its picture."""

    id: str
    points: list[tuple[float, float, float]]
    normals: list[tuple[float, float, float]]
    triangles: list[tuple[int, int, int]]
    at: list[tuple[float, float]]
    look: LookShape
    own: bool = Field(description="whether the picture brings its own colours")
    picture: str


class ZoneShape(BaseModel):
    """Faces of a part's mesh, as fine as it is worked on, that wear a finish of their own."""

    id: str
    part: str
    faces: list[int]


class StagingShape(BaseModel):
    centre: tuple[float, float, float]
    low: tuple[float, float, float]
    high: tuple[float, float, float]
    lens: LensShape
    units: list[UnitShape]
    lamps: list[StagedLampShape]
    pieces: list[PieceShape]
    looks: dict[str, WornLookShape] = Field(description="how the finish of each part or zone in the picture is drawn")
    wardrobe: dict[str, dict[str, WornLookShape]] = Field(description="the same of the colourways that are worn")
    room: tuple[float, float, float] | None = Field(description="radiance all around; None where it is a map")
    gain: tuple[float, float, float]
    thrown: tuple[float, float, float] = Field(description="radiance of a white ground at the product")
    shadow: float
    bare: str | None = Field(description="what is behind where it is not shown as it is: white, through or black")
    facts: FactsShape
    marks: list[LaidMarkShape]
    zones: list[ZoneShape]
    map_wanted: int = Field(description="px that a map of surroundings has to be wide for the smoothest finish shown")


class MovedLamp(BaseModel):
    lamp: Lamp
    length: float | None = Field(description="of the lamp's mirror image on the surface, mm")


class MovedCamera(BaseModel):
    camera: Camera


class MovedSet(BaseModel):
    set: Set


class TouchedPart(BaseModel):
    part: str | None
    place: tuple[float, float, float] | None = Field(description="in the form, mm")
    face: str | None = Field(description="key of the face there")


class AmountShape(BaseModel):
    name: str
    words: str
    least: float
    most: float
    usual: float
    unit: str
    choices: list[str]


class MaterialShape(BaseModel):
    kind: str
    group: str
    own: str | None
    amounts: list[AmountShape]
    ramps: bool = Field(description="whether its colour may run into another")
    grain: str | None


class StartShape(BaseModel):
    name: SetStart
    says: str


class FieldShape(BaseModel):
    name: str
    is_: Literal["number", "choice", "colour"] = Field(alias="is")
    least: float | None
    most: float | None
    whole: bool
    options: list[str]


class KindShape(BaseModel):
    kind: str
    fields: list[FieldShape]


class StudioChoices(BaseModel):
    materials: list[MaterialShape]
    grains: list[str]
    lights: list[LightStart]
    sets: list[StartShape]
    lamp_kinds: list[KindShape]
    screen_kinds: list[KindShape]
    set_kinds: list[KindShape]
