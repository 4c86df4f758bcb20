"""A form beside what was drawn: the silhouette of a ball beside a circle drawn with a ruler, square on and in perspective."""

from __future__ import annotations

import math

import numpy as np
import pytest

from hollow_marble.application.outlines import beside_section, beside_silhouette
from hollow_marble.application.workspace import Workspace
from hollow_marble.core.drafting.camera import Camera
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.demo.designer import Designer
from hollow_marble.documents.form.edits import StartPart
from hollow_marble.documents.form.pinning import PinReference
from hollow_marble.documents.form.starts import SphereStart
from hollow_marble.documents.sheet.drafting import box_in, perspective_of
from hollow_marble.documents.sheet.edits import FrameView, SetPerspective
from hollow_marble.documents.sheet.model import ConstructionBox
from hollow_marble.store.library import Project

RADIUS = 20.0


def _ring(across: float, down: float, radius: float) -> np.ndarray:
    turn = np.linspace(0, 2 * np.pi, 181)
    x, y = across + radius * np.cos(turn), down + radius * np.sin(turn)
    return np.stack([x, y, 0 * x + 0.5, 0 * x], axis=1).astype(np.float32)


def _ball(designer: Designer) -> str:
    form = designer.document("form")
    start = SphereStart(size=(2 * RADIUS, 2 * RADIUS, 2 * RADIUS), divisions=6)
    designer.edit(form, StartPart(part="b", name="Ball", start=start))
    return form


@pytest.mark.parametrize("plane", ["front", "side", "top"])
def test_drawn_half_a_millimetre_larger_it_is_half_a_millimetre_away(project: Project, plane: str) -> None:
    """At 10 px a mm; the line is drawn with a ruler, the ball is a cage's: round to a tenth of a mm."""
    designer = Designer(project)
    sheet, form = designer.document("sheet"), _ball(designer)
    designer.draw(sheet, _ring(800, 600, (RADIUS + 0.5) * 10), layer="rough")
    designer.edit(sheet, FrameView(id="v", view="front", name="front", rect=(500, 300, 1100, 900)))
    known = ((800.0, 400.0), (800.0, 800.0))
    designer.edit(form, PinReference(id="r", sheet=sheet, view="v", plane=plane, line=known, length=2 * RADIUS))
    state = project.ledger.state(form)
    workspace = Workspace(project.database.path.parent)
    found = beside_silhouette(workspace, project, state, "r")
    assert found.away == pytest.approx(0.5, abs=0.15)
    assert found.away.mean() == pytest.approx(0.5, abs=0.05)
    assert np.linalg.norm(found.nearest, axis=1) == pytest.approx(RADIUS, abs=0.15)
    cut = beside_section(workspace, project, state, "r", 0.0)
    assert cut.away.mean() == pytest.approx(found.away.mean(), abs=0.02), "a ball's middle section is its silhouette"
    off = beside_section(workspace, project, state, "r", 12.0)
    assert off.away.mean() == pytest.approx(RADIUS + 0.5 - 16, abs=0.2), "√(r² − 12²) is 16 mm round there"
    with pytest.raises(HollowMarbleError, match="misses"):
        beside_section(workspace, project, state, "r", 500.0)
    workspace.close()


def test_in_perspective_it_is_seen_from_the_sheets_own_eye(project: Project) -> None:
    """The outline of a ball seen from a place is a cone's: its places are r²/d before the middle, r √(1 − r²/d²) round the axis. Drawn
    through the sheet's camera they lie on the silhouette."""
    designer = Designer(project)
    sheet, form = designer.document("sheet"), _ball(designer)
    camera = Camera((1200.0, 800.0), 3000.0, math.radians(30), math.radians(18))
    perspective = perspective_of(camera, 3)
    box = ConstructionBox(size=(40.0, 40.0, 40.0), at=(1200.0, 900.0), scale=8.0)
    designer.edit(sheet, SetPerspective(perspective=perspective, box=box, what="camera"))
    placed = box_in(perspective, box)
    middle = placed.points(np.array([[0.5, 0.5, 0.5]]))[0]
    away = float(np.linalg.norm(middle))
    axis = middle / away
    right = np.cross(axis, [0, 0, 1.0])
    right /= np.linalg.norm(right)
    turn = np.linspace(0, 2 * np.pi, 181)[:, None]
    round_it = (
        RADIUS * np.sqrt(1 - (RADIUS / away) ** 2) * (np.cos(turn) * right + np.sin(turn) * np.cross(right, axis))
    )
    seen = placed.camera.project(middle - axis * RADIUS**2 / away + round_it)
    line = np.column_stack([seen, np.full(len(seen), 0.5), np.zeros(len(seen))]).astype(np.float32)
    designer.draw(sheet, line, layer="rough")
    low, high = np.floor(seen.min(axis=0)) - 30, np.ceil(seen.max(axis=0)) + 30
    rect = (int(low[0]), int(low[1]), int(high[0]), int(high[1]))
    designer.edit(sheet, FrameView(id="v", view="three-quarter", name="box", rect=rect))
    pin = PinReference(id="r", sheet=sheet, view="v", plane="sketch", line=((0.0, 0.0), (0.0, 100.0)), length=40.0)
    designer.edit(form, pin)
    state = project.ledger.state(form)
    workspace = Workspace(project.database.path.parent)
    found = beside_silhouette(workspace, project, state, "r")
    assert found.away.max() < 0.2, "a cage's ball, and a line of whole px"
    assert np.linalg.norm(found.nearest, axis=1) == pytest.approx(RADIUS, abs=0.15)
    assert np.linalg.norm(found.stands - found.nearest, axis=1).max() < 0.3
    with pytest.raises(HollowMarbleError, match="own perspective"):
        beside_section(workspace, project, state, "r", 0.0)
    workspace.close()


def test_where_nothing_is_drawn_it_is_said(project: Project) -> None:
    designer = Designer(project)
    sheet, form = designer.document("sheet"), _ball(designer)
    designer.edit(sheet, FrameView(id="v", view="front", name="front", rect=(500, 300, 1100, 900)))
    known = ((800.0, 400.0), (800.0, 800.0))
    designer.edit(form, PinReference(id="r", sheet=sheet, view="v", plane="front", line=known, length=40.0))
    workspace = Workspace(project.database.path.parent)
    with pytest.raises(HollowMarbleError, match="no lines in front"):
        beside_silhouette(workspace, project, project.ledger.state(form), "r")
    workspace.close()
