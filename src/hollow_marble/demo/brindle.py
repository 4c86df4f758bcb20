"""Brindle, a stovetop kettle: a sculpted body with a flat shoulder and a built spout; a lid with a knob, a base, a bail with a grip."""

from __future__ import annotations

import numpy as np
from scipy.interpolate import PchipInterpolator
from scipy.ndimage import gaussian_filter1d

from hollow_marble.core.paths import lengths
from hollow_marble.demo.designer import Designer
from hollow_marble.documents.form import built as b
from hollow_marble.documents.form.changes import StoodPart
from hollow_marble.documents.form.curves import CornerRound, CurvePiece, CurvePlane, DrawnCurve
from hollow_marble.documents.form.details import AlongLine
from hollow_marble.documents.form.edits import ChangePart, Shape, StartPart
from hollow_marble.documents.form.recipe import FromPart, FromStep
from hollow_marble.documents.form.skin_lines import SectionLine
from hollow_marble.documents.form.starts import RingStart, SphereStart, TurnedStart
from hollow_marble.documents.form.steps import FormSymmetry
from hollow_marble.documents.studio.edits import KeepShot, OpenShot, SetCamera, SetFinish, StartSet
from hollow_marble.documents.studio.model import Camera, Finish

ACROSS_D = FormSymmetry(planes=("D",))
SHOULDER, BAIL = 100.0, 68.0
"""Height of the shoulder, and radius of the bail, mm."""
LID = (
    (0.0, 122.6, 0.0), (16.0, 122.4, 12.0), (33.0, 119.5, 16.0), (41.0, 113.5, 2.2), (41.0, 111.0, 0.8), (37.0, 110.0, 0.8), (0.0, 110.0, 0.0),
)  # fmt: skip
KNOB = (
    (0.0, 143.0, 0.0), (9.0, 143.0, 3.0), (12.5, 138.0, 4.0), (7.0, 130.0, 6.0), (8.2, 121.5, 1.5), (0.0, 121.5, 0.0),
)  # fmt: skip
ENAMEL = Finish(material="enamel", colour="#2F4A4C")
STEEL = Finish(material="polished metal", amounts={"metal": 7, "roughness": 0.09})
FINISHES = (
    ("body", "Body", ENAMEL),
    ("lid", "Lid", ENAMEL),
    ("knob", "Knob", Finish(material="wood", colour="#9C6B43")),
    ("base", "Base", STEEL),
    ("bail", "Bail", STEEL),
    ("grip", "Grip", Finish(material="wood", colour="#9C6B43")),
)


def _smooth(corners: tuple[tuple[float, float], ...]) -> tuple[tuple[float, float], ...]:
    """A drawn line through the places a designer thinks of: smooth, without overshoot."""
    points = np.array(corners)
    along = lengths(points)
    at = np.linspace(0, along[-1], 160)
    line = np.column_stack([PchipInterpolator(along, points[:, axis])(at) for axis in range(2)])
    line[1:-1] = gaussian_filter1d(line, 4.0, axis=0, mode="nearest")[1:-1]
    return tuple((float(max(r, 0.0)), float(z)) for r, z in line)


BODY = TurnedStart(
    profile=_smooth((
        (0.0, 4.0), (52.0, 4.0), (70.0, 6.5), (77.0, 17.0), (76.5, 45.0), (75.5, 78.0), (73.0, 92.0), (66.0, 98.5), (53.0, 101.0),
        (45.0, 103.0), (41.5, 108.0), (40.0, 113.5), (20.0, 113.0), (0.0, 113.0),
    )),
    sides=24,
    rows=16,
)  # fmt: skip
SPOUT = b.SweptProfile(
    scale=0.55, blend=4.0, inputs={"profile": FromPart(part="oval"), "path": FromPart(part="neck")}, tag="spout"
)


def shape_brindle(designer: Designer) -> str:
    """Shape the kettle and return the form's id. The spout is on the left."""
    form = designer.document("form")
    _body(designer, form)
    _turned(designer, form, "lid", "Lid", LID)
    _turned(designer, form, "knob", "Knob", KNOB)
    base = ((0.0, -1.0), (60.0, -1.0), (70.0, 1.0), (70.5, 4.0), (66.0, 6.5), (0.0, 6.0))
    designer.start(form, "base", "Base", TurnedStart(profile=_smooth(base), sides=24, rows=12), ACROSS_D)
    _bail(designer, form)
    return form


def _turned(
    designer: Designer, form: str, ident: str, name: str, corners: tuple[tuple[float, float, float], ...]
) -> None:
    """A part turned of a profile of corners, each rounded: off the axis, height, radius, mm."""
    pieces = tuple(CurvePiece(name=f"line-{k + 1}", kind="line", points=(k, k + 1)) for k in range(len(corners) - 1))
    rounds = tuple(CornerRound(point=k, radius=radius) for k, (_, _, radius) in enumerate(corners) if radius)
    curve = DrawnCurve(points=tuple((r, z) for r, z, _ in corners), pieces=pieces, rounds=rounds)
    designer.edit(form, StartPart(part=f"{ident}-profile", name=f"{name} profile", start=curve))
    turned = b.TurnedProfile(inputs={"profile": FromPart(part=f"{ident}-profile")}, tag=ident)
    designer.edit(form, StartPart(part=ident, name=name, start=turned))
    designer.edit(form, ChangePart(part=f"{ident}-profile", visible=False))


def _bail(designer: Designer, form: str) -> None:
    """A hoop of steel over the lid, its lower half within the body, and a wooden grip at its top."""
    bail = designer.start(form, "bail", "Bail", RingStart(radius=BAIL, tube=3.6, around=24, section=8), None)
    bail.step(StoodPart, turn=(90.0, 0.0, 0.0), move=(0.0, 0.0, SHOULDER + 4.0))
    grip = designer.start(form, "grip", "Grip", SphereStart(size=(78.0, 18.0, 18.0), divisions=3), ACROSS_D)
    grip.step(StoodPart, move=(0.0, 0.0, SHOULDER + 4.0 + BAIL))


def spout_curves() -> dict[str, DrawnCurve]:
    """The path of the spout, its section, and the path of its bore, by the ids of their parts."""
    neck = ((-58.0, 52.0), (-80.0, 62.0), (-95.0, 80.0), (-104.0, 98.0), (-116.0, 112.0))
    bore = ((-97.5, 84.5), (-104.0, 98.0), (-120.0, 116.7))
    return {
        "neck": DrawnCurve(points=neck, pieces=(CurvePiece(name="neck", kind="through", points=(0, 1, 2, 3, 4)),)),
        "oval": DrawnCurve(
            points=((0.0, 0.0), (15.0, 0.0)),
            pieces=(CurvePiece(name="oval", kind="ellipse", points=(0, 1), value=12.0),),
        ),
        "bore": DrawnCurve(points=bore, pieces=(CurvePiece(name="bore", kind="through", points=(0, 1, 2)),)),
    }


def _body(designer: Designer, form: str) -> None:
    """A sculpted body; its spout is built: an oval carried along a path, joined with a rounded seam, and bored."""
    designer.start(form, "body", "Body", BODY, ACROSS_D)
    names = {"neck": "Spout path", "oval": "Spout section", "bore": "Bore path"}
    for ident, curve in spout_curves().items():
        designer.edit(form, StartPart(part=ident, name=names[ident], start=curve))
        designer.edit(form, ChangePart(part=ident, visible=False))
    designer.edit(form, Shape(part="body", step=SPOUT))
    bored = b.PipedPath(radius=4.6, how="cut away", blend=0.8, inputs={"path": FromPart(part="bore")}, tag="bore")
    designer.edit(form, Shape(part="body", step=bored))
    _rims(designer, form)


def _rims(designer: Designer, form: str) -> None:
    """A bead round the spout's mouth, and the groove below the lid."""
    mouth, ahead = np.array([-112.6, 0.0, 108.0]), np.array([-12.0, 0.0, 14.0])
    across = np.cross(ahead / np.linalg.norm(ahead), [0.0, 1.0, 0.0])
    through = tuple(
        (float(p[0]), float(p[1]), float(p[2])) for p in (mouth, mouth + np.array([0.0, 5.0, 0.0]), mouth + 5 * across)
    )
    ring = DrawnCurve(
        plane=CurvePlane(through=through), points=((0.0, 0.0),), pieces=(CurvePiece(name="c", kind="circle", points=(0,), value=6.0),)
    )  # fmt: skip
    designer.edit(form, StartPart(part="mouth", name="Mouth of the spout", start=ring))
    designer.edit(form, ChangePart(part="mouth", visible=False))
    outside = mouth + 12 * across  # the bore has a line of its own
    place = (float(outside[0]), 0.0, float(outside[2]))
    line = SectionLine(inputs={"plane": FromPart(part="mouth")}, near=place, tag="mouth")
    designer.edit(form, Shape(part="body", step=line))
    bead = AlongLine(
        section="bead",
        width=3.0,
        depth=0.9,
        lean=30.0,
        rim=0.5,
        floor=0.7,
        inputs={"line": FromStep(index=3)},
        tag="lip",
    )
    designer.edit(form, Shape(part="body", step=bead))
    designer.edit(form, Shape(part="body", step=SectionLine(at=106.0, near=(0.0, -42.0, 106.0), tag="neck-line")))
    gap = AlongLine(
        width=1.0, depth=0.6, lean=8.0, rim=0.15, floor=0.15, inputs={"line": FromStep(index=5)}, tag="lid-gap"
    )
    designer.edit(form, Shape(part="body", step=gap))


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
