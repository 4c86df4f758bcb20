"""The pictures of a report."""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageDraw, ImageFont

from hollow_marble.application.application import Application
from hollow_marble.application.checks import LIMIT, Listed
from hollow_marble.core.surface.making import pull_of
from hollow_marble.core.surface.pictures import ProbePictures, close_up
from hollow_marble.core.surface.probed import Probed
from hollow_marble.documents.form.checking import Checking
from hollow_marble.documents.sheet.notes import font_file
from hollow_marble.jobs.task import Work, blob
from hollow_marble.store.library import Project

WIDE, TALL = 360, 440
_FINER = 2
"""Px of a side of what is drawn for one of what is kept."""

_WRONG, _WARN, _PAPER = (155, 44, 59), (143, 90, 13), (246, 243, 238)


@dataclass(frozen=True, eq=False)
class Shot:
    """A picture with what it shows and what its colours mean; pixels (tall, wide, 3)."""

    name: str
    says: str
    pixels: NDArray[np.uint8]

    def png(self) -> bytes:
        """The picture as PNG."""
        file = io.BytesIO()
        Image.fromarray(self.pixels).save(file, "PNG", optimize=True)
        return file.getvalue()


def shots_of(
    application: Application,
    project: Project,
    surfaces: Sequence[Probed],
    checking: Checking,
    findings: Sequence[Listed],
) -> list[Shot]:
    """Findings numbered on the form, stripes from two sides, largest curvature, draft."""
    pull = pull_of(np.array(checking.pull))
    found: ProbePictures = application.run(
        project,
        "Drawing the report",
        lambda: Work("pictured", (pull, WIDE * _FINER, TALL * _FINER), (blob(list(surfaces)),)),
        LIMIT,
        "The pictures took too much for this machine. Hide parts, or make them less smooth, and try again.",
    )
    return [
        Shot("Findings", "Numbers as in the table; rings on the far side are thin.", _numbered(found, findings)),
        Shot("Stripes", "In the mirror of the surface, from the front.", _small(found.stripes)),
        Shot("Stripes, behind", "The same from the other side.", _small(found.behind)),
        Shot(
            "Largest curvature",
            f"Ochre bulges, violet is hollow; full at {found.end:.3f} 1/mm, a radius of {1 / found.end:.1f} mm.",
            _small(found.curvature),
        ),
        Shot(
            "Draft",
            f"Ochre lets go along the pull, violet the other way; full at 20°. Wanted: {checking.draft:g}°.",
            _small(found.draft),
        ),
    ]


def _small(picture: NDArray[np.uint8]) -> NDArray[np.uint8]:
    return np.asarray(Image.fromarray(picture).resize((WIDE, TALL), Image.Resampling.BOX))


def _numbered(found: ProbePictures, findings: Sequence[Listed]) -> NDArray[np.uint8]:
    """The form in plaster with a numbered ring at every finding; one that lies behind is drawn thin."""
    image = Image.fromarray(_small(found.plaster))
    pen = ImageDraw.Draw(image)
    font = ImageFont.truetype(io.BytesIO(font_file("sans strong")), 17)
    for number, one in enumerate(findings, 1):
        x, y, away = found.camera.seen(np.array([one.finding.place]))[0]
        column, row = int(np.clip(x, 0, found.camera.wide - 1)), int(np.clip(y, 0, found.camera.tall - 1))
        hidden = found.far[row, column] < away - 1.0
        x, y = x / _FINER, y / _FINER
        colour = _WRONG if one.counts else _WARN
        pen.ellipse((x - 8, y - 8, x + 8, y + 8), outline=colour, width=1 if hidden else 3)
        pen.text((x + 11, y - 9), str(number), font=font, fill=colour, stroke_width=2, stroke_fill=_PAPER)
    return np.asarray(image)


def close_up_png(surfaces: Sequence[Probed], place: tuple[float, float, float]) -> bytes:
    """A small picture of where a finding is, with a ring around it, as PNG."""
    picture, at = close_up(surfaces, np.array(place), *_CLOSE_UP)
    image = Image.fromarray(picture)
    x, y = (float(value) for value in at)
    pen = ImageDraw.Draw(image)
    pen.ellipse((x - 13, y - 13, x + 13, y + 13), outline=_PAPER, width=6)
    pen.ellipse((x - 12, y - 12, x + 12, y + 12), outline=_WRONG, width=3)
    return Shot("", "", np.asarray(image.resize((_CLOSE_UP[0] // 2, _CLOSE_UP[1] // 2), Image.Resampling.BOX))).png()


_CLOSE_UP = (256, 160)
