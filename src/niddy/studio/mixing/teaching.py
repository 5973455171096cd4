"""Painted squares read back, and what they teach: how strong each paint is beside the others."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime

import numpy as np
from sqlalchemy import select, update
from sqlalchemy.orm import Session

from niddy.core.log import Status
from niddy.core.mixing import chart as core
from niddy.core.mixing.learning import Learned, learn
from niddy.core.mixing.predicting import Palette, weights_of
from niddy.core.mixing.seeing import Floats, difference
from niddy.db.base import table_of
from niddy.db.log import Job
from niddy.db.mixing import MixingPaint
from niddy.studio import log
from niddy.studio.mixing.charts import (
    ROOM,
    STATE,
    ChartAct,
    ChartKept,
    ChartNote,
    ChartState,
    ChartStrike,
    SquaresPainted,
    chart_of,
    facts_of,
    kept_chart,
    paint_at,
    painted_of,
    squares_of,
)
from niddy.studio.mixing.kept import bench, palette_of, several

HOLD_OUT_EVERY = 12
"""How squares are predicted that nothing was learned from takes longest: it is told anew every so many squares."""

_JOB = table_of(Job)


def record(session: Session, now: datetime, number: int, act: ChartAct) -> None:
    """Log what is said of a chart, and learn from its squares. The same again changes nothing.

    Raises Missing, Conflict, Refused naming the square that is wrong.
    """
    kept = chart_of(session, number, locked=True)
    payload = act.model_dump(mode="json", exclude={"id", "made_at", "kind", "waited"}, exclude_none=True)
    if log.known(session, kept.job_id, act.id, act.kind, payload):
        return
    if isinstance(act, ChartStrike):
        log.strike(session, now, kept.job_id, log.New(act.id, act.kind, act.made_at, payload, {}, act.strikes))
        squares = painted_of(log.entries(session, kept.job_id))
    else:
        facts = facts_of(kept, act)
        log.log(session, now, kept.job_id, log.New(act.id, act.kind, act.made_at, payload, facts))
        if isinstance(act, ChartNote):
            return
        squares = {**kept.state.squares, **squares_of(facts)}
    _write(session, kept.job_id, replace(kept.state, squares=squares))
    status = Status.FINISHED if len(squares) == len(core.squares(kept.plan.layout)) else Status.OPEN
    if status is not kept.status:
        log.note_end(session, now, kept.job_id, status)
    one = isinstance(act, SquaresPainted) and len(act.squares) == 1
    anew = not one or len(squares) % HOLD_OUT_EVERY == 0
    taught = _learn(session, kept, hold_out=anew)
    held_out = taught.held_out if anew else kept.state.held_out
    _write(session, kept.job_id, ChartState(squares, held_out, taught.before, taught.after))


def _write(session: Session, job_id: int, state: ChartState) -> None:
    session.execute(update(_JOB).where(_JOB.c.id == job_id).values(state=STATE.dump_python(state, mode="json")))


@dataclass(frozen=True, slots=True)
class _Taught:
    """How right one chart is, as a median dE00 of its painted squares."""

    before: float | None = None
    after: float | None = None
    held_out: float | None = None


def _learn(session: Session, kept: ChartKept, *, hold_out: bool) -> _Taught:
    """Learn the strengths of a chart's paints from every chart that has one of them, and keep them."""
    mine = {paint.id for paint in kept.plan.paints}
    rows = session.execute(select(_JOB).where(_JOB.c.room == ROOM).order_by(_JOB.c.number))
    charts = [one for one in map(kept_chart, rows) if mine & {paint.id for paint in one.plan.paints}]
    ids = sorted({paint.id for one in charts for paint in one.plan.paints})
    whites = {one.plan.white.id for one in charts if one.plan.white is not None}
    paints = several(session, sorted({*ids, *whites}))
    place = {paint_id: n for n, paint_id in enumerate(sorted(paints))}
    sight = replace(bench(session), whites=frozenset(whites))
    by = palette_of([paints[one] for one in place], sight, None, taught=False)
    by.strength_sd[[place[white] for white in whites]] = 0.0
    told = [
        (one.number, [(place[paint_at(one.plan, n).id], parts) for n, parts in square.parts], seen)
        for one in charts
        for square in core.squares(one.plan.layout)
        if (seen := one.state.squares.get(square.code)) is not None
    ]
    learned = None
    weights, read = weights_of([parts for _, parts, _ in told], len(place)), np.array([seen.lab for *_, seen in told])
    if told:
        learned = learn(by, weights, read, np.array([seen.off for *_, seen in told]), hold_out=hold_out)
    _keep(session, ids, place, by, learned)
    here = np.array([number == kept.number for number, *_ in told], bool)
    if learned is None or not here.any():
        return _Taught()
    return _Taught(
        _median(by, weights[here], read[here], np.zeros(len(place))),
        _median(by, weights[here], read[here], np.array(learned.strength)), learned.held_out,
    )  # fmt: skip


def _median(by: Palette, weights: Floats, read: Floats, strength: Floats) -> float:
    return float(np.median(difference(by.lab(weights, strength), read)))


def _keep(session: Session, ids: list[int], place: dict[int, int], by: Palette, learned: Learned | None) -> None:
    for paint_id in ids:
        n = place[paint_id]
        taught = learned is not None and learned.squares[n] > 0 and by.strength_sd[n] > 0
        session.execute(
            update(table_of(MixingPaint))
            .where(MixingPaint.id == paint_id)
            .values(
                strength_ln=learned.strength[n] if taught and learned else None,
                strength_sd=learned.sd[n] if taught and learned else None,
                squares=learned.squares[n] if learned else 0,
            )
        )
    session.expire_all()
