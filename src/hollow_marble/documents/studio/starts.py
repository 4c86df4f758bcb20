"""Lights and sets to begin with. Lengths mm, angles degrees, warmth kelvin, power in stops; all of it for a product of a hand's size."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

from hollow_marble.documents.studio.model.camera import Camera
from hollow_marble.documents.studio.model.finish import Finish, Grain
from hollow_marble.documents.studio.model.lamps import (
    THREE_POINT,
    Card,
    Disc,
    FarSource,
    Lamp,
    Sky,
    SoftBox,
    Spot,
    Strip,
    WindowScreen,
)
from hollow_marble.documents.studio.model.sets import Coloured, GroundLook, Set, ShelfCorner, Slab, Stack, Sweep, White
from hollow_marble.documents.studio.model.setting import Setting
from hollow_marble.documents.studio.model.surround import Surround

KEY = "key"

LIGHTS: dict[str, tuple[Lamp, ...]] = {
    "three-point": THREE_POINT,
    "one soft box above": (SoftBox(id=KEY, role="key", azimuth=0, height=80, distance=620, width=620, tall=620, rim=0.4, power=0.9),),
    "rim alone": (
        Strip(id=KEY, role="key", name="Rim", azimuth=152, height=28, distance=560, width=90, tall=620, rim=0.3, power=0.4, warmth=6_200),
        Strip(id="back", role="back", name="Second rim", azimuth=-148, height=20, distance=600, width=70, tall=560, rim=0.3, power=-0.6, warmth=6_800),
    ),
    "one hard far source": (FarSource(id=KEY, role="key", azimuth=-42, height=48, power=0.6, angle=0.5),),
    "short": (
        SoftBox(id=KEY, role="key", azimuth=-82, height=34, distance=640, width=320, tall=520, rim=0.4, power=0.8),
        Card(id="card", name="White card", azimuth=70, height=6, distance=320, width=360, tall=360),
        Strip(id="back", role="back", azimuth=140, height=40, distance=640, width=80, tall=600, rim=0.3, power=-1.0, warmth=6_600),
    ),
    "broad": (
        SoftBox(id=KEY, role="key", azimuth=-38, height=30, distance=680, width=620, tall=620, rim=0.5, power=0.8),
        SoftBox(id="fill", role="fill", azimuth=46, height=14, distance=900, width=700, tall=700, rim=0.5, power=-1.0),
    ),
    "warm to cool": (
        SoftBox(id=KEY, role="key", azimuth=-64, height=26, distance=640, width=300, tall=460, rim=0.35, power=0.7, warmth=3_600),
        SoftBox(id="fill", role="fill", azimuth=72, height=22, distance=800, width=520, tall=620, rim=0.5, power=-0.9, warmth=9_000),
    ),
}  # fmt: skip
"""Lights to begin with, by their names."""


@dataclass(frozen=True)
class ReadySet:
    """A set with its light; `camera` are fields of the camera that belong to it (exposure, warmth of white)."""

    says: str
    set: Set
    lamps: tuple[Lamp, ...]
    surround: Surround
    camera: dict[str, Any] = field(default_factory=dict)

    def put_into(self, setting: Setting) -> Setting:
        """A setting with this set and light; its view and its finishes stay."""
        camera = Camera.model_validate(
            {**setting.camera.model_dump(), "exposure": 10.0, "white": 5600.0, **self.camera}
        )
        return setting.model_copy(
            update={"set": self.set, "lamps": self.lamps, "surround": self.surround, "camera": camera}
        )


_STONE = Finish(material="stone", colour="#918D86", grain=Grain(kind="stone", size=30.0, depth=0.05, strength=0.8))

READY_SETS: dict[str, ReadySet] = {
    "Morning bench": ReadySet(
        "Bright and even, for a package or a wall of options.",
        Sweep(colour="#E4E1DB", width=2_400, depth=760, cove=320),
        (
            SoftBox(id=KEY, role="key", azimuth=-40, height=46, distance=760, width=700, tall=700, rim=0.5, power=1.1),
            SoftBox(id="fill", role="fill", azimuth=58, height=26, distance=820, width=800, tall=800, rim=0.6, power=0.2),
            SoftBox(id="back", role="back", name="Top", azimuth=180, height=82, distance=640, width=700, tall=500, rim=0.5, power=0.3),
        ),
        Surround(room=-3.0),
    ),
    "Night shift": ReadySet(
        "Low key: a dark room, a rim on either side.",
        Sweep(colour="#2A2B2F", width=2_400, depth=900, cove=300),
        (
            Strip(
                id=KEY, role="key", held="camera", azimuth=-138, height=24, distance=520, width=110, tall=640,
                rim=0.25, power=1.2, warmth=5_200,
            ),
            Strip(
                id="back", role="back", held="camera", azimuth=142, height=30, distance=560, width=80, tall=620,
                rim=0.25, power=0.5, warmth=7_200,
            ),
            SoftBox(
                id="fill", role="fill", held="camera", azimuth=-34, height=62, distance=700, width=260, tall=260,
                rim=0.4, power=-1.8,
            ),
        ),
        Surround(room=-8.0),
        {"exposure": 9.6},
    ),
    "Noon": ReadySet(
        "One hard sun and its shadow as a shape.",
        Coloured(top="#D8B48A", bottom="#E3C49E", depth=620, tall=1_600, width=3_000),
        (FarSource(id=KEY, role="key", name="Sun", azimuth=-52, height=46, power=0.9, angle=0.5, warmth=5_400),),
        Surround(room=-2.6),
    ),
    "Evening window": ReadySet(
        "Low warm sun through a window, soft-edged.",
        Sweep(colour="#D9CDBB", width=2_600, depth=240, cove=20),
        (
            FarSource(
                id=KEY, role="key", name="Low sun", held="camera", azimuth=-44, height=22, power=0.9, angle=1.2, warmth=3_500,
                before=WindowScreen(width=330, tall=330, across=3, up=3, bar=15, distance=900),
            ),
            SoftBox(id="fill", role="fill", azimuth=50, height=40, distance=900, width=900, tall=900, power=-0.9, warmth=7_500),
        ),
        Surround(room=-3.4),
        {"white": 4_400.0},
    ),
    "Quarry": ReadySet(
        "Stone, little colour, a soft window from one side.",
        Slab(finish=_STONE, colour="#6D6B68", depth=900, across=1_400, deep=1_000),
        (
            SoftBox(id=KEY, role="key", azimuth=-80, height=30, distance=620, width=420, tall=620, rim=0.35, power=0.9, warmth=5_900),
            Card(id="card", azimuth=78, height=4, distance=300, width=340, tall=300),
            Strip(id="back", role="back", azimuth=150, height=46, distance=640, width=90, tall=500, rim=0.3, power=-0.5, warmth=6_400),
        ),
        Surround(room=-5.0),
    ),
    "Apricot": ReadySet(
        "One strong colour everywhere.",
        Sweep(colour="#E8814A", width=2_600, depth=520, cove=260),
        (
            Disc(id=KEY, role="key", azimuth=-38, height=50, distance=680, diameter=420, rim=0.5, power=1.0),
            SoftBox(id="fill", role="fill", azimuth=60, height=20, distance=820, width=600, tall=600, rim=0.6, power=-0.6),
        ),
        Surround(room=-3.6),
    ),
    "Lacquer": ReadySet(
        "A glossy dark table, the reflection fading into it.",
        Sweep(colour="#1B1C1F", width=2_600, depth=1_000, cove=420, ground=GroundLook(reflection=1.0, blur=0.12)),
        (
            SoftBox(id=KEY, role="key", azimuth=-60, height=36, distance=640, width=260, tall=560, rim=0.25, power=1.0),
            Strip(id="back", role="back", held="camera", azimuth=122, height=34, distance=620, width=90, tall=640, rim=0.25, power=0.4, warmth=6_800),
            Spot(id="wall", name="On the wall", held="camera", azimuth=150, height=40, distance=900, aim=(0.0, 900.0, 120.0), diameter=60, beam=50, edge=0.9, power=1.2),
        ),
        Surround(room=-7.0),
    ),
    "Cloud": ReadySet(
        "White all around, a light shadow under it.",
        White(ground=GroundLook(shadow=0.7)),
        (
            Sky(id=KEY, role="key", name="Veiled sky", azimuth=-40, height=58, haze=0.85, power=1.0),
            SoftBox(id="fill", role="fill", azimuth=-40, height=40, distance=760, width=600, tall=600, rim=0.4, power=-0.2),
        ),
        Surround(room=-2.0),
        {"exposure": 10.9},
    ),
    "Shelf": ReadySet(
        "The corner of a wooden shelf, light from a lamp above.",
        ShelfCorner(finish=Finish(material="wood", colour="#A9805A"), colour="#CDC6BA", depth=150, beside=240),
        (
            SoftBox(id=KEY, role="key", azimuth=-44, height=56, distance=640, width=300, tall=300, rim=0.35, power=0.9, warmth=4_300),
            SoftBox(id="fill", role="fill", azimuth=20, height=30, distance=900, width=800, tall=800, power=-1.5, warmth=6_500),
        ),
        Surround(room=-4.5),
        {"white": 5_000.0},
    ),
    "Terraces": ReadySet(
        "Plinths of three heights in one pale tone.",
        Stack(colour="#CBD2CE", finish=Finish(material="matte plastic", colour="#CBD2CE"), talls=(80.0, 150.0, 34.0), across=140, depth=620),
        (
            FarSource(id=KEY, role="key", azimuth=-56, height=38, power=0.3, angle=6.0, warmth=5_300),
            SoftBox(id="fill", role="fill", azimuth=64, height=36, distance=820, width=800, tall=800, rim=0.6, power=-0.8, warmth=6_400),
        ),
        Surround(room=-3.4),
    ),
}  # fmt: skip
"""Sets to begin with, by their names."""
