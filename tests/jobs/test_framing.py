"""Messages between our processes."""

from __future__ import annotations

import io
import os
import threading
from typing import Any, BinaryIO

import numpy as np
import pytest

from hollow_marble.jobs.framing import receive, send
from hollow_marble.jobs.messages import Finished, Progress, Stop


def test_messages_come_back_in_order_and_whole() -> None:
    stream = io.BytesIO()
    sent: list[Any] = [Stop(3), Progress("t", b"\x00" * 100_000, 8, 0.1, 2.5), Finished("t", problem="no light")]
    for message in sent:
        send(stream, message)
    stream.seek(0)
    assert [receive(stream) for _ in sent] == sent


def test_arrays_cross_a_pipe_that_is_read_in_pieces() -> None:
    read, write = os.pipe()
    incoming: BinaryIO = os.fdopen(read, "rb", buffering=0)
    outgoing: BinaryIO = os.fdopen(write, "wb")
    array = np.random.default_rng(1).normal(size=(300, 400))  # far more than a pipe holds at once
    sender = threading.Thread(target=send, args=(outgoing, array))
    sender.start()
    assert np.array_equal(receive(incoming), array)
    sender.join()
    outgoing.close()
    with pytest.raises(EOFError):
        receive(incoming)
    incoming.close()


def test_a_message_cut_short_is_the_end() -> None:
    stream = io.BytesIO()
    send(stream, "something long enough")
    torn = io.BytesIO(stream.getvalue()[:-3])
    with pytest.raises(EOFError):
        receive(torn)
    with pytest.raises(EOFError):
        receive(io.BytesIO(b"\x05"))
