"""Zones: faces of a part that wear a finish of their own."""

from __future__ import annotations

import numpy as np
import pytest

from hollow_marble.application import moves
from hollow_marble.application.staged import staged
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.form.evaluation import FormEvaluator
from hollow_marble.documents.form.model import Form, Part
from hollow_marble.documents.form.starts import BoxStart
from hollow_marble.documents.studio import edits as s
from hollow_marble.documents.studio.model import Camera, Colourway, Finish, Mark, Setting, Studio, Unit, Words, Zone
from hollow_marble.documents.studio.staging import scene_of

BODY = Part(id="p", name="Body", steps=(BoxStart(size=(60, 30, 100), divisions=(2, 2, 2)),))
FORM = Form(parts=(BODY,))
EVALUATOR = FormEvaluator(lambda sha: b"")
RED, GREEN = Finish(colour="#AA2222"), Finish(material="gloss plastic", colour="#22AA22")
CAMERA = Camera(azimuth=0)


def _keys() -> list[str]:
    return [f"{key:016x}" for key in EVALUATOR.mesh(BODY, FORM.parts).face_keys]


def _zone(*faces: str, ident: str = "z") -> Zone:
    return Zone(id=ident, part="p", name="Zone 1", faces=faces)


def _bodies(setting: Setting, ways: tuple[Colourway, ...] = ()):
    return [body for body in scene_of(setting, FORM, EVALUATOR, 200, ways).bodies if body.product]


def test_faces_of_a_zone_wear_its_finish_and_all_others_the_parts() -> None:
    keys = _keys()
    finishes = {"p": RED, "z": GREEN}
    whole = _bodies(Setting(finishes=finishes))
    rest, zone = _bodies(Setting(finishes=finishes, zones=(_zone(*keys[:5]),)))
    assert zone.surface.made == GREEN.made()
    assert rest.surface.made == RED.made()
    assert len(rest.triangles) + len(zone.triangles) == len(whole[0].triangles), "every triangle once"
    assert len(zone.triangles) / len(whole[0].triangles) == pytest.approx(5 / len(keys)), "faces of a box are cut alike"


def test_a_relief_stands_out_of_the_finish_that_lies_under_it() -> None:
    mesh = EVALUATOR.mesh(BODY, FORM.parts)
    keys = _keys()
    at = mesh.positions[mesh.triangles[np.flatnonzero(mesh.triangle_faces() == 3)[0]]].mean(axis=0)
    mark = Mark(id="m", part="p", what=Words(text="o"), at=tuple(at.tolist()), width=2.0, way="relief", depth=0.2)
    setting = Setting(finishes={"p": Finish(), "z": GREEN}, marks=(mark,))
    plain, on_zone = (_bodies(s)[-1] for s in (setting, setting.model_copy(update={"zones": (_zone(keys[3]),)})))
    assert (plain.surface.made, on_zone.surface.made) == (Finish().made(), GREEN.made())


def test_a_touch_tells_the_face_under_it_and_its_zone_lies_there() -> None:
    setting = Setting(camera=CAMERA, finishes={"p": RED, "z": GREEN})
    touched = moves.touched_part(setting, FORM, EVALUATOR, (480, 300), (960, 600))
    assert touched is not None
    (_, zone) = _bodies(setting.model_copy(update={"zones": (_zone(touched.face),)}))
    corners = zone.points[zone.triangles].reshape(-1, 3)
    unit_shift = _bodies(setting)[0].points.min(axis=0) - EVALUATOR.mesh(BODY, FORM.parts).positions.min(axis=0)
    at = np.array(touched.place) + unit_shift
    assert (corners.min(axis=0) - 0.5 <= at).all()
    assert (at <= corners.max(axis=0) + 0.5).all()


def test_a_colourway_dresses_zones_too() -> None:
    way = Colourway(id="w", name="Moss", finishes={"p": GREEN, "z": RED})
    setting = Setting(finishes={"p": RED, "z": GREEN}, zones=(_zone(_keys()[0]),), units=(Unit(id="a", colourway="w"),))
    rest, zone = _bodies(setting, (way,))
    assert (rest.surface.made, zone.surface.made) == (GREEN.made(), RED.made())
    told = staged(setting, FORM, EVALUATOR, (way,))
    assert told["zones"] == [{"id": "z", "part": "p", "faces": [0]}]
    assert set(told["wardrobe"]["w"]) == {"p", "z"}


def test_a_zone_begins_in_the_parts_finish_takes_faces_from_others_and_gives_them_back() -> None:
    a, b, c = _keys()[:3]
    studio = Studio(setting=Setting(finishes={"p": RED}))
    studio = s.PutZone(zone=_zone(a, b)).applied_to(studio)
    assert studio.setting.finishes["z"] == RED
    studio = s.SetFinish(part="z", name="Body: Zone 1", finish=GREEN).applied_to(studio)
    studio = s.PutZone(zone=_zone(b, c, ident="y")).applied_to(studio)
    assert {zone.id: zone.faces for zone in studio.setting.zones} == {"z": (a,), "y": (b, c)}
    studio = s.PutZone(zone=_zone(a, b, c, ident="y")).applied_to(studio)
    assert [zone.id for zone in studio.setting.zones] == ["y"], "one without faces is none"
    left = s.RemoveZone(id="y").applied_to(studio)
    assert left.setting.zones == ()
    assert "y" not in left.setting.finishes


def test_faces_that_a_recipe_no_longer_makes_are_passed_over_and_zones_of_gone_parts_are_cleared() -> None:
    gone = "0123456789abcdef"
    setting = Setting(finishes={"p": RED, "z": GREEN}, zones=(_zone(gone),))
    assert len(_bodies(setting)) == 1
    assert staged(setting, FORM, EVALUATOR, ())["zones"][0]["faces"] == []
    cleared = s.ClearFinishes(kept=("q",)).applied_to(Studio(setting=setting))
    assert cleared.setting.zones == ()
    assert cleared.setting.finishes == {}
    with pytest.raises(HollowMarbleError, match="nothing to clear"):
        s.ClearFinishes(kept=("p",)).applied_to(Studio(setting=setting))
    with pytest.raises(HollowMarbleError, match="A part has this name already"):
        s.PutZone(zone=_zone(gone, ident="p")).applied_to(Studio(setting=setting))
