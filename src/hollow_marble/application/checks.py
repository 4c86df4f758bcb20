"""Probes and exports of a form: long work that somebody waits for."""

from __future__ import annotations

from hollow_marble.application.application import Application
from hollow_marble.application.studios import dress_in
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.surface.soundness import Soundness
from hollow_marble.documents.edit import find
from hollow_marble.documents.form.model import Form, Part
from hollow_marble.exchange.forms import WORKED, cage_file, named_meshes
from hollow_marble.jobs.task import Work, blob
from hollow_marble.store.library import Project

_LIMIT = 600.0


def soundness(application: Application, project: Project, form: Form) -> list[tuple[Part, Soundness]]:
    """What is wrong with each shown part. A part checked before is not checked again."""
    evaluator, shelf = application.workspace.evaluator(project), application.workspace.shelf
    shown = evaluator.shown(form)
    known = {mesh.key: shelf.known("soundness", mesh.key) for _, mesh in shown}
    unknown = [mesh for _, mesh in shown if known[mesh.key] is None]
    if unknown:
        found: list[Soundness] = application.run(
            project,
            "Soundness",
            lambda: Work("soundness", None, (blob([mesh.welded() for mesh in unknown]),)),
            _LIMIT,
            "The check took too much for this machine. Hide parts, or make them less smooth, and try again.",
        )
        for mesh, one in zip(unknown, found):
            known[mesh.key] = one
            shelf.put("soundness", mesh.key, one)
    return [(part, known[mesh.key]) for part, mesh in shown]


def exported(application: Application, project: Project, form: Form, kind: str, part: str | None) -> bytes:
    """Bytes of one part, or of all shown parts; a cage file holds one part's cage, the others the skin, glTF with the studio's finishes."""
    parts = [find(form.parts, part, "part")] if part else [p for p in form.parts if p.visible]
    if not parts:
        raise HollowMarbleError("There is nothing to export yet. Begin a part in Form first.")
    evaluator = application.workspace.evaluator(project)
    if kind not in WORKED:
        return cage_file(parts, evaluator, kind)
    data: bytes = application.run(
        project,
        f"Export as {kind}",
        lambda: Work(
            "written", kind, (blob(named_meshes(parts, form, evaluator, kind, dress_in(project, evaluator))),)
        ),
        _LIMIT,
        "The export took too much for this machine. Export single parts, or make them less smooth, and try again.",
    )
    return data
