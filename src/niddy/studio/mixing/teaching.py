"""Painted squares read back, and what they teach: how strong each paint is beside the others."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from datetime import datetime

import numpy as np
from sqlalchemy import func, select, update
from sqlalchemy.orm import Session

from niddy.core.log import Status
from niddy.core.mixing import chart as core
from niddy.core.mixing.judged import judged
from niddy.core.mixing.learning import Learned, learn
from niddy.core.mixing.predicting import Palette, weights_of
from niddy.core.mixing.seeing import Floats, difference
from niddy.db.base import table_of
from niddy.db.log import Job
from niddy.db.mixing import MixingPaint
from niddy.studio import log
from niddy.studio.log import Entry
from niddy.studio.mixing.chart_acts import (
    BY_EYE,
    CHART_ACTS,
    ChartAct,
    ChartFacts,
    ChartNote,
    FilmJudged,
    SquareFacts,
    SquareJudged,
    SquaresPainted,
)
from niddy.studio.mixing.charts import (
    ROOM,
    STATE,
    ChartKept,
    ChartState,
    chart_of,
    check_act,
    hiding_of,
    kept_chart,
    mixture_of,
    paint_at,
    painted_of,
    squares_of,
)
from niddy.studio.mixing.kept import bench, palette_of, several
from niddy.studio.mixing.predicted import predicted
from niddy.studio.recorder import LogRoom

HOLD_OUT_EVERY = 12
"""How squares are predicted that nothing was learned from takes longest: it is told anew every so many squares."""

_JOB = table_of(Job)
_LEARNING = 0x6D6978
"""Held while squares teach: charts that share a paint teach it together, whichever was read."""


def _facts(session: Session, now: datetime, kept: ChartKept, act: ChartAct) -> ChartFacts:
    if isinstance(act, SquaresPainted):
        return act.facts()
    if isinstance(act, SquareJudged):
        of = predicted(session, kept)
        n = next(n for n, square in enumerate(of.squares) if square.code == act.at)
        lightness, a, b = (float(at) for at in of.lab[n])
        (lightness, a, b), off = judged((lightness, a, b), act.looks)
        return ChartFacts({act.at: SquareFacts((round(lightness, 3), round(a, 3), round(b, 3)), off)}, BY_EYE)
    return ChartFacts()


def _grown(session: Session, kept: ChartKept, entry: Entry) -> ChartKept:
    """The chart with one act more; once one is undone, its squares are read out of the whole log anew."""
    if entry.strikes is None:
        squares = {**kept.state.squares, **squares_of(CHART_ACTS.logged(entry).facts)}
        hides = {**kept.state.hides, **hiding_of([entry])}
    else:
        whole_log = [*log.entries(session, kept.job_id), entry]
        squares, hides = painted_of(whole_log), hiding_of(whole_log)
    layout = kept.plan.layout
    whole = len(squares) == len(core.squares(layout)) and len(hides) == len(core.thin_films(layout))
    return replace(
        kept,
        state=replace(kept.state, squares=squares, hides=hides),
        status=Status.FINISHED if whole else Status.OPEN,
        last_seq=entry.seq,
    )


def _follow(session: Session, now: datetime, kept: ChartKept, act: ChartAct) -> ChartKept:
    """Squares teach at once. How those are predicted that nothing was learned from is not told anew at each."""
    if isinstance(act, ChartNote | FilmJudged):
        return kept
    one = isinstance(act, SquareJudged) or (isinstance(act, SquaresPainted) and len(act.squares) == 1)
    by_the_dozen = len(kept.state.squares) % HOLD_OUT_EVERY == 0
    _learn(session, {paint.id for paint in kept.plan.paints}, hold_out=not one or by_the_dozen)
    return chart_of(session, kept.number)


def _hold(session: Session, number: int | None = None) -> None:
    session.execute(select(func.pg_advisory_xact_lock(_LEARNING)))


CHARTS: LogRoom[ChartKept, ChartAct, ChartFacts] = LogRoom(
    ROOM,
    "chart",
    CHART_ACTS,
    job=chart_of,
    grown=_grown,
    words=lambda kept, logged: logged.act.words(logged.facts),
    check=check_act,
    facts=_facts,
    written=lambda kept: STATE.dump_python(kept.state, mode="json"),
    first=_hold,
    follow=_follow,
)


def learn_anew(session: Session, paint_id: int | None) -> None:
    """Learn anew what stands beside the readings of a paint that changed; of every paint where none is named.

    What a white's reading says, every tint of it says otherwise.
    """
    _hold(session)
    charts = _charts(session)
    if not any(chart.state.squares for chart in charts):
        return
    by = bench(session)
    whites = {chart.plan.white.id for chart in charts if chart.plan.white is not None} | {by.white_id}
    _learn(session, None if paint_id is None or paint_id in whites else {paint_id}, hold_out=True)


def _charts(session: Session) -> list[ChartKept]:
    rows = session.execute(select(_JOB).where(_JOB.c.room == ROOM).order_by(_JOB.c.number))
    return [kept_chart(row) for row in rows]


def _write(session: Session, job_id: int, state: ChartState) -> None:
    session.execute(update(_JOB).where(_JOB.c.id == job_id).values(state=STATE.dump_python(state, mode="json")))


def _together(charts: Sequence[ChartKept], touched: set[int] | None) -> list[ChartKept]:
    """The charts that teach together: those with a paint of `touched`, those that share one with them, and so on."""
    if touched is None:
        return list(charts)
    found: dict[int, ChartKept] = {}
    reached = set(touched)
    while True:
        more = [one for one in charts if one.number not in found and reached & {paint.id for paint in one.plan.paints}]
        if not more:
            return [one for one in charts if one.number in found]
        for one in more:
            found[one.number] = one
            reached |= {paint.id for paint in one.plan.paints}


def _learn(session: Session, touched: set[int] | None, *, hold_out: bool) -> None:
    """Learn the strengths of paints from all charts that teach them, and keep them and how right each chart is."""
    charts = _together(_charts(session), touched)
    ids = sorted({paint.id for one in charts for paint in one.plan.paints})
    whites = {one.plan.white.id for one in charts if one.plan.white is not None}
    paints = several(session, sorted({*ids, *whites}))
    place = {paint_id: n for n, paint_id in enumerate(sorted(paints))}
    sight = replace(bench(session), whites=frozenset(whites))
    by = palette_of([paints[one] for one in place], sight, None, taught=False)
    by.strength_sd[[place[white] for white in whites]] = 0.0
    told = [
        (one.number, [(place[paint_at(one.plan, n).id], grams) for n, grams in mixture_of(one.plan, square)], seen)
        for one in charts
        for square in core.squares(one.plan.layout)
        if (seen := one.state.squares.get(square.code)) is not None
    ]
    learned = None
    weights, read = weights_of([parts for _, parts, _ in told], len(place)), np.array([seen.lab for *_, seen in told])
    if told:
        learned = learn(by, weights, read, np.array([seen.off for *_, seen in told]), hold_out=hold_out)
    _keep(session, ids, place, by, learned)
    of = np.array([number for number, *_ in told], int)
    measured = np.array([seen.how != BY_EYE for *_, seen in told], bool)
    for one in charts:
        state = replace(one.state, before=None, after=None, held_out=one.state.held_out if not hold_out else None)
        # How right a chart is told by what was measured: a word said beside the prediction starts out from it.
        here = (of == one.number) & measured
        if learned is not None and here.any():
            state = replace(
                state,
                before=_median(by, weights[here], read[here], np.zeros(len(place))),
                after=_median(by, weights[here], read[here], np.array(learned.strength)),
                held_out=learned.held_out if hold_out else one.state.held_out,
            )
        elif not one.state.squares:
            state = replace(state, held_out=None)
        _write(session, one.job_id, state)


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
