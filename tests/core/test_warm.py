"""Warming: nothing the hand does waits for a compiler."""

from __future__ import annotations

import importlib
import pkgutil

import numpy as np
import pytest
from numba.core.dispatcher import Dispatcher

import hollow_marble.core
from hollow_marble.core.surface.highlight import highlight_lines, line_lights
from hollow_marble.core.surface.making import draft, wall
from hollow_marble.core.surface.soundness import check_soundness
from hollow_marble.core.warm import warm_up
from hollow_marble.demo.designer import Designer
from hollow_marble.documents.form.changes import CreasedEdges, ExtrudedFaces, PlacedPoints
from hollow_marble.documents.form.starts import BoxStart
from hollow_marble.documents.form.steps import ACROSS_W
from hollow_marble.documents.sheet.edits import DrawStroke, SetSymmetry
from hollow_marble.documents.sheet.model import Axis
from hollow_marble.documents.sheet.raster import SheetRaster
from hollow_marble.store.assets import load_asset
from hollow_marble.store.library import Project


def compiled() -> dict[str, int]:
    """How many ways each compiled loop of the core has been compiled in this process."""
    found = {}
    for module in pkgutil.walk_packages(hollow_marble.core.__path__, "hollow_marble.core."):
        for name, thing in vars(importlib.import_module(module.name)).items():
            if isinstance(thing, Dispatcher) and thing.py_func.__module__ == module.name:
                found[f"{module.name}.{name}"] = len(thing.signatures)
    return found


@pytest.fixture(scope="module")
def warm() -> dict[str, int]:
    warm_up()
    return compiled()


def test_a_stroke_a_drag_and_a_check_compile_nothing_more(warm: dict[str, int], project: Project) -> None:
    designer = Designer(project)
    sheet, form = designer.document("sheet"), designer.document("form")
    t = np.linspace(0, 1, 50)
    line = np.stack([500 + 300 * t, 400 + 90 * np.sin(9 * t), 0.3 + 0.4 * t, 0 * t], axis=1).astype(np.float32)
    designer.draw(sheet, line, layer="rough")
    designer.edit(sheet, SetSymmetry(on=True, axis=Axis(x=1200.0, y=800.0)))
    lifted = designer.project.ledger.state(sheet).layers[0].strokes[0]  # type: ignore[union-attr]
    designer.edit(sheet, DrawStroke(layer="rough", stroke=lifted.model_copy(update={"id": "lift", "nib": "lifter"})))
    raster = SheetRaster(lambda sha: load_asset(project.database, sha)[0])
    raster.update(project.ledger.state(sheet))  # type: ignore[arg-type]
    assert 180 < raster.pixels((0, 0, 2400, 1600)).min() < 230  # drawn, then lifted

    body = designer.start(form, "body", "Body", BoxStart(size=(62.0, 34.0, 108.0), divisions=(4, 3, 6)))
    body.step(ExtrudedFaces, faces=(0,), distance=6.0)
    body.step(CreasedEdges, edges=((0, 1),), crease=0.5)
    part = project.ledger.state(form).parts[0]  # type: ignore[union-attr]
    step = PlacedPoints(how="move", points=(3, 4), values=(1.0, 2.0, 3.0), symmetry=ACROSS_W)
    cage, _, _ = designer.evaluator.preview(part, step)
    assert not np.array_equal(cage.points, designer.evaluator.cage(part).points)
    probed = designer.evaluator.body(part).probed()
    highlight_lines(probed, line_lights(np.zeros(3), 90.0, np.array([0.0, -1.0, 0.5]), 0.0, 3, 9.0))
    draft(probed, np.array([0.0, 0.0, 1.0]), 1.0)
    wall(probed, "sphere", 1.0)
    assert check_soundness(*designer.evaluator.mesh(part).welded()).closed
    assert compiled() == warm
    assert sum(ways > 0 for ways in warm.values()) > 8


def test_every_loop_is_cached_on_disk() -> None:
    """So that only the first run ever compiles."""
    missing = []
    for module in pkgutil.walk_packages(hollow_marble.core.__path__, "hollow_marble.core."):
        for name, thing in vars(importlib.import_module(module.name)).items():
            if isinstance(thing, Dispatcher) and type(thing._cache).__name__ == "NullCache":
                missing.append(f"{module.name}.{name}")
    assert missing == []
