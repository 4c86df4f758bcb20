"""Lamps and cards of a studio, one model a kind. Lengths mm, angles degrees, warmth kelvin, power in stops.

Every one of them stands somewhere around the product and looks at a place on it. What it is a model of is worked out by
`core.studio.emitters`; here are its numbers and their limits.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from hollow_marble.core.studio import emitters
from hollow_marble.core.studio.emitters import Profile, Shape
from hollow_marble.core.studio.screens import Screen, blades, honeycomb, slats, tube, window
from hollow_marble.documents.edit import Frozen
from hollow_marble.documents.sheet.model import Colour

LampRole = Literal["key", "fill", "back", "other"]
Held = Literal["room", "product", "camera"]
Name = Annotated[str, Field(min_length=1, max_length=60)]
Size = Annotated[float, Field(ge=10, le=4_000)]


class Blades(Frozen):
    """Flags that close in from the sides: shares of the light's width and height that each covers."""

    kind: Literal["blades"] = "blades"
    left: float = Field(0.0, ge=0, le=1)
    right: float = Field(0.0, ge=0, le=1)
    top: float = Field(0.0, ge=0, le=1)
    bottom: float = Field(0.0, ge=0, le=1)
    distance: float = Field(350.0, ge=50, le=8_000, description="from the product's middle, mm")

    def screen(self, width: float, tall: float) -> Screen:
        return blades(width, tall, (self.left, self.right, self.top, self.bottom))


class WindowScreen(Frozen):
    """A window between the lamp and the product: panes of light with bars between them."""

    kind: Literal["window"] = "window"
    width: Size = 260.0
    tall: Size = 340.0
    across: int = Field(2, ge=1, le=8, description="panes beside one another")
    up: int = Field(3, ge=1, le=8, description="panes above one another")
    bar: float = Field(16.0, ge=1, le=400)
    distance: float = Field(520.0, ge=50, le=8_000, description="from the product's middle, mm")

    def screen(self, width: float, tall: float) -> Screen:
        return window(self.width, self.tall, (self.across, self.up), self.bar)


class SlatScreen(Frozen):
    """Slats across the light, like a blind."""

    kind: Literal["slats"] = "slats"
    width: Size = 420.0
    tall: Size = 420.0
    count: int = Field(7, ge=1, le=40)
    covered: float = Field(0.5, ge=0.05, le=0.95, description="share that the slats cover")
    distance: float = Field(420.0, ge=50, le=8_000, description="from the product's middle, mm")

    def screen(self, width: float, tall: float) -> Screen:
        return slats(self.width, self.tall, self.count, self.covered)


Before = Annotated[Blades | WindowScreen | SlatScreen, Field(discriminator="kind")]
BEFORE = (Blades, WindowScreen, SlatScreen)
"""Everything that can stand before a lamp."""


class Placed(Frozen):
    """Something that stands around the product.

    azimuth : around the product; 0 is its front, growing to the camera's right. Of what is held to the camera it counts from there
    height : how far above the product's middle, degrees
    distance : from what it looks at, mm
    aim : what it looks at, mm from the product's middle
    turn : about its own axis, degrees
    held : what it turns with
    """

    id: str
    name: str = Field("", max_length=60)
    group: str = Field("", max_length=60)
    on: bool = True
    held: Held = "room"
    azimuth: float = Field(0.0, ge=-180, le=180)
    height: float = Field(30.0, ge=-90, le=90)
    distance: float = Field(700.0, ge=60, le=20_000)
    aim: tuple[float, float, float] = (0.0, 0.0, 0.0)
    turn: float = Field(0.0, ge=-180, le=180)

    @property
    def called(self) -> str:
        """Its name, or what it is where it has none."""
        return self.name or self.kind.capitalize()  # type: ignore[attr-defined]

    def shape(self) -> Shape:
        """Its flat shape, facing what it looks at."""
        raise NotImplementedError


class Light(Placed):
    """A lamp. `power` counts in stops over or under the reference lamp (`core.studio.emitters.REFERENCE_FLUX`); `gel` is a
    filter before it, white for none."""

    role: LampRole = "other"
    power: float = Field(0.0, ge=-10, le=10)
    warmth: float = Field(5600.0, ge=1_700, le=12_000)
    gel: Colour = "#FFFFFF"

    @property
    def called(self) -> str:
        return self.name or (self.role.capitalize() if self.role != "other" else super().called)

    @property
    def screens(self) -> tuple[tuple[Screen, float], ...]:
        """What stands before it, each with its distance from the lamp in mm."""
        return ()

    @property
    def lit_within(self) -> tuple[float, float] | None:
        """Angles from straight ahead up to which all of its light goes and from which none does, degrees; None where it goes all ways."""
        return None


class _Cut(Light):
    before: Before | None = None

    @property
    def screens(self) -> tuple[tuple[Screen, float], ...]:
        if self.before is None:
            return ()
        away = min(self.before.distance, 0.9 * self.distance)
        span = self.shape().extent
        share = away / self.distance
        # as wide at its place as the light that goes from the lamp to a product of no size
        return ((self.before.screen(span[0] * share, span[1] * share), self.distance - away),)


class _Boxed(_Cut):
    """A lamp behind a diffuser.

    rim : brightness at the rim as a share of that in the middle
    spread : how far to the sides it still gives light, degrees; 180 is bare, less is a honeycomb before it
    """

    rim: float = Field(1.0, ge=0.02, le=1)
    spread: float = Field(180.0, ge=10, le=180)

    @property
    def screens(self) -> tuple[tuple[Screen, float], ...]:
        if self.spread >= 179.5:
            return super().screens
        return ((honeycomb(*self.shape().extent, self.spread), 0.0), *super().screens)

    @property
    def lit_within(self) -> tuple[float, float] | None:
        return None if self.spread >= 179.5 else (0.0, self.spread / 2)


class SoftBox(_Boxed):
    """A soft box."""

    kind: Literal["soft box"] = "soft box"
    width: Size = 420.0
    tall: Size = 420.0

    def shape(self) -> Shape:
        return emitters.rectangle(self.width, self.tall, Profile(self.rim))


class Strip(_Boxed):
    """A strip light: a long narrow soft box."""

    kind: Literal["strip"] = "strip"
    width: Size = 120.0
    tall: Size = 800.0

    def shape(self) -> Shape:
        return emitters.rectangle(self.width, self.tall, Profile(self.rim))


class Disc(_Boxed):
    """A round soft box or a beauty dish."""

    kind: Literal["disc"] = "disc"
    diameter: Size = 500.0

    def shape(self) -> Shape:
        return emitters.ring(self.diameter, 0.0, Profile(self.rim))


class Ring(_Cut):
    """A ring light."""

    kind: Literal["ring"] = "ring"
    diameter: Size = 460.0
    hole: Size = 300.0

    def shape(self) -> Shape:
        return emitters.ring(self.diameter, min(self.hole, 0.98 * self.diameter), Profile(1.0))


class FarSource(_Cut):
    """A source so far away that its light runs level across the set: the sun, or a lamp at the end of a hall. `angle` is how large it
    is as the product sees it, degrees."""

    kind: Literal["far source"] = "far source"
    distance: float = Field(emitters.FAR, ge=emitters.FAR, le=emitters.FAR)
    angle: float = Field(0.53, ge=0.05, le=30)

    def shape(self) -> Shape:
        return emitters.ring(emitters.far_diameter(self.angle), 0.0, Profile(1.0))


class Spot(_Cut):
    """A spot: a beam of an angle with a soft edge. `edge` is the share of the beam's angle over which it fades."""

    kind: Literal["spot"] = "spot"
    diameter: float = Field(60.0, ge=5, le=400)
    beam: float = Field(24.0, ge=2, le=120, description="angle that is lit, degrees")
    edge: float = Field(0.3, ge=0.02, le=0.95)

    def shape(self) -> Shape:
        return emitters.ring(self.diameter, 0.0, Profile(1.0))

    @property
    def screens(self) -> tuple[tuple[Screen, float], ...]:
        return ((tube(self.diameter, self.beam, self.edge), 0.0), *super().screens)

    @property
    def lit_within(self) -> tuple[float, float] | None:
        return self.beam * (1 - self.edge) / 2, min(self.beam * (1 + self.edge), 170.0) / 2


class Glow(_Cut):
    """A bare panel that glows evenly, like a screen or a light table."""

    kind: Literal["glowing panel"] = "glowing panel"
    width: Size = 300.0
    tall: Size = 300.0

    def shape(self) -> Shape:
        return emitters.rectangle(self.width, self.tall, Profile(1.0))


class Sky(Light):
    """A clear or veiled sky all around, with its sun. `haze` goes from clear to overcast; azimuth and height are the sun's."""

    kind: Literal["sky"] = "sky"
    distance: float = Field(emitters.FAR, ge=emitters.FAR, le=emitters.FAR)
    haze: float = Field(0.2, ge=0, le=1)
    angle: float = Field(0.53, ge=0.05, le=30, description="size of the sun, degrees")

    def shape(self) -> Shape:
        return emitters.ring(emitters.far_diameter(self.angle), 0.0, Profile(1.0))


class Card(Placed):
    """A card beside the product that throws light back, or takes it away."""

    kind: Literal["card"] = "card"
    surface: Literal["white", "silver", "black"] = "white"
    width: Size = 400.0
    tall: Size = 400.0

    @property
    def called(self) -> str:
        return self.name or f"{self.surface.capitalize()} card"

    def shape(self) -> Shape:
        return emitters.rectangle(self.width, self.tall, Profile(1.0))


Lamp = Annotated[
    SoftBox | Strip | Disc | Ring | FarSource | Spot | Glow | Sky | Card,
    Field(discriminator="kind"),
]
LAMPS = (SoftBox, Strip, Disc, Ring, FarSource, Spot, Glow, Sky, Card)
"""Every kind of lamp."""

THREE_POINT: tuple[Lamp, ...] = (
    SoftBox(id="key", role="key", azimuth=-48, height=38, distance=720, width=420, tall=520, power=0.6, warmth=5_200),
    SoftBox(id="fill", role="fill", azimuth=62, height=18, distance=900, width=700, tall=700, power=-1.2, warmth=5_800),
    SoftBox(id="back", role="back", azimuth=148, height=52, distance=640, width=220, tall=420, power=0.2, warmth=6_200),
)
