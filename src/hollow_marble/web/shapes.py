"""Shapes of requests and answers that the OpenAPI document, and from it the interface's types, are made of."""

from __future__ import annotations

import functools
from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field

from hollow_marble.application.amending import Amendment
from hollow_marble.documents.board.edits import BoardEdit
from hollow_marble.documents.board.model import Board
from hollow_marble.documents.brief.edits import BriefEdit
from hollow_marble.documents.brief.model import Brief
from hollow_marble.documents.form.edits import FormEdit
from hollow_marble.documents.form.model import Form
from hollow_marble.documents.kinds import DocumentKind
from hollow_marble.documents.sheet.edits import SheetEdit
from hollow_marble.documents.sheet.outline import SheetOutline
from hollow_marble.documents.studio.edits import StudioEdit
from hollow_marble.documents.studio.model import Studio


class Asked(BaseModel):
    """What an address is asked for by query. Every request looks at its plain schema, which is made once."""

    @classmethod
    def model_json_schema(cls, *args: Any, **kwargs: Any) -> dict[str, Any]:
        return super().model_json_schema(*args, **kwargs) if args or kwargs else cls._plain_schema()

    @classmethod
    @functools.cache
    def _plain_schema(cls) -> dict[str, Any]:
        return super().model_json_schema()


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


class InSince(InDocument):
    head: int = Field(ge=0, le=2**53)


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
    newer: bool = Field(False, description="written by a newer application, so that it can only be looked at")


class ProjectCardShape(ProjectShape):
    """A project on the shelf."""

    changed: str
    bytes: int
    picture: str | None = Field(None, description="address of what it looks like, another where that changes")


class Projects(BaseModel):
    projects: list[ProjectCardShape]


class AwayProjects(BaseModel):
    projects: list[ProjectShape]


class DemoShape(BaseModel):
    """How far the demo's projects are; `projects` holds the ids of those that are here, by name."""

    busy: bool
    what: str
    share: float
    problem: str
    projects: dict[str, str]


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


class Arrived(ProjectState):
    """A project that came in as a file, and what is to be said of it."""

    said: str


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


class Changed(BaseModel):
    """Where a document stands after an edit, and what leads from the state that was seen to it (`documents.difference`).

    change : null where nothing looks different
    keys : of a form, the keys of meshes that changed
    problems, held : why parts cannot be worked out, and why they are not to be shaped
    """

    standing: Standing
    change: dict[str, Any] | None
    keys: dict[str, str] = {}
    problems: dict[str, str] = {}
    held: dict[str, str] = {}


class SheetState(BaseModel):
    standing: Standing
    body: SheetOutline


class FormState(BaseModel):
    """A form, the keys of its parts' meshes, why parts cannot be worked out and why they are not to be shaped."""

    standing: Standing
    body: Form
    keys: dict[str, str]
    problems: dict[str, str]
    held: dict[str, str]


class StudioState(BaseModel):
    standing: Standing
    body: Studio


class BriefState(BaseModel):
    standing: Standing
    body: Brief


class BoardState(BaseModel):
    standing: Standing
    body: Board


class EditRequest(BaseModel):
    edit: Annotated[BriefEdit | SheetEdit | FormEdit | StudioEdit | BoardEdit, Field(discriminator="kind")]


class AmendRequest(BaseModel):
    """Only what was changed of a thing."""

    amend: Amendment


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
    noise: float | None = Field(description="about how far the cleaned picture is off, relative to its mean luminance")
    raw_noise: float | None = Field(description="the same before cleaning")
    seconds: float
    engine: str | None
    picture: str | None = Field(description="names the present picture; it changes when the picture does")
    problem: str | None
    made: str
    left: float | None


class Takes(BaseModel):
    takes: list[TakeShape]


class TaskShape(BaseModel):
    """Long work: what, how far (0 to 1), seconds left where that can be told."""

    id: str
    what: str
    state: Literal["queued", "running", "done", "cancelled", "failed"]
    share: float
    left: float | None
    problem: str | None


class Tasks(BaseModel):
    tasks: list[TaskShape]


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


class PlaceQuery(Asked):
    """A place on the page, px."""

    x: float
    y: float


class ColourAt(BaseModel):
    colour: str
