"""Develop takes and wait for them, for the command line and the demo."""

from __future__ import annotations

import threading
from collections.abc import Callable
from typing import Any

from hollow_marble.application.application import Application
from hollow_marble.documents.studio.model import Shot
from hollow_marble.store.library import Project
from hollow_marble.store.takes import Take, get_take

Wish = tuple[Shot, str, tuple[int, int] | None]


def develop_takes(project: Project, studio: str, wishes: list[Wish], show: Callable[[float, str], None]) -> list[Take]:
    """Develop (shot, quality, size or None) one after the other; `show` hears the share done and what goes on."""
    changed = threading.Condition()

    def heard(_project: str, kind: str, news: dict[str, Any]) -> None:
        with changed:
            changed.notify_all()
        if kind == "take" and news["state"] == "developing" and news["samples"]:
            show(news["samples"] / news["wanted"], f"{news['samples']} of {news['wanted']} samples")

    application = Application(project.database.path.parent.parent, heard)
    application.open(unfinished=False)
    try:
        opened = application.workspace.project(project.entry.id)
        asked = [application.darkroom.ask(opened, studio, shot, quality, size).id for shot, quality, size in wishes]

        def ended() -> bool:
            return all(get_take(opened.database, t).state in ("done", "failed", "cancelled") for t in asked)

        with changed:
            changed.wait_for(ended)
        return [get_take(opened.database, ident) for ident in asked]
    finally:
        application.close()
