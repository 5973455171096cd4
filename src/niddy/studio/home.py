"""Home: what is on the bench, what next."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime

from sqlalchemy.orm import Session

from niddy.core.slab import Status
from niddy.studio import (
    additives,
    batches,
    checks,
    making,
    materials,
    mixing,
    plan,
    practice,
    recipes,
    rubout,
    shelf,
    slab,
    sludge,
    sticks,
    tubes,
    workshop,
)
from niddy.studio.batches import BatchLine, LateBatch, Search
from niddy.studio.materials import LotKept
from niddy.studio.remembered import remembered
from niddy.studio.shelf import ItemLine
from niddy.studio.slab import SlabNow
from niddy.studio.sludge import CanLine


@dataclass(frozen=True, slots=True)
class OnBench:
    """An open batch and the next thing to do with it."""

    batch: BatchLine
    undertone_srgb: str
    line: str
    grams: float | None
    reason: str
    told: str = ""


@dataclass(frozen=True, slots=True)
class Counts:
    """What waits at each station of the work."""

    stock: int
    rubout: int
    plan: int
    slab: int
    check: int
    recipes: int
    batches: int
    additives: int
    tubes: int
    shelf: int
    sticks: int
    sludge: int
    making: int
    practice: int
    mixing: int


@dataclass(frozen=True, slots=True)
class Home:
    """What is on the bench, what waits at each station, what to beware of; what is due and what next is the day's."""

    studio_name: str
    now: datetime
    counts: Counts
    on_bench: tuple[OnBench, ...]
    recent: tuple[BatchLine, ...]
    low: tuple[LotKept, ...]
    past_use_by: tuple[BatchLine, ...]
    at_risk: tuple[ItemLine, ...]
    came_late: tuple[LateBatch, ...]
    cans: tuple[CanLine, ...]
    slabs: tuple[SlabNow, ...]


def home(session: Session, now: datetime) -> Home:
    """The home view."""
    return replace(remembered(session, now, "home", lambda: _home(session, now)), now=now)


def _home(session: Session, now: datetime) -> Home:
    open_batches = batches.search(session, Search(status=Status.OPEN, limit=6)).batches
    bench = []
    for line in open_batches:
        seen = slab.view(session, now, line.number)
        advice = seen.advice
        bench.append(
            OnBench(
                line,
                seen.undertone_srgb,
                advice.line,
                advice.grams,
                advice.reason,
                told.words if (told := seen.advice_told) else "",
            )
        )
    finished = batches.latest_finished(session, tubes.LOOKED_AT)
    recent = finished[:5]
    low = materials.low_lots(session)
    due_now = sum(wait.overdue for wait in checks.all_due(session, now))
    pots = [pot for pot in sticks.pots(session, now) if pot.status == Status.OPEN or pot.waits]
    cans, dishes = sludge.at_home(session, now)
    counts = Counts(
        len(low),
        rubout.open_tests(session),
        len(plan.saved(session)[:6]),
        len(open_batches),
        due_now,
        recipes.count(session),
        len(recent),
        len(additives.halos_due(session, now)),
        len(tubes.to_fill(session, finished)),
        shelf.due_count(session, now),
        len(pots),
        len(dishes),
        len(making.at_home(session, now)),
        practice.open_tries(session),
        mixing.to_paint(session),
    )
    return Home(
        workshop.settings(session).name,
        now,
        counts,
        tuple(bench),
        recent,
        low,
        batches.past_use_by(session, now.date()),
        shelf.at_risk(session, now),
        batches.with_late(session),
        cans,
        slab.slabs_now(session, now),
    )
