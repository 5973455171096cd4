"""A pH meter in the vessel: its lines, and what they mean."""

from __future__ import annotations

import re
from dataclasses import dataclass
from enum import StrEnum

_LINE = re.compile(r"ph=(?P<ph>\d{1,2}(?:\.\d+)?)")
"""Our own plain protocol: one line a reading, `ph=7.24`."""

HIGHEST = 14.0


class PhMeterState(StrEnum):
    """What the meter says, or what has become of it."""

    READS = "reads"
    GARBAGE = "garbage"
    GONE = "gone"


@dataclass(frozen=True, slots=True)
class PhMeterReading:
    """What the meter says now; no pH where it says none, and why in words."""

    ph: float | None
    state: PhMeterState
    says: str = ""


def read_line(line: str) -> PhMeterReading:
    """One line of a pH meter."""
    found = _LINE.fullmatch(line.strip()[:200])
    if found is None:
        return PhMeterReading(None, PhMeterState.GARBAGE, "The pH meter says what cannot be read: look at it.")
    ph = float(found["ph"])
    if ph > HIGHEST:
        return PhMeterReading(None, PhMeterState.GARBAGE, f"pH {ph:g} cannot be right: check the electrode.")
    return PhMeterReading(round(ph, 2), PhMeterState.READS)


def gone(says: str) -> PhMeterReading:
    """A meter that says nothing any more."""
    return PhMeterReading(None, PhMeterState.GONE, says)
