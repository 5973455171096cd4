"""Jars nobody can name."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Literal
from uuid import UUID

from pydantic import Field
from sqlalchemy.orm import Session

from niddy.core.amounts import Grams, Millilitres
from niddy.core.colorimetry import Lab, srgb_of
from niddy.core.documents import Document
from niddy.core.errors import Refused, within
from niddy.core.words import Words
from niddy.studio import paints
from niddy.studio.shelf.items import ItemKind, NewItem, Text
from niddy.studio.shelf.putting import put

Axis = Annotated[float, Field(strict=True, ge=-128, le=128)]


class FoundAsked(Document):
    """A jar nobody can name: what it looks like, what it weighs if that is known, and where it stands.

    Half known, it has a `name` as it was read, a date when it was `dated` so, and somebody it may be from. `lab` is its
    colour where a reader read it.
    """

    id: UUID
    kind: ItemKind = ItemKind.JAR
    container: Annotated[Words, Field(min_length=1, max_length=80)] = "jar"
    srgb: Annotated[str, Field(pattern="^#[0-9a-fA-F]{6}$")]
    lab: Annotated[list[Axis], Field(min_length=3, max_length=3)] | None = None
    name: Annotated[Words, Field(max_length=80)] = ""
    dated: Literal["", "made", "bought", "guessed"] = ""
    on: date | None = None
    from_whom: Annotated[Words, Field(max_length=80)] = ""
    volume_ml: Millilitres
    gross_g: Grams | None = None
    tare_g: Annotated[float, Field(strict=True, ge=0, le=20_000)] | None = None
    place: Annotated[Words, Field(max_length=80)] = ""
    note: Text = ""


def find(session: Session, now: datetime, asked: FoundAsked) -> int:
    """Put a found jar on the shelf, an unknown hazard until it is matched; its id. Raises Refused."""
    density = None
    if asked.gross_g is not None:
        if asked.tare_g is None:
            raise Refused("tare_g", "missing", "what the empty jar weighs, in g")
        if asked.gross_g <= asked.tare_g:
            raise Refused("gross_g", f"not above the tare of {asked.tare_g:g} g", f"more than {asked.tare_g:g} g")
        density = (asked.gross_g - asked.tare_g) / asked.volume_ml
        within("gross_g", density, 0.7, 8, "g/ml of paint")
    name = asked.name.strip()
    if asked.on is not None and asked.on > now.date():
        raise Refused("on", f"{asked.on} is still to come", f"up to {now.date()}")
    if asked.lab is not None:
        within("lab.0", asked.lab[0], 0, 100)
    srgb = srgb_of(Lab(*asked.lab)) if asked.lab is not None else asked.srgb.lower()
    dated = f"{asked.dated or 'guessed'} {asked.on}" if asked.on is not None else ""
    note = "; ".join(
        part
        for part in (
            dated,
            f"may be from {asked.from_whom.strip()}" if asked.from_whom.strip() else "",
            asked.note.strip(),
        )
        if part
    )[:500]
    found = put(
        session,
        now,
        NewItem(
            asked.id,
            asked.kind,
            f"{name}?" if name else "Unknown paint",
            srgb,
            asked.container,
            asked.volume_ml,
            asked.on or now.date(),
            density_g_per_ml=density,
            gross_g=asked.gross_g,
            tare_g=asked.tare_g,
            place=asked.place,
            note=note,
            unknown_hazard=True,
            colour_read=asked.lab is not None,
        ),
    )
    if asked.lab is not None:
        paints.read_item(session, now, found, Lab(*asked.lab))
    return found
