"""Works through documents as a designer does: every line, pick and lamp is an edit in a ledger."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.ink import paint
from hollow_marble.core.ink.select import Selection
from hollow_marble.demo.hand import PartHand
from hollow_marble.documents.edit import Asset, Edit, asset_of
from hollow_marble.documents.form.edits import StartPart
from hollow_marble.documents.form.evaluation import FormEvaluator
from hollow_marble.documents.form.model import Start
from hollow_marble.documents.form.steps import ACROSS_W, FormSymmetry
from hollow_marble.documents.sheet import painting
from hollow_marble.documents.sheet.drawing import MEDIA, made_stroke
from hollow_marble.documents.sheet.edits import DrawStroke, PaintTone
from hollow_marble.documents.sheet.model import NibName, Rect, Sheet, rgb
from hollow_marble.documents.sheet.raster import SheetRaster
from hollow_marble.documents.sheet.raster.tiles import MEDIA as TILE_MEDIA
from hollow_marble.store.assets import load_asset
from hollow_marble.store.library import Project

Vector = tuple[float, float, float]


class Designer:
    """Holds a project and makes edits in its documents."""

    def __init__(self, project: Project) -> None:
        self.project = project
        self.evaluator = FormEvaluator(lambda sha: load_asset(project.database, sha)[0])
        self._rasters: dict[str, SheetRaster] = {}
        self._strokes = 0

    def document(self, kind: str, place: int = 0) -> str:
        """Id of a document."""
        return [row.id for row in self.project.ledger.rows() if row.kind == kind][place]

    def edit(self, document: str, edit: Edit, *assets: Asset) -> int:
        """Make an edit, with the payloads it names, and return its line in the ledger."""
        return self.project.ledger.append(document, edit, assets)[0]

    def new_sheet(self, name: str, like: str | None = None) -> str:
        """Begin a sheet, blank or looking like another one, and return its id."""
        start = self.project.ledger.state(like) if like else None
        return self.project.ledger.create("sheet", name, start).id

    def draw(
        self,
        sheet: str,
        samples: NDArray[np.float32],
        size: float = 6.0,
        tone: float = 0.8,
        layer: str = "rough",
        **look: Any,
    ) -> str:
        """Draw one stroke and return its id; `look` as for `made_stroke`."""
        data = samples.astype("<f4").tobytes()
        asset = asset_of(data, MEDIA)
        self._strokes += 1
        stroke = made_stroke(f"s{self._strokes}", samples, asset.sha, size=size, tone=tone, **look)
        self.edit(sheet, DrawStroke(layer=layer, stroke=stroke), asset)
        return stroke.id

    def paint(
        self,
        sheet: str,
        layer: str,
        samples: NDArray[np.float32],
        nib: NibName,
        size: float,
        tone: float,
        colour: str,
        inside: Selection | None = None,
    ) -> None:
        """Paint a stroke on a tone layer, held in by a selection."""
        state, _raster = self.page(sheet)
        rect, cover = painting.stroke_cover(samples, nib, size, tone, None, inside, painting.page_of(state))
        self._exchange(
            sheet, layer, rect, f"Painted with the {nib}", lambda old: paint.laid(old, cover, rgb(colour), False, False)
        )

    def fill(self, sheet: str, layer: str, where: Selection, colour: str, opacity: float = 1.0) -> None:
        """Fill a selection on a tone layer."""
        cover = where.mask.astype(np.float32) / np.float32(255) * np.float32(opacity)
        self._exchange(
            sheet, layer, where.rect, "Filled a region", lambda old: paint.laid(old, cover, rgb(colour), False, False)
        )

    def page(self, sheet: str) -> tuple[Sheet, SheetRaster]:
        """A sheet at its head and its pixels."""
        state = self.project.ledger.state(sheet)
        assert isinstance(state, Sheet)
        if sheet not in self._rasters:
            self._rasters[sheet] = SheetRaster(lambda sha: load_asset(self.project.database, sha)[0])
        self._rasters[sheet].update(state)
        return state, self._rasters[sheet]

    def _exchange(
        self, sheet: str, layer: str, rect: Rect, said: str, change: Callable[[NDArray[np.uint8]], NDArray[np.uint8]]
    ) -> None:
        state, raster = self.page(sheet)
        tiles = painting.exchanged(raster, state, layer, rect, change)
        assets = [asset_of(data, TILE_MEDIA) for data in tiles.data.values()]
        self.edit(sheet, PaintTone(layer=layer, tiles=tiles.names, said=said), *assets)

    def part(self, form: str, ident: str) -> PartHand:
        """A hand on one part."""
        return PartHand(self, form, ident)

    def start(
        self, form: str, ident: str, name: str, start: Start, symmetry: FormSymmetry | None = ACROSS_W
    ) -> PartHand:
        """Begin a part, symmetric across width unless said otherwise."""
        self.edit(form, StartPart(part=ident, name=name, start=start, symmetry=symmetry))
        return self.part(form, ident)
