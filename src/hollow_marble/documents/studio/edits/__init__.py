"""Edits of a studio."""

from typing import Annotated

from pydantic import Field

from hollow_marble.documents.studio.edits.finishes import (
    ClearFinishes,
    KeepColourway,
    PutMark,
    PutZone,
    RemoveColourway,
    RemoveMark,
    RemoveZone,
    SetFinish,
    SetFinishes,
    WearColourway,
)
from hollow_marble.documents.studio.edits.light import (
    LightStart,
    RemoveLamp,
    SetLamp,
    SetLamps,
    SetLight,
    SetStart,
    StartLight,
    StartSet,
)
from hollow_marble.documents.studio.edits.scene import (
    BuildSet,
    ForgetView,
    GoToView,
    HidePart,
    KeepView,
    PlaceUnits,
    SetCamera,
    SetSurround,
)
from hollow_marble.documents.studio.edits.shots import ChangeShot, DuplicateShot, KeepShot, OpenShot, RemoveShot

StudioEdit = Annotated[
    SetLamp
    | SetLamps
    | RemoveLamp
    | StartLight
    | StartSet
    | SetLight
    | SetCamera
    | KeepView
    | GoToView
    | ForgetView
    | BuildSet
    | PlaceUnits
    | SetSurround
    | HidePart
    | SetFinish
    | SetFinishes
    | PutMark
    | RemoveMark
    | PutZone
    | RemoveZone
    | ClearFinishes
    | KeepColourway
    | WearColourway
    | RemoveColourway
    | KeepShot
    | DuplicateShot
    | ChangeShot
    | OpenShot
    | RemoveShot,
    Field(discriminator="kind"),
]

__all__ = ["BuildSet", "ChangeShot", "ClearFinishes", "DuplicateShot", "ForgetView", "GoToView", "HidePart", "KeepColourway", "KeepShot", "KeepView", "LightStart", "OpenShot", "PlaceUnits", "PutMark", "PutZone", "RemoveColourway", "RemoveLamp", "RemoveMark", "RemoveShot", "RemoveZone", "SetCamera", "SetFinish", "SetFinishes", "SetLamp", "SetLamps", "SetLight", "SetStart", "SetSurround", "StartLight", "StartSet", "StudioEdit", "WearColourway"]  # fmt: skip
