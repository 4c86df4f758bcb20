"""Linnet's studio: three colourways, marks on the body, and five shots of five moods."""

from __future__ import annotations

from hollow_marble.demo import artwork
from hollow_marble.demo.designer import Designer
from hollow_marble.demo.details import word_key
from hollow_marble.demo.fittings import DIAL
from hollow_marble.documents.studio.edits import (
    KeepColourway,
    KeepShot,
    KeepView,
    PlaceUnits,
    PutMark,
    PutZone,
    SetCamera,
    SetFinish,
    SetLamp,
    SetLight,
    StartSet,
    WearColourway,
)
from hollow_marble.documents.studio.model import (
    THREE_POINT,
    Camera,
    Card,
    Finish,
    Grain,
    KeptView,
    Lamp,
    Mark,
    SoftBox,
    Surround,
    Sweep,
    Unit,
    Zone,
)
from hollow_marble.documents.studio.model.lamps import FarSource, Strip
from hollow_marble.documents.studio.model.sets import Coloured, GroundLook

MOULDED = Grain(kind="moulded", size=0.5, depth=0.006, strength=0.0)


def _shell(colour: str) -> Finish:
    return Finish(material="matte plastic", colour=colour, amounts={"roughness": 0.42}, grain=MOULDED)


def _dial(colour: str) -> Finish:
    return Finish(material="turned metal", colour=colour, amounts={"metal": 1, "roughness": 0.2})


INK = Finish(material="painted", colour="#3A3D3A")
CREAM = Finish(material="painted", colour="#EFEBE2")
RUBBER = Finish(material="rubber", colour="#2B2D2E", grain=Grain(kind="moulded", size=0.35, depth=0.004, strength=0.0))
WINDOW = Finish(material="gloss plastic", colour="#17191B", amounts={"roughness": 0.02})
STEEL = Finish(material="polished metal", amounts={"metal": 7, "roughness": 0.05})


def _colourway(colour: str, dial: Finish) -> dict[str, Finish]:
    shell = _shell(colour)
    return {
        "body": shell, "dial": dial, "window": WINDOW, "ring": STEEL, "foot": RUBBER, "tread": RUBBER, "door": shell, "cover": RUBBER,
        "word": CREAM if colour != "#D9D2C3" else INK,
    }  # fmt: skip


NAMES = {
    "body": "Body", "dial": "Level dial", "window": "Window", "ring": "Lanyard bar", "foot": "Foot", "tread": "Tread", "door": "Battery door",
    "cover": "Charging cover", "word": "Word mark",
}  # fmt: skip
COLOURWAYS: dict[str, dict[str, Finish]] = {
    "Chalk": _colourway("#D9D2C3", _dial("#E4E0DA")),
    "Dusk": _colourway("#4B5468", Finish(material="anodised metal", colour="#B98A5A", amounts={"roughness": 0.2})),
    "Moss": _colourway("#5E8466", _dial("#E4E0DA")),
}


def light_studio(designer: Designer, form: str) -> str:
    """Set the studio up, keep five shots and return the studio's id."""
    studio = designer.document("studio")
    head = designer.project.ledger.row(form).head or 0
    _mark(designer, studio, form)
    for way, finishes in COLOURWAYS.items():
        for part, finish in finishes.items():
            designer.edit(studio, SetFinish(part=part, name=NAMES[part], finish=finish))
        designer.edit(studio, KeepColourway(id=way.lower(), name=way))

    def keep(ident: str, name: str, size: tuple[int, int]) -> None:
        shot = KeepShot(id=ident, name=name, width=size[0], height=size[1], form=form, form_edit=head)
        designer.edit(studio, shot)

    _hero(designer, studio)
    keep("hero", "Hero", (960, 640))
    designer.edit(studio, KeepView(view=KeptView(id="hero", name="Hero", camera=_HERO, width=960, height=640)))
    _detail(designer, studio)
    keep("detail", "Dial", (800, 800))
    _low_key(designer, studio)
    keep("rim", "Rim", (800, 1000))
    _noon(designer, studio)
    keep("noon", "Noon", (1000, 640))
    _front(designer, studio)
    keep("front", "Front", (840, 560))
    return studio


def _mark(designer: Designer, studio: str, form: str) -> None:
    """A scale printed round the dial; the word mark, which is pressed in, in cream."""
    what, asset = artwork.scale()
    mark = Mark(id="scale", part="body", name="Scale", what=what, at=_Front(designer, form).dial, width=29.0)
    designer.edit(studio, PutMark(mark=mark), asset)
    designer.edit(studio, PutZone(zone=Zone(id="word", part="body", name="Word mark", faces=(word_key(),))))


class _Front:
    """Places on the front of the body."""

    def __init__(self, designer: Designer, form: str) -> None:
        state = designer.project.ledger.state(form)
        parts = {part.id: part for part in state.parts}  # type: ignore[union-attr]
        # what a mark is laid on is the skin without its details
        self._points = designer.evaluator.mesh(parts["body"].bare, state.parts).positions  # type: ignore[union-attr]
        middle = (0.0, DIAL) if "dial" in parts else self._points.mean(axis=0)[[0, 2]]
        self.dial = self._nearest(float(middle[0]), float(middle[1]))

    def _nearest(self, x: float, z: float) -> tuple[float, float, float]:
        front = self._points[self._points[:, 1] < 0]
        x, y, z = (float(v) for v in front[((front[:, 0] - x) ** 2 + (front[:, 2] - z) ** 2).argmin()])
        return x, y, z


_HERO = Camera(focal=85.0, distance=520.0, azimuth=12.0, height=92.0, aim=56.0, aside=22.0, aperture=11.0, exposure=9.9)
_ALONE = (Unit(id="first"),)


def _hero(designer: Designer, studio: str) -> None:
    """Strip key from the left, a cooler rim from behind, a weak top, a white card as fill, the wall far enough behind to fall into the dark; a
    second one lies in Chalk, out of focus."""
    lamps: tuple[Lamp, ...] = (
        Strip(
            id="key",
            role="key",
            azimuth=-67,
            height=38,
            distance=600,
            width=220,
            tall=540,
            rim=0.25,
            power=1.0,
            warmth=5_500,
        ),
        Strip(
            id="back",
            role="back",
            azimuth=142,
            height=34,
            distance=620,
            width=80,
            tall=620,
            rim=0.25,
            power=0.6,
            warmth=7_000,
        ),
        SoftBox(
            id="top",
            name="Top",
            azimuth=170,
            height=80,
            distance=700,
            width=420,
            tall=320,
            rim=0.3,
            power=-2.0,
            warmth=6_000,
        ),
        Card(id="card", name="White card", azimuth=80, height=4, distance=380, width=240, tall=260),
    )
    sweep = Sweep(colour="#6A5A48", width=2_600, depth=1_100, cove=640)
    designer.edit(studio, SetLight(lamps=lamps, set=sweep, surround=Surround(room=-7.0)))
    second = Unit(id="second", pose="lie", x=98.0, y=62.0, turn=-68.0, colourway="chalk")
    designer.edit(studio, PlaceUnits(units=(Unit(id="first", turn=4.0), second)))
    designer.edit(studio, SetCamera(camera=_HERO))


def _detail(designer: Designer, studio: str) -> None:
    """Close to the dial, with little depth of field."""
    designer.edit(studio, PlaceUnits(units=_ALONE))
    camera = Camera(
        focal=150.0,
        distance=260.0,
        azimuth=-24.0,
        height=118.0,
        aim=82.0,
        aperture=5.6,
        focus=(0.0, -20.0, 24.0),
        exposure=9.6,
    )
    designer.edit(studio, SetCamera(camera=camera))


def _low_key(designer: Designer, studio: str) -> None:
    """Dusk in a dark room, between two rims."""
    designer.edit(studio, WearColourway(id="dusk", name="Dusk"))
    designer.edit(studio, StartSet(start="Night shift"))
    camera = Camera(focal=100.0, distance=620.0, azimuth=-14.0, height=70.0, aim=60.0, exposure=8.4, upright=True)
    designer.edit(studio, SetCamera(camera=camera))


def _noon(designer: Designer, studio: str) -> None:
    """Chalk under one hard sun through a long lens: shadows as shapes."""
    designer.edit(studio, WearColourway(id="chalk", name="Chalk"))
    lamps = (FarSource(id="key", role="key", name="Sun", azimuth=-64, height=38, power=0.7, angle=0.5, warmth=5_300),)
    wall = Coloured(top="#B5643C", bottom="#C9784C", depth=150, tall=900, width=2_400, ground=GroundLook())
    designer.edit(studio, SetLight(lamps=lamps, set=wall, surround=Surround(room=-2.7)))
    units = (
        Unit(id="first", x=-44.0, turn=14.0),
        Unit(id="second", pose="lie", x=66.0, y=-8.0, turn=58.0, colourway="moss"),
    )
    designer.edit(studio, PlaceUnits(units=units))
    camera = Camera(focal=180.0, distance=1_500.0, azimuth=0.0, height=260.0, aim=52.0, aside=14.0, exposure=10.2)
    designer.edit(studio, SetCamera(camera=camera))


def _front(designer: Designer, studio: str) -> None:
    """Moss straight on, evenly lit: what it is, with nothing said about it."""
    designer.edit(studio, WearColourway(id="moss", name="Moss"))
    designer.edit(studio, PlaceUnits(units=_ALONE))
    key, fill, back = THREE_POINT
    sweep = Sweep(colour="#C2BBB0", width=2_400.0, depth=620.0)
    designer.edit(studio, SetLight(lamps=THREE_POINT, set=sweep, surround=Surround()))
    designer.edit(
        studio, SetLamp(lamp=key.model_copy(update={"azimuth": -58.0, "height": 42.0, "width": 320.0, "rim": 0.4}))
    )
    designer.edit(studio, SetLamp(lamp=fill.model_copy(update={"power": -0.9})))
    designer.edit(studio, SetLamp(lamp=back.model_copy(update={"power": 0.4})))
    camera = Camera(focal=100.0, distance=640.0, azimuth=-8.0, height=70.0, aim=58.0)
    designer.edit(studio, SetCamera(camera=camera))
