"""Requests made at random from the OpenAPI document (Schemathesis), most of them about documents that are there."""

from __future__ import annotations

import json
import random
import time
import urllib.request
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import schemathesis
from hypothesis import HealthCheck, Phase, given, settings
from schemathesis.core.result import Ok

DOCUMENT = Path(__file__).parents[1] / "frontend/src/api/openapi.json"
ENDLESS = ("/api/events",)
"""Addresses whose answer does not end."""


@dataclass
class Told:
    """What came of it: how many were asked, the slowest answer in seconds, and those that should not be."""

    count: int = 0
    slowest: float = 0.0
    broken: list[str] = field(default_factory=list)
    codes: dict[int, int] = field(default_factory=dict)


class _There:
    """A project with one of each document, a part and a stroke, whose names stand in most addresses."""

    def __init__(self, base: str) -> None:
        self.base, self.chance = base, random.Random(4)
        made = self._post("/api/projects", {"name": f"Fuzzed {time.time_ns()}"})
        self.project = made["project"]["id"]
        self.ids = {document["kind"]: document["id"] for document in made["documents"]}
        start = {"kind": "box", "size": [60, 30, 90], "divisions": [2, 2, 3]}
        edit = {"kind": "start_part", "part": "b", "name": "Body", "start": start}
        self._post(f"/api/projects/{self.project}/documents/{self.ids['form']}/edits", {"edit": edit})

    def _post(self, rest: str, body: Any) -> Any:
        request = urllib.request.Request(
            self.base + rest, json.dumps(body).encode(), {"Content-Type": "application/json"}
        )
        return json.load(urllib.request.urlopen(request))

    def named(self, path: str, parameters: dict[str, Any] | None) -> dict[str, Any]:
        """Path parameters, most of them of what is there."""
        kind = next((kind for kind in self.ids if f"/{kind}s/" in path), self.chance.choice(list(self.ids)))
        known = {"project": self.project, "document": self.ids[kind], "part": "b"}
        return {
            name: known[name] if name in known and self.chance.random() < 0.85 else value
            for name, value in (parameters or {}).items()
        }


def fuzzed(base: str, wanted: int) -> Told:
    """Ask a server about as many requests as are wanted, the same share of every address."""
    told, there = Told(), _There(base)
    found = list(schemathesis.openapi.from_path(str(DOCUMENT)).get_all_operations())
    operations = [one.ok() for one in found if isinstance(one, Ok)]
    assert len(operations) == len(found), "the document is as the specification says"
    operations = [operation for operation in operations if operation.path not in ENDLESS]
    for operation in operations:
        each = settings(
            max_examples=max(1, round(wanted / len(operations))),
            deadline=None,
            suppress_health_check=list(HealthCheck),
            phases=[Phase.generate],
            database=None,
            derandomize=True,
        )
        each(given(case=operation.as_strategy())(_asked))(told, there, base)
    return told


def _asked(told: Told, there: _There, base: str, case: Any) -> None:
    case.path_parameters = there.named(case.operation.path, case.path_parameters)
    began = time.monotonic()
    answer = case.call(base_url=base, timeout=60)
    told.slowest = max(told.slowest, time.monotonic() - began)
    told.count += 1
    told.codes[answer.status_code] = told.codes.get(answer.status_code, 0) + 1
    # 507 says that the disk is full, which is none of a request's doing
    if answer.status_code >= 500 and answer.status_code != 507:
        told.broken.append(f"{case.method} {case.formatted_path} {str(case.body)[:300]}: {answer.text[:200]}")
