"""One writer, one body: what requests say of the head they have seen, and what answers say of what changed."""

from __future__ import annotations

import threading
from typing import Any

import numpy as np
import pytest

from hollow_marble.documents.form.changes import ExtrudedFaces
from tests.documents.test_difference import carried_out
from tests.web.test_api import LINE, Client, unpack

W = {"symmetry": {"planes": ["W"]}}


def state(client: Client, kind: str = "form") -> Any:
    return client.http.get(client.url(f"{kind}s/{client.ids[kind]}")).json


def post(client: Client, kind: str, what: str, body: Any, seen: int | None = None) -> Any:
    headers = {} if seen is None else {"X-Seen": str(seen)}
    return client.http.post(client.url(f"documents/{client.ids[kind]}/{what}"), json=body, headers=headers)


def amend(client: Client, kind: str, thing: str, fields: dict[str, Any], seen: int | None = None, **where: Any) -> Any:
    return post(client, kind, "amendments", {"amend": {"kind": thing, "fields": fields, **where}}, seen)


def shape(client: Client, seen: int | None = None, **step: Any) -> Any:
    return post(client, "form", "edits", {"edit": {"kind": "shape", "part": "b", "step": {**step, **W}}}, seen)


def test_a_number_typed_just_after_a_switch_does_not_put_the_switch_back(client: Client) -> None:
    """Two requests made from one view of the recipe: each says only what was changed, so both hold."""
    client.box()
    cage = unpack(client.http.get(client.url(f"forms/{client.ids['form']}/parts/b/cage")).data)[1]
    edge = cage["edges"].reshape(-1, 2)[5].tolist()
    seen = shape(client, kind="bevelled", edges=[edge], width=1.0, segments=2).json["standing"]["head"]
    assert amend(client, "form", "step", {"sharp": True}, seen, part="b", index=1).status_code == 200
    assert amend(client, "form", "step", {"width": 1.5}, seen, part="b", index=1).status_code == 200
    step = state(client)["body"]["parts"][0]["steps"][1]
    assert (step["sharp"], step["width"]) == (True, 1.5)


def test_three_numbers_of_one_vector_typed_at_once_all_hold(client: Client) -> None:
    seen = client.box().json["standing"]["head"]
    for axis, value in enumerate((70.0, 40.0, 120.0)):
        assert amend(client, "form", "step", {f"size.{axis}": value}, seen, part="b", index=0).status_code == 200
    assert state(client)["body"]["parts"][0]["steps"][0]["size"] == [70.0, 40.0, 120.0]
    size = client.http.get(client.url(f"forms/{client.ids['form']}/size")).json
    assert size["height"] > 100


@pytest.mark.parametrize(
    ("kind", "amendment", "holds"),
    [
        (
            "studio",
            {"kind": "lamp", "id": "key", "fields": {"power": 2.0}},
            lambda b: b["setting"]["lamps"][0]["power"] == 2,
        ),
        ("studio", {"kind": "camera", "fields": {"focal": 100.0}}, lambda b: b["setting"]["camera"]["focal"] == 100),
        (
            "studio",
            {"kind": "set", "fields": {"colour": "#112233"}},
            lambda b: b["setting"]["set"]["colour"] == "#112233",
        ),
        (
            "studio",
            {"kind": "finish", "part": "b", "name": "Body", "fields": {"material": "rubber"}},
            lambda b: (
                (b["setting"]["finishes"]["b"]["material"], b["setting"]["finishes"]["b"]["colour"])
                == ("rubber", "#C9C4BA")
            ),
        ),
        (
            "sheet",
            {"kind": "symmetry", "fields": {"on": True, "axis.x": 300.0}},
            lambda b: b["symmetry"]["axis"]["x"] == 300,
        ),
        (
            "sheet",
            {"kind": "guide", "id": "g", "fields": {"end.0": 500.0}},
            lambda b: b["guides"][0]["end"] == [500, 60],
        ),
        (
            "sheet",
            {"kind": "note", "layer": "n", "id": "w", "fields": {"words": "Dusk"}},
            lambda b: "Dusk" in str(b["layers"]),
        ),
        ("sheet", {"kind": "perspective", "fields": {"shown": False}}, lambda b: b["perspective"]["shown"] is False),
        ("sheet", {"kind": "box", "fields": {"size.2": 120.0}}, lambda b: b["box"]["size"] == [62, 34, 120]),
    ],
    ids=lambda value: value.get("kind") if isinstance(value, dict) else "",
)
def test_everything_with_numbers_takes_only_what_was_changed(
    client: Client, kind: str, amendment: dict[str, Any], holds: Any
) -> None:
    perspective = {
        "points": 2,
        "principal": [1200, 800],
        "focal": 2600,
        "turn": 30,
        "tilt": 5,
        "roll": 0,
        "shown": True,
    }
    for edit in (
        {"kind": "put_guide", "guide": {"kind": "straightedge", "id": "g", "start": [20, 20], "end": [300, 60]}},
        {"kind": "add_layer", "id": "n", "name": "Notes", "holds": "notes"},
        {"kind": "put_note", "layer": "n", "note": {"kind": "lettering", "id": "w", "words": "Moss", "at": [100, 100]}},
        {
            "kind": "set_perspective",
            "perspective": perspective,
            "box": {"size": [62, 34, 108], "at": [1200, 1000], "scale": 4},
            "what": "box",
        },
    ):
        assert post(client, "sheet", "edits", {"edit": edit}).status_code == 200, edit
    answer = post(client, kind, "amendments", {"amend": amendment})
    assert answer.status_code == 200, answer.json
    assert holds(state(client, kind)["body"])


def test_two_who_set_one_number_are_both_told_and_neither_is_lost_in_silence(client: Client) -> None:
    client.box()
    seen = state(client)["standing"]["head"]
    assert amend(client, "form", "step", {"size.0": 80.0}, seen, part="b", index=0).status_code == 200
    refused = amend(client, "form", "step", {"size.0": 70.0}, seen, part="b", index=0)
    assert refused.status_code == 409
    assert (refused.json["theirs"], refused.json["yours"]) == (80.0, 70.0)
    assert "changed in another window" in refused.json["detail"]
    assert state(client)["body"]["parts"][0]["steps"][0]["size"][0] == 80.0
    # another number of the same step, and the same value twice, are no clash
    assert amend(client, "form", "step", {"size.1": 44.0}, seen, part="b", index=0).status_code == 200
    assert amend(client, "form", "step", {"size.0": 80.0}, seen, part="b", index=0).status_code == 200
    # whoever has seen what stands may set it
    now = state(client)["standing"]["head"]
    assert amend(client, "form", "step", {"size.0": 70.0}, now, part="b", index=0).status_code == 200
    assert state(client)["body"]["parts"][0]["steps"][0]["size"][:2] == [70.0, 44.0]


def test_an_edit_names_only_what_is_in_the_project_and_of_its_kind(client: Client) -> None:
    client.stroke(LINE)
    samples = state(client, "sheet")["body"]["layers"][0]["strokes"]
    unknown = "0" * 64
    workspace = client.http.application.extensions["hollow_marble"].application.workspace
    (stroke,) = workspace.project(client.project).database.rows("select sha from asset")
    for edit, words in (
        (
            {"kind": "place_picture", "id": "p", "name": "P", "picture": unknown, "rect": [0, 0, 50, 50]},
            "not in this project",
        ),
        (
            {"kind": "place_picture", "id": "p", "name": "P", "picture": stroke["sha"], "rect": [0, 0, 50, 50]},
            "something else",
        ),
    ):
        answer = post(client, "sheet", "edits", {"edit": edit})
        assert answer.status_code == 422
        assert words in answer.json["detail"]
    for start in (
        {"kind": "imported", "cage": stroke["sha"], "name": "C"},
        {"kind": "still", "mesh": unknown, "name": "M", "triangles": 1},
    ):
        edit = {"kind": "start_part", "part": "q", "name": "Q", "start": start}
        assert post(client, "form", "edits", {"edit": edit}).status_code == 422
    assert state(client, "sheet")["body"]["layers"][0]["strokes"] == samples
    assert state(client)["body"]["parts"] == []


def test_a_document_is_addressed_as_what_it_is(client: Client) -> None:
    for kind in ("sheet", "form", "studio", "board"):
        for other in ("sheet", "form", "studio", "board"):
            answer = client.http.get(client.url(f"{kind}s/{client.ids[other]}"))
            assert answer.status_code == (200 if kind == other else 404)
    for rest in ("page.png", "page.ora", "tones"):
        answer = client.http.get(client.url(f"sheets/{client.ids['studio']}/{rest}"))
        assert (answer.status_code, answer.mimetype) == (404, "application/problem+json")
        assert "not a sheet" in answer.json["detail"]


@pytest.mark.parametrize("text", ['"\\ud800"', '"a\\u0000b"', '"\\udc00\\ud800"'])
def test_letters_that_are_none_are_refused_in_words(client: Client, text: str) -> None:
    """Halves of surrogate pairs and NUL: JSON can say them (RFC 8259), files and databases cannot hold them."""
    answer = client.http.post("/api/projects", data=f'{{"name": {text}}}', content_type="application/json")
    assert answer.status_code == 422
    assert "letters" in answer.json["detail"]
    paired = client.http.post("/api/projects", data='{"name": "\\ud83d\\ude00"}', content_type="application/json")
    assert paired.json["project"]["name"] == "\U0001f600"


@pytest.mark.parametrize("number", [2**63, -(2**63) - 1, 10**40, 1e308])
def test_numbers_that_no_ledger_counts_to_are_refused_in_words(client: Client, number: float) -> None:
    for rest, body in (("go", {"edit": number}), ("place", {"place": number})):
        answer = post(client, "sheet", rest, body)
        assert answer.status_code in (404, 422), answer.json
        assert answer.json["detail"]


def test_what_there_is_not_to_change_and_what_does_not_fit_is_said(client: Client) -> None:
    client.box()
    for kind, amendment, words in (
        ("form", {"kind": "step", "part": "b", "index": 0, "fields": {"size.7": 1.0}}, "There is no size.7 to change"),
        ("form", {"kind": "step", "part": "b", "index": 9, "fields": {"size.0": 1.0}}, "no longer in the recipe"),
        ("form", {"kind": "step", "part": "x", "index": 0, "fields": {"size.0": 1.0}}, "no longer there"),
        ("form", {"kind": "step", "part": "b", "index": 0, "fields": {"size.0": "wide"}}, "size"),
        ("form", {"kind": "step", "part": "b", "index": 0, "fields": {"colour": "red"}}, "colour"),
        ("form", {"kind": "step", "part": "b", "index": 0, "fields": {"divisions.0": 100000}}, "divisions"),
        ("form", {"kind": "lamp", "id": "key", "fields": {"power": 1}}, "does not belong to this kind of document"),
        ("studio", {"kind": "lamp", "id": "key", "fields": {"power": 99}}, "power"),
    ):
        before = state(client, kind)
        answer = post(client, kind, "amendments", {"amend": amendment})
        assert answer.status_code in (404, 422), answer.json
        assert words.casefold() in answer.json["detail"].casefold(), answer.json
        assert state(client, kind) == before


def test_an_answer_leads_from_the_head_that_was_seen_to_the_new_one(client: Client) -> None:
    """Whoever changed what meanwhile."""
    client.box()
    seen = state(client)
    shape(client, kind="extruded", faces=[3], distance=4.0)
    client.edit(
        "start_part", part="r", name="Ring", start={"kind": "ring", "radius": 20, "tube": 5, "around": 16, "section": 8}
    )
    answer = amend(client, "form", "step", {"radius": 22}, seen["standing"]["head"], part="r", index=0).json
    now = state(client)
    assert carried_out(seen["body"], answer["change"]) == now["body"]
    assert answer["standing"] == now["standing"]
    assert answer["keys"] == now["keys"], "both parts look different"
    undone = post(client, "form", "undo", None, answer["standing"]["head"]).json
    assert carried_out(now["body"], undone["change"]) == state(client)["body"]
    assert set(undone["keys"]) == {"r"}
    since = client.http.get(client.url(f"documents/{client.ids['form']}/since/{seen['standing']['head']}")).json
    assert carried_out(seen["body"], since["change"]) == state(client)["body"]


def test_a_stroke_brings_the_tiles_of_those_drawn_meanwhile(client: Client) -> None:
    """A tab that knows of nothing else is up to date after its own stroke."""
    client.stroke(LINE)
    head = state(client, "sheet")["standing"]["head"]
    far = LINE.copy()
    far[:, 0] += 900
    client.stroke(far)
    near = LINE.copy()
    near[:, 1] += 300
    url = client.url(f"sheets/{client.ids['sheet']}/strokes")
    data = near.astype("<f4").tobytes()
    answer = client.http.post(url, data=data, query_string={"layer": "rough"}, headers={"X-Seen": str(head)})
    _, arrays = unpack(answer.data)
    rights = arrays["rects"].reshape(-1, 4)[:, 2]
    assert rights.max() > 900, "the other one's stroke came along"


def test_picks_made_on_a_form_that_has_changed_are_refused_with_409(client: Client) -> None:
    client.box()
    seen = state(client)["standing"]["head"]
    shape(client, kind="inset", faces=[10], width=2.0)
    late = shape(client, seen, kind="extruded", faces=[3], distance=4.0)
    assert late.status_code == 409
    assert "Somebody else changed the part meanwhile" in late.json["detail"]
    assert len(state(client)["body"]["parts"][0]["steps"]) == 2
    placed = state(client)["standing"]["head"]
    shape(client, kind="placed", how="move", points=[1], values=[0, 0, 2])
    still = shape(client, placed, kind="placed", how="move", points=[2], values=[0, 0, 2])
    assert still.status_code == 200, "the same points are there, only elsewhere: the edit means what it meant"
    assert len(state(client)["body"]["parts"][0]["steps"]) == 4


def test_a_head_that_is_no_head_is_refused(client: Client) -> None:
    client.box()
    for seen in ("x", "-1", "9" * 40):
        answer = client.http.post(client.url(f"documents/{client.ids['form']}/undo"), headers={"X-Seen": seen})
        assert answer.status_code == 422
        assert "line of the ledger" in answer.json["detail"]
    answer = client.http.post(client.url(f"documents/{client.ids['form']}/undo"), headers={"X-Seen": "999"})
    assert answer.status_code == 404


def test_no_step_vanishes_when_two_hands_edit_at_once(client: Client) -> None:
    """Changing an early step carries the later ones along; one added meanwhile was once overwritten by what had been carried."""
    client.box()
    shape(client, kind="inset", faces=[10], width=2.0)
    barrier, codes = threading.Barrier(2), []

    def early() -> None:
        http = client.http.application.test_client()
        url = client.url(f"documents/{client.ids['form']}/amendments")
        for number in range(12):
            barrier.wait()
            body = {"amend": {"kind": "step", "part": "b", "index": 1, "fields": {"width": 1.0 + number / 20}}}
            codes.append(http.post(url, json=body).status_code)

    def late() -> None:
        http = client.http.application.test_client()
        url = client.url(f"documents/{client.ids['form']}/edits")
        for number in range(12):
            barrier.wait()
            step = {"kind": "placed", "how": "move", "points": [number], "values": [0, 0, 1]}
            codes.append(http.post(url, json={"edit": {"kind": "shape", "part": "b", "step": step}}).status_code)

    threads = [threading.Thread(target=early), threading.Thread(target=late)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join(60)
    assert codes == [200] * 24
    steps = state(client)["body"]["parts"][0]["steps"]
    assert [step["kind"] for step in steps] == ["box", "inset", *["placed"] * 12]
    assert steps[1]["width"] == pytest.approx(1.55)


def test_a_mesh_is_sent_once_and_then_what_differs(client: Client) -> None:
    client.box()
    url = client.url(f"forms/{client.ids['form']}/parts/b/mesh")
    meta, whole = unpack(client.http.get(url).data)
    assert meta["whole"] is True
    assert meta["key"] == state(client)["keys"]["b"]
    shape(client, kind="placed", how="move", points=[0], values=[0, 0, -4])
    after, part = unpack(client.http.get(url, query_string={"have": meta["key"]}).data)
    assert (after["whole"], after["connectivity"]) == (False, meta["connectivity"])
    assert "triangles" not in part
    again, fresh = unpack(client.http.get(url).data)
    positions = whole["positions"].copy()
    at = 0
    for patch in part["patches"].tolist():
        start, end = whole["patchStarts"][patch], whole["patchStarts"][patch + 1]
        positions[start:end] = part["positions"][at : at + end - start]
        at += end - start
    assert np.array_equal(positions, fresh["positions"])
    assert again["key"] == after["key"]
    assert len(part["patches"]) < len(whole["patchFace"])
    shape(client, kind="inset", faces=[10], width=2.0)
    assert unpack(client.http.get(url, query_string={"have": meta["key"]}).data)[0]["whole"] is True
    assert unpack(client.http.get(url, query_string={"have": "nothing like it"}).data)[0]["whole"] is True
    edges = unpack(client.http.get(url, query_string={"edges": True}).data)[1]["edges"]
    assert edges.max() < len(fresh["positions"]) * 2


def test_a_part_that_cannot_be_worked_out_says_why_and_the_rest_of_the_form_stays(
    client: Client, monkeypatch: pytest.MonkeyPatch
) -> None:
    """As after an update that works a step out otherwise."""
    client.box()
    shape(client, kind="extruded", faces=[3], distance=4.0)
    client.edit(
        "start_part", part="r", name="Ring", start={"kind": "ring", "radius": 20, "tube": 5, "around": 16, "section": 8}
    )
    workspace = client.http.application.extensions["hollow_marble"].application.workspace
    workspace.shelf.clear()
    workspace.project(client.project).ledger.states._kept.clear()

    def broken(*_: Any) -> Any:
        from hollow_marble.core.errors import HollowMarbleError

        raise HollowMarbleError("The lift is too high. Take less.")

    monkeypatch.setattr(ExtrudedFaces, "applied_to", broken)
    found = state(client)
    assert found["problems"] == {"b": "Step 2 of Body no longer fits: The lift is too high. Take less."}
    assert (found["keys"]["b"], bool(found["keys"]["r"])) == ("", True)
    size = client.http.get(client.url(f"forms/{client.ids['form']}/size")).json
    assert size["width"] == pytest.approx(2 * (20 + 5), rel=0.2), "the ring is measured"
    assert client.http.get(client.url(f"forms/{client.ids['form']}/parts/b/mesh")).status_code == 422
    assert client.http.get(client.url(f"forms/{client.ids['form']}/parts/r/mesh")).status_code == 200
    assert amend(client, "form", "step", {"radius": 21}, part="r", index=0).status_code == 200, "others can be edited"
    assert amend(client, "form", "step", {"size": [61, 30, 90]}, part="b", index=0).status_code == 422
    assert post(client, "form", "undo", None).status_code == 200


def test_what_holds_a_part_still_is_told_in_the_words_it_is_refused_with(client: Client) -> None:
    client.box("a")
    copy = {"kind": "duplicate_part", "part": "a", "copy_id": "b", "name": "Ear", "linked": True}
    linked = post(client, "form", "edits", {"edit": {**copy, "stood": {"kind": "stood", "move": [10, 0, 0]}}}).json
    assert set(linked["held"]) == {"b"}
    locked = post(client, "form", "edits", {"edit": {"kind": "change_part", "part": "a", "locked": True}}).json
    assert set(locked["held"]) == {"a", "b"}
    assert state(client)["held"] == locked["held"]
    for part, why in locked["held"].items():
        step = {"kind": "placed", "how": "move", "points": [0], "values": [0, 0, 1], "seat": [0, 0, 0]}
        refused = post(client, "form", "edits", {"edit": {"kind": "shape", "part": part, "step": step}})
        assert (refused.status_code, refused.json["detail"]) == (422, why)
    post(client, "form", "edits", {"edit": {"kind": "change_part", "part": "a", "locked": False}})
    free = post(client, "form", "edits", {"edit": {"kind": "break_link", "part": "b"}}).json
    assert free["held"] == {}


def test_a_material_with_a_colour_of_its_own_brings_it_unless_one_is_chosen_with_it(client: Client) -> None:
    client.box("a")

    def finish(**fields: Any) -> Any:
        amend(client, "studio", "finish", fields, part="a", name="Body")
        found = state(client, "studio")["body"]["setting"]["finishes"]["a"]
        return {name: found[name] for name in ("material", "colour")}

    assert finish(colour="#20483C") == {"material": "matte plastic", "colour": "#20483C"}
    assert finish(material="rubber")["colour"] == "#20483C"
    assert finish(material="polished metal")["colour"] == "#E4E0DA"
    assert finish(material="clear glass", colour="#AACCBB") == {"material": "clear glass", "colour": "#AACCBB"}


def test_foreign_names_are_refused_and_addresses_in_numbers_are_not(client: Client) -> None:
    """DNS rebinding: a page of another site has its own name lead to this machine."""
    url = f"/api/projects/{client.project}"
    for host, code in (
        ("evil.example", 403),
        ("evil.example:8642", 403),
        ("localhost.evil.example", 403),
        ("", 403),
        ("127.0.0.1:8642", 200),
        ("[::1]:8642", 200),
        ("192.168.1.20:8642", 200),
        ("LOCALHOST:8642", 200),
    ):
        answer = client.http.get(url, headers={"Host": host})
        assert answer.status_code == code, host
        if code == 403:
            assert "does not answer to the name" in answer.json["detail"]


def test_opening_a_project_asks_a_fixed_number_of_questions(client: Client, monkeypatch: pytest.MonkeyPatch) -> None:
    from hollow_marble.store.database import Database

    asked: list[str] = []
    real = Database.rows
    monkeypatch.setattr(
        Database, "rows", lambda base, query, values=(): (asked.append(query), real(base, query, values))[1]
    )

    def questions() -> int:
        asked.clear()
        assert client.http.get(f"/api/projects/{client.project}").status_code == 200
        return len(asked)

    one = questions()
    for number in range(39):
        client.http.post(client.url("documents"), json={"kind": "sheet", "name": f"Sheet {number}"})
    assert questions() == one <= 2


def test_the_chosen_sheet_is_marked_at_every_line(client: Client) -> None:
    def chosen() -> bool:
        documents = client.http.get(f"/api/projects/{client.project}").json["documents"]
        return bool(find_by(documents, client.ids["sheet"])["chosen"])

    client.edit("choose", chosen=True)
    client.edit("add_layer", id="x", name="X")
    assert chosen()
    post(client, "sheet", "undo", None)
    assert chosen()
    post(client, "sheet", "undo", None)
    assert not chosen()
    post(client, "sheet", "redo", None)
    assert chosen()
    twin = client.http.post(client.url(f"documents/{client.ids['sheet']}/duplicate")).json
    assert twin["chosen"] is True


def find_by(documents: list[dict[str, Any]], ident: str) -> dict[str, Any]:
    return next(d for d in documents if d["id"] == ident)
