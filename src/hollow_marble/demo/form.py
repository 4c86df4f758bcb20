"""Linnet's form: a pebble body shaped from a cage over the sheets' views, a window; and what is built onto it."""

from __future__ import annotations

import numpy as np

from hollow_marble.demo.designer import Designer
from hollow_marble.demo.details import detail
from hollow_marble.demo.fittings import fit, front, lean
from hollow_marble.demo.hand import Array, PartHand
from hollow_marble.demo.product import ROUND, radii
from hollow_marble.demo.sheets.ideas import SCALE
from hollow_marble.documents.form.changes import FairedPoints, FittedRow, StoodPart
from hollow_marble.documents.form.edits import PutMeasure
from hollow_marble.documents.form.model import Anchor, Measure
from hollow_marble.documents.form.pinning import PinReference
from hollow_marble.documents.form.starts import BoxStart, TurnedStart
from hollow_marble.documents.form.steps import ACROSS_W

BODY = (62.0, 34.0, 108.0)
FAIR_WITHIN = 1.8
"""mm: what makes highlight lines run clean from shoulder to foot, and keeps the drawn outline within a millimetre."""

ABOVE = (0.0, 0.0, 100_000.0)
"""An eye so far above that a row drawn from there is seen flat."""


def shape_form(designer: Designer, sheet: str, construction: str) -> str:
    """Shape all parts over the sheets' views and return the form's id."""
    form = designer.document("form")
    for view, plane, x, y in (("front", "front", 470.0, 1130.0), ("side-pebble", "side", 300.0, 420.0)):
        line = ((x, y - 54 * SCALE), (x, y + 54 * SCALE))
        designer.edit(
            form,
            PinReference(id=f"ref-{view}", sheet=sheet, view=view, plane=plane, line=line, length=108.0, opacity=0.45),
        )
    drawn = ((1340.0, 200.0), (1340.0, 1300.0))
    sketch = PinReference(
        id="ref-box", sheet=construction, view="box", plane="sketch", line=drawn, length=108.0, opacity=0.5
    )
    designer.edit(form, sketch)
    body = _body(designer, form)
    designer.project.ledger.name_version(form, designer.project.ledger.row(form).head, "waist in")
    _window(designer, form)
    _dimension(designer, form, body)
    _mend(designer, form, body)
    fit(designer, form)
    detail(designer, form)
    return form


def _mend(designer: Designer, form: str, body: PartHand) -> None:
    """The shoulders are uneven under stripes: both states are kept by name, so that one can see how it was found and mended."""
    ledger = designer.project.ledger
    ledger.name_version(form, ledger.row(form).head, "shoulders uneven")
    body.step(FairedPoints, points=tuple(range(len(body.cage.points))), within=FAIR_WITHIN)
    body.fit(BODY)  # fair, it is some tenths narrower
    ledger.name_version(form, ledger.row(form).head, "shoulders mended")


def _body(designer: Designer, form: str) -> PartHand:
    """A box whose rows are fitted, from above, to the sections that front and side outlines give."""
    body = designer.start(form, "body", "Body", BoxStart(size=(58.0, 30.0, 98.0), divisions=(4, 4, 6)))
    heights = [float(z) for z in np.unique(np.round(body.cage.points[:, 2], 3))]
    rims = {z: _rim(body, z) for z in heights}
    goals = {z: _section(z) for z in heights}
    factors = {z: np.array([1.02, 1.02]) if abs(z) < 48 else np.array([1.03, 1.03]) for z in heights}
    for _ in range(5):  # the skin lies within the cage: draw the lines a little outside the outlines
        trial = body.cage.points.copy()
        for z in heights:
            step = FittedRow(
                edges=_loop(body, rims[z]), eye=ABOVE, line=_line(z, goals[z] * factors[z]), symmetry=ACROSS_W
            )
            trial[rims[z]] = body.after(step).points[rims[z]]
        skin = _skin_of(designer, body, trial)
        for z in heights[1:-1]:
            near = skin[np.abs(skin[:, 2] - z) < 1.5]
            factors[z] *= np.ptp(goals[z], axis=0) / np.ptp(near[:, :2], axis=0)
    for z in heights:
        body.step(FittedRow, edges=_loop(body, rims[z]), eye=ABOVE, line=_line(z, goals[z] * factors[z]))
    for z, lift in ((heights[-1], 3.2), (heights[0], -2.4)):
        _close(body, z, rims[z], lift)
    body.fit(BODY)
    return body


def _close(body: PartHand, height: float, rim: list[int], lift: float) -> None:
    """Draw the faces over an end together and dome them; columns and rows are lifted apart, so that no face twists."""
    inner = [p for p in body.where(2, height) if p not in rim]
    points = body.cage.points
    around, within = points[rim], points[inner]
    middle = float((around[:, 1].max() + around[:, 1].min()) / 2)
    share = 0.5 * np.ptp(around, axis=0)[:2] / np.ptp(within, axis=0)[:2]
    body.place("size", inner, (float(share[0]), float(share[1]), 1.0), (0.0, 0.0, height))
    body.place("move", inner, (0.0, middle, 0.0))
    points = body.cage.points
    corners = [p for p in inner if abs(points[p, 0]) > 1 and abs(points[p, 1] - middle) > 1]
    body.place("size", corners, (0.86, 0.86, 1.0), (0.0, middle, height))
    for axis, centre in ((0, 0.0), (1, middle)):
        reach = np.abs(points[rim, axis] - centre).max()
        strip = [p for p in (*inner, *rim) if abs(points[p, axis] - centre) < 0.3 * reach]
        body.place("move", strip, (0.0, 0.0, lift))
        wider = [p for p in (*inner, *rim) if abs(points[p, axis] - centre) < 0.75 * reach]
        body.place("move", wider, (0.0, 0.0, 0.8 * lift))


def _section(height: float) -> Array:
    """Outline of the section at a height, (k, 2) mm: a superellipse as wide and deep as the drawn outlines."""
    near = np.array([np.clip(height, -47.5, 48.0)])
    wide, fore, back = (float(r[0]) for r in radii(near))
    turn = np.linspace(0, 2 * np.pi, 361)[:-1]
    c, s = np.cos(turn), np.sin(turn)
    share = 2 / ROUND
    y = np.where(s < 0, fore, back) * np.sign(s) * np.abs(s) ** share
    return np.column_stack([wide * np.sign(c) * np.abs(c) ** share, y])


def _line(height: float, section: Array) -> tuple[tuple[float, float, float], ...]:
    return tuple((float(x), float(y), height) for x, y in section)


def _rim(body: PartHand, height: float) -> list[int]:
    """Points of the box's outer row at a height."""
    row = body.where(2, height)
    points = body.cage.points[row]
    return [
        p for p, (x, y, _) in zip(row, points)
        if abs(abs(x) - np.abs(points[:, 0]).max()) < 0.01 or abs(abs(y) - np.abs(points[:, 1]).max()) < 0.01
    ]  # fmt: skip


def _loop(body: PartHand, rim: list[int]) -> tuple[tuple[int, int], ...]:
    return tuple((a, b) for a, b in body.cage.topology.edges.tolist() if a in rim and b in rim)


def _skin_of(designer: Designer, body: PartHand, points: Array) -> Array:
    from hollow_marble.core.cage.skin import evaluate, plan_skin

    cage = body.cage
    return evaluate(plan_skin(cage, 3), points).positions.astype(np.float64)


def _window(designer: Designer, form: str) -> None:
    profile = ((0.0, 2.2), (3.2, 2.1), (4.7, 1.7), (5.5, 0.6), (5.6, -0.8), (0.0, -1.0))
    start = TurnedStart(profile=profile[::-1], sides=24, rows=8, axis="D", at=(0.0, 0.0, 0.0))
    window = designer.start(form, "window", "Window", start)
    window.step(StoodPart, mirror="D", move=(0.0, front(-24.0) + 0.4, -24.0))
    _leaned(window, -24.0)


def _leaned(part: PartHand, height: float) -> None:
    """Lean a part as the body's front leans where it sits."""
    part.everything("turn", (lean(height), 0.0, 0.0), (0.0, front(height), height))


def _dimension(designer: Designer, form: str, body: PartHand) -> None:
    """The body's width, set on the form."""
    points = body.cage.points
    right, left = int(np.argmax(points[:, 0])), int(np.argmin(points[:, 0]))
    measure = Measure(
        id="width", first=Anchor(part="body", point=left), second=Anchor(part="body", point=right), along="W"
    )
    designer.edit(form, PutMeasure(measure=measure))
