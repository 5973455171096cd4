"""A brush-washing can as it stands: what was washed in, what solvent came and went, how it settles."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from datetime import date, datetime, timedelta
from enum import StrEnum

from niddy.core.log import Status
from niddy.core.sludge.makeup import Makeup, share_of

GRAMS_PER_WEIGHT = 0.5
"""Dry grams that a washing of weight 1 leaves (assumed, until the studio's own cakes were weighed)."""

WALLS = 0.05
"""What sticks to a can that was emptied and not wiped (assumed)."""

WEEKS_KEPT = 30
MONTHS_KEPT = 60
HEIGHTS_KEPT = 24
OFF_THE_LEDGER = 0.15
"""A can so much heavier than its ledger, as a share of what it holds, got something nobody logged."""


class Origin(StrEnum):
    """Where solvent that goes in comes from: a bottle that was bought, or clear solvent poured off before."""

    BOUGHT = "bought"
    RECOVERED = "recovered"


@dataclass(frozen=True, slots=True)
class Height:
    """Clear liquid over sediment, so many hours after the can was last stirred up."""

    hours: float
    clear_mm: float
    total_mm: float


@dataclass(frozen=True, slots=True)
class Liquid:
    """A solvent in a can: ml by the ledger, and its density."""

    ml: float
    density_g_per_ml: float


@dataclass(frozen=True, slots=True)
class Can:
    """A can now. Volumes in ml over its whole life, but for `liquids`, what the ledger says is in it.

    `clear_ml` is what was poured off and not poured back. `weekly` is the weight washed in by the Monday of the week,
    `monthly` the ml poured back by month: both of the last while only. `found_ml` is what weighings found above the
    ledger.
    """

    makeup: Makeup = field(default_factory=Makeup)
    liquids: dict[str, Liquid] = field(default_factory=dict)
    bought_ml: float = 0.0
    recovered_ml: float = 0.0
    poured_off_ml: float = 0.0
    with_sludge_ml: float = 0.0
    lost_ml: float = 0.0
    found_ml: float = 0.0
    washings: int = 0
    unlogged: int = 0
    weekly: dict[str, float] = field(default_factory=dict)
    monthly: dict[str, float] = field(default_factory=dict)
    heights: tuple[Height, ...] = ()
    stirred_at: datetime | None = None
    level_mm: float | None = None
    clear_mm: float | None = None
    weighed_g: float | None = None
    status: Status = Status.OPEN

    @property
    def held_ml(self) -> float:
        """Solvent in it, by the ledger."""
        return sum(liquid.ml for liquid in self.liquids.values())

    @property
    def held_g(self) -> float:
        return sum(liquid.ml * liquid.density_g_per_ml for liquid in self.liquids.values())

    @property
    def clear_ml(self) -> float:
        """Clear solvent that waits to be used again."""
        return max(0.0, self.poured_off_ml - self.recovered_ml)

    @property
    def solvents(self) -> tuple[str, ...]:
        """The solvents in it, what there is most of first."""
        return tuple(sorted(self.liquids, key=lambda key: -self.liquids[key].ml))

    @property
    def times_used(self) -> float | None:
        """How often the same litre was used, in the mean; None before any was bought."""
        return (self.bought_ml + self.recovered_ml) / self.bought_ml if self.bought_ml > 0 else None

    def solids_g(self, g_per_weight: float = GRAMS_PER_WEIGHT) -> float:
        """Dry solids that may lie in it."""
        return self.makeup.weight * g_per_weight


def week_of(day: date) -> str:
    """The Monday of a day's week."""
    return (day - timedelta(days=day.weekday())).isoformat()


def stirred(can: Can, at: datetime) -> Can:
    """The can once something stirred it up."""
    return replace(can, stirred_at=at, clear_mm=None)


def counted(by: dict[str, float], key: str, more: float, most: int) -> dict[str, float]:
    """Sums by week or month with so much more in one of them; the last of them only."""
    grown = {**by, key: by.get(key, 0.0) + more}
    return {one: grown[one] for one in sorted(grown)[-most:]}


def less(can: Can, ml: float) -> Can:
    """A can with so much less liquid, of each solvent its share."""
    held = can.held_ml
    if held <= 0 or ml <= 0:
        return can
    left = max(0.0, 1 - ml / held)
    liquids = {key: replace(liquid, ml=liquid.ml * left) for key, liquid in can.liquids.items()}
    return replace(can, liquids=liquids if left > 0 else {})


OLD_SLUDGE_G_PER_ML = 0.55
"""Dry solids in a ml of settled sludge; 0.3 to 0.9 of 90 in 100 (assumed until a first cake says so)."""

SOLIDS_ML_PER_G = 1 / 3.0
"""What a gram of mixed dry paint takes up in sludge (assumed)."""


def liquid_of(holds_ml: float, full: float, sludge_ml: float) -> float:
    """The liquid of an old can in ml that is so full, with so much settled sludge at its bottom."""
    return max(0.0, holds_ml * full - sludge_ml * OLD_SLUDGE_G_PER_ML * SOLIDS_ML_PER_G)


def surplus(can: Can, key: str, ml: float, density_g_per_ml: float) -> Can:
    """A can with solvent that was never logged and turned out to be in it."""
    there = can.liquids.get(key)
    liquid = Liquid((there.ml if there else 0.0) + ml, density_g_per_ml)
    return replace(can, liquids={**can.liquids, key: liquid}, found_ml=can.found_ml + ml)


def emptied(can: Can, at: datetime, share: float, wet_g: float, g_per_weight: float, *, wiped: bool) -> Can:
    """The can once a share of its sludge is out, which weighed so much wet (0: not weighed)."""
    solids = can.solids_g(g_per_weight) * share
    density = can.held_g / can.held_ml if can.held_ml > 0 else 0.0
    liquid = min(can.held_ml, max(0.0, wet_g - solids) / density) if density > 0 and wet_g > 0 else 0.0
    makeup = Makeup() if wiped and share >= 1 else share_of(can.makeup, max(WALLS, 1 - share))
    left = stirred(less(can, liquid), at)
    return replace(left, makeup=makeup, with_sludge_ml=can.with_sludge_ml + liquid, level_mm=None)


def weighed(can: Can, net_g: float, g_per_weight: float) -> Can:
    """What the balance says against the ledger: less is lost to the air, much more was never logged."""
    density = can.held_g / can.held_ml if can.held_ml > 0 else 0.0
    found = replace(can, weighed_g=net_g)
    if density <= 0:
        return found
    off_ml = (can.held_g + can.solids_g(g_per_weight) - net_g) / density
    if off_ml >= 0:
        lost = min(off_ml, can.held_ml)
        return replace(less(found, lost), lost_ml=can.lost_ml + lost)
    grown = {key: replace(one, ml=one.ml * (1 - off_ml / can.held_ml)) for key, one in can.liquids.items()}
    return replace(found, liquids=grown, found_ml=can.found_ml - off_ml)
