"""Develop takes and wait for them, for the command line and the demo."""

from __future__ import annotations

import threading
from collections.abc import Callable
from typing import Any

from hollow_marble.documents.studio.model import Shot
from hollow_marble.jobs.darkroom import Darkroom
from hollow_marble.store.library import Library, Project
from hollow_marble.store.takes import Take, get_take

Wish = tuple[Shot, str, tuple[int, int] | None]


def develop_takes(
    library: Library, project: Project, studio: str, wishes: list[Wish], show: Callable[[float, str], None]
) -> list[Take]:
    """Develop (shot, quality, size or None) one after the other; `show` hears the share done and what goes on."""
    changed = threading.Condition()

    def heard(_project: str, kind: str, news: dict[str, Any]) -> None:
        with changed:
            changed.notify_all()
        if kind == "take" and news["state"] == "developing" and news["samples"]:
            show(news["samples"] / news["wanted"], f"{news['samples']} of {news['wanted']} samples")

    darkroom = Darkroom(library, library.folder.parent / "cache", heard)
    darkroom.open()
    try:
        asked = [darkroom.ask(project, studio, shot, quality, size).id for shot, quality, size in wishes]
        with changed:
            changed.wait_for(
                lambda: all(get_take(project.database, t).state in ("done", "failed", "cancelled") for t in asked)
            )
        return [get_take(project.database, ident) for ident in asked]
    finally:
        darkroom.close()
