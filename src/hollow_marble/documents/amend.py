"""A thing with only some of its fields changed, as the interface says it: by name, or by a path into it ("size.0")."""

from __future__ import annotations

from typing import Any, TypeVar

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.edit import Frozen

M = TypeVar("M", bound=Frozen)


def amended(thing: M, fields: dict[str, Any]) -> M:
    """The thing with fields changed and checked; everything else as it is.

    Raises
    ------
    HollowMarbleError
        where nothing is named, or something the thing does not have.
    pydantic.ValidationError
        where a value does not fit.
    """
    if not fields:
        raise HollowMarbleError("Nothing was changed. Name at least one field.")
    body = thing.model_dump(mode="json")
    for path, value in fields.items():
        inner: Any = body
        *way, last = path.split(".")
        for name in way:
            inner = _entered(inner, name, path)
        if isinstance(inner, list):
            _entered(inner, last, path)
            inner[int(last)] = value
        else:
            inner[last] = value
    return type(thing).model_validate(body)


def value_at(body: Any, path: str) -> Any:
    """What stands at a path into a thing's JSON; None where there is nothing."""
    for name in path.split("."):
        if isinstance(body, dict):
            body = body.get(name)
        elif isinstance(body, list) and name.isdecimal() and int(name) < len(body):
            body = body[int(name)]
        else:
            return None
    return body


def _entered(inner: Any, name: str, path: str) -> Any:
    if isinstance(inner, dict) and name in inner:
        return inner[name]
    if isinstance(inner, list) and name.isdecimal() and int(name) < len(inner):
        return inner[int(name)]
    raise HollowMarbleError(f"There is no {path} to change.")
