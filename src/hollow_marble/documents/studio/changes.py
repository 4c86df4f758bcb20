"""Changes of a studio's things that keep what can be kept: another kind, another hold, another material, a copy, a mirrored copy."""

from __future__ import annotations

from typing import Any, TypeVar

import numpy as np

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.studio.finishes import FINISHES
from hollow_marble.documents.studio.model import LAMPS, SETS, Finish, Light, Placed, Setting
from hollow_marble.documents.studio.staging.placing import azimuth_of

P = TypeVar("P", bound=Placed)

_FIXED = {"distance"}
"""Fields that some kinds cannot choose."""


def of_kind(thing: Any, kind: object) -> Any:
    """A lamp or a set as another kind, with all the fields that both have and that fit.

    Raises
    ------
    HollowMarbleError
        where there is no such kind.
    """
    kinds = {one.model_fields["kind"].default: one for one in (SETS if type(thing) in SETS else LAMPS)}
    model = kinds.get(kind) if isinstance(kind, str) else None
    if model is None:
        raise HollowMarbleError("There is no such kind. Choose one of " + ", ".join(kinds) + ".")
    if type(thing) is model:
        return thing
    own = thing.model_dump(mode="json")
    far = {name for name in _FIXED if name in own and _is_fixed(model, name) != _is_fixed(type(thing), name)}
    kept = {
        name: value for name, value in own.items() if name in model.model_fields and name not in far and name != "kind"
    }
    return model.model_validate({**kept, "kind": kind})


def _is_fixed(model: type[Any], name: str) -> bool:
    limits = {type(limit).__name__: limit for limit in model.model_fields[name].metadata}
    return "Ge" in limits and "Le" in limits and limits["Ge"].ge == limits["Le"].le


def held_to(placed: P, held: object, setting: Setting) -> P:
    """Something held to something else, that stays where it stands."""
    if held not in ("room", "product", "camera"):
        raise HollowMarbleError("A lamp is held to the room, the product or the camera.")
    there = placed.model_copy(update={"held": held, "azimuth": 0.0})
    turned = azimuth_of(placed, setting) - azimuth_of(there, setting)
    return there.model_copy(update={"azimuth": (turned + 180) % 360 - 180})


def turned_finish(finish: Finish, material: object) -> Finish:
    """A finish in another material: its colour stays, unless that material begins with one of its own; its amounts are as usual there."""
    row = FINISHES.get(material) if isinstance(material, str) else None
    if row is None:
        raise HollowMarbleError("There is no such material.")
    before = FINISHES[finish.material]
    colour = row.own or ("#C9C4BA" if before.own and finish.colour == before.own else finish.colour)
    return Finish(material=material, colour=colour, lay=finish.lay)


def free_id(ident: str, taken: set[str]) -> str:
    """An id like another that nothing has yet."""
    number = 2
    while f"{ident}-{number}" in taken:
        number += 1
    return f"{ident}-{number}"


def free_name(name: str, taken: set[str]) -> str:
    """A name like another that nothing has yet."""
    if name not in taken:
        return name
    number = 2
    while f"{name[:54]} {number}" in taken:
        number += 1
    return f"{name[:54]} {number}"


def pasted_lamp(lamp: Any, onto: Any, there: tuple[Any, ...]) -> Any:
    """A copied lamp in the place of another, or beside those that are there; where it came from the same place, a little to the side."""
    if onto is not None:
        role = {"role": onto.role} if isinstance(lamp, Light) and isinstance(onto, Light) else {}
        return lamp.model_copy(update={"id": onto.id, **role})
    same = next(
        (
            other
            for other in there
            if isinstance(lamp, Light) and isinstance(other, Light) and other.role == lamp.role != "other"
        ),
        None,
    )
    return lamp.model_copy(update={"id": same.id} if same else {})


def another(lamp: Any, there: tuple[Any, ...]) -> Any:
    """A second lamp like one, beside it."""
    taken = {other.id for other in there}
    name = free_name(lamp.called, {other.called for other in there})
    role = {"role": "other"} if isinstance(lamp, Light) else {}
    return lamp.model_copy(
        update={"id": free_id(lamp.id, taken), "name": name, "azimuth": _round(lamp.azimuth + 20.0), **role}
    )


def mirrored(lamp: Any, there: tuple[Any, ...], setting: Setting) -> Any:
    """A second lamp like one, on the other side of the plane through the camera and the product."""
    axis = (
        0.0
        if lamp.held == "camera"
        else setting.camera.azimuth - (setting.units[0].turn if lamp.held == "product" else 0.0)
    )
    copy = another(lamp, there)
    aim = (-lamp.aim[0], *lamp.aim[1:]) if np.isclose(axis, 0) else lamp.aim
    return copy.model_copy(update={"azimuth": _round(2 * axis - lamp.azimuth), "turn": -lamp.turn, "aim": aim})


def _round(azimuth: float) -> float:
    return (azimuth + 180) % 360 - 180
