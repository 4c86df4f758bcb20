"""The first morning's sheet: three side views, one struck out, a front view and a three-quarter view."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.ink.select import feathered, outlined
from hollow_marble.demo.designer import Designer
from hollow_marble.demo.drawing import Hand, Place
from hollow_marble.documents.sheet.edits import AddLayer, ChangeLayer, FrameView, MoveLayer, StrikeOut

SCALE = 4.6
"""Page px a millimetre."""


def _outline(centre: Place, profile: list[tuple[float, float, float]]) -> list[Place]:
    """Closed outline in page px from (height mm, left mm, right mm), highest first."""
    x, y = centre
    right = [(x + r * SCALE, y - h * SCALE) for h, _, r in profile]
    left = [(x - l * SCALE, y - h * SCALE) for h, l, _ in profile[::-1]]
    return right + left


SIDE = [
    (54, 2, 3),
    (49, 10, 9),
    (34, 14.5, 12.5),
    (14, 15, 13),
    (-4, 14, 14),
    (-26, 16.5, 15.5),
    (-43, 14, 14),
    (-53, 5, 5),
]
SLIM = [(54, 2, 2), (48, 8, 8), (28, 10, 11), (0, 10, 11), (-28, 10, 11), (-46, 8.5, 8.5), (-54, 3, 3)]
BULGED = [(54, 3, 3), (48, 10, 8), (26, 13, 10), (4, 12, 9), (-20, 19, 16), (-42, 18, 17), (-53, 6, 6)]
FRONT = [
    (54, 5, 5),
    (49, 18, 18),
    (32, 27, 27),
    (10, 28, 28),
    (-6, 27, 27),
    (-26, 30.5, 30.5),
    (-42, 27, 27),
    (-53, 9, 9),
]


def draw_sheet(designer: Designer) -> str:
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

    ideas = [((300.0, 420.0), SIDE, -6.0, 20.0), ((640.0, 420.0), BULGED, 4.0, 26.0), ((980.0, 420.0), SLIM, 0.0, 16.0)]
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

    designer.edit(sheet, AddLayer(id="clean", name="Clean lines"))
    contour = _three_quarter(designer, sheet, hand)
    _tone(designer, sheet, hand, contour)
    designer.edit(
        sheet,
        FrameView(id="three-quarter", view="three-quarter", name="three-quarter, pebble", rect=(1290, 250, 2250, 1470)),
    )
    designer.edit(sheet, ChangeLayer(layer="rough", opacity=0.85))
    return sheet


X, Y, K = 1770.0, 860.0, 8.4
"""Middle of the three-quarter view in page px, and its px a millimetre."""


def _place(a: float, b: float) -> Place:
    return X + a * K, Y - b * K


def _tone(designer: Designer, sheet: str, hand: Hand, contour: NDArray[np.float32]) -> None:
    """Values from one light at the upper left, on grey layers that are tinted afterwards; a shadow that grounds it."""
    for ident, name in (("ground", "Ground"), ("body-tone", "Body"), ("metal-tone", "Metal")):
        designer.edit(sheet, AddLayer(id=ident, name=name, holds="tone"))
    for place, ident in enumerate(("ground", "body-tone", "metal-tone")):
        designer.edit(sheet, MoveLayer(layer=ident, place=place))
    page = (0, 0, 2400, 1600)
    body = outlined(contour[:, :2].astype(float), page)
    shadow = feathered(outlined(_oval(_place(12, -56), 44 * K, 6.5 * K), page), 14.0, page)
    designer.fill(sheet, "ground", shadow, "#4A4A4A", 0.55)
    designer.fill(sheet, "body-tone", body, "#A6A6A6")

    def sweep(places: list[Place], size: float, tone: float, colour: str, layer: str = "body-tone") -> None:
        where = body if layer == "body-tone" else dial
        designer.paint(sheet, layer, hand.line(places, 0.9, 0.5), "mist", size, tone, colour, where)

    flank = [_place(a, b) for a, b in ((17, 54), (25, 38), (27, 16), (25, -4), (28, -26), (24, -44), (12, -56))]
    sweep(flank, 250, 0.95, "#3C3C3C")
    sweep(flank, 150, 0.9, "#2C2C2C")
    sweep([_place(-14, -54), _place(4, -57), _place(22, -50)], 190, 0.85, "#3C3C3C")
    sweep([_place(-22, -6), _place(-4, -10), _place(14, -9)], 110, 0.5, "#707070")
    sweep([_place(-21, 40), _place(-22, 22), _place(-21, 4)], 150, 0.9, "#F2F2F2")
    sweep([_place(-12, 49), _place(-2, 50), _place(6, 48)], 130, 0.8, "#F2F2F2")
    sweep([_place(-23, -18), _place(-22, -32)], 110, 0.7, "#E2E2E2")
    dial = outlined(_oval(_place(-4, 20), 11.4 * 0.86 * K, 11.4 * K), page)
    designer.fill(sheet, "metal-tone", dial, "#C9C9C9")
    sweep([_place(-12, 12), _place(-4, 9), _place(4, 13)], 110, 0.95, "#4A4A4A", "metal-tone")
    sweep([_place(-10, 27), _place(-3, 29)], 90, 1.0, "#FFFFFF", "metal-tone")
    window = outlined(_oval(_place(-4, -24), 4.6 * K, 5.2 * K), page)
    designer.fill(sheet, "metal-tone", window, "#3A3A3A")
    designer.edit(sheet, ChangeLayer(layer="body-tone", tint="#6F9479"))
    designer.edit(sheet, ChangeLayer(layer="metal-tone", tint="#8D8F94"))
    designer.edit(sheet, ChangeLayer(layer="ground", tint="#6B665C", mode="multiply"))


def _oval(middle: Place, across: float, down: float) -> NDArray[np.float64]:
    t = np.linspace(0, 2 * np.pi, 160, endpoint=False)
    return np.stack([middle[0] + across * np.cos(t), middle[1] + down * np.sin(t)], axis=1)


def _three_quarter(designer: Designer, sheet: str, hand: Hand) -> NDArray[np.float32]:
    """The pebble turned a little: outline, the edge between face and flank, waist, dial, window, ring, ground.

    Returns the clean contour's samples.
    """
    x, y, k = X, Y, K
    p = _place

    outline = [p(2, 54), p(16, 50), p(27, 36), p(29.5, 16), p(27.5, -2), (x + 30.5 * k, y + 24 * k), p(27, -42), p(13, -53), p(-3, -55),
               p(-19, -49), p(-28, -34), p(-29, -18), p(-25.5, -2), p(-27, 16), p(-24, 36), p(-13, 50)]  # fmt: skip
    designer.draw(sheet, hand.line(outline, 0.3, 3.5, closed=True, over=0.08), 5, 0.5)
    designer.draw(sheet, hand.line(outline, 0.36, 2.5, closed=True, over=0.06), 5, 0.6)
    contour = hand.line(outline, 0.85, 1.0, closed=True, over=0.02)
    designer.draw(sheet, contour, 9, 0.92, "clean")
    flank = [p(9, 52), p(17, 40), p(19.5, 20), p(17.5, -2), p(20.5, -24), p(16.5, -42), p(8, -53)]
    designer.draw(sheet, hand.line(flank, 0.4, 1.4), 6, 0.6, "clean")
    designer.draw(
        sheet, hand.line([p(-25.5, -2), p(-6, -7), p(10, -6.5), p(17.5, -4), p(27.5, 0)], 0.62, 1.0), 6, 0.85, "clean"
    )
    for radius, weight, size in ((11.5, 0.8, 8.0), (8.6, 0.5, 6.0), (8.0, 0.3, 5.0)):
        designer.draw(sheet, hand.ellipse(p(-4, 20), radius * 0.86 * k, radius * k, 4, weight), size, 0.9, "clean")
    for number in range(18):
        angle = number * np.pi / 9
        a, b = np.cos(angle), np.sin(angle)
        tooth = [p(-4 + 8.8 * 0.86 * a, 20 + 8.8 * b), p(-4 + 11.2 * 0.86 * a, 20 + 11.2 * b)]
        designer.draw(sheet, hand.line(tooth, 0.4, 0.3), 4, 0.7, "clean")
    designer.draw(sheet, hand.ellipse(p(-4, -24), 4.6 * k, 5.2 * k, 4, 0.7), 7, 0.9, "clean")
    designer.draw(sheet, hand.ellipse(p(0, 60.5), 7.5 * k, 7.2 * k, 8, 0.65), 7, 0.9, "clean")
    designer.draw(sheet, hand.ellipse(p(0, 60.5), 5.6 * k, 5.4 * k, 8, 0.4), 5, 0.8, "clean")
    for number in range(26):
        t = number / 25
        start = p(-14 + 44 * t, -56 - 1.5 * np.sin(np.pi * t))
        designer.draw(
            sheet, hand.line([start, (start[0] + 46, start[1] + 34)], 0.24 + 0.1 * np.sin(np.pi * t), 0.8), 7, 0.5
        )
    for number in range(22):
        t = number / 21
        start = p(21 + 6 * np.sin(np.pi * (0.25 + t)), 40 - 84 * t)
        designer.draw(sheet, hand.line([start, (start[0] + 26, start[1] + 40)], 0.2, 0.8), 9, 0.42)
    return contour
