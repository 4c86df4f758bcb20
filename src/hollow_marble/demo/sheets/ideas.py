"""The first morning's sheet: side views, one struck out, a front view, loose ideas around them."""

from __future__ import annotations

import numpy as np

from hollow_marble.demo.designer import Designer
from hollow_marble.demo.drawing import Hand, Place
from hollow_marble.documents.sheet.edits import ChangeLayer, FrameView, SetSymmetry, StrikeOut
from hollow_marble.documents.sheet.model import Axis, Repeat

SCALE = 4.6
"""Page px a millimetre."""


def _outline(centre: Place, profile: list[tuple[float, float, float]]) -> list[Place]:
    """Closed outline in page px from (height mm, left mm, right mm), highest first."""
    x, y = centre
    right = [(x + r * SCALE, y - h * SCALE) for h, _, r in profile]
    left = [(x - l * SCALE, y - h * SCALE) for h, l, _ in profile[::-1]]
    return right + left


Profile = list[tuple[float, float, float]]

SIDE: Profile = [
    (54, 2, 3),
    (49, 10, 9),
    (34, 14.5, 12.5),
    (14, 15, 13),
    (-4, 14, 14),
    (-26, 17.5, 16.5),
    (-43, 14, 14),
    (-53, 5, 5),
]
SLIM: Profile = [(54, 2, 2), (48, 8, 8), (28, 10, 11), (0, 10, 11), (-28, 10, 11), (-46, 8.5, 8.5), (-54, 3, 3)]
BULGED: Profile = [(54, 3, 3), (48, 10, 8), (26, 13, 10), (4, 12, 9), (-20, 19, 16), (-42, 18, 17), (-53, 6, 6)]
FRONT: Profile = [
    (54, 5, 5),
    (49, 18, 18),
    (32, 27, 27),
    (10, 28, 28),
    (-6, 27, 27),
    (-26, 31, 31),
    (-42, 27, 27),
    (-53, 9, 9),
]


def draw_ideas(designer: Designer) -> str:
    """Draw the sheet and return its id."""
    sheet = designer.document("sheet")
    designer.project.ledger.rename(sheet, "First morning")
    hand = Hand(7)

    def contour(centre: Place, profile: list[tuple[float, float, float]]) -> None:
        outline = _outline(centre, profile)
        designer.draw(sheet, hand.line(outline, 0.34, 2.6, closed=True, over=0.1), 4.5, 0.6)
        designer.draw(sheet, hand.line(outline, 0.42, 2.0, closed=True, over=0.06), 5.0, 0.7)
        designer.draw(sheet, hand.line(outline, 0.74, 0.9, closed=True, over=0.03), 6.5, 0.85)

    def at(centre: Place, x: float, height: float) -> Place:
        return centre[0] + x * SCALE, centre[1] - height * SCALE

    def side(centre: Place, profile: list[tuple[float, float, float]], waist: float, dial: float) -> None:
        contour(centre, profile)
        levels = np.array([p[0] for p in profile][::-1], float)
        left = float(np.interp(waist, levels, [p[1] for p in profile][::-1]))
        right = float(np.interp(waist, levels, [p[2] for p in profile][::-1]))
        designer.draw(
            sheet,
            hand.line([at(centre, -left, waist), at(centre, 0, waist - 1.2), at(centre, right, waist)], 0.55, 0.8),
            4,
        )
        front = float(np.interp(dial, levels, [p[1] for p in profile][::-1]))
        knob = [
            at(centre, -front + 1, dial + 9),
            at(centre, -front - 4, dial + 8),
            at(centre, -front - 4, dial - 8),
            at(centre, -front + 1, dial - 9),
        ]
        designer.draw(sheet, hand.line(knob, 0.6, 0.7), 5)
        designer.draw(sheet, hand.ellipse(at(centre, 0, 59), 4.2 * SCALE, 5.2 * SCALE, pressure=0.45), 4.5)

    ideas: list[tuple[Place, Profile, float, float]] = [
        ((300.0, 420.0), SIDE, -6.0, 20.0),
        ((640.0, 420.0), BULGED, 4.0, 26.0),
        ((980.0, 420.0), SLIM, 0.0, 16.0),
    ]
    for centre, profile, waist, dial in ideas:
        side(centre, profile, waist, dial)
    for number, ((x, _), *_rest) in enumerate(ideas, 1):
        name = ("pebble", "pear", "bar")[number - 1]
        rect = (int(x - 150), 110, int(x + 150), 710)
        designer.edit(sheet, FrameView(id=f"side-{name}", view="side", name=f"side, {name}", rect=rect))
    designer.edit(sheet, StrikeOut(id="side-bar", struck=True))

    front = (470.0, 1130.0)
    contour(front, FRONT)
    designer.draw(sheet, hand.line([at(front, -27, -6), at(front, 0, -8), at(front, 27, -6)], 0.55, 0.9), 4)
    for radius, weight in ((11.0, 0.65), (8.2, 0.4)):
        designer.draw(sheet, hand.ellipse(at(front, 0, 20), radius * SCALE, radius * SCALE, pressure=weight), 5)
    designer.draw(sheet, hand.ellipse(at(front, 0, -24), 5 * SCALE, 5 * SCALE, pressure=0.6), 5)
    designer.draw(sheet, hand.ellipse(at(front, 0, 60), 8 * SCALE, 7 * SCALE, pressure=0.5), 5)
    for height in (41.0, 44.5, 48.0):
        designer.draw(sheet, hand.line([at(front, -8, height), at(front, 8, height)], 0.5, 0.5), 4)
    designer.edit(sheet, FrameView(id="front", view="front", name="front, pebble", rect=(230, 800, 710, 1480)))

    _loose(designer, sheet, hand)
    designer.edit(sheet, ChangeLayer(layer="rough", opacity=0.9))
    return sheet


def _loose(designer: Designer, sheet: str, hand: Hand) -> None:
    """Ideas that came quickly, over one another: how it is held, worn and set down; the dial and the grille by themselves."""
    for centre, turn, shrink in (
        ((1180.0, 1080.0), -16.0, 0.8),
        ((1360.0, 1130.0), 8.0, 0.84),
        ((1545.0, 1070.0), 22.0, 0.78),
    ):
        places = _turned(_outline(centre, [(h * shrink, l * shrink, r * shrink) for h, l, r in SIDE]), centre, turn)
        for pressure, wobble, size in ((0.26, 2.6, 4.0), (0.5, 1.2, 5.0)):
            designer.draw(sheet, hand.line(places, pressure, wobble, closed=True, over=0.08), size, 0.7)
        waist = [(centre[0] + x * SCALE * shrink, centre[1] + 6 * SCALE * shrink) for x in (-14.5, 0, 14.5)]
        designer.draw(sheet, hand.line(_turned(waist, centre, turn), 0.4, 0.8), 4, 0.7)
        knob = [
            (centre[0] + x * SCALE * shrink, centre[1] - h * SCALE * shrink)
            for x, h in ((-13, 29), (-19, 27), (-19, 13), (-13, 11))
        ]
        designer.draw(sheet, hand.line(_turned(knob, centre, turn), 0.5, 0.6), 4.5, 0.75)
    # rounder, squarer, waisted: fronts over one another
    for centre, turn, profile, shrink in (
        ((1330.0, 420.0), -4.0, FRONT, 0.82),
        ((1480.0, 440.0), 5.0, BULGED, 0.86),
        ((1610.0, 425.0), 12.0, SLIM, 0.8),
    ):
        places = _turned(_outline(centre, [(h * shrink, l * shrink, r * shrink) for h, l, r in profile]), centre, turn)
        for pressure, wobble, size in ((0.2, 3.2, 4.0), (0.3, 2.2, 4.0), (0.44, 1.4, 5.0)):
            designer.draw(sheet, hand.line(places, pressure, wobble, closed=True, over=0.1), size, 0.65)
        for radius in (10.0, 7.4):
            middle = _turned([(centre[0], centre[1] - 18 * SCALE * shrink)], centre, turn)[0]
            designer.draw(
                sheet, hand.ellipse(middle, radius * SCALE * shrink, radius * SCALE * shrink, pressure=0.36), 4, 0.7
            )
    # the strap it hangs from
    strap = [(1010.0, 770.0), (1150.0, 850.0), (1370.0, 880.0), (1580.0, 840.0), (1720.0, 750.0)]
    for shift in (0.0, 14.0):
        designer.draw(sheet, hand.line([(x, y + shift) for x, y in strap], 0.34, 2.0), 4, 0.6)
    # the dial and the grille by themselves, from the front
    dial = (1990.0, 1120.0)
    for radius, pressure in ((150, 0.7), (146, 0.3), (112, 0.5), (104, 0.28)):
        designer.draw(sheet, hand.ellipse(dial, radius, radius, pressure=pressure), 5)
    for number in range(36):
        a = number * np.pi / 18
        ends = [(dial[0] + r * np.cos(a), dial[1] + r * np.sin(a)) for r in (116, 144)]
        designer.draw(sheet, hand.line(ends, 0.42, 0.5), 4, 0.7)
    designer.draw(sheet, hand.line([(dial[0] + 12, dial[1] - 98), (dial[0] + 4, dial[1] - 60)], 0.9, 0.3), 8, 0.9)
    grille = (2010.0, 470.0)
    designer.draw(sheet, hand.ellipse(grille, 210, 150, -6, 0.5), 5)
    designer.draw(sheet, hand.ellipse(grille, 214, 156, -6, 0.24), 5)
    axis = Axis(x=grille[0], y=grille[1])
    designer.edit(sheet, SetSymmetry(on=True, axis=axis, mirror=False, turns=16))
    slot = hand.line(
        [(grille[0] + 42, grille[1] - 6), (grille[0] + 76, grille[1] - 3), (grille[0] + 122, grille[1] - 2)], 0.62, 0.3
    )
    designer.draw(sheet, slot, 9, 0.85, repeat=Repeat(axis=axis, mirror=False, turns=16))
    designer.edit(sheet, SetSymmetry(on=False, axis=axis, mirror=False, turns=16))
    for start, end in (((1750.0, 640.0), (1830.0, 560.0)), ((1730.0, 980.0), (1800.0, 1040.0))):
        designer.draw(
            sheet, hand.line([start, ((start[0] + end[0]) / 2 + 8, (start[1] + end[1]) / 2 - 8), end], 0.5, 0.8), 5, 0.6
        )
    for (x, y), angle in (((1830.0, 560.0), 140.0), ((1800.0, 1040.0), 220.0)):
        for side in (-26.0, 26.0):
            a = np.radians(angle + side)
            designer.draw(
                sheet,
                hand.line(
                    [(x, y), (x + 15 * np.cos(a), y + 15 * np.sin(a)), (x + 30 * np.cos(a), y + 30 * np.sin(a))],
                    0.5,
                    0.3,
                ),
                5,
                0.6,
            )


def _turned(places: list[Place], centre: Place, degrees: float) -> list[Place]:
    c, s = np.cos(np.radians(degrees)), np.sin(np.radians(degrees))
    return [
        (centre[0] + c * (x - centre[0]) - s * (y - centre[1]), centre[1] + s * (x - centre[0]) + c * (y - centre[1]))
        for x, y in places
    ]
