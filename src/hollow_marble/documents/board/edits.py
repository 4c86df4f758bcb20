"""Edits of a board."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from hollow_marble.core.errors import HollowMarbleError, NotFoundError
from hollow_marble.documents.board.model import Board, Decision, Pin, Share, Verdict
from hollow_marble.documents.edit import Frozen, find, replaced, without

Text = Annotated[str, Field(min_length=1, max_length=2_000)]
Who = Annotated[str, Field(min_length=1, max_length=60)]


def _hangs(board: Board, take: str) -> None:
    if take not in board.takes:
        raise NotFoundError("That take does not hang on this board. Hang it first.")


class HangTake(Frozen):
    """Hang a take on the board."""

    kind: Literal["hang_take"] = "hang_take"
    take: str
    name: str

    def sentence(self) -> str:
        return f"Hung {self.name}"

    def applied_to(self, board: Board) -> Board:
        if self.take in board.takes:
            raise HollowMarbleError("That take hangs here already.")
        pair = board.pair if len(board.pair) == 2 else (*board.pair, self.take)
        return board.model_copy(update={"takes": (*board.takes, self.take), "pair": pair})


class TakeDown(Frozen):
    """Take a picture off the board; its pins and verdicts stay in the record."""

    kind: Literal["take_down"] = "take_down"
    take: str

    def sentence(self) -> str:
        return "Took a picture down"

    def applied_to(self, board: Board) -> Board:
        _hangs(board, self.take)
        takes = tuple(take for take in board.takes if take != self.take)
        pair = tuple(take for take in board.pair if take != self.take)
        return board.model_copy(update={"takes": takes, "pair": pair})


class ComparePair(Frozen):
    """Choose the two takes that stand side by side."""

    kind: Literal["compare_pair"] = "compare_pair"
    left: str
    right: str

    def sentence(self) -> str:
        return "Chose two takes to compare"

    def applied_to(self, board: Board) -> Board:
        _hangs(board, self.left)
        _hangs(board, self.right)
        if self.left == self.right:
            raise HollowMarbleError("Choose two different takes to compare.")
        return board.model_copy(update={"pair": (self.left, self.right)})


class PinComment(Frozen):
    """Pin a comment to a point of a take."""

    kind: Literal["pin_comment"] = "pin_comment"
    id: str
    take: str
    x: Share
    y: Share
    text: Text
    who: Who
    at: str

    def sentence(self) -> str:
        return f"{self.who} pinned “{self.text if len(self.text) < 48 else self.text[:45] + '…'}”"

    def applied_to(self, board: Board) -> Board:
        _hangs(board, self.take)
        return board.model_copy(update={"pins": (*board.pins, Pin(**self.model_dump(exclude={"kind"})))})


class ResolvePin(Frozen):
    """Mark a comment as dealt with, or open it again."""

    kind: Literal["resolve_pin"] = "resolve_pin"
    id: str
    resolved: bool

    def sentence(self) -> str:
        return "Resolved a pin" if self.resolved else "Opened a pin again"

    def applied_to(self, board: Board) -> Board:
        pin = find(board.pins, self.id, "pin").model_copy(update={"resolved": self.resolved})
        return board.model_copy(update={"pins": replaced(board.pins, pin)})


class RemovePin(Frozen):
    """Remove a comment."""

    kind: Literal["remove_pin"] = "remove_pin"
    id: str

    def sentence(self) -> str:
        return "Removed a pin"

    def applied_to(self, board: Board) -> Board:
        return board.model_copy(update={"pins": without(board.pins, self.id, "pin")})


class GiveVerdict(Frozen):
    """Decide about a take."""

    kind: Literal["give_verdict"] = "give_verdict"
    take: str
    decision: Decision
    reason: Text
    who: Who
    at: str

    def sentence(self) -> str:
        verb = {"keep": "keeps", "change": "asks to change", "drop": "drops"}[self.decision]
        return f"{self.who} {verb} it: {self.reason}"

    def applied_to(self, board: Board) -> Board:
        _hangs(board, self.take)
        verdict = Verdict(**self.model_dump(exclude={"kind"}))
        return board.model_copy(update={"verdicts": (*board.verdicts, verdict)})


BoardEdit = Annotated[
    HangTake | TakeDown | ComparePair | PinComment | ResolvePin | RemovePin | GiveVerdict,
    Field(discriminator="kind"),
]
