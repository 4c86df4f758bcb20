"""The geometry trade: surfaces checked and meshes written out, where one that is too much for it harms nobody."""

from __future__ import annotations

from typing import Any

from hollow_marble.core.surface.deviation import Deviation, deviation
from hollow_marble.core.surface.findings import Checked, check_meetings, check_part
from hollow_marble.core.surface.making import Wall, wall
from hollow_marble.core.surface.mending import Did, mended
from hollow_marble.core.surface.pictures import ProbePictures, probe_pictures
from hollow_marble.core.surface.soundness import Soundness, check_soundness
from hollow_marble.jobs.worker import Run


def begin(way: str) -> str:
    """Nothing is needed but what is imported."""
    return f"Checks {way}"


def checked(run: Run) -> list[Checked]:
    """Everything that counts, of each of some surfaces."""
    (surfaces,) = run.content
    found = []
    for number, probed in enumerate(surfaces):
        run.check()
        found.append(check_part(probed, run.arguments))
        run.progress((number + 1) / len(surfaces))
    return found


def met(run: Run) -> Any:
    """Where rims of some surfaces meet others."""
    (surfaces,) = run.content
    return check_meetings(surfaces, run.arguments, _told(run))


def thick(run: Run) -> Wall:
    """Thickness of a wall."""
    (probed,) = run.content
    way, wanted = run.arguments
    return wall(probed, way, wanted, _told(run))


def deviated(run: Run) -> Deviation:
    """How far a surface is from another."""
    one, other = run.content
    return deviation(one, other, _told(run))


def mending(run: Run) -> tuple[Did, Soundness]:
    """What mending a mesh would do, and how sound it would be then."""
    points, triangles = run.content[0]
    within, fill = run.arguments
    after, faces, did = mended(points, triangles, within, fill)
    run.check()
    run.progress(0.5)
    return did, check_soundness(after, faces)


def pictured(run: Run) -> ProbePictures:
    """Pictures of some surfaces for a report."""
    (surfaces,) = run.content
    pull, wide, tall = run.arguments
    return probe_pictures(surfaces, pull, wide, tall, _told(run))


def written(run: Run) -> bytes:
    """Meshes as bytes of an open format."""
    from hollow_marble.exchange.forms import WORKED

    return WORKED[run.arguments](run.content[0])


def _told(run: Run) -> Any:
    def told(share: float) -> None:
        run.check()
        run.progress(share)

    return told


HANDLERS = {
    "checked": checked,
    "met": met,
    "thick": thick,
    "deviated": deviated,
    "pictured": pictured,
    "mending": mending,
    "written": written,
}
