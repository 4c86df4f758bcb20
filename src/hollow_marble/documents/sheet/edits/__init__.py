"""Edits of a sheet, by what they change."""

from typing import Annotated

from pydantic import Field

from hollow_marble.documents.sheet.edits.guides import MarkEdges, PutGuide, RemoveGuide, SetPerspective
from hollow_marble.documents.sheet.edits.layers import (
    AddLayer,
    BringIn,
    ChangeLayer,
    DuplicateLayer,
    MergeLayers,
    MoveLayer,
    PlacePicture,
    RemoveLayer,
    SetPicture,
)
from hollow_marble.documents.sheet.edits.notes import PutNote, RemoveNotes, SetScale
from hollow_marble.documents.sheet.edits.strokes import ChangeStrokes, DrawStroke, SetSymmetry
from hollow_marble.documents.sheet.edits.tone import Choose, PaintTone, SetPage
from hollow_marble.documents.sheet.edits.views import (
    ChangeView,
    FrameView,
    MoveViews,
    PutCopy,
    RemoveView,
    RepeatFaintly,
    StrikeOut,
)

SheetEdit = Annotated[
    DrawStroke
    | ChangeStrokes
    | AddLayer
    | BringIn
    | ChangeLayer
    | MoveLayer
    | RemoveLayer
    | DuplicateLayer
    | MergeLayers
    | PlacePicture
    | SetPicture
    | PaintTone
    | SetPage
    | Choose
    | FrameView
    | ChangeView
    | StrikeOut
    | RemoveView
    | PutCopy
    | PutGuide
    | RemoveGuide
    | SetPerspective
    | MarkEdges
    | PutNote
    | RemoveNotes
    | SetScale
    | MoveViews
    | RepeatFaintly
    | SetSymmetry,
    Field(discriminator="kind"),
]

__all__ = [
    "AddLayer",
    "BringIn",
    "ChangeLayer",
    "ChangeStrokes",
    "ChangeView",
    "Choose",
    "DrawStroke",
    "DuplicateLayer",
    "FrameView",
    "MarkEdges",
    "MergeLayers",
    "MoveLayer",
    "MoveViews",
    "PaintTone",
    "PlacePicture",
    "PutCopy",
    "PutGuide",
    "PutNote",
    "RemoveGuide",
    "RemoveLayer",
    "RemoveNotes",
    "RemoveView",
    "RepeatFaintly",
    "SetPage",
    "SetPerspective",
    "SetPicture",
    "SetScale",
    "SetSymmetry",
    "SheetEdit",
    "StrikeOut",
]
