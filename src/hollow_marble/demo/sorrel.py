"""Sorrel, a dropper bottle for an oil that keeps Linnet's leather strap supple: made wholly of turned profiles, and one cut."""

from __future__ import annotations

from typing import Any

from hollow_marble.demo.designer import Designer
from hollow_marble.documents.form import built as b
from hollow_marble.documents.form.curves import CornerRound, CurvePiece, CurvePlane, DrawnCurve
from hollow_marble.documents.form.edits import ChangePart, Shape, StartPart
from hollow_marble.documents.form.recipe import FromPart
from hollow_marble.documents.studio.edits import KeepShot, OpenShot, SetCamera, SetFinish, StartSet
from hollow_marble.documents.studio.model import Camera, Finish

Corner = tuple[float, float, float]
"""Off the axis, height, and how far the corner there is rounded; mm."""

GLASS: tuple[Corner, ...] = (
    (0, 3.2, 0), (15.0, 1.6, 6), (17.0, 0, 1.0), (21.0, 0, 3.0), (21.0, 46, 9.0), (9.2, 55, 4.0), (9.2, 68, 0.5),
    (7.4, 68, 0.5), (7.4, 56, 3.0), (19.0, 45, 7.5), (19.0, 4.2, 3.0), (0, 5.0, 0),
)  # fmt: skip
LIQUID: tuple[Corner, ...] = ((0, 4.95, 0), (19.05, 4.15, 3.0), (19.05, 34, 0.2), (0, 34, 0))
CAP: tuple[Corner, ...] = (
    (0, 70.5, 0), (5.0, 70.5, 0), (5.0, 69.0, 0), (9.6, 69.0, 0), (9.6, 57.5, 0.3), (11.6, 57.5, 0.6), (11.6, 72.5, 1.6), (6.4, 73.6, 0.8),
    (5.2, 74.6, 0), (0, 74.6, 0),
)  # fmt: skip
BULB: tuple[Corner, ...] = (
    (0, 74.5, 0), (5.4, 74.5, 0.8), (6.5, 81, 24.0), (5.9, 91, 40.0), (4.6, 99.5, 4.0), (0, 99.5, 0),
)  # fmt: skip
PIPETTE: tuple[Corner, ...] = (
    (3.2, 70.4, 0), (3.2, 24, 4.0), (1.2, 12, 0.3), (0.6, 12, 0.2), (2.2, 25, 3.0), (2.2, 70.4, 0),
)  # fmt: skip

CLEAR = Finish(material="clear glass")
PARTS: tuple[tuple[str, str, tuple[Corner, ...], bool, Finish, Any], ...] = (
    ("bottle", "Bottle", GLASS, False, CLEAR, "glass"),
    ("oil", "Oil", LIQUID, False, Finish(material="liquid", colour="#C98A2B"), None),
    ("cap", "Cap", CAP, False, Finish(material="brushed metal", amounts={"metal": 3}), "aluminium"),
    ("bulb", "Bulb", BULB, False, Finish(material="rubber", colour="#26282A"), "silicone"),
    ("pipette", "Pipette", PIPETTE, True, CLEAR, "glass"),
)
"""Id, name, profile from the axis or round, whether it is closed, finish, and what it is made of."""

SLOTS = 28


def shape_sorrel(designer: Designer) -> str:
    """Draw the profiles, turn them, and cut the cap's grip; returns the form's id."""
    form = designer.document("form")
    for ident, name, corners, closed, _finish, material in PARTS:
        curve = f"{ident}-profile"
        designer.edit(form, StartPart(part=curve, name=f"{name} profile", start=_profile(corners, closed)))
        turned = b.TurnedProfile(inputs={"profile": FromPart(part=curve)}, tag=ident)
        designer.edit(form, StartPart(part=ident, name=name, start=turned))
        designer.edit(form, ChangePart(part=curve, visible=False))
        if material:
            designer.edit(form, ChangePart(part=ident, material=material))
    _grip(designer, form)
    return form


def _profile(corners: tuple[Corner, ...], closed: bool) -> DrawnCurve:
    count = len(corners)
    pieces = tuple(
        CurvePiece(name=f"line-{k + 1}", kind="line", points=(k, (k + 1) % count))
        for k in range(count if closed else count - 1)
    )
    rounds = tuple(CornerRound(point=k, radius=radius) for k, (_, _, radius) in enumerate(corners) if radius)
    points = tuple((float(across), float(up)) for across, up, _ in corners)
    return DrawnCurve(plane=CurvePlane(on="front"), points=points, pieces=pieces, rounds=rounds)


def _grip(designer: Designer, form: str) -> None:
    """Slots round the cap: one rod, repeated round the axis, cut away."""
    rod = CurvePiece(name="rod", kind="circle", points=(0,), value=0.7)
    plane = CurvePlane(on="top", origin=(0.0, 0.0, 58.6))
    designer.edit(
        form, StartPart(part="slot", name="Slot", start=DrawnCurve(plane=plane, points=((11.9, 0.0),), pieces=(rod,)))
    )
    drawn_out = b.ExtrudedProfile(distance=11.0, inputs={"profile": FromPart(part="slot")}, tag="slot")
    designer.edit(form, StartPart(part="slots", name="Slots", start=drawn_out))
    designer.edit(form, Shape(part="slots", step=b.RepeatedRound(count=SLOTS, tag="round")))
    cut = b.Combined(how="cut away", name="Slots", inputs={"other": FromPart(part="slots")}, tag="grip")
    designer.edit(form, Shape(part="cap", step=cut))
    for part in ("slot", "slots"):
        designer.edit(form, ChangePart(part=part, visible=False))


def light_sorrel(designer: Designer, form: str) -> str:
    """A studio for the bottle, and two shots."""
    studio = designer.document("studio")
    head = designer.project.ledger.row(form).head or 0
    designer.edit(studio, StartSet(start="Evening window"))
    for ident, name, _corners, _closed, finish, _material in PARTS:
        designer.edit(studio, SetFinish(part=ident, name=name, finish=finish))
    camera = Camera(
        focal=85.0, distance=330.0, azimuth=18.0, height=85.0, aim=49.0, aperture=11.0, white=4_400.0, exposure=9.2
    )
    designer.edit(studio, SetCamera(camera=camera))
    designer.edit(studio, KeepShot(id="window", name="By the window", width=720, height=960, form=form, form_edit=head))
    designer.edit(studio, StartSet(start="Quarry"))
    designer.edit(studio, SetCamera(camera=camera.model_copy(update={"exposure": 8.6, "white": 6_500.0})))
    designer.edit(studio, KeepShot(id="stone", name="On stone", width=720, height=960, form=form, form_edit=head))
    designer.edit(studio, OpenShot(id="window"))
    return studio
