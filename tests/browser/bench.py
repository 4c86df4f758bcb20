"""A designer's hands at the bench, for browser tests."""

from __future__ import annotations

import io
import json
import re
import urllib.request
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
from PIL import Image
from playwright.sync_api import CDPSession, Page, expect

from tests.conftest import Server

expect.set_options(timeout=60_000)  # software drawing on a shared machine is slow, never wrong


AXE = Path(__file__).parents[2] / "frontend" / "node_modules" / "axe-core" / "axe.min.js"
RULES = "['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']"


class Bench:
    """A page on a server, with a pen, a mouse and a keyboard. Errors in the page's console are kept.

    Unless it is `sharp`, a px of the page is half a px of the screen: 3D is drawn in software, and that takes a quarter of the time.
    """

    def __init__(
        self, browser: Any, server: Server, size: tuple[int, int] | None = (1280, 800), sharp: bool = False
    ) -> None:
        self.server = server
        # a context that was made for something, as for fingers, has a size of its own
        given: dict[str, Any] = {}
        if size:
            given = {"viewport": {"width": size[0], "height": size[1]}, "accept_downloads": True}
            given["device_scale_factor"] = 1 if sharp else 0.5
        self.page: Page = browser.new_page(**given)
        self.page.set_default_timeout(60_000)
        self.errors: list[str] = []
        self.page.on("pageerror", lambda error: self.errors.append(str(error)))
        self._pen: CDPSession = self.page.context.new_cdp_session(self.page)

    def open(self) -> None:
        self.page.goto(self.server.url)

    def begin(self, name: str) -> str:
        """Begin a project, open it, and return its id."""
        made = self.post("/api/projects", {"name": name})
        ident = str(made["project"]["id"])
        self.page.goto(f"{self.server.url}/{ident}/sketch")
        expect(self.page.locator("h1")).to_have_text(name)
        expect(self.page.get_by_role("navigation", name="Tools")).to_be_visible()
        expect(self.page.get_by_test_id("paper")).to_be_visible()
        return ident

    def command(self, name: str) -> None:
        """Run a command through the command box."""
        self.page.keyboard.press("Control+k")
        self.page.get_by_label("Find a command").fill(name)
        self.page.get_by_label("Find a command").press("Enter")

    def stage(self, name: str) -> None:
        self.page.get_by_role("navigation", name="Stages").get_by_role("button", name=name).click()
        expect(self.page.get_by_role("navigation", name="Tools")).to_be_visible()

    def tool(self, name: str) -> None:
        """Take up a tool by its word: through its group, and behind the fold where it is not among what can act."""
        tools = self.page.get_by_role("navigation", name="Tools")
        word = tools.get_by_role("button", name=name, exact=True)
        groups = tools.get_by_role("group", name="Groups of tools").get_by_role("button")
        for k in range(groups.count()):
            if word.count():
                break
            groups.nth(k).click()
            fold = tools.get_by_role("button", name=re.compile(r"^\d+ more"))
            if not word.count() and fold.count():
                fold.click()
        word.first.click()

    def pen(self, points: list[tuple[float, float, float]], tilt: int = 0) -> None:
        """Draw with a pen: places on the screen and pressure, as trusted events; tilt in degrees."""
        x, y, force = points[0]
        base = {"button": "left", "pointerType": "pen", "tiltX": tilt}
        self._pen.send("Input.dispatchMouseEvent", {"type": "mouseMoved", "x": x, "y": y, "pointerType": "pen"})
        self._pen.send(
            "Input.dispatchMouseEvent",
            {"type": "mousePressed", "x": x, "y": y, "force": force, "clickCount": 1, **base},
        )
        for x, y, force in points[1:]:
            self._pen.send(
                "Input.dispatchMouseEvent", {"type": "mouseMoved", "x": x, "y": y, "force": force, "buttons": 1, **base}
            )
        self._pen.send("Input.dispatchMouseEvent", {"type": "mouseReleased", "x": x, "y": y, "clickCount": 1, **base})

    def ring(self, middle: tuple[float, float], across: float, down: float, steps: int = 40) -> None:
        """Draw a closed line with the pen."""
        turn = np.linspace(0, 2 * np.pi, steps)
        self.pen(
            [
                (
                    middle[0] + across * float(np.cos(a)),
                    middle[1] + down * float(np.sin(a)),
                    0.4 + 0.4 * float(np.sin(a / 2)),
                )
                for a in turn
            ]
        )

    def drag(
        self, start: tuple[float, float], end: tuple[float, float], keys: str | None = None, steps: int = 8
    ) -> None:
        """Drag with the mouse."""
        if keys:
            self.page.keyboard.down(keys)
        self.page.mouse.move(*start)
        self.page.mouse.down()
        self.page.mouse.move(*end, steps=steps)
        self.page.mouse.up()
        if keys:
            self.page.keyboard.up(keys)

    def sentence(self, text: str) -> None:
        """Wait until the ledger's last line contains a text."""
        expect(self.page.get_by_test_id("sentence")).to_contain_text(text)

    def until(self, holds: Callable[[], bool], what: str) -> None:
        """Wait until something that is read off the screen holds."""
        for _ in range(240):
            if holds():
                return
            self.page.wait_for_timeout(250)
        raise AssertionError(f"it never came about that {what}")

    def between(self, requests: str | re.Pattern[str], stands: Callable[[Any], Any]) -> None:
        """Stand between page and server for such requests, from now on.

        Chromium says that it does before the page has heard of it: a request made at once can still slip through. So a
        request that only we answer is made until it is.
        """
        self.page.route(requests, stands)
        self.page.route("**/only-we-answer", lambda route: route.fulfill(status=204))
        self.until(
            lambda: self.page.evaluate("() => fetch('/api/only-we-answer').then(({ status }) => status)") == 204,
            "requests come by us",
        )

    def middle(self, test_id: str) -> tuple[float, float]:
        box = self.page.get_by_test_id(test_id).bounding_box()
        assert box is not None
        return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2

    def settled(self) -> None:
        """Wait until what was done has been drawn."""
        self.page.wait_for_function(
            "() => new Promise(done => requestAnimationFrame(() => requestAnimationFrame(done)))"
        )

    def shot(self, test_id: str) -> np.ndarray:
        """What a part of the screen shows, (h, w, 3) float; of the sheet its canvas without knobs and words."""
        place = self.page.get_by_test_id(test_id)
        data = (place.locator("canvas") if test_id == "paper" else place).screenshot(scale="css")
        return np.asarray(Image.open(io.BytesIO(data)).convert("RGB")).astype(float)

    def violations(self) -> Any:
        """WCAG 2.2 AA rules that axe-core can decide; contrast over canvases is checked by the tokens' numbers."""
        self.settled()
        if not self.page.evaluate("() => !!window.axe"):
            self.page.evaluate(f"{AXE.read_text()}; 0")  # a script in the page itself is refused by its policy
        return self.page.evaluate(
            f"() => axe.run(document, {{runOnly: {RULES}, resultTypes: ['violations'], iframes: false}}).then(r => r.violations.map(v => [v.id, v.nodes.slice(0, 3).map(n => n.html.slice(0, 200))]))"
        )

    def sheet_page(self, project: str) -> np.ndarray:
        """The server's page of the project's first sheet, (h, w, 3) float."""
        data = self.bytes(f"/api/projects/{project}/sheets/{self.document(project, 'sheet')}/page.png")
        return np.asarray(Image.open(io.BytesIO(data))).astype(float)

    def get(self, path: str) -> Any:
        """Ask the server directly."""
        with urllib.request.urlopen(self.server.url + path) as answer:
            return json.load(answer)

    def post(self, path: str, body: Any) -> Any:
        """Tell the server directly."""
        request = urllib.request.Request(
            self.server.url + path, json.dumps(body).encode(), {"Content-Type": "application/json"}
        )
        with urllib.request.urlopen(request) as answer:
            return json.load(answer)

    def bytes(self, path: str) -> bytes:
        with urllib.request.urlopen(self.server.url + path) as answer:
            body: bytes = answer.read()
            return body

    def taken(self, project: str) -> Image.Image:
        """The first take of a project, as soon as it is put away: that is after its last sample is told."""
        asked = f"/api/projects/{project}/takes"
        self.until(lambda: [take["state"] for take in self.get(asked)["takes"][:1]] == ["done"], "the take is there")
        take = self.get(asked)["takes"][0]
        return Image.open(io.BytesIO(self.bytes(f"/api/projects/{project}/assets/{take['picture']}")))

    def document(self, project: str, kind: str) -> str:
        documents = self.get(f"/api/projects/{project}")["documents"]
        return str(next(d["id"] for d in documents if d["kind"] == kind))

    def close(self) -> None:
        assert self.errors == []
        self.page.close()


class Desk:
    """A sheet on the screen: page px to screen px, and what the server knows of it."""

    def __init__(self, bench: Bench, name: str) -> None:
        self.bench = bench
        self.project = bench.begin(name)
        self.sheet = bench.document(self.project, "sheet")
        box = bench.page.get_by_test_id("paper").bounding_box()
        assert box is not None
        self.scale = min((box["width"] - 48) / 2400, (box["height"] - 48) / 1600)
        self.left = box["x"] + (box["width"] - 2400 * self.scale) / 2
        self.top = box["y"] + (box["height"] - 1600 * self.scale) / 2

    def at(self, x: float, y: float) -> tuple[float, float]:
        return self.left + x * self.scale, self.top + y * self.scale

    @property
    def body(self) -> Any:
        return self.bench.get(f"/api/projects/{self.project}/sheets/{self.sheet}")["body"]

    def edits(self, count: int) -> None:
        url = f"/api/projects/{self.project}/sheets/{self.sheet}"
        self.bench.until(lambda: self.bench.get(url)["standing"]["edits"] == count, f"there are {count} edits")

    def grab(self, label: str, dx: float, dy: float) -> None:
        knob = self.bench.page.get_by_label(label, exact=True).bounding_box()
        assert knob is not None
        x, y = knob["x"] + knob["width"] / 2, knob["y"] + knob["height"] / 2
        self.bench.drag((x, y), (x + dx, y + dy))

    @property
    def page(self) -> np.ndarray:
        return self.bench.sheet_page(self.project)

    def line(self, start: tuple[float, float], end: tuple[float, float]) -> None:
        t = np.linspace(0, 1, 24)
        run = [self.at(*(np.array(start) + k * (np.array(end) - start))) for k in t]
        self.bench.pen([(x, y, 0.8) for x, y in run])
