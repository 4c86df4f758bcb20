"""The demo's projects, brought to somebody who looks around in an installation that has none."""

from __future__ import annotations

import shutil
import tempfile
import threading
from dataclasses import dataclass
from pathlib import Path

from hollow_marble.application.application import Application
from hollow_marble.application.waiting import Wish
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.locks import TASKS, RankedLock
from hollow_marble.demo.build import NAME, PRODUCTS, build_demo, photograph
from hollow_marble.store.database import SUFFIX
from hollow_marble.store.library import Library, Project
from hollow_marble.store.takes import Take


@dataclass(frozen=True)
class Bringing:
    """How far it is. `projects` holds the ids of those that are here, by name."""

    busy: bool
    what: str
    share: float
    problem: str
    projects: dict[str, str]


class DemoBringer:
    """Builds the demo beside the shelf, and puts it there when it is whole; its pictures are taken from then on."""

    def __init__(self, application: Application) -> None:
        self._application = application
        self._lock = RankedLock("bringing the demo", TASKS)
        self._thread: threading.Thread | None = None
        self._what, self._share, self._problem = "", 0.0, ""

    def told(self) -> Bringing:
        """How far it is."""
        busy = self._thread is not None and self._thread.is_alive()
        return Bringing(busy, self._what, self._share, self._problem, self._here())

    def begin(self) -> Bringing:
        """Begin, where it is not here and not under way."""
        missing = PRODUCTS - self._here().keys()
        with self._lock:
            if missing and not (self._thread is not None and self._thread.is_alive()):
                self._what, self._share, self._problem = "Beginning", 0.0, ""
                self._thread = threading.Thread(target=self._bring, name="demo", daemon=True)
                self._thread.start()
        return self.told()

    def close(self) -> None:
        """Wait for it to end."""
        if self._thread is not None:
            self._thread.join()

    def _here(self) -> dict[str, str]:
        entries = self._application.workspace.library.entries()
        return {entry.name: entry.id for entry in entries if entry.name in PRODUCTS}

    def _say(self, what: str, share: float) -> None:
        self._what, self._share = what, share

    def _bring(self) -> None:
        folder = Path(tempfile.mkdtemp(dir=self._application.workspace.data / "cache"))
        try:
            beside = Library(folder)
            try:
                build_demo(beside, self._say, None)
            finally:
                beside.close()
            library = self._application.workspace.library
            for name in sorted(PRODUCTS - self._here().keys()):
                path = beside.folder / f"{name.lower()}{SUFFIX}"
                with path.open("rb") as file:
                    project, _ = library.receive(file, path.stat().st_size, path.name)
                if name == NAME:
                    photograph(project, self._develop)
            self._application.workspace.publish("", "projects", {})
        except HollowMarbleError as error:
            self._problem = str(error)
        except Exception:
            self._problem = "The demo could not be built. The server’s log says more."
            raise
        finally:
            shutil.rmtree(folder, ignore_errors=True)

    def _develop(self, project: Project, studio: str, wishes: list[Wish]) -> list[Take]:
        ask = self._application.darkroom.ask
        return [ask(project, studio, shot, quality, size) for shot, quality, size in wishes]
