"""What a probe draws over a form, laid flat for paper and for other programs."""

from __future__ import annotations

from typing import Literal

import numpy as np
from numpy.typing import NDArray

from hollow_marble.application.probes import Drawn, shown_parts
from hollow_marble.application.workspace import Workspace
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.surface.sections import Combed
from hollow_marble.documents.form.model import Form, Part
from hollow_marble.exchange.flat import FlatLine, flat_dxf, flat_svg
from hollow_marble.store.library import Project

Values = NDArray[np.float64]
FlatKind = Literal["svg", "dxf"]

_ABOVE = 0.02
"""mm above the surface from which it is looked whether something hides a place."""


def seen_lines(
    workspace: Workspace, project: Project, form: Form, drawn: Drawn, towards_eye: Values, kind: FlatKind
) -> bytes:
    """Lines over parts as they are seen square on from a direction (3,), without what is hidden, in true size.

    Raises
    ------
    HollowMarbleError
        where there is nothing in sight.
    """
    way = towards_eye / max(float(np.linalg.norm(towards_eye)), 1e-12)
    right, up = _frame(way)
    seen = np.ones(len(drawn.places), bool)
    starts = drawn.places + _ABOVE * drawn.normals
    ways = np.broadcast_to(way, starts.shape)
    parts = shown_parts(workspace, project, form)
    for _, probed in parts:
        seen &= ~np.isfinite(probed.nearest.met(starts, ways).distance)
    flat = np.column_stack([drawn.places @ right, drawn.places @ up])
    lines = []
    for number, (start, end) in enumerate(zip(drawn.starts[:-1].tolist(), drawn.starts[1:].tolist())):
        rows = np.arange(start, end)
        if drawn.closed[number]:
            rows = np.append(rows, start)
        layer = parts[int(drawn.part[number])][0].name
        runs = np.split(rows, np.flatnonzero(np.diff(seen[rows].astype(int))) + 1)
        lines += [FlatLine(flat[run], False, _plain(layer)) for run in runs if seen[run[0]] and len(run) > 1]
    return _written(lines, kind)


def flat_sections(found: list[tuple[Part, Combed]], normal: Values, kind: FlatKind) -> bytes:
    """Sections laid flat, in true size, seen against the direction of their planes."""
    right, up = _frame(normal / np.linalg.norm(normal))
    lines = []
    for part, combed in found:
        flat = np.column_stack([combed.places @ right, combed.places @ up])
        lines += [
            FlatLine(flat[start:end], bool(closed), f"{_plain(part.name)} {level + 1}")
            for start, end, closed, level in zip(combed.starts[:-1], combed.starts[1:], combed.closed, combed.level)
        ]
    return _written(lines, kind)


def _frame(way: Values) -> tuple[Values, Values]:
    """Right and up, seen from where `way` (3,) points: up is height, from above it is depth."""
    up = np.array([0.0, 0.0, 1.0]) if abs(way[2]) < 0.999 else np.array([0.0, 1.0, 0.0])
    right = np.cross(up, way)
    right /= np.linalg.norm(right)
    return right, np.cross(way, right)


def _plain(name: str) -> str:
    """A name as both formats take it for a layer."""
    kept = "".join(letter if letter.isalnum() or letter in " -_" else "_" for letter in name)
    return kept.strip() or "Part"


def _written(lines: list[FlatLine], kind: FlatKind) -> bytes:
    if not lines:
        raise HollowMarbleError("There is no line to write. Move the plane or the lights until there is one.")
    return flat_svg(lines).encode() if kind == "svg" else flat_dxf(lines)
