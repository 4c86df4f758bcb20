"""A brief's page, small: what it must be, its envelope, its pictures where they lie."""

from __future__ import annotations

import io
import textwrap

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageDraw, ImageFont

from hollow_marble.application.portraits.painting import FINER, Size, canvas_of, made_small
from hollow_marble.documents.brief.model import BOARD, Brief
from hollow_marble.documents.sheet.notes import font_file
from hollow_marble.store.assets import load_asset
from hollow_marble.store.database import Database

PAPER, INK, QUIET = (251, 248, 241), (32, 40, 43), (110, 108, 102)
SHARE = 0.42
"""Of the page that the words take."""
BOX_FROM = 0.6
"""Share of the height at which the envelope begins, where there is one."""


def draw_brief(database: Database, brief: Brief, size: Size) -> NDArray[np.uint8]:
    """(tall, wide, 3) the page."""
    canvas = canvas_of(size, PAPER)
    pen = ImageDraw.Draw(canvas)
    margin, words = canvas.width // 30, int(canvas.width * SHARE)
    font = ImageFont.truetype(io.BytesIO(font_file("sans")), canvas.width // 28)
    letters = max(8, int((words - 2 * margin) / (font.size * 0.52)))
    lines = [*textwrap.wrap(brief.what, letters), "", *textwrap.wrap(brief.notes, letters)]
    tall = round(font.size * 1.3)
    room = int(canvas.height * (BOX_FROM if brief.envelope else 1.0)) - 2 * margin
    for number, line in enumerate(lines[: room // tall]):
        pen.text((margin, margin + number * tall), line, font=font, fill=INK)
    if brief.envelope is not None:
        _box(pen, brief.envelope, (margin, int(canvas.height * BOX_FROM), words - margin, canvas.height - margin))
    scale = (canvas.width - words - margin) / BOARD
    for laid in brief.pictures:
        wide, high = max(1, round(laid.wide * scale)), max(1, round(laid.wide * laid.tall * scale))
        with Image.open(io.BytesIO(load_asset(database, laid.picture)[0])) as opened:
            opened.thumbnail((2 * wide, 2 * high))
            picture = opened.convert("RGBA").resize((wide, high), Image.Resampling.BOX)
        canvas.paste(picture, (words + round(laid.x * scale), margin + round(laid.y * scale)), picture)
    return made_small(canvas, size)


def _box(pen: ImageDraw.ImageDraw, envelope: tuple[float, float, float], room: tuple[int, int, int, int]) -> None:
    """The envelope as a box drawn from a corner (cabinet projection)."""
    wide, deep, high = envelope
    left, top, right, bottom = room
    lean = 0.35
    scale = min((right - left) / (wide + lean * deep), (bottom - top) / (high + lean * deep))
    w, d, h = wide * scale, lean * deep * scale, high * scale
    near = [(left, bottom), (left + w, bottom), (left + w, bottom - h), (left, bottom - h)]
    far = [(x + d, y - d) for x, y in near]
    for face in (far, near):
        pen.polygon(face, outline=QUIET, width=FINER)
    for a, b in zip(near, far):
        pen.line((a, b), fill=QUIET, width=FINER)
