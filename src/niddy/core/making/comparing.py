"""Runs of one process side by side: in what each differed, and the one thing to change next."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum


class Takes(StrEnum):
    """How a pinch of the powder took oil on glass."""

    WELL = "well"
    GRITTY = "gritty"
    SEIZES = "seizes"


CAUSES = {
    Takes.GRITTY: (
        "too coarse: sieve it finer, or mull it longer",
        "not washed clean: salts are hard crystals",
        "dried too hot, into lumps",
        "the chalk or alum lot",
    ),
    Takes.SEIZES: (
        "damp: dry it to a constant weight",
        "not washed clean: salts draw water",
        "too fine for so little oil",
        "the chalk or alum lot",
    ),
}
"""Likely causes, the likeliest first."""


@dataclass(frozen=True, slots=True)
class RunFacts:
    """What of a run is compared. `yield_` of theory or of what went in; `lots` of the raw lots by ingredient."""

    number: int
    yield_: float | None
    ph_inside: float | None
    washes: int
    washed_ml: float
    hold_min: float
    hottest_c: float | None
    grams_in: float
    takes: Takes | None
    lots: dict[str, str]
    changed: str = ""


@dataclass(frozen=True, slots=True)
class Difference:
    """In what a run differed from the one before it: what, before, and now."""

    what: str
    before: str
    now: str


@dataclass(frozen=True, slots=True)
class Change:
    """The one thing to change next, from what to what, and why; `washes` and `hold_min` where a run is guided by it."""

    what: str
    now: str
    to: str
    why: str
    washes: int | None = None
    hold_min: float | None = None


def differences(before: RunFacts, now: RunFacts, washes_planned: int | None = None) -> tuple[Difference, ...]:
    """In what two runs differed, by more than nobody would mean."""
    found = []
    if before.ph_inside is not None and now.ph_inside is not None and abs(before.ph_inside - now.ph_inside) > 0.1:
        found.append(Difference("pH inside its window", _percent(before.ph_inside), _percent(now.ph_inside)))
    if before.washes != now.washes:
        found.append(Difference("washes", str(before.washes), str(now.washes)))
    elif abs(before.washed_ml - now.washed_ml) > 0.15 * max(before.washed_ml, 1.0):
        found.append(Difference("wash water", f"{before.washed_ml:.0f} ml", f"{now.washed_ml:.0f} ml"))
    if abs(before.hold_min - now.hold_min) > max(5.0, 0.15 * before.hold_min):
        found.append(Difference("time held", f"{before.hold_min:.0f} min", f"{now.hold_min:.0f} min"))
    if before.hottest_c is not None and now.hottest_c is not None and abs(before.hottest_c - now.hottest_c) > 4:
        found.append(Difference("warmest", f"{before.hottest_c:.0f} C", f"{now.hottest_c:.0f} C"))
    if abs(before.grams_in - now.grams_in) > 0.05 * before.grams_in:
        found.append(Difference("scale", f"{before.grams_in:.0f} g in", f"{now.grams_in:.0f} g in"))
    for name in sorted(before.lots.keys() & now.lots.keys()):
        if before.lots[name] != now.lots[name]:
            found.append(Difference(f"lot of {name.lower()}", before.lots[name], now.lots[name]))
    return tuple(found)


def _percent(share: float) -> str:
    return f"{100 * share:.0f} %"


PH_ENOUGH = 0.9


def propose(runs: Sequence[RunFacts], washes_planned: int | None, hold_planned_min: float | None) -> Change | None:
    """Exactly one change for the next run, the likeliest to help; None before any run, or when all is as planned.

    `runs` in their order. What was changed last, and not yet looked at twice, is not changed at once again.
    """
    if not runs:
        return None
    last = runs[-1]
    tried = {run.changed for run in runs[-1:] if run.changed}
    ways: list[Change] = []
    if last.ph_inside is not None and last.ph_inside < PH_ENOUGH:
        ways.append(
            Change(
                "pH",
                f"{_percent(last.ph_inside)} of the time inside",
                "inside all the time",
                "add slower, and read the strip after each spoon",
            )
        )
    if last.takes in CAUSES:
        planned = washes_planned or last.washes
        more = max(planned, last.washes) + (0 if last.washes < planned else 2)
        why = (
            "it turned gritty in oil: salts may be left in it"
            if last.takes is Takes.GRITTY
            else ("it seized in oil: salts may be left in it")
        )
        ways.append(Change("washes", str(last.washes), str(more), why, washes=more))
    elif washes_planned is not None and last.washes < washes_planned:
        ways.append(
            Change(
                "washes",
                str(last.washes),
                str(washes_planned),
                "fewer than the process asks for",
                washes=washes_planned,
            )
        )
    if hold_planned_min and last.hold_min < 0.8 * hold_planned_min:
        ways.append(
            Change(
                "time held",
                f"{last.hold_min:.0f} min",
                f"{hold_planned_min:.0f} min",
                "shorter than planned",
                hold_min=hold_planned_min,
            )
        )
    done = [run for run in runs if run.yield_ is not None]
    best = max(done, key=lambda run: run.yield_ or 0.0, default=None)
    if best is not None and best is not last and last.yield_ is not None and (best.yield_ or 0) > last.yield_ * 1.03:
        for one in differences(last, best):
            why = f"as in run {best.number}, which yielded more"
            washes = best.washes if one.what == "washes" else None
            hold = best.hold_min if one.what == "time held" else None
            ways.append(Change(one.what, one.before, one.now, why, washes, hold))
    seen: set[str] = set()
    for way in ways:
        if way.what not in tried and way.what not in seen:
            return way
        seen.add(way.what)
    return None
