"""A can as its screen shows it: how it stands, how it settles, what is in its sludge, its ledger."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from decimal import Decimal

from sqlalchemy.orm import Session

from niddy.core import sludge as core
from niddy.core.cautions import DEFERENCE, Caution, cautions_for
from niddy.core.cost import CENT
from niddy.core.entry import Entry
from niddy.core.estimate import Basis, Estimate
from niddy.core.figure import Figure, Input, Working
from niddy.core.log import Status
from niddy.core.materials import Solvent
from niddy.core.sludge import Method
from niddy.studio import batches, log, shelf, workshop
from niddy.studio.batches import Search
from niddy.studio.recorder import LogLine, log_lines
from niddy.studio.sludge.cakes import CakeGuess, guess
from niddy.studio.sludge.cans import CANS, CanKept, can
from niddy.studio.sludge.enough import Enough, enough_of
from niddy.studio.sludge.entries import can_entries
from niddy.studio.sludge.pace import g_per_weight

SHOWN = 24
OFFERED = 7
SLUDGE_HEIGHT = 0.22
"""Where nobody read a height yet, the sediment is drawn so high (a drawing, not a figure)."""


@dataclass(frozen=True, slots=True)
class Offered:
    """A paint that may have been on the brush: a batch at the slab, or a tube or jar of the shelf."""

    batch_number: int | None
    item_id: int | None
    name: str
    says: str
    masstone_srgb: str


@dataclass(frozen=True, slots=True)
class Settled:
    """How far a can has cleared by now: shares of its height, and when it will be clear enough to pour."""

    clear_now: float
    clear_in_the_end: float
    clear_at: datetime | None
    clear_low: datetime | None
    clear_high: datetime | None
    ready: bool
    readings: int
    basis: Basis
    says: str


@dataclass(frozen=True, slots=True)
class Ledger:
    """What came and went, in ml; `saved` is what recovered solvent would have cost, `times_used` the mean."""

    bought_ml: float
    recovered_ml: float
    poured_off_ml: float
    waiting_ml: float
    held_ml: float
    with_sludge_ml: float
    lost_ml: float
    found_ml: float
    times_used: float | None
    saved: Decimal | None
    currency: str


@dataclass(frozen=True, slots=True)
class CanView:
    """All that a can's screen shows."""

    number: int
    name: str
    place: str
    status: Status
    now: datetime
    solvent: Solvent
    solvents: tuple[str, ...]
    tare_g: float | None
    holds_ml: float | None
    price_per_l: Decimal | None
    washings: int
    unlogged: int
    level: float
    stirred_at: datetime | None
    settled: Settled
    ledger: Ledger
    solids: Figure | None
    cake: CakeGuess | None
    enough: Enough | None
    cautions: tuple[Caution, ...]
    deference: str
    offered: tuple[Offered, ...]
    timeline: tuple[LogLine, ...]
    earlier: int
    entries: tuple[Entry, ...]


def view(session: Session, now: datetime, number: int) -> CanView:
    """A can as it is. Raises Missing."""
    return view_of(session, now, can(session, number))


def view_of(session: Session, now: datetime, kept: CanKept) -> CanView:
    """The view of a can that was read already."""
    state = kept.can
    leaves = g_per_weight(session)
    entries = log.entries(session, kept.job_id, SHOWN)
    materials = [(kept.solvent.name, kept.solvent.hazards), *state.makeup.by_material]
    return CanView(
        kept.number,
        kept.name,
        kept.place,
        state.status,
        now,
        kept.solvent,
        tuple(state.solvents),
        kept.tare_g,
        kept.holds_ml,
        kept.price_per_l,
        state.washings,
        state.unlogged,
        _level(kept),
        state.stirred_at,
        settled(kept, now),
        ledger_of(kept, workshop.settings(session).currency),
        _solids(kept, leaves) if state.makeup.weight > 0 else None,
        guess(state.makeup, _method(kept)) if state.makeup.weight > 0 else None,
        enough_of(session, now, kept) if state.makeup.weight > 0 else None,
        cautions_for([*materials, ("Paper and rags", ("oily-rags",))]),
        DEFERENCE,
        offered(session, now),
        tuple(reversed(log_lines(CANS, kept, entries))),
        entries[0].seq - 1 if entries else 0,
        can_entries(kept),
    )


def _method(kept: CanKept) -> Method:
    return Method.EVAPORATE if kept.solvent.evaporates else Method.DRAIN


def _level(kept: CanKept) -> float:
    """How full it is drawn, 0 to 1."""
    if kept.holds_ml:
        return min(1.0, max(0.04, kept.can.held_ml / kept.holds_ml))
    return 0.7 if kept.can.held_ml > 0 else 0.08


def settled(kept: CanKept, now: datetime) -> Settled:
    """How far a can has cleared by now, and when it is clear enough to pour."""
    state = kept.can
    gone = max(0.0, (now - state.stirred_at).total_seconds() / 3600) if state.stirred_at is not None else 0.0
    found = core.settling(state.heights, gone)
    hours = found.hours_to_clear
    if state.stirred_at is None or state.held_ml <= 0:
        return Settled(0.0, found.clear_share.median, None, None, None, False, found.readings, hours.basis, "")
    at = [state.stirred_at + timedelta(hours=one or hours.median) for one in (hours.median, hours.low, hours.high)]
    ready = now >= at[0]
    clear = found.clear_now.median
    if state.clear_mm is not None and state.level_mm:
        clear = max(clear, state.clear_mm / state.level_mm)
    basis = "by what you read of this can" if found.readings else "assumed until you read its height once or twice"
    says = f"Clear enough to pour, {basis}." if ready else f"Still settling, {basis}."
    return Settled(clear, found.clear_share.median, at[0], at[1], at[2], ready, found.readings, hours.basis, says)


def ledger_of(kept: CanKept, currency: str) -> Ledger:
    """What came and went."""
    state = kept.can
    saved = None
    if kept.price_per_l is not None:
        saved = (kept.price_per_l * Decimal(f"{state.recovered_ml / 1000:.6f}")).quantize(CENT)
    return Ledger(
        state.bought_ml,
        state.recovered_ml,
        state.poured_off_ml,
        state.clear_ml,
        state.held_ml,
        state.with_sludge_ml,
        state.lost_ml,
        state.found_ml,
        state.times_used,
        saved,
        currency,
    )


def _solids(kept: CanKept, leaves: float) -> Figure:
    state = kept.can
    estimate = Estimate.plus_minus(state.solids_g(leaves), 0.6, Basis.ASSUMED)
    return Figure.of(
        "Dry sludge in it",
        estimate,
        "g",
        0,
        Working(
            "weights of all washings x grams each leaves",
            (
                Input("weights: 1 a little, 2 a brushful, 4 a palette's worth", state.makeup.weight),
                Input(
                    "grams for each", leaves, "g", Basis.LEARNED if leaves != core.GRAMS_PER_WEIGHT else Basis.ASSUMED
                ),
            ),
            "assumed until three of your cakes were weighed",
        ),
    )


def offered(session: Session, now: datetime) -> tuple[Offered, ...]:
    """What may be on the brush now: the open batches, then what was opened or filled last; each colour once."""
    found: dict[str, Offered] = {}
    for line in batches.search(session, Search(status=Status.OPEN, limit=OFFERED)).batches:
        says = f"batch {line.number}, at the slab"
        found.setdefault(line.name, Offered(line.number, None, line.name, says, line.masstone_srgb))
    for item in shelf.newest(session, now, 2 * OFFERED):
        says = f"{item.code}, {item.container}"
        found.setdefault(item.name, Offered(None, item.id, item.name, says, item.masstone_srgb))
    return tuple(found.values())[:OFFERED]
