"""The pot as its screen shows it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from decimal import Decimal

from sqlalchemy.orm import Session

from niddy.core import sticks as core
from niddy.core.cautions import Caution, cautions_for
from niddy.core.cost import CENT
from niddy.core.entry import Entry
from niddy.core.estimate import Basis, Estimate
from niddy.core.figure import Figure, Input, Working
from niddy.core.log import Status
from niddy.core.sources import lot_of
from niddy.core.sticks import Dries, Feel, Flaw, PigmentWay, PotAdvice, Question, TrialVerdict
from niddy.core.telling import Measuring, Told
from niddy.studio import materials, shelf, workshop
from niddy.studio.recorder import LogLine, log_lines
from niddy.studio.shelf import ItemLine
from niddy.studio.sticks.entries import InPot, pot_entries
from niddy.studio.sticks.kept import PotKept, contents_of, pot, pots_of, row_of
from niddy.studio.sticks.recording import POTS
from niddy.studio.sticks.scale import DentZone, dent_scale


@dataclass(frozen=True, slots=True)
class Strip:
    """The thermometer's strip: what is too hot, where the base is molten, the window for pouring, what was read.

    `now_c` is what was read of late; `last_c` the last reading, however long ago.
    """

    melt_c: float
    most_c: float
    pour_low_c: float
    pour_high_c: float
    water_bath: bool
    now_c: float | None
    hottest_c: float | None
    poured_c: float | None
    skin_c: float | None
    last_c: float | None
    read_at: datetime | None


@dataclass(frozen=True, slots=True)
class DentShown:
    """A dent that was read, in words and figures."""

    dent_dmm: float
    by: core.By
    at: datetime
    of_stick: bool
    still_holds: bool


@dataclass(frozen=True, slots=True)
class FlawShown:
    """A flaw that was or can be seen: its words, its likely cause, what to do."""

    flaw: Flaw
    says: str
    cause: str
    cure: str
    seen: bool


@dataclass(frozen=True, slots=True)
class Sibling:
    """Another pot of the same set."""

    number: int
    name: str
    masstone_srgb: str
    status: str


@dataclass(frozen=True, slots=True)
class PotView:
    """A pot: what is in it, how hot, what to do next, and what its sticks are like.

    `told` is what is to go in now in the maker's own measure, by source; empty for one with a scale.
    """

    number: int
    name: str
    status: Status
    now: datetime
    started_at: datetime
    masstone_srgb: str
    base_id: int
    base_name: str
    base_version: int
    set_id: int | None
    siblings: tuple[Sibling, ...]
    recipe_id: int | None
    way: PigmentWay
    crayon: bool
    materials: tuple[InPot, ...]
    total_g: float
    strip: Strip
    advice: PotAdvice
    told: dict[str, Told]
    sunk_mm: float
    stirred_at: datetime | None
    cold_at: datetime | None
    dent: Figure | None
    oil_pct: float | None
    pigment_pct: float | None
    volume_ml: float | None
    dries: Dries | None
    feel: Feel | None
    target_dmm: float
    target_low_dmm: float
    target_high_dmm: float
    zones: tuple[DentZone, ...]
    dents: tuple[DentShown, ...]
    moulds: tuple[str, ...]
    sticks_planned: int
    sticks: int
    sticks_g: float | None
    pour_factor: float
    flaws: tuple[FlawShown, ...]
    dry_questions: tuple[Question, ...]
    wet_questions: tuple[Question, ...]
    trials: dict[str, dict[str, str]]
    dried: dict[str, datetime]
    verdict: TrialVerdict
    verdict_said: str | None
    remarks: tuple[str, ...]
    cautions: tuple[Caution, ...]
    timeline: tuple[LogLine, ...]
    items: tuple[ItemLine, ...]
    cost: Decimal | None
    cost_a_stick: Decimal | None
    cost_missing: tuple[str, ...]
    currency: str
    entries: tuple[Entry, ...]


def view(session: Session, now: datetime, number: int) -> PotView:
    """A pot as it is. Raises Missing."""
    return view_of(session, now, pot(session, number))


def view_of(session: Session, now: datetime, kept: PotKept) -> PotView:
    """The view of a pot that was read already."""
    state, planned = kept.pot, kept.planned
    plan = planned.plan
    reading = core.read(state, plan.base, plan.oil, plan.offset_ln)
    names = {material.source: material.name for material in (*planned.materials, *kept.beside)}
    target = Estimate.lognormal(plan.target_dmm, plan.offset_sd_ln, Basis.ASSUMED)
    drops = core.taught(kept.acts, plan.base, plan.oil)
    known = core.known_dent(plan, reading, drops)
    dent = None
    if reading is not None and known is not None:
        estimate = Estimate.lognormal(
            known.dmm, known.sd, Basis.LEARNED if plan.offset_ln or known.drops else Basis.ASSUMED
        )
        dent = Figure.of(
            "Dent, worked out",
            estimate,
            "0.1 mm",
            0,
            Working(
                "ln P = x ln 400 + (1 - x) sum w ln P + (2.5 CPVC / 1.6) ln(1 - reduced) + d",
                (
                    Input("x, oil of the medium", reading.oil_fraction),
                    Input("reduced PVC", reading.reduced_pvc),
                    Input("d of base and drops", known.ln_dmm - (reading.ln_dent_bare or 0.0), "ln"),
                    Input("drops read", float(known.drops)),
                ),
                "Krieger and Dougherty 1959; Haighton 1959; mixing assumed",
                "what base and pigment may be off, and each drop",
            ),
        )
    cold = None
    if state.poured_at is not None and state.out_at is None:
        cold = state.poured_at + timedelta(minutes=plan.cooling_min)
    beside = cautions_for([(content.name, content.hazards) for content in contents_of(kept)])
    planned_for = {caution.key for caution in planned.cautions}
    there, advice = (
        _materials(session, kept),
        core.advise(state, _as_told(session, kept, plan), reading, now, names, drops, kept.acted_at),
    )
    told = _told(session, kept, advice)
    return PotView(
        kept.number,
        kept.name,
        kept.status,
        now,
        kept.started_at,
        planned.masstone_srgb,
        planned.base_id,
        planned.base_name,
        planned.base_version,
        kept.set_id,
        _siblings(session, kept),
        kept.recipe_id,
        plan.way,
        planned.crayon,
        there,
        state.total_g,
        Strip(
            plan.melt_c,
            core.HIGHEST_C,
            plan.pour_low_c,
            plan.pour_high_c,
            plan.water_bath,
            core.fresh_c(state, now),
            state.hottest_c,
            state.poured_c,
            state.skin_c,
            state.temperature_c,
            state.read_at,
        ),
        advice,
        told,
        core.sunk_mm(state, plan, reading, now),
        state.stirred_at,
        cold,
        dent,
        100 * reading.oil_fraction if reading else None,
        100 * reading.pigment_fraction if reading else None,
        reading.volume_ml if reading else None,
        reading.dries if reading and state.oil_g > 0 else None,
        reading.feel if reading else None,
        plan.target_dmm,
        target.low,
        target.high,
        dent_scale(),
        tuple(DentShown(one.dent_dmm, one.by, one.at, one.of_stick, one is state.drop) for one in state.dents),
        tuple(f"{mould.count} x {name}, {mould.ml:.1f} ml" for name, mould in planned.moulds),
        plan.sticks,
        state.sticks,
        state.sticks_g,
        planned.pour_factor,
        tuple(FlawShown(flaw, *core.FLAW_WORDS[flaw], flaw in state.flaws) for flaw in Flaw),
        core.DRY,
        core.WET,
        {what: dict(seen) for what, seen in state.trials.items()},
        dict(state.dried),
        core.judge(state, plan),
        state.verdict,
        planned.remarks,
        (*planned.cautions, *(caution for caution in beside if caution.key not in planned_for)),
        tuple(reversed(log_lines(POTS, kept, kept.entries))),
        shelf.of_pot(session, kept.number),
        *_cost(session, kept),
        workshop.settings(session).currency,
        pot_entries(kept, there, advice, workshop.units(session), told),
    )


def _as_told(session: Session, kept: PotKept, plan: core.PotPlan) -> core.PotPlan:
    """A plan in amounts that a hand without a scale can measure: of what rounding left nothing is asked for again."""
    habit = workshop.habit(session)
    if habit.how is Measuring.SCALE:
        return plan

    def measured(planned: Mapping[str, float]) -> dict[str, float]:
        found = {}
        for source, grams in planned.items():
            material = kept.material(source)
            told = material.told(grams, habit) if material is not None else None
            found[source] = told.grams if told is not None else grams
        return found

    return replace(plan, base_g=measured(plan.base_g), oil_g=measured(plan.oil_g), pigment_g=measured(plan.pigment_g))


def _told(session: Session, kept: PotKept, advice: PotAdvice) -> dict[str, Told]:
    """What is advised to go in now, in the maker's own measure, by source; nothing of it with a scale."""
    wanted = dict(advice.parts)
    if advice.grams is not None and advice.source:
        wanted[advice.source] = advice.grams
    habit = workshop.habit(session)
    found = {source: material for source in wanted if (material := kept.material(source)) is not None}
    told = {source: material.told(wanted[source], habit) for source, material in found.items()}
    return {source: one for source, one in told.items() if one is not None}


def _cost(session: Session, kept: PotKept) -> tuple[Decimal | None, Decimal | None, tuple[str, ...]]:
    """What is in a pot costs, in all and for each stick; and the names of what has no price."""
    contents = contents_of(kept)
    prices = materials.known_prices(session, [content.source for content in contents])
    missing = tuple(content.name for content in contents if content.source not in prices)
    if len(missing) == len(contents):
        return None, None, missing
    total = sum(
        (
            prices[content.source] * Decimal(f"{content.grams / 1000:.6f}")
            for content in contents
            if content.source in prices
        ),
        Decimal(0),
    )
    sticks = kept.pot.sticks or kept.planned.plan.sticks
    return total.quantize(CENT), (total / sticks).quantize(CENT), missing


def _siblings(session: Session, kept: PotKept) -> tuple[Sibling, ...]:
    if kept.set_id is None:
        return ()
    rows = [row_of(session, number) for number in pots_of(session, kept.set_id)]
    return tuple(Sibling(row.number, row.name, row.masstone_srgb, row.status) for row in rows)


def _materials(session: Session, kept: PotKept) -> tuple[InPot, ...]:
    state, plan = kept.pot, kept.planned.plan
    there = {**state.bases, **state.oils, **{source: matter.grams for source, matter in state.pigments.items()}}
    planned = {**plan.base_g, **plan.oil_g, **plan.pigment_g}
    lots = [lot_of(source) for source in (*planned, *there)]
    left = materials.on_hand(session, [lot for lot in lots if lot is not None])
    return tuple(
        InPot(
            material.source,
            material.role,
            material.name,
            material.code,
            there.get(material.source, 0.0),
            planned.get(material.source, 0.0),
            left.get(lot_of(material.source) or 0),
        )
        for material in (*kept.planned.materials, *(one for one in kept.beside if one.source not in planned))
    )
