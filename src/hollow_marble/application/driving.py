"""What drives what is spread: a grey picture from a file, or the paint of a sheet's tone layer, which it follows."""

from __future__ import annotations

import io
import math
from typing import Any

import numpy as np
from PIL import Image
from pydantic import BaseModel

from hollow_marble.application.editing import Editing, Hand, Made, Proposal
from hollow_marble.application.forms import amend_step
from hollow_marble.application.workspace import Workspace
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.edit import Asset, asset_of, find
from hollow_marble.documents.form.edits import ChangeStep
from hollow_marble.documents.form.evaluation import FormEvaluator
from hollow_marble.documents.form.model import Form
from hollow_marble.documents.form.spreads import Painted, Spread
from hollow_marble.documents.sheet.model import Sheet, ToneLayer
from hollow_marble.exchange.pictures import read_picture
from hollow_marble.store.library import Project

LONGEST_GREY = 4_096
"""Px of the longer side of a picture that drives a spread."""
_LONGEST_PAINT = 1_024
"""Px of the longer side of what is taken of a sheet: a few a mm."""


class PaintWish(BaseModel):
    """A tone layer of a sheet."""

    sheet: str
    layer: str


def drive_by_file(
    editing: Editing, project: Project, ident: str, part: str, file: tuple[str, bytes], hand: Hand
) -> Made:
    """Let a picture drive what is spread: its grey, from dark to bright."""
    name, data = file
    png, width, height = read_picture(data, name)
    if max(width, height) > LONGEST_GREY:
        raise HollowMarbleError(
            f"{name} is {width:,} × {height:,} px, more than what is spread can follow. Scale it to at most {LONGEST_GREY:,} px and try again."
        )
    kept = asset_of(png, "image/png")
    return _drive(editing, project, ident, part, kept, {"picture": kept.sha, "painted": None}, hand)


def drive_by_paint(editing: Editing, project: Project, ident: str, part: str, wish: PaintWish, hand: Hand) -> Made:
    """Let the paint of a tone layer drive what is spread, from bare to as dark as it gets; it follows when that is painted on."""
    painted = Painted(sheet=wish.sheet, layer=wish.layer)
    kept = _paint(editing.workspace, project, painted)
    fields = {"picture": kept.sha, "painted": painted.model_dump()}
    return _drive(editing, project, ident, part, kept, fields, hand)


def driven_now(workspace: Workspace, project: Project, step: Spread) -> tuple[Spread, tuple[Asset, ...]]:
    """A step that is driven by paint as that is now.

    Raises
    ------
    HollowMarbleError
        where the layer is gone.
    """
    assert step.painted is not None
    kept = _paint(workspace, project, step.painted)
    return step.model_copy(update={"picture": kept.sha}), (kept,)


def with_assets(edit: ChangeStep, form: Form, evaluator: FormEvaluator, assets: tuple[Asset, ...]) -> Proposal:
    """A change of a step with the assets it names, once its part is worked out with them: they are not kept yet.

    Raises
    ------
    HollowMarbleError
        where the part cannot be worked out.
    """
    more = {asset.sha: asset.data for asset in assets}
    knowing = FormEvaluator(
        lambda sha: more[sha] if sha in more else evaluator.load(sha), evaluator.shelf, evaluator.kernel
    )
    changed = edit.applied_to(form)
    knowing.body(find(changed.parts, edit.part, "part"), changed.parts)
    return Proposal(edit, assets)


def _drive(
    editing: Editing, project: Project, ident: str, part_id: str, kept: Asset, fields: dict[str, Any], hand: Hand
) -> Made:
    evaluator = editing.workspace.evaluator(project)

    def compose(form: Form) -> Proposal:
        part = find(form.parts, part_id, "part")
        if part.steps[0].kind != "spread":
            raise HollowMarbleError(f"{part.name} is not spread over anything, so that no picture can drive it.")
        return with_assets(amend_step(form, part_id, 0, fields, evaluator), form, evaluator, (kept,))

    return editing.make(project, ident, compose, hand)


def _paint(workspace: Workspace, project: Project, painted: Painted) -> Asset:
    """A tone layer as a grey picture of the whole page: black where it is bare, white where it is painted black."""
    sheet = project.ledger.state(painted.sheet)
    if not isinstance(sheet, Sheet):
        raise HollowMarbleError("Only a sheet has tone layers. Choose one of a sheet.")
    layer = find(sheet.layers, painted.layer, "layer")
    if not isinstance(layer, ToneLayer):
        raise HollowMarbleError(f"{layer.name} is not a tone layer. Choose one that is painted.")
    raster = workspace.raster(project, painted.sheet)
    raster.update(sheet)
    pixels = raster.layer_pixels(layer.id, (0, 0, sheet.width, sheet.height)).astype(np.float32)
    # premultiplied: what is painted takes from white as much as it covers and is dark itself
    tone = pixels[..., 3] - pixels[..., :3] @ np.array([0.2126, 0.7152, 0.0722], np.float32)
    grey = Image.fromarray(np.rint(np.clip(tone, 0, 255)).astype(np.uint8))
    times = max(1, math.ceil(max(grey.size) / _LONGEST_PAINT))
    file = io.BytesIO()
    grey.reduce(times).save(file, "PNG")
    return asset_of(file.getvalue(), "image/png")
