"""The pot: a fold over its acts, what to do next, corrections and their price, trials and their verdict."""

import math
import random
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
    feel_of,
    fold,
    fresh_c,
    judge,
    known_dent,
    left_alone_min,
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
        facts: dict[str, Any] = {name: what.pop(name) for name in ("bases", "oils", "pigments") if name in what}
        if what.get("dent_dmm") is not None:
            facts["dent_dmm"] = what["dent_dmm"]
        said = {"id": uuid4(), "kind": kind, "made_at": at, **WHOLE.get(kind, {}), **what}
        act = ACT.validate_python(said)
        self.acts.append(Logged(act.id, len(self.acts) + 1, act, PotFacts(**facts), what.get("strikes")))
        return act.id

    @property
    def pot(self) -> Pot:
        return fold(self.acts)

    @property
    def now(self) -> datetime:
        at: datetime = self.acts[-1].act.made_at
        return at

    def reading(self) -> Any:
        return read(self.pot, BASE, OIL, 0.0)

    def known(self) -> Any:
        return known_dent(PLAN, self.reading(), taught(self.acts, BASE, OIL))

    def next(self, plan: PotPlan = PLAN, after: float = 0.0) -> Any:
        now = self.now + timedelta(minutes=after)
        return advise(self.pot, plan, self.reading(), now, NAMES, taught(self.acts, BASE, OIL), self.now)

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

    def test_a_pot_on_heat_that_nobody_touches_is_an_alarm_until_the_heat_is_off(self) -> None:
        log = Log()
        log.add("ready")
        self.assertIsNone(left_alone_min(log.pot, log.now, log.now + timedelta(hours=1)), "nothing is hot yet")
        log.add("base", bases={"lot-1": 30.4})
        log.add("temperature", temperature_c=84.0)
        self.assertEqual(log.next(after=14).urgent, "")
        self.assertIn("Nothing was done here for 16 minutes", log.next(after=16).urgent)
        self.assertIn("never water", log.next(after=16).urgent)
        self.assertIn("for 3 hours", log.next(after=180).urgent)
        off = log.add("heat_off")
        self.assertEqual(log.next(after=180).urgent, "")
        log.add("strike", strikes=off)
        self.assertIn("Nothing was done", log.next(after=16).urgent)
        for kind, what in (("melted", {}), ("temperature", {"temperature_c": 80.0}), ("oil", {"oils": {"lot-2": 1.0}})):
            with self.subTest(kind):
                log.add("heat_off")
                log.add(kind, **what)
                self.assertIsNotNone(left_alone_min(log.pot, log.now, log.now + timedelta(minutes=16)))
        log.add("pour")
        self.assertIsNone(left_alone_min(log.pot, log.now, log.now + timedelta(hours=1)))

    def test_a_temperature_is_the_pots_for_ten_minutes(self) -> None:
        log = Log().filled()
        log.add("drop", dent_dmm=49.0, by=By.NEEDLE)
        log.add("temperature", temperature_c=80.0)
        self.assertEqual(fresh_c(log.pot, log.now + timedelta(minutes=10)), 80.0)
        self.assertNotIn("thermometer", log.next(after=10).step.how)
        self.assertIsNone(fresh_c(log.pot, log.now + timedelta(minutes=11)))
        self.assertIn("Read the thermometer first", log.next(after=11).step.how)

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
    def test_a_hard_drop_is_given_half_its_oil_first_and_its_price_is_said(self) -> None:
        log = Log().filled()
        log.add("drop", dent_dmm=30.0, by=By.NEEDLE)
        found = log.next()
        self.assertEqual((found.act, found.source), ("oil", "lot-2"))
        first = found.mend
        assert first is not None
        self.assertAlmostEqual(found.grams or 0, first.add_g)
        self.assertAlmostEqual(first.rest_g, first.add_g)
        self.assertIn(f"rest would be {first.rest_g:.1f} g", found.step.how)
        self.assertGreater(first.sticks_more, 0)
        self.assertGreater(first.weaker_pct, 0)
        log.add("oil", oils={"lot-2": first.add_g})
        log.add("stir")
        # A second drop where the posterior puts it: what is left is asked for whole.
        log.add("drop", dent_dmm=log.known().dmm, by=By.NEEDLE)
        second = log.next().mend
        assert second is not None
        self.assertEqual(second.rest_g, 0.0)
        self.assertAlmostEqual(second.add_g, first.rest_g, delta=0.25 * first.rest_g)
        log.add("oil", oils={"lot-2": second.add_g})
        self.assertAlmostEqual(log.known().dmm, 48.94, delta=0.2)
        self.assertAlmostEqual(log.reading().reduced_pvc, second.reduced_pvc_after, 6)

    def test_a_drop_moves_what_is_known_by_what_it_is_worth(self) -> None:
        log = Log().filled()
        before = log.known()
        self.assertEqual((before.drops, before.sd), (0, 0.35))
        for by, weight in ((By.NEEDLE, 0.35**2 / (0.35**2 + 0.12**2)), (By.FEEL, 0.5)):
            one = Log().filled()
            one.add("drop", dent_dmm=24.0, by=by, feel=Feel.FIRM)
            known = one.known()
            self.assertAlmostEqual(known.ln_dmm, before.ln_dmm + weight * (math.log(24.0) - before.ln_dmm))
            self.assertLess(known.sd, before.sd)

    def test_a_drop_by_feel_is_believed_less(self) -> None:
        by_feel, by_needle = Log().filled(), Log().filled()
        by_feel.add("drop", dent_dmm=35.0, by=By.FEEL, feel=Feel.SOFT)
        by_needle.add("drop", dent_dmm=35.0, by=By.NEEDLE)
        felt, read_ = by_feel.next(), by_needle.next()
        self.assertEqual((felt.act, read_.act), ("oil", "oil"))
        self.assertLess(felt.grams, 0.7 * read_.grams)
        near = Log().filled()
        near.add("drop", dent_dmm=42.0, by=By.FEEL, feel=Feel.SOFT)
        self.assertEqual(near.next().act, "pour")

    def test_half_the_pots_judged_by_thumb_come_near_after_two_drops(self) -> None:
        luck, off = random.Random(11), []
        for _ in range(60):
            truly = luck.gauss(0.0, 0.35)
            log = Log().filled()
            for _ in range(2):
                dent = log.reading().ln_dent_bare + truly
                felt = feel_of(math.exp(dent + luck.gauss(0.0, 0.2)), 0.7)
                log.add("drop", dent_dmm=sticks.FEEL_DENT.get(felt, 130.0), by=By.FEEL, feel=felt)
                found = log.next()
                if found.act == "pour" or found.mend is None or not found.mend.add_g:
                    break
                mend_ = found.mend
                bases = mend_.base_g or ({"lot-1": mend_.add_g} if mend_.kind == "base" else {})
                more = {source: replace(BLACK, grams=grams) for source, grams in mend_.pigment_g.items()}
                oils = {"lot-2": mend_.add_g} if mend_.kind == "oil" else {}
                log.add("mulled", bases=bases, oils=oils, pigments=more)
                log.add("stir")
            off.append(abs(math.exp(log.reading().ln_dent_bare + truly) / PLAN.target_dmm - 1))
        self.assertGreaterEqual(sum(one <= 0.15 for one in off), 30)
        self.assertGreaterEqual(sum(one <= 0.30 for one in off), 45)

    def test_more_of_a_base_melted_fresh_is_more_of_each_wax(self) -> None:
        plan = replace(PLAN, base_g={"lot-1": 20.4, "lot-9": 10.0})
        log = Log().filled()
        log.add("base", bases={"lot-9": 10.0})
        log.add("stir")
        log.add("drop", dent_dmm=PLAN.target_dmm * 1.3, by=By.NEEDLE)
        found = log.next(plan)
        assert found.mend is not None
        self.assertEqual(found.act, "mulled")
        self.assertAlmostEqual(sum(found.parts.values()), found.mend.add_g)
        self.assertAlmostEqual(found.parts["lot-1"] / found.parts["lot-9"], 2.04)

    def test_what_half_the_pot_would_not_mend_takes_its_pigment_along(self) -> None:
        log = Log().filled()
        log.add("drop", dent_dmm=140.0, by=By.NEEDLE)
        found = log.next()
        self.assertEqual(found.act, "mulled")
        assert found.mend is not None
        self.assertEqual((found.mend.kind, found.mend.weaker_pct), ("both", 0.0))
        before = log.reading()
        pigment = {"lot-3": replace(BLACK, grams=found.parts["lot-3"])}
        log.add("mulled", bases={"lot-1": found.parts["lot-1"]}, pigments=pigment)
        self.assertAlmostEqual(log.reading().reduced_pvc, before.reduced_pvc, 6)
        self.assertAlmostEqual(log.known().dmm, 48.94, delta=0.5)

    def test_too_soft_for_its_base_is_never_led_to_the_pour(self) -> None:
        log = Log().filled()
        log.add("drop", dent_dmm=380.0, by=By.NEEDLE)
        found = log.next(replace(PLAN, target_dmm=8.0))
        self.assertIsNone(found.act)
        self.assertEqual(found.step.key, "too_soft")
        self.assertIn("harder base", found.step.how)

    def test_nothing_is_known_where_pigment_is_more_than_can_be_wetted(self) -> None:
        pot = Pot(bases={"lot-1": 1.0}, pigments={"lot-3": BLACK})
        self.assertIsNone(known_dent(PLAN, read(pot, BASE, OIL, 0.0), ()))
        self.assertIsNone(mend(pot, PLAN, read(pot, BASE, OIL, 0.0), ()))


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
