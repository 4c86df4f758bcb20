"""Studios and boards: what a shot keeps, what light means, what was decided."""

from __future__ import annotations

import numpy as np
import pytest

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.board import edits as b
from hollow_marble.documents.board.model import Board
from hollow_marble.documents.form.changes import PlacedPoints
from hollow_marble.documents.form.evaluation import FormEvaluator
from hollow_marble.documents.form.model import Form, Part
from hollow_marble.documents.form.starts import BoxStart
from hollow_marble.documents.studio import edits as s
from hollow_marble.documents.studio.model import Camera, Finish, Studio
from hollow_marble.documents.studio.staging import Facts, facts_of, pixel_size, scene_of, stage

PART = Part(id="p", name="Box", steps=(BoxStart(size=(40, 20, 80), divisions=(2, 2, 2)), PlacedPoints(how="move", points=tuple(range(26)), values=(7, 3, 55))))  # fmt: skip
FORM = Form(parts=(PART,))


def _evaluator() -> FormEvaluator:
    return FormEvaluator(lambda sha: b"")


def test_the_product_stands_on_the_floor_in_the_middle() -> None:
    evaluator = _evaluator()
    scene = scene_of(Studio().setting, FORM, evaluator)
    product = scene.bodies[1].points
    assert product[:, 2].min() == pytest.approx(0, abs=1e-4)
    assert (product[:, 0].min() + product[:, 0].max()) == pytest.approx(0, abs=1e-4)
    assert np.allclose(np.linalg.norm(scene.bodies[1].normals, axis=1), 1, atol=1e-3)
    assert len(scene.lamps) == 3


def test_a_lamp_that_is_off_is_not_in_the_scene() -> None:
    studio = Studio()
    off = s.SetLamp(lamp=studio.setting.lamps[1].model_copy(update={"on": False})).applied_to(studio)
    assert len(scene_of(off.setting, FORM, _evaluator()).lamps) == 2


def test_nothing_to_photograph_is_said() -> None:
    with pytest.raises(HollowMarbleError, match="nothing to photograph"):
        scene_of(Studio().setting, Form(), _evaluator())


def test_a_larger_nearer_key_gives_a_softer_shadow_and_more_fill_a_lower_ratio() -> None:
    studio = Studio()
    evaluator = _evaluator()

    def facts(work: Studio) -> Facts:
        return facts_of(work.setting, stage(work.setting, FORM, evaluator), evaluator.load, evaluator.shelf)

    key, fill, _ = studio.setting.lamps
    plain = facts(studio)
    softer = facts(s.SetLamp(lamp=key.model_copy(update={"width": 900.0})).applied_to(studio))
    flatter = facts(s.SetLamp(lamp=fill.model_copy(update={"power": 1.0})).applied_to(studio))
    assert softer.lamps["key"].shadow_end > plain.lamps["key"].shadow_end
    assert softer.lamps["key"].shadow_sides > plain.lamps["key"].shadow_sides
    assert flatter.key_to_fill < plain.key_to_fill
    dark = facts(s.SetLamp(lamp=key.model_copy(update={"on": False})).applied_to(studio))
    assert "key" not in dark.lamps
    assert dark.key_to_fill is None


def test_a_shot_keeps_what_it_was_made_of() -> None:
    studio = s.SetFinish(part="p", name="Box", finish=Finish(material="rubber")).applied_to(Studio())
    studio = s.KeepShot(id="one", name="Hero", width=300, height=200, form="f", form_edit=3).applied_to(studio)
    kept = studio.shots[0]
    studio = s.SetCamera(camera=Camera(focal=35.0)).applied_to(studio)
    studio = s.SetFinish(part="p", name="Box", finish=Finish(material="clear glass")).applied_to(studio)
    assert studio.shots[0] == kept, "working on does not change a shot"
    updated = s.ChangeShot(id="one", update=True, form_edit=9).applied_to(studio)
    assert updated.shots[0].setting.camera.focal == 35.0
    assert updated.shots[0].form_edit == 9
    some = s.ChangeShot(id="one", update=True, form_edit=9, only=("camera", "form")).applied_to(studio).shots[0]
    assert (some.setting.camera.focal, some.form_edit) == (35.0, 9)
    assert some.setting.finishes == kept.setting.finishes, "what was not asked for stays as it was kept"
    back = s.OpenShot(id="one").applied_to(studio)
    assert back.setting == kept.setting
    with pytest.raises(HollowMarbleError, match="already"):
        s.KeepShot(id="two", name="Hero", width=300, height=200, form="f", form_edit=3).applied_to(studio)
    assert s.RemoveShot(id="one").applied_to(studio).shots == ()


def test_a_board_compares_pins_and_decides() -> None:
    board = b.HangTake(take="a", name="A").applied_to(Board())
    board = b.HangTake(take="b", name="B").applied_to(board)
    assert board.pair == ("a", "b")
    board = b.PinComment(
        id="p", take="a", x=0.5, y=0.5, text="Softer", who="Ines", at="2026-01-01T00:00:00Z"
    ).applied_to(board)
    board = b.ResolvePin(id="p", resolved=True).applied_to(board)
    assert board.pins[0].resolved
    for decision in ("change", "keep"):
        board = b.GiveVerdict(
            take="a", decision=decision, reason="So.", who="Ines", at="2026-01-01T00:00:00Z"
        ).applied_to(board)  # type: ignore[arg-type]
    assert [v.decision for v in board.verdicts] == ["change", "keep"], "the record keeps both"
    down = b.TakeDown(take="a").applied_to(board)
    assert down.takes == ("b",)
    assert len(down.verdicts) == 2
    assert b.RemovePin(id="p").applied_to(board).pins == ()


def test_what_a_board_cannot_do_is_said() -> None:
    board = b.HangTake(take="a", name="A").applied_to(Board())
    for edit, words in (
        (b.HangTake(take="a", name="A"), "hangs here already"),
        (b.PinComment(id="p", take="z", x=0, y=0, text="t", who="w", at="now"), "does not hang"),
        (b.ComparePair(left="a", right="a"), "two different"),
        (b.GiveVerdict(take="z", decision="drop", reason="r", who="w", at="now"), "does not hang"),
    ):
        with pytest.raises(HollowMarbleError, match=words):
            edit.applied_to(board)


def test_verdicts_read_as_sentences() -> None:
    said = b.GiveVerdict(take="a", decision="change", reason="Softer shoulder.", who="Tomas", at="now").sentence()
    assert said == "Tomas asks to change it: Softer shoulder."
    assert "Hero, 300 × 200" in s.KeepShot(id="x", name="Hero", width=300, height=200, form="f", form_edit=1).sentence()


def test_a_part_is_as_smooth_in_a_take_as_it_says() -> None:
    """A face of four corners gives (2^level + 1)² points of skin; a part that says nothing is as fine as the picture needs."""
    part = FORM.parts[0]
    faces = _evaluator().cage(part).face_count
    for given, level in ((1, 1), (5, 5)):
        form = Form(parts=(part.model_copy(update={"take_level": given}),))
        body = scene_of(Studio().setting, form, _evaluator()).bodies[1]
        assert len(body.points) == faces * (2**level + 1) ** 2
    small, large = (scene_of(Studio().setting, FORM, _evaluator(), width).bodies[1] for width in (64, 4000))
    assert len(small.points) == faces * (2**part.level + 1) ** 2, "never coarser than it is worked on"
    assert len(large.points) > len(small.points)


def test_a_pixel_at_the_product_by_similar_triangles() -> None:
    """36 mm of frame at f = 70 mm: at 620 mm the frame shows 36 / 70 × 620 mm."""
    setting = Studio().setting.model_copy(update={"camera": Camera(focal=70, distance=620, height=35, aim=35)})
    staged = stage(setting, FORM, _evaluator())
    away = float(np.linalg.norm(staged.lens.place - staged.centre))
    assert pixel_size(staged, 1000) == pytest.approx(36 / 70 * away / 1000)
