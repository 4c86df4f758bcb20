"""Speed as it is felt: from a key or a touch to the frame that shows it, from stage to stage, from the shelf into a project, at first."""

from __future__ import annotations

import statistics
from collections.abc import Iterator
from typing import Any

from benchmarks.hand import Page, _demo, opened
from benchmarks.measure import Result, within

# An answer is on the screen once the frame after the one that began with it has been handed over: a message posted from a frame's
# callback is taken up after that frame was drawn.
_TIMED = """() => {
  window.felt = [];
  const painted = (then) => requestAnimationFrame(() => {
    const { port1, port2 } = new MessageChannel();
    port1.onmessage = () => then(performance.now());
    port2.postMessage(0);
  });
  for (const kind of ["keydown", "pointerdown"])
    window.addEventListener(kind, (event) => painted((at) => window.felt.push(at - event.timeStamp)), true);
}"""

# until what is looked for is there and was drawn
_UNTIL = """([press, wanted]) => new Promise((done) => {
  const began = performance.now();
  document.querySelector(press).click();
  const look = () => document.querySelector(wanted)
    ? requestAnimationFrame(() => done(performance.now() - began))
    : requestAnimationFrame(look);
  look();
})"""

STAGES = {
    "Sketch": "[data-testid=paper]",
    "Form": "[data-testid=view3d][aria-label=Form]",
    "Surface": "[data-testid=view3d][aria-label=Surface]",
    "Studio": "[data-testid=picture]",
}
KEYS = {
    "Sketch": ["y", "m", "s", "x", "e", "g", "o", "p", "a", "b", "k", "t", "d", "j", "f"],
    "Form": ["p", "g", "f", "m", "t", "z", "h", "q", "c"],
    "Studio": ["a", "c", "w", "g"],
}
TIMES = 3


def _linnet(page: Page) -> str:
    projects = page.bench.get("/api/projects")["projects"]
    return str(next(entry["id"] for entry in projects if entry["name"] == "Linnet"))


def _settle(page: Any) -> None:
    page.wait_for_timeout(500)


def felt() -> Iterator[Result]:
    """Keys, touches and stages on the demo's Linnet, its project from the shelf, its script from nothing; drawing in 3D apart."""
    with opened(_demo) as made:
        page, project = made.page, _linnet(made)
        script = 0

        def count(answer: Any) -> None:
            nonlocal script
            if answer.request.resource_type == "script":
                script += int(answer.header_value("content-length") or 0)

        page.on("response", count)
        page.goto(f"{made.bench.server.url}/{project}/sketch")
        page.get_by_test_id("paper").wait_for()
        first = script
        page.remove_listener("response", count)
        yield within("compressed script before Sketch is usable", "kB", first / 1e3, 1000.0)
        _settle(page)
        page.evaluate(_TIMED)
        for stage, keys in KEYS.items():
            page.get_by_role("navigation", name="Stages").get_by_role("button", name=stage).click()
            page.wait_for_selector(STAGES[stage])
            _settle(page)
            page.evaluate("() => { window.felt = [] }")
            for key in keys * TIMES:
                page.keyboard.press(key)
                made.bench.settled()
            taken = sorted(page.evaluate("() => window.felt"))
            yield within(f"a key in {stage}, 95 in 100", "ms", taken[int(0.95 * (len(taken) - 1))], 50.0)
            page.keyboard.press("Escape")
        changes = []
        for _ in range(TIMES):
            for stage, wanted in STAGES.items():
                press = f"nav[aria-label=Stages] button:nth-child({list(STAGES).index(stage) + 1})"
                changes.append(page.evaluate(_UNTIL, [press, wanted]))
                _settle(page)
        # the first round fetches what is shown for the first time
        warm = sorted(changes[len(STAGES) :])
        yield within("another stage, warm, median", "ms", statistics.median(warm), 300.0)
        yield within("another stage, warm, the slowest", "ms", warm[-1], 300.0)
        page.get_by_role("navigation", name="Stages").get_by_role("button", name="Sketch").click()
        opens = []
        for name in ("Brindle", "Linnet") * TIMES:
            page.get_by_title("Projects").click()
            page.get_by_role("button", name=f"Open {name}").wait_for()
            _settle(page)
            page.evaluate("() => document.querySelector('[data-testid=paper]').dataset.testid = 'before'")
            opens.append(page.evaluate(_UNTIL, [f"button[aria-label='Open {name}']", "[data-testid=paper]"]))
            _settle(page)
        yield within("a project from the shelf to its sheet, median", "ms", statistics.median(opens), 1000.0)
