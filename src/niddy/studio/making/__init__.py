"""Making pigment: processes in versions, runs on paper and at the bench, trials, pigment into stock, the waste book."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy.orm import Session

from niddy.studio.making import run_view as _run_view
from niddy.studio.making import runs as _runs
from niddy.studio.making.asked import (
    IngredientAsked,
    ProcessAsked,
    ProcessPreview,
    ProcessSaid,
    ProcessVersionAsked,
    RunAsked,
    StepAsked,
)
from niddy.studio.making.lists import RunAtRoom, RunNamed, at_home, runs_named, waits
from niddy.studio.making.paper import RunPaper
from niddy.studio.making.pigments import PowderCost, cost_of
from niddy.studio.making.processes import (
    MakingRoom,
    Previewed,
    ProcessPage,
    add,
    add_version,
    page,
    plan,
    preview,
    room,
)
from niddy.studio.making.recording import RUNS
from niddy.studio.making.run_view import RunView
from niddy.studio.making.run_view import view_of as run_view_of
from niddy.studio.making.runs import RunBegin
from niddy.studio.making.waste import WasteBook, book


def begin_run(session: Session, now: datetime, process_id: int, asked: RunBegin) -> int:
    """Begin a run of a process; its number. Raises Refused, Conflict, Missing."""
    return _runs.begin(session, now, process_id, asked)


def run(session: Session, now: datetime, number: int) -> RunView:
    """A run as it is. Raises Missing."""
    return _run_view.view(session, now, number)


def run_cost(
    session: Session, number: int, hours: float, wage_per_hour: float | None, water_per_l: float | None
) -> PowderCost:
    """What a run cost, with work and water where they count. Raises Missing."""
    return cost_of(session, _runs.run(session, number), hours, wage_per_hour, water_per_l)


__all__ = [
    "RUNS",
    "IngredientAsked",
    "MakingRoom",
    "PowderCost",
    "Previewed",
    "ProcessAsked",
    "ProcessPage",
    "ProcessPreview",
    "ProcessSaid",
    "ProcessVersionAsked",
    "RunAsked",
    "RunAtRoom",
    "RunBegin",
    "RunNamed",
    "RunPaper",
    "RunView",
    "StepAsked",
    "WasteBook",
    "add",
    "add_version",
    "at_home",
    "begin_run",
    "book",
    "page",
    "plan",
    "preview",
    "room",
    "run",
    "run_cost",
    "run_view_of",
    "runs_named",
    "waits",
]
