"""Lots that come in, and what is said of them."""

from __future__ import annotations

from dataclasses import dataclass, fields
from datetime import date, datetime, timedelta
from decimal import Decimal
from itertools import count

from sqlalchemy import select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from niddy.core.cautions import known_hazards
from niddy.core.errors import MIN_DROP_G, Refused, density_g_per_ml, mass_g, within
from niddy.core.measures import DROPS_TO_WEIGH, SPOON_ML, Unit
from niddy.core.names import folded
from niddy.db.materials import Lot, LotMovement
from niddy.studio.materials.kept import BASE, GEL, KINDS, MASS_KINDS, MAX_PIECES
from niddy.studio.materials.moving import locked
from niddy.studio.materials.own import RAW, material_of

EARLIEST = date(1900, 1, 1)


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
    purity: float | None = None


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
    purity: float | None = None


def check_new(session: Session, now: datetime, new: NewLot) -> None:
    """Refuse what cannot be received, naming the field; a code in use is found when it is written."""
    if new.kind not in KINDS:
        raise Refused("kind", f"'{new.kind}' is not kept here", ", ".join(KINDS))
    if new.kind == GEL:
        raise Refused("kind", "a gel is prepared here", "Additives, where what is weighed in says how strong it is")
    if new.kind == BASE:
        raise Refused("kind", "a base is melted here", "Sticks, where a base is cast as a block")
    if new.kind in MASS_KINDS:
        if material_of(session, new.kind, new.material_key) is None:
            if new.kind == RAW:
                raise Refused("material_key", f"no raw material '{new.material_key}'", "one of your own, named first")
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
    sensible_date("received_on", new.received_on, now)
    _check_values(now, new)


def _check_values(now: datetime, values: NewLot | LotChange) -> None:
    if isinstance(values, LotChange) and not values.code.strip():
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
        sensible_date("opened_on", values.opened_on, now)
    if values.purity is not None:
        within("purity", values.purity, 0, 1, open_low=True)
    for n, hazard in enumerate(values.hazards or ()):
        if hazard not in known_hazards():
            raise Refused(f"hazards.{n}", f"'{hazard}' is unknown", ", ".join(sorted(known_hazards())))


def receive(session: Session, now: datetime, new: NewLot) -> int:
    """Take in a lot; its id. Raises Refused naming the field, so for a code already in use."""
    check_new(session, now, new)
    values = {field.name: getattr(new, field.name) for field in fields(new)}
    values |= {
        "code": new.code.strip() or _free_code(session, new),
        "hazards": list(new.hazards) if new.hazards is not None else None,
    }
    lot = Lot(**values, on_hand=new.received, used_up=False)
    session.add(lot)
    try:
        session.flush()
    except IntegrityError:
        raise Refused("code", f"'{lot.code}' is in use already", "a code no other lot has") from None
    session.add(LotMovement(lot_id=lot.id, reason="received", change=new.received, reading=new.received, at=now))
    session.flush()
    if lot.kind == "pigment":
        # What is known of the pigment is known of this lot at once. The two rooms know each other: asked for late.
        from niddy.studio import rubout

        rubout.adopt(session, lot.material_key)
    return lot.id


def _free_code(session: Session, new: NewLot) -> str:
    """The first code nobody uses, of the first letters of what came in: YO-1."""
    material = material_of(session, new.kind, new.material_key)
    words = folded(material.name if material is not None else new.material_key).split()
    letters = "".join(word[0] for word in words[:3]).upper() or new.kind[:2].upper()
    used = set(session.scalars(select(Lot.code).where(Lot.code.startswith(f"{letters}-", autoescape=True))))
    return next(code for n in count(1) if (code := f"{letters}-{n}") not in used)


def change(session: Session, now: datetime, lot_id: int, wanted: LotChange) -> None:
    """Change what is said of a lot. Raises Refused naming the field, Missing."""
    _check_values(now, wanted)
    lot = locked(session, lot_id)
    for field in fields(wanted):
        setattr(lot, field.name, getattr(wanted, field.name))
    lot.code = wanted.code.strip()
    lot.hazards = list(wanted.hazards) if wanted.hazards is not None else None
    try:
        session.flush()
    except IntegrityError:
        raise Refused("code", f"'{wanted.code.strip()}' is in use already", "a code no other lot has") from None


def suspect(session: Session, lot_id: int, why: str) -> None:
    """Mark a lot as not to be trusted, and why; with nothing said it is trusted again. Raises Missing."""
    locked(session, lot_id).suspect = why.strip()
    session.flush()


def weigh_spoon(session: Session, lot_id: int, unit: Unit, grams: float, spoons: float = 1) -> None:
    """Learn a lot's loose density from level spoons weighed once: every later spoon of it is tighter."""
    if unit not in SPOON_ML:
        raise Refused("unit", f"'{unit}' is not a spoon", ", ".join(SPOON_ML))
    mass_g("grams", grams)
    within("spoons", spoons, 0.01, 1_000)
    loose = grams / (SPOON_ML[unit] * spoons)
    within("grams", loose, 0.02, 8, "g/ml of loose powder")
    lot = locked(session, lot_id)
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
    lot = locked(session, lot_id)
    if lot.kind not in ("oil", "additive"):
        raise Refused("drops", "only oil and additives are counted in drops", "a bottle of oil or of an additive")
    lot.drop_g = each
    session.flush()


def sensible_date(field: str, day: date, now: datetime) -> None:
    """Refuse a day no bench can have seen."""
    latest = (now + timedelta(days=1)).date()
    if not EARLIEST <= day <= latest:
        raise Refused(field, f"{day} is not a date this studio can take", f"a date from {EARLIEST} to {latest}")
