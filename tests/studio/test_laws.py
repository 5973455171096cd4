"""The laws of the slab, held in every view of random sessions; and each of them seen to fail where it is broken."""

import random
from collections import Counter
from dataclasses import replace
from typing import Any, ClassVar

from hypothesis import HealthCheck, Phase, settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, initialize, rule, run_state_machine_as_test
from sqlalchemy.orm import Session as DatabaseSession

from niddy.core.advice import NextAct
from niddy.core.mulling import EndedBy
from niddy.core.slab import Kind, Stage
from niddy.core.wetting import Body
from niddy.db import Database
from niddy.studio import workshop
from niddy.studio.slab import SlabView
from tests.attack import slab as attack_slab
from tests.attack.slab import Bench
from tests.attack.slab_laws import LAWS, Broken, Session, same_but_for_the_log
from tests.attack.slab_makers import PLANS
from tests.support import DatabaseTest

SESSIONS = 300
SEEDS = st.integers(0, 2**32)
COUNTED: Counter[int] = Counter()


class Slab(RuleBasedStateMachine):
    """One made-up maker at one slab: as advised, in a hurry, or anything but. Every act looks at every law."""

    database: ClassVar[Database]

    @initialize(seed=SEEDS, which=st.integers(0, len(PLANS) + 1))
    def begin(self, seed: int, which: int) -> None:
        self.session = DatabaseSession(self.database.engine, expire_on_commit=False)
        self.bench = Bench(self.session, random.Random(seed), which)

    @rule(seed=SEEDS)
    def tap(self, seed: int) -> None:
        self.bench.luck = random.Random(seed)
        self.bench.step()

    def teardown(self) -> None:
        if hasattr(self, "bench"):
            self.bench.on_every_page()
            COUNTED.update(self.bench.session.counted)
            self.session.rollback()
            self.session.close()


class Laws(DatabaseTest):
    def test_every_law_holds_in_every_view_of_random_sessions(self) -> None:
        Slab.database = self.database
        COUNTED.clear()
        run_state_machine_as_test(
            Slab,
            settings=settings(
                max_examples=SESSIONS,
                stateful_step_count=12,
                deadline=None,
                derandomize=True,
                phases=[Phase.generate, Phase.shrink],
                suppress_health_check=list(HealthCheck),
            ),
        )
        self.assertEqual(set(COUNTED), set(LAWS), "a law that is never looked at is not held")

    def test_sessions_that_broke_a_law_once_hold_it_now(self) -> None:
        """Crumbs of oil of a stiff batch that no drop is small enough for."""
        with DatabaseSession(self.database.engine, expire_on_commit=False) as session:
            attack_slab.walk(session, "slab-5158")
            session.rollback()

    def test_whoever_does_as_told_comes_to_an_end_from_wherever_it_stands(self) -> None:
        for seed in range(12):
            with DatabaseSession(self.database.engine, expire_on_commit=False) as session:
                attack_slab.walk(session, f"ends-{seed}", 25, to_the_end=True)
                session.rollback()

    def test_what_is_attacked_at_length_counts_what_it_looked_at(self) -> None:
        said: list[str] = []

        def opened() -> DatabaseSession:
            return DatabaseSession(self.database.engine, expire_on_commit=False)

        self.assertEqual(attack_slab.attack(opened, 3, said.append), 0)
        self.assertEqual(len([line for line in said if "looked at" in line]), len(LAWS))
        self.assertIn("broken: 0", said[-1])


class Breaks(DatabaseTest):
    """Each law, broken by hand in a view that was right: it is noticed, or it would hold nothing."""

    def setUp(self) -> None:
        super().setUp()
        with self.database.session() as session:
            workshop.furnish(session)
        self.session = DatabaseSession(self.database.engine, expire_on_commit=False)
        self.addCleanup(self.session.close)
        self.addCleanup(self.session.rollback)
        self.bench = Bench(self.session, random.Random(3), 0)

    def seen_as(self, body: Body | None, stage: Stage = Stage.EVEN_PASTE) -> tuple[Session, SlabView]:
        bench = self.bench
        for kind, what in (
            (Kind.READY, {}),
            (Kind.POWDER, {"source": bench.seen.pigments[0].source, "measure": {"amount": 40.0}}),
            (Kind.OIL, {"source": bench.seen.oil.source, "measure": {"amount": 22.0}}),
            (Kind.LOOK, {"stage": stage, **({"body": body, "grit": "none"} if body else {})}),
        ):
            bench.do(kind, **what)  # type: ignore[arg-type]
        return bench.session, bench.seen

    def broken(self, number: int, told: Session, seen: SlabView, **change: Any) -> None:
        told.hold(seen)
        with self.assertRaises(Broken) as caught:
            told.hold(replace(seen, **change))
        self.assertTrue(str(caught.exception).startswith(f"law {number},"), caught.exception)

    def test_after_a_look_at_the_body_wanted(self) -> None:
        told, seen = self.seen_as(Body.TUBE)
        pour = replace(seen.advice, act=NextAct.POUR, grams=1.0)
        self.broken(1, told, seen, target_body=Body.STIFF)
        self.broken(2, told, seen, advice=pour)
        self.broken(2, told, seen, advice=replace(seen.advice, act=NextAct.MULL, reason="Twice its time."))
        self.broken(2, told, seen, rungs=(replace(seen.rungs[0], state="to_come"),))
        self.broken(3, told, seen, can_finish=False)
        self.broken(6, told, seen, rungs=(*seen.rungs, seen.rungs[0]))
        self.broken(6, told, seen, rungs=(replace(seen.rungs[0], step_g=21.0),))
        self.broken(8, told, seen, advice=replace(seen.advice, line=""))
        self.broken(9, told, seen, ratio=replace(seen.ratio, value=60.0))  # type: ignore[type-var]

    def test_after_a_look_at_a_wetter_body(self) -> None:
        told, seen = self.seen_as(Body.SOFT)
        self.broken(3, told, seen, ways=())
        self.broken(8, told, seen, advice=replace(seen.advice, act=NextAct.OVER))

    def test_after_a_look_at_crumbs(self) -> None:
        told, seen = self.seen_as(None, Stage.CRUMBS)
        self.broken(4, told, seen, body=Body.RUNS)
        self.broken(4, told, seen, body_says="loose, by all that is known")
        self.broken(4, told, seen, advice=replace(seen.advice, reason="Probably too loose."))

    def test_after_powder_as_told_and_after_an_entry_that_is_asked_about(self) -> None:
        bench = self.bench
        bench.do(Kind.READY)
        source = bench.seen.pigments[0].source
        bench.do(Kind.POWDER, source=source, measure={"amount": 40.0}, told=True)
        again = replace(bench.seen.advice, act=NextAct.POWDER, source=source, grams=4.0)
        self.broken(5, bench.session, bench.seen, advice=again)
        bench.do(Kind.OIL, source=bench.seen.oil.source, measure={"amount": 400.0})
        self.assertTrue(bench.seen.doubt and bench.seen.doubt.of_entry)
        mull = replace(bench.seen.advice, act=NextAct.MULL, line="Mull it.", reason="8 min.")
        self.broken(10, bench.session, bench.seen, advice=mull)

    def test_a_load_that_is_called_done_after_three_seconds(self) -> None:
        told, seen = self.seen_as(Body.STIFF)
        whole = sum(load.volume_ml for load in seen.mulling.loads)
        load = replace(seen.mulling.loads[0], state="done", minutes=0.05, volume_ml=whole, ended_by=EndedBy.MINUTES)
        self.broken(11, told, seen, mulling=replace(seen.mulling, loads=(load,)))

    def test_the_same_look_twice(self) -> None:
        _, seen = self.seen_as(Body.STIFF)
        self.assertEqual(same_but_for_the_log(seen, seen), [])
        self.assertEqual(len(same_but_for_the_log(seen, replace(seen, in_paste_g=1.0, last_seq=99))), 1)
