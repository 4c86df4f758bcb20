"""Probes: lines of light, sections and combs, maps of curvature, draft, walls and deviation, and all that is checked."""

from __future__ import annotations

import time
from dataclasses import asdict
from datetime import UTC, datetime
from typing import Any

import numpy as np
from flask import Response
from flask_openapi3 import Tag
from numpy.typing import NDArray

from hollow_marble.application import checks, flattened, forms, outlines, probes
from hollow_marble.application.reports.content import compose
from hollow_marble.application.reports.shots import close_up_png
from hollow_marble.application.reports.written import MEDIA as MEDIA_OF_REPORT
from hollow_marble.application.reports.written import report_bytes
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.surface.continuity import Seam, Worst
from hollow_marble.core.surface.findings import Limits, verdict
from hollow_marble.core.surface.sections import Combed
from hollow_marble.documents.edit import find
from hollow_marble.documents.form.model import Part
from hollow_marble.web import shapes, surface_shapes
from hollow_marble.web.blueprint import Blueprint
from hollow_marble.web.documents_api import project_of
from hollow_marble.web.packing import packed
from hollow_marble.web.running import application
from hollow_marble.web.sending import download

api = Blueprint("surface", __name__, url_prefix="/api/projects/<project>/forms", abp_tags=[Tag(name="surface")])

MOST_PLACES = 400
"""Of a seam, as it is told."""

MEDIA = {"svg": "image/svg+xml", "dxf": "image/vnd.dxf"}


@api.get("/<document>/parts/<part>/curvature")
def curvature(path: shapes.InPart) -> Response:
    """Both principal curvatures (1/mm) at every mesh point with their directions (3 of 127ths each), packed."""
    began = time.perf_counter()
    project = project_of(path)
    form, part = forms.part_of(project, path.document, path.part)
    found = probes.probed_of(application().workspace, project, form, part).bends
    return packed(
        {
            "exact": float(found.exact.mean()),
            "estimate": not found.exact.any(),
            "milliseconds": (time.perf_counter() - began) * 1000,
        },
        {
            "high": found.high.astype(np.float32),
            "low": found.low.astype(np.float32),
            "along": np.round(found.along.reshape(-1, 6) * 127).astype(np.int8),
            "exact": found.exact.astype(np.uint8),
        },
    )


@api.post("/<document>/parts/<part>/finer")
def finer(path: shapes.InPart, body: surface_shapes.FinerRequest) -> Response:
    """Some patches of a part's mesh, finer: positions, normals and triangles, packed."""
    project = project_of(path)
    form, part = forms.part_of(project, path.document, path.part)
    found = probes.finer_patches(application().workspace, project, form, part, body.key, body.level, body.patches)
    return packed({"level": body.level}, dict(zip(("positions", "normals", "triangles"), found)))


@api.post("/<document>/lines")
def lines(path: shapes.InDocument, body: surface_shapes.LightLinesRequest) -> Response:
    """Highlight lines, reflections or isophotes over the shown parts, packed."""
    began = time.perf_counter()
    project = project_of(path)
    found = _lines(path, body)
    form = forms.form_of(project, path.document)
    shown = [part.id for part, _ in application().workspace.evaluator(project).shown(form)]
    arrays: dict[str, NDArray[Any]] = {
        "places": found.places.astype(np.float32),
        "starts": found.starts.astype(np.int32),
        "closed": found.closed.astype(np.uint8),
        "level": found.level.astype(np.int32),
        "part": found.part.astype(np.int32),
    }
    return packed({"parts": shown, "milliseconds": (time.perf_counter() - began) * 1000}, arrays)


@api.post("/<document>/lines/flat")
def lines_flat(
    path: shapes.InDocument, query: surface_shapes.FlatQuery, body: surface_shapes.LightLinesFlat
) -> Response:
    """What is seen of such lines from a direction, in true size, as a file."""
    project = project_of(path)
    form = forms.form_of(project, path.document)
    eye = np.array(body.seen_from, float)
    data = flattened.seen_lines(application().workspace, project, form, _lines(path, body), eye, query.format)
    return download(data, MEDIA[query.format], f"{body.kind} lines.{query.format}")


def _lines(path: shapes.InDocument, body: surface_shapes.LightLinesRequest) -> probes.Drawn:
    project = project_of(path)
    family = probes.Family(**{name: getattr(body, name) for name in surface_shapes.LightLinesRequest.model_fields})
    return probes.light_lines(application().workspace, project, forms.form_of(project, path.document), family)


@api.post("/<document>/sections")
def sections(path: shapes.InDocument, body: surface_shapes.SectionsRequest) -> Response:
    """Sections of the shown parts with their combs, packed."""
    began = time.perf_counter()
    found = _sections(path, body)
    return _combed(found, began)


@api.post("/<document>/sections/flat")
def sections_flat(
    path: shapes.InDocument, query: surface_shapes.FlatQuery, body: surface_shapes.SectionsRequest
) -> Response:
    """Sections laid flat in true size, as a file."""
    data = flattened.flat_sections(_sections(path, body), np.array(body.normal, float), query.format)
    return download(data, MEDIA[query.format], f"Sections.{query.format}")


def _sections(path: shapes.InDocument, body: surface_shapes.SectionsRequest) -> list[tuple[Part, Combed]]:
    project = project_of(path)
    offsets = np.asarray(body.at + np.arange(body.count) * body.spacing, float)
    return probes.cut(application().workspace, project, forms.form_of(project, path.document), body.normal, offsets)


@api.post("/<document>/parts/<part>/combs")
def combs(path: shapes.InPart, body: surface_shapes.CombRequest) -> Response:
    """Combs along rows of a part, packed as sections are."""
    began = time.perf_counter()
    project = project_of(path)
    form, part = forms.part_of(project, path.document, path.part)
    found = probes.combs(application().workspace, project, form, part, body.place)
    return _combed([(part, found)], began)


def _combed(found: list[tuple[Part, Combed]], began: float) -> Response:
    counts = [len(combed.places) for _, combed in found]
    begin = np.cumsum([0, *counts])
    starts = [combed.starts[:-1] + first for (_, combed), first in zip(found, begin)]
    arrays: dict[str, NDArray[Any]] = {
        "places": np.concatenate([c.places for _, c in found]).astype(np.float32),
        "bend": np.concatenate([c.bend for _, c in found]).astype(np.float32),
        "out": np.concatenate([c.out for _, c in found]).astype(np.float32),
        "starts": np.concatenate([*starts, begin[-1:]]).astype(np.int32),
        "closed": np.concatenate([c.closed for _, c in found]).astype(np.uint8),
        "level": np.concatenate([c.level for _, c in found]).astype(np.int32),
        "lengths": np.concatenate([c.lengths for _, c in found]),
        "inflections": np.concatenate([c.inflections for _, c in found]).astype(np.float32),
        "inflects": np.concatenate([c.inflects + n for (_, c), n in zip(found, _before(found))]).astype(np.int32),
        "part": np.repeat(np.arange(len(found)), [len(c.lengths) for _, c in found]).astype(np.int32),
    }
    meta = {
        "parts": [part.id for part, _ in found],
        "names": [part.name for part, _ in found],
        "milliseconds": (time.perf_counter() - began) * 1000,
    }
    return packed(meta, arrays)


def _before(found: list[tuple[Part, Combed]]) -> list[int]:
    """How many curves come before those of each part."""
    return np.cumsum([0, *(len(combed.lengths) for _, combed in found)])[:-1].tolist()  # type: ignore[no-any-return]


@api.get("/<document>/parts/<part>/draft")
def draft(path: shapes.InPart, query: surface_shapes.DraftQuery) -> Response:
    """Degrees a part leans from the pull at every mesh point, undercut points, regions and the parting line, packed."""
    began = time.perf_counter()
    project = project_of(path)
    form, part = forms.part_of(project, path.document, path.part)
    workspace = application().workspace
    pull = np.array([query.x, query.y, query.z])
    found = probes.drafted(workspace, project, form, part, pull, query.wanted)
    probed = probes.probed_of(workspace, project, form, part)
    under = np.zeros(len(probed.points), np.uint8)
    under[probed.triangles[found.undercut]] = 1
    meta = {
        "least": found.least,
        "undercuts": [asdict(region) for region in found.undercuts],
        "steep": [asdict(region) for region in found.steep],
        "milliseconds": (time.perf_counter() - began) * 1000,
    }
    arrays: dict[str, NDArray[Any]] = {
        "angle": found.angle.astype(np.float32),
        "undercut": under,
        "places": found.parting.bent(probed.points, probed.normals).astype(np.float32),
        "starts": found.parting.starts.astype(np.int32),
        "closed": found.parting.closed.astype(np.uint8),
    }
    return packed(meta, arrays)


@api.get("/<document>/parts/<part>/wall")
def wall(path: shapes.InPart, query: surface_shapes.WallQuery) -> Response:
    """Thickness of a part's wall in mm at every mesh point (infinite where nothing lies behind it), and its thin regions, packed."""
    project = project_of(path)
    form, part = forms.part_of(project, path.document, path.part)
    found = probes.thick(application(), project, form, part, query.way, query.wanted)
    finite = found.thickness[np.isfinite(found.thickness)]
    meta = {
        "thinnest": [asdict(region) for region in found.thinnest],
        "least": float(finite.min()) if len(finite) else None,
        "median": float(np.median(finite)) if len(finite) else None,
    }
    return packed(meta, {"thickness": found.thickness.astype(np.float32)})


@api.get("/<document>/parts/<part>/mending", responses={200: surface_shapes.MendingAnswer})
def mending(path: shapes.InPart, query: surface_shapes.MendingQuery) -> dict[str, Any]:
    """What mending a still body would do, and how sound it would be; nothing is changed."""
    project = project_of(path)
    form, part = forms.part_of(project, path.document, path.part)
    did, sound = probes.mending(application(), project, form, part, query.within, query.fill)
    return {**asdict(did), "counts": sound.counts}


@api.get("/<document>/parts/<part>/deviation")
def deviation(path: shapes.InPart, query: surface_shapes.DeviationQuery) -> Response:
    """Distance in mm of every mesh point of a part to an earlier state of itself or to another part, outward positive, packed."""
    project = project_of(path)
    form, part = forms.part_of(project, path.document, path.part)
    if query.other is not None:
        base, other = form, find(form.parts, query.other, "part")
        if other.id == part.id:
            raise HollowMarbleError("A part does not deviate from itself. Choose another part, or an earlier version.")
    elif query.line is not None:
        base, other = probes.at_line(project, path.document, query.line, path.part)
    else:
        raise HollowMarbleError("Say what to compare with: an earlier version, or another part.")
    found = probes.deviated(application(), project, form, part, base, other)
    counts, bounds = found.histogram()
    meta = {
        "mean": found.mean,
        "rms": found.rms,
        "most": found.most,
        "place": found.place,
        "counts": counts.tolist(),
        "bounds": bounds.tolist(),
    }
    return packed(meta, {"away": found.away.astype(np.float32)})


@api.get("/<document>/outline", responses={200: surface_shapes.OutlineAnswer})
def outline(path: shapes.InDocument, query: surface_shapes.OutlineQuery) -> dict[str, Any]:
    """How far what is drawn in a pinned view is from the form's silhouette as that view sees it, or from a section."""
    project = project_of(path)
    form, workspace = forms.form_of(project, path.document), application().workspace
    if query.section is None:
        found = outlines.beside_silhouette(workspace, project, form, query.reference)
    else:
        found = outlines.beside_section(workspace, project, form, query.reference, query.section)
    at = int(found.away.argmax())
    counts, bounds = np.histogram(found.away, 41, (0.0, max(float(found.away.max()), 1e-9)))
    return {
        "mean": float(found.away.mean()),
        "rms": found.rms,
        "most": float(found.away[at]),
        "place": found.nearest[at].tolist(),
        "counts": counts.tolist(),
        "bounds": bounds.tolist(),
        "stands": np.round(found.stands, 3).tolist(),
        "places": np.round(found.nearest, 3).tolist(),
        "away": np.round(found.away, 3).tolist(),
    }


@api.get("/<document>/checks", responses={200: surface_shapes.ChecksAnswer})
def checked(path: shapes.InDocument) -> dict[str, Any]:
    """Everything that counts: soundness, seams, findings."""
    project = project_of(path)
    form = forms.form_of(project, path.document)
    found = checks.checked(application(), project, form)
    limits = form.checking.limits()
    seams = [_seam(part, None, seam, limits) for part, one in found.parts for seam in one.seams]
    seams += [_seam(part, other, seam, limits) for part, other, seam in found.meetings]
    return {
        "soundness": [
            {
                "part": part.id,
                "name": part.name,
                "closed": one.soundness.closed,
                "manifold": one.soundness.manifold,
                "consistent": one.soundness.consistent,
                "counts": one.soundness.counts,
            }
            for part, one in found.parts
        ],
        "seams": seams,
        "findings": [told_finding(listed) for listed in found.findings],
        "open": found.open,
    }


@api.get("/<document>/findings/picture")
def close_up(path: shapes.InDocument, query: surface_shapes.PlaceQuery) -> Response:
    """A small picture of a place of the form, with a ring around it."""
    project = project_of(path)
    form, workspace = forms.form_of(project, path.document), application().workspace
    parts = probes.shown_parts(workspace, project, form)
    evaluator = workspace.evaluator(project)
    place = (query.x, query.y, query.z)
    key = (tuple(evaluator.key(part, form.parts) for part, _ in parts), place)
    data = workspace.shelf.get("close-up", key, lambda: close_up_png([probed for _, probed in parts], place))
    return Response(data, mimetype="image/png", headers={"Cache-Control": "private, max-age=60"})


@api.get("/<document>/findings/counts", responses={200: surface_shapes.CountsAnswer})
def counts(path: shapes.InDocument) -> dict[str, Any]:
    """How many findings are open, part by part, of what was checked already: nothing is worked out for this."""
    project = project_of(path)
    form = forms.form_of(project, path.document)
    return {
        "counts": checks.known_counts(application(), project, form),
        "asked": checks.was_checked(application(), project),
    }


def told_finding(listed: checks.Listed) -> dict[str, Any]:
    """A finding as the interface and the report get it."""
    told = {name: value for name, value in asdict(listed.finding).items() if name != "key"}
    return {
        **told,
        "id": listed.id,
        "part": listed.part.id,
        "name": listed.part.name,
        "state": "accepted" if listed.accepted else "open",
        "reason": listed.accepted.reason if listed.accepted else None,
    }


def _seam(part: Part, other: Part | None, seam: Seam, limits: Limits) -> dict[str, Any]:
    step = max(1, len(seam.places) // MOST_PLACES)
    places = seam.places[::step]
    if step > 1:
        places = np.concatenate([places, seam.places[-1:]])
    return {
        "part": part.id,
        "name": part.name,
        "other": other.name if other else None,
        "kind": seam.kind,
        "verdict": verdict(seam, limits),
        "length": seam.length,
        "places": np.round(places, 4).tolist(),
        "gap": _measured(seam.gap, 1),
        "angle": _measured(seam.angle, 1),
        "jump": _measured(seam.jump, 100),
    }


def _measured(worst: Worst, times: float) -> dict[str, Any]:
    return {"most": worst.most * times, "mean": worst.mean * times, "place": worst.place}


@api.get("/<document>/report")
def report(path: shapes.InDocument, query: surface_shapes.ReportQuery) -> Response:
    """The report on a form at its head, as a file."""
    project = project_of(path)
    day = datetime.now(UTC).date().isoformat()
    found = compose(application(), project, path.document, day, pictures=query.format != "json")
    name = f"{project.entry.name}, surface report.{query.format}"
    return download(report_bytes(found, query.format), MEDIA_OF_REPORT[query.format], name)


@api.get("/<document>/balance", responses={200: surface_shapes.BalanceAnswer})
def balance(path: shapes.InDocument) -> dict[str, Any]:
    """Volumes and weights of the shown parts, their centre of mass, and whether they stand."""
    project = project_of(path)
    found = probes.balance(application().workspace, project, forms.form_of(project, path.document))
    stood = found.standing
    return {
        "parts": [
            {"part": one.part.id, "name": one.part.name}
            | {name: getattr(one, name) for name in ("volume", "area", "grams", "centre", "why")}
            for one in found.parts
        ],
        "grams": found.grams,
        "centre": found.centre,
        "by_weight": found.by_weight,
        "standing": stood
        and {"stands": stood.stands, "margin": stood.margin, "tip": stood.tip, "feet": stood.feet.tolist()},
    }
