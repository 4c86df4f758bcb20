"""The whole loop of a drag: pointer moves in headless Chromium until the new skin is handed to the view."""

from __future__ import annotations

import sys
import tempfile
import urllib.request
from collections.abc import Iterator
from pathlib import Path

import numpy as np

from benchmarks.measure import Result, within


def drag_loop() -> Iterator[Result]:
    """95th percentile from a pointer move to the skin's new arrays in the view, apart from drawing; 514 faces."""
    from playwright.sync_api import expect, sync_playwright

    root = Path(__file__).parents[1]
    sys.path.insert(0, str(root))
    from tests.browser.bench import Bench
    from tests.conftest import CHROMIUM, FLAGS, start_server

    with tempfile.TemporaryDirectory() as folder, sync_playwright() as playwright:
        running = start_server(Path(folder))
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        try:
            bench = Bench(browser, running)
            project = bench.begin("Loop")
            form = bench.document(project, "form")
            start = '{"kind":"box","size":[62,34,108],"divisions":[10,7,11]}'
            body = f'{{"edit":{{"kind":"start_part","part":"b","name":"Body","start":{start},"symmetry":{{"planes":["W"]}}}}}}'
            request = urllib.request.Request(
                f"{running.url}/api/projects/{project}/documents/{form}/edits",
                body.encode(),
                {"Content-Type": "application/json"},
            )
            urllib.request.urlopen(request).read()
            bench.stage("Review")  # nothing is drawn there: drawing is not what is measured
            expect(bench.page.get_by_role("navigation", name="Tools")).to_be_visible()
            bench.page.evaluate("() => new Promise(done => requestIdleCallback(done))")
            times = bench.page.evaluate(LOOP, [f"/api/projects/{project}/forms/{form}/parts/b/preview"])
            name = "drag loop, request to arrays in the view"
            yield within(f"{name}, median", "ms", float(np.median(times)), 25.0)
            yield within(f"{name}, p95", "ms", float(np.percentile(times, 95)), 25.0)
        finally:
            browser.close()
            running.process.terminate()
            running.process.wait()


# the interface's own path: the request it sends, unpacking as views, copying patches into the drawn buffers
LOOP = """async ([url]) => {
  const mesh = await (await fetch(url.replace('/preview', '/mesh'))).arrayBuffer();
  const length = new DataView(mesh).getUint32(0, true);
  const positions = new Float32Array(600 * 81 * 3), normals = new Int16Array(600 * 81 * 4);
  const times = [];
  for (let turn = 0; turn < 220; turn++) {
    const began = performance.now();
    const step = {kind: 'placed', how: 'move', points: Array.from({length: 516}, (_, k) => k), values: [0, 0, turn / 70], seat: [0, 0, 0], symmetry: {planes: ['W']}};
    const answer = await fetch(url, {method: 'POST', headers: {'Content-Type': 'application/json'}, body: JSON.stringify({step})});
    const buffer = await answer.arrayBuffer();
    const size = new DataView(buffer).getUint32(0, true);
    const header = JSON.parse(new TextDecoder().decode(new Uint8Array(buffer, 4, size)));
    let offset = 4 + size;
    for (const {name, type, shape} of header.arrays) {
      const count = shape.reduce((a, b) => a * b, 1);
      const bytes = count * Number(type[1]);
      if (name === 'positions') positions.set(new Float32Array(buffer, offset, count));
      if (name === 'normals') normals.set(new Int16Array(buffer, offset, count));
      offset += Math.ceil(bytes / 8) * 8;
    }
    if (turn >= 20) times.push(performance.now() - began);
  }
  return times;
}"""
