"""A pot as a pure fold over its acts: what is in it, how hot, what was read of it, what came out."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace
from datetime import datetime
from uuid import UUID

from niddy.core import log
from niddy.core.log import Status
from niddy.core.sticks.acts import IN_POT, Act, By, Flaw, Kind, Matter
from niddy.core.sticks.casting import Dries, Feel, dries_of, feel_of
from niddy.core.sticks.materials import DRYING_SHARE, BaseMix, Powder, StickOil, ln_dent


@dataclass(frozen=True, slots=True)
class Dent:
    """A dent that was read, carried to 25 C, with what was predicted without any offset at that moment (ln)."""

    id: UUID
    dent_dmm: float
    by: By
    feel: Feel | None
    at: datetime
    of_stick: bool


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


def fold(acts: Iterable[Act]) -> Pot:
    """What a log of acts comes to; the order is that of `seq`."""
    return log.fold(acts, Pot(), after)


def after(pot: Pot, act: Act) -> Pot:
    """The pot after one more act that counts."""
    if act.kind in IN_POT:
        return replace(
            pot,
            bases=_more(pot.bases, act.bases),
            oils=_more(pot.oils, act.oils),
            pigments=_joined(pot.pigments, act.pigments),
            changed_since_drop=True,
            stirred_at=None if act.kind is not Kind.BASE or pot.melted else pot.stirred_at,
        )
    match act.kind:
        case Kind.READY:
            return replace(pot, ready=True)
        case Kind.TEMPERATURE:
            return _read(pot, act)
        case Kind.MELTED:
            return replace(_read(pot, act), melted=True)
        case Kind.STIR:
            return replace(pot, stirred_at=act.made_at)
        case Kind.DROP | Kind.DENT:
            assert act.dent_dmm is not None
            assert act.by is not None
            dent = Dent(act.id, act.dent_dmm, act.by, act.feel, act.made_at, act.kind is Kind.DENT)
            return replace(pot, dents=(*pot.dents, dent), changed_since_drop=False)
        case Kind.POUR:
            return replace(_read(pot, act), poured_c=act.temperature_c, poured_at=act.made_at)
        case Kind.SKIN:
            return replace(pot, skin_c=act.temperature_c)
        case Kind.OUT:
            return replace(pot, out_at=act.made_at, sticks=act.count or 0, sticks_g=act.grams)
        case Kind.FLAW:
            return replace(pot, flaws=pot.flaws | {act.flaw} if act.flaw else pot.flaws)
        case Kind.DRY_TRIAL | Kind.WET_TRIAL:
            what = act.seen.get("with", "dry") if act.kind is Kind.WET_TRIAL else "dry"
            return replace(pot, trials={**pot.trials, what: {k: v for k, v in act.seen.items() if k != "with"}})
        case Kind.DRIED:
            return replace(pot, dried={**pot.dried, act.seen["what"]: act.made_at})
        case Kind.VERDICT:
            return replace(pot, verdict=act.verdict)
        case Kind.FINISH:
            return replace(pot, status=Status.FINISHED)
        case Kind.ABANDON:
            return replace(pot, status=Status.ABANDONED)
        case _:
            return pot


def _read(pot: Pot, act: Act) -> Pot:
    if act.temperature_c is None:
        return pot
    hottest = act.temperature_c if pot.hottest_c is None else max(pot.hottest_c, act.temperature_c)
    return replace(pot, temperature_c=act.temperature_c, read_at=act.made_at, hottest_c=hottest)


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
        share, pvc, reduced, pot.pigment_g / pot.total_g, volume, pot.total_g / volume, bare, dent,
        feel_of(dent if dent is not None else 0.1, reduced), dries,
    )  # fmt: skip


@dataclass(frozen=True, slots=True)
class Taught:
    """What one dent teaches of the base: ln observed over predicted, by how it was read."""

    id: UUID
    ln_ratio: float
    by: By
    at: datetime


def taught(acts: Iterable[Act], base: BaseMix, oil: StickOil) -> tuple[Taught, ...]:
    """What the dents of a log teach of its base: each against what was in the pot when it was read."""
    pot, found = Pot(), []
    for act in log.counting(acts):
        pot = after(pot, act)
        if act.kind not in (Kind.DROP, Kind.DENT) or act.dent_dmm is None or act.by is None:
            continue
        reading = read(pot, base, oil, 0.0)
        if reading is not None and reading.ln_dent_bare is not None:
            found.append(Taught(act.id, math.log(act.dent_dmm) - reading.ln_dent_bare, act.by, act.made_at))
    return tuple(found)
