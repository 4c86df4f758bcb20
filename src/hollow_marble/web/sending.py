"""Bytes as answers: downloads with their names, and parts of long ones."""

from __future__ import annotations

from collections.abc import Callable
from urllib.parse import quote

from flask import Response, request


def download(data: bytes, media: str, name: str) -> Response:
    """A file to be kept under a name; a name beyond Latin-1 goes as RFC 6266 `filename*`."""
    plain = name.encode("ascii", "replace").decode().replace('"', "'").replace("?", "_")
    plain = "".join(letter for letter in plain if letter.isprintable())
    named = f"attachment; filename=\"{plain}\"; filename*=UTF-8''{quote(name, safe='')}"
    return Response(data, mimetype=media, headers={"Content-Disposition": named})


def in_ranges(read: Callable[[int, int], bytes], length: int, media: str, cache: str) -> Response:
    """Something that is read in pieces: all of it, or the range the request asks for (RFC 9110, section 14)."""
    headers = {"Accept-Ranges": "bytes", "Cache-Control": cache}
    wanted = request.range
    if wanted is None or wanted.units != "bytes" or len(wanted.ranges) != 1:
        return Response(read(0, length), mimetype=media, headers=headers)
    span = wanted.range_for_length(length)
    if span is None:
        return Response(status=416, headers={**headers, "Content-Range": f"bytes */{length}"})
    first, end = span
    headers["Content-Range"] = f"bytes {first}-{end - 1}/{length}"
    return Response(read(first, end - first), status=206, mimetype=media, headers=headers)
