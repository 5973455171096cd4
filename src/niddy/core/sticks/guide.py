"""What to do at the pot now: steps with their windows, what is urgent, and the ways to put the dent right."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from enum import StrEnum
from typing import Literal

from niddy.core.errors import Refused
from niddy.core.log import Status
from niddy.core.steps import Step, Window
from niddy.core.sticks.casting import HIGHEST_C, WATER_BATH_C
from niddy.core.sticks.folding import Pot, PotReading
from niddy.core.sticks.materials import BaseMix, StickOil
from niddy.core.sticks.pot import Correcting, correct, settled_mm

NEAR = {"needle": 0.15, "feel": 0.45}
"""So near the dent wanted, relatively, is right, by how it was read (assumed)."""

LITTLE_LEFT = 0.03
"""So small a share of what was planned is left undone without a word."""

SECOND_POT_FROM = 0.5
"""A correction of more than this share of the pot is better made as a second pot."""


Tapped = Literal["ready", "base", "melted", "oil", "mulled", "pigment", "stir", "drop", "pour", "out", "finish"]
"""The acts that a step's own tap logs."""


class PigmentWay(StrEnum):
    """How pigment goes in: dry over the heat, or mulled into the oil first."""

    DRY = "dry"
    MULLED = "mulled"


@dataclass(frozen=True, slots=True)
class PotPlan:
    """What the pot was planned as. Grams to weigh by source; windows in C; `stick_ml` one stick's volume."""

    base: BaseMix
    oil: StickOil
    base_g: Mapping[str, float]
    oil_g: Mapping[str, float]
    pigment_g: Mapping[str, float]
    way: PigmentWay
    target_dmm: float
    offset_ln: float
    offset_sd_ln: float
    melt_c: float
    pour_low_c: float
    pour_high_c: float
    water_bath: bool
    stick_ml: float
    sticks: int
    cooling_min: float
    sinking: tuple[tuple[float, float], ...]
    """(density in g/ml, size in um) of each pigment."""


@dataclass(frozen=True, slots=True)
class Mend:
    """One way to bring a pot to the dent wanted, with its price; None of grams where only a second pot would."""

    kind: Literal["oil", "base"]
    add_g: float
    says: str
    reduced_pvc_after: float
    volume_after_ml: float
    weaker_pct: float
    sticks_more: float
    second_pot: bool


@dataclass(frozen=True, slots=True)
class PotAdvice:
    """The next thing to do: the step, the act its tap logs, of which material and how much is still to go in.

    `parts` is how much of each where several go in at once: a mulled paste, or more of a base that is melted fresh.
    `urgent` stands above it: too hot, or standing still too long.
    """

    step: Step
    act: Tapped | None
    source: str = ""
    grams: float | None = None
    urgent: str = ""
    mend: Mend | None = None
    parts: Mapping[str, float] = field(default_factory=dict)


def to_go(planned: Mapping[str, float], there: Mapping[str, float]) -> dict[str, float]:
    """What of a plan is still to go in, by source; crumbs left out."""
    return {
        source: grams - there.get(source, 0.0)
        for source, grams in planned.items()
        if grams - there.get(source, 0.0) > LITTLE_LEFT * grams
    }


def hot_words(temperature_c: float | None, plan: PotPlan) -> str:
    """What to do at once where a pot is too hot; empty where it is not."""
    if temperature_c is None or temperature_c <= HIGHEST_C:
        most = 100.0 if plan.water_bath else min(HIGHEST_C, plan.melt_c + 15)
        if temperature_c is not None and temperature_c > most:
            return f"{temperature_c:.0f} °C is hotter than it needs: turn the heat down. {plan.melt_c:.0f} °C melts it."
        return ""
    return (
        f"{temperature_c:.0f} °C: off the heat now. Lid on if it smokes, no water near it. Let it fall below "
        f"{plan.melt_c:.0f} °C; oil this hot darkens and may take fire."
    )


def sunk_mm(pot: Pot, plan: PotPlan, reading: PotReading | None, now: datetime) -> float:
    """How far pigment has sunk since the pot was stirred last."""
    if reading is None or pot.stirred_at is None or pot.poured_at is not None or pot.pigment_g <= 0:
        return 0.0
    minutes = max(0.0, (now - pot.stirred_at).total_seconds() / 60)
    medium = (pot.base_g + pot.oil_g) / max(1e-9, reading.volume_ml * (1 - reading.pvc))
    return max(
        (settled_mm(density, medium, size, min(0.7, reading.pvc), minutes) for density, size in plan.sinking),
        default=0.0,
    )


def mend(pot: Pot, plan: PotPlan, reading: PotReading | None) -> Mend | None:
    """Oil or base that brings the dent of the last drop to the one wanted; None where it is near enough or unread."""
    drop = pot.drop
    if drop is None or reading is None or reading.ln_dent_bare is None:
        return None
    if abs(math.log(plan.target_dmm / drop.dent_dmm)) <= math.log1p(NEAR[drop.by]):
        return None
    powder = pot.powder
    try:
        found = correct(
            pot.pigment_g, pot.base_g, pot.oil_g, powder, plan.base, plan.oil, drop.dent_dmm, plan.target_dmm
        )
    except Refused:
        softer = plan.target_dmm > drop.dent_dmm
        return Mend(
            "oil" if softer else "base",
            0.0,
            "Nothing added to this pot brings it there: make a second pot of "
            "pigment and base, and stir the two together.",
            reading.reduced_pvc,
            reading.volume_ml,
            0.0,
            0.0,
            True,
        )
    if found.direction is Correcting.NONE:
        return None
    weaker = 100 * (1 - reading.volume_ml / found.volume_after_ml) if powder is not None else 0.0
    more = (found.volume_after_ml - reading.volume_ml) / plan.stick_ml
    kind: Literal["oil", "base"] = "oil" if found.direction is Correcting.ADD_OIL else "base"
    second = found.add_g > SECOND_POT_FROM * pot.total_g
    price = f"{more:.1f} sticks more" + (f", the colour {weaker:.0f} % weaker" if powder is not None else "")
    says = (
        f"{found.add_g:.0f} g {kind} would do it, but that is more than half the pot. Better a second pot of pigment "
        "and base, stirred into this one."
        if second
        else f"{found.add_g:.1f} g {kind} more: {price}."
    )
    return Mend(kind, found.add_g, says, found.reduced_pvc_after, found.volume_after_ml, weaker, more, second)


_HOT = "Hot wax burns: thermometer in, lid at hand, no water into it, never left alone."


FRESH = timedelta(minutes=10)
"""So long a temperature is the pot's own (assumed): on a plate it changes by the minute."""


def fresh_c(pot: Pot, now: datetime) -> float | None:
    """The temperature of the pot now, in C; None where none was read of late."""
    if pot.read_at is None or now - pot.read_at > FRESH:
        return None
    return pot.temperature_c


LEFT_AFTER = timedelta(minutes=30)
"""A hot pot whose thermometer nobody read for so long may have been left alone (assumed)."""


def stale_words(pot: Pot, now: datetime) -> str:
    """What is said of a hot pot whose thermometer nobody read for long; empty where that says nothing."""
    if pot.status is not Status.OPEN or pot.temperature_c is None or pot.read_at is None:
        return ""
    minutes = (now - pot.read_at).total_seconds() / 60
    if now - pot.read_at <= LEFT_AFTER:
        return ""
    old = f"{minutes:.0f} minutes" if minutes < 90 else f"{minutes / 60:.0f} hours"
    return f"The last reading, {pot.temperature_c:.0f} °C, is {old} old: read the thermometer before you go on."


def advise(pot: Pot, plan: PotPlan, reading: PotReading | None, now: datetime, names: Mapping[str, str]) -> PotAdvice:
    """What to do next at the pot."""
    urgent = "" if pot.poured_at is not None else hot_words(fresh_c(pot, now), plan)
    sunk = sunk_mm(pot, plan, reading, now)
    if not urgent and sunk >= 1.0:
        urgent = f"It has stood still so long that pigment sank about {sunk:.1f} mm: stir from the bottom, now."
    if not urgent and pot.poured_at is None:
        urgent = stale_words(pot, now)

    def step(
        key: str,
        says: str,
        how: str = "",
        act: Tapped | None = None,
        source: str = "",
        grams: float | None = None,
        *,
        window: Window | None = None,
        minutes: float | None = None,
        measured: str = "",
        done_when: str = "",
        caution: str = "",
        mend: Mend | None = None,
        parts: Mapping[str, float] | None = None,
    ) -> PotAdvice:
        what = Step(
            key, says, how, window=window, minutes=minutes, measured=measured, done_when=done_when, caution=caution
        )
        return PotAdvice(what, act, source, grams, urgent, mend, parts or {})

    if pot.status is not Status.OPEN:
        return step("done", "The pot is done.", "What its sticks are like is told at the trials.")
    if not pot.ready:
        bath = "a water bath" if plan.water_bath else "dry heat and a thermometer in the pot"
        return step(
            "ready", "Everything at hand?", f"Pot, {bath}, lid, moulds, cold glass, spoon.", "ready", caution=_HOT
        )
    for source, grams in to_go(plan.base_g, pot.bases).items():
        if not pot.melted:
            return step(
                "base",
                f"{names.get(source, 'Base')} into the pot",
                "Broken small it melts sooner.",
                "base",
                source,
                grams,
            )
    if not pot.melted:
        bath = f"A water bath will do (up to {WATER_BATH_C:.0f} °C)."
        if not plan.water_bath:
            bath = f"A water bath will not reach it: dry heat, thermometer in, never above {HIGHEST_C:.0f} °C."
        return step(
            "melt",
            f"Melt it until it is clear, {plan.melt_c:.0f} °C",
            bath,
            "melted",
            window=Window("temperature", "C", plan.melt_c - 5, min(HIGHEST_C, plan.melt_c + 15)),
            measured="temperature",
            done_when="No flakes left; clear as oil.",
            caution=_HOT,
        )
    pigment = to_go(plan.pigment_g, {source: matter.grams for source, matter in pot.pigments.items()})
    oil = to_go(plan.oil_g, pot.oils)
    if plan.way is PigmentWay.MULLED and pigment and oil:
        return step(
            "mulled",
            "Mulled paste into the pot",
            "Mull the pigment into the oil first, on the slab or with a "
            "knife: no dust over the heat, and it disperses better.",
            "mulled",
            grams=sum(pigment.values()) + sum(oil.values()),
            parts={**oil, **pigment},
        )
    for source, grams in oil.items():
        if not pot.dents:
            return step(
                "oil",
                f"{names.get(source, 'Oil')} into the pot",
                "Warm it goes in without clots.",
                "oil",
                source,
                grams,
            )
    for source, grams in pigment.items():
        return step(
            "pigment",
            f"{names.get(source, 'Pigment')} into the pot",
            "Mask on. Low, spoon by spoon, never tipped over the heat.",
            "pigment",
            source,
            grams,
            caution="Powder is never tipped dry over heat without a mask.",
        )
    if pot.poured_at is None and pot.stirred_at is None:
        return step("stir", "Stir until it is even", "From the bottom, slowly: no air in it.", "stir")
    if pot.poured_at is None and pot.drop is None:
        return step(
            "drop",
            "Try a drop on cold glass",
            "Two minutes on the glass, then press it: needle, or fingernail. Here the hardness can still be set.",
            "drop",
            measured="dent",
        )
    if pot.poured_at is None:
        mending = mend(pot, plan, reading)
        if mending is not None and not mending.second_pot:
            what = "Oil" if mending.kind == "oil" else "Base"
            planned = plan.oil_g if mending.kind == "oil" else plan.base_g
            why = "The drop is harder than wanted." if mending.kind == "oil" else "The drop is softer than wanted."
            whole = sum(planned.values())
            each = {source: mending.add_g * grams / whole for source, grams in planned.items()}
            # More of a base that was melted fresh is more of each of its waxes.
            several = len(each) > 1
            return step(
                "mend",
                f"{what} into the pot",
                f"{why} {mending.says}",
                "mulled" if several else mending.kind,
                "" if several else next(iter(planned), ""),
                mending.add_g,
                mend=mending,
                parts=each if several else None,
            )
        return step(
            "pour",
            f"Pour at {plan.pour_low_c:.0f} to {plan.pour_high_c:.0f} °C",
            "Stir to the last moment. To the brim; top up as it sinks.",
            "pour",
            window=Window("temperature", "C", plan.pour_low_c, plan.pour_high_c),
            measured="temperature",
            caution=_HOT,
            mend=mending,
        )
    if pot.out_at is None:
        return step(
            "out",
            "Out of the moulds when they are cold",
            f"About {plan.cooling_min:.0f} minutes to set, then wait until they are cold through.",
            "out",
            minutes=plan.cooling_min,
            measured="sticks and their weight",
            done_when="Cold to the wrist all round.",
        )
    return step("finish", "Onto the shelf", "Each stick gets a code and a label; the trials come tomorrow.", "finish")
