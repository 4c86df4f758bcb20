"""Drawing: a stroke of samples becomes an edit."""

from __future__ import annotations

import uuid
from collections.abc import Iterable

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, Field

from hollow_marble.application.editing import Editing, Hand, Made, Proposal
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.ink.path import samples_from
from hollow_marble.documents.edit import Asset, asset_of
from hollow_marble.documents.sheet.drawing import MEDIA, made_stroke, moved_stroke
from hollow_marble.documents.sheet.edits import DrawStroke
from hollow_marble.documents.sheet.edits.strokes import ink_layer
from hollow_marble.documents.sheet.model import INK, Colour, InkLayer, LineStyle, NibName, Sheet, Stroke
from hollow_marble.documents.sheet.raster.ink import InkDrawer
from hollow_marble.store.library import Project


class StrokeWish(BaseModel):
    """How a stroke is drawn."""

    layer: str
    nib: NibName = "pencil"
    size: float = Field(6.0, gt=0, le=600)
    tone: float = Field(0.8, gt=0, le=1)
    colour: Colour = INK
    line: LineStyle = "plain"


def draw(editing: Editing, project: Project, ident: str, wish: StrokeWish, data: bytes, hand: Hand) -> Made:
    """Draw a stroke whose samples are float32 x, y, pressure, lean."""
    samples = samples_from(data)
    asset = asset_of(data, MEDIA)

    def compose(sheet: Sheet) -> Proposal:
        layer = ink_layer(sheet, wish.layer)
        look = wish.model_dump(exclude={"layer"})
        stroke = made_stroke(
            new_id(), samples, asset.sha, **look, repeat=sheet.symmetry.repeat(), inside=layer.lock_paint
        )
        return Proposal(DrawStroke(layer=wish.layer, stroke=stroke), (asset,))

    return editing.make(project, ident, compose, hand)


def kept_samples(samples: NDArray[np.float32]) -> Asset:
    """Samples as they are kept."""
    return asset_of(samples.astype("<f4").tobytes(), MEDIA)


def copied_strokes(
    ink: InkDrawer, strokes: Iterable[Stroke], by: tuple[float, float]
) -> tuple[tuple[Stroke, ...], tuple[Asset, ...]]:
    """Copies of drawn lines, carried by px, and the samples they are made of."""
    copies, assets = [], []
    for stroke in strokes:
        samples = ink.samples(stroke.samples).copy()
        samples[:, :2] += by
        assets.append(kept_samples(samples))
        copies.append(moved_stroke(stroke, new_id(), samples, assets[-1].sha, by))
    return tuple(copies), tuple(assets)


def open_ink_layer(sheet: Sheet, meant: str) -> str:
    """The topmost ink layer that is shown and not locked; `meant` says in the sentence what it was wanted for."""
    for layer in reversed(sheet.layers):
        if isinstance(layer, InkLayer) and layer.visible and not layer.locked:
            return layer.id
    raise HollowMarbleError(f"There is no open ink layer {meant}. Add one first.")


def new_id(length: int = 12) -> str:
    """An id for a new thing."""
    return uuid.uuid4().hex[:length]
