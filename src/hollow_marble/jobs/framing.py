"""Messages between processes: a length, then pickled Python values. Only between our own processes."""

from __future__ import annotations

import pickle
import struct
from typing import Any, BinaryIO

_LENGTH = struct.Struct("<Q")


def send(stream: BinaryIO, message: Any) -> None:
    """Write one message."""
    body = pickle.dumps(message, protocol=pickle.HIGHEST_PROTOCOL)
    stream.write(_LENGTH.pack(len(body)) + body)
    stream.flush()


def receive(stream: BinaryIO) -> Any:
    """Read one message; EOFError where the other side is gone."""
    head = _exactly(stream, _LENGTH.size)
    return pickle.loads(_exactly(stream, _LENGTH.unpack(head)[0]))


def _exactly(stream: BinaryIO, count: int) -> bytes:
    parts = []
    while count:
        part = stream.read(count)
        if not part:
            raise EOFError
        parts.append(part)
        count -= len(part)
    return b"".join(parts)
