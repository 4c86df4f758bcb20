"""What changed between two states of a document, as small as it is.

A difference is JSON that leads from what was told of one state to what is told of the other:

* `{"is": value}`: this instead
* `{"fields": {name: difference}}`: fields of an object that changed
* `{"keys": {key: value}, "gone": [key]}`: entries of a dictionary
* `{"at": n, "drop": k, "put": [values]}`: items of a list; `{"at": n, "change": difference}` where one item changed in itself

Parts that are the same object in both states are the same, so comparing costs what changed and not what there is.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from pydantic import BaseModel

Tell = Callable[[Any], Any]
"""A value as JSON."""


def told(value: Any) -> Any:
    """A value as JSON: models by their fields, or by `told()` where they have one."""
    if isinstance(value, BaseModel):
        own = getattr(value, "told", None)
        if own is not None:
            return own()
        fields = type(value).model_fields.items()
        return {name: told(getattr(value, name)) for name, field in fields if not field.exclude}
    if isinstance(value, tuple | list):
        return [told(item) for item in value]
    if isinstance(value, dict):
        return {key: told(item) for key, item in value.items()}
    return value


def difference(before: Any, after: Any) -> dict[str, Any] | None:
    """What leads from one value to another; None where they are the same."""
    if before is after:
        return None
    if isinstance(after, BaseModel) and type(before) is type(after) and _same_one(before, after):
        if before == after:
            return None
        if getattr(after, "told_whole", False):
            return {"is": told(after)}
        fields = {}
        for name in type(after).model_fields:
            change = difference(getattr(before, name), getattr(after, name))
            if change is not None:
                fields[name] = change
        return {"fields": fields} if fields else None
    if isinstance(after, tuple) and isinstance(before, tuple):
        return _of_lists(before, after)
    if isinstance(after, dict) and isinstance(before, dict):
        keys = {key: told(value) for key, value in after.items() if key not in before or before[key] != value}
        gone = [key for key in before if key not in after]
        return {"keys": keys, "gone": gone} if keys or gone else None
    return None if before == after else {"is": told(after)}


def _same_one(before: Any, after: Any) -> bool:
    """Whether two models are states of one thing: they have the same id and kind, or none."""
    return all(getattr(before, name, None) == getattr(after, name, None) for name in ("id", "kind"))


def _of_lists(before: tuple[Any, ...], after: tuple[Any, ...]) -> dict[str, Any] | None:
    first, least = 0, min(len(before), len(after))
    while first < least and _alike(before[first], after[first]):
        first += 1
    last = 0
    while last < least - first and _alike(before[-1 - last], after[-1 - last]):
        last += 1
    drop, put = len(before) - first - last, after[first : len(after) - last]
    if not drop and not put:
        return None
    if drop == len(put) == 1:
        one = put[0]
        if isinstance(one, BaseModel) and type(one) is type(before[first]) and _same_one(before[first], one):
            change = difference(before[first], one)
            return {"at": first, "change": change} if change else None
    return {"at": first, "drop": drop, "put": [told(item) for item in put]}


def _alike(one: Any, other: Any) -> bool:
    return one is other or one == other
