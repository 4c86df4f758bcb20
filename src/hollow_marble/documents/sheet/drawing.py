"""Strokes as they are kept, made from what the hand drew."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.ink.path import NIBS, bounds, check_work, copies
from hollow_marble.documents.sheet.model import INK, InkLayer, LineStyle, NibName, Rect, Repeat, Sheet, Stroke, View
from hollow_marble.documents.sheet.moving import inside

MEDIA = "application/vnd.hollow-marble.samples"


def repeats(samples: NDArray[np.float32], repeat: Repeat | None) -> list[NDArray[np.float32]]:
    """The copies of a stroke's samples (N, 4) under a symmetry, without the stroke itself."""
    if repeat is None:
        return []
    axis = repeat.axis
    return copies(samples, axis.x, axis.y, float(np.radians(axis.angle)), repeat.mirror, repeat.turns)


def made_stroke(
    ident: str,
    samples: NDArray[np.float32],
    sha: str,
    nib: NibName = "pencil",
    size: float = 6.0,
    tone: float = 0.8,
    colour: str = INK,
    repeat: Repeat | None = None,
    inside: bool = False,
    line: LineStyle = "plain",
) -> Stroke:
    """A stroke of samples (N, 4) that are kept under a SHA-256."""
    tip = NIBS[nib](size, tone)
    others = repeats(samples, repeat)
    check_work(samples, tip, 1 + len(others))
    return Stroke(
        id=ident,
        nib=nib,
        size=size,
        tone=tone,
        colour=colour,
        samples=sha,
        bounds=bounds(samples, tip),
        repeat=repeat,
        copies=tuple(bounds(copy, tip) for copy in others),
        inside=inside,
        line=line,
    )


def moved_repeat(repeat: Repeat | None, dx: float, dy: float) -> Repeat | None:
    """A symmetry carried along with its stroke."""
    if repeat is None:
        return None
    axis = repeat.axis.model_copy(update={"x": repeat.axis.x + dx, "y": repeat.axis.y + dy})
    return repeat.model_copy(update={"axis": axis})


def moved_stroke(stroke: Stroke, ident: str, samples: NDArray[np.float32], sha: str, by: tuple[float, float]) -> Stroke:
    """A stroke with other samples, kept under a SHA-256; its symmetry goes along."""
    return made_stroke(
        ident,
        samples,
        sha,
        stroke.nib,
        stroke.size,
        stroke.tone,
        stroke.colour,
        moved_repeat(stroke.repeat, *by),
        stroke.inside,
        stroke.line,
    )


def lines_in(layer: InkLayer, rect: Rect) -> list[Stroke]:
    """Strokes of a layer whose middle lies in a rectangle."""
    middles = (((s.bounds[0] + s.bounds[2]) / 2, (s.bounds[1] + s.bounds[3]) / 2) for s in layer.strokes)
    return [stroke for stroke, middle in zip(layer.strokes, middles) if inside(rect, middle)]


def view_strokes(sheet: Sheet, view: View) -> list[Stroke]:
    """Shown strokes whose middle lies in a view, lowest first."""
    shown = (layer for layer in sheet.layers if isinstance(layer, InkLayer) and layer.visible)
    return [stroke for layer in shown for stroke in lines_in(layer, view.rect)]
