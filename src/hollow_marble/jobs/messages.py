"""What the darkroom and the render worker say to each other."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

from hollow_marble.core.render.scene import Scene


@dataclass(frozen=True)
class Develop:
    """Render a scene; `checkpoint` is a file that holds what earlier passes added up to, if it is there.

    `run` numbers each time a take is given to a worker, so that a stop meant for one run never hits another.
    """

    take: str
    run: int
    scene: Scene
    width: int
    height: int
    samples: int
    checkpoint: Path | None


@dataclass(frozen=True)
class Stop:
    """Give a run up after its present pass, or before its first where it has not begun."""

    run: int


@dataclass(frozen=True)
class Ready:
    """The worker is up with a variant."""

    variant: str


@dataclass(frozen=True)
class Progress:
    """A picture so far: PNG bytes, samples per pixel, relative noise (None after one pass), seconds of rendering."""

    take: str
    picture: bytes
    samples: int
    noise: float | None
    seconds: float


@dataclass(frozen=True)
class Finished:
    """A picture is done, was given up, or failed with a sentence."""

    take: str
    stopped: bool = False
    problem: str | None = None
