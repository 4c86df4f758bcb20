"""Compile the hot loops ahead of the first stroke or drag.

The compiled code is cached on disk, so this takes about a minute on the first run ever and a second later.
"""

from __future__ import annotations

import threading

import numpy as np

_done = threading.Event()


def done() -> bool:
    """Whether everything is compiled."""
    return _done.is_set()


def warm_up() -> None:
    """Run every compiled loop once on something small."""
    from hollow_marble.core.cage import edits, skin, starts
    from hollow_marble.core.ink import compose, fill, path, stamp
    from hollow_marble.core.surface.soundness import crossing_places

    samples = np.array([[4, 4, 0.5, 0], [12, 9, 0.8, 0.2]], np.float32)
    layer = np.zeros((32, 32, 4), np.uint8)
    rect = (0, 0, 32, 32)
    mask = stamp.coverage(samples, path.pencil(4.0, 0.8), rect)
    stamp.lay_ink(layer, mask, rect, (10, 20, 30))
    stamp.lift_ink(layer, mask, rect)
    stamp.lay_inside(layer, mask, rect, (10, 20, 30))
    fill.region(np.pad(np.zeros((8, 8), np.uint8), 4, constant_values=255), (8, 8), 1.0)
    compose.on_paper(
        [compose.Plane(layer, tint=(0.2, 0.4, 0.3)), compose.Plane(layer, mode="hue"), compose.Plane(layer)],
        (255, 255, 255),
        rect,
    )

    cage = starts.box((10.0, 10.0, 10.0), (1, 1, 1))
    cage = edits.crease_edges(cage, [(0, 1)], 1.0)
    plan = skin.plan_skin(cage, 2)
    skin.evaluate(plan, cage.points)
    skin.derivatives(plan, cage.points)
    crossing_places(cage.points, np.array([[0, 1, 2], [4, 5, 6]]))
    _probes()
    _details()
    _done.set()


def _probes() -> None:
    from hollow_marble.core.bodies.cage_body import cage_body
    from hollow_marble.core.cage import starts
    from hollow_marble.core.shelf import Shelf
    from hollow_marble.core.surface import highlight, making, sections

    up = np.array([0.0, 0.0, 1.0])
    probed = cage_body("", starts.box((10.0, 10.0, 10.0), (1, 1, 1)), "", 2, Shelf(1_000_000)).probed()
    highlight.highlight_lines(probed, highlight.line_lights(np.zeros(3), 20.0, up, 0.0, 2, 3.0))
    sections.sections(probed, up, np.zeros(1))
    making.draft(probed, up, 1.0)
    making.wall(probed, "sphere", 1.0)


def _details() -> None:
    from hollow_marble.core.bodies.cage_body import cage_body
    from hollow_marble.core.cage import starts
    from hollow_marble.core.detail import outlines, skin_lines, spreading
    from hollow_marble.core.detail.chart import chart_around
    from hollow_marble.core.detail.checking import check_folds
    from hollow_marble.core.detail.facets import facets_of
    from hollow_marble.core.detail.profiles import profile, wall_profile
    from hollow_marble.core.detail.relief import Strip, raised
    from hollow_marble.core.detail.stamps import Stamp
    from hollow_marble.core.shelf import Shelf

    ground = cage_body("", starts.box((10.0, 10.0, 10.0), (1, 1, 1)), "", 2, Shelf(1_000_000)).ground()
    up = np.array([0.0, 0.0, 1.0])
    line = skin_lines.section_line(ground, up, 0.0)
    strip = Strip("", "", line, profile("groove", 0.8, 0.3))
    check_folds(raised(strip.sliced(strip.refined(facets_of(ground))), (strip,)), (strip,))
    chart = chart_around(ground, np.array([0.0, -4.0, 0.0]), up, (1.0, 1.0))
    loop = outlines.Outlines((outlines.slot((0.0, 0.0), 1.0, 0.4),))
    stamp = Stamp("", "", chart, loop, wall_profile(0.1, 5.0, 0.0, 0.0))
    stamp.sliced(stamp.refined(facets_of(ground)))
    spreading.evenly_at_random(ground, 3.0, 1)


def warm_up_in_background() -> threading.Thread:
    """Start warming and return its thread."""
    thread = threading.Thread(target=warm_up, name="warm-up", daemon=True)
    thread.start()
    return thread
