"""Lots as they are kept and shown: what each is of, how much is left, whose values it has."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date, datetime
from decimal import Decimal

from sqlalchemy import case, func, or_, select
from sqlalchemy.orm import Session

from niddy.core import additives as doses
from niddy.core.additives import Moment
from niddy.core.demand import Demand
from niddy.core.estimate import Basis, Estimate
from niddy.core.gels import strength_of
from niddy.core.library import range_says, shipped_says
from niddy.core.materials import CAKE_FAMILY, Additive, Oil, Pigment, RawMaterial, Wax
from niddy.core.measures import DROP_G
from niddy.core.names import searched, words_of
from niddy.db.base import plain
from niddy.db.materials import Lot, LotMovement
from niddy.reference import library
from niddy.studio import outputs
from niddy.studio.errors import Missing
from niddy.studio.materials.cake_kept import CakeOf, cake_of_row
from niddy.studio.materials.demand import TaughtDemand
from niddy.studio.materials.made_in_run import MADE_FAMILY, RunOf, run_of_row
from niddy.studio.materials.own import RAW, Material, material_of, own_materials

GEL = "gel"


WAX = "wax"


BASE = "base"


MASS_KINDS = ("pigment", "oil", "additive", GEL, WAX, BASE, RAW)


MADE_HERE = (GEL, BASE)
"""What nobody receives: it is prepared here, from lots."""


PIECE_KINDS = ("tube", "jar")


KINDS = (*MASS_KINDS, *PIECE_KINDS)
"""What stands on the shelf: the first seven in g, the others in pieces."""


LOW_STOCK_FRACTION = 0.15


MAX_PIECES = 100_000


@dataclass(frozen=True, slots=True)
class Value:
    """A figure of a lot and where it comes from."""

    value: float
    unit: str
    basis: Basis
    low: float | None = None
    high: float | None = None


@dataclass(frozen=True, slots=True)
class LotKept:
    """A lot as the shelf shows it: values of its own where known, else the library's, each with its basis.

    Amounts are in `unit` (g, or pieces), the price per kg or per piece.
    """

    id: int
    kind: str
    material_key: str
    name: str
    code: str
    ci_name: str
    family: str
    received_on: date
    received: float
    on_hand: float
    unit: str
    price_per_unit: Decimal | None
    note: str
    masstone_srgb: str | None
    density: Value | None
    loose_density: Value | None
    oil_absorption: Value | None
    demand_says: str
    drop: Value | None
    hazards: tuple[str, ...]
    hazards_own: bool
    safety_note: str
    supplier_code: str
    opened_on: date | None
    low: bool
    used_up: bool
    strength: float | None
    use_by: date | None
    dent: Value | None
    melting: Value | None
    liquid_share: float | None
    cake: CakeOf | None
    formula: str
    purity: Value | None
    suspect: str
    made_in: RunOf | None


@dataclass(frozen=True, slots=True)
class Movement:
    """An amount into or out of a lot."""

    at: datetime
    reason: str
    change: float
    reading: float | None
    batch_number: int | None
    pot_number: int | None
    run_number: int | None
    note: str


def lots(
    session: Session,
    kind: str | None = None,
    words: str = "",
    with_used_up: bool = False,
    sort: str = "name",
    only_low: bool = False,
    limit: int = 500,
    offset: int = 0,
) -> tuple[LotKept, ...]:
    """Lots of the shelf, pigments before oils; `words` searches code, name, notes and supplier code.

    Sorted by name, code, received (newest first), on_hand (least first) or age (longest opened first).
    """
    order = {
        "name": (_KIND_ORDER, Lot.material_key, Lot.received_on),
        "code": (Lot.code,),
        "received": (Lot.received_on.desc(),),
        "on_hand": (Lot.on_hand,),
        "age": (Lot.opened_on.nulls_last(), Lot.received_on),
    }[sort]
    query = select(Lot).order_by(*order, Lot.id).limit(limit).offset(offset)
    if kind:
        query = query.where(Lot.kind == kind)
    if not with_used_up:
        query = query.where(~Lot.used_up)
    if only_low:
        query = query.where(Lot.on_hand < LOW_STOCK_FRACTION * Lot.received)
    own = own_materials(session) if words else ()
    # One lowered text a row: several ILIKE a row are what makes a large shelf slow.
    haystack = plain(func.concat_ws(" ", Lot.code, Lot.note, Lot.supplier_code, Lot.material_key))
    called = {material.key: _called(material) for material in (*_all_shipped(), *own)} if words else {}
    for word in words_of(words):
        named = [key for key, names in called.items() if any(one.startswith(word) for one in names.split())]
        query = query.where(or_(haystack.contains(word, autoescape=True), Lot.material_key.in_(named)))
    return tuple(kept_of(session, row) for row in session.scalars(query))


_KIND_ORDER = case({kind: n for n, kind in enumerate(KINDS)}, value=Lot.kind)


def _called(material: Material) -> str:
    if isinstance(material, Pigment):
        return material.names
    if isinstance(material, RawMaterial):
        return searched(f"{material.name} {material.formula}")
    return searched(material.full_name if isinstance(material, Oil) else material.name)


def _all_shipped() -> tuple[Pigment | Oil | Additive | Wax, ...]:
    shelf = library()
    return (*shelf.pigments.values(), *shelf.oils.values(), *shelf.additives.values(), *shelf.waxes.values())


def low_lots(session: Session) -> tuple[LotKept, ...]:
    """What runs low."""
    return lots(session, only_low=True, limit=50)


def lot(session: Session, lot_id: int) -> LotKept:
    """One lot. Raises Missing."""
    row = session.get(Lot, lot_id)
    if row is None:
        raise Missing("lot", lot_id)
    return kept_of(session, row)


def movements(session: Session, lot_id: int, limit: int = 200) -> tuple[Movement, ...]:
    """The last movements of a lot, newest first."""
    rows = session.scalars(
        select(LotMovement).where(LotMovement.lot_id == lot_id).order_by(LotMovement.id.desc()).limit(limit)
    )
    moves = list(rows)
    jobs = outputs.jobs_named(session, [m.job_id for m in moves if m.job_id is not None])
    return tuple(
        Movement(
            m.at,
            m.reason,
            m.change,
            m.reading,
            _number(jobs.get(m.job_id or 0), "slab"),
            _number(jobs.get(m.job_id or 0), "sticks"),
            _number(jobs.get(m.job_id or 0), "runs"),
            m.note,
        )
        for m in moves
    )


def _number(job: outputs.JobNamed | None, room: str) -> int | None:
    return job.number if job is not None and job.room == room else None


def kept_of(session: Session, row: Lot) -> LotKept:
    """A lot as it is shown: its own values, and the library's where it has none."""
    material = material_of(session, "additive" if row.kind == GEL else row.kind, row.material_key)
    density = loose = absorption = drop = dent = melting = None
    name, ci_name, family, colour, says = row.material_key, "", row.kind, None, ""
    if material is not None:
        name = material.full_name if isinstance(material, Oil) else material.name
        if row.kind == GEL:
            name = f"{name} gel, {100 * gel_strength(row):.2g} %"
        if not isinstance(material, RawMaterial):
            density = _own(row.density_g_per_ml, material.density_g_per_ml, Basis.ENTERED)
    if row.kind == BASE and row.prepared is not None:
        name = row.prepared["name"]
        density = Value(row.prepared["density_g_per_ml"], "g/ml", Basis.LIBRARY)
    if isinstance(material, Wax):
        dent = Value(material.penetration_dmm, "0.1 mm", Basis.LIBRARY)
        melting = Value(material.melting_c, "°C", Basis.LIBRARY, material.melting_low_c, material.melting_high_c)
    if isinstance(material, Pigment):
        ci_name, family, colour = material.ci_name, material.family, colour_of(material, row)
        taught = taught_demand(material, row, None)
        estimate = taught.demand.estimate
        absorption = Value(estimate.median, "g per 100 g", estimate.basis, estimate.low, estimate.high)
        loose, says = _own(row.loose_density_g_per_ml, material.loose_density_g_per_ml, Basis.MEASURED), taught.says
    counted = isinstance(material, Additive) and doses.moment_of(material) is Moment.LAST
    if isinstance(material, Oil) or counted:
        drop = (
            Value(row.drop_g, "g", Basis.MEASURED)
            if row.drop_g is not None
            else Value(DROP_G, "g", Basis.ASSUMED, DROP_G * 0.7, DROP_G * 1.3)
        )
    shipped = material.hazards if material is not None else ()
    return LotKept(
        row.id,
        row.kind,
        row.material_key,
        name,
        row.code,
        ci_name,
        family,
        row.received_on,
        row.received,
        row.on_hand,
        "g" if row.kind in MASS_KINDS else "pieces",
        row.price_per_unit,
        row.note,
        colour,
        density,
        loose,
        absorption,
        says,
        drop,
        tuple(row.hazards) if row.hazards is not None else shipped,
        row.hazards is not None,
        row.safety_note,
        row.supplier_code,
        row.opened_on,
        row.on_hand < LOW_STOCK_FRACTION * row.received,
        row.used_up,
        gel_strength(row) if row.kind == GEL else None,
        row.use_by,
        dent,
        melting,
        row.liquid_share,
        cake_of_row(row),
        material.formula if isinstance(material, RawMaterial) else "",
        Value(100 * row.purity, "%", Basis.ENTERED) if row.purity is not None else None,
        row.suspect,
        run_of_row(row),
    )


def gel_strength(row: Lot) -> float:
    """Mass fraction of the additive in a gel, from what was weighed in."""
    assert row.prepared is not None
    return strength_of(row.prepared["additive_g"], row.prepared["oil_g"])


def _own(own: float | None, shipped: float, basis: Basis) -> Value:
    return Value(shipped, "g/ml", Basis.LIBRARY) if own is None else Value(own, "g/ml", basis)


def library_says(pigment: Pigment) -> str:
    """The line for a demand that rests on the library alone, or for a cake on what was washed into it."""
    if pigment.family == CAKE_FAMILY:
        return (
            f"expected {pigment.oil_absorption_low:.3g} to {pigment.oil_absorption_high:.3g} by what was washed in; "
            "a rub-out narrows it"
        )
    if pigment.family == MADE_FAMILY:
        return (
            f"as for its kind in general, {pigment.oil_absorption_low:g} to {pigment.oil_absorption_high:g}; "
            "a rub-out narrows it"
        )
    return range_says(pigment)


def colour_of(pigment: Pigment, row: Lot | None) -> str:
    """The masstone of a lot: a cake's own, or its pigment's."""
    if row is not None and row.prepared and "masstone_srgb" in row.prepared:
        return str(row.prepared["masstone_srgb"])
    return pigment.masstone_srgb


def taught_demand(pigment: Pigment, row: Lot | None, unseen: TaughtDemand | None) -> TaughtDemand:
    """What the records taught of a lot, or what the library says."""
    if row is not None and row.demand_g_per_100g is not None and row.demand_sd_ln is not None:
        estimate = Estimate.lognormal(row.demand_g_per_100g, row.demand_sd_ln, Basis(row.demand_basis or "learned"))
        demand = Demand(estimate, row.demand_sd_ln, row.demand_shared_sd_ln, row.demand_eye_covariance)
        return TaughtDemand(demand, row.demand_says)
    if unseen is not None:
        return unseen
    demand = shipped_says(pigment.oil_absorption_low, pigment.oil_absorption_high)
    if pigment.family in (CAKE_FAMILY, MADE_FAMILY):
        demand = replace(demand, estimate=replace(demand.estimate, basis=Basis.ASSUMED))
    return TaughtDemand(demand, library_says(pigment))


def lots_of(session: Session, *pigment_keys: str) -> tuple[LotKept, ...]:
    """Every lot of a pigment, or of several, used up or not, oldest first."""
    wanted = select(Lot).where(Lot.kind == "pigment", Lot.material_key.in_(pigment_keys))
    rows = session.scalars(wanted.order_by(Lot.received_on, Lot.id))
    return tuple(kept_of(session, row) for row in rows)
