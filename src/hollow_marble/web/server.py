"""Serve at once: the interface's files need nothing loaded, so the page comes while the rest is still starting.

`Door` answers for files itself and hands addresses under /api to the application, which a thread puts together;
requests that come before it is ready wait for it.
"""

from __future__ import annotations

import errno
import json
import threading
from collections.abc import Callable, Iterable
from pathlib import Path
from typing import Any

from whitenoise import WhiteNoise

from hollow_marble.core.errors import HollowMarbleError

STATIC = Path(__file__).parent / "static"
THREADS = 56
"""One a stream of news (`events.MOST_STREAMS`), and the rest for requests."""

StartResponse = Callable[..., Any]

POLICY = {
    "Content-Security-Policy": "; ".join(
        (
            "default-src 'self'",
            "img-src 'self' blob: data:",
            "style-src 'self' 'unsafe-inline'",  # sizes and colours that are worked out are written into elements
            "font-src 'self' data:",
            "object-src 'none'",
            "base-uri 'none'",
            "form-action 'self'",
            "frame-ancestors 'none'",
        )
    ),
    "X-Content-Type-Options": "nosniff",
    "X-Frame-Options": "DENY",
    "Referrer-Policy": "same-origin",
    "Cross-Origin-Opener-Policy": "same-origin",
    "Cross-Origin-Resource-Policy": "same-origin",
}
"""What browsers are told of every answer: nothing of it is to be run, framed or read by another site (W3C CSP 3, Fetch)."""


class Door:
    """The WSGI application in front."""

    def __init__(self, make: Callable[[], Any]) -> None:
        self._ready = threading.Event()
        self._app: Any = None
        self._problem: BaseException | None = None
        self._make = make
        # kept as it is known by its hash; the page itself is asked for again each time, and answered by its ETag
        self._files = WhiteNoise(
            self._behind,
            max_age=0,
            allow_all_origins=False,
            immutable_file_test=lambda _path, url: url.startswith("/assets/"),
        )
        if STATIC.is_dir():
            self._files.add_files(str(STATIC))
        self._thread = threading.Thread(target=self._start, name="start-up", daemon=True)
        self._thread.start()

    def __call__(self, environ: dict[str, Any], start_response: StartResponse) -> Iterable[bytes]:
        answer: Iterable[bytes] = self._files(environ, _guarded(start_response))
        return answer

    def close(self) -> None:
        """End what the application started."""
        self._thread.join()
        if self._app is not None:
            self._app.extensions["hollow_marble"].close()

    def _behind(self, environ: dict[str, Any], start_response: StartResponse) -> Iterable[bytes]:
        """The application; an address that is neither its nor a file's is the page."""
        if not environ.get("PATH_INFO", "/").startswith("/api/"):
            page = self._files.files.get("/index.html")
            if page is None:
                detail = "The interface is not built yet. Run `make setup` in the project's folder."
                return _problem(start_response, "404 Not Found", 404, detail)
            shown: Iterable[bytes] = self._files.serve(page, environ, start_response)
            return shown
        self._ready.wait()
        if self._problem is not None:
            detail = f"Hollow Marble could not start: {self._problem}"
            return _problem(start_response, "500 Internal Server Error", 500, detail)
        answer: Iterable[bytes] = self._app(environ, start_response)
        return answer

    def _start(self) -> None:
        try:
            self._app = self._make()
        except BaseException as error:  # noqa: BLE001 — whoever asks is told
            self._problem = error
        finally:
            self._ready.set()


def serve(data: Path, host: str, port: int) -> None:
    """Serve until interrupted."""
    from hollow_marble.web import connections

    def make() -> Any:
        from hollow_marble.web.app import create_app

        return create_app(data)

    door = Door(make)
    try:
        connections.serve(door, host, port, THREADS)
    except OSError as error:
        if error.errno != errno.EADDRINUSE:
            raise
        raise HollowMarbleError(
            f"Port {port} is in use, perhaps by another Hollow Marble. Stop that one, or choose another with --port."
        ) from error
    finally:
        door.close()


def _guarded(start_response: StartResponse) -> StartResponse:
    """Adds the policy to an answer's headers."""

    def start(status: str, headers: list[tuple[str, str]], *more: Any) -> Any:
        told = {name.casefold() for name, _ in headers}
        return start_response(
            status, [*headers, *(item for item in POLICY.items() if item[0].casefold() not in told)], *more
        )

    return start


def _problem(start_response: StartResponse, line: str, status: int, detail: str) -> Iterable[bytes]:
    body = json.dumps({"type": "about:blank", "title": line[4:], "status": status, "detail": detail}).encode()
    start_response(line, [("Content-Type", "application/problem+json"), ("Content-Length", str(len(body)))])
    return [body]
