"""The only way to an edit: it is worked out on the state it meets, checked, appended, and then told.

Whoever wants a change gives a function from the document as it stands to a proposal: an edit, the payloads it names, and what else
is to be told. The function runs with no write going on, so that a form that takes long to work out keeps nobody else waiting.
Proposals for one document are worked out one after the other; if the head has moved all the same (another process writes too), the
proposal is worked out again on the new one.
"""

from __future__ import annotations

import threading
import weakref
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

from pydantic import BaseModel

from hollow_marble.application.workspace import Workspace
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.locks import DOCUMENT, RankedLock
from hollow_marble.documents.edit import Asset, Edit
from hollow_marble.documents.form.edits import still_meant
from hollow_marble.documents.form.model import Form
from hollow_marble.documents.kinds import KINDS, Document, apply
from hollow_marble.documents.naming import payloads
from hollow_marble.store.assets import asset_kinds
from hollow_marble.store.ledger import NOW, HeadMovedError, Now
from hollow_marble.store.library import Project

_MOST_TRIES = 20


@dataclass(frozen=True)
class Hand:
    """
    Whose edit it is: the tab it comes from, the head that was seen there (`NOW`: whichever there is), and the name of the
    request, by which it is known where it comes again.
    """

    tab: str = ""
    seen: int | Now | None = NOW
    request: str = ""


ANYBODY = Hand()


@dataclass(frozen=True)
class Proposal:
    """An edit, the payloads it names, and what else is to be told."""

    edit: Edit
    assets: tuple[Asset, ...] = ()
    more: dict[str, Any] = field(default_factory=dict)


@dataclass(frozen=True)
class Made:
    """What an edit did: the state its hand had seen, the one it met, the one it led to, and the new head."""

    seen: Document
    met: Document
    after: Document
    head: int | None
    more: dict[str, Any]


Compose = Callable[[Any], Proposal]
"""From the document as it stands to what is to be done with it."""


Clashes = Callable[[Any, Any], None]


class Editing:
    """Edits documents of any project."""

    def __init__(self, workspace: Workspace) -> None:
        self.workspace = workspace
        self._lock = threading.Lock()
        self._documents: weakref.WeakValueDictionary[tuple[str, str], RankedLock] = weakref.WeakValueDictionary()

    def make(
        self, project: Project, ident: str, compose: Compose, hand: Hand = ANYBODY, clashes: Clashes | None = None
    ) -> Made:
        """Make an edit. When this returns, it is on disk, and the other tabs have been told.

        `clashes` is given the state its hand had seen and the one it meets, where they differ, and raises where they may not.

        Raises
        ------
        HollowMarbleError
            where it does not fit, or leads to a form that cannot be worked out; then nothing is stored.
        HeadMovedError
            where somebody else changed what it was meant for since it was seen.
        """
        ledger = project.ledger
        with self._turn(project, ident):
            if ledger.answered(ident, hand.request):
                return self._again(project, ident, hand)
            for tries in range(_MOST_TRIES):
                row = ledger.row(ident)
                met = ledger.state(ident, row.head, at_head=False)
                seen = met if hand.seen in (NOW, row.head) else ledger.state(ident, _line(hand.seen), at_head=False)
                proposal = compose(met)
                KINDS[row.kind].edits.validate_python(
                    proposal.edit
                )  # an edit of another kind of document does not belong here
                _check_payloads(project, proposal)
                if seen is not met:
                    if clashes is not None:
                        clashes(seen, met)
                    self._check_meant(project, proposal.edit, seen, met)
                after = apply(met, proposal.edit)
                self._check(project, met, after)
                try:
                    head, after = ledger.append(ident, proposal.edit, proposal.assets, row.head, after, hand.request)
                except HeadMovedError:
                    if tries + 1 == _MOST_TRIES:
                        raise
                    continue
                break
        self._tell(project, ident, head, hand)
        return Made(seen, met, after, head, proposal.more)

    def step(
        self, project: Project, ident: str, hand: Hand = ANYBODY, to: int | Now | None = NOW, on: bool = False
    ) -> Made:
        """Undo (or redo where `on`), or stand at a line of the ledger (`to`)."""
        ledger = project.ledger
        with self._turn(project, ident):
            if ledger.answered(ident, hand.request):
                return self._again(project, ident, hand)
            met = ledger.state(ident)
            seen = _seen(project, ident, hand, met)
            if to != NOW:
                head = ledger.go_to(ident, _line(to), hand.request)
            else:
                head = (ledger.redo if on else ledger.undo)(ident, hand.request)
            after = ledger.state(ident, head, at_head=False)
        self._tell(project, ident, head, hand)
        return Made(seen, met, after, head, {})

    def _again(self, project: Project, ident: str, hand: Hand) -> Made:
        """The answer to a request that was carried out before: its first one may never have come."""
        ledger = project.ledger
        head = ledger.row(ident).head
        now = ledger.state(ident, head, at_head=False)
        return Made(_seen(project, ident, hand, now), now, now, head, {})

    def _turn(self, project: Project, ident: str) -> RankedLock:
        """Whose turn it is to edit a document."""
        key = (project.entry.id, ident)
        with self._lock:
            lock = self._documents.get(key)
            if lock is None:
                lock = self._documents[key] = RankedLock(f"document {ident}", DOCUMENT)
            return lock

    def _check(self, project: Project, met: Document, after: Document) -> None:
        """Refuse a state of a form in which a part that was changed, or takes in others, cannot be worked out; what only follows a
        changed body says so itself when it is looked at."""
        if isinstance(met, Form) and isinstance(after, Form):
            evaluator = self.workspace.evaluator(project)
            steps = {part.id: part.steps for part in met.parts}
            for part in after.unlike(met):
                if part.steps != steps.get(part.id):
                    evaluator.body(part, after.parts).check()
                elif not evaluator.waits(part, after.parts):
                    evaluator.body(part, after.parts)

    def _check_meant(self, project: Project, edit: Edit, seen: Document, met: Document) -> None:
        """Refuse an edit whose picks mean something else by now."""
        if (
            isinstance(seen, Form)
            and isinstance(met, Form)
            and not still_meant(edit, seen, met, self.workspace.evaluator(project))
        ):
            raise HeadMovedError(
                "Somebody else changed the part meanwhile, so what you picked may be something else now. Look at it and do this again."
            )

    def _tell(self, project: Project, ident: str, head: int | None, hand: Hand) -> None:
        self.workspace.publish(project.entry.id, "document", {"document": ident, "head": head, "tab": hand.tab})


def _check_payloads(project: Project, proposal: Proposal) -> None:
    """Refuse an edit that names what is not in the project, or is something else than its field holds."""
    edit = proposal.edit
    assert isinstance(edit, BaseModel)
    named = {(name, where): media for where, name, media in payloads(edit.model_dump(mode="json"))}
    if not named:
        return
    coming = {asset.sha: asset.media for asset in proposal.assets}
    there = asset_kinds(project.database, {name for name, _ in named} - coming.keys()) | coming
    for (name, where), media in named.items():
        if name not in there:
            raise HollowMarbleError(f"The {where} this names are not in this project. Bring them in first.")
        if there[name] != media:
            raise HollowMarbleError(f"What this names as {where} is something else. Choose another.")


def _seen(project: Project, ident: str, hand: Hand, met: Document) -> Document:
    """The state a hand had seen; the one it meets where it does not say."""
    return met if hand.seen == NOW else project.ledger.state(ident, _line(hand.seen), at_head=False)


def _line(edit: int | Now | None) -> int | None:
    if isinstance(edit, str):
        raise HollowMarbleError("Say which line of the ledger.")
    return edit
