"""Additives: a dose on its own basis, dry or from a gel whose oil counts as oil."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np

from niddy.core.errors import Refused, mass_g, within
from niddy.core.estimate import Basis
from niddy.core.materials import Additive
from niddy.core.sources import of_lot
from niddy.core.wetting import LN_STRESS_PER_REDUCED


class DoseBasis(StrEnum):
    """What a dose is a percentage of; `total` is the finished paint, the additive included."""

    OIL = "oil"
    PIGMENT = "pigment"
    TOTAL = "total"


@dataclass(frozen=True, slots=True)
class Dose:
    """What to weigh of an additive in g, and what is left of the oil to pour; the gel only where one is used."""

    additive_g: float
    oil_to_pour_g: float
    gel_g: float | None = None
    oil_in_gel_g: float | None = None


def dose(dose_pct: float, basis: DoseBasis, pigment_g: float, oil_g: float, gel_strength: float | None = None) -> Dose:
    """The additive for a batch, dry or from a gel of a strength (mass fraction of additive in it).

    Gel g = dose / strength; the rest of it is oil, and comes off the pours. Raises Refused for a strength of
    0 or above 1, a dose of the total that leaves no room, and a gel that holds more oil than the batch takes.
    """
    within("dose_pct", dose_pct, 0, 100, "%")
    mass_g("pigment_g", pigment_g)
    mass_g("oil_g", oil_g)
    if basis is DoseBasis.TOTAL:
        if dose_pct >= 100:
            raise Refused("dose_pct", "nothing but additive", "less than 100 % of the total")
        additive_g = (pigment_g + oil_g) * dose_pct / (100 - dose_pct)
    else:
        additive_g = (oil_g if basis is DoseBasis.OIL else pigment_g) * dose_pct / 100
    if gel_strength is None:
        return Dose(additive_g, oil_g)
    within("gel_strength", gel_strength, 0.001, 1)
    gel_g = additive_g / gel_strength
    oil_in_gel_g = gel_g - additive_g
    if oil_in_gel_g > oil_g:
        raise Refused(
            "gel_strength",
            f"its gel brings {oil_in_gel_g:.1f} g of oil, the batch takes {oil_g:.1f} g",
            f"a stronger gel, from {additive_g / (additive_g + oil_g):.3f}",
        )
    return Dose(additive_g, oil_g - oil_in_gel_g, gel_g, oil_in_gel_g)


class Moment(StrEnum):
    """When an additive goes in: weighed in with the powder, with the first pour, or stirred in last."""

    DRY = "dry"
    FIRST = "first"
    LAST = "last"


_MOMENTS = {
    "extender": Moment.DRY,
    "stabiliser": Moment.FIRST,
    "rheology modifier": Moment.FIRST,
    "structuring": Moment.LAST,
    "retarder": Moment.LAST,
    "drier": Moment.LAST,
}

KEEPS_DAYS = {"egg": 5}
"""How many days paint with such a hazard in it keeps, cold and closed (assumed)."""


def moment_of(additive: Additive) -> Moment:
    """When an additive goes in, by its kind; an unknown kind is stirred in last."""
    return _MOMENTS.get(additive.kind, Moment.LAST)


def extends_as(additive: Additive) -> str | None:
    """The key of the pigment an extender counts as in oil absorption, density and PVC; None for all others."""
    return additive.key.removesuffix("-extender") if moment_of(additive) is Moment.DRY else None


def keeps_days(additive: Additive) -> int | None:
    """Days that paint holding this additive keeps, or None where it does not shorten its life."""
    days = [KEEPS_DAYS[hazard] for hazard in additive.hazards if hazard in KEEPS_DAYS]
    return min(days) if days else None


@dataclass(frozen=True, slots=True)
class Dosing:
    """One additive of a plan: which, how much, and from what: dry, or a gel of some strength (mass fraction).

    `stiffening_per_pct` is the change of ln yield stress for each percent, with its basis.
    """

    additive: Additive
    dose_pct: float
    lot_id: int | None = None
    lot_code: str = ""
    gel_strength: float | None = None
    drop_g: float | None = None
    drop_measured: bool = False
    stiffening_per_pct: float = 0.0
    stiffening_basis: Basis = Basis.ASSUMED
    stiffening_says: str = "assumed until a ladder says"

    @property
    def source(self) -> str:
        """What the slab's log calls it."""
        return of_lot(self.lot_id, self.additive.key)

    @property
    def basis(self) -> DoseBasis:
        return DoseBasis(self.additive.dose_basis)

    @property
    def moment(self) -> Moment:
        return moment_of(self.additive)

    @property
    def additive_fraction(self) -> float:
        """What of the weighed form is additive: 1 dry, the strength for a gel."""
        return 1.0 if self.gel_strength is None else self.gel_strength

    @property
    def binder_ml_per_g(self) -> float:
        """Non-volatile volume that a gram of the additive itself adds to the binder."""
        return self.additive.nonvolatile_fraction / self.additive.density_g_per_ml


def check_doses(dosings: list[Dosing], *, trial: bool) -> None:
    """Refuse a dose above its ceiling, unless the batch is a trial; an additive twice; a strength that is none."""
    seen: set[str] = set()
    for n, dosing in enumerate(dosings):
        field = f"additives.{n}"
        within(f"{field}.dose_pct", dosing.dose_pct, 0, 60, "%")
        ceiling = dosing.additive.dose_ceiling_pct
        if dosing.dose_pct > ceiling and not trial:
            raise Refused(
                f"{field}.dose_pct",
                f"{dosing.dose_pct:g} % is above the ceiling of {dosing.additive.name.lower()}",
                f"up to {ceiling:g} % of the {dosing.basis}; above it only in a trial",
            )
        if dosing.additive.key in seen:
            raise Refused(f"{field}.additive", f"{dosing.additive.name} stands twice", "each additive once")
        seen.add(dosing.additive.key)
        if dosing.gel_strength is not None:
            within(f"{field}.gel_strength", dosing.gel_strength, 0.001, 1)


@dataclass(frozen=True, slots=True)
class Amounts:
    """Oil in all and each additive itself in g, in the order of the doses, for some powder and a binder volume."""

    oil_g: float
    additives_g: tuple[float, ...]


def amounts(dosings: list[Dosing], powder_g: float, binder_ml: float, oil_density: float) -> Amounts:
    """Oil and additives that together give the powder its binder: non-volatile additive volume takes oil's place.

    Each dose holds on its own basis in the finished paint; without doses the oil is the binder's whole
    volume. Raises Refused where the doses leave no room for oil.
    """
    size = len(dosings) + 1
    left, right = np.zeros((size, size)), np.zeros(size)
    left[0, 0] = 1 / oil_density
    right[0] = binder_ml
    for n, dosing in enumerate(dosings, start=1):
        left[0, n] = dosing.binder_ml_per_g
        left[n, n] += 1
        part = dosing.dose_pct / 100
        match dosing.basis:
            case DoseBasis.OIL:
                left[n, 0] -= part
            case DoseBasis.PIGMENT:
                right[n] = part * powder_g
            case DoseBasis.TOTAL:
                left[n, :] -= part
                right[n] = part * powder_g
    solved = np.linalg.solve(left, right)
    if not np.all(np.isfinite(solved)) or solved[0] <= 0 or np.any(solved[1:] < 0):
        raise Refused("additives", "they leave no room for the oil", "smaller doses")
    return Amounts(float(solved[0]), tuple(float(g) for g in solved[1:]))


def stiffens(dosings: Iterable[Dosing]) -> float:
    """By how much doses make a paste look stiffer than its reduced PVC says."""
    return sum(dosing.stiffening_per_pct * dosing.dose_pct for dosing in dosings) / LN_STRESS_PER_REDUCED


def ln_stress_per_g_per_g(dosing: Dosing, oil_g_per_g: float) -> float:
    """Change of ln yield stress for each g of additive per g of powder, at a ratio in g oil per g powder."""
    base = {DoseBasis.OIL: oil_g_per_g, DoseBasis.PIGMENT: 1.0, DoseBasis.TOTAL: 1.0 + oil_g_per_g}[dosing.basis]
    return 100 * dosing.stiffening_per_pct / base


@dataclass(frozen=True, slots=True)
class InPaste:
    """An additive as a batch knows it, per gram of what is weighed out of its tin, pot or bottle.

    `planned_per_g` is g of that form for each g of powder; what is oil in it counts as oil.
    `hazards` are those of the form weighed out, the making's among them; they go where the additive goes; `of` is the
    additive's own name, without the strength of its gel.
    `ln_stress` is the change of ln yield stress for each g of additive per g of powder.
    """

    source: str
    name: str
    moment: Moment
    additive_fraction: float
    density_g_per_ml: float
    nonvolatile_fraction: float
    ln_stress: float
    planned_per_g: float = 0.0
    ceiling_per_g: float | None = None
    ceiling_says: str = ""
    keeps_days: int | None = None
    drop_g: float | None = None
    drop_measured: bool = False
    hazards: tuple[str, ...] = ()
    of: str = ""

    @property
    def material(self) -> str:
        """The additive itself, whatever form it was weighed in."""
        return self.of or self.name

    def binder_as_oil_g(self, additive_g: float, oil_density: float) -> float:
        """The oil whose place some grams of the additive itself take in the binder."""
        return additive_g * self.nonvolatile_fraction / self.density_g_per_ml * oil_density


def in_paste(dosing: Dosing, additive_g_per_g: float, oil_g_per_g: float, *, trial: bool) -> InPaste:
    """What a batch needs to know of one dose: its amounts for each g of powder."""
    additive = dosing.additive
    ceiling = None
    if not trial and dosing.dose_pct > 0:
        ceiling = additive_g_per_g * additive.dose_ceiling_pct / dosing.dose_pct / dosing.additive_fraction
    return InPaste(
        dosing.source,
        named(dosing),
        dosing.moment,
        dosing.additive_fraction,
        additive.density_g_per_ml,
        additive.nonvolatile_fraction,
        ln_stress_per_g_per_g(dosing, oil_g_per_g),
        additive_g_per_g / dosing.additive_fraction,
        ceiling,
        f"{additive.dose_ceiling_pct:g} % of the {dosing.basis}",
        keeps_days(additive),
        dosing.drop_g,
        dosing.drop_measured,
        as_weighed(dosing),
        additive.name,
    )


def beside_the_plan(dosing: Dosing, oil_g_per_g: float, *, trial: bool) -> InPaste:
    """What a batch needs to know of an additive its plan did not have, at a ratio in g oil per g powder."""
    base = {DoseBasis.OIL: oil_g_per_g, DoseBasis.PIGMENT: 1.0, DoseBasis.TOTAL: 1.0 + oil_g_per_g}[dosing.basis]
    stirred = in_paste(replace(dosing, dose_pct=1.0), base / 100, oil_g_per_g, trial=trial)
    return replace(stirred, planned_per_g=0.0)


def as_weighed(dosing: Dosing) -> tuple[str, ...]:
    """The hazards of an additive as it is weighed out: what is only a hazard of making a gel stays with the making."""
    gone = {"hot-oil", "hot-wax", "nuisance-dust"} if dosing.gel_strength is not None else set()
    return tuple(hazard for hazard in dosing.additive.hazards if hazard not in gone)


def named(dosing: Dosing) -> str:
    """An additive's name as weighed: with the strength of its gel where it is one."""
    if dosing.gel_strength is None:
        return dosing.additive.name
    return f"{dosing.additive.name} gel, {100 * dosing.gel_strength:.2g} %"
