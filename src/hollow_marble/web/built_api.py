"""Curves and solids: curves while they are dragged, what can be picked of a solid, STEP out and in."""

from __future__ import annotations

import time
from dataclasses import asdict
from typing import Annotated, Any, Literal

import numpy as np
from flask import Response
from flask_openapi3 import FileStorage, Tag
from pydantic import BaseModel, ConfigDict, Field

from hollow_marble.application import built, forms, profiles
from hollow_marble.core.curves.planes import Plane
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.form.built import PickedEdge
from hollow_marble.documents.form.curves import CurvePlane, DrawnCurve, Place
from hollow_marble.documents.form.steps import Vector
from hollow_marble.web import shapes
from hollow_marble.web.blueprint import Blueprint
from hollow_marble.web.documents_api import project_of, told
from hollow_marble.web.packing import packed
from hollow_marble.web.running import application, hand
from hollow_marble.web.sending import download

api = Blueprint("built", __name__, url_prefix="/api/projects/<project>/forms", abp_tags=[Tag(name="built")])


class CurveRequest(BaseModel):
    """A curve as it would be, with points (by number) dragged to places in its plane."""

    step: DrawnCurve
    grip: dict[int, Place] = Field(default_factory=dict)


class CurvePlaneShape(BaseModel):
    """Where a flat curve stands: p = origin + x·across + y·up."""

    origin: Vector
    across: Vector
    up: Vector


class KeptCurve(BaseModel):
    """A curve as its dimensions leave it; in space `lines` end to end, corners rounded, and `pieces` as drawn; `plane` null where it has none."""

    points: list[list[float]]
    values: list[float]
    free: int
    lines: list[list[Vector]]
    pieces: list[list[Vector]]
    plane: CurvePlaneShape | None
    milliseconds: float


class FitRequest(BaseModel):
    """A line in space, mm, to be followed by a spline in a plane."""

    points: Annotated[list[Vector], Field(min_length=2, max_length=20_000)]
    plane: CurvePlane = CurvePlane()
    tolerance: float = Field(0.1, gt=0, le=100)


class FittedCurve(BaseModel):
    """Points that draw the spline, and how far it is off at most, mm."""

    points: list[list[float]]
    off: float


class PlaneRequest(BaseModel):
    """A plane a curve is to stand on; `on` is the part whose face it names."""

    plane: CurvePlane
    on: str | None = None


class Picks(BaseModel):
    """Edges and faces of a built part, by name."""

    edges: Annotated[tuple[PickedEdge, ...], Field(max_length=2000)] = ()
    faces: Annotated[tuple[str, ...], Field(max_length=2000)] = ()


class MeasuredPicks(BaseModel):
    """Length mm, area mm²; radius mm where all have the same; of two picks how far apart they are, the angle between them in degrees, and
    how far their axes are apart."""

    length: float
    area: float
    radius: float | None
    apart: float | None
    angle: float | None
    axes: float | None


class SolidForm(BaseModel):
    model_config = ConfigDict(arbitrary_types_allowed=True)
    file: FileStorage
    heal: bool = Field(True, description="sew gaps and fix edges")


class ProfileForm(BaseModel):
    model_config = ConfigDict(arbitrary_types_allowed=True)
    file: FileStorage
    on: Literal["front", "side", "top"] = Field("front", description="the plane its curves are to stand on")


class ProfileQuery(shapes.Asked):
    format: Literal["dxf", "svg"]


class StepQuery(shapes.Asked):
    part: str | None = Field(None, description="one part; all shown parts where it is left out")


@api.post("/<document>/curves", responses={200: KeptCurve})
def keep_curve(path: shapes.InDocument, body: CurveRequest) -> dict[str, Any]:
    """What a curve would be while a point is dragged or a dimension typed; nothing is stored."""
    began = time.perf_counter()
    project = project_of(path)
    form = forms.form_of(project, path.document)
    evaluator = application().workspace.evaluator(project)
    return _kept(built.kept_curve(evaluator, form, body.step, dict(body.grip)), began)


@api.get("/<document>/parts/<part>/curve", responses={200: KeptCurve})
def curve(path: shapes.InPart) -> dict[str, Any]:
    """A drawn curve as it stands."""
    began = time.perf_counter()
    project = project_of(path)
    form = forms.form_of(project, path.document)
    return _kept(built.curve_of(application().workspace.evaluator(project), form, path.part), began)


def _kept(found: built.Kept, began: float) -> dict[str, Any]:
    plane = found.plane
    return {
        "points": found.points.tolist(),
        "values": list(found.values),
        "free": found.free,
        "lines": [line.tolist() for line in found.lines],
        "pieces": [line.tolist() for line in found.pieces],
        "plane": plane and _stands(plane),
        "milliseconds": (time.perf_counter() - began) * 1000,
    }


@api.post("/<document>/curves/plane", responses={200: CurvePlaneShape})
def stands(path: shapes.InDocument, body: PlaneRequest) -> dict[str, Any]:
    """Where a plane stands."""
    project = project_of(path)
    form = forms.form_of(project, path.document)
    plane = built.plane_of(application().workspace.evaluator(project), form, body.plane, body.on)
    if plane is None:
        raise HollowMarbleError("In space there is no plane. Choose a side, a face or three points.")
    return _stands(plane)


def _stands(plane: Plane) -> dict[str, Any]:
    return {name: getattr(plane, name).tolist() for name in ("origin", "across", "up")}


@api.post("/<document>/curves/fit", responses={200: FittedCurve})
def fit_curve(path: shapes.InDocument, body: FitRequest) -> dict[str, Any]:
    """A spline of few points that follows a line of a sheet."""
    evaluator = application().workspace.evaluator(project_of(path))
    plane = body.plane.core({}, evaluator.making("", "fit"))
    poles, off = built.fitted_curve(np.array(body.points, float), plane, body.tolerance)
    return {"points": poles.tolist(), "off": off}


@api.get("/<document>/parts/<part>/names")
def names(path: shapes.InPart) -> Response:
    """Faces and edges of a built part by name, packed: `lines` are the edges' points, one edge after the other."""
    project = project_of(path)
    form = forms.form_of(project, path.document)
    found = built.pickable(application().workspace.evaluator(project), form, path.part)
    points = [line for _, line in found.edges]
    starts = np.cumsum([0, *map(len, points)]).astype(np.int32)
    lines = np.vstack(points).astype(np.float32) if points else np.empty((0, 3), np.float32)
    meta = {"key": found.key, "faces": list(found.faces), "edges": [name for name, _ in found.edges]}
    return packed(meta, {"lines": lines, "lineStarts": starts})


@api.post("/<document>/parts/<part>/measured", responses={200: MeasuredPicks})
def measured(path: shapes.InPart, body: Picks) -> dict[str, Any]:
    """What is to be known of picked edges and faces, from the exact geometry."""
    project = project_of(path)
    form = forms.form_of(project, path.document)
    return asdict(built.measured(application().workspace.evaluator(project), form, path.part, body.edges, body.faces))


@api.get("/<document>/step")
def export_step(path: shapes.InDocument, query: StepQuery) -> Response:
    """A ZIP of a STEP file (AP242) and of what is to be known of it."""
    project = project_of(path)
    form = forms.form_of(project, path.document)
    data = built.step_archive(application(), project, form, query.part)
    return download(data, "application/zip", f"{project.entry.name} STEP.zip")


@api.post("/<document>/solids", responses={200: shapes.Changed})
def import_solids(path: shapes.InDocument, form: SolidForm) -> dict[str, Any]:
    """Bring in the parts of a STEP or IGES file."""
    name, data = form.file.filename or "file.step", form.file.stream.read()
    made = built.bring_solids(application(), project_of(path), path.document, name, data, form.heal, hand())
    return told(path, made)


@api.post("/<document>/profiles", responses={200: shapes.Changed})
def import_profiles(path: shapes.InDocument, form: ProfileForm) -> dict[str, Any]:
    """Bring in the profiles of a DXF or SVG file as curves."""
    name, data = form.file.filename or "file.dxf", form.file.stream.read()
    made = profiles.bring_profiles(application(), project_of(path), path.document, name, data, form.on, hand())
    return told(path, made)


@api.get("/<document>/parts/<part>/profile")
def export_profile(path: shapes.InPart, query: ProfileQuery) -> Response:
    """A flat curve as DXF or SVG."""
    project = project_of(path)
    form = forms.form_of(project, path.document)
    data = profiles.profile_file(application().workspace.evaluator(project), form, path.part, query.format)
    name = next(part.name for part in form.parts if part.id == path.part)
    return download(data, {"dxf": "image/vnd.dxf", "svg": "image/svg+xml"}[query.format], f"{name}.{query.format}")
