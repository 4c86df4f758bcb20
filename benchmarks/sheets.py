"""A full page: 2400 × 1600, 8 layers of mixed modes, 3,000 strokes."""

from __future__ import annotations

import tempfile
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np

from benchmarks.measure import Result, median_ms, within

MODES = ("normal", "multiply", "normal", "screen", "overlay", "normal", "soft-light", "multiply")
STROKES = 3000


def _page(folder: Path) -> tuple[Any, Any, str, str]:
    """A server's app, its test client, the project's and the sheet's id; the page is full."""
    from hollow_marble.core.ink.path import NIBS, bounds
    from hollow_marble.documents.edit import asset_of
    from hollow_marble.documents.sheet.drawing import MEDIA
    from hollow_marble.documents.sheet.edits import AddLayer, ChangeLayer, ChangeStrokes
    from hollow_marble.documents.sheet.model import Stroke
    from hollow_marble.web.app import create_app

    app = create_app(folder, work=False)
    http = app.test_client()
    state: Any = http.post("/api/projects", json={"name": "Full"}).json
    project = state["project"]["id"]
    sheet = next(d["id"] for d in state["documents"] if d["kind"] == "sheet")
    opened = app.extensions["hollow_marble"].application.workspace.project(project)
    random = np.random.default_rng(4)
    for number, mode in enumerate(MODES):
        layer = "rough" if number == 0 else f"l{number}"
        if number:
            opened.ledger.append(sheet, AddLayer(id=layer, name=f"Layer {number}"))
        opened.ledger.append(sheet, ChangeLayer(layer=layer, mode=mode, opacity=0.6 + 0.05 * number))
        strokes, assets = [], []
        for count in range(STROKES // len(MODES)):
            nib = ("pencil", "fineliner", "marker")[count % 3]
            size = (6.0, 3.0, 30.0)[count % 3]
            start = random.uniform((40, 40), (2360, 1560))
            t = np.linspace(0, 1, 14)[:, None]
            bend = random.uniform(-80, 80, 2) * np.sin(np.pi * t)
            places = start + t * random.uniform(-160, 160, 2) + bend
            samples = np.column_stack([places, 0.3 + 0.5 * t, 0 * t]).astype(np.float32)
            assets.append(asset_of(samples.tobytes(), MEDIA))
            colour = f"#{random.integers(0, 1 << 24):06X}"
            strokes.append(
                Stroke(
                    id=f"{layer}-{count}", nib=nib, size=size, tone=0.7, colour=colour, samples=assets[-1].sha,
                    bounds=bounds(samples, NIBS[nib](size, 0.7)),
                )
            )  # fmt: skip
        opened.ledger.append(sheet, ChangeStrokes(layer=layer, added=tuple(strokes), said="Filled a layer"), assets)
    opened.ledger.append(sheet, AddLayer(id="tone", name="Tone", holds="tone"))
    return app, http, project, sheet


def full_page() -> Iterator[Result]:
    """Opening, drawing, undoing and filling on a full page, inside the server."""
    with tempfile.TemporaryDirectory() as folder:
        app, http, project, sheet = _page(Path(folder))
        url = f"/api/projects/{project}/sheets/{sheet}"
        workspace = app.extensions["hollow_marble"].application.workspace

        def opened() -> None:
            workspace._rasters.clear()
            assert http.get(f"{url}/tiles").status_code == 200

        began = time.perf_counter()
        opened()
        first = time.perf_counter() - began
        workspace.drawn.settle()  # what was drawn is in the cache now
        again = median_ms(opened, times=5, warm=1) / 1000
        yield within("opening a full page after a start", "s", again, 1.0)
        yield within("drawing a full page from nothing, once", "s", first, 10.0)

        t = np.linspace(0, 1, 40)
        line = np.stack([900 + 180 * t, 700 + 60 * np.sin(5 * t), 0.3 + 0.5 * t, 0 * t], axis=1).astype("<f4")

        def draw() -> None:
            query = {"layer": "l7", "nib": "pencil", "size": 6}
            assert http.post(f"{url}/strokes", data=line.tobytes(), query_string=query).status_code == 200

        yield within("stroke of 300 dabs on a full page", "ms", median_ms(draw, times=15), 60.0)

        def paint() -> None:
            query = {"layer": "tone", "nib": "marker", "size": 12, "colour": "#808080"}
            assert http.post(f"{url}/paint", data=line.tobytes(), query_string=query).status_code == 200

        yield within("stroke of tone on a full page", "ms", median_ms(paint, times=15), 60.0)

        undos = []
        for _ in range(9):
            draw()
            head = http.get(url).json["standing"]["head"]
            began = time.perf_counter()
            http.post(f"/api/projects/{project}/documents/{sheet}/undo")
            assert http.get(f"{url}/tiles", query_string={"since": head}).status_code == 200
            undos.append(time.perf_counter() - began)
        yield within("undo on a full page, tiles included", "ms", float(np.median(undos)) * 1000, 80.0)
        raster = workspace.raster(workspace.project(project), sheet)
        yield within("memory of a full page's pixels", "MB", raster.memory() / 1e6, 160.0)
        app.extensions["hollow_marble"].close()


def fill() -> Iterator[Result]:
    """The region of a fill at 2400 × 1600, a ring of 1,200 px across drawn with the pencil."""
    from hollow_marble.core.ink.fill import region
    from hollow_marble.core.ink.path import pencil
    from hollow_marble.core.ink.stamp import coverage, lay_ink

    t = np.linspace(0, 2 * np.pi, 300)
    samples = np.stack([1200 + 600 * np.cos(t), 800 + 600 * np.sin(t), 0 * t + 0.7, 0 * t], axis=1).astype(np.float32)
    layer = np.zeros((1600, 2400, 4), np.uint8)
    page = (0, 0, 2400, 1600)
    lay_ink(layer, coverage(samples, pencil(8.0, 0.9), page), page, (30, 30, 30))
    ink = np.ascontiguousarray(layer[..., 3])
    yield within("region of a fill, 2400 × 1600", "ms", median_ms(lambda: region(ink, (1200, 800), 12), times=9), 100.0)


def stack() -> Iterator[Result]:
    """Eight layers of one tile laid by us and by Skia in half floats."""
    import skia

    from hollow_marble.core.ink.compose import Plane, on_paper

    random = np.random.default_rng(1)
    layers = []
    for _ in MODES:
        pixels = random.integers(0, 256, (256, 256, 4)).astype(np.float64)
        pixels[..., :3] *= pixels[..., 3:] / 255
        layers.append(np.ascontiguousarray(pixels.astype(np.uint8)))
    planes = [Plane(p, mode=m, opacity=0.7) for p, m in zip(layers, MODES)]  # type: ignore[arg-type]
    names = {
        "normal": "SrcOver",
        "multiply": "Multiply",
        "screen": "Screen",
        "overlay": "Overlay",
        "soft-light": "SoftLight",
    }
    info = skia.ImageInfo.Make(256, 256, skia.kRGBA_F16_ColorType, skia.AlphaType.kPremul_AlphaType)

    def theirs() -> None:
        surface = skia.Surface.MakeRaster(info)
        canvas = surface.getCanvas()
        canvas.clear(skia.ColorWHITE)
        for pixels, mode in zip(layers, MODES):
            image = skia.Image.fromarray(pixels, skia.kRGBA_8888_ColorType, skia.AlphaType.kPremul_AlphaType)
            paint = skia.Paint(BlendMode=getattr(skia.BlendMode, f"k{names[mode]}"))
            paint.setAlphaf(0.7)
            canvas.drawImage(image, 0, 0, skia.SamplingOptions(), paint)

    ours = median_ms(lambda: on_paper(planes, (255, 255, 255), (0, 0, 256, 256)), times=15)
    peer = median_ms(theirs, times=15)
    yield Result("8 layers of a tile", "ms", ours, peer, "Skia, half floats", "≤ 3 × the peer", ours <= 3 * peer)
