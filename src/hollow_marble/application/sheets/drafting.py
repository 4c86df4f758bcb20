"""Drafting on a sheet: perspective dragged by its vanishing points, the view of a drawn box, circles on faces."""

from __future__ import annotations

import math
from typing import Annotated, Any, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, Field

from hollow_marble.application.editing import Editing, Hand, Made, Proposal
from hollow_marble.application.sheets.strokes import new_id
from hollow_marble.core.drafting.box import Face, face_axes
from hollow_marble.core.drafting.camera import dragged, preset
from hollow_marble.core.drafting.recover import Recovered, recover
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.sheet.drafting import Drafted, camera_of, drafted, perspective_of, placed_box
from hollow_marble.documents.sheet.edits import PutGuide, SetPerspective
from hollow_marble.documents.sheet.model import (
    CircleGuide,
    ConstructionBox,
    Guide,
    InkLayer,
    Perspective,
    Sheet,
    View,
)
from hollow_marble.store.library import Project

Spot = tuple[float, float]
AXES = {"W": 0, "D": 1, "H": 2}


class ToPoint(BaseModel):
    """A vanishing point (0 W, 1 D, 2 H) dragged to a place."""

    how: Literal["drag"]
    which: int = Field(ge=0, le=2)
    to: Spot


class Begin(BaseModel):
    """A perspective with so many vanishing points to begin with, in the middle of a view or of the page."""

    how: Literal["begin"]
    points: Literal[1, 2, 3]
    view: str | None = None


class Try(BaseModel):
    """A perspective and a box as they would be."""

    how: Literal["try"]
    perspective: Perspective
    box: ConstructionBox | None = None


class DraftRequest(BaseModel):
    change: Annotated[ToPoint | Begin | Try, Field(discriminator="how")]


class DraftAnswer(BaseModel):
    """What the change would give, and how it would look; nothing is stored."""

    perspective: Perspective
    box: ConstructionBox | None
    drafted: Drafted


class RecoverRequest(BaseModel):
    """How long one of the box's directions is, in mm; the others follow."""

    along: Literal["W", "D", "H"]
    length: float = Field(gt=0, le=10_000)


class CircleRequest(BaseModel):
    """A circle on a face from its middle to a place on it."""

    face: Face
    middle: Spot
    rim: Spot


class GuideRequest(BaseModel):
    guide: Guide


def draft(sheet: Sheet, change: ToPoint | Begin | Try) -> DraftAnswer:
    """Work out a perspective without storing it, while a hand drags it."""
    box = sheet.box
    if isinstance(change, Try):
        perspective, box = change.perspective, change.box
    elif isinstance(change, Begin):
        perspective = _begun(sheet, change)
    else:
        if sheet.perspective is None:
            raise HollowMarbleError("There is no perspective on this sheet. Set one first.")
        points = sheet.perspective.points
        finite = {1: (1,), 2: (0, 1), 3: (0, 1, 2)}[points]
        if change.which not in finite:
            raise HollowMarbleError("That direction runs parallel in this perspective; it has no point to drag.")
        camera = dragged(camera_of(sheet.perspective), points, change.which, change.to)
        perspective = perspective_of(camera, points, sheet.perspective.shown)
    would = SetPerspective(perspective=perspective, box=box).applied_to(sheet)
    return DraftAnswer(perspective=perspective, box=box, drafted=drafted(would))


def put_circle(editing: Editing, project: Project, ident: str, wish: CircleRequest, hand: Hand) -> Made:
    """Put a circle on a face of the construction box."""

    def compose(sheet: Sheet) -> Proposal:
        box = placed_box(sheet)
        middle, rim = box.on_face(wish.face, wish.middle), box.on_face(wish.face, wish.rim)
        radius = math.dist(middle, rim)
        first, second = face_axes(wish.face)
        if radius < 0.01 * min(box.size[first], box.size[second]):
            raise HollowMarbleError("The circle is too small. Drag from its middle to its rim.")
        return Proposal(PutGuide(guide=CircleGuide(id=new_id(8), face=wish.face, centre=middle, radius=radius)))

    return editing.make(project, ident, compose, hand)


def recover_view(editing: Editing, project: Project, ident: str, wish: RecoverRequest, hand: Hand) -> Made:
    """Find the view and the proportions of the box whose edges are marked, and set perspective and box to them.

    Beside the edit it tells how well the marked lines fit, in px, and what was found.
    """
    ink = editing.workspace.raster(project, ident).ink

    def compose(sheet: Sheet) -> Proposal:
        edges: list[tuple[int, NDArray[np.float64]]] = []
        for layer in sheet.layers:
            if isinstance(layer, InkLayer):
                marked = [stroke for stroke in layer.strokes if stroke.id in sheet.edges]
                edges += [(AXES[sheet.edges[s.id]], _straight(ink.samples(s.samples))) for s in marked]
        middle = (sheet.width / 2, sheet.height / 2)
        if edges:
            view = _view_around(sheet, np.concatenate([line for _, line in edges]))
            if view is not None:
                middle = (view.rect[0] + view.rect[2]) / 2, (view.rect[1] + view.rect[3]) / 2
        found = recover(edges, middle)
        unit = wish.length / found.size[AXES[wish.along]]
        w, d, h = (share * unit for share in found.size)
        box = ConstructionBox(size=(w, d, h), at=found.at, scale=found.scale / unit)
        more: dict[str, Any] = {
            "error": found.error,
            "corners": found.corners,
            "left_out": found.left_out,
            "lens_within": _told_within(found.lens_within),
            "size_within": _told_within(max(found.size_within)),
            "doubt": _doubt(found),
            "size": box.size,
            "lens": 36 * found.camera.focal / sheet.width,
        }
        return Proposal(SetPerspective(perspective=perspective_of(found.camera, 3), box=box, what="camera"), more=more)

    return editing.make(project, ident, compose, hand)


UNSURE = 0.25
"""A number that may be off by more than this share is one that the drawing does not tell."""


def _told_within(share: float) -> float | None:
    return share if math.isfinite(share) else None


def _doubt(found: Recovered) -> str | None:
    """What a drawing does not tell, in words; None where it tells all."""
    vague = [f"the size along {letter}" for letter, share in zip("DH", found.size_within) if share > UNSURE]
    if found.lens_within > UNSURE:
        vague.insert(0, "the lens")
    doubts = []
    if vague:
        doubts.append(f"The drawing does not tell {' or '.join(vague)}: turn the box more, or mark more of its edges.")
    if found.left_out:
        doubts.append(f"Left out, since they do not meet the others: {found.left_out} of the marked lines.")
    return " ".join(doubts) or None


def _begun(sheet: Sheet, change: Begin) -> Perspective:
    view = next((view for view in sheet.views if view.id == change.view), None)
    left, top, right, bottom = view.rect if view else (0, 0, sheet.width, sheet.height)
    camera = preset(change.points, right - left, bottom - top)
    x, y = camera.principal
    moved = perspective_of(camera, change.points)
    return moved.model_copy(update={"principal": (x + left, y + top)})


def _straight(samples: NDArray[np.float32]) -> NDArray[np.float64]:
    """The straight line (2, 2) a stroke means: its main direction through its middle, as long as the stroke."""
    places = samples[:, :2].astype(np.float64)
    middle = places.mean(axis=0)
    _, _, axes = np.linalg.svd(places - middle, full_matrices=False)
    along = (places - middle) @ axes[0]
    return np.asarray(middle + np.outer([along.min(), along.max()], axes[0]))


def _view_around(sheet: Sheet, places: NDArray[np.float64]) -> View | None:
    """The smallest view that holds all the places."""
    low, high = places.min(axis=0), places.max(axis=0)
    around = [
        v
        for v in sheet.views
        if v.rect[0] <= low[0] and v.rect[1] <= low[1] and v.rect[2] >= high[0] and v.rect[3] >= high[1]
    ]
    return min(around, key=lambda v: (v.rect[2] - v.rect[0]) * (v.rect[3] - v.rect[1])) if around else None
