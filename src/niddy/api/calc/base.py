"""What every calculator shares: its router, its requests, its worked example."""

from __future__ import annotations

from decimal import Decimal
from typing import Annotated, Any

from fastapi import Body
from pydantic import Field

from niddy.api.policy import Policy
from niddy.api.problems import REFUSALS
from niddy.api.router import Router
from niddy.core.documents import Document
from niddy.core.errors import MAX_MASS_G
from niddy.core.makers import Reach

router = Router(prefix="/api/calc", tags=["calculators"], responses=REFUSALS, stands=Policy(Reach.LOOKS))


MassOrNone = Annotated[float, Field(strict=True, ge=0, le=MAX_MASS_G)]


Reduced = Annotated[float, Field(strict=True, ge=0.5, le=1.15)]


Number = Annotated[float, Field(strict=True)]


class Asked(Document):
    """A calculator's request: no field but those named, no NaN, no infinity."""


def example(summary: str, **value: Any) -> Any:
    """A body parameter with one worked example for the API's page."""
    return Body(openapi_examples={"worked": {"summary": summary, "value": value}})


Money = Annotated[Decimal, Field(max_digits=14, decimal_places=6)]
