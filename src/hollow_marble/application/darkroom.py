"""Takes: pictures of shots. What a take needs is in the project file; what it is so far lies beside the projects.

A take is a task like any other. What is special is that it is kept: it goes on after the worker or the whole server has died, and
what it shows on the way is in the cache folder, never in the project.
"""

from __future__ import annotations

import contextlib
import logging
from dataclasses import asdict
from pathlib import Path
from typing import Any

from hollow_marble.application.workspace import Workspace
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.edit import asset_of
from hollow_marble.documents.form.model import Form
from hollow_marble.documents.studio.model import Shot
from hollow_marble.documents.studio.staging import scene_of, shown
from hollow_marble.jobs.executor import Executor
from hollow_marble.jobs.local import FAST, PLAIN, LocalTransport
from hollow_marble.jobs.messages import Develop, Exposed
from hollow_marble.jobs.task import ENDED, Task, Work, blob
from hollow_marble.store.database import FullError, check_room
from hollow_marble.store.library import Project
from hollow_marble.store.takes import Take, add_take, end_take, get_take, unfinished_takes, update_take

_log = logging.getLogger(__name__)

SAMPLES = {"draft": 8, "review": 32, "final": 192}
ROOM_A_TAKE = 20_000_000
"""Bytes that must be free for a take, beside those of its picture: it may work for hours, and would end with nothing to keep it in."""

LONGEST = 6 * 3600.0
"""Seconds a take may be developed without a break."""

FAILS = "The renderer stopped twice on this picture. Try a smaller size, or draft quality."
_KEPT_PICTURES = 3
"""Pictures on the way that stay: a page that still shows an older one finds it."""


class Darkroom:
    """Asks the executor for takes and keeps what comes of them. Methods may be called from any thread."""

    def __init__(self, workspace: Workspace, executor: Executor) -> None:
        self._workspace, self._executor = workspace, executor
        self._cache = workspace.data / "cache" / "takes"

    def open(self) -> None:
        """Go on with takes an earlier server left undone."""
        for entry in self._workspace.library.entries():
            project = self._workspace.library.get(entry.id)
            for take in unfinished_takes(project.database):
                self._queue(project, take)

    def ask(self, project: Project, studio: str, shot: Shot, quality: str, size: tuple[int, int] | None = None) -> Take:
        """Queue a take of a shot at draft, review or final quality."""
        if quality not in SAMPLES:
            raise HollowMarbleError("Choose draft, review or final quality.")
        form = self._form(project, shot)
        if not shown(form, shot.setting):
            raise HollowMarbleError("There is nothing to photograph yet. Begin a part in Form, then update the shot.")
        sheets = [(r.sheet, project.ledger.row(r.sheet).head) for r in form.references]
        size = size or (shot.width, shot.height)
        check_room(project.database.path, ROOM_A_TAKE + 6 * size[0] * size[1])
        take = add_take(project.database, studio, shot, list(dict(sheets).items()), quality, size, SAMPLES[quality])
        self._queue(project, take)
        return take

    def cancel(self, project: Project, ident: str) -> Take:
        """Give a take up; the picture so far stays."""
        take = get_take(project.database, ident)
        task = self._executor.cancel(ident)
        if task is None:
            raise HollowMarbleError("That take is not being developed.")
        if task.state in ENDED:
            task.over.wait()
            take = get_take(project.database, ident)
        return take

    def resume(self, project: Project, ident: str) -> Take:
        """Go on with a take that was cancelled or failed."""
        take = get_take(project.database, ident)
        if take.state not in ("cancelled", "failed"):
            raise HollowMarbleError("That take is not waiting to be resumed.")
        update_take(project.database, ident, state="queued", problem=None)
        take = get_take(project.database, ident)
        self._queue(project, take)
        return take

    def picture(self, take: Take) -> Path | None:
        """The newest picture of a take on its way, None where there is none."""
        return max(self._pictures(take.id), key=_samples_of, default=None)

    def told(self, take: Take) -> dict[str, Any]:
        """What the interface shows of a take. `picture` names its present picture; it changes when the picture does."""
        left = None
        if take.state == "developing" and take.samples:
            left = take.seconds / take.samples * (take.wanted - take.samples)
        picture = take.picture
        if take.state in ("queued", "developing"):
            newest = self.picture(take)
            picture = newest.stem if newest is not None else take.picture
        return {**asdict(take), "frozen": take.frozen.model_dump(mode="json"), "left": left, "picture": picture}

    def checkpoint(self, ident: str) -> Path:
        """Where what a take's passes add up to is kept."""
        return self._cache / ident / "checkpoint.npz"

    def _queue(self, project: Project, take: Take) -> None:
        task = Task(
            take.id,
            project.entry.id,
            take.name,
            "render",
            lambda: self._work(project, take.id),
            FAILS,
            limit=LONGEST,
            begun=lambda task: self._begun(project, task.id),
            heard=lambda _task, news: self._exposed(project, take.id, news),
            ended=lambda task: self._ended(project, task),
        )
        self._news(project, take.id)
        self._executor.submit(task)

    def _work(self, project: Project, ident: str) -> Work:
        take = get_take(project.database, ident)
        form = self._form(project, take.frozen)
        evaluator = self._workspace.evaluator(project)
        scene = scene_of(take.frozen.setting, form, evaluator, take.width, take.frozen.colourways)
        return Work("develop", Develop(take.width, take.height, take.wanted, self.checkpoint(ident)), (blob(scene),))

    def _begun(self, project: Project, ident: str) -> None:
        update_take(project.database, ident, state="developing")
        self._news(project, ident)

    def _exposed(self, project: Project, ident: str, news: Exposed) -> None:
        """A better picture has come: it is put beside the projects, the oldest ones go."""
        folder = self._cache / ident
        try:
            folder.mkdir(parents=True, exist_ok=True)
            fresh = folder / f"{news.samples}.new"
            fresh.write_bytes(news.picture)
            fresh.replace(folder / f"{news.samples}.png")
            for old in sorted(self._pictures(ident), key=_samples_of)[:-_KEPT_PICTURES]:
                old.unlink(missing_ok=True)
        except OSError:
            _log.warning("a picture on the way could not be kept: there may be no room on the disk")
        engine = self._engine()
        update_take(
            project.database,
            ident,
            samples=news.samples,
            noise=news.noise,
            raw_noise=news.raw_noise,
            seconds=news.seconds,
            engine=engine,
        )
        self._news(project, ident)

    def _ended(self, project: Project, task: Task) -> None:
        """The picture of a take that has ended belongs to the project; one that was given up can go on from its checkpoint."""
        state, problem = task.state, task.problem
        newest = max(self._pictures(task.id), key=_samples_of, default=None)
        layers = {}
        with contextlib.suppress(OSError):
            if newest is not None:
                layers = {"picture": asset_of(newest.read_bytes(), "image/png")}
        if state == "done" and not layers:
            state, problem = (
                "failed",
                "The picture was developed but could not be kept. Make room on the disk, then resume the take.",
            )
        try:
            end_take(project.database, task.id, state, problem, layers)
        except FullError as error:
            end_take(project.database, task.id, "failed", f"{error} Then resume the take.", {})
        else:
            if state == "done":
                for file in (self.checkpoint(task.id), *self._pictures(task.id)):
                    file.unlink(missing_ok=True)
        self._news(project, task.id)

    def _pictures(self, ident: str) -> list[Path]:
        return list((self._cache / ident).glob("*.png"))

    def _form(self, project: Project, shot: Shot) -> Form:
        form = project.ledger.state(shot.form, shot.form_edit or None, at_head=False)
        if not isinstance(form, Form):
            raise HollowMarbleError("That shot was not made of a form. Keep the shot anew.")
        return form

    def _engine(self) -> str | None:
        transport = self._executor.transport
        way = transport.way("render") if isinstance(transport, LocalTransport) else None
        return way if way in (FAST, PLAIN) else None

    def _news(self, project: Project, ident: str) -> None:
        self._workspace.publish(project.entry.id, "take", self.told(get_take(project.database, ident)))


def _samples_of(picture: Path) -> int:
    return int(picture.stem)
