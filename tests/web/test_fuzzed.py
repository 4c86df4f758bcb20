"""A short share of the requests at random that `hollow-marble bench --only hostile` asks."""

from __future__ import annotations

from pathlib import Path

import pytest

from tests.conftest import running
from tests.fuzzed import fuzzed


@pytest.mark.timeout(200)
def test_no_request_at_random_breaks_the_server(tmp_path: Path) -> None:
    with running(tmp_path) as server:
        told = fuzzed(server.url, 100)
    assert told.count > 50
    assert not told.broken
    assert told.codes.get(200, 0) > 10, "some of them are right"
