"""The brief's board: pictures come on to it, and go from it on to sheets and behind the form."""

from __future__ import annotations

from typing import Any

from hollow_marble.application.beginning import BeginRequest, begin_over
from hollow_marble.application.editing import Editing, Hand, Made, Proposal
from hollow_marble.application.sheets.pages import place_picture
from hollow_marble.application.sheets.strokes import new_id
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.brief.edits import PutPicture
from hollow_marble.documents.brief.model import BOARD, Brief, BriefPicture
from hollow_marble.documents.edit import asset_of, find
from hollow_marble.documents.sheet.edits import FrameView
from hollow_marble.documents.sheet.model import PictureLayer, Sheet
from hollow_marble.exchange.pictures import read_picture
from hollow_marble.store.assets import load_asset
from hollow_marble.store.library import Project

GAP = 20.0
COLUMNS = 3


def put_picture(editing: Editing, project: Project, ident: str, name: str, data: bytes, hand: Hand) -> Made:
    """A picture file on the board, beside those that lie there."""
    picture, width, height = read_picture(data, name)
    asset = asset_of(picture, "image/png")
    wide = (BOARD - GAP * (COLUMNS + 1)) / COLUMNS

    def compose(brief: Any) -> Proposal:
        if not isinstance(brief, Brief):
            raise HollowMarbleError("That document is not a brief.")
        x, y = _free_place(brief, wide)
        put = BriefPicture(
            id=new_id(8), name=_label(name), picture=asset.sha, x=x, y=y, wide=wide, tall=min(100.0, height / width)
        )
        return Proposal(PutPicture(laid=put), (asset,))

    return editing.make(project, ident, compose, hand)


def picture_of(project: Project, ident: str, picture: str) -> tuple[BriefPicture, bytes]:
    """A picture on the board, and its PNG."""
    brief: Any = project.ledger.state(ident)
    found = find(brief.pictures, picture, "picture")
    return found, load_asset(project.database, found.picture)[0]


def on_to_sheet(editing: Editing, project: Project, ident: str, picture: str, sheet: str, hand: Hand) -> Made:
    """A picture of the board on a sheet, to draw over."""
    found, data = picture_of(project, ident, picture)
    return place_picture(editing, project, sheet, found.name, data, hand)


def behind_form(editing: Editing, project: Project, ident: str, picture: str, form: str, hand: Hand) -> Made:
    """A picture of the board behind the form, seen from the front: on a sheet of its own, framed as a view and pinned."""
    found, data = picture_of(project, ident, picture)
    return stand_picture(editing, project, form, found.name, data, hand)


def stand_picture(editing: Editing, project: Project, form: str, name: str, data: bytes, hand: Hand) -> Made:
    """A picture behind a form, seen from the front: on a sheet of its own, framed as a view and pinned."""
    label = _label(name)
    sheet = next((row for row in project.ledger.rows("sheet") if row.name == label), None)
    if sheet is None:
        read_picture(data, name)  # says what is wrong with it before there is a sheet for it
        sheet = project.ledger.create("sheet", label)
        made = place_picture(editing, project, sheet.id, label, data, Hand(hand.tab))
        assert isinstance(made.after, Sheet)
        layer = next(one for one in reversed(made.after.layers) if isinstance(one, PictureLayer))
        across, down = ([round(place[axis]) for place in layer.quad] for axis in (0, 1))
        rect = (min(across), min(down), max(across), max(down))
        framed = FrameView(id=new_id(8), view="front", name=label, rect=rect)
        editing.make(project, sheet.id, lambda _: Proposal(framed), Hand(hand.tab))
    return begin_over(editing, project, form, BeginRequest(sheet=sheet.id, how="pin"), hand)


def _label(name: str) -> str:
    """What a picture is called after its file."""
    return name.rsplit(".", 1)[0][:60] or "Picture"


def _free_place(brief: Brief, wide: float) -> tuple[float, float]:
    """Under the column of the board that reaches least far down."""
    ends = [GAP] * COLUMNS
    for picture in brief.pictures:
        column = min(COLUMNS - 1, max(0, int((picture.x + picture.wide / 2) / (wide + GAP))))
        ends[column] = max(ends[column], picture.y + picture.wide * picture.tall + GAP)
    column = ends.index(min(ends))
    return GAP + column * (wide + GAP), ends[column]
