"""What is to be photographed: meshes with surfaces, what glows, a camera. Lengths mm, colours linear Rec. 709."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.studio.camera import Lens
from hollow_marble.core.studio.finishes import Made, Ramp

Image = NDArray[np.float32]


@dataclass(frozen=True, eq=False)
class Sheet:
    """A picture laid on a surface by its texture coordinates: pixels (h, w, c), its first row at the top; `wide` mm, repeated all over.

    at : mm where its lower left corner lies; repeats : whether it goes on beyond its edges
    """

    pixels: Image
    wide: float
    at: tuple[float, float] = (0.0, 0.0)
    repeats: bool = True

    @property
    def tall(self) -> float:
        return float(self.wide * self.pixels.shape[0] / self.pixels.shape[1])


@dataclass(frozen=True, eq=False)
class Into:
    """What a surface runs into, and where along a part."""

    ramp: Ramp
    made: Made
    colour: Sheet | None = None


@dataclass(frozen=True, eq=False)
class Surface:
    """What a surface is made of and what is laid on it.

    colour : a picture of the base's colour (3 channels), in place of the one colour; relief : height in mm (1 channel); rough : where it is
    matter, 0 to 1 (1 channel); cover : where it is there at all, 0 to 1 (1 channel); into : what it runs into where
    its bodies' points say so (`Body.shares`)
    """

    made: Made
    colour: Sheet | None = None
    relief: Sheet | None = None
    rough: Sheet | None = None
    cover: Sheet | None = None
    into: Into | None = None


@dataclass(frozen=True, eq=False)
class Body:
    """points, normals (N, 3) float32, triangles (T, 3) uint32, texture (N, 2) float32 mm where anything is laid on it.

    shares : (N,) float32 how much there is of what the surface runs into, where it runs into anything
    product : whether it is the product, and not what it stands on
    beyond : what lies on its outer side where that is no air: the glass around a liquid
    """

    points: NDArray[np.float32]
    normals: NDArray[np.float32]
    triangles: NDArray[np.uint32]
    surface: Surface
    texture: NDArray[np.float32] | None = None
    product: bool = False
    shares: NDArray[np.float32] | None = None
    beyond: Made | None = None


@dataclass(frozen=True, eq=False)
class Glowing:
    """A lamp: points (N, 3), triangles (T, 3) counter-clockwise from the lit side; mean radiance (3,); `picture` (n, n) is its brightness
    against the mean by the texture (N, 2) 0 to 1, where it is uneven."""

    points: NDArray[np.float64]
    triangles: NDArray[np.int64]
    radiance: tuple[float, float, float]
    texture: NDArray[np.float64] | None = None
    picture: Image | None = None


@dataclass(frozen=True)
class Backdrop:
    """How what is behind the product is shown.

    shadow : how much of the product's shadow on it is kept; white : it is white whatever the lamps do; through : the picture is transparent there
    """

    shadow: float = 1.0
    white: bool = False
    through: bool = False

    @property
    def plain(self) -> bool:
        """Whether it is shown as it is traced."""
        return self.shadow >= 1.0 and not self.white and not self.through


@dataclass(frozen=True, eq=False)
class Scene:
    """Everything in the picture.

    surround : (h, w, 3) radiance all around, as `core.studio.surround` lays maps out; `seen` whether it is seen behind the set
    gain : (3,) what the picture is multiplied with: exposure and white balance
    """

    bodies: list[Body]
    lamps: list[Glowing]
    lens: Lens
    surround: Image = field(default_factory=lambda: np.full((2, 4, 3), 0.02, np.float32))
    seen: bool = True
    gain: tuple[float, float, float] = (1.0, 1.0, 1.0)
    backdrop: Backdrop = Backdrop()
