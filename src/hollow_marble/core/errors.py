"""Errors whose text a designer can act on."""


class HollowMarbleError(Exception):
    """Something asked for cannot be done.

    The message is one or two plain sentences: what is wrong and what to do about it. It is shown as it stands.
    """

    status = 422


class NotFoundError(HollowMarbleError):
    """A thing that was named does not exist (any more)."""

    status = 404
