"""Sizing: from tubes wanted back to powder, from powder forward to paint, loads and minutes."""

from __future__ import annotations

import math
from dataclasses import dataclass
from statistics import median

from niddy.core.errors import (
    MAX_VOLUME_ML,
    MIN_LENGTH_MM,
    MIN_TUBE_ML,
    Refused,
    density_g_per_ml,
    mass_g,
    oil_g_per_100g,
    within,
)
from niddy.core.estimate import Basis

HOLD_UP_ML = 1.0
"""Paint that stays on slab, muller and knives whatever the batch (assumed)."""

LOSS = 0.03
"""Fraction of the paint lost besides (assumed, until five batches say)."""

BATCHES_TO_LEARN_LOSS = 5
USABLE_FRACTION = 0.6
HANDLING_MIN_PER_LOAD = 3.0


@dataclass(frozen=True, slots=True)
class TubesWanted:
    """So many tubes of one usable volume."""

    usable_ml: float
    count: int


@dataclass(frozen=True, slots=True)
class Sizing:
    """A batch in figures; `loads` and `load_ml` (what one load may hold) only where a slab is known."""

    volume_ml: float
    pigment_g: float
    oil_g: float
    paint_density_g_per_ml: float
    leftover_ml: float
    loads: int | None = None
    load_ml: float | None = None


def size(
    ratio: float,
    pigment_density: float,
    oil_density: float,
    tubes: list[TubesWanted] | None = None,
    pigment_g: float | None = None,
    hold_up_ml: float = HOLD_UP_ML,
    loss: float = LOSS,
    slab_area_cm2: float | None = None,
    film_mm: float | None = None,
    usable_fraction: float = USABLE_FRACTION,
    additive_ml_per_100g: float = 0.0,
    additive_g_per_100g: float = 0.0,
) -> Sizing:
    """Size a batch from the tubes wanted or from the pigment on hand (exactly one of them).

    Leftover is what is neither in tubes nor lost: with tubes wanted that is 0 by intent, with pigment on
    hand it is all the paint one can fill. Raises Refused naming the field.
    """
    oil_g_per_100g("oil_g_per_100g", ratio)
    density_g_per_ml("pigment_density_g_per_ml", pigment_density)
    density_g_per_ml("oil_density_g_per_ml", oil_density)
    within("hold_up_ml", hold_up_ml, 0, 1_000, "ml")
    within("loss", loss, 0, 0.9)
    within("usable_fraction", usable_fraction, 0.01, 1)
    if (tubes is None) == (pigment_g is None):
        raise Refused("tubes", "exactly one of the two is needed", "either tubes or pigment_g, not both")
    ml_per_100g = 100 / pigment_density + ratio / oil_density + additive_ml_per_100g
    wanted_ml = 0.0
    if tubes is not None:
        if not any(tube.count for tube in tubes):
            raise Refused("tubes", "no tube at all", "at least one tube")
        for n, tube in enumerate(tubes):
            within(f"tubes.{n}.usable_ml", tube.usable_ml, MIN_TUBE_ML, MAX_VOLUME_ML, "ml")
            within(f"tubes.{n}.count", tube.count, 0, 10_000)
        wanted_ml = sum(tube.usable_ml * tube.count for tube in tubes)
        volume_ml = (wanted_ml + hold_up_ml) / (1 - loss)
        pigment_g = 100 * volume_ml / ml_per_100g
        if pigment_g > 20_000:
            raise Refused("tubes", f"that is {pigment_g / 1000:.0f} kg of pigment", "tubes for up to 20 kg of pigment")
    else:
        assert pigment_g is not None
        mass_g("pigment_g", pigment_g)
        volume_ml = pigment_g * ml_per_100g / 100
    oil_g = pigment_g * ratio / 100
    leftover_ml = max(0.0, volume_ml * (1 - loss) - hold_up_ml - wanted_ml)
    paint_density = (100 + ratio + additive_g_per_100g) / ml_per_100g
    if slab_area_cm2 is None and film_mm is None:
        return Sizing(volume_ml, pigment_g, oil_g, paint_density, leftover_ml)
    if slab_area_cm2 is None or film_mm is None:
        missing = "slab_area_cm2" if slab_area_cm2 is None else "film_mm"
        raise Refused(missing, "loads need both the slab and the film", "slab_area_cm2 and film_mm together")
    capacity = load_capacity_ml(slab_area_cm2, film_mm, usable_fraction)
    return Sizing(volume_ml, pigment_g, oil_g, paint_density, leftover_ml, loads(volume_ml, capacity), capacity)


def load_capacity_ml(slab_area_cm2: float, film_mm: float, usable_fraction: float = USABLE_FRACTION) -> float:
    """Paint that one load may hold: a film on the usable part of the slab."""
    within("slab_area_cm2", slab_area_cm2, 1, 100_000, "cm2")
    within("film_mm", film_mm, MIN_LENGTH_MM, 20, "mm")
    return slab_area_cm2 * usable_fraction * film_mm / 10


def loads(volume_ml: float, capacity_ml: float) -> int:
    """Loads a volume makes on the slab; a whisker of rounding does not make one more."""
    return max(1, math.ceil(volume_ml / capacity_ml - 1e-9))


def tubes_filled(volume_ml: float, usable_ml: float, hold_up_ml: float = HOLD_UP_ML, loss: float = LOSS) -> int:
    """Whole tubes that a volume of paint fills, after what stays on the tools and is lost."""
    return max(0, math.floor((volume_ml * (1 - loss) - hold_up_ml) / usable_ml + 1e-9))


@dataclass(frozen=True, slots=True)
class Made:
    """What one finished batch made, and what of it was filled into tubes or kept as leftover."""

    made_ml: float
    filled_ml: float


@dataclass(frozen=True, slots=True)
class LossLearned:
    """Hold-up and loss to plan with, their basis, and how many batches said so."""

    hold_up_ml: float
    loss: float
    basis: Basis
    batches: int


def learn_loss(batches: list[Made]) -> LossLearned:
    """Loss as the median over past batches of what was made less what was filled, hold-up set apart.

    The hold-up stays at its assumed 1 ml, being what does not grow with the batch; the rest of the loss
    is the median fraction. Below five batches both are assumed.
    """
    counted = [batch for batch in batches if batch.made_ml > 0]
    if len(counted) < BATCHES_TO_LEARN_LOSS:
        return LossLearned(HOLD_UP_ML, LOSS, Basis.ASSUMED, len(counted))
    fraction = median((batch.made_ml - batch.filled_ml - HOLD_UP_ML) / batch.made_ml for batch in counted)
    return LossLearned(HOLD_UP_ML, min(0.5, max(0.0, fraction)), Basis.LEARNED, len(counted))
