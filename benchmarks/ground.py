"""What the ground carries: several at once, a long past, many parts, memory, and a server that is killed."""

from __future__ import annotations

import itertools
import statistics
import sys
import tempfile
import threading
import time
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import numpy as np
import psutil

from benchmarks.measure import Result, within
from hollow_marble.store.library import Library

sys.path.insert(0, str(Path(__file__).parents[1]))
MINUTE = 60.0
KILLED = 200


def together() -> Iterator[Result]:
    """Eight clients draw, paint, drag, type, undo and take pictures on one project for a minute, over HTTP."""
    from tests.conftest import start_server
    from tests.together import Colleague, Said, begin, check

    with tempfile.TemporaryDirectory() as folder:
        running, said = start_server(Path(folder)), Said()
        try:
            project, ids = begin(running.url)
            began = time.monotonic()

            def work(colleague: Colleague) -> None:
                while time.monotonic() < began + MINUTE:
                    colleague.once()

            colleagues = [Colleague(running.url, project, ids, seed, said) for seed in range(8)]
            threads = [threading.Thread(target=work, args=(one,), daemon=True) for one in colleagues]
            for thread in threads:
                thread.start()
            for thread in threads:
                thread.join()
            took = time.monotonic() - began
        finally:
            running.process.terminate()
            running.process.wait()
        check(Path(folder), project, said)
        yield within("eight at once: ms an edit acknowledged", "ms", took * 1000 / said.told(), 100.0)
        yield within("eight at once: an answer, p95", "ms", float(np.percentile(said.seconds, 95)) * 1000, 1000.0)
        yield within("eight at once: errors", "errors", float(len(said.wrong)), 0.0)


def faults() -> Iterator[Result]:
    """The server killed at 200 moments under eight clients; nothing acknowledged may be gone."""
    from tests.together import check, killed_at_any_moment, lost

    with tempfile.TemporaryDirectory() as folder:
        ident, said = killed_at_any_moment(Path(folder), KILLED, 8, 200)
        library = Library(Path(folder))
        gone = len(lost(library.get(ident), said))
        library.close()
        yield within(f"killed {KILLED} times, {said.told()} edits acknowledged: lost", "edits", float(gone), 0.0)
        if not gone:
            check(Path(folder), ident, said)


def past() -> Iterator[Result]:
    """What an edit, an undo and opening cost in a ledger of 10,000 edits beside one of 100."""
    from hollow_marble.web.app import create_app

    with tempfile.TemporaryDirectory() as folder:
        app = create_app(Path(folder), work=False)
        http = app.test_client()
        short, long = (_studio(http, count) for count in (100, 10_000))
        for what, work in (("an edit", _typed), ("undo and redo", _undone)):
            yield _beside(f"{what}, 10,000 edits against 100", work(http, long), work(http, short), 1.1)
        app.extensions["hollow_marble"].close()
        yield _beside(
            "opening the document, 10,000 edits against 100", _opened(folder, long), _opened(folder, short), 1.1
        )


STROKES = 10_000


def growth() -> Iterator[Result]:
    """A sheet of 10,000 strokes: what its snapshots weigh in the file, and what moving a guide costs beside a sheet of 100."""
    from hollow_marble.web.app import create_app

    with tempfile.TemporaryDirectory() as folder:
        app = create_app(Path(folder), work=False)
        http = app.test_client()
        workspace = app.extensions["hollow_marble"].application.workspace
        short, long = (_drawn(http, count) for count in (100, STROKES))
        yield _beside("a guide moved on a sheet of 10,000 strokes", _guided(http, long), _guided(http, short), 1.1)
        project = workspace.project(long[0].rsplit("/", 1)[1])
        project.ledger.states.settle()
        weigh = "select coalesce(sum(length(body)), 0) from snapshot"
        held = project.database.rows(weigh)[0][0] / 1e6
        yield within(f"snapshots of {STROKES:,} strokes", "MB", held, 25.0)
        app.extensions["hollow_marble"].close()


def _drawn(http: Any, strokes: int) -> Place:
    place = _begun(http, "sheet", f"Drawn {strokes}")
    chance = np.random.default_rng(1)
    along = np.linspace(0, 1, 24)
    query = {"layer": "rough", "nib": "pencil", "size": 4, "tone": 0.8, "colour": "#20282b"}
    for _ in range(strokes):
        x, y = chance.uniform((50, 50), (2300, 1500))
        line = np.stack([x + along * 60, y + 20 * np.sin(3 * along), 0.6 + 0 * along, 0 * along], axis=1)
        url = f"{place[0]}/sheets/{place[1]}/strokes"
        answer = http.post(url, data=line.astype("<f4").tobytes(), query_string=query)
        assert answer.status_code == 200, answer.get_data(as_text=True)
    return place


def _guided(http: Any, place: Place) -> Callable[[], object]:
    ends = itertools.count(100)

    def work() -> None:
        guide = {"kind": "straightedge", "id": "g", "start": [20, 20], "end": [next(ends), 60]}
        _post(http, f"{place[0]}/documents/{place[1]}/edits", {"edit": {"kind": "put_guide", "guide": guide}})

    return work


def parts() -> Iterator[Result]:
    """One point moved and its skin fetched, in a form of 40 parts beside a form of 1."""
    from hollow_marble.web.app import create_app

    with tempfile.TemporaryDirectory() as folder:
        app = create_app(Path(folder), work=False)
        http = app.test_client()
        many, one = (_form(http, count) for count in (40, 1))
        yield _beside("one point moved, 40 parts against 1", _moved(http, many), _moved(http, one), 1.2)
        app.extensions["hollow_marble"].close()


def memory() -> Iterator[Result]:
    """What a server holds after 500 edits with their skins beside what it holds after 50."""
    from hollow_marble.web.app import create_app

    with tempfile.TemporaryDirectory() as folder:
        app = create_app(Path(folder), work=False)
        http = app.test_client()
        move = _moved(http, _form(http, 1))
        held = psutil.Process()
        for _ in range(50):
            move()
        early = held.memory_info().rss
        for _ in range(500):
            move()
        grown = (held.memory_info().rss - early) / 2**20
        yield within("memory after 500 more edits and skins", "MB", grown, 200.0)
        app.extensions["hollow_marble"].close()


def _beside(name: str, ours: Callable[[], object], peer: Callable[[], object], most: float) -> Result:
    """Two of the same, taken by turns, each first in every other, so that a busy machine is busy for both; medians of 100."""
    taken: tuple[list[float], list[float]] = ([], [])
    for turn in range(120):
        pairs = list(zip((ours, peer), taken, strict=True))
        for work, times in pairs if turn % 2 else reversed(pairs):
            began = time.perf_counter()
            work()
            if turn >= 20:
                times.append((time.perf_counter() - began) * 1000)
    a, b = (statistics.median(times) for times in taken)
    return Result(name, "ms", a, b, "the short one", f"at most {most:g} times", a <= most * b)


def _post(http: Any, url: str, body: Any = None) -> Any:
    answer = http.post(url, json=body or {})
    assert answer.status_code in (200, 201), answer.get_data(as_text=True)
    return answer.get_json()


def _begun(http: Any, kind: str, name: str) -> tuple[str, str]:
    state = _post(http, "/api/projects", {"name": name})
    ident = next(d["id"] for d in state["documents"] if d["kind"] == kind)
    return f"/api/projects/{state['project']['id']}", ident


Place = tuple[str, str]


def _studio(http: Any, edits: int) -> Place:
    place = _begun(http, "studio", f"Past {edits}")
    work = _typed(http, place)
    for _ in range(edits):
        work()
    return place


def _typed(http: Any, place: Place) -> Callable[[], object]:
    base, studio = place
    powers = iter(range(10**9))

    def work() -> None:
        amend = {"kind": "lamp", "id": "key", "fields": {"power": 0.5 + next(powers) % 200 / 100}}
        _post(http, f"{base}/documents/{studio}/amendments", {"amend": amend})

    return work


def _undone(http: Any, place: Place) -> Callable[[], object]:
    base, studio = place

    def work() -> None:
        _post(http, f"{base}/documents/{studio}/undo")
        _post(http, f"{base}/documents/{studio}/redo")

    return work


def _opened(folder: str, place: Place) -> Callable[[], object]:
    def work() -> None:
        library = Library(Path(folder))
        library.get(place[0].rsplit("/", 1)[-1]).ledger.state(place[1])
        library.close()

    return work


def _form(http: Any, parts: int) -> Place:
    place = _begun(http, "form", f"Parts {parts}")
    box = {"kind": "box", "size": [60, 30, 90], "divisions": [6, 4, 8]}
    for number in range(parts):
        edit = {"kind": "start_part", "part": f"p{number}", "name": f"Part {number}", "start": box}
        _post(http, f"{place[0]}/documents/{place[1]}/edits", {"edit": edit})
    return place


def _moved(http: Any, place: Place) -> Callable[[], object]:
    base, form = place
    turns = iter(range(10**9))

    def work() -> None:
        turn = next(turns)
        values = [0.3 if turn % 2 else -0.3, 0, 0]
        step = {"kind": "placed", "how": "move", "points": [turn % 40], "values": values}
        _post(http, f"{base}/documents/{form}/edits", {"edit": {"kind": "shape", "part": "p0", "step": step}})
        assert http.get(f"{base}/forms/{form}/parts/p0/mesh").status_code == 200

    return work
