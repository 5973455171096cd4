"""A thermometer in the pot: its lines, and what they mean."""

from __future__ import annotations

import re
from dataclasses import dataclass
from enum import StrEnum

_LINE = re.compile(r"temperature=(?P<degrees>[+-]?\d+(?:\.\d+)?) (?P<unit>[CF])")
"""Our own plain protocol: one line a reading, `temperature=83.4 C`."""

LOWEST_C, HIGHEST_C = -40.0, 400.0


class ThermometerState(StrEnum):
    """What the thermometer says, or what has become of it."""

    READS = "reads"
    GARBAGE = "garbage"
    GONE = "gone"


@dataclass(frozen=True, slots=True)
class ThermometerReading:
    """What the thermometer says now; no temperature where it says none, and why in words."""

    temperature_c: float | None
    state: ThermometerState
    says: str = ""


def read_line(line: str) -> ThermometerReading:
    """One line of a thermometer."""
    found = _LINE.fullmatch(line.strip()[:200])
    if found is None:
        return ThermometerReading(
            None, ThermometerState.GARBAGE, "The thermometer says what cannot be read: look at its settings."
        )
    degrees = float(found["degrees"])
    celsius = (degrees - 32) / 1.8 if found["unit"] == "F" else degrees
    if not LOWEST_C <= celsius <= HIGHEST_C:
        return ThermometerReading(
            None, ThermometerState.GARBAGE, f"{celsius:.0f} °C cannot be the pot: check the probe."
        )
    return ThermometerReading(round(celsius, 1), ThermometerState.READS)


def gone(says: str) -> ThermometerReading:
    """A thermometer that says nothing any more."""
    return ThermometerReading(None, ThermometerState.GONE, says)
