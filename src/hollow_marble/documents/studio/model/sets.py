"""What a product stands on and in front of, one model a kind. Lengths mm, angles degrees."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from hollow_marble.core.studio.sets import Piece, block, card, column, corner, floor, picture_wall, sweep
from hollow_marble.documents.edit import Frozen
from hollow_marble.documents.sheet.model import Colour
from hollow_marble.documents.studio.model.finish import Finish

Width = Annotated[float, Field(ge=200, le=20_000)]
Tall = Annotated[float, Field(ge=100, le=20_000, description="height of the wall, mm")]


class GroundLook(Frozen):
    """What the ground does beside being there.

    reflection : how much of the product it mirrors: 0 none, 1 as polished lacquer would
    blur : roughness of that reflection, 0 to 1
    shadow : how much of the shadow on it is shown, 0 to 1
    """

    reflection: float = Field(0.0, ge=0, le=1)
    blur: float = Field(0.15, ge=0, le=1)
    shadow: float = Field(1.0, ge=0, le=1)


FARTHEST = 20_000.0


class _Set(Frozen):
    """`reaches` and `rises` name the fields that make it reach further to the sides, and up."""

    reaches: ClassVar[tuple[str, ...]] = ()
    rises: ClassVar[tuple[str, ...]] = ()
    ground: GroundLook = GroundLook()

    def pieces(self, front: float) -> list[Piece]:
        """What stands there; `front` is how far the floor reaches to the camera, mm. The product stands on z = 0."""
        raise NotImplementedError

    def grown(self, beyond: tuple[str, ...]) -> dict[str, float]:
        """Its fields with which it reaches further on some sides of the frame (left, right, top, bottom); nothing where it cannot."""
        names = {*(self.rises if "top" in beyond else ()), *(self.reaches if set(beyond) - {"top"} else ())}
        return {name: min(1.25 * now, FARTHEST) for name in sorted(names) if (now := getattr(self, name)) < FARTHEST}

    @property
    def endless(self) -> bool:
        """Whether it goes on past every edge of the frame."""
        return False


class Sweep(_Set):
    """A seamless sweep: floor and wall joined by a cove."""

    kind: Literal["sweep"] = "sweep"
    reaches = ("width",)
    rises = ("tall",)
    colour: Colour = "#D9D5CE"
    width: Width = 1_600.0
    depth: float = Field(700.0, ge=100, le=10_000, description="from the product's middle to the wall, mm")
    cove: float = Field(260.0, ge=10, le=2_000, description="radius of the cove, mm")
    tall: Tall = 1_800.0

    def pieces(self, front: float) -> list[Piece]:
        return [_swept(self, front)]


def _swept(of: Sweep | Plinth | Stack, front: float) -> Piece:
    return sweep(
        (of.width, of.tall if isinstance(of, Sweep) else of.wall), of.depth, of.cove, max(of.depth, front), of.colour
    )


class Plinth(_Set):
    """A plinth, round or square, on a floor before a wall."""

    kind: Literal["plinth"] = "plinth"
    reaches = ("width",)
    rises = ("wall",)
    shape: Literal["round", "square"] = "round"
    across: float = Field(160.0, ge=20, le=3_000)
    tall: float = Field(60.0, ge=2, le=2_000)
    finish: Finish = Finish(material="matte plastic", colour="#CFC8BC")
    colour: Colour = "#D9D5CE"
    width: Width = 2_400.0
    depth: float = Field(700.0, ge=100, le=10_000)
    cove: float = Field(260.0, ge=10, le=2_000)
    wall: Tall = 1_800.0

    def pieces(self, front: float) -> list[Piece]:
        foot = (
            column(self.across, self.tall, self.finish)
            if self.shape == "round"
            else block((self.across, self.across, self.tall), self.finish)
        )
        return [foot, _swept(self, front).moved((0.0, 0.0, -self.tall))]


class Stack(_Set):
    """Plinths of several heights side by side; the product stands on the first."""

    kind: Literal["stack"] = "stack"
    reaches = ("width",)
    rises = ("wall",)
    shape: Literal["round", "square"] = "square"
    across: float = Field(150.0, ge=20, le=3_000)
    talls: Annotated[tuple[Annotated[float, Field(ge=2, le=2_000)], ...], Field(min_length=1, max_length=6)] = (
        70.0,
        150.0,
        30.0,
    )
    finish: Finish = Finish(material="matte plastic", colour="#CFC8BC")
    colour: Colour = "#D9D5CE"
    width: Width = 2_400.0
    depth: float = Field(700.0, ge=100, le=10_000)
    cove: float = Field(260.0, ge=10, le=2_000)
    wall: Tall = 1_800.0

    def pieces(self, front: float) -> list[Piece]:
        made: list[Piece] = []
        first = self.talls[0]
        for number, tall in enumerate(self.talls):
            one = (
                column(self.across, tall, self.finish)
                if self.shape == "round"
                else block((self.across, self.across, tall), self.finish)
            )
            side = (number + 1) // 2 * (1 if number % 2 else -1) * (self.across + 6.0)
            made.append(one.moved((side, 0.25 * self.across * (number % 3), tall - first)))
        return [*made, _swept(self, front).moved((0.0, 0.0, -first))]


class Slab(_Set):
    """A slab of a table with a wall far behind it."""

    kind: Literal["slab"] = "slab"
    reaches = ("across", "deep")
    across: Width = 900.0
    deep: Width = 600.0
    thick: float = Field(40.0, ge=2, le=400)
    finish: Finish = Finish(material="stone", colour="#8C8983")
    colour: Colour = "#4A4A4A"
    depth: float = Field(1_200.0, ge=100, le=10_000, description="from the product's middle to the wall, mm")

    def pieces(self, front: float) -> list[Piece]:
        wall = card(12_000.0, 9_000.0, (self.colour, self.colour)).moved((0.0, self.depth, -3_000.0))
        return [block((self.across, self.deep, self.thick), self.finish), wall]


class ShelfCorner(_Set):
    """The corner of a shelf: a board and two walls."""

    kind: Literal["shelf corner"] = "shelf corner"
    finish: Finish = Finish(material="wood", colour="#B58B5E")
    colour: Colour = "#D5CFC4"
    depth: float = Field(180.0, ge=40, le=3_000, description="from the product's middle to the wall behind, mm")
    beside: float = Field(220.0, ge=40, le=3_000, description="from the product's middle to the wall on the right, mm")
    side: Literal["right", "left"] = "right"

    def pieces(self, front: float) -> list[Piece]:
        return corner(
            self.depth,
            self.beside if self.side == "right" else -self.beside,
            max(front, 800.0),
            self.finish,
            self.colour,
        )


class Coloured(_Set):
    """A card behind the product whose colour runs from one to another, on a floor of the lower one."""

    kind: Literal["coloured card"] = "coloured card"
    reaches = ("width",)
    rises = ("tall",)
    top: Colour = "#C97B4A"
    bottom: Colour = "#E6B98F"
    width: Width = 2_400.0
    depth: float = Field(500.0, ge=60, le=10_000)
    tall: float = Field(1_200.0, ge=60, le=10_000)

    def pieces(self, front: float) -> list[Piece]:
        return [
            floor(self.width, self.depth, max(self.depth, front), self.bottom),
            card(self.width, self.tall, (self.top, self.bottom)).moved((0.0, self.depth, 0.0)),
        ]


class PictureBehind(_Set):
    """A picture on the wall behind, and a floor to stand on.

    horizon : height of its horizon, a share of the picture from below
    level : height over the floor that the horizon hangs at, mm; where it is that of the lens, the picture's ground and the floor are one
    """

    kind: Literal["picture"] = "picture"
    reaches = ("width",)
    rises = ("width",)
    picture: str = Field(pattern="^[0-9a-f]{64}$")
    name: str = Field("Picture", max_length=60)
    size: tuple[int, int] = (1, 1)
    horizon: float = Field(0.4, ge=0, le=1)
    level: float = Field(0.0, ge=-2_000, le=10_000)
    width: Width = 1_600.0
    depth: float = Field(700.0, ge=60, le=10_000)
    brightness: float = Field(1.0, ge=0.01, le=20)
    colour: Colour = "#B7B0A4"

    @property
    def tall(self) -> float:
        """How high the picture stands, mm."""
        return self.width * self.size[1] / self.size[0]

    @property
    def foot(self) -> float:
        """How far over the floor its lower edge hangs, mm."""
        return self.level - self.horizon * self.tall

    def pieces(self, front: float) -> list[Piece]:
        wall = picture_wall(self.width, self.tall, self.picture, self.brightness).moved((0.0, self.depth, self.foot))
        return [wall, floor(4 * self.width, self.depth, max(self.depth, front), self.colour)]


class _Endless(_Set):
    """A floor of one colour that goes on beyond every frame."""

    floor_colour: ClassVar[str]

    def pieces(self, front: float) -> list[Piece]:
        return [floor(20_000.0, 8_000.0, max(8_000.0, front), self.floor_colour)]

    @property
    def endless(self) -> bool:
        return True


class Black(_Endless):
    """Nothing but black. The product stands on a black floor that mirrors as much as the ground says."""

    kind: Literal["black"] = "black"
    floor_colour: ClassVar[str] = "#000000"


class White(_Endless):
    """Nothing but white: the ground and what is behind are white in the picture, whatever the lamps do."""

    kind: Literal["white"] = "white"
    floor_colour: ClassVar[str] = "#FFFFFF"


class ShadowOnly(_Endless):
    """Nothing but the product and its shadow, in a transparent picture."""

    kind: Literal["shadow"] = "shadow"
    floor_colour: ClassVar[str] = "#C8C8C8"


Set = Annotated[
    Sweep | Plinth | Stack | Slab | ShelfCorner | Coloured | PictureBehind | Black | White | ShadowOnly,
    Field(discriminator="kind"),
]
SETS = (Sweep, Plinth, Stack, Slab, ShelfCorner, Coloured, PictureBehind, Black, White, ShadowOnly)
"""Every kind of set."""
