"""Parts that are many of another part: spread over a skin, repeated, stitched along a line. Lengths mm, angles degrees."""

from __future__ import annotations

import io
from typing import Annotated, ClassVar, Literal

import numpy as np
from PIL import Image
from pydantic import Field

from hollow_marble.core.bodies.body import Body
from hollow_marble.core.bodies.scattered_body import ScatteredBody
from hollow_marble.core.bodies.solid_body import CurveBody
from hollow_marble.core.bodies.still_body import StillBody
from hollow_marble.core.cage.edits import turning
from hollow_marble.core.detail import spreading
from hollow_marble.core.detail.beside import SkinLine
from hollow_marble.core.detail.chart import Chart, chart_around
from hollow_marble.core.detail.ground import Floats, Ground, Spots
from hollow_marble.core.detail.stitching import stitch, stitches
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.edit import Frozen
from hollow_marble.documents.form.details import loops_in
from hollow_marble.documents.form.recipe import Inputs, Making
from hollow_marble.documents.form.skin_lines import line_in
from hollow_marble.documents.form.steps import LETTERS, Letter, Node, StartStep, Vector, body_in

Pair = tuple[Annotated[float, Field(ge=-1000, le=1000)], Annotated[float, Field(ge=-1000, le=1000)]]
Positive = tuple[Annotated[float, Field(gt=0, le=1000)], Annotated[float, Field(gt=0, le=1000)]]
Apart = Annotated[float, Field(gt=0, le=10_000)]


class ManyStep(StartStep):
    """A start whose outcome is many of another part ("element"), which stays what it is: change it, and all of them follow."""

    gives_shape: ClassVar[bool] = False
    keeps_cage: ClassVar[bool] = False
    what: ClassVar[str] = "many of another part"

    def made(self, inputs: Inputs, making: Making) -> Body:
        element = body_in(inputs, "element")
        if isinstance(element, CurveBody):
            raise HollowMarbleError("A curve has no skin to be seen. Choose a part that is built or sculpted.")
        return ScatteredBody(making.key, element, self.matrices(inputs, making), making.shelf)

    def matrices(self, inputs: Inputs, making: Making) -> Floats:
        """(K, 3, 4) where each stands."""
        raise NotImplementedError


class Painted(Frozen):
    """A tone layer of a sheet, by their ids."""

    sheet: str = Field(max_length=60)
    layer: str = Field(max_length=60)


class Spread(ManyStep):
    """Another part spread over a skin ("on"): its origin on it, its upright along the normal.

    arranged : evenly at random, or on a lattice; `apart` mm. Over all of the skin, within a flat curve ("within") laid around a place, or where
    a grey picture lies, `wide` mm about the place
    painted : the tone layer the picture was taken of, where it was
    size, height, turn : each from dark to bright of the picture; without one, from end to end at random (`chance` is which throw)
    least : grey below which there is none
    """

    kind: Literal["spread"] = "spread"
    name: str = Field("", max_length=60)
    arranged: Literal["random", "square", "staggered"] = "random"
    apart: Apart = 3.0
    chance: int = Field(1, ge=0, le=1_000_000)
    at: Vector = (0.0, 0.0, 0.0)
    wide: Apart = 20.0
    tall: Apart = 20.0
    picture: Annotated[str, Field(pattern="^[0-9a-f]{64}$")] | None = Field(None, exclude_if=lambda sha: sha is None)
    painted: Painted | None = Field(None, exclude_if=lambda painted: painted is None)
    size: Positive = (1.0, 1.0)
    height: Positive = (1.0, 1.0)
    turn: Pair = (0.0, 0.0)
    least: float = Field(0.0, ge=0, le=1)
    sink: float = Field(0.0, ge=-1000, le=1000)

    def matrices(self, inputs: Inputs, making: Making) -> Floats:
        ground = body_in(inputs, "on").ground()
        grey = self._grey(ground, making)
        outlines = loops_in(inputs, "within").centred() if "within" in inputs else None
        chart: Chart | None = grey.chart if grey else None
        half = (self.wide / 2, self.tall / 2)
        if outlines is not None:
            low, high = outlines.extent
            half = tuple(float(x) for x in np.maximum(np.abs(low), np.abs(high)))  # type: ignore[assignment]
        if chart is None and (outlines is not None or self.arranged != "random"):
            chart = chart_around(ground, np.array(self.at), np.array([0.0, 0.0, 1.0]), half, False)
        if self.arranged == "random":
            kept = self._near(ground, chart) if chart is not None else None
            spots = spreading.evenly_at_random(ground, self.apart, self.chance, kept)
            right = spreading.level_ways(spots)
        else:
            assert chart is not None
            spots, right = spreading.on_lattice(ground, chart, half, self.apart, self.arranged == "staggered")
        share, there = self._shares(spots, grey)
        if chart is not None and outlines is not None:
            flat, _, on = chart.asked(spots)
            there &= on & (outlines.asked(flat, 1e3)[0] <= 0)
        if not there.any():
            raise HollowMarbleError(
                "Nothing is left to be spread: the picture is darker than the least grey, or nothing of it lies on the skin."
            )
        spots, right, share = spots[there], right[there], share[there]
        between = [a + (b - a) * share for a, b in (self.size, self.height, self.turn)]
        return spreading.standing(spots, right, between[0], between[1], np.radians(between[2]), self.sink)

    def _grey(self, ground: Ground, making: Making) -> spreading.Grey | None:
        if not self.picture:
            return None
        picture = self.picture
        pixels = making.shelf.get("grey", picture, lambda: grey_of(making.load(picture)))
        tall = self.wide * pixels.shape[0] / pixels.shape[1]
        chart = chart_around(ground, np.array(self.at), np.array([0.0, 0.0, 1.0]), (self.wide / 2, tall / 2), False)
        return spreading.Grey(pixels, chart, self.wide)

    def _near(self, ground: Ground, chart: Chart) -> np.ndarray:
        """(T,) triangles of a ground that a chart may lie on."""
        corners = ground.probed.points[ground.probed.triangles]
        middle, radius = (
            corners.mean(axis=1),
            np.linalg.norm(corners - corners.mean(axis=1, keepdims=True), axis=2).max(axis=1),
        )
        low, high = chart.piece.points.min(axis=0), chart.piece.points.max(axis=0)
        beyond = np.maximum(np.maximum(low - middle, middle - high), 0.0)
        return np.asarray(np.linalg.norm(beyond, axis=1) <= radius)

    def _shares(self, spots: Spots, grey: spreading.Grey | None) -> tuple[Floats, np.ndarray]:
        """(K,) what each is driven by, 0 to 1, and whether it is there at all."""
        if grey is None:
            share = np.random.default_rng(self.chance + 1).random(len(spots))
            return share, np.ones(len(spots), bool)
        share = grey.at(spots)
        there = np.isfinite(share) & (np.nan_to_num(share) >= self.least)
        return np.nan_to_num(share), there

    def sentence(self) -> str:
        how = {"random": "evenly at random", "square": "on a square lattice", "staggered": "on a staggered lattice"}[
            self.arranged
        ]
        by = ", driven by the paint of a sheet" if self.painted else ", driven by a picture" if self.picture else ""
        return f"Spread {self.name or 'another part'} {how}, {self.apart:g} mm apart{by}"


class Repeated(ManyStep):
    """Another part repeated: along a step, round an axis, on a grid, mirrored, or along a line on a skin ("line").

    count : of them; rows : of a grid; step, across : from one to the next, and from row to row; axis, at, angle : round what, and over how much
    """

    kind: Literal["repeated"] = "repeated"
    name: str = Field("", max_length=60)
    way: Literal["straight", "round", "grid", "mirrored", "line"] = "straight"
    count: int = Field(6, ge=1, le=10_000)
    rows: int = Field(3, ge=1, le=1000)
    step: Vector = (10.0, 0.0, 0.0)
    across: Vector = (0.0, 0.0, 10.0)
    axis: Letter = "H"
    at: Vector = (0.0, 0.0, 0.0)
    angle: float = Field(360.0, gt=0, le=360)

    def matrices(self, inputs: Inputs, making: Making) -> Floats:
        if self.way == "line":
            line, ground = self._line(inputs)
            spots, ways = spreading.along(line, ground, None, self.count)
            ones = np.ones(len(spots))
            return spreading.standing(spots, ways, ones, ones, 0 * ones)
        if self.way == "mirrored":
            flip = np.eye(3)
            flip[LETTERS.index(self.axis), LETTERS.index(self.axis)] = -1
            own = np.column_stack([np.eye(3), np.zeros(3)])
            return np.stack([own, np.column_stack([flip, 2 * np.array(self.at) * (flip.diagonal() < 0)])])
        if self.way == "round":
            each = self.angle / (self.count if self.angle == 360 else max(self.count - 1, 1))
            way = tuple(float(k == LETTERS.index(self.axis)) for k in range(3))
            found = []
            for k in range(self.count):
                turn = turning(way, float(np.radians(k * each)), self.at)  # type: ignore[arg-type]
                corners = turn.of(np.vstack([np.zeros(3), np.eye(3)]))
                found.append(np.column_stack([(corners[1:] - corners[0]).T, corners[0]]))
            return np.stack(found)
        rows = self.rows if self.way == "grid" else 1
        if self.count * rows > spreading.MOST:
            raise HollowMarbleError(
                f"{self.count * rows:,} are more than the {spreading.MOST:,} that can be shown. Repeat it less often."
            )
        i, j = np.meshgrid(np.arange(self.count), np.arange(rows))
        places = i.ravel()[:, None] * np.array(self.step) + j.ravel()[:, None] * np.array(self.across)
        return np.concatenate([np.tile(np.eye(3), (len(places), 1, 1)), places[:, :, None]], axis=2)

    def _line(self, inputs: Inputs) -> tuple[SkinLine, Ground]:
        return line_in(inputs), body_in(inputs, "line").ground()

    def sentence(self) -> str:
        name = self.name or "another part"
        if self.way == "mirrored":
            return f"Mirrored {name} across {self.axis}"
        ways = {
            "straight": "in a row",
            "round": f"round {self.axis}",
            "grid": f"on a grid of {self.rows} rows",
            "line": "along a line",
        }
        return f"Repeated {name} {self.count} times {ways[self.way]}"


class Stitched(StartStep):
    """Stitches along a line on another part ("line"), a part with a finish of its own.

    slant : degrees each is turned from the line; irregular : 0 to 1, how much they differ, by `chance`
    """

    gives_shape: ClassVar[bool] = False
    keeps_cage: ClassVar[bool] = False
    what: ClassVar[str] = "stitches"

    kind: Literal["stitched"] = "stitched"
    length: Apart = 3.0
    spacing: Apart = 4.2
    thickness: Apart = 0.7
    slant: float = Field(0.0, ge=-85, le=85)
    irregular: float = Field(0.3, ge=0, le=1)
    chance: int = Field(1, ge=0, le=1_000_000)

    def made(self, inputs: Inputs, making: Making) -> Body:
        line, ground = line_in(inputs), body_in(inputs, "line").ground()
        if self.thickness > 0.6 * self.length:
            raise HollowMarbleError(
                f"A stitch of {self.length:g} mm cannot be {self.thickness:g} mm thick: it would be a knot. Up to {0.6 * self.length:g} mm fit."
            )
        matrices = stitches(line, ground, self.length, self.spacing, self.slant, self.irregular, self.chance)
        points, triangles = stitch(self.length, self.thickness)
        element = StillBody(f"{making.key}-one", points, triangles.astype(np.uint32), making.shelf)
        return ScatteredBody(making.key, element, matrices, making.shelf)

    def sentence(self) -> str:
        return f"Stitched along a line, {self.length:g} mm every {self.spacing:g} mm"


class MadeReal(Node):
    """Make all of them one mesh: from here on it follows what it was made of no longer in each, and can be joined and cut as a mesh."""

    gives_shape: ClassVar[bool] = False
    keeps_cage: ClassVar[bool] = False

    kind: Literal["made_real"] = "made_real"

    def made(self, inputs: Inputs, making: Making) -> Body:
        body = body_in(inputs)
        if not isinstance(body, ScatteredBody):
            raise HollowMarbleError("It is one thing already. This is for what was spread or repeated.")
        return body.real(making.key)

    def sentence(self) -> str:
        return "Made each of them real, as one mesh"


def grey_of(data: bytes) -> np.ndarray:
    """(h, w) float32 0 to 1 of a picture kept as an asset: how bright it is as it is seen (sRGB), clear being nought."""
    with Image.open(io.BytesIO(data)) as picture:
        pixels = np.asarray(picture.convert("RGBA"), np.float32) / 255
    luma = pixels[..., :3] @ np.array([0.2126, 0.7152, 0.0722], np.float32)
    return np.asarray(luma * pixels[..., 3], np.float32)
