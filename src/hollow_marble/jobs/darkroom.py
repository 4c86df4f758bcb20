"""The queue of takes: one picture is developed at a time, oldest first.

What a take needs is in the project file; what its passes add up to so far lies in a cache file, so a take goes on
after the worker or the whole server has died.
"""

from __future__ import annotations

import itertools
import threading
from collections.abc import Callable
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import Any

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.form.evaluation import FormEvaluator
from hollow_marble.documents.form.model import Form
from hollow_marble.documents.studio.model import Shot
from hollow_marble.documents.studio.staging import scene_of, shown, take_level
from hollow_marble.jobs.messages import Develop, Finished, Progress, Stop
from hollow_marble.jobs.tracer_process import TracerProcess
from hollow_marble.store.assets import drop_asset_if_unused, keep_asset, load_asset
from hollow_marble.store.library import Library, Project
from hollow_marble.store.takes import Take, add_take, get_take, list_takes, update_take

SAMPLES = {"draft": 8, "review": 32, "final": 192}
MOST_DEATHS = 3
"""A take that takes the worker down this often is given up."""

Publish = Callable[[str, str, dict[str, Any]], None]
"""Called with the project id, the kind of news and its content."""


@dataclass
class _Current:
    project: Project
    take: Take
    message: Develop
    deaths: int = 0


class Darkroom:
    """Owns the render worker. Methods may be called from any thread."""

    def __init__(self, library: Library, cache: Path, publish: Publish) -> None:
        self._library, self._cache, self._publish = library, cache, publish
        self._lock = threading.RLock()
        self._work = threading.Condition(self._lock)
        self._waiting: list[tuple[Project, str]] = []
        self._current: _Current | None = None
        self._runs = itertools.count(1)
        self._closed = False
        self.tracer = TracerProcess(self._heard, self._died)
        self._thread = threading.Thread(target=self._run, daemon=True)

    def open(self) -> None:
        """Bring the worker up and go on with takes an earlier server left undone."""
        for entry in self._library.entries():
            project = self._library.get(entry.id)
            for take in list_takes(project.database):
                if take.state in ("queued", "developing"):
                    self._waiting.append((project, take.id))
        self.tracer.start()
        self._thread.start()

    def close(self) -> None:
        """Stop; undone takes stay in the project and go on next time."""
        with self._work:
            self._closed = True
            self._work.notify_all()
        self.tracer.close()

    def ask(self, project: Project, studio: str, shot: Shot, quality: str, size: tuple[int, int] | None = None) -> Take:
        """Queue a take of a shot at draft, review or final quality."""
        if quality not in SAMPLES:
            raise HollowMarbleError("Choose draft, review or final quality.")
        form = self._form(project, shot)
        if not shown(form):
            raise HollowMarbleError("There is nothing to photograph yet. Begin a part in Form, then update the shot.")
        sheets = [(r.sheet, project.ledger.row(r.sheet).head) for r in form.references]
        size = size or (shot.width, shot.height)
        take = add_take(project.database, studio, shot, list(dict(sheets).items()), quality, size, SAMPLES[quality])
        with self._work:
            self._waiting.append((project, take.id))
            self._work.notify_all()
        self._news(project, take)
        return take

    def cancel(self, project: Project, ident: str) -> Take:
        """Give a take up; the picture so far stays."""
        take = get_take(project.database, ident)
        if take.state not in ("queued", "developing"):
            raise HollowMarbleError("That take is not being developed.")
        with self._lock:
            waiting = [(p, t) for p, t in self._waiting if t != ident]
            in_queue = len(waiting) < len(self._waiting)
            self._waiting = waiting
        if in_queue:
            return self._set(project, ident, state="cancelled")
        current = self._current
        if current is not None and current.take.id == ident:
            self.tracer.ask(Stop(current.message.run))
        return take

    def resume(self, project: Project, ident: str) -> Take:
        """Go on with a take that was cancelled or failed."""
        take = get_take(project.database, ident)
        if take.state not in ("cancelled", "failed"):
            raise HollowMarbleError("That take is not waiting to be resumed.")
        take = self._set(project, ident, state="queued", problem=None)
        with self._work:
            self._waiting.append((project, ident))
            self._work.notify_all()
        return take

    def _run(self) -> None:
        while True:
            with self._work:
                while not self._closed and (self._current is not None or not self._waiting):
                    self._work.wait()
                if self._closed:
                    return
                project, ident = self._waiting.pop(0)
                take = get_take(project.database, ident)
                try:
                    message = self._message(project, take)
                except HollowMarbleError as error:
                    self._set(project, ident, state="failed", problem=str(error))
                    continue
                self._current = _Current(project, take, message)
                self._set(project, ident, state="developing")
            self.tracer.ask(message)

    def _message(self, project: Project, take: Take) -> Develop:
        form = self._form(project, take.frozen)
        evaluator = FormEvaluator(lambda sha: load_asset(project.database, sha)[0])
        level = take_level(take.height)
        scene = scene_of(take.frozen.setting, form, evaluator, level)
        return Develop(
            take.id, next(self._runs), scene, take.width, take.height, take.wanted, self._checkpoint(take.id)
        )

    def _form(self, project: Project, shot: Shot) -> Form:
        form = project.ledger.state(shot.form, shot.form_edit or None, at_head=False)
        assert isinstance(form, Form)
        return form

    def _checkpoint(self, ident: str) -> Path:
        return self._cache / "takes" / f"{ident}.npz"

    def _heard(self, message: Any) -> None:
        with self._work:
            current = self._current
            if not isinstance(message, Progress | Finished) or current is None or message.take != current.take.id:
                self._publish("", "renderer", {"note": self.tracer.note})
                return
            project, ident = current.project, current.take.id
            if isinstance(message, Progress):
                old = get_take(project.database, ident).picture
                with project.database.write():
                    sha = keep_asset(project.database, message.picture, "image/png")
                    self._set(
                        project,
                        ident,
                        picture=sha,
                        samples=message.samples,
                        noise=message.noise,
                        seconds=message.seconds,
                        engine=self.tracer.variant,
                    )
                    if old != sha:
                        drop_asset_if_unused(project.database, old)
                return
            state = "failed" if message.problem else "cancelled" if message.stopped else "done"
            self._set(project, ident, state=state, problem=message.problem)
            if state == "done":
                self._checkpoint(ident).unlink(missing_ok=True)
            self._current = None
            self._work.notify_all()

    def _died(self) -> None:
        """The worker is gone: bring it back and give it the same picture again; it goes on from the checkpoint."""
        with self._work:
            if self._closed:
                return
            current = self._current
            if current is not None:
                current.deaths += 1
                if current.deaths >= MOST_DEATHS:
                    sentence = "The renderer stopped three times on this picture. Try a smaller size, or draft quality."
                    self._set(current.project, current.take.id, state="failed", problem=sentence)
                    self._current = current = None
                    self._work.notify_all()
        self.tracer.start()
        if current is not None:
            self.tracer.ask(current.message)

    def _set(self, project: Project, ident: str, **fields: Any) -> Take:
        update_take(project.database, ident, **fields)
        take = get_take(project.database, ident)
        self._news(project, take)
        return take

    def _news(self, project: Project, take: Take) -> None:
        self._publish(project.entry.id, "take", take_news(take))


def take_news(take: Take) -> dict[str, Any]:
    """What the interface shows of a take, with the time left where it can be told (seconds)."""
    left = None
    if take.state == "developing" and take.samples:
        left = take.seconds / take.samples * (take.wanted - take.samples)
    return {**asdict(take), "frozen": take.frozen.model_dump(mode="json"), "left": left}
