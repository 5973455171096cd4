"""Making pigment: processes in versions, their runs on paper and at the bench, the waste book."""

from __future__ import annotations

from typing import Annotated

from fastapi import Query, Response
from pydantic import BaseModel

from niddy.api import policy
from niddy.api.answers import answer
from niddy.api.context import Db, Now, RowId
from niddy.api.log import add_room
from niddy.api.problems import REFUSALS
from niddy.api.router import Router
from niddy.studio import making as studio
from niddy.studio.making import (
    MakingRoom,
    PowderCost,
    Previewed,
    ProcessAsked,
    ProcessPage,
    ProcessPreview,
    ProcessVersionAsked,
    RunAsked,
    RunBegin,
    RunPaper,
    RunView,
    WasteBook,
)

router = Router(prefix="/api/making", tags=["making"], responses=REFUSALS)


class ProcessKept(BaseModel):
    """What was kept."""

    id: int
    version: int


@router.get("")
def room(db: Db, now: Now) -> MakingRoom:
    """Processes, what a new one may start from, runs, and raw materials in stock."""
    with db.session() as session:
        return studio.room(session, now)


@router.post("/preview")
@policy.looks()
def preview(asked: ProcessPreview) -> Previewed:
    """What a process being written comes to at its own scale."""
    return studio.preview(asked)


@router.post("/processes", status_code=201)
@policy.works("Added a process")
def add(db: Db, now: Now, asked: ProcessAsked) -> ProcessKept:
    """Keep a new process."""
    with db.session() as session:
        return ProcessKept(id=studio.add(session, now, asked), version=1)


@router.post("/processes/{process_id}/versions", status_code=201)
@policy.works("Made a new version of a process")
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
@policy.looks()
def plan(db: Db, process_id: RowId, asked: RunAsked) -> RunPaper:
    """A run of a process on paper: forward from what is on hand, or back from what is wanted."""
    with db.session() as session:
        return studio.plan(session, process_id, asked)


# --- runs


class RunNumber(BaseModel):
    """The number of the run that was begun."""

    number: int


@router.post("/processes/{process_id}/runs", status_code=201)
@policy.works("Began a run")
def begin_run(db: Db, now: Now, process_id: RowId, asked: RunBegin) -> RunNumber:
    """Begin a run of a process, as it was planned."""
    with db.session() as session:
        return RunNumber(number=studio.begin_run(session, now, process_id, asked))


@router.get("/waste")
def waste(db: Db) -> WasteBook:
    """The waste book: every litre that left, what it may hold, where it stands or went."""
    with db.session() as session:
        return studio.book(session)


@router.get("/runs/{number}", response_model=RunView)
def run(db: Db, now: Now, number: RowId) -> Response:
    """A run as it is."""
    with db.session() as session:
        seen = studio.run(session, now, number)
    return answer(seen)


Money = Annotated[float | None, Query(ge=0, le=10_000)]


@router.get("/runs/{number}/cost")
def run_cost(
    db: Db,
    number: RowId,
    hours: Annotated[float, Query(ge=0, le=1_000)] = 0.0,
    wage_per_hour: Money = None,
    water_per_l: Money = None,
) -> PowderCost:
    """What a run cost, and a gram of its pigment, with work and water where they count."""
    with db.session() as session:
        return studio.run_cost(session, number, hours, wage_per_hour, water_per_l)


add_room(router, studio.RUNS, RunView, studio.run_view_of, path="/runs/{number}")
