"""Eight people at one project at once, undisturbed and with the server killed under their hands."""

from __future__ import annotations

import io
import threading
import time
import urllib.request
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from hollow_marble.documents.sheet.model import Sheet
from hollow_marble.documents.sheet.raster import SheetRaster
from hollow_marble.store.assets import load_asset
from hollow_marble.store.library import Library
from tests.conftest import start_server
from tests.together import Colleague, Said, begin, check, killed_at_any_moment

CLIENTS = 8
SECONDS = 6.0
ROUNDS = 5


@pytest.mark.timeout(240)
def test_eight_clients_at_once_lose_nothing_and_nobody_waits_for_ever(tmp_path: Path) -> None:
    """Two kinds of edit at once once froze the server for good, after 9 strokes and 26 edits."""
    server = start_server(tmp_path)
    said = Said()
    project, ids = begin(server.url)
    colleagues = [Colleague(server.url, project, ids, seed, said) for seed in range(CLIENTS)]
    until = time.monotonic() + SECONDS

    def work(colleague: Colleague) -> None:
        while time.monotonic() < until:
            colleague.once()

    threads = [threading.Thread(target=work, args=(one,), daemon=True) for one in colleagues]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join(SECONDS + 90)
    assert not any(thread.is_alive() for thread in threads), "nobody waits for ever"
    assert said.told() > 100, "enough was done for the test to mean something"
    shown = _page(server.url, project, ids["sheet"])
    server.process.terminate()
    server.process.wait()
    check(tmp_path, project, said)
    library = Library(tmp_path)
    sheet = library.get(project).ledger.state(ids["sheet"])
    assert isinstance(sheet, Sheet)
    raster = SheetRaster(lambda sha: load_asset(library.get(project).database, sha)[0])
    raster.update(sheet)
    assert np.array_equal(raster.pixels((0, 0, sheet.width, sheet.height))[..., :3], shown)
    library.close()


@pytest.mark.timeout(240)
def test_a_server_killed_at_any_moment_loses_nothing_acknowledged(tmp_path: Path) -> None:
    project, said = killed_at_any_moment(tmp_path, ROUNDS, CLIENTS, 11)
    check(tmp_path, project, said)
    assert said.told() > 30, "enough was done for the test to mean something"


def _page(url: str, project: str, sheet: str) -> np.ndarray:
    with urllib.request.urlopen(f"{url}/api/projects/{project}/sheets/{sheet}/page.png") as answer:
        return np.asarray(Image.open(io.BytesIO(answer.read())))
