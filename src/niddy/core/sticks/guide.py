"""What to do at the pot now: steps with their windows, what is urgent, and the ways to put the dent right."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from typing import Literal

from niddy.core.log import Status
from niddy.core.steps import Step, Window
from niddy.core.sticks.casting import HIGHEST_C, WATER_BATH_C
from niddy.core.sticks.folding import Pot, PotReading, Taught
from niddy.core.sticks.mending import Mend, PigmentWay, PotPlan, mend
from niddy.core.sticks.pot import settled_mm

LITTLE_LEFT = 0.03
"""So small a share of what was planned is left undone without a word."""

Tapped = Literal["ready", "base", "melted", "oil", "mulled", "pigment", "stir", "drop", "pour", "out", "finish"]
"""The acts that a step's own tap logs."""


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


_HOT = "Hot wax burns: thermometer in, lid at hand, no water into it, never left alone."


FRESH = timedelta(minutes=10)
"""So long a temperature is the pot's own (assumed): on a plate it changes by the minute."""


def fresh_c(pot: Pot, now: datetime) -> float | None:
    """The temperature of the pot now, in C; None where none was read of late."""
    if pot.read_at is None or now - pot.read_at > FRESH:
        return None
    return pot.temperature_c


LEFT_AFTER = timedelta(minutes=15)
"""A pot on heat at which nothing was done for so long may have been left alone."""

ON_ITS_OWN = "Hot wax catches fire: go to it now, heat off if nobody stays. Lid on flames, never water."


def left_alone_min(pot: Pot, acted_at: datetime | None, now: datetime) -> float | None:
    """For how many minutes nothing was done at a pot on heat, once that is too long; else None."""
    warm = (pot.melted or pot.read_at is not None) and not pot.heat_off
    on_heat = pot.status is Status.OPEN and pot.poured_at is None and warm
    if not on_heat or acted_at is None or now - acted_at <= LEFT_AFTER:
        return None
    return (now - acted_at).total_seconds() / 60


def _how_long(minutes: float) -> str:
    return f"{minutes:.0f} minutes" if minutes < 90 else f"{minutes / 60:.0f} hours"


def advise(
    pot: Pot,
    plan: PotPlan,
    reading: PotReading | None,
    now: datetime,
    names: Mapping[str, str],
    drops: Sequence[Taught] = (),
    acted_at: datetime | None = None,
) -> PotAdvice:
    """What to do next at the pot; `drops` is what each drop said of it, `acted_at` when something was done last."""
    urgent = "" if pot.poured_at is not None else hot_words(fresh_c(pot, now), plan)
    sunk = sunk_mm(pot, plan, reading, now)
    if not urgent and sunk >= 1.0:
        urgent = f"It has stood still so long that pigment sank about {sunk:.1f} mm: stir from the bottom, now."
    if not urgent and (alone := left_alone_min(pot, acted_at, now)) is not None:
        urgent = f"Nothing was done here for {_how_long(alone)}. {ON_ITS_OWN}"

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
                "Add it warm, so it does not clot.",
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
        mending = mend(pot, plan, reading, drops)
        if mending is not None and mending.add_g <= 0:
            return step(
                "too_soft",
                "Too soft for this base",
                "No amount of it makes this pot as hard as wanted. Let it set and melt it later into a pot of a harder "
                "base, or pour it as it is, under “Poured”.",
                mend=mending,
            )
        if mending is not None and mending.kind == "both":
            return step(
                "second_pot",
                "Base and pigment, melted beside it, into the pot",
                f"The drop is softer than wanted. {mending.says}",
                "mulled",
                grams=mending.add_g,
                mend=mending,
                parts={**mending.base_g, **mending.pigment_g},
                caution="Mask on for the powder; never tipped dry over heat.",
            )
        if mending is not None:
            what = "Oil" if mending.kind == "oil" else "Base"
            planned = plan.oil_g if mending.kind == "oil" else plan.base_g
            than = "harder" if mending.kind == "oil" else "softer"
            drop = pot.drop.dent_dmm if pot.drop is not None else plan.target_dmm
            alone = drop < plan.target_dmm if mending.kind == "oil" else drop > plan.target_dmm
            why = f"The drop is {than} than wanted." if alone else f"All drops together are {than} than wanted."
            whole = sum(planned.values())
            each = {source: mending.add_g * grams / whole for source, grams in planned.items()}
            # More of a base that was melted fresh is more of each of its waxes.
            several = len(each) > 1
            return step(
                "mend",
                f"{what} into the pot",
                f"{why} {mending.says}",
                "mulled" if several else "oil" if mending.kind == "oil" else "base",
                "" if several else next(iter(planned), ""),
                mending.add_g,
                mend=mending,
                parts=each if several else None,
            )
        old = pot.read_at is not None and now - pot.read_at > FRESH
        return step(
            "pour",
            f"Pour at {plan.pour_low_c:.0f} to {plan.pour_high_c:.0f} °C",
            ("Read the thermometer first: the last reading is old. " if old else "")
            + "Stir to the last moment. To the brim; top up as it sinks.",
            "pour",
            window=Window("temperature", "C", plan.pour_low_c, plan.pour_high_c),
            measured="temperature",
            caution=_HOT,
        )
    if pot.out_at is None:
        return step(
            "out",
            "Out of the moulds when they are cold",
            f"About {plan.cooling_min:.0f} minutes to set, then wait until they are cold through.",
            "out",
            minutes=plan.cooling_min,
            measured="sticks and their weight",
            done_when="Cool all round, tested with the wrist.",
        )
    return step("finish", "Onto the shelf", "Each stick gets a code and a label; the trials come tomorrow.", "finish")
