"""How even the batches of a recipe are."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime

from sqlalchemy.orm import Session

from niddy.core import control as controls
from niddy.core.charts import ALARM_WORDS, Alarm, Chart, drifts
from niddy.core.checks import CHOICES, TOWARDS, UNITS, CheckKind, Slope
from niddy.core.control import BATCHES_FOR_LIMITS, Control, Rule
from niddy.core.verdicts import Wanted
from niddy.studio import batches, recipes
from niddy.studio.checks.blends import own_slope
from niddy.studio.checks.verdict import chart_of, control_limits


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
    chart: Chart | None
    alarm_words: dict[Alarm, str]


def consistency(session: Session, recipe_id: int, kind: CheckKind) -> Consistency:
    """How even a recipe's batches are in one check. `lots` counts the sets of lots as they change. Raises Missing."""
    recipe = recipes.newest(session, recipe_id)
    version = recipe.version
    wanted = next((promise for promise in version.wanted if promise.kind is kind), None)
    measured = batches.series(session, recipe_id, kind)
    kinds = [promise.kind for promise in version.wanted if promise.kind not in CHOICES]
    if kind not in kinds:
        kinds.append(kind)
    seen: dict[str, int] = {}
    limits = control_limits(recipe.frozen_on, measured, wanted)
    judged = chart_of(recipe.frozen_on, measured, wanted)
    if judged is not None and judged.trend is not None and kind in TOWARDS:
        says = drifts(judged.trend.by, TOWARDS[kind], UNITS.get(kind, ""))
        judged = replace(judged, trend=replace(judged.trend, says=says))
    quiet = {signal.at for signal in limits.signals} if limits else set()
    at = sorted(quiet | ({raised.at for raised in judged.alarms} if judged else set()))
    began = batches.started(session, [measured.numbers[n] for n in at]) if at else {}
    signalled = {n: began[measured.numbers[n]] for n in at}
    return Consistency(
        recipe_id,
        recipe.name,
        kind,
        UNITS.get(kind, ""),
        tuple(kinds),
        measured.numbers,
        measured.versions,
        [seen.setdefault(lots, len(seen) + 1) for lots in measured.lots],
        measured.values,
        limits,
        signalled,
        BATCHES_FOR_LIMITS,
        wanted,
        recipe.frozen_on,
        dict(controls.RULE_WORDS),
        judged,
        dict(ALARM_WORDS),
    )


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
    promised = {promise.kind: promise for promise in version.wanted}
    return BodyMap(
        tuple(points), promised.get(CheckKind.SPREAD), promised.get(CheckKind.STRING), own_slope(session, made)
    )
