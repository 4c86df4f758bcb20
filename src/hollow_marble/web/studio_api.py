"""Studios: where things stand, takes, and the thread behind a picture."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel

from hollow_marble.documents.edit import find
from hollow_marble.documents.studio.model import Setting, Studio
from hollow_marble.documents.studio.staging import light_facts, stage
from hollow_marble.jobs.darkroom import take_news
from hollow_marble.store.library import Project
from hollow_marble.store.takes import get_take, list_takes
from hollow_marble.web import shapes
from hollow_marble.web.documents_api import is_chosen
from hollow_marble.web.services import services

api = APIBlueprint("studio", __name__, url_prefix="/api/projects/<project>", abp_tags=[Tag(name="studio")])


class StagingRequest(BaseModel):
    form: str
    setting: Setting


@api.post("/staging", responses={200: shapes.StagingShape})
def staging(path: shapes.InProject, body: StagingRequest) -> dict[str, Any]:
    """A setting worked out around a form, without storing it: for the preview, also while something is dragged."""
    project = services().project(path.project)
    form = services().form(project, body.form)
    staged = stage(body.setting, form, services().evaluator(project))
    return {
        "shift": staged.shift.tolist(),
        "centre": staged.centre.tolist(),
        "lens": staged.lens.tolist(),
        "target": staged.target.tolist(),
        "view": staged.view,
        "lamps": [{"id": x.id, "corners": x.corners.tolist(), "radiance": x.radiance.tolist()} for x in staged.lamps],
        "facts": asdict(light_facts(body.setting, staged)),
    }


@api.post("/studios/<document>/takes", responses={200: shapes.TakeShape})
def new_take(path: shapes.InDocument, body: shapes.NewTake) -> dict[str, Any]:
    """Ask for a take of a shot."""
    project = services().project(path.project)
    studio = project.ledger.state(path.document)
    assert isinstance(studio, Studio)
    shot = find(studio.shots, body.shot, "shot")
    return take_news(services().darkroom.ask(project, path.document, shot, body.quality))


@api.get("/takes", responses={200: shapes.Takes})
def takes(path: shapes.InProject) -> dict[str, Any]:
    """All takes in the order they were asked for."""
    return {"takes": [take_news(take) for take in list_takes(services().project(path.project).database)]}


@api.post("/takes/<take>/cancel", responses={200: shapes.TakeShape})
def cancel(path: shapes.InTake) -> dict[str, Any]:
    """Give a take up; the picture so far stays."""
    return take_news(services().darkroom.cancel(services().project(path.project), path.take))


@api.post("/takes/<take>/resume", responses={200: shapes.TakeShape})
def resume(path: shapes.InTake) -> dict[str, Any]:
    """Go on with a take that was given up or failed."""
    return take_news(services().darkroom.resume(services().project(path.project), path.take))


@api.get("/takes/<take>/thread", responses={200: shapes.ThreadShape})
def thread(path: shapes.InTake) -> dict[str, Any]:
    """Where a picture came from: sheets, form, shot."""
    project = services().project(path.project)
    take = get_take(project.database, path.take)
    steps = [_step(project, "sheet", sheet, edit) for sheet, edit in take.sheets]
    steps.append(_step(project, "form", take.frozen.form, take.frozen.form_edit or None))
    studio = project.ledger.state(take.studio)
    assert isinstance(studio, Studio)
    now = next((shot for shot in studio.shots if shot.id == take.shot), None)
    steps.append(
        {
            "kind": "shot",
            "id": take.shot,
            "name": take.name,
            "edit": None,
            "sentence": f"{take.frozen.setting.camera.focal:.0f} mm, {take.width} × {take.height}",
            "current": now == take.frozen,
        }
    )
    return {"steps": steps}


def _step(project: Project, kind: str, document: str, edit: int | None) -> dict[str, Any]:
    row = project.ledger.row(document)
    sentence = project.ledger.line(edit).sentence if edit is not None else "The start"
    return {
        "kind": kind, "id": document, "name": row.name, "edit": edit, "sentence": sentence, "current": row.head == edit,
        "chosen": is_chosen(project, document),
    }  # fmt: skip
