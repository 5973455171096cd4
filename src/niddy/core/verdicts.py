"""The verdict on a batch against its recipe: release, release and watch, adjust, hold."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from niddy.core.charts import ALARM_WORDS, Alarm
from niddy.core.checks import UNITS, CheckKind


class Release(StrEnum):
    """What may become of a batch."""

    RELEASE = "release"
    WATCH = "watch"
    ADJUST = "adjust"
    HOLD = "hold"
    WAIT = "wait"


MENDABLE = (CheckKind.SPREAD, CheckKind.STRING, CheckKind.DENSITY)
"""Outside tolerance in these, the paste can still be brought back; in the others the batch is held."""


@dataclass(frozen=True, slots=True)
class Wanted:
    """One check a recipe promises: its target and tolerance, in the unit of the check; a choice for drawn ones."""

    kind: CheckKind
    target: float | None = None
    low: float | None = None
    high: float | None = None
    choice: str | None = None


@dataclass(frozen=True, slots=True)
class Found:
    """What a batch showed in one check, and the alarms it raised."""

    kind: CheckKind
    value: float | None
    choice: str | None = None
    alarms: tuple[Alarm, ...] = ()


@dataclass(frozen=True, slots=True)
class Judged:
    """One check against its promise: whether it is inside, and a sentence where it is not."""

    kind: CheckKind
    value: float | None
    choice: str | None
    inside: bool | None
    says: str


@dataclass(frozen=True, slots=True)
class BatchVerdict:
    """The verdict with its reason in a sentence, check by check."""

    release: Release
    reason: str
    judged: tuple[Judged, ...]


def _named(kind: CheckKind) -> str:
    return kind.replace("_", " ")


def _judge(wanted: Wanted, found: Found | None) -> Judged:
    unit = UNITS.get(wanted.kind, "")
    if found is None or (found.value is None and found.choice is None):
        return Judged(wanted.kind, None, None, None, f"{_named(wanted.kind)} is not checked yet")
    if wanted.choice is not None:
        inside = found.choice == wanted.choice
        says = "" if inside else f"{_named(wanted.kind)} is {found.choice}; {wanted.choice} is promised"
        return Judged(wanted.kind, found.value, found.choice, inside, says)
    value = found.value
    if value is None or (wanted.low is None and wanted.high is None):
        return Judged(wanted.kind, value, found.choice, True, "")
    if wanted.high is not None and value > wanted.high:
        return Judged(
            wanted.kind,
            value,
            found.choice,
            False,
            f"{_named(wanted.kind)} {value:.1f} {unit} is above {wanted.high:g}",
        )
    if wanted.low is not None and value < wanted.low:
        return Judged(
            wanted.kind, value, found.choice, False, f"{_named(wanted.kind)} {value:.1f} {unit} is below {wanted.low:g}"
        )
    return Judged(wanted.kind, value, found.choice, True, "")


def judge(wanted: list[Wanted], found: list[Found]) -> BatchVerdict:
    """Judge a batch. Outside tolerance: adjust where the paste can be mended, else hold; inside but out of
    the ordinary: release and watch; checks still due: wait.
    """
    by_kind = {reading.kind: reading for reading in found}
    judged = tuple(_judge(reading, by_kind.get(reading.kind)) for reading in wanted)
    outside = [reading for reading in judged if reading.inside is False]
    if outside:
        mendable = all(reading.kind in MENDABLE for reading in outside)
        reason = "; ".join(reading.says for reading in outside)
        return BatchVerdict(Release.ADJUST if mendable else Release.HOLD, _sentence(reason), judged)
    waiting = [reading for reading in judged if reading.inside is None]
    if waiting:
        return BatchVerdict(Release.WAIT, _sentence("; ".join(reading.says for reading in waiting)), judged)
    fired = [
        (reading, alarm) for reading in found for alarm in reading.alarms if any(w.kind is reading.kind for w in wanted)
    ]
    if fired:
        reason = "; ".join(f"{_named(reading.kind)}: {ALARM_WORDS[alarm]}" for reading, alarm in fired)
        return BatchVerdict(Release.WATCH, f"Inside every tolerance, but {reason}.", judged)
    if not judged:
        return BatchVerdict(Release.RELEASE, "The recipe promises nothing that could be missed.", judged)
    return BatchVerdict(Release.RELEASE, "Inside every tolerance, and like the batches before.", judged)


def _sentence(text: str) -> str:
    return text[:1].upper() + text[1:] + "."
