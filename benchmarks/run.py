"""Run the benchmarks and print them."""

from __future__ import annotations

import json
import sys

from rich.console import Console
from rich.table import Table

from benchmarks import (
    browser,
    built,
    cages,
    detail,
    drafting,
    felt,
    ground,
    hand,
    hostile,
    ink,
    pictures,
    sheets,
    studio,
    surface,
)
from benchmarks.measure import Result

ALL = (
    cages.evaluation,
    cages.planning,
    cages.server,
    browser.drag_loop,
    ink.stamping,
    ink.commit,
    sheets.full_page,
    sheets.fill,
    sheets.stack,
    drafting.drafting,
    drafting.views_of_drawn_boxes,
    ground.together,
    ground.past,
    ground.parts,
    ground.memory,
    ground.faults,
    ground.growth,
    hostile.hostile_files,
    hostile.hostile_requests,
    hand.handle_and_orbit,
    hand.many_faces,
    hand.lamps,
    hand.memory_form,
    hand.memory_studio,
    hand.bytes_over_the_wire,
    felt.felt,
    pictures.cold_start,
    pictures.first_picture,
    studio.the_room,
    surface.probes,
    surface.following,
    built.step_out,
    built.recipe,
    built.spout,
    built.dragged,
    detail.lines,
    detail.changed,
    detail.spread,
    detail.photographed,
    pictures.review_quality,
    pictures.noise,
)


def run(only: str | None, as_json: bool) -> bool:
    """Run those whose name contains `only`; returns whether every target holds."""
    from hollow_marble.core.warm import warm_up

    warm_up()
    found: list[Result] = []
    for benchmark in ALL:
        name = f"{benchmark.__module__.rsplit('.', 1)[-1]}.{benchmark.__name__}"
        if only and only not in name:
            continue
        print(f"running {name}", file=sys.stderr)
        found += list(benchmark())
    if as_json:
        print(json.dumps([result.as_json() for result in found], indent=1))
    else:
        table = Table("what", "ours", "peer or limit", "ratio", "target", "holds")
        for r in found:
            peer = f"{r.peer:.3g} {r.unit}" + ("" if r.peer_name == "limit" else f", {r.peer_name}")
            table.add_row(
                r.name, f"{r.ours:.3g} {r.unit}", peer, f"{r.ratio:.1f}×", r.target, "yes" if r.holds else "no"
            )
        Console().print(table)
    return all(result.holds for result in found)
