"""Bases melted once and cast into blocks, which stock keeps as lots."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated
from uuid import UUID

from pydantic import Field
from sqlalchemy.orm import Session

from niddy.core.amounts import Grams
from niddy.core.documents import Document, Key, RowId
from niddy.core.errors import Refused
from niddy.core.words import Words
from niddy.studio import materials
from niddy.studio.materials import NewBlock, WaxIn
from niddy.studio.sticks.bases import MOST_PARTS, known


class WaxWeighed(Document):
    """What was weighed of one wax, of which lot."""

    wax_key: Key
    grams: Grams
    lot_id: RowId | None = None


class BlockAsked(Document):
    """A base melted once and cast into a block: what was weighed in, what came out, its code."""

    request_id: UUID
    waxes: Annotated[list[WaxWeighed], Field(min_length=1, max_length=MOST_PARTS)]
    yield_g: Grams
    code: Annotated[Words, Field(max_length=40)]
    note: Annotated[Words, Field(max_length=500)] = ""


OFF_SHARE = 0.03
"""A block is of its base while no share is further off than this."""


def melt_block(session: Session, now: datetime, base_id: int, version: int | None, asked: BlockAsked) -> int:
    """Keep a block of a base as a lot; its id. Raises Refused where it is not that base, Missing."""
    base = known(session, base_id, version)
    whole = sum(share for _, share in base.waxes)
    weighed = {wax.wax_key: wax.grams for wax in asked.waxes}
    total = sum(weighed.values())
    for n, wax in enumerate(asked.waxes):
        if wax.wax_key not in {known_wax.key for known_wax, _ in base.waxes}:
            raise Refused(f"waxes.{n}.wax_key", f"'{wax.wax_key}' is not in this base", "a wax of it, or a new version")
    for n, (wax_known, share) in enumerate(base.waxes):
        off = weighed.get(wax_known.key, 0.0) / total - share / whole
        if abs(off) > OFF_SHARE:
            raise Refused(
                f"waxes.{n}.grams",
                f"{wax_known.name} is {100 * abs(off):.0f} in 100 {'over' if off > 0 else 'short'}",
                f"about {share / whole * total:.0f} g of {total:.0f} g, or a new version of the base",
            )
    hazards = tuple(dict.fromkeys(key for wax, _ in base.waxes for key in wax.hazards))
    return materials.keep_block(
        session,
        now,
        asked.request_id,
        NewBlock(
            base.version_id,
            f"{base.name}, version {base.version}",
            base.mix.density_g_per_ml,
            hazards,
            tuple(WaxIn(wax.wax_key, wax.grams, wax.lot_id) for wax in asked.waxes),
            asked.yield_g,
            asked.code,
            asked.note,
        ),
    )
