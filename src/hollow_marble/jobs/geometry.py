"""The geometry trade: meshes checked and written out, where a mesh that is too much for it harms nobody."""

from __future__ import annotations

from hollow_marble.core.surface.soundness import Soundness, check_soundness
from hollow_marble.jobs.worker import Run


def begin(way: str) -> str:
    """Nothing is needed but what is imported."""
    return f"Checks {way}"


def soundness(run: Run) -> list[Soundness]:
    """What is wrong with each of some meshes (points, triangles)."""
    (meshes,) = run.content
    found = []
    for number, (points, triangles) in enumerate(meshes):
        run.check()
        found.append(check_soundness(points, triangles))
        run.progress((number + 1) / len(meshes))
    return found


def written(run: Run) -> bytes:
    """Meshes as bytes of an open format."""
    from hollow_marble.exchange.forms import WORKED

    return WORKED[run.arguments](run.content[0])


HANDLERS = {"soundness": soundness, "written": written}
