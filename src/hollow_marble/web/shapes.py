"""Shapes of requests and answers that the OpenAPI document, and from it the interface's types, are made of."""

from __future__ import annotations

from collections import Counter
from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field

from hollow_marble.core.ink.blend import Mode
from hollow_marble.documents.board.edits import BoardEdit
from hollow_marble.documents.board.model import Board
from hollow_marble.documents.form.edits import FormEdit
from hollow_marble.documents.form.model import Form
from hollow_marble.documents.kinds import DocumentKind
from hollow_marble.documents.sheet.drafting import Drafted, drafted
from hollow_marble.documents.sheet.edits import SheetEdit
from hollow_marble.documents.sheet.model import (
    Border,
    ConstructionBox,
    Ground,
    Guide,
    Note,
    Perspective,
    Quad,
    Sheet,
    Symmetry,
    View,
)
from hollow_marble.documents.studio.edits import StudioEdit
from hollow_marble.documents.studio.model import Studio


class InProject(BaseModel):
    project: str


class InDocument(InProject):
    document: str


class InView(InDocument):
    view: str


class InPart(InDocument):
    part: str


class InTake(InProject):
    take: str


class InAsset(InProject):
    sha: str


class NewProject(BaseModel):
    name: str
    maker: str = ""


class NewDocument(BaseModel):
    kind: Literal["sheet"]
    name: Annotated[str, Field(min_length=1, max_length=60)]


class NewPlace(BaseModel):
    place: Annotated[int, Field(ge=0)]


class NewName(BaseModel):
    name: Annotated[str, Field(min_length=1, max_length=60)]


class ProjectShape(BaseModel):
    id: str
    name: str
    maker: str
    created: str


class Projects(BaseModel):
    projects: list[ProjectShape]


class DocumentShape(BaseModel):
    id: str
    kind: DocumentKind
    name: str
    place: int
    head: int | None
    tip: int | None
    chosen: bool = Field(False, description="a sheet marked as the direction gone on with")


class ProjectState(BaseModel):
    project: ProjectShape
    documents: list[DocumentShape]


class LayerOutline(BaseModel):
    """A sheet's layer without its strokes and pixels."""

    kind: Literal["ink", "tone", "picture", "group", "notes"]
    id: str
    name: str
    visible: bool
    opacity: float
    mode: Mode
    group: str | None
    locked: bool
    lock_paint: bool
    clipped: bool
    strokes: int = 0
    tint: str | None = None
    quad: Quad | None = None
    notes: list[Note] = []


class SheetOutline(BaseModel):
    """A sheet without its strokes: pages with thousands of them stay small on the wire."""

    width: int
    height: int
    paper: str
    layers: list[LayerOutline]
    views: list[View]
    guides: list[Guide]
    perspective: Perspective | None
    box: ConstructionBox | None
    edges: dict[str, Literal["W", "D", "H"]]
    drafted: Drafted
    ground: Ground | None
    border: Border | None
    symmetry: Symmetry
    chosen: bool
    colours: list[str] = Field(description="colours drawn with on this page, the most used first")


def outline(sheet: Sheet) -> SheetOutline:
    """What the interface needs to know of a sheet."""
    used: Counter[str] = Counter()
    there: set[str] = set()
    layers = []
    for layer in sheet.layers:
        fields = {name: getattr(layer, name, None) for name in LayerOutline.model_fields if name != "strokes"}
        fields["notes"] = list(layer.notes) if layer.kind == "notes" else []
        strokes = layer.strokes if layer.kind == "ink" else ()
        used.update(stroke.colour for stroke in strokes)
        if sheet.edges:
            there.update(stroke.id for stroke in strokes)
        if fields["tint"]:
            used[fields["tint"]] += 1
        layers.append(LayerOutline(**fields, strokes=len(strokes)))
    return SheetOutline(
        width=sheet.width,
        height=sheet.height,
        paper=sheet.paper,
        layers=layers,
        views=list(sheet.views),
        guides=list(sheet.guides),
        perspective=sheet.perspective,
        box=sheet.box,
        edges={ident: along for ident, along in sheet.edges.items() if ident in there},
        drafted=drafted(sheet),
        ground=sheet.ground,
        border=sheet.border,
        symmetry=sheet.symmetry,
        chosen=sheet.chosen,
        colours=[colour for colour, _ in used.most_common(12)],
    )


class Standing(BaseModel):
    """Where a document stands in its ledger."""

    id: str
    name: str
    head: int | None
    sentence: str
    edits: int
    can_undo: bool
    can_redo: bool
    since: str | None = Field(None, description="the version last passed")


class SheetState(BaseModel):
    standing: Standing
    body: SheetOutline


class FormState(BaseModel):
    """A form, and by part what each of its steps did, in words."""

    standing: Standing
    body: Form
    said: dict[str, list[str]]


class StudioState(BaseModel):
    standing: Standing
    body: Studio


class BoardState(BaseModel):
    standing: Standing
    body: Board


class EditRequest(BaseModel):
    edit: Annotated[SheetEdit | FormEdit | StudioEdit | BoardEdit, Field(discriminator="kind")]


class Place(BaseModel):
    """A line of a ledger; null is the start."""

    edit: int | None


class NewVersion(BaseModel):
    name: Annotated[str, Field(min_length=1, max_length=60)]
    edit: int | None


class LineShape(BaseModel):
    id: int
    parent: int | None
    depth: int
    kind: str
    sentence: str
    made: str


class VersionShape(BaseModel):
    name: str
    edit: int | None
    made: str


class LedgerShape(BaseModel):
    head: int | None
    tip: int | None
    lines: list[LineShape]
    versions: list[VersionShape]


class Problem(BaseModel):
    """RFC 9457 problem details."""

    type: str
    title: str
    status: int
    detail: str


class Status(BaseModel):
    version: str
    renderer: str
    variant: str | None
    warm: bool


class SizeShape(BaseModel):
    width: float
    depth: float
    height: float
    volume: float
    area: float
    parts: int
    faces: int
    grams: dict[str, float]
    milliseconds: float


class FindingShape(BaseModel):
    part: str
    kind: str
    place: tuple[float, float, float]
    amount: float
    tolerance: float
    sentence: str


class SoundnessShape(BaseModel):
    part: str
    name: str
    closed: bool
    manifold: bool
    consistent: bool
    counts: dict[str, int]
    findings: list[FindingShape]


class SoundnessAnswer(BaseModel):
    parts: list[SoundnessShape]


class StagedLampShape(BaseModel):
    id: str
    corners: list[tuple[float, float, float]]
    radiance: tuple[float, float, float]


class LightFactsShape(BaseModel):
    shadow_edge: float | None
    softness: str | None
    key_to_fill: float | None
    kind: str | None


class StagingShape(BaseModel):
    shift: tuple[float, float, float]
    centre: tuple[float, float, float]
    lens: tuple[float, float, float]
    target: tuple[float, float, float]
    view: float
    lamps: list[StagedLampShape]
    facts: LightFactsShape


class NewTake(BaseModel):
    shot: str
    quality: Literal["draft", "review", "final"]


class TakeShape(BaseModel):
    id: str
    place: int
    studio: str
    shot: str
    name: str
    frozen: dict[str, Any]
    sheets: list[tuple[str, int | None]]
    quality: str
    width: int
    height: int
    state: Literal["queued", "developing", "done", "cancelled", "failed"]
    samples: int
    wanted: int
    noise: float | None
    seconds: float
    engine: str | None
    picture: str | None
    problem: str | None
    made: str
    left: float | None


class Takes(BaseModel):
    takes: list[TakeShape]


class ThreadStep(BaseModel):
    """One link of the thread: a document at a line of its ledger."""

    kind: Literal["sheet", "form", "shot", "take"]
    id: str
    name: str
    edit: int | None
    sentence: str
    current: bool
    chosen: bool = Field(False, description="a sheet marked as the direction gone on with")


class ThreadShape(BaseModel):
    steps: list[ThreadStep]


class PlaceQuery(BaseModel):
    """A place on the page, px."""

    x: float
    y: float


class ColourAt(BaseModel):
    colour: str
