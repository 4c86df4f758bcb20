"""What tests share: a library on a real file, a real server, a real browser."""

from __future__ import annotations

import contextlib
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

import pytest

from hollow_marble.store.library import Library, Project

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
]


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
