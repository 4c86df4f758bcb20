"""OpenRaster 0.0.5 (Freedesktop): a ZIP of PNG layers with a stack that says how they lie on one another."""

from __future__ import annotations

import io
import zipfile
from dataclasses import dataclass, field
from xml.etree import ElementTree

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.ink.blend import MODES, Mode
from hollow_marble.exchange.pictures import LONGEST_SIDE, png, read_picture

MEDIA = "image/openraster"
MOST_BYTES = 700_000_000
MOST_LAYERS = 200
_NORMAL = "svg:src-over"


@dataclass
class Raster:
    """One layer of a file, or a group of them (`inner`, lowest first).

    pixels : (h, w, 4) uint8, colour not premultiplied; at : left, top on the page
    """

    name: str
    pixels: NDArray[np.uint8] | None = None
    at: tuple[int, int] = (0, 0)
    visible: bool = True
    opacity: float = 1.0
    mode: Mode = "normal"
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
                    "composite-op": _NORMAL if raster.mode == "normal" else f"svg:{raster.mode}",
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
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            if sum(entry.file_size for entry in archive.infolist()) > MOST_BYTES:
                raise HollowMarbleError(
                    f"{name} would unpack to more than {MOST_BYTES // 1_000_000} MB, so it was not opened. "
                    "Save it with fewer or smaller layers."
                )
            text = archive.read("stack.xml")
            if b"<!" in text:
                raise HollowMarbleError(f"{name} holds definitions that do not belong into OpenRaster. Save it anew.")
            root = ElementTree.fromstring(text)  # noqa: S314 — definitions, and so entities, are refused above
            width, height = int(root.get("w", "0")), int(root.get("h", "0"))
            if not (0 < width <= LONGEST_SIDE and 0 < height <= LONGEST_SIDE):
                raise HollowMarbleError(
                    f"{name} is {width:,} × {height:,} px. A page can be up to {LONGEST_SIDE:,} px on a side."
                )
            stack = root.find("stack")
            if stack is None or len(list(root.iter("layer"))) > MOST_LAYERS:
                raise HollowMarbleError(f"{name} has no layers, or more than {MOST_LAYERS}. Nothing was brought in.")
            return _stack(stack, archive, name), width, height
    except HollowMarbleError:
        raise
    except (zipfile.BadZipFile, KeyError, ElementTree.ParseError, ValueError, OSError, NotImplementedError) as error:
        raise HollowMarbleError(
            f"{name} is not an OpenRaster file, or it is damaged. Save it again and retry."
        ) from error


def _stack(parent: ElementTree.Element, archive: zipfile.ZipFile, name: str) -> list[Raster]:
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
        )
        if element.tag == "stack":
            raster.inner = _stack(element, archive, name)
        else:
            upright, _, _ = read_picture(archive.read(element.get("src", "")), f"A layer of {name}")
            raster.pixels = np.asarray(Image.open(io.BytesIO(upright)).convert("RGBA"))
        found.append(raster)
    return found[::-1]
