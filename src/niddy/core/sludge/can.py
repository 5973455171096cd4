"""A brush-washing can as its log tells it: what was washed in, what solvent came and went, how it settles."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field, replace
from datetime import date, datetime, timedelta
from enum import StrEnum
from uuid import UUID

from niddy.core import log
from niddy.core.log import Status
from niddy.core.sludge.makeup import Makeup, Washed, added, beside, share_of

GRAMS_PER_WEIGHT = 0.5
"""Dry grams that a washing of weight 1 leaves (assumed, until the studio's own cakes were weighed)."""

WALLS = 0.05
"""What sticks to a can that was emptied and not wiped (assumed)."""

WEEKS_KEPT = 30
MONTHS_KEPT = 60
HEIGHTS_KEPT = 24
OFF_THE_LEDGER = 0.15
"""A can so much heavier than its ledger, as a share of what it holds, got something nobody logged."""


class CanKind(StrEnum):
    """What can happen to a can."""

    WASHING = "washing"
    SOLVENT_IN = "solvent_in"
    POUR_OFF = "pour_off"
    SLUDGE_OUT = "sludge_out"
    HEIGHT = "height"
    WEIGHED = "weighed"
    NOTE = "note"
    STRIKE = "strike"
    CLOSE = "close"


class Origin(StrEnum):
    """Where solvent that goes in comes from: a bottle that was bought, or clear solvent poured off before."""

    BOUGHT = "bought"
    RECOVERED = "recovered"


@dataclass(frozen=True, slots=True)
class CanAct:
    """One act as logged. `ml` of `solvent`; `share` of the sludge taken out, `g` what it weighed wet; heights in mm.

    `g_per_weight` is what a washing of weight 1 was known to leave when the act was made.
    """

    id: UUID
    seq: int
    kind: CanKind
    made_at: datetime
    strikes: UUID | None = None
    washed: tuple[Washed, ...] = ()
    unknown: float = 0.0
    beside: dict[str, tuple[str, ...]] = field(default_factory=dict)
    sources: tuple[str, ...] = ()
    solvent: str = ""
    density_g_per_ml: float = 0.0
    ml: float = 0.0
    origin: Origin | None = None
    share: float = 0.0
    wiped: bool = False
    g: float = 0.0
    g_per_weight: float = GRAMS_PER_WEIGHT
    clear_mm: float = 0.0
    total_mm: float = 0.0


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


def fold(acts: Iterable[CanAct]) -> Can:
    """A can from its whole log."""
    return log.fold(acts, Can(), after)


def after(can: Can, act: CanAct) -> Can:
    """A can after one more act that counts."""
    match act.kind:
        case CanKind.WASHING:
            return _washed(can, act)
        case CanKind.SOLVENT_IN:
            return _filled(can, act)
        case CanKind.POUR_OFF:
            return replace(_less(can, act.ml), poured_off_ml=can.poured_off_ml + act.ml, clear_mm=None, level_mm=None)
        case CanKind.SLUDGE_OUT:
            return _emptied(can, act)
        case CanKind.HEIGHT:
            since = act.made_at - can.stirred_at if can.stirred_at else timedelta(0)
            height = Height(max(0.0, since.total_seconds() / 3600), act.clear_mm, act.total_mm)
            heights = (*can.heights, height)[-HEIGHTS_KEPT:]
            return replace(can, heights=heights, level_mm=act.total_mm, clear_mm=act.clear_mm)
        case CanKind.WEIGHED:
            return _weighed(can, act)
        case CanKind.CLOSE:
            return replace(can, status=Status.FINISHED)
    return can


def _stirred(can: Can, act: CanAct) -> Can:
    return replace(can, stirred_at=act.made_at, clear_mm=None)


def _washed(can: Can, act: CanAct) -> Can:
    makeup = beside(added(can.makeup, act.washed, act.unknown, act.sources), act.beside)
    weight = sum(one.weight for one in act.washed) + act.unknown
    weekly = _kept(can.weekly, week_of(act.made_at.date()), weight, WEEKS_KEPT)
    return replace(
        _stirred(can, act), makeup=makeup, washings=can.washings + 1, weekly=weekly,
        unlogged=can.unlogged + bool(act.unknown),
    )  # fmt: skip


def _kept(by: dict[str, float], key: str, more: float, most: int) -> dict[str, float]:
    grown = {**by, key: by.get(key, 0.0) + more}
    return {one: grown[one] for one in sorted(grown)[-most:]}


def _filled(can: Can, act: CanAct) -> Can:
    there = can.liquids.get(act.solvent)
    liquids = {**can.liquids, act.solvent: Liquid((there.ml if there else 0.0) + act.ml, act.density_g_per_ml)}
    filled = replace(_stirred(can, act), liquids=liquids, level_mm=None)
    if act.origin is Origin.RECOVERED:
        monthly = _kept(can.monthly, act.made_at.strftime("%Y-%m"), act.ml, MONTHS_KEPT)
        return replace(filled, recovered_ml=can.recovered_ml + act.ml, monthly=monthly)
    return replace(filled, bought_ml=can.bought_ml + act.ml)


def _less(can: Can, ml: float) -> Can:
    """A can with so much less liquid, of each solvent its share."""
    held = can.held_ml
    if held <= 0 or ml <= 0:
        return can
    left = max(0.0, 1 - ml / held)
    liquids = {key: replace(liquid, ml=liquid.ml * left) for key, liquid in can.liquids.items()}
    return replace(can, liquids=liquids if left > 0 else {})


def _emptied(can: Can, act: CanAct) -> Can:
    solids = can.solids_g(act.g_per_weight) * act.share
    density = can.held_g / can.held_ml if can.held_ml > 0 else 0.0
    liquid = min(can.held_ml, max(0.0, act.g - solids) / density) if density > 0 and act.g > 0 else 0.0
    less = _less(can, liquid)
    clean = act.wiped and act.share >= 1
    makeup = Makeup() if clean else share_of(can.makeup, max(WALLS, 1 - act.share))
    return replace(
        _stirred(less, act), makeup=makeup, with_sludge_ml=can.with_sludge_ml + liquid, level_mm=None
    )  # fmt: skip


def _weighed(can: Can, act: CanAct) -> Can:
    """What the balance says against the ledger: less is lost to the air, much more was never logged."""
    density = can.held_g / can.held_ml if can.held_ml > 0 else 0.0
    weighed = replace(can, weighed_g=act.g)
    if density <= 0:
        return weighed
    off_ml = (can.held_g + can.solids_g(act.g_per_weight) - act.g) / density
    if off_ml >= 0:
        lost = min(off_ml, can.held_ml)
        return replace(_less(weighed, lost), lost_ml=can.lost_ml + lost)
    grown = {key: replace(one, ml=one.ml * (1 - off_ml / can.held_ml)) for key, one in can.liquids.items()}
    return replace(weighed, liquids=grown, found_ml=can.found_ml - off_ml)
