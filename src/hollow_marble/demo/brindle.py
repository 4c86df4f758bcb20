"""Brindle, a stovetop kettle: a turned body, its spout drawn out along a path, its handle bridged over; a lid; a base."""

from __future__ import annotations

import numpy as np
from scipy.interpolate import PchipInterpolator
from scipy.ndimage import gaussian_filter1d

from hollow_marble.demo.designer import Designer
from hollow_marble.demo.hand import PartHand
from hollow_marble.documents.form.changes import BevelledEdges, Bridged, ExtrudedFaces, InsetFaces, PlacedPoints
from hollow_marble.documents.form.edits import PutMeasure
from hollow_marble.documents.form.model import Anchor, Measure
from hollow_marble.documents.form.starts import TurnedStart
from hollow_marble.documents.form.steps import FormSymmetry
from hollow_marble.documents.studio.edits import SetCamera, SetFinish, SetLamp, SetSweep
from hollow_marble.documents.studio.model import THREE_POINT, Camera, Finish, Sweep

ACROSS_D = FormSymmetry(planes=("D",))
FINISHES = (
    ("body", "Body", Finish(material="gloss plastic", colour="#7A4B34")),
    ("lid", "Lid", Finish(material="gloss plastic", colour="#7A4B34")),
    ("base", "Base", Finish(material="polished metal", colour="#CFCAC2")),
)


def shape_brindle(designer: Designer) -> str:
    """Shape the kettle and return the form's id. Width runs from the spout, on the left, to the handle."""
    form = designer.document("form")
    _body(designer, form)
    lid = (
        (0.0, 142.0), (8.0, 142.0), (11.5, 138.5), (9.0, 132.0), (8.5, 127.5), (16.0, 124.0), (30.0, 121.0), (39.5, 116.5),
        (41.0, 113.0), (38.0, 110.5), (20.0, 110.0), (0.0, 110.0),
    )  # fmt: skip
    designer.start(form, "lid", "Lid", TurnedStart(profile=_smooth(lid[::-1]), sides=24, rows=16), ACROSS_D)
    base = ((0.0, -1.0), (60.0, -1.0), (70.0, 1.0), (70.5, 4.0), (66.0, 6.5), (0.0, 6.0))
    designer.start(form, "base", "Base", TurnedStart(profile=_smooth(base), sides=24, rows=12), ACROSS_D)
    return form


def _body(designer: Designer, form: str) -> None:
    profile = (
        (0.0, 4.0), (50.0, 4.0), (68.0, 7.0), (76.0, 20.0), (77.5, 40.0), (73.0, 64.0), (62.0, 88.0), (50.0, 104.0),
        (44.0, 111.0), (40.0, 113.5), (20.0, 113.0), (0.0, 113.0),
    )  # fmt: skip
    start = TurnedStart(profile=_smooth(profile), sides=24, rows=16)
    body = designer.start(form, "body", "Body", start, ACROSS_D)
    _spout(body)
    _handle(body)
    points = body.cage.points
    tip, grip = int(np.argmin(points[:, 0])), int(np.argmax(points[:, 0]))
    measure = Measure(
        id="reach", first=Anchor(part="body", point=tip), second=Anchor(part="body", point=grip), along="W"
    )
    designer.edit(form, PutMeasure(measure=measure))


def _smooth(corners: tuple[tuple[float, float], ...]) -> tuple[tuple[float, float], ...]:
    """A drawn line through the places a designer thinks of: smooth, without overshoot."""
    points = np.array(corners)
    along = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(points, axis=0), axis=1))])
    at = np.linspace(0, along[-1], 160)
    line = np.column_stack([PchipInterpolator(along, points[:, axis])(at) for axis in range(2)])
    line[1:-1] = gaussian_filter1d(line, 4.0, axis=0, mode="nearest")[1:-1]
    return tuple((float(max(r, 0.0)), float(z)) for r, z in line)


def _spout(body: PartHand) -> None:
    """Two faces on the left, set in and drawn out along a swan's neck, its mouth narrowed, its lip rounded."""
    root = _pad(body, -1, 64.0)
    body.step(InsetFaces, faces=root, width=2.0)
    path = ((-70.0, 0.0, 66.0), (-86.0, 0.0, 72.0), (-97.0, 0.0, 84.0), (-104.0, 0.0, 98.0), (-113.0, 0.0, 108.0))
    body.step(ExtrudedFaces, faces=root, along="path", path=path, segments=4)
    for step, size in enumerate((0.9, 0.82, 0.78, 0.82)):
        ring = _rings(body, root)[step]
        middle = body.cage.points[ring].mean(axis=0)
        body.place("size", ring, (size, size, size), tuple(float(v) for v in middle))  # type: ignore[arg-type]
    mouth = set(_rings(body, root)[-1])
    body.step(InsetFaces, faces=root, width=2.2)
    inside = {int(p) for f in root for p in body.cage.face(f)}
    body.step(ExtrudedFaces, faces=root, distance=-7.0)
    lip = [
        (a, b) for a, b in body.cage.topology.edges.tolist()
        if (a in mouth and b in mouth) or (a in inside and b in inside)
    ]  # fmt: skip
    body.step(BevelledEdges, edges=tuple(lip), width=0.7, segments=2)


def _rings(body: PartHand, root: tuple[int, ...]) -> list[list[int]]:
    """Rows of points around the neck, from the body outward: walked back from the faces at its end."""
    cage = body.cage
    found = [sorted({int(p) for f in root for p in cage.face(f)})]
    beside: dict[int, set[int]] = {}
    for a, b in cage.topology.edges.tolist():
        beside.setdefault(a, set()).add(b)
        beside.setdefault(b, set()).add(a)
    known = set(found[0])
    for _ in range(3):
        ring = sorted({q for p in found[-1] for q in beside[p]} - known)
        known |= set(ring)
        found.append(ring)
    return found[::-1]


def _handle(body: PartHand) -> None:
    """Two pairs of faces on the right, one above the other, bridged by a tube that arches out."""
    both = (*_pad(body, 1, 30.0), *_pad(body, 1, 92.0))
    body.step(InsetFaces, faces=both, width=2.4)
    roots = {int(p) for f in both for p in body.cage.face(f)}
    body.step(Bridged, faces=both, segments=10, arch=0.65)
    edges = body.cage.topology.edges.tolist()
    body.step(BevelledEdges, edges=tuple((a, b) for a, b in edges if a in roots and b in roots), width=1.2, segments=2)
    _slim(body)


def _pad(body: PartHand, side: int, height: float) -> tuple[int, ...]:
    """The two faces in the middle of a side (-1 left, 1 right) nearest to a height."""
    cage = body.cage
    beside = body.faces(lambda m: m[0] * side > 40 and abs(m[1]) < 4)
    away = {f: abs(float(cage.points[cage.face(f)].mean(axis=0)[2]) - height) for f in beside}
    return tuple(sorted(beside, key=lambda f: away[f])[:2])


def _slim(body: PartHand) -> None:
    """The grip swells a little in its middle."""
    points = body.cage.points
    grip = np.flatnonzero(points[:, 0] > 88).tolist()
    seat = tuple(float(v) for v in points[grip].mean(axis=0))
    body.place("size", grip, (0.94, 1.12, 1.0), seat)  # type: ignore[arg-type]
    middle = [p for p in grip if abs(points[p, 2] - seat[2]) < 16]
    body.step(PlacedPoints, how="push", points=tuple(middle), values=(1.4, 0.0, 0.0), reach=18.0)


def light_brindle(designer: Designer, form: str) -> str:
    """A studio for the kettle: warm sweep, three lamps, the spout to the left."""
    studio = designer.document("studio")
    designer.edit(studio, SetSweep(sweep=Sweep(colour="#CBC3B6", width=2600.0, depth=800.0)))
    for part, name, finish in FINISHES:
        designer.edit(studio, SetFinish(part=part, name=name, finish=finish))
    key, fill, back = THREE_POINT
    designer.edit(studio, SetLamp(lamp=key.model_copy(update={"azimuth": -52.0, "height": 46.0, "width": 420.0})))
    designer.edit(studio, SetLamp(lamp=fill))
    designer.edit(studio, SetLamp(lamp=back))
    designer.edit(studio, SetCamera(camera=Camera(focal=85.0, distance=980.0, azimuth=14.0, height=230.0, aim=70.0)))
    return studio
