"""The studio: a surround repainted, a highlight put where one touches, what a setting means."""

from __future__ import annotations

import statistics
import tempfile
import time
from collections.abc import Callable, Iterator
from pathlib import Path

from benchmarks.measure import Result, within
from benchmarks.pictures import demo_of
from hollow_marble.application import moves, surrounds
from hollow_marble.documents.studio.model import BrightPanel, Flag, Surround
from hollow_marble.documents.studio.staging import facts_of, stage


def _median(doing: Callable[[int], object], times: int = 9) -> float:
    taken = []
    for number in range(times):
        began = time.perf_counter()
        doing(number)
        taken.append(time.perf_counter() - began)
    return statistics.median(taken[1:])


def the_room() -> Iterator[Result]:
    """A surround of 2,048 × 1,024 px repainted and handed to the live view; a highlight dragged; a lamp's meaning while it is dragged."""
    with tempfile.TemporaryDirectory() as folder:
        library, studio, form, evaluator = demo_of(Path(folder))
        setting = studio.shots[0].setting

        def repainted(number: int) -> None:
            panels = tuple(
                BrightPanel(
                    id=str(k), azimuth=60.0 * k - 160 + number, height=20.0 * k - 20, width=40, tall=60, soft=0.2
                )
                for k in range(5)
            )
            surround = Surround(areas=(*panels, Flag(id="flag", azimuth=100, width=30)), size="2048 × 1024")
            surrounds.live(setting.model_copy(update={"surround": surround}), evaluator)

        yield within("a surround of 2,048 × 1,024 px repainted for the live view", "s", _median(repainted), 0.5)

        def dragged(number: int) -> None:
            move = moves.Highlight(kind="highlight", at=(440 + number, 300), size=(1280, 800))
            moves.lamp_moved(setting, form, evaluator, "key", move)

        yield within("a highlight dragged, each place", "s", _median(dragged), 0.15)

        def meant(number: int) -> None:
            lamps = (setting.lamps[0].model_copy(update={"azimuth": -60.0 + number}), *setting.lamps[1:])
            lit = setting.model_copy(update={"lamps": lamps})
            facts_of(lit, stage(lit, form, evaluator), evaluator.load, evaluator.shelf)

        yield within("what the light means while a lamp is dragged", "s", _median(meant), 0.05)
        library.close()
