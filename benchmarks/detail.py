"""Details against their limits: a line thrown onto a skin, a skin cut along it, a groove's depth changed, a grille, thousands of elements; each
beside the same done the plain way, or its limit, in the same run."""

from __future__ import annotations

import tempfile
import time
from collections.abc import Iterator
from functools import partial
from pathlib import Path
from statistics import median

import numpy as np

from benchmarks.built import _result
from benchmarks.measure import Result, median_ms
from benchmarks.pictures import demo_of, developer
from hollow_marble.application.darkroom import SAMPLES
from hollow_marble.core.bodies.body import Body
from hollow_marble.core.bodies.cage_body import CageBody, cage_body
from hollow_marble.core.cage import sizing
from hollow_marble.core.detail import skin_lines
from hollow_marble.core.render.scene import Scene
from hollow_marble.core.shelf import Shelf
from hollow_marble.documents.form import details as d
from hollow_marble.documents.form import skin_lines as lay
from hollow_marble.documents.form.evaluation import FormEvaluator
from hollow_marble.documents.form.model import Part
from hollow_marble.documents.form.recipe import FromPart, FromStep
from hollow_marble.documents.form.spreads import Spread
from hollow_marble.documents.form.starts import BoxStart, SphereStart
from hollow_marble.documents.studio.staging import scene_of

BOX = BoxStart(size=(62.0, 34.0, 108.0), divisions=(9, 9, 9))
"""486 faces."""


def _body() -> CageBody:
    return cage_body("box", sizing.box((62.0, 34.0, 108.0), (9, 9, 9)), "box", 3, Shelf(200_000_000))


def lines() -> Iterator[Result]:
    """A line of 200 places thrown onto a skin of 486 faces; the peer is a plain ray for each, on the flat triangles."""
    ground = _body().ground()
    s = np.linspace(0, 1, 200)
    starts = np.column_stack([22 * np.cos(5 * s), np.full(200, -100.0), 35 * np.sin(5 * s)])
    ways = np.tile([0.0, 1.0, 0.0], (200, 1))
    ground.probed.nearest.met(starts, ways)
    peer = median_ms(lambda: ground.probed.nearest.met(starts, ways), 5)
    ours = median_ms(lambda: skin_lines.thrown_line(ground, starts, ways, False), 5)
    yield Result("line of 200 places thrown", "ms", ours, peer, "rays at flat triangles", "≤ 30 ms", ours <= 30)


def changed() -> Iterator[Result]:
    """A skin cut along a line, a groove changed, a grille made: each to the new mesh, from what was worked out before."""
    evaluator = FormEvaluator(lambda sha: b"")
    line = lay.SectionLine(at=12.0, tag="line")
    tries = iter(range(1, 10_000))

    def to_mesh(*steps: object) -> None:
        evaluator.mesh(Part(id="a", name="A", steps=(BOX, *steps)))

    def cut() -> None:
        step = d.PartedAlong(inputs={"line": FromStep(index=1)}, gap=0.2 + 1e-4 * next(tries), edge="lip", tag="cut")
        to_mesh(line, step)

    def groove() -> None:
        to_mesh(line, d.AlongLine(inputs={"line": FromStep(index=1)}, depth=0.5 + 1e-4 * next(tries)))

    def grille() -> None:
        to_mesh(
            d.GrilleStep(
                at=(0, -17, 20),
                wide=30,
                tall=60,
                round=False,
                opening=1.2,
                gap=1.2,
                land=0.8,
                depth=1.5 + 1e-4 * next(tries),
            )
        )

    to_mesh(line)
    for name, work, most in (
        ("skin of 486 faces cut along a line", cut, 1000),
        ("groove’s depth changed", groove, 300),
        ("grille of 24 slots", grille, 1500),
    ):
        work()
        yield _result(name, "ms", median_ms(work, 5), most)


def spread() -> Iterator[Result]:
    """5,000 elements after a change of how far they are apart, to where each stands; the peer throws them away and makes each a mesh."""
    evaluator = FormEvaluator(lambda sha: b"")
    skin = Part(id="a", name="A", steps=(BOX,))
    element = Part(id="e", name="E", steps=(BoxStart(size=(0.8, 0.8, 0.8), divisions=(1, 1, 1)),), level=1)
    inputs = {"element": FromPart(part="e"), "on": FromPart(part="a")}
    tries = iter(range(1, 10_000))
    many: list[int] = []

    def body() -> Body:
        step = Spread(arranged="random", apart=1.56 + 1e-5 * next(tries), inputs=inputs)
        found = evaluator.body(Part(id="s", name="S", steps=(step,)), (skin, element))
        copies = found.copies()
        assert copies is not None
        many.append(len(copies[1]))
        return found

    body()
    ours = median_ms(body, 3)
    began = time.perf_counter()
    body().mesh()
    each = (time.perf_counter() - began) * 1000
    name = f"{many[-1]:,} elements spread anew"
    yield Result(name, "ms", ours, each, "each a mesh of its own", "≤ 1000 ms", ours <= 1000)


def photographed() -> Iterator[Result]:
    """The demo's hero with 5,000 elements on the body beside the same take without them, in the darkroom at review quality."""
    with tempfile.TemporaryDirectory() as folder:
        library, studio, form, evaluator = demo_of(Path(folder))
        inputs = {"element": FromPart(part="bead"), "on": FromPart(part="body")}
        step = Spread(arranged="random", apart=1.36, inputs=inputs)
        start = SphereStart(size=(0.9, 0.9, 0.9), divisions=1)
        bead = Part(id="bead", name="Bead", visible=False, steps=(start,), level=2)
        beads = form.model_copy(update={"parts": (*form.parts, bead, Part(id="beads", name="Beads", steps=(step,)))})
        many = evaluator.body(beads.parts[-1], beads.parts).copies()
        assert many is not None
        hero = studio.shots[0].setting
        setting = hero.model_copy(update={"units": hero.units[:1]})  # the product once
        scenes = [scene_of(setting, one, evaluator, 640) for one in (form, beads)]
        library.close()
        spent = _taken(scenes)
        triangles = sum(len(body.triangles) for body in scenes[1].bodies) - sum(
            len(b.triangles) for b in scenes[0].bodies
        )
        name = f"take with {len(many[1]):,} elements, {triangles:,} triangles"
        without, with_them = (median(one[k] for one in spent) for k in (0, 1))
        target = "≤ 1.3 × without"
        yield Result(name, "s", with_them, without, "the take without", target, with_them <= 1.3 * without)


def _taken(scenes: list[Scene], times: int = 3) -> list[list[float]]:
    """Seconds each of some scenes takes at 640 × 400 and review quality, as often as is told; what compiles them is left out."""
    with developer() as develop:
        for scene in scenes:
            develop(partial(_same, scene), (640, 400), 8)
        wanted = SAMPLES["review"]
        return [[develop(partial(_same, scene), (640, 400), wanted)[1] for scene in scenes] for _ in range(times)]


def _same(scene: Scene) -> Scene:
    return scene
