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
    sizes = [-(-array.nbytes // 8) * 8 for array in arrays.values()]
    out = np.zeros(4 + len(header) + sum(sizes), np.uint8)
    out[:4] = np.frombuffer(len(header).to_bytes(4, "little"), np.uint8)
    out[4 : 4 + len(header)] = np.frombuffer(header, np.uint8)
    at = 4 + len(header)
    for array, size in zip(arrays.values(), sizes):
        if array.size:
            np.copyto(out[at : at + array.nbytes].view(array.dtype).reshape(array.shape), array)
        at += size
    return out.tobytes()


def packed(meta: dict[str, Any], arrays: dict[str, NDArray[Any]]) -> Response:
    """A response of packed arrays."""
    return Response(pack(meta, arrays), mimetype=MEDIA, headers={"Cache-Control": "no-store"})
