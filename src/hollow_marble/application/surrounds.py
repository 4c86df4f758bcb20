"""Surrounds: a map brought in, the present one sent out or shown."""

from __future__ import annotations

from typing import Literal

import numpy as np
from numpy.typing import NDArray

from hollow_marble.application.editing import Editing, Hand, Made, Proposal
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.studio import rgbe
from hollow_marble.core.studio.colour import to_picture
from hollow_marble.core.studio.surround import mirror_ball, resized
from hollow_marble.documents.edit import asset_of
from hollow_marble.documents.form.evaluation import FormEvaluator
from hollow_marble.documents.studio.edits import SetSurround
from hollow_marble.documents.studio.model import Setting, Studio
from hollow_marble.documents.studio.staging import surround_map
from hollow_marble.exchange.pictures import png
from hollow_marble.exchange.surrounds import Values, exr, read_surround
from hollow_marble.store.library import Project

Shown = Literal["unrolled", "ball"]
LIVE = 1_024
"""Px that the live view's map is wide at the most."""
SHOWN = 480
"""Px that a surround is shown wide."""


def bring_in(
    editing: Editing, project: Project, ident: str, name: str, data: bytes, values: Values, hand: Hand
) -> Made:
    """A map from a file becomes what is all around, under the panels."""
    kept = asset_of(read_surround(data, name, values), rgbe.MEDIA)

    def compose(document: object) -> Proposal:
        if not isinstance(document, Studio):
            raise HollowMarbleError("That document is not a studio.")
        surround = document.setting.surround.model_copy(update={"map": kept.sha, "map_name": name[:60]})
        return Proposal(SetSurround(surround=surround), (kept,))

    return editing.make(project, ident, compose, hand)


def map_of(setting: Setting, evaluator: FormEvaluator) -> NDArray[np.float32]:
    """(h, w, 3) what is all around, at its own size."""
    image = surround_map(setting, evaluator.load, evaluator.shelf)
    if image.shape[0] == 2:
        width, height = setting.surround.pixels
        return np.broadcast_to(image[:1, :1], (height, width, 3))
    return image


def sent_out(setting: Setting, evaluator: FormEvaluator, kind: Literal["hdr", "exr"]) -> bytes:
    """The map as a file."""
    image = np.ascontiguousarray(map_of(setting, evaluator))
    return rgbe.encoded(image) if kind == "hdr" else exr(image)


def live(setting: Setting, evaluator: FormEvaluator) -> bytes:
    """The map for the live view: as fine as its reflections are."""
    image = map_of(setting, evaluator)
    width = min(image.shape[1], LIVE)
    return rgbe.encoded(resized(np.ascontiguousarray(image), width, width // 2))


def shown(setting: Setting, evaluator: FormEvaluator, how: Shown) -> bytes:
    """A PNG of the map: unrolled, or as a mirror ball shows it."""
    image = map_of(setting, evaluator)
    if how == "ball":
        return png(to_picture(mirror_ball(np.ascontiguousarray(image), SHOWN // 2)))
    return png(to_picture(resized(np.ascontiguousarray(image), SHOWN, SHOWN // 2)))
