"""Radiance pictures (.hdr): four bytes a pixel, red, green and blue with one exponent (Ward, Real Pixels, Graphics Gems II, 1991)."""

from __future__ import annotations

import re

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.errors import HollowMarbleError

Image = NDArray[np.float32]

MEDIA = "image/vnd.radiance"
MOST_PIXELS = 40_000_000
_DAMAGED = "That picture is damaged: a row is longer than it says. Save it again in the program it came from."
_BROKEN = "The file breaks off in the middle of the picture. Save it again in the program it came from."


def packed(image: Image) -> NDArray[np.uint8]:
    """(h, w, 3) light as bytes (h, w, 4), rounded and not cut off, so that the picture's energy stays."""
    peak = np.maximum(image.max(axis=-1), 0)
    _, exponent = np.frexp(peak)
    # where rounding would carry over, one exponent more
    exponent = np.where(np.rint(np.ldexp(peak, 8 - exponent)) > 255, exponent + 1, exponent)
    lit = peak > 1e-32
    scaled = np.rint(np.ldexp(np.maximum(image, 0), (8 - exponent)[..., None]))
    out = np.concatenate([np.clip(scaled, 0, 255), (exponent + 128)[..., None]], axis=-1)
    out[~lit] = 0
    return out.astype(np.uint8)


def unpacked(data: NDArray[np.uint8]) -> Image:
    """Bytes (..., 4) as light (..., 3)."""
    exponent = data[..., 3].astype(np.int32) - 136
    found: Image = np.ldexp(data[..., :3].astype(np.float32), exponent[..., None])
    found[data[..., 3] == 0] = 0
    return found


def encoded(image: Image) -> bytes:
    """A picture as a Radiance file. Its rows are coded in runs where a channel is the same all along, and told as they are where it is not:
    what is painted packs well so, and what is photographed would not pack anyway."""
    tall, wide = image.shape[:2]
    head = f"#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y {tall} +X {wide}\n".encode()
    data = packed(image)
    if not 8 <= wide <= 32767:
        return head + data.tobytes()
    even = (data == data[:, :1]).all(axis=1)
    rows = [head]
    for row, same in zip(data, even, strict=True):
        rows.append(bytes((2, 2, wide >> 8, wide & 255)))
        rows += [_run(int(row[0, k]), wide) if same[k] else _told(row[:, k]) for k in range(4)]
    return b"".join(rows)


def _run(value: int, count: int) -> bytes:
    """A value so many times: (128 + count, value), at most 127 at once."""
    full, rest = divmod(count, 127)
    return bytes((255, value)) * full + (bytes((128 + rest, value)) if rest else b"")


def _told(values: NDArray[np.uint8]) -> bytes:
    """Values as they are: (count, values), at most 128 at once."""
    full = len(values) // 128 * 128
    whole = np.concatenate([np.full((full // 128, 1), 128, np.uint8), values[:full].reshape(-1, 128)], axis=1).tobytes()
    rest = values[full:]
    return whole + (bytes((len(rest),)) + rest.tobytes() if len(rest) else b"")


def decoded(data: bytes) -> Image:
    """A Radiance file as light (h, w, 3).

    Raises
    ------
    HollowMarbleError
        where it is none, is too large, or breaks off.
    """
    head = re.match(rb"#\?(RADIANCE|RGBE)[^\n]*\n", data)
    size = re.search(rb"\n([-+])Y (\d+) ([-+])X (\d+)\n", data[:8192])
    if head is None or size is None:
        raise HollowMarbleError(
            "That is not a Radiance picture. Choose a .hdr file, an OpenEXR file or an ordinary picture."
        )
    tall, wide = int(size[2]), int(size[4])
    if tall < 1 or wide < 1 or tall * wide > MOST_PIXELS:
        raise HollowMarbleError(
            f"That picture says it is {wide} × {tall} px. Up to {MOST_PIXELS // 1_000_000} million px can be taken in."
        )
    body = np.frombuffer(data, np.uint8)[size.end() :]
    pixels = _read(body, tall, wide)
    if size[1] == b"+":
        pixels = pixels[::-1]
    if size[3] == b"-":
        pixels = pixels[:, ::-1]
    image = unpacked(pixels)
    exposure = re.findall(rb"\nEXPOSURE=\s*([0-9.eE+-]+)", data[: size.start() + 1])
    for value in exposure:
        image = image / np.float32(float(value) or 1.0)
    return image


def _read(body: NDArray[np.uint8], tall: int, wide: int) -> NDArray[np.uint8]:
    coded = (
        8 <= wide <= 32767
        and len(body) >= 4
        and body[0] == 2
        and body[1] == 2
        and (int(body[2]) << 8 | int(body[3])) == wide
    )
    if not coded:
        if len(body) < tall * wide * 4:
            raise HollowMarbleError(_BROKEN)
        return body[: tall * wide * 4].reshape(tall, wide, 4)
    if (
        len(body) < tall * 12
    ):  # a row of one colour takes that many bytes at least: no memory is asked for on a claim alone
        raise HollowMarbleError(_BROKEN)
    out = np.empty((tall, wide, 4), np.uint8)
    at = 0
    for y in range(tall):
        at += 4
        for channel in range(4):
            at = _row(body, at, out[y, :, channel])
    return out


def _row(body: NDArray[np.uint8], at: int, into: NDArray[np.uint8]) -> int:
    """Unpack one channel of a row, from a place in the bytes; returns the place after it."""
    x, wide = 0, len(into)
    while x < wide:
        if at + 2 > len(body):
            raise HollowMarbleError(_BROKEN)
        count = int(body[at])
        run = count > 128
        count -= 128 if run else 0
        if x + count > wide or count == 0:
            raise HollowMarbleError(_DAMAGED)
        if not run and at + 1 + count > len(body):
            raise HollowMarbleError(_BROKEN)
        into[x : x + count] = body[at + 1] if run else body[at + 1 : at + 1 + count]
        at += 2 if run else 1 + count
        x += count
    return at
