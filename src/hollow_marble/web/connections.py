"""Connections that nobody can hold for long: requests must come at a pace, and the idle make room for the new.

Waitress gathers a whole request before a thread is asked for it, so that slow senders cost no threads; what they hold is connections, of
which it drops none for two minutes of silence and, a byte at a time, for ever.
"""

from __future__ import annotations

import contextlib
import resource
import time
from collections.abc import Callable, Iterable
from typing import Any

from waitress.adjustments import Adjustments
from waitress.channel import HTTPChannel
from waitress.server import TcpWSGIServer
from waitress.task import ThreadedTaskDispatcher
from waitress.wasyncore import loop

HEAD_SECONDS = 10.0
"""A request's head must be there by then."""

SLOWEST = 50_000
"""Bytes a second that a body must come at, at the least, after its first ten seconds."""

FIRST_SECONDS = 20.0
"""A connection over which nothing was asked yet is kept so long."""

IDLE_SECONDS = 120.0
LOOKS_EVERY = 2
MOST = 2_000

Wsgi = Callable[[dict[str, Any], Any], Iterable[bytes]]


class Channel(HTTPChannel):  # type: ignore[misc]
    """A connection that knows since when a request is on its way, and whether one ever came."""

    begun: float | None = None
    asked = False

    def received(self, data: bytes) -> bool:
        done: bool = super().received(data)
        if self.request is None:
            self.begun, self.asked = None, True
        elif self.begun is None:
            self.begun = time.monotonic()
        return done

    def overdue(self) -> bool:
        """Whether it has had its time: a request that comes too slowly, or silence."""
        if self.requests:
            return False
        if self.begun is not None and self.request is not None:
            took = time.monotonic() - self.begun
            parser = self.request
            body = len(parser.body_rcv) if parser.headers_finished and parser.body_rcv is not None else 0
            return bool(took > HEAD_SECONDS + body / SLOWEST)
        silent = time.time() - self.last_activity
        return bool(silent > (IDLE_SECONDS if self.asked else FIRST_SECONDS))


class Server(TcpWSGIServer):  # type: ignore[misc]
    """A listening socket whose connections are looked at every few seconds."""

    channel_class = Channel

    def maintenance(self, now: float) -> None:
        """Close connections that had their time."""
        for channel in list(self.active_channels.values()):
            if channel.overdue():
                channel.will_close = True

    def readable(self) -> bool:
        """Whether another connection may come. Where there are too many, the one that has been silent longest goes."""
        staying = [channel for channel in self.active_channels.values() if not channel.will_close]
        if len(staying) >= self.adj.connection_limit - 8:
            silent = [channel for channel in staying if not channel.requests]
            if silent:
                min(silent, key=lambda channel: channel.last_activity).will_close = True
        able: bool = super().readable()
        return able


def serve(application: Wsgi, host: str, port: int, threads: int) -> None:
    """Serve until interrupted.

    Raises
    ------
    OSError
        where the port is in use.
    """
    files, _ = resource.getrlimit(resource.RLIMIT_NOFILE)
    adjustments = Adjustments(
        host=host,
        port=port,
        threads=threads,
        ident=None,
        connection_limit=max(min(MOST, files - 200), 50),
        cleanup_interval=LOOKS_EVERY,
        asyncore_use_poll=True,
    )
    dispatcher = ThreadedTaskDispatcher()
    dispatcher.set_thread_count(threads)
    sockets: dict[int, Any] = {}
    for place in adjustments.listen:
        Server(application, sockets, True, None, dispatcher, adjustments, sockinfo=place)
    with contextlib.suppress(SystemExit, KeyboardInterrupt):
        loop(timeout=1.0, map=sockets, use_poll=True)
    dispatcher.shutdown()
