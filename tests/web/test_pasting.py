"""Lines, parts and light go from one document into another, of this project or another one."""

from __future__ import annotations

import io
from typing import Any

import numpy as np
import pytest
from PIL import Image

from tests.web.test_api import Client


@pytest.fixture
def other(client: Client) -> dict[str, str]:
    """Another project: its id, and those of its documents."""
    made = client.http.post("/api/projects", json={"name": "Wren"}).json
    return {"id": made["project"]["id"]} | {one["kind"]: one["id"] for one in made["documents"]}


def draw(client: Client) -> str:
    samples = np.array([[300, 300, 0.5, 0], [500, 420, 0.8, 0], [700, 300, 0.5, 0]], np.float32)
    where = client.url(f"sheets/{client.ids['sheet']}/strokes?layer=rough&nib=pencil&size=6&tone=0.8&colour=%2320282b")
    assert client.http.post(where, data=samples.tobytes()).status_code == 200
    return strokes(client, client.project, client.ids["sheet"])[-1].id


def strokes(client: Client, project: str, sheet: str) -> Any:
    ledger = client.http.application.extensions["hollow_marble"].application.workspace.project(project).ledger
    return [stroke for layer in ledger.state(sheet).layers if layer.kind == "ink" for stroke in layer.strokes]


def head(client: Client, kind: str, place: str) -> int:
    return client.http.get(client.url(f"{place}/{client.ids[kind]}")).json["standing"]["head"] or 0


def paste(client: Client, project: str, document: str, what: str, kind: str, items: list[str], at: int) -> Any:
    of = {"project": client.project, "document": client.ids[kind], "at": at, "what": what, "items": items}
    return client.http.post(f"/api/projects/{project}/documents/{document}/paste", json={"of": of})


def test_lines_go_beside_themselves_and_on_to_the_sheet_of_another_project(
    client: Client, other: dict[str, str]
) -> None:
    line = draw(client)
    at = head(client, "sheet", "sheets")
    assert paste(client, client.project, client.ids["sheet"], "lines", "sheet", [line], at).status_code == 200
    first, beside = strokes(client, client.project, client.ids["sheet"])
    assert np.subtract(beside.bounds, first.bounds).tolist() == [40, 40, 40, 40]
    client.http.post(client.url(f"documents/{client.ids['sheet']}/undo"))
    client.http.post(client.url(f"documents/{client.ids['sheet']}/undo"))
    # the copy is what lay there when it was copied, whatever became of it
    made = paste(client, other["id"], other["sheet"], "lines", "sheet", [line], at)
    assert made.json["standing"]["sentence"] == "Pasted a line"
    (there,) = strokes(client, other["id"], other["sheet"])
    assert (there.bounds, there.id != first.id) == (first.bounds, True)
    page = client.http.get(f"/api/projects/{other['id']}/sheets/{other['sheet']}/page.png").data
    client.http.post(client.url(f"documents/{client.ids['sheet']}/redo"))
    assert page == client.http.get(client.url(f"sheets/{client.ids['sheet']}/page.png")).data


def test_a_part_goes_into_the_form_of_another_project_with_its_recipe_and_its_file(
    client: Client, other: dict[str, str]
) -> None:
    cage = b"o Lid\nv 0 0 0\nv 10 0 0\nv 10 10 0\nv 0 10 0\nf 1 2 3 4\n"
    where = client.url(f"forms/{client.ids['form']}/import")
    assert client.http.post(where, data={"file": (io.BytesIO(cage), "lid.obj")}).status_code == 200
    (part,) = client.http.get(client.url(f"forms/{client.ids['form']}")).json["body"]["parts"]
    at = head(client, "form", "forms")
    for _ in range(2):
        assert paste(client, other["id"], other["form"], "part", "form", [part["id"]], at).status_code == 200
    state = client.http.get(f"/api/projects/{other['id']}/forms/{other['form']}").json
    assert [one["name"] for one in state["body"]["parts"]] == ["lid", "lid 2"]
    assert state["problems"] == {}
    for one in state["body"]["parts"]:
        mesh = client.http.get(f"/api/projects/{other['id']}/forms/{other['form']}/parts/{one['id']}/mesh")
        assert mesh.status_code == 200, "its cage came along"


def test_a_built_part_brings_along_what_it_is_made_of(client: Client, other: dict[str, str]) -> None:
    """A pin of a circle, trimmed to a block of a rectangle: three parts it is made of come with it, twice, each with names of its own."""
    lines = [{"name": f"l{k}", "kind": "line", "points": [k, (k + 1) % 4]} for k in range(4)]
    round_ = {"name": "c", "kind": "circle", "points": [0], "value": 4}
    top = {"on": "top"}
    curves = {
        "square": {"kind": "curve", "plane": top, "points": [[0, 0], [9, 0], [9, 9], [0, 9]], "pieces": lines},
        "ring": {"kind": "curve", "plane": top, "points": [[5, 5]], "pieces": [round_]},
    }
    of = {name: {"kind": "part", "part": name} for name in ("square", "ring", "block")}
    block = {"kind": "extruded_profile", "distance": 6, "inputs": {"profile": of["square"]}}
    pin = {"kind": "extruded_profile", "distance": 20, "inputs": {"profile": of["ring"], "within": of["block"]}}
    for part, start in {**curves, "block": block, "pin": pin}.items():
        edit = {"kind": "start_part", "part": part, "name": part.title(), "start": start}
        made = client.http.post(client.url(f"documents/{client.ids['form']}/edits"), json={"edit": edit})
        assert made.status_code == 200, made.json
    at = head(client, "form", "forms")
    for _ in range(2):
        made = paste(client, other["id"], other["form"], "part", "form", ["pin"], at)
        assert made.status_code == 200, made.json
    where = f"/api/projects/{other['id']}/forms/{other['form']}"
    state = client.http.get(where).json
    names = ["Ring", "Square", "Block", "Pin"]
    assert [one["name"] for one in state["body"]["parts"]] == [*names, *(f"{name} 2" for name in names)]
    ids = [one["id"] for one in state["body"]["parts"]]
    assert len(set(ids)) == 8
    for one in state["body"]["parts"][4:]:
        taken = {source["part"] for step in one["steps"] for source in step.get("inputs", {}).values()}
        assert taken <= set(ids[4:]), "the second copy is made of its own"
    assert client.http.get(f"{where}/parts/{ids[3]}/mesh").status_code == 200
    assert state["problems"] == {}


def test_light_goes_from_studio_to_studio(client: Client, other: dict[str, str]) -> None:
    lamp = client.http.get(client.url(f"studios/{client.ids['studio']}")).json["body"]["setting"]["lamps"][0]
    client.edit("set_lamp", lamp={**lamp, "azimuth": 77})
    at = head(client, "studio", "studios")
    assert paste(client, other["id"], other["studio"], "light", "studio", [], at).status_code == 200
    setting = client.http.get(f"/api/projects/{other['id']}/studios/{other['studio']}").json["body"]["setting"]
    assert setting["lamps"][0]["azimuth"] == 77


def test_a_lamp_the_camera_and_a_finish_go_one_by_one(client: Client, other: dict[str, str]) -> None:
    setting = client.http.get(client.url(f"studios/{client.ids['studio']}")).json["body"]["setting"]
    lamp, fill = setting["lamps"][:2]
    client.edit("set_lamp", lamp={**lamp, "azimuth": 77})
    client.edit("set_camera", camera={**setting["camera"], "focal": 85})
    finish = {"material": "rubber", "colour": "#203040"}
    client.edit("set_finish", part="body", name="Body", finish=finish)
    at = head(client, "studio", "studios")

    def theirs() -> Any:
        return client.http.get(f"/api/projects/{other['id']}/studios/{other['studio']}").json["body"]["setting"]

    def put(what: str, items: list[str], **more: str) -> Any:
        of = {"project": client.project, "document": client.ids["studio"], "at": at, "what": what, "items": items}
        where = f"/api/projects/{other['id']}/documents/{other['studio']}/paste"
        return client.http.post(where, json={"of": of, **more})

    assert put("lamp", [lamp["id"]]).status_code == 200
    assert [one["azimuth"] for one in theirs()["lamps"][:2]] == [77, fill["azimuth"]]
    assert put("lamp", [lamp["id"]], onto=fill["id"]).status_code == 200, "on to the lamp that is chosen there"
    onto = theirs()["lamps"][1]
    assert (onto["azimuth"], onto["role"], onto["id"]) == (77, fill["role"], fill["id"])
    assert put("camera", []).status_code == 200
    assert theirs()["camera"]["focal"] == 85
    assert (
        put("finish", ["body"], onto="lid", called="Lid").json["standing"]["sentence"]
        == "Finished Lid in rubber, #203040"
    )
    assert theirs()["finishes"]["lid"].items() >= finish.items()
    assert "one to paste it on" in put("finish", ["body"]).json["detail"]


def test_a_view_goes_to_the_sheet_of_another_project(client: Client, other: dict[str, str]) -> None:
    draw(client)
    client.edit("frame_view", id="v", view="side", name="side", rect=[250, 250, 760, 460])
    at = head(client, "sheet", "sheets")
    assert paste(client, other["id"], other["sheet"], "view", "sheet", ["v"], at).status_code == 200
    body = client.http.get(f"/api/projects/{other['id']}/sheets/{other['sheet']}").json["body"]
    (view,) = body["views"]
    assert (view["name"], view["rect"]) == ("side copy", [250, 250, 760, 460])
    assert len(strokes(client, other["id"], other["sheet"])) == 1


def test_selected_paint_goes_to_the_same_place_of_another_projects_page(client: Client, other: dict[str, str]) -> None:
    line = np.array([[300, 300, 0.8, 0], [500, 320, 0.8, 0]], "<f4")
    client.edit("add_layer", id="tone", name="Tone", holds="tone")
    where = client.url(f"sheets/{client.ids['sheet']}/paint?layer=tone&nib=marker&size=60&tone=1&colour=%23B03020")
    assert client.http.post(where, data=line.tobytes()).status_code == 200
    where = client.url(f"sheets/{client.ids['sheet']}/selection")
    box = {"shape": {"by": "box", "rect": [250, 200, 400, 400]}, "how": "instead", "before": None}
    chosen = client.http.post(where, json=box).json["selection"]
    at = head(client, "sheet", "sheets")
    items = ["tone", chosen]
    refused = paste(client, other["id"], other["sheet"], "paint", "sheet", items, at)
    assert "no open tone layer" in refused.json["detail"]
    layer = {"kind": "add_layer", "id": "t", "name": "There", "holds": "tone"}
    client.http.post(f"/api/projects/{other['id']}/documents/{other['sheet']}/edits", json={"edit": layer})
    made = paste(client, other["id"], other["sheet"], "paint", "sheet", items, at)
    assert made.json["standing"]["sentence"] == "Pasted paint on There"

    def page(project: str, sheet: str) -> np.ndarray:
        data = client.http.get(f"/api/projects/{project}/sheets/{sheet}/page.png").data
        return np.asarray(Image.open(io.BytesIO(data)).convert("RGB")).astype(int)

    ours, there = page(client.project, client.ids["sheet"]), page(other["id"], other["sheet"])
    assert np.abs(ours[210:390, 260:390] - there[210:390, 260:390]).max() <= 1
    assert (there[:, 410:] == there[0, 0]).all()
    within = {"shape": {"by": "box", "rect": [330, 296, 370, 306]}, "how": "instead", "before": None}
    items = ["tone", client.http.post(where, json=within).json["selection"]]
    for _ in range(60):  # the marker lets through what is below it until there is enough of it
        again = paste(client, other["id"], other["sheet"], "paint", "sheet", items, at)
        if again.status_code != 200:
            break
    assert "lies there already" in again.json["detail"], again.json


@pytest.mark.parametrize(
    ("what", "kind", "items", "into", "words"),
    [
        ("lines", "sheet", ["gone"], "sheet", "no longer there"),
        ("lines", "sheet", ["gone"], "form", "goes into a sheet"),
        ("part", "form", ["gone"], "form", "no longer there"),
        ("light", "studio", [], "board", "goes into a studio"),
        ("part", "sheet", ["x"], "form", "goes into a form"),
    ],
)
def test_what_does_not_fit_is_said(
    client: Client, what: str, kind: str, items: list[str], into: str, words: str
) -> None:
    refused = paste(client, client.project, client.ids[into], what, kind, items, 0)
    assert refused.status_code in (404, 422)
    assert words in refused.json["detail"]


def test_two_lamps_of_one_id_are_no_light(client: Client) -> None:
    setting = client.http.get(client.url(f"studios/{client.ids['studio']}")).json["body"]["setting"]
    edit = {"kind": "set_light", "lamps": [setting["lamps"][0]] * 2, "set": setting["set"]}
    where = client.url(f"documents/{client.ids['studio']}/edits")
    assert client.http.post(where, json={"edit": edit}).status_code == 422
