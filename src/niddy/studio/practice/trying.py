"""Trying: an exercise begun, its acts under the rules of the slab, its clock, its end."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime
from typing import Annotated, Any
from uuid import UUID, uuid5

from pydantic import Field, TypeAdapter
from sqlalchemy import insert
from sqlalchemy.orm import Session

from niddy.core import practice
from niddy.core.advice import Advice, NextAct
from niddy.core.correction import NEAR_ENOUGH
from niddy.core.documents import Document
from niddy.core.errors import Refused
from niddy.core.practice import MOST_SEED, Exercise, PracticeNow, Score
from niddy.core.slab import Kind, Status, Way
from niddy.core.ways import BLOTTING_LIMIT_FRACTION
from niddy.core.words import Words
from niddy.db.base import table_of
from niddy.db.practice import PracticeTry
from niddy.reference import library
from niddy.studio import jobs, log, slab
from niddy.studio.errors import Conflict
from niddy.studio.practice.eye import sharpen
from niddy.studio.practice.kept import BEGUN, BEGUN_VERSION, ROOM, Try, a_try, row_of, try_of
from niddy.studio.slab import Act, LookAct, SlabView

OIL_KEY = "linseed-refined"
"""What every exercise is ground in: the oil in which oil absorption is stated."""

Maker = Annotated[Words, Field(max_length=40)]


class TryAsked(Document):
    """An exercise to begin: whose try it is, its seed where the paste is to be the same again, with advice or not.

    `id` is the client's own, so that asking twice begins one try.
    """

    id: UUID
    exercise: Exercise
    maker: Maker = ""
    seed: Annotated[int, Field(strict=True, ge=0, le=MOST_SEED)] | None = None
    advised: Annotated[bool, Field(strict=True)] | None = None


class PassAsked(Document):
    """So many seconds that the clock of the practice slab moves on."""

    seconds: Annotated[float, Field(strict=True, gt=0, le=7_200)]


SCORE: TypeAdapter[Score] = TypeAdapter(Score)
_TRY = table_of(PracticeTry)


def begin(session: Session, now: datetime, asked: TryAsked) -> int:
    """Begin a try; its number. The same id again gives the same try. Raises Conflict."""
    # A seed of its own where none is asked for; asked again under the same id, it is the same.
    seed = asked.seed if asked.seed is not None else asked.id.int % (MOST_SEED + 1)
    about = practice.about(asked.exercise)
    advised = about.advised if asked.advised is None else asked.advised
    judging = asked.exercise is Exercise.JUDGING
    pigments, oil = list(library().pigments.values()), library().oils[OIL_KEY]
    begun = None if judging else practice.begin(asked.exercise, seed, pigments, oil)
    name = about.name if begun is None else f"{about.name}: {begun.plan.name}"
    made = jobs.begin_job(
        session,
        ROOM,
        now,
        asked.id,
        name,
        {"exercise": asked.exercise, "seed": seed, "maker": asked.maker.strip(), "advised": advised},
        plan=BEGUN.dump_python(begun, mode="json") if begun is not None else None,
        plan_version=BEGUN_VERSION,
    )
    if not made.anew:
        return made.number
    session.execute(
        insert(_TRY).values(
            number=made.number,
            job_id=made.job_id,
            exercise=asked.exercise,
            seed=seed,
            maker=asked.maker.strip(),
            advised=advised,
            ahead_s=0.0,
            judgements=[],
        )
    )
    if begun is not None:
        for document in _opening(begun, now, asked.id):
            _log(session, now, a_try(session, made.number), slab.act_of(document))
    return made.number


def _opening(begun: practice.Begun, now: datetime, request_id: UUID) -> list[dict[str, Any]]:
    """What was done before the exercise begins, as acts of the slab."""
    documents = []
    for n, event in enumerate(practice.opening(begun, now)):
        document: dict[str, Any] = {"id": uuid5(request_id, f"{n}"), "kind": event.kind, "made_at": event.made_at}
        done = begun.done[n]
        if done.spoons is not None:
            document |= {"source": event.source, "measure": {"unit": "teaspoon", "amount": done.spoons}}
        elif done.grams is not None:
            document |= {"source": event.source, "measure": {"amount": done.grams}}
        if event.stage is not None:
            document["stage"] = event.stage
        if event.ended_by is not None:
            document["ended_by"] = event.ended_by
        documents.append(document)
    return documents


def view(session: Session, now: datetime, number: int) -> SlabView:
    """The slab of a try as it is. Raises Missing."""
    return view_of(session, now, a_try(session, number))


def view_of(session: Session, now: datetime, one: Try) -> SlabView:
    """The slab of a try already read. Where advice is hidden, what would give it away is left out."""
    clock = one.clock(now)
    seen = slab.view_of(session, clock, one.kept)
    row, about = one.row, practice.about(Exercise(one.row.exercise))
    over = row.status != Status.OPEN
    score = SCORE.validate_python(row.score) if row.score else None
    shown = PracticeNow(
        about.exercise,
        about.name,
        about.goes_wrong,
        about.task,
        one.begun.known,
        row.seed,
        row.maker,
        row.advised,
        practice.under_the_knife(one.last_moment(), one.begun, clock),
        one.begun.powder_price,
        practice.STREAM_G_PER_S,
        one.begun.plan.oil.drop_g,
        score,
        practice.compared(about.exercise, score) if score else (),
        practice.lot_says(about.exercise, score) if score else "",
        practice.answered(one.last_moment(), one.begun) if not over else "",
    )
    seen = replace(
        seen,
        practice=shown,
        ways=tuple(way for way in seen.ways if way.way is not Way.STABILISE),
        timeline=tuple(
            replace(line, can_strike=line.can_strike and line.kind in _STRIKEABLE) for line in seen.timeline
        ),
    )
    if row.advised or over:
        return seen
    quiet = tuple(replace(line, body=None, expected=None, as_expected=None) for line in seen.timeline)
    return replace(
        seen,
        advice=Advice(NextAct.LOOK, "Your call.", "Niddy keeps quiet: pour, mull or look as you see fit."),
        advice_told=None,
        rungs=(),
        body_says="",
        body=None,
        doubt=None,
        timeline=quiet,
    )


_STRIKEABLE = (Kind.LOOK, Kind.NOTE)
_HERE = {
    Kind.OIL,
    Kind.POWDER,
    Kind.MULL,
    Kind.PAUSE,
    Kind.SCRAPE,
    Kind.LOAD_DONE,
    Kind.GATHER,
    Kind.LOOK,
    Kind.PHASE,
    Kind.NOTE,
    Kind.CHOOSE_WAY,
    Kind.DRAW_OIL,
    Kind.ANSWER,
    Kind.STRIKE,
    Kind.FINISH,
    Kind.ABANDON,
    Kind.READY,
}
_NO_KIND = "pour, powder, mull, look, a way back, or the end"


def record(session: Session, now: datetime, number: int, act: Act) -> SlabView:
    """Log an act at the practice slab; the slab after it. Sent again it changes nothing.

    The rules are those of the slab; besides, what was poured stays poured. Raises Refused, Missing, Conflict.
    """
    one = a_try(session, number, locked=True)
    if log.known(session, one.row.job_id, act.id, act.kind, slab.payload_of(act)):
        return view_of(session, now, one)
    return view_of(session, now, _log(session, now, one, act))


def _log(session: Session, now: datetime, one: Try, act: Act) -> Try:
    clock = one.clock(now)
    _check(one, act)
    payload = slab.payload_of(act)
    into = slab.entered(session, clock, one.kept, act, payload)
    event = into.event
    new = log.New(event.id, event.kind, event.made_at, payload, into.facts, event.strikes)
    log.append(session, clock, one.row.job_id, new, event.seq, status=into.paste.status)
    session.refresh(one.row)
    after = try_of(session, one.row)
    if event.kind in (Kind.FINISH, Kind.ABANDON):
        _end(session, after, scored=event.kind is Kind.FINISH)
    return after


def _check(one: Try, act: Act) -> None:
    """Refuse what practice has not, and what would undo a pour."""
    if one.row.status == Status.ABANDONED:
        raise Refused("kind", "this practice was thrown away", "another try")
    if act.kind not in _HERE:
        raise Refused("kind", "practice has no such act", _NO_KIND)
    if act.kind is Kind.STRIKE:
        named = next((logged for logged in one.log if logged.event.id == act.strikes), None)
        if named is not None and named.event.kind not in _STRIKEABLE:
            raise Refused("strikes", "what went in stays in the paste", "a way back; a look can be taken back")
    if isinstance(act, LookAct) and act.body is not None and one.kept.paste.oil_g <= 0:
        raise Refused("body", "there is no paste yet: no oil is in", "a body once there is oil on the powder")
    if act.kind is Kind.CHOOSE_WAY and act.way is Way.STABILISE:
        raise Refused("way", "nothing is stirred in here", "more powder, oil drawn out, or leaving it")
    if act.kind is Kind.DRAW_OIL and act.measure.amount is not None:
        most = one.kept.paste.oil_g * BLOTTING_LIMIT_FRACTION
        if act.measure.amount > most * (1 + NEAR_ENOUGH):
            raise Refused("measure.amount", "paper never draws so much", f"up to {most:.1f} g; powder does the rest")


def _end(session: Session, one: Try, *, scored: bool) -> None:
    """Keep what came of it: the score, and every judgement against the truth."""
    row = one.row
    row.judgements = [[j.true_reduced_pvc, j.said_body] for j in practice.judgements(one.events, one.begun)]
    if scored:
        score = practice.score_of(Exercise(row.exercise), one.events, one.begun, row.started_at)
        row.score = SCORE.dump_python(score, mode="json")
    session.flush()
    sharpen(session, row.maker)


def pass_time(session: Session, now: datetime, number: int, asked: PassAsked) -> SlabView:
    """Move the clock of the practice slab on: nobody mulls ten minutes of air. Raises Missing, Conflict."""
    one = a_try(session, number, locked=True)
    if one.row.status != Status.OPEN:
        raise Conflict("seconds", "this practice is over", "another try")
    one.row.ahead_s += asked.seconds
    session.flush()
    return view_of(session, now, one)


def show_advice(session: Session, now: datetime, number: int) -> SlabView:
    """From here on Niddy's advice shows; the try says so. Raises Missing."""
    one = a_try(session, number, locked=True)
    one.row.advised = True
    session.flush()
    # Every window looks again: an answer that was on its way may still be without it.
    log.tell(session, one.row.job_id)
    return view_of(session, now, one)


def throw_away(session: Session, now: datetime, number: int) -> None:
    """Throw a try away that is not over: it counts for nothing. Raises Missing."""
    row = row_of(session, number, locked=True)
    if row.status == Status.OPEN:
        row.judgements = []
        session.flush()
        log.note_end(session, now, row.job_id, Status.ABANDONED)
        log.tell(session, row.job_id)
