"""The fifth sheet: the rendering again, composed with square-on views, callouts and the morning's sketches behind."""

from __future__ import annotations

import uuid

import numpy as np

from hollow_marble.core.ink.reshape import carried
from hollow_marble.core.ink.select import feathered, outlined
from hollow_marble.demo.designer import Designer
from hollow_marble.demo.drawing import Hand
from hollow_marble.demo.product import DIAL, WINDOW
from hollow_marble.demo.sheets.clean import elevation
from hollow_marble.demo.sheets.ideas import FRONT, SIDE
from hollow_marble.demo.sheets.rendering import PAGE, product
from hollow_marble.documents.edit import asset_of, find
from hollow_marble.documents.sheet.drawing import MEDIA, moved_stroke, view_strokes
from hollow_marble.documents.sheet.edits import (
    AddLayer,
    ChangeView,
    Choose,
    FrameView,
    PutNote,
    RepeatFaintly,
    SetPage,
    SetScale,
)
from hollow_marble.documents.sheet.model import Arrow, Border, Callout, Dimension, Ground, InkLayer, Lettering, Sheet
from hollow_marble.store.assets import load_asset

SCALE = 4.6
COLOURWAYS = (("Moss", "#86A48B"), ("Chalk", "#E4DFD3"), ("Dusk", "#6E7387"))


def draw_presentation(designer: Designer, rendering: str, ideas: str) -> str:
    """Compose the sheet and return its id."""
    sheet = designer.new_sheet("To the table", like=rendering)
    hand = Hand(47)
    _faint(designer, sheet, ideas)
    designer.edit(sheet, SetPage(paper="#FBF8F2", ground=Ground(way="linear", colour="#DCD6CA", angle=78.0)))
    designer.edit(sheet, SetPage(border=Border(width=3.0, inset=44.0, colour="#20282B")))
    designer.edit(sheet, ChangeView(id="rendering", rect=(640, 130, 1470, 1500)))
    designer.edit(sheet, AddLayer(id="views", name="Views"))
    for ident, x, profile in (("front", 1690.0, FRONT), ("side", 2090.0, SIDE)):
        at = (x, 640.0)
        elevation(designer, sheet, hand, at, profile, SCALE, "views", front=ident == "front", firm=0.72)
        half = 38 * SCALE if ident == "front" else 28 * SCALE
        rect = (int(x - half), 300, int(x + half), 960)
        designer.edit(sheet, FrameView(id=ident, view=ident, name=ident, rect=rect))
        designer.edit(sheet, SetScale(view=ident, scale=SCALE))
    designer.edit(sheet, AddLayer(id="chips", name="Colourways", holds="tone"))
    _chips(designer, sheet)
    _notes(designer, sheet)
    designer.edit(sheet, Choose(chosen=True))
    return sheet


def _faint(designer: Designer, sheet: str, ideas: str) -> None:
    """The pear and the pebble of the first morning, large and faint behind everything."""
    state = designer.project.ledger.state(ideas)
    assert isinstance(state, Sheet)
    database = designer.project.database
    for number, (name, at, scale) in enumerate(
        (("side-pear", (330.0, 860.0), 2.0), ("side-pebble", (1430.0, 900.0), 2.1))
    ):
        view = find(state.views, name, "view")
        left, top, right, bottom = view.rect
        middle = np.array([(left + right) / 2, (top + bottom) / 2])
        matrix = np.column_stack([np.eye(2) * scale, np.array(at) - middle * scale])
        strokes, assets = [], []
        for count, stroke in enumerate(view_strokes(state, view)):
            samples = np.frombuffer(load_asset(database, stroke.samples)[0], "<f4").reshape(-1, 4)
            moved = carried(samples, matrix)
            assets.append(asset_of(moved.astype("<f4").tobytes(), MEDIA))
            large = stroke.model_copy(update={"size": stroke.size * scale})
            ident = uuid.uuid5(uuid.NAMESPACE_OID, f"{name}{count}").hex[:12]
            strokes.append(moved_stroke(large, ident, moved, assets[-1].sha, (0, 0)))
        layer = InkLayer(id=f"faint-{number}", name=f"Faint {view.name}", opacity=0.13, strokes=tuple(strokes))
        designer.edit(sheet, RepeatFaintly(layer=layer), *assets)


def _chips(designer: Designer, sheet: str) -> None:
    t = np.linspace(0, 2 * np.pi, 120)
    for number, (_, colour) in enumerate(COLOURWAYS):
        x, y = 1640.0 + 190 * number, 1180.0
        for radius, shift, fill, opacity in ((60, 7, "#20282B", 0.28), (58, 0, colour, 1.0)):
            ring = outlined(np.column_stack([x + shift + radius * np.cos(t), y + shift + radius * np.sin(t)]), PAGE)
            designer.fill(sheet, "chips", feathered(ring, 6.0, PAGE) if shift else ring, fill, opacity)


def _notes(designer: Designer, sheet: str) -> None:
    designer.edit(sheet, AddLayer(id="notes", name="Notes", holds="notes"))
    shown = product()

    def put(note: object) -> None:
        designer.edit(sheet, PutNote(layer="notes", note=note))

    put(Lettering(id="title", words="Linnet", at=(110, 190), size=104, font="serif"))
    put(
        Lettering(
            id="claim", words="A pocket recorder for birdsong.\nIt reads as a pebble first.", at=(114, 256), size=34
        )
    )
    put(Lettering(id="maker", words="Alder Row", at=(2286, 168), size=34, font="sans strong", align="right"))
    for number, (name, _) in enumerate(COLOURWAYS):
        put(Lettering(id=name.lower(), words=name, at=(1640 + 190 * number, 1296), size=28, align="middle"))
    dial, window = shown.ring_on_front(*DIAL), shown.ring_on_front(*WINDOW)
    waist = shown.section(-6.0, 1.5)
    for ident, words, to, at in (
        ("c-dial", "Level dial,\none thumb", dial[32], (190, 560)),
        ("c-window", "Window,\nclear of the thumb", window[30], (150, 960)),
        ("c-waist", "Parting line\nat the waist", waist[-8], (1260, 760)),
    ):
        put(Callout(id=ident, words=words, to=(float(to[0]), float(to[1])), at=at, size=28))
    put(
        Dimension(
            id="d-height",
            start=(1690 - 31 * SCALE, 640 + 54 * SCALE),
            end=(1690 - 31 * SCALE, 640 - 54 * SCALE),
            off=-48,
            size=22,
        )
    )
    put(
        Dimension(
            id="d-width",
            start=(1690 - 31 * SCALE, 640 + 26 * SCALE),
            end=(1690 + 31 * SCALE, 640 + 26 * SCALE),
            off=178,
            size=22,
        )
    )
    put(
        Dimension(
            id="d-depth",
            start=(2090 - 17.5 * SCALE, 640 + 26 * SCALE),
            end=(2090 + 16.5 * SCALE, 640 + 26 * SCALE),
            off=178,
            size=22,
        )
    )
    put(Arrow(id="turn", start=(1850, 470), end=(1960, 470), bend=-0.3, size=26, colour="#A86B12"))
