"""Edits of a sheet, by what they change."""

from typing import Annotated

from pydantic import Field

from hollow_marble.documents.sheet.edits.guides import PutGuide, RemoveGuide
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
from hollow_marble.documents.sheet.edits.strokes import ChangeStrokes, DrawStroke, SetSymmetry
from hollow_marble.documents.sheet.edits.tone import Choose, PaintTone, SetPage
from hollow_marble.documents.sheet.edits.views import ChangeView, FrameView, PutCopy, RemoveView, StrikeOut

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
    "MergeLayers",
    "MoveLayer",
    "PaintTone",
    "PlacePicture",
    "PutCopy",
    "PutGuide",
    "RemoveGuide",
    "RemoveLayer",
    "RemoveView",
    "SetPage",
    "SetPicture",
    "SetSymmetry",
    "SheetEdit",
    "StrikeOut",
]
