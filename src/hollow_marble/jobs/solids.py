"""The solids trade: the B-rep kernel, in a process that it may bring down."""

from __future__ import annotations

import contextlib
import resource
from typing import Any

from hollow_marble.core.solids.solid import here
from hollow_marble.jobs.worker import Run

MOST_BYTES = 10 << 30
"""Room a worker may take: what asks for more ends the worker, not the machine."""


def begin(way: str) -> str:
    """Load the kernel, so that the first answer is not late for that."""
    with contextlib.suppress(ValueError, OSError):  # a smaller limit may be set from outside
        resource.setrlimit(resource.RLIMIT_AS, (MOST_BYTES, MOST_BYTES))
    from hollow_marble.core.solids import kernel

    return f"{len(kernel.DOES)} doings of the {way}"


def done(run: Run) -> Any:
    """One thing the kernel does."""
    name, arguments = run.arguments
    return here(name, *arguments)


def written(run: Run) -> bytes:
    """Parts as a STEP file."""
    from hollow_marble.exchange.step import Named3D, step_of

    parts, name = run.arguments
    return step_of([Named3D(*part) for part in parts], name)


def brought(run: Run) -> Any:
    """The parts in a STEP or IGES file."""
    from hollow_marble.exchange.step import read_file

    return read_file(*run.arguments)


def profiled(run: Run) -> Any:
    """The profiles in a DXF or SVG file."""
    from hollow_marble.exchange.profiles_in import read_profiles

    return read_profiles(*run.arguments)


HANDLERS = {"done": done, "written": written, "brought": brought, "profiled": profiled}
