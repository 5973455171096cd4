"""A set of sticks: each colour by how soft it should be, one melt of base for all, and the order of casting."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from scipy.optimize import brentq

from niddy.core import wetting
from niddy.core.cautions import Grade, grade_of, in_paint
from niddy.core.colorimetry import lab_of_srgb
from niddy.core.colour import masstone_of
from niddy.core.errors import Refused, within
from niddy.core.estimate import Z90
from niddy.core.materials import DryPigment, Wax
from niddy.core.sticks.casting import (
    CRUMBLES_FROM,
    DEFAULT_REDUCED_PVC,
    HOLD_UP_ML,
    LOSS,
    Dries,
    Feel,
    Limit,
    Mould,
    Stick,
    stick,
)
from niddy.core.sticks.lifting import Lifting, lifting
from niddy.core.sticks.materials import BaseMix, Powder, StickOil, ln_dent
from niddy.core.sticks.pot import SIZE_UM, settled_mm

FEEL_DENT = {Feel.HARD: 7.0, Feel.FIRM: 16.0, Feel.SOFT: 35.0, Feel.BUTTERY: 67.0}
"""The dent aimed at for a feel, in 0.1 mm: the middle of its zone."""

WEIGHT_SCHOOL = 0.60
"""The share of pigment by weight that is often given for every colour."""

COOLING_MIN, COOLING_OF_ML = 12.0, 18.0
"""A stick of 18 ml sets in about so many minutes, others by the two-thirds power of their volume (assumed)."""

SINKS_FROM_MM = 1.0

UNPIGMENTED = "#efe6cf"
"""What base and oil alone look like."""

LN_OIL_ABSORPTION_TO_DENT = 0.5
"""How much of a doubt about the oil absorption reaches ln dent (assumed): cpvc moves the stiffening by about half."""


class Loading(StrEnum):
    """How much pigment: the same reduced PVC for all, or the same share by weight."""

    VOLUME = "volume"
    WEIGHT = "weight"


@dataclass(frozen=True, slots=True)
class ColourWish:
    """One colour of a set. No lines: a blending stick. `dent_dmm` or `oil_fraction`: exactly one.

    `share` is the reduced PVC by the volume school, the share of pigment by weight by the other.
    """

    name: str
    lines: tuple[tuple[DryPigment, float], ...]
    moulds: tuple[Mould, ...]
    school: Loading = Loading.VOLUME
    share: float = DEFAULT_REDUCED_PVC
    dent_dmm: float | None = None
    oil_fraction: float | None = None


@dataclass(frozen=True, slots=True)
class PigmentGrams:
    """One pigment of a colour and what to weigh of it."""

    pigment: DryPigment
    grams: float


@dataclass(frozen=True, slots=True)
class OnScale:
    """A way of settling how much pigment and where it lands: a dent and the share by weight; None where it crumbles."""

    school: Loading
    says: str
    dent_dmm: float | None
    pigment_fraction: float | None


@dataclass(frozen=True, slots=True)
class ColourPlan:
    """One colour planned: its figures, the dent's 90 % band, what limits it and what would lift that.

    `sinks_mm` is how far the coarsest pigment falls while a stick sets; `dark` its lightness, for the order.
    """

    name: str
    masstone_srgb: str
    lightness: float
    lines: tuple[PigmentGrams, ...]
    stick: Stick
    reduced_pvc: float
    target_dmm: float
    dent_low_dmm: float
    dent_high_dmm: float
    offset_sd_ln: float
    sticks: int
    stick_g: float
    cooling_min: float
    sinks_mm: float
    schools: tuple[OnScale, ...]
    lifting: Lifting | None
    hazards: tuple[str, ...]
    strict: bool


def powder_of(lines: Sequence[tuple[DryPigment, float]]) -> Powder | None:
    """The pigment of a blend by parts of mass; None without any. Raises Refused."""
    if not lines:
        return None
    mixed = wetting.blend([wetting.Part(parts, line.density_g_per_ml, line.demand_g_per_100g) for line, parts in lines])
    return Powder(mixed.density_g_per_ml, mixed.oil_absorption_g_per_100g)


def reduced_of_weight(pigment: Powder, base: BaseMix, oil: StickOil, oil_fraction: float, fraction: float) -> float:
    """The reduced PVC where pigment is a `fraction` of the stick by weight."""
    powder_ml = fraction / pigment.density_g_per_ml
    medium_ml = (1 - fraction) * (oil_fraction / oil.density_g_per_ml + (1 - oil_fraction) / base.density_g_per_ml)
    return powder_ml / (powder_ml + medium_ml) / pigment.cpvc


def by_weight(
    pigment: Powder,
    base: BaseMix,
    oil: StickOil,
    fraction: float,
    *,
    dent_dmm: float | None,
    oil_fraction: float | None,
    offset_ln: float,
) -> tuple[float, float]:
    """Oil share and reduced PVC where pigment is a fraction by weight, for a dent or an oil share. Raises Refused."""
    within("share", fraction, 0.01, 0.97)
    if oil_fraction is not None:
        return oil_fraction, reduced_of_weight(pigment, base, oil, oil_fraction, fraction)
    assert dent_dmm is not None
    wanted = math.log(dent_dmm)

    def off(share: float) -> float:
        reduced = min(0.999999, reduced_of_weight(pigment, base, oil, share, fraction))
        return ln_dent(base, share, pigment.cpvc, reduced, offset_ln) - wanted

    if off(0.0) >= 0:
        share = 0.0
    elif off(1.0) <= 0:
        share = 1.0
    else:
        share = float(brentq(off, 0.0, 1.0, xtol=1e-10))
    return share, reduced_of_weight(pigment, base, oil, share, fraction)


def plan_colour(
    wish: ColourWish,
    base: BaseMix,
    oil: StickOil,
    offset_ln: float,
    offset_sd_ln: float,
    waxes: Sequence[Wax],
    *,
    hold_up_ml: float = HOLD_UP_ML,
    loss: float = LOSS,
) -> ColourPlan:
    """One colour of a set in figures. Raises Refused naming its own fields."""
    if (wish.dent_dmm is None) == (wish.oil_fraction is None):
        raise Refused("dent_dmm", "exactly one of the two is needed", "a dent, or an oil share")
    pigment = powder_of(wish.lines)
    share, reduced = wish.oil_fraction, 0.0
    if pigment is not None:
        reduced = within("share", wish.share, 0.05, 1.15) if wish.school is Loading.VOLUME else 0.0
        if wish.school is Loading.WEIGHT:
            share, reduced = by_weight(
                pigment,
                base,
                oil,
                wish.share,
                dent_dmm=wish.dent_dmm,
                oil_fraction=wish.oil_fraction,
                offset_ln=offset_ln,
            )
        if reduced >= 1:
            raise Refused(
                "share",
                "more pigment than base and oil can wet: it would crumble",
                f"less than {_most_by_weight(pigment, base, oil, share or 0.5):.0%} by weight"
                if wish.school is Loading.WEIGHT
                else f"below {CRUMBLES_FROM:g}",
            )
    made = stick(
        pigment,
        base,
        oil,
        list(wish.moulds),
        oil_fraction=share,
        penetration_dmm=None if share is not None else wish.dent_dmm,
        reduced_pvc=reduced if pigment is not None else DEFAULT_REDUCED_PVC,
        offset_ln=offset_ln,
        hold_up_ml=hold_up_ml,
        loss=loss,
    )
    # By weight the share came from a root that stops at the ends: what lies beyond is limited all the same.
    target = wish.dent_dmm if wish.dent_dmm is not None else made.penetration_dmm
    if wish.school is Loading.WEIGHT and wish.dent_dmm is not None and made.limited_by is None:
        off = made.penetration_dmm / wish.dent_dmm
        if abs(math.log(off)) > 0.01:
            made = replace(made, limited_by=Limit.BASE_TOO_SOFT if off > 1 else Limit.BASE_TOO_HARD)
    parts = sum(parts for _, parts in wish.lines)
    grams = tuple(PigmentGrams(line, made.pigment_g * part / parts) for line, part in wish.lines)
    doubt = math.hypot(offset_sd_ln, LN_OIL_ABSORPTION_TO_DENT * _demand_sd(wish.lines))
    spread = math.exp(Z90 * doubt)
    hazards = tuple(dict.fromkeys(key for line, _ in wish.lines for key in line.hazards))
    colour = UNPIGMENTED
    if wish.lines:
        colour = masstone_of([(part, line.tinting, line.masstone_srgb) for line, part in wish.lines])
    largest = max(mould.ml for mould in wish.moulds if mould.count)
    cooling = COOLING_MIN * (largest / COOLING_OF_ML) ** (2 / 3)
    sticks = sum(mould.count for mould in wish.moulds)
    in_moulds = sum(mould.ml * mould.count for mould in wish.moulds)
    medium = made.volume_ml * (1 - made.pvc)
    return ColourPlan(
        wish.name,
        colour,
        lab_of_srgb(colour).L,
        grams,
        made,
        reduced,
        target,
        made.penetration_dmm / spread,
        made.penetration_dmm * spread,
        doubt,
        sticks,
        in_moulds * made.stick_density_g_per_ml / sticks,
        cooling,
        _sinks(wish.lines, (made.oil_g + made.base_g) / medium, made.pvc, cooling),
        _schools(pigment, base, oil, made.oil_fraction, offset_ln),
        lifting(made, base, oil.kind, target, reduced, offset_ln, waxes),
        hazards,
        any(grade_of(key) >= Grade.HARMFUL for key in in_paint(hazards)),
    )


def _demand_sd(lines: Sequence[tuple[DryPigment, float]]) -> float:
    whole = sum(parts for _, parts in lines)
    return math.sqrt(sum((parts / whole * line.demand_sd_ln) ** 2 for line, parts in lines)) if lines else 0.0


def _most_by_weight(pigment: Powder, base: BaseMix, oil: StickOil, oil_fraction: float) -> float:
    """The share by weight at which a stick begins to crumble."""
    pvc = CRUMBLES_FROM * pigment.cpvc
    medium = 1 / (oil_fraction / oil.density_g_per_ml + (1 - oil_fraction) / base.density_g_per_ml)
    powder = pvc * pigment.density_g_per_ml
    return powder / (powder + (1 - pvc) * medium)


def _schools(
    pigment: Powder | None, base: BaseMix, oil: StickOil, oil_fraction: float, offset_ln: float
) -> tuple[OnScale, ...]:
    """Where each school lands for this pigment with the same oil share."""
    if pigment is None:
        return ()
    share = min(0.95, max(0.0, oil_fraction))
    found = []
    at_weight = reduced_of_weight(pigment, base, oil, share, WEIGHT_SCHOOL)
    for school, says, reduced in (
        (Loading.VOLUME, "by volume", DEFAULT_REDUCED_PVC),
        (Loading.WEIGHT, f"{100 * WEIGHT_SCHOOL:.0f} % by weight", at_weight),
    ):
        pvc = reduced * pigment.cpvc
        powder = pvc * pigment.density_g_per_ml
        medium = (1 - pvc) / (share / oil.density_g_per_ml + (1 - share) / base.density_g_per_ml)
        dent = math.exp(ln_dent(base, share, pigment.cpvc, reduced, offset_ln)) if reduced < CRUMBLES_FROM else None
        found.append(OnScale(school, says, dent, powder / (powder + medium) if 0 < pvc < 1 else None))
    return tuple(found)


def _sinks(lines: Sequence[tuple[DryPigment, float]], medium_density: float, pvc: float, minutes: float) -> float:
    """How far the pigment that falls fastest sinks in a still mould."""
    return max(
        (
            settled_mm(line.density_g_per_ml, medium_density, SIZE_UM[line.particle], min(0.7, pvc), minutes)
            for line, _ in lines
        ),
        default=0.0,
    )


def casting_order(colours: Sequence[ColourPlan]) -> tuple[int, ...]:
    """In which order to cast: the blending stick first, light before dark, what is hazardous last."""
    return tuple(
        sorted(range(len(colours)), key=lambda n: (colours[n].strict, bool(colours[n].lines), -colours[n].lightness, n))
    )


def dries_or_crayon(colour: ColourPlan, *, crayon: bool) -> None:
    """Paint that never dries is refused, unless it is named a crayon. Raises Refused."""
    if colour.stick.limited_by in (Limit.BASE_TOO_HARD, Limit.BASE_TOO_SOFT):
        raise Refused(
            "dent_dmm",
            colour.lifting.says if colour.lifting else "this base does not reach it",
            "another feel, or another base",
        )
    if colour.stick.dries is Dries.NOT and not crayon:
        raise Refused(
            "crayon", "it would never dry, so it is not paint", "more oil, a harder base, or call it a crayon"
        )
