"""The second sheet: the box of the product's size drawn in perspective, its view found, the pebble set into it."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.drafting.box import CORNERS, EDGES, Placed
from hollow_marble.core.drafting.camera import Camera
from hollow_marble.core.drafting.recover import recover
from hollow_marble.demo.designer import Designer
from hollow_marble.demo.drawing import Hand, Place
from hollow_marble.demo.product import DIAL, SIZE, WINDOW, Drawn
from hollow_marble.documents.sheet.drafting import box_in, perspective_of
from hollow_marble.documents.sheet.edits import (
    AddLayer,
    ChangeLayer,
    FrameView,
    MarkEdges,
    PutGuide,
    PutNote,
    SetPerspective,
)
from hollow_marble.documents.sheet.model import (
    CircleGuide,
    ConstructionBox,
    DivisionGuide,
    Lettering,
    SweepGuide,
)

RECT = (820, 90, 1860, 1520)
MIDDLE = ((RECT[0] + RECT[2]) / 2, (RECT[1] + RECT[3]) / 2)
IMAGINED = Placed(Camera(MIDDLE, 4300, math.radians(34), math.radians(17)), SIZE, (1330, 1250), 8.6)
"""The view the hand has in mind; the sheet's own is found from what it drew."""

LETTERS = ("W", "D", "H")


def draw_construction(designer: Designer) -> tuple[str, Drawn]:
    """Draw the sheet; returns its id and the product in the view that was found."""
    sheet = designer.new_sheet("Into perspective")
    hand = Hand(11)
    designer.edit(sheet, FrameView(id="box", view="three-quarter", name="in its box", rect=RECT))
    lines: list[tuple[int, NDArray[np.float64]]] = []
    for (a, b), hidden in zip(EDGES, IMAGINED.hidden_edges()):
        start, end = IMAGINED.corners[[a, b]]
        axis = int(np.flatnonzero(CORNERS[a] != CORNERS[b])[0])
        over = 0.05 * (end - start)
        samples = straight(hand, tuple(start - over), tuple(end + over), 0.3 if hidden else 0.44)
        ident = designer.draw(sheet, samples, 4, 0.55 if hidden else 0.75, colour="#5B6E86")
        if not hidden:
            designer.edit(sheet, MarkEdges(strokes=(ident,), along=LETTERS[axis]))
            lines.append((axis, np.array([start, end])))
    found = recover(lines, MIDDLE)
    unit = SIZE[2] / found.size[2]
    w, d, h = (side * unit for side in found.size)
    box = ConstructionBox(size=(round(w, 1), round(d, 1), round(h, 1)), at=found.at, scale=found.scale / unit)
    perspective = perspective_of(found.camera, 3)
    designer.edit(sheet, SetPerspective(perspective=perspective, box=box, what="camera"))
    designer.edit(sheet, PutGuide(guide=DivisionGuide(id="halves", face="front", columns=2, rows=2)))
    designer.edit(sheet, PutGuide(guide=CircleGuide(id="dial", face="front", centre=(31, 74), radius=11)))
    product = Drawn(box_in(perspective, box))

    _construct(designer, sheet, hand, product)
    _square_on(designer, sheet, hand)
    designer.edit(
        sheet,
        PutGuide(
            guide=SweepGuide(id="flank", family="returning", at=(2010, 330), turn=84, length=760, bend=0.55, comb=True)
        ),
    )
    designer.edit(sheet, AddLayer(id="notes", name="Notes", holds="notes"))
    for ident, words, at, size in (
        ("n1", "62 × 34 × 108", (1000, 150), 34),
        ("n2", "halves and grille, square-on", (110, 1120), 26),
        ("n3", "the flank’s line: tightens to the foot", (1870, 1180), 26),
    ):
        designer.edit(
            sheet, PutNote(layer="notes", note=Lettering(id=ident, words=words, at=at, size=size, colour="#5F676A"))
        )
    return sheet, product


def straight(hand: Hand, start: Place, end: Place, pressure: float, wobble: float = 0.5) -> NDArray[np.float32]:
    """A line drawn from the shoulder."""
    middle = ((start[0] + end[0]) / 2, (start[1] + end[1]) / 2)
    return hand.line([start, middle, end], pressure, wobble)


def loop(
    hand: Hand, places: NDArray[np.float64], pressure: float, wobble: float = 0.7, over: float = 0.04
) -> NDArray[np.float32]:
    """A closed line through places."""
    return hand.line([(float(x), float(y)) for x, y in places], pressure, wobble, closed=True, over=over)


def along(hand: Hand, places: NDArray[np.float64], pressure: float, wobble: float = 0.5) -> NDArray[np.float32]:
    """An open line through places; every sixth is enough for a smooth hand."""
    step = max(1, len(places) // 14)
    kept = [*places[:-1:step], places[-1]]
    return hand.line([(float(x), float(y)) for x, y in kept], pressure, wobble)


def _construct(designer: Designer, sheet: str, hand: Hand, product: Drawn) -> None:
    """Sections first, then the outline, three times over and firmer each time."""
    for height in (44.0, 32.0, 10.0, -6.0, -26.0, -44.0):
        designer.draw(sheet, along(hand, product.section(height), 0.3, 0.9), 3.5, 0.6)
    for turn in (1.5 * np.pi, 1.86 * np.pi):
        designer.draw(sheet, along(hand, product.meridian(turn), 0.3, 0.9), 3.5, 0.6)
    for height in (38.0, 41.5, 45.0):
        designer.draw(sheet, along(hand, product.across(height, 8.5), 0.5, 0.5), 4, 0.75)
    outline = product.outline(26)
    for pressure, wobble, size in ((0.24, 4.0, 4.5), (0.36, 2.6, 5.0), (0.62, 1.2, 6.5)):
        designer.draw(sheet, loop(hand, outline, pressure, wobble, 0.08), size, 0.8)
    for radius, pressure in ((DIAL[2], 0.6), (8.4, 0.36)):
        designer.draw(
            sheet, loop(hand, product.ring_on_front(DIAL[0], DIAL[1], radius)[::5], pressure, 0.8, 0.12), 5, 0.8
        )
    designer.draw(sheet, loop(hand, product.ring_on_front(*WINDOW)[::5], 0.5, 0.7, 0.12), 5, 0.8)
    for radius, pressure in ((7.6, 0.5), (5.8, 0.3)):
        designer.draw(sheet, loop(hand, product.lanyard(radius)[::4], pressure, 0.7, 0.1), 5, 0.75)
    designer.draw(sheet, along(hand, product.section(-6.0, 1.5), 0.62, 0.7), 5.5, 0.85)
    designer.edit(sheet, ChangeLayer(layer="rough", opacity=0.92))


def _square_on(designer: Designer, sheet: str, hand: Hand) -> None:
    """A rectangle of the front halved through its diagonals and carried on, for the pitch of the grille's slots."""
    quad = ((150.0, 420.0), (450.0, 420.0), (450.0, 980.0), (150.0, 980.0))
    guide = DivisionGuide(id="pitch", quad=quad, columns=2, rows=4, on_across=1)
    designer.edit(sheet, PutGuide(guide=guide))
    for a, b in zip(quad, (*quad[1:], quad[0])):
        designer.draw(sheet, straight(hand, a, b, 0.5), 4.5, 0.8)
    for a, b in ((quad[0], quad[2]), (quad[1], quad[3])):
        designer.draw(sheet, straight(hand, a, b, 0.24), 3.5, 0.5, colour="#5B6E86")
    for number in range(5):
        y = 480.0 + 26 * number
        designer.draw(sheet, straight(hand, (215.0, y), (385.0, y), 0.6, 0.4), 6, 0.85)
    designer.draw(sheet, hand.ellipse((300, 700), 52, 52, pressure=0.5), 5)
