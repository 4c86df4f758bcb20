"""Finishes and papers as surfaces: what is chosen, with the grains and pictures that are laid on it."""

from __future__ import annotations

import io
from collections.abc import Callable
from dataclasses import replace
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray
from PIL import Image as Pictures

from hollow_marble.core.render.develop import LUMINANCE
from hollow_marble.core.render.scene import Into, Sheet, Surface
from hollow_marble.core.shelf import Shelf
from hollow_marble.core.studio.colour import hex_to_linear, to_linear
from hollow_marble.core.studio.finishes import GrainOf, Made, coated
from hollow_marble.core.studio.grains import GRAINS, tile
from hollow_marble.core.studio.mapping import Way
from hollow_marble.core.studio.sets import Gradient, Pictured
from hollow_marble.documents.edit import LoadAsset
from hollow_marble.documents.studio.model.finish import Finish, Laid
from hollow_marble.documents.studio.model.sets import GroundLook

Image = NDArray[np.float32]

DARKER = 0.38
"""What the dark parts of a grain are of its colour, where no second one is chosen."""


def grain_of(finish: Finish) -> GrainOf | None:
    """The grain a finish has: its own, or that of its material; None where it is smooth."""
    if finish.grain is not None:
        own = finish.grain
        return GrainOf(own.kind, own.size, own.depth, own.strength, own.second)
    return finish.made().grain


def way_of(finish: Finish) -> Way:
    """How what is laid on a finish lies."""
    lay = finish.lay
    grain = grain_of(finish)
    best = GRAINS[grain.kind].lies if grain is not None else "box"
    if lay.by != "as it lies best":
        return Way(lay.by, lay.axis, lay.turn, lay.move)
    axis = {"turned": "depth", "block": "longest"}.get(best, lay.axis)
    return Way(best, axis, lay.turn, lay.move)


BARE = GroundLook()


def surface_of(finish: Finish, load: LoadAsset, shelf: Shelf, ground: GroundLook = BARE) -> Surface:
    """A finish as a surface; `ground` says how much of a mirror it is to be over that, as what a product stands on."""
    made = _mirroring(finish.made(), hex_to_linear(finish.colour), ground)
    grain = grain_of(finish)
    colour: Sheet | None = None
    reliefs: list[Sheet] = []
    if grain is not None:
        wide = grain.size * tile(grain.kind).sizes
        if grain.depth > 0:
            reliefs.append(
                shelf.get(
                    "grain",
                    (grain.kind, grain.depth, wide),
                    lambda: Sheet(tile(grain.kind).height[..., None] * np.float32(grain.depth), wide),
                )
            )
        if grain.strength > 0:
            colour = shelf.get(
                "grained",
                (made, finish.colour, grain),
                lambda: Sheet(_toned(finish, grain, made), wide),
            )
    laid = {one.use: one for one in finish.pictures}
    if "colour" in laid:
        one = laid["colour"]
        colour = shelf.get(
            "coloured",
            (one.picture, one.width, made),
            lambda: Sheet(_under(made, _picture(one, load)), one.width),
        )
    if "bump" in laid:
        one = laid["bump"]
        reliefs.append(Sheet(_grey(_picture(one, load)) * np.float32(one.depth), one.width))
    rough = Sheet(_grey(_picture(laid["roughness"], load)), laid["roughness"].width) if "roughness" in laid else None
    into = None
    if finish.ramp is not None:
        other = surface_of(finish.other(), load, shelf, ground)
        into = Into(finish.ramp.ramp(), other.made, other.colour)
    return Surface(made, colour, one_relief(reliefs), rough, into=into)


MOST_PX = 2048
"""Px of the longer side of reliefs put together."""


def one_relief(sheets: list[Sheet]) -> Sheet | None:
    """Reliefs on top of one another as one: on the sheet of the last, over which the others are repeated, fitted to its width."""
    if len(sheets) < 2:
        return sheets[0] if sheets else None
    last = sheets[-1]
    finest = min(sheet.wide / sheet.pixels.shape[1] for sheet in sheets)
    scale = min(MOST_PX / max(last.wide, last.tall), 1 / finest)
    size = max(2, round(last.wide * scale)), max(2, round(last.tall * scale))
    whole = cv2.resize(
        last.pixels[..., 0], size, interpolation=cv2.INTER_AREA if size[0] < last.pixels.shape[1] else cv2.INTER_LINEAR
    )
    for sheet in sheets[:-1]:
        across, up = (max(1, round(length / sheet.wide)) for length in (last.wide, last.tall))
        rows, columns = sheet.pixels.shape[:2]
        x = (np.arange(size[0]) + 0.5) / size[0] * across % 1.0 * columns - 0.5
        y = (np.arange(size[1]) + 0.5) / size[1] * up % 1.0 * rows - 0.5
        at = np.meshgrid(x.astype(np.float32), y.astype(np.float32))
        whole = whole + cv2.remap(sheet.pixels[..., 0], at[0], at[1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_WRAP)
    return Sheet(np.asarray(whole, np.float32)[..., None], last.wide, last.at, last.repeats)


def _toned(finish: Finish, grain: GrainOf, made: Made) -> Image:
    """(n, n, 3) the base's colour, darker where the grain is dark."""
    light = hex_to_linear(finish.colour)
    dark = hex_to_linear(grain.second) if grain.second else light * DARKER
    share = tile(grain.kind).tone[..., None] * grain.strength
    return _under(made, (light * (1 - share) + dark * share).astype(np.float32))


def _under(made: Made, colours: Image) -> Image:
    """Colours (h, w, 3) of a thing as those of the base under its coat."""
    if made.coat is None:
        return colours
    found: Image = np.maximum((colours - made.coat.coat) / (1 - made.coat.coat), 1e-6).astype(np.float32)
    return found


def _picture(laid: Laid, load: LoadAsset) -> Image:
    """(h, w, 3) linear."""
    return decoded(load(laid.picture))


def decoded(data: bytes) -> Image:
    """A kept picture (PNG) as linear light (h, w, 3)."""
    with Pictures.open(io.BytesIO(data)) as picture:
        pixels = np.asarray(picture.convert("RGB"), np.float32) / 255
    light: Image = to_linear(pixels).astype(np.float32)
    return light


def _grey(image: Image) -> Image:
    grey: Image = (image @ LUMINANCE)[..., None]
    return grey


def dressed(
    dress: Any, ground: GroundLook, load: LoadAsset, shelf: Shelf
) -> tuple[Surface, Callable[[NDArray[np.floating]], NDArray[np.floating]]]:
    """A piece of a set as a surface, and what becomes of its texture coordinates."""

    def same(at: NDArray[np.floating]) -> NDArray[np.floating]:
        return at

    if isinstance(dress, Finish):
        return surface_of(dress, load, shelf, ground), same
    if isinstance(dress, Gradient):
        share = (np.arange(256)[:, None, None] + 0.5) / 256
        ramp = hex_to_linear(dress.top) * (1 - share) + hex_to_linear(dress.bottom) * share
        made = _mirroring(CARD, np.array(CARD.colour), ground)
        sheet = Sheet(_under(made, np.repeat(ramp, 4, axis=1).astype(np.float32)), 1.0 / 64)
        return Surface(made, sheet), lambda at: at * (1 / 64, 1.0)
    if isinstance(dress, Pictured):
        pixels = decoded(load(dress.picture))
        sheet = Sheet(pixels * np.float32(dress.brightness), 1.0)
        return Surface(CARD, sheet), lambda at: at * (1.0, pixels.shape[0] / pixels.shape[1])
    colour = hex_to_linear(dress)
    r, g, b = (float(v) for v in colour)
    return Surface(_mirroring(Made("scatter", (r, g, b)), colour, ground)), same


CARD = Made("scatter", (0.5, 0.5, 0.5))


def _mirroring(made: Made, colour: NDArray[np.floating], ground: GroundLook) -> Made:
    """What scatters light, (3,) in its colour, with as much of a mirror over it as the ground is to have; metal, glass and flakes mirror as they
    are."""
    if ground.reflection <= 0 or made.base != "scatter" or made.flakes[0]:
        return made
    coat = coated(round(max(0.55 * ground.blur, 0.015), 3), 1.5, round(ground.reflection, 3))
    r, g, b = (float(v) for v in colour)
    return replace(made, colour=coat.base((r, g, b)), coat=coat, lacquer=None)
