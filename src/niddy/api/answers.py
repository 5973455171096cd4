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
def _writer(kind: Any) -> TypeAdapter[Any]:
    return TypeAdapter(kind)


def answer(value: Any, kind: Any = None) -> Response:
    """A dataclass of the studio (or a value of a type given) as a JSON response."""
    of: Any = kind or type(value)
    return Response(_writer(of).dump_json(value), media_type="application/json")
