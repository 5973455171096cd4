"""What a practice hides: the lot that was drawn, and what is really in the paste whatever was counted."""

from __future__ import annotations

import math
import random
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from datetime import datetime

from niddy.core import log, pours, slab, wetting
from niddy.core.estimate import Z90
from niddy.core.materials import Pigment
from niddy.core.measures import DROP_SPREAD, SPOON_SPREAD, Family
from niddy.core.mulling import REWORK_TAU, settled_minutes, worked_s
from niddy.core.plan import Facts
from niddy.core.slab import Event, Kind, Paste

TAU_SD_LN = 0.10
"""How far a lot's dispersion time is from its class (assumed)."""


@dataclass(frozen=True, slots=True)
class Hidden:
    """The truth of one practice: oil absorption in the oil used, dispersion time, what a spoon and a drop really hold.

    `spoon` and `drop` are factors on what is counted.
    """

    oil_absorption_g_per_100g: float
    tau_min: float
    spoon: float
    drop: float


def between(chance: random.Random, low: float, high: float) -> float:
    """A value whose logarithm is normal with 90 % between two limits, drawn again until it lies between them."""
    middle, sd = (math.log(low) + math.log(high)) / 2, math.log(high / low) / (2 * Z90)
    while True:
        drawn = math.exp(chance.gauss(middle, sd))
        if low <= drawn <= high:
            return drawn


def draw(chance: random.Random, pigment: Pigment, oil_density: float, tau_min: float) -> Hidden:
    """A lot of a powder of the library, within its range; its dispersion time, and a spoon and a dropper."""
    absorption = between(chance, pigment.oil_absorption_low, pigment.oil_absorption_high)
    return Hidden(
        wetting.in_oil(absorption, oil_density),
        tau_min * math.exp(chance.gauss(0, TAU_SD_LN)),
        between(chance, 1 / (1 + SPOON_SPREAD), 1 + SPOON_SPREAD),
        between(chance, 1 / (1 + DROP_SPREAD), 1 + DROP_SPREAD),
    )


@dataclass(frozen=True, slots=True)
class Moment:
    """The practice after one act: the act, the paste as it was counted, and what is really in it."""

    event: Event
    paste: Paste
    pigment_g: float
    oil_g: float


def real_g(event: Event, hidden: Hidden) -> float:
    """What really moved with an act, whatever was counted."""
    if event.mass is None:
        return 0.0
    if event.family is Family.DROP:
        return event.mass.median * hidden.drop
    if event.family is Family.SPOON and event.kind is Kind.POWDER:
        return event.mass.median * hidden.spoon
    return event.mass.median


def walk(events: Iterable[Event], hidden: Hidden) -> Iterator[Moment]:
    """The practice act by act."""
    paste, pigment_g, oil_g = Paste(), 0.0, 0.0
    for event in log.counting(events):
        grams = real_g(event, hidden)
        match event.kind:
            case Kind.POWDER:
                pigment_g += grams
            case Kind.OIL:
                oil_g += grams
            case Kind.DRAW_OIL:
                oil_g = max(0.0, oil_g - grams)
            case Kind.SAMPLE:
                keep = max(0.0, 1 - grams / (pigment_g + oil_g)) if pigment_g + oil_g > 0 else 1.0
                pigment_g, oil_g = pigment_g * keep, oil_g * keep
        paste = slab.after(paste, event)
        yield Moment(event, paste, pigment_g, oil_g)


def reduced(pigment_g: float, oil_g: float, facts: Facts, hidden: Hidden) -> float:
    """The reduced PVC the paste really has, once it is mulled out."""
    return wetting.reduced_at(
        100 * oil_g / pigment_g,
        hidden.oil_absorption_g_per_100g,
        facts.pigment_density_g_per_ml,
        facts.oil_density_g_per_ml,
    )


def needed_g(pigment_g: float, reduced_pvc: float, facts: Facts, hidden: Hidden) -> float:
    """The oil that really brings so much powder to a reduced PVC."""
    ratio = wetting.ratio_at(
        reduced_pvc, hidden.oil_absorption_g_per_100g, facts.pigment_density_g_per_ml, facts.oil_density_g_per_ml
    )
    return max(0.0, ratio * pigment_g / 100)


FRESH_OIL = 0.03
"""By how much a paste looks wetter than it is while new oil is not worked in (assumed)."""


@dataclass(frozen=True, slots=True)
class Looks:
    """What one state of a paste looks like: wetness, what is still to disperse, and oil that is not worked in.

    `reduced` is how wet it looks, in reduced PVC; `loosens` by how much it looks too dry for undispersed powder, of
    which `undispersed` is the share left; `slippery` by how much it looks too wet for fresh oil.
    """

    reduced: float
    loosens: float
    undispersed: float
    slippery: float


def looks_like(moment: Moment, facts: Facts, hidden: Hidden, now: datetime) -> Looks | None:
    """What the paste looks like at a moment; None while there is no oil on powder.

    The same decay as at the slab, with the lot's own dispersion time: it belongs to the powder, whatever oil comes.
    """
    if moment.pigment_g <= 0 or moment.oil_g <= 0:
        return None
    loosens = unmulled(moment.paste, hidden, now)
    # Gathered it was worked in; folded in alone it was not.
    settled_min = settled_minutes(moment.paste.mulling, now) if moment.paste.mulling.timed else 0.0
    slippery = FRESH_OIL * math.exp(-settled_min / (REWORK_TAU * hidden.tau_min)) if settled_min is not None else 0.0
    true = reduced(moment.pigment_g, moment.oil_g, facts, hidden)
    return Looks(true + loosens - slippery, loosens, min(1.0, loosens / pours.EXCESS_REDUCED_PVC), slippery)


def unmulled(paste: Paste, hidden: Hidden, now: datetime) -> float:
    """By how much powder that is not dispersed yet makes it look too dry."""
    worked = worked_s(paste.mulling, now) or 0.0
    whole = sum(charge.grams for charge in paste.charges)
    return sum(
        charge.grams / whole * pours.reading_excess(max(0.0, worked - (charge.at_s or 0.0)) / 60, hidden.tau_min)
        for charge in paste.charges
    )


def at_the_knife(moment: Moment, facts: Facts, hidden: Hidden) -> float | None:
    """The reduced PVC that the paste looks like at an act; None while there is no oil on powder."""
    seen = looks_like(moment, facts, hidden, moment.event.made_at)
    return seen.reduced if seen is not None else None
