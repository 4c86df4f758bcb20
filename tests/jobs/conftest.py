"""Here work and its sentences are the tests' own."""

from __future__ import annotations

import pytest


@pytest.fixture(autouse=True)
def translatable() -> None:
    """What the tests' own work fails with is in no catalogue."""
