"""The demo project: whole, the same every time, and as the brief says."""

from __future__ import annotations

import json
import shutil
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from click.testing import CliRunner

from hollow_marble.application.waiting import develop_takes
from hollow_marble.cli import main
from hollow_marble.core.surface.soundness import check_soundness
from hollow_marble.demo.build import Develop, Say, build_demo, has_demo, remove_demo
from hollow_marble.demo.designer import Designer
from hollow_marble.demo.fittings import WALL
from hollow_marble.demo.sheets.ideas import FRONT, SIDE
from hollow_marble.documents.board.model import Board
from hollow_marble.documents.form.curves import CurvePlane, DrawnCurve
from hollow_marble.documents.form.edits import ChangeStep
from hollow_marble.documents.form.model import Form
from hollow_marble.documents.sheet.model import Sheet
from hollow_marble.documents.sheet.notes import length_words
from hollow_marble.documents.studio.model import Studio
from hollow_marble.store.assets import load_asset
from hollow_marble.store.library import Library, Project
from hollow_marble.store.takes import get_take


@pytest.fixture(scope="module")
def demo_made(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """
    The demo as `hollow-marble demo` builds it; its takes are drafts the size of a stamp. Tests work on copies of `data`; `said.json` holds
    what was said while it was built, `output.txt` what was printed.
    """
    folder = tmp_path_factory.mktemp("made")
    _make_demo(folder)
    return folder


def _make_demo(folder: Path) -> None:
    said: list[tuple[str, float]] = []

    def build(library: Library, say: Say, develop: Develop | None) -> Project:
        def hear(what: str, share: float) -> None:
            said.append((what, share))
            say(what, share)

        return build_demo(library, hear, develop)

    def stamps(project: Project, studio: str, wishes: Any, show: Any) -> Any:
        return develop_takes(project, studio, [(shot, "draft", (96, 64)) for shot, _, _ in wishes], show)

    with pytest.MonkeyPatch.context() as patch:
        patch.setattr("hollow_marble.application.waiting.develop_takes", stamps)
        patch.setattr("hollow_marble.demo.build.build_demo", build)
        printed = CliRunner().invoke(main, ["demo", "--data", str(folder / "data"), "--build-only"])
    assert printed.exit_code == 0, printed.output
    (folder / "said.json").write_text(json.dumps(said))
    (folder / "output.txt").write_text(printed.output)


@pytest.fixture(scope="module")
def library(demo_made: Path, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Library]:
    folder = tmp_path_factory.mktemp("demo")
    shutil.copytree(demo_made / "data", folder, dirs_exist_ok=True)
    library = Library(folder)
    yield library
    library.close()


@pytest.fixture(scope="module")
def demo(library: Library) -> Project:
    return library.named("Linnet")


def state(project: Project, kind: Any, place: int = 0) -> Any:
    return project.ledger.state(project.ledger.rows(kind)[place].id)


def test_the_demo_is_built_once_and_found_again(demo_made: Path, tmp_path: Path) -> None:
    assert "Ready" in (demo_made / "output.txt").read_text()
    shutil.copytree(demo_made / "data", tmp_path, dirs_exist_ok=True)
    library = Library(tmp_path)
    ident = library.named("Linnet").entry.id
    library.close()
    again = CliRunner().invoke(main, ["demo", "--data", str(tmp_path), "--build-only"])
    assert again.exit_code == 0
    assert "Building" not in again.output
    library = Library(tmp_path)
    assert library.named("Linnet").entry.id == ident
    library.close()


def test_progress_goes_forward_to_the_end(demo_made: Path) -> None:
    said = json.loads((demo_made / "said.json").read_text())
    shares = [share for _, share in said]
    assert len(shares) > 8
    assert shares == sorted(shares)
    assert said[-1] == ["Ready", 1.0]


def test_the_first_sheet_holds_three_sides_one_struck_out_and_a_front(demo: Project) -> None:
    sheet = state(demo, "sheet")
    assert isinstance(sheet, Sheet)
    sides = [view for view in sheet.views if view.view == "side"]
    assert len(sides) == 3
    assert [view.name for view in sides if view.struck] == ["side, bar"]
    assert {view.view for view in sheet.views} == {"side", "front"}
    samples = [
        np.frombuffer(load_asset(demo.database, stroke.samples)[0], "<f4").reshape(-1, 4)
        for layer in sheet.layers
        if layer.kind == "ink"
        for stroke in layer.strokes
    ]
    assert len(samples) > 100
    assert all(np.ptp(stroke[:, 2]) > 0.05 for stroke in samples if len(stroke) > 20)  # the pen's pressure varies


def test_the_sheets_go_from_ideas_to_a_page_to_present(demo: Project) -> None:
    rows = demo.ledger.rows("sheet")
    assert [row.name for row in rows] == [
        "First morning",
        "Into perspective",
        "Clean lines",
        "Rendering",
        "To the table",
    ]
    sheets = [demo.ledger.state(row.id) for row in rows]
    assert [sheet.chosen for sheet in sheets if isinstance(sheet, Sheet)] == [False] * 4 + [True]
    _, construction, clean, rendering, present = (sheet for sheet in sheets if isinstance(sheet, Sheet))
    # the box found from the drawn edges is the brief's
    assert construction.box is not None
    assert construction.box.size == pytest.approx((62, 34, 108), rel=0.02)
    assert set(construction.edges.values()) == {"W", "D", "H"}
    assert {guide.kind for guide in construction.guides} == {"circle", "division", "sweep"}
    # dimensions say what the brief says
    notes = [note for layer in clean.layers if layer.kind == "notes" for note in layer.notes]
    said = {note.id: length_words(note, clean.views) for note in notes if note.kind == "dimension"}
    assert said == {"width": "62 mm", "height": "108 mm", "depth": "34 mm", "dial-size": "22 mm"}
    assert {stroke.line for layer in clean.layers if layer.kind == "ink" for stroke in layer.strokes} == {
        "plain",
        "split",
    }
    assert [layer.tint for layer in rendering.layers if layer.id == "body"] == ["#6F9479"]  # type: ignore[union-attr]
    assert present.border is not None
    assert present.ground is not None
    assert [layer.opacity for layer in present.layers if layer.name.startswith("Faint")] == [0.13, 0.13]


def test_the_rendering_is_lit_from_the_upper_left_and_stands_on_its_shadow(demo: Project) -> None:
    designer = Designer(demo)
    sheet, raster = designer.page(demo.ledger.rows("sheet")[3].id)
    page = raster.pixels((0, 0, sheet.width, sheet.height))[..., :3].mean(axis=2)
    assert page[420, 690:760].mean() > page[420, 1060:1120].mean() + 60
    assert page[1305, 860:960].mean() < 120
    assert page[1000, 1400:1600].mean() < 235
    assert page[200:300, 1800:2200].min() > 245


def test_the_body_has_the_size_of_the_brief_and_follows_the_sheet(demo: Project) -> None:
    """62 × 34 × 108 mm (product brief), beneath its details; the silhouette stays within 3.5 mm of the drawn outline."""
    designer = Designer(demo)
    form = state(demo, "form")
    assert isinstance(form, Form)
    low, high = designer.evaluator.mesh(form.parts[0].bare).extent
    assert high - low == pytest.approx([62, 34, 108], abs=1e-3)
    skin = designer.evaluator.mesh(form.parts[0], form.parts).positions
    for profile, axis, left, right in ((FRONT, 0, 1, 2), (SIDE, 1, 1, 2)):
        drawn = np.array(profile[::-1], float)
        for height in range(-45, 50, 5):
            slab = skin[np.abs(skin[:, 2] - height) < 2][:, axis]
            assert abs(slab.max() - np.interp(height, drawn[:, 0], drawn[:, right])) < 3.5
            assert abs(-slab.min() - np.interp(height, drawn[:, 0], drawn[:, left])) < 3.5


def test_every_part_is_sound(demo: Project) -> None:
    designer = Designer(demo)
    form = state(demo, "form")
    assert isinstance(form, Form)
    shown = [part for part in form.parts if part.shown]
    built = ["Level dial", "Lanyard bar", "Foot", "Battery door", "Charging cover", "Tread"]
    assert [part.name for part in shown] == ["Body", "Window", *built]
    for part in shown:
        found = check_soundness(*designer.evaluator.mesh(part, form.parts).welded())
        assert found.closed
        assert found.manifold
        assert found.consistent
        assert found.counts["crossing"] == 0, part.name


def test_the_shell_follows_the_body_with_a_wall_of_1_6_mm_and_is_open_for_door_and_charging(demo: Project) -> None:
    """Its volume is about skin × wall; inside it lies 1.6 mm from the body's skin; a needle through each opening meets nothing."""
    designer = Designer(demo)
    form = state(demo, "form")
    parts = {part.id: part for part in form.parts}
    kernel = designer.evaluator.kernel
    body = designer.evaluator.body(parts["body"], form.parts).exact(kernel)
    shell = designer.evaluator.body(parts["shell"], form.parts).exact(kernel)
    _, area, _ = kernel("measures", body)
    openings = 26.4 * 36.4 + 5.0 * 13.4  # nearly: the skin is curved, their corners are round
    bend = 2 * np.pi * np.mean([62, 34, 108])  # the integral of mean curvature: 2π × mean width of a convex body, about
    assert shell.volume == pytest.approx((area - openings) * WALL - bend * WALL**2, rel=0.03)  # Steiner's formula
    mesh = designer.evaluator.mesh(parts["shell"], form.parts)
    inner = {k for k, name in enumerate(shell.names) if name.startswith("shell.hollow") or ".in." in name}
    rows = np.flatnonzero(
        np.isin(np.repeat(np.arange(len(mesh.patch_starts) - 1), np.diff(mesh.patch_starts)), list(inner))
    )
    away = kernel("away", body, mesh.positions[rows[:: max(1, len(rows) // 40)]].astype(float))
    assert np.abs(away - WALL).max() < 0.01
    corners = mesh.positions[mesh.triangles].astype(float)
    for start, way in (((0, 3, -14), (0, 1, 0)), ((5, 0, -33), (1, 0, 0))):
        assert not _meets(np.array(start, float), np.array(way, float), corners)
    assert _meets(np.array((0.0, 3, 25)), np.array((0.0, 1, 0)), corners), "elsewhere it meets the back"


def _meets(start: np.ndarray, way: np.ndarray, corners: np.ndarray) -> bool:
    """Whether a ray meets a triangle (Möller & Trumbore 1997)."""
    a, b, c = corners[:, 0], corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]
    h = np.cross(way, c)
    det = (b * h).sum(axis=1)
    det = np.where(np.abs(det) < 1e-12, np.inf, det)
    s = start - a
    u = (s * h).sum(axis=1) / det
    q = np.cross(s, b)
    v = (q * way).sum(axis=1) / det
    return bool(((u >= 0) & (v >= 0) & (u + v <= 1) & ((c * q).sum(axis=1) / det > 0)).any())


@pytest.mark.parametrize(
    ("name", "genus"),
    [
        ("Brindle", {"Body": 0, "Lid": 0, "Knob": 0, "Base": 0, "Bail": 1, "Grip": 0}),
        ("Sorrel", {"Bottle": 0, "Oil": 0, "Cap": 0, "Bulb": 0, "Pipette": 1}),
    ],
)
def test_the_other_products_are_sound_and_have_divisions_enough(
    library: Library, name: str, genus: dict[str, int]
) -> None:
    """Euler–Poincaré: V − E + F = 2 − 2g of every skin; a bail and a pipette are rings, the rest are balls."""
    project = library.named(name)
    designer = Designer(project)
    form = project.ledger.state(designer.document("form"))
    assert isinstance(form, Form)
    shown = [part for part in form.parts if part.shown]
    assert {part.name for part in shown} == set(genus)
    for part in shown:
        points, triangles = designer.evaluator.mesh(part, form.parts).welded()
        found = check_soundness(points, triangles)
        assert found.closed
        assert found.counts["crossing"] == 0, part.name
        assert designer.evaluator.body(part, form.parts).strained() == [], part.name
        assert len(points) - len(triangles) // 2 == 2 - 2 * genus[part.name], part.name


def test_the_spout_follows_when_the_plane_of_its_path_is_tilted(library: Library) -> None:
    """Its tip goes round the path's up direction, the rounded seam with it."""
    kettle = library.named("Brindle")
    designer = Designer(kettle)
    form = kettle.ledger.state(designer.document("form"))
    assert isinstance(form, Form)
    for part in ("neck", "bore"):
        step = next(one for one in form.parts if one.id == part).steps[0]
        assert isinstance(step, DrawnCurve)
        tilted = step.model_copy(update={"plane": CurvePlane(tilt=(0.0, 20.0, 0.0))})
        form = ChangeStep(part=part, index=0, step=tilted).applied_to(form)
    body = designer.evaluator.body(form.parts[0], form.parts)
    tip = body.mesh().positions[body.mesh().positions[:, 0].argmin()]
    angle = np.degrees(np.arctan2(abs(tip[1]), -tip[0]))
    assert angle == pytest.approx(20, abs=4)
    assert any(name.startswith("spout.blend.") for name in body.exact(designer.evaluator.kernel).names)


def test_two_shots_are_developed_and_hang_with_a_verdict(demo: Project) -> None:
    studio, board = state(demo, "studio"), state(demo, "board")
    assert isinstance(studio, Studio)
    assert isinstance(board, Board)
    assert [shot.name for shot in studio.shots] == ["Hero", "Dial", "Rim", "Noon", "Front"]
    takes = [get_take(demo.database, ident) for ident in board.takes]
    assert [(take.state, take.width, take.height) for take in takes] == [("done", 96, 64)] * 2
    assert [verdict.decision for verdict in board.verdicts] == ["keep", "change"]
    assert len(board.pins) == 2


def ledgers(project: Project) -> list[list[tuple[str, str]]]:
    """Every edit of every document, without what names this very copy."""
    return [
        [(line.sentence, line.kind) for line in project.ledger.lines(row.id)]
        for row in project.ledger.rows()
        if row.kind != "board"
    ]


def test_a_fresh_demo_is_the_same_again_and_puts_the_old_one_aside(
    demo: Project, demo_made: Path, tmp_path: Path
) -> None:
    shutil.copytree(demo_made / "data", tmp_path, dirs_exist_ok=True)
    library = Library(tmp_path)
    assert has_demo(library)
    path = library.named("Linnet").database.path
    before = path.stat().st_size
    remove_demo(library)
    assert not has_demo(library)
    assert path.with_suffix(".old1").stat().st_size >= before, "nothing is deleted"
    second = build_demo(library, lambda *_: None, None)
    assert second.entry.id != demo.entry.id
    assert ledgers(second) == ledgers(demo)
    for kind in ("sheet", "form"):
        ours, theirs = state(demo, kind), state(second, kind)
        text = theirs.model_dump_json()
        for first_sheet, second_sheet in zip(demo.ledger.rows("sheet"), second.ledger.rows("sheet")):
            text = text.replace(second_sheet.id, first_sheet.id)
        assert text == ours.model_dump_json()
    library.close()
