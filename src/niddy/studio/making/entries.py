"""What is asked to make an act in a run."""

from __future__ import annotations

from collections.abc import Iterable

from niddy.core.asked import Option
from niddy.core.entry import Answer, Entry, entry, units_for
from niddy.core.log import Status
from niddy.core.making import StepKind
from niddy.core.making.acts import (
    ColourSeen,
    HeatedBy,
    PhRead,
    PlateWeighed,
    RunFinished,
    RunGivenUp,
    RunNote,
    StepDone,
    WarmthRead,
    WashDone,
    WeighedIn,
)
from niddy.core.making.wasting import WasteOut
from niddy.core.measures import Family, Unit, UnitKnown
from niddy.studio.making.parts import DrySeen, HeatSeen, PhChoice, StepSeen, WashSeen, WeighSeen
from niddy.studio.making.runs import RunKept
from niddy.studio.making.waste import WasteSeen

FIRST_COLOUR = "#6a8f7a"


def run_entries(
    kept: RunKept,
    weigh: Iterable[WeighSeen],
    steps: Iterable[StepSeen],
    strip: Iterable[PhChoice],
    wash: WashSeen | None,
    dry: DrySeen | None,
    heat: HeatSeen | None,
    waste: WasteSeen,
    units: Iterable[UnitKnown],
    *,
    scale: bool,
) -> tuple[Entry, ...]:
    """What a run's screen asks: as long as it is open, and of its powder afterwards."""
    holds = f"It may hold {', '.join(waste.holds)}. A closed, named canister; licensed disposal." if waste.holds else ""
    after = (
        entry(WasteOut, "Into the waste book", values={"ml": round(waste.open_ml) or None}, caution=holds),
        entry(ColourSeen, "How it looks now", values={"srgb": FIRST_COLOUR}),
        entry(RunNote, "A note"),
    )
    if kept.status is not Status.OPEN:
        return after
    offered = tuple(units)
    last = dry.readings[-1].g if dry is not None and dry.readings else None
    return (
        *(_weighed_in(one, offered) for one in weigh),
        *(_step(one) for one in steps),
        *(_heated(one, heat, last) for one in steps if one.kind is StepKind.HEAT),
        entry(PhRead, "pH", choices={"ph": tuple(Option(one.ph, f"{one.ph:g}", marked=one.inside) for one in strip)}),
        entry(WarmthRead, "How warm it is"),
        entry(WashDone, "One wash", values={"ml": round(wash.ml) if wash is not None and wash.ml else None}),
        entry(
            PlateWeighed,
            "On the balance while it dries",
            values={"tare_g": dry.tare_g if dry is not None else None},
            answers=(Answer("Yes, that is what it weighs", "weighed", {"anyway": True}),),
        ),
        entry(
            RunFinished,
            "All there is, dry",
            choices={} if scale else {"measure": units_for(offered, first=_spoon(offered))},
            without=("measure",) if scale else ("g",),
            answers=(Answer("Keep it all the same", "finish", {"anyway": True}),),
        ),
        entry(RunGivenUp, "Give it up"),
        *after,
    )


def _spoon(units: Iterable[UnitKnown]) -> Unit | None:
    """The largest spoon at hand."""
    return next((one.unit for one in units if one.family is Family.SPOON and not one.rare), None)


def _weighed_in(one: WeighSeen, known: tuple[UnitKnown, ...]) -> Entry:
    value, first = round(one.left_g, 2) or None, None
    if one.told is not None and not one.told.parts and not one.some:
        # As it was told, so it is asked.
        value, first = one.told.amount, one.told.unit
    units = units_for(known, liquid=one.liquid, first=first)
    lots = tuple(
        Option(lot.lot_id, f"{lot.code}, {lot.left_g:.0f} g", caution=_suspect(lot.code, lot.suspect))
        for lot in one.offered
    )
    planned = f"{one.g:.{2 if one.g < 10 else 1}f} g"
    spoon = f"; {one.spoon_says}" if one.spoon_says else ""
    return entry(
        WeighedIn,
        f"{one.name} in",
        sends={"ingredient": one.key},
        without=() if lots else ("lot_id",),
        values={"measure": value, "lot_id": one.lot_id},
        choices={"measure": units, "lot_id": lots if one.lot_id else (Option(None, "no lot of the stock"), *lots)},
        key=f"added:{one.key}",
        says="Some: as it seems right" if one.some else f"Planned {planned}{spoon}",
    )


def _suspect(code: str, why: str) -> str:
    return f"Lot {code} is under suspicion: {why}" if why else ""


def _heated(one: StepSeen, heat: HeatSeen | None, last_g: float | None) -> Entry:
    before = heat.before_g if heat is not None and heat.before_g else last_g
    return entry(HeatedBy, "Heated", sends={"step": one.key}, key=f"heated:{one.key}", values={"before_g": before})


def _step(one: StepSeen) -> Entry:
    timed = one.minutes or one.kind in (StepKind.HOLD, StepKind.SETTLE)
    turn = Answer("Stop the clock", "rest", {}, ()) if one.running else Answer("Start the clock", "hold", {}, ())
    return entry(
        StepDone,
        one.says,
        "It is done",
        sends={"step": one.key},
        key=f"step:{one.key}",
        says=f"Good: {one.good}" if one.good else "",
        beside=(Answer("Leave it out", "skip", {}), *((turn,) if timed else ())),
    )
