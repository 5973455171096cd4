"""Checks: readings of a batch, its verdict against the recipe, what is due, consistency, and comparison."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import lru_cache
from statistics import fmean
from typing import Annotated, Any
from uuid import UUID

from pydantic import AwareDatetime, BaseModel, ConfigDict, Field
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from niddy.core import checks, colorimetry
from niddy.core import control as controls
from niddy.core.checks import CHOICES, COLOURS, UNITS, CheckKind, Component, Slope
from niddy.core.colorimetry import Lab
from niddy.core.control import BATCHES_FOR_LIMITS, Control, Rule
from niddy.core.correction import Direction, correct
from niddy.core.errors import MIN_VOLUME_ML, Refused
from niddy.core.estimate import Estimate
from niddy.core.explain import BatchInputs, Explained, explain
from niddy.core.mulling import dispersing_minutes_per_load
from niddy.core.plan import Facts
from niddy.core.rebuild import Wets
from niddy.core.slab import Status, additive_ln_stress, binder_g
from niddy.core.slab import Verdict as BodyVerdict
from niddy.core.verdicts import BatchVerdict, Found, Release, Wanted, judge
from niddy.core.wetting import ratio_at, reduced_at
from niddy.db.checks import Check, ReleaseDecision
from niddy.reference import observer
from niddy.studio import batches, recipes, rubout
from niddy.studio import plan as plans
from niddy.studio.amounts import Grams
from niddy.studio.batches import Made, OfRecipe, Series
from niddy.studio.errors import Conflict, Missing
from niddy.studio.plan import PlanAsked
from niddy.studio.words import Words

DUE_FOR = timedelta(days=21)
"""Batches finished longer ago than this ask for nothing any more."""

SLOPE_FROM = 60
USUAL = (CheckKind.SPREAD, CheckKind.DENSITY, CheckKind.STRING, CheckKind.BLEED, CheckKind.DRYING)
"""What a batch without a recipe is offered to check."""

READ = "read"
"""The result of a colour that has no standard to be compared with: it was read, that is all."""

Millimetres = Annotated[float, Field(strict=True, ge=0, le=2_000)]


class LabAsked(BaseModel):
    """CIE L*a*b*, D50."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)
    L: Annotated[float, Field(strict=True)]
    a: Annotated[float, Field(strict=True)]
    b: Annotated[float, Field(strict=True)]


class CheckAsked(BaseModel):
    """One reading, with an id made by the client. What belongs to its kind is needed, the rest left out.

    `spread`: `diameters_mm` (two, at right angles), and `volume_ml`, `mass_kg`, `plate_mm` where they are not
    the usual; `density`: `gross_g`, `tare_g`, `volume_ml` of a syringe; `string`, `bleed`: `length_mm`;
    `fineness`: `fineness_um`; colours: `lab`, `srgb`, or `spectrum` (31 bands); the drawn ones: `choice`.
    """

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)
    id: UUID
    kind: CheckKind
    made_at: AwareDatetime
    diameters_mm: Annotated[list[Millimetres | None], Field(max_length=8)] | None = None
    volume_ml: Annotated[float, Field(strict=True, ge=MIN_VOLUME_ML, le=1_000)] | None = None
    mass_kg: Annotated[float, Field(strict=True, ge=0.001, le=100)] | None = None
    plate_mm: Millimetres | None = None
    gross_g: Grams | None = None
    tare_g: Annotated[float, Field(strict=True, ge=0, le=20_000)] | None = None
    length_mm: Millimetres | None = None
    fineness_um: Annotated[float, Field(strict=True, ge=0.1, le=500)] | None = None
    choice: Annotated[Words, Field(max_length=40)] | None = None
    lab: LabAsked | None = None
    srgb: Annotated[Words, Field(max_length=20)] | None = None
    spectrum: Annotated[list[Annotated[float, Field(strict=True)]], Field(max_length=200)] | None = None
    uncertainty: Annotated[float, Field(strict=True, ge=0, le=100)] | None = None
    note: Annotated[Words, Field(max_length=500)] = ""


@dataclass(frozen=True, slots=True)
class Worked:
    """One line of how a result was got."""

    name: str
    value: float
    unit: str


@dataclass(frozen=True, slots=True)
class CheckKept:
    """A reading as kept: its result, how it was got, and why it does not count where it does not."""

    id: UUID
    kind: CheckKind
    value: float | None
    unit: str
    choice: str | None
    srgb: str | None
    lab: Lab | None
    worked: tuple[Worked, ...]
    says: str
    note: str
    made_at: datetime
    set_aside: str | None


@dataclass(frozen=True, slots=True)
class Mean:
    """The readings of one check that count, together."""

    kind: CheckKind
    unit: str
    estimate: Estimate | None
    choice: str | None
    readings: int


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


@dataclass(frozen=True, slots=True)
class Adjustment:
    """What brings the spread of a batch back to its recipe's target, by the slope used."""

    diameter_mm: float
    target_mm: float
    reduced_now: float
    reduced_wanted: float
    pigment_to_add_g: float
    oil_to_add_g: float
    slope: Slope
    says: str


@dataclass(frozen=True, slots=True)
class Decision:
    """What the maker decided, and what was advised then."""

    release: Release
    advised: Release
    reason: str
    made_at: datetime


@dataclass(frozen=True, slots=True)
class BatchChecks:
    """All about the checks of one batch."""

    number: int
    name: str
    status: Status
    masstone_srgb: str
    ended_at: datetime | None
    now: datetime
    recipe_id: int | None
    recipe_name: str
    recipe_version: int | None
    wanted: tuple[Wanted, ...]
    readings: tuple[CheckKept, ...]
    means: tuple[Mean, ...]
    due: tuple[DueCheck, ...]
    verdict: BatchVerdict | None
    adjustment: Adjustment | None
    decision: Decision | None
    standard_batch: int | None
    standard_srgb: str | None
    components: tuple[Component, ...]
    choices: dict[CheckKind, tuple[str, ...]]
    units: dict[CheckKind, str]


def record(session: Session, now: datetime, number: int, asked: CheckAsked) -> BatchChecks:
    """Keep one reading. Sent again, it changes nothing. Raises Refused, Missing, Conflict."""
    keep(session, now, number, asked)
    return page(session, now, number)


def keep(session: Session, now: datetime, number: int, asked: CheckAsked) -> None:
    """Keep one reading, as `record` does."""
    made = batches.made(session, number)
    payload = asked.model_dump(mode="json", exclude_none=True)
    known = session.get(Check, asked.id)
    if known is not None:
        if known.batch_number != number or known.payload != payload:
            raise Conflict("id", "this id belongs to another reading already", "a new id for another reading")
        return
    ended = made.kept.ended_at or made.kept.started_at
    if asked.made_at > now + timedelta(days=2) or asked.made_at < made.kept.started_at - timedelta(days=2):
        raise Refused(
            "made_at", f"{asked.made_at:%Y-%m-%d} is not of this batch", f"from {made.kept.started_at:%Y-%m-%d} to now"
        )
    value, choice, facts = _worked(session, made, asked, ended)
    session.add(
        Check(
            id=asked.id, batch_number=number, kind=asked.kind, value=value, choice=choice, payload=payload, facts=facts,
            made_at=asked.made_at, set_aside=None,
        )
    )  # fmt: skip
    session.flush()
    _keep_results(session, number)


def set_aside(session: Session, now: datetime, number: int, check_id: UUID, reason: str | None) -> BatchChecks:
    """Let a reading not count, with a reason, or count again with none. Raises Refused, Missing."""
    row = session.get(Check, check_id, with_for_update=True)
    if row is None or row.batch_number != number:
        raise Missing("reading", str(check_id))
    if reason is not None and not reason.strip():
        raise Refused("reason", "empty", "why this reading does not count")
    row.set_aside = reason
    session.flush()
    _keep_results(session, number)
    return page(session, now, number)


def _needed(field: str, value: Any, accepted: str) -> Any:
    if value is None:
        raise Refused(field, "missing", accepted)
    return value


def _worked(
    session: Session, made: Made, asked: CheckAsked, ended: datetime
) -> tuple[float | None, str | None, dict[str, Any]]:
    """The result of a reading: its figure or choice, and how it was got."""
    match asked.kind:
        case CheckKind.SPREAD:
            diameters = _needed("diameters_mm", asked.diameters_mm, "two diameters at right angles, in mm")
            if len(diameters) < 2 or any(d is None for d in diameters):
                missing = next((n for n, d in enumerate(diameters) if d is None), len(diameters))
                raise Refused(f"diameters_mm.{missing}", "missing", "two diameters at right angles, in mm")
            volume, mass = asked.volume_ml or checks.SYRINGE_ML, asked.mass_kg or checks.PLATES_KG
            told = checks.spread(diameters, volume, mass, asked.plate_mm or checks.PLATE_MM)
            return told.diameter_mm, None, {
                "worked": [["volume", volume, "ml"], ["plate and weight", mass, "kg"],
                           ["yield stress", told.yield_stress_pa, "Pa"]],
                "says": f"yields at {told.yield_stress_pa:.0f} Pa: 3 M g V / (2 pi^2 (D/2)^5)",
            }  # fmt: skip
        case CheckKind.DENSITY:
            return _density(made, asked)
        case CheckKind.STRING:
            length = float(_needed("length_mm", asked.length_mm, "the longest thread in mm"))
            return length, None, {"says": checks.string_says(length)}
        case CheckKind.BLEED:
            return float(_needed("length_mm", asked.length_mm, "the width of the halo in mm")), None, {}
        case CheckKind.FINENESS:
            return float(_needed("fineness_um", asked.fineness_um, "the reading of the gauge in um")), None, {}
        case CheckKind.MASSTONE | CheckKind.UNDERTONE | CheckKind.TINT:
            return _colour(session, made, asked)
        case CheckKind.DRYING:
            choice = _choice(asked)
            day = max(0.0, (asked.made_at - ended).total_seconds() / 86_400)
            dry = choice == CHOICES[CheckKind.DRYING][-1]
            return (day if dry else None), choice, {"says": f"day {day:.0f}: {choice}"}
        case _:
            return None, _choice(asked), {}


def _choice(asked: CheckAsked) -> str:
    if asked.choice not in CHOICES[asked.kind]:
        raise Refused(
            "choice", "missing" if asked.choice is None else "not one of them", ", ".join(CHOICES[asked.kind])
        )
    return asked.choice


def _components(made: Made) -> tuple[Component, ...]:
    """What is in a batch, by mass and density; nothing where that is not known."""
    paste, facts = made.kept.paste, made.kept.plan.facts
    if paste.pigment_g <= 0 or paste.oil_g <= 0:
        return ()
    return (
        Component(paste.pigment_g, facts.pigment_density_g_per_ml),
        Component(paste.oil_g, facts.oil_density_g_per_ml),
        *(Component(one.grams, one.what.density_g_per_ml) for one in paste.additives.values() if one.grams > 0),
    )


def _density(made: Made, asked: CheckAsked) -> tuple[float, None, dict[str, Any]]:
    facts = made.kept.plan.facts
    components = _components(made)
    if not components:
        raise Refused("kind", "nothing is known to be in this paint", "a batch with powder and oil logged")
    told = checks.air(
        _needed("gross_g", asked.gross_g, "the full syringe in g"),
        _needed("tare_g", asked.tare_g, "the empty syringe in g"),
        _needed("volume_ml", asked.volume_ml, "the volume of paint in it, in ml"),
        list(components),
    )
    implied = checks.implied_ratio(told.density_g_per_ml, facts.pigment_density_g_per_ml, facts.oil_density_g_per_ml)
    worked = [["density", told.density_g_per_ml, "g/ml"], ["without air", told.theoretical_g_per_ml, "g/ml"]]
    if implied is not None:
        worked.append(["ratio it implies without air", implied, "g per 100 g"])
    return 100 * told.air_fraction, None, {"worked": worked, "says": checks.air_says(told.air_fraction)}


def _colour(session: Session, made: Made, asked: CheckAsked) -> tuple[float | None, None, dict[str, Any]]:
    given = [asked.lab is not None, asked.srgb is not None, asked.spectrum is not None]
    if sum(given) != 1:
        raise Refused("lab", "exactly one of three is needed", "lab, srgb or spectrum")
    facts: dict[str, Any] = {"worked": []}
    if asked.spectrum is not None:
        lab = colorimetry.lab_of_spectrum(tuple(asked.spectrum), observer())
        facts["spectrum"] = asked.spectrum
    elif asked.lab is not None:
        try:
            lab = Lab(asked.lab.L, asked.lab.a, asked.lab.b)
        except Refused as refusal:
            raise refusal.under("lab") from None
    else:
        lab = colorimetry.lab_of_srgb(asked.srgb or "")
    facts["lab"] = [lab.L, lab.a, lab.b]
    if asked.uncertainty is not None:
        facts["worked"].append(["uncertain by", asked.uncertainty, "dE00"])
    standard = _standard(session, made, asked.kind)
    if standard is None:
        return None, None, {**facts, "says": "no standard to compare with yet"}
    difference = colorimetry.difference(Lab(*standard.facts["lab"]), lab)
    facts["says"] = f"dE00 {difference:.1f} from batch {standard.batch_number}"
    if asked.kind is CheckKind.TINT and asked.spectrum and standard.facts.get("spectrum"):
        strength = colorimetry.tint_strength_percent(
            tuple(max(0.001, min(1.0, r)) for r in standard.facts["spectrum"]),
            tuple(max(0.001, min(1.0, r)) for r in asked.spectrum),
        )
        facts["worked"].append(["tint strength", strength, "%"])
        facts["says"] += _weak(session, made, standard.batch_number, strength)
    return difference, None, facts


def _weak(session: Session, made: Made, standard: int, strength: float) -> str:
    """Why a tint is weak, against what went into the standard."""
    other = batches.made(session, standard)
    ratio = [m.kept.paste.oil_g_per_100g for m in (made, other)]
    fine = [m.results.get(CheckKind.FINENESS) for m in (made, other)]
    mull = [dispersing_minutes_per_load(m.kept.paste.mulling) for m in (made, other)]
    says = colorimetry.weaker_because(
        strength,
        ratio[0] / ratio[1] - 1 if ratio[0] and ratio[1] else 0.0,
        fine[0] - fine[1] if fine[0] is not None and fine[1] is not None else None,
        mull[0] - mull[1] if mull[0] is not None and mull[1] is not None else None,
        [w.pigment.source for w in made.kept.plan.lines] != [w.pigment.source for w in other.kept.plan.lines],
    )
    return f". {says}" if says else ""


def _standard(session: Session, made: Made, kind: CheckKind) -> Check | None:
    """The reading of the recipe's standard batch that colours are compared with."""
    if made.recipe_id is None:
        return None
    number = recipes.version_of(session, made.recipe_id, made.recipe_version).asked.standard_batch
    if number is None or number == made.kept.number:
        return None
    return session.scalar(
        select(Check)
        .where(Check.batch_number == number, Check.kind == kind, Check.set_aside.is_(None))
        .order_by(Check.made_at.desc())
        .limit(1)
    )


def _rows(session: Session, number: int) -> list[Check]:
    return list(
        session.scalars(select(Check).where(Check.batch_number == number).order_by(Check.made_at, Check.id))
    )  # fmt: skip


def _keep_results(session: Session, number: int) -> None:
    """The mean of each check that counts; of drawn ones the last."""
    results: dict[str, Any] = {}
    counting: dict[str, list[float]] = {}
    for row in _rows(session, number):
        if row.set_aside is not None:
            continue
        if row.value is not None:
            counting.setdefault(row.kind, []).append(row.value)
        elif row.choice is not None:
            results[row.kind] = row.choice
        else:
            results[row.kind] = READ
    results |= {kind: fmean(values) for kind, values in counting.items()}
    if CheckKind.DRYING in counting:
        results[CheckKind.DRYING] = min(counting[CheckKind.DRYING])
    batches.note_results(session, number, results)


def page(session: Session, now: datetime, number: int) -> BatchChecks:
    """The checks of a batch: readings, verdict, what is due. Raises Missing."""
    made = batches.made(session, number)
    kept = made.kept
    version = recipes.version_of(session, made.recipe_id, made.recipe_version) if made.recipe_id is not None else None
    wanted = version.wanted if version else [Wanted(kind) for kind in USUAL]
    rows = _rows(session, number)
    done: dict[CheckKind, int] = {}
    for row in rows:
        if row.set_aside is None:
            done[CheckKind(row.kind)] = done.get(CheckKind(row.kind), 0) + 1
    dried = isinstance(made.results.get(CheckKind.DRYING), (int, float))
    due: tuple[DueCheck, ...] = ()
    if kept.ended_at is not None and kept.status is Status.FINISHED:
        due = tuple(
            DueCheck(number, kept.name, kept.masstone_srgb, one.kind, one.at, one.says, one.at <= now)
            for one in checks.due(kept.ended_at, [w.kind for w in wanted], done, dried)
        )
    verdict = adjustment = None
    if version is not None and made.recipe_id is not None:
        verdict = _verdict(session, made, version.wanted)
        adjustment = _adjustment(session, made, version.wanted)
    decision = session.scalar(
        select(ReleaseDecision)
        .where(ReleaseDecision.batch_number == number)
        .order_by(ReleaseDecision.id.desc())
        .limit(1)
    )
    standard = _standard(session, made, CheckKind.MASSTONE)
    return BatchChecks(
        number, kept.name, kept.status, kept.masstone_srgb, kept.ended_at, now, made.recipe_id,
        recipes.name_of(session, made.recipe_id) if made.recipe_id is not None else "", made.recipe_version,
        tuple(wanted), tuple(_kept(row) for row in rows), _means(rows), due, verdict, adjustment,
        Decision(Release(decision.release), Release(decision.advised), decision.reason, decision.made_at)
        if decision
        else None,
        version.asked.standard_batch if version else None,
        colorimetry.srgb_of(Lab(*standard.facts["lab"])) if standard else None,
        _components(made), dict(CHOICES), dict(UNITS),
    )  # fmt: skip


def _kept(row: Check) -> CheckKept:
    kind = CheckKind(row.kind)
    lab = Lab(*row.facts["lab"]) if row.facts.get("lab") else None
    return CheckKept(
        row.id, kind, row.value, UNITS.get(kind, ""), row.choice, colorimetry.srgb_of(lab) if lab else None, lab,
        tuple(Worked(*one) for one in row.facts.get("worked", [])), row.facts.get("says", ""),
        row.payload.get("note", ""), row.made_at, row.set_aside,
    )  # fmt: skip


def _means(rows: list[Check]) -> tuple[Mean, ...]:
    means = []
    for kind in CheckKind:
        counting = [row for row in rows if row.kind == kind and row.set_aside is None]
        if not counting:
            continue
        values = [row.value for row in counting if row.value is not None]
        means.append(
            Mean(
                kind, UNITS.get(kind, ""), checks.repeated(values) if values else None, counting[-1].choice,
                len(counting),
            )
        )  # fmt: skip
    return tuple(means)


def _verdict(session: Session, made: Made, wanted: list[Wanted]) -> BatchVerdict:
    found = []
    for one in wanted:
        result = made.results.get(one.kind)
        if isinstance(result, str):
            found.append(Found(one.kind, None, result))
        elif result is not None:
            assert made.recipe_id is not None
            rules: tuple[Rule, ...] = ()
            if one.target is not None or one.low is not None or one.high is not None:
                told = batches.series(session, made.recipe_id, one.kind)
                rules = _rules_at(session, made, told, one)
            found.append(Found(one.kind, float(result), rules=rules))
    return judge(wanted, found)


def _rules_at(session: Session, made: Made, told: Series, wanted: Wanted) -> tuple[Rule, ...]:
    """The rules that fire at this batch, seen from its own day: later batches do not judge it."""
    if made.kept.number not in told.numbers or made.recipe_id is None:
        return ()
    until = told.numbers.index(made.kept.number) + 1
    limits = _control(recipes.frozen_on(session, made.recipe_id), told, wanted, until)
    return tuple(s.rule for s in limits.signals if s.at == until - 1) if limits else ()


def _control(
    frozen_on: tuple[int, ...], told: Series, wanted: Wanted | None, until: int | None = None
) -> Control | None:
    values = tuple(told.values[:until])
    if len(values) < BATCHES_FOR_LIMITS:
        return None
    frozen = set(frozen_on)
    places = tuple(n for n, number in enumerate(told.numbers[: len(values)]) if number in frozen) if frozen else ()
    return _control_of(
        values, wanted.low if wanted else None, wanted.high if wanted else None, places if len(places) > 1 else ()
    )


@lru_cache(maxsize=128)
def _control_of(values: tuple[float, ...], low: float | None, high: float | None, places: tuple[int, ...]) -> Control:
    """The same values have the same limits: a chart looked at twice is reckoned once."""
    return controls.control(list(values), low, high, list(places) or None)


Known = dict[tuple[int, ...], Facts]
"""What is known now of blends in their oils, by the lots they are of: reckoned once for all batches of the same."""


def own_slope(session: Session, made: tuple[OfRecipe, ...], known: Known | None = None) -> Slope:
    """How spread answers reduced PVC in this recipe, from its last batches, with the demand of lots as known now."""
    points = []
    known = {} if known is None else known
    for one in made[-SLOPE_FROM:]:
        diameter = one.results.get(CheckKind.SPREAD)
        if isinstance(diameter, (int, float)) and one.oil_g_per_100g:
            if one.lot_ids not in known:
                _facts_now(session, batches.made(session, one.number), known)
            points.append((_reduced(one, known[one.lot_ids]), float(diameter)))
    return checks.slope(points)


def _facts_now(session: Session, made: Made, known: Known) -> Facts:
    """The blend of a batch in its oil, with what was learned of its lots since it was planned."""
    if made.lot_ids and made.lot_ids in known:
        return known[made.lot_ids]
    try:
        facts = plans.compute(session, PlanAsked.model_validate(made.kept.asked)).plan.facts
    except (Refused, Missing):
        # A slab or tube type of then may be out of use; the plan's own figures stand.
        facts = made.kept.plan.facts
    known[made.lot_ids] = facts
    return facts


def _reduced(one: OfRecipe, facts: Facts) -> float:
    bound = 100 * binder_g(one.oil_g, one.additives.values(), facts) / one.pigment_g if one.pigment_g > 0 else 0.0
    return reduced_at(
        bound, facts.oil_absorption_g_per_100g, facts.pigment_density_g_per_ml,
        facts.oil_density_g_per_ml,
    )  # fmt: skip


def _adjustment(session: Session, made: Made, wanted: list[Wanted]) -> Adjustment | None:
    """How to bring a spread that is outside its tolerance back to the target."""
    promised = next((one for one in wanted if one.kind is CheckKind.SPREAD and one.target), None)
    diameter = made.results.get(CheckKind.SPREAD)
    paste, facts = made.kept.paste, made.kept.plan.facts
    if promised is None or promised.target is None or diameter is None or paste.oil_g_per_100g is None:
        return None
    inside = (promised.low is None or diameter >= promised.low) and (promised.high is None or diameter <= promised.high)
    if inside or made.recipe_id is None:
        return None
    slope = own_slope(session, batches.of_recipe(session, made.recipe_id))
    absorption = facts.oil_absorption_g_per_100g
    displaced = 100 * binder_g(0.0, paste.additives.values(), facts) / paste.pigment_g
    now = reduced_at(
        paste.oil_g_per_100g + displaced, absorption, facts.pigment_density_g_per_ml, facts.oil_density_g_per_ml
    )  # fmt: skip
    then = now + checks.reduced_change(diameter, promised.target, slope)
    if not 0.3 < then < 2:
        return None
    target = ratio_at(then, absorption, facts.pigment_density_g_per_ml, facts.oil_density_g_per_ml) - displaced
    if target <= 0:
        return None
    answer = correct(
        paste.pigment_g, paste.oil_g, target, facts.pigment_density_g_per_ml, facts.oil_density_g_per_ml, absorption
    )
    if answer.direction is Direction.ADD_PIGMENT:
        says = f"Grind in {answer.pigment_to_add_g:.1f} g of pigment"
    elif answer.direction is Direction.ADD_OIL:
        says = f"Grind in {answer.oil_to_add_g:.2f} g of oil"
    else:
        says = "Nothing to add that a balance could show"
    return Adjustment(
        diameter, promised.target, now, then, answer.pigment_to_add_g, answer.oil_to_add_g, slope,
        f"{says}, reckoned on the whole batch: take it up again, mull, and check anew.",
    )  # fmt: skip


class ReleaseAsked(BaseModel):
    """What the maker decides about a batch; against the advice only with a reason."""

    model_config = ConfigDict(extra="forbid")
    id: UUID
    release: Release
    reason: Annotated[Words, Field(max_length=500)] = ""


def decide(session: Session, now: datetime, number: int, asked: ReleaseAsked) -> BatchChecks:
    """Release a batch, or hold it. Releasing what is advised to be adjusted or held needs a reason.

    The decision teaches the lot's demand: released paint stood at its target, and a spread outside its
    tolerance says on which side it stood. Raises Refused, Missing, Conflict.
    """
    known = session.scalar(select(ReleaseDecision).where(ReleaseDecision.request_id == asked.id))
    if known is not None:
        if (known.batch_number, known.release, known.reason) != (number, asked.release, asked.reason.strip()):
            raise Conflict("id", "this id belongs to another decision already", "a new id")
        return page(session, now, number)
    made = batches.made(session, number)
    if asked.release in (Release.WAIT, Release.ADJUST):
        raise Refused("release", f"'{asked.release}' is advice, not a decision", "release, watch or hold")
    if made.recipe_id is None:
        raise Refused("release", "this batch follows no recipe", "a recipe made from it first")
    if made.kept.status is not Status.FINISHED:
        raise Refused("release", f"the batch is {made.kept.status}", "a finished batch")
    version = recipes.version_of(session, made.recipe_id, made.recipe_version)
    advised = _verdict(session, made, version.wanted).release
    if asked.release in batches.RELEASED and advised not in batches.RELEASED and not asked.reason.strip():
        raise Refused("reason", f"the advice is to {advised}", "why it is released all the same")
    session.add(
        ReleaseDecision(
            request_id=asked.id, batch_number=number, release=asked.release, advised=advised,
            reason=asked.reason.strip(), made_at=now,
        )
    )  # fmt: skip
    batches.note_release(session, number, asked.release)
    _teach(session, now, made, version.wanted, asked.release)
    return page(session, now, number)


def _teach(session: Session, now: datetime, made: Made, wanted: list[Wanted], release: Release) -> None:
    if len(made.kept.plan.lines) != 1 or made.kept.paste.additives:
        return
    promised = next((one for one in wanted if one.kind is CheckKind.SPREAD), None)
    diameter = made.results.get(CheckKind.SPREAD)
    if promised is None or diameter is None:
        return
    if promised.high is not None and diameter > promised.high:
        verdict = BodyVerdict.SOFT
    elif promised.low is not None and diameter < promised.low:
        verdict = BodyVerdict.STIFF
    elif release in batches.RELEASED:
        verdict = BodyVerdict.RIGHT
    else:
        return
    kept = made.kept
    pigment, facts = kept.plan.lines[0].pigment, kept.plan.facts
    target = kept.paste.target_reduced_pvc or facts.target_reduced_pvc
    rubout.note_verdict(
        session, now, kept.number, pigment.source, pigment.key, verdict, kept.paste.oil_g_per_100g, target, facts
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
        told = checks.due(batch.ended_at, versions[key], counted.get(batch.number, {}), batch.number in dried)
        waits += [
            DueCheck(batch.number, batch.name, batch.masstone_srgb, one.kind, one.at, one.says, one.at <= now)
            for one in told
        ]
    return tuple(sorted(waits, key=lambda one: (one.at, one.number)))


@dataclass(frozen=True, slots=True)
class Consistency:
    """One check over a recipe's batches: the values, limits from eight batches on, signals, tolerance."""

    recipe_id: int
    name: str
    kind: CheckKind
    unit: str
    kinds: tuple[CheckKind, ...]
    numbers: list[int]
    versions: list[int]
    lots: list[int]
    values: list[float]
    control: Control | None
    signalled_at: dict[int, datetime]
    batches_for_limits: int
    wanted: Wanted | None
    frozen_on: tuple[int, ...]
    rule_words: dict[Rule, str]


def consistency(session: Session, recipe_id: int, kind: CheckKind) -> Consistency:
    """How even a recipe's batches are in one check. `lots` counts the sets of lots as they change. Raises Missing."""
    recipe = recipes.newest(session, recipe_id)
    version = recipe.version
    wanted = next((one for one in version.wanted if one.kind is kind), None)
    told = batches.series(session, recipe_id, kind)
    kinds = [one.kind for one in version.wanted if one.kind not in CHOICES]
    if kind not in kinds:
        kinds.append(kind)
    seen: dict[str, int] = {}
    limits = _control(recipe.frozen_on, told, wanted)
    at = sorted({signal.at for signal in limits.signals}) if limits else []
    began = batches.started(session, [told.numbers[n] for n in at]) if at else {}
    signalled = {n: began[told.numbers[n]] for n in at}
    return Consistency(
        recipe_id, recipe.name, kind, UNITS.get(kind, ""), tuple(kinds), told.numbers, told.versions,
        [seen.setdefault(lots, len(seen) + 1) for lots in told.lots], told.values, limits, signalled,
        BATCHES_FOR_LIMITS, wanted, recipe.frozen_on,
        dict(controls.RULE_WORDS),
    )  # fmt: skip


@dataclass(frozen=True, slots=True)
class BodyPoint:
    """A batch on the body map: how far it spreads, and how long it strings."""

    number: int
    spread_mm: float
    string_mm: float
    release: str | None


@dataclass(frozen=True, slots=True)
class BodyMap:
    """The batches of a recipe between long and short, loose and stiff, with the target as a field."""

    points: tuple[BodyPoint, ...]
    spread: Wanted | None
    string: Wanted | None
    slope: Slope


def body_map(session: Session, recipe_id: int) -> BodyMap:
    """The body map of a recipe, its last 400 batches. Raises Missing."""
    version = recipes.version_of(session, recipe_id, None)
    made = batches.of_recipe(session, recipe_id)
    points = [
        BodyPoint(b.number, float(b.results[CheckKind.SPREAD]), float(b.results[CheckKind.STRING]), b.release)
        for b in made[-400:]
        if isinstance(b.results.get(CheckKind.SPREAD), (int, float))
        and isinstance(b.results.get(CheckKind.STRING), (int, float))
    ]
    promised = {one.kind: one for one in version.wanted}
    return BodyMap(
        tuple(points), promised.get(CheckKind.SPREAD), promised.get(CheckKind.STRING), own_slope(session, made)
    )  # fmt: skip


@dataclass(frozen=True, slots=True)
class Side:
    """One batch of a comparison: what went in and what came out."""

    number: int
    name: str
    started_at: datetime
    masstone_srgb: str
    lots: str
    oil: str
    oil_g_per_100g: float | None
    oil_absorption_g_per_100g: float
    reduced_pvc: float | None
    minutes_per_load: float | None
    additives: str
    release: str | None
    results: dict[str, float | str]


@dataclass(frozen=True, slots=True)
class Comparison:
    """Two batches side by side, and the change in spread shared out; `why_not` where it cannot be."""

    one: Side
    other: Side
    units: dict[CheckKind, str]
    explained: Explained | None
    why_not: str


def compare(session: Session, one: int, other: int) -> Comparison:
    """Compare two batches: inputs, results, and what the change in spread comes from. Raises Refused, Missing."""
    if one == other:
        raise Refused("other", "the same batch", "another batch")
    first, second = batches.made(session, one), batches.made(session, other)
    explained, why_not = None, ""
    known: Known = {}
    diameters = [m.results.get(CheckKind.SPREAD) for m in (first, second)]
    ratios = [m.kept.paste.oil_g_per_100g for m in (first, second)]
    if None in diameters:
        why_not = "Spread was not checked on both."
    elif not all(ratios):
        why_not = "The ratio is not known of both."
    else:
        recipe = second.recipe_id if second.recipe_id is not None else first.recipe_id
        slope = checks.slope([])
        if recipe is not None:
            slope = own_slope(session, batches.of_recipe(session, recipe), known)
        inputs = [_inputs(made, _facts_now(session, made, known)) for made in (first, second)]
        explained = explain(inputs[0], float(diameters[0] or 0), inputs[1], float(diameters[1] or 0), slope)
    sides = [_side(made, _facts_now(session, made, known)) for made in (first, second)]
    return Comparison(sides[0], sides[1], dict(UNITS), explained, why_not)


def _inputs(made: Made, facts: Facts) -> BatchInputs:
    return BatchInputs(
        made.kept.paste.oil_g_per_100g or 0.0,
        Wets(facts.oil_absorption_g_per_100g, facts.pigment_density_g_per_ml, facts.oil_density_g_per_ml),
        dispersing_minutes_per_load(made.kept.paste.mulling),
        facts.tau_min,
        additive_ln_stress(made.kept.paste.additives.values(), made.kept.paste.pigment_g),
    )


def _side(made: Made, facts: Facts) -> Side:
    kept = made.kept
    paste = kept.paste
    ratio = paste.oil_g_per_100g
    bound = 100 * binder_g(paste.oil_g, paste.additives.values(), facts) / paste.pigment_g if ratio else 0.0
    return Side(
        kept.number, kept.name, kept.started_at, kept.masstone_srgb,
        ", ".join(w.pigment.lot_code or "library" for w in kept.plan.lines),
        kept.plan.oil.name + (f", {kept.plan.oil.lot_code}" if kept.plan.oil.lot_code else ""),
        ratio, facts.oil_absorption_g_per_100g,
        reduced_at(bound, facts.oil_absorption_g_per_100g, facts.pigment_density_g_per_ml, facts.oil_density_g_per_ml)
        if ratio
        else None,
        dispersing_minutes_per_load(kept.paste.mulling),
        ", ".join(f"{one.what.name} {one.grams:.2f} g" for one in paste.additives.values()) or "none",
        made.release, made.results,
    )  # fmt: skip


def is_colour(kind: CheckKind) -> bool:
    """Whether a check is of a colour."""
    return kind in COLOURS
