"""./niddy attack --slab: made-up makers tap at random at the slab, and every law is looked at after every act."""

from __future__ import annotations

import math
import random
from collections import Counter
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from typing import Any
from uuid import UUID, uuid4

from sqlalchemy.orm import Session as Database

from niddy.core.advice import NextAct
from niddy.core.errors import Refused
from niddy.core.evidence import EYE_BIAS_SD, EYE_SD
from niddy.core.pours import EXCESS_REDUCED_PVC
from niddy.core.practice import Exercise
from niddy.core.slab import Kind, Stage, Way
from niddy.core.telling import Measuring
from niddy.core.wetting import Body, body_at, reduced_at
from niddy.db import Database as Record
from niddy.db import migrations
from niddy.operations.throwaway import throwaway
from niddy.studio import batches, materials, plan, practice, slab, workshop
from niddy.studio.materials import NewLot
from niddy.studio.plan import PlanAsked
from niddy.studio.practice import TryAsked
from niddy.studio.practice.kept import a_try
from niddy.studio.slab import SlabView, act_of
from tests.attack.slab_laws import LAWS, Broken, Session, same_but_for_the_log
from tests.attack.slab_makers import OBEYS, PLANS, Manner

NOON = datetime(2026, 6, 18, 12, tzinfo=UTC)
MOST_ACTS = 60


class Bench:
    """One maker at one slab, with a powder whose truth is hidden; every act through the studio floor."""

    def __init__(self, database: Database, luck: random.Random, which: int | None = None) -> None:
        self.database, self.luck, self.now = database, luck, NOON
        self.manner = luck.choice(list(Manner))
        self.bias = luck.gauss(0, EYE_BIAS_SD)
        self.truth = math.exp(luck.gauss(0, 0.12))
        which = luck.randrange(len(PLANS) + 2) if which is None else which
        self.practice = which == len(PLANS)
        if self.practice:
            self.number, self.plan = self._try()
        else:
            self.number, self.plan = self._batch(which)
        self.seen = self._view()
        self.session = Session(self.seen.target_body)
        self.session.poured = [rung.step_g for rung in self.seen.rungs if rung.state == "done"]
        self.session.stage = self.seen.stage
        self.powder_g = sum(line.in_g for line in self.seen.pigments)
        self.oil_g = self.seen.oil.in_g
        self.worked_min = self.acts = self.by_eye_g = 0.0

    def _id(self) -> UUID:
        return uuid4()

    def _batch(self, which: int) -> tuple[int, Any]:
        if which > len(PLANS):
            # A cake that is wet yet.
            new = NewLot("pigment", "raw-umber", f"W{self.luck.randrange(10**6)}", self.now.date(), 500.0)
            lot = materials.receive(self.database, self.now, new)
            asked = {"lines": [{"lot_id": lot, "parts": 1.0}], "pigment_g": 30.0}
        else:
            asked = PLANS[which]
        whole = PlanAsked.model_validate({"oil": {"oil_key": "linseed-refined"}, "reduced_pvc": 0.86} | asked)
        made = plan.compute(self.database, whole).plan
        return slab.take_to_slab(self.database, self.now, self._id(), whole), made

    def _try(self) -> tuple[int, Any]:
        exercise = self.luck.choice([e for e in Exercise if e is not Exercise.JUDGING])
        number = practice.begin(
            self.database,
            self.now,
            TryAsked(id=self._id(), exercise=exercise, maker="Somebody", seed=self.luck.randrange(1000), advised=True),
        )
        return number, a_try(self.database, number).begun.plan

    def _view(self) -> SlabView:
        if self.practice:
            return practice.view(self.database, self.now, self.number)
        return slab.view(self.database, self.now, self.number)

    @property
    def reduced(self) -> float:
        facts = self.plan.facts
        return reduced_at(
            100 * max(0.01, self.oil_g) / max(0.01, self.powder_g),
            facts.oil_absorption_g_per_100g * self.truth,
            facts.pigment_density_g_per_ml,
            facts.oil_density_g_per_ml,
        )

    # What is done.

    def do(self, kind: Kind, **what: Any) -> None:
        """One act, and every law looked at in the view after it. Raises Refused, Broken."""
        self.now += timedelta(seconds=self.luck.choice((5, 20, 60)))
        told = what.pop("told", False)
        beside = {name: what.pop(name, None) for name in ("body_after", "gone")}
        act = act_of({"id": self._id(), "kind": kind, "made_at": self.now, **what})
        room = practice if self.practice else slab
        before_g = self.seen.oil.in_g
        self.seen = room.record(self.database, self.now, self.number, act)
        self.acts += 1
        self.powder_g = sum(line.in_g for line in self.seen.pigments)
        # Of what was poured by eye only the paste knows how much it is.
        by_eye = self.by_eye_g + (0.06 * self.powder_g if kind is Kind.BY_EYE else 0.0)
        self.by_eye_g = by_eye if self.seen.taps_by_eye else 0.0
        self.oil_g = self.seen.oil.in_g + self.by_eye_g
        self.session.note(kind, self.seen, **what, told=told, **beside, grams=self.seen.oil.in_g - before_g)
        self.session.hold(self.seen)

    def attempt(self, kind: Kind, **what: Any) -> None:
        """An act of the maker's own choice: it is taken, or refused with a reason that says what would be accepted."""
        try:
            self.do(kind, **what)
        except Refused as refusal:
            self.session.need(8, bool(refusal.accepted), kind, refusal)

    def wait(self, minutes: float) -> None:
        self.now += timedelta(minutes=minutes)
        self.seen = self._view()
        self.session.hold(self.seen)

    def step(self) -> None:
        """One act: what is advised, or anything else that can be tapped."""
        if self.seen.status != "open":
            return
        if self.luck.random() < OBEYS[self.manner]:
            self.obey()
        else:
            self.luck.choice(self._others())()

    def obey(self) -> None:
        """Do what is advised. It must be possible: a refusal is a broken law."""
        seen, advice = self.seen, self.seen.advice
        scale = seen.habit.how is Measuring.SCALE
        try:
            match advice.act:
                case NextAct.READY:
                    self.do(Kind.READY)
                case NextAct.POWDER:
                    self.do(Kind.POWDER, source=advice.source, measure=self._as_told(), told=advice.grams is not None)
                case NextAct.POUR if advice.grams is None or seen.habit.how is Measuring.EYE:
                    self.do(Kind.BY_EYE, source=seen.oil.source)
                case NextAct.POUR:
                    self.do(Kind.OIL, source=seen.oil.source, measure=self._as_told())
                case NextAct.ADDITIVE:
                    grams = {"amount": max(0.01, round(advice.grams or 0.1, 3))}
                    self.do(Kind.ADDITIVE, source=advice.source, measure=grams if scale else self._as_told())
                case NextAct.BOTTLE:
                    self.do(Kind.CAME_OUT, measure={"amount": 5.0}, guessed=True)
                case NextAct.DRAW_OIL:
                    most = seen.oil.in_g * 0.14 if self.practice else math.inf
                    self.do(Kind.DRAW_OIL, measure={"amount": max(0.01, min(most, round(advice.grams or 0.1, 2)))})
                case NextAct.TOO_LOOSE:
                    self.choose()
                case NextAct.DOUBT:
                    self.answer()
                case NextAct.MULL:
                    self.do(Kind.MULL)
                    self.work(
                        seen.mulling.left_minutes + 0.1 if self.manner is Manner.CAREFUL else self.luck.uniform(0, 9)
                    )
                case NextAct.MULL_ON:
                    self.work(max(0.5, self.luck.uniform(0.3, 1.1) * seen.mulling.left_minutes))
                case NextAct.LOAD_DONE:
                    self.do(Kind.LOAD_DONE, ended_by="minutes" if seen.mulling.left_minutes <= 0 else "silence")
                case NextAct.GATHER:
                    self.do(Kind.GATHER)
                case NextAct.LOOK | NextAct.REST:
                    self.look()
                case NextAct.RIGHT:
                    self.do(Kind.FINISH, verdict="right")
                case _:
                    self.session.need(8, False, "nothing is on offer", advice)
        except Refused as refusal:
            self.session.need(8, False, "what is advised is refused", advice, refusal)

    def _as_told(self) -> dict[str, Any]:
        told, grams = self.seen.advice_told, self.seen.advice.grams
        if told is None:
            if self.seen.habit.how is Measuring.EYE and self.seen.advice.act is NextAct.POWDER:
                return {"unit": "eye"}
            return {"amount": max(0.01, round(grams if grams is not None else 1.0, 2))}
        parts = [{"unit": str(part.unit), "amount": part.amount} for part in told.parts]
        return {"unit": str(told.unit), "amount": told.amount, **({"parts": parts} if parts else {})}

    def work(self, minutes: float) -> None:
        self.worked_min += minutes
        self.wait(minutes)

    def look(self) -> None:
        """What is really there, as this eye sees it; a hasty or contrary maker says now and then anything."""
        if self.manner is not Manner.CAREFUL and self.luck.random() < 0.15:
            return self.look_anything()
        tau = self.plan.facts.tau_min
        dry = EXCESS_REDUCED_PVC * math.exp(-self.worked_min / tau) + self.luck.gauss(0, EYE_SD)
        seen = self.reduced + dry + self.bias if self.powder_g and self.oil_g else 2.0
        if seen > 1.12:
            self.do(Kind.LOOK, stage=Stage.DRY_ISLANDS if seen > 1.25 else Stage.CRUMBS)
        elif not self.worked_min:
            self.do(Kind.LOOK, stage=Stage.WET_CURDS)
        else:
            grit = "none" if self.worked_min > 1.5 * tau else "faint"
            self.do(Kind.LOOK, stage=Stage.EVEN_PASTE, body=body_at(seen), grit=grit)

    def look_anything(self) -> None:
        stage = self.luck.choice((*Stage, Stage.EVEN_PASTE, Stage.EVEN_PASTE))
        body = {"body": self.luck.choice(list(Body))} if stage is Stage.EVEN_PASTE else {}
        grit = self.luck.choice((None, "gritty", "none"))
        self.attempt(Kind.LOOK, stage=stage, **body, **({"grit": grit} if grit else {}))

    def look_twice(self) -> None:
        """Law 7: the same look again, at the same moment, changes nothing."""
        self.look_anything()
        if self.seen.status != "open" or self.seen.stage is None:
            return
        last = next((line for line in reversed(self.seen.timeline) if not line.struck), None)
        if last is None or last.kind is not Kind.LOOK:
            return
        room = practice if self.practice else slab
        payload = {"stage": self.session.stage, "body": self.session.looked, "grit": self.session.grit}
        before = self.seen
        again = {"id": self._id(), "kind": "look", "made_at": self.now} | {k: v for k, v in payload.items() if v}
        try:
            self.seen = room.record(self.database, self.now, self.number, act_of(again))
        except Refused:
            return
        differs = same_but_for_the_log(before, self.seen)
        self.session.need(7, not differs, *differs)
        self.session.counted[7] += 1

    def choose(self) -> None:
        if not self.seen.ways:
            return
        offered = [way for way in self.seen.ways if not (self.practice and way.way is Way.STABILISE)]
        way = self.luck.choice(offered)
        self.attempt(Kind.CHOOSE_WAY, way=way.way, body_after=way.body_after)

    def answer(self) -> None:
        doubt = self.seen.doubt
        if doubt is None:
            return
        if doubt.slips and not self.practice and self.luck.random() < 0.7:
            slip = self.luck.choice(doubt.slips)
            self.attempt(Kind.AMEND, amends=doubt.suspect, measure={"unit": str(slip.unit), "amount": slip.amount})
        elif doubt.of_entry:
            self.do(Kind.ANSWER, answer="as_entered", about=doubt.suspect)
        else:
            self.do(Kind.ANSWER, answer=self.luck.choice(("looks_aside", "missed", "believe_eye")))

    def _others(self) -> list[Callable[[], None]]:
        luck, seen = self.luck, self.seen
        powder = luck.choice(seen.pigments).source
        odd = round(math.exp(luck.uniform(-3, 5)), 2)
        oil = {"amount": max(0.01, round(luck.uniform(0.02, 0.3) * max(3.0, self.powder_g), 2))}
        spoon = {"unit": luck.choice(("teaspoon", "half_teaspoon", "tablespoon")), "amount": float(luck.randint(1, 4))}
        by_eye = {"unit": "eye"}
        drops = {"unit": "drop", "amount": float(luck.randint(1, 40))}
        others: list[Callable[[], None]] = [
            self.look_anything,
            self.look_anything,
            self.look_twice,
            self.choose,
            self.answer,
            lambda: self.attempt(Kind.READY),
            lambda: self.attempt(Kind.OIL, source=seen.oil.source, measure=luck.choice((oil, drops, spoon))),
            lambda: self.attempt(Kind.OIL, source=seen.oil.source, measure={"amount": odd}),
            lambda: self.attempt(Kind.POWDER, source=powder, measure=luck.choice(({"amount": odd}, spoon, by_eye))),
            lambda: self.attempt(Kind.MULL),
            lambda: self.work(luck.uniform(0.02, 12)),
            lambda: self.attempt(Kind.PAUSE),
            lambda: self.attempt(Kind.LOAD_DONE, ended_by=luck.choice(("minutes", "silence"))),
            lambda: self.attempt(Kind.GATHER),
            lambda: self.attempt(Kind.PHASE, phase=luck.choice(("ready", "powder", "fold", "wet", "mull", "judge"))),
            self._strike,
        ]
        if not self.practice:
            others += [
                lambda: self.attempt(Kind.BY_EYE, source=seen.oil.source),
                lambda: self.attempt(Kind.CAME_OUT, measure={"amount": 3.0}),
                lambda: self.attempt(Kind.SAMPLE, measure={"amount": 2.0}),
                lambda: self.attempt(Kind.ADDITIVE, source="library-egg-yolk", measure={"amount": 0.3}),
                lambda: self.attempt(Kind.FINENESS, fineness_um=float(luck.randint(8, 60))),
            ]
        return others

    def _strike(self) -> None:
        lines = [
            line for line in self.seen.timeline if line.can_strike and line.kind not in (Kind.FINISH, Kind.ABANDON)
        ]
        if lines:
            gone = self.luck.choice(lines)
            self.attempt(Kind.STRIKE, strikes=gone.id, gone=gone.kind)
            # Whatever it was, what is seen and wanted is asked of the view, once; from there on the laws hold it.
            self.session.looked = self.session.grit = None
            self.session.stage = self.seen.stage

    def on_every_page(self) -> None:
        """Law 9 on the other screens: batch page and list say what the slab says."""
        if self.practice:
            return
        self.seen = self._view()
        page = slab.page(self.database, self.now, self.number).view
        differs = [line for line in same_but_for_the_log(self.seen, page) if not line.startswith("late")]
        self.session.need(9, not differs, *differs)
        line = batches.line(self.database, self.number)
        shown = self.seen.ratio.value if self.seen.ratio is not None else None
        if shown is not None and self.seen.status == "open":
            kept = batches.batch(self.database, self.number, 0).paste.oil_g_per_100g
            self.session.need(9, kept is not None and abs(kept - shown) < 1e-6 * shown, kept, shown, line.number)

    def obey_to_the_end(self) -> None:
        """From wherever it stands, whoever does as told comes to an end."""
        self.manner, self.truth = Manner.CAREFUL, self.truth
        for _ in range(4 * MOST_ACTS):
            if self.seen.status != "open":
                return
            self.obey()
        self.session.need(8, False, "no end is reached", self.seen.advice, self.seen.ways)


def walk(database: Database, seed: str, acts: int = MOST_ACTS, *, to_the_end: bool = False) -> Counter[int]:
    """One session of up to so many acts; how often each law was looked at. Raises Broken with the seed."""
    luck = random.Random(seed)
    bench = Bench(database, luck)
    try:
        for _ in range(luck.randint(5, acts)):
            bench.step()
        bench.on_every_page()
        if to_the_end:
            bench.obey_to_the_end()
    except Broken as broken:
        told = " | ".join(line.text for line in bench.seen.timeline[-12:])
        raise Broken(f"{broken}\n  seed {seed}, {bench.manner}: {told}") from None
    return bench.session.counted


def attack(open_session: Callable[[], Database], sessions: int, said: Callable[[str], None] = print) -> int:
    """So many random sessions; prints how often each law was looked at and broken. The number of broken ones."""
    counted: Counter[int] = Counter()
    broken: list[str] = []
    for n in range(sessions):
        database = open_session()
        try:
            counted += walk(database, f"slab-{n}", to_the_end=n % 5 == 0)
        except Exception as one:  # whatever it is: a screen that fails breaks every law
            broken.append(str(one))
            said(f"slab-{n}: {type(one).__name__} {one}")
        finally:
            database.rollback()
            database.close()
    said(f"{sessions} sessions of up to {MOST_ACTS} acts")
    for number, law in LAWS.items():
        said(f"  law {number:2}  looked at {counted[number]:8,} times  {law}")
    said(f"  broken: {len(broken)}")
    return len(broken)


def run(sessions: int) -> int:
    """So many sessions in a throwaway cluster. The number of broken ones."""
    cluster = throwaway("niddy-slab-", durable=False)
    try:
        url = cluster.ensure()
        migrations.upgrade(url)
        record = Record(url)
        with record.session() as session:
            workshop.furnish(session)
        broken = attack(lambda: Database(record.engine, expire_on_commit=False), sessions)
        record.dispose()
        return broken
    finally:
        cluster.destroy()
