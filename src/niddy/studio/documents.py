"""Documents as clients send them: no field but those named, no NaN, no infinity; and how they name what is kept."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from niddy.studio.words import Words

RowId = Annotated[int, Field(strict=True, ge=1, le=2_147_483_647)]
Key = Annotated[Words, Field(min_length=1, max_length=80)]


class Document(BaseModel):
    """What every document of a request is."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)
