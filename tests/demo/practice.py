"""The demo's practice: forty pastes named by an eye that leans a little, and two tries at a paste that loosens."""

from __future__ import annotations

from datetime import datetime, timedelta
from random import Random

from sqlalchemy.orm import Session

from niddy.core import practice as core
from niddy.core.practice import Exercise
from niddy.core.slab import Event, Kind
from niddy.core.wetting import body_at
from niddy.studio import practice, slab
from niddy.studio.practice import JudgeAsked, TryAsked
from niddy.studio.practice.kept import a_try
from tests.demo.session import demo_id

LEANS, SCATTERS = 0.03, 0.035
JUDGED_SEED, TRIED_SEEDS = 11, (21, 34)


def practised(session: Session, now: datetime) -> None:
    """Practise on the evenings before."""
    at = now - timedelta(days=3)
    chance = Random(5)
    asked = TryAsked(id=demo_id("judging", 0), exercise=Exercise.JUDGING, seed=JUDGED_SEED)
    number = practice.begin(session, at, asked)
    for place, true in enumerate(core.pastes(JUDGED_SEED), 1):
        said = body_at(true + LEANS + chance.gauss(0, SCATTERS))
        judged = JudgeAsked(id=demo_id("judged", place), place=place, body=said)
        practice.judge(session, at + timedelta(seconds=8 * place), number, judged)
    for n, seed in enumerate(TRIED_SEEDS):
        _loosening(session, now - timedelta(days=2 - n), n, seed)
    _half_way(session, now - timedelta(minutes=30))


def _loosening(session: Session, at: datetime, n: int, seed: int) -> None:
    """One who mulls, looks and leaves it; the first time after pouring too soon."""
    asked = TryAsked(id=demo_id("loosening", n), exercise=Exercise.LOOSENING, seed=seed)
    number = practice.begin(session, at, asked)
    begun = a_try(session, number).begun
    clock = at + timedelta(minutes=1)
    if n == 0:
        poured = {"kind": "oil", "source": begun.plan.oil.source, "measure": {"amount": 1.2}}
        practice.record(session, clock, number, slab.act_of({"id": demo_id("poured", n), "made_at": clock, **poured}))
    for count, event in enumerate(core.follow(begun)[len(begun.done) :]):
        clock = at + timedelta(minutes=2) + (event.made_at - core.BEGUN_AT)
        act = slab.act_of({"id": demo_id(f"loosening-{n}", count), "made_at": clock, **_said(event)})
        practice.record(session, clock, number, act)


HALF_WAY_SEED, HALF_WAY_ACTS = 3, 4


def _half_way(session: Session, at: datetime) -> None:
    """A first pour as advised, mulled out and not looked at yet: left half way."""
    asked = TryAsked(id=demo_id("half-way", 0), exercise=Exercise.FIRST, seed=HALF_WAY_SEED)
    number = practice.begin(session, at, asked)
    begun = a_try(session, number).begun
    for count, event in enumerate(core.follow(begun)[len(begun.done) :][:HALF_WAY_ACTS]):
        clock = at + (event.made_at - core.BEGUN_AT)
        act = slab.act_of({"id": demo_id("half-way", 1 + count), "made_at": clock, **_said(event)})
        practice.record(session, clock, number, act)


def _said(event: Event) -> dict[str, object]:
    """An act of the made-up learner as a client would send it."""
    said: dict[str, object] = {"kind": event.kind}
    if event.kind is Kind.OIL and event.mass is not None:
        said |= {"source": event.source, "measure": {"amount": round(event.mass.median, 2)}}
    for name in ("stage", "body", "ended_by", "verdict"):
        value = getattr(event, name)
        if value is not None:
            said[name] = value
    return said
