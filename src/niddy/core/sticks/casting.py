"""A stick, or a set of one colour, cast: grams, heat, feel, and whether it dries."""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum

from niddy.core.errors import Refused, density_g_per_ml, oil_g_per_100g, within
from niddy.core.sticks.materials import DRYING_SHARE, BaseMix, Powder, StickOil, ln_dent, oil_fraction_for

DEFAULT_REDUCED_PVC = 0.70
"""Base and oil count as binder; a stick is aimed there (assumed)."""

OIL_FRACTION_LOW, OIL_FRACTION_HIGH = 0.05, 0.90
DRIES_THROUGH, DRIES_SLOWLY = 0.35, 0.25
"""Drying oil as a share of the medium (assumed)."""

WATER_BATH_C = 92.0
HIGHEST_C = 120.0
SET_DROP_C = 20.0
POUR_ABOVE_SET_C = (8.0, 18.0)
SHRINKAGE = 0.10
HOLD_UP_ML = 2.0
LOSS = 0.04


class Feel(StrEnum):
    """How a stick feels in the hand."""

    HARD = "hard"
    FIRM = "firm"
    SOFT = "soft"
    BUTTERY = "buttery"
    TOO_SOFT = "too_soft"
    CRUMBLES = "crumbles"


FEEL_BELOW = ((10.0, Feel.HARD), (25.0, Feel.FIRM), (50.0, Feel.SOFT), (90.0, Feel.BUTTERY))
CRUMBLES_FROM = 0.97
"""Dents in 0.1 mm up to which a stick feels so, and the reduced PVC from which it crumbles (assumed)."""


class Dries(StrEnum):
    """Whether a stick dries."""

    THROUGH = "through"
    SLOWLY = "slowly"
    NOT = "not"


class Limit(StrEnum):
    """What keeps a stick from what was asked: the base is too soft or too hard for it, or it would not dry."""

    BASE_TOO_SOFT = "base_too_soft"
    BASE_TOO_HARD = "base_too_hard"
    WOULD_NOT_DRY = "would_not_dry"


@dataclass(frozen=True, slots=True)
class Mould:
    """So many moulds of one volume."""

    ml: float
    count: int


@dataclass(frozen=True, slots=True)
class Stick:
    """A stick, or a set of one colour, in figures. `cpvc` is None for a blending stick, which has no pigment."""

    cpvc: float | None
    pvc: float
    oil_fraction: float
    pigment_fraction: float
    penetration_dmm: float
    feel: Feel
    drying_oil_fraction: float
    dries: Dries
    melt_c: float
    water_bath: bool
    pour_low_c: float
    pour_high_c: float
    pour_factor: float
    pigment_g: float
    oil_g: float
    base_g: float
    base_each_g: tuple[float, ...]
    volume_ml: float
    stick_density_g_per_ml: float
    limited_by: Limit | None


def feel_of(dent_dmm: float, reduced: float) -> Feel:
    """How a stick of this dent feels."""
    if reduced >= CRUMBLES_FROM:
        return Feel.CRUMBLES
    if dent_dmm < FEEL_BELOW[0][0]:
        return Feel.HARD
    return next((feel for most, feel in FEEL_BELOW[1:] if dent_dmm <= most), Feel.TOO_SOFT)


def dries_of(drying_share: float) -> Dries:
    """Whether a medium with so much drying oil dries."""
    if drying_share >= DRIES_THROUGH:
        return Dries.THROUGH
    return Dries.SLOWLY if drying_share >= DRIES_SLOWLY else Dries.NOT


def stick(
    pigment: Powder | None,
    base: BaseMix,
    oil: StickOil,
    moulds: list[Mould],
    *,
    oil_fraction: float | None = None,
    penetration_dmm: float | None = None,
    reduced_pvc: float = DEFAULT_REDUCED_PVC,
    offset_ln: float = 0.0,
    hold_up_ml: float = HOLD_UP_ML,
    loss: float = LOSS,
) -> Stick:
    """A stick by its oil share of the medium or by the dent wanted: exactly one of the two. Raises Refused.

    What cannot be cast, or would not dry, is computed all the same and says what limits it.
    """
    if (oil_fraction is None) == (penetration_dmm is None):
        raise Refused("oil_fraction", "exactly one of the two is needed", "oil_fraction or penetration_dmm")
    _check(pigment, oil, moulds, reduced_pvc, offset_ln, hold_up_ml, loss)
    cpvc = pigment.cpvc if pigment is not None else None
    reduced = reduced_pvc if pigment is not None else 0.0
    if penetration_dmm is not None:
        within("penetration_dmm", penetration_dmm, 0.1, 400)
        share = oil_fraction_for(base, penetration_dmm, cpvc, reduced, offset_ln)
    else:
        assert oil_fraction is not None
        share = within("oil_fraction", oil_fraction, 0, 1)
    castable = min(max(share, 0.0), 1.0)
    drying = share * DRYING_SHARE[oil.kind]
    limit = None
    if share < OIL_FRACTION_LOW:
        limit = Limit.BASE_TOO_SOFT
    elif share > OIL_FRACTION_HIGH:
        limit = Limit.BASE_TOO_HARD
    elif dries_of(drying) is Dries.NOT:
        limit = Limit.WOULD_NOT_DRY

    volume = (sum(mould.ml * mould.count for mould in moulds) + hold_up_ml) / (1 - loss)
    pvc = reduced * cpvc if cpvc is not None else 0.0
    pigment_g = volume * pvc * pigment.density_g_per_ml if pigment is not None else 0.0
    medium_ml_per_g = castable / oil.density_g_per_ml + (1 - castable) / base.density_g_per_ml
    medium_g = volume * (1 - pvc) / medium_ml_per_g
    oil_g, base_g = medium_g * castable, medium_g * (1 - castable)
    dent = math.exp(ln_dent(base, share, cpvc, reduced, offset_ln))
    melt = min(HIGHEST_C, base.melt_c)
    sets = base.mean_melting_c - SET_DROP_C * castable
    low, high = (min(melt, sets + above) for above in POUR_ABOVE_SET_C)
    return Stick(
        cpvc,
        pvc,
        share,
        pigment_g / (pigment_g + medium_g),
        dent,
        feel_of(dent, reduced),
        drying,
        dries_of(drying),
        melt,
        melt <= WATER_BATH_C,
        low,
        high,
        1 + SHRINKAGE * base_g / base.density_g_per_ml / volume,
        pigment_g,
        oil_g,
        base_g,
        tuple(base_g * part.share for part in base.parts),
        volume,
        (pigment_g + medium_g) / volume,
        limit,
    )


def _check(
    pigment: Powder | None,
    oil: StickOil,
    moulds: list[Mould],
    reduced_pvc: float,
    offset_ln: float,
    hold_up_ml: float,
    loss: float,
) -> None:
    if pigment is not None:
        density_g_per_ml("pigment.density_g_per_ml", pigment.density_g_per_ml)
        oil_g_per_100g("pigment.oil_absorption_g_per_100g", pigment.oil_absorption_g_per_100g)
    density_g_per_ml("oil.density_g_per_ml", oil.density_g_per_ml)
    within("reduced_pvc", reduced_pvc, 0.05, 1.15)
    within("offset_ln", offset_ln, -3, 3)
    within("hold_up_ml", hold_up_ml, 0, 1_000, "ml")
    within("loss", loss, 0, 0.9)
    if not any(mould.count for mould in moulds):
        raise Refused("moulds", "none at all", "at least one mould")
    for n, mould in enumerate(moulds):
        within(f"moulds.{n}.ml", mould.ml, 0.1, 5_000, "ml")
        within(f"moulds.{n}.count", mould.count, 0, 10_000)
