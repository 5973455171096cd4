"""Jobs that can be put on a day, and what the day needs to know of each: minutes, colour, staining, oil, hazard."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import asdict, dataclass, replace
from datetime import date, datetime
from enum import StrEnum
from statistics import median
from typing import Annotated
from uuid import UUID

from pydantic import Field, TypeAdapter
from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert as insert_once
from sqlalchemy.orm import Session

from niddy.core.cautions import kept_apart
from niddy.core.colorimetry import lab_of_srgb
from niddy.core.day import CAKE_MIN, POT_MIN, fill_min
from niddy.core.documents import Document
from niddy.core.errors import Refused
from niddy.core.log import Status
from niddy.core.plan import Plan
from niddy.db.base import table_of
from niddy.db.day import DayJob
from niddy.studio import batches, materials, plan, recipes, sticks, tubes
from niddy.studio.day.crafts import CRAFTS, NEW, begun_in, one_of
from niddy.studio.errors import Missing
from niddy.studio.plan import PlanAsked

MOST_JOBS = 200


class JobKind(StrEnum):
    """What can be put on a day."""

    PLAN = "plan"
    RECIPE = "recipe"
    CAKE = "cake"
    FILL = "fill"
    STICKS = "sticks"
    RUN = "run"
    CAN = "can"
    DISH = "dish"
    CHART = "chart"
    NEW = "new"


AT_SLAB = {JobKind.PLAN, JobKind.RECIPE, JobKind.CAKE}
"""What takes a slab, and leaves it dirty."""


@dataclass(frozen=True, slots=True)
class Known:
    """What the day knows of a job: how long it takes and where from, and what cleaning after it depends on."""

    minutes: float
    minutes_say: str
    masstone_srgb: str
    staining: int = 0
    oil: str = ""
    hazard: bool = False

    @property
    def lightness(self) -> float:
        """L* of its colour."""
        return min(100.0, max(0.0, lab_of_srgb(self.masstone_srgb).L))


KNOWN: TypeAdapter[Known] = TypeAdapter(Known)


@dataclass(frozen=True, slots=True)
class Offer:
    """A job that could be put on: what it is called, and how long it would take where that is known at once."""

    kind: JobKind
    ref: int
    name: str
    says: str
    masstone_srgb: str


class DayJobAsked(Document):
    """A job to put on a day. `id` is the client's own, so that asking twice puts one on."""

    id: UUID
    kind: JobKind
    ref: Annotated[int, Field(strict=True, ge=1, le=2_147_483_647)]
    minutes: Annotated[float, Field(strict=True, ge=1, le=1_440)] | None = None


class MinutesAsked(Document):
    """How long a job takes, as somebody says; None for what is known of it."""

    minutes: Annotated[float, Field(strict=True, ge=1, le=1_440)] | None


def known_of_plan(session: Session, computed: Plan, minutes: float | None = None) -> Known:
    """What a plan says of the job."""
    keys = [line.pigment.key for line in computed.lines if line.share >= STAINS_FROM or line.extends_pct is not None]
    staining = [found.staining for key in keys if (found := materials.pigment_of(session, key)) is not None]
    own = minutes is not None
    planned = computed.minutes.value if computed.minutes is not None else CAKE_MIN
    return Known(
        round(minutes if minutes is not None else planned),
        "your own last batches" if own else "as planned",
        computed.masstone_srgb,
        max(staining, default=1),
        computed.oil.key or "blend",
        bool(kept_apart(tuple(caution.key for caution in computed.cautions))),
    )


def known_of_batch(session: Session, number: int) -> Known:
    """What is known of a batch by its plan, and as hazardous as what is really in the paste. Raises Missing."""
    kept = batches.batch(session, number, 0)
    apart = kept_apart(tuple(caution.key for caution in batches.cautions_now(kept)))
    return replace(known_of_plan(session, kept.plan), hazard=bool(apart))


STAINS_FROM = 0.1
"""A pigment below this share of the powder stains no slab to speak of (assumed)."""


def _of_plan(session: Session, ref: int) -> tuple[str, Known]:
    kept = plan.saved_plan(session, ref)
    return kept.name, known_of_plan(session, plan.compute(session, kept.asked).plan)


def _of_recipe(session: Session, ref: int) -> tuple[str, Known]:
    name = recipes.name_of(session, ref)
    made = batches.of_recipe(session, ref)
    grams = made[-1].pigment_g if made and made[-1].pigment_g > 0 else USUAL_POWDER_G
    again = recipes.again(session, ref, recipes.AgainAsked(pigment_g=round(grams, 2)))
    computed = plan.compute(session, again.plan).plan
    own = batches.session_minutes(session, ref)
    return name, known_of_plan(session, computed, median(own) if len(own) >= OWN_FROM else None)


USUAL_POWDER_G = 50.0
OWN_FROM = 2
"""From so many own sessions of a recipe on their median counts, before that the plan's minutes."""


def _of_cake(session: Session, ref: int) -> tuple[str, Known]:
    lot = materials.lot(session, ref)
    if lot.kind != "pigment" or lot.cake is None:
        raise Refused("ref", f"lot {lot.code} is not a cake", "a cake of sludge in stock")
    asked = PlanAsked.model_validate(
        {
            "lines": [{"lot_id": ref, "parts": 1.0}],
            "oil": {"oil_key": "linseed-refined"},
            "reduced_pvc": 0.86,
            "pigment_g": max(1.0, round(min(lot.on_hand, USUAL_POWDER_G), 1)),
        }
    )
    return f"{lot.name}, lot {lot.code}", known_of_plan(session, plan.compute(session, asked).plan)


def _of_fill(session: Session, ref: int) -> tuple[str, Known]:
    waiting = next((one for one in tubes.to_fill(session) if one.number == ref), None)
    if waiting is None:
        batches.line(session, ref)
        raise Refused("ref", f"batch {ref} has nothing left to fill", "a finished batch with paint still to fill")
    return f"{waiting.name}, batch {ref}", Known(round(fill_min(waiting.left_ml)), "assumed", waiting.masstone_srgb)


def _of_pot(session: Session, ref: int) -> tuple[str, Known]:
    pot = next(iter(sticks.several(session, [ref])), None)
    if pot is None:
        raise Missing("pot", ref, "ref")
    if pot.status != Status.OPEN:
        raise Refused("ref", f"pot {ref} is {pot.status}", "a pot that is not poured yet")
    return f"{pot.name}, pot {ref}", Known(POT_MIN, "assumed", pot.masstone_srgb)


def _of_craft(kind: JobKind) -> Callable[[Session, int], tuple[str, Known]]:
    def of(session: Session, ref: int) -> tuple[str, Known]:
        found = one_of(session, kind, ref)
        if found is None:
            raise Refused("ref", f"there is no open {kind} {ref}", f"a {kind} that is begun and not over")
        return found.name, Known(CRAFTS[kind].minutes, "assumed", NEUTRAL)

    return of


def _of_new(_: Session, ref: int) -> tuple[str, Known]:
    found = NEW.get(ref)
    if found is None:
        raise Refused("ref", f"there is no {ref}", f"1 to {len(NEW)}")
    return found.name, Known(found.minutes, "assumed", NEUTRAL)


NEUTRAL = "#8a8a86"
"""Of what has no colour yet."""

_FACTS: dict[JobKind, Callable[[Session, int], tuple[str, Known]]] = {
    JobKind.PLAN: _of_plan,
    JobKind.RECIPE: _of_recipe,
    JobKind.CAKE: _of_cake,
    JobKind.FILL: _of_fill,
    JobKind.STICKS: _of_pot,
    **{JobKind(kind): _of_craft(JobKind(kind)) for kind in CRAFTS},
    JobKind.NEW: _of_new,
}

PAGES = {
    JobKind.PLAN: "/plan?kept={ref}",
    JobKind.RECIPE: "/recipes/{ref}/again",
    JobKind.CAKE: "/plan?lot={ref}",
    JobKind.FILL: "/tubes/{ref}",
    JobKind.STICKS: "/sticks/{ref}",
    **{JobKind(kind): craft.page for kind, craft in CRAFTS.items()},
}
WHAT = {
    JobKind.PLAN: "grind",
    JobKind.RECIPE: "grind again",
    JobKind.CAKE: "grind the cake",
    JobKind.FILL: "fill",
    JobKind.STICKS: "make sticks",
    **{JobKind(kind): craft.what for kind, craft in CRAFTS.items()},
    JobKind.NEW: "begin",
}


def page_of(kind: JobKind, ref: int) -> str:
    """Where a job of the day is done."""
    return NEW[ref].page if kind is JobKind.NEW else PAGES[kind].format(ref=ref)


def put(session: Session, now: datetime, on_date: date, asked: DayJobAsked) -> None:
    """Put a job on a day. Twice with one id is once. Raises Refused, Missing."""
    if session.get(DayJob, asked.id) is not None:
        return
    if len(rows_of(session, on_date)) >= MOST_JOBS:
        raise Refused("kind", f"{MOST_JOBS} jobs are on this day already", f"up to {MOST_JOBS}")
    name, known = _FACTS[asked.kind](session, asked.ref)
    session.execute(
        insert_once(table_of(DayJob))
        .values(
            id=asked.id,
            on_date=on_date,
            kind=asked.kind,
            ref=asked.ref,
            name=name[:160],
            minutes=asked.minutes,
            put_at=now,
            facts=asdict(known),
        )
        .on_conflict_do_nothing()
    )


def set_minutes(session: Session, job_id: UUID, asked: MinutesAsked) -> None:
    """Say how long a job takes. Raises Missing."""
    _row(session, job_id).minutes = asked.minutes
    session.flush()


def take_off(session: Session, job_id: UUID) -> None:
    """Take a job off its day. Raises Missing."""
    session.delete(_row(session, job_id))
    session.flush()


def _row(session: Session, job_id: UUID) -> DayJob:
    row = session.get(DayJob, job_id)
    if row is None:
        raise Missing("job of a day", str(job_id))
    return row


def rows_of(session: Session, on_date: date) -> list[DayJob]:
    """The jobs put on a day, as they were put."""
    wanted = select(DayJob).where(DayJob.on_date == on_date).order_by(DayJob.put_at, DayJob.id)
    return list(session.scalars(wanted))


def known_of(row: DayJob) -> Known:
    """What was known of a job when it was put on, with the minutes somebody said since."""
    known = KNOWN.validate_python(row.facts)
    if row.minutes is None:
        return known
    return replace(known, minutes=row.minutes, minutes_say="as you said")


def offers(session: Session, taken: set[tuple[str, int]]) -> tuple[Offer, ...]:
    """What could be put on a day besides what is on it: what is kept, wanted or begun in any craft; and what is new."""
    found: list[Offer] = [
        Offer(JobKind.PLAN, kept.id, kept.name, "kept plan", "") for kept in plan.saved(session)[:OFFERED]
    ]
    for recipe in recipes.lines(session)[:OFFERED]:
        times = f"{recipe.batches} {'batch' if recipe.batches == 1 else 'batches'} so far"
        found.append(Offer(JobKind.RECIPE, recipe.id, recipe.name, times, recipe.masstone_srgb))
    for one in tubes.to_fill(session)[:OFFERED]:
        says = f"{one.left_ml:.0f} ml to fill"
        found.append(Offer(JobKind.FILL, one.number, f"{one.name}, batch {one.number}", says, one.masstone_srgb))
    for lot in materials.lots(session, kind="pigment", limit=OFFERED * 10):
        if lot.cake is not None and lot.on_hand > 0:
            says = f"{lot.on_hand:.0f} g of sludge cake"
            found.append(Offer(JobKind.CAKE, lot.id, f"{lot.name}, lot {lot.code}", says, lot.masstone_srgb or ""))
    for pot in sticks.open_pots(session)[:OFFERED]:
        name = f"{pot.name}, pot {pot.number}"
        found.append(Offer(JobKind.STICKS, pot.number, name, "a pot of sticks", pot.masstone_srgb))
    for kind, craft in CRAFTS.items():
        for begun in begun_in(session, kind, OFFERED):
            found.append(Offer(JobKind(kind), begun.number, begun.name, craft.says, ""))
    found += [Offer(JobKind.NEW, ref, new.name, f"about {new.minutes:.0f} min", "") for ref, new in NEW.items()]
    many = (JobKind.RECIPE, JobKind.NEW)
    return tuple(one for one in found if (one.kind, one.ref) not in taken or one.kind in many)


OFFERED = 40
