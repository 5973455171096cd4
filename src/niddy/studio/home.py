"""Home: what is on the bench, what next."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from sqlalchemy.orm import Session

from niddy.core.slab import Status
from niddy.studio import (
    additives,
    batches,
    checks,
    making,
    materials,
    plan,
    recipes,
    rubout,
    shelf,
    slab,
    sludge,
    sticks,
    tubes,
    workshop,
)
from niddy.studio.additives import LadderLine
from niddy.studio.batches import BatchLine, LateBatch, Search
from niddy.studio.checks import DueCheck
from niddy.studio.making import RunAtRoom
from niddy.studio.materials import LotKept
from niddy.studio.plan import PlanKept
from niddy.studio.shelf import ItemLine
from niddy.studio.sludge import CanLine, DishLine
from niddy.studio.sticks import PotLine


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


@dataclass(frozen=True, slots=True)
class Home:
    """The answer to: what is on the bench, and what next."""

    studio_name: str
    now: datetime
    counts: Counts
    on_bench: tuple[OnBench, ...]
    plans: tuple[PlanKept, ...]
    recent: tuple[BatchLine, ...]
    low: tuple[LotKept, ...]
    due: tuple[DueCheck, ...]
    past_use_by: tuple[BatchLine, ...]
    halos: tuple[LadderLine, ...]
    inspect: tuple[ItemLine, ...]
    at_risk: tuple[ItemLine, ...]
    came_late: tuple[LateBatch, ...]
    pots: tuple[PotLine, ...]
    sludge: SludgeHome
    making: tuple[RunAtRoom, ...]


@dataclass(frozen=True, slots=True)
class SludgeHome:
    """What home tells of the sludge: whether there is enough for a tube, and the dishes that dry."""

    cans: tuple[CanLine, ...]
    dishes: tuple[DishLine, ...]


def home(session: Session, now: datetime) -> Home:
    """The home view."""
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
    kept_plans = plan.saved(session)[:6]
    finished = batches.latest_finished(session, tubes.LOOKED_AT)
    recent = finished[:5]
    low = materials.low_lots(session)
    waits = checks.all_due(session, now)
    due_now = sum(wait.overdue for wait in waits)
    halos = additives.halos_due(session, now)
    pots = tuple(pot for pot in sticks.pots(session, now) if pot.status == Status.OPEN or pot.waits)
    cans, dishes = sludge.at_home(session, now)
    runs = making.at_home(session, now)
    counts = Counts(
        len(low), rubout.open_tests(session), len(kept_plans), len(open_batches), due_now, recipes.count(session),
        len(recent), len(halos), len(tubes.to_fill(session, finished)), shelf.due_count(session, now),
        len(pots), len(dishes), len(runs),
    )  # fmt: skip
    week = tuple(wait for wait in waits if wait.at <= now + timedelta(days=7))
    return Home(workshop.settings(session).name, now, counts, tuple(bench), kept_plans, recent, low, week,
                batches.past_use_by(session, now.date()), halos,
                shelf.due(session, now), shelf.at_risk(session, now), batches.with_late(session), pots[:8],
                SludgeHome(cans, dishes[:6]), runs[:6])  # fmt: skip
