"""Forms over HTTP: files in and out, earlier steps changed, kept picks, findings, what is refused."""

from __future__ import annotations

import io
from typing import Any

import numpy as np
import pytest
from backports import zstd

from hollow_marble.core.cage import starts
from hollow_marble.core.cage.mesh import SHARP, cage_from_faces, faces_of
from hollow_marble.exchange.meshes import NamedMesh, glb, stl
from hollow_marble.exchange.ply import cage_to_ply, ply_to_cage
from tests.web.test_api import Client, unpack


def bring(client: Client, name: str, data: bytes, still: bool = False) -> Any:
    form = {"file": (io.BytesIO(data), name), "still": str(still).lower()}
    url = client.url(f"forms/{client.ids['form']}/import")
    return client.http.post(url, data=form, content_type="multipart/form-data")


def edit(client: Client, **fields: Any) -> Any:
    return client.http.post(client.url(f"documents/{client.ids['form']}/edits"), json={"edit": fields})


def body(client: Client) -> dict[str, Any]:
    return client.http.get(client.url(f"forms/{client.ids['form']}")).json["body"]


def triangles() -> NamedMesh:
    cage = starts.box((30, 20, 10), (1, 1, 1))
    quads = cage.face_points.reshape(-1, 4)
    return NamedMesh("block", cage.points, np.concatenate([quads[:, [0, 1, 2]], quads[:, [0, 2, 3]]]))


def test_a_cage_with_creases_goes_out_and_comes_in_as_the_same_bits(client: Client) -> None:
    box = starts.box((31.7, 17.3, 55.1), (2, 1, 3))
    cage = cage_from_faces(box.points, faces_of(box), {(0, 1): SHARP, (2, 2): 1.5})
    again = ply_to_cage(cage_to_ply(cage, "Leaf"), "leaf.ply")
    assert again.points.tobytes() == cage.points.tobytes()
    assert again.connectivity() == cage.connectivity()
    assert bring(client, "leaf.ply", cage_to_ply(cage, "Leaf")).status_code == 200
    part = body(client)["parts"][-1]
    url = client.url(f"forms/{client.ids['form']}/export")
    out = client.http.get(url, query_string={"format": "cage.ply", "part": part["id"]}).data
    assert ply_to_cage(out, "out.ply").connectivity() == cage.connectivity()


@pytest.mark.parametrize("kind", ["stl", "glb"])
def test_any_mesh_comes_in_as_a_still_body_of_its_own_size(client: Client, kind: str) -> None:
    data = stl([triangles()]) if kind == "stl" else glb([triangles()])
    assert bring(client, f"block.{kind}", data, still=True).status_code == 200
    part = body(client)["parts"][-1]
    size = client.http.get(client.url(f"forms/{client.ids['form']}/size")).json
    assert (size["width"], size["depth"], size["height"]) == pytest.approx((30, 20, 10), abs=1e-3)
    assert size["volume"] == pytest.approx(6000, rel=1e-4)
    meta, arrays = unpack(client.http.get(client.url(f"forms/{client.ids['form']}/parts/{part['id']}/mesh")).data)
    assert meta["closed"] is True
    assert meta["whole"] is True
    assert len(arrays["triangles"]) == 12
    told, cage = unpack(client.http.get(client.url(f"forms/{client.ids['form']}/parts/{part['id']}/cage")).data)
    assert (told["faces"], len(cage["points"]), len(cage["edges"])) == (0, 0, 0), "a still body has no cage"
    for form in ("glb", "stl", "ply"):
        out = client.http.get(client.url(f"forms/{client.ids['form']}/export"), query_string={"format": form})
        assert out.status_code == 200
    told, _ = unpack(client.http.get(client.url(f"forms/{client.ids['form']}/parts/{part['id']}/curvature")).data)
    assert told["estimate"], "of flat triangles"
    shaped = edit(client, kind="shape", part=part["id"], step={"kind": "inset", "faces": [0], "width": 1})
    assert "no cage" in shaped.json["detail"]


TWO_SHEETS = "v 0 0 0\nv 1 0 0\nv 0 1 0\nv 0 0 1\nv 0 -1 0\nf 1 2 3\nf 1 2 4\nf 1 2 5\n"


@pytest.mark.parametrize(
    ("name", "data", "still", "words"),
    [
        ("torn.obj", TWO_SHEETS.encode(), False, "not a single sheet"),
        ("nan.obj", b"v 0 0 nan\nv 1 0 0\nv 0 1 0\nf 1 2 3\n", False, "not a number"),
        ("empty.obj", b"v 0 0 0\n", False, "holds no faces"),
        ("empty.ply", b"ply\nformat ascii 1.0\nelement vertex 0\nend_header\n", False, "cannot be read as PLY"),
        ("half.stl", b"not a mesh at all", True, "holds no faces"),
        ("cage.stl", b"", False, "neither OBJ nor PLY"),
        ("cage.xyz", b"", True, "no kind that can be brought in"),
    ],
)
def test_files_that_do_not_fit_are_refused_and_the_form_is_as_it_was(
    client: Client, name: str, data: bytes, still: bool, words: str
) -> None:
    before = body(client)
    answer = bring(client, name, data, still)
    assert answer.status_code in (400, 422)
    said = answer.json["detail"]
    assert words.casefold() in said.casefold()
    assert said.endswith(".")
    assert body(client) == before


def test_an_earlier_step_is_changed_over_http_and_later_picks_follow(client: Client) -> None:
    client.box()
    edge = [0, 1]
    mesh, arrays = unpack(client.http.get(client.url(f"forms/{client.ids['form']}/parts/b/cage")).data)
    edge = arrays["edges"].reshape(-1, 2)[5].tolist()
    bevel = {"kind": "bevelled", "edges": [edge], "width": 1.0, "segments": 2}
    assert edit(client, kind="shape", part="b", step=bevel).status_code == 200
    face = mesh["faces"] - 1  # far from the bevel; its number does not change, its corners may
    assert (
        edit(client, kind="shape", part="b", step={"kind": "inset", "faces": [face], "width": 0.5}).status_code == 200
    )
    more = edit(client, kind="change_step", part="b", index=1, step={**bevel, "segments": 4})
    assert more.status_code == 200, more.json
    assert body(client)["parts"][0]["steps"][1]["segments"] == 4
    assert body(client)["parts"][0]["steps"][1]["said"] == "Bevelled 1 edge by 1 mm"
    refused = edit(client, kind="change_step", part="b", index=1, step={**bevel, "width": 90.0})
    assert refused.status_code == 422
    assert "wider than a face" in refused.json["detail"]
    gone = edit(client, kind="drop_step", part="b", index=1)
    assert gone.status_code == 200
    assert [step["kind"] for step in body(client)["parts"][0]["steps"]] == ["box", "inset"]


def test_kept_picks_and_findings_over_http(client: Client) -> None:
    client.box()
    assert edit(client, kind="keep_pick", part="b", name="low", of="faces", items=[0, 1, 2]).status_code == 200
    assert edit(client, kind="shape", part="b", step={"kind": "removed", "faces": [1]}).status_code == 200
    found = client.http.get(client.url(f"forms/{client.ids['form']}/parts/b/picks/low")).json
    assert found["kind"] == "faces"
    assert (len(found["items"]), found["gone"]) == (2, 1)
    gone = client.http.get(client.url(f"forms/{client.ids['form']}/parts/b/picks/nothing"))
    assert "no longer kept" in gone.json["detail"]
    assert client.http.get(client.url(f"forms/{client.ids['form']}/parts/b/divisions")).json["faces"] == []
    turn = {"kind": "placed", "how": "turn", "points": [0], "values": [0, 0, 80], "seat": [20, 0, 0]}
    assert edit(client, kind="shape", part="b", step=turn).status_code == 200
    strained = client.http.get(client.url(f"forms/{client.ids['form']}/parts/b/divisions")).json["faces"]
    assert strained
    assert strained[0]["twist"] > 30 or strained[0]["turn"] > 120


def test_a_views_lines_are_sent_in_px_of_the_page(client: Client) -> None:
    sheet = client.ids["sheet"]
    x = np.linspace(200, 700, 20)
    line = np.stack([x, 0 * x + 300, 0 * x + 0.8, 0 * x], axis=1).astype("<f4")
    url = client.url(f"sheets/{sheet}/strokes")
    assert client.http.post(url, data=line.tobytes(), query_string={"layer": "rough", "size": 8}).status_code == 200
    frame = {"kind": "frame_view", "id": "v", "view": "front", "name": "front", "rect": [100, 100, 900, 600]}
    assert client.http.post(client.url(f"documents/{sheet}/edits"), json={"edit": frame}).status_code == 200
    meta, arrays = unpack(client.http.get(client.url(f"sheets/{sheet}/views/v/lines")).data)
    assert meta["lines"] == 1
    assert arrays["starts"].tolist() == [0, 20]
    assert arrays["points"].reshape(-1, 2)[:, 0] == pytest.approx(x, abs=1e-3)


def test_after_a_release_only_what_the_last_preview_did_not_bring_is_sent(client: Client) -> None:
    edit(
        client,
        kind="start_part",
        part="b",
        name="B",
        start={"kind": "box", "size": [60, 30, 90], "divisions": [6, 4, 8]},
    )
    url = client.url(f"forms/{client.ids['form']}/parts/b")
    first, cage = unpack(client.http.get(f"{url}/mesh").data), unpack(client.http.get(f"{url}/cage").data)
    step = {"kind": "placed", "how": "move", "points": [7], "values": [0, 0, 5], "seat": [0, 0, 0]}

    def shown(values: list[float]) -> tuple[Any, dict[str, np.ndarray]]:
        return unpack(client.http.post(f"{url}/preview", json={"step": {**step, "values": values}}).data)

    meta, patches = shown([0, 0, 5])
    edit(client, kind="shape", part="b", step=step)
    after, rest = unpack(client.http.get(f"{url}/mesh", query_string={"have": meta["key"]}).data)
    assert not after["whole"]
    assert len(rest["patches"]) == 0, "the last preview brought all of it"
    # and it is right: the first mesh with the preview's patches over it is the mesh as it is sent whole
    whole = unpack(client.http.get(f"{url}/mesh").data)[1]["positions"]
    starts_, mine = first[1]["patchStarts"], first[1]["positions"].copy()
    at = 0
    for patch in patches["patches"]:
        count = starts_[patch + 1] - starts_[patch]
        mine[starts_[patch] : starts_[patch] + count] = patches["positions"][at : at + count]
        at += count
    assert np.array_equal(mine, whole)
    # another preview than what was kept: what differs from it is sent, and no more
    meta, _ = shown([0, 0, 3])
    edit(client, kind="shape", part="b", step={**step, "values": [0, 0, 4]})
    _, rest = unpack(client.http.get(f"{url}/mesh", query_string={"have": meta["key"]}).data)
    assert 0 < len(rest["patches"]) <= len(patches["patches"])
    # of the cage only its points, as long as its faces are the same
    told, moved = unpack(client.http.get(f"{url}/cage", query_string={"have": cage[0]["key"]}).data)
    assert not told["whole"]
    assert "facePoints" not in moved
    assert moved["points"][7, 2] == pytest.approx(cage[1]["points"][7, 2] + 9)
    edit(client, kind="change_part", part="b", level=2)
    assert unpack(client.http.get(f"{url}/cage", query_string={"have": told["key"]}).data)[0]["whole"], "a coarser skin"


def test_answers_are_packed_for_whoever_can_unpack_them(client: Client) -> None:
    """RFC 9110, 12.5.3; Zstandard: RFC 8878."""
    edit(
        client,
        kind="start_part",
        part="b",
        name="B",
        start={"kind": "box", "size": [60, 30, 90], "divisions": [6, 4, 8]},
    )
    url = client.url(f"forms/{client.ids['form']}/parts/b/mesh")
    plain = client.http.get(url)
    small = client.http.get(url, headers={"Accept-Encoding": "gzip, deflate, br, zstd"})
    assert (plain.headers.get("Content-Encoding"), small.headers.get("Content-Encoding")) == (None, "zstd")
    assert len(small.data) < 0.6 * len(plain.data)
    assert unpack(zstd.decompress(small.data))[1]["positions"].tobytes() == unpack(plain.data)[1]["positions"].tobytes()
