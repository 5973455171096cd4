"""What every endpoint may ask for: the database, the settings, the time."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from fastapi import Depends, Path, Request

from niddy.core.makers import Who
from niddy.db import Database
from niddy.settings import Settings


async def _database(request: Request) -> Database:
    database: Database = request.app.state.database
    return database


async def _now(request: Request) -> datetime:
    settings: Settings = request.app.state.settings
    return settings.now()


async def _who(request: Request) -> Who | None:
    who: Who | None = getattr(request.state, "who", None)
    return who


# Endpoints open their own session: its commit must come before the answer is sent.
Db = Annotated[Database, Depends(_database)]
Now = Annotated[datetime, Depends(_now)]
WhoHere = Annotated[Who | None, Depends(_who)]
RowId = Annotated[int, Path(ge=1, le=2_147_483_647)]
