"""A photographer's room: kinds of lamps and sets, what things are held to, copies of the product, colourways, shots that keep what they were."""

from __future__ import annotations

import math

import numpy as np
import pytest
from pydantic import TypeAdapter

from hollow_marble.application import moves
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.studio.emitters import FAR
from hollow_marble.documents.form.evaluation import FormEvaluator
from hollow_marble.documents.form.model import Form, Part
from hollow_marble.documents.form.starts import BoxStart
from hollow_marble.documents.studio import edits as s
from hollow_marble.documents.studio.changes import another, held_to, mirrored, of_kind, turned_finish
from hollow_marble.documents.studio.model import (
    LAMPS,
    SETS,
    Camera,
    Card,
    Finish,
    KeptView,
    Setting,
    SoftBox,
    Studio,
    Surround,
    Sweep,
    Unit,
)
from hollow_marble.documents.studio.model.lamps import Blades, FarSource, Spot, Strip, WindowScreen
from hollow_marble.documents.studio.model.sets import Black, PictureBehind, ShadowOnly, White
from hollow_marble.documents.studio.staging import beyond_of, facts_of, scene_of, stage, widened
from hollow_marble.documents.studio.staging.placing import azimuth_of, stand_of
from hollow_marble.documents.studio.staging.scenes import CARDS
from hollow_marble.documents.studio.staging.surroundings import surround_map
from hollow_marble.documents.studio.staging.thrown import thrown_back
from hollow_marble.documents.studio.starts import LIGHTS, READY_SETS

TALL = Part(id="p", name="Body", steps=(BoxStart(size=(60, 30, 100), divisions=(2, 2, 2)),))
CAP = Part(id="c", name="Cap", steps=(BoxStart(size=(20, 20, 10), divisions=(1, 1, 1)),))
FORM = Form(parts=(TALL, CAP))
EVALUATOR = FormEvaluator(lambda sha: b"")


def facts(setting: Setting):
    return facts_of(setting, stage(setting, FORM, EVALUATOR), EVALUATOR.load, EVALUATOR.shelf)


@pytest.mark.parametrize("kind", [model.model_fields["kind"].default for model in LAMPS])
def test_every_kind_of_lamp_comes_from_a_soft_box_and_goes_back_to_one_with_what_both_have(kind: str) -> None:
    box = SoftBox(id="a", role="fill", azimuth=40, height=20, width=300, power=1.5, warmth=4_000, name="Left")
    there = of_kind(box, kind)
    assert there.kind == kind
    assert (there.name, there.azimuth, there.height) == ("Left", 40, 20)
    back = of_kind(there, "soft box")
    assert (back.azimuth, back.height, back.id) == (40, 20, "a")
    scene = scene_of(Setting(lamps=(there,)), FORM, EVALUATOR, 100)
    assert len(scene.lamps) == (0 if kind == "card" else 1)
    if kind != "card":
        assert facts(Setting(lamps=(there,))).lamps["a"].lux > 0


@pytest.mark.parametrize("kind", [model.model_fields["kind"].default for model in SETS if model is not PictureBehind])
def test_every_kind_of_set_can_be_stood_on(kind: str) -> None:
    chosen = of_kind(Sweep(colour="#445566", depth=900), kind)
    assert chosen.kind == kind
    scene = scene_of(Setting(set=chosen, lamps=LIGHTS["three-point"]), FORM, EVALUATOR, 100)
    points = np.concatenate([body.points for body in scene.bodies if body.product])
    assert points[:, 2].min() == pytest.approx(0, abs=1e-3)
    under = [body for body in scene.bodies if not body.product and body.points[:, 2].max() >= -1e-3]
    assert under, "something reaches up to where the product stands"
    for body in scene.bodies:
        assert np.linalg.norm(body.normals, axis=1) == pytest.approx(1.0, abs=1e-3)


def test_an_unknown_kind_is_told_with_those_there_are() -> None:
    with pytest.raises(HollowMarbleError, match=r"no such kind\. Choose one of soft box, strip"):
        of_kind(SoftBox(id="a"), "laser")


@pytest.mark.parametrize("held", ["room", "product", "camera"])
def test_a_lamp_that_is_held_to_something_else_stays_where_it_stands_and_turns_with_it(held: str) -> None:
    setting = Setting(camera=Camera(azimuth=30), units=(Unit(id="u", turn=-50),))
    lamp = SoftBox(id="a", azimuth=100, height=30)
    middle = np.array([0, 0, 50.0])
    there = held_to(lamp, held, setting)
    assert stand_of(there, setting, middle).middle == pytest.approx(stand_of(lamp, setting, middle).middle)
    turned = setting.model_copy(update={"camera": Camera(azimuth=60), "units": (Unit(id="u", turn=-10),)})
    by = {"room": 0, "product": 40, "camera": 30}[held]
    assert azimuth_of(there, turned) - azimuth_of(there, setting) == pytest.approx(by)
    back = held_to(there, "room", setting)
    assert back.azimuth == pytest.approx(100)


def test_a_mirrored_lamp_stands_as_far_to_the_other_side_of_the_camera() -> None:
    setting = Setting(camera=Camera(azimuth=20), lamps=(SoftBox(id="a", azimuth=-40, height=35, turn=10),))
    copy = mirrored(setting.lamps[0], setting.lamps, setting)
    assert (copy.azimuth, copy.height, copy.turn) == (80, 35, -10)
    assert copy.id != "a"
    assert another(setting.lamps[0], (*setting.lamps, copy)).id not in ("a", copy.id)


@pytest.mark.parametrize("pose", ["stand", "lie", "face down", "lean", "hang"])
def test_a_product_rests_on_the_ground_in_every_pose_but_hanging(pose: str) -> None:
    unit = Unit(id="u", pose=pose, x=120, y=-30, turn=33, tip=14 if pose == "lean" else 0, high=80)
    staged = stage(Setting(units=(unit,)), FORM, EVALUATOR).units[0]
    assert staged.low[2] == pytest.approx(80 if pose == "hang" else 0, abs=1e-6)
    assert (staged.low[:2] + staged.high[:2]) / 2 == pytest.approx([120, -30], abs=1e-6)
    tall = staged.high[2] - staged.low[2]
    assert tall < 40 if pose in ("lie", "face down") else tall > 90
    assert np.linalg.det(staged.matrix[:3, :3]) == pytest.approx(1.0)


def test_a_lying_product_looks_up_with_its_front() -> None:
    for pose, up in (("lie", 1.0), ("face down", -1.0)):
        matrix = stage(Setting(units=(Unit(id="u", pose=pose),)), FORM, EVALUATOR).units[0].matrix
        assert (matrix[:3, :3] @ (0, -1, 0))[2] == pytest.approx(up)


def test_copies_wear_colourways_and_a_shot_keeps_those_it_was_kept_with() -> None:
    red, blue = Finish(colour="#AA1111"), Finish(colour="#1111AA", material="gloss plastic")
    studio = s.SetFinish(part="p", name="Body", finish=red).applied_to(Studio())
    studio = s.KeepColourway(id="r", name="Red").applied_to(studio)
    studio = s.SetFinish(part="p", name="Body", finish=blue).applied_to(studio)
    studio = s.PlaceUnits(units=(Unit(id="a"), Unit(id="b", x=140, colourway="r"))).applied_to(studio)
    studio = s.KeepShot(id="one", name="Pair", width=200, height=100, form="f", form_edit=3).applied_to(studio)
    scene = scene_of(studio.shots[0].setting, FORM, EVALUATOR, 100, studio.shots[0].colourways)
    bodies = [body.surface.made.colour for body in scene.bodies if body.product]
    assert len(bodies) == 4
    assert bodies[0][2] > bodies[0][0], "the first wears what is worked on"
    assert bodies[1][0] > bodies[1][2], "the second wears red"
    changed = s.KeepColourway(id="r", name="Red").applied_to(studio)
    assert changed.colourways[0].finishes["p"] == blue
    assert changed.shots[0].colourways[0].finishes["p"] == red, "the shot keeps what it was"
    gone = s.RemoveColourway(id="r").applied_to(studio)
    assert [unit.colourway for unit in gone.setting.units] == [None, None]
    worn = s.WearColourway(id="r", name="Red").applied_to(studio)
    assert worn.setting.finishes["p"] == red


def test_a_part_left_out_is_in_no_picture_and_a_form_of_none_is_told() -> None:
    studio = s.HidePart(part="c", name="Cap", hidden=True).applied_to(Studio())
    assert sum(body.product for body in scene_of(studio.setting, FORM, EVALUATOR, 100).bodies) == 1
    both = s.HidePart(part="p", name="Body", hidden=True).applied_to(studio)
    with pytest.raises(HollowMarbleError, match="nothing to photograph"):
        scene_of(both.setting, FORM, EVALUATOR, 100)
    assert s.HidePart(part="c", name="Cap", hidden=False).applied_to(studio).setting.hidden == ()


def test_views_come_back_exactly_and_shots_are_duplicated_as_they_are() -> None:
    studio = Studio()
    kept = s.KeepView(view=KeptView(id="v", name="Low", camera=Camera(focal=123.4, height=17.25))).applied_to(studio)
    moved = s.SetCamera(camera=Camera(focal=30)).applied_to(kept)
    assert s.GoToView(id="v").applied_to(moved).setting.camera == Camera(focal=123.4, height=17.25)
    shot = s.KeepShot(id="s", name="Tall", width=400, height=900, form="f", form_edit=1).applied_to(moved)
    there = s.GoToView(id="v", shot="s").applied_to(shot)
    assert [(one.width, one.height) for one in there.shots] == [(960, 600)], "the frame it was kept in"
    assert there.shots[0].setting == shot.shots[0].setting
    with pytest.raises(HollowMarbleError, match="already"):
        s.KeepView(view=KeptView(id="w", name="Low", camera=Camera())).applied_to(kept)
    assert s.ForgetView(id="v").applied_to(kept).views == ()
    shot = s.KeepShot(id="one", name="Hero", width=300, height=200, form="f", form_edit=3).applied_to(moved)
    two = s.DuplicateShot(of="one", id="two", name="Hero 2").applied_to(shot)
    assert two.shots[0] == shot.shots[0]
    assert two.shots[1] == shot.shots[0].model_copy(update={"id": "two", "name": "Hero 2"})


def test_unused_finishes_go_in_one_step() -> None:
    studio = s.SetFinish(part="old", name="Old", finish=Finish()).applied_to(Studio())
    studio = s.SetFinishes(parts=("p", "c"), finish=Finish(material="rubber")).applied_to(studio)
    cleared = s.ClearFinishes(kept=("p", "c")).applied_to(studio)
    assert cleared.setting.finishes.keys() == {"p", "c"}
    with pytest.raises(HollowMarbleError, match="nothing to clear"):
        s.ClearFinishes(kept=("p", "c")).applied_to(cleared)


@pytest.mark.parametrize("name", list(READY_SETS))
def test_every_ready_set_lights_the_product_and_keeps_the_view(name: str) -> None:
    before = Setting(camera=Camera(focal=85, distance=500, azimuth=12), finishes={"p": Finish(material="wood")})
    after = s.StartSet(start=name).applied_to(Studio(setting=before)).setting
    assert (after.camera.focal, after.camera.azimuth, after.finishes) == (85, 12, before.finishes)
    told = facts(after)
    assert told.metered == pytest.approx(after.camera.exposure, abs=4.5)
    assert TypeAdapter(Setting).validate_json(after.model_dump_json()) == after


@pytest.mark.parametrize("start", list(LIGHTS))
def test_every_start_of_light_has_a_key_that_reaches_the_product(start: str) -> None:
    assert facts(s.StartLight(start=start).applied_to(Studio()).setting).lamps["key"].lux > 100


def test_where_the_frame_runs_off_the_set_its_side_is_told_and_widening_mends_it() -> None:
    narrow = Setting(set=Sweep(width=240, depth=300), camera=Camera(focal=50, distance=600, height=100, aim=50))
    staging = stage(narrow, FORM, EVALUATOR)
    assert set(beyond_of(narrow, staging)) >= {"left", "right"}
    wide = widened(narrow, staging, 1.6)
    assert beyond_of(wide, stage(wide, FORM, EVALUATOR)) == ()
    assert wide.set.depth == 300
    for endless in (Black(), White(), ShadowOnly()):
        assert beyond_of(narrow.model_copy(update={"set": endless}), staging) == ()


def test_what_stands_before_a_lamp_takes_light_away() -> None:
    bare = SoftBox(id="a", role="key", azimuth=-30, height=30)
    cut = bare.model_copy(update={"before": Blades(left=0.5)})
    combed = bare.model_copy(update={"spread": 30.0})
    lux = {
        name: facts(Setting(lamps=(lamp,))).lamps["a"].lux
        for name, lamp in (("bare", bare), ("cut", cut), ("combed", combed))
    }
    assert lux["cut"] == pytest.approx(lux["bare"] / 2, rel=0.06)
    assert 0.15 * lux["bare"] < lux["combed"] < lux["bare"]
    closed = facts(Setting(lamps=(bare.model_copy(update={"before": Blades(left=0.6, right=0.6)}),)))
    assert closed.lamps["a"].lux == 0
    scene = scene_of(Setting(lamps=(Strip(id="a", before=WindowScreen()),)), FORM, EVALUATOR, 100)
    assert len(scene.bodies) == 1 + 2 + 1, "the sweep, two parts, the window"


def test_a_card_shines_with_what_it_is_given_and_the_ground_is_shared_out_among_the_lamps() -> None:
    """Lambert's law for the card; the room by itself: an even dome of radiance L gives an irradiance of pi L (closed forms)."""
    lamp = FarSource(id="sun", azimuth=0.0, height=30.0)
    card = Card(id="card", azimuth=180.0, height=0.0, distance=400.0)
    setting = Setting(lamps=(lamp, card), surround=Surround(room=-3.0))
    staging = stage(setting, FORM, EVALUATOR)
    around = surround_map(setting, EVALUATOR.load, EVALUATOR.shelf)
    found = thrown_back(staging, around)
    sun = staging.lamps[0].radiance * math.pi * (staging.lamps[0].shape.extent[0] / 2) ** 2 / FAR**2
    room = np.pi * around[0, 0]
    white = np.array(CARDS["white"].colour)
    assert found.cards["card"] == pytest.approx(white * (sun * math.cos(math.radians(30)) + room) / np.pi, rel=0.01)
    assert found.ground == pytest.approx((sun * math.sin(math.radians(30)) + room) / np.pi, rel=0.01)
    assert found.shares["sun"] == pytest.approx(1 - room.sum() / (np.pi * found.ground.sum()), rel=1e-6)


def test_inverse_square_and_stops_in_lux() -> None:
    near = SoftBox(id="a", role="key", width=60, tall=60, distance=700)
    far, bright = near.model_copy(update={"distance": 1_400.0}), near.model_copy(update={"power": 1.0})
    one, four, two = (facts(Setting(lamps=(lamp,))).lamps["a"].lux for lamp in (near, far, bright))
    assert one / four == pytest.approx(4.0, rel=0.01)
    assert two / one == pytest.approx(2.0)


def test_lux_typed_is_lux_told() -> None:
    setting = Setting(lamps=(Spot(id="a", role="key"), FarSource(id="b", azimuth=40)))
    for ident in ("a", "b"):
        lamp, _ = moves.lamp_moved(setting, FORM, EVALUATOR, ident, moves.Lux(kind="lux", lux=4_321.0))
        assert facts(Setting(lamps=(lamp,))).lamps[ident].lux == pytest.approx(4_321)
    with pytest.raises(HollowMarbleError, match="no light of its own"):
        moves.lamp_moved(Setting(lamps=(Card(id="c"),)), FORM, EVALUATOR, "c", moves.Lux(kind="lux", lux=10))
    behind = SoftBox(id="a", aim=(0.0, 0.0, 900.0), azimuth=0, height=-80, distance=300)
    with pytest.raises(HollowMarbleError, match="Turn it towards the product"):
        moves.lamp_moved(Setting(lamps=(behind,)), FORM, EVALUATOR, "a", moves.Lux(kind="lux", lux=10))


def test_a_grey_card_metered_comes_out_as_it_is() -> None:
    """A white card that faces the camera has the radiance E / pi; at the metered exposure that is one."""
    setting = Setting(lamps=LIGHTS["broad"])
    camera = moves.camera_moved(setting, FORM, EVALUATOR, moves.Meter(kind="meter"))
    staging = stage(setting, FORM, EVALUATOR)
    towards = (staging.lens.place - staging.centre) / np.linalg.norm(staging.lens.place - staging.centre)
    light = sum(float(lamp.reaching(staging.centre).onto(staging.centre, towards).sum()) for lamp in staging.lamps)
    room = np.pi * 2.0**-5.6
    assert (light + room) / np.pi * 2.0 ** (10 - camera.exposure) == pytest.approx(1.0, rel=0.02)


def test_a_framed_product_fills_its_share_and_a_longer_lens_keeps_its_size() -> None:
    setting = Setting(camera=Camera(focal=50, distance=2_000, azimuth=30, height=400))
    framed = setting.model_copy(
        update={"camera": moves.camera_moved(setting, FORM, EVALUATOR, moves.Frame(kind="frame", size=(960, 600)))}
    )

    def spread(of: Setting) -> float:
        staging = stage(of, FORM, EVALUATOR)
        unit = staging.units[0]
        corners = np.array(
            [
                [x, y, z]
                for x in (unit.low[0], unit.high[0])
                for y in (unit.low[1], unit.high[1])
                for z in (unit.low[2], unit.high[2])
            ]
        )
        seen = staging.lens.seen(corners, 960, 600)
        return float(np.ptp(seen[:, 1]) / 600)

    assert spread(framed) == pytest.approx(moves.FILLS, abs=0.06)
    longer = framed.model_copy(
        update={"camera": moves.camera_moved(framed, FORM, EVALUATOR, moves.KeepSize(kind="lens", focal=135))}
    )
    assert longer.camera.focal == 135
    assert spread(longer) == pytest.approx(spread(framed), rel=0.08)


def test_the_focus_lies_where_it_was_touched_and_the_camera_stays_out_of_the_product() -> None:
    setting = Setting(camera=Camera(focal=70, distance=500, height=60, aim=50))
    camera = moves.camera_moved(setting, FORM, EVALUATOR, moves.Focus(kind="focus", at=(480, 300), size=(960, 600)))
    staging = stage(setting.model_copy(update={"camera": camera}), FORM, EVALUATOR)
    assert staging.lens.focus == pytest.approx(500 - 15, abs=1.5), (
        "the front of the product, half its depth before the middle"
    )
    assert camera.aperture == 8
    with pytest.raises(HollowMarbleError, match="no product there"):
        moves.camera_moved(setting, FORM, EVALUATOR, moves.Focus(kind="focus", at=(5, 5), size=(960, 600)))
    inside = Setting(camera=Camera(distance=50, height=50, aim=50), units=(Unit(id="u", y=-50),))
    with pytest.raises(HollowMarbleError, match="inside the product"):
        scene_of(inside, FORM, EVALUATOR, 100)


def test_another_material_keeps_the_colour_unless_it_brings_its_own() -> None:
    green = Finish(material="matte plastic", colour="#20483C", amounts={"roughness": 0.5})
    assert turned_finish(green, "rubber").colour == "#20483C"
    assert turned_finish(green, "rubber").amounts == {}
    assert turned_finish(green, "polished metal").colour == "#E4E0DA"
    assert turned_finish(turned_finish(green, "polished metal"), "rubber").colour == "#C9C4BA"
    with pytest.raises(HollowMarbleError, match="no such material"):
        turned_finish(green, "unobtainium")
