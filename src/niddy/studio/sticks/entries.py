"""What is asked to make an act at the pot."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from niddy.core.asked import Option
from niddy.core.contents import Role
from niddy.core.entry import Answer, Entry, entry, units_for
from niddy.core.log import Status
from niddy.core.measures import UnitKnown
from niddy.core.sticks import FLAW_WORDS, Flaw, PotAdvice
from niddy.core.sticks.acts import (
    BaseIn,
    Out,
    PasteIn,
    PigmentIn,
    PotAbandon,
    PotFinish,
    PotNote,
    PotOilIn,
    Poured,
    ReadTemperature,
)
from niddy.core.sticks.pot_act import PotAct
from niddy.core.sticks.trying import FlawSeen
from niddy.core.telling import Told
from niddy.studio.sticks.kept import PotKept


@dataclass(frozen=True, slots=True)
class InPot:
    """One material of a pot: how much is in, how much was planned, what the shelf still holds."""

    source: str
    role: Role
    name: str
    code: str
    in_g: float
    planned_g: float
    on_hand_g: float | None


LEAST_TO_GO_G = 0.05
"""What is left of a material and is less than this is not told as left."""

INTO: dict[Role, type[PotAct]] = {Role.WAX: BaseIn, Role.OIL: PotOilIn, Role.PIGMENT: PigmentIn}


def pot_entries(
    kept: PotKept, there: Iterable[InPot], advice: PotAdvice, units: Iterable[UnitKnown], told: Mapping[str, Told]
) -> tuple[Entry, ...]:
    """What a pot's screen asks: as long as it is open, and of its sticks afterwards."""
    seen = kept.pot.flaws
    after = (
        entry(
            FlawSeen,
            "What is wrong with them?",
            choices={
                "flaw": tuple(
                    Option(flaw.value, FLAW_WORDS[flaw][0], detail=FLAW_WORDS[flaw][1], off=flaw in seen)
                    for flaw in Flaw
                )
            },
        ),
        entry(PotNote, "A note"),
    )
    if kept.status is not Status.OPEN:
        return after
    offered = tuple(units)
    cooling = kept.pot.poured_at is not None
    return (
        *(_into(material, advice, offered, told.get(material.source)) for material in there if material.role in INTO),
        entry(
            ReadTemperature,
            "What does the thermometer say?",
            values={"temperature_c": kept.pot.temperature_c and round(kept.pot.temperature_c)},
            beside=(Answer("A skin is on it now", "skin", {}),) if cooling else (),
        ),
        entry(Poured, "Poured", "Poured"),
        entry(Out, "Out of the moulds", values={"count": kept.planned.plan.sticks}),
        entry(PasteIn, "Paste of an earlier batch, or an old stick, into the pot", "It is in"),
        entry(PotFinish, "Where do they go?", "Onto the shelf"),
        entry(PotAbandon, "Give this pot up?", "Give it up"),
        *after,
    )


def _into(material: InPot, advice: PotAdvice, units: tuple[UnitKnown, ...], told: Told | None) -> Entry:
    advised = advice.source == material.source and advice.act in ("base", "oil", "pigment")
    left_g = material.planned_g - material.in_g
    to_go = f", {left_g:.1f} g to go" if left_g >= LEAST_TO_GO_G else ""
    liquid = material.role is Role.OIL
    wanted_g = advice.grams if advised else None
    value, first = round(wanted_g, 1) if wanted_g is not None else None, None
    if told is not None and advised and not told.parts:
        # As it was told, so it is asked: in the maker's own spoon first.
        value, first = told.amount, told.unit
    grated = "Grated wax, level spoons. " if material.role is Role.WAX and told is not None else ""
    return entry(
        INTO[material.role],
        "Into the pot",
        "It is in",
        sends={"source": material.source},
        choices={"measure": units_for(units, liquid=liquid, first=first)},
        values={"measure": value},
        key=f"amount:{material.source}",
        group="amount",
        name=f"{material.name}{to_go}",
        says=f"{grated}{told.words}, about {told.grams:.1f} g" if told is not None and advised else "",
        wanted_g=wanted_g,
        caution="Mask on. Powder low into the pot, never tipped over the heat."
        if material.role is Role.PIGMENT
        else "",
    )
