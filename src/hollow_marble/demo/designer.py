"""Works through documents as a designer does: every line, pick and lamp is an edit in a ledger."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.cage.mesh import Cage
from hollow_marble.core.ink import paint
from hollow_marble.core.ink.select import Selection
from hollow_marble.documents.edit import Edit, find
from hollow_marble.documents.form.changes import CreasedEdges, ExtrudedFaces, PlacedPoints
from hollow_marble.documents.form.edits import Shape, StartPart
from hollow_marble.documents.form.evaluation import FormEvaluator
from hollow_marble.documents.form.model import Change, Form
from hollow_marble.documents.form.starts import BoxStart, ImportedStart, cage_to_json
from hollow_marble.documents.form.steps import ACROSS_W, FormSymmetry
from hollow_marble.documents.sheet import painting
from hollow_marble.documents.sheet.drawing import MEDIA, made_stroke
from hollow_marble.documents.sheet.edits import DrawStroke, PaintTone
from hollow_marble.documents.sheet.model import NibName, Rect, Sheet, rgb
from hollow_marble.documents.sheet.raster import SheetRaster
from hollow_marble.documents.sheet.raster.tiles import MEDIA as TILE_MEDIA
from hollow_marble.store.assets import keep_asset, load_asset
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

    def edit(self, document: str, edit: Edit) -> int:
        """Make an edit and return its line in the ledger."""
        return self.project.ledger.append(document, edit)[0]

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
        sha = keep_asset(self.project.database, data, MEDIA)
        self._strokes += 1
        stroke = made_stroke(f"s{self._strokes}", samples, sha, size=size, tone=tone, **look)
        self.edit(sheet, DrawStroke(layer=layer, stroke=stroke))
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
        cover = where.mask.astype(np.float32) / 255 * np.float32(opacity)
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
        with self.project.database.write():
            for data in tiles.data.values():
                keep_asset(self.project.database, data, TILE_MEDIA)
            self.edit(sheet, PaintTone(layer=layer, tiles=tiles.names, said=said))

    def part(self, form: str, ident: str) -> PartHand:
        """A hand on one part."""
        return PartHand(self, form, ident)

    def start_box(self, form: str, ident: str, name: str, size: Vector, divisions: tuple[int, int, int]) -> PartHand:
        """Begin a part with a box, symmetric across width."""
        start = BoxStart(size=size, divisions=divisions)
        self.edit(form, StartPart(part=ident, name=name, start=start, symmetry=ACROSS_W))
        return self.part(form, ident)

    def bring_in(self, form: str, ident: str, name: str, cage: Cage) -> PartHand:
        """Begin a part with a cage."""
        sha = keep_asset(self.project.database, cage_to_json(cage), "application/json")
        self.edit(form, StartPart(part=ident, name=name, start=ImportedStart(cage=sha, name=name)))
        return self.part(form, ident)


class PartHand:
    """Picks by place and shapes one part."""

    def __init__(self, designer: Designer, form: str, ident: str) -> None:
        self._designer, self._form, self._ident = designer, form, ident

    @property
    def cage(self) -> Cage:
        form = self._designer.project.ledger.state(self._form)
        assert isinstance(form, Form)
        return self._designer.evaluator.cage(find(form.parts, self._ident, "part"))

    @property
    def extent(self) -> NDArray[np.float64]:
        """Lowest and highest corner of the skin, (2, 3) mm."""
        form = self._designer.project.ledger.state(self._form)
        assert isinstance(form, Form)
        positions = self._designer.evaluator.shaped(find(form.parts, self._ident, "part")).skin.positions
        return np.stack([positions.min(axis=0), positions.max(axis=0)]).astype(np.float64)

    def where(self, axis: int, value: float, tolerance: float = 0.3) -> list[int]:
        """Points at a place along an axis."""
        return np.flatnonzero(np.abs(self.cage.points[:, axis] - value) < tolerance).tolist()

    def place(self, how: str, points: list[int], values: Vector, seat: Vector = (0.0, 0.0, 0.0)) -> None:
        """Move, turn or size points."""
        symmetric = self._symmetry()
        step = PlacedPoints(how=how, points=tuple(points), values=values, seat=seat, symmetry=symmetric)  # type: ignore[arg-type]
        self._shape(step)

    def everything(self, how: str, values: Vector, seat: Vector = (0.0, 0.0, 0.0)) -> None:
        """Move, turn or size the whole part."""
        self.place(how, list(range(len(self.cage.points))), values, seat)

    def extrude(self, faces: list[int], distance: float) -> None:
        """Extrude faces."""
        self._shape(ExtrudedFaces(faces=tuple(faces), distance=distance, symmetry=self._symmetry()))

    def crease(self, edges: list[tuple[int, int]], crease: float, sharp: bool = False) -> None:
        """Crease edges."""
        self._shape(CreasedEdges(edges=tuple(edges), crease=crease, sharp=sharp, symmetry=self._symmetry()))

    def edges_at(self, axis: int, value: float) -> list[tuple[int, int]]:
        """Edges that lie at a place along an axis."""
        at = set(self.where(axis, value))
        return [(a, b) for a, b in self.cage.topology.edges.tolist() if a in at and b in at]

    def _symmetry(self) -> FormSymmetry | None:
        form = self._designer.project.ledger.state(self._form)
        assert isinstance(form, Form)
        return find(form.parts, self._ident, "part").symmetry

    def _shape(self, step: Change) -> None:
        self._designer.edit(self._form, Shape(part=self._ident, step=step))
