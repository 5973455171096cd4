"""A ladder read: lines with bands, the least dose that does, or why none does."""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from scipy.special import stdtrit

from niddy.core.errors import Refused, within
from niddy.core.ladder.bending import Curve, curve

RUNGS_TO_FIT = 3


CONFIDENCE = 0.90


class Measured(StrEnum):
    """What is checked on each rung."""

    YIELD = "yield_pa"
    STRING = "string_mm"
    BLEED = "bleed_mm"


IN_LOGARITHMS = (Measured.YIELD, Measured.STRING)


@dataclass(frozen=True, slots=True)
class RungRead:
    """What was measured on one rung: yield stress in Pa, string and bleed in mm; None where not checked."""

    dose_pct: float
    yield_pa: float | None = None
    string_mm: float | None = None
    bleed_mm: float | None = None

    def value(self, what: Measured) -> float | None:
        return {Measured.YIELD: self.yield_pa, Measured.STRING: self.string_mm, Measured.BLEED: self.bleed_mm}[what]


@dataclass(frozen=True, slots=True)
class Target:
    """What one measure has to be: at least, at most, or both, in its own unit."""

    what: Measured
    at_least: float | None = None
    at_most: float | None = None


@dataclass(frozen=True, slots=True)
class BandPoint:
    """The fitted line at one dose, with its 90 % band, in the measure's unit."""

    dose_pct: float
    middle: float
    low: float
    high: float


@dataclass(frozen=True, slots=True)
class Line:
    """A fitted measure: `slope` for each percent (of its logarithm, for yield and string), its sd, and its band.

    `times_per_pct` is what a percent multiplies the measure by, where its logarithm is fitted.
    """

    what: Measured
    rungs: int
    intercept: float
    slope: float
    slope_sd: float
    slope_low: float
    slope_high: float
    times_per_pct: float | None
    noise: float
    band: tuple[BandPoint, ...]


@dataclass(frozen=True, slots=True)
class Met:
    """One target's stretch of doses by the fitted line, and in words."""

    what: Measured
    from_pct: float | None
    to_pct: float | None
    says: str


@dataclass(frozen=True, slots=True)
class Answer:
    """The least dose that meets every target nine times in ten, rounded up, with the 90 % band of the middle one.

    None where none does; why in a sentence.

    `open_end` says that the band runs past the rungs that were tried.
    """

    dose_pct: float | None
    low_pct: float | None
    high_pct: float | None
    open_end: bool
    met: tuple[Met, ...]
    says: str
    median_pct: float | None = None


@dataclass(frozen=True, slots=True)
class Fit:
    """A ladder read: the lines that could be fitted, and the answer where targets were given."""

    lines: tuple[Line, ...]
    missing: tuple[str, ...]
    answer: Answer | None


@dataclass(frozen=True, slots=True)
class _Regression:
    """Least squares of y on dose: the coefficients, their covariance, degrees of freedom, Student's t."""

    a: float
    b: float
    vaa: float
    vab: float
    vbb: float
    noise: float
    t: float
    t_sure: float
    curve: Curve | None = None

    @property
    def bent(self) -> bool:
        """Whether the readings bend: a line does not tell where they cross a target."""
        return self.curve is not None

    def crossing(self, y: float) -> float | None:
        """The dose at which the readings cross a value: by the curve where they bend, else by the line."""
        if self.curve is not None:
            return self.curve.dose_at(y, 1 if self.b > 0 else -1, 0.5)
        return (y - self.a) / self.b if self.b else None

    def between(self, y: float) -> tuple[float, float]:
        """Between which doses they cross it, nine times in ten; without an end where that cannot be said."""
        if self.curve is None:
            return _fieller(self, y)
        low, high = (self.curve.dose_at(y, 1 if self.b > 0 else -1, chance) for chance in (0.05, 0.95))
        return low or 0.0, math.inf if high is None else high

    def surely(self, y: float) -> float:
        """The dose from which they are beyond a value nine times in ten; infinite where none is."""
        if self.curve is None:
            return max(_fieller(self, y, self.t_sure)[1], self.crossing(y) or 0.0)
        found = self.curve.dose_at(y, 1 if self.b > 0 else -1, SURE)
        return math.inf if found is None else found

    def at(self, dose: float) -> float:
        return self.a + self.b * dose

    def half(self, dose: float) -> float:
        return self.t * math.sqrt(max(0.0, self.vaa + 2 * dose * self.vab + dose * dose * self.vbb))


def fit(read: list[RungRead], targets: list[Target], top_pct: float | None = None) -> Fit:
    """Fit ln yield, ln string and bleed against dose, and find the least dose that meets every target.

    The dose where a line crosses its target has a 90 % band by Fieller's theorem (1954). Raises Refused
    for two rungs with one dose, values that are none, and where a target's measure has fewer than three rungs.
    """
    seen: set[float] = set()
    for n, rung in enumerate(read):
        within(f"readings.{n}.dose_pct", rung.dose_pct, 0, 60, "%")
        if round(rung.dose_pct, 4) in seen:
            raise Refused(f"readings.{n}.dose_pct", "it stands twice", "a dose of its own")
        seen.add(round(rung.dose_pct, 4))
        for what in Measured:
            value = rung.value(what)
            if value is not None:
                within(f"readings.{n}.{what}", value, 0, 100_000, open_low=what in IN_LOGARITHMS)
    if len(read) < RUNGS_TO_FIT:
        raise Refused("readings", f"{len(read)} doses are too few to fit", f"{RUNGS_TO_FIT} doses or more")
    check_targets(targets)
    top = top_pct if top_pct is not None else max(rung.dose_pct for rung in read)
    fits: dict[Measured, _Regression] = {}
    lines, missing = [], []
    for what in Measured:
        points = [(rung.dose_pct, value) for rung in read if (value := rung.value(what)) is not None]
        if len(points) < RUNGS_TO_FIT:
            if points:
                missing.append(f"{WORDS[what]}: {RUNGS_TO_FIT - len(points)} more doses to check")
            continue
        fits[what] = _regress(points, what)
        lines.append(_line(what, len(points), fits[what], top))
    for n, target in enumerate(targets):
        if target.what not in fits:
            have = sum(rung.value(target.what) is not None for rung in read)
            raise Refused(
                f"targets.{n}.what", f"{WORDS[target.what]} was checked on {have} doses", f"{RUNGS_TO_FIT} or more"
            )
    return Fit(tuple(lines), tuple(missing), _answer(fits, targets, top) if targets else None)


WORDS = {Measured.YIELD: "yield stress", Measured.STRING: "string", Measured.BLEED: "bleed"}


UNITS = {Measured.YIELD: "Pa", Measured.STRING: "mm", Measured.BLEED: "mm"}


def check_targets(targets: list[Target]) -> None:
    """Refuse a target that says nothing, contradicts itself or stands twice, naming it."""
    for n, target in enumerate(targets):
        field = f"targets.{n}"
        if target.at_least is None and target.at_most is None:
            raise Refused(field, "says nothing", "at_least, at_most, or both")
        for name, bound in (("at_least", target.at_least), ("at_most", target.at_most)):
            if bound is not None:
                within(f"{field}.{name}", bound, 0, 100_000, UNITS[target.what], open_low=target.what in IN_LOGARITHMS)
        if target.at_least is not None and target.at_most is not None and target.at_least >= target.at_most:
            raise Refused(f"{field}.at_most", "not above the least", f"more than {target.at_least:g}")
        if any(other.what is target.what for other in targets[:n]):
            raise Refused(f"{field}.what", f"{WORDS[target.what]} twice", "each measure once")


def _regress(points: list[tuple[float, float]], what: Measured) -> _Regression:
    x = np.array([dose for dose, _ in points])
    y = np.array([math.log(value) if what in IN_LOGARITHMS else value for _, value in points])
    n, mean = len(x), x.mean()
    sxx = float(((x - mean) ** 2).sum())
    b = float(((x - mean) * (y - y.mean())).sum()) / sxx
    a = float(y.mean()) - b * float(mean)
    noise2 = float(((y - a - b * x) ** 2).sum()) / (n - 2)
    return _Regression(
        a,
        b,
        noise2 * (1 / n + float(mean) ** 2 / sxx),
        -noise2 * float(mean) / sxx,
        noise2 / sxx,
        math.sqrt(noise2),
        float(stdtrit(n - 2, (1 + CONFIDENCE) / 2)),
        float(stdtrit(n - 2, SURE)),
        of if n > RUNGS_TO_FIT and (of := curve(x, y)).likely > BENT else None,
    )


def _line(what: Measured, rungs: int, by: _Regression, top: float) -> Line:
    def shown(y: float) -> float:
        return math.exp(min(y, 50.0)) if what in IN_LOGARITHMS else max(0.0, y)

    band = tuple(
        BandPoint(dose, shown(by.at(dose)), shown(by.at(dose) - by.half(dose)), shown(by.at(dose) + by.half(dose)))
        for dose in np.linspace(0, top, 25).tolist()
    )
    sd = math.sqrt(by.vbb)
    return Line(
        what,
        rungs,
        by.a,
        by.b,
        sd,
        by.b - by.t * sd,
        by.b + by.t * sd,
        math.exp(by.b) if what in IN_LOGARITHMS else None,
        by.noise,
        band,
    )


def _answer(fits: dict[Measured, _Regression], targets: list[Target], top: float) -> Answer:
    met: list[Met] = []
    least, most = 0.0, top
    low, high = 0.0, 0.0
    for target in targets:
        by, logs = fits[target.what], target.what in IN_LOGARITHMS
        start, end = 0.0, top
        for bound, sign in ((target.at_least, 1), (target.at_most, -1)):
            if bound is None:
                continue
            y = math.log(bound) if logs else bound
            start, end = _stretch(by, y, sign, start, end)
            if sign * (by.at(0.0) - y) < 0 and sign * by.b > 0:
                near, far = by.between(y)
                low, high = max(low, near), max(high, far)
        says = _met_says(target, by, start, end, top)
        met.append(Met(target.what, start if start <= end else None, end if start <= end else None, says))
        least, most = max(least, start), min(most, end)
    if least <= most:
        if least == 0.0:
            return Answer(
                0.0, 0.0, min(high, top), high > top, tuple(met), "The paste meets every target as it is: none needed."
            )
        sure = max(least, max((_sure(fits[t.what], t) for t in targets), default=0.0))
        if sure <= most and not math.isinf(sure):
            dose = _rounded_up(sure)
            says = f"{dose:.3g} % is the least that meets every target nine times in ten; {least:.3g} % in the middle."
        else:
            dose = _rounded_up(least)
            says = (
                f"About {dose:.3g} % meets every target, but not surely: check two more doses near {dose:.2g} %, "
                "or a higher one."
            )
        bent = [WORDS[t.what] for t in targets if fits[t.what].bent]
        if bent:
            says += f" The readings of {' and '.join(bent)} level off: the dose is taken from a curve, not a line."
        if bent and dose > WIDE * least:
            says += f" Read a dose of {least:.2g} % as well: that narrows it most."
        high = max(high, least)
        return Answer(dose, max(0.0, min(low, least)), max(min(high, top), dose), high > top, tuple(met), says, least)
    failing = [judged for judged in met if judged.from_pct is None]
    if failing:
        says = "None does: " + "; ".join(judged.says for judged in failing) + "."
    else:
        needs = max(met, key=lambda judged: judged.from_pct or 0.0)
        stops = min(met, key=lambda judged: judged.to_pct if judged.to_pct is not None else math.inf)
        says = (
            f"None does: {WORDS[needs.what]} needs {needs.from_pct:.2g} % or more, "
            f"but {WORDS[stops.what]} allows at most {stops.to_pct:.2g} %."
        )
    return Answer(None, None, None, False, tuple(met), says)


def _rounded_up(dose: float) -> float:
    """Two digits behind the first, never down."""
    if dose <= 0:
        return 0.0
    step = 10 ** (math.floor(math.log10(dose)) - 1)
    return float(math.ceil(dose / step - 1e-9) * step)


SURE = 0.9
WIDE = 1.35
"""A sure dose of so many times the middle one asks for another rung."""

BENT = 0.5
"""From so likely on that readings bend, the dose is taken from the curve."""


def _sure(by: _Regression, target: Target) -> float:
    """The dose from which a line meets a target nine times in ten; infinite where the readings cannot say so."""
    dose = 0.0
    for bound, sign in ((target.at_least, 1), (target.at_most, -1)):
        if bound is None:
            continue
        y = math.log(bound) if target.what in IN_LOGARITHMS else bound
        if sign * (by.at(0.0) - y) >= 0 or sign * by.b <= 0:
            continue
        dose = max(dose, by.surely(y))
    return dose


def _stretch(by: _Regression, y: float, sign: int, start: float, end: float) -> tuple[float, float]:
    """The part of a stretch of doses where sign x (line - y) >= 0; start above end where there is none."""
    if abs(by.b) < 1e-12:
        return (start, end) if sign * (by.a - y) >= 0 else (1.0, 0.0)
    crossing = by.crossing(y)
    if crossing is None:
        crossing = (y - by.a) / by.b if not by.bent else math.inf
    return (max(start, crossing), end) if sign * by.b > 0 else (start, min(end, crossing))


def _fieller(by: _Regression, y: float, t: float | None = None) -> tuple[float, float]:
    """The doses at which the line could cross y, 90 %; without an end where the slope may be none."""
    t2 = (t if t is not None else by.t) ** 2
    a = by.b**2 - t2 * by.vbb
    b = 2 * ((by.a - y) * by.b - t2 * by.vab)
    c = (by.a - y) ** 2 - t2 * by.vaa
    root = b * b - 4 * a * c
    if a <= 0 or root < 0:
        crossing = (y - by.a) / by.b
        near = (-b + math.sqrt(root)) / (2 * a) if a < 0 <= root else 0.0
        return (near if 0 < near < crossing else 0.0), math.inf
    return max(0.0, (-b - math.sqrt(root)) / (2 * a)), (-b + math.sqrt(root)) / (2 * a)


def _met_says(target: Target, by: _Regression, start: float, end: float, top: float) -> str:
    word, unit = WORDS[target.what], UNITS[target.what]
    bounds = " and ".join(
        f"{name} {bound:g} {unit}"
        for name, bound in (("at least", target.at_least), ("at most", target.at_most))
        if bound is not None
    )
    if start > end:
        return f"{word} of {bounds} is not reached up to {top:g} %"
    if start <= 0 and end >= top:
        return f"{word} of {bounds} at every dose"
    if start <= 0:
        return f"{word} of {bounds} up to {end:.2g} %"
    if end >= top:
        return f"{word} of {bounds} from {start:.2g} %"
    return f"{word} of {bounds} from {start:.2g} to {end:.2g} %"
