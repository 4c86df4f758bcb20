"""STEP and IGES: parts with names and colours out, and in with a diagnosis. Imports the B-rep kernel: for the worker that may die."""

from __future__ import annotations

import tempfile
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from OCP.APIHeaderSection import APIHeaderSection_MakeHeader
from OCP.collections import Sequence_TDF_Label
from OCP.IFSelect import IFSelect_ReturnStatus
from OCP.IGESCAFControl import IGESCAFControl_Reader
from OCP.Interface import Interface_Static
from OCP.Quantity import Quantity_Color, Quantity_TypeOfColor
from OCP.STEPCAFControl import STEPCAFControl_Reader, STEPCAFControl_Writer
from OCP.TCollection import TCollection_ExtendedString, TCollection_HAsciiString
from OCP.TDataStd import TDataStd_Name
from OCP.TDF import TDF_Label
from OCP.TDocStd import TDocStd_Document
from OCP.TopAbs import TopAbs_ShapeEnum as Kind
from OCP.TopLoc import TopLoc_Location
from OCP.XCAFApp import XCAFApp_Application
from OCP.XCAFDoc import XCAFDoc_ColorType, XCAFDoc_DocumentTool, XCAFDoc_ShapeTool

from hollow_marble import __version__
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.solids.kernel.healing import Diagnosis, diagnosed, healed_shape
from hollow_marble.core.solids.kernel.shapes import (
    Named,
    all_of,
    read,
    turned_out,
    written,
)
from hollow_marble.core.solids.kernel.wires import through
from hollow_marble.core.solids.solid import Array, Solid

Colour = tuple[float, float, float]


@dataclass(frozen=True, eq=False)
class Named3D:
    """A part in a file: name, colour in linear Rec. 709 (None: not said), what it is; lines on its skin, (n, 3) mm, a closed one ending
    where it begins."""

    name: str
    colour: Colour | None
    solid: Solid
    lines: tuple[Array, ...] = ()


def step_of(parts: list[Named3D], name: str) -> bytes:
    """An AP242 file of parts, one product each in an assembly, in mm."""
    document = _document()
    shapes = XCAFDoc_DocumentTool.ShapeTool_s(document.Main())
    colours = XCAFDoc_DocumentTool.ColorTool_s(document.Main())
    root = shapes.NewShape()
    TDataStd_Name.Set_s(root, TCollection_ExtendedString(name, True))
    for part in parts:
        label = shapes.AddShape(read(part.solid).shape, False)
        TDataStd_Name.Set_s(label, TCollection_ExtendedString(part.name, True))
        if part.colour is not None:
            colour = Quantity_Color(*(float(c) for c in part.colour), Quantity_TypeOfColor.Quantity_TOC_RGB)
            colours.SetColor(label, colour, XCAFDoc_ColorType.XCAFDoc_ColorSurf)
        component = shapes.AddComponent(root, label, TopLoc_Location())
        TDataStd_Name.Set_s(component, TCollection_ExtendedString(part.name, True))
        for number, places in enumerate(part.lines, 1):
            called = TCollection_ExtendedString(f"{part.name}, line {number}", True)
            line = shapes.AddShape(through(places), False)
            TDataStd_Name.Set_s(line, called)
            TDataStd_Name.Set_s(shapes.AddComponent(root, line, TopLoc_Location()), called)
    shapes.UpdateAssemblies()
    writer = STEPCAFControl_Writer()
    Interface_Static.SetCVal_s("write.step.schema", "AP242DIS")
    Interface_Static.SetCVal_s("write.step.unit", "MM")
    Interface_Static.SetCVal_s("write.step.product.name", name)
    writer.SetColorMode(True)
    writer.SetNameMode(True)
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "form.step"
        transferred = writer.Transfer(document)
        header = APIHeaderSection_MakeHeader(writer.ChangeWriter().Model())
        plain = name.encode("ascii", "replace").decode()  # a header has no other letters
        header.SetName(TCollection_HAsciiString(plain))
        header.SetDescriptionValue(1, TCollection_HAsciiString(plain))
        header.SetOriginatingSystem(TCollection_HAsciiString("Hollow Marble"))
        header.SetPreprocessorVersion(TCollection_HAsciiString(f"Hollow Marble {__version__}"))
        header.SetAuthorValue(1, TCollection_HAsciiString(""))
        header.SetOrganizationValue(1, TCollection_HAsciiString(""))
        if not transferred or writer.Write(str(path)) != IFSelect_ReturnStatus.IFSelect_RetDone:
            raise HollowMarbleError(
                "The parts could not be written as STEP. Leave one out after the other to find which."
            )
        return path.read_bytes()


def read_file(data: bytes, kind: str, name: str, heal: bool) -> list[tuple[Named3D, Diagnosis]]:
    """The parts in a STEP or IGES file, in mm; healed where that is asked for.

    Raises
    ------
    HollowMarbleError
        where the file cannot be read, or holds no surface.
    """
    reader = STEPCAFControl_Reader() if kind == "step" else IGESCAFControl_Reader()
    document = _document()
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / f"brought.{kind}"
        path.write_bytes(data)
        try:
            reader.SetColorMode(True)
            reader.SetNameMode(True)
            good = reader.ReadFile(str(path)) == IFSelect_ReturnStatus.IFSelect_RetDone and reader.Transfer(document)
        except Exception as error:
            raise HollowMarbleError(f"{name} is damaged: {type(error).__name__}. Export it again.") from error
    if not good:
        raise HollowMarbleError(
            f"{name} cannot be read as {kind.upper()}. Export it again, as STEP AP203, AP214 or AP242."
        )
    shapes = XCAFDoc_DocumentTool.ShapeTool_s(document.Main())
    colours = XCAFDoc_DocumentTool.ColorTool_s(document.Main())
    found: list[tuple[Named3D, Diagnosis]] = []
    free = Sequence_TDF_Label()
    shapes.GetFreeShapes(free)
    for k in range(1, free.Length() + 1):
        for label, shape in _parts(shapes, free.Value(k)):
            if not all_of(shape, Kind.TopAbs_FACE):
                continue
            found.append(_brought(label, shape, colours, f"{name}, part {len(found) + 1}", heal))
    if not found:
        raise HollowMarbleError(f"{name} holds no surface or solid. Choose another file.")
    return found


def _parts(shapes: Any, label: Any) -> list[tuple[Any, Any]]:
    """The single parts under a label, where they stand."""
    if not XCAFDoc_ShapeTool.IsAssembly_s(label):
        return [(label, XCAFDoc_ShapeTool.GetShape_s(label))]
    found = []
    components = Sequence_TDF_Label()
    XCAFDoc_ShapeTool.GetComponents_s(label, components)
    for k in range(1, components.Length() + 1):
        component = components.Value(k)
        referred = TDF_Label()
        place = XCAFDoc_ShapeTool.GetLocation_s(component)
        if XCAFDoc_ShapeTool.GetReferredShape_s(component, referred):
            found += [(inner, shape.Moved(place)) for inner, shape in _parts(shapes, referred)]
    return found


def _brought(label: Any, shape: Any, colours: Any, fallback: str, heal: bool) -> tuple[Named3D, Diagnosis]:
    if heal:
        shape = healed_shape(shape)
    if shape.ShapeType() == Kind.TopAbs_COMPOUND:
        inner = all_of(shape, Kind.TopAbs_SOLID) or all_of(shape, Kind.TopAbs_SHELL)
        shape = inner[0] if len(inner) == 1 else shape
    shape = turned_out(shape)
    attribute = TDataStd_Name()
    name = fallback
    if label.FindAttribute(TDataStd_Name.GetID_s(), attribute):
        name = attribute.Get().ToExtString().strip() or fallback
    colour = Quantity_Color()
    kinds = (XCAFDoc_ColorType.XCAFDoc_ColorSurf, XCAFDoc_ColorType.XCAFDoc_ColorGen)
    known = any(colours.GetColor_s(label, kind, colour) for kind in kinds)
    named = Named(shape, tuple(f"face-{k + 1}" for k in range(len(all_of(shape, Kind.TopAbs_FACE)))))
    rgb = (float(colour.Red()), float(colour.Green()), float(colour.Blue())) if known else None
    return Named3D(name[:60], rgb, written(named)), diagnosed(named)


def _document() -> Any:
    document = TDocStd_Document(TCollection_ExtendedString("BinXCAF"))
    XCAFApp_Application.GetApplication_s().InitDocument(document)
    return document
