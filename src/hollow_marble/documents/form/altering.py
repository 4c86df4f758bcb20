"""A form with parts put in, exchanged and taken out; and whether a part may be shaped."""

from __future__ import annotations

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.edit import find, replaced, without
from hollow_marble.documents.form.model import Form, Part


def added(form: Form, part: Part) -> Form:
    if any(other.id == part.id for other in form.parts):
        raise HollowMarbleError("A part with this id is already there.")
    return form.model_copy(update={"parts": (*form.parts, part)})


def with_part(form: Form, changed: Part) -> Form:
    """The form with a part exchanged, and its linked copies following."""
    parts = []
    for part in replaced(form.parts, changed):
        if part.link == changed.id:
            part = part.model_copy(update={"steps": (*changed.steps, part.steps[-1])})
        parts.append(part)
    return form.model_copy(update={"parts": tuple(parts)})


def gone(form: Form, part: Part) -> Form:
    """The form without a part; its linked copies go their own way, dimensions on it go."""
    left = [
        other.model_copy(update={"link": None}) if other.link == part.id else other
        for other in without(form.parts, part.id, "part")
    ]
    measures = tuple(m for m in form.measures if part.id not in (m.first.part, m.second.part))
    return form.model_copy(update={"parts": tuple(left), "measures": measures})


def why_held(form: Form, part: Part) -> str | None:
    """Why a part is not to be shaped, as a sentence; None where it may be."""
    if part.locked:
        return f"{part.name} is locked. Unlock it first."
    if part.link is not None:
        source = find(form.parts, part.link, "part")
        return f"{part.name} follows {source.name}. Shape that one, or break the link first."
    return None


def check_free(form: Form, part: Part) -> None:
    """Raise where a part is not to be shaped."""
    held = why_held(form, part)
    if held is not None:
        raise HollowMarbleError(held)
