"""Flat profiles as files: DXF and SVG in as curves, a curve out as either."""

from __future__ import annotations

from typing import Any, Literal

from hollow_marble.application.application import Application
from hollow_marble.application.editing import Hand, Made, Proposal
from hollow_marble.application.sheets.strokes import new_id
from hollow_marble.core.bodies.solid_body import CurveBody
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.edit import find
from hollow_marble.documents.form.curves import CurvePlane, DrawnCurve
from hollow_marble.documents.form.edits import StartPart, StartParts
from hollow_marble.documents.form.evaluation import FormEvaluator
from hollow_marble.documents.form.model import Form
from hollow_marble.exchange.profiles_in import Profiles, check_size
from hollow_marble.exchange.profiles_out import profile_dxf, profile_svg
from hollow_marble.jobs.task import Work
from hollow_marble.store.library import Project

_READING = 60.0
_TOO_MUCH = "The file draws more than this machine can take. Save only the profiles that are wanted."
KINDS = ("dxf", "svg")


def bring_profiles(
    application: Application,
    project: Project,
    ident: str,
    name: str,
    data: bytes,
    on: Literal["front", "side", "top"],
    hand: Hand,
) -> Made:
    """The profiles of a DXF or SVG file as curves on a plane: one edit, which tells what was left out."""
    kind = name.rsplit(".", 1)[-1].lower() if "." in name else ""
    if kind not in KINDS:
        raise HollowMarbleError(f"{name} is neither DXF nor SVG. Choose a .dxf or .svg file.")
    check_size(data, name)
    work = Work("profiled", (data, kind, name))
    found: Profiles = application.solids(project.entry.id, f"Reading {name}", work, _READING, _TOO_MUCH)
    stem = name.rsplit(".", 1)[0][:50] or kind

    def compose(_form: Form) -> Proposal:
        begun = tuple(
            StartPart(
                part=new_id(8),
                name=stem if len(found.drawings) == 1 else f"{stem} {number}",
                start=DrawnCurve.of(drawing, (), CurvePlane(on=on)),
            )
            for number, drawing in enumerate(found.drawings, 1)
        )
        left = ", ".join(f"{count} {kind}" for kind, count in sorted(found.left.items()))
        return Proposal(StartParts(parts=begun, file=name[:60], left=left[:200]))

    return application.editing.make(project, ident, compose, hand)


def profile_file(evaluator: FormEvaluator, form: Form, part: str, kind: str) -> bytes:
    """A flat curve as a file, all its steps done, in the coordinates of its plane."""
    found = find(form.parts, part, "part")
    body: Any = evaluator.body(found, form.parts)
    if not isinstance(body, CurveBody):
        raise HollowMarbleError(f"{found.name} is {found.steps[0].what}, not a curve. Choose a curve to take along.")
    body.drawn.flat("a file of a profile")
    if kind == "dxf":
        return profile_dxf(found.name, body.drawn.chains)
    return profile_svg(found.name, body.drawn.chains).encode()
