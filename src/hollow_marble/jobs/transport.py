"""Where long work is done. The executor knows no more of it than this; `local` is one, a cluster would be another."""

from __future__ import annotations

from typing import Protocol

from hollow_marble.jobs.messages import Done, Failed, Progress, Stopped
from hollow_marble.jobs.task import Work

News = Progress | Done | Failed | Stopped


class Ears(Protocol):
    """What a transport tells, from threads of its own. A trade does one piece of work at a time."""

    def heard(self, trade: str, news: News) -> None:
        """A run has made progress or ended."""
        ...

    def noted(self, trade: str) -> None:
        """What is said of a trade (`Transport.note`) has changed."""
        ...

    def gone(self, trade: str, why: str | None, at_work: bool) -> None:
        """Whoever did a trade's work is gone; `at_work` where it had been up, so that the work may be to blame; `why` is a sentence
        where nobody else can do it on this machine."""
        ...


class Transport(Protocol):
    """Gives work to whoever does it."""

    def open(self, ears: Ears) -> None:
        """Be ready for work."""
        ...

    def warm(self, trade: str) -> None:
        """Be quick with a trade's first piece of work, where that can be prepared. Returns at once."""
        ...

    def note(self, trade: str) -> str:
        """What the screen says about a trade."""
        ...

    def give(self, trade: str, run: int, work: Work) -> None:
        """Have work done; its news bears the number of the run. Returns at once."""
        ...

    def stop(self, trade: str, run: int) -> None:
        """Ask for a run to be given up."""
        ...

    def kill(self, trade: str) -> None:
        """End whoever does a trade's work, however busy; `Ears.gone` follows."""
        ...

    def silence(self, trade: str) -> float:
        """Seconds since anything was heard from whoever does a trade's work; 0 where nobody does."""
        ...

    def close(self) -> None:
        """End everything."""
        ...
