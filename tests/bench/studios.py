"""./niddy bench --only studios --sizes 60: made-up makers with hidden truth do what Niddy says; how often it is right.

Each maker has an eye with a bias of its own, spoons and drops that are not what the library says, lots that drift, and
now and then types an amount in another unit. Everything goes through the studio floor, in a database of its own.
"""

from __future__ import annotations

import math
import random
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import UTC, datetime, timedelta
from typing import Any
from uuid import UUID

from sqlalchemy.orm import Session

from niddy.core.acting import AmountAsked
from niddy.core.advice import NextAct
from niddy.core.demand import LOT_SD_LN, WEIGHED_SD_LN
from niddy.core.estimate import Z90
from niddy.core.evidence import EYE_BIAS_SD, EYE_SD, STAGE_SD
from niddy.core.materials import Pigment
from niddy.core.measures import DROP_G, GRAMS_PER_OUNCE, Unit
from niddy.core.plan import Plan
from niddy.core.pours import EXCESS_REDUCED_PVC
from niddy.core.telling import Told
from niddy.core.wetting import body_at, in_oil
from niddy.db import Database
from niddy.reference import library
from niddy.studio import materials, plan, rubout, slab, workshop
from niddy.studio.materials import Asked, NewLot
from niddy.studio.plan import PlanAsked
from niddy.studio.slab import SlabView, act_of
from tests.bench.studios_found import AIMS, HEADING, SLIPS, Found, Slip

BEGUN = datetime(2026, 6, 18, 10, tzinfo=UTC)
OIL = "linseed-refined"
OIL_DENSITY = 0.930
TARGET = 0.86
MIDDLE = 0.85
TAU_SD_LN = 0.10
MOST_ACTS = 120
"""A session that asks for more than this goes nowhere."""


class Maker:
    """One maker with a hidden truth, working in a session of the studio floor."""

    def __init__(self, session: Session, luck: random.Random, kind: str) -> None:
        self.session, self.luck, self.kind = session, luck, kind
        self.now = BEGUN
        self.bias = luck.gauss(0, EYE_BIAS_SD)
        self.pigment = luck.choice(_POWDERS)
        self.other = luck.choice([p for p in _POWDERS if _unlike(p, self.pigment)])
        self.theta = _theta(luck, self.pigment)
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
            measure = AmountAsked(unit=Unit.GRAM, amount=round(grams, 3))
        else:
            measure = AmountAsked(unit=Unit.DROP, amount=float(max(1, round(grams / (DROP_G * self.drop)))))
        rubout.add_oil(self.session, self.now, test, self.id(), measure)
        rubout.end(self.session, self.now, test, sure=True)

    def batch(
        self, lot: int, absorption: float, found: Found, slip: Slip | None = None, *, later: bool = False
    ) -> float | None:
        """A batch from plan to finish, as advised; its true reduced PVC, None where it went nowhere."""
        return _Batch(self, lot, absorption, found, slip, later=later).run()


_POWDERS = [p for p in library().pigments.values() if p.oil_absorption_low > 12 and p.family != "extender"]


def _unlike(one: Pigment, other: Pigment) -> bool:
    """Whether two powders take so different an amount of oil that it matters which is in."""
    middles = [math.sqrt(p.oil_absorption_low * p.oil_absorption_high) for p in (one, other)]
    return max(middles) / min(middles) >= 1.35


def _theta(luck: random.Random, pigment: Pigment) -> float:
    low, high = pigment.oil_absorption_low, pigment.oil_absorption_high
    return luck.gauss((math.log(low) + math.log(high)) / 2, math.log(high / low) / (2 * Z90))


class _Batch:
    """One batch: what is really in it, how long its powder was worked, and what was done wrong."""

    def __init__(
        self, maker: Maker, lot: int, absorption: float, found: Found, slip: Slip | None, *, later: bool
    ) -> None:
        self.maker, self.absorption, self.found, self.slip, self.later = maker, absorption, found, slip, later
        self.density = maker.pigment.density_g_per_ml
        if slip is Slip.POWDER:
            self.absorption = in_oil(math.exp(_theta(maker.luck, maker.other)), OIL_DENSITY)
            self.density = maker.other.density_g_per_ml
        self.powder_g = self.oil_g = 0.0
        self.worked_min = self.settled_min = 0.0
        spoons = maker.kind == "spoons"
        line: dict[str, Any] = {"lot_id": lot}
        line |= {"spoons": {"amount": 6.0, "unit": "teaspoon"}} if spoons else {"parts": 1.0}
        asked: dict[str, Any] = {"lines": [line], "oil": {"oil_key": OIL}, "reduced_pvc": TARGET}
        if spoons:
            asked |= {"tool": "knife", "measuring": "spoons"}
        self.asked = PlanAsked.model_validate(asked if spoons else asked | {"pigment_g": 20.0})
        self.source = f"lot-{lot}"
        self.plan: Plan = plan.compute(maker.session, self.asked).plan
        self.tau_min = self.plan.facts.tau_min * math.exp(maker.luck.gauss(0, TAU_SD_LN))
        self.number = slab.take_to_slab(maker.session, maker.now, maker.id(), self.asked)
        self.wrong: UUID | None = None
        self.right: dict[str, Any] = {}
        self.entered: list[UUID] = []

    @property
    def c(self) -> float:
        return 100 * OIL_DENSITY / self.density

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
        seen = slab.record(self.maker.session, self.maker.now, self.number, act)
        return self.asked_at_entries(seen)

    def asked_at_entries(self, seen: SlabView) -> SlabView:
        while seen.doubt is not None and seen.doubt.of_entry:
            seen = self.asked_at_entry(seen)
        return seen

    def asked_at_entry(self, seen: SlabView) -> SlabView:
        assert seen.doubt is not None
        if self.wrong is not None and seen.doubt.suspect == self.wrong:
            assert self.slip is not None
            self.found.at_entry[self.slip].append(True)
            self.found.at_all[self.slip].append(True)
            return self.put_right()
        if self.slip is not Slip.POWDER:
            self.found.false_questions += 1
        return self.do("answer", answer="as_entered", about=str(seen.doubt.suspect))

    def put_right(self) -> SlabView:
        wrong, self.wrong, self.slip = self.wrong, None, None
        return self.do("amend", amends=str(wrong), measure=self.right)

    def mistaken(self, measure: dict[str, Any], real: float, what: str) -> dict[str, Any]:
        """The measure as it is typed: once, and by one kind of slip, something else than what was taken."""
        slip, luck = self.slip, self.maker.luck
        if self.wrong is not None or slip in (None, Slip.POWDER) or "parts" in measure:
            return measure
        if what == "oil" and slip is Slip.TARE:
            return measure
        typed = dict(measure)
        match slip:
            case Slip.TEN_TIMES:
                typed["amount"] = round(measure["amount"] * luck.choice((0.1, 10.0)), 3)
            case Slip.UNIT if measure.get("unit", "g") == "g":
                ml = self.maker.pigment.loose_density_g_per_ml if what == "powder" else GRAMS_PER_OUNCE
                typed["amount"] = max(0.001, round(measure["amount"] / luck.choice((GRAMS_PER_OUNCE, ml)), 3))
            case Slip.UNIT:
                typed["unit"] = "g"
            case Slip.SPOON if "spoon" in measure.get("unit", "g"):
                others = [unit for unit in ("tablespoon", "teaspoon", "half_teaspoon") if unit != measure["unit"]]
                typed["unit"] = luck.choice(others)
            case Slip.TARE if measure.get("unit", "g") == "g":
                typed["amount"] = round(measure["amount"] + luck.uniform(8, 60), 2)
        if typed != measure:
            self.right = measure
            self.wrong = UUID(int=0)
        return typed

    def enter(self, kind: str, source: str, measure: dict[str, Any], real: float) -> SlabView:
        before = self.wrong
        typed = self.mistaken(measure, real, kind)
        slipped = before is None and self.wrong is not None
        act_id = UUID(int=self.maker.luck.getrandbits(128))
        if slipped:
            self.wrong = act_id
        self.entered.append(act_id)
        act = act_of({"id": act_id, "kind": kind, "made_at": self.maker.now, "source": source, "measure": typed})
        if kind == "powder":
            self.powder_g += real
        else:
            self.oil_g, self.settled_min = self.oil_g + real, 0.0
        seen = slab.record(self.maker.session, self.maker.now, self.number, act)
        if slipped and not (seen.doubt is not None and seen.doubt.of_entry):
            assert self.slip is not None
            self.found.at_entry[self.slip].append(False)
        return self.asked_at_entries(seen)

    def powder(self, grams: float, told: Told | None) -> SlabView:
        """Powder as it is measured here; what is really in grows with it."""
        maker = self.maker
        if maker.kind == "spoons":
            assert told is not None
            measure = {"unit": str(told.unit), "amount": told.amount}
            return self.enter("powder", self.source, measure, told.grams * maker.loose)
        amount = max(0.01, round(grams, 2))
        return self.enter("powder", self.source, {"amount": amount}, amount)

    def oil(self, grams: float, told: Told | None) -> SlabView:
        maker = self.maker
        source = f"library-{OIL}"
        if maker.kind == "weighed":
            amount = max(0.01, round(grams, 2))
            return self.enter("oil", source, {"amount": amount}, amount)
        if told is not None and told.unit is not Unit.DROP:
            # Spoons and marks of oil hold what they say, within a hand's care.
            real = told.grams * math.exp(maker.luck.gauss(0, 0.03))
            parts = [{"unit": str(part.unit), "amount": part.amount} for part in told.parts]
            measure = {"unit": str(told.unit), "amount": told.amount, **({"parts": parts} if parts else {})}
            return self.enter("oil", source, measure, real)
        drops = max(1, round(grams / DROP_G))
        return self.enter("oil", source, {"unit": "drop", "amount": float(drops)}, drops * DROP_G * maker.drop)

    def look(self) -> SlabView:
        """What this eye sees: too dry for what is not dispersed, too wet for oil that is not worked in."""
        excess = EXCESS_REDUCED_PVC * math.exp(-self.worked_min / self.tau_min)
        blur = self.maker.luck.gauss(0, STAGE_SD)
        if self.oil_g <= 0 or not self.worked_min:
            dry = self.reduced + excess + blur if self.oil_g > 0 else 2.0
            if dry > 1.15:
                return self.do("look", stage="dry_islands")
            return self.do("look", stage="crumbs" if dry > 1.04 else "wet_curds")
        wet = 0.05 * math.exp(-self.settled_min / (self.tau_min / 4))
        seen = self.reduced + excess - wet + self.maker.bias + self.maker.luck.gauss(0, EYE_SD)
        if seen > 1.10:
            return self.do("look", stage="crumbs")
        return self.do("look", stage="even_paste", body=body_at(seen))

    def answer(self, seen: SlabView) -> SlabView:
        """Looks and log are asked about: the slip is owned up to, or the eye believed."""
        if self.slip is not None and (self.wrong is not None or self.slip is Slip.POWDER):
            self.found.at_all[self.slip].append(True)
            if self.slip is Slip.POWDER:
                self.slip = None
                return self.do("answer", answer="believe_eye")
            return self.put_right()
        self.found.false_questions += 1
        return self.do("answer", answer="believe_eye")

    def work(self, minutes: float) -> SlabView:
        self.maker.now += timedelta(minutes=minutes)
        self.worked_min += minutes
        self.settled_min += minutes
        return slab.view(self.maker.session, self.maker.now, self.number)

    def run(self) -> float | None:
        maker, found, slip = self.maker, self.found, self.slip
        found.batches += 1
        seen = slab.view(maker.session, maker.now, self.number)
        poured = False
        for _ in range(MOST_ACTS):
            maker.now += timedelta(minutes=0.5)
            advice = seen.advice
            match advice.act:
                case NextAct.READY:
                    seen = self.do("ready")
                case NextAct.POWDER:
                    seen = self.powder(advice.grams or 1.0, seen.advice_told)
                    if not poured and slip is None:
                        self.check_plan()
                case NextAct.POUR:
                    seen = self.oil(advice.grams or 0.5, seen.advice_told)
                    if not poured and slip is None:
                        found.too_far.append(self.oil_g > self.needed_g(TARGET))
                    poured = True
                case NextAct.MULL:
                    self.do("mull")
                    seen = self.work(seen.mulling.left_minutes + 0.1)
                case NextAct.MULL_ON:
                    seen = self.work(max(1.0, seen.mulling.left_minutes + 0.1))
                case NextAct.LOAD_DONE:
                    seen = self.do("load_done", ended_by="minutes")
                case NextAct.GATHER:
                    seen = self.do("gather")
                case NextAct.LOOK | NextAct.REST:
                    seen = self.look()
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
                    return self.finish(seen, slip)
                case _:
                    break
        found.stuck += 1
        return None

    def finish(self, seen: SlabView, slip: Slip | None) -> float:
        found = self.found
        if self.slip is not None and (self.wrong is not None or self.slip is Slip.POWDER):
            found.at_all[self.slip].append(False)
        self.do("finish", verdict="right", tubes=[], leftover_ml=0.0)
        if slip is None:
            figure = seen.reduced_pvc
            if figure is not None and figure.low is not None and figure.high is not None:
                found.final_bands.append(figure.low <= self.reduced + self.maker.bias <= figure.high)
            if seen.target_reduced_pvc == TARGET:
                found.off_middle.append(self.oil_g / self.needed_g(MIDDLE) - 1)
        return self.reduced

    def check_plan(self) -> None:
        """Whether the plan's band holds the oil that will be seen as right, in grams as they are counted here."""
        needs = self.needed_g(TARGET) / (self.maker.drop if self.maker.kind == "drops" else 1.0)
        expected = self.plan.oil_mass
        low, high = expected.low or expected.value, expected.high or expected.value
        (self.found.later_bands if self.later else self.found.bands).append(low <= needs <= high)


def studio(session: Session, luck: random.Random, kind: str, found: Found) -> None:
    """One maker's year: a lot by the library alone and twice more, the next lot rubbed out, and a batch with a slip."""
    maker = Maker(session, luck, kind)
    lot, absorption = maker.receive()
    maker.batch(lot, absorption, found)
    maker.batch(lot, absorption, found, later=True)
    first = maker.batch(lot, absorption, found, later=True)
    following, other = maker.receive()
    for _ in range(2):
        maker.rub_out(following, other)
    second = maker.batch(following, other, found)
    if first is not None and second is not None:
        found.same_body.append(second - first)
    slips = [
        slip for slip in Slip if (kind == "spoons") == (slip is Slip.SPOON) or slip in (Slip.TEN_TIMES, Slip.POWDER)
    ]
    if kind != "weighed":
        slips = [slip for slip in slips if slip is not Slip.TARE]
    third, absorbs = maker.receive()
    maker.batch(third, absorbs, found, luck.choice(slips))


KINDS = ("weighed", "drops", "spoons")
_SLIPS_OF = {"weighed": (Slip.UNIT, Slip.TARE), "drops": (Slip.UNIT, Slip.TARE), "spoons": (Slip.SPOON,)}


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
    rows = [found.row(kind) for kind, found in by_kind.items()]
    print("\n".join([*rows, "", SLIPS, *(found.slips_row(kind) for kind, found in by_kind.items())]))
