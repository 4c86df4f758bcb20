"""Errors whose text a designer can act on."""

from __future__ import annotations

from collections.abc import Mapping
from types import MappingProxyType
from typing import Any


class HollowMarbleError(Exception):
    """Something asked for cannot be done.

    The message is one or two plain sentences: what is wrong and what to do about it. It is shown as it stands.
    """

    status = 422
    more: Mapping[str, Any] = MappingProxyType({})
    """What an interface can offer beside the sentence."""


class NotFoundError(HollowMarbleError):
    """A thing that was named does not exist (any more)."""

    status = 404
