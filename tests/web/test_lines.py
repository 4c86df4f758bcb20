"""Lines picked and changed through HTTP."""

from __future__ import annotations

import io
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PIL import Image

from hollow_marble.web.app import create_app
from tests.web.test_api import Client, unpack


@pytest.fixture
def client(tmp_path: Path) -> Iterator[Client]:
    """Two level lines, 300 px apart."""
    app = create_app(tmp_path, work=False)
    made = Client(app.test_client())
    x = np.linspace(400, 1000, 60)
    for y in (400, 700):
        made.stroke(np.stack([x, np.full(60, y), np.full(60, 0.8), np.zeros(60)], axis=1), size=8)
    yield made
    app.extensions["hollow_marble"].close()


def ask(client: Client, rest: str, **body: Any) -> Any:
    return client.http.post(client.url(f"sheets/{client.ids['sheet']}/lines/{rest}"), json={"layer": "rough", **body})


def picked(client: Client, *points: tuple[float, float]) -> list[str]:
    return [line["id"] for line in ask(client, "pick", points=points).json["lines"]]


def page(client: Client) -> np.ndarray:
    data = client.http.get(client.url(f"sheets/{client.ids['sheet']}/page.png")).data
    return np.asarray(Image.open(io.BytesIO(data)).convert("RGB")).astype(int)


def ink(client: Client) -> np.ndarray:
    return np.argwhere(page(client)[..., 0] < 180)


def test_a_touch_picks_the_nearest_line_and_an_outline_all_inside(client: Client) -> None:
    (first,) = picked(client, (600, 408))
    (second,) = picked(client, (600, 692))
    assert first != second
    assert picked(client, (600, 550)) == []
    assert picked(client, (300, 300), (1100, 300), (1100, 800), (300, 800)) == [first, second]
    assert picked(client, (300, 300), (1100, 300), (1100, 500), (300, 500)) == [first]


def test_lines_are_moved_turned_scaled_and_mirrored(client: Client) -> None:
    ids = picked(client, (600, 400))
    answer = ask(client, "change", ids=ids, change={"how": "carry", "by": [100, -50]})
    assert unpack(answer.data)[0]["standing"]["sentence"] == "Moved a line"
    rows = ink(client)
    moved = rows[rows[:, 0] < 550]
    assert moved[:, 0].mean() == pytest.approx(350, abs=1)
    assert moved[:, 1].min() == pytest.approx(500, abs=6)
    ask(client, "change", ids=ids, change={"how": "carry", "turn": 90})
    upright = ink(client)
    upright = upright[(np.abs(upright[:, 1] - 800) < 20) & (upright[:, 0] < 690)]
    assert np.ptp(upright[:, 0]) == pytest.approx(600, abs=12)
    ask(client, "change", ids=ids, change={"how": "carry", "scale": 0.5, "mirror": True})
    half = ink(client)
    half = half[(np.abs(half[:, 1] - 800) < 20) & (half[:, 0] < 600)]
    assert np.ptp(half[:, 0]) == pytest.approx(300, abs=10)


def test_undo_after_a_change_gives_the_same_page(client: Client) -> None:
    before = page(client)
    ids = picked(client, (600, 400))
    for change in (
        {"how": "restyle", "colour": "#C02020", "wider": 2.0},
        {"how": "smooth", "width": 60},
        {"how": "pull", "at": [700, 400], "by": [0, 80], "reach": 50},
        {"how": "cut out", "points": [[600, 350], [700, 350], [700, 450], [600, 450]]},
    ):
        assert ask(client, "change", ids=ids, change=change).status_code == 200
        assert (page(client) != before).any() or change["how"] == "smooth"
        client.http.post(client.url(f"documents/{client.ids['sheet']}/undo"))
        assert np.array_equal(page(client), before)


def test_a_pull_bends_the_line_where_the_hand_is(client: Client) -> None:
    ids = picked(client, (600, 400))
    ask(client, "change", ids=ids, change={"how": "pull", "at": [700, 400], "by": [0, 80], "reach": 50})
    rows = ink(client)
    upper = rows[rows[:, 0] < 600]
    bent = upper[np.abs(upper[:, 1] - 700) < 3]
    assert bent[:, 0].mean() == pytest.approx(480, abs=3)
    assert upper[np.abs(upper[:, 1] - 450) < 3][:, 0].mean() == pytest.approx(400, abs=2)


def test_a_piece_cut_out_leaves_two_lines(client: Client) -> None:
    ids = picked(client, (600, 400))
    body = {"how": "cut out", "points": [[600, 350], [700, 350], [700, 450], [600, 450]]}
    assert ask(client, "change", ids=ids, change=body).status_code == 200
    rows = ink(client)
    upper = rows[rows[:, 0] < 550]
    assert not ((upper[:, 1] > 608) & (upper[:, 1] < 692)).any()
    assert len(picked(client, (300, 300), (1100, 300), (1100, 500), (300, 500))) == 2
    nowhere = {"how": "cut out", "points": [[10, 10], [40, 10], [40, 40]]}
    refused = ask(client, "change", ids=picked(client, (600, 700)), change=nowhere)
    assert "Nothing was cut out" in refused.json["detail"]


def test_copies_and_removal(client: Client) -> None:
    ids = picked(client, (600, 400))
    ask(client, "change", ids=ids, change={"how": "carry", "by": [0, 100], "copies": True})
    assert len(picked(client, (300, 300), (1100, 300), (1100, 600), (300, 600))) == 2
    ask(client, "change", ids=ids, change={"how": "remove"})
    assert len(picked(client, (300, 300), (1100, 300), (1100, 600), (300, 600))) == 1
    gone = ask(client, "change", ids=ids, change={"how": "remove"})
    assert (gone.status_code, gone.json["detail"]) == (422, "Those lines are no longer there. Pick them again.")


def test_lines_of_a_locked_layer_cannot_be_picked(client: Client) -> None:
    client.edit("change_layer", layer="rough", locked=True)
    answer = ask(client, "pick", points=[(600, 400)])
    assert answer.status_code == 422
    assert "is locked" in answer.json["detail"]
