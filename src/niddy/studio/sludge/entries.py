"""What is asked to make an act on a can or a dish."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import datetime

from niddy.core.asked import Option
from niddy.core.entry import Answer, Entry, entry, units_for
from niddy.core.log import Status
from niddy.core.measures import UnitKnown
from niddy.core.sludge import Origin
from niddy.core.sludge.can_acts import (
    CanClosed,
    CanNote,
    CanWeighed,
    HeightRead,
    PourOff,
    SludgeFound,
    SludgeOut,
    SolventIn,
)
from niddy.core.sludge.dish_acts import (
    DishAdded,
    DishNote,
    DishWeighed,
    DryBySigns,
    Squeezed,
    Strained,
    Thrown,
    ToStock,
)
from niddy.reference import library
from niddy.studio.sludge.cans import CanKept
from niddy.studio.sludge.dishes import DishKept

A_LITTLE_ML = 1.0
"""Solvent that waits in a bottle and is no more than this is not what a can is topped up with."""


def can_entries(kept: CanKept) -> tuple[Entry, ...]:
    """What a can's screen asks."""
    if kept.can.status is not Status.OPEN:
        return ()
    solvents = tuple(Option(one.key, one.name) for one in library().solvents.values())
    origin = Origin.RECOVERED if kept.can.clear_ml > A_LITTLE_ML else Origin.BOUGHT
    return (
        entry(
            SolventIn,
            "Solvent goes in",
            values={"solvent_key": kept.solvent.key, "origin": origin.value},
            choices={"solvent_key": solvents},
            answers=(Answer("Mix them anyway", "solvent_in", {"anyway": True}),),
        ),
        entry(
            PourOff,
            "Clear solvent poured off",
            says="Into a clean closed bottle, named, away from flame. It goes in again next time.",
            answers=(Answer("Yes, there was more in it", "pour_off", {"anyway": True}),),
        ),
        entry(
            SludgeFound,
            "Old sludge that lies in it",
            choices={"sludge_ml": _of_can(kept.holds_ml)},
            says="As it has settled, by its height on the outside.",
        ),
        entry(
            HeightRead,
            "How far has it cleared?",
            says="Hold a ruler to the outside. Two readings a day apart tell how this can settles.",
        ),
        entry(CanWeighed, "The can on the balance", says="What is missing against the ledger went into the air."),
        entry(
            SludgeOut,
            "Sludge thrown out",
            caution="Never into the drain: into a closed tin for licensed disposal. "
            "Oily paper into the water-filled metal can.",
        ),
        entry(CanNote, "A note"),
        entry(
            CanClosed,
            "Put the can out of use",
            "Out of use",
            says="What is in it stays in the ledger; the can is no longer offered.",
        ),
    )


PARTS_OF_CAN = {0.1: "a tenth", 0.25: "a quarter", 1 / 3: "a third", 0.5: "half of the can"}


def _of_can(holds_ml: float | None) -> tuple[Option, ...]:
    if holds_ml is None:
        return ()
    return tuple(Option(round(part * holds_ml, 1), words) for part, words in PARTS_OF_CAN.items())


def _by_signs(kept: DishKept) -> tuple[Entry, ...]:
    """Nothing leaves oil into the air: it has no smell to go by."""
    if not kept.solvent.evaporates:
        return ()
    says = "The window open, no flame; smell it from a hand's breadth, never deep."
    return (entry(DryBySigns, "How dry is it, without a balance?", says=says),)


def dish_entries(
    kept: DishKept, now: datetime, now_g: float | None, units: Iterable[UnitKnown], *, done: bool
) -> tuple[Entry, ...]:
    """What a dish's screen asks; `done` where it is dry enough or does not fall any more."""
    if kept.status is not Status.OPEN:
        return ()
    measured = units_for(units)
    balance = {"g": f"Dish and sludge (the dish weighs {kept.tare_g:.1f} g)"}
    return (
        entry(
            DishWeighed,
            "The dish on the balance",
            labels=balance,
            answers=(
                Answer("Yes, more went in", "added", {}),
                Answer("No, that is what it weighs", "weigh", {"anyway": True}),
            ),
        ),
        entry(DishAdded, "More sludge went in", labels=balance),
        entry(
            Squeezed,
            "Squeezed in paper",
            labels=balance,
            caution="The wet paper can catch fire by itself: into the water-filled metal can with a lid, now.",
        ),
        *_by_signs(kept),
        entry(Strained, "Strained, and the hairs out"),
        entry(
            ToStock,
            "Into stock as a pigment",
            "Into stock",
            values={
                "measure": round(now_g, 1) if now_g is not None else None,
                "code": f"Cake {now.date().isoformat()}",
                "wet": not done,
            },
            choices={"measure": measured},
            caution="Dry cake is dust with all its hazards: mask on, damp wiping, tools of its own.",
            question="Should this become paint at all?",
            answers=(
                Answer("Yes, for my own use, with its hazards on the label", "to_stock", {"anyway": True}),
                Answer("No: keep it for licensed disposal", "throw", {"text": ""}, only=()),
            ),
        ),
        entry(DishNote, "A note"),
        entry(
            Thrown,
            "Not paint: kept for licensed disposal",
            "Keep it for disposal",
            caution="A closed, named tin, away from heat, to licensed disposal. Never the bin, never the drain.",
        ),
    )
