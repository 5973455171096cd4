"""Pigment made here as lots: those of one process are one pigment of the studio's own, and teach one another."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from datetime import datetime
from decimal import Decimal
from uuid import UUID

from sqlalchemy import select
from sqlalchemy.orm import Session

from niddy.core.cautions import known_hazards
from niddy.core.errors import Refused
from niddy.core.materials import Pigment
from niddy.db.materials import Lot, LotMovement, OwnMaterial
from niddy.studio import outputs
from niddy.studio.materials.made_here import check_code
from niddy.studio.materials.own import OWN_PREFIX


@dataclass(frozen=True, slots=True)
class NewPowder:
    """Powder of a run that goes into stock: g, what it is, what a kg cost. Densities where they were measured."""

    run_number: int
    process_id: int
    pigment: Pigment
    code: str
    grams: float
    price_per_kg: Decimal | None
    density_g_per_ml: float | None
    loose_density_g_per_ml: float | None


def powder_key(process_id: int) -> str:
    """The key of the pigment that all runs of a process make."""
    return f"{OWN_PREFIX}made-{process_id}"


def keep_powder(session: Session, now: datetime, job_id: int, act_id: UUID, new: NewPowder) -> int:
    """Keep powder as a lot that a run made; its id. Raises Refused for a code in use or a hazard nobody knows."""
    code = check_code(new.code)
    if session.scalar(select(Lot.id).where(Lot.code == code)) is not None:
        raise Refused("code", f"'{code}' is in use already", "a code no other lot has")
    for n, hazard in enumerate(new.pigment.hazards):
        if hazard not in known_hazards():
            raise Refused(f"hazards.{n}", f"'{hazard}' is unknown", ", ".join(sorted(known_hazards())))
    hazards = list(new.pigment.hazards)
    values = {**asdict(new.pigment), "hazards": hazards, "synonyms": []}
    held = session.get(OwnMaterial, new.pigment.key)
    if held is None:
        session.add(OwnMaterial(key=new.pigment.key, kind="pigment", values=values, added_at=now))
    else:
        held.values = values
    lot = Lot(
        kind="pigment",
        material_key=new.pigment.key,
        code=code,
        received_on=now.date(),
        received=new.grams,
        on_hand=new.grams,
        price_per_unit=new.price_per_kg,
        used_up=False,
        hazards=hazards,
        density_g_per_ml=new.density_g_per_ml,
        loose_density_g_per_ml=new.loose_density_g_per_ml,
        prepared={"run": new.run_number, "process": new.process_id, "masstone_srgb": new.pigment.masstone_srgb},
    )
    session.add(lot)
    session.flush()
    session.add(
        LotMovement(
            lot_id=lot.id, reason="received", change=new.grams, reading=new.grams, act_id=act_id, job_id=None, at=now
        )
    )
    outputs.note(session, job_id, now, new.grams, lot_id=lot.id, act_id=act_id)
    # What earlier runs taught is known of this lot at once. The two rooms know each other: asked for late.
    from niddy.studio import rubout

    rubout.adopt(session, new.pigment.key)
    return lot.id
