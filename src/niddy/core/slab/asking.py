"""Entries that are asked about as they are made: amounts that nobody meant, and what they were perhaps meant to be."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass, replace
from uuid import UUID

from niddy.core.evidence import believe
from niddy.core.measures import DROP_G, GRAMS_PER_OUNCE, SPOON_ML, UNITS, Unit, amount_words, spoons_of
from niddy.core.slab.acts import Kind, Question, Slip
from niddy.core.slab.knowledge import Knowledge

MANY_TIMES = 2.5
"""Powder of more than so many times what is planned is asked about."""

FAR_SHORT = 0.4
"""So is powder of less than this share of it, once oil is poured."""

OUT_OF_BAND = 0.999
"""Oil is asked about that would be more than is enough in so many of all cases."""

NEAR_EXPECTED = 0.25
"""A slip is named where it brings the amount so near to what was expected."""

PLAIN_SLIP = 0.12
PLAINLY_OFF = 1.6
"""So far off what was told, either way, an amount is asked about even inside the limits, if a slip explains it so well
(assumed)."""

TARE_G = (8.0, 60.0)
"""What a dish or a cup weighs (assumed)."""

TARE_FROM = 1.15
"""A dish that was weighed too shows from so many times what was told (assumed)."""


@dataclass(frozen=True, slots=True)
class Entry:
    """An amount as it was typed: of what, its unit and figure (None where two readings say it), its grams.

    `g_per_unit` are the grams of one of each unit it may have been meant in, of this very material. `told_g` is what
    was told to take now, `planned_g` what the plan has of it in all, `there_g` what was in before it.
    """

    act: UUID
    kind: Kind
    source: str
    name: str
    unit: Unit
    amount: float | None
    grams: float
    g_per_unit: dict[Unit, float]
    told_g: float
    planned_g: float
    there_g: float = 0.0


def question_of(entry: Entry, after: Knowledge) -> Question | None:
    """What is asked about an amount as it is entered; None where it is what one would expect.

    `after` is what is known of the paste with it in.
    """
    whole = entry.there_g + entry.grams
    told = [entry.told_g] if entry.told_g > 0 else []
    expected = told + ([entry.planned_g - entry.there_g] if entry.planned_g > entry.there_g else [])
    slips = slips_of(entry, expected)
    off = max(entry.grams / entry.told_g, entry.told_g / entry.grams) if told else 1.0
    plainly = off >= PLAINLY_OFF and any(slip.near <= PLAIN_SLIP for slip in slips_of(entry, told) if not slip.tare)
    dish = entry.kind is Kind.POWDER and entry.grams >= TARE_FROM * entry.told_g and any(slip.tare for slip in slips)
    has = f"{_g(whole)} of {entry.name.lower()} is in"
    says = ""
    match entry.kind:
        case Kind.POWDER if entry.planned_g > 0 and whole > MANY_TIMES * max(entry.planned_g, entry.told_g):
            says = f"{has}; the plan has {_g(entry.planned_g)}."
        case Kind.OIL if after.paste.oil_g > _most_oil_g(after):
            says = f"{_g(entry.grams)} of oil: no powder like this takes so much."
        case Kind.ADDITIVE if told and entry.grams > MANY_TIMES * entry.told_g:
            says = f"{has}; {_g(entry.told_g)} was called for."
        case _ if plainly or (dish and told):
            says = f"You logged {_g(entry.grams)}; {_g(entry.told_g)} was called for."
    return Question(entry.act, entry.source, says, _named(slips)) if says else None


def short_of(entries: Iterable[Entry]) -> Question | None:
    """What is asked as oil is poured: powder of which far less is in than the plan has."""
    for entry in entries:
        if 0 < entry.there_g < FAR_SHORT * entry.planned_g:
            # Where it went in by several goes no one of them is the slip.
            single = abs(entry.there_g / entry.grams - 1) < 1e-6
            says = f"Only {_g(entry.there_g)} of {entry.name.lower()} is in; the plan has {_g(entry.planned_g)}."
            named = _named(slips_of(entry, [entry.planned_g])) if single else ()
            return Question(entry.act, entry.source, says, named)
    return None


def _most_oil_g(after: Knowledge) -> float:
    """The oil beyond which an entry is asked about: by what the plan knows, and never less than by the looks since."""
    unlooked = Knowledge(replace(after.paste, looks=()), after.facts)
    return max(unlooked.oil_needed_g(OUT_OF_BAND), after.oil_needed_g(OUT_OF_BAND))


def _g(grams: float) -> str:
    """Grams as a bench reads them."""
    return f"{grams:.0f} g" if grams >= 100 else f"{grams:.3g} g"


MOST_NAMED = 2
"""More slips than this are no question but a riddle."""


def _named(slips: tuple[Likely, ...]) -> tuple[Slip, ...]:
    return tuple(Slip(slip.says, slip.unit, slip.amount) for slip in slips[:MOST_NAMED])


@dataclass(frozen=True, slots=True)
class Likely:
    """A slip that may be behind an amount, and how near it brings it to what was expected; a dish always does."""

    says: str
    unit: Unit
    amount: float
    near: float
    tare: bool = False


def slips_of(entry: Entry, expected: list[float]) -> tuple[Likely, ...]:
    """What an amount may have been meant to be that comes near to what was expected, likeliest first."""
    found = []
    if entry.amount is not None:
        for factor, word in ((0.1, "ten times less"), (10.0, "ten times more")):
            meant = entry.amount * factor
            if not LEAST_AMOUNT <= meant <= MOST_AMOUNT:
                continue
            off = _off(entry.grams * factor, expected)
            found.append(Likely(f"{amount_words(meant, entry.unit)}, {word}?", entry.unit, meant, off))
        for unit, each in entry.g_per_unit.items():
            if unit is not entry.unit and _countable(entry.amount, unit):
                says = f"{amount_words(entry.amount, unit)}, not {UNITS[entry.unit].many}?"
                found.append(Likely(says, unit, entry.amount, _off(entry.amount * each, expected)))
    if entry.unit in (Unit.GRAM, Unit.WEIGH_IN):
        for grams in expected[:1]:
            if grams >= LEAST_TOLD_G and TARE_G[0] <= entry.grams - grams <= TARE_G[1]:
                says = f"Was the dish weighed too? Without its {entry.grams - grams:.0f} g, that is {_g(grams)}."
                # Behind what fits as it is, before what fits only about.
                found.append(Likely(says, Unit.GRAM, round(grams, 2), PLAIN_SLIP, tare=True))
    return tuple(sorted((slip for slip in found if slip.near <= NEAR_EXPECTED), key=lambda slip: slip.near))


_METRIC = {unit: SPOON_ML[unit] for unit in spoons_of(us=False)}

LEAST_TOLD_G = 0.05
"""Of less nobody was told to weigh: a dish that was weighed with it is no likely slip."""

LEAST_AMOUNT, MOST_AMOUNT = 0.001, 100_000.0
"""Nothing below or above can be entered at all."""

MOST_SPOONS = 12
"""Nobody counts more spoons than this, or fewer drops than three: then that is not what was meant (assumed)."""


def _countable(amount: float, unit: Unit) -> bool:
    if unit is Unit.DROP:
        return amount >= 3 and amount == round(amount)
    return unit not in SPOON_ML or amount <= MOST_SPOONS


def _off(grams: float, expected: list[float]) -> float:
    return min((abs(grams / one - 1) for one in expected if one > 0), default=math.inf)


def units_of_powder(loose_density: float) -> dict[Unit, float]:
    """The grams of one of each unit that a powder may have been measured in."""
    spoons = {unit: ml * loose_density for unit, ml in _METRIC.items()}
    return {Unit.GRAM: 1.0, Unit.OUNCE: GRAMS_PER_OUNCE, Unit.MILLILITRE: loose_density, **spoons}


def units_of_liquid(density: float, drop_g: float | None) -> dict[Unit, float]:
    """The grams of one of each unit that a liquid may have been measured in."""
    spoons = {unit: ml * density for unit, ml in _METRIC.items()}
    return {
        Unit.GRAM: 1.0,
        Unit.OUNCE: GRAMS_PER_OUNCE,
        Unit.DROP: drop_g or DROP_G,
        Unit.MILLILITRE: density,
        **spoons,
    }


def fits(known: Knowledge, *, oil_g: float = 0.0, powder_g: float = 0.0) -> bool:
    """Whether the last look would agree with what is known, had so much more (or less) of the two gone in."""
    paste = known.paste
    powder, oil = paste.pigment_g + powder_g, paste.oil_g + oil_g
    if powder <= 0 or oil <= 0 or paste.pigment_g <= 0 or paste.oil_g <= 0 or not known.looks:
        return False
    seen = known.looks[-1]
    ratio = seen.ratio * (oil / paste.oil_g) * (paste.pigment_g / powder)
    moved = type(seen)(ratio, seen.low, seen.high, seen.excess, seen.sd)
    return not believe(known.belief.prior, (moved,), known.facts.c).in_doubt


def doubted(entries: Iterable[Entry], known: Knowledge) -> tuple[UUID, Slip] | None:
    """The entry, newest first, of which a slip would make looks and log agree; None where none would."""
    for entry in entries:
        for slip in slips_of(entry, [entry.told_g, entry.planned_g]):
            change = slip.amount * entry.g_per_unit.get(slip.unit, 1.0) - entry.grams
            if fits(known, **{"oil_g" if entry.kind is Kind.OIL else "powder_g": change}):
                return entry.act, Slip(slip.says, slip.unit, slip.amount)
    return None
