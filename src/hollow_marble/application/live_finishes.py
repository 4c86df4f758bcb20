"""What is laid on finishes, for the live view: where it lies on a mesh, and its pictures."""

from __future__ import annotations

from typing import Any, Literal

import cv2
import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.errors import NotFoundError
from hollow_marble.core.render.surfaces import ROUGH
from hollow_marble.core.studio.colour import to_srgb
from hollow_marble.core.studio.finishes import look_of
from hollow_marble.core.studio.mapping import Laid
from hollow_marble.documents.form.evaluation import FormEvaluator
from hollow_marble.documents.form.model import Form
from hollow_marble.documents.studio.model import Finish, Setting
from hollow_marble.documents.studio.staging import in_picture
from hollow_marble.documents.studio.staging.dressing import surface_of, way_of
from hollow_marble.documents.studio.staging.scenes import textured
from hollow_marble.documents.studio.staging.zones import worn_over, zones_of
from hollow_marble.exchange.pictures import png

SheetKind = Literal["colour", "relief", "rough"]

MOST_PX = 1024
"""Px of the longer side of a picture: finer than the live view shows it."""


def laid_out(setting: Setting, form: Form, evaluator: FormEvaluator, wearer: str, finish: Finish) -> Laid | None:
    """How what is laid on a part or a zone lies on its mesh, as fine as it is worked on; None where it covers nothing."""
    for part, mesh in in_picture(setting, form, evaluator):
        for cover in worn_over(mesh, part, zones_of(setting, part)):
            if cover.wearer == wearer:
                return textured(mesh, cover, way_of(finish), evaluator)
    return None


def sheet_picture(finish: Finish, of: SheetKind, evaluator: FormEvaluator) -> bytes:
    """One of a finish's sheets as PNG for the live view: colours; heights from black to white; roughness as that view counts it."""
    surface = surface_of(finish, evaluator.load, evaluator.shelf)
    sheet = {"colour": surface.colour, "relief": surface.relief, "rough": surface.rough}[of]
    if sheet is None:
        raise NotFoundError("This finish has nothing of that kind laid on it.")
    pixels: NDArray[Any] = sheet.pixels
    scale = MOST_PX / max(pixels.shape[:2])
    if scale < 1:
        wide, tall = (max(1, round(side * scale)) for side in pixels.shape[1::-1])
        pixels = cv2.resize(pixels, (wide, tall), interpolation=cv2.INTER_AREA).reshape(tall, wide, -1)
    if of == "colour":
        shown = to_srgb(pixels)
    elif of == "relief":
        shown = (pixels - sheet.pixels.min()) / max(float(np.ptp(sheet.pixels)), 1e-9)
    else:
        smooth = look_of(surface.made).roughness ** 2
        shown = np.sqrt(smooth + (max(ROUGH, smooth) - smooth) * pixels)
    return png(np.rint(np.clip(shown, 0, 1) * 255).astype(np.uint8).squeeze())
