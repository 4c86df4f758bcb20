"""A client of a new project's server, without the darkroom's workers."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest

from hollow_marble.web.app import create_app
from tests.web.test_api import Client


@pytest.fixture
def client(tmp_path: Path) -> Iterator[Client]:
    app = create_app(tmp_path, work=False)
    yield Client(app.test_client())
    app.extensions["hollow_marble"].close()
