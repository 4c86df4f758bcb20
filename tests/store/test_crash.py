"""Nothing acknowledged is lost when the server is killed."""

from __future__ import annotations

import http.client
import json
import random
import threading
import time
import urllib.error
import urllib.request
from pathlib import Path
from typing import Any

import pytest

from hollow_marble.store.library import Library
from tests.conftest import Server, free_port, start_server


def _post(server: Server, path: str, body: dict[str, Any]) -> Any:
    request = urllib.request.Request(server.url + path, json.dumps(body).encode(), {"Content-Type": "application/json"})
    with urllib.request.urlopen(request, timeout=20) as answer:
        return json.load(answer)


@pytest.mark.timeout(180)
def test_kill_between_edits_at_random_loses_nothing_acknowledged(tmp_path: Path) -> None:
    chance = random.Random(11)
    port = free_port()
    acknowledged: list[str] = []
    server = start_server(tmp_path, port)
    project = _post(server, "/api/projects", {"name": "Crash"})
    ident = project["project"]["id"]
    sheet = next(d["id"] for d in project["documents"] if d["kind"] == "sheet")
    for round_number in range(4):
        stop = threading.Timer(chance.uniform(0.15, 0.6), server.process.kill)
        stop.start()
        number = 0
        while True:
            name = f"r{round_number}n{number}"
            try:
                _post(
                    server,
                    f"/api/projects/{ident}/documents/{sheet}/edits",
                    {"edit": {"kind": "add_layer", "id": name, "name": name}},
                )
            except (OSError, http.client.HTTPException):
                break
            acknowledged.append(name)
            number += 1
        server.process.wait()
        stop.join()
        server = start_server(tmp_path, port)
        layers = _layers(server, ident, sheet)
        missing = [name for name in acknowledged if name not in layers]
        assert missing == []
    assert len(acknowledged) > 20, "enough edits were made for the test to mean something"
    server.kill()
    library = Library(tmp_path)
    check = library.named("Crash").database.rows("pragma integrity_check")[0][0]
    assert check == "ok"
    library.close()


def _layers(server: Server, project: str, sheet: str) -> set[str]:
    deadline = time.monotonic() + 20
    while True:
        try:
            with urllib.request.urlopen(f"{server.url}/api/projects/{project}/sheets/{sheet}") as answer:
                return {layer["name"] for layer in json.load(answer)["body"]["layers"]}
        except urllib.error.URLError:
            if time.monotonic() > deadline:
                raise
