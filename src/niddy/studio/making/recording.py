"""The log of a run, and all that follows from an act: stock drawn, the step done, a lot of pigment."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime

from sqlalchemy import update
from sqlalchemy.orm import Session

from niddy.core import making as core
from niddy.core.acting import payload_of
from niddy.core.log import Status
from niddy.core.making import RunAct, RunActFacts, RunLogged
from niddy.core.making.acts import WeighedIn, words_of
from niddy.core.making.trying import PowderToStock
from niddy.db.base import table_of
from niddy.db.making import PigmentRun
from niddy.studio.log import Entry
from niddy.studio.making.checking import check, check_undo, step_of
from niddy.studio.making.facts import facts_of
from niddy.studio.making.pigments import into_stock
from niddy.studio.making.runs import ROOM, RUN_ACTS, RunKept, grown, run, with_act
from niddy.studio.materials import LotDraw
from niddy.studio.recorder import LogRoom

_RUN = table_of(PigmentRun)


def _facts(session: Session, now: datetime, kept: RunKept, act: RunAct) -> RunActFacts:
    """What the record makes of an act, with the step it is of and whether that is done with it. Raises Refused."""
    step = step_of(kept, act)
    facts = facts_of(session, kept, act)
    if step is not None:
        facts = replace(facts, step=step.key)
    check(kept, act, facts)
    entry = Entry(act.id, kept.last_seq + 1, act.kind, payload_of(act), RUN_ACTS.facts_doc(facts), None, act.made_at)
    if core.completes(kept.process, kept.plan.weigh, kept.run, with_act(kept, entry), act, step):
        facts = replace(facts, completes=True)
    if isinstance(act, PowderToStock):
        lot_id, per_g = into_stock(session, now, kept, act)
        facts = replace(facts, lot_id=lot_id, per_g=per_g)
    return facts


def _grown(session: Session, kept: RunKept, entry: Entry) -> RunKept:
    state = with_act(kept, entry)
    return replace(kept, run=state, status=state.status, last_seq=entry.seq)


def _draws(kept: RunKept, logged: RunLogged) -> tuple[LotDraw, ...]:
    facts = logged.facts
    if not isinstance(logged.act, WeighedIn) or facts.lot_id is None or facts.g is None:
        return ()
    return (LotDraw(facts.lot_id, facts.g),)


def _follow(session: Session, now: datetime, kept: RunKept, act: RunAct) -> RunKept:
    """The columns beside the log: what it came to, and when its light test is looked at next."""
    found = grown(session, kept)
    light = found.run.light
    summary = {
        "yield_g": found.run.yield_g if found.status is Status.FINISHED else None,
        "light_due_at": core.next_look(light) if light is not None else None,
    }
    session.execute(update(_RUN).where(_RUN.c.number == kept.number).values(summary))
    return found


def _words(kept: RunKept, logged: RunLogged) -> str:
    return words_of(logged, {step.key: step.says for step in kept.process.steps})


RUNS: LogRoom[RunKept, RunAct, RunActFacts] = LogRoom(
    ROOM,
    "run",
    RUN_ACTS,
    job=run,
    grown=_grown,
    words=_words,
    check_undo=lambda kept, logged: check_undo(kept, logged.act),
    facts=_facts,
    draws=_draws,
    follow=_follow,
)
