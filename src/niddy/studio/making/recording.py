"""Recording acts in a run's log, with all that follows from one: stock drawn, the step done, a lot of pigment."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime
from typing import Any

from sqlalchemy import update
from sqlalchemy.orm import Session

from niddy.core import making as core
from niddy.core.errors import Refused
from niddy.core.log import Status
from niddy.core.making import RunKind
from niddy.db.base import table_of
from niddy.db.making import PigmentRun
from niddy.studio import log, materials, photos
from niddy.studio.acting import PhotoAsked
from niddy.studio.making.acts import (
    RunActAsked,
    RunPicture,
    RunStrike,
    WeighedIn,
    payload_of,
)
from niddy.studio.making.checking import check, step_of
from niddy.studio.making.facts import facts_of
from niddy.studio.making.pigments import into_stock
from niddy.studio.making.runs import RunKept, grown, job_of, run, with_act
from niddy.studio.times import act_time

_RUN = table_of(PigmentRun)


def keep(session: Session, now: datetime, number: int, act: RunActAsked) -> RunKept:
    """Log an act; the run after it. Sent again it changes nothing. Raises Refused, Conflict, Missing."""
    log.hold(session, job_of(session, number))
    kept = run(session, number)
    payload = payload_of(act)
    if log.known(session, kept.job_id, act.id, act.kind, payload):
        return kept
    if isinstance(act, RunPicture):
        raise Refused(
            "kind", "a picture comes by its own address", f"the picture itself, to /api/making/runs/{number}/photos"
        )
    return _log(session, now, kept, act, payload)


def take_photo(session: Session, now: datetime, number: int, asked: PhotoAsked, picture: bytes) -> RunKept:
    """Keep a picture, scaled down, and log it. Sent again it changes nothing. Raises Refused, Conflict, Missing."""
    scaled = photos.scaled(picture)
    log.hold(session, job_of(session, number))
    kept = run(session, number)
    act = RunPicture(
        id=asked.id, kind=RunKind.PHOTO, made_at=asked.made_at, clock_made_at=asked.clock_made_at, text=asked.text
    )
    payload = payload_of(act)
    if log.known(session, kept.job_id, act.id, act.kind, payload):
        return kept
    after = _log(session, now, kept, act, payload)
    photos.keep(session, act.id, scaled)
    return after


def _log(session: Session, now: datetime, kept: RunKept, act: RunActAsked, payload: dict[str, Any]) -> RunKept:
    act_time("made_at", act.made_at, now)
    step = step_of(kept, act)
    facts = facts_of(session, kept, act)
    if step is not None:
        facts["step"] = step.key
    check(kept, act, facts)
    strikes = act.strikes if isinstance(act, RunStrike) else None
    entry = log.Entry(act.id, kept.last_seq + 1, act.kind, payload, facts, strikes, act.made_at)
    after = with_act(kept, entry)
    if core.completes(kept.process, kept.plan.weigh, kept.run, after, act.kind, step):
        facts["completes"] = True
        after = with_act(kept, replace(entry, facts=facts))
    if act.kind is RunKind.TO_STOCK:
        facts |= into_stock(session, now, kept, act)
    log.append(
        session, now, kept.job_id, log.New(act.id, act.kind, act.made_at, payload, facts, strikes), entry.seq,
        status=after.status,
    )  # fmt: skip
    if isinstance(act, WeighedIn) and facts["lot_id"] is not None:
        materials.use(session, now, facts["lot_id"], facts["g"], act.id, kept.job_id)
    if isinstance(act, RunStrike):
        _move_back(session, now, kept, act)
    found = grown(session, kept)
    _summarise(session, found)
    return found


def _move_back(session: Session, now: datetime, kept: RunKept, act: RunStrike) -> None:
    """Give back what a struck act drew; a strike that is struck draws it again."""
    by_id = {entry.id: entry for entry in kept.entries}
    target = by_id[act.strikes]
    again = target.kind == RunKind.STRIKE
    if again and target.strikes is not None:
        target = by_id[target.strikes]
    lot_id = target.facts.get("lot_id")
    if target.kind != RunKind.ADDED or lot_id is None:
        return
    move = materials.use if again else materials.give_back
    move(session, now, lot_id, target.facts["g"], act.id, kept.job_id)


def _summarise(session: Session, kept: RunKept) -> None:
    """The columns beside the log: what it came to, and when its light test is looked at next."""
    light = kept.run.light
    session.execute(
        update(_RUN)
        .where(_RUN.c.number == kept.number)
        .values(
            yield_g=kept.run.yield_g if kept.status is Status.FINISHED else None,
            light_due_at=core.next_look(light) if light is not None else None,
        )
    )  # fmt: skip
