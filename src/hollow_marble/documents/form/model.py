"""A form, its parts and the steps of their recipes. Lengths mm, angles degrees; x width, y depth (front is -y), z up."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from hollow_marble.documents.edit import Frozen

Vector = tuple[float, float, float]
Edge = tuple[int, int]


class BoxStart(Frozen):
    """Begin with a box about the origin."""

    kind: Literal["box"] = "box"
    size: Vector
    divisions: tuple[int, int, int]

    def sentence(self) -> str:
        w, d, h = self.size
        return f"Started from a box {w:g} × {d:g} × {h:g} mm"


class SphereStart(Frozen):
    """Begin with an ellipsoid of quads."""

    kind: Literal["sphere"] = "sphere"
    size: Vector
    divisions: int

    def sentence(self) -> str:
        return f"Started from a sphere {_size(self.size)}"


class CylinderStart(Frozen):
    """Begin with an upright cylinder."""

    kind: Literal["cylinder"] = "cylinder"
    size: Vector
    sides: int
    rows: int

    def sentence(self) -> str:
        return f"Started from a cylinder {_size(self.size)} with {self.sides} sides"


class TubeStart(Frozen):
    """Begin with an upright tube; `wall` mm."""

    kind: Literal["tube"] = "tube"
    size: Vector
    wall: float
    sides: int
    rows: int

    def sentence(self) -> str:
        return f"Started from a tube {_size(self.size)}, {self.wall:g} mm thick"


class RingStart(Frozen):
    """Begin with a ring about the upright; both radii in mm."""

    kind: Literal["ring"] = "ring"
    radius: float
    tube: float
    around: int
    section: int

    def sentence(self) -> str:
        return f"Started from a ring of {self.radius:g} mm radius, {self.tube:g} mm thick each way"


class DiscStart(Frozen):
    """Begin with an open level disc."""

    kind: Literal["disc"] = "disc"
    size: tuple[float, float]
    sides: int
    rings: int

    def sentence(self) -> str:
        return f"Started from a disc {_size(self.size)} with {self.sides} sides"


class GridStart(Frozen):
    """Begin with an open level grid."""

    kind: Literal["grid"] = "grid"
    size: tuple[float, float]
    divisions: tuple[int, int]

    def sentence(self) -> str:
        return f"Started from a grid {_size(self.size)}"


def _size(size: tuple[float, ...]) -> str:
    return " × ".join(f"{side:g}" for side in size) + " mm"


class ImportedStart(Frozen):
    """Begin with a cage read from a file; `cage` is the SHA-256 of its JSON (points, faces)."""

    kind: Literal["imported"] = "imported"
    cage: str
    name: str

    def sentence(self) -> str:
        return f"Brought in the cage {self.name}"


class PlacedPoints(Frozen):
    """Move, turn or size picked points.

    move: `values` is the offset in mm. turn: `values` is the axis scaled by the angle in degrees. size: `values` are
    the factors along W, D, H. Turn and size act about `seat`.
    """

    kind: Literal["placed"] = "placed"
    how: Literal["move", "turn", "size"]
    points: tuple[int, ...] = Field(min_length=1)
    values: Vector
    seat: Vector = (0.0, 0.0, 0.0)
    symmetric: bool = False

    def sentence(self) -> str:
        count = f"{len(self.points)} point{'' if len(self.points) == 1 else 's'}"
        if self.how == "turn":
            angle = sum(v * v for v in self.values) ** 0.5
            return f"Turned {count} by {angle:.1f}°"
        if self.how == "size":
            return f"Sized {count} to {' × '.join(f'{v:.0%}' for v in self.values)}"
        main = max(range(3), key=lambda k: abs(self.values[k]))
        others = [v for k, v in enumerate(self.values) if k != main]
        if all(abs(v) < 0.005 for v in others):
            ways = (("left", "right"), ("forward", "back"), ("down", "up"))[main]
            return f"Moved {count} {ways[self.values[main] > 0]} {abs(self.values[main]):.1f} mm"
        return f"Moved {count} by W {self.values[0]:+.1f}, D {self.values[1]:+.1f}, H {self.values[2]:+.1f} mm"


class ExtrudedFaces(Frozen):
    """Lift picked faces along their mean normal."""

    kind: Literal["extruded"] = "extruded"
    faces: tuple[int, ...] = Field(min_length=1)
    distance: float
    symmetric: bool = False

    def sentence(self) -> str:
        count = f"{len(self.faces)} face{'' if len(self.faces) == 1 else 's'}"
        return f"Extruded {count} {'out' if self.distance >= 0 else 'in'} {abs(self.distance):.1f} mm"


class CreasedEdges(Frozen):
    """Crease picked edges: 0 soft to 1 tight, or fully sharp."""

    kind: Literal["creased"] = "creased"
    edges: tuple[Edge, ...] = Field(min_length=1)
    crease: float = Field(ge=0, le=1)
    sharp: bool = False
    symmetric: bool = False

    def sentence(self) -> str:
        count = f"{len(self.edges)} edge{'' if len(self.edges) == 1 else 's'}"
        if self.sharp:
            return f"Made {count} sharp"
        return f"Creased {count} to {self.crease:.2f}" if self.crease else f"Took the crease from {count}"


class AddedRow(Frozen):
    """Put a row of edges across the band an edge belongs to, `share` of the way from its first point to its second."""

    kind: Literal["row"] = "row"
    edge: Edge
    share: float = Field(0.5, ge=0.02, le=0.98)
    symmetric: bool = False

    def sentence(self) -> str:
        return "Added a row" if self.share == 0.5 else f"Added a row at {self.share:.0%}"


class InsetFaces(Frozen):
    """Set faces into picked faces, `width` mm from their border; each by itself where `single`."""

    kind: Literal["inset"] = "inset"
    faces: tuple[int, ...] = Field(min_length=1)
    width: float = Field(gt=0)
    single: bool = False
    symmetric: bool = False

    def sentence(self) -> str:
        count = f"{len(self.faces)} face{'' if len(self.faces) == 1 else 's'}"
        return f"Inset {count} by {self.width:g} mm"


class FilledOpening(Frozen):
    """Close the opening an open edge belongs to."""

    kind: Literal["filled"] = "filled"
    edge: Edge
    symmetric: bool = False

    def sentence(self) -> str:
        return "Filled an opening"


class RemovedFaces(Frozen):
    """Take faces away."""

    kind: Literal["removed"] = "removed"
    faces: tuple[int, ...] = Field(min_length=1)
    symmetric: bool = False

    def sentence(self) -> str:
        return f"Removed {len(self.faces)} face{'' if len(self.faces) == 1 else 's'}"


Start = Annotated[
    BoxStart | SphereStart | CylinderStart | TubeStart | RingStart | DiscStart | GridStart | ImportedStart,
    Field(discriminator="kind"),
]
Step = Annotated[
    BoxStart
    | SphereStart
    | CylinderStart
    | TubeStart
    | RingStart
    | DiscStart
    | GridStart
    | ImportedStart
    | PlacedPoints
    | ExtrudedFaces
    | CreasedEdges
    | AddedRow
    | InsetFaces
    | FilledOpening
    | RemovedFaces,
    Field(discriminator="kind"),
]
Change = Annotated[
    PlacedPoints | ExtrudedFaces | CreasedEdges | AddedRow | InsetFaces | FilledOpening | RemovedFaces,
    Field(discriminator="kind"),
]


class Part(Frozen):
    """One piece of the product: the steps that make its cage, in order."""

    id: str
    name: str
    visible: bool = True
    symmetric: bool = False
    level: int = Field(3, ge=1, le=5)
    steps: tuple[Step, ...]


Plane = Literal["front", "side", "top", "sketch"]


class Reference(Frozen):
    """A sheet's view pinned behind the form.

    Two points of the page (`line`) are `length` mm apart; their middle stands at the origin of the plane. In the plane
    "sketch" the view stands as it was drawn in perspective: the middle of the sheet's construction box at the origin, size
    and eye from the box.
    """

    id: str
    sheet: str
    view: str
    plane: Plane
    line: tuple[tuple[float, float], tuple[float, float]]
    length: float = Field(gt=0, le=100_000)
    opacity: float = Field(0.5, ge=0, le=1)
    visible: bool = True


class Form(Frozen):
    """Parts in the order they were made, and what stands behind them."""

    parts: tuple[Part, ...] = ()
    references: tuple[Reference, ...] = ()
