"""One piece of long work."""

from __future__ import annotations

import hashlib
import pickle
import threading
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any, Literal

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.jobs.messages import Blob

State = Literal["queued", "running", "done", "cancelled", "failed"]
ENDED: frozenset[State] = frozenset(("done", "cancelled", "failed"))

SOON, LATER = 10, 0
"""Priorities: what somebody waits for, and what is developed when there is time."""


@dataclass(frozen=True)
class Work:
    """What a worker is to do: a kind that its trade knows, arguments, and content that travels once under its hash."""

    kind: str
    arguments: Any
    content: tuple[Blob, ...] = ()


def blob(value: Any) -> Blob:
    """A value as content."""
    data = pickle.dumps(value, protocol=pickle.HIGHEST_PROTOCOL)
    return Blob(hashlib.sha256(data).hexdigest(), data)


class CancelledError(HollowMarbleError):
    """Somebody gave the work up."""

    status = 409


@dataclass(eq=False)
class Task:
    """Long work and how far it is.

    owner : the project it belongs to; what : its name on the screen
    trade : which workers do it; prepare : works out what they are to do, when its turn comes; or `work`, where that is known
    limit : seconds after which it has failed; fails : the sentence for that, and for a worker that dies of it
    tries : how often it is given to a worker that dies of it; quiet : seconds it works before anybody is told of it
    begun : called when a worker is given it; heard : called with what it has to show; ended : called once it has ended.
        All are called from one thread of their own, in the order in which things came about.
    """

    id: str
    owner: str
    what: str
    trade: str
    prepare: Callable[[], Work] | None
    fails: str
    limit: float = 3600.0
    priority: int = LATER
    work: Work | None = None
    tries: int = 2
    quiet: float = 0.0
    begun: Callable[[Task], None] | None = None
    heard: Callable[[Task, Any], None] | None = None
    ended: Callable[[Task], None] | None = None
    state: State = "queued"
    share: float = 0.0
    left: float | None = None
    problem: str | None = None
    result: Any = None
    over: threading.Event = field(default_factory=threading.Event)
    heard_of: bool = False

    def wait(self) -> Any:
        """Its result, once it has ended.

        Raises
        ------
        HollowMarbleError
            with the sentence it failed with; CancelledError where it was given up.
        """
        self.over.wait()
        if self.state == "cancelled":
            raise CancelledError(f"{self.what} was given up.")
        if self.state == "failed":
            raise HollowMarbleError(self.problem or self.fails)
        return self.result

    def told(self) -> dict[str, Any]:
        """What the screen shows of it."""
        return {
            "id": self.id,
            "what": self.what,
            "state": self.state,
            "share": self.share,
            "left": self.left,
            "problem": self.problem,
        }
