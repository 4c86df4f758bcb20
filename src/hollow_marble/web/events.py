"""News to open browsers as server-sent events: one stream a browser, everything multiplexed."""

from __future__ import annotations

import json
import queue
from collections.abc import Iterator
from typing import Any

from hollow_marble.core.locks import NEWS, RankedLock

HEARTBEAT_SECONDS = 5.0
MOST_STREAMS = 24
"""Streams at a time. Each holds a thread of the server, and most of those are for requests."""

RETURNS_MS = 20_000
"""When one that was let go for a newer one may come back."""

_MOST_WAITING = 500

Stream = tuple[str, "queue.Queue[str | None]"]


class Broker:
    """Hands news to every open stream. A stream that does not read is let go, and the oldest when there are too many."""

    def __init__(self) -> None:
        self._lock = RankedLock("streams of news", NEWS)
        self._streams: list[Stream] = []

    def publish(self, project: str, kind: str, content: dict[str, Any]) -> None:
        """Send news of a project; an empty project means all of them."""
        text = f"event: {kind}\ndata: {json.dumps({**content, 'project': project})}\n\n"
        with self._lock:
            for stream in list(self._streams):
                if project and stream[0] and stream[0] != project:
                    continue
                try:
                    stream[1].put_nowait(text)
                except queue.Full:
                    self._streams.remove(stream)

    def listen(self, project: str = "") -> Iterator[str]:
        """The stream of one browser: news of a project, or of all, as it comes, and a comment as a heartbeat in between."""
        entry: Stream = (project, queue.Queue(_MOST_WAITING))
        with self._lock:
            self._streams.append(entry)
            if len(self._streams) > MOST_STREAMS:
                self._end(self._streams.pop(0), f"retry: {RETURNS_MS}\n\n")
        try:
            yield "retry: 1000\n\nevent: hello\ndata: {}\n\n"
            while True:
                try:
                    text = entry[1].get(timeout=HEARTBEAT_SECONDS)
                except queue.Empty:
                    yield ": still here\n\n"
                    continue
                if text is None:
                    return
                yield text
        finally:
            with self._lock:
                if entry in self._streams:
                    self._streams.remove(entry)

    def close(self) -> None:
        """End every stream."""
        with self._lock:
            for stream in self._streams:
                self._end(stream)

    @staticmethod
    def _end(stream: Stream, word: str = "") -> None:
        """Ask a stream to end: what it has not read yet is not waited for."""
        while True:
            try:
                stream[1].get_nowait()
            except queue.Empty:
                break
        if word:
            stream[1].put_nowait(word)
        stream[1].put_nowait(None)
