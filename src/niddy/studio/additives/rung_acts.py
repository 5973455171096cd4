"""What can happen to a rung of a ladder, as a client sends it: a model for each kind, told apart by `kind`."""

from __future__ import annotations

from collections.abc import Iterable
from enum import StrEnum
from typing import Annotated, Any, Literal

from pydantic import Field, TypeAdapter

from niddy.core.errors import MIN_VOLUME_ML
from niddy.studio import log
from niddy.studio.acting import Said
from niddy.studio.additives.designing import Millimetres


class RungAct(StrEnum):
    """What can happen to a rung: weighed out, mixed and dabbed, and its three readings."""

    WEIGHED = "weighed"
    MIXED = "mixed"
    SPREAD = "spread"
    STRING = "string"
    BLEED = "bleed"


class OnRung(Said):
    """What every act on a rung has, its id made by the client."""

    rung: Annotated[int, Field(strict=True, ge=0, le=40)]


class Weighed(OnRung):
    """The rung is weighed out."""

    kind: Literal[RungAct.WEIGHED]


class Mixed(OnRung):
    """The rung is mixed, and a dab of it made."""

    kind: Literal[RungAct.MIXED]


class SpreadRead(OnRung):
    """The rung between two plates: its diameters at right angles; volume, load and plate if not the usual."""

    kind: Literal[RungAct.SPREAD]
    diameters_mm: Annotated[list[Millimetres], Field(max_length=8)]
    volume_ml: Annotated[float, Field(strict=True, ge=MIN_VOLUME_ML, le=1_000)] | None = None
    mass_kg: Annotated[float, Field(strict=True, ge=0.001, le=100)] | None = None
    plate_mm: Millimetres | None = None


class StringRead(OnRung):
    """The length at which the thread broke."""

    kind: Literal[RungAct.STRING]
    length_mm: Millimetres


class BleedRead(OnRung):
    """The width of the halo."""

    kind: Literal[RungAct.BLEED]
    length_mm: Millimetres


class TakenBack(OnRung):
    """The last act `of` a kind on the rung did not happen so."""

    kind: Literal["strike"]
    of: RungAct


RungActAsked = Annotated[Weighed | Mixed | SpreadRead | StringRead | BleedRead | TakenBack, Field(discriminator="kind")]
"""One tick or reading of a rung, or one taken back."""


_ACT: TypeAdapter[RungActAsked] = TypeAdapter(RungActAsked)


def rung_act_of(document: dict[str, Any]) -> RungActAsked:
    """An act on a rung from its fields by name. Raises pydantic's ValidationError."""
    return _ACT.validate_python(document)


def payload_of(asked: RungActAsked) -> dict[str, Any]:
    """An act on a rung as it is kept."""
    return asked.model_dump(mode="json", exclude={"id", "made_at", "waited"}, exclude_none=True)


def last_of_each(entries: Iterable[log.Entry]) -> dict[tuple[int, str], log.Entry]:
    """The acts that count, by rung and kind: a later one takes an earlier one's place, taken back it leaves none."""
    last: dict[tuple[int, str], log.Entry] = {}
    for entry in entries:
        if entry.kind == log.STRIKE:
            last.pop((entry.payload["rung"], entry.payload["of"]), None)
        else:
            last[entry.payload["rung"], entry.kind] = entry
    return last
