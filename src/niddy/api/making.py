"""Making pigment: processes in versions, and their runs on paper."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query
from pydantic import BaseModel

from niddy.api.context import Db, Now, RowId
from niddy.api.problems import REFUSALS
from niddy.core.making import RunPlan
from niddy.studio import making as studio
from niddy.studio.making import (
    MakingRoom,
    Previewed,
    ProcessAsked,
    ProcessPage,
    ProcessPreview,
    ProcessVersionAsked,
    RunAsked,
)

router = APIRouter(prefix="/api/making", tags=["making"], responses=REFUSALS)


class ProcessKept(BaseModel):
    """What was kept."""

    id: int
    version: int


@router.get("")
def room(db: Db) -> MakingRoom:
    """Processes, and what a new one may start from."""
    with db.session() as session:
        return studio.room(session)


@router.post("/preview")
def preview(asked: ProcessPreview) -> Previewed:
    """What a process being written comes to at its own scale."""
    return studio.preview(asked)


@router.post("/processes", status_code=201)
def add(db: Db, now: Now, asked: ProcessAsked) -> ProcessKept:
    """Keep a new process."""
    with db.session() as session:
        return ProcessKept(id=studio.add(session, now, asked), version=1)


@router.post("/processes/{process_id}/versions", status_code=201)
def add_version(db: Db, now: Now, process_id: RowId, asked: ProcessVersionAsked) -> ProcessKept:
    """Keep a further version of a process."""
    with db.session() as session:
        return ProcessKept(id=process_id, version=studio.add_version(session, now, process_id, asked))


@router.get("/processes/{process_id}")
def page(db: Db, process_id: RowId, version: Annotated[int | None, Query(ge=1, le=100_000)] = None) -> ProcessPage:
    """A process to be read, its newest version or another."""
    with db.session() as session:
        return studio.page(session, process_id, version)


@router.post("/processes/{process_id}/plan")
def plan(db: Db, process_id: RowId, asked: RunAsked) -> RunPlan:
    """A run of a process on paper: forward from what is on hand, or back from what is wanted."""
    with db.session() as session:
        return studio.plan(session, process_id, asked)
