"""The verdict on a batch against its recipe: release, release and watch, adjust, hold."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from niddy.core.checks import UNITS, CheckKind
from niddy.core.control import RULE_WORDS, Rule


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
    """What a batch showed in one check, and the rules that fired at it."""

    kind: CheckKind
    value: float | None
    choice: str | None = None
    rules: tuple[Rule, ...] = ()


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
            wanted.kind, value, found.choice, False,
            f"{_named(wanted.kind)} {value:.1f} {unit} is above {wanted.high:g}",
        )  # fmt: skip
    if wanted.low is not None and value < wanted.low:
        return Judged(
            wanted.kind, value, found.choice, False,
            f"{_named(wanted.kind)} {value:.1f} {unit} is below {wanted.low:g}",
        )  # fmt: skip
    return Judged(wanted.kind, value, found.choice, True, "")


def judge(wanted: list[Wanted], found: list[Found]) -> BatchVerdict:
    """Judge a batch. Outside tolerance: adjust where the paste can be mended, else hold; inside but a rule
    fires: release and watch; checks still due: wait.
    """
    by_kind = {one.kind: one for one in found}
    judged = tuple(_judge(one, by_kind.get(one.kind)) for one in wanted)
    outside = [one for one in judged if one.inside is False]
    if outside:
        mendable = all(one.kind in MENDABLE for one in outside)
        reason = "; ".join(one.says for one in outside)
        return BatchVerdict(Release.ADJUST if mendable else Release.HOLD, _sentence(reason), judged)
    waiting = [one for one in judged if one.inside is None]
    if waiting:
        return BatchVerdict(Release.WAIT, _sentence("; ".join(one.says for one in waiting)), judged)
    fired = [(one, rule) for one in found for rule in one.rules if any(w.kind is one.kind for w in wanted)]
    if fired:
        reason = "; ".join(f"{_named(one.kind)}: {RULE_WORDS[rule]}" for one, rule in fired)
        return BatchVerdict(Release.WATCH, f"Inside every tolerance, but {reason}.", judged)
    if not judged:
        return BatchVerdict(Release.RELEASE, "The recipe promises nothing that could be missed.", judged)
    return BatchVerdict(Release.RELEASE, "Inside every tolerance, and no rule fires.", judged)


def _sentence(text: str) -> str:
    return text[:1].upper() + text[1:] + "."
