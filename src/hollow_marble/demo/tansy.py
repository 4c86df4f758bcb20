"""Tansy, a wrist strap for Linnet: a band of leather in a loop, sewn along both edges."""

from __future__ import annotations

from hollow_marble.demo.designer import Designer
from hollow_marble.documents.form import built as b
from hollow_marble.documents.form.curves import CurvePiece, DrawnCurve
from hollow_marble.documents.form.edits import ChangePart, Shape, StartPart
from hollow_marble.documents.form.recipe import FromPart
from hollow_marble.documents.form.skin_lines import SectionLine
from hollow_marble.documents.form.spreads import Stitched
from hollow_marble.documents.studio.edits import KeepShot, SetCamera, SetFinish, StartSet
from hollow_marble.documents.studio.model import Camera, Finish

LOOP = (25.0, 45.0)
"""Half of the loop across and up, mm, outside."""
WIDE, THICK = 5.0, 2.2
"""Half of the band's width, and its thickness, mm."""
THREAD = Finish(material="woven fabric", colour="#E9DFC8")


def shape_tansy(designer: Designer) -> str:
    """Draw the band out, lay a line beside each edge, sew along it; returns the form's id."""
    form = designer.document("form")
    across, up = LOOP
    rings = DrawnCurve(
        points=((0.0, up), (across, up), (across - THICK, up)),
        pieces=(
            CurvePiece(name="outside", kind="ellipse", points=(0, 1), value=up),
            CurvePiece(name="inside", kind="ellipse", points=(0, 2), value=up - THICK),
        ),
    )
    designer.edit(form, StartPart(part="loop", name="Loop", start=rings))
    designer.edit(form, ChangePart(part="loop", visible=False))
    inputs = {"profile": FromPart(part="loop")}
    band = b.ExtrudedProfile(distance=WIDE, back=WIDE, inputs=inputs, tag="band")
    designer.edit(form, StartPart(part="band", name="Band", start=band))
    for number, side in enumerate((-1, 1), 1):
        line = SectionLine(axis="D", at=side * 3.5, near=(0.0, side * 3.5, 91.0), tag=f"edge-{number}")
        designer.edit(form, Shape(part="band", step=line))
        sewn = Stitched(
            length=2.5, spacing=3.4, thickness=0.6, slant=7.0 * side, irregular=0.35, chance=number,
            inputs={"line": FromPart(part="band", at=f"edge-{number}")},
        )  # fmt: skip
        designer.edit(form, StartPart(part=f"seam-{number}", name=f"Stitches {number}", start=sewn))
    return form


def light_tansy(designer: Designer, form: str) -> str:
    """A studio for the strap, and one shot close to its stitches."""
    studio = designer.document("studio")
    head = designer.project.ledger.row(form).head or 0
    designer.edit(studio, StartSet(start="Evening window"))
    leather = Finish(material="leather", colour="#7A4A2C")
    for ident, name, finish in (
        ("band", "Band", leather), ("seam-1", "Stitches 1", THREAD), ("seam-2", "Stitches 2", THREAD),
    ):  # fmt: skip
        designer.edit(studio, SetFinish(part=ident, name=name, finish=finish))
    camera = Camera(
        focal=100.0, distance=330.0, azimuth=38.0, height=120.0, aim=52.0, aperture=11.0, white=4_400.0, exposure=9.4
    )
    designer.edit(studio, SetCamera(camera=camera))
    designer.edit(studio, KeepShot(id="sewn", name="Sewn", width=720, height=720, form=form, form_edit=head))
    return studio
