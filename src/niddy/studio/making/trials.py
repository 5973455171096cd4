"""Trials of a powder: a pinch in oil and its likely causes, strength, spots, and a light test, always proposed."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from niddy.core import making as core
from niddy.core.making import CAUSES, VERDICT_WORDS, Fading, LightVerdict, RunKind, Takes
from niddy.studio.log import Entry
from niddy.studio.making.runs import RunKept
from niddy.studio.making.words import SPOTS

NOT_OF_LIGHT = "A spot says nothing of light: only a light test does."


@dataclass(frozen=True, slots=True)
class FadeSeen:
    """One look at a light test: days since it was hung, how it looked, the difference where it was read (dE00)."""

    days: float
    fading: Fading
    delta_e: float | None


@dataclass(frozen=True, slots=True)
class LightSeen:
    """A light test: since when and where, looks so far, the next one, what they call for, the verdict."""

    begun_at: datetime
    where: str
    days: float
    schedule_days: tuple[int, ...]
    looks: tuple[FadeSeen, ...]
    next_at: datetime | None
    due: bool
    suggested: LightVerdict | None
    verdict: LightVerdict | None
    verdict_says: str


@dataclass(frozen=True, slots=True)
class TrialsSeen:
    """What was tried of a powder, and what to try next. `causes` the likeliest first, where oil was not taken well."""

    takes: Takes | None
    takes_says: str
    causes: tuple[str, ...]
    strength_percent: float | None
    strength_of: str
    spots: tuple[str, ...]
    in_medium: tuple[str, ...]
    light: LightSeen | None
    density_g_per_ml: float | None
    density_half: float | None
    not_of_light: str


def trials_of(kept: RunKept, now: datetime) -> TrialsSeen:
    """The trials of a run."""
    counts = [one for one in kept.entries if not one.struck and one.strikes is None]
    tried = _last(counts, RunKind.TRIED)
    strength = _last(counts, RunKind.STRENGTH)
    density = _last(counts, RunKind.DENSITY)
    takes = kept.run.takes
    return TrialsSeen(
        takes, str(tried.payload.get("text", "")) if tried is not None else "", _causes(kept, takes),
        kept.run.strength, str(strength.facts.get("reference", "")) if strength is not None else "",
        tuple(
            f"{one.payload['tried_with']}: {SPOTS[one.payload['seen']]}"
            for one in counts if one.kind == RunKind.SPOT
        ),
        tuple(str(one.payload["text"]) for one in counts if one.kind == RunKind.IN_MEDIUM), _light(kept, now),
        kept.run.density, density.facts["half"] if density is not None else None, NOT_OF_LIGHT,
    )  # fmt: skip


def _last(entries: list[Entry], kind: RunKind) -> Entry | None:
    return next((one for one in reversed(entries) if one.kind == kind), None)


def _causes(kept: RunKept, takes: Takes | None) -> tuple[str, ...]:
    """The likely causes, what this run's own log speaks for put first."""
    if takes is None or takes not in CAUSES:
        return ()
    causes = list(CAUSES[takes])
    planned = sum(one.washes or 0 for one in kept.process.steps)
    if planned and len(kept.run.washes) < planned:
        said = next((one for one in causes if "washed" in one), None)
        if said is not None:
            causes.remove(said)
            causes.insert(0, f"{said} (here {len(kept.run.washes)} washes of {planned})")
    return tuple(causes)


def _light(kept: RunKept, now: datetime) -> LightSeen | None:
    light = kept.run.light
    if light is None:
        return None
    due = core.next_look(light)

    def days(at: datetime) -> float:
        return (at - light.begun_at).total_seconds() / 86_400

    return LightSeen(
        light.begun_at, light.where, days(now), core.SCHEDULE_DAYS,
        tuple(FadeSeen(days(one.at), one.fading, one.delta_e) for one in light.looks), due,
        due is not None and due <= now, core.suggested(light), light.verdict,
        VERDICT_WORDS[light.verdict] if light.verdict is not None else "",
    )  # fmt: skip
