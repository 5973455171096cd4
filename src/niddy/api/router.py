"""The router of every room: an answer's type is read for the API's description, and built only once it is needed."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import is_dataclass
from typing import Any, get_type_hints

from fastapi import APIRouter
from pydantic import ConfigDict

from niddy.api.policy import Policy, of_endpoint

LATER = ConfigDict(defer_build=True)


class Router(APIRouter):
    """FastAPI's router, for answers that are the studio's own dataclasses.

    Their validators are big and mostly never used, since such answers are written as they are; built for every address
    at once they are half of what a start takes.
    """

    def __init__(self, *, stands: Policy | None = None, **what: Any) -> None:
        super().__init__(**what)
        self._stands = stands

    def add_api_route(self, path: str, endpoint: Callable[..., Any], **what: Any) -> None:
        """Add an address; the type of its answer is built when it is first used.

        Raises TypeError where neither it nor its router says who may.
        """
        if self._stands is not None and not hasattr(endpoint, "policy"):
            endpoint.policy = self._stands  # type: ignore[attr-defined]
        of_endpoint(endpoint, what.get("methods") or ("GET",))
        kind = what.get("response_model")
        if not isinstance(kind, type):
            kind = get_type_hints(endpoint).get("return")
        if isinstance(kind, type) and is_dataclass(kind) and not hasattr(kind, "__pydantic_config__"):
            kind.__pydantic_config__ = LATER  # type: ignore[attr-defined]
        super().add_api_route(path, endpoint, **what)
