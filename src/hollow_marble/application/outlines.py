"""A form held against what was drawn: its silhouette from a sheet's own eye, or a section, beside the lines of a pinned view."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from hollow_marble.application.beginning import outline_of
from hollow_marble.application.probes import cut, shown_parts
from hollow_marble.application.workspace import Workspace
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.paths import lengths
from hollow_marble.core.surface.deviation import from_outline, silhouette
from hollow_marble.documents.edit import find
from hollow_marble.documents.form.model import Form, Reference
from hollow_marble.documents.sheet.drafting import placed_box
from hollow_marble.documents.sheet.drawing import view_strokes
from hollow_marble.documents.sheet.model import Sheet
from hollow_marble.store.library import Project

Values = NDArray[np.float64]

_AXES = {"front": (0, 2, 1), "side": (1, 2, 0), "top": (0, 1, 2)}
"""Of a plane: the axis to the right, the axis up, the axis one looks along."""

_APART = 1.0
"""mm between places of a drawn line that are measured."""

MOST_PLACES = 4000


@dataclass(frozen=True, eq=False)
class Beside:
    """Drawn places and what of the form is nearest to each: drawn (K, 2) as they were measured; stands (K, 3) mm, where they stand in space,
    as deep as what is nearest; nearest (K, 3) mm; away (K,) mm."""

    drawn: Values
    stands: Values
    nearest: Values
    away: Values

    @property
    def rms(self) -> float:
        return float(np.sqrt((self.away**2).mean()))


def beside_silhouette(workspace: Workspace, project: Project, form: Form, reference: str) -> Beside:
    """The outline of a pinned view beside the form's silhouette from where that view was drawn.

    Raises
    ------
    HollowMarbleError
        where nothing is drawn in the view, or nothing is shown of the form.
    """
    pinned, sheet, lines = _drawn(workspace, project, form, reference)
    parts = [probed for _, probed in shown_parts(workspace, project, form)]
    if pinned.plane == "sketch":
        box = placed_box(sheet)
        middle = box.points(np.array([[0.5, 0.5, 0.5]]))[0]
        pieces = np.concatenate([silhouette(probed, -middle, -middle) for probed in parts])
        flat = box.camera.project((pieces + middle).reshape(-1, 3)).reshape(-1, 2, 2)
        deep = ((pieces + middle) @ box.camera.rotation[2]).mean(axis=1)
        scale = float(np.median(deep)) / box.camera.focal
        found = _nearest(lines, flat, pieces)
        rays = np.array([box.camera.ray((x, y)) for x, y in found.drawn])
        ahead = (found.nearest + middle) @ box.camera.rotation[2]
        return Beside(found.drawn, rays * ahead[:, None] - middle, found.nearest, found.away * scale)
    right, up, along = _AXES[pinned.plane]
    way = np.eye(3)[along]
    pieces = np.concatenate([silhouette(probed, None, way) for probed in parts])
    placed = in_plane(pinned, lines)
    return _standing(_nearest(placed, pieces[:, :, [right, up]], pieces), right, up)


def beside_section(workspace: Workspace, project: Project, form: Form, reference: str, at: float) -> Beside:
    """The outline of a view pinned square on beside a section in its plane, `at` mm along the way one looks."""
    pinned, _, lines = _drawn(workspace, project, form, reference)
    if pinned.plane == "sketch":
        raise HollowMarbleError(
            "That view stands in its own perspective. Compare a section with a view pinned square on."
        )
    right, up, along = _AXES[pinned.plane]
    normal = (float(along == 0), float(along == 1), float(along == 2))
    pieces = [np.empty((0, 2, 3))]
    for _, combed in cut(workspace, project, form, normal, np.array([at])):
        for start, end, closed in zip(combed.starts[:-1].tolist(), combed.starts[1:].tolist(), combed.closed.tolist()):
            ring = combed.places[start:end]
            ring = np.concatenate([ring, ring[:1]]) if closed else ring
            pieces.append(np.stack([ring[:-1], ring[1:]], axis=1))
    every = np.concatenate(pieces)
    if not len(every):
        raise HollowMarbleError("The plane misses the form. Drag it back over it.")
    return _standing(_nearest(in_plane(pinned, lines), every[:, :, [right, up]], every), right, up)


def _drawn(workspace: Workspace, project: Project, form: Form, ident: str) -> tuple[Reference, Sheet, list[Values]]:
    """A pinned view, its sheet, and the lines of its outline in px of the page."""
    pinned = find(form.references, ident, "reference")
    sheet = project.ledger.state(pinned.sheet)
    assert isinstance(sheet, Sheet)
    view = find(sheet.views, pinned.view, "view")
    ink = workspace.raster(project, pinned.sheet).ink
    strokes = [ink.samples(stroke.samples)[:, :2].astype(float) for stroke in view_strokes(sheet, view)]
    outline = outline_of([line for line in strokes if len(line) > 1])
    if outline is None:
        raise HollowMarbleError(f"There are no lines in {view.name} to compare with. Draw its outline first.")
    return pinned, sheet, outline.lines


def in_plane(pinned: Reference, lines: list[Values]) -> list[Values]:
    """Lines of the page in mm of the plane a view stands in: the middle of its known length at the origin."""
    (ax, ay), (bx, by) = pinned.line
    scale = pinned.length / float(np.hypot(bx - ax, by - ay))
    middle = np.array([(ax + bx) / 2, (ay + by) / 2])
    return [(line - middle) * scale * [1, -1] for line in lines]


def _nearest(lines: list[Values], flat: Values, pieces: Values) -> Beside:
    """Of places evenly along lines the nearest place of pieces (S, 2, 2), and where that is in space (S, 2, 3)."""
    step = max(_APART, sum(_length(line) for line in lines) / MOST_PLACES)
    drawn = np.concatenate([_evenly(line, step) for line in lines])
    away, place, piece = from_outline(drawn, flat)
    one, other = flat[piece, 0], flat[piece, 1]
    way = other - one
    share = ((place - one) * way).sum(axis=1) / np.maximum((way * way).sum(axis=1), 1e-12)
    nearest = pieces[piece, 0] + np.clip(share, 0, 1)[:, None] * (pieces[piece, 1] - pieces[piece, 0])
    return Beside(drawn, nearest, nearest, away)


def _standing(found: Beside, right: int, up: int) -> Beside:
    stands = found.nearest.copy()
    stands[:, [right, up]] = found.drawn
    return replace(found, stands=stands)


def _length(line: Values) -> float:
    return float(np.linalg.norm(np.diff(line, axis=0), axis=1).sum())


def _evenly(line: Values, step: float) -> Values:
    """(K, 2) places of a line, at the most so far apart."""
    at = lengths(line)
    wanted = np.linspace(0, at[-1], max(2, int(at[-1] / step) + 1))
    return np.stack([np.interp(wanted, at, line[:, axis]) for axis in range(2)], axis=1)
