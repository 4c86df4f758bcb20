"""Streams and slow requests beside ordinary ones, over real sockets."""

from __future__ import annotations

import contextlib
import http.client
import socket
import subprocess
import sys
from collections.abc import Iterator

import pytest

from hollow_marble.web.events import MOST_STREAMS

SCRIPT = """
import sys
from pathlib import Path
from hollow_marble.web import connections
from hollow_marble.web.app import create_app
connections.HEAD_SECONDS, connections.FIRST_SECONDS, connections.LOOKS_EVERY, connections.MOST = 1.0, 1.0, 0.2, 300
app = create_app(Path(sys.argv[1]), work=False)
print("ready", flush=True)
connections.serve(app, "127.0.0.1", int(sys.argv[2]), 56)
"""


@pytest.fixture(scope="module")
def port(tmp_path_factory: pytest.TempPathFactory) -> Iterator[int]:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        found = probe.getsockname()[1]
    folder = tmp_path_factory.mktemp("data")
    process = subprocess.Popen([sys.executable, "-c", SCRIPT, str(folder), str(found)], stdout=subprocess.PIPE)
    assert process.stdout is not None
    assert process.stdout.readline() == b"ready\n"
    deadline = 600
    while True:
        try:
            socket.create_connection(("127.0.0.1", found)).close()
            break
        except ConnectionRefusedError:
            deadline -= 1
            assert deadline, "the server does not listen"
            with contextlib.suppress(subprocess.TimeoutExpired):
                process.wait(0.1)
    yield found
    process.kill()
    process.wait()


def opened(port: int, sent: bytes) -> socket.socket:
    made = socket.create_connection(("127.0.0.1", port), timeout=60)
    made.sendall(sent)
    return made


def asked(port: int) -> int:
    """Status of an ordinary request."""
    connection = http.client.HTTPConnection("127.0.0.1", port, timeout=60)
    connection.request("GET", "/api/projects")
    status = connection.getresponse().status
    connection.close()
    return status


def test_streams_beyond_their_number_end_the_oldest_and_leave_room_for_requests(port: int) -> None:
    """More streams than the server has threads: before, nobody else was answered."""
    hello = b"GET /api/events HTTP/1.1\r\nHost: 127.0.0.1\r\n\r\n"
    streams = []
    for _ in range(70):
        streams.append(opened(port, hello))
        assert b"hello" in read_until(streams[-1], b"hello")
    assert asked(port) == 200
    for old in streams[: 70 - MOST_STREAMS]:
        assert b"retry: 20000" in read_until(old, None), "it is told to come back later, and ended"
    for stream in streams:
        stream.close()


def read_until(stream: socket.socket, word: bytes | None) -> bytes:
    """What comes, up to a word or the end of the stream."""
    got = b""
    while word is None or word not in got:
        piece = stream.recv(4096)
        got += piece
        if not piece or got.endswith(b"0\r\n\r\n"):
            break
    return got


@pytest.mark.parametrize(
    "sent",
    [
        b"",
        b"GET /api/projects HTT",
        b"POST /api/projects HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: 5000000\r\n\r\n{",
    ],
    ids=["nothing", "half a head", "half a body"],
)
def test_half_sent_requests_lock_nobody_out_and_are_let_go(port: int, sent: bytes) -> None:
    """450 of them, more than there are connections: before, no further one was taken for two minutes."""
    waiting = [opened(port, sent) for _ in range(450)]
    assert asked(port) == 200
    for connection in waiting:
        with contextlib.suppress(ConnectionResetError):  # closed with something of it unread
            assert connection.recv(4096) in (b"",)
        connection.close()


def test_a_request_that_comes_in_pieces_is_answered(port: int) -> None:
    connection = opened(port, b"GET /api/proj")
    connection.sendall(b"ects HTTP/1.1\r\nHost: 127.0.0.1\r\n\r\n")
    assert b"200 OK" in connection.recv(4096)
    connection.close()
