"""Documents as clients send them: no field but those named, no NaN, no infinity; and how they name what is kept."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, Field

from niddy.core.words import Words

RowId = Annotated[int, Field(strict=True, ge=1, le=2_147_483_647)]
Key = Annotated[Words, Field(min_length=1, max_length=80)]
Hazards = Annotated[list[Annotated[Words, Field(max_length=40)]], Field(max_length=20)]


class Document(BaseModel):
    """What every document of a request is."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


Step = Callable[[dict[str, Any]], dict[str, Any]]
"""What makes a document of one version out of one of the version before."""


def upgraded(document: dict[str, Any], version: int, to: int, steps: Mapping[int, Step]) -> dict[str, Any]:
    """A document kept as JSON in an earlier version, brought to a later one step by step: `steps` by where they begin.

    Raises LookupError where a step is missing, or the document is of a version still to come.
    """
    if version > to:
        raise LookupError(f"kept in version {version}; this program knows up to {to}")
    for at in range(version, to):
        if at not in steps:
            raise LookupError(f"nothing leads from version {at} to {at + 1}")
        document = steps[at](document)
    return document
