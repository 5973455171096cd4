"""The whole studio out and in: one zip, looked at before anything comes in, then all or nothing."""

from __future__ import annotations

import contextlib
import os
import re
import secrets
import tempfile
import time
from pathlib import Path
from typing import Annotated, Any

from fastapi import Path as InPath
from fastapi import Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import FileResponse
from pydantic import BaseModel
from starlette.background import BackgroundTask

from niddy import __version__
from niddy.api import policy
from niddy.api.context import Db, Now
from niddy.api.problems import REFUSALS
from niddy.api.router import Router
from niddy.api.workshop import Backups
from niddy.core.documents import Document
from niddy.core.errors import Refused
from niddy.core.package import Coming, How
from niddy.exchange import data_package
from niddy.settings import Settings
from niddy.studio import package as studio
from niddy.studio.errors import Conflict, Missing

router = Router(prefix="/api/package", tags=["package"], responses=REFUSALS)

LARGEST_FILE = 4_000_000_000
KEPT_S = 3_600.0
"""So long a package that was looked at waits to be taken in."""

ZIP: dict[int | str, dict[str, Any]] = {200: {"content": {"application/zip": {}}, "description": "A Data Package"}}
Token = Annotated[str, InPath(max_length=64)]
_TOKEN = re.compile("[0-9a-f]{32}")


class ComingIn(BaseModel):
    """What would come into one table."""

    table: str
    says: str
    new: int
    same: int
    otherwise: int


class PackageLook(BaseModel):
    """What would come in with a package: table by table, files in it nobody knows, and the ways it may come.

    `token` names it for an hour. `backed_up` says that what is here is backed up by itself before it makes way.
    """

    token: str
    made: str
    tables: list[ComingIn]
    unknown: list[str]
    here_is_empty: bool
    ways: list[How]
    backed_up: bool


class TakeInAsked(Document):
    """How a package comes in."""

    how: How


class PackageTaken(BaseModel):
    """What came in, in rows."""

    rows: int


def _folder(request: Request) -> Path:
    settings: Settings = request.app.state.settings
    folder = settings.home / "incoming"
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    for file in folder.iterdir():
        # One that was sent is taken away meanwhile.
        with contextlib.suppress(FileNotFoundError):
            if time.time() - file.stat().st_mtime > KEPT_S:
                file.unlink()
    return folder


@router.get("", response_class=FileResponse, responses=ZIP)
@policy.owns()
def leave(request: Request, db: Db, now: Now) -> FileResponse:
    """The whole studio as one zip, a Data Package that is read without Niddy."""
    handle, name = tempfile.mkstemp(prefix="leaving-", suffix=".zip", dir=_folder(request))
    try:
        with os.fdopen(handle, "wb") as file, db.snapshot() as connection:
            data_package.write(connection, file, now, __version__)
    except BaseException:
        Path(name).unlink(missing_ok=True)
        raise
    gone = BackgroundTask(Path(name).unlink, missing_ok=True)
    return FileResponse(
        name, media_type="application/zip", filename=f"niddy-studio-{now:%Y-%m-%d}.zip", background=gone
    )


@router.post("/look")
@policy.owns(body=policy.ZIP)
async def look(request: Request, db: Db) -> PackageLook:
    """What would come in with a package (the body); changes nothing. It can be taken in within the hour."""
    token = secrets.token_hex(16)
    file = await run_in_threadpool(_folder, request) / f"{token}.zip"
    try:
        taken = 0
        with file.open("xb") as to:
            async for piece in request.stream():
                taken += len(piece)
                if taken > LARGEST_FILE:
                    raise Refused("package", "too large", f"at most {LARGEST_FILE // 10**9} GB")
                await run_in_threadpool(to.write, piece)
        return await run_in_threadpool(_look, request, db, token, file)
    except BaseException:
        file.unlink(missing_ok=True)
        raise


def _look(request: Request, db: Db, token: str, file: Path) -> PackageLook:
    with data_package.opened(file) as package:
        seen = studio.look(db, package)
        return PackageLook(
            token=token,
            made=package.made,
            tables=[_coming(one) for one in seen.tables if one.new or one.same or one.otherwise],
            unknown=list(package.unknown),
            here_is_empty=seen.here_is_empty,
            ways=list(seen.ways),
            backed_up=request.app.state.backups is not None,
        )


def _coming(one: Coming) -> ComingIn:
    return ComingIn(table=one.table, says=one.says, new=one.new, same=one.same, otherwise=one.otherwise)


@router.post("/{token}")
@policy.owns("Took in a whole studio")
def take_in(request: Request, db: Db, now: Now, token: Token, asked: TakeInAsked) -> PackageTaken:
    """Take a package in that was looked at: all of it, or nothing. What makes way is backed up first."""
    file = _folder(request) / f"{token}.zip"
    if _TOKEN.fullmatch(token) is None or not file.is_file():
        raise Missing("package", token)
    keeper: Backups | None = request.app.state.backups
    if asked.how is How.REPLACE and keeper is not None:
        trouble = keeper.now().trouble
        if trouble:
            raise Conflict("how", f"no backup could be made first ({trouble[:160]})", "a backup, before anything goes")
    with data_package.opened(file) as package:
        seen = studio.take_in(db, package, asked.how, now)
    file.unlink(missing_ok=True)
    return PackageTaken(rows=sum(one.new + one.same + one.otherwise for one in seen.tables))
