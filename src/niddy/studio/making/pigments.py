"""From a run into stock: the pigment it is from now on, its lot, and what a gram of it cost."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from decimal import Decimal

from sqlalchemy.orm import Session

from niddy.core import making as core
from niddy.core.cost import CENT
from niddy.core.kinds import KindValues, PigmentKind, values_of
from niddy.core.making import StepKind
from niddy.core.making.acts import WeighedIn
from niddy.core.making.trying import PowderToStock
from niddy.core.materials import Pigment
from niddy.reference import library
from niddy.studio import materials, workshop
from niddy.studio.making.facts import goes_in
from niddy.studio.making.runs import RunKept, theory_g
from niddy.studio.materials import NewPowder

MADE_HAZARD = "nuisance-dust"


@dataclass(frozen=True, slots=True)
class PowderLine:
    """One line of what a run cost: what, how much of it, and the money; None where nobody knows its price."""

    what: str
    says: str
    money: Decimal | None


@dataclass(frozen=True, slots=True)
class PowderCost:
    """What a run cost, and what a gram of its pigment did; None while there is no yield. `missing` has no price."""

    lines: tuple[PowderLine, ...]
    total: Decimal
    per_g: Decimal | None
    missing: tuple[str, ...]
    lost_says: str
    currency: str


@dataclass(frozen=True, slots=True)
class PowderGuess:
    """What a pigment of a run is taken for before anyone says otherwise."""

    taken_for: PigmentKind
    hazards: tuple[str, ...]
    density_g_per_ml: float
    density_measured: bool
    particle: str
    particle_says: str


def hazards_of(kept: RunKept) -> tuple[str, ...]:
    """What the reagents of a run call for in its pigment: the maker strikes what the data sheets rule out."""
    gone = core.NOT_IN_WASTE | {"strong-acid", "caustic", "ammonia"}
    found = {key for _, keys in goes_in(kept) for key in keys} - gone
    return tuple(sorted({*found, MADE_HAZARD}))


def guess(kept: RunKept) -> PowderGuess:
    """What its powder is taken for."""
    kind = PigmentKind.MINERAL if kept.process.products else PigmentKind.LAKE
    taken = _values(kind)
    sieved, mesh = kept.run.sieved, _mesh(kept)
    says = "assumed"
    if sieved is not None and sieved.d50_um is not None:
        says = f"half of it is below {sieved.d50_um:.0f} µm"
    elif mesh is not None:
        says = f"all of it through {mesh:g} µm"
    return PowderGuess(
        kind,
        hazards_of(kept),
        kept.run.density or taken.density_g_per_ml,
        kept.run.density is not None,
        core.particle_of(sieved, mesh),
        says,
    )


def _values(kind: PigmentKind) -> KindValues:
    return values_of(kind, library().pigments.values())


def _mesh(kept: RunKept) -> float | None:
    step = core.last_of(kept.process, StepKind.SIEVE)
    return step.mesh_um if step is not None and step.key in kept.run.done else None


def cost_of(
    session: Session, kept: RunKept, hours: float = 0.0, wage: float | None = None, water_per_l: float | None = None
) -> PowderCost:
    """What a run cost so far: what it drew from its lots, its water and work, and what was lost on the way."""
    settings = workshop.settings(session)
    drawn: dict[tuple[str, int | None, str], float] = {}
    for _, facts in kept.acts_of(WeighedIn):
        key = (facts.name, facts.lot_id, facts.lot_code)
        drawn[key] = drawn.get(key, 0.0) + (facts.g or 0.0)
    prices = materials.known_prices(session, [f"lot-{lot}" for _, lot, _ in drawn if lot is not None])
    lines, missing = [], []
    for (name, lot, code), grams in drawn.items():
        price = prices.get(f"lot-{lot}")
        money = (price * Decimal(f"{grams / 1000:.6f}")).quantize(CENT) if price is not None else None
        if money is None:
            missing.append(name)
        lines.append(PowderLine(name, f"{grams:.1f} g" + (f" of lot {code}" if code else ""), money))
    litres = (kept.plan.liquid_ml + sum(kept.run.washes)) / 1000
    if water_per_l is not None:
        lines.append(PowderLine("Water", f"{litres:.1f} l", Decimal(f"{water_per_l * litres:.4f}").quantize(CENT)))
    if wage is not None and hours > 0:
        lines.append(PowderLine("Work", f"{hours:.1f} h", Decimal(f"{wage * hours:.4f}").quantize(CENT)))
    total = sum((line.money for line in lines if line.money is not None), Decimal(0))
    made_g = kept.run.yield_g
    per_g = (total / Decimal(f"{made_g:.4f}")).quantize(Decimal("0.0001")) if made_g else None
    theory = theory_g(kept)
    lost = ""
    if theory is not None and made_g is not None and theory > made_g:
        share = 1 - made_g / theory
        money = (total * Decimal(f"{share:.6f}")).quantize(CENT)
        lost = f"{theory - made_g:.1f} g short of theory: {money} {settings.currency} of it went with them"
    return PowderCost(tuple(lines), total, per_g, tuple(missing), lost, settings.currency)


def into_stock(session: Session, now: datetime, kept: RunKept, act: PowderToStock) -> tuple[int, str | None]:
    """Keep pigment of a run as a lot: its id, and what a gram cost where that is known. Raises Refused."""
    cost = cost_of(session, kept, act.hours, act.wage_per_hour, act.water_per_l)
    price = cost.per_g * 1000 if cost.per_g is not None and not cost.missing and cost.lines else None
    lot_id = materials.keep_powder(
        session,
        now,
        kept.job_id,
        act.id,
        NewPowder(
            kept.number,
            kept.process_id,
            pigment_of(kept, act, guess(kept)),
            act.code,
            act.g,
            price,
            kept.run.density,
            act.loose_density_g_per_ml,
        ),
    )
    return lot_id, str(cost.per_g) if price is not None else None


def pigment_of(kept: RunKept, act: PowderToStock, found: PowderGuess) -> Pigment:
    """The pigment a process makes, by the last run that went into stock."""
    taken = _values(act.taken_for)
    loose = act.loose_density_g_per_ml or core.LOOSE_SHARE * found.density_g_per_ml
    return Pigment(
        key=materials.powder_key(kept.process_id),
        name=kept.process.name,
        ci_name="",
        family=materials.MADE_FAMILY,
        density_g_per_ml=found.density_g_per_ml,
        oil_absorption_low=taken.oil_absorption_low,
        oil_absorption_high=taken.oil_absorption_high,
        loose_density_g_per_ml=loose,
        particle=core.particle_of(kept.run.sieved, _mesh(kept)),
        opacity=taken.opacity,
        tinting=taken.tinting,
        staining=1,
        lightfast_class="",
        drying=taken.drying,
        hazards=tuple(dict.fromkeys(act.hazards)),
        masstone_srgb=act.masstone_srgb,
        dispersing=taken.dispersing,
    )
