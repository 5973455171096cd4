"""Steering a cake's colour with what the studio has: its own paints on the shelf, and powders in stock."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from pydantic import Field
from sqlalchemy.orm import Session

from niddy.core import sludge as core
from niddy.core.documents import Document
from niddy.core.errors import Refused
from niddy.core.mixing.paints import Known, in_numbers
from niddy.core.sludge import Grey, Numbers, Paint, Steering
from niddy.studio import materials, mixing, shelf
from niddy.studio.errors import Missing

PAINTS = 120


Srgb = Annotated[str, Field(pattern=r"^#[0-9a-fA-F]{6}$")]


class SteerAsked(Document):
    """What is wanted of a cake's colour: a kind of grey, or a colour of one's own; `looks` is the cake to the eye."""

    wish: Grey = Grey.NEUTRAL
    srgb: Srgb | None = None
    looks: Srgb | None = None


def steer(session: Session, now: datetime, lot_id: int, asked: SteerAsked) -> Steering:
    """How a cake's colour is brought to what is wanted. Raises Missing, Refused for a lot that is no cake."""
    lot = materials.lot(session, lot_id)
    if lot.cake is None or lot.masstone_srgb is None:
        raise Refused("lot_id", f"lot {lot.code} is not a cake of sludge", "a cake of sludge")
    pigment = materials.pigment_of(session, lot.material_key)
    if pigment is None:
        raise Missing("pigment", lot.material_key)
    if asked.looks is None and not lot.cake.colour_known:
        raise Refused("looks", "nobody knows what is in it, so its colour is not known", "the colour of a dab of it")
    looks = asked.looks or lot.masstone_srgb
    aim = asked.srgb or core.aim_of(looks, asked.wish)
    offered = paints(session, now, lot_id)
    return core.steer(
        looks, pigment.tinting, aim, offered, numbers=_numbers(session, Known(pigment.tinting, looks), offered)
    )


def _numbers(session: Session, cake: Known, offered: list[Paint]) -> Numbers:
    """The cake by its swatch, and those tubes and jars by their readings that were read."""
    by = mixing.bench(session)
    items = {int(paint.id.removeprefix("item-")): paint.id for paint in offered if paint.id.startswith("item-")}
    read = mixing.of_items(session, list(items))
    return Numbers(
        in_numbers(cake, by.viewer, by.shine), {items[item]: one for item, one in read.items()}, by.viewer, by.shine
    )


def paints(session: Session, now: datetime, without: int) -> list[Paint]:
    """What the studio has to steer with: tubes and jars that are here, each colour once, and powders in stock."""
    found: dict[str, Paint] = {}
    for item in shelf.newest(session, now, PAINTS):
        if item.pot_number is None:
            found.setdefault(
                item.name, Paint(f"item-{item.id}", f"{item.name}, {item.code}", "medium", item.masstone_srgb)
            )
    powders = []
    for lot in materials.lots(session, "pigment", limit=PAINTS):
        pigment = materials.pigment_of(session, lot.material_key)
        if lot.id == without or pigment is None or lot.masstone_srgb is None or lot.on_hand <= 0:
            continue
        powders.append(Paint(f"lot-{lot.id}", f"{lot.name} {lot.code}, dry", pigment.tinting, lot.masstone_srgb))
    return [*found.values(), *powders]
