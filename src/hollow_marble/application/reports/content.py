"""What a report says, before it is laid out."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from hollow_marble.application.application import Application
from hollow_marble.application.checks import FormChecks, Listed, checked
from hollow_marble.application.forms import form_of
from hollow_marble.application.probes import Balance, balance, shown_parts
from hollow_marble.application.reports.shots import Shot, shots_of
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.surface.findings import verdict
from hollow_marble.documents.form.model import Form
from hollow_marble.store.library import Project

Picture = NDArray[np.uint8]


@dataclass(frozen=True)
class Report:
    """title, version : of what; open : findings that are beyond and not accepted; findings are numbered from 1 as they stand in the
    pictures."""

    title: str
    maker: str
    version: str
    made: str
    form: Form
    size: tuple[float, float, float]
    checks: FormChecks
    weights: Balance
    shots: list[Shot]

    @property
    def findings(self) -> list[Listed]:
        return self.checks.findings

    @property
    def open(self) -> int:
        return self.checks.open

    def data(self) -> dict[str, Any]:
        """The same as plain values."""
        limits = self.form.checking
        return {
            "project": self.title,
            "maker": self.maker,
            "version": self.version,
            "made": self.made,
            "size_mm": [round(value, 3) for value in self.size],
            "open": self.open,
            "tolerances": limits.model_dump(mode="json"),
            "findings": [
                {
                    "number": number,
                    "id": one.id,
                    "part": one.part.name,
                    "probe": one.finding.probe,
                    "kind": one.finding.kind,
                    "amount": one.finding.amount,
                    "tolerance": one.finding.tolerance,
                    "unit": one.finding.unit,
                    "place": one.finding.place,
                    "sentence": one.finding.sentence,
                    "severity": "beyond" if one.finding.beyond else "near",
                    "state": "accepted" if one.accepted else "open",
                    "reason": one.accepted.reason if one.accepted else None,
                }
                for number, one in enumerate(self.findings, 1)
            ],
            "parts": [
                {
                    "part": part.name,
                    "closed": one.soundness.closed,
                    "manifold": one.soundness.manifold,
                    "consistent": one.soundness.consistent,
                    "counts": one.soundness.counts,
                    "seams": [
                        {
                            "kind": seam.kind,
                            "length": seam.length,
                            "gap": seam.gap.most,
                            "angle": seam.angle.most,
                            "jump_percent": 100 * seam.jump.most,
                            "verdict": verdict(seam, limits.limits()),
                        }
                        for seam in one.seams
                    ],
                }
                for part, one in self.checks.parts
            ],
            "weights": {
                "grams": self.weights.grams,
                "centre": self.weights.centre,
                "stands": self.weights.standing.stands if self.weights.standing else None,
                "tips_at_degrees": self.weights.standing.tip if self.weights.standing else None,
                "parts": [
                    {"part": one.part.name, "volume_mm3": one.volume, "area_mm2": one.area, "grams": one.grams}
                    for one in self.weights.parts
                ],
            },
        }


def compose(application: Application, project: Project, ident: str, made: str, pictures: bool = True) -> Report:
    """Check a form at its head, and put together what is to be said of it. `made` is the day.

    Raises
    ------
    HollowMarbleError
        where there is no form to report on.
    """
    form = form_of(project, ident)
    workspace = application.workspace
    if not any(part.shown for part in form.parts):
        raise HollowMarbleError("There is no form to report on. Begin one in Form, or show a part.")
    found = checked(application, project, form)
    size = workspace.evaluator(project).size(form)
    row = project.ledger.row(ident)
    named = project.ledger.version_passed(row)
    version = f"after “{named}”" if named else "as it is"
    surfaces = [probed for _, probed in shown_parts(workspace, project, form)]
    return Report(
        project.entry.name,
        project.entry.maker,
        version,
        made,
        form,
        (size.width, size.depth, size.height),
        found,
        balance(workspace, project, form),
        shots_of(application, project, surfaces, form.checking, found.findings) if pictures else [],
    )
