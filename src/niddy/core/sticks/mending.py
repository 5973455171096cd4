"""What a pot dents, from what was predicted and every drop together; and what brings it to the dent wanted."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from enum import StrEnum
from typing import Literal

from niddy.core.errors import Refused
from niddy.core.sticks.folding import Pot, PotReading, Taught
from niddy.core.sticks.materials import BaseMix, StickOil, oil_fraction_for
from niddy.core.sticks.pot import READING_SD, Correcting, DentRead, correct, learn_offset

NEAR_LN = {"needle": 0.14, "feel": 0.10}
"""So near the dent wanted, ln, is right, by how the last drop was read: a thumb says less, so more drops are asked."""

SECOND_POT_FROM = 0.5
"""Base of more than this share of the pot would pale it too far: pigment goes in with it (assumed)."""

MOST_MORE = 3.0
"""A second pot of more than so many times the first is no way back (assumed)."""


class PigmentWay(StrEnum):
    """How pigment goes in: dry over the heat, or mulled into the oil first."""

    DRY = "dry"
    MULLED = "mulled"


@dataclass(frozen=True, slots=True)
class PotPlan:
    """What the pot was planned as. Grams to weigh by source; windows in C; `stick_ml` one stick's volume."""

    base: BaseMix
    oil: StickOil
    base_g: Mapping[str, float]
    oil_g: Mapping[str, float]
    pigment_g: Mapping[str, float]
    way: PigmentWay
    target_dmm: float
    offset_ln: float
    offset_sd_ln: float
    melt_c: float
    pour_low_c: float
    pour_high_c: float
    water_bath: bool
    stick_ml: float
    sticks: int
    cooling_min: float
    sinking: tuple[tuple[float, float], ...]
    """(density in g/ml, size in um) of each pigment."""


@dataclass(frozen=True, slots=True)
class DentKnown:
    """What is known of the dent of a pot as it is: ln of it in 0.1 mm with its sd, and how many drops said so."""

    ln_dmm: float
    sd: float
    drops: int

    @property
    def dmm(self) -> float:
        return math.exp(self.ln_dmm)


def known_dent(plan: PotPlan, reading: PotReading | None, drops: Sequence[Taught]) -> DentKnown | None:
    """Prediction and drops together: each drop says by how much this pot is off what its contents predict.

    None where nothing can be predicted: nothing is in it, or more pigment than it can wet.
    """
    if reading is None or reading.ln_dent_bare is None:
        return None
    reads = [DentRead(max(-5.0, min(5.0, one.ln_ratio - plan.offset_ln)), READING_SD[one.by]) for one in drops]
    off = learn_offset(reads, plan.offset_sd_ln)
    return DentKnown(reading.ln_dent_bare + plan.offset_ln + off.offset_ln, off.sd_ln, len(reads))


@dataclass(frozen=True, slots=True)
class Mend:
    """One way to bring a pot to the dent wanted, with its price; `add_g` 0 where nothing in this base does.

    `both` is base and pigment together, stirred into the pot: `base_g` and `pigment_g` of it by source. `rest_g` is
    what is held back until a new drop was read.
    """

    kind: Literal["oil", "base", "both"]
    add_g: float
    says: str
    reduced_pvc_after: float
    volume_after_ml: float
    weaker_pct: float
    sticks_more: float
    rest_g: float = 0.0
    base_g: Mapping[str, float] = field(default_factory=dict)
    pigment_g: Mapping[str, float] = field(default_factory=dict)


def mend(pot: Pot, plan: PotPlan, reading: PotReading | None, drops: Sequence[Taught]) -> Mend | None:
    """What brings the dent known to the one wanted; None where it is near enough, or no drop was read since."""
    drop, known = pot.drop, known_dent(plan, reading, drops)
    if drop is None or reading is None or known is None:
        return None
    near = NEAR_LN[drop.by]
    read_right = drop.by == "needle" and abs(math.log(plan.target_dmm / drop.dent_dmm)) <= near
    if read_right or abs(math.log(plan.target_dmm) - known.ln_dmm) <= near:
        return None
    dents = min(400.0, max(0.1, known.dmm))
    try:
        found = correct(pot.pigment_g, pot.base_g, pot.oil_g, pot.powder, plan.base, plan.oil, dents, plan.target_dmm)
    except Refused:
        return _with_pigment(pot, plan, reading, known)
    if found.direction is Correcting.NONE:
        return None
    if found.direction is Correcting.ADD_BASE and found.add_g > SECOND_POT_FROM * pot.total_g:
        return _with_pigment(pot, plan, reading, known)
    weaker = 100 * (1 - reading.volume_ml / found.volume_after_ml) if pot.powder is not None else 0.0
    more = (found.volume_after_ml - reading.volume_ml) / plan.stick_ml
    kind: Literal["oil", "base"] = "oil" if found.direction is Correcting.ADD_OIL else "base"
    # What is in cannot be taken out: the first time half of it, and a new drop says what of the rest it takes.
    half = found.add_g / 2 if known.drops == 1 else 0.0
    price = f"{more:.1f} sticks more" + (f", the colour {weaker:.0f} % weaker" if pot.powder is not None else "")
    says = (
        f"Half of it first, then a new drop. The rest would be {half:.1f} g; all of it, {price}."
        if half
        else f"{price}."
    )
    return Mend(
        kind, found.add_g - half, says, found.reduced_pvc_after, found.volume_after_ml, weaker, more, rest_g=half
    )


def _with_pigment(pot: Pot, plan: PotPlan, reading: PotReading, known: DentKnown) -> Mend:
    """Base and pigment in the proportion they have now, stirred in together: harder, and as strong in colour."""
    powder = pot.powder
    cpvc = powder.cpvc if powder is not None else None
    off = known.ln_dmm - (reading.ln_dent_bare or 0.0)
    share = oil_fraction_for(plan.base, plan.target_dmm, cpvc, reading.reduced_pvc, off)
    base_g = pot.oil_g / share - pot.oil_g - pot.base_g if share > 0 else math.inf
    medium_ml = pot.oil_g / plan.oil.density_g_per_ml + pot.base_g / plan.base.density_g_per_ml
    times = base_g / plan.base.density_g_per_ml / medium_ml
    grams = base_g + times * pot.pigment_g
    if not 0 < grams <= MOST_MORE * pot.total_g:
        return Mend("base", 0.0, "", reading.reduced_pvc, reading.volume_ml, 0.0, 0.0)
    after = reading.volume_ml * (1 + times)
    more = reading.volume_ml * times / plan.stick_ml
    bases = pot.bases or plan.base_g
    whole = sum(bases.values())
    return Mend(
        "both",
        grams,
        f"So much base alone would pale it. This way it stays as strong, and makes {more:.1f} sticks more.",
        reading.reduced_pvc,
        after,
        0.0,
        more,
        base_g={source: base_g * part / whole for source, part in bases.items()},
        pigment_g={source: times * matter.grams for source, matter in pot.pigments.items()},
    )
