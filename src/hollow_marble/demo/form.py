"""Linnet's form: a pebble body with dial, window, foot and lanyard ring, each shaped from a cage."""

from __future__ import annotations

import numpy as np

from hollow_marble.core.cage import starts
from hollow_marble.demo.designer import Designer, PartHand
from hollow_marble.demo.sheets.ideas import SCALE
from hollow_marble.documents.form.edits import PinReference

BODY = (62.0, 34.0, 108.0)


def shape_form(designer: Designer, sheet: str, construction: str) -> str:
    """Shape all parts over the sheets' views and return the form's id."""
    form = designer.document("form")
    for view, plane, x, y in (("front", "front", 470.0, 1130.0), ("side-pebble", "side", 300.0, 420.0)):
        line = ((x, y - 54 * SCALE), (x, y + 54 * SCALE))
        designer.edit(
            form,
            PinReference(id=f"ref-{view}", sheet=sheet, view=view, plane=plane, line=line, length=108.0, opacity=0.45),
        )  # type: ignore[arg-type]
    drawn = ((1340.0, 200.0), (1340.0, 1300.0))
    sketch = PinReference(
        id="ref-box", sheet=construction, view="box", plane="sketch", line=drawn, length=108.0, opacity=0.5
    )
    designer.edit(form, sketch)
    _body(designer, form)
    designer.project.ledger.name_version(form, designer.project.ledger.row(form).head, "waist in")
    _disc(designer, form, "dial", "Level dial", 23.0, 6.5, (0.0, -16.2, 20.0), 0.85)
    _disc(designer, form, "window", "Window", 11.5, 3.2, (0.0, -16.6, -24.0), 0.6)
    _ring(designer, form)
    _foot(designer, form)
    return form


def _body(designer: Designer, form: str) -> None:
    body = designer.start_box(form, "body", "Body", BODY, (4, 3, 6))
    # height of the row, then how wide, how deep and how far back it is set to lie under the sheet's outlines
    rows = [
        (-54.0, 0.46, 0.62, 0.1),
        (-36.0, 1.16, 1.39, -0.1),
        (-18.0, 1.0, 1.24, 0.3),
        (0.0, 0.94, 1.1, 0.6),
        (18.0, 0.97, 1.12, -0.7),
        (36.0, 1.03, 1.16, -0.6),
        (54.0, 0.58, 0.85, 0.3),
    ]
    for height, wide, deep, back in rows:
        row = body.where(2, height)
        body.place("size", row, (wide, deep, 1.0), (0.0, 0.0, height))
        body.place("move", row, (0.0, back, 0.0))
    for height, lift in ((54.0, 5.0), (-54.0, -2.0)):
        at = body.where(2, height)
        points = body.cage.points[at]
        inner = [p for p, (x, y, _) in zip(at, points.tolist()) if abs(x) < 14 and abs(y) < 6]
        body.place("move", inner, (0.0, 0.0, lift))
    corners = _corner_columns(body)
    body.place("size", corners, (0.88, 0.82, 1.0))
    _fit(body, BODY)


def _corner_columns(body: PartHand) -> list[int]:
    """Points on the box's upright edges, where four corners make the section too square."""
    points = body.cage.points
    chosen = []
    for height in np.unique(np.round(points[:, 2], 3)):
        row = np.flatnonzero(np.abs(points[:, 2] - height) < 0.01)
        wide, deep = np.abs(points[row, 0]).max(), np.abs(points[row, 1]).max()
        chosen += row[(np.abs(points[row, 0]) > wide * 0.98) & (np.abs(points[row, 1]) > deep * 0.98)].tolist()
    return [int(p) for p in chosen]


def _fit(part: PartHand, size: tuple[float, float, float]) -> None:
    """Size a part so that its skin has exactly the size of the brief, then stand it on the origin."""
    low, high = part.extent
    w, d, h = (float(v) for v in np.array(size) / (high - low))
    part.everything("size", (w, d, h))
    low, high = part.extent
    dy, dz = (float(v) for v in -((low + high) / 2)[1:])
    part.everything("move", (0.0, dy, dz))


def _disc(
    designer: Designer,
    form: str,
    ident: str,
    name: str,
    across: float,
    deep: float,
    middle: tuple[float, float, float],
    rim: float,
) -> None:
    """A round, flat part on the front: a box whose section is rounded, its front rim creased."""
    disc = designer.start_box(form, ident, name, (across, deep, across), (4, 2, 4))
    half = across / 2
    points = disc.cage.points
    square = np.maximum(np.abs(points[:, 0]), np.abs(points[:, 2]))
    for level in (half / 2, half):
        ring = np.flatnonzero(np.abs(square - level) < 0.01)
        columns = sorted({(round(float(np.arctan2(points[p, 2], points[p, 0])), 6)) for p in ring.tolist()})
        first = columns.index(0.0)
        for number, angle in enumerate(columns):
            even = (number - first) * 2 * np.pi / len(columns)
            column = [int(p) for p in ring if abs(np.arctan2(points[p, 2], points[p, 0]) - angle) < 1e-4]
            x, z = points[column[0], 0], points[column[0], 2]
            if x < -0.01:
                continue  # symmetry moves the other side
            goal = (level * float(np.cos(even)), level * float(np.sin(even)))
            disc.place("move", column, (goal[0] - float(x), 0.0, goal[1] - float(z)))
    front = -deep / 2
    rim_edges = [
        (a, b) for a, b in disc.edges_at(1, front)
        if min(np.hypot(*disc.cage.points[p][[0, 2]]) for p in (a, b)) > half * 0.95
    ]  # fmt: skip
    disc.crease(rim_edges, rim)
    _fit(disc, (across, deep, across))
    disc.everything("move", middle)


def _ring(designer: Designer, form: str) -> None:
    ring = designer.bring_in(form, "ring", "Lanyard ring", starts.ring(8.2, 1.9, 16, 8))
    ring.everything("turn", (90.0, 0.0, 0.0))
    ring.everything("move", (0.0, 0.0, 57.5))


def _foot(designer: Designer, form: str) -> None:
    foot = designer.start_box(form, "foot", "Foot", (29.0, 16.5, 5.0), (4, 2, 1))
    foot.place("size", _corner_columns(foot), (0.84, 0.8, 1.0))
    foot.crease(foot.edges_at(2, -2.5), 0.5)
    foot.everything("move", (0.0, 0.0, -52.4))
