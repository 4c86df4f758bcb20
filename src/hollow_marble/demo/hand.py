"""A designer's hand on one part: picks by place, adds steps, looks at the skin."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Protocol

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.cage.mesh import Cage
from hollow_marble.documents.edit import find
from hollow_marble.documents.form.changes import PlacedPoints
from hollow_marble.documents.form.edits import Shape
from hollow_marble.documents.form.evaluation import FormEvaluator
from hollow_marble.documents.form.model import Form, Part
from hollow_marble.store.library import Project

Vector = tuple[float, float, float]
Array = NDArray[np.float64]


class Bench(Protocol):
    """What a hand works at: a project, what its forms come to, and a way to edit."""

    project: Project
    evaluator: FormEvaluator

    def edit(self, document: str, edit: Any, /) -> Any:
        """Append an edit."""


class PartHand:
    """Picks by place and shapes one part."""

    def __init__(self, designer: Bench, form: str, ident: str) -> None:
        self._designer, self._form, self._ident = designer, form, ident

    @property
    def part(self) -> Part:
        return find(self._parts, self._ident, "part")

    @property
    def _parts(self) -> tuple[Part, ...]:
        form = self._designer.project.ledger.state(self._form)
        assert isinstance(form, Form)
        return form.parts

    @property
    def cage(self) -> Cage:
        return self._designer.evaluator.cage(self.part)

    @property
    def skin(self) -> Array:
        """Points of the skin, (N, 3) mm."""
        return self._designer.evaluator.mesh(self.part, self._parts).positions.astype(np.float64)

    @property
    def extent(self) -> Array:
        """Lowest and highest corner of the skin, (2, 3) mm."""
        positions = self.skin
        return np.stack([positions.min(axis=0), positions.max(axis=0)])

    def step(self, make: Callable[..., Any], **fields: Any) -> None:
        """Add a step under the part's symmetry."""
        step = make(symmetry=self.part.symmetry, **fields)
        self._designer.edit(self._form, Shape(part=self._ident, step=step))

    def after(self, step: Any) -> Cage:
        """The cage as a step would leave it; nothing is kept."""
        return self._designer.evaluator.after(self.cage, step)

    def where(self, axis: int, value: float, tolerance: float = 0.3) -> list[int]:
        """Points at a place along an axis."""
        return np.flatnonzero(np.abs(self.cage.points[:, axis] - value) < tolerance).tolist()

    def edges(self, holds: Callable[[Array, Array], bool]) -> tuple[tuple[int, int], ...]:
        """Edges whose two ends satisfy a question."""
        cage = self.cage
        return tuple((a, b) for a, b in cage.topology.edges.tolist() if holds(cage.points[a], cage.points[b]))

    def faces(self, holds: Callable[[Array], bool]) -> tuple[int, ...]:
        """Faces whose middle satisfies a question."""
        cage = self.cage
        return tuple(f for f in range(cage.face_count) if holds(cage.points[cage.face(f)].mean(axis=0)))

    def place(
        self, how: str, points: list[int], values: Vector, seat: Vector = (0.0, 0.0, 0.0), reach: float = 0
    ) -> None:
        """Move, turn, size or push points."""
        self.step(PlacedPoints, how=how, points=tuple(points), values=values, seat=seat, reach=reach)

    def everything(self, how: str, values: Vector, seat: Vector = (0.0, 0.0, 0.0)) -> None:
        """Move, turn or size the whole part."""
        self.place(how, list(range(len(self.cage.points))), values, seat)

    def fit(self, size: Vector) -> None:
        """Size the part so that its skin has exactly a size, and stand its middle on the origin in depth and height."""
        low, high = self.extent
        w, d, h = (float(v) for v in np.array(size) / (high - low))
        self.everything("size", (w, d, h))
        low, high = self.extent
        dy, dz = (float(v) for v in -((low + high) / 2)[1:])
        if abs(dy) + abs(dz) > 0.12:
            self.everything("move", (0.0, dy, dz))
