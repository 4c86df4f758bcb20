"""What there is to choose from in a studio: the tables of the core and the fields of the models, with their limits, told once."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any, Literal, get_args, get_origin

from pydantic import BaseModel

from hollow_marble.core.studio.finishes import FINISHES
from hollow_marble.core.studio.grains import GRAINS
from hollow_marble.documents.studio.model import LAMPS, SETS
from hollow_marble.documents.studio.model.lamps import BEFORE
from hollow_marble.documents.studio.starts import LIGHTS, READY_SETS


def choices() -> dict[str, Any]:
    """Materials with their numbers, grains, lights and sets to begin with, and the fields of every kind of lamp, screen and set."""
    return {
        "materials": [
            {
                "kind": kind,
                "group": row.group,
                "own": row.own,
                "amounts": [{**asdict(amount), "choices": list(amount.choices)} for amount in row.amounts],
                "ramps": row.ramps,
                "grain": row.grain.kind if row.grain else None,
            }
            for kind, row in FINISHES.items()
        ],
        "grains": list(GRAINS),
        "lights": list(LIGHTS),
        "sets": [{"name": name, "says": one.says} for name, one in READY_SETS.items()],
        "lamp_kinds": _kinds(LAMPS),
        "screen_kinds": _kinds(BEFORE),
        "set_kinds": _kinds(SETS),
    }


def _kinds(models: tuple[type[BaseModel], ...]) -> list[dict[str, Any]]:
    return [{"kind": model.model_fields["kind"].default, "fields": _fields(model)} for model in models]


def _fields(model: type[BaseModel]) -> list[dict[str, Any]]:
    """Fields of a model that are one number, one colour or one of a few words. What cannot be chosen is left out."""
    found: list[dict[str, Any]] = []
    for name, info in model.model_fields.items():
        limits = {type(limit).__name__: limit for limit in info.metadata}
        least, most = getattr(limits.get("Ge"), "ge", None), getattr(limits.get("Le"), "le", None)
        if info.annotation in (float, int):
            if least != most:
                found.append(
                    {
                        "name": name,
                        "is": "number",
                        "least": least,
                        "most": most,
                        "whole": info.annotation is int,
                        "options": [],
                    }
                )
        elif get_origin(info.annotation) is Literal and name != "kind":
            found.append(
                {
                    "name": name,
                    "is": "choice",
                    "least": None,
                    "most": None,
                    "whole": False,
                    "options": list(get_args(info.annotation)),
                }
            )
        elif info.annotation is str and any("#" in str(getattr(limit, "pattern", "")) for limit in info.metadata):
            found.append({"name": name, "is": "colour", "least": None, "most": None, "whole": False, "options": []})
    return found
