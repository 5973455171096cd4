"""Materials: the studio's shelf over the shipped library; receiving, using, giving back, weighing in again."""

from __future__ import annotations

import re
from dataclasses import asdict, dataclass, fields
from datetime import date, datetime, timedelta
from decimal import Decimal
from functools import lru_cache
from uuid import UUID

from sqlalchemy import and_, bindparam, case, false, func, insert, or_, select, update
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from niddy.core import additives as doses
from niddy.core import oils
from niddy.core.additives import Dosing, Moment
from niddy.core.cautions import known_hazards
from niddy.core.demand import Demand, learn
from niddy.core.errors import MIN_DROP_G, Refused, density_g_per_ml, mass_g, oil_g_per_100g, within
from niddy.core.estimate import Basis, Estimate
from niddy.core.gels import strength_of
from niddy.core.materials import Additive, BinderOil, DryPigment, Oil, Particle, Pigment
from niddy.core.measures import DROP_G, DROPS_TO_WEIGH, SPOON_ML, Unit
from niddy.db.materials import Lot, LotMovement, OwnMaterial
from niddy.reference import library
from niddy.studio.errors import Missing

GEL = "gel"
MASS_KINDS = ("pigment", "oil", "additive", GEL)
PIECE_KINDS = ("tube", "jar")
KINDS = (*MASS_KINDS, *PIECE_KINDS)
"""What stands on the shelf: the first four in g, the others in pieces. A gel is prepared here, not received."""

LOW_STOCK_FRACTION = 0.15
MAX_PIECES = 100_000
EARLIEST = date(1900, 1, 1)
OWN_PREFIX = "own-"
SORTS = ("name", "code", "received", "on_hand", "age")


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


@dataclass(frozen=True, slots=True)
class Movement:
    """An amount into or out of a lot."""

    at: datetime
    reason: str
    change: float
    reading: float | None
    batch_number: int | None
    note: str


@dataclass(frozen=True, slots=True)
class NewLot:
    """What a maker says of a tin, bottle or box that came in. Values left out are the library's."""

    kind: str
    material_key: str
    code: str
    received_on: date
    received: float
    price_per_unit: Decimal | None = None
    note: str = ""
    density_g_per_ml: float | None = None
    loose_density_g_per_ml: float | None = None
    drop_g: float | None = None
    supplier_code: str = ""
    opened_on: date | None = None
    safety_note: str = ""
    hazards: tuple[str, ...] | None = None


@dataclass(frozen=True, slots=True)
class LotChange:
    """Everything of a lot that can be changed; None takes a value back to the library's."""

    code: str
    price_per_unit: Decimal | None
    note: str
    density_g_per_ml: float | None
    loose_density_g_per_ml: float | None
    drop_g: float | None
    supplier_code: str
    opened_on: date | None
    safety_note: str
    hazards: tuple[str, ...] | None


# --- materials: the library, and the studio's own beside it

_SHELVES: dict[str, type[Pigment] | type[Oil] | type[Additive]] = {
    "pigment": Pigment, "oil": Oil, "additive": Additive,
}  # fmt: skip


def pigment_of(session: Session, key: str) -> Pigment | None:
    """A pigment of the library or of the studio's own."""
    found = _material(session, "pigment", key)
    return found if isinstance(found, Pigment) else None


def _material(session: Session, kind: str, key: str) -> Pigment | Oil | Additive | None:
    if kind not in _SHELVES:
        return None
    if key.startswith(OWN_PREFIX):
        row = session.get(OwnMaterial, key)
        return _own_of(row) if row is not None and row.kind == kind else None
    shelf = library()
    shipped: Pigment | Oil | Additive | None = {
        "pigment": shelf.pigments, "oil": shelf.oils, "additive": shelf.additives
    }[kind].get(key)  # type: ignore[attr-defined]  # fmt: skip
    return shipped


def _own_of(row: OwnMaterial) -> Pigment | Oil | Additive:
    values = dict(row.values)
    values["hazards"] = tuple(values["hazards"])
    if row.kind == "pigment":
        values["particle"] = Particle(values["particle"])
    return _SHELVES[row.kind](**values)


def own_materials(session: Session) -> tuple[Pigment | Oil | Additive, ...]:
    """The studio's own materials, by name."""
    rows = session.scalars(select(OwnMaterial).order_by(OwnMaterial.key))
    return tuple(_own_of(row) for row in rows)


def add_own(session: Session, now: datetime, kind: str, material: Pigment | Oil) -> str:
    """Keep a material of the studio's own; its key. The key given is replaced. Raises Refused naming the field."""
    name = material.name.strip()
    if not name:
        raise Refused("name", "empty", "a name of 1 to 80 characters")
    key = OWN_PREFIX + (re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-") or "material")
    if session.get(OwnMaterial, key) is not None:
        raise Refused("name", f"'{name}' is kept already", "a name of its own")
    density_g_per_ml("density_g_per_ml", material.density_g_per_ml)
    for n, hazard in enumerate(material.hazards):
        if hazard not in known_hazards():
            raise Refused(f"hazards.{n}", f"'{hazard}' is unknown", ", ".join(sorted(known_hazards())))
    if isinstance(material, Pigment):
        oil_g_per_100g("oil_absorption_low", material.oil_absorption_low)
        oil_g_per_100g("oil_absorption_high", material.oil_absorption_high)
        if material.oil_absorption_high <= material.oil_absorption_low:
            raise Refused("oil_absorption_high", "not above the low end", f"more than {material.oil_absorption_low:g}")
        density_g_per_ml("loose_density_g_per_ml", material.loose_density_g_per_ml)
        if not re.fullmatch("#[0-9a-fA-F]{6}", material.masstone_srgb):
            raise Refused("masstone_srgb", f"'{material.masstone_srgb}' is no colour", "a colour like #a0522d")
    values = {**asdict(material), "key": key, "name": name, "hazards": list(material.hazards)}
    session.add(OwnMaterial(key=key, kind=kind, values=values, added_at=now))
    session.flush()
    return key


# --- lots


def check_new(session: Session, now: datetime, new: NewLot) -> None:
    """Refuse what cannot be received, naming the field; a code in use is found when it is written."""
    if new.kind not in KINDS:
        raise Refused("kind", f"'{new.kind}' is not kept here", ", ".join(KINDS))
    if new.kind == GEL:
        raise Refused("kind", "a gel is prepared here", "Additives, where what is weighed in says how strong it is")
    if new.kind in MASS_KINDS:
        if _material(session, new.kind, new.material_key) is None:
            raise Refused(
                "material_key", f"no {new.kind} '{new.material_key}'", f"a {new.kind} of the library or your own"
            )
        mass_g("received", new.received)
    else:
        if not new.material_key.strip():
            raise Refused("material_key", "empty", f"what kind of {new.kind} it is, such as 40 ml {new.kind}")
        within("received", new.received, 1, MAX_PIECES, "pieces")
        if new.received != int(new.received):
            raise Refused("received", f"{new.received:g} is not whole", "a whole number of pieces")
    _sensible_date("received_on", new.received_on, now)
    _check_values(now, new)


def _check_values(now: datetime, values: NewLot | LotChange) -> None:
    if not values.code.strip():
        raise Refused("code", "empty", "a code of your own, such as the one on the tin")
    if len(values.code) > 40:
        raise Refused("code", "too long", "at most 40 characters")
    if values.density_g_per_ml is not None:
        density_g_per_ml("density_g_per_ml", values.density_g_per_ml)
    if values.loose_density_g_per_ml is not None:
        density_g_per_ml("loose_density_g_per_ml", values.loose_density_g_per_ml)
    if values.drop_g is not None:
        within("drop_g", values.drop_g, MIN_DROP_G, 1, "g")
    if values.price_per_unit is not None:
        within("price_per_unit", float(values.price_per_unit), 0, 1_000_000)
    if values.opened_on is not None:
        _sensible_date("opened_on", values.opened_on, now)
    for n, hazard in enumerate(values.hazards or ()):
        if hazard not in known_hazards():
            raise Refused(f"hazards.{n}", f"'{hazard}' is unknown", ", ".join(sorted(known_hazards())))


def receive(session: Session, now: datetime, new: NewLot) -> int:
    """Take in a lot; its id. Raises Refused naming the field, so for a code already in use."""
    check_new(session, now, new)
    values = {field.name: getattr(new, field.name) for field in fields(new)}
    values |= {"code": new.code.strip(), "hazards": list(new.hazards) if new.hazards is not None else None}
    lot = Lot(**values, on_hand=new.received, used_up=False)
    session.add(lot)
    try:
        session.flush()
    except IntegrityError:
        raise Refused("code", f"'{lot.code}' is in use already", "a code no other lot has") from None
    session.add(LotMovement(lot_id=lot.id, reason="received", change=new.received, reading=new.received, at=now))
    session.flush()
    return lot.id


def change(session: Session, now: datetime, lot_id: int, wanted: LotChange) -> None:
    """Change what is said of a lot. Raises Refused naming the field, Missing."""
    _check_values(now, wanted)
    lot = _locked(session, lot_id)
    for field in fields(wanted):
        setattr(lot, field.name, getattr(wanted, field.name))
    lot.code = wanted.code.strip()
    lot.hazards = list(wanted.hazards) if wanted.hazards is not None else None
    try:
        session.flush()
    except IntegrityError:
        raise Refused("code", f"'{wanted.code.strip()}' is in use already", "a code no other lot has") from None


def weigh_spoon(session: Session, lot_id: int, unit: Unit, grams: float, spoons: float = 1) -> None:
    """Learn a lot's loose density from level spoons weighed once: every later spoon of it is tighter."""
    if unit not in SPOON_ML:
        raise Refused("unit", f"'{unit}' is no spoon", ", ".join(SPOON_ML))
    mass_g("grams", grams)
    within("spoons", spoons, 0.01, 1_000)
    loose = grams / (SPOON_ML[unit] * spoons)
    within("grams", loose, 0.02, 8, "g/ml of loose powder")
    lot = _locked(session, lot_id)
    if lot.kind != "pigment":
        raise Refused("unit", "only powder is measured in level spoons", "a lot of pigment")
    lot.loose_density_g_per_ml = loose
    session.flush()


def weigh_drops(session: Session, lot_id: int, drops: int, grams: float) -> None:
    """Learn a bottle's drop from 20 or more drops counted and weighed once."""
    within("drops", drops, DROPS_TO_WEIGH, 1_000, "drops")
    mass_g("grams", grams)
    each = grams / drops
    within("grams", each, 0.002, 0.2, "g a drop")
    lot = _locked(session, lot_id)
    if lot.kind not in ("oil", "additive"):
        raise Refused("drops", "only oil and additives are counted in drops", "a bottle of oil or of an additive")
    lot.drop_g = each
    session.flush()


def _sensible_date(field: str, day: date, now: datetime) -> None:
    latest = (now + timedelta(days=1)).date()
    if not EARLIEST <= day <= latest:
        raise Refused(field, f"{day} is no date of this bench", f"a date from {EARLIEST} to {latest}")


def weigh_in(session: Session, now: datetime, lot_id: int, reading: float, note: str = "") -> None:
    """Correct what is left of a lot by weighing it; 0 means it is used up. Raises Refused, Missing."""
    lot = _locked(session, lot_id)
    if lot.kind in PIECE_KINDS:
        within("reading", reading, 0, MAX_PIECES, "pieces")
    else:
        mass_g("reading", reading, zero=True)
    session.add(
        LotMovement(
            lot_id=lot_id,
            reason="weighed_in",
            change=reading - lot.on_hand,
            reading=reading,
            at=now,
            note=note,
        )
    )
    lot.on_hand = reading
    lot.used_up = reading == 0
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
    .values(on_hand=Lot.on_hand + bindparam("change"))
    .add_cte(
        insert(LotMovement)
        .values(
            lot_id=bindparam("of_lot"), reason=bindparam("reason"), change=bindparam("change"),
            event_id=bindparam("event_id"), batch_number=bindparam("batch_number"), at=bindparam("at"), note="",
        )
        .cte("moved")
    )
)  # fmt: skip
_ON_HAND = select(Lot.id, Lot.on_hand).where(Lot.id.in_(bindparam("lot_ids", expanding=True)))


def _move(
    session: Session,
    now: datetime,
    lot_id: int,
    reason: str,
    change: float,
    event_id: UUID,
    batch_number: int,
) -> None:
    session.execute(
        _MOVE,
        {
            "of_lot": lot_id, "reason": reason, "change": change, "event_id": event_id,
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
    haystack = func.lower(func.concat_ws(" ", Lot.code, Lot.note, Lot.supplier_code, Lot.material_key))
    for word in words.split():
        named = [
            material.key
            for material in (*_all_shipped(), *own)
            if word.lower()
            in f"{material.name} {getattr(material, 'ci_name', '')} {getattr(material, 'family', '')}".lower()
        ]
        query = query.where(or_(haystack.contains(word.lower(), autoescape=True), Lot.material_key.in_(named)))
    return tuple(_kept(session, row) for row in session.scalars(query))


_KIND_ORDER = case({kind: n for n, kind in enumerate(KINDS)}, value=Lot.kind)


def _all_shipped() -> tuple[Pigment | Oil | Additive, ...]:
    shelf = library()
    return (*shelf.pigments.values(), *shelf.oils.values(), *shelf.additives.values())


def low_lots(session: Session) -> tuple[LotKept, ...]:
    """What runs low."""
    return lots(session, only_low=True, limit=50)


def lot(session: Session, lot_id: int) -> LotKept:
    """One lot. Raises Missing."""
    row = session.get(Lot, lot_id)
    if row is None:
        raise Missing("lot", lot_id)
    return _kept(session, row)


def movements(session: Session, lot_id: int, limit: int = 200) -> tuple[Movement, ...]:
    """The last movements of a lot, newest first."""
    rows = session.scalars(
        select(LotMovement).where(LotMovement.lot_id == lot_id).order_by(LotMovement.id.desc()).limit(limit)
    )
    return tuple(Movement(m.at, m.reason, m.change, m.reading, m.batch_number, m.note) for m in rows)


def _kept(session: Session, row: Lot) -> LotKept:
    material = _material(session, "additive" if row.kind == GEL else row.kind, row.material_key)
    density = loose = absorption = drop = None
    name, ci_name, family, colour, says = row.material_key, "", row.kind, None, ""
    if material is not None:
        name = material.full_name if isinstance(material, Oil) else material.name
        if row.kind == GEL:
            name = f"{name} gel, {100 * _strength(row):.2g} %"
        density = _own(row.density_g_per_ml, material.density_g_per_ml, Basis.ENTERED)
    if isinstance(material, Pigment):
        ci_name, family, colour = material.ci_name, material.family, material.masstone_srgb
        taught = _taught(material, row, None)
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
        row.id, row.kind, row.material_key, name, row.code, ci_name, family, row.received_on, row.received, row.on_hand,
        "g" if row.kind in MASS_KINDS else "pieces", row.price_per_unit, row.note, colour, density, loose, absorption,
        says, drop, tuple(row.hazards) if row.hazards is not None else shipped, row.hazards is not None,
        row.safety_note, row.supplier_code, row.opened_on, row.on_hand < LOW_STOCK_FRACTION * row.received, row.used_up,
        _strength(row) if row.kind == GEL else None, row.use_by,
    )  # fmt: skip


def _strength(row: Lot) -> float:
    """Mass fraction of the additive in a gel, from what was weighed in."""
    assert row.prepared is not None
    return strength_of(row.prepared["additive_g"], row.prepared["oil_g"])


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
        pigment = _material(session, "pigment", row.material_key if row else one.key or "")
        if not isinstance(pigment, Pigment):
            raise Missing("pigment", one.key, f"lines.{n}.pigment_key")
        dry.append(_dry(pigment, row, (unseen or {}).get(pigment.key)))
    bottle = _portion(session, rows, oil, 1.0, "oil").oil
    return Gathered(tuple(dry), bottle, {row.id: row.on_hand for row in rows.values()})


def _portion(session: Session, rows: dict[int, Lot], oil: Asked, parts: float, field: str) -> oils.Portion:
    row = _row(rows, oil, "oil", field)
    shipped = _material(session, "oil", row.material_key if row else oil.key or "")
    if not isinstance(shipped, Oil):
        raise Missing("oil", oil.key, f"{field}.oil_key")
    return oils.Portion(
        _binder(shipped, row), parts, shipped.viscosity_mpa_s, shipped.yellowing_rank, shipped.film_rank
    )


def portions(
    session: Session, asked: list[tuple[Asked, float]], field: str
) -> tuple[list[oils.Portion], dict[int, float]]:
    """Oils and their parts, and what is on hand of those that are bottles. Raises Missing naming `field.N`."""
    wanted = [one.lot_id for one, _ in asked if one.lot_id is not None]
    rows = {row.id: row for row in session.scalars(select(Lot).where(Lot.id.in_(wanted)))} if wanted else {}
    found = [_portion(session, rows, one, parts, f"{field}.{n}") for n, (one, parts) in enumerate(asked)]
    return found, {row.id: row.on_hand for row in rows.values()}


@dataclass(frozen=True, slots=True)
class Stirred:
    """Additives as doses, and the extenders among them with the pigments they count as; what is on hand of lots."""

    dosings: tuple[Dosing, ...]
    extenders: tuple[tuple[Dosing, DryPigment], ...]
    on_hand_g: dict[int, float]


def dosings(
    session: Session, asked: list[tuple[Asked, float]], taught: dict[str, tuple[float, str]], field: str = "additives"
) -> Stirred:
    """Doses (lot or key, percent) for a calculation. `taught` is ln stress a percent by key, and where it is from.

    Raises Missing naming `field.N`, Refused for a gel whose day has passed.
    """
    wanted = [one.lot_id for one, _ in asked if one.lot_id is not None]
    rows = {row.id: row for row in session.scalars(select(Lot).where(Lot.id.in_(wanted)))} if wanted else {}
    plain: list[Dosing] = []
    extending: list[tuple[Dosing, DryPigment]] = []
    for n, (one, pct) in enumerate(asked):
        row = rows.get(one.lot_id) if one.lot_id is not None else None
        if one.lot_id is not None and (row is None or row.kind not in ("additive", GEL)):
            raise Missing("additive lot", one.lot_id, f"{field}.{n}.lot_id")
        additive = _material(session, "additive", row.material_key if row else one.key or "")
        if not isinstance(additive, Additive):
            raise Missing("additive", one.key, f"{field}.{n}.additive_key")
        slope, says = taught.get(additive.key, (additive.stiffening_per_pct, ""))
        counted = doses.moment_of(additive) is Moment.LAST
        dosing = Dosing(
            additive, pct, row.id if row else None, row.code if row else "",
            _strength(row) if row is not None and row.kind == GEL else None,
            ((row and row.drop_g) or DROP_G) if counted else None, bool(row and row.drop_g), slope,
            Basis.LEARNED if says else Basis.ASSUMED, says or "assumed until a ladder says",
        )  # fmt: skip
        key = doses.extends_as(additive)
        if key is None:
            plain.append(dosing)
            continue
        pigment = _material(session, "pigment", key)
        assert isinstance(pigment, Pigment)
        extending.append((dosing, _dry(pigment, row, None)))
    return Stirred(tuple(plain), tuple(extending), {row.id: row.on_hand for row in rows.values()})


def additive_of(session: Session, key: str) -> Additive | None:
    """An additive of the library."""
    found = _material(session, "additive", key)
    return found if isinstance(found, Additive) else None


@dataclass(frozen=True, slots=True)
class NewGel:
    """A gel made here: what it is of and in, what was weighed in and came out (g), from which lots, and its code."""

    additive_key: str
    oil_key: str
    additive_g: float
    oil_g: float
    yield_g: float
    code: str
    use_by: date
    additive_lot_id: int | None = None
    oil_lot_id: int | None = None
    note: str = ""


def keep_gel(session: Session, now: datetime, new: NewGel) -> int:
    """Keep a gel as a lot and draw what went into it from its lots; the gel's id. Raises Refused, Missing."""
    if not new.code.strip() or len(new.code) > 40:
        raise Refused(
            "code", "empty" if not new.code.strip() else "too long", "a code of your own, up to 40 characters"
        )
    price = Decimal(0)
    known = True
    for lot_id, kind, key, grams, field in (
        (new.additive_lot_id, "additive", new.additive_key, new.additive_g, "additive_lot_id"),
        (new.oil_lot_id, "oil", new.oil_key, new.oil_g, "oil_lot_id"),
    ):
        if lot_id is None:
            known = False
            continue
        try:
            row = _locked(session, lot_id)
        except Missing:
            raise Missing(f"{kind} lot", lot_id, field) from None
        if row.kind != kind or row.material_key != key:
            raise Refused(field, f"lot {row.code} is not that {kind}", f"a lot of {key}")
        row.on_hand -= grams
        session.add(
            LotMovement(lot_id=lot_id, reason="used", change=-grams, at=now, note=f"into gel {new.code.strip()}")
        )
        known = known and row.price_per_unit is not None
        price += (row.price_per_unit or Decimal(0)) * Decimal(str(grams))
    lot = Lot(
        kind=GEL, material_key=new.additive_key, code=new.code.strip(), received_on=now.date(), received=new.yield_g,
        on_hand=new.yield_g, price_per_unit=price / Decimal(str(new.yield_g)) if known else None, note=new.note,
        used_up=False, use_by=new.use_by,
        prepared={
            "oil_key": new.oil_key, "additive_g": new.additive_g, "oil_g": new.oil_g, "yield_g": new.yield_g,
        },
    )  # fmt: skip
    try:
        with session.begin_nested():
            session.add(lot)
            session.flush()
    except IntegrityError:
        raise Refused("code", f"'{new.code.strip()}' is in use already", "a code no other lot has") from None
    session.add(LotMovement(lot_id=lot.id, reason="received", change=new.yield_g, reading=new.yield_g, at=now))
    session.flush()
    return lot.id


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


@lru_cache(maxsize=512)
def _shipped(low: float, high: float) -> Demand:
    return learn(low, high).unseen_lot


def _taught(pigment: Pigment, row: Lot | None, unseen: TaughtDemand | None) -> TaughtDemand:
    if row is not None and row.demand_g_per_100g is not None and row.demand_sd_ln is not None:
        estimate = Estimate.lognormal(row.demand_g_per_100g, row.demand_sd_ln, Basis(row.demand_basis or "learned"))
        return TaughtDemand(Demand(estimate, row.demand_sd_ln), row.demand_says)
    if unseen is not None:
        return unseen
    return TaughtDemand(_shipped(pigment.oil_absorption_low, pigment.oil_absorption_high), library_says(pigment))


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
        hazards=tuple(row.hazards) if row and row.hazards is not None else pigment.hazards,
        demand_g_per_100g=taught.demand.estimate.median,
        demand_sd_ln=taught.demand.sd_ln,
        demand_basis=taught.demand.estimate.basis,
        demand_says=taught.says,
        drying=pigment.drying,
    )


def _binder(oil: Oil, row: Lot | None) -> BinderOil:
    return BinderOil(
        lot_id=row.id if row else None,
        key=oil.key,
        name=oil.full_name,
        lot_code=row.code if row else "",
        density_g_per_ml=(row and row.density_g_per_ml) or oil.density_g_per_ml,
        hazards=tuple(row.hazards) if row and row.hazards is not None else oil.hazards,
        drop_g=(row and row.drop_g) or DROP_G,
        drop_measured=bool(row and row.drop_g),
        touch_dry_days_low=oil.touch_dry_days_low,
        touch_dry_days_high=oil.touch_dry_days_high,
        nonvolatile_fraction=oil.nonvolatile_fraction,
    )


def on_hand(session: Session, lot_ids: list[int]) -> dict[int, float]:
    """What is left of some lots, in g."""
    rows = session.execute(_ON_HAND, {"lot_ids": lot_ids})
    return {row.id: row.on_hand for row in rows}


def lots_of(session: Session, pigment_key: str) -> tuple[LotKept, ...]:
    """Every lot of a pigment, used up or not, oldest first."""
    rows = session.scalars(
        select(Lot).where(Lot.kind == "pigment", Lot.material_key == pigment_key).order_by(Lot.received_on, Lot.id)
    )
    return tuple(_kept(session, row) for row in rows)


# --- pieces, and what things cost


def pieces(session: Session, kind: str) -> dict[str, float]:
    """Empties by what they are called, of every kind that is or was kept in stock."""
    rows = session.execute(
        select(Lot.material_key, func.sum(Lot.on_hand)).where(Lot.kind == kind).group_by(Lot.material_key)
    )
    return {name: float(count) for name, count in rows}


def take_piece(session: Session, now: datetime, kind: str, name: str, batch_number: int, field: str) -> None:
    """Take one empty of the oldest lot that has any; nothing where that kind is not kept in stock.

    Raises Refused where it is kept, and none is left.
    """
    rows = session.scalars(
        select(Lot)
        .where(Lot.kind == kind, Lot.material_key == name)
        .order_by(Lot.received_on, Lot.id)
        .with_for_update()
    ).all()
    if not rows:
        return
    lot = next((row for row in rows if row.on_hand >= 1), None)
    if lot is None:
        raise Refused(field, f"no empty {name} is left by the book", "another kind, or a count of what is really there")
    lot.on_hand -= 1
    session.add(LotMovement(lot_id=lot.id, reason="used", change=-1, batch_number=batch_number, at=now, note="filled"))
    session.flush()


@dataclass(frozen=True, slots=True)
class LotPrice:
    """A lot and what a kg of it costs; None where nobody knows."""

    lot_id: int
    code: str
    price_per_unit: Decimal | None


def lot_prices(session: Session, source: str) -> tuple[LotPrice, ...]:
    """The lots of a material with their prices, by the name a log counts one of them (or the material) by.

    Those used up are left out, but for the lot asked by. The oldest comes first.
    """
    if source.startswith("lot-"):
        lot = session.get(Lot, int(source.removeprefix("lot-")))
        if lot is None:
            return ()
        # Two gels of one additive are of different strengths: a kg of one is no kg of the other.
        same = false() if lot.kind == GEL else and_(Lot.kind == lot.kind, Lot.material_key == lot.material_key)
        where = or_(Lot.id == lot.id, and_(same, Lot.used_up.is_(False)))
    else:
        key = source.removeprefix("library-")
        where = and_(Lot.kind.in_(("pigment", "oil", "additive")), Lot.material_key == key, Lot.used_up.is_(False))
    rows = session.execute(select(Lot.id, Lot.code, Lot.price_per_unit).where(where).order_by(Lot.received_on, Lot.id))
    return tuple(LotPrice(row.id, row.code, row.price_per_unit) for row in rows)


def piece_price(session: Session, kind: str, name: str) -> Decimal | None:
    """What one piece cost in the newest lot that says so."""
    return session.scalar(
        select(Lot.price_per_unit)
        .where(Lot.kind == kind, Lot.material_key == name, Lot.price_per_unit.is_not(None))
        .order_by(Lot.received_on.desc(), Lot.id.desc())
        .limit(1)
    )


# --- many lots at once


@dataclass(frozen=True, slots=True)
class RowDone:
    """What a row of an import does: `receive`, `change`, `nothing`, or `refused` with the field, problem, accepted."""

    code: str
    does: str
    refused: tuple[tuple[str, str, str], ...] = ()


def known_lots(session: Session, codes: list[str]) -> dict[str, LotKept]:
    """The lots that carry some codes."""
    rows = session.scalars(select(Lot).where(Lot.code.in_(codes)))
    return {row.code: _kept(session, row) for row in rows}


def import_lots(
    session: Session, now: datetime, rows: list[tuple[NewLot, float | None]], *, write: bool
) -> list[RowDone]:
    """What each row (a lot, and what is on hand if told) does; with `write` it is done, in the caller's transaction.

    A row whose code is known changes that lot; its amount is then a weighing in.
    """
    known = known_lots(session, [new.code for new, _ in rows])
    done: list[RowDone] = []
    fresh: list[tuple[NewLot, float | None]] = []
    for new, on_hand in rows:
        try:
            check_new(session, now, new)
            if on_hand is not None:
                within("on_hand", on_hand, 0, MAX_PIECES)
        except Refused as refusal:
            done.append(RowDone(new.code, "refused", ((refusal.field, refusal.problem, refusal.accepted),)))
            continue
        lot = known.get(new.code)
        if lot is None:
            done.append(RowDone(new.code, "receive"))
            fresh.append((new, on_hand))
            continue
        if (lot.kind, lot.material_key) != (new.kind, new.material_key):
            problem = ("material", f"'{new.code}' is {lot.name} here", "the same material, or another code")
            done.append(RowDone(new.code, "refused", (problem,)))
            continue
        wanted = LotChange(**{field.name: getattr(new, field.name) for field in fields(LotChange)})
        differs = wanted != _said(lot)
        weighed = on_hand is not None and abs(on_hand - lot.on_hand) > 0.005
        done.append(RowDone(new.code, "change" if differs or weighed else "nothing"))
        if write and differs:
            change(session, now, lot.id, wanted)
        if write and weighed and on_hand is not None:
            weigh_in(session, now, lot.id, on_hand, "from a file")
    if write and fresh:
        _receive_many(session, now, fresh)
    return done


def _said(lot: LotKept) -> LotChange:
    def own(value: Value | None) -> float | None:
        return value.value if value is not None and value.basis in (Basis.ENTERED, Basis.MEASURED) else None

    return LotChange(
        lot.code, lot.price_per_unit, lot.note, own(lot.density), own(lot.loose_density), own(lot.drop),
        lot.supplier_code, lot.opened_on, lot.safety_note, lot.hazards if lot.hazards_own else None,
    )  # fmt: skip


def _receive_many(session: Session, now: datetime, fresh: list[tuple[NewLot, float | None]]) -> None:
    values = []
    for new, on_hand in fresh:
        told = {field.name: getattr(new, field.name) for field in fields(new)}
        told |= {"hazards": list(new.hazards) if new.hazards is not None else None, "demand_says": ""}
        left = new.received if on_hand is None else on_hand
        values.append({**told, "on_hand": left, "used_up": left == 0})
    ids = {code: lot_id for lot_id, code in session.execute(insert(Lot).returning(Lot.id, Lot.code), values)}
    moves = []
    for new, on_hand in fresh:
        common = {"lot_id": ids[new.code], "at": now, "note": "from a file"}
        moves.append({**common, "reason": "received", "change": new.received, "reading": new.received})
        if on_hand is not None and on_hand != new.received:
            moves.append({**common, "reason": "weighed_in", "change": on_hand - new.received, "reading": on_hand})
    session.execute(insert(LotMovement), moves)
