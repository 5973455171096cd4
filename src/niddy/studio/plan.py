"""Plan: compute a batch on paper from what the maker asks, with what the shelf holds; plans kept for later."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime
from statistics import fmean
from typing import Annotated, Literal

from pydantic import Field
from sqlalchemy import select
from sqlalchemy.orm import Session

from niddy.core import evidence, oils
from niddy.core import plan as core
from niddy.core.amounts import Grams, Parts
from niddy.core.cautions import known_hazards
from niddy.core.demand import EyeKnown, Spooned
from niddy.core.documents import Document, Key, RowId
from niddy.core.errors import Refused
from niddy.core.evidence import Eye
from niddy.core.materials import DryPigment
from niddy.core.measures import SPOON_ML, Measure, Unit
from niddy.core.plan import Tool
from niddy.core.pours import SMALLEST_STEP_G
from niddy.core.purposes import Purpose
from niddy.core.telling import Habit, Measuring
from niddy.core.words import Words
from niddy.db.plan import SavedPlan
from niddy.studio import additives, batches, materials, rubout, workshop
from niddy.studio.errors import Missing
from niddy.studio.materials import Asked

Count = Annotated[int, Field(strict=True, ge=0, le=10_000)]


class SpoonsAsked(Document):
    """Level spoons of a powder; or its ml or grams, mixed freely over the lines of a blend."""

    amount: Annotated[float, Field(strict=True, ge=0.001, le=10_000)]
    unit: Unit = Unit.TEASPOON


class LineAsked(Document):
    """One pigment: a lot of the shelf or an entry of the library; parts by weight, or spoons."""

    lot_id: RowId | None = None
    pigment_key: Key | None = None
    parts: Parts | None = None
    spoons: SpoonsAsked | None = None


class OilPartAsked(Document):
    """One oil of a blend and its parts by weight."""

    lot_id: RowId | None = None
    oil_key: Key | None = None
    parts: Parts


class OilAsked(Document):
    """The oil: a bottle of the shelf or an entry of the library; or a `blend` of them, stirred together beforehand."""

    lot_id: RowId | None = None
    oil_key: Key | None = None
    blend: Annotated[list[OilPartAsked], Field(max_length=6)] | None = None


class AdditiveAsked(Document):
    """One additive and its dose in percent of its own basis: a lot (dry, or a gel) or an entry of the library."""

    lot_id: RowId | None = None
    additive_key: Key | None = None
    dose_pct: Annotated[float, Field(strict=True, ge=0, le=60)] | None = None


class TubesAsked(Document):
    """So many tubes of one type of the workshop."""

    tube_type_id: RowId
    count: Count


class OldPaintAsked(Document):
    """What an old paint that is ground again was known to hold."""

    name: Annotated[Words, Field(max_length=120)]
    hazards: Annotated[list[Annotated[Words, Field(max_length=40)]], Field(max_length=30)] = []


class PlanAsked(Document):
    """What a maker asks of a plan. One starting point: `tubes`, `pigment_g`, or spoons in every line.

    `measuring` and `tool` are the studio's own where they are left out, and so is `working`: in loads, or all of it in
    one mass. `parts_by` says what the parts are.
    `kept_id` is the kept plan it was opened from; `same_as` a batch that is to come out the same again.
    """

    lines: Annotated[list[LineAsked], Field(min_length=1, max_length=12)]
    oil: OilAsked
    reduced_pvc: Annotated[float, Field(strict=True, ge=0.5, le=1.15)]
    tubes: Annotated[list[TubesAsked], Field(max_length=24)] | None = None
    pigment_g: Grams | None = None
    slab_id: RowId | None = None
    muller_id: RowId | None = None
    target_fineness_um: Annotated[float, Field(strict=True, ge=1, le=250)] | None = None
    recipe_id: RowId | None = None
    recipe_version: RowId | None = None
    additives: Annotated[list[AdditiveAsked], Field(max_length=6)] = []
    trial: bool = False
    old_paint: OldPaintAsked | None = None
    measuring: Measuring | None = None
    parts_by: Literal["weight", "spoons"] = "weight"
    tool: Tool | None = None
    working: Literal["loads", "one_mass"] | None = None
    purpose: Purpose | None = None
    grind: core.Grind = core.Grind.USUAL
    kept_id: RowId | None = None
    same_as: RowId | None = None


@dataclass(frozen=True, slots=True)
class Supply:
    """What the plan needs of one lot against what is left of it."""

    source: str
    name: str
    lot_code: str
    needed_g: float
    on_hand_g: float | None
    suffices: bool


@dataclass(frozen=True, slots=True)
class Planned:
    """A computed plan, what the shelf has for it, and the note on the shipped figures."""

    plan: core.Plan
    supplies: tuple[Supply, ...]


@dataclass(frozen=True, slots=True)
class PlanKept:
    """A plan kept under a name, as asked."""

    id: int
    name: str
    asked: PlanAsked
    saved_at: datetime


def compute(session: Session, asked: PlanAsked) -> Planned:
    """The plan for what is asked. Raises Refused or Missing naming the field."""
    first_oil = asked.oil.blend[0] if asked.oil.blend else asked.oil
    if first_oil.lot_id is None and first_oil.oil_key is None:
        raise Refused("oil", "missing", "lot_id of a bottle or oil_key of the library")
    untested = rubout.untested(session, {line.pigment_key for line in asked.lines if line.pigment_key})
    gathered = materials.gather(
        session,
        [_material(line, n) for n, line in enumerate(asked.lines)],
        Asked(first_oil.lot_id, first_oil.oil_key),
        untested.demand,
    )
    pigments, oil, on_hand = gathered.pigments, gathered.oil, dict(gathered.on_hand_g)
    if asked.oil.blend:
        parts, left = materials.portions(
            session,
            [(Asked(portion.lot_id, portion.oil_key), portion.parts) for portion in asked.oil.blend],
            "oil.blend",
        )
        oil = oils.blend(parts)
        on_hand |= left
    for n, additive in enumerate(asked.additives):
        if additive.lot_id is None and additive.additive_key is None:
            raise Refused(f"additives.{n}", "no additive named", "lot_id of a lot or additive_key of the library")
        if additive.dose_pct is None:
            raise Refused(f"additives.{n}.dose_pct", "how much of it?", "a dose in percent; 0 leaves it out")
    doses = [(Asked(one.lot_id, one.additive_key), one.dose_pct) for one in asked.additives if one.dose_pct is not None]
    stirred = materials.dosings(session, doses, additives.taught(session) if asked.additives else {})
    on_hand |= stirred.on_hand_g
    tubes = None
    if asked.tubes is not None:
        tubes = workshop.tubes(session, [(tube.tube_type_id, tube.count) for tube in asked.tubes])
    learned = batches.learned(session, [pigment.key for pigment in pigments], asked.recipe_id)
    bench = workshop.bench(session, asked.slab_id, asked.muller_id, asked.tool)
    if bench is not None:
        in_loads = learned.in_loads if asked.working is None else asked.working == "loads"
        bench = replace(bench, one_mass=not in_loads)
    right = batches.right_ratio(session, asked.same_as, pigments, oil.key) if asked.same_as is not None else None
    habit = replace(workshop.habit(session, asked.measuring), drop_g=oil.drop_g)
    wish = core.Wish(
        lines=tuple(
            core.Line(pigment, line.parts, _spoons(line, n, habit))
            for n, (line, pigment) in enumerate(zip(asked.lines, pigments, strict=True))
        ),
        oil=oil,
        reduced_pvc=asked.reduced_pvc,
        bench=bench,
        loss=learned.loss,
        tubes=tubes,
        pigment_g=asked.pigment_g,
        same_ratio=right,
        last_released_ratio=learned.last.oil_g_per_100g if learned.last else None,
        smallest_step_g=max(SMALLEST_STEP_G, habit.smallest_oil_g if habit.how is not Measuring.SCALE else oil.drop_g),
        target_fineness_um=asked.target_fineness_um,
        last_released_minutes=learned.last.minutes_per_load if learned.last else None,
        additives=stirred.dosings,
        extenders=tuple(core.Extender(dosing, pigment) for dosing, pigment in stirred.extenders),
        trial=asked.trial,
        old_paint=_old_paint(asked.old_paint),
        eye=_eye(session, pigments, untested.eye),
        tested_days=batches.days_to_dry(session, asked.recipe_id) if asked.recipe_id is not None else (),
        learned_tau_min=learned.tau_min,
        habit=habit,
        parts_by_spoons=asked.parts_by == "spoons",
        spooned=_spooned(session, asked, pigments, habit),
        pace=learned.pace,
        purpose=asked.purpose,
        grind=asked.grind,
    )
    plan = core.compute(wish)
    return Planned(plan, _supplies(plan, on_hand))


def _spooned(session: Session, asked: PlanAsked, pigments: tuple[DryPigment, ...], habit: Habit) -> Spooned | None:
    """What the same spoon counted before, of one powder that is measured with spoons again."""
    by_spoon = habit.how is Measuring.SPOONS or asked.lines[0].spoons is not None
    return rubout.spooned(session, pigments[0], habit.drop_g) if len(pigments) == 1 and by_spoon else None


def _eye(session: Session, pigments: tuple[DryPigment, ...], known: EyeKnown) -> Eye:
    """The maker's eye, as it bears on this powder; a blend's by what each brings to its oil demand."""
    covariance = fmean(pigment.demand_eye_covariance for pigment in pigments)
    practised = workshop.practised_eye(session)
    if practised is None:
        return Eye(known.bias, known.sd, covariance)
    return evidence.practised(Eye(known.bias, known.sd, covariance), practised.bias, practised.bias_sd, practised.sd)


def _old_paint(asked: OldPaintAsked | None) -> core.OldPaint | None:
    if asked is None:
        return None
    for n, hazard in enumerate(asked.hazards):
        if hazard not in known_hazards():
            raise Refused(f"old_paint.hazards.{n}", f"'{hazard}' is unknown", ", ".join(sorted(known_hazards())))
    return core.OldPaint(asked.name, tuple(asked.hazards))


def _material(line: LineAsked, n: int) -> Asked:
    if line.lot_id is None and line.pigment_key is None:
        raise Refused(f"lines.{n}", "no pigment named", "lot_id of a tin or pigment_key of the library")
    return Asked(line.lot_id, line.pigment_key)


def _spoons(line: LineAsked, n: int, habit: Habit) -> Measure | None:
    if line.spoons is None:
        return None
    own = {one.unit: one for one in habit.own if one.powder}
    if line.spoons.unit not in (*SPOON_ML, *own, Unit.MILLILITRE, Unit.GRAM):
        accepted = ", ".join([*SPOON_ML, *(one.one for one in own.values()), Unit.MILLILITRE, Unit.GRAM])
        raise Refused(f"lines.{n}.spoons.unit", f"'{line.spoons.unit}' is not a spoon", accepted)
    return Measure(line.spoons.unit, line.spoons.amount, own=own.get(line.spoons.unit))


def _supplies(plan: core.Plan, left: dict[int, float]) -> tuple[Supply, ...]:
    wanted = [
        (
            line.pigment.source,
            line.pigment.name,
            line.pigment.lot_code,
            line.pigment.lot_id,
            line.pigment.wet_g(line.mass.value),
        )
        for line in plan.lines
    ]
    # Oil for the highest rung: nobody should run dry in the middle of a ladder.
    oil = plan.oil
    poured = plan.rungs[-1].cumulative_g - sum(line.oil_in_gel_g for line in plan.additives)
    for part in oil.parts:
        wanted.append((part.source, part.name, part.lot_code, part.lot_id, poured * part.share))
    if not oil.parts:
        wanted.append((oil.source, oil.name, oil.lot_code, oil.lot_id, poured))
    for line in plan.additives:
        dosing = line.dosing
        wanted.append((dosing.source, line.name, dosing.lot_code, dosing.lot_id, line.weigh.value))
    return tuple(
        Supply(
            source,
            name,
            code,
            needed,
            left.get(lot_id) if lot_id is not None else None,
            lot_id is None or left.get(lot_id, 0.0) >= needed,
        )
        for source, name, code, lot_id, needed in wanted
    )


def save(session: Session, now: datetime, name: str, asked: PlanAsked) -> int:
    """Keep a plan under a name; its id. It must compute: raises what `compute` raises."""
    compute(session, asked)
    if not name.strip():
        raise Refused("name", "empty", "a name of 1 to 120 characters")
    row = SavedPlan(name=name.strip(), wish=asked.model_dump(mode="json"), saved_at=now)
    session.add(row)
    session.flush()
    return row.id


def saved(session: Session) -> tuple[PlanKept, ...]:
    """The kept plans, newest first."""
    rows = session.scalars(select(SavedPlan).order_by(SavedPlan.saved_at.desc(), SavedPlan.id.desc()).limit(200))
    return tuple(_kept(row) for row in rows)


def saved_plan(session: Session, plan_id: int) -> PlanKept:
    """One kept plan. Raises Missing."""
    row = session.get(SavedPlan, plan_id)
    if row is None:
        raise Missing("plan", plan_id)
    return _kept(row)


def _kept(row: SavedPlan) -> PlanKept:
    return PlanKept(row.id, row.name, PlanAsked.model_validate(row.wish), row.saved_at)


def discard(session: Session, plan_id: int) -> None:
    """Forget a kept plan; batches made from it keep their own copy. Raises Missing."""
    row = session.get(SavedPlan, plan_id)
    if row is None:
        raise Missing("plan", plan_id)
    session.delete(row)
    session.flush()
