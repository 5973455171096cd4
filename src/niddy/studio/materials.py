"""Materials: lots of the studio over the shipped library; receiving, using, giving back, weighing in again."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime, timedelta
from decimal import Decimal
from uuid import UUID

from sqlalchemy import bindparam, insert, or_, select, update
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from niddy.core.demand import Demand, learn
from niddy.core.errors import Refused, density_g_per_ml, mass_g, within
from niddy.core.estimate import Basis, Estimate
from niddy.core.materials import BinderOil, DryPigment, Oil, Pigment
from niddy.core.measures import DROP_G
from niddy.db.materials import Lot, LotMovement
from niddy.reference import library
from niddy.studio.errors import Missing

KINDS = ("pigment", "oil")
LOW_STOCK_FRACTION = 0.15
EARLIEST = date(1900, 1, 1)


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
    """A lot as the shelf shows it: values of its own where known, else the library's, each with its basis."""

    id: int
    kind: str
    material_key: str
    name: str
    code: str
    ci_name: str
    family: str
    received_on: date
    received_g: float
    on_hand_g: float
    price_per_kg: Decimal | None
    note: str
    masstone_srgb: str | None
    density: Value
    loose_density: Value | None
    oil_absorption: Value | None
    drop: Value | None
    hazards: tuple[str, ...]
    low: bool
    used_up: bool


@dataclass(frozen=True, slots=True)
class Movement:
    """Grams into or out of a lot."""

    at: datetime
    reason: str
    change_g: float
    reading_g: float | None
    batch_number: int | None
    note: str


@dataclass(frozen=True, slots=True)
class NewLot:
    """What a maker says of a tin or bottle that came in. Values left out are the library's."""

    kind: str
    material_key: str
    code: str
    received_on: date
    received_g: float
    price_per_kg: Decimal | None = None
    note: str = ""
    density_g_per_ml: float | None = None
    loose_density_g_per_ml: float | None = None
    drop_g: float | None = None


def receive(session: Session, now: datetime, new: NewLot) -> int:
    """Take in a lot; its id. Raises Refused naming the field, so for a code already in use."""
    shelf: dict[str, Pigment] | dict[str, Oil] = library().pigments if new.kind == "pigment" else library().oils
    if new.kind not in KINDS:
        raise Refused("kind", f"'{new.kind}' is not kept", "pigment or oil")
    if new.material_key not in shelf:
        raise Refused(
            "material_key",
            f"no {new.kind} '{new.material_key}' in the library",
            f"a {new.kind} of the library",
        )
    if not new.code.strip():
        raise Refused("code", "empty", "a code of your own, such as the one on the tin")
    mass_g("received_g", new.received_g)
    _sensible_date("received_on", new.received_on, now)
    for name in ("density_g_per_ml", "loose_density_g_per_ml"):
        value = getattr(new, name)
        if value is not None:
            density_g_per_ml(name, value)
    if new.drop_g is not None:
        within("drop_g", new.drop_g, 0, 1, "g", open_low=True)
    if new.price_per_kg is not None:
        within("price_per_kg", float(new.price_per_kg), 0, 1_000_000)
    lot = Lot(
        kind=new.kind, material_key=new.material_key, code=new.code.strip(), received_on=new.received_on,
        on_hand_g=new.received_g, price_per_kg=new.price_per_kg, note=new.note,
        density_g_per_ml=new.density_g_per_ml, loose_density_g_per_ml=new.loose_density_g_per_ml,
        drop_g=new.drop_g, used_up=False,
    )  # fmt: skip
    session.add(lot)
    try:
        session.flush()
    except IntegrityError:
        raise Refused("code", f"'{lot.code}' is in use already", "a code no other lot has") from None
    session.add(
        LotMovement(lot_id=lot.id, reason="received", change_g=new.received_g, reading_g=new.received_g, at=now)
    )
    session.flush()
    return lot.id


def _sensible_date(field: str, day: date, now: datetime) -> None:
    latest = (now + timedelta(days=1)).date()
    if not EARLIEST <= day <= latest:
        raise Refused(field, f"{day} is no date of this bench", f"a date from {EARLIEST} to {latest}")


def weigh_in(session: Session, now: datetime, lot_id: int, reading_g: float, note: str = "") -> None:
    """Correct what is left of a lot by weighing it; 0 means it is used up. Raises Refused, Missing."""
    mass_g("reading_g", reading_g, zero=True)
    lot = _locked(session, lot_id)
    session.add(
        LotMovement(
            lot_id=lot_id,
            reason="weighed_in",
            change_g=reading_g - lot.on_hand_g,
            reading_g=reading_g,
            at=now,
            note=note,
        )
    )
    lot.on_hand_g = reading_g
    lot.used_up = reading_g == 0
    session.flush()


def use(session: Session, now: datetime, lot_id: int, grams: float, event_id: UUID, batch_number: int) -> None:
    """Draw an act's grams from a lot. What the shelf says may go below zero: the tin knows better than the book."""
    _move(session, now, lot_id, "used", -grams, event_id, batch_number)


def give_back(session: Session, now: datetime, lot_id: int, grams: float, event_id: UUID, batch_number: int) -> None:
    """Undo a use whose act was struck out."""
    _move(session, now, lot_id, "struck_out", grams, event_id, batch_number)


# Built once, since every pour goes through it: the movement and the sum it changes, in one round trip.
_MOVE = (
    update(Lot)
    .where(Lot.id == bindparam("of_lot"))
    .values(on_hand_g=Lot.on_hand_g + bindparam("change_g"))
    .add_cte(
        insert(LotMovement)
        .values(
            lot_id=bindparam("of_lot"), reason=bindparam("reason"), change_g=bindparam("change_g"),
            event_id=bindparam("event_id"), batch_number=bindparam("batch_number"), at=bindparam("at"), note="",
        )
        .cte("moved")
    )
)  # fmt: skip
_ON_HAND = select(Lot.id, Lot.on_hand_g).where(Lot.id.in_(bindparam("lot_ids", expanding=True)))


def _move(
    session: Session,
    now: datetime,
    lot_id: int,
    reason: str,
    change_g: float,
    event_id: UUID,
    batch_number: int,
) -> None:
    session.execute(
        _MOVE,
        {
            "of_lot": lot_id, "reason": reason, "change_g": change_g, "event_id": event_id,
            "batch_number": batch_number, "at": now,
        },
        execution_options={"synchronize_session": False},
    )  # fmt: skip


def _locked(session: Session, lot_id: int) -> Lot:
    lot = session.get(Lot, lot_id, with_for_update=True)
    if lot is None:
        raise Missing("lot", lot_id)
    return lot


def lots(
    session: Session,
    kind: str | None = None,
    words: str = "",
    with_used_up: bool = False,
    limit: int = 500,
) -> tuple[LotKept, ...]:
    """Lots of the shelf, pigments before oils, by name and age; `words` searches code, name and note."""
    query = select(Lot).order_by(Lot.kind.desc(), Lot.material_key, Lot.received_on, Lot.id).limit(limit)
    if kind:
        query = query.where(Lot.kind == kind)
    if not with_used_up:
        query = query.where(~Lot.used_up)
    for word in words.split():
        named = [
            key
            for shelf in (library().pigments, library().oils)
            for key, material in shelf.items()
            if word.lower() in f"{material.name} {getattr(material, 'ci_name', '')}".lower()
        ]
        like = f"%{word.replace('%', '')}%"
        query = query.where(or_(Lot.code.ilike(like), Lot.note.ilike(like), Lot.material_key.in_(named)))
    rows = list(session.scalars(query))
    received = _received(session, [row.id for row in rows])
    return tuple(_kept(row, received.get(row.id, 0.0)) for row in rows)


def lot(session: Session, lot_id: int) -> LotKept:
    """One lot. Raises Missing."""
    row = session.get(Lot, lot_id)
    if row is None:
        raise Missing("lot", lot_id)
    return _kept(row, _received(session, [lot_id]).get(lot_id, 0.0))


def movements(session: Session, lot_id: int, limit: int = 200) -> tuple[Movement, ...]:
    """The last movements of a lot, newest first."""
    rows = session.scalars(
        select(LotMovement).where(LotMovement.lot_id == lot_id).order_by(LotMovement.id.desc()).limit(limit)
    )
    return tuple(Movement(m.at, m.reason, m.change_g, m.reading_g, m.batch_number, m.note) for m in rows)


def _received(session: Session, lot_ids: list[int]) -> dict[int, float]:
    query = select(LotMovement.lot_id, LotMovement.change_g).where(
        LotMovement.lot_id.in_(lot_ids), LotMovement.reason == "received"
    )
    return {row.lot_id: row.change_g for row in session.execute(query)}


def _kept(row: Lot, received_g: float) -> LotKept:
    low = row.on_hand_g < LOW_STOCK_FRACTION * received_g
    if row.kind == "pigment":
        pigment = library().pigments[row.material_key]
        estimate = _demand(pigment, row, None).estimate
        return LotKept(
            row.id, row.kind, row.material_key, pigment.name, row.code, pigment.ci_name, pigment.family,
            row.received_on, received_g, row.on_hand_g, row.price_per_kg, row.note, pigment.masstone_srgb,
            _own(row.density_g_per_ml, pigment.density_g_per_ml, Basis.ENTERED),
            _own(row.loose_density_g_per_ml, pigment.loose_density_g_per_ml, Basis.MEASURED),
            Value(estimate.median, "g per 100 g", estimate.basis, estimate.low, estimate.high),
            None, pigment.hazards, low, row.used_up,
        )  # fmt: skip
    oil = library().oils[row.material_key]
    drop = (
        Value(row.drop_g, "g", Basis.MEASURED)
        if row.drop_g is not None
        else Value(DROP_G, "g", Basis.ASSUMED, DROP_G * 0.7, DROP_G * 1.3)
    )
    return LotKept(
        row.id, row.kind, row.material_key, oil.full_name, row.code, "", "oil",
        row.received_on, received_g, row.on_hand_g, row.price_per_kg, row.note, None,
        _own(row.density_g_per_ml, oil.density_g_per_ml, Basis.ENTERED),
        None, None, drop, oil.hazards, low, row.used_up,
    )  # fmt: skip


def _own(own: float | None, shipped: float, basis: Basis) -> Value:
    return Value(shipped, "g/ml", Basis.LIBRARY) if own is None else Value(own, "g/ml", basis)


@dataclass(frozen=True, slots=True)
class Asked:
    """A material as a request names it: a lot of the shelf, or an entry of the library."""

    lot_id: int | None
    key: str | None


@dataclass(frozen=True, slots=True)
class Gathered:
    """The materials of a plan, and what the shelf holds of those that are lots, in g by lot id."""

    pigments: tuple[DryPigment, ...]
    oil: BinderOil
    on_hand_g: dict[int, float]


def gather(
    session: Session, pigments: list[Asked], oil: Asked, unseen: dict[str, TaughtDemand] | None = None
) -> Gathered:
    """Pigments, in order, and oil for a calculation; `unseen` is what is known of pigments by key beyond the library.

    Raises Missing naming `lines.N` or `oil`.
    """
    wanted = {one.lot_id for one in (*pigments, oil) if one.lot_id is not None}
    rows = {row.id: row for row in session.scalars(select(Lot).where(Lot.id.in_(wanted)))} if wanted else {}
    dry = []
    for n, one in enumerate(pigments):
        row = _row(rows, one, "pigment", f"lines.{n}")
        pigment = library().pigments.get(row.material_key if row else one.key or "")
        if pigment is None:
            raise Missing("pigment", one.key, f"lines.{n}.pigment_key")
        dry.append(_dry(pigment, row, (unseen or {}).get(pigment.key)))
    row = _row(rows, oil, "oil", "oil")
    shipped = library().oils.get(row.material_key if row else oil.key or "")
    if shipped is None:
        raise Missing("oil", oil.key, "oil.oil_key")
    return Gathered(tuple(dry), _binder(shipped, row), {row.id: row.on_hand_g for row in rows.values()})


def _row(rows: dict[int, Lot], asked: Asked, kind: str, field: str) -> Lot | None:
    if asked.lot_id is None:
        return None
    row = rows.get(asked.lot_id)
    if row is None or row.kind != kind:
        raise Missing(f"{kind} lot", asked.lot_id, f"{field}.lot_id")
    return row


@dataclass(frozen=True, slots=True)
class TaughtDemand:
    """What the records of a pigment taught of a lot, or of a lot not seen yet, and the line that says so."""

    demand: Demand
    says: str


def set_demand(session: Session, lot_id: int, taught: TaughtDemand | None) -> None:
    """Keep what the records taught of a lot; None takes it back to the prior of its pigment."""
    row = session.get_one(Lot, lot_id)
    estimate = taught.demand.estimate if taught else None
    row.demand_g_per_100g = estimate.median if estimate else None
    row.demand_sd_ln = taught.demand.sd_ln if taught else None
    row.demand_basis = estimate.basis if estimate else None
    row.demand_says = taught.says if taught else ""


def library_says(pigment: Pigment) -> str:
    """The line for a demand that rests on the library alone."""
    return f"library range {pigment.oil_absorption_low:g} to {pigment.oil_absorption_high:g}, approximate"


def _demand(pigment: Pigment, row: Lot | None, unseen: TaughtDemand | None) -> Demand:
    return _taught(pigment, row, unseen).demand


def _taught(pigment: Pigment, row: Lot | None, unseen: TaughtDemand | None) -> TaughtDemand:
    if row is not None and row.demand_g_per_100g is not None and row.demand_sd_ln is not None:
        estimate = Estimate.lognormal(row.demand_g_per_100g, row.demand_sd_ln, Basis(row.demand_basis or "learned"))
        return TaughtDemand(Demand(estimate, row.demand_sd_ln), row.demand_says)
    if unseen is not None:
        return unseen
    shipped = learn(pigment.oil_absorption_low, pigment.oil_absorption_high).unseen_lot
    return TaughtDemand(shipped, library_says(pigment))


def _dry(pigment: Pigment, row: Lot | None, unseen: TaughtDemand | None) -> DryPigment:
    taught = _taught(pigment, row, unseen)
    return DryPigment(
        lot_id=row.id if row else None,
        key=pigment.key,
        name=pigment.name,
        lot_code=row.code if row else "",
        ci_name=pigment.ci_name,
        density_g_per_ml=(row and row.density_g_per_ml) or pigment.density_g_per_ml,
        loose_density_g_per_ml=(row and row.loose_density_g_per_ml) or pigment.loose_density_g_per_ml,
        loose_density_measured=bool(row and row.loose_density_g_per_ml),
        particle=pigment.particle,
        tinting=pigment.tinting,
        masstone_srgb=pigment.masstone_srgb,
        hazards=pigment.hazards,
        demand_g_per_100g=taught.demand.estimate.median,
        demand_sd_ln=taught.demand.sd_ln,
        demand_basis=taught.demand.estimate.basis,
        demand_says=taught.says,
    )


def _binder(oil: Oil, row: Lot | None) -> BinderOil:
    return BinderOil(
        lot_id=row.id if row else None,
        key=oil.key,
        name=oil.full_name,
        lot_code=row.code if row else "",
        density_g_per_ml=(row and row.density_g_per_ml) or oil.density_g_per_ml,
        hazards=oil.hazards,
        drop_g=(row and row.drop_g) or DROP_G,
        drop_measured=bool(row and row.drop_g),
    )


def on_hand(session: Session, lot_ids: list[int]) -> dict[int, float]:
    """What is left of some lots, in g."""
    rows = session.execute(_ON_HAND, {"lot_ids": lot_ids})
    return {row.id: row.on_hand_g for row in rows}


def lots_of(session: Session, pigment_key: str) -> tuple[LotKept, ...]:
    """Every lot of a pigment, used up or not, oldest first."""
    rows = list(
        session.scalars(
            select(Lot).where(Lot.kind == "pigment", Lot.material_key == pigment_key).order_by(Lot.received_on, Lot.id)
        )
    )
    received = _received(session, [row.id for row in rows])
    return tuple(_kept(row, received.get(row.id, 0.0)) for row in rows)
