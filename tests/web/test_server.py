"""The door in front of the application."""

from __future__ import annotations

import gzip
import threading
from pathlib import Path
from typing import Any

import pytest

from hollow_marble.web import server
from hollow_marble.web.server import Door


def _ask(door: Door, path: str, **headers: str) -> tuple[str, dict[str, str], bytes]:
    heard: dict[str, Any] = {}

    def start(line: str, headers: list[tuple[str, str]]) -> None:
        heard.update(line=line, headers=dict(headers))

    body = b"".join(door({"PATH_INFO": path, "REQUEST_METHOD": "GET", **headers}, start))
    return heard["line"], heard["headers"], body


@pytest.fixture
def static(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    folder = tmp_path / "static"
    (folder / "assets").mkdir(parents=True)
    (folder / "index.html").write_text("<h1>page</h1>")
    (folder / "assets" / "a.js").write_text("1" * 900)
    (folder / "assets" / "a.js.gz").write_bytes(gzip.compress(b"1" * 900))
    (tmp_path / "secret.txt").write_text("no")
    monkeypatch.setattr(server, "STATIC", folder)
    return folder


def test_the_page_comes_before_the_application_is_ready_and_requests_wait_for_it(static: Path) -> None:
    go = threading.Event()

    def application(environ: dict[str, Any], start: Any) -> list[bytes]:
        start("200 OK", [])
        return [b"api"]

    def make() -> Any:
        go.wait()
        return application

    door = Door(make)
    line, headers, body = _ask(door, "/")
    assert (line, body) == ("200 OK", b"<h1>page</h1>")
    assert headers["Cache-Control"] == "max-age=0, public", "asked for again each time"
    assert _ask(door, "/", HTTP_IF_NONE_MATCH=headers["ETag"])[0].startswith("304")
    assert "immutable" in _ask(door, "/assets/a.js")[1]["Cache-Control"]
    line, headers, body = _ask(door, "/assets/a.js", HTTP_ACCEPT_ENCODING="gzip")
    assert (headers["Content-Encoding"], gzip.decompress(body)) == ("gzip", b"1" * 900)
    answers: list[bytes] = []
    asking = threading.Thread(target=lambda: answers.append(_ask(door, "/api/x")[2]))
    asking.start()
    assert answers == []
    go.set()
    asking.join(10)
    assert answers == [b"api"]


@pytest.mark.parametrize("path", ["/", "/assets/a.js", "/api/x", "/nothing/here"])
def test_every_answer_says_that_no_other_site_may_run_frame_or_read_it(static: Path, path: str) -> None:
    """W3C Content Security Policy 3 and the Fetch standard's resource policy; an application's own word stands."""

    def application(environ: dict[str, Any], start: Any) -> list[bytes]:
        start("200 OK", [("referrer-policy", "no-referrer")])
        return [b"api"]

    headers = _ask(Door(lambda: application), path)[1]
    policy = dict(part.strip().split(" ", 1) for part in headers["Content-Security-Policy"].split(";"))
    assert policy["default-src"] == "'self'"
    assert "unsafe" not in policy.get("script-src", policy["default-src"])
    assert policy["frame-ancestors"] == policy["object-src"] == policy["base-uri"] == "'none'"
    assert headers["X-Content-Type-Options"] == "nosniff"
    assert headers["Cross-Origin-Resource-Policy"] == headers["Cross-Origin-Opener-Policy"] == "same-origin"
    if path == "/api/x":
        assert headers["referrer-policy"] == "no-referrer"
        assert "Referrer-Policy" not in headers


def test_files_outside_the_interface_are_not_served(static: Path) -> None:
    door = Door(lambda: None)
    for path in ("/../secret.txt", "/assets/../../secret.txt", "/nothing/here"):
        assert _ask(door, path)[2] == b"<h1>page</h1>"


def test_an_application_that_cannot_start_says_why(static: Path) -> None:
    def make() -> Any:
        raise RuntimeError("the data folder is read-only")

    line, _, body = _ask(Door(make), "/api/status")
    assert line.startswith("500")
    assert b"the data folder is read-only" in body


def test_an_unbuilt_interface_says_what_to_do(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(server, "STATIC", tmp_path / "none")
    line, _, body = _ask(Door(lambda: None), "/")
    assert line.startswith("404")
    assert b"make setup" in body
