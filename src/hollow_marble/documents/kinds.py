"""The kinds of document there are, and which edits each takes."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Literal, get_args

from pydantic import TypeAdapter

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.board.edits import BoardEdit
from hollow_marble.documents.board.model import Board
from hollow_marble.documents.brief.edits import BriefEdit
from hollow_marble.documents.brief.model import Brief
from hollow_marble.documents.edit import Edit, Frozen
from hollow_marble.documents.form.edits import FormEdit
from hollow_marble.documents.form.model import Form
from hollow_marble.documents.sheet.edits import SheetEdit
from hollow_marble.documents.sheet.model import Sheet
from hollow_marble.documents.studio.edits import StudioEdit
from hollow_marble.documents.studio.model import Studio

DocumentKind = Literal["brief", "sheet", "form", "studio", "board"]
Document = Brief | Sheet | Form | Studio | Board
AnyEdit = BriefEdit | SheetEdit | FormEdit | StudioEdit | BoardEdit


@dataclass(frozen=True)
class Kind:
    """A kind of document: its model and a reader of its edits."""

    name: DocumentKind
    model: type[Frozen]
    edits: TypeAdapter[Any]

    def blank(self) -> Document:
        """The document before its first edit."""
        return self.model()  # type: ignore[return-value]

    def read(self, body: str | bytes) -> Document:
        """The document from its JSON."""
        return self.model.model_validate_json(body)  # type: ignore[return-value]

    def read_edit(self, body: str | bytes) -> Edit:
        """An edit from its JSON."""
        edit: Edit = self.edits.validate_json(body)
        return edit


KINDS: dict[str, Kind] = {
    "brief": Kind("brief", Brief, TypeAdapter(BriefEdit)),
    "sheet": Kind("sheet", Sheet, TypeAdapter(SheetEdit)),
    "form": Kind("form", Form, TypeAdapter(FormEdit)),
    "studio": Kind("studio", Studio, TypeAdapter(StudioEdit)),
    "board": Kind("board", Board, TypeAdapter(BoardEdit)),
}
assert set(KINDS) == set(get_args(DocumentKind))


def apply(document: Document, edit: Edit) -> Document:
    """The document after an edit; neither argument is changed."""
    allowed = next((kind for kind in KINDS.values() if isinstance(document, kind.model)), None)
    if allowed is None:
        raise HollowMarbleError("This is not a kind of document Hollow Marble knows.")
    return edit.applied_to(document)  # type: ignore[no-any-return]
