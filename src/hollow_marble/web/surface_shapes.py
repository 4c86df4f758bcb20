"""Shapes of what probes are asked and answer."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, Field

from hollow_marble.core.surface.finding import Which
from hollow_marble.documents.form.steps import Vector
from hollow_marble.web.shapes import Asked

Offset = Annotated[float, Field(ge=-1e6, le=1e6)]


class LightLinesRequest(BaseModel):
    """Lights by where they lie from the form's middle (`towards`, turned by `turn` degrees, `away` mm off it), or angles to it."""

    kind: Literal["highlight", "reflection", "isophotes"]
    towards: Vector = (0.0, -1.0, 0.6)
    turn: float = Field(0.0, ge=-360, le=360)
    away: float = Field(80.0, gt=0, le=100_000)
    count: int = Field(12, ge=1, le=60)
    spacing: float = Field(8.0, gt=0, le=10_000)
    eye: Vector = (0.0, -400.0, 100.0)


class FlatQuery(Asked):
    format: Literal["svg", "dxf"]


class LightLinesFlat(LightLinesRequest):
    """The same, laid flat as seen from `seen_from`."""

    seen_from: Vector


class SectionsRequest(BaseModel):
    """Planes across `normal`, the first one `at` mm along it from the origin, `count` of them `spacing` mm apart."""

    normal: Vector
    at: Offset = 0.0
    count: int = Field(1, ge=1, le=200)
    spacing: float = Field(5.0, gt=0, le=10_000)


class FinerRequest(BaseModel):
    """Some patches of the mesh of a key, after so many refinements."""

    key: str
    level: int = Field(ge=1, le=5)
    patches: Annotated[list[Annotated[int, Field(ge=0)]], Field(min_length=1, max_length=20_000)]


class CombRequest(BaseModel):
    place: Vector | None = Field(None, description="the row nearest to it; every row where it is left out")


class DraftQuery(Asked):
    x: float = 0.0
    y: float = -1.0
    z: float = 0.0
    wanted: float = Field(1.0, ge=0, le=89)


class WallQuery(Asked):
    way: Literal["ray", "sphere"] = "ray"
    wanted: float = Field(1.2, gt=0, le=1000)


class MendingQuery(Asked):
    within: float = Field(0.01, ge=0, le=100)
    fill: float = Field(0.0, ge=0, le=100_000)


class MendingAnswer(BaseModel):
    """What mending would do, and what would be left to look at."""

    joined: int
    dropped: int
    turned: int
    filled: int
    counts: dict[str, int]


class DeviationQuery(Asked):
    line: int | None = Field(None, ge=0, le=2**53, description="the part as it was at a line of the ledger")
    other: str | None = Field(None, description="another part")


class PlaceQuery(Asked):
    x: Offset
    y: Offset
    z: Offset


class ReportQuery(Asked):
    format: Literal["pdf", "html", "json"] = "pdf"


class OutlineQuery(Asked):
    reference: str
    section: float | None = Field(
        None, ge=-1e6, le=1e6, description="a section so many mm along the way one looks; the silhouette where left out"
    )


class OutlineAnswer(BaseModel):
    """How far the lines drawn in a view are from the form, mm; where they stand, the places of the form nearest to them, and how far each."""

    mean: float
    rms: float
    most: float
    place: Vector
    counts: list[float]
    bounds: list[float]
    stands: list[Vector]
    places: list[Vector]
    away: list[float]


class FindingShape(BaseModel):
    """id : what it is accepted under; state: open, or accepted with its reason."""

    id: str
    part: str
    name: str
    probe: Which
    kind: str
    place: Vector
    amount: float
    tolerance: float
    unit: str
    sentence: str
    beyond: bool
    state: Literal["open", "accepted"]
    reason: str | None


class MeasuredShape(BaseModel):
    most: float
    mean: float
    place: Vector


class SeamShape(BaseModel):
    """A line along which surfaces meet: gap mm, angle degrees, jump per cent; `other` the part it meets, where that is another."""

    part: str
    name: str
    other: str | None
    kind: Literal["crease", "meeting", "around"]
    verdict: Literal["within", "near", "beyond", "edge"]
    length: float
    places: list[Vector]
    gap: MeasuredShape
    angle: MeasuredShape
    jump: MeasuredShape


class SoundShape(BaseModel):
    part: str
    name: str
    closed: bool
    manifold: bool
    consistent: bool
    counts: dict[str, int]


class ChecksAnswer(BaseModel):
    """Everything that was checked: soundness part by part, seams, findings (open ones first)."""

    soundness: list[SoundShape]
    seams: list[SeamShape]
    findings: list[FindingShape]
    open: int


class CountsAnswer(BaseModel):
    """Open findings by part, where all that is shown was checked as it is; `asked` whether anybody ever asked for a check."""

    counts: dict[str, int] | None
    asked: bool


class WeighedShape(BaseModel):
    part: str
    name: str
    volume: float | None
    area: float
    grams: float | None
    centre: Vector | None
    why: str | None


class StandingShape(BaseModel):
    stands: bool
    margin: float
    tip: float
    feet: list[tuple[float, float]]


class BalanceAnswer(BaseModel):
    parts: list[WeighedShape]
    grams: float
    centre: Vector | None
    by_weight: bool
    standing: StandingShape | None
