"""The practice room: the exercises, a maker's tries at each, and how the eye does."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from niddy.core import practice
from niddy.core.practice import About, Exercise
from niddy.core.slab import Status
from niddy.core.wetting import body_at
from niddy.db.practice import PracticeTry
from niddy.studio.practice.eye import EyeSeen, eye_seen
from niddy.studio.practice.trying import SCORE

TRIES_SHOWN = 12
"""So many of the last tries at an exercise a chart shows."""


@dataclass(frozen=True, slots=True)
class TryLine:
    """One finished try: the figures progress is read from. `right_of` counts where it was judging only."""

    number: int
    seed: int
    at: datetime
    advised: bool
    right: bool
    overshoot_g: float
    overshoot_tubes: float
    ladder_overshoot_tubes: float
    oil_error_pct: float
    corrections: int
    minutes: float
    right_of: int | None


@dataclass(frozen=True, slots=True)
class AtExercise:
    """An exercise, a maker's tries at it, oldest first, and the one that is open."""

    about: About
    tries: tuple[TryLine, ...]
    done: int
    open_number: int | None
    open_since: datetime | None
    says: str


@dataclass(frozen=True, slots=True)
class PracticeRoom:
    """The practice room for one maker, and who else practises here."""

    maker: str
    makers: tuple[str, ...]
    exercises: tuple[AtExercise, ...]
    eye: EyeSeen
    next: Exercise


def room(session: Session, maker: str) -> PracticeRoom:
    """The practice room as it is for a maker."""
    maker = maker.strip()
    rows = list(
        session.scalars(
            select(PracticeTry)
            .where(PracticeTry.maker == maker, PracticeTry.status != Status.ABANDONED)
            .order_by(PracticeTry.started_at, PracticeTry.number)
        )
    )
    makers = tuple(session.scalars(select(PracticeTry.maker).distinct().order_by(PracticeTry.maker)))
    exercises = tuple(_at(about, [row for row in rows if row.exercise == about.exercise]) for about in practice.ABOUT)
    following = next((one for one in exercises if one.open_number is not None), None)
    following = following or next((one for one in exercises if not one.done), None)
    following = following or min(exercises, key=lambda one: one.done)
    return PracticeRoom(maker, makers, exercises, eye_seen(session, maker), following.about.exercise)


def _at(about: About, rows: list[PracticeTry]) -> AtExercise:
    done = [row for row in rows if row.status == Status.FINISHED]
    open_ = next((row for row in reversed(rows) if row.status == Status.OPEN), None)
    lines = tuple(_line(row) for row in done[-TRIES_SHOWN:])
    return AtExercise(
        about, lines, len(done), open_.number if open_ else None, open_.started_at if open_ else None, _says(lines)
    )


def _line(row: PracticeTry) -> TryLine:
    at = row.ended_at or row.started_at
    if row.exercise == Exercise.JUDGING:
        right = sum(1 for true, said in row.judgements if _named(true, said))
        return TryLine(
            row.number, row.seed, at, row.advised, right * 2 > len(row.judgements), 0.0, 0.0, 0.0, 0.0, 0, 0.0, right
        )
    score = SCORE.validate_python(row.score)
    mine = score.mine
    return TryLine(
        row.number,
        row.seed,
        at,
        row.advised,
        mine.right,
        mine.overshoot_g,
        mine.overshoot_tubes,
        score.ladder.overshoot_tubes,
        mine.oil_error_pct,
        mine.corrections,
        mine.minutes,
        None,
    )


def _named(true: float, said: Any) -> bool:
    return bool(body_at(true) == said)


LATELY = 3
"""Progress compares so many tries with those before them."""


def _says(lines: tuple[TryLine, ...]) -> str:
    """How it goes, in a few words: the last tries against those before."""
    if not lines:
        return ""
    if lines[-1].right_of is not None:
        return f"{lines[-1].right_of} of {practice.PASTES} right last time"
    late = lines[-LATELY:]
    right = sum(line.right for line in late)
    over = sum(line.overshoot_tubes > 0.05 for line in late)
    if len(lines) == 1:
        return "right the first time" if lines[0].right else f"{abs(lines[0].oil_error_pct):.0f} % off last time"
    went_over = f", {over} went over" if over else ", none went over"
    return f"{right} of the last {len(late)} right{went_over}"
