"""A sheet as PDF: the page as a picture, notes that lie on top of everything as text and lines."""

from __future__ import annotations

import io

import numpy as np
from PIL import Image
from reportlab.lib.utils import ImageReader
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

from hollow_marble.documents.edit import LoadAsset
from hollow_marble.documents.sheet.model import NotesLayer, Sheet, rgb
from hollow_marble.documents.sheet.notes import FONTS, Solid, Stretch, font_file, marks
from hollow_marble.documents.sheet.raster import SheetRaster
from hollow_marble.documents.sheet.raster.enlarged import enlarged

PX_AN_INCH = 150
POINT = 72 / PX_AN_INCH
_SCALE = 2


def sheet_pdf(sheet: Sheet, raster: SheetRaster, load: LoadAsset) -> bytes:
    """PDF of one page at 150 page px an inch (ISO A sizes come out as such), the picture twice as fine."""
    over = _on_top(sheet)
    ids = {layer.id for layer in over}
    under = sheet.model_copy(update={"layers": tuple(layer for layer in sheet.layers if layer.id not in ids)})
    picture = Image.fromarray(np.ascontiguousarray(enlarged(under, raster, load, _SCALE)))
    file = io.BytesIO()
    canvas = Canvas(file, pagesize=(sheet.width * POINT, sheet.height * POINT), pageCompression=1)
    canvas.drawImage(ImageReader(picture), 0, 0, sheet.width * POINT, sheet.height * POINT)
    use_fonts()
    canvas.scale(POINT, POINT)
    canvas.translate(0, sheet.height)
    for layer in over:
        for note in layer.notes:
            red, green, blue = (value / 255 for value in rgb(note.colour))
            canvas.setStrokeColorRGB(red, green, blue)
            canvas.setFillColorRGB(red, green, blue)
            for mark in marks(note, sheet.views):
                if isinstance(mark, Stretch | Solid):
                    _trace(canvas, mark)
                else:
                    canvas.saveState()
                    canvas.translate(mark.at[0], -mark.at[1])
                    canvas.rotate(-mark.turn)
                    canvas.setFont(mark.font, mark.size)
                    canvas.drawString(0, 0, mark.text)
                    canvas.restoreState()
    canvas.save()
    return file.getvalue()


def use_fonts() -> None:
    """Make the bundled typefaces known, so that what is written with them is embedded."""
    for font in FONTS:
        pdfmetrics.registerFont(TTFont(font, io.BytesIO(font_file(font))))


def _trace(canvas: Canvas, mark: Stretch | Solid) -> None:
    path = canvas.beginPath()
    (x, y), *rest = mark.places
    path.moveTo(x, -y)
    for x, y in rest:
        path.lineTo(x, -y)
    if isinstance(mark, Solid):
        path.close()
        canvas.drawPath(path, stroke=0, fill=1)
    else:
        canvas.setLineWidth(mark.width)
        canvas.setLineCap(1)
        canvas.setLineJoin(1)
        canvas.drawPath(path, stroke=1, fill=0)


def _on_top(sheet: Sheet) -> list[NotesLayer]:
    """Shown notes layers with nothing but notes above them, laid on plainly, lowest first."""
    found: list[NotesLayer] = []
    for layer in reversed(sheet.within(None)):
        if not layer.visible:
            continue
        if not isinstance(layer, NotesLayer) or layer.mode != "normal" or layer.opacity < 1 or layer.clipped:
            break
        found.insert(0, layer)
    return found
