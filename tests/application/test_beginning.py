"""A part begun over what was drawn: its silhouette is the outline's, or its profile one half of it."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from hollow_marble.application.application import Application
from hollow_marble.application.beginning import BeginRequest, begin_over, outline_of
from hollow_marble.application.editing import ANYBODY, Proposal
from hollow_marble.core.cage.measure import measure
from hollow_marble.core.cage.outlined import outlined, spans_of
from hollow_marble.core.cage.profiles import half_of, turned
from hollow_marble.core.cage.skin import evaluate, plan_skin
from hollow_marble.core.cage.weld import weld, welded_mesh
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.surface.soundness import check_soundness
from hollow_marble.demo.designer import Designer
from hollow_marble.documents.form.edits import Shape
from hollow_marble.documents.sheet.edits import FrameView
from hollow_marble.store.library import Project

ROUND = np.linspace(0, 2 * np.pi, 241)


def pebble(half_wide: float, half_high: float, lean: float = 0.0) -> np.ndarray:
    """An egg's outline, broader below: (n, 2)."""
    across = half_wide * np.cos(ROUND) * (1 - 0.15 * np.sin(ROUND)) + lean * np.sin(ROUND)
    return np.column_stack([across, half_high * np.sin(ROUND)])


def skin_of(cage: Any, level: int = 4) -> tuple[np.ndarray, np.ndarray]:
    plan = plan_skin(cage, level)
    return welded_mesh(evaluate(plan, cage.points).positions, plan.triangles, weld(cage, plan))


@pytest.mark.parametrize("lean", [0.0, 9.0])
def test_the_skin_has_the_outlines_silhouette_and_the_depth(lean: float) -> None:
    """The silhouette is taken with a ruler: the widest of the skin at each height, by cutting its triangles there."""
    outline = pebble(31, 54, lean)
    cage = outlined(spans_of([outline]), 34, 4, 3, 10)
    points, triangles = skin_of(cage)
    assert check_soundness(points, triangles).closed
    assert np.ptp(points[:, 1]) == pytest.approx(34, abs=0.05)
    assert np.ptp(points[:, 2]) == pytest.approx(108, abs=0.05)
    off = []
    for height in np.linspace(-48, 48, 33) + 1e-3:
        cut = crossings(points, triangles, height)
        drawn = crossings_of_line(outline, height)
        off += [cut.max() - drawn.max(), cut.min() - drawn.min()]
    # between rows, and most where it closes, the skin is its own spline: 1.3 % of the width at most
    assert np.abs(off).max() < 0.8
    assert np.sqrt(np.mean(np.square(off))) < 0.25


def crossings(points: np.ndarray, triangles: np.ndarray, height: float) -> np.ndarray:
    a, b = (points[corners].reshape(-1, 3) for corners in (triangles, np.roll(triangles, -1, axis=1)))
    cut = (a[:, 2] - height) * (b[:, 2] - height) < 0
    share = (height - a[cut, 2]) / (b[cut, 2] - a[cut, 2])
    return np.asarray(a[cut, 0] + share * (b[cut, 0] - a[cut, 0]))


def crossings_of_line(line: np.ndarray, height: float) -> np.ndarray:
    a, b = line[:-1], line[1:]
    cut = (a[:, 1] - height) * (b[:, 1] - height) <= 0
    share = (height - a[cut, 1]) / (b[cut, 1] - a[cut, 1])
    return a[cut, 0] + share * (b[cut, 0] - a[cut, 0])


def test_an_even_outline_makes_a_body_that_is_even_to_the_last_bit() -> None:
    """Live symmetry looks for the partner of every point; a skin known to single precision had pushed them apart."""
    line = pebble(31, 54)
    spans = spans_of([line])
    half = (spans[:, 1] - spans[:, 0]) / 2
    cage = outlined(np.column_stack([-half, half, spans[:, 2]]), 34, 4, 3, 8)
    points = {tuple(point) for point in cage.points.tolist()}
    assert {(-x, y, z) for x, y, z in points} == points
    assert {(x, -y, z) for x, y, z in points} == points


@pytest.mark.parametrize(
    "spans",
    [[[0, 0, 0], [0, 0, 1]], [[0, 1, 0]], [[0, 1, 1], [0, 1, 0]], [[np.nan, 1, 0], [0, 1, 1]]],
    ids=["no width", "one height", "falling", "no number"],
)
def test_what_is_no_outline_is_refused(spans: list[list[float]]) -> None:
    with pytest.raises(HollowMarbleError, match="outline"):
        outlined(np.array(spans), 10, 2, 2, 4)


def test_one_half_is_taken_of_a_line_that_runs_over_its_axis() -> None:
    """An outline drawn whole is two profiles in one place: turned, it would hold its inside twice over."""
    whole = pebble(31, 54)
    half, closed, taken = half_of(whole, True)
    assert (taken, closed) == (True, False)
    assert half[:, 0].min() == 0
    assert half[:, 0].max() == pytest.approx(whole[:, 0].max(), abs=1e-9)
    assert half[[0, -1], 0] == pytest.approx([0, 0], abs=1e-9)
    points, triangles = skin_of(turned(whole, 48, 16, True, True))
    found = check_soundness(points, triangles)
    assert found.closed
    assert not any(found.counts.values()), found.counts
    # the volume of a solid of revolution, pi times the integral of the radius squared (Pappus): worked out from the outline itself
    heights = np.linspace(-54, 54, 4001)
    radius = np.array([crossings_of_line(whole, h).max() if abs(h) < 54 else 0 for h in heights])
    assert measure(points, triangles, True).volume == pytest.approx(np.pi * np.trapezoid(radius**2, heights), rel=0.01)


def test_a_profile_beside_its_axis_stays_as_it_was_drawn() -> None:
    beside = np.array([[0.1, 0], [20, 10], [18, 40], [0, 60]], float)
    assert half_of(beside, False)[2] is False
    assert half_of(-beside * (1, -1), False)[0] == pytest.approx(beside)
    slipped = beside + np.array([[-0.3, 0]])
    half, _, taken = half_of(slipped, False)
    assert not taken, "a hand slips over the axis by a little"
    assert half[:, 0].min() == 0


def test_a_line_open_at_both_ends_gives_its_longer_side() -> None:
    line = np.array([[-5, 0], [0, 1], [30, 20], [25, 60], [0, 70], [-4, 71]], float)
    half, closed, taken = half_of(line, False)
    assert (taken, closed) == (True, False)
    assert half == pytest.approx(np.abs(line[1:5]))


def test_the_outline_is_the_line_that_encloses_most() -> None:
    body, dial = pebble(200, 300), pebble(30, 30)
    found = outline_of([dial, body + 3, dial + 50])
    assert found is not None
    assert found.closed
    assert found.box == pytest.approx((*(body.min(axis=0) + 3), *(body.max(axis=0) + 3)))
    pieces = [body[:60], body[60:130], body[130:]]
    together = outline_of(pieces)
    assert together is not None
    assert (len(together.lines), together.box[3] - together.box[1]) == (3, pytest.approx(600))
    assert outline_of([]) is None
    assert outline_of([np.zeros((4, 2))]) is None


@pytest.fixture
def application(tmp_path: Path) -> Iterator[Application]:
    made = Application(tmp_path)
    yield made
    made.workspace.close()


@pytest.fixture
def project(application: Application) -> Project:
    return application.workspace.library.create("Wren")


def draw(project: Project, outline: np.ndarray, middle: tuple[float, float] = (1200, 800)) -> str:
    designer = Designer(project)
    sheet = designer.document("sheet")
    samples = np.zeros((len(outline), 4), np.float32)
    samples[:, :2] = outline * (1, -1) + middle
    samples[:, 2] = 0.7
    designer.draw(sheet, samples, layer="rough")
    return sheet


def part_of(project: Project) -> Any:
    return project.ledger.state(project.ledger.rows("form")[0].id)


@pytest.mark.parametrize("how", ["outlined", "turned"])
def test_a_drawing_becomes_a_body_in_one_move(application: Application, project: Project, how: Any) -> None:
    sheet, form = draw(project, pebble(180, 314)), project.ledger.rows("form")[0].id
    editing = application.editing
    begin_over(editing, project, form, BeginRequest(sheet=sheet, how=how, height=108), ANYBODY)
    state = part_of(project)
    (part,), (reference,) = state.parts, state.references
    body = application.workspace.evaluator(project).body(part, state.parts)
    extents = np.ptp(body.mesh(4).positions, axis=0)
    wide = 2 * pebble(180, 314)[:, 0].max() * 108 / 628
    assert extents[2] == pytest.approx(108, rel=0.01)
    assert extents[0] == pytest.approx(wide, rel=0.02)
    assert extents[1] == pytest.approx(wide if how == "turned" else 0.6 * wide, rel=0.02)
    # the view stands where the body does: its known line is the outline's height, its middle the origin
    (ax, ay), (_, by) = reference.line
    assert (abs(by - ay), reference.length, ax) == (pytest.approx(628, abs=2), 108, pytest.approx(1200, abs=1))
    assert project.ledger.state(sheet).views[0].view == "front"
    # it can be shaped at once, with the symmetry it began with
    face = {"kind": "extruded", "faces": [0], "distance": 4, "symmetry": part.symmetry.model_dump()}
    shaped = Shape.model_validate({"part": part.id, "step": face})
    editing.make(project, form, lambda _: Proposal(shaped), ANYBODY)
    project.ledger.undo(form)
    project.ledger.undo(form)
    assert part_of(project).parts == part_of(project).references == (), "undone as one move"


def test_a_view_of_the_side_makes_a_body_that_lies_that_way(application: Application, project: Project) -> None:
    sheet, form = draw(project, pebble(90, 314, 60)), project.ledger.rows("form")[0].id
    Designer(project).edit(sheet, FrameView(id="v", view="side", name="side", rect=(900, 400, 1500, 1200)))
    wish = BeginRequest(sheet=sheet, view="v", how="outlined", height=100, deep=62)
    begin_over(application.editing, project, form, wish, ANYBODY)
    (part,) = part_of(project).parts
    body = application.workspace.evaluator(project).body(part, ())
    points = body.mesh(4).positions
    assert np.ptp(points, axis=0)[0] == pytest.approx(62, rel=0.01)
    # it leans to the right of the sheet, which is to the back
    top = points[points[:, 2] > 30]
    assert top[:, 1].mean() > 3
    assert part.symmetry.planes == ("W",)


def test_begun_again_over_the_same_view_it_is_pinned_once(application: Application, project: Project) -> None:
    sheet, form = draw(project, pebble(180, 314)), project.ledger.rows("form")[0].id
    for _ in range(2):
        begin_over(application.editing, project, form, BeginRequest(sheet=sheet, how="outlined"), ANYBODY)
    state = part_of(project)
    assert (len(state.references), [part.name for part in state.parts]) == (1, ["Body", "Part 2"])


def test_an_empty_sheet_says_what_to_do(application: Application, project: Project) -> None:
    sheet, form = project.ledger.rows("sheet")[0].id, project.ledger.rows("form")[0].id
    with pytest.raises(HollowMarbleError, match="Draw the outline"):
        begin_over(application.editing, project, form, BeginRequest(sheet=sheet, how="turned"), ANYBODY)
