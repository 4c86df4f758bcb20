"""The B-rep kernel in its own process: it crashes, it takes too long, and the form stays as it was."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path
from typing import Any

import psutil
import pytest

from hollow_marble.application import application as application_module
from hollow_marble.application.application import Application
from hollow_marble.application.editing import Proposal
from hollow_marble.application.forms import form_of
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.form import built as b
from hollow_marble.documents.form import edits as e
from hollow_marble.documents.form.curves import CurvePiece, CurvePlane, DrawnCurve
from hollow_marble.store.library import Project
from tests.core import drawn as d
from tests.documents.test_built import of, rectangle

pytestmark = pytest.mark.timeout(120)


@pytest.fixture
def application(tmp_path: Path) -> Iterator[Application]:
    made = Application(tmp_path)
    yield made
    made.close()


def test_a_step_that_brings_the_kernel_down_is_said_and_the_form_stays(application: Application) -> None:
    """A seam rounded by 1 mm has no room for an offset of 1.6 inwards: this kernel ends its process there (seen with its version 8.0.1)."""
    project, form = begun(application)
    make = maker(application, project, form)
    make(e.StartPart(part="p", name="Profile", start=rectangle(40, 30, rounds=4.0)))
    make(e.StartPart(part="b", name="Box", start=b.ExtrudedProfile(distance=20, inputs=of("p"), tag="x1")))
    circle = DrawnCurve(
        plane=CurvePlane(on="front"),
        points=((20.0, 10.0),),
        pieces=(CurvePiece(name="c", kind="circle", points=(0,), value=5),),
    )
    make(e.StartPart(part="c", name="Hole", start=circle))
    cut = b.ExtrudedProfile(distance=40, back=40, how="cut away", blend=1, inputs=of("c"), tag="x2")
    make(e.Shape(part="b", step=cut))
    worker = psutil.Process(application.executor.transport.pid("solids"))  # type: ignore[attr-defined]
    before = form_of(project, form)
    with pytest.raises(HollowMarbleError, match="more than the kernel can do"):
        make(e.Shape(part="b", step=b.MovedOut(distance=-1.6, tag="h")))
    assert form_of(project, form) == before
    worker.wait(20)
    make(e.Shape(part="b", step=b.Hollowed(wall=0.8, tag="h")))
    assert application.executor.transport.pid("solids") != worker.pid, "another one works"  # type: ignore[attr-defined]


def test_what_was_built_before_is_not_built_again_after_a_restart(tmp_path: Path) -> None:
    asked: list[str] = []
    for _ in range(2):
        application = Application(tmp_path)
        try:
            kernel = application.workspace.kernel_of("nobody")
            pipe = kernel("piped", "p", d.drawn(d.through([(0, 0), (20, 5), (30, 30), (60, 40)])), 3.0)
            application.workspace.built.settle()
            asked.append(str(application.executor.transport.pid("solids") is not None))  # type: ignore[attr-defined]
        finally:
            application.close()
    assert asked == ["True", "False"], "the second time no kernel was needed"
    assert pipe.closed


def test_a_step_that_takes_too_long_is_ended_and_said(
    application: Application, monkeypatch: pytest.MonkeyPatch
) -> None:
    kernel = application.workspace.kernel_of("nobody")
    pipe = kernel("piped", "p", d.drawn(d.through([(0, 0), (20, 5), (30, 30), (60, 40)])), 3.0)
    monkeypatch.setattr(application_module, "_SOLID_LIMIT", 0.2)
    with pytest.raises(HollowMarbleError, match="took longer"):
        application.workspace.kernel_of("nobody")("mesh", pipe, 1e-4, 1e-3)


def begun(application: Application) -> tuple[Project, str]:
    project = application.workspace.library.create("Kettle")
    return project, next(row.id for row in project.ledger.rows() if row.kind == "form")


def maker(application: Application, project: Project, form: str) -> Any:
    return lambda edit: application.editing.make(project, form, lambda _form: Proposal(edit))
