"""The shapes a part can begin with. Lengths mm; x width, y depth (front is -y), z up."""

from __future__ import annotations

import json
from typing import ClassVar, Literal

import numpy as np
from pydantic import Field

from hollow_marble.core.bodies.body import Body
from hollow_marble.core.bodies.still_body import still_body
from hollow_marble.core.cage import outlined, profiles, sizing, starts
from hollow_marble.core.cage.mesh import Cage, cage_from_faces, creases_of, faces_of
from hollow_marble.documents.edit import LoadAsset
from hollow_marble.documents.form.recipe import Inputs, Making
from hollow_marble.documents.form.steps import Letter, StartStep, Vector

Sized = Literal["skin", "cage"]


class SizedStart(StartStep):
    """A start with a size: `sized` says what of, the skin or, as in parts of earlier versions, the cage."""

    sized: Sized = "skin"

    @property
    def of_skin(self) -> bool:
        """Whether the skin is to have the size."""
        return self.sized == "skin"


class BoxStart(SizedStart):
    """Begin with a box about the origin."""

    kind: Literal["box"] = "box"
    size: Vector
    divisions: tuple[int, int, int]

    def sentence(self) -> str:
        w, d, h = self.size
        return f"Started from a box {w:g} × {d:g} × {h:g} mm"

    def first_cage(self, load: LoadAsset) -> Cage:
        return sizing.box(self.size, self.divisions) if self.of_skin else starts.box(self.size, self.divisions)


class SphereStart(SizedStart):
    """Begin with an ellipsoid of quads."""

    kind: Literal["sphere"] = "sphere"
    size: Vector
    divisions: int

    def sentence(self) -> str:
        return f"Started from a sphere {_size(self.size)}"

    def first_cage(self, load: LoadAsset) -> Cage:
        return sizing.sphere(self.size, self.divisions) if self.of_skin else starts.sphere(self.size, self.divisions)


class CylinderStart(SizedStart):
    """Begin with an upright cylinder."""

    kind: Literal["cylinder"] = "cylinder"
    size: Vector
    sides: int
    rows: int

    def sentence(self) -> str:
        return f"Started from a cylinder {_size(self.size)} with {self.sides} sides"

    def first_cage(self, load: LoadAsset) -> Cage:
        return (
            sizing.cylinder(self.size, self.sides, self.rows)
            if self.of_skin
            else starts.cylinder(self.size, self.sides, self.rows)
        )


class TubeStart(SizedStart):
    """Begin with an upright tube; `wall` mm."""

    kind: Literal["tube"] = "tube"
    size: Vector
    wall: float
    sides: int
    rows: int

    def sentence(self) -> str:
        return f"Started from a tube {_size(self.size)}, {self.wall:g} mm thick"

    def first_cage(self, load: LoadAsset) -> Cage:
        return (
            sizing.tube(self.size, self.wall, self.sides, self.rows)
            if self.of_skin
            else starts.tube(self.size, self.wall, self.sides, self.rows)
        )


class RingStart(SizedStart):
    """Begin with a ring about the upright; both radii in mm."""

    kind: Literal["ring"] = "ring"
    radius: float
    tube: float
    around: int
    section: int

    def sentence(self) -> str:
        return f"Started from a ring of {self.radius:g} mm radius, {self.tube:g} mm thick each way"

    def first_cage(self, load: LoadAsset) -> Cage:
        return (
            sizing.ring(self.radius, self.tube, self.around, self.section)
            if self.of_skin
            else starts.ring(self.radius, self.tube, self.around, self.section)
        )


class DiscStart(SizedStart):
    """Begin with an open level disc."""

    kind: Literal["disc"] = "disc"
    size: tuple[float, float]
    sides: int
    rings: int

    def sentence(self) -> str:
        return f"Started from a disc {_size(self.size)} with {self.sides} sides"

    def first_cage(self, load: LoadAsset) -> Cage:
        return (
            sizing.disc(self.size, self.sides, self.rings)
            if self.of_skin
            else starts.disc(self.size, self.sides, self.rings)
        )


class GridStart(StartStep):
    """Begin with an open level grid."""

    kind: Literal["grid"] = "grid"
    size: tuple[float, float]
    divisions: tuple[int, int]

    def sentence(self) -> str:
        return f"Started from a grid {_size(self.size)}"

    def first_cage(self, load: LoadAsset) -> Cage:
        return starts.grid(self.size, self.divisions)


def _size(size: tuple[float, ...]) -> str:
    return " × ".join(f"{side:g}" for side in size) + " mm"


class ImportedStart(StartStep):
    """Begin with a cage read from a file; `cage` is the SHA-256 of its JSON (points, faces)."""

    kind: Literal["imported"] = "imported"
    cage: str
    name: str

    def sentence(self) -> str:
        return f"Brought in the cage {self.name}"

    def first_cage(self, load: LoadAsset) -> Cage:
        return cage_from_json(load(self.cage))


class TurnedStart(SizedStart):
    """Begin with a profile turned about an axis.

    profile : place across from the axis and along it, mm; of one that runs over the axis a half is taken; `rows` faces along it, `sides` around
    closed : the profile comes round to its beginning
    at : a point of the axis
    """

    kind: Literal["turned"] = "turned"
    profile: tuple[tuple[float, float], ...] = Field(min_length=2, max_length=2000)
    sides: int = 24
    rows: int = 8
    closed: bool = False
    axis: Letter = "H"
    at: Vector = (0.0, 0.0, 0.0)

    def sentence(self) -> str:
        _, _, taken = profiles.half_of(np.array(self.profile), self.closed)
        half = "one half of a line" if taken else "a profile"
        return f"Started from {half} turned about {self.axis} with {self.sides} sides"

    def first_cage(self, load: LoadAsset) -> Cage:
        cage = profiles.turned(np.array(self.profile), self.sides, self.rows, self.closed, self.of_skin)
        # the axis takes the place of H, the others follow round so that outside stays outside
        order = {"H": (0, 1, 2), "D": (1, 2, 0), "W": (2, 0, 1)}[self.axis]
        return cage.moved(np.ascontiguousarray(cage.points[:, order]) + np.array(self.at))


class OutlinedStart(StartStep):
    """Begin with a body whose silhouette is an outline.

    spans : left, right and height of the outline, mm, by rising height
    view : where it is seen from; `deep` mm is the body's size along that way
    divisions : faces across, from front to back as seen, and up
    """

    kind: Literal["outlined"] = "outlined"
    spans: tuple[Vector, ...] = Field(min_length=2, max_length=500)
    view: Literal["front", "side"] = "front"
    deep: float = Field(gt=0, le=100_000)
    divisions: tuple[int, int, int] = (4, 3, 8)

    def sentence(self) -> str:
        wide = max(right - left for left, right, _ in self.spans)
        high = self.spans[-1][2] - self.spans[0][2]
        return f"Started from the outline of the {self.view}, {_size((round(wide, 1), round(high, 1)))}"

    def first_cage(self, load: LoadAsset) -> Cage:
        cage = outlined.outlined(np.array(self.spans), self.deep, *self.divisions)
        if self.view == "front":
            return cage
        # seen from the side, across is from front to back; turned round the upright so that outside stays outside
        turned = np.column_stack([-cage.points[:, 1], cage.points[:, 0], cage.points[:, 2]])
        return cage.moved(turned)


class StillStart(StartStep):
    """Begin with a mesh that is shown, measured and photographed, but not shaped; `mesh` is the SHA-256 of its arrays."""

    gives_shape: ClassVar[bool] = False
    what: ClassVar[str] = "a still body"

    kind: Literal["still"] = "still"
    mesh: str
    name: str
    triangles: int

    def sentence(self) -> str:
        return f"Brought in the still body {self.name}, {self.triangles:,} triangles"

    def made(self, inputs: Inputs, making: Making) -> Body:
        return still_body(making.key, making.load(self.mesh), making.shelf)


def cage_from_json(data: bytes) -> Cage:
    """Read a cage from the JSON kept as an asset."""
    content = json.loads(data)
    creases = {(int(a), int(b)): float(s) for a, b, s in content.get("creases", [])}
    return cage_from_faces(np.array(content["points"], float), content["faces"], creases)


def cage_to_json(cage: Cage) -> bytes:
    """Write a cage for keeping as an asset; a corner's sharpness stands under the edge from its point to itself."""
    creases = [[a, b, s] for (a, b), s in creases_of(cage).items()]
    return json.dumps({"points": cage.points.tolist(), "faces": faces_of(cage), "creases": creases}).encode()


ShapedStart = (
    BoxStart
    | SphereStart
    | CylinderStart
    | TubeStart
    | RingStart
    | DiscStart
    | GridStart
    | TurnedStart
    | OutlinedStart
    | ImportedStart
    | StillStart
)
