"""What hangs on a board, small: the takes in their order, what was decided of each, where somebody pinned something."""

from __future__ import annotations

import io
import math

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageDraw

from hollow_marble.application.portraits.painting import FINER, Size, canvas_of, made_small
from hollow_marble.core.errors import NotFoundError
from hollow_marble.documents.board.model import Board, Decision
from hollow_marble.store.assets import load_asset
from hollow_marble.store.database import Database
from hollow_marble.store.takes import get_take

GROUND, EMPTY = (88, 84, 78), (120, 115, 108)
DECIDED: dict[Decision, tuple[int, int, int]] = {"keep": (31, 111, 91), "change": (178, 106, 0), "drop": (163, 50, 47)}
PIN = (122, 75, 163)
GAP = 4 * FINER


def draw_board(database: Database, board: Board, size: Size) -> NDArray[np.uint8]:
    """(tall, wide, 3) the board."""
    canvas = canvas_of(size, GROUND)
    pen = ImageDraw.Draw(canvas)
    columns = max(1, math.ceil(math.sqrt(len(board.takes))))
    rows = max(1, math.ceil(len(board.takes) / columns))
    wide, tall = (canvas.width - GAP) // columns - GAP, (canvas.height - GAP) // rows - GAP
    decided = {verdict.take: verdict.decision for verdict in board.verdicts}
    for number, take in enumerate(board.takes):
        row, column = divmod(number, columns)
        picture = _picture(database, take, (wide, tall - 2 * FINER))
        left, top = GAP + column * (wide + GAP), GAP + row * (tall + GAP)
        canvas.paste(picture, (left, top))
        below = top + picture.height
        if take in decided:
            pen.rectangle((left, below, left + picture.width - 1, below + 2 * FINER), fill=DECIDED[decided[take]])
        if take in board.pair:
            pen.rectangle((left - 2, top - 2, left + picture.width + 1, below + 1), outline=(255, 255, 255), width=2)
        for pin in board.pins:
            if pin.take == take:
                x, y = left + pin.x * picture.width, top + pin.y * picture.height
                colour = EMPTY if pin.resolved else PIN
                pen.ellipse((x - 2 * FINER, y - 2 * FINER, x + 2 * FINER, y + 2 * FINER), fill=colour, outline="white")
    return made_small(canvas, size)


def _picture(database: Database, take: str, room: Size) -> Image.Image:
    """A take's picture as large as there is room; a plain card where it is gone or not developed yet."""
    try:
        found = get_take(database, take)
    except NotFoundError:
        return Image.new("RGB", room, EMPTY)
    if found.picture is None:
        return Image.new("RGB", room, EMPTY)
    with Image.open(io.BytesIO(load_asset(database, found.picture)[0])) as opened:
        opened.thumbnail(room)
        return opened.convert("RGB")
