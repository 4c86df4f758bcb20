"""Several clients at work on one project of a real server at once, and what must hold afterwards.

For the tests, and at greater length for `hollow-marble bench --only faults`.
"""

from __future__ import annotations

import contextlib
import http.client
import json
import os
import random
import signal
import subprocess
import sys
import threading
import time
import urllib.error
import urllib.parse
import urllib.request
from collections import defaultdict
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import numpy as np

from hollow_marble.documents.sheet.model import Sheet
from hollow_marble.documents.sheet.raster import SheetRaster
from hollow_marble.store.assets import load_asset
from hollow_marble.store.ledger import Ledger
from hollow_marble.store.library import Library, Project
from tests.conftest import answers, free_port

GONE = (OSError, http.client.HTTPException)
"""What is raised where the server is gone in the middle of a request."""


@dataclass
class Said:
    """What clients were told: acknowledged edits by document, how long each took, and answers that must not be."""

    acknowledged: dict[str, list[int]] = field(default_factory=lambda: defaultdict(list))
    seconds: list[float] = field(default_factory=list)
    refused: int = 0
    wrong: list[str] = field(default_factory=list)
    lock: threading.Lock = field(default_factory=threading.Lock)

    def told(self) -> int:
        """How many edits were acknowledged."""
        with self.lock:
            return sum(map(len, self.acknowledged.values()))


class Colleague:
    """One of those at work: draws, paints, drags, types, undoes, takes pictures, by lot."""

    def __init__(self, url: str, project: str, ids: dict[str, str], seed: int, said: Said) -> None:
        self.url, self.ids, self.said = f"{url}/api/projects/{project}", ids, said
        self.chance = random.Random(seed)
        self.seen: dict[str, int] = {}
        self.works = [
            self.draw,
            self.draw,
            self.paint,
            self.drag,
            self.drag,
            self.type,
            self.undo,
            self.redo,
            self.look,
            self.take,
        ]

    def once(self) -> None:
        """Do something."""
        self.chance.choice(self.works)()

    def until(self, over: threading.Event) -> None:
        """Go on until told or until the server is gone; what was not acknowledged by then may be there or not."""
        with contextlib.suppress(*GONE):
            while not over.is_set():
                self.once()

    def draw(self) -> None:
        self._strokes("strokes", "rough")

    def paint(self) -> None:
        self._strokes("paint", "tone")

    def drag(self) -> None:
        step = {
            "kind": "placed",
            "how": "move",
            "points": [self.chance.randrange(20)],
            "values": [self.chance.uniform(-1, 1) for _ in range(3)],
        }
        self._edit("form", "edits", {"edit": {"kind": "shape", "part": "b", "step": step}})

    def type(self) -> None:
        number = self.chance.uniform(-2, 2)
        lamp = self.chance.choice(("key", "fill", "back"))
        self._edit("studio", "amendments", {"amend": {"kind": "lamp", "id": lamp, "fields": {"power": number}}})

    def undo(self) -> None:
        self._edit(self.chance.choice(("sheet", "form", "studio")), "undo", None)

    def redo(self) -> None:
        self._edit(self.chance.choice(("sheet", "form", "studio")), "redo", None)

    def look(self) -> None:
        self._ask(f"sheets/{self.ids['sheet']}/tiles?since={self.seen.get('sheet', 0)}")
        self._ask(f"forms/{self.ids['form']}/size")

    def take(self) -> None:
        if self.chance.random() < 0.15:
            self._ask(f"studios/{self.ids['studio']}/takes", {"shot": "hero", "quality": "draft"})

    def _strokes(self, where: str, layer: str) -> None:
        t = np.linspace(0, 1, 12)
        x, y = self.chance.uniform(40, 500), self.chance.uniform(40, 300)
        line = np.stack([x + 90 * t, y + 40 * np.sin(4 * t + x), 0.3 + 0.5 * t, 0 * t], axis=1).astype("<f4")
        query = urllib.parse.urlencode({"layer": layer, "nib": self.chance.choice(("pencil", "marker")), "size": 9})
        self._told(
            "sheet", self._ask(f"sheets/{self.ids['sheet']}/{where}?{query}", line.tobytes(), self.seen.get("sheet"))
        )

    def _edit(self, kind: str, what: str, body: Any) -> None:
        self._told(
            kind,
            self._ask(f"documents/{self.ids[kind]}/{what}", body or {}, self.seen.get(kind)),
            what in ("edits", "amendments"),
        )

    def _told(self, kind: str, answer: Any, edited: bool = True) -> None:
        if answer is None:
            return
        head = answer["standing"]["head"]
        self.seen[kind] = head or 0
        if edited:
            with self.said.lock:
                self.said.acknowledged[self.ids[kind]].append(head)

    def _ask(self, path: str, body: Any = None, seen: int | None = None) -> Any:
        """What the server answered; None where it refused with a sentence."""
        headers = {} if seen is None else {"X-Seen": str(seen)}
        data = body if isinstance(body, bytes) or body is None else json.dumps(body).encode()
        if data is not None and not isinstance(body, bytes):
            headers["Content-Type"] = "application/json"
        began = time.perf_counter()
        try:
            with urllib.request.urlopen(
                urllib.request.Request(f"{self.url}/{path}", data, headers), timeout=60
            ) as answer:
                found = answer.read()
        except urllib.error.HTTPError as error:
            said = json.load(error)
            with self.said.lock:
                if error.code >= 500:
                    self.said.wrong.append(f"{error.code} {path}: {said}")
                self.said.refused += 1
            return None
        with self.said.lock:
            self.said.seconds.append(time.perf_counter() - began)
        if answer.headers["Content-Type"].startswith("application/vnd"):
            return json.loads(found[4 : 4 + int.from_bytes(found[:4], "little")])["meta"]
        return json.loads(found)


class Mortal:
    """A server that is killed and comes up again, on the same data and port (`tests/bare_server.py`)."""

    def __init__(self, data: Path) -> None:
        port = free_port()
        self.url = f"http://127.0.0.1:{port}"
        command = [sys.executable, "-m", "tests.bare_server", str(data), str(port)]
        self._nursery = subprocess.Popen(command, stdout=subprocess.PIPE)
        self._up()

    def kill(self) -> None:
        """Kill the server in the middle of whatever it does; returns when the next one answers."""
        os.kill(self._server, signal.SIGKILL)
        self._up()

    def stop(self) -> None:
        """End it for good."""
        self._nursery.terminate()
        self._nursery.wait()

    def _up(self) -> None:
        assert self._nursery.stdout is not None
        self._server = int(self._nursery.stdout.readline())
        answers(self.url, self._nursery)


def killed_at_any_moment(data: Path, rounds: int, clients: int, seed: int) -> tuple[str, Said]:
    """Work by several clients, the server killed under their hands again and again; their project and what they were told."""
    chance, said, server = random.Random(seed), Said(), Mortal(data)
    try:
        project, ids = begin(server.url)
        colleagues = [Colleague(server.url, project, ids, seed + 1 + k, said) for k in range(clients)]
        for _ in range(rounds):
            over, enough = threading.Event(), said.told() + chance.randrange(12)
            threads = [threading.Thread(target=one.until, args=(over,), daemon=True) for one in colleagues]
            for thread in threads:
                thread.start()
            while said.told() < enough:
                over.wait(0.005)
            over.wait(chance.uniform(0, 0.1))
            server.kill()
            over.set()
            for thread in threads:
                thread.join(60)
            assert not any(thread.is_alive() for thread in threads)
    finally:
        server.stop()
    return project, said


def begin(url: str) -> tuple[str, dict[str, str]]:
    """A project with a tone layer, a body and a shot; returns its id and those of its documents by kind."""

    def ask(path: str, body: Any) -> Any:
        request = urllib.request.Request(
            f"{url}/api/{path}", json.dumps(body).encode(), {"Content-Type": "application/json"}
        )
        with urllib.request.urlopen(request, timeout=60) as answer:
            return json.load(answer)

    state = ask("projects", {"name": "Together"})
    project, ids = state["project"]["id"], {d["kind"]: d["id"] for d in state["documents"]}

    def edit(document: str, **body: Any) -> int:
        return int(ask(f"projects/{project}/documents/{ids[document]}/edits", {"edit": body})["standing"]["head"])

    edit("sheet", kind="set_page", width=640, height=400)
    edit("sheet", kind="add_layer", id="tone", name="Tone", holds="tone")
    box = {"kind": "box", "size": [60, 30, 90], "divisions": [3, 2, 4]}
    head = edit("form", kind="start_part", part="b", name="Body", start=box)
    edit("studio", kind="keep_shot", id="hero", name="Hero", width=48, height=32, form=ids["form"], form_edit=head)
    return project, ids


def check(data: Path, project_id: str, said: Said) -> None:
    """Everything acknowledged is there, in order, and what is there replays to the same bytes and pixels."""
    assert said.wrong == []
    library = Library(data)
    try:
        project = library.get(project_id)
        assert project.database.rows("pragma integrity_check")[0][0] == "ok"
        assert lost(project, said) == set()
        for ident, heads in said.acknowledged.items():
            lines = {line.id: line for line in project.ledger.lines(ident)}
            assert len(set(heads)) == len(heads), "two edits were told to be one"
            for line in lines.values():
                assert line.parent is None or lines[line.parent].depth == line.depth - 1
        _replayed(project)
    finally:
        library.close()


def lost(project: Project, said: Said) -> set[tuple[str, int]]:
    """Edits that were acknowledged and are not there: document and number."""
    return {
        (ident, head)
        for ident, heads in said.acknowledged.items()
        for head in set(heads) - {line.id for line in project.ledger.lines(ident)}
    }


def _replayed(project: Project) -> None:
    """From the first edit on, and from snapshots, every document comes out the same; so do its pixels."""
    for row in project.ledger.rows():
        kept = project.ledger.state(row.id)
        project.ledger.states.settle()
        with project.database.write() as connection:
            connection.execute("delete from snapshot")
        anew = Ledger(project.database)
        assert anew.state(row.id).model_dump_json() == kept.model_dump_json()
        anew.close()
        if isinstance(kept, Sheet):
            raster = SheetRaster(lambda sha: load_asset(project.database, sha)[0])
            raster.update(kept)
            for layer in kept.layers:
                assert raster.layer_pixels(layer.id, (0, 0, kept.width, kept.height)).shape == (
                    kept.height,
                    kept.width,
                    4,
                )
