"""Brindle, a stovetop kettle: a turned body with a flat shoulder, its spout drawn out along a path; a lid, a base, a bail with a grip."""

from __future__ import annotations

import numpy as np
from scipy.interpolate import PchipInterpolator
from scipy.ndimage import gaussian_filter1d

from hollow_marble.demo.designer import Designer
from hollow_marble.demo.hand import PartHand
from hollow_marble.documents.form.changes import BevelledEdges, ExtrudedFaces, InsetFaces, StoodPart
from hollow_marble.documents.form.edits import PutMeasure
from hollow_marble.documents.form.model import Anchor, Measure
from hollow_marble.documents.form.starts import RingStart, SphereStart, TurnedStart
from hollow_marble.documents.form.steps import FormSymmetry
from hollow_marble.documents.studio.edits import KeepShot, OpenShot, SetCamera, SetFinish, StartSet
from hollow_marble.documents.studio.model import Camera, Finish

ACROSS_D = FormSymmetry(planes=("D",))
SHOULDER, BAIL = 100.0, 68.0
"""Height of the shoulder, and radius of the bail, mm."""
ENAMEL = Finish(material="enamel", colour="#2F4A4C")
STEEL = Finish(material="polished metal", amounts={"metal": 7, "roughness": 0.09})
FINISHES = (
    ("body", "Body", ENAMEL),
    ("lid", "Lid", ENAMEL),
    ("base", "Base", STEEL),
    ("bail", "Bail", STEEL),
    ("grip", "Grip", Finish(material="wood", colour="#9C6B43")),
)


def shape_brindle(designer: Designer) -> str:
    """Shape the kettle and return the form's id. The spout is on the left."""
    form = designer.document("form")
    _body(designer, form)
    lid = (
        (0.0, 142.0), (8.0, 142.0), (11.5, 138.5), (9.0, 132.0), (8.5, 127.5), (16.0, 124.0), (30.0, 121.0), (39.5, 116.5),
        (41.0, 113.0), (38.0, 110.5), (20.0, 110.0), (0.0, 110.0),
    )  # fmt: skip
    designer.start(form, "lid", "Lid", TurnedStart(profile=_smooth(lid[::-1]), sides=24, rows=16), ACROSS_D)
    base = ((0.0, -1.0), (60.0, -1.0), (70.0, 1.0), (70.5, 4.0), (66.0, 6.5), (0.0, 6.0))
    designer.start(form, "base", "Base", TurnedStart(profile=_smooth(base), sides=24, rows=12), ACROSS_D)
    _bail(designer, form)
    return form


def _bail(designer: Designer, form: str) -> None:
    """A hoop of steel over the lid, its lower half within the body, and a wooden grip at its top."""
    bail = designer.start(form, "bail", "Bail", RingStart(radius=BAIL, tube=3.6, around=24, section=8), None)
    bail.step(StoodPart, turn=(90.0, 0.0, 0.0), move=(0.0, 0.0, SHOULDER + 4.0))
    grip = designer.start(form, "grip", "Grip", SphereStart(size=(78.0, 18.0, 18.0), divisions=3), ACROSS_D)
    grip.step(StoodPart, move=(0.0, 0.0, SHOULDER + 4.0 + BAIL))


def _body(designer: Designer, form: str) -> None:
    profile = (
        (0.0, 4.0), (52.0, 4.0), (70.0, 6.5), (77.0, 17.0), (76.5, 45.0), (75.5, 78.0), (73.0, 92.0), (66.0, 98.5), (53.0, 101.0),
        (45.0, 103.0), (41.5, 108.0), (40.0, 113.5), (20.0, 113.0), (0.0, 113.0),
    )  # fmt: skip
    start = TurnedStart(profile=_smooth(profile), sides=24, rows=16)
    body = designer.start(form, "body", "Body", start, ACROSS_D)
    _spout(body)
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


def _pad(body: PartHand, side: int, height: float) -> tuple[int, ...]:
    """The two faces in the middle of a side (-1 left, 1 right) nearest to a height."""
    cage = body.cage
    beside = body.faces(lambda m: m[0] * side > 40 and abs(m[1]) < 4)
    away = {f: abs(float(cage.points[cage.face(f)].mean(axis=0)[2]) - height) for f in beside}
    return tuple(sorted(beside, key=lambda f: away[f])[:2])


def light_brindle(designer: Designer, form: str) -> str:
    """A studio for the kettle on a slab of stone, the spout to the left, and two shots."""
    studio = designer.document("studio")
    head = designer.project.ledger.row(form).head or 0
    designer.edit(studio, StartSet(start="Quarry"))
    for part, name, finish in FINISHES:
        designer.edit(studio, SetFinish(part=part, name=name, finish=finish))
    designer.edit(
        studio,
        SetCamera(
            camera=Camera(focal=85.0, distance=980.0, azimuth=14.0, height=230.0, aim=88.0, aperture=11.0, exposure=8.6)
        ),
    )
    designer.edit(studio, KeepShot(id="stone", name="On stone", width=960, height=720, form=form, form_edit=head))
    designer.edit(studio, StartSet(start="Evening window"))
    designer.edit(
        studio,
        SetCamera(
            camera=Camera(
                focal=100.0, distance=1_250.0, azimuth=24.0, height=180.0, aim=92.0, white=4_400.0, exposure=9.6
            )
        ),
    )
    designer.edit(studio, KeepShot(id="evening", name="Evening", width=960, height=720, form=form, form_edit=head))
    designer.edit(studio, OpenShot(id="stone"))
    return studio
