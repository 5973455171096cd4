"""The pot: a fold over its acts, what to do next, corrections and their price, trials and their verdict."""

import math
import unittest
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from typing import Any
from uuid import UUID, uuid4

from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter

from niddy.core import sticks
from niddy.core.acting import Logged
from niddy.core.errors import Refused
from niddy.core.log import Status
from niddy.core.sticks import (
    By,
    Dries,
    Feel,
    Flaw,
    Matter,
    PigmentWay,
    Pot,
    PotAct,
    PotFacts,
    PotPlan,
    SticksVerdict,
    advise,
    check_seen,
    fold,
    fresh_c,
    judge,
    mend,
    read,
    sunk_mm,
    taught,
)
from niddy.core.sticks.acts import AnyPotAct
from niddy.core.sticks.guide import hot_words, to_go
from tests.core.test_sticks import BASE, OIL

NOW = datetime(2026, 6, 18, 10, tzinfo=UTC)
PLAN = PotPlan(
    BASE,
    OIL,
    {"lot-1": 30.4},
    {"lot-2": 45.6},
    {"lot-3": 83.6},
    PigmentWay.DRY,
    48.94,
    0.0,
    0.35,
    89.0,
    67.6,
    77.6,
    True,
    18.0,
    6,
    12.0,
    ((2.5, 5.0),),
)
NAMES = {"lot-1": "Block", "lot-2": "Linseed oil", "lot-3": "Bone black"}
BLACK = Matter(83.6, 2.5, 52.0)


ACT: TypeAdapter[PotAct] = TypeAdapter(AnyPotAct)
MEASURE = {"measure": {"amount": 1.0}}
WHOLE: dict[str, dict[str, Any]] = {
    "base": {"source": "lot-1", **MEASURE},
    "oil": {"source": "lot-2", **MEASURE},
    "pigment": {"source": "lot-3", **MEASURE},
    "mulled": {"parts": [{"source": "lot-2", "grams": 1.0}]},
}


class Log:
    """A log that grows by acts a minute apart."""

    def __init__(self) -> None:
        self.acts: list[Logged[Any, PotFacts]] = []

    def add(self, kind: str, after: float = 1.0, **what: Any) -> UUID:
        """An act with as much of its payload as matters, and what the record makes of it."""
        at = self.acts[-1].act.made_at + timedelta(minutes=after) if self.acts else NOW
        facts = {name: what.pop(name) for name in ("bases", "oils", "pigments") if name in what}
        if what.get("dent_dmm") is not None:
            facts["dent_dmm"] = what["dent_dmm"]
        said = {"id": uuid4(), "kind": kind, "made_at": at, **WHOLE.get(kind, {}), **what}
        act = ACT.validate_python(said)
        self.acts.append(Logged(act.id, len(self.acts) + 1, act, PotFacts(**facts), what.get("strikes")))
        return said["id"]

    @property
    def pot(self) -> Pot:
        return fold(self.acts)

    @property
    def now(self) -> datetime:
        return self.acts[-1].act.made_at

    def next(self) -> Any:
        return advise(self.pot, PLAN, read(self.pot, BASE, OIL, 0.0), self.now, NAMES)

    def filled(self) -> "Log":
        self.add("ready")
        self.add("base", bases={"lot-1": 30.4})
        self.add("melted", temperature_c=88.0)
        self.add("oil", oils={"lot-2": 45.6})
        self.add("pigment", pigments={"lot-3": BLACK})
        self.add("stir")
        return self


class Guided(unittest.TestCase):
    def test_each_step_leads_to_the_next(self) -> None:
        log = Log()
        self.assertEqual(advise(Pot(), PLAN, None, NOW, NAMES).act, "ready")
        log.add("ready")
        self.assertEqual((log.next().act, log.next().source, log.next().grams), ("base", "lot-1", 30.4))
        self.assertIn("Block", log.next().step.says)
        log.add("base", bases={"lot-1": 20.0})
        self.assertAlmostEqual(log.next().grams, 10.4)
        log.add("base", bases={"lot-1": 10.4})
        melt = log.next()
        self.assertEqual(melt.act, "melted")
        self.assertIn("water bath will do", melt.step.how)
        self.assertEqual((melt.step.window.low, melt.step.window.high), (84.0, 104.0))
        log.add("melted")
        self.assertEqual(log.next().act, "oil")
        log.add("oil", oils={"lot-2": 45.6})
        self.assertEqual(log.next().act, "pigment")
        self.assertIn("mask", log.next().step.caution)
        log.add("pigment", pigments={"lot-3": BLACK})
        self.assertEqual(log.next().act, "stir")
        log.add("stir")
        self.assertEqual(log.next().act, "drop")
        log.add("drop", dent_dmm=50.0, by=By.NEEDLE)
        self.assertEqual(log.next().act, "pour")
        log.add("pour", temperature_c=72.0)
        self.assertEqual(log.next().act, "out")
        log.add("out", count=6, grams=150.0)
        self.assertEqual(log.next().act, "finish")
        log.add("finish")
        self.assertIsNone(log.next().act)
        self.assertIs(log.pot.status, Status.FINISHED)
        self.assertEqual((log.pot.sticks, log.pot.sticks_g, log.pot.poured_c), (6, 150.0, 72.0))

    def test_mulled_paste_goes_in_at_once(self) -> None:
        plan = replace(PLAN, way=PigmentWay.MULLED, water_bath=False)
        log = Log()
        log.add("ready")
        log.add("base", bases={"lot-1": 30.4})
        self.assertIn("dry heat", advise(log.pot, plan, None, NOW, NAMES).step.how)
        log.add("melted")
        found = advise(log.pot, plan, None, NOW, NAMES)
        self.assertEqual(found.act, "mulled")
        self.assertAlmostEqual(found.grams or 0, 83.6 + 45.6)
        log.add("mulled", oils={"lot-2": 45.6}, pigments={"lot-3": BLACK})
        self.assertEqual(advise(log.pot, plan, None, NOW, NAMES).act, "stir")
        self.assertEqual(to_go(plan.pigment_g, {"lot-3": 83.0}), {}, "crumbs are left undone")

    def test_too_hot_stands_above_everything(self) -> None:
        log = Log()
        log.add("ready")
        log.add("temperature", temperature_c=124.0)
        self.assertIn("off the heat now", log.next().urgent)
        log.add("temperature", temperature_c=101.0)
        self.assertIn("turn the heat down", log.next().urgent)
        log.add("temperature", temperature_c=90.0)
        self.assertEqual(log.next().urgent, "")
        self.assertEqual(log.pot.hottest_c, 124.0)
        dry_heat = replace(PLAN, water_bath=False, melt_c=101.0)
        self.assertEqual(hot_words(112.0, dry_heat), "")
        self.assertIn("turn", hot_words(118.0, dry_heat))
        self.assertEqual(hot_words(None, PLAN), "")

    def test_a_temperature_an_hour_old_is_not_what_the_pot_has(self) -> None:
        pot = replace(Pot(), ready=True, temperature_c=118.0, read_at=NOW)
        for minutes, has, says in (
            (5, 118.0, "hotter than it needs"),
            (20, None, ""),
            (60, None, "118 °C, is 60 minutes old"),
            (60 * 20, None, "118 °C, is 20 hours old"),
        ):
            with self.subTest(minutes):
                later = NOW + timedelta(minutes=minutes)
                self.assertEqual(fresh_c(pot, later), has)
                urgent = advise(pot, PLAN, None, later, NAMES).urgent
                self.assertIn(says, urgent)
                self.assertEqual("read the thermometer" in urgent, minutes > 30)
        cast = replace(pot, poured_at=NOW)
        self.assertNotIn("old", advise(cast, PLAN, None, NOW + timedelta(hours=2), NAMES).urgent)

    def test_pigment_that_stood_still_is_to_be_stirred(self) -> None:
        log = Log().filled()
        heavy = replace(PLAN, sinking=((7.0, 20.0),))
        reading = read(log.pot, BASE, OIL, 0.0)
        self.assertLess(sunk_mm(log.pot, heavy, reading, log.now), 0.01)
        later = log.now + timedelta(minutes=20)
        self.assertGreater(sunk_mm(log.pot, heavy, reading, later), 1.0)
        self.assertIn("stir", advise(log.pot, heavy, reading, later, NAMES).urgent)
        log.add("stir", after=20)
        self.assertNotIn("sank", advise(log.pot, heavy, reading, log.now, NAMES).urgent)
        log.add("pour")
        self.assertEqual(sunk_mm(log.pot, heavy, reading, later + timedelta(hours=2)), 0.0)

    def test_what_goes_in_asks_for_a_stir_and_another_drop(self) -> None:
        log = Log().filled()
        log.add("drop", dent_dmm=30.0, by=By.NEEDLE)
        self.assertIsNotNone(log.pot.drop)
        log.add("oil", oils={"lot-2": 3.0})
        self.assertIsNone(log.pot.drop)
        self.assertEqual(log.next().act, "stir")


class Mending(unittest.TestCase):
    def test_a_hard_drop_is_given_oil_and_its_price_is_said(self) -> None:
        log = Log().filled()
        log.add("drop", dent_dmm=30.0, by=By.NEEDLE)
        found = log.next()
        self.assertEqual((found.act, found.source), ("oil", "lot-2"))
        mended = found.mend
        assert mended is not None
        self.assertAlmostEqual(found.grams or 0, mended.add_g)
        self.assertGreater(mended.sticks_more, 0)
        self.assertGreater(mended.weaker_pct, 0)
        log.add("oil", oils={"lot-2": mended.add_g})
        reading = read(log.pot, BASE, OIL, math.log(30.0 / 48.94))
        assert reading is not None
        self.assertAlmostEqual(reading.dent_dmm or 0, 48.94, delta=0.2)
        self.assertAlmostEqual(reading.volume_ml, mended.volume_after_ml, 6)
        self.assertAlmostEqual(reading.reduced_pvc, mended.reduced_pvc_after, 6)

    def test_a_drop_by_feel_is_believed_less(self) -> None:
        log = Log().filled()
        log.add("drop", dent_dmm=35.0, by=By.FEEL, feel=Feel.SOFT)
        self.assertEqual(log.next().act, "pour")
        by_needle = Log().filled()
        by_needle.add("drop", dent_dmm=35.0, by=By.NEEDLE)
        self.assertEqual(by_needle.next().act, "oil")

    def test_more_of_a_base_melted_fresh_is_more_of_each_wax(self) -> None:
        plan = replace(PLAN, base_g={"lot-1": 20.4, "lot-9": 10.0})
        log = Log().filled()
        log.add("base", bases={"lot-9": 10.0})
        log.add("stir")
        reading = read(log.pot, BASE, OIL, 0.0)
        assert reading is not None
        log.add("drop", dent_dmm=PLAN.target_dmm * 1.3, by=By.NEEDLE)
        found = advise(log.pot, plan, reading, log.now, NAMES)
        assert found.mend is not None
        self.assertEqual(found.act, "mulled")
        self.assertAlmostEqual(sum(found.parts.values()), found.mend.add_g)
        self.assertAlmostEqual(found.parts["lot-1"] / found.parts["lot-9"], 2.04)

    def test_what_half_the_pot_would_not_mend_is_a_second_pot(self) -> None:
        log = Log().filled()
        log.add("drop", dent_dmm=120.0, by=By.NEEDLE)
        found = log.next()
        self.assertEqual(found.act, "pour")
        assert found.mend is not None
        self.assertTrue(found.mend.second_pot)
        log.add("drop", dent_dmm=380.0, by=By.NEEDLE)
        far = mend(log.pot, PLAN, read(log.pot, BASE, OIL, 0.0))
        self.assertTrue(far is not None and far.second_pot)


class Folding(unittest.TestCase):
    def test_a_struck_act_leaves_nothing_and_comes_back(self) -> None:
        log = Log().filled()
        whole = log.pot
        oil = next(act for act in log.acts if act.act.kind == "oil")
        strike = log.add("strike", strikes=oil.id)
        self.assertEqual(log.pot.oil_g, 0)
        log.add("strike", strikes=strike)
        self.assertEqual(log.pot, whole)

    @given(st.permutations(range(6)))
    def test_the_order_they_come_in_does_not_matter(self, order: list[int]) -> None:
        acts = Log().filled().acts
        self.assertEqual(fold([acts[n] for n in order]), fold(acts))

    @given(st.floats(1, 200), st.floats(1, 200), st.floats(0, 300))
    def test_mass_and_volume_add_up(self, base: float, oil: float, pigment: float) -> None:
        pot = Pot(bases={"b": base}, oils={"o": oil}, pigments={"p": Matter(pigment, 4.0, 20.0)} if pigment else {})
        reading = read(pot, BASE, OIL, 0.0)
        assert reading is not None
        self.assertAlmostEqual(reading.volume_ml * reading.density_g_per_ml, pot.total_g, 6)
        self.assertAlmostEqual(reading.pigment_fraction * pot.total_g, pigment, 6)

    def test_nothing_in_it_is_nothing_read(self) -> None:
        self.assertIsNone(read(Pot(), BASE, OIL, 0.0))
        crowded = Pot(bases={"b": 1.0}, pigments={"p": Matter(50.0, 2.5, 52.0)})
        reading = read(crowded, BASE, OIL, 0.0)
        assert reading is not None
        self.assertIsNone(reading.dent_dmm)
        self.assertIs(reading.feel, Feel.CRUMBLES)
        self.assertIs(reading.dries, Dries.NOT)

    def test_a_dent_teaches_against_what_was_in_the_pot_then(self) -> None:
        log = Log().filled()
        first = read(log.pot, BASE, OIL, 0.0)
        assert first is not None and first.ln_dent_bare is not None
        log.add("drop", dent_dmm=60.0, by=By.NEEDLE)
        log.add("oil", oils={"lot-2": 30.0})
        log.add("dent", dent_dmm=80.0, by=By.FEEL)
        one, two = taught(log.acts, BASE, OIL)
        self.assertAlmostEqual(one.ln_ratio, math.log(60) - first.ln_dent_bare)
        after = read(log.pot, BASE, OIL, 0.0)
        assert after is not None and after.ln_dent_bare is not None
        self.assertAlmostEqual(two.ln_ratio, math.log(80) - after.ln_dent_bare)
        self.assertEqual((one.by, two.by), (By.NEEDLE, By.FEEL))


class Trials(unittest.TestCase):
    def tried(self, **dry: str) -> Pot:
        log = Log().filled()
        log.add("drop", dent_dmm=49.0, by=By.NEEDLE)
        log.add("pour")
        log.add("out", count=6)
        log.add("finish")
        log.add("dry_trial", seen=dry)
        return log.pot

    def test_verdicts(self) -> None:
        for seen, verdict in (
            ({"line": "even", "glide": "glides"}, SticksVerdict.RIGHT),
            ({"line": "broken", "glide": "drags"}, SticksVerdict.TOO_HARD),
            ({"hands": "smears", "breaks": "bends", "cover": "thick"}, SticksVerdict.TOO_SOFT),
            ({"crumbs": "many"}, SticksVerdict.CRUMBLES),
            ({"line": "broken"}, SticksVerdict.RIGHT),
        ):
            with self.subTest(seen):
                self.assertIs(judge(self.tried(**seen), PLAN).verdict, verdict)
        self.assertIsNone(judge(Pot(), PLAN).verdict)

    def test_a_hard_stick_is_told_how_much_oil_more(self) -> None:
        said = judge(self.tried(line="broken", glide="drags"), PLAN)
        assert said.oil_g_per_100g is not None
        self.assertIn(f"{said.oil_g_per_100g:.1f} g more oil", said.next_time)
        self.assertEqual(len(said.why), 2)
        pot = self.tried()
        by = 100 / pot.total_g
        more = read(
            replace(
                pot,
                bases={"b": pot.base_g * by},
                oils={"o": pot.oil_g * by + said.oil_g_per_100g},
                pigments={"p": replace(BLACK, grams=pot.pigment_g * by)},
            ),
            BASE,
            OIL,
            0.0,
        )
        before = read(pot, BASE, OIL, 0.0)
        assert more is not None and before is not None
        self.assertAlmostEqual((more.dent_dmm or 0) / (before.dent_dmm or 1), 1.4, 3)

    def test_what_is_seen_with_solvent_counts_apart(self) -> None:
        log = Log().filled()
        log.add("wet_trial", tool="solvent", seen={"bleeds": "yes"})
        log.add("wet_trial", tool="blender", seen={"opens": "stays"})
        log.add("dried", what="touch")
        log.add("flaw", flaw=Flaw.SANK)
        log.add("verdict", verdict="right")
        pot = log.pot
        self.assertEqual(pot.trials, {"solvent": {"bleeds": "yes"}, "blender": {"opens": "stays"}})
        self.assertEqual(set(pot.dried), {"touch"})
        self.assertEqual(pot.flaws, {Flaw.SANK})
        self.assertEqual(pot.verdict, "right")
        self.assertIn("(solvent)", judge(pot, PLAN).why[0])

    def test_an_answer_nobody_asks_for(self) -> None:
        for seen, field in (({"taste": "good"}, "seen.taste"), ({"line": "wavy"}, "seen.line")):
            with self.assertRaises(Refused) as refused:
                check_seen(sticks.DRY, seen)
            self.assertEqual(refused.exception.field, field)
