"""Whether what the server says is in the one place where all words stand, so that a translation reaches it."""

from __future__ import annotations

import json
import re
from functools import cache
from pathlib import Path

CATALOGUE = Path(__file__).parent.parent / "frontend" / "src" / "words" / "en.json"


@cache
def _patterns() -> list[re.Pattern[str]]:
    known = json.loads(CATALOGUE.read_text())
    return [
        re.compile(".*?".join(re.escape(piece) for piece in re.split(r"\{\d+\}", text)), re.S)
        for text in known
        if re.search("[a-z]{2}", re.sub(r"\{\d+\}", "", text))
    ]


@cache
def in_catalogue(sentence: str) -> bool:
    """Whether a sentence, or each of several in one, is made from a pattern of the catalogue."""
    lower, upper = (change(sentence[:1]) + sentence[1:] for change in (str.lower, str.upper))
    if any(pattern.fullmatch(text) for pattern in _patterns() for text in (lower, upper)):
        return True
    return any(
        # what a colon leads to may be a name
        in_catalogue(sentence[: at.start()]) and (at[0] == ": " or in_catalogue(sentence[at.end() :]))
        for at in re.finditer(r"(?<=[.]) |: |, |; ", sentence)
    )
