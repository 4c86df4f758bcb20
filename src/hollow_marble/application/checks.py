"""What is wrong with a form, against what it is checked against: long work that somebody waits for, done once for what stays as it is."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

from hollow_marble.application.application import Application
from hollow_marble.application.studios import dress_in
from hollow_marble.core.bodies.body import BodyMesh
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.surface.continuity import Seam
from hollow_marble.core.surface.finding import Finding
from hollow_marble.core.surface.findings import Checked, Limits, is_worse
from hollow_marble.documents.edit import find
from hollow_marble.documents.form.checking import Accepted
from hollow_marble.documents.form.model import Form, Part
from hollow_marble.exchange.forms import WORKED, cage_file, named_meshes
from hollow_marble.jobs.task import Work, blob
from hollow_marble.store.library import Project

LIMIT = 600.0
TOO_MUCH = "The check took too much for this machine. Hide parts, or make them less smooth, and try again."


@dataclass(frozen=True)
class Listed:
    """A finding in a form: of which part, under which name it can be accepted, and whether it was."""

    id: str
    part: Part
    finding: Finding
    accepted: Accepted | None

    @property
    def counts(self) -> bool:
        """Whether something is to be done."""
        return self.finding.beyond and self.accepted is None


@dataclass(frozen=True)
class FormChecks:
    """Each shown part with what was checked, where rims of parts meet others, and all findings: open ones first, worst first."""

    parts: list[tuple[Part, Checked]]
    meetings: list[tuple[Part, Part | None, Seam]]
    findings: list[Listed]

    @property
    def open(self) -> int:
        """How many findings are beyond their tolerance and not accepted."""
        return sum(listed.counts for listed in self.findings)


def checked(application: Application, project: Project, form: Form) -> FormChecks:
    """Check all shown parts. What was checked before against the same is not checked again."""
    limits = form.checking.limits()
    evaluator, shelf = application.workspace.evaluator(project), application.workspace.shelf
    shelf.put("was checked", project.entry.id, True)
    shown = evaluator.shown(form)
    known = {mesh.key: shelf.known("checked", (mesh.key, limits)) for _, mesh in shown}
    unknown = {mesh.key: part for part, mesh in shown if known[mesh.key] is None}
    if unknown:
        found: list[Checked] = application.run(
            project,
            "Checking the form",
            lambda: Work(
                "checked", limits, (blob([evaluator.body(part, form.parts).probed() for part in unknown.values()]),)
            ),
            LIMIT,
            TOO_MUCH,
        )
        for key, one in zip(unknown, found):
            known[key] = one
            shelf.put("checked", (key, limits), one)
    parts = [(part, known[mesh.key]) for part, mesh in shown]
    met = _met(application, project, form, shown, limits)
    findings = [(part, finding) for part, one in parts for finding in one.findings]
    meetings = []
    for number, seam, found_there in met:
        part, other = shown[number][0], shown[seam.other][0] if seam.other is not None else None
        meetings.append((part, other, seam))
        findings += [(part, replace(f, key=f"{f.key}{other.id if other else ''}")) for f in found_there]
    return FormChecks(parts, meetings, _listed(form, findings))


def known_counts(application: Application, project: Project, form: Form) -> dict[str, int] | None:
    """Open findings by part, of what was checked already; None where a shown part was not, as it is, against what it is to be."""
    limits = form.checking.limits()
    workspace = application.workspace
    evaluator, shelf = workspace.evaluator(project), workspace.shelf
    shown = evaluator.shown(form)
    found = [(part, shelf.known("checked", (mesh.key, limits))) for part, mesh in shown]
    met = shelf.known("met", (tuple(mesh.key for _, mesh in shown), limits))
    if any(one is None for _, one in found) or (met is None and not all(mesh.closed for _, mesh in shown)):
        return None
    listed = checked(application, project, form).findings  # nothing is worked out: all of it is there
    counts = dict.fromkeys((part.id for part, _ in found), 0)
    for one in listed:
        counts[one.part.id] += one.counts
    return counts


def was_checked(application: Application, project: Project) -> bool:
    """Whether anybody has asked for a check of this project since the application came up."""
    return bool(application.workspace.shelf.known("was checked", project.entry.id))


def _met(
    application: Application, project: Project, form: Form, shown: list[tuple[Part, BodyMesh]], limits: Limits
) -> Any:
    """Where rims meet other parts; only open parts have rims, so mostly there is nothing to do."""
    if all(mesh.closed for _, mesh in shown):
        return []
    evaluator, shelf = application.workspace.evaluator(project), application.workspace.shelf
    name = (tuple(mesh.key for _, mesh in shown), limits)
    known = shelf.known("met", name)
    if known is None:
        known = application.run(
            project,
            "Looking where parts meet",
            lambda: Work("met", limits, (blob([evaluator.body(part, form.parts).probed() for part, _ in shown]),)),
            LIMIT,
            TOO_MUCH,
        )
        shelf.put("met", name, known)
    return known


def _listed(form: Form, findings: list[tuple[Part, Finding]]) -> list[Listed]:
    accepted = {one.id: one for one in form.accepted}
    listed = []
    for part, finding in findings:
        ident = f"{part.id}/{finding.key}"
        let = accepted.get(ident)
        if let is not None and is_worse(finding, let.amount):
            let = None
        listed.append(Listed(ident, part, finding, let))
    return sorted(listed, key=lambda one: (one.accepted is not None, not one.finding.beyond, one.part.name))


def exported(
    application: Application, project: Project, form: Form, kind: str, part: str | None, tolerance: float | None = None
) -> bytes:
    """Bytes of one part, or of all shown parts; a cage file holds one part's cage, the others the skin within `tolerance` mm (as fine
    as it is worked on where that is left out), glTF with the studio's finishes."""
    parts = [find(form.parts, part, "part")] if part else [p for p in form.parts if p.shown]
    if not parts:
        raise HollowMarbleError("There is nothing to export yet. Begin a part in Form first.")
    evaluator = application.workspace.evaluator(project)
    if kind not in WORKED:
        return cage_file(parts, evaluator, kind)
    data: bytes = application.run(
        project,
        f"Export as {kind}",
        lambda: Work(
            "written",
            kind,
            (blob(named_meshes(parts, form, evaluator, kind, dress_in(project, evaluator), tolerance)),),
        ),
        LIMIT,
        "The export took too much for this machine. Export single parts, or make them less smooth, and try again.",
    )
    return data
