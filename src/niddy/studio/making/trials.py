"""Trials of a powder: a pinch in oil and its likely causes, strength, spots, and a light test, always proposed."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from niddy.core import making as core
from niddy.core.making import CAUSES, VERDICT_WORDS, Fading, LightVerdict, Takes
from niddy.core.making.trying import SPOT_WORDS, Displaced, DyeInMedium, PinchTried, SpotTried, StrengthSeen
from niddy.studio.making.runs import RunKept

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
    tried, strength, density = kept.acts_of(PinchTried), kept.acts_of(StrengthSeen), kept.acts_of(Displaced)
    takes = kept.run.takes
    return TrialsSeen(
        takes,
        tried[-1][0].text if tried else "",
        _causes(kept, takes),
        kept.run.strength,
        strength[-1][1].reference if strength else "",
        tuple(f"{act.tried_with}: {SPOT_WORDS[act.seen]}" for act, _ in kept.acts_of(SpotTried)),
        tuple(act.text for act, _ in kept.acts_of(DyeInMedium)),
        _light(kept, now),
        kept.run.density,
        density[-1][1].half if density else None,
        NOT_OF_LIGHT,
    )


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
        light.begun_at,
        light.where,
        days(now),
        core.SCHEDULE_DAYS,
        tuple(FadeSeen(days(one.at), one.fading, one.delta_e) for one in light.looks),
        due,
        due is not None and due <= now,
        core.suggested(light),
        light.verdict,
        VERDICT_WORDS[light.verdict] if light.verdict is not None else "",
    )
