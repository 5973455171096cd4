"""How the fields of an act are asked for: what its declaration says of each beside its type."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

Value = str | int | float | bool | None


class Live(StrEnum):
    """An instrument whose reading a field takes over."""

    BALANCE = "balance"
    THERMOMETER = "thermometer"
    PH_METER = "ph_meter"


class Drawn(StrEnum):
    """How a field is drawn."""

    NUMBER = "number"
    WORDS = "words"
    CHOICE = "choice"
    PICK = "pick"
    CHECK = "check"
    COLOUR = "colour"
    AMOUNT = "amount"
    AT_ONCE = "at_once"


@dataclass(frozen=True, slots=True)
class Option:
    """One of several: what is sent and what it is called. `off` cannot be chosen, `marked` is where it should lie."""

    value: Value
    label: str
    detail: str = ""
    caution: str = ""
    off: bool = False
    marked: bool = False


@dataclass(frozen=True, slots=True)
class Asked:
    """How a field of an act is asked for; stands in its annotation.

    `accepted` says what would do where nothing was given. `or_by` is another field of the act that says the same in
    another unit. `choices` of a number are one tap each, and typing is the other way.
    """

    label: str
    unit: str = ""
    accepted: str = ""
    large: bool = False
    live: Live | None = None
    drawn: Drawn | None = None
    choices: tuple[Option, ...] = ()
    or_by: tuple[str, str] | None = None
    detail: str = ""
