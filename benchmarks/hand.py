"""What a movement of the hand costs in the page: script a pointer move, drawing apart; bytes; what is held after many edits."""

from __future__ import annotations

import json
import subprocess
import sys
import tempfile
import urllib.request
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import numpy as np

from benchmarks.measure import Result, within

ROOT = Path(__file__).parents[1]
sys.path.insert(0, str(ROOT))

MOVES = 60
# drawing is done by software here and by a graphics card elsewhere: it is left out of what is measured
_NOTHING_DRAWN = """for (const made of [WebGL2RenderingContext, WebGLRenderingContext])
  for (const name of ['drawElements', 'drawArrays', 'drawElementsInstanced', 'drawArraysInstanced', 'drawRangeElements'])
    if (made.prototype[name]) made.prototype[name] = () => undefined;
"""


class Page:
    """A page with a protocol session that tells how long its scripts ran."""

    def __init__(self, bench: Any) -> None:
        self.bench, self.page = bench, bench.page
        self.session = bench.page.context.new_cdp_session(bench.page)
        self.session.send("Performance.enable")

    def script(self) -> float:
        """Seconds scripts have run for so far."""
        found = self.session.send("Performance.getMetrics")["metrics"]
        return float(next(metric["value"] for metric in found if metric["name"] == "ScriptDuration"))

    def moves(self, places: list[tuple[float, float]]) -> list[float]:
        """Ms of script for each of a row of pointer moves, until the page has come to rest."""
        taken = []
        for x, y in places:
            before = self.script()
            self.page.mouse.move(x, y)
            self.bench.settled()
            taken.append((self.script() - before) * 1000)
        return taken


@contextmanager
def opened(prepare: Callable[[Path], None] | None = None, counted: bool = False) -> Iterator[Page]:
    """A page of 1280 × 800 on a server of its own."""
    from playwright.sync_api import sync_playwright
    from tests.browser.bench import Bench
    from tests.conftest import CHROMIUM, FLAGS, running

    with tempfile.TemporaryDirectory() as folder:
        if prepare:
            prepare(Path(folder))
        with running(Path(folder)) as server, sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
            bench = Bench(browser, server)
            bench.page.add_init_script(_NOTHING_DRAWN + (_COUNT_CARD if counted else ""))
            yield Page(bench)
            browser.close()


def _form(page: Page, divisions: tuple[int, int, int]) -> str:
    bench = page.bench
    state = bench.post("/api/projects", {"name": "Hand"})
    project, form = state["project"]["id"], next(d["id"] for d in state["documents"] if d["kind"] == "form")
    start = {"kind": "box", "size": [62, 34, 108], "divisions": divisions}
    edit = {"kind": "start_part", "part": "b", "name": "Body", "start": start}
    bench.post(f"/api/projects/{project}/documents/{form}/edits", {"edit": edit})
    bench.page.goto(f"{bench.server.url}/?project={project}")
    bench.stage("Form")
    bench.page.locator("[data-testid=view3d][aria-busy=false]").wait_for()
    bench.page.get_by_text("Click points on the cage").wait_for()
    return str(project)


def _across(start: tuple[float, float], end: tuple[float, float], count: int) -> list[tuple[float, float]]:
    return [tuple(np.add(start, np.subtract(end, start) * t)) for t in np.linspace(0, 1, count)]


def _middle(page: Page, locator: Any) -> tuple[float, float]:
    box = locator.bounding_box()
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


def handle_and_orbit() -> Iterator[Result]:
    """Dragging the handle of a form of 514 faces, and turning the view of it."""
    with opened() as page:
        _form(page, (10, 7, 11))
        mouse, keys = page.page.mouse, page.page.keyboard
        keys.press("Control+a")
        knob = page.page.get_by_role("button", name="Move along H", exact=True).locator("circle").first
        x, y = _middle(page, knob)
        mouse.move(x, y)
        mouse.down()
        taken = page.moves(_across((x, y - 4), (x, y - 60), MOVES))
        mouse.up()
        yield within("handle drag, script a move, median", "ms", float(np.median(taken)), 8.0)
        keys.press("Escape")
        box = page.page.get_by_test_id("view3d").bounding_box()
        at = (box["x"] + 30, box["y"] + 40)
        mouse.move(*at)
        mouse.down()
        taken = page.moves(_across((at[0] + 8, at[1]), (at[0] + 200, at[1] + 60), MOVES))
        mouse.up()
        yield within("orbit, script a move, median", "ms", float(np.median(taken)), 4.0)


def many_faces() -> Iterator[Result]:
    """Pointing at a form of 20,000 faces, and picking all of it."""
    side = 142
    rows = [f"v {x * 0.7 - 50} {np.sin(x / 9) * 8} {z * 0.7}" for z in range(side) for x in range(side)]
    faces = [
        (z * side + x + 1, z * side + x + 2, (z + 1) * side + x + 2, (z + 1) * side + x + 1)
        for z in range(side - 1)
        for x in range(side - 1)
    ]
    sheet = "\n".join([*rows, *(f"f {a} {b} {c} {d}" for a, b, c, d in faces)])
    with opened() as page, tempfile.TemporaryDirectory() as folder:
        page.bench.begin("Many")
        page.bench.stage("Form")
        file = Path(folder) / "sheet.obj"
        file.write_text(sheet)
        page.page.get_by_label("Cage file").set_input_files(file)
        page.bench.sentence("Brought in the cage sheet")
        page.page.get_by_text("Click points on the cage").wait_for()
        page.bench.tool("Front")
        page.page.keyboard.press("f")
        x, y = page.bench.middle("view3d")
        page.moves(_across((x - 90, y - 90), (x - 60, y - 60), 10))
        taken = page.moves(_across((x - 100, y - 120), (x + 100, y + 120), MOVES))
        yield within("hover, script a move, p95", "ms", float(np.percentile(taken, 95)), 8.0)
        before = page.script()
        page.page.keyboard.press("Control+a")
        page.bench.settled()
        yield within("picking all", "ms", (page.script() - before) * 1000, 100.0)


def _demo(folder: Path) -> None:
    from hollow_marble.demo.build import build_demo
    from hollow_marble.store.library import Library

    library = Library(folder)
    build_demo(library, lambda *_: None, None)
    library.close()


def _key_lamp(page: Page) -> tuple[float, float]:
    """Where the key lamp stands on the demo's plan, once the preview has its light."""
    page.bench.open()
    page.bench.stage("Studio")
    key = page.page.get_by_role("button", name="key lamp").first
    key.wait_for()
    page.page.wait_for_timeout(6000)
    return _middle(page, key.locator("circle"))


def lamps() -> Iterator[Result]:
    """Dragging a lamp on the plan with the demo's form in the preview."""

    with opened(_demo) as page:
        x, y = _key_lamp(page)
        asked: list[str] = []
        page.page.on("request", lambda request: asked.append(request.url))
        page.page.mouse.move(x, y)
        page.page.mouse.down()
        taken = page.moves(_across((x - 3, y - 2), (x - 60, y - 30), MOVES))
        page.page.mouse.up()
        yield within("lamp drag, script a move, median", "ms", float(np.median(taken)), 8.0)
        print(json.dumps({"requests in the lamp's moves": len(asked)}))


# every buffer and texture the page has made on the card and not let go
_COUNT_CARD = """window.card = { buffers: 0, textures: 0 };
for (const [name, what] of [['Buffer', 'buffers'], ['Texture', 'textures']]) {
  const [make, drop] = [`create${name}`, `delete${name}`];
  const made = WebGL2RenderingContext.prototype[make], dropped = WebGL2RenderingContext.prototype[drop];
  WebGL2RenderingContext.prototype[make] = function () { window.card[what] += 1; return made.call(this); };
  WebGL2RenderingContext.prototype[drop] = function (it) { if (it) window.card[what] -= 1; return dropped.call(this, it); };
}"""


def held(page: Page) -> dict[str, float]:
    """What the page holds once what can be let go is: MB of script objects, buffers and textures on the card."""
    for _ in range(3):
        page.session.send("HeapProfiler.collectGarbage")
        page.page.wait_for_timeout(100)
    heap = page.session.send("Runtime.getHeapUsage")["usedSize"] / 2**20
    return {"heap": heap, **page.page.evaluate("window.card ?? {buffers: 0, textures: 0}")}


def memory_form() -> Iterator[Result]:
    """500 edits of a form, half of them undone again: what is held after them beside what was held after the first 100, when the
    scripts that run often have been compiled."""
    with opened(counted=True) as page:
        _form(page, (10, 7, 11))
        keys = page.page.keyboard
        keys.press("Control+a")
        footer = page.page.locator("footer")

        def edits(there: int, back: int) -> None:
            begun = 1
            for number in range(there):
                keys.press("ArrowUp")
                footer.get_by_text(f"{begun + number + 1} edits", exact=True).wait_for()
            for number in range(back):
                keys.press("Control+z")
                left = begun + there - number - 1
                footer.get_by_text(f"{left} edits" if left != 1 else "1 edit", exact=True).wait_for()

        edits(50, 50)
        page.page.wait_for_timeout(3000)
        before = held(page)
        for _ in range(10):
            edits(25, 25)
        page.page.wait_for_timeout(3000)
        yield from _grown("form, 500 edits", before, held(page))


def memory_studio() -> Iterator[Result]:
    """500 moves of a lamp, beside what was held after the first 100."""
    with opened(_demo, counted=True) as page:
        x, y = _key_lamp(page)
        page.page.mouse.move(x, y)
        page.page.mouse.down()

        def moves(count: int) -> None:
            for k in range(count):
                page.page.mouse.move(x - 20 - 15 * np.sin(k / 7), y - 10 - 9 * np.cos(k / 9))
                page.bench.settled()

        moves(100)
        page.page.wait_for_timeout(3000)
        before = held(page)
        moves(500)
        page.page.mouse.up()
        page.page.wait_for_timeout(3000)
        yield from _grown("studio, 500 lamp moves", before, held(page))


def _grown(name: str, before: dict[str, float], after: dict[str, float]) -> Iterator[Result]:
    for what, unit in (("heap", "MB"), ("buffers", "buffers"), ("textures", "textures")):
        yield Result(
            f"{name}: {what}",
            unit,
            after[what],
            before[what],
            "before",
            "within 20 %",
            after[what] <= 1.2 * before[what],
        )


def bytes_over_the_wire() -> Iterator[Result]:
    """What comes over the wire: the demo's largest page, a line of 300 px on it, a release; and what packing costs and saves here."""
    with opened(_demo) as page:
        bench = page.bench
        projects = bench.get("/api/projects")["projects"]
        project = next(entry["id"] for entry in projects if entry["name"] == "Linnet")
        documents = bench.get(f"/api/projects/{project}")["documents"]
        sheets = [row["id"] for row in documents if row["kind"] == "sheet"]
        form = next(row["id"] for row in documents if row["kind"] == "form")
        bench.open()
        bench.page.get_by_test_id("paper").wait_for()
        base = f"/api/projects/{project}"
        opening = max(_sent(page, f"{base}/sheets/{sheet}/tiles") for sheet in sheets)
        yield within("opening a page of the demo", "MB", opening / 1e6, 2.0)
        samples = np.stack([np.linspace(900, 1200, 40), np.full(40, 800.0), np.full(40, 0.8), np.zeros(40)], axis=1)
        head = bench.get(f"{base}/sheets/{sheets[0]}")["standing"]["head"]
        line = f"{base}/sheets/{sheets[0]}/strokes?layer=rough&nib=pencil&size=6"
        yield within("a line of 300 px", "kB", _sent(page, line, samples.astype("<f4").tobytes(), head) / 1e3, 300.0)
        part = bench.get(f"{base}/forms/{form}")["body"]["parts"][0]["id"]
        step = {"kind": "placed", "how": "move", "points": list(range(50)), "values": [0, 0, 1], "seat": [0, 0, 0]}
        _sent(page, f"{base}/forms/{form}/parts/{part}/mesh")  # the skin that is dragged is there before
        shown = bench.page.evaluate(_PREVIEW, [f"{base}/forms/{form}/parts/{part}/preview", {"step": step}])
        bench.post(f"{base}/documents/{form}/edits", {"edit": {"kind": "shape", "part": part, "step": step}})
        after = _sent(page, f"{base}/forms/{form}/parts/{part}/mesh?have={shown}")
        yield within("the skin after a release that its last preview showed", "kB", after / 1e3, 5.0)
        address = f"{base}/sheets/{sheets[-1]}/tiles"
        packed = float(np.median(bench.page.evaluate(_FETCH, [address])))
        with _not_packing(bench.server.data) as url:
            bench.page.goto(url)
            bare = float(np.median(bench.page.evaluate(_FETCH, [address])))
        yield Result("a page's tiles, packed", "ms", packed, bare, "not packed", "no slower", packed <= 1.05 * bare)


@contextmanager
def _not_packing(data: Path) -> Iterator[str]:
    """A server beside the other one that sends everything as it is."""
    from tests.conftest import answers, free_port

    port = free_port()
    start = "from hollow_marble.web import app, server; app._PACKED['COMPRESS_ALGORITHM'] = []; "
    command = f"{start}server.serve(__import__('pathlib').Path({str(data)!r}), '127.0.0.1', {port})"
    process = subprocess.Popen([sys.executable, "-c", command])
    try:
        answers(f"http://127.0.0.1:{port}", process)
        yield f"http://127.0.0.1:{port}"
    finally:
        process.terminate()
        process.wait()


_PREVIEW = """async ([url, body]) => {
  const answer = await fetch(url, {method: 'POST', headers: {'Content-Type': 'application/json'}, body: JSON.stringify(body)});
  const buffer = await answer.arrayBuffer();
  const size = new DataView(buffer).getUint32(0, true);
  return JSON.parse(new TextDecoder().decode(new Uint8Array(buffer, 4, size))).meta.key;
}"""

_FETCH = """async ([url]) => {
  const times = [];
  for (let turn = 0; turn < 14; turn++) {
    const began = performance.now();
    await (await fetch(url)).arrayBuffer();
    if (turn >= 2) times.push(performance.now() - began);
  }
  return times;
}"""


def _sent(page: Page, path: str, body: bytes | None = None, head: int | None = None) -> int:
    """Bytes of an answer as they are sent to a browser that unpacks."""
    request = urllib.request.Request(page.bench.server.url + path, body, {"Accept-Encoding": "gzip, deflate, br, zstd"})
    if head is not None:
        request.add_header("X-Seen", str(head))
    with urllib.request.urlopen(request) as answer:
        return len(answer.read())
