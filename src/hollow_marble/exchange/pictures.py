"""Pictures in: PNG, JPEG, TIFF, WebP. Pictures out: PNG."""

from __future__ import annotations

import io
import warnings
from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageOps, UnidentifiedImageError

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.exchange.claims import one_at_a_time

_TURNED = 0x0112
"""Exif: how the camera was held; 1 is upright."""

FORMATS = ("PNG", "JPEG", "TIFF", "WEBP")
LONGEST_SIDE = 12_000
MOST_PIXELS = 80_000_000


def read_picture(data: bytes, name: str) -> tuple[bytes, int, int]:
    """Check a picture and turn it into an upright PNG; returns its bytes, width and height.

    Raises
    ------
    HollowMarbleError
        where it is too large, damaged, or of another format.
    """
    with one_at_a_time:
        upright = opened(data, name)
        file = io.BytesIO()
        upright.save(file, "PNG", compress_level=1)
        return file.getvalue(), upright.width, upright.height


def opened(data: bytes, name: str, fits: Callable[[int, int], None] = lambda width, height: None) -> Image.Image:
    """A picture, upright, as RGB or (where it lets anything through) RGBA. Raises like `read_picture`, and as `fits` does, which is told its
    width and height before it is unpacked."""
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore", Image.DecompressionBombWarning)
            picture: Image.Image = Image.open(io.BytesIO(data), formats=FORMATS)
            width, height = picture.size
            if max(width, height) > LONGEST_SIDE or width * height > MOST_PIXELS:
                raise HollowMarbleError(
                    f"{name} is {width:,} × {height:,} px, too large for a page. "
                    f"Scale it to at most {LONGEST_SIDE:,} px on its longer side and try again."
                )
            fits(width, height)
            picture.load()
    except HollowMarbleError:
        raise
    except Image.DecompressionBombError as error:
        raise HollowMarbleError(f"{name} is far too large for a page. Scale it down and try again.") from error
    except UnidentifiedImageError as error:
        raise HollowMarbleError(
            f"{name} is not a PNG, JPEG, TIFF or WebP picture. Save it as one of these and try again."
        ) from error
    except (OSError, SyntaxError, ValueError) as error:
        raise HollowMarbleError(
            f"{name} is damaged or cut short, so it was not placed. Save it again and retry."
        ) from error
    if picture.getexif().get(_TURNED, 1) != 1:  # a copy of it, which a large one has no room for without need
        ImageOps.exif_transpose(picture, in_place=True)
    mode = "RGBA" if picture.has_transparency_data else "RGB"
    return picture if picture.mode == mode else picture.convert(mode)


def png(pixels: NDArray[np.uint8], compress_level: int = 3) -> bytes:
    """A PNG of (h, w, 3 or 4) uint8 pixels."""
    file = io.BytesIO()
    Image.fromarray(pixels).save(file, "PNG", compress_level=compress_level)
    return file.getvalue()
