"""Maps of surroundings: Radiance .hdr, OpenEXR and ordinary pictures in; .hdr and .exr out."""

from __future__ import annotations

import tempfile
from pathlib import Path
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.studio import rgbe
from hollow_marble.core.studio.colour import to_linear
from hollow_marble.core.studio.surround import resized
from hollow_marble.exchange.claims import one_at_a_time
from hollow_marble.exchange.pictures import opened

Image = NDArray[np.float32]

WIDEST = 4096
MOST_PIXELS = 40_000_000
BRIGHTEST = 65_000.0
EXR_MAGIC = b"\x76\x2f\x31\x01"

Values = Literal["display", "linear"]


def read_surround(data: bytes, name: str, values: Values) -> bytes:
    """A map as it is kept (Radiance, at most 4,096 px wide). `values` says of an ordinary picture whether its numbers are meant for a display
    or are light itself.

    Raises
    ------
    HollowMarbleError
        where it is damaged, too large, no picture, or holds what is no light.
    """
    with one_at_a_time:
        image = _light(data, name, values)
        check_light(image, name)
        width = min(image.shape[1], WIDEST)
        return rgbe.encoded(resized(image, width, max(1, width // 2)))


def _light(data: bytes, name: str, values: Values) -> Image:
    if data[:4] == EXR_MAGIC:
        return read_exr(data, name)
    if data[:2] == b"#?":
        return rgbe.decoded(data)
    picture: Image = np.asarray(opened(data, name).convert("RGB"), np.float32) / np.float32(255)
    return to_linear(picture).astype(np.float32) if values == "display" else picture


def check_light(image: Image, name: str) -> None:
    """Raises HollowMarbleError where a map holds what is no light."""
    if not np.isfinite(image).all():
        count = int((~np.isfinite(image).all(axis=-1)).sum())
        raise HollowMarbleError(
            f"{name} has {count:,} px that are not numbers. Mend them in the program it came from, and bring it in again."
        )
    if image.min() < -1e-3:
        raise HollowMarbleError(
            f"{name} has light below nothing in it. Mend it in the program it came from, and bring it in again."
        )
    if image.max() > BRIGHTEST * 100:
        raise HollowMarbleError(
            f"{name} has light in it that is too bright to be reckoned with. Scale it down and bring it in again."
        )


def read_exr(data: bytes, name: str) -> Image:
    """(h, w, 3) light of an OpenEXR file; a grey one in all three."""
    import OpenEXR

    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder, "map.exr")
        path.write_bytes(data)
        try:
            with OpenEXR.File(str(path), header_only=True) as head:
                low, high = head.header()["dataWindow"]
            width, height = int(high[0]) - int(low[0]) + 1, int(high[1]) - int(low[1]) + 1
            if not 0 < width * height <= MOST_PIXELS:
                raise HollowMarbleError(
                    f"{name} says it is {width:,} × {height:,} px. Up to {MOST_PIXELS // 1_000_000} million px can be taken in."
                )
            with OpenEXR.File(str(path)) as file:
                channels = file.channels()
                if "RGB" in channels or "RGBA" in channels:
                    pixels = np.asarray((channels.get("RGB") or channels["RGBA"]).pixels, np.float32)[..., :3]
                elif "Y" in channels:
                    pixels = np.repeat(np.asarray(channels["Y"].pixels, np.float32)[..., None], 3, axis=-1)
                else:
                    raise HollowMarbleError(
                        f"{name} has no red, green and blue in it. Save it with these and bring it in again."
                    )
        except HollowMarbleError:
            raise
        except Exception as error:
            raise HollowMarbleError(
                f"{name} is damaged or cut short. Save it again in the program it came from."
            ) from error
    return np.ascontiguousarray(pixels)


def exr(image: Image) -> bytes:
    """A map as OpenEXR, 32-bit floats, losslessly packed."""
    import OpenEXR

    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder, "map.exr")
        header = {"compression": OpenEXR.ZIP_COMPRESSION, "type": OpenEXR.scanlineimage}
        with OpenEXR.File(header, {"RGB": np.ascontiguousarray(image, np.float32)}) as file:
            file.write(str(path))
        return path.read_bytes()
