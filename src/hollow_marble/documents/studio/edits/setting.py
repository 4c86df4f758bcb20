"""What edits of a setting share."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from hollow_marble.documents.studio.model import Studio

Name = Annotated[str, Field(min_length=1, max_length=60)]


def with_fields(studio: Studio, **fields: object) -> Studio:
    """A studio whose setting has other fields."""
    return studio.model_copy(update={"setting": studio.setting.model_copy(update=fields)})
