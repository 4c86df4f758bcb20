"""The lines of a sheet as SVG: every stroke a filled outline, grouped by layer."""

from __future__ import annotations

from xml.sax.saxutils import quoteattr

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.ink.outline import outline
from hollow_marble.core.ink.path import NIBS, Nib, mirrored, samples_from
from hollow_marble.documents.edit import LoadAsset
from hollow_marble.documents.sheet.model import InkLayer, Sheet, Stroke


def sheet_svg(sheet: Sheet, load: LoadAsset) -> str:
    """SVG 1.1 text of the shown ink layers, in page px.

    A lifter stroke becomes a mask over what was drawn before it in its layer.
    """
    masks: list[str] = []
    groups: list[str] = []
    for layer in sheet.layers:
        if not isinstance(layer, InkLayer) or not layer.visible:
            continue
        body = ""
        for number, stroke in enumerate(layer.strokes):
            shapes = _shapes(stroke, load)
            if stroke.nib == "lifter":
                ident = f"lift-{len(masks)}"
                masks.append(
                    f'<mask id="{ident}" maskUnits="userSpaceOnUse" x="0" y="0" width="{sheet.width}" '
                    f'height="{sheet.height}"><rect width="100%" height="100%" fill="#fff"/>'
                    f'<g fill="#000" fill-opacity="{stroke.tone:.3f}">{shapes}</g></mask>'
                )
                body = f'<g mask="url(#{ident})">{body}</g>'
            else:
                body += f'<g id={quoteattr(f"{layer.id}-{number}")} fill="{stroke.colour}">{shapes}</g>'
        groups.append(
            f'<g id={quoteattr(layer.id)} data-name={quoteattr(layer.name)} opacity="{layer.opacity:g}">{body}</g>'
        )
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{sheet.width}" height="{sheet.height}" '
        f'viewBox="0 0 {sheet.width} {sheet.height}"><defs>{"".join(masks)}</defs>'
        f'<rect width="100%" height="100%" fill="{sheet.paper}"/>{"".join(groups)}</svg>'
    )


def _shapes(stroke: Stroke, load: LoadAsset) -> str:
    samples = samples_from(load(stroke.samples))
    nib = NIBS[stroke.nib](stroke.size, stroke.tone)
    runs = [samples]
    if stroke.mirror is not None:
        runs.append(mirrored(samples, stroke.mirror.x, stroke.mirror.y, float(np.radians(stroke.mirror.angle))))
    return "".join(_shape(run, nib) for run in runs)


def _shape(samples: NDArray[np.float32], nib: Nib) -> str:
    points = outline(samples, nib)
    pressure = float(samples[:, 2].mean())
    tone = nib.tone * (nib.pale + (1 - nib.pale) * pressure)
    path = "L".join(f"{x:.2f} {y:.2f}" for x, y in points)
    return f'<path fill-opacity="{tone:.3f}" d="M{path}Z"/>'
