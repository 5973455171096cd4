"""The checks of a batch, what they come to, and what the maker decides."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from functools import lru_cache
from typing import Annotated
from uuid import UUID, uuid5

from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy.orm import Session

from niddy.core import charts, checks, colorimetry, slab
from niddy.core import control as controls
from niddy.core.charts import Alarm, Chart
from niddy.core.checks import CHOICES, UNITS, CheckKind, Component, Slope
from niddy.core.colorimetry import Lab
from niddy.core.control import BATCHES_FOR_LIMITS, Control
from niddy.core.correction import Direction, correct
from niddy.core.errors import Refused
from niddy.core.measures import Family
from niddy.core.slab import Status, binder_g
from niddy.core.slab import Verdict as BodyVerdict
from niddy.core.verdicts import BatchVerdict, Found, Release, Wanted, judge
from niddy.core.wetting import ratio_at, reduced_at
from niddy.core.words import Words
from niddy.db.checks import Check
from niddy.studio import batches, jobs, log, paints, recipes, rubout
from niddy.studio.batches import Made, Series
from niddy.studio.checks.blends import own_slope
from niddy.studio.checks.due import DueCheck
from niddy.studio.checks.readings import (
    ROOM,
    CheckAsked,
    CheckKept,
    Mean,
    components_of,
    is_colour,
    keep,
    keep_results,
    kept_check,
    means_of,
    rows_of,
    standard_of,
)
from niddy.studio.errors import Missing

USUAL = (CheckKind.SPREAD, CheckKind.DENSITY, CheckKind.STRING, CheckKind.BLEED, CheckKind.DRYING)
"""What a batch without a recipe is offered to check."""


@dataclass(frozen=True, slots=True)
class Adjustment:
    """What brings the spread of a batch back to its recipe's target, by the slope used: what to add, and how."""

    diameter_mm: float
    target_mm: float
    reduced_now: float
    reduced_wanted: float
    pigment_to_add_g: float
    oil_to_add_g: float
    slope: Slope
    adds: str
    how: str


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
    usual: checks.Usual


def record(session: Session, now: datetime, number: int, asked: CheckAsked) -> BatchChecks:
    """Keep one reading. Sent again, it changes nothing. Raises Refused, Missing, Conflict."""
    keep(session, now, number, asked)
    return page(session, now, number)


SET_ASIDE = "set_aside"
DECIDE = "decide"


def set_aside(session: Session, now: datetime, number: int, check_id: UUID, reason: str | None) -> BatchChecks:
    """Let a reading not count, with a reason, or count again with none. Raises Refused, Missing."""
    row = session.get(Check, check_id, with_for_update=True)
    if row is None or row.batch_number != number:
        raise Missing("reading", str(check_id))
    if reason is not None and not reason.strip():
        raise Refused("reason", "empty", "why this reading does not count")
    if reason != row.set_aside:
        job_id = jobs.job_beside(session, ROOM, now, number, batches.made(session, number).kept.name)
        counting = [
            act for act in log.of_kind(session, job_id, SET_ASIDE) if act.strikes == check_id and not act.struck
        ]
        for act in counting:
            log.log(session, now, job_id, log.New(uuid5(act.id, "back"), log.STRIKE, now, {}, {}, strikes=act.id))
        if reason is not None:
            said = {"reason": reason}
            aside = uuid5(check_id, f"aside-{log.hold(session, job_id)}")
            log.log(session, now, job_id, log.New(aside, SET_ASIDE, now, said, {}, strikes=check_id))
    row.set_aside = reason
    session.flush()
    if is_colour(CheckKind(row.kind)) and (paint_id := paints.of_batch(session, number)) is not None:
        paints.read_anew(session, paint_id)
    keep_results(session, number)
    return page(session, now, number)


def page(session: Session, now: datetime, number: int) -> BatchChecks:
    """The checks of a batch: readings, verdict, what is due. Raises Missing."""
    made = batches.made(session, number)
    kept = made.kept
    version = recipes.version_of(session, made.recipe_id, made.recipe_version) if made.recipe_id is not None else None
    wanted = version.wanted if version else [Wanted(kind) for kind in USUAL]
    rows = rows_of(session, number)
    done: dict[CheckKind, int] = {}
    for row in rows:
        if row.set_aside is None:
            done[CheckKind(row.kind)] = done.get(CheckKind(row.kind), 0) + 1
    dried = isinstance(made.results.get(CheckKind.DRYING), (int, float))
    due: tuple[DueCheck, ...] = ()
    if kept.ended_at is not None and kept.status is Status.FINISHED:
        due = tuple(
            DueCheck(number, kept.name, kept.masstone_srgb, wait.kind, wait.at, wait.says, wait.at <= now)
            for wait in checks.due(kept.ended_at, [w.kind for w in wanted], done, dried)
        )
    verdict = adjustment = None
    if version is not None and made.recipe_id is not None:
        verdict = _verdict(session, made, version.wanted)
        adjustment = _adjustment(session, made, version.wanted)
    job_id = log.find(session, ROOM, number)
    decided = log.of_kind(session, job_id, DECIDE) if job_id is not None else ()
    standard = standard_of(session, made, CheckKind.MASSTONE)
    return BatchChecks(
        number,
        kept.name,
        kept.status,
        kept.masstone_srgb,
        kept.ended_at,
        now,
        made.recipe_id,
        recipes.name_of(session, made.recipe_id) if made.recipe_id is not None else "",
        made.recipe_version,
        tuple(wanted),
        tuple(kept_check(row) for row in rows),
        means_of(rows),
        due,
        verdict,
        adjustment,
        _decision(decided[-1]) if decided else None,
        version.asked.standard_batch if version else None,
        colorimetry.srgb_of(Lab(*standard.facts["lab"])) if standard else None,
        components_of(made),
        dict(CHOICES),
        dict(UNITS),
        checks.Usual(),
    )


def _decision(act: log.Entry) -> Decision:
    said = act.payload
    return Decision(Release(said["release"]), Release(act.facts["advised"]), said["reason"], act.made_at)


def _verdict(session: Session, made: Made, wanted: list[Wanted]) -> BatchVerdict:
    found = []
    for promise in wanted:
        result = made.results.get(promise.kind)
        if isinstance(result, str):
            found.append(Found(promise.kind, None, result))
        elif result is not None:
            assert made.recipe_id is not None
            alarms: tuple[Alarm, ...] = ()
            if promise.target is not None or promise.low is not None or promise.high is not None:
                measured = batches.series(session, made.recipe_id, promise.kind)
                alarms = _alarms_at(session, made, measured, promise)
            found.append(Found(promise.kind, float(result), alarms=alarms))
    return judge(wanted, found)


def _alarms_at(session: Session, made: Made, measured: Series, wanted: Wanted) -> tuple[Alarm, ...]:
    """The alarms this batch raises, seen from its own day: later batches do not judge it."""
    if made.kept.number not in measured.numbers or made.recipe_id is None:
        return ()
    until = measured.numbers.index(made.kept.number) + 1
    judged = chart_of(recipes.frozen_on(session, made.recipe_id), measured, wanted, until)
    return tuple(raised.alarm for raised in judged.alarms if raised.at == until - 1) if judged else ()


def chart_of(
    frozen_on: tuple[int, ...], measured: Series, wanted: Wanted | None, until: int | None = None
) -> Chart | None:
    """A check over the batches of a recipe, judged; None while there are too few."""
    values = tuple(measured.values[:until])
    frozen = set(frozen_on)
    places = tuple(n for n, number in enumerate(measured.numbers[: len(values)]) if number in frozen)
    return _chart_of(values, wanted.low if wanted else None, wanted.high if wanted else None, places)


@lru_cache(maxsize=128)
def _chart_of(
    values: tuple[float, ...], low: float | None, high: float | None, places: tuple[int, ...]
) -> Chart | None:
    return charts.chart(list(values), low, high, places)


def control_limits(
    frozen_on: tuple[int, ...], measured: Series, wanted: Wanted | None, until: int | None = None
) -> Control | None:
    """The limits of a check over the batches of a recipe; None while there are too few."""
    values = tuple(measured.values[:until])
    if len(values) < BATCHES_FOR_LIMITS:
        return None
    frozen = set(frozen_on)
    places = tuple(n for n, number in enumerate(measured.numbers[: len(values)]) if number in frozen) if frozen else ()
    return _control_of(
        values, wanted.low if wanted else None, wanted.high if wanted else None, places if len(places) > 1 else ()
    )


@lru_cache(maxsize=128)
def _control_of(values: tuple[float, ...], low: float | None, high: float | None, places: tuple[int, ...]) -> Control:
    """The same values have the same limits: a chart looked at twice is reckoned once."""
    return controls.control(list(values), low, high, list(places) or None)


def _adjustment(session: Session, made: Made, wanted: list[Wanted]) -> Adjustment | None:
    """How to bring a spread that is outside its tolerance back to the target."""
    promised = next((promise for promise in wanted if promise.kind is CheckKind.SPREAD and promise.target), None)
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
    )
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
        adds = f"Grind in {answer.pigment_to_add_g:.1f} g of pigment"
    elif answer.direction is Direction.ADD_OIL:
        adds = f"Grind in {answer.oil_to_add_g:.2f} g of oil"
    else:
        adds = "Nothing to add that a balance could show"
    return Adjustment(
        diameter,
        promised.target,
        now,
        then,
        answer.pigment_to_add_g,
        answer.oil_to_add_g,
        slope,
        adds,
        "For the whole batch: take it up again, mull, and check anew.",
    )


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
    job_id = jobs.job_beside(session, ROOM, now, number, batches.made(session, number).kept.name)
    log.hold(session, job_id)
    made = batches.made(session, number)
    said = {"release": asked.release, "reason": asked.reason.strip()}
    if log.known(session, job_id, asked.id, DECIDE, said):
        return page(session, now, number)
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
    log.log(session, now, job_id, log.New(asked.id, DECIDE, now, said, {"advised": advised}))
    batches.note_release(session, number, asked.release)
    _teach(session, now, made, version.wanted, asked.release)
    return page(session, now, number)


def _teach(session: Session, now: datetime, made: Made, wanted: list[Wanted], release: Release) -> None:
    if len(made.kept.plan.lines) != 1 or made.kept.paste.additives:
        return
    promised = next((promise for promise in wanted if promise.kind is CheckKind.SPREAD), None)
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
    taught = slab.taught_by_check(slab.know(kept.paste, facts), verdict)
    by_spoons = kept.paste.powder_by == Family.SPOON
    rubout.note_batch(session, now, kept.number, pigment, verdict, taught, facts, by_spoons=by_spoons)
