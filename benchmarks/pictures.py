"""The darkroom: first coarse picture, and review quality against the bare library."""

from __future__ import annotations

import itertools
import json
import os
import pickle
import statistics
import subprocess
import sys
import tempfile
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from functools import partial
from pathlib import Path
from typing import Any

import numpy as np

from benchmarks.measure import Result, within
from hollow_marble.core.render.scene import Scene
from hollow_marble.demo.build import build_demo
from hollow_marble.documents.form.evaluation import FormEvaluator
from hollow_marble.documents.form.model import Form
from hollow_marble.documents.studio.edits import SetLamp
from hollow_marble.documents.studio.model import Studio
from hollow_marble.documents.studio.staging import scene_of
from hollow_marble.jobs.executor import Executor
from hollow_marble.jobs.local import LocalTransport, render_trade
from hollow_marble.jobs.messages import Develop
from hollow_marble.jobs.task import Task, Work, blob
from hollow_marble.store.assets import load_asset
from hollow_marble.store.library import Library

REFERENCE_SAMPLES = 2048
RATIO = 15.0


def demo_of(folder: Path) -> tuple[Library, Studio, Form, FormEvaluator]:
    library = Library(folder)
    project = build_demo(library, lambda what, share: None, None)
    studio = project.ledger.state(project.ledger.rows("studio")[0].id)
    assert isinstance(studio, Studio)
    form = project.ledger.state(studio.shots[0].form)
    assert isinstance(form, Form)
    evaluator = FormEvaluator(lambda sha: load_asset(project.database, sha)[0])
    return library, studio, form, evaluator


@contextmanager
def developer() -> Iterator[Callable[[Callable[[], Scene], tuple[int, int], int], tuple[float, float]]]:
    """Develops a scene at a size with so many samples, by a worker that is up: seconds from asking to the first picture and to the last."""
    ready = threading.Event()
    executor = Executor(LocalTransport(render_trade()))
    executor.open(ready.set)
    executor.transport.warm("render")
    ready.wait(300)
    numbers = itertools.count()

    def develop(scene: Callable[[], Scene], size: tuple[int, int], samples: int) -> tuple[float, float]:
        shown: list[float] = []
        began = time.perf_counter()

        def prepare() -> Work:
            return Work("develop", Develop(*size, samples, None), (blob(scene()),))

        def heard(_task: Task, _news: object) -> None:
            shown.append(time.perf_counter() - began)

        task = Task(f"take{next(numbers)}", "bench", "Take", "render", prepare, "It broke.", heard=heard)
        executor.submit(task).wait()
        return shown[0], shown[-1]

    try:
        yield develop
    finally:
        executor.close()


def first_picture() -> Iterator[Result]:
    """From asking for a take at 480 × 300 to its first picture, after a lamp was moved; the worker is up."""
    with tempfile.TemporaryDirectory() as folder:
        library, studio, form, evaluator = demo_of(Path(folder))
        lamp = studio.shots[0].setting.lamps[0]

        def moved(number: int) -> Scene:
            edit = SetLamp(lamp=lamp.model_copy(update={"azimuth": -60.0 + 4 * number}))
            setting = edit.applied_to(studio).setting.model_copy(update={"camera": studio.shots[0].setting.camera})
            return scene_of(setting, form, evaluator, 480)

        with developer() as develop:
            taken = [develop(partial(moved, number), (480, 300), 8)[0] for number in range(7)]
        library.close()
        # the first two compile what this scene needs beyond the warm one
        yield within("first coarse picture, 480 × 300", "s", statistics.median(taken[2:]), 1.0)


SCRIPT = """
import sys, time, json, pickle
import numpy as np
from hollow_marble.core.render import develop, tracer
from hollow_marble.application.darkroom import SAMPLES
scene = pickle.load(open(sys.argv[1], "rb")); tracer.choose_variant(sys.argv[2])
built = tracer.build(scene, 640, 400)
tracer.trace(built, 8, 999)  # compile
layers = tracer.trace_layers(built)
def display(image): return np.clip(image, 0, 1)
reference = np.zeros((400, 640, 3)); done = 0
while done < int(sys.argv[3]):
    reference += tracer.trace(built, 64, 5000 + done) * 64.0; done += 64
reference = display(reference / done)
began = time.perf_counter()
exposure = develop.Exposure.blank(640, 400)
while exposure.done < SAMPLES["review"]:
    samples = develop.next_pass(exposure.done, SAMPLES["review"])
    exposure.add(tracer.trace(built, samples, 10 + exposure.passes), samples)
layers = tracer.trace_layers(built)
clean = develop.clean(exposure.mean, *layers)
ours = time.perf_counter() - began
quality = develop.psnr(display(clean), reference)
bare = np.zeros((400, 640, 3)); samples = 0; spent = 0.0; reached = 0.0
while samples < int(sys.argv[3]):
    began = time.perf_counter(); bare += tracer.trace(built, 32, 900000 + samples) * 32.0; spent += time.perf_counter() - began
    samples += 32; reached = develop.psnr(display(bare / samples), reference)
    if reached >= quality: break
print(json.dumps({"ours": ours, "quality": quality, "peer": spent, "samples": samples, "reached": reached}))
"""


NOISE = """
import sys, json, pickle
import numpy as np
from hollow_marble.core.render import develop, tracer
from hollow_marble.jobs.warm_scene import warm_scene
tracer.choose_variant(sys.argv[2])
found = []
for name, scene in [*pickle.load(open(sys.argv[1], "rb")), ("a box", warm_scene())]:
    built = tracer.build(scene, 320, 200)
    one, other = (
        sum(tracer.trace(built, 32, 5000 + 100 * half + k).astype(float) for k in range(24)) / 24 @ develop.LUMINANCE for half in (0, 1)
    )
    layers = tracer.trace_layers(built, 2)
    exposure = develop.Exposure.blank(320, 200)
    while exposure.done < 128:
        samples = develop.next_pass(exposure.done, 128)
        exposure.add(tracer.trace(built, samples, exposure.passes), samples)
        if exposure.done not in (8, 32, 128): continue
        clean = lambda image: develop.clean(image, *layers)
        seen = clean(exposure.mean) @ develop.LUMINANCE
        # two references of their own noise: its share falls out of the product
        off = np.sqrt(max(((seen - one) * (seen - other)).mean(), 0)) / ((one + other) / 2).mean()
        found.append([name, exposure.done, exposure.cleaned_noise(clean), float(off), exposure.noise()])
print(json.dumps(found))
"""


def noise() -> Iterator[Result]:
    """The noise that is told of a cleaned picture beside what it is, against references of 1,536 samples: within 30 %."""
    with tempfile.TemporaryDirectory() as folder:
        library, studio, form, evaluator = demo_of(Path(folder))
        scenes = [(shot.name, scene_of(shot.setting, form, evaluator, 320)) for shot in studio.shots]
        library.close()
        for name, samples, told, off, raw in _traced(Path(folder), NOISE, scenes):
            holds = abs(told / off - 1) <= 0.3
            peer = f"against the reference; {raw:.0%} before cleaning"
            yield Result(f"noise told of {name}, {samples} samples", "", told, off, peer, "within 30 %", holds)


def _traced(folder: Path, script: str, content: object, *arguments: str) -> Any:
    """What a script that traces prints, in a process of its own, with the fastest variant of this machine."""
    file = folder / "content.pickle"
    file.write_bytes(pickle.dumps(content))
    trade = render_trade()
    command = [sys.executable, "-c", script, str(file), trade.ways[0], *arguments]
    environment = {**os.environ, **trade.environment}
    done = subprocess.run(command, capture_output=True, text=True, env=environment, check=True)
    return json.loads(done.stdout.splitlines()[-1])


def review_quality() -> Iterator[Result]:
    """Demo hero at 640 × 400: our time to review quality against the bare library's to the same PSNR.

    Where the bare library has not reached it at as many samples as the reference has, its time so far is a lower
    bound.
    """
    with tempfile.TemporaryDirectory() as folder:
        library, studio, form, evaluator = demo_of(Path(folder))
        scene = scene_of(studio.shots[0].setting, form, evaluator)
        library.close()
        found = _traced(Path(folder), SCRIPT, scene, str(REFERENCE_SAMPLES))
        bound = "" if found["reached"] >= found["quality"] else f", only {found['reached']:.1f} dB after"
        name = f"bare library to {found['quality']:.1f} dB{bound} {found['samples']} samples"
        ratio = found["peer"] / found["ours"]
        yield Result(
            "hero 640 × 400 to review quality",
            "s",
            found["ours"],
            found["peer"],
            name,
            f"ratio ≥ {RATIO:g}",
            ratio >= RATIO,
        )


def cold_start() -> Iterator[Result]:
    """`serve` from nothing to the first byte."""
    import socket
    import urllib.error
    import urllib.request

    taken = []
    for _ in range(5):
        with tempfile.TemporaryDirectory() as folder, socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            port = probe.getsockname()[1]
            probe.close()
            began = time.perf_counter()
            command = [sys.executable, "-m", "hollow_marble.cli", "serve", "--data", folder, "--port", str(port)]
            process = subprocess.Popen(command, stdout=subprocess.DEVNULL)
            while True:
                try:
                    urllib.request.urlopen(f"http://127.0.0.1:{port}/", timeout=5).read(1)
                    break
                except (urllib.error.URLError, OSError):
                    time.sleep(0.01)
            taken.append(time.perf_counter() - began)
            process.terminate()
            process.wait()
    yield within("cold start of serve to the first byte", "s", float(np.median(taken)), 1.5)
