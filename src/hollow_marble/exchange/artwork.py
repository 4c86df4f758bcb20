"""Artwork in: PNG with what is clear in it, other pictures, and SVG, drawn once and for all."""

from __future__ import annotations

import io
import re
import xml.etree.ElementTree as ET

import numpy as np
import skia
from PIL import Image

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.exchange.claims import one_at_a_time
from hollow_marble.exchange.pictures import read_picture

LONGEST_SIDE = 2_400
"""Px of the longer side that an SVG is drawn at."""
MOST_BYTES = 8_000_000

_ACTIVE = {"script", "foreignobject", "iframe", "object", "embed", "audio", "video"}


def read_artwork(data: bytes, name: str) -> tuple[bytes, int, int]:
    """Artwork as PNG bytes, its width and height.

    Raises
    ------
    HollowMarbleError
        where it is damaged, too large, or does or fetches anything.
    """
    if b"<svg" in data[:4096].lower():
        with one_at_a_time:
            return _drawn(data, name)
    return read_picture(data, name)


def still_svg(data: bytes, name: str) -> ET.Element:
    """The root of an SVG that neither runs nor fetches anything.

    Raises
    ------
    HollowMarbleError
        where it is damaged or too large, declares entities, or has anything active in it.
    """
    if len(data) > MOST_BYTES:
        raise HollowMarbleError(f"{name} is too large for a drawing. Simplify it and try again.")
    if re.search(rb"<!(DOCTYPE|ENTITY)", data, re.I):
        data = re.sub(rb"<!DOCTYPE[^\[>]*>", b"", data, flags=re.I)
        if re.search(rb"<!(DOCTYPE|ENTITY)", data, re.I):
            raise HollowMarbleError(f"{name} declares entities of its own. Save it as plain SVG and try again.")
    try:
        root = ET.fromstring(data)  # noqa: S314 — entities have been refused
    except ET.ParseError as error:
        raise HollowMarbleError(f"{name} is damaged or cut short. Save it again and retry.") from error
    _check_still(root, name)
    return root


def _drawn(data: bytes, name: str) -> tuple[bytes, int, int]:
    root = still_svg(data, name)
    drawing = skia.SVGDOM.MakeFromStream(skia.MemoryStream(data))
    if drawing is None:
        raise HollowMarbleError(f"{name} could not be drawn. Save it as plain SVG and try again.")
    width, tall = _size(root, drawing)
    scale = LONGEST_SIDE / max(width, tall)
    size = max(1, round(width * scale)), max(1, round(tall * scale))
    surface = skia.Surface(*size)
    with surface as canvas:
        canvas.clear(skia.ColorTRANSPARENT)
        canvas.scale(size[0] / width, size[1] / tall)
        drawing.setContainerSize(skia.Size(width, tall))
        drawing.render(canvas)
    pixels = surface.makeImageSnapshot().toarray(colorType=skia.ColorType.kRGBA_8888_ColorType)
    if not np.any(pixels[..., 3]):
        raise HollowMarbleError(
            f"Nothing of {name} can be seen when it is drawn. Turn its words into outlines and try again."
        )
    file = io.BytesIO()
    Image.fromarray(pixels).save(file, "PNG", compress_level=3)
    return file.getvalue(), *size


def _check_still(root: ET.Element, name: str) -> None:
    """Raises HollowMarbleError where a drawing runs or fetches anything."""
    for element in root.iter():
        tag = str(element.tag).rsplit("}", 1)[-1].lower()
        if tag in _ACTIVE:
            raise HollowMarbleError(
                f"{name} has a script or a foreign thing in it ({tag}). Save it as plain SVG and try again."
            )
        for key, value in element.attrib.items():
            attribute = key.rsplit("}", 1)[-1].lower()
            if attribute.startswith("on"):
                raise HollowMarbleError(f"{name} has a script in it ({attribute}). Save it as plain SVG and try again.")
            outside = attribute in ("href", "src") and not value.strip().startswith(("#", "data:image/"))
            if outside or re.search(r"url\(\s*['\"]?\s*(?!#)", value) or "javascript:" in value.lower():
                raise HollowMarbleError(
                    f"{name} fetches something from elsewhere. Put everything into it and try again."
                )
        if tag == "style" and element.text and re.search(r"@import|url\(\s*['\"]?\s*(?!#)", element.text):
            raise HollowMarbleError(f"{name} fetches something from elsewhere. Put everything into it and try again.")


def _size(root: ET.Element, drawing: skia.SVGDOM) -> tuple[float, float]:
    box = [float(value) for value in re.findall(r"[-+.\deE]+", root.get("viewBox", ""))]
    if len(box) == 4 and box[2] > 0 and box[3] > 0:
        return box[2], box[3]
    given = drawing.containerSize()
    if given.width() > 0 and given.height() > 0:
        return float(given.width()), float(given.height())
    return 300.0, 150.0
