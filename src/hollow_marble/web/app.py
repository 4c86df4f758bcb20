"""Put the server together."""

from __future__ import annotations

import ipaddress
import json
import re
import socket
from pathlib import Path
from typing import Any

from flask import Response, request
from flask.json.provider import DefaultJSONProvider
from flask_compress import Compress
from flask_openapi3 import Info, OpenAPI
from pydantic import ValidationError

from hollow_marble import __version__
from hollow_marble.application.application import Application
from hollow_marble.core import warm
from hollow_marble.core.errors import HollowMarbleError, NotFoundError
from hollow_marble.web import (
    brief_api,
    built_api,
    documents_api,
    drafting_api,
    form_api,
    lines_api,
    projects_api,
    sketch_api,
    staging_api,
    studio_api,
    surface_api,
    tone_api,
    views_api,
)
from hollow_marble.web.events import Broker
from hollow_marble.web.packing import MEDIA
from hollow_marble.web.problems import handle_errors, invalid_request, problem
from hollow_marble.web.running import Running, application
from hollow_marble.web.shapes import Problem

MOST_BYTES = 64 * 1024 * 1024

# Zstandard at its fastest, for whoever can unpack it; what that costs and saves on one machine is told by
# `hollow-marble bench --only bytes`. Pictures are packed already, and news must not wait in a packer.
_PACKED = {
    "COMPRESS_ALGORITHM": ["zstd", "gzip"],
    "COMPRESS_ZSTD_LEVEL": 1,
    "COMPRESS_LEVEL": 1,
    "COMPRESS_MIN_SIZE": 1000,
    "COMPRESS_MIMETYPES": ["application/json", MEDIA, "image/svg+xml", "model/obj", "text/plain"],
    "COMPRESS_STREAMS": False,
}


class _Json(DefaultJSONProvider):
    def loads(self, s: str | bytes, **kwargs: Any) -> Any:
        try:
            found = super().loads(s, **kwargs)
        except RecursionError as error:
            raise HollowMarbleError("The request is nested too deeply to be read.") from error
        if _ODD.search(s.encode("utf-8", "surrogatepass") if isinstance(s, str) else s):
            _check_values(found)
        return found


_ODD = re.compile(rb"\\u(0000|[dD][89a-fA-F])|\d{17}")
"""What stands in a request that may hold letters which are none, or numbers that nothing here counts to."""

MOST_COUNTED = 2**53


def _check_values(value: Any) -> None:
    """Refuse letters that no text can hold, NUL and halves of surrogate pairs (RFC 8259, 8.2, leaves them to the reader), and whole
    numbers that are not the same everywhere (above 2^53; RFC 7493, 2.2)."""
    if isinstance(value, int):
        if abs(value) > MOST_COUNTED:
            raise HollowMarbleError("A number in the request is too large. Use a smaller one.")
    elif isinstance(value, str):
        if "\0" in value or any("\ud800" <= letter <= "\udfff" for letter in value):
            raise HollowMarbleError("A text in the request holds letters that are none. Type it again.")
    elif isinstance(value, dict):
        for name, one in value.items():
            _check_values(name)
            _check_values(one)
    elif isinstance(value, list):
        for one in value:
            _check_values(one)


def create_app(data: Path, work: bool = True) -> OpenAPI:
    """The application over a data folder.

    `work=False` leaves out the render worker and the warming up and describes the addresses instead, for tools that only need those.
    """
    app = OpenAPI(
        "hollow_marble",
        info=Info(title="Hollow Marble", version=__version__),
        static_folder=None,
        validation_error_status=422,
        validation_error_model=Problem,
        validation_error_callback=_invalid,
        doc_ui=False,
    )
    app.config["MAX_CONTENT_LENGTH"] = MOST_BYTES
    app.json = _Json(app)
    app.config.update(_PACKED)
    Compress(app)
    handle_errors(app)
    sketch = (sketch_api, views_api, drafting_api, lines_api, tone_api)
    for module in (
        projects_api,
        documents_api,
        brief_api,
        *sketch,
        form_api,
        built_api,
        surface_api,
        staging_api,
        studio_api,
    ):
        if not work:
            module.api.describe()
        app.register_api(module.api)
    news = Broker()
    made = Application(data, news.publish)
    app.extensions["hollow_marble"] = Running(made, news)
    app.before_request(_only_from_here)
    app.before_request(_of_its_kind)
    if work:
        made.open()
        warm.warm_up_in_background()
    return app


def openapi_document() -> str:
    """The OpenAPI document as JSON text, the same for the same code."""
    import tempfile

    with tempfile.TemporaryDirectory() as folder:
        document = create_app(Path(folder), work=False).api_doc
    # the library writes null where there is nothing, which the specification has no place for
    document["components"] = {name: value for name, value in document["components"].items() if value is not None}
    return json.dumps(document, indent=1, sort_keys=True) + "\n"


def _invalid(error: ValidationError) -> Response:
    return invalid_request(error)


def _own_name(host: str) -> bool:
    """Whether a Host header names this machine: by an address in numbers, as localhost, or by the machine's own name."""
    name = host.rsplit(":", 1)[0] if host.count(":") == 1 else host
    name = name.split("]")[0].strip("[") if name.startswith("[") else name
    own = socket.gethostname().casefold()
    if name.casefold().rstrip(".") in {"localhost", own, f"{own.split('.')[0]}.local"}:
        return True
    try:
        ipaddress.ip_address(name)
    except ValueError:
        return False
    return True


_KIND_OF = re.compile(r"/(brief|sheet|form|studio|board)s/<document>")


def _of_its_kind() -> None:
    """A document that is addressed as a sheet, a form or a studio is one."""
    named = [*(request.view_args or {}).values(), *request.args.values()]
    if any(word.lstrip("-").isdecimal() and len(word) > 16 for word in map(str, named)):
        raise HollowMarbleError("A number in the address is too large. Use a smaller one.")
    rule = _KIND_OF.search(request.url_rule.rule) if request.url_rule is not None else None
    if rule is None or not request.view_args:
        return
    project = application().workspace.project(request.view_args["project"])
    row = project.ledger.row(request.view_args["document"])
    if row.kind != rule[1]:
        raise NotFoundError(f"{row.name} is a {row.kind}, not a {rule[1]}. Open it where it belongs.")


def _only_from_here() -> Response | None:
    """Requests come by a name of this machine, and changes only from our own pages.

    A page of another site must not post to this server; nor may it have its own name lead here (DNS rebinding) and so read
    and write as if it were ours. An address in numbers cannot be made to lead elsewhere.
    """
    if not _own_name(request.host):
        return problem(
            403, "Not from here", f"This server does not answer to the name {request.host[:80]}. Use its address."
        )
    changes = request.method not in ("GET", "HEAD", "OPTIONS")
    origin = request.headers.get("Origin")
    elsewhere = changes and origin is not None and origin.rstrip("/") != request.host_url.rstrip("/")
    # what browsers say of who asks (W3C Fetch Metadata); whoever says nothing is no browser, or an old one
    asked_by = request.headers.get("Sec-Fetch-Site", "none")
    if elsewhere or asked_by == "cross-site" or (changes and asked_by == "same-site"):
        return problem(403, "Not from here", "This request came from another site, so it was refused.")
    return None
