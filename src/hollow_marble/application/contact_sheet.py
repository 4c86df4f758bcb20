"""Every shot in every colourway on one sheet: small takes, asked for together, and the page they make."""

from __future__ import annotations

import io

from PIL import Image, ImageDraw, ImageFont

from hollow_marble.application.darkroom import Darkroom
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.sheet.notes import font_file
from hollow_marble.documents.studio.model import Shot, Studio
from hollow_marble.store.assets import load_asset
from hollow_marble.store.library import Project
from hollow_marble.store.takes import Take, list_takes

LONGEST = 320
"""Px of the longer side of a picture on the sheet."""
MOST = 60
_GAP, _LINE = 24, 44
_PAPER, _INK = (246, 243, 238), (32, 40, 43)


def _pictures(studio: Studio) -> list[list[Shot]]:
    """A row for each shot, in each colourway; as it was kept where there are no colourways."""
    rows = []
    for shot in studio.shots:
        wide = LONGEST / max(shot.width, shot.height)
        size = {"width": max(16, round(shot.width * wide)), "height": max(16, round(shot.height * wide))}
        row = []
        for way in studio.colourways:
            setting = shot.setting.model_copy(update={"finishes": {**shot.setting.finishes, **way.finishes}})
            row.append(shot.model_copy(update={"setting": setting, "name": f"{shot.name}, {way.name}"[:60], **size}))
        rows.append(row or [shot.model_copy(update=size)])
    return rows


def ask(darkroom: Darkroom, project: Project, ident: str, studio: Studio) -> list[Take]:
    """Ask for the pictures that are not there yet, as drafts.

    Raises
    ------
    HollowMarbleError
        where there is nothing to put on the sheet, or too much.
    """
    wanted = [shot for row in _pictures(studio) for shot in row]
    if not wanted:
        raise HollowMarbleError("There is no shot yet to put on a contact sheet. Keep one first.")
    if len(wanted) > MOST:
        raise HollowMarbleError(
            f"A contact sheet takes {MOST} pictures; these would be {len(wanted)}. Remove shots or colourways that are not needed."
        )
    there = [take.frozen for take in list_takes(project.database) if take.state not in ("cancelled", "failed")]
    return [darkroom.ask(project, ident, shot, "draft") for shot in wanted if shot not in there]


def page(project: Project, studio: Studio) -> bytes:
    """The sheet as a PNG: rows are shots, columns colourways; what is not developed yet stays blank."""
    rows = _pictures(studio)
    done = [take for take in list_takes(project.database) if take.picture is not None]
    if not rows:
        raise HollowMarbleError("There is no shot yet to put on a contact sheet. Keep one first.")
    columns = max(len(row) for row in rows)
    tall = [max(shot.height for shot in row) + _LINE for row in rows]
    sheet = Image.new("RGB", (columns * (LONGEST + _GAP) + _GAP, sum(tall) + _GAP), _PAPER)
    pen = ImageDraw.Draw(sheet)
    letters = ImageFont.truetype(io.BytesIO(font_file("sans")), 17)
    top = _GAP
    for row, high in zip(rows, tall, strict=True):
        for column, shot in enumerate(row):
            left = _GAP + column * (LONGEST + _GAP)
            take = next((one for one in reversed(done) if one.frozen == shot), None)
            if take is not None and take.picture is not None:
                with Image.open(io.BytesIO(load_asset(project.database, take.picture)[0])) as picture:
                    shown = picture.convert("RGBA")
                    sheet.paste(shown, (left, top), shown)
            pen.text((left, top + high - _LINE + 6), shot.name, fill=_INK, font=letters)
        top += high
    file = io.BytesIO()
    sheet.save(file, "PNG", compress_level=6)
    return file.getvalue()
