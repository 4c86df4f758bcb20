"""The steps that change a cage. Lengths mm, angles degrees."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from hollow_marble.core.bodies.body import Body
from hollow_marble.core.cage import (
    bevels,
    bridges,
    chains,
    cuts,
    dissolving,
    edits,
    extrusions,
    fairing,
    insets,
    joins,
    rows,
)
from hollow_marble.core.cage.edits import connected
from hollow_marble.core.cage.mesh import Cage
from hollow_marble.core.cage.symmetry import Mates
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.paths import evenly
from hollow_marble.documents.form.recipe import Inputs, Making
from hollow_marble.documents.form.steps import (
    LETTERS,
    CageStep,
    Edge,
    Length,
    Letter,
    Node,
    Vector,
    body_in,
    counted,
    sharpness_of,
)

Picks = Annotated[tuple[int, ...], Field(min_length=1)]
Edges = Annotated[tuple[Edge, ...], Field(min_length=1)]
Path = Annotated[tuple[Vector, ...], Field(min_length=2, max_length=2000)]


class PlacedPoints(CageStep):
    """Move, turn, size or push picked points.

    move: `values` is the offset in mm. turn: `values` is the axis scaled by the angle in degrees. size: `values` are the
    factors along W, D, H, or along `directions` (unit vectors). push: `values[0]` is how far each point goes along its own
    normal. Turn and size act about `seat`. Points within `reach` mm of a picked one go along in part.
    """

    kind: Literal["placed"] = "placed"
    how: Literal["move", "turn", "size", "push"]
    points: Picks
    values: Vector
    seat: Vector = (0.0, 0.0, 0.0)
    directions: tuple[Vector, Vector, Vector] | None = None
    reach: float = Field(0.0, ge=0, le=10_000)

    def applied_to(self, cage: Cage, mates: Mates | None) -> Cage:
        points = list(self.points)
        if self.how == "push":
            return edits.push_points(cage, points, self.values[0], mates, self.reach)
        return edits.place_points(cage, points, self._placement(), mates, self.reach)

    def _placement(self) -> edits.Placement:
        if self.how == "move":
            return edits.moving(self.values)
        if self.how == "turn":
            return edits.turning(self.values, float(np.radians(np.linalg.norm(self.values))), self.seat)
        frame = None
        if self.directions is not None:
            frame = np.array(self.directions, float)
            if not np.allclose(frame @ frame.T, np.eye(3), atol=1e-6):
                raise HollowMarbleError("The handle's three directions must stand square to one another. Seat it anew.")
        return edits.sizing(self.values, self.seat, frame)

    def sentence(self) -> str:
        count = counted(len(self.points), "point")
        soft = f", softly over {self.reach:g} mm" if self.reach else ""
        if self.how == "push":
            return f"Pushed {count} {'out' if self.values[0] >= 0 else 'in'} {abs(self.values[0]):.1f} mm{soft}"
        if self.how == "turn":
            angle = sum(v * v for v in self.values) ** 0.5
            return f"Turned {count} by {angle:.1f}°{soft}"
        if self.how == "size":
            return f"Sized {count} to {' × '.join(f'{v:.0%}' for v in self.values)}{soft}"
        main = max(range(3), key=lambda k: abs(self.values[k]))
        others = [v for k, v in enumerate(self.values) if k != main]
        if all(abs(v) < 0.005 for v in others):
            ways = (("left", "right"), ("forward", "back"), ("down", "up"))[main]
            return f"Moved {count} {ways[self.values[main] > 0]} {abs(self.values[main]):.1f} mm{soft}"
        return f"Moved {count} by W {self.values[0]:+.1f}, D {self.values[1]:+.1f}, H {self.values[2]:+.1f} mm{soft}"


class StoodPart(CageStep):
    """Stand the whole part elsewhere: `apart` mm away from what was parted off it, mirrored across a plane, turned about its origin, then
    moved."""

    gives_shape: ClassVar[bool] = False

    kind: Literal["stood"] = "stood"
    move: Vector = (0.0, 0.0, 0.0)
    turn: Vector = (0.0, 0.0, 0.0)
    mirror: Letter | None = None
    apart: Length = Field(0.0, exclude_if=lambda apart: apart == 0)

    def made(self, inputs: Inputs, making: Making) -> Body:
        body = body_in(inputs)
        away = np.zeros(3)
        if self.apart:
            if body.leads is None:
                raise HollowMarbleError(
                    "Nothing was parted off it, so there is no way for it to move apart. Say where it is to stand instead."
                )
            away = self.apart * body.leads
        return body.stood(making.key, lambda points: self.of(points + away), self.mirror is not None)

    def of(self, points: np.ndarray) -> np.ndarray:
        """Points (n, 3) after it; turns are about W, then D, then H."""
        placed = points.copy()
        if self.mirror is not None:
            placed[:, LETTERS.index(self.mirror)] *= -1
        for axis in range(3):
            if self.turn[axis]:
                way = tuple(float(k == axis) for k in range(3))
                placed = edits.turning(way, float(np.radians(self.turn[axis])), (0, 0, 0)).of(placed)  # type: ignore[arg-type]
        return np.asarray(placed + np.array(self.move))

    def sentence(self) -> str:
        mirrored = f"mirrored across {self.mirror}, " if self.mirror else ""
        apart = f"{self.apart:g} mm apart from the rest, " if self.apart else ""
        return f"Stood the part {apart}{mirrored}at W {self.move[0]:g}, D {self.move[1]:g}, H {self.move[2]:g} mm"


class ExtrudedFaces(CageStep):
    """Lift picked faces: along their mean normal, each point's own, a direction (`way`), or a path."""

    kind: Literal["extruded"] = "extruded"
    faces: Picks
    distance: float = 0.0
    along: extrusions.Along = "normal"
    way: Vector | None = None
    path: Path | None = None
    segments: int = 1

    def applied_to(self, cage: Cage, mates: Mates | None) -> Cage:
        way = _way(self.along, self.way, self.path, self.segments)
        return extrusions.extrude_faces(cage, list(self.faces), self.distance, mates, self.along, way, self.segments)

    def sentence(self) -> str:
        count = counted(len(self.faces), "face")
        if self.along == "path":
            return f"Extruded {count} along a path"
        return f"Extruded {count} {'out' if self.distance >= 0 else 'in'} {abs(self.distance):.1f} mm"


class GrownEdges(CageStep):
    """Grow faces from open edges: by an offset (`way`) or along a path."""

    kind: Literal["grown"] = "grown"
    edges: Edges
    way: Vector | None = None
    path: Path | None = None
    segments: int = 1

    def applied_to(self, cage: Cage, mates: Mates | None) -> Cage:
        along: extrusions.Along = "path" if self.path else "direction"
        way = _way(along, self.way, self.path, self.segments)
        if way is None:
            raise HollowMarbleError("Growing edges needs a way to go. Give an offset or draw a path.")
        return extrusions.extrude_edges(cage, list(self.edges), way, mates, along, self.segments)

    def sentence(self) -> str:
        return f"Grew faces from {counted(len(self.edges), 'open edge')}"


def _way(along: str, way: Vector | None, path: tuple[Vector, ...] | None, segments: int) -> np.ndarray | None:
    if along == "path":
        if path is None:
            raise HollowMarbleError("An extrusion along a path needs one. Draw it.")
        return evenly(np.array(path, float), segments + 1)
    return None if way is None else np.array(way, float)


class CreasedEdges(CageStep):
    """Crease picked edges: 0 soft to 1 tight, or fully sharp."""

    kind: Literal["creased"] = "creased"
    edges: Edges
    crease: float = Field(ge=0, le=1)
    sharp: bool = False

    def applied_to(self, cage: Cage, mates: Mates | None) -> Cage:
        return edits.crease_edges(cage, list(self.edges), sharpness_of(self.crease, self.sharp), mates)

    def sentence(self) -> str:
        count = counted(len(self.edges), "edge")
        if self.sharp:
            return f"Made {count} sharp"
        return f"Creased {count} to {self.crease:.2f}" if self.crease else f"Took the crease from {count}"


class CreasedPoints(CageStep):
    """Draw the skin to picked points: 0 not at all to 1, or right to the point."""

    kind: Literal["cornered"] = "cornered"
    points: Picks
    crease: float = Field(ge=0, le=1)
    sharp: bool = False

    def applied_to(self, cage: Cage, mates: Mates | None) -> Cage:
        return edits.crease_corners(cage, list(self.points), sharpness_of(self.crease, self.sharp), mates)

    def sentence(self) -> str:
        count = counted(len(self.points), "corner")
        if self.sharp:
            return f"Made {count} sharp"
        return f"Creased {count} to {self.crease:.2f}" if self.crease else f"Took the crease from {count}"


class AddedRow(CageStep):
    """Put a row of edges across the band an edge belongs to, `share` of the way from its first point to its second."""

    kind: Literal["row"] = "row"
    edge: Edge
    share: float = Field(0.5, ge=0.02, le=0.98)

    def applied_to(self, cage: Cage, mates: Mates | None) -> Cage:
        return rows.add_row(cage, self.edge, self.share, mates)

    def sentence(self) -> str:
        return "Added a row" if self.share == 0.5 else f"Added a row at {self.share:.0%}"


class InsetFaces(CageStep):
    """Set faces into picked faces, `width` mm from their border; each by itself where `single`."""

    kind: Literal["inset"] = "inset"
    faces: Picks
    width: float = Field(gt=0)
    single: bool = False

    def applied_to(self, cage: Cage, mates: Mates | None) -> Cage:
        return insets.inset_faces(cage, list(self.faces), self.width, self.single, mates)

    def sentence(self) -> str:
        return f"Inset {counted(len(self.faces), 'face')} by {self.width:g} mm"


class FilledOpening(CageStep):
    """Close the opening an open edge belongs to."""

    kind: Literal["filled"] = "filled"
    edge: Edge

    def applied_to(self, cage: Cage, mates: Mates | None) -> Cage:
        return insets.fill_opening(cage, self.edge, mates)

    def sentence(self) -> str:
        return "Filled an opening"


class RemovedFaces(CageStep):
    """Take faces away."""

    kind: Literal["removed"] = "removed"
    faces: Picks

    def applied_to(self, cage: Cage, mates: Mates | None) -> Cage:
        return insets.remove_faces(cage, list(self.faces), mates)

    def sentence(self) -> str:
        return f"Removed {counted(len(self.faces), 'face')}"


class BevelledEdges(CageStep):
    """Give picked edges a strip of faces `width` mm to each side: rounded, or holding the edge sharp."""

    kind: Literal["bevelled"] = "bevelled"
    edges: Edges
    width: float = Field(gt=0)
    segments: int = 2
    sharp: bool = False

    def applied_to(self, cage: Cage, mates: Mates | None) -> Cage:
        return bevels.bevel_edges(cage, list(self.edges), self.width, self.segments, self.sharp, mates)

    def sentence(self) -> str:
        return f"Bevelled {counted(len(self.edges), 'edge')} by {self.width:g} mm"


class Bridged(CageStep):
    """Join two groups of picked faces, or the openings of two picked open edges, by a tube of faces."""

    kind: Literal["bridged"] = "bridged"
    faces: tuple[int, ...] = ()
    edges: tuple[Edge, ...] = ()
    segments: int = 1
    arch: float = 0.0

    def applied_to(self, cage: Cage, mates: Mates | None) -> Cage:
        if self.faces:
            edits.check_faces(cage, list(self.faces))
            groups = connected(cage, set(self.faces))
            if len(groups) != 2:
                raise HollowMarbleError(
                    f"A bridge needs two groups of faces; {len(groups)} are picked. Pick its two ends."
                )
            first, second = (sorted(group) for group in groups)
            return bridges.bridge_faces(cage, first, second, self.segments, self.arch, mates)
        if len(self.edges) != 2:
            raise HollowMarbleError(
                "A bridge needs two groups of faces, or one edge of each of two openings. Pick those."
            )
        return bridges.bridge_openings(cage, self.edges[0], self.edges[1], self.segments, self.arch, mates)

    def sentence(self) -> str:
        return "Bridged two groups of faces" if self.faces else "Bridged two openings"


class SlidRow(CageStep):
    """Slide a row of edges along the edges beside it, -1 to 1."""

    kind: Literal["slid"] = "slid"
    edges: Edges
    share: float = Field(gt=-1, lt=1)

    def applied_to(self, cage: Cage, mates: Mates | None) -> Cage:
        return chains.slide_row(cage, list(self.edges), self.share, mates)

    def sentence(self) -> str:
        return f"Slid a row by {abs(self.share):.0%}"


class FittedRow(CageStep):
    """Bring a row of edges on to a line drawn over the view from `eye`."""

    kind: Literal["fitted"] = "fitted"
    edges: Edges
    eye: Vector
    line: Path
    hold_ends: bool = False

    def applied_to(self, cage: Cage, mates: Mates | None) -> Cage:
        eye, line = np.array(self.eye), np.array(self.line)
        return chains.fit_row(cage, list(self.edges), eye, line, self.hold_ends, mates)

    def sentence(self) -> str:
        return f"Fitted a row of {counted(len(self.edges), 'edge')} to a drawn line"


class CutFaces(CageStep):
    """Cut faces along a line drawn over the view from `eye`; what faces away too where `through`."""

    kind: Literal["cut"] = "cut"
    eye: Vector
    line: Path
    through: bool = False

    def applied_to(self, cage: Cage, mates: Mates | None) -> Cage:
        return cuts.cut_along(cage, np.array(self.eye), np.array(self.line), self.through, mates)

    def sentence(self) -> str:
        return "Cut through along a line" if self.through else "Cut faces along a line"


class DissolvedEdges(CageStep):
    """Make one face of those beside picked edges."""

    kind: Literal["dissolved"] = "dissolved"
    edges: Edges

    def applied_to(self, cage: Cage, mates: Mates | None) -> Cage:
        return dissolving.dissolve_edges(cage, list(self.edges), mates)

    def sentence(self) -> str:
        return f"Dissolved {counted(len(self.edges), 'edge')}"


class DissolvedPoints(CageStep):
    """Make one face of those around picked points."""

    kind: Literal["dissolved_points"] = "dissolved_points"
    points: Picks

    def applied_to(self, cage: Cage, mates: Mates | None) -> Cage:
        return dissolving.dissolve_points(cage, list(self.points), mates)

    def sentence(self) -> str:
        return f"Dissolved {counted(len(self.points), 'point')}"


class FairedPoints(CageStep):
    """Even out picked points, none further than `within` mm, so that light runs clean over the skin."""

    kind: Literal["faired"] = "faired"
    points: Picks
    within: float = Field(1.0, gt=0, le=1000)

    def applied_to(self, cage: Cage, mates: Mates | None) -> Cage:
        edits.check_points(cage, list(self.points))
        return fairing.faired(cage, list(self.points), self.within, mates)

    def sentence(self) -> str:
        return f"Faired {counted(len(self.points), 'point')} within {self.within:g} mm"


class MendedMesh(Node):
    """Mend a still body's mesh: points closer than `within` mm joined, faces turned one way, openings with a rim up to `fill` mm filled."""

    gives_shape: ClassVar[bool] = False

    kind: Literal["mended"] = "mended"
    within: float = Field(0.01, ge=0, le=100)
    fill: float = Field(0.0, ge=0, le=100_000)

    def made(self, inputs: Inputs, making: Making) -> Body:
        return body_in(inputs).mended(making.key, self.within, self.fill)[0]

    def sentence(self) -> str:
        filled = f", openings up to {self.fill:g} mm filled" if self.fill else ""
        return f"Mended: joined within {self.within:g} mm, turned one way{filled}"


class SplitFaces(CageStep):
    """Split picked faces into four-cornered ones about their middles."""

    kind: Literal["split"] = "split"
    faces: Picks

    def applied_to(self, cage: Cage, mates: Mates | None) -> Cage:
        return dissolving.split_faces(cage, list(self.faces), mates)

    def sentence(self) -> str:
        return f"Split {counted(len(self.faces), 'face')}"


class WeldedPoints(CageStep):
    """Make one point of picked ones; only of those within some mm of one another where `within` is given."""

    kind: Literal["welded"] = "welded"
    points: Annotated[tuple[int, ...], Field(min_length=2)]
    within: float | None = Field(None, gt=0)

    def applied_to(self, cage: Cage, mates: Mates | None) -> Cage:
        return joins.weld_points(cage, list(self.points), self.within, mates)

    def sentence(self) -> str:
        near = f" within {self.within:g} mm" if self.within else ""
        return f"Welded {counted(len(self.points), 'point')}{near}"


class DetachedFaces(CageStep):
    """Give picked faces points of their own, so that they hang together with nothing else."""

    kind: Literal["detached"] = "detached"
    faces: Picks

    def applied_to(self, cage: Cage, mates: Mates | None) -> Cage:
        return joins.detach_faces(cage, list(self.faces), mates)

    def sentence(self) -> str:
        return f"Detached {counted(len(self.faces), 'face')}"


class MirroredFaces(CageStep):
    """Add the mirror image of picked faces across the middle; points within `within` mm of it are shared."""

    kind: Literal["mirrored"] = "mirrored"
    faces: Picks
    axis: Letter = "W"
    within: float = Field(0.01, gt=0)

    def applied_to(self, cage: Cage, mates: Mates | None) -> Cage:
        return cuts.mirrored_copy(cage, list(self.faces), LETTERS.index(self.axis), self.within)

    def sentence(self) -> str:
        return f"Mirrored {counted(len(self.faces), 'face')} across {self.axis}"


class MirroredSide(CageStep):
    """Put the mirror image of one side in place of the other."""

    kind: Literal["alike"] = "alike"
    axis: Letter = "W"
    side: cuts.Side = "right"

    def applied_to(self, cage: Cage, mates: Mates | None) -> Cage:
        return cuts.mirror_side(cage, LETTERS.index(self.axis), self.side)

    def sentence(self) -> str:
        words = {"W": ("right", "left"), "D": ("back", "front"), "H": ("upper", "lower")}[self.axis]
        return f"Made both sides like the {words[self.side == 'left']} one"
