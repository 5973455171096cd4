"""Batches opened, and acts written into their logs."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import Integer, bindparam, func, insert, select, update
from sqlalchemy.orm import Session

from niddy.core.plan import Plan
from niddy.core.slab import Paste
from niddy.db.base import table_of
from niddy.db.batches import Batch
from niddy.studio import jobs, log, materials, numbering
from niddy.studio.batches.kept import PASTE, PASTE_VERSION, PLAN, PLAN_VERSION, ROOM, Logged, logged_of
from niddy.studio.materials import Move


def number_next(session: Session, number: int) -> None:
    """The batch that is opened next gets this number: for a studio whose records are entered out of their order."""
    numbering.number_next(session, ROOM, number)


def open_batch(session: Session, now: datetime, request_id: UUID, plan: Plan, asked: dict[str, Any]) -> int:
    """Open a batch from a plan; its number. Asking twice with one `request_id` opens one batch.

    Raises Conflict where that id opened a batch from something else.
    """
    sources = [line.pigment for line in plan.lines]
    bottles = [part.lot_id for part in plan.oil.parts] or [plan.oil.lot_id]
    stirred = [line.dosing.lot_id for line in plan.additives]
    lot_ids = [lot_id for lot_id in (*(m.lot_id for m in sources), *bottles, *stirred) if lot_id is not None]
    begun = jobs.begin_job(
        session,
        ROOM,
        now,
        request_id,
        plan.name,
        asked,
        plan=PLAN.dump_python(plan, mode="json"),
        plan_version=PLAN_VERSION,
        state=PASTE.dump_python(Paste(), mode="json"),
        state_version=PASTE_VERSION,
    )
    if not begun.anew:
        return begun.number
    made = insert(_BATCH).values(
        number=begun.number,
        job_id=begun.job_id,
        masstone_srgb=plan.masstone_srgb,
        pigment_keys=sorted({line.pigment.key for line in plan.lines if line.extends_pct is None}),
        lot_ids=sorted(set(lot_ids)),
        planned_min=plan.minutes.value / (plan.facts.pace or 1.0) if plan.minutes else None,
        oil_name=plan.oil.name,
        pigment_g=0.0,
        oil_g=0.0,
        made_ml=0.0,
        filled_ml=0.0,
        leftover_ml=0.0,
        tubes_filled=0,
        results={},
        recipe_id=asked.get("recipe_id"),
        recipe_version=asked.get("recipe_version"),
    )
    session.execute(made)
    return begun.number


_BATCH = table_of(Batch)
_SUMMARY = (
    update(_BATCH)
    .where(_BATCH.c.job_id == bindparam("of_job"))
    .values(
        verdict=bindparam("new_verdict"),
        pigment_g=bindparam("new_pigment_g"),
        oil_g=bindparam("new_oil_g"),
        made_ml=bindparam("new_made_ml"),
        filled_ml=bindparam("new_filled_ml"),
        leftover_ml=bindparam("new_leftover_ml"),
        tubes_filled=bindparam("new_tubes"),
    )
    .cte("summary")
)
_TELLING = (
    log.recent(bindparam("of_job"), bindparam("last", type_=Integer)).label("recent"),
    materials.left_of(select(func.unnest(_BATCH.c.lot_ids)).where(_BATCH.c.job_id == bindparam("of_job"))).label(
        "left"
    ),
)
_APPEND = log.appending(_SUMMARY, telling=_TELLING)
_APPEND_AND_MOVE = log.appending(_SUMMARY, *materials.MOVING, telling=_TELLING)


@dataclass(frozen=True, slots=True)
class Appended:
    """What was read while an act was written: the acts before it, and what the batch's lots hold in g by lot."""

    before: tuple[Logged, ...]
    left: dict[int, float]


def append(
    session: Session,
    now: datetime,
    job_id: int,
    logged: Logged,
    paste: Paste,
    made_ml: float,
    filled: Filled,
    moves: Sequence[Move],
    last: int,
) -> Appended:
    """Write an act into the log of a locked batch, with the paste and the summary that follow from the whole log.

    `moves` are what it draws from lots or gives back; the `last` acts before it are told, and what the lots hold after.
    """
    event = logged.event
    new = log.New(event.id, event.kind, event.made_at, logged.payload, logged.facts, event.strikes)
    # One lot is moved in the same round trip: most acts are a pour.
    alone = moves[0] if len(moves) == 1 else None
    for one in moves if alone is None else ():
        materials.move(session, now, one, event.id, job_id)
    row = log.write(
        session,
        now,
        job_id,
        new,
        event.seq,
        last=last,
        statement=_APPEND if alone is None else _APPEND_AND_MOVE,
        **(materials.moving(alone) if alone is not None else {}),
        status=paste.status,
        state=PASTE.dump_python(paste, mode="json", exclude={"struck"}),
        new_verdict=paste.verdict,
        new_pigment_g=paste.pigment_g,
        new_oil_g=paste.oil_g,
        new_made_ml=made_ml,
        new_filled_ml=filled.tubes_ml,
        new_leftover_ml=filled.leftover_ml,
        new_tubes=filled.tubes,
    )
    left = materials.left_in(row.left)
    if alone is not None and alone.lot_id in left:
        # A statement sees what was there before it.
        left[alone.lot_id] += alone.change
    return Appended(tuple(logged_of(entry) for entry in log.entries_in(row.recent)), left)


@dataclass(frozen=True, slots=True)
class Filled:
    """What a finished batch went into."""

    tubes_ml: float = 0.0
    leftover_ml: float = 0.0
    tubes: int = 0
