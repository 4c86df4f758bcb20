"""What makes Linnet a product: a parting groove round its waist, the grille, the word mark, bosses on its back; a tread under
its foot."""

from __future__ import annotations

import io

import numpy as np
from PIL import Image

from hollow_marble.core.bodies.solid_body import face_keys
from hollow_marble.demo.designer import Designer
from hollow_marble.demo.fittings import front
from hollow_marble.demo.product import radii
from hollow_marble.documents.edit import asset_of
from hollow_marble.documents.form import built as b
from hollow_marble.documents.form.curves import CurvePiece, CurvePlane, DrawnCurve
from hollow_marble.documents.form.details import AlongLine, GrilleStep, LetteringStep, StampedCurve
from hollow_marble.documents.form.edits import ChangePart, Shape, StartPart
from hollow_marble.documents.form.model import Start
from hollow_marble.documents.form.recipe import FromPart, FromStep
from hollow_marble.documents.form.skin_lines import SectionLine
from hollow_marble.documents.form.spreads import Spread

WAIST = -5.0
GRILLE = 42.6
WORD = -40.5
BOSSES = ((-13.5, 30.0), (13.5, 30.0), (-13.5, -41.0), (13.5, -41.0))
"""Across and up, mm."""
WORD_TAG = "word"


def word_key() -> str:
    """The key of the word mark's face, for a finish of its own."""
    return f"{int(face_keys((f'{WORD_TAG}.relief',))[0]):016x}"


def detail(designer: Designer, form: str) -> None:
    """Put all of it on."""
    _body(designer, form)
    _tread(designer, form)


def _body(designer: Designer, form: str) -> None:
    body = next(part for part in designer.project.ledger.state(form).parts if part.id == "body")  # type: ignore[union-attr]
    designer.edit(form, Shape(part="body", step=SectionLine(at=WAIST, tag="waist")))
    groove = AlongLine(
        width=0.8,
        depth=0.5,
        lean=8.0,
        rim=0.1,
        floor=0.12,
        inputs={"line": FromStep(index=len(body.steps))},
        tag="parting",
    )
    designer.edit(form, Shape(part="body", step=groove))
    grille = GrilleStep(
        at=(0.0, front(GRILLE), GRILLE), wide=19.0, tall=13.0, opening=1.15, gap=1.3, land=0.6, depth=1.6, lean=3.0,
        rim=0.18, floor=0.2, tag="grille",
    )  # fmt: skip
    designer.edit(form, Shape(part="body", step=grille))
    word = LetteringStep(at=(0.0, front(WORD), WORD), text="Linnet", tall=2.9, spacing=0.12, depth=0.16, tag=WORD_TAG)
    designer.edit(form, Shape(part="body", step=word))
    ring = DrawnCurve(
        plane=CurvePlane(on="front"),
        points=((0.0, 0.0),),
        pieces=(
            CurvePiece(name="outer", kind="circle", points=(0,), value=2.3),
            CurvePiece(name="bore", kind="circle", points=(0,), value=1.1),
        ),
    )
    designer.edit(form, StartPart(part="boss-outline", name="Boss outline", start=ring))
    designer.edit(form, ChangePart(part="boss-outline", visible=False, group="Profiles"))
    for number, (across, up) in enumerate(BOSSES):
        back = float(radii(np.array([up]))[2][0])
        boss = StampedCurve(
            at=(across, back, up), way="raised", depth=0.5, lean=6.0, rim=0.1, floor=0.12,
            inputs={"curve": FromPart(part="boss-outline")}, tag=f"boss-{number + 1}",
        )  # fmt: skip
        designer.edit(form, Shape(part="body", step=boss))


def _circle(designer: Designer, form: str, ident: str, name: str, radius: float) -> None:
    circle = DrawnCurve(
        plane=CurvePlane(on="top"), points=((0.0, 0.0),), pieces=(CurvePiece(name="c", kind="circle", points=(0,), value=radius),)
    )  # fmt: skip
    _hidden(designer, form, ident, name, circle)


def _hidden(designer: Designer, form: str, ident: str, name: str, start: Start) -> None:
    designer.edit(form, StartPart(part=ident, name=name, start=start))
    designer.edit(form, ChangePart(part=ident, visible=False, group="Profiles"))


def _tread(designer: Designer, form: str) -> None:
    """Studs under the foot, larger towards its rim: driven by a grey picture."""
    _circle(designer, form, "stud-outline", "Stud outline", 0.55)
    stud = b.ExtrudedProfile(
        distance=0.7, back=0.2, taper=12.0, inputs={"profile": FromPart(part="stud-outline")}, tag="stud"
    )
    _hidden(designer, form, "stud", "Stud", stud)
    y, x = np.mgrid[-1:1:64j, -1:1:112j]
    grey = np.clip(255 * (x * x + y * y), 0, 255).astype(np.uint8)
    grey[(x * x + y * y) > 0.88] = 0
    file = io.BytesIO()
    Image.fromarray(np.repeat(grey[:, :, None], 3, axis=2)).save(file, "PNG")
    picture = asset_of(file.getvalue(), "image/png")
    spread = Spread(
        name="Stud", arranged="staggered", apart=1.7, at=(0.0, 0.0, -54.9), wide=29.0, picture=picture.sha, size=(0.5, 1.15), height=(0.6, 1.0),
        least=0.04, inputs={"element": FromPart(part="stud"), "on": FromPart(part="foot")},
    )  # fmt: skip
    designer.edit(form, StartPart(part="tread", name="Tread", start=spread), picture)
