"""Everything that runs over one data folder."""

from __future__ import annotations

import hashlib
import pickle
import uuid
from collections.abc import Callable
from pathlib import Path
from typing import Any

from hollow_marble.application.darkroom import Darkroom
from hollow_marble.application.editing import Editing
from hollow_marble.application.workspace import Publish, Workspace, nobody
from hollow_marble.core.solids.solid import Kernel
from hollow_marble.jobs.executor import Executor
from hollow_marble.jobs.local import LocalTransport
from hollow_marble.jobs.task import SOON, Task, Work
from hollow_marble.jobs.transport import Transport
from hollow_marble.store.library import Project

_SOLID_LIMIT = 90.0
"""Seconds a step of a solid may take."""
_TOO_MUCH = (
    "This is more than the kernel can do: it gave up, or took longer than a minute and a half. Often a rounding smaller than the wall, or "
    "an edge that is only touched, is to blame: change that number a little, or do the rounding after the hollowing."
)


class Application:
    """The workspace, the way to edits, and the executor of long work with the darkroom on top."""

    def __init__(self, data: Path, publish: Publish = nobody, transport: Transport | None = None) -> None:
        self.workspace = Workspace(data, publish)
        self.editing = Editing(self.workspace)
        self.executor = Executor(transport or LocalTransport(), self._told)
        self.darkroom = Darkroom(self.workspace, self.executor)
        self.workspace.kernel_of = self._kernel

    def open(self, unfinished: bool = True) -> None:
        """Bring workers up, and go on with takes that were left undone."""
        self.executor.open(lambda: self.workspace.publish("", "renderer", {"note": self.renderer}))
        self.executor.transport.warm("render")
        if unfinished:
            self.darkroom.open()

    def close(self) -> None:
        """End workers, finish what is being written."""
        self.executor.close()
        self.workspace.close()

    @property
    def renderer(self) -> str:
        """What the screen says about the renderer."""
        return self.executor.transport.note("render")

    def run(self, project: Project, what: str, prepare: Callable[[], Work], limit: float, fails: str) -> Any:
        """Do something long that somebody waits for; it is shown, and can be given up, like any other task."""
        self.executor.open()
        task = Task(uuid.uuid4().hex[:12], project.entry.id, what, "geometry", prepare, fails, limit, SOON)
        return self.executor.submit(task).wait()

    def solids(self, owner: str, what: str, work: Work, limit: float, fails: str, quiet: float = 0.0) -> Any:
        """Have the B-rep kernel's worker do something, once: what brought it down would do so again."""
        self.executor.open()
        ident = uuid.uuid4().hex[:12]
        task = Task(ident, owner, what, "solids", None, fails, limit, SOON, work, tries=1, quiet=quiet)
        return self.executor.submit(task).wait()

    def _kernel(self, owner: str) -> Kernel:
        """The B-rep kernel in a process of its own, for a project; what it was asked before is taken from the cache folder."""

        def asked(name: str, *arguments: Any) -> Any:
            said = pickle.dumps((name, arguments), protocol=pickle.HIGHEST_PROTOCOL)
            key = hashlib.sha256(said).hexdigest()
            kept = self.workspace.built.get(key)
            if kept is not None:
                return pickle.loads(kept)  # noqa: S301 — from our own folder
            work = Work("done", (name, arguments))
            answer = self.solids(owner, "Working out a solid", work, _SOLID_LIMIT, _TOO_MUCH, quiet=1.0)
            self.workspace.built.put(key, lambda: pickle.dumps(answer, protocol=pickle.HIGHEST_PROTOCOL))
            return answer

        return asked

    def _told(self, owner: str, task: dict[str, Any]) -> None:
        self.workspace.publish(owner, "task", task)
