"""What makes Linnet's body a product: a parting groove round its waist, the grille, the word mark, bosses on its back."""

from __future__ import annotations

import numpy as np

from hollow_marble.core.bodies.solid_body import face_keys
from hollow_marble.demo.designer import Designer
from hollow_marble.demo.fittings import front
from hollow_marble.demo.product import radii
from hollow_marble.documents.form.curves import CurvePiece, CurvePlane, DrawnCurve
from hollow_marble.documents.form.details import AlongLine, GrilleStep, LetteringStep, SectionLine, StampedCurve
from hollow_marble.documents.form.edits import ChangePart, Shape, StartPart
from hollow_marble.documents.form.recipe import FromPart, FromStep

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
    """Put all of it on the body."""
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
