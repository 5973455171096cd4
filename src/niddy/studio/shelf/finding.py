"""What comes to the shelf from half way in: jars nobody can name, jars that will not open, paint that was bought."""

from __future__ import annotations

import re
from datetime import date, datetime
from enum import StrEnum
from typing import Annotated, Literal
from uuid import UUID

from pydantic import Field
from sqlalchemy.orm import Session

from niddy.core.amounts import Grams, Millilitres
from niddy.core.colorimetry import Lab, srgb_of
from niddy.core.documents import Document
from niddy.core.errors import Refused, within
from niddy.core.words import Words
from niddy.reference import library
from niddy.studio import paints
from niddy.studio.shelf.items import ItemKind, NewItem, Text
from niddy.studio.shelf.putting import put

Axis = Annotated[float, Field(strict=True, ge=-128, le=128)]


class FoundAs(StrEnum):
    """What is known of it: nothing for sure, what its label says, or nothing since it will not open."""

    UNKNOWN = "unknown"
    BOUGHT = "bought"
    SHUT = "shut"


class FoundAsked(Document):
    """A jar nobody can name, or paint that was bought: what it looks like, how much there is, where it stands.

    Half known, it has a `name` as it was read, a date when it was `dated` so, or its `year` and perhaps `month` alone,
    and somebody it may be from. `label` is what a bought one says of itself. How much there is: `volume_ml`, or so
    `full` a jar of `jar_ml`. `lab` is its colour where a reader read it.
    """

    id: UUID
    what: FoundAs = FoundAs.UNKNOWN
    kind: ItemKind = ItemKind.JAR
    container: Annotated[Words, Field(min_length=1, max_length=80)] = "jar"
    srgb: Annotated[str, Field(pattern="^#[0-9a-fA-F]{6}$")]
    lab: Annotated[list[Axis], Field(min_length=3, max_length=3)] | None = None
    name: Annotated[Words, Field(max_length=80)] = ""
    label: Annotated[Words, Field(max_length=200)] = ""
    dated: Literal["", "made", "bought", "guessed"] = ""
    on: date | None = None
    year: Annotated[int, Field(strict=True, ge=1900, le=2199)] | None = None
    month: Annotated[int, Field(strict=True, ge=1, le=12)] | None = None
    from_whom: Annotated[Words, Field(max_length=80)] = ""
    volume_ml: Millilitres | None = None
    jar_ml: Millilitres | None = None
    full: Annotated[float, Field(strict=True, gt=0)] | None = None
    gross_g: Grams | None = None
    tare_g: Annotated[float, Field(strict=True, ge=0, le=20_000)] | None = None
    place: Annotated[Words, Field(max_length=80)] = ""
    note: Text = ""


def find(session: Session, now: datetime, asked: FoundAsked) -> int:
    """Put it on the shelf; an unknown hazard until it is matched, unless its label names all of it. Its id.

    Raises Refused.
    """
    volume_ml, density = _volume_ml(asked), None
    if asked.gross_g is not None:
        if asked.tare_g is None:
            raise Refused("tare_g", "missing", "what the empty jar weighs, in g")
        if asked.gross_g <= asked.tare_g:
            raise Refused("gross_g", f"not above the tare of {asked.tare_g:g} g", f"more than {asked.tare_g:g} g")
        density = (asked.gross_g - asked.tare_g) / volume_ml
        within("gross_g", density, 0.7, 8, "g/ml of paint")
    name, label = asked.name.strip(), asked.label.strip()
    bought = asked.what is FoundAs.BOUGHT
    if bought and not name:
        raise Refused("name", "empty", "what its label calls it")
    made_on, dated = _dated(asked, now.date())
    if asked.lab is not None:
        within("lab.0", asked.lab[0], 0, 100)
    srgb = srgb_of(Lab(*asked.lab)) if asked.lab is not None else asked.srgb.lower()
    hazards, named = by_label(label)
    note = "; ".join(
        part
        for part in (
            "bought" if bought else "it will not open" if asked.what is FoundAs.SHUT else "",
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
            name if bought else f"{name}?" if name else "Unknown paint",
            srgb,
            asked.container,
            volume_ml,
            made_on,
            density_g_per_ml=density,
            gross_g=asked.gross_g,
            tare_g=asked.tare_g,
            place=asked.place,
            note=note,
            hazards=tuple(sorted({*hazards, *(OF_OIL_PAINT if bought else ())})),
            label_says=label,
            unknown_hazard=not (bought and named),
            colour_read=asked.lab is not None,
        ),
    )
    if asked.lab is not None:
        paints.read_item(session, now, found, Lab(*asked.lab))
    return found


OF_OIL_PAINT = ("oily-rags",)
"""What every bought oil paint may do, whatever its label says."""

_INDEX = re.compile(r"\b[PN](?:[BGORVWY]|Bk|Br|M)\s?\d{1,4}(?::\d)?\b", re.IGNORECASE)


def by_label(label: str) -> tuple[tuple[str, ...], bool]:
    """The hazards of the pigments whose index a label names; and whether each that it names is known here."""
    named = [found.replace(" ", "").lower() for found in _INDEX.findall(label)]
    known: dict[str, set[str]] = {}
    for pigment in library().pigments.values():
        for index in _INDEX.findall(pigment.ci_name):
            known.setdefault(index.replace(" ", "").lower(), set()).update(pigment.hazards)
    hazards = {key for index in named for key in known.get(index, set())}
    return tuple(sorted(hazards)), bool(named) and all(index in known for index in named)


def _volume_ml(asked: FoundAsked) -> float:
    if asked.volume_ml is not None:
        return asked.volume_ml
    if asked.jar_ml is None or asked.full is None:
        raise Refused("volume_ml", "missing", "a guess by the height, in ml; or a jar and how full it is")
    if asked.full > 1:
        raise Refused("full", f"fuller than full: {asked.full:g}", "up to 1, full to the brim")
    return asked.jar_ml * asked.full


def _dated(asked: FoundAsked, today: date) -> tuple[date, str]:
    """The day it is taken for, and its date as it is known. Raises Refused."""
    if asked.on is not None:
        if asked.on > today:
            raise Refused("on", f"{asked.on} is still to come", f"up to {today}")
        return asked.on, f"{asked.dated or 'guessed'} {asked.on}"
    if asked.year is None:
        return today, ""
    day = date(asked.year, asked.month or 1, 1)
    if day > today:
        raise Refused("year", f"{day:%B %Y} is still to come", f"up to {today.year}")
    said = f"{day:%B %Y}" if asked.month else f"{asked.year}"
    return day, f"{asked.dated or 'dated'} {said}"
