"""Curves that forms are built of: drawn, held by dimensions, changed as a whole. Lengths mm, angles degrees."""

from __future__ import annotations

from dataclasses import fields, replace
from typing import Annotated, Any, ClassVar, Literal

import numpy as np
from pydantic import Field, model_validator

from hollow_marble.core.bodies.body import Body
from hollow_marble.core.bodies.solid_body import CurveBody
from hollow_marble.core.curves import chains as core_chains
from hollow_marble.core.curves.drawing import NEAR, Chain, Drawing, Piece, PieceKind
from hollow_marble.core.curves.holding import Hold, HoldKind, check_new, held
from hollow_marble.core.curves.planes import UPRIGHT, Drawn, Plane, on_normal, through_points
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.edit import Frozen
from hollow_marble.documents.form.recipe import Inputs, Making
from hollow_marble.documents.form.steps import Node, StartStep, Vector, body_in, counted

MOST_POINTS = 400
MOST_HOLDS = 150
"""More than that are not kept within the time of a drag."""
Name = Annotated[str, Field(min_length=1, max_length=40)]


class CurvePlane(Frozen):
    """Where a flat curve stands.

    on : seen from the front, the right side or above; in `space` there is no plane
    through : three points, in place of `on`; face : the name of a face of the part taken in as "on", at whose middle it stands
    origin : moved from there along width, depth and height; tilt : turned about its own across, up and normal
    """

    on: Literal["front", "side", "top", "space"] = "front"
    through: tuple[Vector, Vector, Vector] | None = None
    face: str | None = None
    origin: Vector = (0.0, 0.0, 0.0)
    tilt: Vector = (0.0, 0.0, 0.0)

    def core(self, inputs: Inputs, making: Making) -> Plane | None:
        """The same for the computation; None in space."""
        if self.on == "space":
            return None
        if self.face is not None:
            solid = body_in(inputs, "on").exact(making.kernel)
            middle, normal = making.kernel("face_middle", solid, self.face)
            plane = on_normal(middle, normal)
        elif self.through is not None:
            plane = through_points(*(np.array(point) for point in self.through))
        else:
            plane = UPRIGHT[self.on]
        return Plane(plane.origin + np.array(self.origin), plane.across, plane.up).turned(*self.tilt)


class CurvePiece(Frozen):
    """One piece of a curve, by numbers of points; see `core.curves.drawing.Piece`."""

    name: Name
    kind: PieceKind
    points: Annotated[tuple[Annotated[int, Field(ge=0)], ...], Field(min_length=1, max_length=MOST_POINTS)]
    value: float = Field(0.0, ge=0, le=100_000)
    left: bool = True
    closed: bool = False
    knots: Annotated[
        tuple[Annotated[float, Field(ge=0, le=1)], ...],
        Field(max_length=MOST_POINTS + 8, exclude_if=lambda knots: not knots),
    ] = ()
    order: Literal[1, 2] = Field(1, exclude_if=lambda order: order == 1)

    @model_validator(mode="after")
    def _fits(self) -> CurvePiece:
        wanted = {"line": 2, "arc": 3, "circle": 1, "ellipse": 2, "oval": 4, "blend": 2}.get(self.kind)
        if wanted is not None and len(self.points) != wanted:
            raise ValueError(f"A {self.kind} has {wanted} points; {len(self.points)} were given.")
        return self


class CurveHold(Frozen):
    """One thing said of a curve; see `core.curves.holding.Hold`."""

    kind: HoldKind
    points: tuple[int, ...] = ()
    pieces: tuple[Name, ...] = ()
    value: float = Field(0.0, ge=0, le=100_000)
    at: tuple[float, float] = (0.0, 0.0)

    def core(self) -> Hold:
        """The same for the computation."""
        return Hold(self.kind, self.points, self.pieces, self.value, self.at)

    @classmethod
    def of(cls, hold: Hold) -> CurveHold:
        """The same for the document."""
        return cls(kind=hold.kind, points=hold.points, pieces=hold.pieces, value=hold.value, at=hold.at)


class CornerRound(Frozen):
    """A corner with its radius."""

    point: int = Field(ge=0)
    radius: float = Field(ge=0, le=100_000)


Place = Annotated[tuple[float, ...], Field(min_length=2, max_length=3)]


class DrawnCurve(StartStep):
    """Draw a curve: points across and up in its plane, or in space; pieces between them; corners rounded; what is held."""

    gives_shape: ClassVar[bool] = False
    draws: ClassVar[bool] = True
    what: ClassVar[str] = "a curve"

    kind: Literal["curve"] = "curve"
    plane: CurvePlane = CurvePlane()
    points: Annotated[tuple[Place, ...], Field(min_length=1, max_length=MOST_POINTS)]
    pieces: Annotated[tuple[CurvePiece, ...], Field(min_length=1, max_length=MOST_POINTS)]
    rounds: tuple[CornerRound, ...] = ()
    holds: Annotated[tuple[CurveHold, ...], Field(max_length=MOST_HOLDS)] = ()

    @model_validator(mode="after")
    def _fits(self) -> DrawnCurve:
        size = 3 if self.plane.on == "space" else 2
        if any(len(point) != size for point in self.points):
            raise ValueError(f"Each point of this curve has {size} numbers.")
        names = [piece.name for piece in self.pieces]
        if len(set(names)) != len(names):
            raise ValueError("Two pieces of the curve have the same name.")
        if any(point >= len(self.points) for piece in self.pieces for point in piece.points):
            raise ValueError("A piece of the curve names a point that is not there.")
        return self

    def sentence(self) -> str:
        return f"Drew a curve of {counted(len(self.pieces), 'piece')}"

    def check_after(self, before: Node) -> None:
        """What is said of it newly must say something new."""
        if (
            not isinstance(before, DrawnCurve)
            or len(self.holds) == len(before.holds)
            or self.holds[:-1] != before.holds
        ):
            return
        check_new(self.drawing(), tuple(hold.core() for hold in before.holds), self.holds[-1].core())

    def drawing(self) -> Drawing:
        """It for the computation, as it was last left; dimensions not yet asked."""
        pieces = tuple(Piece(*(getattr(piece, field.name) for field in fields(Piece))) for piece in self.pieces)
        return Drawing(np.array(self.points, float), pieces, {r.point: r.radius for r in self.rounds})

    @classmethod
    def of(cls, drawing: Drawing, holds: tuple[Hold, ...], plane: CurvePlane, **more: Any) -> DrawnCurve:
        """The curve of a drawing on a plane, and what is said of it."""
        names = [field.name for field in fields(Piece)]
        return cls(
            plane=plane,
            points=tuple(tuple(point) for point in drawing.points.tolist()),
            pieces=tuple(CurvePiece(**{name: getattr(piece, name) for name in names}) for piece in drawing.pieces),
            rounds=tuple(CornerRound(point=point, radius=radius) for point, radius in drawing.rounds.items()),
            holds=tuple(CurveHold.of(hold) for hold in holds),
            **more,
        )

    def kept(self, grip: dict[int, Any] | None = None) -> tuple[Drawing, int]:
        """It with its dimensions kept, and how many ways to move are left; `grip` is where points are dragged to."""
        drawing = self.drawing()
        if self.plane.on == "space":
            if self.holds:
                raise HollowMarbleError("Only a flat curve can be held by dimensions. Draw this one on a plane.")
            for point, place in (grip or {}).items():
                drawing.points[point] = place
            return drawing, drawing.points.size
        found = held(drawing, tuple(hold.core() for hold in self.holds), grip)
        return found.drawing, found.free

    def made(self, inputs: Inputs, making: Making) -> Body:
        drawing, free = self.kept()
        chains = drawing.chains()
        return CurveBody(
            making.key, Drawn(making.name, tuple(chains), self.plane.core(inputs, making)), free, making.shelf
        )


class CurveStep(Node):
    """A step that changes a curve as a whole."""

    gives_shape: ClassVar[bool] = False
    keeps_cage: ClassVar[bool] = False

    def of(self, drawn: Drawn) -> Drawn:
        """The curve after it."""
        raise NotImplementedError

    def made(self, inputs: Inputs, making: Making) -> Body:
        before = curve_in(inputs, "of")
        return CurveBody(making.key, self.of(before.drawn), before.free, making.shelf)


class OffsetCurve(CurveStep):
    """The curve beside itself: to its left where positive, corners on the outside rounded unless `sharp`."""

    kind: Literal["curve_offset"] = "curve_offset"
    distance: float = Field(ge=-100_000, le=100_000)
    sharp: bool = False

    def of(self, drawn: Drawn) -> Drawn:
        drawn.flat("an offset")
        chains = tuple(core_chains.offset(chain, self.distance, self.sharp) for chain in drawn.chains)
        return Drawn(drawn.name, chains, drawn.plane)

    def sentence(self) -> str:
        return f"Offset the curve by {self.distance:g} mm"


class MirroredCurve(CurveStep):
    """The curve with its mirror image across its plane's up or across direction, joined where they meet; or the image alone."""

    kind: Literal["curve_mirrored"] = "curve_mirrored"
    along: Literal["up", "across"] = "up"
    both: bool = True

    def of(self, drawn: Drawn) -> Drawn:
        drawn.flat("a mirror image")
        flip = np.diag([-1.0, 1.0] if self.along == "up" else [1.0, -1.0])
        images = [chain.moved(flip, np.zeros(2)).back() for chain in drawn.chains]
        if not self.both:
            return Drawn(drawn.name, tuple(images), drawn.plane)
        found: list[Chain] = []
        for chain, image in zip(drawn.chains, images):
            found += _with_image(chain, image)
        return Drawn(drawn.name, tuple(found), drawn.plane)

    def sentence(self) -> str:
        return f"Mirrored the curve about its {self.along} direction"


class JoinedCurves(CurveStep):
    """The curve and another one ("with") as one, across the ends that are nearest to one another."""

    kind: Literal["curve_joined"] = "curve_joined"
    how: Literal["straight", "smooth", "curvature"] = "smooth"

    def made(self, inputs: Inputs, making: Making) -> Body:
        body = curve_in(inputs, "of")
        mine, other = body.drawn, curve_in(inputs, "with").drawn
        order = {"straight": 0, "smooth": 1, "curvature": 2}[self.how]
        for drawn in (mine, other):
            drawn.one("a joint")
        flat = mine.plane is not None and other.plane is not None and mine.plane.is_like(other.plane)
        pair = (mine.chains[0], other.chains[0]) if flat else (mine.placed()[0], other.placed()[0])
        drawn = Drawn(mine.name, (core_chains.connected(*pair, order),), mine.plane if flat else None)
        return CurveBody(making.key, drawn, body.free, making.shelf)

    def sentence(self) -> str:
        ways = {"straight": "by a line", "smooth": "smoothly", "curvature": "with even curvature"}
        return f"Joined another curve on {ways[self.how]}"


def _with_image(chain: Chain, image: Chain) -> list[Chain]:
    """A chain and its image, one chain where their ends meet."""
    if chain.closed:
        return [chain, image]
    image = Chain(tuple(_renamed(segment) for segment in image.segments), False)
    ends = [one.segments[k].at(np.array([t]))[0] for one in (chain, image) for k, t in ((0, 0.0), (-1, 1.0))]
    begin, end, image_begin, image_end = ends
    near = NEAR
    if np.linalg.norm(end - image_begin) < near:
        return [Chain((*chain.segments, *image.segments), bool(np.linalg.norm(begin - image_end) < near))]
    if np.linalg.norm(begin - image_end) < near:
        return [Chain((*image.segments, *chain.segments), False)]
    return [chain, image]


def _renamed(segment: Any) -> Any:
    return replace(segment, name=f"{segment.name}-image")


def curve_in(inputs: Inputs, name: str) -> CurveBody:
    """The curve among a node's inputs."""
    found = inputs.get(name)
    if not isinstance(found, CurveBody):
        raise HollowMarbleError("This step follows a curve, and what was given is none. Choose a curve.")
    return found
