"""What requests share: the library of projects, the darkroom, news, and what was worked out for each document."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable
from pathlib import Path
from typing import Any

from flask import current_app, request

from hollow_marble.documents.form.evaluation import FormEvaluator
from hollow_marble.documents.form.model import Form
from hollow_marble.documents.kinds import Document
from hollow_marble.documents.sheet.model import Sheet
from hollow_marble.documents.sheet.raster import SheetRaster
from hollow_marble.documents.sheet.raster.ink import drawing_rules
from hollow_marble.jobs.darkroom import Darkroom
from hollow_marble.store.assets import load_asset
from hollow_marble.store.cache import FolderCache
from hollow_marble.store.library import Library, Project
from hollow_marble.web.events import Broker

_KEPT_RASTERS = 4


class Services:
    """One set for a running server."""

    def __init__(self, data: Path) -> None:
        self.data = data
        self.library = Library(data)
        self.news = Broker()
        self.darkroom = Darkroom(self.library, data / "cache", self.news.publish)
        self.drawn = FolderCache(data / "cache" / "ink", drawing_rules())
        self._lock = threading.RLock()
        self._rasters: OrderedDict[tuple[str, str], SheetRaster] = OrderedDict()
        self._evaluators: dict[str, FormEvaluator] = {}

    def project(self, ident: str) -> Project:
        return self.library.get(ident)

    def loader(self, project: Project) -> Callable[[str], bytes]:
        """Reads assets of a project by SHA-256."""
        return lambda sha: load_asset(project.database, sha)[0]

    def raster(self, project: Project, sheet: str) -> SheetRaster:
        """The pixels of a sheet; the least recently used sheets' pixels are let go."""
        key = (project.entry.id, sheet)
        with self._lock:
            if key not in self._rasters:
                self._rasters[key] = SheetRaster(self.loader(project), self.drawn)
                while len(self._rasters) > _KEPT_RASTERS:
                    self._rasters.popitem(last=False)
            self._rasters.move_to_end(key)
            return self._rasters[key]

    def current_raster(self, project: Project, ident: str) -> tuple[Sheet, SheetRaster]:
        """A sheet at its head and its pixels, up to date."""
        sheet = project.ledger.state(ident)
        assert isinstance(sheet, Sheet)
        raster = self.raster(project, ident)
        raster.update(sheet)
        return sheet, raster

    def evaluator(self, project: Project) -> FormEvaluator:
        """Works out the forms of a project."""
        with self._lock:
            return self._evaluators.setdefault(project.entry.id, FormEvaluator(self.loader(project)))

    def form(self, project: Project, ident: str, edit: int | None = None) -> Form:
        """A form at its head, or at a line of its ledger (0 is the start)."""
        state = (
            project.ledger.state(ident) if edit is None else project.ledger.state(ident, edit or None, at_head=False)
        )
        assert isinstance(state, Form)
        return state

    def check(self, project: Project, document: Document) -> None:
        """Refuse a state of a form whose recipes cannot be worked out."""
        if isinstance(document, Form):
            for part in document.parts:
                self.evaluator(project).body(part)

    def changed(self, project: Project, document: str, head: int | None) -> None:
        """Tell the other tabs that a document stands somewhere else."""
        content: dict[str, Any] = {"document": document, "head": head, "tab": request.headers.get("X-Tab", "")}
        self.news.publish(project.entry.id, "document", content)

    def close(self) -> None:
        self.drawn.close()
        self.darkroom.close()
        self.news.close()
        self.library.close()


def services() -> Services:
    """The services of the running server."""
    found: Services = current_app.extensions["hollow_marble"]
    return found
