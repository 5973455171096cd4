"""What can happen to a rung of a ladder, as a client sends it: a model for each kind, told apart by `kind`."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum
from typing import Annotated, Literal

from pydantic import Field

from niddy.core.acting import Act
from niddy.core.errors import MIN_VOLUME_ML
from niddy.studio import log
from niddy.studio.additives.designing import Millimetres
from niddy.studio.recorder import Acts


class RungKind(StrEnum):
    """What can happen to a rung: weighed out, mixed and dabbed, and its three readings."""

    WEIGHED = "weighed"
    MIXED = "mixed"
    SPREAD = "spread"
    STRING = "string"
    BLEED = "bleed"


class RungAct(Act):
    """What every act on a rung has."""

    rung: Annotated[int, Field(strict=True, ge=0, le=40)]


class Weighed(RungAct):
    """The rung is weighed out."""

    kind: Literal[RungKind.WEIGHED]


class Mixed(RungAct):
    """The rung is mixed, and a dab of it made."""

    kind: Literal[RungKind.MIXED]


class SpreadRead(RungAct):
    """The rung between two plates: its diameters at right angles; volume, load and plate if not the usual."""

    kind: Literal[RungKind.SPREAD]
    diameters_mm: Annotated[list[Millimetres], Field(max_length=8)]
    volume_ml: Annotated[float, Field(strict=True, ge=MIN_VOLUME_ML, le=1_000)] | None = None
    mass_kg: Annotated[float, Field(strict=True, ge=0.001, le=100)] | None = None
    plate_mm: Millimetres | None = None


class StringRead(RungAct):
    """The length at which the thread broke."""

    kind: Literal[RungKind.STRING]
    length_mm: Millimetres


class BleedRead(RungAct):
    """The width of the halo."""

    kind: Literal[RungKind.BLEED]
    length_mm: Millimetres


class TakenBack(RungAct):
    """The last act `of` a kind on the rung did not happen so."""

    kind: Literal["strike"]
    of: RungKind


AnyRungAct = Annotated[Weighed | Mixed | SpreadRead | StringRead | BleedRead | TakenBack, Field(discriminator="kind")]
"""One tick or reading of a rung, or one taken back."""


@dataclass(frozen=True, slots=True)
class RungFacts:
    """What the record adds to an act on a rung: nothing."""


RUNG_ACTS: Acts[RungAct, RungFacts] = Acts(AnyRungAct, RungFacts)


def last_of_each(entries: Iterable[log.Entry]) -> dict[tuple[int, str], log.Entry]:
    """The acts that count, by rung and kind: a later one takes an earlier one's place, taken back it leaves none."""
    last: dict[tuple[int, str], log.Entry] = {}
    for entry in entries:
        if entry.kind == log.STRIKE:
            last.pop((entry.payload["rung"], entry.payload["of"]), None)
        else:
            last[entry.payload["rung"], entry.kind] = entry
    return last
