"""Timing and reporting: medians, ratios, whether a target holds."""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable
from dataclasses import asdict, dataclass


@dataclass(frozen=True)
class Result:
    """One benchmark. `ratio` is peer / ours (above 1: ours is faster, or under the limit)."""

    name: str
    unit: str
    ours: float
    peer: float
    peer_name: str
    target: str
    holds: bool

    @property
    def ratio(self) -> float:
        return self.peer / self.ours if self.ours else float("inf")

    def as_json(self) -> dict[str, object]:
        return {**asdict(self), "ratio": self.ratio}


def median_ms(work: Callable[[], object], times: int = 30, warm: int = 3) -> float:
    """Median milliseconds of a call."""
    for _ in range(warm):
        work()
    taken = []
    for _ in range(times):
        began = time.perf_counter()
        work()
        taken.append(time.perf_counter() - began)
    return statistics.median(taken) * 1000


def within(name: str, unit: str, ours: float, limit: float) -> Result:
    """A measurement beside its limit."""
    return Result(name, unit, ours, limit, "limit", f"≤ {limit:g} {unit}", ours <= limit)
