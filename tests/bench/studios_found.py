"""What became of made-up makers, as a table."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass, field
from enum import StrEnum
from statistics import median


class Slip(StrEnum):
    """What a maker does wrong once, in the last batch of the year."""

    TEN_TIMES = "ten times"
    UNIT = "unit"
    SPOON = "spoon"
    TARE = "tare"
    POWDER = "powder"


@dataclass
class Found:
    """What became of the makers of one kind."""

    bands: list[bool] = field(default_factory=list)
    later_bands: list[bool] = field(default_factory=list)
    final_bands: list[bool] = field(default_factory=list)
    too_far: list[bool] = field(default_factory=list)
    off_middle: list[float] = field(default_factory=list)
    same_body: list[float] = field(default_factory=list)
    at_entry: dict[Slip, list[bool]] = field(default_factory=lambda: defaultdict(list))
    at_all: dict[Slip, list[bool]] = field(default_factory=lambda: defaultdict(list))
    false_questions: int = 0
    batches: int = 0
    stuck: int = 0

    def row(self, kind: str) -> str:
        """One line of the table."""
        off = "      -"
        if self.off_middle:
            apart = median(abs(value) for value in self.off_middle)
            off = f"{100 * median(self.off_middle):+5.1f} %{100 * apart:5.1f} %"
        near = share([abs(value) <= 0.03 for value in self.same_body])
        false = 100 * self.false_questions / max(1, self.batches)
        return (
            f"{kind:8} {share(self.final_bands)} {share(self.bands)} {share(self.later_bands)} "
            f"{share(self.too_far)} {off} {near} {false:5.1f} % {self.batches:6} {self.stuck:5}"
        )

    def slips_row(self, kind: str) -> str:
        """How often each slip was asked about at its entry, and at all before the finish."""
        return f"{kind:8} " + "  ".join(f"{share(self.at_entry[slip])} {share(self.at_all[slip])}" for slip in Slip)


def share(values: list[bool]) -> str:
    """How many of some are so, in 100."""
    return f"{100 * sum(values) / len(values):4.0f} %" if values else "     -"


HEADING = "makers    final   plan  later too far  middle typical  same  false   batches stuck"
AIMS = "aims     85-95* 85-95* 86-94  <=10 %  <=1.5 %         >75 %  <=3 %          (* nine in ten)"
SLIPS = "slips asked about at the entry, and before the finish: " + ", ".join(Slip)
"""`final`: the band of the final reduced PVC, as this maker sees it; `plan`: of the plan's oil, `later` in the second
and third batch of a lot; `middle`: final oil against the middle of the body, in the median; `typical`: without its
sign."""
