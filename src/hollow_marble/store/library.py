"""The project files of a data folder."""

from __future__ import annotations

import re
import unicodedata
import uuid
from dataclasses import dataclass
from functools import cached_property
from pathlib import Path

from hollow_marble.core.errors import HollowMarbleError, NotFoundError
from hollow_marble.core.locks import LIBRARY, RankedLock
from hollow_marble.store.database import SUFFIX, Database, now
from hollow_marble.store.ledger import Ledger


@dataclass(frozen=True)
class ProjectEntry:
    """What the list of projects shows."""

    id: str
    name: str
    maker: str
    created: str


class Project:
    """An open project."""

    def __init__(self, path: Path) -> None:
        self.database = Database(path)
        self.file = file_at(path)
        self.ledger = Ledger(self.database)

    @cached_property
    def entry(self) -> ProjectEntry:
        """What the file says of itself."""
        values = {row["key"]: row["value"] for row in self.database.rows("select key, value from project")}
        if not values:
            raise HollowMarbleError(f"{self.database.path.name} holds no project.")
        return ProjectEntry(values["id"], values["name"], values["maker"], values["created"])

    def close(self) -> None:
        """Finish what is being written, and close the file."""
        self.ledger.close()
        self.database.close()


def file_at(path: Path) -> tuple[int, int] | None:
    """Which file lies at a path, whatever it is called; None where none does."""
    try:
        found = path.stat()
    except FileNotFoundError:
        return None
    return found.st_dev, found.st_ino


@dataclass(frozen=True)
class _Known:
    """What a file said of itself."""

    file: tuple[int, int] | None
    entry: ProjectEntry


class Library:
    """Projects by id. A file is opened when it is first asked for and stays open until it is put away.

    A file that is taken out of the folder, or exchanged for another, is let go of: what is written to it would be lost.
    """

    def __init__(self, folder: Path) -> None:
        self.folder = folder / "projects"
        self.folder.mkdir(parents=True, exist_ok=True)
        self._lock = RankedLock("library", LIBRARY)
        self._open: dict[Path, Project] = {}
        self._known: dict[Path, _Known] = {}

    def create(self, name: str, maker: str = "") -> Project:
        """A new project with one sheet, a form, a studio and a board."""
        name = " ".join(name.split())
        if not name or len(name) > 60:
            raise HollowMarbleError("A project needs a name of 1 to 60 letters.")
        with self._lock:
            if any(entry.name.casefold() == name.casefold() for entry in self.entries()):
                raise HollowMarbleError(f"There is a project named {name} already. Choose another name.")
            path = self._free_path(name)
            try:
                project = Project(path)
                with project.database.write() as connection:
                    for key, value in (
                        ("id", uuid.uuid4().hex[:12]),
                        ("name", name),
                        ("maker", maker),
                        ("created", now()),
                    ):
                        connection.execute("insert into project (key, value) values (?, ?)", (key, value))
                    project.ledger.create("sheet", "Sheet 1", within=connection)
                    project.ledger.create("form", name, within=connection)
                    project.ledger.create("studio", "Studio", within=connection)
                    project.ledger.create("board", "Board", within=connection)
            except BaseException:
                for leftover in (path, *(path.with_name(path.name + end) for end in ("-wal", "-shm"))):
                    leftover.unlink(missing_ok=True)
                raise
            self._open[path] = project
            return project

    def entries(self) -> list[ProjectEntry]:
        """All projects, newest first. A file that cannot be read is left out."""
        found = []
        with self._lock:
            for path in {*self._known, *self._open}:
                self._is_here(path)
        for path in sorted(self.folder.glob(f"*{SUFFIX}")):
            try:
                found.append(self._entry(path))
            except HollowMarbleError:
                continue
        return sorted(found, key=lambda entry: entry.created, reverse=True)

    def get(self, ident: str) -> Project:
        """A project by its id."""
        with self._lock:
            path = self._path_of(ident)
            if path is None or not self._is_here(path):
                self.entries()  # a file may have been put into the folder since
                path = self._path_of(ident)
            if path is None:
                raise NotFoundError("There is no such project in the data folder.")
            if path not in self._open:
                self._open[path] = Project(path)
            return self._open[path]

    def _is_here(self, path: Path) -> bool:
        """Whether the file that is known at a path lies there still; where not, it is forgotten."""
        opened, known, now_there = self._open.get(path), self._known.get(path), file_at(path)
        if now_there is not None and all(one is None or one.file == now_there for one in (opened, known)):
            return True
        if opened is not None:
            self._open.pop(path).close()
        if known is not None:
            del self._known[path]
        return False

    def _path_of(self, ident: str) -> Path | None:
        return next((path for path, known in self._known.items() if known.entry.id == ident), None)

    def named(self, name: str) -> Project:
        """A project by its name or id."""
        for entry in self.entries():
            if name.casefold() in (entry.name.casefold(), entry.id):
                return self.get(entry.id)
        known = ", ".join(entry.name for entry in self.entries()) or "none yet"
        raise NotFoundError(f"There is no project named {name}. Projects here: {known}.")

    def close(self) -> None:
        """Close all files."""
        with self._lock:
            for project in self._open.values():
                project.close()
            self._open.clear()
            self._known.clear()

    def _entry(self, path: Path) -> ProjectEntry:
        """What a file says of itself. A file that nobody works on is not kept open for it."""
        with self._lock:
            if path not in self._known:
                opened = self._open.get(path)
                project = opened or Project(path)
                try:
                    self._known[path] = _Known(project.file, project.entry)
                finally:
                    if opened is None:
                        project.close()
            return self._known[path].entry

    def _free_path(self, name: str) -> Path:
        plain = unicodedata.normalize("NFKD", name).encode("ascii", "ignore").decode().lower()
        stem = re.sub(r"[^a-z0-9]+", "-", plain).strip("-") or "project"
        for suffix in ("", *(f"-{n}" for n in range(2, 1000))):
            path = self.folder / f"{stem}{suffix}{SUFFIX}"
            if not path.exists():
                return path
        raise HollowMarbleError("There are too many projects of this name. Choose another one.")
