"""Body by intent: from what a paint should be like to a target and additive routes, one for each school."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from enum import StrEnum

from niddy.core import additives as doses
from niddy.core import drying, oils, wetting
from niddy.core.additives import Dosing
from niddy.core.cautions import Caution, cautions_for
from niddy.core.errors import REDUCED_PVC_HIGH, REDUCED_PVC_LOW
from niddy.core.estimate import Basis
from niddy.core.materials import Additive, BinderOil, DryPigment
from niddy.core.wetting import Body


class Stand(StrEnum):
    """How the paint stands on the knife."""

    PEAK = "peak"
    BUTTER = "butter"
    SOFT = "soft"
    FLOWS = "flows"


class Brush(StrEnum):
    """What becomes of the brush mark."""

    KEEPS = "keeps"
    SOFTENS = "softens"
    LEVELS = "levels"


class Thread(StrEnum):
    """How the paint strings."""

    SHORT = "short"
    SOME = "some"
    HONEY = "honey"


class Keep(StrEnum):
    """How long it has to keep in the tube."""

    WEEKS = "weeks"
    YEAR = "year"
    YEARS = "years"


class School(StrEnum):
    """What a maker holds with."""

    NONE = "none"
    TRADITIONAL = "traditional"
    MODERN = "modern"


STAND_REDUCED = {Stand.PEAK: 0.93, Stand.BUTTER: 0.86, Stand.SOFT: 0.76, Stand.FLOWS: 0.67}
"""Reduced PVC that stands so without additives (assumed)."""

BRUSH_SHIFT = {Brush.KEEPS: 0.02, Brush.SOFTENS: 0.0, Brush.LEVELS: -0.03}
"""How a brush mark shifts it (assumed)."""

KEEPS_BETTER_SHIFT = 0.03
"""With no stabiliser, a little less oil separates later (assumed)."""

THICK_OIL_SHARE = 0.25
"""Stand or sun-thickened oil in the oil, for paint that levels or strings (assumed)."""


@dataclass(frozen=True, slots=True)
class Intent:
    """What is wanted, in drawn choices."""

    stand: Stand
    brush: Brush
    thread: Thread
    keep: Keep


@dataclass(frozen=True, slots=True)
class Known:
    """What the studio's own ladder of an additive taught: its stiffening for each percent, and a dose that does."""

    ladder_id: int
    ladder_name: str
    stiffening_per_pct: float | None
    least_dose_pct: float | None
    none_does: bool


@dataclass(frozen=True, slots=True)
class Cupboard:
    """What routes choose from: additives by key, the pigments extenders count as, and thick oils by key."""

    additives: dict[str, Additive]
    extenders: dict[str, DryPigment]
    thick_oils: dict[str, oils.Portion]


@dataclass(frozen=True, slots=True)
class Taken:
    """One additive of a route: its dose and why it is in, whether the dose is known here or assumed."""

    key: str
    name: str
    dose_pct: float
    basis_word: str
    why: str
    known: str


@dataclass(frozen=True, slots=True)
class OilShare:
    """One oil of a route's blend and its share by weight."""

    key: str
    name: str
    share: float


@dataclass(frozen=True, slots=True)
class Wish:
    """One thing wanted, and how far a route gives it."""

    what: str
    met: bool
    says: str


@dataclass(frozen=True, slots=True)
class Route:
    """One school's way to the paint wanted, and its price."""

    school: School
    title: str
    reduced_pvc: float
    body: Body
    additives: tuple[Taken, ...]
    oil_parts: tuple[OilShare, ...]
    oil_name: str
    pigment_volume_pct: float
    colour_strength_pct: float
    stiffer_times: float
    touch_dry_days_low: float | None
    touch_dry_days_high: float | None
    film: str
    keeps: str
    keeps_days: int | None
    wishes: tuple[Wish, ...]
    cautions: tuple[Caution, ...]
    known: tuple[str, ...]
    assumed: tuple[str, ...]


_TITLES = {
    School.NONE: "Pigment and oil, nothing else",
    School.TRADITIONAL: "Wax, yolk, chalk",
    School.MODERN: "Stearate, castor wax",
}


def routes(
    intent: Intent, pigment: DryPigment, oil: oils.Portion, cupboard: Cupboard, known: dict[str, Known]
) -> tuple[Route, ...]:
    """The three schools side by side, for one pigment in one oil. A studio's own ladder outranks what is assumed."""
    plain = _mix(intent, School.NONE, pigment, oil, cupboard, known)
    return tuple(_route(intent, school, pigment, oil, cupboard, known, plain.pigment_volume) for school in School)


@dataclass(frozen=True, slots=True)
class _Mix:
    reduced: float
    dosings: list[Dosing]
    extenders: list[Dosing]
    why: dict[str, str]
    oil: BinderOil
    pigment_volume: float


def _wanted(intent: Intent, school: School) -> list[tuple[str, float, str]]:
    """Additive, usual dose in percent and reason, for what a school would reach for."""
    honey = intent.thread is Thread.HONEY or intent.brush is Brush.LEVELS
    short = intent.thread is Thread.SHORT or intent.brush is Brush.KEEPS
    if school is School.NONE:
        return []
    if school is School.TRADITIONAL:
        taken = []
        if short and intent.keep is Keep.WEEKS:
            taken.append(("egg-yolk", 3.0, "shortens at once and keeps the mark"))
        elif intent.keep is not Keep.WEEKS or short:
            dose = {Keep.WEEKS: 1.0, Keep.YEAR: 1.0, Keep.YEARS: 2.0}[intent.keep] * (0.5 if honey else 1.0)
            taken.append(("beeswax", dose, "holds pigment up" + (" and shortens" if short else "")))
        if intent.stand is Stand.PEAK:
            taken.append(("chalk-extender", 10.0, "lends body"))
        return taken
    taken = []
    if intent.keep is not Keep.WEEKS:
        dose = {Keep.YEAR: 1.0, Keep.YEARS: 2.0}[intent.keep] * (0.5 if honey else 1.0)
        taken.append(("aluminium-stearate", dose, "holds pigment up for years" if not honey else "holds pigment up"))
    if short:
        taken.append(("hydrogenated-castor-oil", 0.6, "shortens strongly"))
    if intent.stand is Stand.PEAK:
        taken.append(("alumina-hydrate-extender", 10.0, "lends a transparent body"))
    return taken


def _mix(
    intent: Intent, school: School, pigment: DryPigment, oil: oils.Portion, cupboard: Cupboard, known: dict[str, Known]
) -> _Mix:
    reduced = STAND_REDUCED[intent.stand] + BRUSH_SHIFT[intent.brush]
    honey = intent.thread is Thread.HONEY or intent.brush is Brush.LEVELS
    binder = oil.oil
    thick = "linseed-sun-thickened" if school is School.TRADITIONAL else "linseed-stand"
    if honey and thick in cupboard.thick_oils and thick != oil.oil.key:
        portion = replace(cupboard.thick_oils[thick], parts=THICK_OIL_SHARE)
        binder = oils.blend([replace(oil, parts=1 - THICK_OIL_SHARE), portion])
    dosings: list[Dosing] = []
    extenders: list[Dosing] = []
    why: dict[str, str] = {}
    for key, usual, reason in _wanted(intent, school):
        additive = cupboard.additives[key]
        learned = known.get(key)
        dose = min(
            learned.least_dose_pct if learned is not None and learned.least_dose_pct else usual,
            additive.dose_ceiling_pct,
        )
        own = learned.stiffening_per_pct if learned is not None else None
        dosing = Dosing(
            additive,
            dose,
            stiffening_per_pct=additive.stiffening_per_pct if own is None else own,
            stiffening_basis=Basis.ASSUMED if own is None else Basis.LEARNED,
        )
        why[key] = reason
        (extenders if doses.extends_as(additive) else dosings).append(dosing)
    if school is School.NONE:
        reduced += KEEPS_BETTER_SHIFT * ((intent.keep is Keep.YEARS) + (intent.thread is Thread.SHORT))
    reduced = min(max(reduced, REDUCED_PVC_LOW + 0.05), REDUCED_PVC_HIGH - 0.1)
    # The body asked for is kept: what an additive stiffens, a little more oil gives back.
    volume = _pigment_volume(reduced - doses.stiffens(dosings), pigment, binder, dosings, extenders, cupboard)
    return _Mix(reduced, dosings, extenders, why, binder, volume)


def _pigment_volume(
    reduced: float,
    pigment: DryPigment,
    oil: BinderOil,
    dosings: list[Dosing],
    extenders: list[Dosing],
    cupboard: Cupboard,
) -> float:
    """The fraction of the paint's volume that is the coloured pigment."""
    parts = [wetting.Part(1.0, pigment.density_g_per_ml, pigment.demand_g_per_100g)]
    for dosing in extenders:
        counts = cupboard.extenders[dosing.additive.key]
        parts.append(wetting.Part(dosing.dose_pct / 100, counts.density_g_per_ml, counts.demand_g_per_100g))
    mixed = wetting.blend(parts)
    powder = sum(part.parts for part in parts)
    absorption = wetting.in_oil(mixed.oil_absorption_g_per_100g, oil.density_g_per_ml)
    bound = wetting.ratio_at(reduced, absorption, mixed.density_g_per_ml, oil.density_g_per_ml)
    got = doses.amounts(dosings, 100, max(bound, 0.1) / oil.density_g_per_ml, oil.density_g_per_ml)
    ml = 100 / mixed.density_g_per_ml + got.oil_g / oil.density_g_per_ml
    ml += sum(g / dosing.additive.density_g_per_ml for g, dosing in zip(got.additives_g, dosings, strict=True))
    return 100 / powder / pigment.density_g_per_ml / ml


def _route(
    intent: Intent,
    school: School,
    pigment: DryPigment,
    oil: oils.Portion,
    cupboard: Cupboard,
    known: dict[str, Known],
    plain_volume: float,
) -> Route:
    mix = _mix(intent, school, pigment, oil, cupboard, known)
    all_of = [*mix.dosings, *mix.extenders]
    keys = {dosing.additive.key for dosing in all_of}
    days = drying.touch_dry(mix.oil, [(1.0, pigment)], mix.dosings)
    normal = next((span for span in days if span.film == "normal"), None)
    keeps_days = min((k for dosing in all_of if (k := doses.keeps_days(dosing.additive)) is not None), default=None)
    taken = tuple(
        Taken(
            dosing.additive.key,
            dosing.additive.name,
            dosing.dose_pct,
            dosing.basis,
            mix.why[dosing.additive.key],
            _known_says(known.get(dosing.additive.key)),
        )
        for dosing in all_of
    )
    proven = [choice for choice in taken if choice.known]
    assumed = ["the body that each choice stands for", "what the pigment volume means for strength of colour"]
    assumed += [f"dose and stiffening of {choice.name.lower()}" for choice in taken if not choice.known]
    if mix.oil.parts:
        assumed.append("levelling of the thick oil")
    return Route(
        school,
        _TITLES[school],
        round(mix.reduced, 3),
        wetting.body_at(mix.reduced),
        taken,
        tuple(OilShare(part.key, part.name, round(part.share, 3)) for part in mix.oil.parts),
        mix.oil.name,
        100 * mix.pigment_volume,
        100 * mix.pigment_volume / plain_volume,
        math.exp(sum(dosing.stiffening_per_pct * dosing.dose_pct for dosing in mix.dosings)),
        normal.days_low if normal else None,
        normal.days_high if normal else None,
        _film(keys),
        _keeps(keys, keeps_days),
        keeps_days,
        _wishes(intent, keys, keeps_days, bool(mix.oil.parts)),
        cautions_for([(choice.additive.name, choice.additive.hazards) for choice in all_of]),
        tuple(f"{choice.name}: {choice.known}" for choice in proven),
        tuple(assumed),
    )


def _known_says(known: Known | None) -> str:
    if known is None:
        return ""
    if known.least_dose_pct:
        return f"{known.least_dose_pct:.2g} % did it in your ladder '{known.ladder_name}'"
    if known.none_does:
        return f"no dose did it in your ladder '{known.ladder_name}'"
    return f"stiffening from your ladder '{known.ladder_name}'"


def _film(keys: set[str]) -> str:
    remarks = []
    if "beeswax" in keys:
        remarks.append("wax softens it")
    if "egg-yolk" in keys:
        remarks.append("yolk stiffens it at first, brittle in thick layers")
    if "aluminium-stearate" in keys:
        remarks.append("a soapy, weaker film where overdosed")
    if any(key.endswith("-extender") for key in keys):
        remarks.append("leaner for the extender")
    return "; ".join(remarks) or ("hardly changed" if keys else "that of the oil alone")


def _keeps(keys: set[str], days: int | None) -> str:
    if days is not None:
        return f"{days} days, cold and closed: yolk spoils"
    if "aluminium-stearate" in keys:
        return "years as a rule"
    if "beeswax" in keys:
        return "a year or more; separates slowly"
    return "depends on the pigment: some separate within months"


def _wishes(intent: Intent, keys: set[str], keeps_days: int | None, thick: bool) -> tuple[Wish, ...]:
    held = bool(keys & {"aluminium-stearate", "beeswax"})
    short = bool(keys & {"hydrogenated-castor-oil", "egg-yolk", "beeswax"})
    wishes = [Wish("stands", True, "by its target, with what is stirred in counted")]
    if intent.brush is Brush.KEEPS:
        wishes.append(
            Wish(
                "keeps the mark",
                short or intent.stand in (Stand.PEAK, Stand.BUTTER),
                "shortened" if short else "by stiffness alone",
            )
        )
    elif intent.brush is Brush.LEVELS:
        wishes.append(Wish("levels", thick, "thick oil in the oil" if thick else "by looseness alone"))
    else:
        wishes.append(Wish("brushes out", True, "no help needed"))
    if intent.thread is Thread.SHORT:
        wishes.append(Wish("short", short, "shortened" if short else "only as short as this pigment is by itself"))
    elif intent.thread is Thread.HONEY:
        wishes.append(Wish("strings like honey", thick, "thick oil in the oil" if thick else "by looseness alone"))
    match intent.keep:
        case Keep.WEEKS:
            fine = keeps_days is None or keeps_days >= 14
            wishes.append(Wish("keeps some weeks", fine, "" if fine else f"only {keeps_days} days, cold"))
        case Keep.YEAR:
            wishes.append(Wish("keeps a year", held and keeps_days is None, "held up" if held else "watch for oil"))
        case Keep.YEARS:
            sure = "aluminium-stearate" in keys and keeps_days is None
            wishes.append(Wish("keeps for years", sure, "held up" if sure else "inspect it every few months"))
    return tuple(wishes)
