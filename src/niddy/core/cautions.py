"""Cautions: what to beware of, why, and at which step; always deferring to those who know the material better."""

from __future__ import annotations

import csv
from dataclasses import dataclass
from enum import IntEnum, StrEnum
from importlib.resources import files
from typing import NamedTuple

DEFERENCE = "Follow the safety data sheet, local codes and licensed disposal."

ALWAYS = (
    "Mask and gloves while powder is dry. Wet wipe; never sweep or blow. No food or drink at the bench. "
    "No pigment, oil or rinse water in the drain."
)


class Grade(IntEnum):
    """How much harm: ordinary; harmful (mask while dry, gloves); dangerous (own tools, a tap before dust or heat)."""

    ORDINARY = 1
    HARMFUL = 2
    DANGEROUS = 3


class Step(StrEnum):
    """Where the risk is."""

    POWDER = "powder"
    OIL = "oil"
    CLEANING = "cleaning"


class _Hazard(NamedTuple):
    """A row of the shipped table."""

    grade: Grade
    step: Step
    in_paint: bool
    title: str
    short: str
    long: str


def _shipped() -> dict[str, _Hazard]:
    """The table that every caution is worded by: data of the rules, beside the other tables that are shipped."""
    rows = csv.DictReader((files("niddy") / "reference" / "hazards.csv").read_text().splitlines())
    return {
        row["key"]: _Hazard(
            Grade(int(row["grade"])),
            Step(row["step"]),
            row["in_paint"] == "yes",
            row["title"],
            row["short"],
            row["long"],
        )
        for row in rows
    }


_KNOWN = _shipped()


@dataclass(frozen=True, slots=True)
class Caution:
    """One caution: the hazard's key and because of which materials; the rest is worded by its key, whenever kept.

    Raises KeyError for a hazard nobody has written a caution for: a shipped table must not slip one past.
    """

    key: str
    because: tuple[str, ...]
    grade: Grade = Grade.ORDINARY
    step: Step = Step.POWDER
    title: str = ""
    short: str = ""
    long: str = ""

    def __post_init__(self) -> None:
        of = _KNOWN[self.key]
        for name in ("grade", "step", "title", "short", "long"):
            object.__setattr__(self, name, getattr(of, name))


def protection_words(*, dust: bool, vapour: bool) -> str:
    """What to wear and how to keep the air before powder or paste is handled.

    Dust asks for still air, vapour for moving air; both together for air that moves, but not over the powder.
    """
    if dust and vapour:
        return "Mask that fits, gloves, apron; air moving through the room, none of it over the dry powder"
    if vapour:
        return "Gloves, apron; a window open and air moving through: solvent leaves the paste"
    return "Mask that fits, gloves, apron; no draught over the powder"


def grade_of(hazard: str) -> Grade:
    """How much harm a hazard may do; ordinary where nobody knows it."""
    return _KNOWN[hazard].grade if hazard in _KNOWN else Grade.ORDINARY


def dangerous(hazards: tuple[str, ...]) -> bool:
    """Whether any of some hazards asks for a tap before dust flies or anything is heated."""
    return any(grade_of(key) is Grade.DANGEROUS for key in hazards)


def kept_apart(hazards: tuple[str, ...]) -> tuple[str, ...]:
    """The hazards for which slab, tools and cloths are kept for one paint alone: poisons that stay in it."""
    return tuple(
        key
        for key in hazards
        if grade_of(key) is Grade.DANGEROUS and _KNOWN[key].step is Step.POWDER and _KNOWN[key].in_paint
    )


def title_of(hazard: str) -> str:
    """A hazard in words."""
    return _KNOWN[hazard].title if hazard in _KNOWN else hazard


def held_word(hazard: str) -> str:
    """What something holds, by a hazard of it: copper, solvent, ammonia."""
    return title_of(hazard).removeprefix("Gives off ").lower()


def known_hazards() -> frozenset[str]:
    """Every hazard key the product can speak about."""
    return frozenset(_KNOWN) | {"none"}


def in_paint(hazards: tuple[str, ...]) -> tuple[str, ...]:
    """The hazards that a finished paint keeps: what is a danger of the powder or of the making alone is left out."""
    return tuple(hazard for hazard in hazards if hazard not in _KNOWN or _KNOWN[hazard].in_paint)


def beware(hazards: tuple[str, ...]) -> tuple[str, ...]:
    """The titles of what is harmful or worse to handle among some hazards, for the step itself. Raises KeyError."""
    found = cautions_for([("", hazards)])
    return tuple(one.title for one in found if one.grade >= Grade.HARMFUL and one.step is not Step.CLEANING)


def cautions_for(materials: list[tuple[str, tuple[str, ...]]]) -> tuple[Caution, ...]:
    """The cautions of some materials (name, hazard keys), each once with all the materials it comes from.

    The worst first, then in the order of the work. Raises KeyError for a hazard nobody has written a caution for.
    """
    because: dict[str, list[str]] = {}
    for name, hazards in materials:
        for hazard in hazards:
            if hazard != "none" and name not in because.setdefault(hazard, []):
                because[hazard].append(name)
    found = [Caution(key, tuple(names)) for key, names in because.items()]
    order = list(Step)
    return tuple(sorted(found, key=lambda caution: (-caution.grade, order.index(caution.step))))
