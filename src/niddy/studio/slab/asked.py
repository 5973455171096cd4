"""What the slab asks of a maker: an entry as it is made, or looks and log that contradict each other."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from uuid import UUID

from sqlalchemy.orm import Session

from niddy.core import slab
from niddy.core.measures import Unit
from niddy.core.plan import Plan
from niddy.core.slab import Entry, Event, Kind, Knowledge, Question
from niddy.studio import batches
from niddy.studio.batches import BatchKept, Logged


@dataclass(frozen=True, slots=True)
class SlipNow:
    """What an entry was perhaps meant to be: in a sentence, and as a measure."""

    says: str
    unit: Unit
    amount: float


@dataclass(frozen=True, slots=True)
class DoubtNow:
    """What is asked: in a sentence, with the entry that it may be about and what that was perhaps meant to be.

    `of_entry`: the entry itself is asked about, and nothing is advised from it before it was answered.
    """

    says: str
    suspect: UUID | None = None
    slips: tuple[SlipNow, ...] = ()
    of_entry: bool = False


def doubt_now(session: Session, kept: BatchKept, known: Knowledge) -> DoubtNow | None:
    """What is asked now, or None: entries first, then what looks and log say of each other."""
    for asked in known.paste.asked:
        slips = tuple(SlipNow(slip.says, slip.unit, slip.amount) for slip in asked.slips)
        return DoubtNow(asked.says, asked.act, slips, True)
    if known.doubt is None:
        return None
    # Whatever a screen shows of the log: the slip may stand far back in it.
    whole = batches.log(session, kept.job_id) if kept.earlier else kept.log
    found = slab.doubted(_entries(whole, kept, known), known)
    if found is None:
        return DoubtNow(known.doubt.says)
    act, slip = found
    return DoubtNow(known.doubt.says, act, (SlipNow(slip.says, slip.unit, slip.amount),))


def _entries(log: tuple[Logged, ...], kept: BatchKept, known: Knowledge) -> Iterator[Entry]:
    """The amounts in the log that count, newest first, as they were typed."""
    for logged in reversed(log):
        event = logged.event
        if logged.struck or event.mass is None or event.kind not in (Kind.POWDER, Kind.OIL):
            continue
        if (logged.payload.get("measure") or {}).get("unit") == Unit.EYE:
            continue
        planned = _planned_g(kept.plan, known, event)
        yield _entry(kept.plan, logged, told_g=planned, planned_g=planned, there_g=0.0)


def question(session: Session, kept: BatchKept, before: Knowledge, after: Knowledge, logged: Logged) -> Question | None:
    """What is asked about an entry as it is made. `before` is what was known without it."""
    event, plan = logged.event, kept.plan
    if event.mass is None or event.kind not in (Kind.POWDER, Kind.OIL, Kind.ADDITIVE):
        return None
    if (logged.payload.get("measure") or {}).get("unit") == Unit.EYE:
        return None
    if plan.old_paint is not None and not before.paste.looks:
        # Old paint goes in first, and nobody knows how much of it is oil.
        return None
    there = _there_g(before, event)
    told = told_g(plan, before, event)
    planned = max(_planned_g(plan, before, event), there + told if event.kind is Kind.POWDER else 0.0)
    entry = _entry(plan, logged, told_g=told, planned_g=planned, there_g=there)
    found = slab.question_of(entry, after)
    if found is None and event.kind is Kind.OIL and before.paste.poured_g <= 0:
        found = slab.short_of(_short(session, kept, before))
    return found


def amended(kept: BatchKept, before: Knowledge, after: Knowledge, wrong: Event, logged: Logged) -> Question | None:
    """What is asked about an amount that was put right: the same as if it had been entered so."""
    right = logged.event
    if right.mass is None or wrong.mass is None:
        return None
    there = max(0.0, _there_g(before, wrong) - wrong.mass.median)
    planned = _planned_g(kept.plan, before, wrong)
    entry = _entry(
        kept.plan,
        Logged(wrong, logged.payload, {}),
        told_g=max(0.0, planned - there),
        planned_g=planned,
        there_g=there,
        grams=right.mass.median,
    )
    return slab.question_of(entry, after)


def _there_g(known: Knowledge, event: Event) -> float:
    """What of a material is in, as it is weighed."""
    match event.kind:
        case Kind.POWDER:
            return known.paste.pigments.get(event.source, 0.0)
        case Kind.ADDITIVE:
            there = known.paste.additives.get(event.source)
            return there.grams / there.what.additive_fraction if there is not None else 0.0
    return known.paste.oil_g


def told_g(plan: Plan, known: Knowledge, event: Event) -> float:
    """What is called for now of a material, in g: by the way back chosen, by the plan, or as the next pour."""
    paste = known.paste
    match event.kind:
        case Kind.POWDER:
            way_g = max(0.0, paste.way_g.get(event.source, 0.0))
            if way_g:
                return way_g
            planned = next((w.mass.value for w in plan.lines if w.pigment.source == event.source), 0.0)
            return max(0.0, planned - paste.pigments.get(event.source, 0.0))
        case Kind.OIL:
            way_g = max(0.0, paste.way_g.get(event.source, 0.0))
            return way_g or (known.rungs[0].step_g if known.rungs else 0.0)
        case _ if event.additive is not None:
            chosen = paste.stabiliser
            same = chosen is not None and chosen.source == event.source
            return slab.missing_additive_g(paste, chosen if chosen is not None and same else event.additive)
    return 0.0


def _planned_g(plan: Plan, known: Knowledge, event: Event) -> float:
    if event.kind is Kind.POWDER:
        return next((w.mass.value for w in plan.lines if w.pigment.source == event.source), 0.0)
    if event.kind is Kind.ADDITIVE and event.additive is not None:
        return event.additive.planned_per_g * known.paste.pigment_g
    return known.oil_needed_g(0.5) if known.paste.pigment_g > 0 else plan.oil_mass.value


def _entry(
    plan: Plan, logged: Logged, *, told_g: float, planned_g: float, there_g: float, grams: float | None = None
) -> Entry:
    event, measure = logged.event, logged.payload.get("measure") or {}
    assert event.mass is not None
    single = not measure.get("parts")
    name, units = _of_material(plan, event)
    return Entry(
        event.id,
        event.kind,
        event.source,
        name,
        Unit(measure.get("unit", Unit.GRAM)),
        float(measure["amount"]) if single and measure.get("amount") is not None else None,
        grams if grams is not None else event.mass.median,
        units,
        told_g,
        planned_g,
        there_g,
    )


def _of_material(plan: Plan, event: Event) -> tuple[str, dict[Unit, float]]:
    if event.kind is Kind.POWDER:
        pigment = next(w.pigment for w in plan.lines if w.pigment.source == event.source)
        return pigment.name, slab.units_of_powder(pigment.loose_density_g_per_ml)
    if event.kind is Kind.OIL:
        return plan.oil.name, slab.units_of_liquid(plan.oil.density_g_per_ml, plan.oil.drop_g)
    assert event.additive is not None
    return event.additive.name, slab.units_of_liquid(event.additive.density_g_per_ml, event.additive.drop_g)


def _short(session: Session, kept: BatchKept, known: Knowledge) -> Iterator[Entry]:
    for line in kept.plan.lines:
        source = line.pigment.source
        there, act = known.paste.pigments.get(source, 0.0), known.paste.powder_acts.get(source)
        if act is None or not there < slab.FAR_SHORT * line.mass.value:
            continue
        logged = batches.act(session, kept.job_id, act)
        if logged is None or (logged.payload.get("measure") or {}).get("unit") == Unit.EYE:
            continue
        yield _entry(kept.plan, logged, told_g=line.mass.value, planned_g=line.mass.value, there_g=there)
