"""What a transport and its workers say to each other."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path
from typing import Any


@dataclass(frozen=True)
class Blob:
    """Content that travels once under its hash (SHA-256 of its pickled bytes), however many pieces of work need it."""

    sha: str
    data: bytes


@dataclass(frozen=True)
class Give:
    """Work to do. `run` numbers each time work is given, so that a stop meant for one never hits another."""

    run: int
    kind: str
    arguments: Any
    content: tuple[str, ...] = ()


@dataclass(frozen=True)
class Stop:
    """Give a run up at the next chance, or before its first where it has not begun."""

    run: int


@dataclass(frozen=True)
class Ready:
    """The worker is up; `note` says what it is, for the screen."""

    note: str


@dataclass(frozen=True)
class Need:
    """The worker lacks content of a run."""

    run: int
    sha: str


@dataclass(frozen=True)
class Beat:
    """The worker is alive; `holds` is how many pieces of content it has."""

    holds: int


@dataclass(frozen=True)
class Progress:
    """A run is so far: share done 0 to 1, seconds left where that can be told, and what it has to show."""

    run: int
    share: float
    left: float | None
    news: Any = None


@dataclass(frozen=True)
class Done:
    """A run has come to its end with a result."""

    run: int
    result: Any


@dataclass(frozen=True)
class Failed:
    """A run cannot be done; a sentence says why."""

    run: int
    problem: str


@dataclass(frozen=True)
class Stopped:
    """A run was given up."""

    run: int


@dataclass(frozen=True)
class Develop:
    """The arguments of a picture: size in px, samples a pixel, and a file that holds what earlier passes added up to."""

    width: int
    height: int
    samples: int
    checkpoint: Path | None


@dataclass(frozen=True)
class Exposed:
    """What a picture has to show: PNG bytes, samples a pixel, relative noise as it is seen and before cleaning (None after one pass),
    seconds of rendering."""

    picture: bytes
    samples: int
    noise: float | None
    raw_noise: float | None
    seconds: float
