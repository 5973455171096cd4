"""Jars nobody can name."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated
from uuid import UUID

from pydantic import Field
from sqlalchemy.orm import Session

from niddy.core.errors import Refused, within
from niddy.studio.amounts import Grams, Millilitres
from niddy.studio.documents import Document
from niddy.studio.shelf.items import ItemKind, NewItem, Text
from niddy.studio.shelf.putting import put
from niddy.studio.words import Words


class FoundAsked(Document):
    """A jar nobody can name: what it looks like, what it weighs if that is known, and where it stands."""

    id: UUID
    kind: ItemKind = ItemKind.JAR
    container: Annotated[Words, Field(min_length=1, max_length=80)] = "jar"
    srgb: Annotated[str, Field(pattern="^#[0-9a-fA-F]{6}$")]
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
    return put(
        session, now,
        NewItem(asked.id, asked.kind, "Unknown paint", asked.srgb.lower(), asked.container, asked.volume_ml,
                now.date(), density_g_per_ml=density, gross_g=asked.gross_g, tare_g=asked.tare_g, place=asked.place,
                note=asked.note, unknown_hazard=True),
    )  # fmt: skip
