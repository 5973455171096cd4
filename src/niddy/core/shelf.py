"""The shelf: inspecting what was kept, saving it, when to look again, whose an unlabelled jar is."""

from __future__ import annotations

import calendar
import math
from dataclasses import dataclass
from datetime import date, timedelta
from enum import StrEnum

from niddy.core.errors import Refused, within

STIR_BACK_UP_TO = 0.05
REGRIND_UP_TO = 0.15
INTERVALS_MONTHS = (1.0, 3.0, 6.0, 12.0)
SHORTEST_MONTHS = 0.5


class Skin(StrEnum):
    """What stands on the surface."""

    NONE = "none"
    SKIN = "skin"
    THROUGH = "through"


class KeptBody(StrEnum):
    """The body of what is below the oil."""

    AS_FILLED = "as_filled"
    STIFFER = "stiffer"
    GRAINY = "grainy"


class Smell(StrEnum):
    """What it smells of."""

    OIL = "oil"
    RANCID = "rancid"
    SPOILED = "spoiled"


class Outcome(StrEnum):
    """What an inspection comes to."""

    GOOD = "good"
    STIR_BACK = "stir_back"
    LIFT_SKIN = "lift_skin"
    REGRIND = "regrind"
    REGRIND_PRONE = "regrind_prone"
    DISCARD = "discard"
    MATCH_FIRST = "match_first"
    WIPE = "wipe"
    PEEL = "peel"
    MELT_AGAIN = "melt_again"


SEEN = {
    Outcome.GOOD: "good",
    Outcome.STIR_BACK: "oil on top",
    Outcome.LIFT_SKIN: "skin",
    Outcome.REGRIND: "separated",
    Outcome.REGRIND_PRONE: "separated badly",
    Outcome.DISCARD: "to discard",
    Outcome.MATCH_FIRST: "to match first",
    Outcome.WIPE: "bloom or oil on it",
    Outcome.PEEL: "skin",
    Outcome.MELT_AGAIN: "to melt again",
}
"""What was seen, in the few words of a list."""


@dataclass(frozen=True, slots=True)
class Inspected:
    """An inspection's outcome: layer over height, what it is called, what to do in steps, and why.

    `separated` halves the time to the next; `prone` marks the recipe; `unknown_hazard` holds until it is matched.
    """

    outcome: Outcome
    layer_fraction: float
    title: str
    why: str
    steps: tuple[str, ...]
    separated: bool
    prone: bool
    unknown_hazard: bool


_UNKNOWN = "Unreadable label: treat it as an unknown hazard, gloves on, until it is matched."


def inspect(
    layer_mm: float, fill_height_mm: float, skin: Skin, body: KeptBody, smell: Smell, *, label_readable: bool
) -> Inspected:
    """What an inspection says. Raises Refused for a layer higher than the filling."""
    within("fill_height_mm", fill_height_mm, 0.1, 500, "mm")
    within("layer_mm", layer_mm, 0, 500, "mm")
    if layer_mm > fill_height_mm:
        raise Refused("layer_mm", f"more than the filling's {fill_height_mm:g} mm", f"up to {fill_height_mm:g} mm")
    fraction = layer_mm / fill_height_mm
    steps: tuple[str, ...]
    separated, prone = fraction > 0, False
    if skin is Skin.THROUGH:
        outcome, title = Outcome.DISCARD, "Discard it"
        why, separated = "It is hard through.", False
        steps = ("By its hazard: licensed disposal where it holds metals, never the drain.", "Log it as discarded.")
    elif smell is Smell.SPOILED:
        outcome, title, separated = Outcome.DISCARD, "Discard it", False
        why, steps = (
            "It is spoiled: it would stink and rot the film.",
            ("Close it again; licensed disposal.", "Log it as discarded."),
        )
    elif fraction > REGRIND_UP_TO:
        outcome, title, prone = Outcome.REGRIND_PRONE, "Grind it again, with a stabiliser trial", True
        why = f"{fraction:.0%} of it is oil on top, above {REGRIND_UP_TO:.0%}: this recipe is prone to bleed."
        steps = ("Oil and paint back on the slab, a gel by ladder, mull, refill.", "Try the least dose by a ladder.")
    elif fraction > STIR_BACK_UP_TO:
        outcome, title = Outcome.REGRIND, "Grind it again, with a stabiliser trial"
        why = f"{fraction:.0%} of it is oil on top, above {STIR_BACK_UP_TO:.0%}."
        steps = ("Oil and paint back on the slab, mull, refill.", "A ladder finds the least stabiliser that holds it.")
    elif skin is Skin.SKIN:
        outcome, title, separated = Outcome.LIFT_SKIN, "Lift the skin, strain, refill", fraction > 0
        why = "Skin only: the paint below it is sound."
        steps = (
            "Cut round the rim and lift the skin whole.",
            "Press the rest through a strainer.",
            "Refill without air; a film or a little oil on a jar.",
        )
    elif fraction > 0:
        outcome, title = Outcome.STIR_BACK, "Stir the oil back"
        why = f"{fraction:.0%} of it is oil on top, up to {STIR_BACK_UP_TO:.0%}."
        steps = ("Open at the back, stir with a narrow knife, no air in it.", "Close and note it.")
    else:
        outcome, title, why, steps = Outcome.GOOD, "Keep it", "Nothing on top, no skin.", ()
    if body is KeptBody.GRAINY and outcome in (Outcome.GOOD, Outcome.STIR_BACK):
        outcome, title, why = Outcome.REGRIND, "Grind it again", "Grains in the paste: it is mulled anew."
        steps = ("Back on the slab, mull until it is even, refill.",)
    if smell is Smell.RANCID and outcome is Outcome.GOOD:
        why += " Rancid oil dries, but yellows more."
    if skin is Skin.SKIN and outcome in (Outcome.REGRIND, Outcome.REGRIND_PRONE):
        title = f"Lift the skin, then {title[0].lower()}{title[1:]}"
        why += " There is a skin besides."
        steps = ("Cut round the rim, lift the skin whole, press the rest through a strainer.", *steps)
    if not label_readable and outcome is not Outcome.DISCARD:
        # Nobody opens what nobody can name: that comes before anything else, and what comes after is said.
        after = f" Once it is matched: {title[0].lower()}{title[1:]}. {why}" if outcome is not Outcome.GOOD else ""
        outcome, title, why = Outcome.MATCH_FIRST, "Keep the lid on until it is matched", f"{_UNKNOWN}{after}"
        steps = ("Gloves on, lid on, away from food.", "Match it by colour and weight, below on its page.", *steps)
    return Inspected(outcome, fraction, title, why, steps, separated, prone, not label_readable)


def inspect_stick(skin: Skin, *, bloom: bool, sweats: bool, cracked: bool, label_readable: bool) -> Inspected:
    """What an inspection of a paint stick says: a skin is usual and peels, what cracked is melted again."""
    steps: tuple[str, ...] = ()
    outcome, title, why = Outcome.GOOD, "Keep it", "No bloom, no sweat, no crack."
    if skin is Skin.THROUGH:
        outcome, title, why = Outcome.DISCARD, "Discard it", "It is hard through: no heat softens dried oil."
        steps = ("By its hazard: licensed disposal where it holds metals, never the drain.", "Log it as discarded.")
    elif cracked:
        outcome, title, why = Outcome.MELT_AGAIN, "Melt it again into the next pot", "It is cracked and would crumble."
        steps = ("Peel off any skin first: dried oil does not melt.", "Into a pot of a darker colour, slowly, stirred.")
    elif skin is Skin.SKIN:
        outcome, title, why = Outcome.PEEL, "Peel the skin at the tip", "Drying oil skins: what is below is sound."
        steps = ("Pinch the skin off, or cut round it.", "A tight sleeve keeps the next one thin.")
    elif sweats or bloom:
        what = "Oil sweats out of it" if sweats else "Wax blooms on it"
        outcome, title = Outcome.WIPE, "Wipe it and keep it cooler"
        why = f"{what}: it lies too warm" + (", or holds more oil than its wax binds." if sweats else ".")
        steps = ("Wipe with a dry cloth: into a water-filled metal can with it, lid on.", "A cool, even place.")
    if not label_readable and outcome is not Outcome.DISCARD:
        after = f" Once it is matched: {title[0].lower()}{title[1:]}. {why}" if outcome is not Outcome.GOOD else ""
        outcome, title, why = Outcome.MATCH_FIRST, "Keep it in its sleeve until it is matched", f"{_UNKNOWN}{after}"
        steps = ("Gloves on, away from food and children.", *steps)
    return Inspected(outcome, 0.0, title, why, steps, sweats, False, not label_readable)


def next_interval_months(separated: list[bool]) -> float:
    """Months to the next inspection: 1, 3, 6, 12 after good ones, halved after separation; history oldest first."""
    interval = INTERVALS_MONTHS[0]
    for bad in separated:
        if bad:
            interval = max(SHORTEST_MONTHS, interval / 2)
        else:
            longer = [step for step in INTERVALS_MONTHS if step > interval]
            interval = longer[0] if longer else INTERVALS_MONTHS[-1]
    return interval


def until_use_by(day: date, use_by: date | None) -> date:
    """A day to look again, never after the last day it may be used: on that day it is due."""
    return day if use_by is None else min(day, use_by)


def after_months(day: date, months: float) -> date:
    """A day so many months on; half a month is 15 days, and the end of a short month its last day."""
    whole = int(months)
    year, month = divmod(day.year * 12 + day.month - 1 + whole, 12)
    month += 1
    last = calendar.monthrange(year, month)[1]
    return date(year, month, min(day.day, last)) + timedelta(days=round((months - whole) * 30))


COLOUR_SD = 4.0
"""Sd of the colour of a found paint against its batch's, dE00 by eye and age (assumed)."""

DENSITY_SD = 0.06
"""Sd of its weight for each ml (assumed)."""

NONE_AT_SDS = 2.5
"""A match this many sds off is as likely as none of them (assumed)."""


@dataclass(frozen=True, slots=True)
class Suspect:
    """A past batch an unlabelled jar may be of: its colour difference, and its weight for each ml where known."""

    number: int
    delta_e: float
    density_g_per_ml: float | None


@dataclass(frozen=True, slots=True)
class Likely:
    """How likely a jar is of one batch; `number` None is none of them."""

    number: int | None
    likely: float
    says: str


def match(found_density: float | None, suspects: list[Suspect], keep: int = 5) -> tuple[Likely, ...]:
    """Share out certainty over past batches and none of them, by colour and weight for each ml; the likeliest first."""
    none = math.exp(-0.5 * NONE_AT_SDS**2)
    scored = []
    for suspect in suspects:
        off = (suspect.delta_e / COLOUR_SD) ** 2
        by = f"colour {suspect.delta_e:.1f} dE00 off"
        if found_density is not None and suspect.density_g_per_ml is not None:
            apart = found_density - suspect.density_g_per_ml
            off += (apart / DENSITY_SD) ** 2
            by += f", {apart:+.2f} g/ml"
        scored.append((math.exp(-0.5 * off), suspect.number, by))
    whole = none + sum(score for score, _, _ in scored)
    ranked = sorted(scored, reverse=True)[:keep]
    likely = [Likely(number, score / whole, by) for score, number, by in ranked]
    rest = 1 - sum(suspect.likely for suspect in likely)
    return (*likely, Likely(None, rest, "none of these, or a batch nobody recorded"))
