"""The third sheet: clean lines on a layer of their own, split lines, callouts and dimensions."""

from __future__ import annotations

import math

import numpy as np

from hollow_marble.core.drafting.box import Placed
from hollow_marble.core.drafting.camera import Camera
from hollow_marble.core.ink.reshape import inside
from hollow_marble.demo.designer import Designer
from hollow_marble.demo.drawing import Hand, Place
from hollow_marble.demo.product import DIAL, SIZE, WINDOW, Drawn
from hollow_marble.demo.sheets.construction import along, loop, straight
from hollow_marble.demo.sheets.ideas import FRONT, SIDE
from hollow_marble.documents.sheet.drafting import perspective_of
from hollow_marble.documents.sheet.edits import (
    AddLayer,
    ChangeLayer,
    FrameView,
    PutNote,
    SetPerspective,
    SetScale,
)
from hollow_marble.documents.sheet.model import Callout, ConstructionBox, Dimension, Lettering

SCALE = 7.4
"""Px a millimetre of the square-on views."""

FRONT_AT: Place = (1560.0, 820.0)
SIDE_AT: Place = (2080.0, 820.0)


def draw_clean(designer: Designer) -> str:
    """Draw the sheet and return its id."""
    sheet = designer.new_sheet("Clean lines")
    hand = Hand(23)
    camera = Camera((670, 800), 4300, math.radians(34), math.radians(17))
    box = ConstructionBox(size=SIZE, at=(670, 1270), scale=8.8, shown=False)
    view = perspective_of(camera, 3, shown=False)
    designer.edit(sheet, SetPerspective(perspective=view, box=box, what="box"))
    designer.edit(sheet, FrameView(id="clean", view="three-quarter", name="three-quarter", rect=(190, 195, 1150, 1470)))
    product = Drawn(Placed(camera, SIZE, box.at, box.scale))
    designer.edit(sheet, ChangeLayer(layer="rough", name="Underlay", opacity=0.5))
    outline = product.outline(30)
    for pressure, wobble in ((0.24, 3.5), (0.3, 2.2)):
        designer.draw(sheet, loop(hand, outline, pressure, wobble, 0.06), 5, 0.7, colour="#6F86A8")
    designer.edit(sheet, AddLayer(id="clean", name="Clean lines"))
    clean_view(designer, sheet, hand, product, "clean")
    for at, profile, ident in ((FRONT_AT, FRONT, "front"), (SIDE_AT, SIDE, "side")):
        elevation(designer, sheet, hand, at, profile, SCALE, "clean", front=ident == "front")
        half = 40 * SCALE if ident == "front" else 27 * SCALE
        rect = (int(at[0] - half), int(at[1] - 74 * SCALE), int(at[0] + half), int(at[1] + 74 * SCALE))
        designer.edit(sheet, FrameView(id=ident, view=ident, name=ident, rect=rect))
        designer.edit(sheet, SetScale(view=ident, scale=SCALE))
    _notes(designer, sheet, product)
    return sheet


def clean_view(
    designer: Designer, sheet: str, hand: Hand, product: Drawn, layer: str, firm: float = 1.0, parting: str = "split"
) -> None:
    """The product in perspective: outline firm, inner edges finer; the parting line as a split line, or plain."""

    def draw(samples: object, size: float, tone: float, nib: str = "pencil", line: str = "plain") -> None:
        designer.draw(sheet, samples, size * firm, tone, layer, nib=nib, line=line)  # type: ignore[arg-type]

    outline = product.outline(34)
    draw(loop(hand, outline, 1.0, 0.5, 0.015), 7.5, 1.0)
    draw(along(hand, product.section(-6.0, 1.5), 0.9, 0.3), 3.6, 0.95, "fineliner", parting)
    draw(along(hand, product.section(-47.0), 0.5, 0.4), 4.5, 0.8)
    for turn in (1.93 * np.pi,):
        draw(along(hand, product.meridian(turn, 0.05)[8:-8], 0.4, 0.5), 4.5, 0.6)
    for radius, pressure, size in ((DIAL[2], 0.85, 7.0), (9.0, 0.5, 4.5), (8.4, 0.4, 4.0)):
        draw(loop(hand, product.ring_on_front(DIAL[0], DIAL[1], radius)[::3], pressure, 0.3, 0.02), size, 1.0)
    outer, inner = (product.ring_on_front(DIAL[0], DIAL[1], r) for r in (10.8, 9.2))
    for a, b in zip(inner[::2], outer[::2]):
        draw(straight(hand, tuple(a), tuple(b), 0.8, 0.15), 3.2, 0.95)
    mark = product.ring_on_front(DIAL[0], DIAL[1] + 6.2, 0.9)
    draw(loop(hand, mark[::6], 0.8, 0.1, 0.1), 4, 0.95)
    draw(loop(hand, product.ring_on_front(*WINDOW)[::4], 0.8, 0.3, 0.02), 6.5, 0.95)
    draw(loop(hand, product.ring_on_front(WINDOW[0], WINDOW[1], 4.1)[::4], 0.4, 0.3, 0.02), 4, 0.8)
    for radius, pressure in ((7.6, 0.85), (5.8, 0.6)):
        # the ring goes down behind the shoulder
        ring = product.lanyard(radius)
        hidden = inside(ring, product.outline(200))
        start = int(np.flatnonzero(hidden)[-1]) + 1 if hidden.any() else 0
        run = np.roll(ring, -start, axis=0)[: len(ring) - int(hidden.sum())]
        draw(along(hand, run, pressure, 0.3), 6, 1.0)
    for height in (38.0, 41.5, 45.0):
        draw(along(hand, product.across(height, 8.5), 0.9, 0.2), 5, 1.0)


def elevation(
    designer: Designer,
    sheet: str,
    hand: Hand,
    at: Place,
    profile: list[tuple[float, float, float]],
    scale: float,
    layer: str,
    front: bool,
    firm: float = 1.0,
) -> None:
    """The product square-on, from the front or the side."""

    def place(x: float, height: float) -> Place:
        return at[0] + x * scale, at[1] - height * scale

    right = [place(r, h) for h, _, r in profile]
    left = [place(-l, h) for h, l, _ in profile[::-1]]

    def draw(samples: object, size: float, tone: float, nib: str = "pencil", line: str = "plain") -> None:
        designer.draw(sheet, samples, size * firm, tone, layer, nib=nib, line=line)  # type: ignore[arg-type]

    draw(hand.line(right + left, 1.0, 0.4, closed=True, over=0.015), 6.5, 1.0)
    levels = np.array([p[0] for p in profile][::-1])
    low = float(np.interp(-6, levels, [p[1] for p in profile][::-1]))
    high = float(np.interp(-6, levels, [p[2] for p in profile][::-1]))
    draw(straight(hand, place(-low, -6), place(high, -6), 0.9, 0.2), 4, 0.95, "fineliner", "split")
    draw(straight(hand, place(-low * 0.55, -48), place(high * 0.55, -48), 0.6, 0.3), 4, 0.8)
    if front:
        for radius, pressure in ((DIAL[2], 0.85), (9.0, 0.5)):
            draw(
                hand.ellipse(place(0, DIAL[1]), radius * scale, radius * scale, pressure=pressure, wobble=0.3), 6, 0.95
            )
        for number in range(30):
            a = number * np.pi / 15
            ends = [place(r * np.cos(a), DIAL[1] + r * np.sin(a)) for r in (9.3, 10.8)]
            draw(straight(hand, ends[0], ends[1], 0.5, 0.1), 3, 0.85)
        draw(hand.ellipse(place(0, WINDOW[1]), 5 * scale, 5 * scale, pressure=0.8, wobble=0.3), 6, 0.95)
        draw(hand.ellipse(place(0, 59), 7.6 * scale, 5.4 * scale, pressure=0.7, wobble=0.3), 5.5, 0.95)
        draw(hand.ellipse(place(0, 59), 5.8 * scale, 3.8 * scale, pressure=0.5, wobble=0.3), 4.5, 0.95)
        for height in (38.0, 41.5, 45.0):
            draw(straight(hand, place(-8, height), place(8, height), 0.7, 0.2), 5, 0.9)
    else:
        edge = float(np.interp(DIAL[1], levels, [p[1] for p in profile][::-1]))
        knob = [place(-edge + 0.6, 31), place(-edge - 3.4, 30), place(-edge - 3.6, 10), place(-edge + 0.6, 9)]
        draw(hand.line(knob, 0.8, 0.2), 6, 0.95)
        draw(straight(hand, place(0, 54), place(0, 63), 0.8, 0.2), 11, 0.9)


def _notes(designer: Designer, sheet: str, product: Drawn) -> None:
    designer.edit(sheet, AddLayer(id="notes", name="Notes", holds="notes"))

    def spot(places: object, index: int) -> Place:
        x, y = places[index]  # type: ignore[index]
        return float(x), float(y)

    dial = product.ring_on_front(*DIAL)
    waist = product.section(-6.0, 1.5)
    callouts = (
        ("grille", "Microphone grille,\nthree slots", spot(product.across(41.5, 8.5), 0), (60, 260)),
        ("dial", "Level dial,\nknurled", spot(dial, 32), (40, 520)),
        ("window", "Window", spot(product.ring_on_front(*WINDOW), 30), (60, 900)),
        ("parting", "Parting line", spot(waist, -8), (1030, 760)),
        ("foot", "Rubber foot", spot(product.section(-47.0), -30), (990, 1320)),
        ("ring", "Lanyard ring", spot(product.lanyard(7.6), 4), (830, 190)),
    )
    for ident, words, to, at in callouts:
        designer.edit(sheet, PutNote(layer="notes", note=Callout(id=ident, words=words, to=to, at=at, size=28)))
    (fx, fy), (sx, sy) = FRONT_AT, SIDE_AT
    dimensions = (
        ("width", (fx - 31 * SCALE, fy + 26 * SCALE), (fx + 31 * SCALE, fy + 26 * SCALE), 290.0),
        ("height", (fx - 31 * SCALE, fy + 54 * SCALE), (fx - 31 * SCALE, fy - 54 * SCALE), -60.0),
        ("depth", (sx - 17.5 * SCALE, sy + 26 * SCALE), (sx + 16.5 * SCALE, sy + 26 * SCALE), 290.0),
        ("dial-size", (fx - 11 * SCALE, fy - 20 * SCALE), (fx + 11 * SCALE, fy - 20 * SCALE), 128.0),
    )
    for ident, start, end, off in dimensions:
        note = Dimension(id=ident, start=start, end=end, off=off, size=24, colour="#5F676A")
        designer.edit(sheet, PutNote(layer="notes", note=note))
    title = Lettering(id="title", words="Linnet, clean lines", at=(60, 96), size=44, font="serif")
    designer.edit(sheet, PutNote(layer="notes", note=title))
