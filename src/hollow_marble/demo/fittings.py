"""Linnet's built parts: a knurled dial, a battery door, a charging cover, a foot, a lanyard bar; and its shell, hollowed and opened for them."""

from __future__ import annotations

import numpy as np

from hollow_marble.core.curves.planes import UPRIGHT
from hollow_marble.demo.designer import Designer
from hollow_marble.demo.product import radii
from hollow_marble.documents.form import built as b
from hollow_marble.documents.form.changes import StoodPart
from hollow_marble.documents.form.curves import CornerRound, CurvePiece, CurvePlane, DrawnCurve
from hollow_marble.documents.form.details import Knurled
from hollow_marble.documents.form.edits import ChangePart, Shape, StartPart
from hollow_marble.documents.form.model import Start
from hollow_marble.documents.form.recipe import FromPart, FromStep
from hollow_marble.documents.form.skin_lines import SectionLine

WALL = 1.6
PLAY = 0.2
"""mm between a door or cover and its opening, all round."""
PROUD = 0.3
"""mm a door or cover stands out of the skin."""
DIAL = 20.0
"""Height of the dial's middle."""
TEETH = 56
RIM = 4.2
"""From the dial's origin to the middle of its knurl, mm forward."""
DOOR = (26.0, 36.0, 5.0)
COVER = (4.6, 13.0, 2.28)
"""Width, height, radius of corners, mm."""


def fit(designer: Designer, form: str) -> None:
    """Build all of it; what it is built of is hidden."""
    _dial(designer, form)
    _bar(designer, form)
    _foot(designer, form)
    door = CurvePlane(on="front", origin=(0.0, 8.0, -14.0))
    cover = CurvePlane(on="side", origin=(14.0, 0.0, -33.0))
    _panel(designer, form, "door", "Battery door", DOOR, door, -30.0, (0.0, PROUD, 0.0))
    _panel(designer, form, "cover", "Charging cover", COVER, cover, 30.0, (PROUD, 0.0, 0.0))
    _notch(designer, form)
    _shell(designer, form, door, cover)


def front(height: float) -> float:
    """Where the body's front is at a height, mm along depth."""
    return -float(radii(np.array([height]))[1][0])


def lean(height: float) -> float:
    """Degrees by which the body's front leans at a height."""
    return float(-np.degrees(np.arctan((front(height + 4) - front(height - 4)) / 8)))


def _curve(designer: Designer, form: str, ident: str, name: str, curve: DrawnCurve) -> None:
    designer.edit(form, StartPart(part=ident, name=name, start=curve))
    designer.edit(form, ChangePart(part=ident, visible=False, group="Profiles"))


def _start(designer: Designer, form: str, ident: str, name: str, start: Start) -> None:
    designer.edit(form, StartPart(part=ident, name=name, start=start))


def _lines(count: int, closed: bool = False) -> tuple[CurvePiece, ...]:
    ends = [(k, (k + 1) % count) for k in range(count if closed else count - 1)]
    return tuple(CurvePiece(name=f"line-{k + 1}", kind="line", points=pair) for k, pair in enumerate(ends))


def _dial(designer: Designer, form: str) -> None:
    """A dished disc turned about an axis that looks forward, square to the front; the knurl runs over its shoulder, so that its teeth are seen from the front."""
    at = (0.0, front(DIAL) + 2.2, DIAL)
    # its upright is the axis, backwards; the profile lies before the plane's origin
    points = ((0.0, -5.2), (4.0, -5.25), (7.2, -5.6), (9.1, -6.3), (9.8, -6.3), (11.6, -4.5), (11.6, 1.2), (0.0, 1.2))
    dish = CurvePiece(name="dish", kind="through", points=(0, 1, 2, 3))
    rest = tuple(CurvePiece(name=name, kind="line", points=pair) for name, pair in (
        ("lip", (3, 4)), ("shoulder", (4, 5)), ("rim", (5, 6)), ("back", (6, 7)),
    ))  # fmt: skip
    profile = DrawnCurve(
        plane=CurvePlane(on="top", origin=at, tilt=(lean(DIAL), 0.0, 0.0)),
        points=points,
        pieces=(dish, *rest),
        rounds=(CornerRound(point=3, radius=0.1), CornerRound(point=5, radius=1.6)),
    )
    _curve(designer, form, "dial-profile", "Dial profile", profile)
    out = UPRIGHT["front"].turned(lean(DIAL), 0.0, 0.0).normal
    forward = (at[0] + RIM * float(out[0]), at[1] + RIM * float(out[1]), at[2] + RIM * float(out[2]))
    middle = DrawnCurve(
        plane=CurvePlane(on="front", origin=forward, tilt=(lean(DIAL), 0.0, 0.0)),
        points=((0.0, 0.0),),
        pieces=(CurvePiece(name="middle", kind="circle", points=(0,), value=11.5),),
    )
    _curve(designer, form, "dial-middle", "Dial, middle of its rim", middle)
    turned = b.TurnedProfile(inputs={"profile": FromPart(part="dial-profile")}, tag="dial")
    _start(designer, form, "dial", "Level dial", turned)
    line = SectionLine(inputs={"plane": FromPart(part="dial-middle")}, near=at, tag="dial-line")
    designer.edit(form, Shape(part="dial", step=line))
    knurl = Knurled(count=TEETH, width=4.8, depth=0.7, fade=0.3, inputs={"line": FromStep(index=1)}, tag="dial-knurl")
    designer.edit(form, Shape(part="dial", step=knurl))


def _bar(designer: Designer, form: str) -> None:
    path = DrawnCurve(
        points=((-8.6, 49.0), (-8.6, 63.4), (8.6, 63.4), (8.6, 49.0)),
        pieces=_lines(4),
        rounds=(CornerRound(point=1, radius=7.0), CornerRound(point=2, radius=7.0)),
    )
    _curve(designer, form, "bar-path", "Bar path", path)
    _start(
        designer,
        form,
        "ring",
        "Lanyard bar",
        b.PipedPath(radius=1.9, inputs={"path": FromPart(part="bar-path")}, tag="bar"),
    )


def _foot(designer: Designer, form: str) -> None:
    """A rubber foot: an ellipse drawn out, its lower rim rounded."""
    oval = DrawnCurve(
        plane=CurvePlane(on="top", origin=(0.0, 0.0, -54.9)),
        points=((0.0, 0.0), (14.5, 0.0)),
        pieces=(CurvePiece(name="oval", kind="ellipse", points=(0, 1), value=8.25),),
    )
    _curve(designer, form, "foot-profile", "Foot outline", oval)
    _start(
        designer,
        form,
        "foot",
        "Foot",
        b.ExtrudedProfile(distance=5.0, inputs={"profile": FromPart(part="foot-profile")}, tag="foot"),
    )
    rim = b.PickedEdge(faces=("foot.oval", "foot.start"), middle=(0.0, 0.0, -54.9), length=72.8)
    designer.edit(form, Shape(part="foot", step=b.RoundedEdges(edges=(rim,), radius=1.3, tag="rim")))


def _rectangle(size: tuple[float, float, float], plane: CurvePlane, more: float = 0.0) -> DrawnCurve:
    """A rectangle about its plane's origin with round corners, `more` mm larger all round."""
    wide, tall, radius = size[0] / 2 + more, size[1] / 2 + more, size[2] + more
    return DrawnCurve(
        plane=plane,
        points=((-wide, -tall), (wide, -tall), (wide, tall), (-wide, tall)),
        pieces=_lines(4, closed=True),
        rounds=tuple(CornerRound(point=k, radius=radius) for k in range(4)),
    )


def _panel(
    designer: Designer,
    form: str,
    ident: str,
    name: str,
    size: tuple[float, float, float],
    plane: CurvePlane,
    distance: float,
    proud: tuple[float, float, float],
) -> None:
    """A panel that has the body's own skin outside: an outline drawn out, trimmed to the body, standing a little proud."""
    _curve(designer, form, f"{ident}-outline", f"{name}, outline", _rectangle(size, plane))
    inputs = {"profile": FromPart(part=f"{ident}-outline"), "within": FromPart(part="body")}
    _start(designer, form, ident, name, b.ExtrudedProfile(distance=distance, inputs=inputs, tag=ident))
    designer.edit(form, Shape(part=ident, step=StoodPart(move=proud)))


def _notch(designer: Designer, form: str) -> None:
    """Where a thumb takes hold of the door."""
    back = float(radii(np.array([-1.0]))[2][0])
    path = DrawnCurve(
        plane=CurvePlane(on="front", origin=(0.0, back + PROUD + 2.6, -1.0)),
        points=((-5.0, 0.0), (5.0, 0.0)),
        pieces=_lines(2),
    )
    _curve(designer, form, "notch-path", "Notch path", path)
    notch = b.PipedPath(radius=3.4, how="cut away", inputs={"path": FromPart(part="notch-path")}, tag="notch")
    designer.edit(form, Shape(part="door", step=notch))


def _shell(designer: Designer, form: str, door: CurvePlane, cover: CurvePlane) -> None:
    """What is moulded: a solid that follows the sculpted body, hollowed, opened for door and charging. Hidden; shown, it is worked out."""
    start = b.MadeExact(name="Body", inputs={"of": FromPart(part="body")}, tag="shell")
    _start(designer, form, "shell", "Shell", start)
    designer.edit(form, ChangePart(part="shell", visible=False, group="To be moulded"))
    designer.edit(form, Shape(part="shell", step=b.Hollowed(wall=WALL, tag="hollow")))
    for ident, name, size, plane, distance in (
        ("door-opening", "Door opening", DOOR, door, -30.0),
        ("charging-opening", "Charging opening", COVER, cover, 30.0),
    ):
        _curve(designer, form, ident, name, _rectangle(size, plane, PLAY))
        opening = b.ExtrudedProfile(
            distance=distance, how="cut away", inputs={"profile": FromPart(part=ident)}, tag=ident
        )
        designer.edit(form, Shape(part="shell", step=opening))
