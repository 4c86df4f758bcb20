"""The page as a whole: pictures and layers brought in, and the page going out in open formats."""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from typing import Any, Literal

import numpy as np
from PIL import Image, ImageFilter

from hollow_marble.application.editing import Editing, Hand, Made, Proposal
from hollow_marble.application.sheets.strokes import new_id
from hollow_marble.application.workspace import Workspace
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.edit import asset_of
from hollow_marble.documents.sheet.edits import BringIn, PlacePicture
from hollow_marble.documents.sheet.model import Sheet
from hollow_marble.documents.sheet.raster import SheetRaster
from hollow_marble.documents.sheet.raster.enlarged import enlarged
from hollow_marble.documents.sheet.raster.tiles import MEDIA as TILE_MEDIA
from hollow_marble.exchange import openraster
from hollow_marble.exchange.layering import layers_from, rasters_of
from hollow_marble.exchange.pdf import sheet_pdf
from hollow_marble.exchange.pictures import png, read_picture
from hollow_marble.exchange.svg import sheet_svg
from hollow_marble.store.library import Project

Ending = Literal["png", "pdf", "svg", "ora"]
MEDIA: dict[Ending, str] = {
    "png": "image/png",
    "pdf": "application/pdf",
    "svg": "image/svg+xml",
    "ora": openraster.MEDIA,
}


def sheet_of(project: Project, ident: str) -> Sheet:
    """A sheet at its head."""
    sheet = project.ledger.state(ident)
    if not isinstance(sheet, Sheet):
        raise HollowMarbleError("That document is not a sheet.")
    return sheet


def bring_in_layers(editing: Editing, project: Project, ident: str, name: str, data: bytes, hand: Hand) -> Made:
    """Bring in the layers of an OpenRaster file, on top of the others."""
    rasters, _, _ = openraster.read_openraster(data, name)

    def compose(sheet: Sheet) -> Proposal:
        with editing.workspace.pixels_of(project, ident, sheet) as raster:
            layers, tiles = layers_from(rasters, sheet, raster)
        return Proposal(
            BringIn(name=name, layers=tuple(layers)), tuple(asset_of(t, TILE_MEDIA) for t in tiles.values())
        )

    return editing.make(project, ident, compose, hand)


def place_picture(editing: Editing, project: Project, ident: str, name: str, data: bytes, hand: Hand) -> Made:
    """Place a picture in the middle of the page, scaled to fit."""
    picture, width, height = read_picture(data, name)
    asset = asset_of(picture, "image/png")

    def compose(sheet: Sheet) -> Proposal:
        scale = min(1.0, 0.8 * sheet.width / width, 0.8 * sheet.height / height)
        w, h = max(8, round(width * scale)), max(8, round(height * scale))
        left, top = (sheet.width - w) // 2, (sheet.height - h) // 2
        rect = (left, top, left + w, top + h)
        return Proposal(PlacePicture(id=new_id(), name=name, picture=asset.sha, rect=rect), (asset,))

    return editing.make(project, ident, compose, hand)


def page_as(workspace: Workspace, project: Project, ident: str, ending: Ending, scale: int = 1) -> bytes:
    """The page as a picture, PDF with its notes as text, its lines as SVG, or its layers as OpenRaster."""
    sheet, load = sheet_of(project, ident), workspace.loader(project)
    if ending == "svg":
        return sheet_svg(sheet, load).encode()
    with workspace.pixels_of(project, ident, sheet) as raster:
        if ending == "pdf":
            return sheet_pdf(sheet, raster, load)
        page = (0, 0, sheet.width, sheet.height)
        if ending == "ora":
            return openraster.write_openraster(rasters_of(sheet, raster), raster.pixels(page))
        return png(enlarged(sheet, raster, load, scale) if scale > 1 else raster.pixels(page)[..., :3])


def small_page(workspace: Workspace, project: Project, ident: str, wide: int) -> bytes:
    """A picture of the page at its head, so many px wide."""
    return small_page_at(workspace, project, ident, project.ledger.row(ident).head, wide)


def small_page_at(workspace: Workspace, project: Project, ident: str, edit: int | None, wide: int) -> bytes:
    """A picture of the page at a line of its ledger; kept, for there it always looks the same."""
    # copies of a project have documents and lines of the same names
    name = hashlib.sha256(f"small page, legible {project.entry.id} {ident} {edit} {wide}".encode()).hexdigest()
    data = workspace.drawn.get(name)
    if data is None:
        sheet: Any = project.ledger.state(ident, edit, at_head=False)
        with workspace.pixels_of(project, ident, sheet) as raster:
            page = raster.pixels((0, 0, sheet.width, sheet.height))[..., :3]
        tall = max(1, round(sheet.height * wide / sheet.width))
        data = png(_legible(Image.fromarray(np.ascontiguousarray(page)), wide, tall))
        workspace.drawn.put(name, _given(data))
    return data


def _legible(page: Image.Image, wide: int, tall: int) -> Any:
    """(tall, wide, 3) a page made small so that its lines stay to be seen: a line thinner than a pixel would fade into the paper.

    Between the mean of each pixel and the mean of what a line three times as wide would have left there.
    """
    if page.width < 4 * wide:
        return np.asarray(page.resize((wide, tall), Image.Resampling.BOX))
    finer = page.resize((3 * wide, 3 * tall), Image.Resampling.BOX)
    wider = finer.filter(ImageFilter.MinFilter(3))
    return np.asarray(Image.blend(finer, wider, 0.7).resize((wide, tall), Image.Resampling.BOX))


def colour_at(workspace: Workspace, project: Project, ident: str, x: float, y: float) -> str:
    """The colour of the page at a place, as it shows (a mean of 3 × 3 px)."""
    sheet = sheet_of(project, ident)
    column, row = min(max(int(x), 1), sheet.width - 2), min(max(int(y), 1), sheet.height - 2)
    with workspace.pixels_of(project, ident, sheet) as raster:
        around = _mean(raster, column, row)
    red, green, blue = around
    return f"#{red:02X}{green:02X}{blue:02X}"


def _mean(raster: SheetRaster, column: int, row: int) -> Any:
    pixels = raster.pixels((column - 1, row - 1, column + 2, row + 2))[..., :3]
    return pixels.reshape(-1, 3).mean(axis=0).round().astype(int).tolist()


def _given(data: bytes) -> Callable[[], bytes]:
    return lambda: data
