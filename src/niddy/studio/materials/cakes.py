"""Cakes of sludge as lots of pigment: those of one can are one pigment of the studio's own, and teach one another."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from datetime import datetime
from uuid import UUID

from sqlalchemy import select
from sqlalchemy.orm import Session

from niddy.core.errors import Refused
from niddy.core.materials import Pigment
from niddy.db.materials import Lot, LotMovement, OwnMaterial
from niddy.studio import outputs
from niddy.studio.materials.cake_kept import CakePart
from niddy.studio.materials.made_here import check_code
from niddy.studio.materials.own import OWN_PREFIX


@dataclass(frozen=True, slots=True)
class NewCake:
    """A cake that goes into stock: g as it is, what share of them is liquid that will leave, what is in it."""

    can_number: int
    dish_number: int
    pigment: Pigment
    code: str
    grams: float
    liquid_share: float
    liquid_density_g_per_ml: float
    hazards: tuple[str, ...]
    parts: tuple[CakePart, ...]
    unknown_share: float
    wet_enough: bool
    note: str = ""


def cake_key(can_number: int) -> str:
    """The key of the pigment that the cakes of a can are."""
    return f"{OWN_PREFIX}cake-of-can-{can_number}"


def keep_cake(session: Session, now: datetime, job_id: int, act_id: UUID, new: NewCake) -> int:
    """Keep a cake as a lot that a dish made; its id. Raises Refused for a code in use."""
    code = check_code(new.code)
    if session.scalar(select(Lot.id).where(Lot.code == code)) is not None:
        raise Refused("code", f"'{code}' is in use already", "a code no other lot has")
    key = cake_key(new.can_number)
    values = {**asdict(new.pigment), "key": key, "hazards": list(new.hazards), "synonyms": []}
    kept = session.get(OwnMaterial, key)
    if kept is None:
        session.add(OwnMaterial(key=key, kind="pigment", values=values, added_at=now))
    else:
        kept.values = values
    lot = Lot(
        kind="pigment",
        material_key=key,
        code=code,
        received_on=now.date(),
        received=new.grams,
        on_hand=new.grams,
        note=new.note,
        used_up=False,
        hazards=list(new.hazards),
        density_g_per_ml=new.pigment.density_g_per_ml,
        liquid_share=new.liquid_share or None,
        liquid_density_g_per_ml=new.liquid_density_g_per_ml if new.liquid_share else None,
        prepared={
            "can": new.can_number,
            "dish": new.dish_number,
            "masstone_srgb": new.pigment.masstone_srgb,
            "parts": [asdict(part) for part in new.parts],
            "unknown_share": new.unknown_share,
            "wet_enough": new.wet_enough,
        },
    )
    session.add(lot)
    session.flush()
    session.add(
        LotMovement(
            lot_id=lot.id, reason="received", change=new.grams, reading=new.grams, act_id=act_id, job_id=None, at=now
        )
    )
    outputs.note(session, job_id, now, new.grams, lot_id=lot.id, act_id=act_id)
    # What earlier cakes of the can taught is known of this one at once. The two rooms know each other: asked for late.
    from niddy.studio import rubout

    rubout.adopt(session, key)
    return lot.id
