"""A dish as its screen shows it: the curve that narrows, what is still in it, when it may be tubed, its cake."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from sqlalchemy.orm import Session

from niddy.core import sludge as core
from niddy.core.cautions import DEFERENCE, Caution, cautions_for
from niddy.core.entry import Entry
from niddy.core.estimate import Basis, Estimate
from niddy.core.figure import Figure, Input, Working
from niddy.core.log import Status
from niddy.core.materials import Solvent
from niddy.core.sludge import TUBING_RESIDUAL, Curve, Method
from niddy.studio import workshop
from niddy.studio.recorder import LogLine, log_lines
from niddy.studio.sludge.cakes import CakeGuess, guess
from niddy.studio.sludge.cans import row_of as can_row
from niddy.studio.sludge.dishes import DISHES, DishKept, dish
from niddy.studio.sludge.entries import dish_entries
from niddy.studio.sludge.pace import dish_pace

AFTER_READY, MOST_DRAWN = 1.25, 3.0
LEAST_HOURS = 24.0

METHODS = {Method.SQUEEZE: "squeezed in paper", Method.EVAPORATE: "left to dry", Method.DRAIN: "left to drain"}


@dataclass(frozen=True, slots=True)
class DriedTo:
    """One weighing that counts: hours from the first, g of sludge."""

    hours: float
    g: float
    at: datetime


@dataclass(frozen=True, slots=True)
class DishView:
    """All that a dish's screen shows."""

    number: int
    name: str
    can_number: int
    can_name: str
    place: str
    method: Method
    method_says: str
    solvent: Solvent
    tare_g: float
    status: Status
    now: datetime
    started_at: datetime
    ended_at: datetime | None
    now_g: float | None
    dry: Figure | None
    residual: Figure | None
    ready_hours: Estimate | None
    ready_at: datetime | None
    ready_low: datetime | None
    ready_high: datetime | None
    enough_g: float | None
    target_residual: float
    dry_enough: bool
    constant: bool
    weighings_missing: int
    says: str
    next_says: str
    readings: tuple[DriedTo, ...]
    curve: Curve | None
    strained_um: float | None
    hairs_out: bool
    cake: CakeGuess
    lot_id: int | None
    lot_code: str
    cautions: tuple[Caution, ...]
    deference: str
    timeline: tuple[LogLine, ...]
    entries: tuple[Entry, ...]


def view(session: Session, now: datetime, number: int) -> DishView:
    """A dish as it is. Raises Missing."""
    return view_of(session, now, dish(session, number))


def view_of(session: Session, now: datetime, kept: DishKept) -> DishView:
    """The view of a dish that was read already."""
    found, start = kept.forecast, kept.started_drying
    ready = found.ready_hours if found is not None else None
    at = _ready(start, ready)
    readings = kept.dish.readings()
    enough = core.dry_enough(kept.dish, found)
    gone = (now - start).total_seconds() / 3600 if start is not None else 0.0
    # A far end that is hardly known is not drawn: what was weighed would be a mark at the edge.
    last = readings[-1].hours if readings else 0.0
    soon = min(ready.high, MOST_DRAWN * last) if ready is not None and found and found.down else 0.0
    until = max(LEAST_HOURS, AFTER_READY * soon, gone if kept.ended_at is None else last)
    stocked = kept.stocked
    # What hardly loses any more may still hold solvent back: only what drains is done when it is steady.
    constant = kept.method is Method.DRAIN and _steady(kept)
    by_name = [(kept.solvent.name, kept.solvent.hazards), *kept.makeup.by_material]
    return DishView(
        kept.number,
        kept.name,
        kept.can_number,
        can_row(session, kept.can_number).name,
        kept.place,
        kept.method,
        METHODS[kept.method],
        kept.solvent,
        kept.tare_g,
        kept.status,
        now,
        kept.started_at,
        kept.ended_at,
        readings[-1].g if readings else None,
        _dry(kept),
        _residual(kept),
        ready,
        at[0],
        at[1],
        at[2],
        found.dry_g.median / (1 - TUBING_RESIDUAL) if found is not None else None,
        TUBING_RESIDUAL,
        enough,
        constant,
        found.missing if found is not None else core.LEAST_READINGS,
        *_says(kept, now, enough, constant),
        tuple(DriedTo(one.hours, one.g, start + timedelta(hours=one.hours)) for one in readings)
        if start is not None
        else (),
        core.drawn(kept.dish, min(until, 2_000.0), *dish_pace(session)) if kept.method is Method.EVAPORATE else None,
        kept.dish.strained_um,
        kept.dish.hairs_out,
        guess(kept.makeup, kept.method),
        stocked[1].lot_id if stocked is not None else None,
        stocked[0].code if stocked is not None else "",
        cautions_for([*by_name, ("Paper and rags", ("oily-rags",))]),
        DEFERENCE,
        tuple(reversed(log_lines(DISHES, kept, kept.entries))),
        dish_entries(kept, now, readings[-1].g if readings else None, workshop.units(session), done=enough or constant),
    )


def _ready(start: datetime | None, hours: Estimate | None) -> tuple[datetime | None, datetime | None, datetime | None]:
    """When it may be tubed, and the band of it."""
    if start is None or hours is None:
        return None, None, None
    middle, low, high = (start + timedelta(hours=one) for one in (hours.median, hours.low, hours.high))
    return middle, low, high


def _dry(kept: DishKept) -> Figure | None:
    found = kept.forecast
    if found is None:
        return None
    if found.down is None:
        working = Working(
            "assumed share of what was weighed",
            (Input("sludge, last weighed", kept.dish.weighed[-1].g, "g", Basis.MEASURED),),
            "a weighed dish is forecast from its third weighing on",
        )
    else:
        working = Working(
            "m = dry + (start - dry) s(t): s an exponential, with a slow tail, or a constant rate that falls",
            (
                Input("tau", found.down.tau_h.median, "h", Basis.MEASURED),
                Input("weighings", float(len(kept.dish.readings()))),
            ),
            "all three ways of drying, each by how well it fits",
            "0.1 g or 0.3 % for each weighing, and what they leave open",
        )
    return Figure.of("Dry cake", found.dry_g, "g", 1, working)


def _residual(kept: DishKept) -> Figure | None:
    found, one = kept.forecast, core.liquid_now(kept.dish, kept.forecast)
    if one is None:
        return None
    left = Estimate(100 * one.median, 100 * one.low, 100 * one.high, one.basis)
    what = "Oil that drains" if kept.method is Method.DRAIN else f"{kept.solvent.name} still in it"
    return Figure.of(
        what,
        left,
        "%",
        0,
        Working(
            "(now - dry) / now" if kept.dish.judged is None else "smell, paper and knife, with what was weighed",
            (Input("now", kept.dish.weighed[-1].g, "g", Basis.MEASURED), Input("dry", found.dry_g.median, "g"))
            if found is not None
            else (),
            f"{100 * TUBING_RESIDUAL:.0f} % or less may be tubed (assumed)",
        ),
    )


def _says(kept: DishKept, now: datetime, enough: bool, constant: bool) -> tuple[str, str]:
    """What the dish says of itself, and what to do next."""
    if kept.status is not Status.OPEN:
        return ("It is a lot in stock." if kept.stocked is not None else "Kept for licensed disposal."), ""
    found, judged = kept.forecast, kept.dish.judged
    if judged is not None and judged.may_be_tubed and enough:
        return (
            "Dry enough to tube: no smell, and paper stays dry.",
            "Crush it, pick out the hairs, strain it, and take it into stock.",
        )
    if found is None:
        if judged is not None:
            return (
                "Not dry yet: both are needed, no smell and dry paper.",
                "Leave it in the air and judge it again tomorrow. Tubed now it will shrink and may burst the tube.",
            )
        return (
            "Nobody knows yet how wet it is.",
            "Weigh it now and twice more over two days; without a balance smell it and press paper on it.",
        )
    if kept.method is Method.DRAIN:
        if constant:
            return "Nothing more drains from it.", "Pick out the hairs, strain it, and take it into stock."
        return (
            "It drains; nothing evaporates.",
            "Press it between clean paper, or weigh it a day apart till it is steady.",
        )
    if judged is not None and judged.may_be_tubed and not enough:
        return (
            "Nose and paper say dry; the balance says not yet.",
            "Weigh it once more tomorrow. A cold room hides the smell.",
        )
    if enough or constant:
        return "Dry enough to tube.", "Crush it, pick out the hairs, strain it, and take it into stock."
    left = found.residual_now
    still = f"About {100 * left.median:.0f} in 100 of it are still {kept.solvent.name.lower()}"
    if found.missing:
        more = "one more weighing" if found.missing == 1 else f"{found.missing} more weighings"
        return f"{still} (assumed).", f"A forecast needs {more}, some hours apart."
    if kept.method is Method.SQUEEZE:
        return (
            f"{still} after squeezing (assumed).",
            "Leave it to dry and weigh it, or take it as wet sludge. Tubed wet, paint shrinks, stinks and bursts its "
            "tube.",
        )
    return f"{still}. Tube it now and it will shrink and may burst the tube.", _when(kept, now)


def _when(kept: DishKept, now: datetime) -> str:
    """When it may be dry enough, and the weighing that would tell most."""
    found, start = kept.forecast, kept.started_drying
    if found is None or found.down is None or start is None or found.ready_hours is None:
        return "Dry enough later. Weigh it now and then."
    soon, late = (start + timedelta(hours=one) for one in (found.ready_hours.low, found.ready_hours.high))
    again = start + timedelta(hours=found.down.weigh_again_h)
    weigh = "Weigh it again now." if again <= now + timedelta(hours=12) else f"Weigh it again on {again:%A}."
    if late < now:
        return f"It should be dry enough by now. {weigh}"
    if (late - soon).days < 1:
        return f"Dry enough about {late:%-d %B}. {weigh}"
    since = f"between {max(soon, now):%-d %B}" if soon > now else "between now"
    return f"Dry enough {since} and {late:%-d %B}. {weigh}"


def _steady(kept: DishKept) -> bool:
    """Two weighings a day apart that agree."""
    weighed = kept.dish.weighed
    if len(weighed) < 2:
        return False
    last = weighed[-1]
    before = [one for one in weighed if one.at <= last.at - timedelta(days=1)]
    return bool(before) and abs(last.g / before[-1].g - 1) <= 0.005
