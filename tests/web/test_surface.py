"""Probes over HTTP: lines, sections, maps, checks with what is accepted, the report; and what is refused."""

from __future__ import annotations

import io
import json
from typing import Any

import ezdxf
import numpy as np
import pytest
import trimesh
from pypdf import PdfReader

from hollow_marble.application import probes
from hollow_marble.core.cage import starts
from hollow_marble.core.cage.edits import crease_edges
from hollow_marble.core.cage.mesh import SHARP
from hollow_marble.exchange.ply import cage_to_ply
from tests.core.cages import edges_where
from tests.web.test_api import Client, unpack
from tests.web.test_forms import body, bring, edit


def ask(client: Client, rest: str, **fields: Any) -> Any:
    return client.http.post(client.url(f"forms/{client.ids['form']}/{rest}"), json=fields)


def get(client: Client, rest: str) -> Any:
    return client.http.get(client.url(f"forms/{client.ids['form']}/{rest}"))


def sphere(client: Client, name: str = "b", size: float = 40.0) -> None:
    edit(
        client,
        kind="start_part",
        part=name,
        name=f"Ball {name}",
        start={"kind": "sphere", "size": [size, size, size], "divisions": 4},
    )


def sharp_box(client: Client) -> str:
    """A box whose upper rim is fully sharp, as a part; its id."""
    cage = starts.box((20.0, 20.0, 20.0), (2, 2, 2))
    rim = [edge for edge in edges_where(cage, z=10.0) if (np.abs(cage.points[list(edge), :2]) > 9.9).any(axis=1).all()]
    bring(client, "box.ply", cage_to_ply(crease_edges(cage, rim, SHARP), "Box"))
    return body(client)["parts"][-1]["id"]


def test_principal_curvatures_are_sent_for_every_mesh_point(client: Client) -> None:
    client.box()
    meta, arrays = unpack(get(client, "parts/b/curvature").data)
    assert arrays["high"].shape == arrays["low"].shape == (108 * 81,)
    assert (arrays["high"] >= arrays["low"]).all()
    assert arrays["along"].shape == (108 * 81, 6)
    assert 0.9 < meta["exact"] < 1
    assert not meta["estimate"]


def test_a_finer_skin_is_sent_for_what_is_in_view(client: Client) -> None:
    client.box()
    key = client.http.get(client.url(f"forms/{client.ids['form']}")).json["keys"]["b"]
    answer = ask(client, "parts/b/finer", key=key, level=5, patches=[3, 4])
    _, fine = unpack(answer.data)
    assert fine["positions"].shape == (2 * 33 * 33, 3)
    assert fine["triangles"].max() == 2 * 33 * 33 - 1
    _, coarse = unpack(get(client, "parts/b/mesh").data)
    patch = coarse["positions"][coarse["patchStarts"][3] : coarse["patchStarts"][4]].reshape(9, 9, 3)
    assert fine["positions"][: 33 * 33].reshape(33, 33, 3)[::4, ::4] == pytest.approx(patch, abs=1e-4)
    assert ask(client, "parts/b/finer", key="other", level=5, patches=[0]).status_code == 422
    assert "other faces" in ask(client, "parts/b/finer", key=key, level=4, patches=[999]).json["detail"]


def test_lines_of_light_lie_on_the_form_and_go_out_in_true_size(client: Client) -> None:
    sphere(client)
    meta, lines = unpack(ask(client, "lines", kind="highlight", count=5, spacing=10).data)
    assert meta["parts"] == ["b"]
    assert set(lines["level"].tolist()) == set(range(5))
    _, mesh = unpack(get(client, "parts/b/mesh").data)
    high = np.linalg.norm(mesh["positions"], axis=1).max()
    assert np.linalg.norm(lines["places"], axis=1).max() <= high + 1e-3
    drawn = client.http.post(
        client.url(f"forms/{client.ids['form']}/lines/flat?format=svg"),
        json={"kind": "isophotes", "count": 3, "towards": [0, 0, 1], "seen_from": [0, 0, 1]},
    )
    assert drawn.mimetype == "image/svg+xml"
    width = float(drawn.data.split(b'width="')[1].split(b"mm")[0])
    assert width == pytest.approx(2 * high + 10, rel=0.01), "the circle of 90 degrees, and a margin"


def test_sections_tell_their_length_and_go_out_as_dxf(client: Client) -> None:
    sphere(client)
    meta, found = unpack(ask(client, "sections", normal=[0, 0, 1], at=-5, count=3, spacing=5).data)
    assert meta["names"] == ["Ball b"]
    assert found["level"].tolist() == [0, 1, 2]
    radii = np.linalg.norm(found["places"][:, :2], axis=1)
    for line in range(3):
        rows = slice(found["starts"][line], found["starts"][line + 1])
        assert found["lengths"][line] == pytest.approx(2 * np.pi * radii[rows].mean(), rel=1e-3)
        assert found["places"][rows, 2] == pytest.approx(5 * line - 5, abs=1e-5)
    file = client.http.post(
        client.url(f"forms/{client.ids['form']}/sections/flat?format=dxf"), json={"normal": [0, 0, 1], "count": 2}
    )
    drawing = ezdxf.read(io.StringIO(file.data.decode()))
    lines = list(drawing.modelspace().query("LWPOLYLINE"))
    assert [line.closed for line in lines] == [True, True]
    assert drawing.units == ezdxf.units.MM
    assert [line.dxf.layer for line in lines] == ["Ball b 1", "Ball b 2"]


def test_a_row_is_combed_where_one_touches_it(client: Client) -> None:
    sphere(client)
    _, found = unpack(ask(client, "parts/b/combs", place=[0, -20, 0]).data)
    assert len(found["lengths"]) == 1
    assert found["bend"] == pytest.approx(1 / 20, rel=0.15), "a sphere of a cage is one to some per cent"
    _, every = unpack(ask(client, "parts/b/combs").data)
    assert every["lengths"].sum() > 5 * found["lengths"].sum()


def test_draft_walls_and_deviation_are_maps_with_what_is_worst(client: Client) -> None:
    sphere(client)
    sphere(client, "c", 41.0)
    meta, found = unpack(get(client, "parts/b/draft?x=0&y=0&z=1&wanted=1").data)
    assert found["angle"].max() == pytest.approx(90, abs=0.5)
    assert meta["undercuts"] == []
    assert found["places"][:, 2] == pytest.approx(0, abs=1e-3)
    meta, found = unpack(get(client, "parts/b/wall?way=ray&wanted=1").data)
    assert meta["median"] == pytest.approx(40, rel=0.03)
    meta, found = unpack(get(client, "parts/c/deviation?other=b").data)
    assert meta["mean"] == pytest.approx(0.5, abs=0.05)
    assert sum(meta["counts"]) == len(found["away"])


def test_deviation_from_an_earlier_line_of_the_ledger(client: Client) -> None:
    sphere(client)
    line = client.http.get(client.url(f"forms/{client.ids['form']}")).json["standing"]["head"]
    edit(client, kind="shape", part="b", step={"kind": "stood", "move": [0, 0, 0.25], "turn": [0, 0, 0]})
    meta, _ = unpack(get(client, f"parts/b/deviation?line={line}").data)
    assert abs(meta["most"]) == pytest.approx(0.25, abs=0.01)
    assert abs(meta["place"][2]) == pytest.approx(20.0, abs=0.5), "on top or beneath"


def test_balance_weighs_and_stands(client: Client) -> None:
    client.box()
    edit(client, kind="change_part", part="b", material="ABS")
    found = get(client, "balance").json
    size = get(client, "size").json
    assert found["parts"][0]["volume"] == pytest.approx(size["volume"], rel=1e-4)
    assert found["grams"] == pytest.approx(size["grams"]["b"], rel=1e-4)
    assert found["standing"]["stands"]
    assert found["centre"] == pytest.approx([0, 0, 0], abs=1e-6)


def test_a_finding_is_accepted_with_a_reason_stays_while_it_is_no_worse_and_comes_back(client: Client) -> None:
    sharp_box(client)
    checks = get(client, "checks").json
    kinks = [finding for finding in checks["findings"] if finding["kind"] == "kink"]
    assert checks["open"] == len(checks["findings"]) == 1
    seam = next(seam for seam in checks["seams"] if seam["kind"] == "crease")
    assert seam["verdict"] == "beyond"
    assert kinks[0]["amount"] == pytest.approx(seam["angle"]["most"])
    told = {name: kinks[0][name] for name in ("id", "amount", "sentence")}
    edit(client, kind="accept_finding", accepted={**told, "reason": "The rim is meant to be crisp."})
    checks = get(client, "checks").json
    assert checks["open"] == 0
    (finding,) = checks["findings"]
    assert (finding["state"], finding["reason"]) == ("accepted", "The rim is meant to be crisp.")
    # the same edge, still a kink, after all of it has moved: the finding follows, and stays accepted
    part = body(client)["parts"][0]["id"]
    edit(client, kind="shape", part=part, step={"kind": "stood", "move": [5, 0, 0], "turn": [0, 0, 0]})
    moved = get(client, "checks").json
    assert moved["findings"][0]["id"] == finding["id"]
    assert moved["findings"][0]["place"][0] == pytest.approx(finding["place"][0] + 5, abs=1e-3)
    assert moved["open"] == 0
    # its top drawn together and down, the rim is sharper: that was not what was let pass
    _, cage = unpack(get(client, f"parts/{part}/cage").data)
    top = np.flatnonzero(cage["points"][:, 2] > 9.9).tolist()
    step = {"kind": "placed", "how": "size", "points": top, "values": [1.6, 1.6, 1.0], "seat": [5, 0, 10]}
    assert edit(client, kind="shape", part=part, step=step).status_code == 200
    worse = get(client, "checks").json
    assert worse["findings"][0]["amount"] > 1.05 * finding["amount"]
    assert worse["open"] == 1
    edit(client, kind="reopen_finding", finding=finding["id"])
    assert get(client, "checks").json["open"] == 1


def test_what_is_cured_is_gone_and_what_returns_is_back(client: Client) -> None:
    part = sharp_box(client)
    before = get(client, "checks").json
    edges = [list(pair) for pair in _rim_edges(client, part)]
    edit(client, kind="shape", part=part, step={"kind": "creased", "edges": edges, "crease": 0})
    assert get(client, "checks").json["open"] == 0
    client.http.post(client.url(f"documents/{client.ids['form']}/undo"), json={})
    assert [one["id"] for one in get(client, "checks").json["findings"]] == [one["id"] for one in before["findings"]]


def _rim_edges(client: Client, part: str) -> list[tuple[int, int]]:
    _, cage = unpack(get(client, f"parts/{part}/cage").data)
    return [tuple(edge) for edge in cage["creaseEdges"].reshape(-1, 2).tolist()]


def test_tolerances_are_set_and_change_what_counts(client: Client) -> None:
    sharp_box(client)
    edit(client, kind="set_checking", angle=120)
    assert get(client, "checks").json["open"] == 0
    edit(client, kind="set_checking", angle=0.1, counted=["soundness"])
    assert get(client, "checks").json["findings"] == []
    refused = edit(client, kind="set_checking", pull=[0, 0, 0])
    assert refused.status_code == 422
    assert "no direction" in refused.json["detail"]


def test_a_parting_line_is_kept_and_let_go(client: Client) -> None:
    client.box()
    line = {"id": "l", "name": "Parting line 1", "part": "b", "places": [[0, 0, 0], [1, 0, 0]], "closed": False}
    edit(client, kind="keep_line", line=line)
    assert body(client)["lines"][0]["name"] == "Parting line 1"
    edit(client, kind="forget_line", line="l")
    assert body(client)["lines"] == []
    assert edit(client, kind="keep_line", line={**line, "part": "gone"}).status_code == 404


def test_the_report_is_one_page_one_file_and_data(client: Client) -> None:
    sharp_box(client)
    pdf = get(client, "report?format=pdf")
    pages = PdfReader(io.BytesIO(pdf.data)).pages
    assert len(pages) == 1
    assert "1 finding is beyond tolerance" in pages[0].extract_text()
    assert len(pages[0].images) == 5
    html = get(client, "report?format=html").data.decode()
    assert html.count("<img") == 5
    assert "http" not in html.replace("http-equiv", ""), "nothing is fetched from elsewhere"
    data = json.loads(get(client, "report?format=json").data)
    assert data["open"] == 1
    assert data["findings"][0]["sentence"] in html
    assert data["findings"][0]["severity"] == "beyond"


@pytest.mark.parametrize(
    ("rest", "fields", "says"),
    [
        ("lines", {"kind": "highlight"}, "no form"),
        ("sections", {"normal": [0, 0, 1]}, "no form"),
        ("balance", None, "no form"),
        ("report?format=pdf", None, "no form"),
    ],
)
def test_without_a_form_there_is_a_sentence(client: Client, rest: str, fields: Any, says: str) -> None:
    answer = get(client, rest) if fields is None else ask(client, rest, **fields)
    assert answer.status_code == 422
    assert says in answer.json["detail"]


def test_what_cannot_be_asked_is_said(client: Client) -> None:
    edit(
        client, kind="start_part", part="g", name="Leaf", start={"kind": "grid", "size": [20, 20], "divisions": [2, 2]}
    )
    assert "no direction" in ask(client, "sections", normal=[0, 0, 0]).json["detail"]
    assert "no length" in ask(client, "lines", kind="isophotes", towards=[0, 0, 0]).json["detail"]
    assert "no direction" in get(client, "parts/g/draft?x=0&y=0&z=0").json["detail"]
    assert "open" in get(client, "parts/g/wall").json["detail"]
    assert "open" in get(client, "balance").json["parts"][0]["why"]
    assert "compare with" in get(client, "parts/g/deviation").json["detail"]
    assert "from itself" in get(client, "parts/g/deviation?other=g").json["detail"]
    missed = client.http.post(
        client.url(f"forms/{client.ids['form']}/sections/flat?format=svg"), json={"normal": [0, 0, 1], "at": 900}
    )
    assert "no line to write" in missed.json["detail"]


def test_an_imported_mesh_is_probed_as_any_form_is(client: Client) -> None:
    ball = trimesh.creation.icosphere(subdivisions=3, radius=15.0)
    bring(client, "ball.stl", ball.export(file_type="stl"), still=True)
    part = body(client)["parts"][0]["id"]
    meta, found = unpack(get(client, f"parts/{part}/curvature").data)
    assert meta["estimate"]
    assert np.median(found["high"]) == pytest.approx(1 / 15, rel=0.05)
    assert unpack(ask(client, "lines", kind="highlight").data)[1]["starts"][-1] > 20
    assert get(client, "checks").json["open"] == 0
    assert get(client, f"parts/{part}/wall").status_code == 200


def test_a_mesh_of_very_many_triangles_gets_a_sentence_not_a_wait(
    client: Client, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(probes, "MOST_AT_ONCE", 1000)
    ball = trimesh.creation.icosphere(subdivisions=3, radius=15.0)
    bring(client, "ball.stl", ball.export(file_type="stl"), still=True)
    answer = ask(client, "lines", kind="highlight")
    assert answer.status_code == 422
    assert "ball has 1,280 triangles" in answer.json["detail"]
    assert get(client, "checks").status_code == 200, "what takes its time is done all the same"


def test_an_imported_mesh_is_mended_after_it_was_said_what_that_would_do(client: Client) -> None:
    box = trimesh.creation.box((10.0, 20.0, 30.0)).subdivide()
    torn = np.delete(np.asarray(box.faces), [3], axis=0)
    torn[:5] = torn[:5, ::-1]
    bring(client, "box.stl", trimesh.Trimesh(box.vertices, torn, process=False).export(file_type="stl"), still=True)
    part = body(client)["parts"][0]["id"]
    checks = get(client, "checks").json
    assert {finding["kind"] for finding in checks["findings"]} >= {"opening", "turned face"}
    told = get(client, f"parts/{part}/mending?within=0.001&fill=100").json
    assert (told["turned"], told["filled"], sum(told["counts"].values())) == (5, 1, 0)
    assert get(client, "checks").json["open"] == checks["open"], "nothing was changed yet"
    done = edit(client, kind="shape", part=part, step={"kind": "mended", "within": 0.001, "fill": 100})
    assert "Mended: joined within 0.001 mm" in done.json["standing"]["sentence"]
    assert get(client, "checks").json["open"] == 0
    assert get(client, "balance").json["parts"][0]["volume"] == pytest.approx(6000, rel=1e-6)
    sphere(client, "c")
    refused = edit(client, kind="shape", part="c", step={"kind": "mended"})
    assert "shaped by a cage" in refused.json["detail"]
    assert "shaped by a cage" in get(client, "parts/c/mending").json["detail"]
