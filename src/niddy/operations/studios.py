"""./niddy bench --only studios --sizes 60: made-up makers with hidden truth do what Niddy says; how often it is right.

Each maker has an eye with a bias of its own, spoons and drops that are not what the library says, lots that drift, and
now and then types an amount in another unit. Everything goes through the studio floor, in a database of its own.
"""

from __future__ import annotations

import math
import random
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from statistics import median
from typing import Any
from uuid import UUID

from sqlalchemy.orm import Session

from niddy.core.advice import NextAct
from niddy.core.demand import LOT_SD_LN, WEIGHED_SD_LN
from niddy.core.estimate import Z90
from niddy.core.evidence import EYE_BIAS_SD, EYE_SD
from niddy.core.measures import DROP_G, GRAMS_PER_OUNCE, Measure, Unit
from niddy.core.plan import Plan
from niddy.core.wetting import body_at, in_oil
from niddy.db import Database
from niddy.reference import library
from niddy.studio import materials, plan, rubout, slab, workshop
from niddy.studio.materials import Asked, NewLot
from niddy.studio.plan import PlanAsked
from niddy.studio.slab import SlabView, act_of

BEGUN = datetime(2026, 6, 18, 10, tzinfo=UTC)
OIL = "linseed-refined"
OIL_DENSITY = 0.930
TARGET = 0.86
TEASPOON_ML = 5.0
MOST_ACTS = 120
"""A session that asks for more than this goes nowhere."""


@dataclass
class Found:
    """What became of the makers of one kind."""

    bands: list[bool] = field(default_factory=list)
    too_far: list[bool] = field(default_factory=list)
    off_middle: list[float] = field(default_factory=list)
    same_body: list[float] = field(default_factory=list)
    slips_asked: list[bool] = field(default_factory=list)
    doubts: int = 0
    batches: int = 0
    stuck: int = 0

    def row(self, kind: str) -> str:
        """One line of the table."""

        def share(values: list[bool]) -> str:
            return f"{100 * sum(values) / len(values):5.0f} %" if values else "      -"

        off = "      -        -"
        if self.off_middle:
            apart = median(abs(value) for value in self.off_middle)
            off = f"{100 * median(self.off_middle):+5.1f} % {100 * apart:5.1f} %"
        near = share([abs(value) <= 0.03 for value in self.same_body])
        return (
            f"{kind:8} {share(self.bands)} {share(self.too_far)} {off} {near} {share(self.slips_asked)}"
            f" {self.batches:7} {self.doubts:7} {self.stuck:5}"
        )


HEADING = "makers     band too far  middle  typical   same   slips batches  doubts stuck"
AIMS = "aims     85-95*   <10 %    <2 %           >75 %   >95 %   (* weighed 88-92)"
"""`middle`: final oil against the middle of the body, in the median; `typical`: the same without its sign."""


class Maker:
    """One maker with a hidden truth, working in a session of the studio floor."""

    def __init__(self, session: Session, luck: random.Random, kind: str) -> None:
        self.session, self.luck, self.kind = session, luck, kind
        self.now = BEGUN
        self.bias = luck.gauss(0, EYE_BIAS_SD)
        self.pigment = luck.choice([p for p in library().pigments.values() if p.oil_absorption_low > 12])
        low, high = self.pigment.oil_absorption_low, self.pigment.oil_absorption_high
        self.theta = luck.gauss((math.log(low) + math.log(high)) / 2, math.log(high / low) / (2 * Z90))
        self.drop = math.exp(luck.gauss(0, math.log(1.30) / Z90)) if kind != "weighed" else 1.0
        self.loose = math.exp(luck.gauss(0, math.log(1.35) / Z90)) if kind == "spoons" else 1.0
        self.lots = 0

    def id(self) -> UUID:
        return UUID(int=self.luck.getrandbits(128))

    def receive(self) -> tuple[int, float]:
        """A lot; its id and its true oil absorption in the oil at hand."""
        self.lots += 1
        truth = math.exp(self.theta + self.luck.gauss(0, LOT_SD_LN))
        new = NewLot("pigment", self.pigment.key, f"S{self.lots}", self.now.date(), 5_000.0)
        return materials.receive(self.session, self.now, new), in_oil(truth, OIL_DENSITY)

    def rub_out(self, lot: int, absorption: float) -> None:
        """A rub-out by weight, or counted in drops."""
        oil = Asked(None, OIL)
        test = rubout.begin(self.session, self.now, self.id(), lot, oil, 5.0, None)
        grams = 5.0 * absorption / 100 * math.exp(self.luck.gauss(0, WEIGHED_SD_LN))
        if self.kind == "weighed":
            measure = Measure(Unit.GRAM, round(grams, 3))
        else:
            measure = Measure(Unit.DROP, float(max(1, round(grams / (DROP_G * self.drop)))))
        rubout.add_oil(self.session, self.now, test, self.id(), measure)
        rubout.end(self.session, self.now, test, sure=True)

    def batch(self, lot: int, absorption: float, found: Found, *, slip: bool = False) -> float | None:
        """A batch from plan to finish, as advised; its true reduced PVC, None where it went nowhere."""
        made = _Batch(self, lot, absorption, found, slip=slip)
        return made.run()


class _Batch:
    def __init__(self, maker: Maker, lot: int, absorption: float, found: Found, *, slip: bool) -> None:
        self.maker, self.absorption, self.found, self.slip = maker, absorption, found, slip
        self.powder_g = self.oil_g = 0.0
        spoons = maker.kind == "spoons"
        line: dict[str, Any] = {"lot_id": lot}
        line |= {"spoons": {"amount": 6.0, "unit": "teaspoon"}} if spoons else {"parts": 1.0}
        asked: dict[str, Any] = {"lines": [line], "oil": {"oil_key": OIL}, "reduced_pvc": TARGET}
        self.asked = PlanAsked.model_validate(asked if spoons else asked | {"pigment_g": 20.0})
        self.source = f"lot-{lot}"
        self.plan: Plan = plan.compute(maker.session, self.asked).plan
        self.number = slab.take_to_slab(maker.session, maker.now, maker.id(), self.asked)
        self.slipped: UUID | None = None
        self.entries: dict[UUID, tuple[str, float]] = {}

    @property
    def c(self) -> float:
        return 100 * OIL_DENSITY / self.maker.pigment.density_g_per_ml

    @property
    def reduced(self) -> float:
        return (self.absorption + self.c) / (100 * self.oil_g / self.powder_g + self.c)

    def needed_g(self, reduced_seen: float) -> float:
        """True oil at which this maker sees a reduced PVC."""
        ratio = (self.absorption + self.c) / (reduced_seen - self.maker.bias) - self.c
        return ratio * self.powder_g / 100

    def do(self, kind: str, **what: Any) -> SlabView:
        act = act_of({"id": self.maker.id(), "kind": kind, "made_at": self.maker.now, **what})
        self.last = act.id
        return slab.record(self.maker.session, self.maker.now, self.number, act)

    def powder(self, grams: float) -> SlabView:
        """Powder as it is measured here; what is really in grows with it."""
        maker = self.maker
        if maker.kind == "spoons":
            loose = maker.pigment.loose_density_g_per_ml
            amount = 6.0 if not self.powder_g else max(0.05, round(grams / (TEASPOON_ML * loose) * 8) / 8)
            real = amount * TEASPOON_ML * loose * maker.loose
            seen = self.do("powder", source=self.source, measure={"unit": "teaspoon", "amount": amount})
        else:
            amount = real = round(grams, 2)
            seen = self.do("powder", source=self.source, measure={"amount": amount})
        self.powder_g += real
        self.entries[self.last] = ("powder", real)
        return seen

    def oil(self, grams: float) -> SlabView:
        maker = self.maker
        source = f"library-{OIL}"
        if maker.kind == "weighed":
            real = amount = max(0.01, round(grams, 2))
            measure: dict[str, Any] = {"amount": amount}
            if self.slip and self.slipped is None:
                measure = {"amount": max(0.001, round(amount / GRAMS_PER_OUNCE, 3))}
        else:
            drops = max(1, round(grams / DROP_G))
            real = drops * DROP_G * maker.drop
            measure = {"unit": "drop", "amount": float(drops)}
            if self.slip and self.slipped is None:
                measure = {"unit": "g", "amount": float(drops)}
        seen = self.do("oil", source=source, measure=measure)
        if self.slip and self.slipped is None:
            self.slipped = self.last
        self.oil_g += real
        self.entries[self.last] = ("oil", real)
        return seen

    def look(self) -> SlabView:
        if self.oil_g <= 0 or self.reduced > 1.3:
            return self.do("look", stage="crumbs")
        seen = self.reduced + self.maker.bias + self.maker.luck.gauss(0, EYE_SD)
        return self.do("look", stage="even_paste", body=body_at(seen))

    def answer(self, seen: SlabView) -> SlabView:
        self.found.doubts += 1
        assert seen.doubt is not None
        if self.slipped is not None:
            self.found.slips_asked.append(True)
            self.slip, wrong = False, self.slipped
            self.slipped = None
            _, real = self.entries[wrong]
            if self.maker.kind == "weighed":
                return self.do("amend", amends=wrong, measure={"amount": round(real, 3)})
            drops = round(real / (DROP_G * self.maker.drop))
            return self.do("amend", amends=wrong, measure={"unit": "drop", "amount": float(drops)})
        return self.do("answer", answer="believe_eye")

    def run(self) -> float | None:
        maker, found = self.maker, self.found
        found.batches += 1
        seen = slab.view(maker.session, maker.now, self.number)
        poured = False
        for _ in range(MOST_ACTS):
            maker.now += timedelta(minutes=1)
            advice = seen.advice
            match advice.act:
                case NextAct.READY:
                    seen = self.do("ready")
                case NextAct.POWDER:
                    seen = self.powder(advice.grams or 1.0)
                    if not poured:
                        self.check_plan()
                case NextAct.POUR:
                    seen = self.oil(advice.grams or 0.5)
                    if not poured and not self.slip:
                        found.too_far.append(self.oil_g > self.needed_g(TARGET))
                    poured = True
                case NextAct.MULL:
                    seen = self.do("mull")
                    maker.now += timedelta(minutes=30)
                    seen = slab.view(maker.session, maker.now, self.number)
                case NextAct.MULL_ON:
                    maker.now += timedelta(minutes=10)
                    seen = slab.view(maker.session, maker.now, self.number)
                case NextAct.LOAD_DONE:
                    seen = self.do("load_done", ended_by="minutes")
                case NextAct.GATHER:
                    seen = self.do("gather")
                case NextAct.LOOK | NextAct.REST:
                    seen = self.do("look", stage="wet_curds") if seen.dusty and poured else self.look()
                case NextAct.DRAW_OIL:
                    seen = self.do("choose_way", way="leave")
                case NextAct.TOO_LOOSE:
                    ways = [way.way for way in seen.ways]
                    if not ways:
                        break
                    seen = self.do("choose_way", way="add_pigment" if "add_pigment" in ways else ways[0])
                case NextAct.DOUBT:
                    seen = self.answer(seen)
                case NextAct.RIGHT:
                    if advice.grams is not None:
                        seen = self.oil(advice.grams)
                        continue
                    if self.slip and self.slipped is not None:
                        found.slips_asked.append(False)
                    self.do("finish", verdict="right", tubes=[], leftover_ml=0.0)
                    if seen.target_reduced_pvc == TARGET:
                        found.off_middle.append(self.oil_g / self.needed_g(0.85) - 1)
                    return self.reduced
                case _:
                    break
        found.stuck += 1
        return None

    def check_plan(self) -> None:
        """Whether the plan's band holds the oil that will be seen as right, in grams as they are counted here."""
        needs = self.needed_g(TARGET) / (1.0 if self.maker.kind == "weighed" else self.maker.drop)
        expected = self.plan.oil_mass
        if self.maker.kind == "weighed" or self.maker.kind == "spoons":
            needs = self.needed_g(TARGET)
        low, high = expected.low or expected.value, expected.high or expected.value
        self.found.bands.append(low <= needs <= high)


def studio(session: Session, luck: random.Random, kind: str, found: Found) -> None:
    """One maker's year: a lot by the library alone, then with two rub-outs, the next lot, and a batch with a slip."""
    maker = Maker(session, luck, kind)
    lot, absorption = maker.receive()
    maker.batch(lot, absorption, found)
    for _ in range(2):
        maker.rub_out(lot, absorption)
    first = maker.batch(lot, absorption, found)
    following, other = maker.receive()
    for _ in range(2):
        maker.rub_out(following, other)
    second = maker.batch(following, other, found)
    if first is not None and second is not None:
        found.same_body.append(second - first)
    maker.batch(following, other, found, slip=True)


KINDS = ("weighed", "drops", "spoons")


def simulate(url: str, studios: int, seed: int = 1, said: Callable[[str], None] = print) -> dict[str, Found]:
    """So many studios of each kind; what was found, by kind. Each maker is rolled back, so that none knows another."""
    database = Database(url)
    with database.session() as session:
        workshop.furnish(session)
    by_kind: dict[str, Found] = {}
    for kind in KINDS:
        by_kind[kind] = Found()
        for n in range(studios):
            with _forgotten(database) as session:
                studio(session, random.Random(f"{seed}-{kind}-{n}"), kind, by_kind[kind])
            said(f"\r{kind}: {n + 1} of {studios}")
    database.dispose()
    return by_kind


@contextmanager
def _forgotten(database: Database) -> Iterator[Session]:
    """A session of which nothing stays."""
    with Session(database.engine, expire_on_commit=False) as session:
        try:
            yield session
        finally:
            session.rollback()


def print_table(url: str, studios: int) -> None:
    """So many made-up makers of each kind, against the aims."""
    by_kind = simulate(url, studios, said=lambda line: print(line, end="", flush=True))
    print(f"\n\n{studios} made-up studios of each kind\n{HEADING}\n{AIMS}")
    for kind, found in by_kind.items():
        print(found.row(kind))
