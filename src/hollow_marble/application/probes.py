"""Probes of a form: lines, sections, maps. What is quick is worked out at once; walls and deviations are tasks."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from hollow_marble.application.application import Application
from hollow_marble.application.checks import LIMIT
from hollow_marble.application.forms import form_of
from hollow_marble.application.workspace import Workspace
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.materials import grams
from hollow_marble.core.surface.deviation import Deviation
from hollow_marble.core.surface.highlight import highlight_lines, isophotes, line_lights, reflection_lines
from hollow_marble.core.surface.lines import Lines
from hollow_marble.core.surface.making import Draft, Standing, Wall, bulk, draft, standing
from hollow_marble.core.surface.mending import Did
from hollow_marble.core.surface.probed import Probed
from hollow_marble.core.surface.sections import Combed, row_at, sections, whole_rows
from hollow_marble.core.surface.soundness import Soundness
from hollow_marble.documents.edit import find
from hollow_marble.documents.form.model import Form, Part
from hollow_marble.jobs.task import Work, blob
from hollow_marble.store.library import Project

Values = NDArray[np.float64]

MOST_AT_ONCE = 500_000
"""Triangles of a part over which lines and maps are drawn while somebody waits."""


@dataclass(frozen=True)
class Drawn:
    """Lines over parts: places (K, 3) mm, normals (K, 3); starts (L + 1,), closed (L,), level (L,) which of a family, part (L,) number of
    the shown part."""

    places: Values
    normals: Values
    starts: NDArray[np.int64]
    closed: NDArray[np.bool_]
    level: NDArray[np.int64]
    part: NDArray[np.int64]


def probed_of(workspace: Workspace, project: Project, form: Form, part: Part) -> Probed:
    """A part as quick probes read it.

    Raises
    ------
    HollowMarbleError
        where it has too many triangles for that.
    """
    mesh = workspace.evaluator(project).mesh(part, form.parts)
    if len(mesh.triangles) > MOST_AT_ONCE:
        raise HollowMarbleError(
            f"{part.name} has {len(mesh.triangles):,} triangles; lines and maps are drawn over up to {MOST_AT_ONCE:,}. "
            "Hide it, or reduce it, and look again."
        )
    return workspace.evaluator(project).body(part, form.parts).probed()


def shown_parts(workspace: Workspace, project: Project, form: Form) -> list[tuple[Part, Probed]]:
    """The shown parts as quick probes read them.

    Raises
    ------
    HollowMarbleError
        where nothing is shown.
    """
    shown = workspace.evaluator(project).shown(form)
    if not shown:
        raise HollowMarbleError("There is no form to look at. Begin one in Form, or show a part.")
    return [(part, probed_of(workspace, project, form, part)) for part, _ in shown]


MOST_FINER = 400_000
"""Triangles that are refined for a view at once."""


def finer_patches(
    workspace: Workspace, project: Project, form: Form, part: Part, key: str, level: int, patches: list[int]
) -> tuple[NDArray[np.float32], NDArray[np.int16], NDArray[np.uint32]]:
    """Patches of the mesh of a key after more refinements.

    Raises
    ------
    HollowMarbleError
        where the part's mesh is another by now.
    """
    evaluator = workspace.evaluator(project)
    if evaluator.key(part, form.parts) != key:
        raise HollowMarbleError("The part has changed meanwhile. Look again.")
    if len(patches) * 2 * 4**level > MOST_FINER:
        raise HollowMarbleError(f"That is more than {MOST_FINER:,} triangles at once. Come nearer, or ask for less.")
    return evaluator.body(part, form.parts).finer(level, np.unique(patches))


@dataclass(frozen=True)
class Family:
    """Line lights or angles: `towards` where the lights lie from the form's middle, `turn` degrees about it, `away` mm."""

    kind: Literal["highlight", "reflection", "isophotes"]
    towards: tuple[float, float, float]
    turn: float
    away: float
    count: int
    spacing: float
    eye: tuple[float, float, float]


def light_lines(workspace: Workspace, project: Project, form: Form, family: Family) -> Drawn:
    """Highlight lines, reflections or isophotes over all shown parts."""
    parts = shown_parts(workspace, project, form)
    size = workspace.evaluator(project).size(form)
    reach = max(size.width, size.depth, size.height)
    low = np.min([probed.points.min(axis=0) for _, probed in parts], axis=0)
    high = np.max([probed.points.max(axis=0) for _, probed in parts], axis=0)
    towards = np.array(family.towards, float)
    lights = line_lights(
        (low + high) / 2, reach / 2 + family.away, towards, np.radians(family.turn), family.count, family.spacing
    )
    eye = np.array(family.eye, float)
    degrees = np.arange(1, family.count + 1) * 180.0 / (family.count + 1)
    ways: dict[str, Callable[[Probed], Lines]] = {
        "highlight": lambda probed: highlight_lines(probed, lights),
        "reflection": lambda probed: reflection_lines(probed, lights, eye),
        "isophotes": lambda probed: isophotes(probed, towards, degrees),
    }
    return _drawn((probed, ways[family.kind](probed)) for _, probed in parts)


def _drawn(found: Iterable[tuple[Probed, Lines]]) -> Drawn:
    places, normals, counts, closed, level, part = [], [], [], [], [], []
    for number, (probed, lines) in enumerate(found):
        places.append(lines.bent(probed.points, probed.normals))
        normals.append(lines.at(probed.normals))
        counts.append(np.diff(lines.starts))
        closed.append(lines.closed)
        level.append(lines.level)
        part.append(np.full(len(lines.level), number))
    starts = np.concatenate([[0], np.cumsum(np.concatenate(counts))]).astype(np.int64)
    return Drawn(
        np.concatenate(places),
        np.concatenate(normals),
        starts,
        np.concatenate(closed),
        np.concatenate(level),
        np.concatenate(part),
    )


def cut(
    workspace: Workspace, project: Project, form: Form, normal: tuple[float, float, float], offsets: Values
) -> list[tuple[Part, Combed]]:
    """Sections of all shown parts."""
    parts = shown_parts(workspace, project, form)
    return [(part, sections(probed, np.array(normal, float), offsets)) for part, probed in parts]


def combs(
    workspace: Workspace, project: Project, form: Form, part: Part, place: tuple[float, float, float] | None
) -> Combed:
    """Combs along the row that runs through a place of a part, or along every row."""
    probed = probed_of(workspace, project, form, part)
    return whole_rows(probed) if place is None else row_at(probed, np.array(place, float))


def drafted(workspace: Workspace, project: Project, form: Form, part: Part, pull: Values, wanted: float) -> Draft:
    """Draft of a part."""
    probed = probed_of(workspace, project, form, part)
    return workspace.shelf.get(
        "draft",
        (workspace.evaluator(project).key(part, form.parts), tuple(pull.tolist()), wanted),
        lambda: draft(probed, pull, wanted),
    )


def thick(
    application: Application, project: Project, form: Form, part: Part, way: Literal["ray", "sphere"], wanted: float
) -> Wall:
    """Wall thickness of a part; what was worked out before is not again."""
    evaluator = application.workspace.evaluator(project)
    body = evaluator.body(part, form.parts)
    found: Wall = application.workspace.shelf.get(
        "wall",
        (evaluator.key(part, form.parts), way, wanted),
        lambda: application.run(
            project,
            f"Walls of {part.name}",
            lambda: Work("thick", (way, wanted), (blob(body.probed()),)),
            LIMIT,
            "Its walls took too much for this machine. Reduce it, or ask by ray, and try again.",
        ),
    )
    return found


def deviated(
    application: Application, project: Project, form: Form, part: Part, other_form: Form, other: Part
) -> Deviation:
    """How far a part is from another, or from itself in another state of the form."""
    evaluator = application.workspace.evaluator(project)
    one, base = evaluator.body(part, form.parts), evaluator.body(other, other_form.parts)
    found: Deviation = application.workspace.shelf.get(
        "deviation",
        (evaluator.key(part, form.parts), evaluator.key(other, other_form.parts)),
        lambda: application.run(
            project,
            f"Deviation of {part.name}",
            lambda: Work("deviated", None, (blob(one.probed()), blob(base.probed()))),
            LIMIT,
            "The comparison took too much for this machine. Reduce one of both and try again.",
        ),
    )
    return found


def mending(
    application: Application, project: Project, form: Form, part: Part, within: float, fill: float
) -> tuple[Did, Soundness]:
    """What mending a still body would do, and how sound it would be: nothing is kept.

    Raises
    ------
    HollowMarbleError
        where the part is shaped by a cage, or nothing would be left of it.
    """
    evaluator = application.workspace.evaluator(project)
    body = evaluator.body(part, form.parts)
    if body.control is not None:
        raise HollowMarbleError("It is shaped by a cage: weld its points and fill its openings in Form.")
    probed = body.probed()
    found: tuple[Did, Soundness] = application.workspace.shelf.get(
        "mending",
        (evaluator.key(part, form.parts), within, fill),
        lambda: application.run(
            project,
            f"What would mend {part.name}",
            lambda: Work("mending", (within, fill), (blob((probed.points, probed.triangles)),)),
            LIMIT,
            "It has too much to mend for this machine. Reduce it and try again.",
        ),
    )
    return found


@dataclass(frozen=True)
class Weighed:
    """A part's volume mm³, area mm², grams where it has a material, and its centre of mass; `why` it has none of them."""

    part: Part
    volume: float | None
    area: float
    grams: float | None
    centre: tuple[float, float, float] | None
    why: str | None


@dataclass(frozen=True)
class Balance:
    """All shown parts, the centre of mass of those that have a material (or of all by volume where none has), and how it stands."""

    parts: list[Weighed]
    grams: float
    centre: tuple[float, float, float] | None
    by_weight: bool
    standing: Standing | None


def balance(workspace: Workspace, project: Project, form: Form) -> Balance:
    """Volumes, weights, centre of mass, and whether the whole stands on the ground beneath it."""
    parts = shown_parts(workspace, project, form)
    weighed = []
    for part, probed in parts:
        try:
            found = bulk(probed)
        except HollowMarbleError as error:
            weighed.append(Weighed(part, None, float(probed.areas.sum()), None, None, str(error)))
            continue
        weight = grams(found.volume, part.material) if part.material else None
        weighed.append(Weighed(part, found.volume, found.area, weight, found.centre, None))
    by_weight = any(one.grams for one in weighed)
    shares = [(one.grams if by_weight else one.volume) or 0.0 for one in weighed]
    total = sum(shares)
    if not total:
        return Balance(weighed, 0.0, None, by_weight, None)
    centre = (
        sum((np.array(one.centre) * share for one, share in zip(weighed, shares) if one.centre), np.zeros(3)) / total
    )
    x, y, z = (float(value) for value in centre)
    stood = standing(np.concatenate([probed.points for _, probed in parts]), centre)
    return Balance(weighed, total if by_weight else 0.0, (x, y, z), by_weight, stood)


def at_line(project: Project, ident: str, line: int, part: str) -> tuple[Form, Part]:
    """A part as it was at a line of the ledger."""
    form = form_of(project, ident, line)
    return form, find(form.parts, part, "part")
