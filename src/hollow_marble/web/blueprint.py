"""A group of addresses that is described only when somebody asks for its description."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from flask_openapi3 import APIBlueprint
from flask_openapi3.utils import parse_parameters


class Blueprint(APIBlueprint):
    """
    Its OpenAPI description takes longer to put together than all else of a start, and only `openapi_document` reads it:
    each address is kept as it was declared until `describe`.
    """

    def __init__(self, *given: Any, **named: Any) -> None:
        super().__init__(*given, **named)
        self._undescribed: list[tuple[str, Callable[..., Any], dict[str, Any]]] = []

    def describe(self) -> None:
        """Describe the addresses declared so far, for an application that this is registered with afterwards."""
        for rule, view, said in self._undescribed:
            super()._collect_openapi_info(rule, view, **said)
        self._undescribed.clear()

    def _collect_openapi_info(self, rule: str, func: Callable[..., Any], **said: Any) -> Any:
        self._undescribed.append((rule, func, said))
        return parse_parameters(func, doc_ui=False)
