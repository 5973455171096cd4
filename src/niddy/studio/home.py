"""Home: what is on the bench now, what asks for attention, and the counts that ask for a hand today."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from datetime import datetime

from sqlalchemy.orm import Session

from niddy.core.slab import Status
from niddy.studio import (
    additives,
    batches,
    checks,
    jobs,
    making,
    materials,
    rubout,
    shelf,
    slab,
    sludge,
    sticks,
    tubes,
    workshop,
)
from niddy.studio.batches import BatchLine, LateBatch, Search
from niddy.studio.practice.kept import ROOM as PRACTICE
from niddy.studio.remembered import remembered
from niddy.studio.slab import SlabNow

AT_MOST = 3
"""So many things ask for attention at once: the most harmful first."""


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
class Attention:
    """Something to see to, in a sentence, and where; `harm` where leaving it can hurt or spoil."""

    says: str
    page: str
    harm: bool


@dataclass(frozen=True, slots=True)
class Counts:
    """What asks for a hand today at each station of the work."""

    rubout: int
    slab: int
    check: int
    tubes: int
    additives: int
    sticks: int
    sludge: int
    making: int


@dataclass(frozen=True, slots=True)
class Home:
    """What is on the bench and asks for attention; what is due is the day's. `empty`: nothing was ever begun here."""

    studio_name: str
    now: datetime
    empty: bool
    counts: Counts
    on_bench: tuple[OnBench, ...]
    open_pots: tuple[sticks.PotLine, ...]
    attention: tuple[Attention, ...]
    came_late: tuple[LateBatch, ...]
    slabs: tuple[SlabNow, ...]
    left_alone: tuple[sticks.PotAlone, ...]


def home(session: Session, now: datetime) -> Home:
    """The home view."""
    return replace(remembered(session, now, "home", lambda: _home(session, now)), now=now)


def _empty(session: Session) -> bool:
    """Whether nothing was ever begun in this studio, whatever the craft; a practice is no beginning."""
    return not jobs.any_begun(session, {PRACTICE}) and not materials.lots(session, with_used_up=True, limit=1)


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
    pots = [pot for pot in sticks.pots(session, now) if pot.status == Status.OPEN or pot.waits]
    cans, dishes = sludge.at_home(session, now)
    counts = Counts(
        rubout.open_tests(session),
        len(open_batches),
        sum(wait.overdue for wait in checks.all_due(session, now)),
        len(tubes.to_fill(session, finished)),
        len(additives.halos_due(session, now)),
        len(pots),
        len(dishes),
        len(making.at_home(session, now)),
    )
    enough = [can for can in cans if can.enough is not None and can.settled.ready]
    return Home(
        workshop.settings(session).name,
        now,
        _empty(session),
        counts,
        tuple(bench),
        tuple(pot for pot in pots if pot.status == Status.OPEN),
        tuple(_attention(session, now, enough))[:AT_MOST],
        batches.with_late(session),
        slab.slabs_now(session, now),
        sticks.left_alone(session, now),
    )


def _attention(session: Session, now: datetime, enough: list[sludge.CanLine]) -> Iterator[Attention]:
    """What asks for attention, the most harmful first, each thing once."""
    past = batches.past_use_by(session, now.date())
    if len(past) == 1:
        first = f"{past[0].name}, batch {past[0].number}"
        yield Attention(f"{first}, is past its use-by: throw it away", f"/batches/{past[0].number}", harm=True)
    elif past:
        yield Attention(f"{len(past)} batches are past their use-by: throw them away", "/batches", harm=True)
    risk = shelf.at_risk(session, now)
    if len(risk) == 1:
        one = risk[0]
        yield Attention(f"{one.name} {one.code}: {one.last_seen or 'past its use-by'}", f"/shelf/{one.id}", harm=True)
    elif risk:
        yield Attention(
            f"{len(risk)} tubes or jars are separated, skinned or too old: save them", "/shelf?show=risk", harm=True
        )
    low = materials.low_lots(session)
    if low:
        more = f" and {len(low) - 1} more" if len(low) > 1 else ""
        page = f"/stock/{low[0].id}" if len(low) == 1 else "/stock"
        yield Attention(f"Running low: {low[0].name}{more}", page, harm=False)
    for can in enough:
        yield Attention(f"{can.name}: clear, and enough for a tube", f"/sludge/cans/{can.number}", harm=False)
    due = shelf.due_count(session, now)
    if due:
        yield Attention(
            f"{due} {'tube or jar' if due == 1 else 'tubes and jars'} to look at", "/shelf?show=due", harm=False
        )
