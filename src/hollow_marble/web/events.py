"""News to open tabs as server-sent events: one stream a tab, everything multiplexed."""

from __future__ import annotations

import json
import queue
from collections.abc import Iterator
from typing import Any

from hollow_marble.core.locks import NEWS, RankedLock

HEARTBEAT_SECONDS = 5.0
_MOST_WAITING = 500


class Broker:
    """Hands news to every open stream of a project. A stream that does not read is let go."""

    def __init__(self) -> None:
        self._lock = RankedLock("streams of news", NEWS)
        self._streams: list[tuple[str, queue.Queue[str | None]]] = []

    def publish(self, project: str, kind: str, content: dict[str, Any]) -> None:
        """Send news to the tabs of a project; an empty project means all of them."""
        text = f"event: {kind}\ndata: {json.dumps(content)}\n\n"
        with self._lock:
            for stream in list(self._streams):
                if project and stream[0] != project:
                    continue
                try:
                    stream[1].put_nowait(text)
                except queue.Full:
                    self._streams.remove(stream)

    def listen(self, project: str) -> Iterator[str]:
        """The stream of one tab: news as it comes, a comment as a heartbeat in between."""
        waiting: queue.Queue[str | None] = queue.Queue(_MOST_WAITING)
        entry = (project, waiting)
        with self._lock:
            self._streams.append(entry)
        try:
            yield "retry: 1000\n\nevent: hello\ndata: {}\n\n"
            while True:
                try:
                    text = waiting.get(timeout=HEARTBEAT_SECONDS)
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
            for _, waiting in self._streams:
                waiting.put(None)
