"""OpenRaster 0.0.5 (Freedesktop): a ZIP of PNG layers with a stack that says how they lie on one another."""

from __future__ import annotations

import io
import lzma
import zipfile
import zlib
from dataclasses import dataclass, field
from xml.etree import ElementTree

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.ink.blend import MODES, Mode
from hollow_marble.core.ink.stamp import Rect, clipped, empty
from hollow_marble.exchange.claims import one_at_a_time
from hollow_marble.exchange.pictures import LONGEST_SIDE, opened, png

MEDIA = "image/openraster"
MOST_BYTES = 700_000_000
MOST_ENTRY = 100_000_000
"""Bytes one picture of the archive may unpack to, before it is read as a picture."""
MOST_WORDS = 2_000_000
"""Bytes of the description of the stack."""
MOST_LAYERS = 200
"""Layers and groups together."""
DEEPEST = 20
MOST_PIXELS = 56_000_000
"""Pixels of all layers together, each counted as often as it is used and only where it lies on the page."""
_NORMAL = "svg:src-over"
_ATOP = "svg:src-atop"


@dataclass
class Raster:
    """One layer of a file, or a group of them (`inner`, lowest first).

    pixels : (h, w, 4) uint8, colour not premultiplied; at : left, top on the page
    clipped : shown only where those below it in its group have paint (`svg:src-atop`)
    """

    name: str
    pixels: NDArray[np.uint8] | None = None
    at: tuple[int, int] = (0, 0)
    visible: bool = True
    opacity: float = 1.0
    mode: Mode = "normal"
    clipped: bool = False
    inner: list[Raster] = field(default_factory=list)


def write_openraster(layers: list[Raster], merged: NDArray[np.uint8]) -> bytes:
    """A file of layers, lowest first, with the page as it shows, (H, W, 4) uint8."""
    height, width = merged.shape[:2]
    file = io.BytesIO()
    root = ElementTree.Element("image", {"version": "0.0.5", "w": str(width), "h": str(height)})
    stack = ElementTree.SubElement(root, "stack")
    with zipfile.ZipFile(file, "w", zipfile.ZIP_STORED) as archive:
        archive.writestr("mimetype", MEDIA)  # first, and not packed: that is how the format is told
        count = 0

        def put(rasters: list[Raster], parent: ElementTree.Element) -> None:
            nonlocal count
            for raster in reversed(rasters):  # the file lists the topmost first
                look = {
                    "name": raster.name,
                    "opacity": f"{raster.opacity:.6f}",
                    "visibility": "visible" if raster.visible else "hidden",
                    "composite-op": _ATOP
                    if raster.clipped
                    else _NORMAL
                    if raster.mode == "normal"
                    else f"svg:{raster.mode}",
                }
                if raster.pixels is None:
                    group = ElementTree.SubElement(parent, "stack", {**look, "isolation": "isolate"})
                    put(raster.inner, group)
                    continue
                source = f"data/layer{count}.png"
                count += 1
                archive.writestr(source, png(raster.pixels, 2))
                place = {"x": str(raster.at[0]), "y": str(raster.at[1]), "src": source}
                ElementTree.SubElement(parent, "layer", {**look, **place})

        put(layers, stack)
        archive.writestr("stack.xml", b'<?xml version="1.0" encoding="UTF-8"?>\n' + ElementTree.tostring(root))
        archive.writestr("mergedimage.png", png(merged, 2))
        small = Image.fromarray(merged)
        small.thumbnail((256, 256))
        archive.writestr("Thumbnails/thumbnail.png", png(np.asarray(small)))
    return file.getvalue()


def read_openraster(data: bytes, name: str) -> tuple[list[Raster], int, int]:
    """Layers, lowest first, and the page's width and height.

    Raises
    ------
    HollowMarbleError
        where the file is damaged, unpacks to too much, or is not OpenRaster.
    """
    try:
        with one_at_a_time, zipfile.ZipFile(io.BytesIO(data)) as archive:
            if sum(entry.file_size for entry in archive.infolist()) > MOST_BYTES:
                raise HollowMarbleError(
                    f"{name} would unpack to more than {MOST_BYTES // 1_000_000} MB, so it was not opened. "
                    "Save it with fewer or smaller layers."
                )
            if archive.getinfo("stack.xml").file_size > MOST_WORDS:
                raise HollowMarbleError(f"{name} describes its layers at too great a length, so it was not opened.")
            text = archive.read("stack.xml").decode("utf-8")  # any other coding could hide what is looked for here
            if "<!" in text or "\0" in text:
                raise HollowMarbleError(f"{name} holds definitions that do not belong into OpenRaster. Save it anew.")
            root = ElementTree.fromstring(text)  # noqa: S314 — definitions, and so entities, are refused above
            width, height = int(root.get("w", "0")), int(root.get("h", "0"))
            if not (0 < width <= LONGEST_SIDE and 0 < height <= LONGEST_SIDE):
                raise HollowMarbleError(
                    f"{name} is {width:,} × {height:,} px. A page can be up to {LONGEST_SIDE:,} px on a side."
                )
            stack = root.find("stack")
            if stack is None or sum(1 for _ in root.iter()) > MOST_LAYERS + 2:
                raise HollowMarbleError(f"{name} has no layers, or more than {MOST_LAYERS}. Nothing was brought in.")
            return _Unpacking(archive, name, width, height).stack(stack), width, height
    except HollowMarbleError:
        raise
    except _DAMAGED as error:
        raise HollowMarbleError(
            f"{name} is not an OpenRaster file, or it is damaged. Save it again and retry."
        ) from error


_DAMAGED = (
    *(zipfile.BadZipFile, zlib.error, lzma.LZMAError, EOFError),
    *(KeyError, ElementTree.ParseError, ValueError, OverflowError, OSError),
    *(NotImplementedError, RuntimeError),  # another packing; a password
)


class _Unpacking:
    """Reads the layers of an archive on to a page, and keeps count of what they take."""

    def __init__(self, archive: zipfile.ZipFile, name: str, width: int, height: int) -> None:
        self._archive, self._name = archive, name
        self._page: Rect = (0, 0, width, height)
        self._pixels = 0

    def stack(self, parent: ElementTree.Element, depth: int = 0) -> list[Raster]:
        """The layers of a stack, lowest first."""
        if depth > DEEPEST:
            raise HollowMarbleError(
                f"{self._name} has groups within more than {DEEPEST} others. Nothing was brought in."
            )
        found = []
        for element in parent:
            if element.tag not in ("stack", "layer"):
                continue
            operation = element.get("composite-op", _NORMAL).removeprefix("svg:")
            mode: Mode = next((known for known in MODES if known == operation), "normal")
            raster = Raster(
                element.get("name") or "Layer",
                at=(int(float(element.get("x", "0"))), int(float(element.get("y", "0")))),
                visible=element.get("visibility", "visible") != "hidden",
                opacity=min(1.0, max(0.0, float(element.get("opacity", "1")))),
                mode=mode,
                clipped=element.get("composite-op") == _ATOP,
            )
            if element.tag == "stack":
                raster.inner = self.stack(element, depth + 1)
            else:
                self._read(raster, element.get("src", ""))
            found.append(raster)
        return found[::-1]

    def _read(self, raster: Raster, source: str) -> None:
        """A layer's pixels, cut to the page."""
        if self._archive.getinfo(source).file_size > MOST_ENTRY:
            raise HollowMarbleError(f"A layer of {self._name} is too large to be unpacked. Nothing was brought in.")
        left, top = raster.at

        def on_page(width: int, height: int) -> Rect:
            inside = clipped((left, top, left + width, top + height), self._page)
            return (left, top, left, top) if empty(inside) else inside

        def fits(width: int, height: int) -> None:
            rect = on_page(width, height)
            self._pixels += (rect[2] - rect[0]) * (rect[3] - rect[1])
            if self._pixels > MOST_PIXELS:
                raise HollowMarbleError(
                    f"The layers of {self._name} hold more than {MOST_PIXELS // 1_000_000} million pixels together. Save it with fewer or "
                    "smaller ones."
                )

        picture = opened(self._archive.read(source), f"A layer of {self._name}", fits)
        rect = on_page(picture.width, picture.height)  # upright, which it was not yet when it was counted
        box = (rect[0] - left, rect[1] - top, rect[2] - left, rect[3] - top)
        whole = box == (0, 0, picture.width, picture.height)
        raster.pixels = np.asarray((picture if whole else picture.crop(box)).convert("RGBA"))
        raster.at = rect[:2]
