"""The lines and notes of a sheet as SVG: every stroke a filled outline, words as text, grouped by layer."""

from __future__ import annotations

from xml.sax.saxutils import escape, quoteattr

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.ink.outline import outline
from hollow_marble.core.ink.path import NIBS, Nib, pieces, samples_from
from hollow_marble.documents.edit import LoadAsset
from hollow_marble.documents.sheet.drawing import repeats
from hollow_marble.documents.sheet.model import Font, GroupLayer, InkLayer, Note, NotesLayer, Sheet, Stroke
from hollow_marble.documents.sheet.notes import Stretch, Words, marks

FAMILIES: dict[Font, tuple[str, int]] = {
    "sans": ("Instrument Sans", 400),
    "sans strong": ("Instrument Sans", 600),
    "serif": ("Fraunces", 400),
}


def sheet_svg(sheet: Sheet, load: LoadAsset) -> str:
    """SVG 1.1 text of the shown ink layers, in page px.

    A lifter stroke becomes a mask over what was drawn before it in its layer.
    """
    masks: list[str] = []
    body = _group(sheet, None, load, masks)
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{sheet.width}" height="{sheet.height}" '
        f'viewBox="0 0 {sheet.width} {sheet.height}"><defs>{"".join(masks)}</defs>'
        f'<rect width="100%" height="100%" fill="{sheet.paper}"/>{body}</svg>'
    )


def _group(sheet: Sheet, group: str | None, load: LoadAsset, masks: list[str]) -> str:
    """The shown layers of a group, lowest first."""
    made = ""
    for layer in sheet.within(group):
        if not layer.visible or not isinstance(layer, InkLayer | GroupLayer | NotesLayer):
            continue
        if isinstance(layer, GroupLayer):
            inner = _group(sheet, layer.id, load, masks)
        elif isinstance(layer, NotesLayer):
            inner = "".join(_note(note, sheet) for note in layer.notes)
        else:
            inner = _lines(sheet, layer, load, masks)
        mode = f' style="mix-blend-mode:{layer.mode}"' if layer.mode != "normal" else ""
        name = f"id={quoteattr(layer.id)} data-name={quoteattr(layer.name)}"
        made += f'<g {name} opacity="{layer.opacity:g}"{mode}>{inner}</g>'
    return made


def _note(note: Note, sheet: Sheet) -> str:
    """A note: its words stay text."""
    made = ""
    for mark in marks(note, sheet.views):
        if isinstance(mark, Words):
            family = f'"{FAMILIES[mark.font][0]}"'
            turn = f' transform="rotate({mark.turn:.2f} {mark.at[0]:.2f} {mark.at[1]:.2f})"' if mark.turn else ""
            made += (
                f'<text x="{mark.at[0]:.2f}" y="{mark.at[1]:.2f}" font-family={quoteattr(family)} '
                f'font-weight="{FAMILIES[mark.font][1]}" font-size="{mark.size:g}"{turn}>{escape(mark.text)}</text>'
            )
        else:
            path = "L".join(f"{x:.2f} {y:.2f}" for x, y in mark.places)
            if isinstance(mark, Stretch):
                made += f'<path fill="none" stroke="{note.colour}" stroke-width="{mark.width:.2f}" d="M{path}"/>'
            else:
                made += f'<path d="M{path}Z"/>'
    return f'<g id={quoteattr(note.id)} fill="{note.colour}">{made}</g>'


def _lines(sheet: Sheet, layer: InkLayer, load: LoadAsset, masks: list[str]) -> str:
    body = ""
    for number, stroke in enumerate(layer.strokes):
        shapes = _shapes(stroke, load)
        if NIBS[stroke.nib](stroke.size, stroke.tone).lifts:
            ident = f"lift-{len(masks)}"
            masks.append(
                f'<mask id="{ident}" maskUnits="userSpaceOnUse" x="0" y="0" width="{sheet.width}" '
                f'height="{sheet.height}"><rect width="100%" height="100%" fill="#fff"/>'
                f'<g fill="#000" fill-opacity="{stroke.tone:.3f}">{shapes}</g></mask>'
            )
            body = f'<g mask="url(#{ident})">{body}</g>'
        else:
            body += f'<g id={quoteattr(f"{layer.id}-{number}")} fill="{stroke.colour}">{shapes}</g>'
    return body


def _shapes(stroke: Stroke, load: LoadAsset) -> str:
    samples = samples_from(load(stroke.samples))
    nib = NIBS[stroke.nib](stroke.size, stroke.tone)
    runs = [samples, *repeats(samples, stroke.repeat)]
    return "".join(_shape(piece, nib) for run in runs for piece in pieces(run, nib, stroke.line))


def _shape(samples: NDArray[np.float32], nib: Nib) -> str:
    points = outline(samples, nib)
    pressure = float(samples[:, 2].mean())
    tone = nib.tone * (nib.pale + (1 - nib.pale) * pressure)
    path = "L".join(f"{x:.2f} {y:.2f}" for x, y in points)
    return f'<path fill-opacity="{tone:.3f}" d="M{path}Z"/>'
