"""The camera of a studio. Lengths mm, angles degrees; lens, aperture and shift as on a frame 36 mm wide."""

from __future__ import annotations

from pydantic import Field

from hollow_marble.documents.edit import Frozen


class Camera(Frozen):
    """A camera aimed at the product; lens in 35 mm terms.

    upright : the camera is level and its frame is shifted, so that upright edges stay upright
    shift : the frame moved across and up, mm of the 36 mm frame
    exposure : exposure value at ISO 100; a white card lit by 2.5 × 2^EV lux comes out white
    white : warmth that comes out neutral, kelvin
    aperture : f-number; None takes everything sharp
    focus : place that is sharp, mm from the product's middle; None is the middle itself
    """

    focal: float = Field(70.0, ge=12, le=400)
    distance: float = Field(620.0, ge=50, le=20_000)
    azimuth: float = Field(0.0, ge=-180, le=180)
    height: float = Field(120.0, ge=-500, le=10_000, description="of the lens above the floor, mm")
    aim: float = Field(54.0, ge=-1_000, le=5_000, description="height of the point looked at, mm")
    aside: float = Field(0.0, ge=-5_000, le=5_000, description="of the point looked at, to the camera's right, mm")
    roll: float = Field(0.0, ge=-180, le=180)
    upright: bool = False
    shift: tuple[float, float] = (0.0, 0.0)
    exposure: float = Field(10.0, ge=-4, le=24)
    white: float = Field(5600.0, ge=1_700, le=12_000)
    aperture: float | None = Field(None, ge=0.7, le=128)
    focus: tuple[float, float, float] | None = None


class KeptView(Frozen):
    """A camera kept under a name, with the frame it was kept in."""

    id: str
    name: str = Field(min_length=1, max_length=60)
    camera: Camera
    width: int = Field(960, ge=16, le=8_192)
    height: int = Field(600, ge=16, le=8_192)
