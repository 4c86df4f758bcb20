"""What tests share: a library on a real file, a real server, a real browser."""

from __future__ import annotations

import contextlib
import functools
import shutil
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import pytest
from xdist.scheduler import LoadScopeScheduling

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.store.ledger import Ledger
from hollow_marble.store.library import Library, Project
from tests.spoken import in_catalogue


class _Spread(LoadScopeScheduling):  # type: ignore[misc]
    """Every test goes to whichever worker is free; those that share what their module makes stay together."""

    def _split_scope(self, nodeid: str) -> str:
        file = nodeid.split("::")[0]
        return file if self._shares(self.config.rootpath / file) else nodeid

    @staticmethod
    @functools.cache
    def _shares(file: Path) -> bool:
        return 'scope="module"' in file.read_text()


def pytest_xdist_make_scheduler(config: pytest.Config, log: Any) -> LoadScopeScheduling:
    return _Spread(config, log)


CHROMIUM = "/usr/bin/chromium"
FLAGS = [
    "--no-sandbox",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    # 3D is drawn in software; the page itself need not go the same slow way
    "--disable-gpu-rasterization",
    "--disable-gpu-compositing",
    "--disable-accelerated-2d-canvas",
    "--use-angle=swiftshader",
    "--enable-unsafe-swiftshader",
    # four samples a pixel cost a software renderer four times as much
    "--webgl-antialiasing-mode=none",
]


@pytest.fixture(autouse=True)
def translatable(monkeypatch: pytest.MonkeyPatch) -> Iterator[None]:
    """Whatever the server refuses or writes into its ledger in any test must be a sentence that a translation can reach."""
    said: set[str] = set()
    refuse, write = HollowMarbleError.__init__, Ledger._write

    def refusing(self: HollowMarbleError, *words: Any) -> None:
        speaker = sys._getframe(1).f_globals.get("__name__", "")
        if words and speaker.startswith("hollow_marble") and speaker != "hollow_marble.cli":
            said.add(str(words[0]))
        refuse(self, *words)

    def writing(self: Ledger, row: Any, edit: Any, *rest: Any) -> int:
        number = write(self, row, edit, *rest)
        # what is said beside an edit is said by those who call, here the tests
        if type(edit).__module__.startswith("hollow_marble") and not hasattr(edit, "said"):
            said.add(edit.sentence())
        return number

    monkeypatch.setattr(HollowMarbleError, "__init__", refusing)
    monkeypatch.setattr(Ledger, "_write", writing)
    yield
    unknown = sorted(sentence for sentence in said if not in_catalogue(sentence))
    assert not unknown, f"No translation would reach these; tools/server-words does not find them: {unknown}"


@pytest.fixture
def library(tmp_path: Path) -> Iterator[Library]:
    made = Library(tmp_path)
    yield made
    made.close()


@pytest.fixture
def project(library: Library) -> Project:
    return library.create("Linnet", "Alder Row")


@dataclass
class Server:
    """A running server and how to reach it."""

    url: str
    data: Path
    process: subprocess.Popen[bytes]

    def kill(self) -> None:
        self.process.kill()
        self.process.wait()


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


def start_server(data: Path, port: int | None = None) -> Server:
    """Start `hollow-marble serve` and wait until it answers."""
    port = port or free_port()
    command = [sys.executable, "-m", "hollow_marble.cli", "serve", "--data", str(data), "--port", str(port)]
    process = subprocess.Popen(command, stdout=subprocess.DEVNULL)
    answers(f"http://127.0.0.1:{port}", process)
    return Server(f"http://127.0.0.1:{port}", data, process)


def answers(url: str, process: subprocess.Popen[bytes]) -> None:
    """Wait until a server answers."""
    deadline = time.monotonic() + 60
    while True:
        try:
            urllib.request.urlopen(f"{url}/api/status", timeout=5).read()
            return
        except (urllib.error.URLError, OSError):
            if process.poll() is not None or time.monotonic() > deadline:
                raise AssertionError("the server did not come up") from None
            time.sleep(0.05)


@contextlib.contextmanager
def running(data: Path) -> Iterator[Server]:
    """A server while it is needed."""
    server = start_server(data)
    try:
        yield server
    finally:
        server.process.terminate()
        server.process.wait()


@pytest.fixture(scope="session")
def browser() -> Iterator[object]:
    if not shutil.which("chromium"):
        pytest.skip("Chromium is not installed")
    from playwright.sync_api import sync_playwright

    with sync_playwright() as playwright:
        chromium = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        yield chromium
        chromium.close()
