"""What every document and every edit has in common."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from typing import Any, Protocol, Self, TypeVar, runtime_checkable

from pydantic import BaseModel, ConfigDict

from hollow_marble.core.errors import NotFoundError

D = TypeVar("D")


class Frozen(BaseModel):
    """A value that never changes; unknown fields are refused."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)

    def model_copy(self, *, update: Mapping[str, Any] | None = None, deep: bool = False) -> Self:
        """The same with other fields; what was worked out from the old ones (`derived`) stays behind."""
        copied = super().model_copy(update=update, deep=deep)
        for name in [name for name in copied.__dict__ if name.startswith("_")]:
            del copied.__dict__[name]
        return copied

    def derived(self, name: str, make: Callable[[], D]) -> D:
        """What follows from the fields, worked out once an object and kept beside them."""
        key = f"_{name}"
        found: D | None = self.__dict__.get(key)
        if found is None:
            found = self.__dict__[key] = make()
        return found

    def seed(self, name: str, value: object) -> None:
        """Give what follows from the fields, where it is known already."""
        self.__dict__[f"_{name}"] = value


@dataclass(frozen=True)
class Asset:
    """A binary payload of an edit, and the SHA-256 (lower-case hex) that the edit names it by."""

    sha: str
    data: bytes
    media: str


def asset_of(data: bytes, media: str) -> Asset:
    """Bytes with their name."""
    return Asset(hashlib.sha256(data).hexdigest(), data, media)


@runtime_checkable
class Edit(Protocol):
    """One change to a document."""

    @property
    def kind(self) -> str:
        """Which edit it is, as ledgers name it."""
        ...

    def sentence(self) -> str:
        """What was done, as it stands in the ledger."""
        ...

    def applied_to(self, document: Any) -> Any:
        """The document after this edit. Raises HollowMarbleError where it does not fit."""
        ...


class Named(Protocol):
    """Anything with an id."""

    @property
    def id(self) -> str: ...


T = TypeVar("T", bound=Named)
LoadAsset = Callable[[str], bytes]
"""Bytes of an asset by its SHA-256."""


def find(items: Iterable[T], ident: str, what: str) -> T:
    """The item with an id, or a sentence that it is gone."""
    for item in items:
        if item.id == ident:
            return item
    raise NotFoundError(f"That {what} is no longer there. It may have been removed in another window.")


def replaced(items: tuple[T, ...], changed: T) -> tuple[T, ...]:
    """The items with one exchanged by id."""
    return tuple(changed if item.id == changed.id else item for item in items)


def put(items: tuple[T, ...], item: T) -> tuple[T, ...]:
    """The items with one more at the end, or with the one of the same id exchanged for it."""
    there = any(other.id == item.id for other in items)
    return replaced(items, item) if there else (*items, item)


def without(items: tuple[T, ...], ident: str, what: str) -> tuple[T, ...]:
    """The items without one."""
    find(items, ident, what)
    return tuple(item for item in items if item.id != ident)


def given(**fields: Any) -> dict[str, Any]:
    """The fields that are not None: what a `change_...` edit sets."""
    return {name: value for name, value in fields.items() if value is not None}
