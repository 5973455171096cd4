"""./niddy bench --only bands: how often a band holds the truth, where the world is as its model and where it is not."""

from __future__ import annotations

import math
import random
from collections.abc import Callable, Iterator
from dataclasses import replace
from uuid import uuid4

import numpy as np

from niddy.core.charts import capability
from niddy.core.demand import LOT_SD_LN, LotRecords, Observation, learn
from niddy.core.estimate import Z90
from niddy.core.eye import BIAS_SD, BODY_WIDTH, EYE_SD, Judgement, eye_of
from niddy.core.eye import leans as leans_by
from niddy.core.falling import Shape
from niddy.core.ladder import Measured, RungRead, Target, even_doses, fit
from niddy.core.making import OwnYield
from niddy.core.mixing.seeing import of_spectra
from niddy.core.sludge import Height, Weighing, drydown, forecast, settling
from niddy.core.sticks import FEEL_DENT, By, Taught, feel_of, known_dent
from niddy.core.wetting import body_at
from niddy.reference import observer
from tests.bench import mixing
from tests.core.test_sticks_pot import NOW, PLAN, Log

SEED = 3811
EACH = 150
AIM = "aim 85 to 97 %"

ROWS = (
    "dish: dry weight",
    "dish: hours to 3 % left",
    "dish: dry where it is said to be",
    "can: hours until clear",
    "can: what will be clear",
    "yield of the next run",
    "days until enough sludge",
    "Cpk of a recipe",
    "oil demand of a lot",
    "oil demand of a lot nobody ground",
    "how an eye leans",
    "least dose of a ladder",
    "square of a chart, from spectra",
    "square of a chart, from figures",
    "square of a chart, from masstone alone",
    "dent of a pot, by feel",
    "dent of a pot, by needle",
)
"""What is measured. A band that the API gives names the row it stands under in known_bands.txt."""

Left = Callable[[float], float]


def falls(shape: Shape, tau: float, chance: random.Random) -> Left:
    """One way in which something falls: what is left of it after so many hours."""
    if shape is Shape.EXPONENTIAL:
        return lambda h: math.exp(-h / tau)
    if shape is Shape.TAIL:
        share, times = chance.uniform(0.06, 0.3), chance.uniform(3, 8)
        return lambda h: (1 - share) * math.exp(-h / tau) + share * math.exp(-h / (times * tau))
    c = chance.uniform(0.12, 0.5)
    return lambda h: 1 - h / tau if h < tau * (1 - c) else c * math.exp(-(h - tau * (1 - c)) / (c * tau))


def hours_until(wanted: float, left: Left) -> float:
    """Hours until so much is left, looked for by halving."""
    low, high = 0.0, 20_000.0
    for _ in range(60):
        middle = (low + high) / 2
        low, high = (middle, high) if left(middle) > wanted else (low, middle)
    return high


def hours_to(residual: float, start_g: float, dry_g: float, left: Left) -> float:
    """Hours until so much is left of a dish whose fall is known."""
    return hours_until(residual * dry_g / ((1 - residual) * (start_g - dry_g)), left)


def dishes(shape: Shape, count: int, chance: random.Random) -> Iterator[tuple[float, float, Left, list[Weighing]]]:
    """Made-up dishes: start and dry weight in g, how they fall, and their weighings."""
    for _ in range(count):
        left = falls(shape, math.exp(chance.gauss(math.log(30), 0.6)), chance)
        start, dry = 1.0, 0.0
        while not 0.1 < dry / start < 0.92:
            start = chance.uniform(80, 400)
            dry = start * math.exp(chance.gauss(math.log(0.45), 0.5))
        readings = []
        for hour in (0, 8, 24, 48, 72, 120)[: chance.randint(3, 6)]:
            grams = dry + (start - dry) * left(hour)
            readings.append(Weighing(float(hour), grams + chance.gauss(0, max(0.1, 0.003 * grams))))
        yield start, dry, left, readings


def _dishes(shape: Shape, chance: random.Random) -> Iterator[tuple[str, bool]]:
    for start, dry, left, readings in dishes(shape, EACH, chance):
        made, true = drydown(readings), hours_to(0.03, start, dry, left)
        yield "dish: dry weight", made.dry_g.low <= dry <= made.dry_g.high
        yield "dish: hours to 3 % left", made.hours_to_target.low <= true <= made.hours_to_target.high
        over = 1 - dry / (dry + (start - dry) * left(readings[-1].hours))
        if made.enough >= 0.9:
            yield "dish: dry where it is said to be", over <= 0.03


def _cans(shape: Shape, chance: random.Random) -> Iterator[tuple[str, bool]]:
    for _ in range(EACH):
        left = falls(shape, math.exp(chance.gauss(math.log(18), 0.7)), chance)
        end = 1.0
        while not 0.08 < end < 0.6:
            end = math.exp(chance.gauss(math.log(0.25), 0.45))
        heights = []
        for hour in (6, 20, 30, 48)[: chance.randint(2, 4)]:
            clear = 100 * (1 - end) * (1 - left(hour)) + chance.gauss(0, 2)
            heights.append(Height(float(hour), min(100.0, max(0.0, clear)), 100.0))
        made, true = settling(heights), hours_until(0.05, left)
        yield "can: hours until clear", made.hours_to_clear.low <= true <= made.hours_to_clear.high
        yield "can: what will be clear", made.clear_share.low <= 1 - end <= made.clear_share.high


def _few(uneven: bool, chance: random.Random) -> Iterator[tuple[str, bool]]:
    """Yields, weeks of sludge and Cpk from few readings: as thought, and where spreads are not."""
    for _ in range(2 * EACH):
        apart = 0.07 * (math.exp(chance.gauss(0, 0.6)) if uneven else 1.0)
        true = chance.gauss(0.82, 0.06)
        runs = [chance.gauss(true, apart) for _ in range(chance.randint(1, 4) + 1)]
        found = OwnYield(tuple(runs[:-1])).of(True)
        assert found is not None
        yield "yield of the next run", found.low <= runs[-1] <= found.high
        idle, mean = (0.35 if uneven else 0.0), chance.uniform(2, 10)
        weeks = [0.0 if chance.random() < idle else chance.gammavariate(2.8, mean / 2.8) for _ in range(300)]
        seen, want = weeks[: chance.randint(4, 10)], chance.uniform(3, 12) * mean
        if any(seen):
            days, got, n = forecast(seen, 0, want), 0.0, 0
            while got < want and len(seen) + n < len(weeks):
                got, n = got + weeks[len(seen) + n], n + 1
            yield "days until enough sludge", days.low / 7 <= n and n - 1 <= days.high / 7
        off, wide = chance.uniform(0, 2), math.sqrt(3)
        spread = [chance.uniform(-wide, wide) if uneven else chance.gauss(0, 1) for _ in range(chance.randint(8, 25))]
        cpk = capability([45 + off + one for one in spread], 41, 49)
        assert cpk is not None
        yield "Cpk of a recipe", cpk.low <= (4 - off) / 3 <= cpk.high


def _learned(uneven: bool, chance: random.Random) -> Iterator[tuple[str, bool]]:
    """Lots, eyes and ladders: as thought, and where each record errs by more than it is taken for."""
    for _ in range(2 * EACH):
        kind = chance.gauss(math.log(53.4), 0.1466)
        true = [math.exp(kind + chance.gauss(0, LOT_SD_LN)) for _ in range(3)]

        def seen(oil: float) -> Observation:
            sd = chance.choice((0.05, 0.1, 0.12))
            err = sd * (math.exp(chance.gauss(0, 0.5)) if uneven else 1.0)
            return Observation(oil * math.exp(chance.gauss(0, err)), sd)

        lots = tuple(LotRecords(f"{n}", tuple(seen(true[n]) for _ in range(chance.randint(1, 3)))) for n in range(2))
        found = learn(42, 68, lots)
        of_lot, unseen = found.lots["0"].estimate, found.unseen_lot.estimate
        yield "oil demand of a lot", of_lot.low <= true[0] <= of_lot.high
        yield "oil demand of a lot nobody ground", unseen.low <= true[2] <= unseen.high
        bias, scatter = chance.gauss(0, BIAS_SD), chance.uniform(0.03, 0.12) if uneven else EYE_SD
        pastes = [chance.uniform(0.62, 1.0) for _ in range(chance.randint(4, 40))]
        named = [Judgement(paste, body_at(paste + bias + chance.gauss(0, scatter))) for paste in pastes]
        leans = leans_by(eye_of(named), len(named))
        assert leans.low is not None and leans.high is not None
        yield "how an eye leans", leans.low <= bias / BODY_WIDTH <= leans.high
        noise = 0.08 * (math.exp(chance.gauss(0, 0.6)) if uneven else 1.0)
        read = [
            RungRead(dose, 40 * math.exp(0.5 * dose + chance.gauss(0, noise)), None, None) for dose in even_doses(6, 3)
        ]
        answer = fit(read, [Target(Measured.YIELD, at_least=40 * math.exp(0.75))]).answer
        if answer is not None and answer.low_pct is not None and answer.high_pct is not None:
            yield "least dose of a ladder", answer.low_pct <= 1.5 <= answer.high_pct


_EYE = of_spectra(observer())


def _squares(make: Callable[[np.random.Generator], mixing.Hidden], chance: random.Random) -> Iterator[tuple[str, bool]]:
    """Squares of made-up paints, by what was read of them: within what is said of each, or not."""
    for _ in range(4):
        for read in mixing.READ:
            luck = np.random.default_rng(chance.randrange(1 << 30))
            off, said = mixing.pairs_off([make(luck) for _ in range(8)], _EYE, luck, read)
            for inside in off <= said:
                yield f"square of a chart, from {read[0]}", bool(inside)


def _pots(steep: float, chance: random.Random) -> Iterator[tuple[str, bool]]:
    """Pots by thumb and by needle: the band of their dent after a drop, a correction and another drop."""
    for _ in range(EACH):
        for by, sd in (("feel", 0.25), ("needle", 0.12)):
            dented = stick_of(by, sd, steep, chance)
            yield f"dent of a pot, by {by}", dented


def stick_of(by: str, sd: float, steep: float, chance: random.Random) -> bool:
    """Whether the band of a pot's dent holds after two drops, where oil softens so many times what the rules say."""
    off, bare = chance.gauss(0, 0.35), math.log(34)
    drops: list[Taught] = []
    moved = 0.0
    for n in range(2):
        truly = bare + off + steep * moved
        dent = math.exp(truly + chance.gauss(0, sd))
        if by == "feel":
            dent = FEEL_DENT.get(feel_of(dent, 0.7), 130.0)
        drops.append(Taught(uuid4(), math.log(dent) - bare - moved, By(by), NOW))
        if n == 0:
            moved = chance.uniform(-0.3, 0.3)
    reading = replace(Log().filled().reading(), ln_dent_bare=bare + moved)
    known = known_dent(PLAN, reading, drops)
    assert known is not None
    return abs(known.ln_dmm - (bare + off + steep * moved)) <= Z90 * known.sd


def covered(seed: int = SEED) -> dict[str, dict[str, float]]:
    """For each band and world, in how many of a hundred cases the band held."""
    worlds: list[tuple[str, Callable[[random.Random], Iterator[tuple[str, bool]]]]] = []
    for shape in Shape:
        worlds.append((shape.value, lambda luck, of=shape: _dishes(of, luck)))  # type: ignore[misc]
        worlds.append((shape.value, lambda luck, of=shape: _cans(of, luck)))  # type: ignore[misc]
    worlds.append(("as its model", lambda luck: _few(False, luck)))
    worlds.append(("uneven", lambda luck: _few(True, luck)))
    worlds.append(("as its model", lambda luck: _learned(False, luck)))
    worlds.append(("uneven", lambda luck: _learned(True, luck)))
    worlds.append(("broad bands", lambda luck: _squares(mixing.made_up, luck)))
    worlds.append(("strong organics", lambda luck: _squares(mixing.strong_organic, luck)))
    worlds.append(("as its model", lambda luck: _pots(1.0, luck)))
    worlds.append(("oil softens half as much again", lambda luck: _pots(1.5, luck)))
    held: dict[str, dict[str, list[bool]]] = {}
    for name, world in worlds:
        for band, inside in world(random.Random(f"{seed}-{name}")):
            held.setdefault(band, {}).setdefault(name, []).append(inside)
    return {band: {name: 100 * sum(each) / len(each) for name, each in by.items()} for band, by in held.items()}


def print_bands() -> None:
    """The table."""
    print(f"seed {SEED}, {EACH} of each world; {AIM}")
    held = covered()
    for band in ROWS:
        by = held.pop(band)
        print(f"| {band} | " + " | ".join(f"{name} {share:.0f} %" for name, share in by.items()) + " |")
    assert not held, held
