"""Arrays as bytes: a length, a JSON header that describes them, the arrays, each padded to eight bytes.

Layout: uint32 little-endian length of the header; header {"meta": …, "arrays": [{"name", "type", "shape"}, …]} in
UTF-8 padded with spaces so that the first array starts at a multiple of eight; then the arrays in order.
"""

from __future__ import annotations

import json
from typing import Any

import numpy as np
from flask import Response
from numpy.typing import NDArray

MEDIA = "application/vnd.hollow-marble.arrays"


def pack(meta: dict[str, Any], arrays: dict[str, NDArray[Any]]) -> bytes:
    """Pack arrays with a small JSON description."""
    described = [{"name": n, "type": a.dtype.newbyteorder("<").str[1:], "shape": a.shape} for n, a in arrays.items()]
    header = json.dumps({"meta": meta, "arrays": described}).encode()
    header += b" " * (-(len(header) + 4) % 8)
    parts = [len(header).to_bytes(4, "little"), header]
    for array in arrays.values():
        body = np.ascontiguousarray(array).tobytes()
        parts += [body, b"\0" * (-len(body) % 8)]
    return b"".join(parts)


def packed(meta: dict[str, Any], arrays: dict[str, NDArray[Any]]) -> Response:
    """A response of packed arrays."""
    return Response(pack(meta, arrays), mimetype=MEDIA, headers={"Cache-Control": "no-store"})
