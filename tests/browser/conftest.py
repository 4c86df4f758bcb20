"""One server and one browser for all journeys of a worker; each journey has a page and a project of its own."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import pytest

from tests.browser.bench import Bench
from tests.conftest import Server, running


@pytest.fixture(scope="session")
def server(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Server]:
    with running(tmp_path_factory.mktemp("data")) as server:
        yield server


@pytest.fixture
def bench(browser: Any, server: Server, request: pytest.FixtureRequest) -> Iterator[Bench]:
    made = Bench(browser, server, sharp=bool(request.node.get_closest_marker("sharp")))
    yield made
    made.close()
