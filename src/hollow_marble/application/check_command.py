"""`hollow-marble check`: a form against its tolerances, or a mesh file for soundness, from the command line."""

from __future__ import annotations

import json
from dataclasses import asdict
from datetime import UTC, datetime
from pathlib import Path

import click
import numpy as np
from numpy.typing import NDArray

from hollow_marble.application.application import Application
from hollow_marble.application.reports.content import compose
from hollow_marble.application.reports.written import MEDIA, report_bytes
from hollow_marble.core.cage.measure import measure
from hollow_marble.core.cage.skin import evaluate, plan_skin
from hollow_marble.core.cage.weld import weld, welded_mesh
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.surface.soundness import check_soundness
from hollow_marble.exchange.meshes import read_mesh
from hollow_marble.exchange.obj import obj_to_cage


def check_project(name: str, data: Path, as_json: bool, report: Path | None) -> bool:
    """Whether nothing of a project's form that was not accepted is beyond its tolerance; says what is."""
    kind = next((one for one in MEDIA if report and report.suffix.lower() == f".{one}"), None)
    if report is not None and kind is None:
        raise HollowMarbleError(f"{report.name} does not say what it is. End it with .pdf, .html or .json.")
    application = Application(data)
    try:
        project = application.workspace.library.named(name)
        form = project.ledger.rows("form")[0].id
        found = compose(application, project, form, datetime.now(UTC).date().isoformat(), kind in ("pdf", "html"))
        if report is not None and kind is not None:
            report.write_bytes(report_bytes(found, kind))
    finally:
        application.close()
    if as_json:
        click.echo(json.dumps(found.data(), indent=1))
        return found.open == 0
    for number, one in enumerate(found.findings, 1):
        state = f"accepted: {one.accepted.reason}" if one.accepted else "beyond" if one.finding.beyond else "near"
        place = ", ".join(f"{value:.2f}" for value in one.finding.place)
        click.echo(f"{number:3}  {one.part.name}: {one.finding.sentence}  at {place}  ({state})")
    click.echo(f"{found.open} open." if found.open else "Nothing is beyond its tolerance.")
    return found.open == 0


def check_file(path: Path, cage: bool, as_json: bool) -> bool:
    """Whether a mesh file is sound; says what is not."""
    points, triangles = _read(path, cage)
    found = check_soundness(points, triangles)
    size = measure(points, triangles, found.closed)
    total = sum(found.counts.values())
    if as_json:
        body = {"file": path.name, "triangles": len(triangles), "size": asdict(size), **asdict(found)}
        click.echo(json.dumps(body, indent=1))
    else:
        click.echo(
            f"{path.name}: {len(triangles):,} triangles, {size.width:.1f} × {size.depth:.1f} × {size.height:.1f} mm"
        )
        for finding in found.findings:
            click.echo(f"  {finding.sentence}  at {', '.join(f'{v:.2f}' for v in finding.place)}")
        click.echo(f"{total} findings." if total else "Sound.")
    return total == 0


def _read(path: Path, cage: bool) -> tuple[NDArray[np.float64], NDArray[np.int64]]:
    kind = path.suffix.lower().lstrip(".")
    if kind not in ("obj", "stl", "ply"):
        raise HollowMarbleError(f"{path.name} is not an OBJ, STL or PLY file.")
    if not cage:
        return read_mesh(path.read_bytes(), kind, path.name)
    if kind != "obj":
        raise HollowMarbleError("A cage is read from an OBJ file.")
    read = obj_to_cage(path.read_bytes(), path.name)
    plan = plan_skin(read, 3)
    skin = evaluate(plan, read.points)
    return welded_mesh(skin.positions, plan.triangles, weld(read, plan))
