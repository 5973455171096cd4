"""Acts at the pot and on the sticks that came of it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import datetime
from enum import StrEnum
from uuid import UUID

from niddy.core.sticks.casting import Feel


class Kind(StrEnum):
    """What can happen at the pot, and to its sticks afterwards."""

    READY = "ready"
    BASE = "base"
    TEMPERATURE = "temperature"
    MELTED = "melted"
    OIL = "oil"
    PIGMENT = "pigment"
    MULLED = "mulled"
    PASTE = "paste"
    STIR = "stir"
    DROP = "drop"
    POUR = "pour"
    SKIN = "skin"
    OUT = "out"
    FLAW = "flaw"
    DENT = "dent"
    DRY_TRIAL = "dry_trial"
    WET_TRIAL = "wet_trial"
    DRIED = "dried"
    VERDICT = "verdict"
    NOTE = "note"
    PHOTO = "photo"
    FINISH = "finish"
    ABANDON = "abandon"
    STRIKE = "strike"


AFTERWARDS = (Kind.DENT, Kind.DRY_TRIAL, Kind.WET_TRIAL, Kind.DRIED, Kind.VERDICT, Kind.FLAW, Kind.NOTE, Kind.PHOTO)
"""What may still be said once a pot is finished."""

IN_POT = (Kind.BASE, Kind.OIL, Kind.PIGMENT, Kind.MULLED, Kind.PASTE)


class By(StrEnum):
    """How a dent was read."""

    NEEDLE = "needle"
    FEEL = "feel"


class Flaw(StrEnum):
    """What can be wrong with a stick."""

    SANK = "sank"
    PALE_TOP = "pale_top"
    GRAINY = "grainy"
    CRACKED = "cracked"
    GREASY = "greasy"
    STUCK = "stuck"


FLAW_WORDS: dict[Flaw, tuple[str, str, str]] = {
    Flaw.SANK: ("sank in the middle", "Wax shrinks as it sets.", "Top up while the middle is still soft; pour cooler."),
    Flaw.PALE_TOP: (
        "pale at the top", "Pigment sank while it stood hot.",
        "Stir to the last moment, pour at the cool end of the window, cast thinner.",
    ),
    Flaw.GRAINY: (
        "grainy", "Cooled too fast, or the hardest wax was not molten; or the powder was not wetted.",
        "Melt until it is clear, warm the moulds, mull the pigment into the oil first.",
    ),
    Flaw.CRACKED: (
        "cracked", "Cooled too fast, or too brittle a base.",
        "Let it set in a warm place; a little soft wax in the base.",
    ),
    Flaw.GREASY: (
        "greasy, oil on the skin", "More oil than the wax holds.",
        "Less oil, or a wax that holds oil (microcrystalline, ozokerite, sunflower).",
    ),
    Flaw.STUCK: ("stuck in the mould", "Too soft, or taken out warm.", "Half an hour in the cold, then press it out."),
}  # fmt: skip
"""What each flaw is called, its likely cause, and what to do the next time."""


@dataclass(frozen=True, slots=True)
class Matter:
    """Grams of one material that went into a pot; oil absorption where it is a pigment."""

    grams: float
    density_g_per_ml: float
    oil_absorption_g_per_100g: float | None = None


@dataclass(frozen=True, slots=True)
class Act:
    """One act as the fold reads it: what the client sent and what the door made of it."""

    id: UUID
    seq: int
    kind: Kind
    made_at: datetime
    strikes: UUID | None = None
    bases: Mapping[str, float] = field(default_factory=dict)
    oils: Mapping[str, float] = field(default_factory=dict)
    pigments: Mapping[str, Matter] = field(default_factory=dict)
    temperature_c: float | None = None
    dent_dmm: float | None = None
    by: By | None = None
    feel: Feel | None = None
    count: int | None = None
    grams: float | None = None
    flaw: Flaw | None = None
    seen: Mapping[str, str] = field(default_factory=dict)
    verdict: str | None = None
