"""Strokes picked and changed after they were drawn."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Annotated, Any, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, Field

from hollow_marble.application.editing import Editing, Hand, Made, Proposal
from hollow_marble.application.sheets.strokes import kept_samples, new_id
from hollow_marble.application.workspace import Workspace
from hollow_marble.core.drafting.box import Face, Placed, face_axes
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.ink import reshape
from hollow_marble.documents.edit import Asset
from hollow_marble.documents.sheet.drafting import placed_box
from hollow_marble.documents.sheet.drawing import made_stroke
from hollow_marble.documents.sheet.edits import ChangeStrokes
from hollow_marble.documents.sheet.edits.strokes import ink_layer
from hollow_marble.documents.sheet.model import Colour, LineStyle, NibName, Sheet, Stroke
from hollow_marble.documents.sheet.notes import scale_at
from hollow_marble.store.library import Project

Place = tuple[float, float]
Samples = NDArray[np.float32]
REACH = 14.0
"""Px within which a touch finds a line."""


class PickRequest(BaseModel):
    """Lines of a layer inside an outline, or the one nearest to a single place."""

    layer: str
    points: Annotated[list[Place], Field(min_length=1, max_length=20_000)]


@dataclass
class Reshaping:
    """Strokes being changed: what stands, how samples are read, and what comes of it."""

    sheet: Sheet
    chosen: list[Stroke]
    samples: Callable[[str], Samples]
    changed: list[Stroke] = field(default_factory=list)
    removed: list[str] = field(default_factory=list)
    added: list[Stroke] = field(default_factory=list)
    assets: list[Asset] = field(default_factory=list)

    def kept(self, stroke: Stroke, samples: Samples, ident: str, **look: Any) -> Stroke:
        """A stroke like another one with other samples."""
        asset = kept_samples(samples)
        self.assets.append(asset)
        fields = {name: getattr(stroke, name) for name in ("nib", "size", "tone", "colour", "repeat", "inside", "line")}
        return made_stroke(ident, samples, asset.sha, **{**fields, **look})

    def each(self, change: Callable[[Samples], Samples], **look: Any) -> None:
        """Put every chosen stroke's samples through a function."""
        for stroke in self.chosen:
            self.changed.append(self.kept(stroke, change(self.samples(stroke.samples)), stroke.id, **look))

    @property
    def lines(self) -> str:
        """How many lines there are, in words."""
        return "a line" if len(self.chosen) == 1 else f"{len(self.chosen)} lines"


class Carry(BaseModel):
    """Mirror, scale (factor) and turn (degrees) about the pick's middle, then move (px); as a copy where asked."""

    how: Literal["carry"]
    by: Place = (0.0, 0.0)
    turn: float = 0.0
    scale: float = Field(1.0, gt=0.01, lt=100)
    mirror: bool = False
    copies: bool = False

    def work(self, on: Reshaping) -> str:
        matrix = reshape.similarity(_middle(on.chosen), self.by, math.radians(self.turn), self.scale, self.mirror)
        for stroke in on.chosen:
            moved = reshape.carried(on.samples(stroke.samples), matrix)
            ident = new_id() if self.copies else stroke.id
            made = on.kept(stroke, moved, ident, size=_sized(stroke, self.scale))
            (on.added if self.copies else on.changed).append(made)
        if self.copies:
            return f"Duplicated {on.lines}"
        words = (("mirrored", self.mirror), ("scaled", self.scale != 1), ("turned", self.turn != 0))
        done = [word for word, is_done in (*words, ("moved", self.by != (0.0, 0.0))) if is_done]
        return f"{' and '.join(done or ['moved']).capitalize()} {on.lines}"


class Restyle(BaseModel):
    """Another colour, nib or tone; widths multiplied."""

    how: Literal["restyle"]
    colour: Colour | None = None
    nib: NibName | None = None
    line: LineStyle | None = None
    tone: float | None = Field(None, gt=0, le=1)
    wider: float = Field(1.0, gt=0.05, lt=20)

    def work(self, on: Reshaping) -> str:
        look = {k: v for k in ("colour", "nib", "tone", "line") if (v := getattr(self, k)) is not None}
        for stroke in on.chosen:
            own = on.samples(stroke.samples)
            on.changed.append(on.kept(stroke, own, stroke.id, size=_sized(stroke, self.wider), **look))
        if self.colour:
            return f"Recoloured {on.lines}"
        if self.wider == 1:
            return f"Redrew {on.lines}"
        return f"Made {on.lines} {'wider' if self.wider > 1 else 'finer'}"


class Smooth(BaseModel):
    how: Literal["smooth"]
    width: float = Field(40.0, gt=0, le=600)

    def work(self, on: Reshaping) -> str:
        on.each(lambda samples: reshape.smoothed(samples, self.width))
        return f"Smoothed {on.lines}"


class Pull(BaseModel):
    """Pull on the line at a place."""

    how: Literal["pull"]
    at: Place
    by: Place
    reach: float = Field(60.0, gt=0, le=1000)

    def work(self, on: Reshaping) -> str:
        on.each(lambda samples: reshape.pulled(samples, self.at, self.by, self.reach))
        return f"Pulled on {on.lines}"


class CutOut(BaseModel):
    """Take away what lies inside an outline."""

    how: Literal["cut out"]
    points: Annotated[list[Place], Field(min_length=3, max_length=20_000)]

    def work(self, on: Reshaping) -> str:
        outline = np.array(self.points, float)
        for stroke in on.chosen:
            samples = on.samples(stroke.samples)
            pieces = reshape.pieces_outside(samples, outline)
            if len(pieces) == 1 and len(pieces[0]) == len(reshape.evened(samples, 1.5)):
                continue
            on.removed.append(stroke.id)
            on.added += [on.kept(stroke, piece, new_id()) for piece in pieces]
        if not on.removed:
            raise HollowMarbleError("None of the picked lines runs through there. Nothing was cut out.")
        return f"Cut a piece out of {on.lines}"


class LayOn(BaseModel):
    """Put a copy on a face of the construction box, as if it were drawn there: in true size where the view around the
    lines has a scale, as large as the face otherwise."""

    how: Literal["lay on"]
    face: Face

    def work(self, on: Reshaping) -> str:
        box = placed_box(on.sheet)
        middle, scale = _lying(on.sheet, on.chosen, self.face, box)
        onto = box.laid_on(self.face, middle, scale)
        for stroke in on.chosen:
            laid = reshape.through(on.samples(stroke.samples), onto)
            on.added.append(on.kept(stroke, laid, new_id(), repeat=None))
        return f"Laid {on.lines} on the {self.face} of the box"


class Remove(BaseModel):
    how: Literal["remove"]

    def work(self, on: Reshaping) -> str:
        on.removed += [stroke.id for stroke in on.chosen]
        return f"Removed {on.lines}"


class LinesRequest(BaseModel):
    layer: str
    ids: Annotated[list[str], Field(min_length=1, max_length=5000)]
    change: Annotated[Carry | Restyle | Smooth | Pull | CutOut | LayOn | Remove, Field(discriminator="how")]


def pick(workspace: Workspace, project: Project, ident: str, wish: PickRequest) -> list[tuple[str, list[list[float]]]]:
    """Ids of lines of a layer, and a few places along each."""
    sheet: Any = project.ledger.state(ident)
    layer = ink_layer(sheet, wish.layer)
    ink = workspace.raster(project, ident).ink
    outline = np.array(wish.points, float)
    found: list[tuple[Stroke, Samples]] = []
    if len(outline) >= 3 and np.ptp(outline, axis=0).max() > 6:
        for stroke in layer.strokes:
            samples = ink.samples(stroke.samples)
            if reshape.inside(samples[:, :2].astype(float), outline).mean() > 0.5:
                found.append((stroke, samples))
    else:
        place = (float(outline[-1][0]), float(outline[-1][1]))
        near = [
            (reshape.distance_to(ink.samples(s.samples), place) - s.size / 2, s)
            for s in layer.strokes
            if s.bounds[0] - REACH <= place[0] <= s.bounds[2] + REACH
            and s.bounds[1] - REACH <= place[1] <= s.bounds[3] + REACH
        ]
        if near:
            gap, stroke = min(reversed(near), key=lambda item: item[0])
            if gap <= REACH:
                found.append((stroke, ink.samples(stroke.samples)))
    return [(stroke.id, reshape.evened(samples, 12.0)[:, :2].tolist()) for stroke, samples in found]


def change(editing: Editing, project: Project, ident: str, wish: LinesRequest, hand: Hand) -> Made:
    """Change picked lines."""
    ink = editing.workspace.raster(project, ident).ink

    def compose(sheet: Sheet) -> Proposal:
        layer = ink_layer(sheet, wish.layer)
        ids = set(wish.ids)
        chosen = [stroke for stroke in layer.strokes if stroke.id in ids]
        if not chosen:
            raise HollowMarbleError("Those lines are no longer there. Pick them again.")
        on = Reshaping(sheet, chosen, ink.samples)
        said = wish.change.work(on)
        edit = ChangeStrokes(
            layer=layer.id, changed=tuple(on.changed), removed=tuple(on.removed), added=tuple(on.added), said=said
        )
        return Proposal(edit, tuple(on.assets))

    return editing.make(project, ident, compose, hand)


def _sized(stroke: Stroke, factor: float) -> float:
    return min(600.0, max(0.2, stroke.size * factor))


def _box(strokes: list[Stroke]) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    boxes = np.array([stroke.bounds for stroke in strokes], float)
    return boxes[:, :2].min(axis=0), boxes[:, 2:].max(axis=0)


def _middle(strokes: list[Stroke]) -> Place:
    low, high = _box(strokes)
    return float((low[0] + high[0]) / 2), float((low[1] + high[1]) / 2)


def _lying(sheet: Sheet, strokes: list[Stroke], face: Face, box: Placed) -> tuple[Place, float]:
    """Middle of strokes, px, and px a mm that they are drawn in."""
    low, high = _box(strokes)
    middle = _middle(strokes)
    scale = scale_at(sheet.views, middle)
    if scale is None:
        first, second = face_axes(face)
        scale = float(max((high[0] - low[0]) / box.size[first], (high[1] - low[1]) / box.size[second]))
    return middle, scale
