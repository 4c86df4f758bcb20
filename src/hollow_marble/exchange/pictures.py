"""Pictures in: PNG, JPEG, TIFF, WebP. Pictures out: PNG."""

from __future__ import annotations

import io
import warnings

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageOps, UnidentifiedImageError

from hollow_marble.core.errors import HollowMarbleError

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
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore", Image.DecompressionBombWarning)
            picture = Image.open(io.BytesIO(data), formats=FORMATS)
            width, height = picture.size
            if max(width, height) > LONGEST_SIDE or width * height > MOST_PIXELS:
                raise HollowMarbleError(
                    f"{name} is {width:,} × {height:,} px, too large for a page. "
                    f"Scale it to at most {LONGEST_SIDE:,} px on its longer side and try again."
                )
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
    upright = ImageOps.exif_transpose(picture).convert("RGBA")
    return png(np.asarray(upright)), upright.width, upright.height


def png(pixels: NDArray[np.uint8], compress_level: int = 3) -> bytes:
    """A PNG of (h, w, 3 or 4) uint8 pixels."""
    file = io.BytesIO()
    Image.fromarray(pixels).save(file, "PNG", compress_level=compress_level)
    return file.getvalue()
