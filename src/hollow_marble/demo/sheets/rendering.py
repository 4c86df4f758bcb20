"""The fourth sheet: value first, from one light; tints over the values; a shadow that grounds it; lights last."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.drafting import light
from hollow_marble.core.drafting.box import Placed
from hollow_marble.core.drafting.camera import Camera
from hollow_marble.core.ink.select import Selection, combined, feathered, outlined
from hollow_marble.demo.designer import Designer
from hollow_marble.demo.drawing import Hand
from hollow_marble.demo.product import DIAL, SIZE, WINDOW, Drawn, normals, surface
from hollow_marble.demo.sheets.clean import clean_view
from hollow_marble.documents.sheet.drafting import perspective_of
from hollow_marble.documents.sheet.edits import AddLayer, ChangeLayer, FrameView, MoveLayer, SetPerspective
from hollow_marble.documents.sheet.model import ConstructionBox

Array = NDArray[np.float64]
PAGE = (0, 0, 2400, 1600)
CAMERA = Camera((900, 800), 4300, math.radians(34), math.radians(17))
AT, SCALE = (900.0, 1290.0), 9.2
LIGHT = light.in_view(light.direction(-0.55, 0.6), CAMERA.turn)
TINTS = {"body": "#6F9479", "metal": "#94928E"}


def product() -> Drawn:
    """The product where this sheet shows it."""
    return Drawn(Placed(CAMERA, SIZE, AT, SCALE))


def draw_rendering(designer: Designer) -> str:
    """Draw the sheet and return its id."""
    sheet = designer.new_sheet("Rendering")
    hand = Hand(31)
    shown = product()
    box = ConstructionBox(size=SIZE, at=AT, scale=SCALE, shown=False)
    view = perspective_of(CAMERA, 3, shown=False)
    designer.edit(sheet, SetPerspective(perspective=view, box=box, what="box"))
    designer.edit(sheet, FrameView(id="rendering", view="three-quarter", name="rendering", rect=(330, 90, 1470, 1540)))
    designer.edit(sheet, ChangeLayer(layer="rough", name="Lines"))
    for ident, name in (
        ("ground", "Ground"),
        ("ring", "Ring"),
        ("body", "Body"),
        ("metal", "Metal"),
        ("glass", "Window"),
    ):
        designer.edit(sheet, AddLayer(id=ident, name=name, holds="tone"))
    for place, ident in enumerate(("ground", "ring", "body", "metal", "glass")):
        designer.edit(sheet, MoveLayer(layer=ident, place=place))
    _ground(designer, sheet, shown)
    _body(designer, sheet, shown)
    _details(designer, sheet, shown)
    clean_view(designer, sheet, hand, shown, "rough", firm=0.62, parting="plain")
    designer.edit(sheet, ChangeLayer(layer="rough", opacity=0.82))
    designer.edit(sheet, AddLayer(id="lights", name="Lights", holds="tone"))
    _lights(designer, sheet, shown)
    for ident, tint in TINTS.items():
        designer.edit(sheet, ChangeLayer(layer=ident, tint=tint))
    designer.edit(sheet, ChangeLayer(layer="ring", tint=TINTS["metal"]))
    designer.edit(sheet, ChangeLayer(layer="ground", tint="#6B665C", mode="multiply"))
    return sheet


def _ground(designer: Designer, sheet: str, shown: Drawn) -> None:
    """The cast shadow, soft and softer away from the foot, and the dark where the foot touches."""
    slim = Placed(CAMERA, (46.0, 27.0, 96.0), AT, SCALE)
    cast = outlined(light.cast_shadow(slim, LIGHT, "cylinder"), PAGE)
    designer.fill(sheet, "ground", feathered(cast, 26.0, PAGE), "#5A5A5A", 0.3)
    near = Placed(CAMERA, (40.0, 24.0, 46.0), AT, SCALE)
    designer.fill(
        sheet,
        "ground",
        feathered(outlined(light.cast_shadow(near, LIGHT, "cylinder"), PAGE), 34.0, PAGE),
        "#4A4A4A",
        0.4,
    )
    ellipse = Placed(CAMERA, (38.0, 24.0, 4.0), AT, SCALE)
    t = np.linspace(0, 2 * np.pi, 80)
    foot = ellipse.from_face("bottom", np.column_stack([20 + 17 * np.cos(t), 13.5 + 10 * np.sin(t)]))
    designer.fill(sheet, "ground", feathered(outlined(foot, PAGE), 11.0, PAGE), "#262626", 0.8)


def _body(designer: Designer, sheet: str, shown: Drawn) -> None:
    """Airbrush along the form inside a hard edge: darks where it turns from the light, a little light come back at the far edge."""
    body = outlined(shown.outline(400), PAGE)
    designer.fill(sheet, "body", body, "#A9A9A9")
    heights = np.linspace(-53.0, 53.0, 110)
    for turn in np.linspace(0.98 * np.pi, 2.32 * np.pi, 40):
        turns = np.full_like(heights, turn)
        facing = shown.facing(turns, heights)
        if (facing > 0.02).sum() < 20:
            continue
        caught = np.clip(normals(turns, heights) @ LIGHT, 0, 1)
        # darker towards the ground, and lit a little from beneath and behind at the far edge
        low = 0.24 * (0.5 - heights / 108) ** 1.2
        dark = np.clip(1.02 - caught / 0.86 + low, 0, 1) ** 1.2 * (1 - 0.4 * np.clip(1 - facing / 0.4, 0, 1))
        bright = np.clip((caught - 0.74 - low / 2) / 0.24, 0, 1) ** 1.3
        run = shown.place(surface(turns, heights))
        for share, colour, size in ((dark, "#1E1E1E", 92.0), (bright, "#FFFFFF", 84.0)):
            press = np.where(facing > 0.0, share, 0.0)
            if press.max() < 0.06:
                continue
            samples = np.column_stack([run, press, np.zeros(len(run))]).astype(np.float32)
            designer.paint(sheet, "body", samples[press > 0.01], "mist", size, 0.62, colour, body)
    # the waist's hollow, and the foot of rubber
    waist = shown.section(-6.0, 1.5)
    dip = np.column_stack([waist, np.full(len(waist), 0.55), np.zeros(len(waist))]).astype(np.float32)
    designer.paint(sheet, "body", dip, "mist", 60.0, 0.3, "#1E1E1E", body)
    foot = shown.section(-51.0)
    band = np.column_stack([foot, np.full(len(foot), 0.9), np.zeros(len(foot))]).astype(np.float32)
    designer.paint(sheet, "body", band, "mist", 90.0, 0.7, "#161616", body)


def _details(designer: Designer, sheet: str, shown: Drawn) -> None:
    """Dial and ring: metal, so darks close to lights. The window: dark glass with a slanting light."""
    dial = outlined(shown.ring_on_front(DIAL[0], DIAL[1], DIAL[2]), PAGE)
    cap = outlined(shown.ring_on_front(DIAL[0], DIAL[1], 8.4, 1.2), PAGE)
    shade = outlined(shown.ring_on_front(DIAL[0] + 1.6, DIAL[1] - 1.8, DIAL[2] + 0.6, -0.4), PAGE)
    body = outlined(shown.outline(400), PAGE)
    designer.fill(sheet, "metal", feathered(combined(body, shade, "keep common"), 7.0, PAGE), "#101010", 0.55)
    designer.fill(sheet, "metal", dial, "#8E8E8E")
    rim = shown.ring_on_front(DIAL[0], DIAL[1], 9.9)
    for _ in range(2):
        _round(designer, sheet, "metal", rim, dial, 30.0, lambda a: (0.5 + 0.5 * np.cos(a - 2.2)) ** 2, "#FFFFFF")
        _round(designer, sheet, "metal", rim, dial, 30.0, lambda a: (0.5 + 0.5 * np.cos(a + 0.9)) ** 2, "#141414")
    designer.fill(sheet, "metal", cap, "#C4C4C4")
    inner = shown.ring_on_front(DIAL[0], DIAL[1], 5.6, 1.2)
    _round(designer, sheet, "metal", inner, cap, 78.0, lambda a: (0.5 + 0.5 * np.cos(a + 0.9)) ** 3, "#3A3A3A")
    _round(designer, sheet, "metal", inner, cap, 70.0, lambda a: (0.5 + 0.5 * np.cos(a - 2.2)) ** 3, "#FFFFFF")
    window = outlined(shown.ring_on_front(*WINDOW), PAGE)
    designer.fill(sheet, "glass", window, "#1B1F22")
    glow = shown.ring_on_front(WINDOW[0] - 1.4, WINDOW[1] + 1.6, 2.4)
    _round(designer, sheet, "glass", glow, window, 34.0, lambda a: (0.5 + 0.5 * np.cos(a - 2.2)) ** 2, "#B9C6CC")
    outer = outlined(shown.lanyard(7.6), PAGE)
    ring = combined(outer, outlined(shown.lanyard(5.8), PAGE), "take away")
    designer.fill(sheet, "ring", ring, "#9A9A9A")
    mid = shown.lanyard(6.7)
    _round(designer, sheet, "ring", mid, ring, 26.0, lambda a: (0.5 + 0.5 * np.cos(a - 2.3)) ** 2, "#FFFFFF")
    _round(designer, sheet, "ring", mid, ring, 26.0, lambda a: (0.5 + 0.5 * np.cos(a + 0.8)) ** 2, "#202020")


def _lights(designer: Designer, sheet: str, shown: Drawn) -> None:
    """The last and lightest: the soft box in the shoulder, and a fine edge along the dial."""
    body = outlined(shown.outline(400), PAGE)
    heights = np.linspace(18.0, 44.0, 40)
    streak = shown.place(surface(np.full_like(heights, 1.30 * np.pi), heights))
    press = np.sin(np.linspace(0, np.pi, len(streak))) ** 0.7
    samples = np.column_stack([streak, press, np.zeros(len(streak))]).astype(np.float32)
    designer.paint(sheet, "lights", samples, "mist", 46.0, 0.8, "#FFFFFF", body)
    low = np.linspace(-38.0, -16.0, 30)
    streak = shown.place(surface(np.full_like(low, 1.29 * np.pi), low))
    press = 0.7 * np.sin(np.linspace(0, np.pi, len(streak))) ** 0.7
    samples = np.column_stack([streak, press, np.zeros(len(streak))]).astype(np.float32)
    designer.paint(sheet, "lights", samples, "mist", 40.0, 0.6, "#FFFFFF", body)


def _round(
    designer: Designer, sheet: str, layer: str, places: Array, where: Selection, size: float, press: object, colour: str
) -> None:
    """Airbrush around a ring of places, as strong as `press` of the turn says."""
    turn = np.linspace(0, 2 * np.pi, len(places) + 1)
    run = np.vstack([places, places[:1]])
    samples = np.column_stack([run, press(turn), np.zeros(len(run))]).astype(np.float32)  # type: ignore[operator]
    designer.paint(sheet, layer, samples, "mist", size, 0.85, colour, where)
