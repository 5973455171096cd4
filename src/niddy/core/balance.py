"""A bench balance: its lines read by a pattern, and what they mean while something is weighed."""

from __future__ import annotations

import math
from collections import deque
from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum
from typing import Protocol

from niddy.core.errors import MAX_MASS_G
from niddy.core.measures import GRAMS_PER_OUNCE

PLAIN_PATTERN = (
    r"weight=(?:(?P<over>over)|(?P<weight>[+-]?\d+(?:\.\d+)?) (?P<unit>[a-z]+)); "
    r"(?:(?P<steady>steady)|(?P<moving>moving)|full)"
)
"""Our own plain protocol: one line a reading, `weight=12.34 g; steady`, `...; moving`, or `weight=over; full`."""

PLAIN_TARE = "tare"
"""What our own plain protocol takes to set the pan to zero: this word and a line end."""

LINE_LIMIT = 200
PATTERN_LIMIT = 400
GRAMS_PER = {"g": 1.0, "kg": 1000.0, "mg": 0.001, "oz": GRAMS_PER_OUNCE}

SAME_READINGS = 4
"""Where a balance does not say that it is steady, so many readings within `SAME_G` say it (assumed)."""

SAME_G = 0.02
JUMP_G = 50.0
"""A change between two readings that no pour makes: something was set down or taken off (assumed)."""

TARE_WITHIN_G = 0.05
"""So near to zero a balance has to settle for its tare to have taken (assumed)."""


class BalanceState(StrEnum):
    """What the balance says, or what has become of it."""

    STEADY = "steady"
    MOVING = "moving"
    OVERLOAD = "overload"
    GARBAGE = "garbage"
    WRONG_UNIT = "wrong_unit"
    GONE = "gone"


@dataclass(frozen=True, slots=True)
class BalanceReading:
    """One reading in g; `weight_g` is None where the line gave none. `jumped_g` is a change no pour makes."""

    state: BalanceState
    weight_g: float | None
    says: str = ""
    jumped_g: float | None = None


class Found(Protocol):
    """What a pattern found in a line."""

    def groupdict(self) -> dict[str, str | None]:
        """The named parts."""


class LinePattern(Protocol):
    """The pattern of a balance's lines, from whichever engine; one of its groups is named `weight`."""

    @property
    def groupindex(self) -> Mapping[str, int]:
        """The names of its groups."""

    def search(self, line: str) -> Found | None:
        """The first place in a line that fits."""


@dataclass(slots=True)
class Scales:
    """Reads one balance's lines in order. `unit` is what is meant where a line names none."""

    pattern: LinePattern
    unit: str = "g"
    _recent: deque[float] = field(default_factory=lambda: deque(maxlen=SAME_READINGS))
    _last_g: float | None = None
    _wrong_unit: str = ""

    def read(self, line: str) -> BalanceReading:
        """What one line says. A line that is not understood is named, never guessed at."""
        found = self.pattern.search(line.strip()) if len(line) <= LINE_LIMIT else None
        groups = found.groupdict() if found else {}
        if groups.get("over"):
            self._recent.clear()
            return BalanceReading(BalanceState.OVERLOAD, None, "Overloaded: take something off the pan.")
        if found is None or not groups.get("weight"):
            shown = line.strip()[:40]
            return BalanceReading(
                BalanceState.GARBAGE, None, f"Not understood: '{shown}'. Look at the balance's pattern in Workshop."
            )
        unit = (groups.get("unit") or self.unit).lower()
        if unit not in GRAMS_PER:
            return BalanceReading(
                BalanceState.WRONG_UNIT, None, f"The balance shows '{unit}': set it to g, kg, mg or oz."
            )
        try:
            weight_g = float((groups["weight"] or "").replace(",", ".").replace(" ", "")) * GRAMS_PER[unit]
        except ValueError:
            weight_g = math.nan
        if not abs(weight_g) <= MAX_MASS_G:
            return BalanceReading(BalanceState.GARBAGE, None, f"'{(groups['weight'] or '')[:40]}' is not a weight.")
        jump = None
        if self._last_g is not None and abs(weight_g - self._last_g) > JUMP_G:
            jump = weight_g - self._last_g
            self._recent.clear()
        self._last_g = weight_g
        self._recent.append(weight_g)
        steady = self._steady(groups)
        says = (
            f"Jumped by {jump:+.1f} g: if nothing that heavy was poured, weigh again."
            if jump is not None
            else ""
            if steady
            else "Settling."
        )
        return BalanceReading(BalanceState.STEADY if steady else BalanceState.MOVING, weight_g, says, jump)

    def gone(self, why: str) -> BalanceReading:
        """What to say while no line comes."""
        self._recent.clear()
        self._last_g = None
        return BalanceReading(BalanceState.GONE, None, why)

    def _steady(self, groups: dict[str, str | None]) -> bool:
        if groups.get("steady"):
            return True
        if groups.get("moving") or {"steady", "moving"} & set(self.pattern.groupindex):
            return False
        full = len(self._recent) == SAME_READINGS
        return full and max(self._recent) - min(self._recent) <= SAME_G


def tare_says(reading: BalanceReading) -> str:
    """Empty where the tare took; else what is wrong, in words."""
    if reading.weight_g is None:
        return reading.says
    if reading.state is not BalanceState.STEADY:
        return "The pan did not come to rest: shield it from draughts, and tare again."
    if abs(reading.weight_g) > TARE_WITHIN_G:
        return f"The tare did not take: it still shows {reading.weight_g:.2f} g. Tare on the balance itself."
    return ""
