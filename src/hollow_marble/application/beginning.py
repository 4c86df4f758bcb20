"""A part begun over a sheet: its view pinned behind the form, and a body made of what is drawn in it, in one move."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, Field

from hollow_marble.application.editing import Editing, Hand, Made, Proposal
from hollow_marble.application.sheets.strokes import new_id
from hollow_marble.core.cage.outlined import spans_of
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.edit import find
from hollow_marble.documents.form.edits import BeginOver, StartPart
from hollow_marble.documents.form.model import Form, Plane
from hollow_marble.documents.form.pinning import PinReference
from hollow_marble.documents.form.starts import OutlinedStart, TurnedStart
from hollow_marble.documents.form.steps import FormSymmetry
from hollow_marble.documents.sheet.drawing import view_strokes
from hollow_marble.documents.sheet.edits import FrameView
from hollow_marble.documents.sheet.model import InkLayer, Sheet, View
from hollow_marble.store.library import Project

COMES_ROUND = 0.12
"""Ends of a line this near to one another, as a share of its extent, meet."""

OUTER = 0.5
"""A closed line that encloses so much of the whole drawing's box is its outline."""

NEARLY_EVEN = 0.06
"""An outline whose two sides differ by less, as a share of its width, is meant to be even: no hand draws better."""

MARGIN = 24

Lines = list[NDArray[np.float64]]


class BeginRequest(BaseModel):
    """
    view : of the sheet; where it is left out, its first, or the whole drawing framed as one
    how : only pin it; turn its outline about its middle; or make a body whose rows follow the outline
    height : mm the outline is high
    deep : mm of the body along the way one looks; in proportion to the outline where it is left out
    """

    sheet: str
    view: str | None = None
    how: Literal["pin", "turned", "outlined"]
    height: float = Field(100, gt=0, le=100_000)
    deep: float | None = Field(None, gt=0, le=100_000)


@dataclass(frozen=True)
class Drawn:
    """What is drawn in a view: its outline's lines in px of the page, and whether one line comes round."""

    lines: Lines
    closed: bool

    @property
    def box(self) -> tuple[float, float, float, float]:
        """Left, top, right, bottom of the outline, px."""
        joined = np.concatenate(self.lines)
        (left, top), (right, bottom) = joined.min(axis=0), joined.max(axis=0)
        return float(left), float(top), float(right), float(bottom)


def begin_over(editing: Editing, project: Project, ident: str, wish: BeginRequest, hand: Hand) -> Made:
    """Pin a view of a sheet behind the form, and begin a part over it."""
    view = _view(editing, project, wish, hand)
    sheet: Any = project.ledger.state(wish.sheet)
    ink = editing.workspace.raster(project, wish.sheet).ink
    lines = [ink.samples(s.samples)[:, :2].astype(float) for s in view_strokes(sheet, view)]
    drawn = outline_of([line for line in lines if len(line) > 1])
    if drawn is None and wish.how != "pin":
        raise HollowMarbleError(f"There are no lines in {view.name} to begin from. Draw its outline first.")
    left, top, right, bottom = drawn.box if drawn else map(float, view.rect)
    middle = (left + right) / 2
    known = ((middle, top), (middle, bottom))
    plane: Plane = "front" if view.view == "three-quarter" else view.view

    def compose(form: Form) -> Proposal:
        there = next((r for r in form.references if (r.sheet, r.view) == (wish.sheet, view.id)), None)
        pin = None
        if there is None or wish.how == "pin":
            pin = PinReference(
                id=there.id if there else new_id(8), sheet=wish.sheet, view=view.id, plane=plane, line=known,
                length=wish.height, opacity=0.6,
            )  # fmt: skip
        if drawn is None or wish.how == "pin":
            assert pin is not None
            return Proposal(pin)
        if plane == "top":
            raise HollowMarbleError(f"{view.name} is seen from above. Begin from a view of the front or the side.")
        scale = wish.height / (bottom - top)
        placed: Lines = [
            np.column_stack([(x - middle) * scale, ((top + bottom) / 2 - y) * scale])
            for x, y in (line.T for line in drawn.lines)
        ]
        start, symmetry = _turned(placed, drawn.closed) if wish.how == "turned" else _outlined(placed, plane, wish.deep)
        name = "Body" if not form.parts else f"Part {len(form.parts) + 1}"
        return Proposal(BeginOver(pin=pin, begin=StartPart(part=new_id(8), name=name, start=start, symmetry=symmetry)))

    return editing.make(project, ident, compose, hand)


def outline_of(lines: Lines) -> Drawn | None:
    """The outline among the lines (each (n, 2) px): the line that comes round and encloses most, or else all of them together."""
    if not lines:
        return None
    everything = Drawn(lines, False)
    left, top, right, bottom = everything.box
    if right - left < 2 or bottom - top < 2:
        return None
    round_ = [line for line in lines if _comes_round(line)]
    largest = max(round_, key=_area, default=None)
    if largest is not None and _area(largest) > OUTER * (right - left) * (bottom - top):
        return Drawn([np.concatenate([largest, largest[:1]])], True)
    return Drawn(lines, len(lines) > 1)


def _view(editing: Editing, project: Project, wish: BeginRequest, hand: Hand) -> View:
    """The view that is meant; where the sheet has none, its drawing is framed as one."""
    sheet: Any = project.ledger.state(wish.sheet)
    if not isinstance(sheet, Sheet):
        raise HollowMarbleError("A part can be begun over a sheet only.")
    if wish.view is not None:
        return find(sheet.views, wish.view, "view")
    first = next((view for view in sheet.views if not view.struck and view.view in ("front", "side")), None)
    if first is not None:
        return first
    shown = (layer for layer in sheet.layers if isinstance(layer, InkLayer) and layer.visible)
    bounds = np.array([stroke.bounds for layer in shown for stroke in layer.strokes], float).reshape(-1, 4)
    if not len(bounds):
        raise HollowMarbleError("There is nothing drawn on that sheet yet. Draw the outline of the product first.")
    left, top = np.floor(bounds[:, :2].min(axis=0)) - MARGIN
    right, bottom = np.ceil(bounds[:, 2:].max(axis=0)) + MARGIN
    rect = (max(0, int(left)), max(0, int(top)), min(sheet.width, int(right)), min(sheet.height, int(bottom)))
    framed = FrameView(id=new_id(8), view="front", name="front", rect=rect)
    editing.make(project, wish.sheet, lambda _: Proposal(framed), Hand(hand.tab))
    after: Any = project.ledger.state(wish.sheet)
    found: View = find(after.views, framed.id, "view")
    return found


def _turned(lines: Lines, closed: bool) -> tuple[TurnedStart, FormSymmetry]:
    """A profile about the upright: half of an outline, or of an open line what lies beside the axis at its innermost end."""
    if closed:
        spans = spans_of(lines)
        profile = np.column_stack([(spans[:, 1] - spans[:, 0]) / 2, spans[:, 2]])
    else:
        (line,) = lines
        axis = line[0, 0] if abs(line[0, 0] - line[:, 0].mean()) > abs(line[-1, 0] - line[:, 0].mean()) else line[-1, 0]
        profile = np.column_stack([line[:, 0] - axis, line[:, 1]])
    places = _thinned(profile, 400)
    start = TurnedStart(profile=tuple((float(x), float(z)) for x, z in places))
    return start, FormSymmetry(planes=("W",))


def _outlined(lines: Lines, plane: Plane, deep: float | None) -> tuple[OutlinedStart, FormSymmetry]:
    spans = spans_of(lines)
    wide = float((spans[:, 1] - spans[:, 0]).max())
    middle = (spans[:, 0] + spans[:, 1]) / 2
    even = float(np.abs(middle).max()) < NEARLY_EVEN * wide
    if even:
        half = (spans[:, 1] - spans[:, 0]) / 2
        spans = np.column_stack([-half, half, spans[:, 2]])
    across, along = ("W", "D") if plane == "front" else ("D", "W")
    planes = (across, along) if even else (along,)
    start = OutlinedStart(
        spans=tuple((float(a), float(b), float(z)) for a, b, z in spans),
        view="side" if plane == "side" else "front",
        deep=round(deep or 0.6 * wide, 1),
    )
    return start, FormSymmetry(planes=tuple(sorted(planes, key="WDH".index)))


def _comes_round(line: NDArray[np.float64]) -> bool:
    extent = float(np.ptp(line, axis=0).max())
    return len(line) > 8 and float(np.hypot(*(line[0] - line[-1]))) < COMES_ROUND * extent


def _area(line: NDArray[np.float64]) -> float:
    """Of what a line encloses, by the shoelace formula."""
    x, y = line.T
    return abs(float(x @ np.roll(y, -1) - y @ np.roll(x, -1))) / 2


def _thinned(line: NDArray[np.float64], most: int) -> NDArray[np.float64]:
    kept: NDArray[np.float64] = line[np.unique(np.linspace(0, len(line) - 1, min(most, len(line))).round().astype(int))]
    return kept
