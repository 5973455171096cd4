"""Judging only: forty pastes, one after another, named by their body."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Annotated
from uuid import UUID

from pydantic import Field
from sqlalchemy.orm import Session

from niddy.core import practice
from niddy.core.documents import Document
from niddy.core.errors import Refused
from niddy.core.eye import place_said
from niddy.core.practice import PASTES, Exercise, Seen
from niddy.core.slab import Status
from niddy.core.wetting import Body, body_at
from niddy.db.practice import PracticeTry
from niddy.studio import log
from niddy.studio.errors import Conflict, Missing
from niddy.studio.practice.eye import EyeSeen, eye_seen, sharpen
from niddy.studio.practice.kept import row_of

JUDGE = "judge"


class JudgeAsked(Document):
    """The body that a paste is said to have, and which of the forty it is, from 1."""

    id: UUID
    place: Annotated[int, Field(strict=True, ge=1, le=PASTES)]
    body: Body


@dataclass(frozen=True, slots=True)
class Judged:
    """One paste that was judged: what was said, what it was."""

    place: int
    said: Body
    was: Body
    right: bool
    says: str


@dataclass(frozen=True, slots=True)
class JudgingView:
    """Judging as it stands: the paste now (None once all are done), those judged, the eye so far."""

    number: int
    status: Status
    maker: str
    seed: int
    place: int
    of: int
    seen: Seen | None
    judged: tuple[Judged, ...]
    right: int
    eye: EyeSeen


def judging(session: Session, number: int) -> JudgingView:
    """Judging as it stands. Raises Missing."""
    return _view(session, _row(session, number))


def _row(session: Session, number: int, *, locked: bool = False) -> PracticeTry:
    row = row_of(session, number, locked=locked)
    if row.exercise != Exercise.JUDGING:
        raise Missing("judging", number)
    return row


def _view(session: Session, row: PracticeTry) -> JudgingView:
    pastes = practice.pastes(row.seed)
    judged = tuple(_judged(n + 1, Body(said), true) for n, (true, said) in enumerate(row.judgements))
    place = len(judged) + 1
    open_ = row.status == Status.OPEN and place <= PASTES
    return JudgingView(
        row.number,
        Status(row.status),
        row.maker,
        row.seed,
        min(place, PASTES),
        PASTES,
        practice.seen_at(pastes[place - 1]) if open_ else None,
        judged,
        sum(one.right for one in judged),
        eye_seen(session, row.maker),
    )


def _judged(place: int, said: Body, true: float) -> Judged:
    was = body_at(true)
    bodies = list(Body)
    off = bodies.index(was) - bodies.index(said)
    says = f"It was {place_said(true)}."
    if off:
        says += f" You said {said}: {abs(off)} too {'stiff' if off > 0 else 'soft'}."
    return Judged(place, said, was, not off, says)


def judge(session: Session, now: datetime, number: int, asked: JudgeAsked) -> JudgingView:
    """Name the body of the paste that is up. Sent again it changes nothing. Raises Refused, Missing, Conflict."""
    row = _row(session, number, locked=True)
    payload = {"place": asked.place, "body": asked.body}
    if log.known(session, row.job_id, asked.id, JUDGE, payload):
        return _view(session, row)
    place = len(row.judgements) + 1
    if row.status != Status.OPEN:
        raise Conflict("place", "all of them are judged", "another forty")
    if asked.place != place:
        raise Refused("place", f"paste {asked.place} is not up", f"paste {place}")
    true = practice.pastes(row.seed)[place - 1]
    status = Status.FINISHED if place == PASTES else Status.OPEN
    row.judgements = [*row.judgements, [true, asked.body]]
    session.flush()
    log.append(session, now, row.job_id, log.New(asked.id, JUDGE, now, payload, {}), row.last_seq + 1, status=status)
    session.refresh(row)
    sharpen(session, row.maker)
    return _view(session, row)
