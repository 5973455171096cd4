"""A pot: what is in it, how hot, what was read of it, what came out; and what all that comes to."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from datetime import datetime
from enum import StrEnum
from uuid import UUID

from niddy.core.log import Status
from niddy.core.sticks.casting import Dries, Feel, dries_of, feel_of
from niddy.core.sticks.flaws import Flaw
from niddy.core.sticks.materials import DRYING_SHARE, BaseMix, Powder, StickOil, ln_dent


class By(StrEnum):
    """How a dent was read."""

    NEEDLE = "needle"
    FEEL = "feel"


@dataclass(frozen=True, slots=True)
class Matter:
    """Grams of one material that went into a pot; oil absorption where it is a pigment."""

    grams: float
    density_g_per_ml: float
    oil_absorption_g_per_100g: float | None = None


@dataclass(frozen=True, slots=True)
class Dent:
    """A dent that was read, carried to 25 C."""

    id: UUID
    dent_dmm: float
    by: By
    feel: Feel | None
    at: datetime
    of_stick: bool


@dataclass(frozen=True, slots=True)
class Taught:
    """What one dent teaches of the base: ln observed over predicted, by how it was read."""

    id: UUID
    ln_ratio: float
    by: By
    at: datetime


@dataclass(frozen=True, slots=True)
class Pot:
    """What a log comes to. Masses in g by source; `dents` in order; `trials` what was last seen in each kind."""

    ready: bool = False
    bases: Mapping[str, float] = field(default_factory=dict)
    oils: Mapping[str, float] = field(default_factory=dict)
    pigments: Mapping[str, Matter] = field(default_factory=dict)
    temperature_c: float | None = None
    read_at: datetime | None = None
    hottest_c: float | None = None
    melted: bool = False
    heat_off: bool = False
    stirred_at: datetime | None = None
    dents: tuple[Dent, ...] = ()
    changed_since_drop: bool = False
    poured_c: float | None = None
    poured_at: datetime | None = None
    skin_c: float | None = None
    out_at: datetime | None = None
    sticks: int = 0
    sticks_g: float | None = None
    flaws: frozenset[Flaw] = frozenset()
    trials: Mapping[str, Mapping[str, str]] = field(default_factory=dict)
    dried: Mapping[str, datetime] = field(default_factory=dict)
    verdict: str | None = None
    status: Status = Status.OPEN

    @property
    def base_g(self) -> float:
        return sum(self.bases.values())

    @property
    def oil_g(self) -> float:
        return sum(self.oils.values())

    @property
    def pigment_g(self) -> float:
        return sum(matter.grams for matter in self.pigments.values())

    @property
    def total_g(self) -> float:
        return self.base_g + self.oil_g + self.pigment_g

    @property
    def powder(self) -> Powder | None:
        """The pigment that is in the pot, blended by mass; None without any."""
        grams = self.pigment_g
        if grams <= 0:
            return None
        volume = sum(matter.grams / matter.density_g_per_ml for matter in self.pigments.values())
        absorbed = sum(matter.grams * (matter.oil_absorption_g_per_100g or 0.0) for matter in self.pigments.values())
        return Powder(grams / volume, max(0.1, absorbed / grams))

    @property
    def drop(self) -> Dent | None:
        """The last dent of a drop or stick that still holds for what is in the pot."""
        return self.dents[-1] if self.dents and not self.changed_since_drop else None


def read_at(pot: Pot, temperature_c: float | None, at: datetime) -> Pot:
    """The pot after a thermometer was read; as it was where none was."""
    if temperature_c is None:
        return pot
    hottest = temperature_c if pot.hottest_c is None else max(pot.hottest_c, temperature_c)
    return replace(pot, temperature_c=temperature_c, read_at=at, hottest_c=hottest)


def put_in(
    pot: Pot, bases: Mapping[str, float], oils: Mapping[str, float], pigments: Mapping[str, Matter], *, stays: bool
) -> Pot:
    """The pot with more in it; stirring still counts where it `stays` so."""
    return replace(
        pot,
        bases=_more(pot.bases, bases),
        oils=_more(pot.oils, oils),
        pigments=_joined(pot.pigments, pigments),
        changed_since_drop=True,
        heat_off=False,
        stirred_at=pot.stirred_at if stays else None,
    )


def _more(there: Mapping[str, float], more: Mapping[str, float]) -> dict[str, float]:
    found = dict(there)
    for source, grams in more.items():
        found[source] = found.get(source, 0.0) + grams
    return found


def _joined(there: Mapping[str, Matter], more: Mapping[str, Matter]) -> dict[str, Matter]:
    found = dict(there)
    for source, matter in more.items():
        known = found.get(source)
        found[source] = replace(matter, grams=matter.grams + (known.grams if known else 0.0))
    return found


@dataclass(frozen=True, slots=True)
class PotReading:
    """What a pot is by what is in it: shares, volume, and the dent predicted without and with what the base taught."""

    oil_fraction: float
    pvc: float
    reduced_pvc: float
    pigment_fraction: float
    volume_ml: float
    density_g_per_ml: float
    ln_dent_bare: float | None
    dent_dmm: float | None
    feel: Feel
    dries: Dries


def read(pot: Pot, base: BaseMix, oil: StickOil, offset_ln: float) -> PotReading | None:
    """What is in a pot, in figures; None before there is base or oil in it."""
    medium = pot.base_g + pot.oil_g
    if medium <= 0:
        return None
    powder = pot.powder
    share = pot.oil_g / medium
    powder_ml = pot.pigment_g / powder.density_g_per_ml if powder is not None else 0.0
    volume = powder_ml + pot.oil_g / oil.density_g_per_ml + pot.base_g / base.density_g_per_ml
    pvc = powder_ml / volume
    cpvc = powder.cpvc if powder is not None else None
    reduced = pvc / cpvc if cpvc is not None else 0.0
    bare = ln_dent(base, share, cpvc, reduced, 0.0) if reduced < 1 else None
    dent = math.exp(bare + offset_ln) if bare is not None else None
    dries = dries_of(share * DRYING_SHARE[oil.kind])
    return PotReading(
        share,
        pvc,
        reduced,
        pot.pigment_g / pot.total_g,
        volume,
        pot.total_g / volume,
        bare,
        dent,
        feel_of(dent if dent is not None else 0.1, reduced),
        dries,
    )
