"""Setting a studio up over HTTP: moves, surroundings, pictures, and what cannot be."""

from __future__ import annotations

import io
import json
from typing import Any

import cv2
import numpy as np
import pytest
import trimesh
from PIL import Image

from hollow_marble.core.studio import rgbe
from hollow_marble.exchange.surrounds import exr
from tests.web.conftest import Client
from tests.web.test_api import unpack


@pytest.fixture
def room(client: Client) -> Any:
    client.box()
    return Room(client)


class Room:
    """The studio of a client, with a box in it."""

    def __init__(self, client: Client) -> None:
        self.client, self.studio = client, client.ids["studio"]

    @property
    def setting(self) -> dict[str, Any]:
        return self.client.http.get(self.client.url(f"studios/{self.studio}")).json["body"]["setting"]

    def move(self, what: str, **body: Any) -> Any:
        body = {"form": self.client.ids["form"], "setting": self.setting, **body}
        return self.client.http.post(self.client.url(f"staging/{what}"), json=body)

    def send(self, where: str, file: str, data: bytes, **fields: str) -> Any:
        form = {"file": (io.BytesIO(data), file), **fields}
        return self.client.http.post(
            self.client.url(f"studios/{self.studio}/{where}"), data=form, content_type="multipart/form-data"
        )

    def picture(self, setting: dict[str, Any], how: str) -> np.ndarray:
        answer = self.client.http.post(self.client.url("surround-picture"), json={"setting": setting, "how": how})
        return np.asarray(Image.open(io.BytesIO(answer.data)))


def png(width: int = 40, height: int = 20, grey: int = 128) -> bytes:
    file = io.BytesIO()
    Image.new("RGB", (width, height), (grey,) * 3).save(file, "PNG")
    return file.getvalue()


def test_a_lamp_goes_where_its_highlight_was_touched_and_says_how_long_it_is(room: Room) -> None:
    answer = room.move("lamp", lamp="key", move={"kind": "highlight", "at": [480, 230], "size": [960, 600]}).json
    assert answer["lamp"]["distance"] == room.setting["lamps"][0]["distance"]
    assert answer["lamp"]["azimuth"] != room.setting["lamps"][0]["azimuth"]
    off = room.move("lamp", lamp="key", move={"kind": "highlight", "at": [2, 2], "size": [960, 600]})
    assert (off.status_code, off.json["detail"]) == (422, "There is no product there. Touch a place on the product.")


def test_the_live_view_is_told_where_a_grain_lies_and_gets_its_picture(room: Room) -> None:
    """On a plane across the depth a mm of the sheet is a mm of the part (orthogonal projection)."""
    finish = {"material": "wood", "lay": {"by": "plane", "axis": "depth"}}
    edit = {"kind": "set_finish", "part": "b", "name": "Body", "finish": finish}
    room.client.http.post(room.client.url(f"documents/{room.studio}/edits"), json={"edit": edit})
    asked = {"form": room.client.ids["form"], "setting": room.setting}
    sheets = room.client.http.post(room.client.url("staging"), json=asked).json["looks"]["b"]["sheets"]
    wide, tall = sheets["colour"]
    assert wide > 1
    assert sheets["rough"] is None
    told = {**asked, "wearer": "b", "finish": json.loads(sheets["finish"])}
    laid = unpack(room.client.http.post(room.client.url("staging/laid"), json=told).data)[1]
    url = room.client.url(f"forms/{room.client.ids['form']}/parts/b/mesh")
    mesh = unpack(room.client.http.get(url).data)[1]
    places = mesh["positions"][laid["point"]]
    steps = np.abs(np.ptp(places[:, [0, 2]], axis=0)) - np.ptp(laid["texture"], axis=0)
    assert steps == pytest.approx([0, 0], abs=1e-3)
    assert len(laid["triangles"]) == len(mesh["triangles"])
    query = {"finish": sheets["finish"], "of": "colour"}
    answer = room.client.http.get(room.client.url("finish-sheet.png"), query_string=query)
    pixels = np.asarray(Image.open(io.BytesIO(answer.data)))
    assert pixels.shape[1] / pixels.shape[0] == pytest.approx(wide / tall, rel=0.02)
    assert pixels[..., 0].std() > 4, "light and dark wood"
    none = room.client.http.get(room.client.url("finish-sheet.png"), query_string={**query, "of": "rough"})
    assert (none.status_code, none.json["detail"]) == (404, "This finish has nothing of that kind laid on it.")
    gone = room.client.http.post(room.client.url("staging/laid"), json={**told, "wearer": "no"})
    assert gone.status_code == 404


def test_what_a_finish_says_of_its_own_fields_is_told_as_it_is_said(room: Room) -> None:
    url = room.client.url(f"documents/{room.studio}/amendments")
    amend = {"kind": "finish", "part": "b", "name": "Body", "fields": {"material": "clear glass", "ramp": {}}}
    answer = room.client.http.post(url, json={"amend": amend})
    assert (answer.status_code, answer.json["detail"]) == (422, "Clear glass takes no colour ramp.")


def test_a_zone_goes_out_in_its_finish(room: Room) -> None:
    """As a mesh of its own, in glTF; read by an independent reader."""
    face = room.move("part", at=[480, 300], size=[960, 600]).json["face"]
    zone = {"id": "z", "part": "b", "name": "Zone 1", "faces": [face]}
    red = {"kind": "set_finish", "part": "z", "name": "Zone", "finish": {"colour": "#FF0000"}}
    for edit in ({"kind": "put_zone", "zone": zone}, red):
        room.client.http.post(room.client.url(f"documents/{room.studio}/edits"), json={"edit": edit})
    data = room.client.http.get(room.client.url(f"forms/{room.client.ids['form']}/export?format=glb")).data
    scene = trimesh.load(io.BytesIO(data), file_type="glb")
    found = next(mesh for name, mesh in scene.geometry.items() if "Zone 1" in name)
    assert found.visual.material.baseColorFactor[:3].tolist() == [255, 0, 0]
    assert len(found.faces) < sum(len(mesh.faces) for mesh in scene.geometry.values()) / 2


def test_a_touch_tells_the_part_a_focus_and_a_frame(room: Room) -> None:
    assert room.move("part", at=[480, 300], size=[960, 600]).json["part"] == "b"
    assert room.move("part", at=[3, 3], size=[960, 600]).json == {"part": None, "place": None, "face": None}
    focus = room.move("camera", move={"kind": "focus", "at": [480, 300], "size": [960, 600]}).json["camera"]
    assert focus["aperture"] == 8
    framed = room.move("camera", move={"kind": "frame", "size": [960, 600]}).json["camera"]
    assert framed["distance"] != room.setting["camera"]["distance"]
    assert room.move("camera", move={"kind": "meter"}).json["camera"]["exposure"] != 10


def test_a_set_is_widened_until_the_frame_stays_on_it(room: Room) -> None:
    amend(room, "set", {"width": 220.0})
    staged = room.client.http.post(
        room.client.url("staging"), json={"form": room.client.ids["form"], "setting": room.setting}
    ).json
    assert "left" in staged["facts"]["beyond"]
    wide = room.move("set", move={"kind": "widen", "size": [960, 600]}).json["set"]
    assert wide["width"] > 220
    room.client.edit("build_set", set=wide)
    again = room.move("set", move={"kind": "widen", "size": [960, 600]})
    assert "reaches as far as it can" in again.json["detail"]


def amend(room: Room, kind: str, fields: dict[str, Any], **more: Any) -> Any:
    body = {"amend": {"kind": kind, "fields": fields, **more}}
    return room.client.http.post(room.client.url(f"documents/{room.studio}/amendments"), json=body)


def test_a_lamp_changes_its_kind_and_hold_and_a_material_its_numbers(room: Room) -> None:
    amend(room, "lamp", {"kind": "far source"}, id="key")
    assert room.setting["lamps"][0]["kind"] == "far source"
    assert amend(room, "lamp", {"kind": "laser"}, id="key").json["detail"].startswith("There is no such kind")
    before = room.setting["lamps"][1]["azimuth"]
    amend(room, "camera", {"azimuth": 30})
    amend(room, "lamp", {"held": "camera"}, id="fill")
    assert room.setting["lamps"][1]["azimuth"] == pytest.approx(before - 30)
    amend(room, "finish", {"material": "brushed metal"}, part="b", name="Body")
    refused = amend(room, "finish", {"amounts": {"flakes": 0.5}}, part="b", name="Body")
    assert "no flakes to set" in refused.json["detail"]
    assert amend(room, "finish", {"amounts": {"metal": 3}}, part="b", name="Body").status_code == 200
    staged = room.client.http.post(
        room.client.url("staging"), json={"form": room.client.ids["form"], "setting": room.setting}
    ).json
    assert staged["looks"]["b"]["metalness"] == 1
    assert staged["map_wanted"] == 2048, "brushed metal mirrors along its grain with a lobe of 0.08"
    red, _, blue = staged["looks"]["b"]["colour"]
    assert red > 1.5 * blue, "copper"


def test_a_size_of_nothing_is_refused_and_the_picture_stays(room: Room) -> None:
    before = room.setting
    assert amend(room, "lamp", {"width": 0}, id="key").status_code == 422
    assert amend(room, "camera", {"focal": 0}).status_code == 422
    assert amend(room, "set", {"picture": "x"}).status_code == 422
    assert room.setting == before


def test_a_map_comes_in_is_shown_and_goes_out_as_it_is(room: Room) -> None:
    image = np.full((64, 128, 3), 0.05, np.float32)
    image[20:40, 28:36] = (8.0, 6.0, 4.0)  # about azimuth 90, to the right
    assert room.send("surround", "room.exr", exr(image)).status_code == 200
    assert room.setting["surround"]["map_name"] == "room.exr"
    shown = room.picture(room.setting, "unrolled")
    assert shown.shape == (240, 480, 3)
    assert shown[110, 120].min() > 200 > 100 > shown[110, 300].max()
    ball = room.picture(room.setting, "ball")
    assert ball[:, 130:].max() > 200 > ball[:, :60].max()
    for kind in ("hdr", "exr"):
        data = room.client.http.get(room.client.url(f"studios/{room.studio}/surround?format={kind}")).data
        assert len(data) > 1000
    out = rgbe.decoded(room.client.http.get(room.client.url(f"studios/{room.studio}/surround?format=hdr")).data)
    assert out.shape == (512, 1024, 3)
    assert float(out[230, 256, 0]) == pytest.approx(8.0, rel=0.02)
    room.client.http.post(room.client.url(f"documents/{room.studio}/undo"))
    assert room.setting["surround"]["map"] is None


@pytest.mark.parametrize(
    ("name", "data", "says"),
    [
        ("cut.hdr", rgbe.encoded(np.ones((64, 128, 3), np.float32))[:300], "breaks off"),
        ("claim.hdr", b"#?RADIANCE\n\n-Y 6000 +X 6000\n\x02\x02\x17\x70", "breaks off"),
        ("huge.hdr", b"#?RADIANCE\n\n-Y 60000 +X 60000\n", "says it is 60000 × 60000 px"),
        ("nan.exr", exr(np.full((8, 16, 3), np.nan, np.float32)), "not numbers"),
        ("cut.exr", exr(np.ones((8, 16, 3), np.float32))[:150], "damaged or cut short"),
        ("words.txt", b"hello", "not a PNG"),
        ("none.hdr", b"", "not a PNG"),
    ],
)
def test_a_map_that_is_none_is_told_and_nothing_changes(room: Room, name: str, data: bytes, says: str) -> None:
    before = room.setting
    refused = room.send("surround", name, data)
    assert refused.status_code == 422
    assert says in refused.json["detail"]
    assert room.setting == before


def test_a_picture_is_laid_on_a_part_or_hung_behind_the_product(room: Room) -> None:
    assert room.send("pictures", "weave.png", png(), part="b", name="Body", use="bump").status_code == 200
    assert room.send("pictures", "label.png", png(), part="b", name="Body", use="colour").status_code == 200
    laid = room.setting["finishes"]["b"]["pictures"]
    assert [one["use"] for one in laid] == ["bump", "colour"]
    assert room.send("pictures", "hills.png", png(80, 40)).status_code == 200
    assert (room.setting["set"]["kind"], room.setting["set"]["size"]) == ("picture", [80, 40])


def test_a_texture_of_30000_px_is_told(room: Room) -> None:
    data = cv2.imencode(".png", np.zeros((2, 30_000), np.uint8))[1].tobytes()
    refused = room.send("pictures", "wide.png", data, part="b", use="colour")
    assert refused.status_code == 422
    assert "too large" in refused.json["detail"]
    assert room.setting["finishes"] == {}


def test_what_there_is_to_choose_from_is_told_with_its_limits(room: Room) -> None:
    told = room.client.http.get(room.client.url("studio-choices")).json
    assert len(told["sets"]) == 10
    assert len(told["materials"]) > 20
    strip = next(kind for kind in told["lamp_kinds"] if kind["kind"] == "strip")
    assert next(field for field in strip["fields"] if field["name"] == "rim") == {"name": "rim", "is": "number", "least": 0.02, "most": 1, "whole": False, "options": []}  # fmt: skip
    far = next(kind for kind in told["lamp_kinds"] if kind["kind"] == "far source")
    assert "distance" not in {field["name"] for field in far["fields"]}, "what cannot be chosen is not offered"


def test_a_picture_behind_is_matched_by_two_touches(room: Room) -> None:
    """Its horizon at the height of the lens, its ground on the floor: as large as its camera's height says (similar triangles)."""
    refused = room.move("set", move={"kind": "horizon", "at": [480, 200], "size": [960, 600]})
    assert "Hang one there first" in refused.json["detail"]
    room.send("pictures", "hills.png", png(160, 100))
    hung = room.move("set", move={"kind": "horizon", "at": [480, 200], "size": [960, 600]}).json["set"]
    camera = room.setting["camera"]
    assert hung["level"] == pytest.approx(camera["height"], abs=0.5)
    room.client.edit("build_set", set=hung)
    again = room.move("set", move={"kind": "foot", "at": [480, 40], "size": [960, 600]})
    assert "horizon first" in again.json["detail"]
    fitted = room.move("set", move={"kind": "foot", "at": [480, 330], "size": [960, 600]}).json["set"]
    tall = fitted["width"] * 100 / 160
    foot_share = fitted["horizon"] - fitted["level"] / tall
    before = hung["width"] * 100 / 160
    # the place that was touched is now at the floor
    assert 0 < foot_share < fitted["horizon"]
    assert fitted["horizon"] == hung["horizon"]
    assert tall != before


def test_a_contact_sheet_asks_for_every_shot_in_every_colourway_once(room: Room) -> None:
    http, url = room.client.http, room.client.url
    assert "no shot yet" in http.post(url(f"studios/{room.studio}/contact-sheet")).json["detail"]
    form = room.client.ids["form"]
    head = http.get(url(f"forms/{form}")).json["standing"]["head"]
    for ident, colour in (("a", "#AA1111"), ("b", "#1111AA")):
        room.client.edit("set_finish", part="b", name="Body", finish={"colour": colour})
        room.client.edit("keep_colourway", id=ident, name=ident.upper())
    for ident in ("one", "two"):
        room.client.edit("keep_shot", id=ident, name=ident.title(), width=900, height=600, form=form, form_edit=head)
    asked = http.post(url(f"studios/{room.studio}/contact-sheet")).json["takes"]
    assert [take["name"] for take in asked] == ["One, A", "One, B", "Two, A", "Two, B"]
    assert {(take["width"], take["height"], take["quality"]) for take in asked} == {(320, 213, "draft")}
    assert asked[0]["frozen"]["setting"]["finishes"]["b"]["colour"] == "#AA1111"
    assert http.post(url(f"studios/{room.studio}/contact-sheet")).json["takes"] == []
    page = Image.open(io.BytesIO(http.get(url(f"studios/{room.studio}/contact-sheet.png")).data))
    assert page.size == (2 * 344 + 24, 2 * 257 + 24)
