"""Errors as problem details (RFC 9457): what is wrong and what to do, in a sentence."""

from __future__ import annotations

import json
import logging
from collections.abc import Mapping
from typing import Any

from flask import Flask, Response, make_response
from pydantic import ValidationError
from werkzeug.exceptions import HTTPException

from hollow_marble.core.errors import HollowMarbleError

_log = logging.getLogger(__name__)


def problem(status: int, title: str, detail: str, more: Mapping[str, Any] | None = None) -> Response:
    """A problem response, with what else an interface needs to know of it."""
    body = json.dumps({"type": "about:blank", "title": title, "status": status, "detail": detail, **(more or {})})
    return Response(body, status=status, mimetype="application/problem+json")


def invalid_request(error: ValidationError) -> Response:
    """Name the first field that does not fit; what a model itself says of its fields together is a sentence already."""
    first = error.errors()[0]
    if first["type"] == "value_error":
        said = first["msg"].removeprefix("Value error, ").rstrip(".")
        return problem(422, "This does not fit", f"{said[:1].upper()}{said[1:]}.")
    where = " › ".join(str(part) for part in first["loc"] if not isinstance(part, int)) or "the request"
    return problem(422, "This does not fit", f"{where}: {first['msg']}. Correct it and try again.")


def handle_errors(app: Flask) -> None:
    """Turn every error into a problem response."""

    @app.errorhandler(HollowMarbleError)
    def _known(error: HollowMarbleError) -> Response:
        return problem(error.status, "This cannot be done", str(error), error.more)

    @app.errorhandler(ValidationError)
    def _invalid(error: ValidationError) -> Response:
        return invalid_request(error)

    @app.errorhandler(HTTPException)
    def _http(error: HTTPException) -> Response:
        return problem(error.code or 500, error.name, error.description or error.name)

    @app.errorhandler(Exception)
    def _unknown(error: Exception) -> Response:
        _log.exception("request failed")
        detail = "Something went wrong in Hollow Marble itself. Nothing was changed; what you did before is safe."
        return make_response(problem(500, "Internal error", f"{detail} ({type(error).__name__})"))
