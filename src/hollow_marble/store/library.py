"""The project files of a data folder."""

from __future__ import annotations

import itertools
import re
import shutil
import unicodedata
import uuid
from dataclasses import dataclass
from functools import cached_property
from pathlib import Path
from typing import IO

from hollow_marble.core.errors import HollowMarbleError, NotFoundError
from hollow_marble.core.locks import LIBRARY, RankedLock
from hollow_marble.store.arriving import check_arrived
from hollow_marble.store.database import READABLE_FROM, SUFFIX, Database, NewerError, check_room, migrations, now
from hollow_marble.store.ledger import Ledger


@dataclass(frozen=True)
class ProjectEntry:
    """What a project file says of itself."""

    id: str
    name: str
    maker: str
    created: str
    newer: bool
    """Written by a newer application, so that it can only be looked at here."""


@dataclass(frozen=True)
class ProjectCard(ProjectEntry):
    """What the shelf shows of a project.

    changed : time of its last edit or take; bytes : of its file
    take : id and picture of its newest take; form, sheet : id and head of those to show where there is none
    """

    changed: str
    bytes: int
    take: tuple[str, str] | None = None
    form: tuple[str, int] | None = None
    sheet: tuple[str, int] | None = None


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
        return ProjectEntry(values["id"], values["name"], values["maker"], values["created"], self.database.newer)

    def card(self) -> ProjectCard:
        """What the shelf shows of it."""
        path, entry = self.database.path, self.entry
        rows = (
            self.database.row("select made from edit order by id desc limit 1"),
            self.database.row("select made from take order by place desc limit 1"),
        )
        take = self.database.row("select id, picture from take where picture is not null order by place desc limit 1")
        sheets = [row for row in self.ledger.rows("sheet") if row.head is not None]
        sheet = next((row for row in sheets if row.chosen), sheets[0] if sheets else None)
        form = next(iter(self.ledger.rows("form")), None)
        return ProjectCard(
            **vars(entry),
            changed=max(entry.created, *(row["made"] for row in rows if row is not None), ""),
            bytes=sum(one.stat().st_size for one in files_of(path) if one.exists()),
            take=(take["id"], take["picture"]) if take is not None else None,
            form=(form.id, form.head) if form is not None and form.head is not None else None,
            sheet=(sheet.id, sheet.head) if sheet is not None and sheet.head is not None else None,
        )

    def call(self, name: str, maker: str) -> None:
        """Give it another name and maker."""
        self._write({"name": name, "maker": maker})

    def begin_anew(self, name: str) -> None:
        """Make a copy a project of its own: another id and name; takes that were being developed are so elsewhere."""
        self._write({"id": uuid.uuid4().hex[:12], "name": name})
        with self.database.write() as connection:
            connection.execute(
                "update take set state = 'failed', problem = ? where state in ('queued', 'developing')",
                ("The project was copied before this take was done. Take it again.",),
            )

    def _write(self, values: dict[str, str]) -> None:
        with self.database.write() as connection:
            connection.executemany("update project set value = ?2 where key = ?1", list(values.items()))
        self.__dict__.pop("entry", None)

    def close(self) -> None:
        """Finish what is being written, and close the file."""
        self.ledger.close()
        self.database.close()


def files_of(path: Path) -> tuple[Path, ...]:
    """A project file and what SQLite keeps beside it while it is open."""
    return (path, *(path.with_name(path.name + end) for end in ("-wal", "-shm")))


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
        self.folder, self.away, self._coming = (folder / name for name in ("projects", "put-away", "cache/coming"))
        for place in (self.folder, self.away, self._coming):
            place.mkdir(parents=True, exist_ok=True)
        self._lock = RankedLock("library", LIBRARY)
        self._open: dict[Path, Project] = {}
        self._known: dict[Path, _Known] = {}
        self._cards: dict[Path, tuple[tuple[int, ...], ProjectCard]] = {}

    def create(self, name: str, maker: str = "") -> Project:
        """A new project with one sheet, a form, a studio and a board."""
        with self._lock:
            name = self._new_name(name)
            path = _free_path(self.folder, name)
            try:
                project = Project(path)
                with project.database.write() as connection:
                    for key, value in (
                        ("id", uuid.uuid4().hex[:12]),
                        ("name", name),
                        ("maker", maker),
                        ("created", now()),
                        ("readable_from", str(READABLE_FROM)),
                    ):
                        connection.execute("insert into project (key, value) values (?, ?)", (key, value))
                    project.ledger.create("brief", "Brief", within=connection)
                    project.ledger.create("sheet", "Sheet 1", within=connection)
                    project.ledger.create("form", name, within=connection)
                    project.ledger.create("studio", "Studio", within=connection)
                    project.ledger.create("board", "Board", within=connection)
            except BaseException:
                _remove(path)
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

    def cards(self) -> list[ProjectCard]:
        """What the shelf shows of every project, the one changed last first."""
        found = []
        for entry in self.entries():
            try:
                with self._lock:
                    found.append(self._card(entry.id))
            except HollowMarbleError:
                continue  # gone meanwhile, or damaged
        return sorted(found, key=lambda card: card.changed, reverse=True)

    def put_away_entries(self) -> list[ProjectEntry]:
        """Projects that were put away, by name."""
        found = []
        for path in self.away.glob(f"*{SUFFIX}"):
            try:
                found.append(_entry_of(path))
            except HollowMarbleError:
                continue
        return sorted(found, key=lambda entry: entry.name.casefold())

    def rename(self, ident: str, name: str, maker: str) -> Project:
        """Give a project another name and maker. Its file keeps the name it was made with."""
        with self._lock:
            project = self.get(ident)
            project.call(self._new_name(name, besides=ident), " ".join(maker.split())[:60])
            self._forget(project.database.path)
            return project

    def duplicate(self, ident: str) -> Project:
        """A copy of a project beside it, with all its documents, ledgers and takes."""
        name = f"{self.get(ident).entry.name[:52]} copy"
        path = self.copy_of(ident)
        try:
            return self._taken_in(path, len(migrations()), name)[0]
        finally:
            _remove(path)

    def copy_of(self, ident: str) -> Path:
        """The project as one file for somebody else; whoever asks unlinks it when it is sent."""
        project = self.get(ident)
        path = self._coming / f"{uuid.uuid4().hex}{SUFFIX}"
        check_room(path, project.card().bytes)
        project.database.copy_to(path)
        return path

    def receive(self, stream: IO[bytes], length: int, name: str) -> tuple[Project, str]:
        """A project file that comes from elsewhere, and what is to be said of it.

        Raises
        ------
        HollowMarbleError
            where it is no project of a format that is known here; then nothing of it stays.
        """
        path = self._coming / f"{uuid.uuid4().hex}{SUFFIX}"
        check_room(path, 2 * length)
        try:
            with path.open("wb") as file:
                shutil.copyfileobj(stream, file, 1 << 20)
            version = check_arrived(path, name)
            return self._taken_in(path, version)
        finally:
            _remove(path)

    def put_away(self, ident: str) -> None:
        """Take a project off the shelf; its file goes to the folder beside."""
        with self._lock:
            project = self.get(ident)
            path, name = project.database.path, project.entry.name
            project.close()
            self._open.pop(path, None)
            self._forget(path)
            _move(path, _free_path(self.away, name))

    def bring_back(self, ident: str) -> Project:
        """Put a project back on the shelf."""
        with self._lock:
            for path in self.away.glob(f"*{SUFFIX}"):
                entry = _entry_of(path)
                if entry.id == ident:
                    return self._taken_in(path, len(migrations()))[0]
        raise NotFoundError("There is no such project among those put away.")

    def _taken_in(self, path: Path, version: int, copied_as: str = "") -> tuple[Project, str]:
        """Put a file on the shelf: brought up to date, with a name and an id that no other has. A copy gets its own."""
        newest = len(migrations())
        with self._lock:
            arrived = Project(path)  # brings it up to this format
            try:
                was = arrived.entry.name
                name = self._free_name(copied_as or was)
                if arrived.entry.newer:
                    self._check_newer(arrived.entry, name)
                elif copied_as or any(entry.id == arrived.entry.id for entry in self.entries()):
                    arrived.begin_anew(name)
                elif name != was:
                    arrived.call(name, arrived.entry.maker)
            finally:
                arrived.close()
            place = _free_path(self.folder, name)
            _move(path, place)
            project = self._open[place] = Project(place)
        said = [f"{was} is here already, so it came in as {name}."] if name != was else []
        if version > newest:
            said.append(str(NewerError(name)))
        if version < newest:
            said.append(
                f"{name} was made by an earlier Hollow Marble (format {version}) and was brought up to format {newest}."
            )
        return project, " ".join(said)

    def _check_newer(self, entry: ProjectEntry, name: str) -> None:
        """What is only looked at keeps its name and id, so both must be free."""
        if name != entry.name or any(other.id == entry.id for other in self.entries()):
            raise HollowMarbleError(
                f"{entry.name} was written by a newer Hollow Marble and cannot be given another name here; there is one of its name "
                "already. Rename or put away that one first."
            )

    def _new_name(self, name: str, besides: str = "") -> str:
        """A name that can be had, tidied."""
        name = " ".join(name.split())
        if not name or len(name) > 60:
            raise HollowMarbleError("A project needs a name of 1 to 60 letters.")
        if any(entry.name.casefold() == name.casefold() and entry.id != besides for entry in self.entries()):
            raise HollowMarbleError(f"There is a project named {name} already. Choose another name.")
        return name

    def _free_name(self, name: str) -> str:
        """The name, or the first of "name 2", "name 3" … that nobody has."""
        taken = {entry.name.casefold() for entry in self.entries()}
        tried = itertools.chain((name,), (f"{name[:55]} {number}" for number in itertools.count(2)))
        return next(one for one in tried if one.casefold() not in taken)

    def _card(self, ident: str) -> ProjectCard:
        path = self._path_of(ident)
        if path is None:
            raise NotFoundError("There is no such project in the data folder.")
        stamp = tuple(
            number
            for one in files_of(path)[:2]
            if one.exists()
            for number in (one.stat().st_mtime_ns, one.stat().st_size)
        )
        known = self._cards.get(path)
        if known is not None and known[0] == stamp:
            return known[1]
        opened = self._open.get(path)
        project = opened or Project(path)
        try:
            card = project.card()
        finally:
            if opened is None:
                project.close()
        self._cards[path] = (stamp, card)
        return card

    def _forget(self, path: Path) -> None:
        self._known.pop(path, None)
        self._cards.pop(path, None)

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


def _free_path(folder: Path, name: str) -> Path:
    """Where a file of that name can lie."""
    plain = unicodedata.normalize("NFKD", name).encode("ascii", "ignore").decode().lower()
    stem = re.sub(r"[^a-z0-9]+", "-", plain).strip("-") or "project"
    for suffix in ("", *(f"-{n}" for n in range(2, 1000))):
        path = folder / f"{stem}{suffix}{SUFFIX}"
        if not path.exists():
            return path
    raise HollowMarbleError("There are too many projects of this name. Choose another one.")


def _entry_of(path: Path) -> ProjectEntry:
    project = Project(path)
    try:
        return project.entry
    finally:
        project.close()


def _remove(path: Path) -> None:
    for leftover in files_of(path):
        leftover.unlink(missing_ok=True)


def _move(path: Path, place: Path) -> None:
    """Move a closed project file, with a log that somebody who still read kept it from folding in."""
    file, log, shared = files_of(path)
    if log.exists():
        log.rename(files_of(place)[1])
    file.rename(place)
    shared.unlink(missing_ok=True)
