"""Pictures brought into a studio: laid on a part as a texture or as artwork, or hung behind the product."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from hollow_marble.application.editing import Editing, Hand, Made, Proposal
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.studio.colour import to_srgb
from hollow_marble.documents.edit import asset_of
from hollow_marble.documents.form.evaluation import FormEvaluator
from hollow_marble.documents.studio.edits import BuildSet, PutMark, SetFinish
from hollow_marble.documents.studio.model import Artwork, Finish, Laid, Mark, PictureBehind, Studio
from hollow_marble.documents.studio.staging.marks import picture_of
from hollow_marble.exchange.artwork import read_artwork
from hollow_marble.exchange.pictures import png, read_picture
from hollow_marble.store.library import Project

LONGEST_SIDE = 8_192
"""Px of a picture that is laid on a part or stands behind: more than any take can show of it."""


@dataclass(frozen=True)
class Onto:
    """The part a picture is laid on, its name for the ledger, and as what."""

    part: str
    name: str
    use: Literal["colour", "bump", "roughness"]


def lay(editing: Editing, project: Project, ident: str, file: tuple[str, bytes], onto: Onto | None, hand: Hand) -> Made:
    """A picture becomes part of a finish, or the set."""
    name, data = file
    png, width, height = read_picture(data, name)
    if max(width, height) > LONGEST_SIDE:
        raise HollowMarbleError(
            f"{name} is {width:,} × {height:,} px, more than a picture of the product can show. Scale it to at most {LONGEST_SIDE:,} px and try again."
        )
    kept = asset_of(png, "image/png")

    def compose(document: object) -> Proposal:
        if not isinstance(document, Studio):
            raise HollowMarbleError("That document is not a studio.")
        if onto is None:
            chosen = document.setting.set
            there = chosen if isinstance(chosen, PictureBehind) else PictureBehind(picture=kept.sha)
            hung = there.model_copy(update={"picture": kept.sha, "name": name[:60], "size": (width, height)})
            return Proposal(BuildSet(set=hung), (kept,))
        finish = document.setting.finishes.get(onto.part, Finish())
        laid = Laid(picture=kept.sha, name=name[:60], use=onto.use)
        others = tuple(one for one in finish.pictures if one.use != onto.use)
        dressed = finish.model_copy(update={"pictures": (*others, laid)})
        return Proposal(SetFinish(part=onto.part, name=onto.name, finish=dressed), (kept,))

    return editing.make(project, ident, compose, hand)


@dataclass(frozen=True)
class Where:
    """The id of a mark, the part it is laid on, and where its middle is, mm in the form."""

    id: str
    part: str
    at: tuple[float, float, float]


def lay_artwork(
    editing: Editing, project: Project, ident: str, file: tuple[str, bytes], where: Where, hand: Hand
) -> Made:
    """Artwork is laid on a part as a mark."""
    name, data = file
    picture, width, height = read_artwork(data, name)
    kept = asset_of(picture, "image/png")

    def compose(document: object) -> Proposal:
        if not isinstance(document, Studio):
            raise HollowMarbleError("That document is not a studio.")
        what = Artwork(picture=kept.sha, size=(width, height))
        return Proposal(
            PutMark(mark=Mark(id=where.id, part=where.part, what=what, name=name[:60], at=where.at)), (kept,)
        )

    return editing.make(project, ident, compose, hand)


def shown(mark: str, evaluator: FormEvaluator) -> bytes:
    """The picture of a mark (its JSON) as PNG bytes."""
    picture = picture_of(Mark.model_validate_json(mark), evaluator.load, evaluator.shelf)
    colours = to_srgb(picture[..., :3])
    return png(np.rint(np.concatenate([colours, picture[..., 3:]], axis=-1) * 255).astype(np.uint8))
