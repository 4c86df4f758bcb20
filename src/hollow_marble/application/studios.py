"""What can be asked of a studio beside plain edits: its shots, and the thread behind a picture."""

from __future__ import annotations

from typing import Any

from hollow_marble.core.bodies.body import BodyMesh
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.edit import find
from hollow_marble.documents.form.evaluation import FormEvaluator
from hollow_marble.documents.form.model import Part
from hollow_marble.documents.studio.model import Finish, Setting, Shot, Studio
from hollow_marble.documents.studio.staging.scenes import look_in
from hollow_marble.documents.studio.staging.zones import worn_over, zones_of
from hollow_marble.exchange.forms import Cover, Dress
from hollow_marble.store.library import Project
from hollow_marble.store.takes import get_take


def studio_of(project: Project, ident: str) -> Studio:
    """A studio at its head."""
    studio = project.ledger.state(ident)
    if not isinstance(studio, Studio):
        raise HollowMarbleError("That document is not a studio.")
    return studio


def shot_of(project: Project, ident: str, shot: str) -> Shot:
    """A shot of a studio."""
    return find(studio_of(project, ident).shots, shot, "shot")


def dress_in(project: Project, evaluator: FormEvaluator) -> Dress:
    """How parts go out in the finishes they have in the first studio."""
    rows = project.ledger.rows("studio")
    setting = studio_of(project, rows[0].id).setting if rows else Setting()

    def dress(part: Part, mesh: BodyMesh) -> list[Cover]:
        zones = zones_of(setting, part)
        names = {part.id: part.name} | {zone.id: f"{part.name}: {zone.name}" for zone in zones}
        return [
            Cover(
                names[piece.wearer], piece.triangles, look_in(setting.finishes.get(piece.wearer, Finish()), evaluator)
            )
            for piece in worn_over(mesh, part, zones)
        ]

    return dress


def thread(project: Project, ident: str) -> list[dict[str, Any]]:
    """Where a take came from: sheets, form, shot; each with whether it still is what it was."""
    take = get_take(project.database, ident)
    steps = [_step(project, "sheet", sheet, edit) for sheet, edit in take.sheets]
    steps.append(_step(project, "form", take.frozen.form, take.frozen.form_edit or None))
    now = next((shot for shot in studio_of(project, take.studio).shots if shot.id == take.shot), None)
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
    return steps


def _step(project: Project, kind: str, document: str, edit: int | None) -> dict[str, Any]:
    row = project.ledger.row(document)
    sentence = project.ledger.line(edit).sentence if edit is not None else "The start"
    return {
        "kind": kind, "id": document, "name": row.name, "edit": edit, "sentence": sentence, "current": row.head == edit,
        "chosen": row.chosen,
    }  # fmt: skip
