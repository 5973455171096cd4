"""Answers of the busiest endpoints, written to JSON straight from the studio's dataclasses.

They are built by the studio's own types, so a second validation of every answer would only cost time;
the endpoints still name their type for the API's description.
"""

from __future__ import annotations

from functools import cache
from typing import Any

from fastapi import Response
from pydantic import TypeAdapter


@cache
def _writer(kind: type) -> TypeAdapter[Any]:
    return TypeAdapter(kind)


def answer(value: Any) -> Response:
    """A dataclass of the studio as a JSON response."""
    kind: Any = type(value)
    return Response(_writer(kind).dump_json(value), media_type="application/json")
