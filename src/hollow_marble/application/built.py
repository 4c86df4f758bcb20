"""Curves and solids, beside plain edits: curves dragged, fitted and put in shape; what can be picked of a solid; STEP out and in."""

from __future__ import annotations

import io
import zipfile
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from hollow_marble.application.application import Application
from hollow_marble.application.editing import Hand, Made, Proposal
from hollow_marble.application.sheets.strokes import new_id
from hollow_marble.application.studios import dress_in
from hollow_marble.core.bodies.cage_body import CageBody
from hollow_marble.core.bodies.solid_body import SolidBody
from hollow_marble.core.curves.chains import outline
from hollow_marble.core.curves.drawing import Chain
from hollow_marble.core.curves.planes import Plane
from hollow_marble.core.curves.splines import fitted
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.solids.patches import fidelity_of
from hollow_marble.core.solids.solid import Measured, Solid
from hollow_marble.documents.edit import Asset, asset_of, find
from hollow_marble.documents.form.built import BROUGHT_MEDIA, BroughtSolid, PickedEdge
from hollow_marble.documents.form.curves import CurvePlane, DrawnCurve
from hollow_marble.documents.form.edits import StartPart, StartParts
from hollow_marble.documents.form.evaluation import FormEvaluator
from hollow_marble.documents.form.model import Form
from hollow_marble.documents.form.recipe import FromPart, Inputs
from hollow_marble.jobs.task import Work
from hollow_marble.store.library import Project

MOST_FILE = 100_000_000
"""Bytes of a STEP or IGES file."""
_READING = 300.0
_FINE = 5000
"""A curve's lines on the screen are off by no more than this part of its size."""
_TOO_LARGE = (
    "The file is more than this machine can take: it has too many faces, or is damaged. Export single parts of it."
)
KINDS = {"step": "step", "stp": "step", "iges": "iges", "igs": "iges"}
Array = NDArray[np.float64]


@dataclass(frozen=True)
class Kept:
    """A curve as its dimensions leave it: points and values of its pieces, ways to move that are left; in space the lines of its
    chains, corners rounded, and of its pieces, corners as drawn."""

    points: Array
    values: tuple[float, ...]
    free: int
    lines: tuple[Array, ...]
    pieces: tuple[Array, ...]
    plane: Plane | None


def kept_curve(evaluator: FormEvaluator, form: Form, step: DrawnCurve, grip: dict[int, tuple[float, ...]]) -> Kept:
    """What a curve would be with points dragged to places; nothing is stored."""
    drawing, free = step.kept({point: np.array(place) for point, place in grip.items()})
    on = step.inputs.get("on")
    plane = plane_of(evaluator, form, step.plane, on.part if isinstance(on, FromPart) else None)
    placed = [
        [plane.placed(chain) for chain in chains] if plane else chains
        for chains in (drawing.chains(), [Chain((drawing.segment(piece),), False) for piece in drawing.pieces])
    ]
    fine = float(np.clip(np.ptp(drawing.points, axis=0).max() / _FINE, 0.002, 0.05))
    lines, pieces = (tuple(outline(chain, fine) for chain in chains) for chains in placed)
    return Kept(drawing.points, tuple(piece.value for piece in drawing.pieces), free, lines, pieces, plane)


def plane_of(evaluator: FormEvaluator, form: Form, plane: CurvePlane, on: str | None) -> Plane | None:
    """Where a plane stands, on a face of a part (`on`) or by itself; None for none."""
    inputs: Inputs = {}
    if on is not None:
        inputs["on"] = evaluator.body(find(form.parts, on, "part"), form.parts)
    return plane.core(inputs, evaluator.making("", "preview"))


def curve_of(evaluator: FormEvaluator, form: Form, part: str) -> Kept:
    """A drawn curve of the form as it stands: its own points, before later steps changed it as a whole."""
    found = find(form.parts, part, "part")
    step = found.steps[0]
    if not isinstance(step, DrawnCurve):
        raise HollowMarbleError(f"{found.name} is {step.what}, not a curve.")
    return kept_curve(evaluator, form, step, {})


def fitted_curve(points: Array, plane: Plane | None, tolerance: float) -> tuple[Array, float]:
    """Points a spline is drawn to so that it follows a line (n, 3) of a sheet within a tolerance, flat in a plane; and how far off it is."""
    flat = plane.of(points) if plane is not None else points
    found, off = fitted("traced", flat, tolerance)
    return found.poles, off


@dataclass(frozen=True)
class Pickable:
    """What can be picked of a part: names of its faces in the mesh's order, and its edges by name with their points (n, 3)."""

    key: str
    faces: tuple[str, ...]
    edges: tuple[tuple[str, Array], ...]


def pickable(evaluator: FormEvaluator, form: Form, part: str) -> Pickable:
    """Faces and edges of a built part by their names, beneath the details on its skin; none of any other."""
    found = find(form.parts, part, "part")
    body = evaluator.body(found, form.parts)
    key = evaluator.key(found, form.parts)
    bare = body.bare
    return Pickable(key, bare.solid.names, bare.edge_names()) if isinstance(bare, SolidBody) else Pickable(key, (), ())


def measured(
    evaluator: FormEvaluator, form: Form, part: str, edges: tuple[PickedEdge, ...], faces: tuple[str, ...]
) -> Measured:
    """What is to be known of picked edges and faces of a built part."""
    body = evaluator.body(find(form.parts, part, "part"), form.parts)
    solid = body.exact(evaluator.kernel)
    found: Measured = evaluator.kernel("measured", solid, tuple(edge.core() for edge in edges), faces)
    return found


def step_archive(application: Application, project: Project, form: Form, part: str | None) -> bytes:
    """A ZIP of a STEP file (AP242) of one part, or of all shown parts, and of what is to be known of it."""
    evaluator = application.workspace.evaluator(project)
    parts = [find(form.parts, part, "part")] if part else [p for p in form.parts if p.shown]
    if not parts:
        raise HollowMarbleError("There is nothing to export yet. Begin a part in Form first.")
    dress = dress_in(project, evaluator)
    named: list[tuple[str, tuple[float, float, float] | None, Solid, tuple[Array, ...]]] = []
    told: list[str] = []
    for one in parts:
        body = evaluator.body(one, form.parts)
        try:
            solid = body.exact(evaluator.kernel)
        except HollowMarbleError as error:
            told.append(f"{one.name}: left out. {error}")
            continue
        covers = dress(one, body.mesh())
        colour = tuple(float(c) for c in covers[0].look.colour[:3]) if covers else None
        lines = tuple(line.spots.points[line.ring] for _, line in evaluator.lines(one, form.parts))
        named.append((one.name, colour, solid, lines))  # type: ignore[arg-type]
        curves = f" The {len(lines)} lines on its skin go along as curves." if len(lines) > 1 else ""
        curves = " The line on its skin goes along as a curve." if len(lines) == 1 else curves
        told.append(_told(one.name, body, solid) + curves)
    if not named:
        raise HollowMarbleError("None of the parts has exact faces: still bodies go out as STL or PLY.")
    data = application.solids(
        project.entry.id, "Export as STEP", Work("written", (named, project.entry.name)), _READING, _TOO_LARGE
    )
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr(f"{project.entry.name}.step", data)
        archive.writestr(f"{project.entry.name}.txt", "\n".join([*told, ""]))
    return packed.getvalue()


def _told(name: str, body: Any, solid: Solid) -> str:
    faces, closed = len(solid.names), "closed" if solid.closed else "open"
    first = " ".join((f"{name}: {closed}, {faces} faces, {solid.volume / 1000:.3f} cm³.", *solid.told))
    body = body.bare
    if not isinstance(body, CageBody):
        return first
    found = fidelity_of(body.cage)
    size = float(np.linalg.norm(np.ptp(body.cage.points, axis=0)))
    jumps = ", ".join(f"{angle:.3f}° where {n} faces meet" for n, angle in sorted(found.jumps.items()) if n != 4)
    turns = f" Normals of neighbours differ by up to {jumps}." if jumps else ""
    return (
        f"{first} From a sculpted skin: off by {found.off:.2g} mm at most, {found.off / size:.1g} of its size.{turns}"
    )


def bring_solids(
    application: Application, project: Project, ident: str, name: str, data: bytes, heal: bool, hand: Hand
) -> Made:
    """The parts of a STEP or IGES file as new parts: one edit. What is the matter with each is told with it."""
    kind = KINDS.get(name.rsplit(".", 1)[-1].lower() if "." in name else "", "")
    if not kind:
        raise HollowMarbleError(f"{name} is neither STEP nor IGES. Choose a .step, .stp, .iges or .igs file.")
    if len(data) > MOST_FILE:
        raise HollowMarbleError(
            f"{name} has {len(data) // 1_000_000} MB; up to {MOST_FILE // 1_000_000} MB can be read here. Export single parts of it."
        )
    found = application.solids(
        project.entry.id, f"Reading {name}", Work("brought", (data, kind, name, heal)), _READING, _TOO_LARGE
    )
    assets = [asset_of(part.solid.shape, BROUGHT_MEDIA) for part, _ in found]

    coming = {asset.sha: asset.data for asset in assets}
    evaluator = application.workspace.evaluator(project)
    loaded = FormEvaluator(lambda sha: coming.get(sha) or evaluator.load(sha), evaluator.shelf, evaluator.kernel)

    def compose(form: Form) -> Proposal:
        begun = tuple(
            StartPart(part=new_id(8), name=part.name, start=_brought(part, diagnosis, asset))
            for (part, diagnosis), asset in zip(found, assets)
        )
        edit = StartParts(parts=begun, file=name[:60])
        after = edit.applied_to(form)
        for part in after.parts[-len(begun) :]:
            loaded.body(part, after.parts)  # what it makes is on the shelf from here on
        return Proposal(edit, _once(assets))

    return application.editing.make(project, ident, compose, hand)


def _brought(part: Any, diagnosis: Any, asset: Asset) -> BroughtSolid:
    solid: Solid = part.solid
    return BroughtSolid(
        shape=asset.sha,
        name=part.name,
        faces=len(solid.names),
        volume=max(solid.volume, 0.0),
        closed=solid.closed,
        note=diagnosis.sentence(),
        tag=new_id(6),
    )


def _once(assets: list[Asset]) -> tuple[Asset, ...]:
    return tuple({asset.sha: asset for asset in assets}.values())
