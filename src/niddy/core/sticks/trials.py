"""Trials of sticks: what was seen, what it comes to, and what to change the next time."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum

from niddy.core.errors import Refused
from niddy.core.sticks.folding import Pot
from niddy.core.sticks.mending import PotPlan
from niddy.core.sticks.pot import Correcting, correct

STEP = 1.4
"""A stick felt too hard or too soft is aimed at this many times the dent, or that part of it (assumed)."""


@dataclass(frozen=True, slots=True)
class TrialChoice:
    """One answer of a trial: its key, its words, and whether it speaks for harder (-1), softer (1) or crumbly."""

    key: str
    says: str
    softness: int = 0
    crumbly: bool = False
    bad: bool = False


@dataclass(frozen=True, slots=True)
class Question:
    """One question of a trial and what can be answered."""

    key: str
    says: str
    choices: tuple[TrialChoice, ...]


DRY = (
    Question(
        "line",
        "The line",
        (
            TrialChoice("broken", "breaks up", -1, bad=True),
            TrialChoice("even", "even"),
            TrialChoice("clogs", "clogs and thickens", 1, bad=True),
        ),
    ),
    Question(
        "glide",
        "The glide",
        (
            TrialChoice("drags", "drags", -1, bad=True),
            TrialChoice("glides", "glides"),
            TrialChoice("slides", "slides away", 1, bad=True),
        ),
    ),
    Question(
        "crumbs",
        "Crumbs",
        (TrialChoice("none", "none"), TrialChoice("some", "a few"), TrialChoice("many", "many", 0, True, bad=True)),
    ),
    Question(
        "cover",
        "Cover",
        (
            TrialChoice("thin", "thin", -1, bad=True),
            TrialChoice("even", "even"),
            TrialChoice("thick", "thick and greasy", 1, bad=True),
        ),
    ),
    Question(
        "breaks",
        "Pressed hard",
        (
            TrialChoice("holds", "holds"),
            TrialChoice("snaps", "snaps", -1, bad=True),
            TrialChoice("bends", "bends", 1, bad=True),
        ),
    ),
    Question(
        "hands",
        "On the hands",
        (
            TrialChoice("clean", "clean"),
            TrialChoice("some", "some colour"),
            TrialChoice("smears", "smears", 1, bad=True),
        ),
    ),
)
"""A stick drawn with dry: each question and its answers."""

WET = (
    Question(
        "opens",
        "The line opens",
        (
            TrialChoice("opens", "at once"),
            TrialChoice("slowly", "slowly"),
            TrialChoice("stays", "stays as drawn", -1, bad=True),
        ),
    ),
    Question("even", "The wash", (TrialChoice("even", "even"), TrialChoice("blotchy", "blotchy", bad=True))),
    Question(
        "streaks",
        "Streaks",
        (TrialChoice("none", "none"), TrialChoice("some", "some"), TrialChoice("many", "many", 0, True, bad=True)),
    ),
    Question(
        "bleeds",
        "Colour runs into the paper",
        (TrialChoice("no", "no"), TrialChoice("yes", "yes, it bleeds", bad=True)),
    ),
)
"""The same with a brush and solvent, or with the blending stick."""

DRYING = {"skin": "a skin overnight", "touch": "dry to the touch", "through": "hard through"}


class SticksVerdict(StrEnum):
    """What the trials come to."""

    TOO_HARD = "too_hard"
    RIGHT = "right"
    TOO_SOFT = "too_soft"
    CRUMBLES = "crumbles"


@dataclass(frozen=True, slots=True)
class TrialVerdict:
    """The verdict of the trials, why, and what to do next time; `oil_g_per_100g` more (or less) for 100 g of pot."""

    verdict: SticksVerdict | None
    why: tuple[str, ...]
    next_time: str
    oil_g_per_100g: float | None
    next_dmm: float | None


def check_seen(questions: tuple[Question, ...], seen: Mapping[str, str]) -> None:
    """Raise Refused for an answer no question has."""
    known = {question.key: question for question in questions}
    for key, value in seen.items():
        if key not in known:
            raise Refused(f"seen.{key}", "nobody asked for that", ", ".join(known))
        if value not in {choice.key for choice in known[key].choices}:
            raise Refused(
                f"seen.{key}", f"'{value}' is not one of the answers", ", ".join(c.key for c in known[key].choices)
            )


def judge(pot: Pot, plan: PotPlan) -> TrialVerdict:
    """What was seen, weighed: softness by the votes of every trial, and by the dent where one was read."""
    votes, crumbly, why = 0, False, []
    for what, questions in (("dry", DRY), ("solvent", WET), ("blender", WET)):
        for question in questions:
            answer = pot.trials.get(what, {}).get(question.key)
            choice = next((c for c in question.choices if c.key == answer), None)
            if choice is None:
                continue
            votes += choice.softness
            crumbly = crumbly or choice.crumbly
            if choice.bad:
                why.append(f"{question.says.lower()}: {choice.says}" + ("" if what == "dry" else f" ({what})"))
    if not pot.trials:
        return TrialVerdict(None, (), "", None, None)
    if crumbly and votes <= 0:
        return TrialVerdict(
            SticksVerdict.CRUMBLES, tuple(why), "Less pigment the next time: a tenth lower on the scale.", None, None
        )
    if abs(votes) < 2:
        return TrialVerdict(SticksVerdict.RIGHT, tuple(why), "The same again.", None, plan.target_dmm)
    hard = votes < 0
    was = pot.dents[-1].dent_dmm if pot.dents else plan.target_dmm
    wanted = min(400.0, max(1.0, was * STEP if hard else was / STEP))
    grams = _grams_per_100(pot, plan, was, wanted)
    if grams:
        says = f"Next time {grams:.1f} g more {'oil' if hard else 'base'} for 100 g of pot."
    else:
        says = f"Next time {'more' if hard else 'less'} oil: a dent of {wanted:.0f}."
    verdict = SticksVerdict.TOO_HARD if hard else SticksVerdict.TOO_SOFT
    return TrialVerdict(verdict, tuple(why), says, grams if hard else None, wanted)


def _grams_per_100(pot: Pot, plan: PotPlan, was: float, wanted: float) -> float | None:
    if pot.total_g <= 0 or pot.base_g + pot.oil_g <= 0:
        return None
    by = 100 / pot.total_g
    try:
        found = correct(
            pot.pigment_g * by, pot.base_g * by, pot.oil_g * by, pot.powder, plan.base, plan.oil, was, wanted
        )
    except Refused:
        return None
    return found.add_g if found.direction is not Correcting.NONE else None


def asked(what: str) -> tuple[Question, ...]:
    """The questions of a trial: dry, or wet."""
    return DRY if what == "dry" else WET
