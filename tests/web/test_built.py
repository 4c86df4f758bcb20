"""Curves and solids over HTTP: dragged, fitted, picked by name, out as STEP and in again."""

from __future__ import annotations

import io
import zipfile
from typing import Any

import numpy as np
import pytest

from hollow_marble.application import built
from tests.web.test_api import Client, unpack

LINES = [{"name": f"l{k}", "kind": "line", "points": [k, (k + 1) % 4]} for k in range(4)]
PROFILE = {"kind": "curve", "plane": {"on": "top"}, "points": [[0, 0], [40, 0], [40, 30], [0, 30]], "pieces": LINES}


def edit(client: Client, **fields: Any) -> Any:
    return client.http.post(client.url(f"documents/{client.ids['form']}/edits"), json={"edit": fields})


def form(client: Client) -> Any:
    return client.http.get(client.url(f"forms/{client.ids['form']}")).json


def made(client: Client, part: str) -> Any:
    """What is told of how a part was made."""
    return unpack(client.http.get(client.url(f"forms/{client.ids['form']}/parts/{part}/mesh")).data)[0]["told"]


def begin(client: Client, part: str, **start: Any) -> Any:
    answered = edit(client, kind="start_part", part=part, name=part.title(), start=start)
    assert answered.status_code == 200, answered.json
    return answered.json


def plate(client: Client) -> None:
    begin(client, "profile", **PROFILE)
    inputs = {"profile": {"kind": "part", "part": "profile"}}
    begin(client, "plate", kind="extruded_profile", distance=20, tag="up", inputs=inputs)


def test_a_dragged_point_keeps_what_is_held_and_nothing_is_stored(client: Client) -> None:
    plate(client)
    holds = [
        {"kind": "fixed", "points": [0]},
        *({"kind": k, "pieces": [p]} for k, p in (("level", "l0"), ("upright", "l1"))),
    ]
    wish = {"part": "profile", "step": {**PROFILE, "holds": holds}, "grip": {"2": [50, 44]}}
    told = client.http.post(client.url(f"forms/{client.ids['form']}/curves"), json=wish).json
    assert told["points"][2] == pytest.approx([50, 44], abs=0.2)
    assert told["points"][1][0] == pytest.approx(told["points"][2][0]), "upright"
    assert told["points"][0] == pytest.approx([0, 0])
    assert told["plane"]["up"] == [0, 1, 0]
    stored = client.http.get(client.url(f"forms/{client.ids['form']}/parts/profile/curve")).json
    assert stored["points"] == [[0, 0], [40, 0], [40, 30], [0, 30]]
    assert stored["free"] == 8
    refused = {**wish, "step": {**PROFILE, "holds": [*holds, {"kind": "length", "pieces": ["l0"], "value": 5}, {"kind": "length", "pieces": ["l0"], "value": 6}]}}  # fmt: skip
    answered = client.http.post(client.url(f"forms/{client.ids['form']}/curves"), json=refused)
    assert answered.status_code == 422
    assert "cannot all be kept at once" in answered.json["detail"]


def test_a_sheets_line_is_followed_by_a_few_points(client: Client) -> None:
    angle = np.linspace(0, 2.5, 300)
    line = np.column_stack([30 * np.cos(angle), 0 * angle, 30 * np.sin(angle)])
    wish = {"points": line.tolist(), "plane": {"on": "front"}, "tolerance": 0.05}
    told = client.http.post(client.url(f"forms/{client.ids['form']}/curves/fit"), json=wish).json
    assert told["off"] < 0.05
    assert 4 <= len(told["points"]) <= 10


def test_faces_and_edges_are_picked_by_name_and_notes_are_told(client: Client) -> None:
    plate(client)
    meta, arrays = unpack(client.http.get(client.url(f"forms/{client.ids['form']}/parts/plate/names")).data)
    assert sorted(meta["faces"]) == ["up.end", "up.l0", "up.l1", "up.l2", "up.l3", "up.start"]
    assert len(meta["edges"]) == 12
    assert arrays["lineStarts"][-1] == len(arrays["lines"])
    name = next(edge for edge in meta["edges"] if edge.startswith("up.l0|up.l1|"))
    one, other, numbers = name.split("|")
    *middle, length = (float(v) for v in numbers.split(","))
    edge = {"faces": [one, other], "middle": middle, "length": length}
    assert (
        edit(client, kind="shape", part="plate", step={"kind": "rounded", "edges": [edge], "radius": 4}).status_code
        == 200
    )
    size = client.http.get(client.url(f"forms/{client.ids['form']}/size")).json
    assert size["volume"] == pytest.approx(24_000 - (1 - np.pi / 4) * 16 * 20, rel=1e-3)
    assert (size["width"], size["parts"]) == (pytest.approx(40), 2)
    refused = edit(client, kind="shape", part="plate", step={"kind": "hollowed", "wall": 40})
    assert refused.status_code == 422
    assert "Make the wall thinner" in refused.json["detail"]
    whole = {"kind": "circle", "name": "c", "points": [0], "value": 9}
    begin(client, "round", kind="curve", points=[[0, 0]], pieces=[whole])
    begin(client, "ball", kind="turned_profile", tag="b", inputs={"profile": {"kind": "part", "part": "round"}})
    assert "half was taken" in made(client, "ball")[0]


def test_what_is_picked_is_measured_and_dimensions_hold_to_faces(client: Client) -> None:
    plate(client)
    begin(client, "body", kind="box", size=[60, 40, 80], divisions=[3, 2, 4])

    def measured(part: str, **picks: Any) -> Any:
        return client.http.post(client.url(f"forms/{client.ids['form']}/parts/{part}/measured"), json=picks)

    told = measured("plate", faces=["up.start", "up.end"]).json
    assert (told["apart"], told["angle"]) == (pytest.approx(20), pytest.approx(0))
    assert told["area"] == pytest.approx(2400)
    assert (told["radius"], told["axes"]) == (None, None)
    assert measured("plate").json["area"] == 0
    for part, name in (("plate", "up.l9"), ("body", "nothing"), ("profile", "up.l0")):
        refused = measured(part, faces=[name])
        assert refused.status_code == 422, name
        assert "no longer there" in refused.json["detail"] or "has no faces" in refused.json["detail"], refused.json
    assert measured("nobody", faces=["up.start"]).status_code in (404, 422)
    corner = {"part": "plate", "on": ["up.end", "up.l0", "up.l1"], "at": "corner", "place": [40, 0, 20]}
    point = {"part": "body", "point": 0}
    for first, second in ((corner, point), (point, corner)):
        measure = {"id": "m1", "first": first, "second": second}
        assert edit(client, kind="put_measure", measure=measure).status_code == 200
        kept = form(client)["body"]["measures"]
        assert [kept[0]["first"], kept[0]["second"]] == [first, second]
    assert edit(client, kind="put_measure", measure={"id": "m2", "first": corner, "second": corner}).status_code == 422


def test_step_goes_out_and_comes_in_with_its_measures(client: Client) -> None:
    plate(client)
    begin(client, "body", kind="box", size=[60, 40, 80], divisions=[3, 2, 4])
    out = client.http.get(client.url(f"forms/{client.ids['form']}/step"))
    assert out.status_code == 200, out.data
    with zipfile.ZipFile(io.BytesIO(out.data)) as archive:
        names = sorted(archive.namelist())
        data, told = (archive.read(name) for name in names)
    assert names[0].endswith(".step")
    assert b"From a sculpted skin: off by" in told
    assert client_brings(client, "back.step", data).status_code == 200
    parts = form(client)["body"]["parts"]
    assert [part["name"] for part in parts[-2:]] == ["Plate", "Body"]
    assert parts[-2]["steps"][0]["faces"] == 6
    assert parts[-2]["steps"][0]["volume"] == pytest.approx(24_000)
    assert "closed solid" in made(client, parts[-2]["id"])[0]
    assert edit(client, kind="shape", part=parts[-2]["id"], step={"kind": "hollowed", "wall": 2}).status_code == 200


def client_brings(client: Client, name: str, data: bytes) -> Any:
    url = client.url(f"forms/{client.ids['form']}/solids")
    return client.http.post(url, data={"file": (io.BytesIO(data), name)}, content_type="multipart/form-data")


@pytest.mark.parametrize(
    ("name", "data", "words"),
    [
        ("broken.step", b"ISO-10303-21;\nHEADER;\nENDSEC;\nDATA;\n#1=CARTESIAN_POINT('',(0.,0.,", "cannot be read"),
        ("empty.stp", b"", "cannot be read"),
        ("odd.txt", b"hello", "neither STEP nor IGES"),
        ("claims.iges", b"S      1\n" * 50, "cannot be read|holds no"),
    ],
)
def test_files_that_are_damaged_are_refused_in_words(client: Client, name: str, data: bytes, words: str) -> None:
    before = form(client)["body"]
    answered = client_brings(client, name, data)
    assert answered.status_code == 422
    assert any(word in answered.json["detail"] for word in words.split("|"))
    assert form(client)["body"] == before


def test_a_file_that_is_too_large_is_refused_before_it_is_read(client: Client, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(built, "MOST_FILE", 1_000_000)
    answered = client_brings(client, "huge.step", b"x" * 1_500_000)
    assert answered.status_code == 422
    assert "up to 1 MB" in answered.json["detail"]


def test_profiles_go_out_and_come_in_as_files_and_skins_as_fine_as_is_asked(client: Client) -> None:
    """A circle of 20 mm, extruded by 10: out as DXF and SVG, in again; its STL is off by no more than is asked for."""
    address = f"forms/{client.ids['form']}"
    round_ = {"name": "round", "kind": "circle", "points": [0], "value": 10}
    begin(client, "c", kind="curve", points=[[3, 4]], pieces=[round_])
    begin(client, "b", kind="extruded_profile", distance=10, inputs={"profile": {"kind": "part", "part": "c"}})
    for kind in ("dxf", "svg"):
        written = client.http.get(client.url(f"{address}/parts/c/profile?format={kind}"))
        assert written.status_code == 200
        sent = {"file": (io.BytesIO(written.data), f"disc.{kind}"), "on": "top"}
        told = client.http.post(client.url(f"{address}/profiles"), data=sent)
        assert told.status_code == 200
        part = form(client)["body"]["parts"][-1]
        assert part["name"] == "disc"
        (piece,) = part["steps"][0]["pieces"]
        assert (piece["kind"], part["steps"][0]["plane"]["on"]) == ("circle", "top")
        assert piece["value"] == pytest.approx(10, abs=1e-5)
    refused = client.http.get(client.url(f"{address}/parts/b/profile?format=dxf"))
    assert (refused.status_code, "not a curve" in refused.json["detail"]) == (422, True)
    wrong = {"file": (io.BytesIO(b"x"), "disc.pdf"), "on": "top"}
    assert "neither DXF nor SVG" in client.http.post(client.url(f"{address}/profiles"), data=wrong).json["detail"]

    counts = []
    for tolerance in (0.5, 0.01):
        data = client.http.get(client.url(f"{address}/export?format=stl&part=b&tolerance={tolerance}")).data
        corners = np.frombuffer(data[84:], np.dtype([("n", "<f4", 3), ("c", "<f4", (3, 3)), ("a", "<u2")]))["c"]
        wall = corners[np.ptp(corners[:, :, 1], axis=1) > 5]
        middles = (wall + np.roll(wall, 1, axis=1)) / 2
        away = 10 - np.linalg.norm(middles[..., [0, 2]] - [3, 4], axis=-1)
        assert away.max() <= tolerance * 1.01
        counts.append(len(corners))
    assert counts[1] > counts[0]
    packed = client.http.get(client.url(f"{address}/export?format=3mf&part=b"))
    assert packed.data[:2] == b"PK"


def test_what_follows_a_body_is_worked_out_when_it_is_looked_at(client: Client) -> None:
    """A cage that a shell follows is shaped without waiting for the shell; where the shell cannot follow, it says so when it is asked for,
    and the form tells it from then on. A curve's followers are asked before, as they were."""
    begin(client, "pebble", kind="box", size=[40, 30, 20], divisions=[3, 3, 3])
    of = {"of": {"kind": "part", "part": "pebble"}}
    begin(client, "shell", kind="exact", name="Pebble", inputs=of)
    assert edit(client, kind="shape", part="shell", step={"kind": "hollowed", "wall": 1.2}).status_code == 200
    flat = {"kind": "placed", "how": "size", "points": list(range(56)), "values": [1, 1, 0.1], "seat": [0, 0, 0]}
    assert edit(client, kind="shape", part="pebble", step=flat).status_code == 200, "the body is not kept from it"
    assert form(client)["problems"] == {}, "nobody has looked at the shell yet"
    refused = client.http.get(client.url(f"forms/{client.ids['form']}/parts/shell/mesh"))
    assert refused.status_code == 422
    assert form(client)["problems"]["shell"] == refused.json["detail"]
    assert form(client)["keys"]["pebble"]
    # a step of its own that does not fit is refused at once
    told = edit(client, kind="shape", part="shell", step={"kind": "hollowed", "wall": 1})
    assert told.status_code == 422
