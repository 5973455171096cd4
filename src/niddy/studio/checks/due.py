"""Checks that wait for their day."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from niddy.core import checks
from niddy.core.checks import CheckKind
from niddy.core.due import Due
from niddy.db.checks import Check
from niddy.studio import batches, recipes

DUE_FOR = timedelta(days=21)
"""Batches finished longer ago than this ask for nothing any more."""


@dataclass(frozen=True, slots=True)
class DueCheck:
    """A check that waits: on which batch, since when."""

    number: int
    name: str
    masstone_srgb: str
    kind: CheckKind
    at: datetime
    says: str
    overdue: bool


def waits(session: Session, now: datetime) -> tuple[Due, ...]:
    """Checks that wait, for the calendar."""
    return tuple(
        Due(
            "checks",
            f"{wait.number}-{wait.kind}",
            wait.kind.replace("_", " ").capitalize(),
            f"{wait.name}, batch {wait.number}",
            wait.says,
            wait.at,
            f"/checks/{wait.number}",
        )
        for wait in all_due(session, now)
    )


def all_due(session: Session, now: datetime) -> tuple[DueCheck, ...]:
    """Every check that waits on the batches of the last weeks, the oldest first."""
    finished = [b for b in batches.finished_since(session, now - DUE_FOR) if b.release not in batches.RELEASED]
    numbers = [b.number for b in finished]
    counted: dict[int, dict[CheckKind, int]] = {}
    dried: set[int] = set()
    if numbers:
        rows = session.execute(
            select(Check.batch_number, Check.kind, func.count(), func.max(Check.value))
            .where(Check.batch_number.in_(numbers), Check.set_aside.is_(None))
            .group_by(Check.batch_number, Check.kind)
        )
        for number, kind, count, value in rows:
            counted.setdefault(number, {})[CheckKind(kind)] = count
            if kind == CheckKind.DRYING and value is not None:
                dried.add(number)
    waits: list[DueCheck] = []
    versions: dict[tuple[int, int | None], list[CheckKind]] = {}
    for batch in finished:
        assert batch.recipe_id is not None
        key = (batch.recipe_id, batch.recipe_version)
        if key not in versions:
            versions[key] = [w.kind for w in recipes.version_of(session, *key).wanted]
        dates = checks.due(batch.ended_at, versions[key], counted.get(batch.number, {}), batch.number in dried)
        waits += [
            DueCheck(batch.number, batch.name, batch.masstone_srgb, wait.kind, wait.at, wait.says, wait.at <= now)
            for wait in dates
        ]
    return tuple(sorted(waits, key=lambda wait: (wait.at, wait.number)))
