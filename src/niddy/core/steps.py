"""Steps of guided work: what to do, how, within what window, what is measured, and when it is done."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass

from niddy.core.errors import Refused


@dataclass(frozen=True, slots=True)
class Window:
    """Between what a step is kept: a temperature in C, a pH; open where an end is None."""

    what: str
    unit: str
    low: float | None
    high: float | None

    def __post_init__(self) -> None:
        if self.low is not None and self.high is not None and self.low > self.high:
            raise Refused("low", f"{self.low:g} above {self.high:g}", "a lower end below the upper one")

    def holds(self, value: float) -> bool:
        """Whether a reading lies inside; the ends belong to it."""
        return (self.low is None or value >= self.low) and (self.high is None or value <= self.high)


@dataclass(frozen=True, slots=True)
class Step:
    """One step: `says` what to do and `how`, or what to look for meanwhile.

    `window` is what to keep it within, `minutes` how long it takes, `measured` what is read, `done_when` what good
    looks like, `caution` what can hurt; each is empty where nothing of the kind matters.
    """

    key: str
    says: str
    how: str = ""
    name: str = ""
    window: Window | None = None
    minutes: float | None = None
    measured: str = ""
    done_when: str = ""
    caution: str = ""


def next_step(steps: tuple[Step, ...], done: Collection[str]) -> Step | None:
    """The first step that is not done, by its key; None when all are."""
    return next((step for step in steps if step.key not in done), None)
