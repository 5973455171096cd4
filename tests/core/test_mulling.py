"""The muller: loads, spells, what ends them, and what the advice makes of it."""

import unittest
from dataclasses import replace
from datetime import timedelta

from hypothesis import given
from hypothesis import strategies as st

from niddy.core import advice as advices
from niddy.core import mulling, slab
from niddy.core.advice import NextAct
from niddy.core.errors import Refused
from niddy.core.log import struck
from niddy.core.mulling import Due, EndedBy, Mulling
from niddy.core.slab import DoubtAnswer, Kind, SessionPhase, Stage, Way
from niddy.core.ways import ways
from niddy.core.wetting import Body
from tests.core.test_slab import AT, FACTS, PLANNED, Log, advise, muller_now, started

LOADS = 5
LOAD_ML = 25.0


def minutes(count: float) -> timedelta:
    return timedelta(minutes=count)


def wet(oil_g: float = 0.0) -> Log:
    """A log at wet curds, with the first rung in."""
    log = started()
    log.add(Kind.OIL, oil_g or slab.know(log.paste, FACTS).rungs[0].cumulative_g)
    log.add(Kind.LOOK, stage=Stage.WET_CURDS)
    return log


def next_act(log: Log, load_ml: float | None = None) -> advices.Advice:
    return advices.advise(slab.know(log.paste, FACTS), PLANNED, muller_now(log.paste, log.clock, load_ml))


class Spells(unittest.TestCase):
    def test_spells_of_a_load_add_up_and_a_scrape_interrupts_nothing(self) -> None:
        told = mulling.start(Mulling(), AT, None, 3)
        told = mulling.scrape(told, AT + minutes(3))
        self.assertIsNotNone(told.running_since)
        told = mulling.pause(told, AT + minutes(5))
        told = mulling.start(told, AT + minutes(9), None, 3)
        told = mulling.pause(told, AT + minutes(12))
        assert told.load is not None
        self.assertAlmostEqual(told.load.seconds, 8 * 60)
        self.assertAlmostEqual(told.load.unscraped_seconds, 5 * 60)
        self.assertEqual((told.load.spells, told.load.scrapes, told.at), (2, 1, 0))

    def test_a_load_that_is_done_makes_way_for_the_next(self) -> None:
        told = mulling.done(mulling.start(Mulling(), AT, None, 2), AT + minutes(16), EndedBy.SILENCE)
        told = mulling.start(told, AT + minutes(18), None, 2)
        self.assertEqual(told.at, 1)
        self.assertEqual(told.loads[0].ended_by, EndedBy.SILENCE)
        self.assertAlmostEqual(told.loads[0].seconds, 16 * 60)

    def test_the_gauge_ends_a_load_at_its_target_only(self) -> None:
        told = mulling.start(Mulling(), AT, None)
        told = mulling.fineness(told, AT + minutes(8), 30, 15)
        self.assertIsNotNone(told.running_since)
        told = mulling.fineness(told, AT + minutes(12), 15, 15)
        assert told.load is not None
        self.assertEqual((told.load.ended_by, told.load.fineness_um), (EndedBy.FINENESS, 15))
        self.assertIsNone(told.running_since)
        untold = mulling.fineness(mulling.start(Mulling(), AT, None), AT + minutes(12), 5, None)
        assert untold.load is not None
        self.assertIsNone(untold.load.ended_by)

    def test_a_clock_that_ran_backwards_counts_nothing_and_is_remembered(self) -> None:
        told = mulling.pause(mulling.start(Mulling(), AT, None), AT - minutes(40))
        assert told.load is not None
        self.assertEqual((told.load.seconds, told.clock_back), (0, 1))
        known = mulling.pause(mulling.start(told, AT, None), AT - minutes(40), 7)
        assert known.load is not None
        self.assertEqual((known.load.seconds, known.clock_back), (420, 1))

    def test_powder_has_to_be_dispersed_oil_only_worked_in_once_every_load_is_done(self) -> None:
        half = mulling.done(mulling.start(Mulling(), AT, None, 2), AT + minutes(16), EndedBy.MINUTES)
        self.assertIs(mulling.added(half, AT, powder=False).due, Due.DISPERSE)
        whole = mulling.done(mulling.start(half, AT, None, 2), AT + minutes(16), EndedBy.MINUTES)
        self.assertIs(mulling.added(whole, AT, powder=False).due, Due.REWORK)
        self.assertIs(mulling.added(whole, AT, powder=True).due, Due.DISPERSE)
        self.assertIs(mulling.gather(whole, AT).due, Due.REWORK)
        self.assertIs(mulling.gather(half, AT).due, Due.DISPERSE)

    def test_an_addition_takes_the_hand_off_the_muller(self) -> None:
        log = wet()
        log.add(Kind.MULL)
        log.wait(4)
        log.add(Kind.OIL, 1)
        log.wait(60)
        self.assertIsNone(log.paste.mulling.running_since)
        self.assertAlmostEqual(log.paste.mulling.seconds, 240)

    @given(st.lists(st.tuples(st.sampled_from("msdgop"), st.floats(-3, 30)), max_size=30))
    def test_no_order_of_acts_loses_or_invents_minutes(self, acts: list[tuple[str, float]]) -> None:
        told, clock, ran = Mulling(), AT, 0.0
        for letter, wait in acts:
            clock += minutes(wait)
            before = told
            if letter == "m" and told.running_since is None:
                told = mulling.start(told, clock, None, 3)
            elif letter == "s":
                told = mulling.scrape(told, clock)
            elif letter == "d":
                told = mulling.done(told, clock, EndedBy.MINUTES)
            elif letter == "g":
                told = mulling.gather(told, clock)
            elif letter in "op":
                told = mulling.added(told, clock, powder=letter == "p")
            if before.running_since is not None and told.running_since != before.running_since:
                ran += max(0.0, (clock - before.running_since).total_seconds())
            self.assertAlmostEqual(told.seconds, ran, 6)
            self.assertTrue(all(load.seconds >= 0 for load in told.loads))


class LoadsNow(unittest.TestCase):
    def test_a_batch_is_split_for_its_slab_and_additions_change_it_at_once(self) -> None:
        log = wet()
        before = muller_now(log.paste, AT, LOAD_ML)
        self.assertEqual(len(before.loads), LOADS)
        volume = sum(load.volume_ml for load in before.loads)
        log.add(Kind.POWDER, 80)
        after = muller_now(log.paste, AT, LOAD_ML)
        self.assertGreater(len(after.loads), LOADS)
        self.assertAlmostEqual(sum(load.volume_ml for load in after.loads) - volume, 80 / 2.5)

    def test_rounds_count_from_the_first_spell_and_an_addition_begins_the_next(self) -> None:
        log = wet()
        told = muller_now(log.paste, log.clock, LOAD_ML)
        self.assertEqual((told.round, told.begun, told.load), (1, False, 1))
        log.add(Kind.MULL, of_loads=1)
        told = muller_now(log.paste, log.clock, LOAD_ML)
        self.assertEqual((told.round, told.begun, told.all_done), (1, True, False))
        log.add(Kind.LOAD_DONE, ended_by=EndedBy.MINUTES)
        log.add(Kind.GATHER)
        log.add(Kind.OIL, 2)
        told = muller_now(log.paste, log.clock, LOAD_ML)
        self.assertEqual((told.round, told.begun), (2, True))
        log.add(Kind.MULL, of_loads=1)
        self.assertEqual(muller_now(log.paste, log.clock, LOAD_ML).round, 2)

    def test_the_running_load_counts_up_and_a_forgotten_muller_is_noticed(self) -> None:
        log = wet()
        log.add(Kind.MULL, of_loads=LOADS)
        log.wait(6)
        seen = muller_now(log.paste, log.clock, LOAD_ML)
        self.assertEqual([load.state for load in seen.loads], ["running", *["to_come"] * 4])
        self.assertAlmostEqual(seen.left_minutes, 10)
        self.assertFalse(seen.long_spell)
        log.wait(60)
        self.assertTrue(muller_now(log.paste, log.clock, LOAD_ML).long_spell)

    def test_one_may_go_back_to_a_load(self) -> None:
        log = wet()
        log.add(Kind.MULL, of_loads=LOADS)
        log.add(Kind.LOAD_DONE, ended_by=EndedBy.MINUTES)
        log.add(Kind.MULL, of_loads=LOADS, load=1)
        self.assertEqual(muller_now(log.paste, AT, LOAD_ML).loads[0].state, "running")

    def test_minutes_a_load_leave_out_what_only_worked_oil_in(self) -> None:
        log = wet()
        self.assertIsNone(mulling.dispersing_minutes_per_load(log.paste.mulling))
        for _ in range(2):
            log.add(Kind.MULL, of_loads=2)
            log.wait(15)
            log.add(Kind.LOAD_DONE, ended_by=EndedBy.MINUTES)
        log.add(Kind.OIL, 1)
        log.add(Kind.MULL, of_loads=2)
        log.wait(9)
        log.add(Kind.PAUSE)
        self.assertAlmostEqual(mulling.dispersing_minutes_per_load(log.paste.mulling) or 0, 15)


class AdviceAtTheMuller(unittest.TestCase):
    def test_the_whole_way_of_a_batch_in_one_load(self) -> None:
        log = started()
        log.add(Kind.OIL, slab.know(log.paste, FACTS).rungs[0].cumulative_g)
        self.assertIs(next_act(log).act, NextAct.LOOK)
        log.add(Kind.LOOK, stage=Stage.WET_CURDS)
        self.assertIs(next_act(log).act, NextAct.MULL)
        log.add(Kind.MULL)
        log.wait(10)
        self.assertIs(next_act(log).act, NextAct.MULL_ON)
        log.wait(6)
        self.assertIs(next_act(log).act, NextAct.LOAD_DONE)
        log.add(Kind.LOAD_DONE, ended_by=EndedBy.MINUTES)
        self.assertIs(next_act(log).act, NextAct.LOOK)
        log.add(Kind.LOOK, stage=Stage.EVEN_PASTE, body=Body.PUTTY)
        pour = next_act(log)
        self.assertIs(pour.act, NextAct.POUR)
        log.add(Kind.OIL, pour.grams)
        mull = next_act(log)
        self.assertIs(mull.act, NextAct.MULL)
        self.assertIn("new oil", mull.reason)
        log.add(Kind.MULL)
        log.wait(4)
        log.add(Kind.LOAD_DONE, ended_by=EndedBy.SILENCE)
        log.add(Kind.LOOK, stage=Stage.EVEN_PASTE, body=Body.TUBE)
        self.assertIs(next_act(log).act, NextAct.RIGHT)

    def test_nothing_is_poured_before_the_minutes_are_up(self) -> None:
        log = wet()
        log.add(Kind.MULL)
        log.wait(5)
        log.add(Kind.PAUSE)
        log.add(Kind.LOOK, stage=Stage.EVEN_PASTE, body=Body.STIFF)
        self.assertIs(next_act(log).act, NextAct.MULL)

    def test_a_look_made_too_early_counts_for_nothing_once_all_is_mulled_and_gathered(self) -> None:
        log = wet(68.2)
        log.add(Kind.MULL)
        log.wait(5)
        log.add(Kind.LOOK, stage=Stage.EVEN_PASTE, body=Body.TUBE)
        log.wait(11)
        log.add(Kind.LOAD_DONE, ended_by=EndedBy.MINUTES)
        self.assertIs(next_act(log).act, NextAct.LOOK)
        log.add(Kind.GATHER)
        again = next_act(log)
        self.assertIs(again.act, NextAct.LOOK)
        self.assertIn("loosens", again.reason)

    def test_right_too_early_is_mulled_on_and_too_loose_never_waits(self) -> None:
        log = wet()
        log.add(Kind.MULL)
        log.wait(5)
        log.add(Kind.PAUSE)
        log.add(Kind.LOOK, stage=Stage.EVEN_PASTE, body=Body.TUBE)
        self.assertIs(next_act(log).act, NextAct.MULL)
        log.add(Kind.OIL, 8)
        log.add(Kind.LOOK, stage=Stage.EVEN_PASTE, body=Body.SOFT)
        self.assertIs(next_act(log).act, NextAct.TOO_LOOSE)

    def test_loads_are_mulled_one_by_one_then_gathered(self) -> None:
        log = wet(68.2)
        for n in range(LOADS):
            told = next_act(log, LOAD_ML)
            self.assertIs(told.act, NextAct.MULL)
            self.assertIn(f"load {n + 1} of {LOADS}", told.line)
            log.add(Kind.MULL, of_loads=LOADS)
            log.wait(16)
            self.assertIs(next_act(log, LOAD_ML).act, NextAct.LOAD_DONE)
            log.add(Kind.LOAD_DONE, ended_by=EndedBy.MINUTES)
            if n == 0:
                self.assertIs(next_act(log, LOAD_ML).act, NextAct.LOOK)
                log.add(Kind.LOOK, stage=Stage.EVEN_PASTE, body=Body.TUBE)
        self.assertIs(next_act(log, LOAD_ML).act, NextAct.GATHER)
        log.add(Kind.GATHER)
        self.assertIs(next_act(log, LOAD_ML).act, NextAct.RIGHT)

    def test_the_muller_is_offered_only_when_no_dust_is_left(self) -> None:
        log = started(60)
        for prepare, ok in ((None, False), (Stage.CRUMBS, False), (Stage.WET_CURDS, True)):
            if prepare:
                log.add(Kind.LOOK, stage=prepare)
            paste = log.paste
            log.add(Kind.MULL)
            event = log.events.pop()
            if ok:
                slab.check(paste, event, None)
            else:
                with self.assertRaises(Refused) as caught:
                    slab.check(paste, event, None)
                self.assertEqual(caught.exception.field, "kind")

    def test_what_needs_a_running_muller_is_refused_without(self) -> None:
        log = wet()
        for kind, what in (
            (Kind.PAUSE, {}),
            (Kind.SCRAPE, {}),
            (Kind.FINENESS, {"fineness_um": 20.0}),
            (Kind.LOAD_DONE, {"ended_by": EndedBy.MINUTES}),
            (Kind.GATHER, {}),
        ):
            paste = log.paste
            log.add(kind, **what)
            with self.subTest(kind), self.assertRaises(Refused):
                slab.check(paste, log.events.pop(), None)
        log.add(Kind.MULL)
        paste = log.paste
        log.add(Kind.MULL)
        with self.assertRaises(Refused) as caught:
            slab.check(paste, log.events[-1], None)
        self.assertIn("runs already", caught.exception.problem)


class Phases(unittest.TestCase):
    def phase(self, log: Log) -> SessionPhase:
        return advices.phase_now(slab.know(log.paste, FACTS), PLANNED, muller_now(log.paste, log.clock))

    def test_the_acts_suggest_them_in_order(self) -> None:
        log = Log()
        seen = [self.phase(log)]
        log.add(Kind.READY)
        seen.append(self.phase(log))
        log.add(Kind.POWDER, 100)
        seen.append(self.phase(log))
        log.add(Kind.OIL, slab.know(log.paste, FACTS).rungs[0].cumulative_g)
        log.add(Kind.LOOK, stage=Stage.WET_CURDS)
        seen.append(self.phase(log))
        log.add(Kind.MULL)
        seen.append(self.phase(log))
        log.wait(16)
        log.add(Kind.LOAD_DONE, ended_by=EndedBy.MINUTES)
        seen.append(self.phase(log))
        log.add(Kind.LOOK, stage=Stage.EVEN_PASTE, body=Body.TUBE)
        seen.append(self.phase(log))
        self.assertEqual(seen, list(SessionPhase))

    def test_the_maker_may_go_back_until_the_next_act(self) -> None:
        acts = {
            SessionPhase.READY: NextAct.READY,
            SessionPhase.POWDER: NextAct.POWDER,
            SessionPhase.FOLD: NextAct.POUR,
            SessionPhase.WET: NextAct.POUR,
            SessionPhase.MULL: NextAct.MULL,
            SessionPhase.JUDGE: NextAct.LOOK,
        }
        for phase, act in acts.items():
            log = wet()
            log.add(Kind.PHASE, phase=phase)
            with self.subTest(phase):
                self.assertIs(self.phase(log), phase)
                self.assertIs(next_act(log).act, act)
                log.add(Kind.NOTE, text="hm")
                self.assertIs(self.phase(log), phase)
                log.add(Kind.LOOK, stage=Stage.WET_CURDS)
                self.assertIs(self.phase(log), SessionPhase.WET)

    def test_right_is_said_by_a_look_only(self) -> None:
        log = wet()
        paste = log.paste
        log.add(Kind.PHASE, phase=SessionPhase.RIGHT)
        with self.assertRaises(Refused):
            slab.check(paste, log.events[-1], None)


class Looks(unittest.TestCase):
    def test_an_unmulled_paste_is_expected_to_read_stiffer(self) -> None:
        at_once, mulled = wet(80), wet(80)
        for log, wait in ((at_once, 0.0), (mulled, 40.0)):
            log.add(Kind.MULL)
            log.wait(wait)
            log.add(Kind.LOOK, stage=Stage.EVEN_PASTE, body=Body.STIFF)
        early, late = (slab.know(log.paste, FACTS).matches[0] for log in (at_once, mulled))
        self.assertLess(early.sds, late.sds)
        self.assertLess(slab.know(at_once.paste, FACTS).demand[0], slab.know(mulled.paste, FACTS).demand[0])

    def test_one_look_that_cannot_be_is_asked_about_before_it_moves_anything(self) -> None:
        narrow = replace(FACTS, demand_sd_ln=0.03)
        log = started(68)
        log.add(Kind.LOOK, stage=Stage.EVEN_PASTE, body=Body.CRUMBLES)
        self.assertGreater(slab.know(log.paste, narrow).matches[0].sds, 2.5)
        doubt = slab.know(log.paste, narrow).doubt
        assert doubt is not None
        self.assertTrue(doubt.stiffer and not doubt.impossible)
        self.assertIn("drier", doubt.says)
        self.assertIs(advices.advise(slab.know(log.paste, narrow), PLANNED, muller_now(log.paste)).act, NextAct.DOUBT)
        log.add(Kind.ANSWER, answer=DoubtAnswer.LOOKS_ASIDE)
        self.assertIsNone(slab.know(log.paste, narrow).doubt)
        self.assertAlmostEqual(slab.know(log.paste, narrow).demand[0], FACTS.oil_absorption_g_per_100g)

    def test_looks_that_agree_say_nothing(self) -> None:
        log = started(68)
        for _ in range(3):
            log.add(Kind.LOOK, stage=Stage.EVEN_PASTE, body=Body.TUBE)
        self.assertIsNone(slab.know(log.paste, FACTS).doubt)
        self.assertTrue(all(abs(match.sds) < 1 for match in slab.know(log.paste, FACTS).matches))
        self.assertEqual(len(slab.know(log.paste, FACTS).matches), 1, "looks without a pour between count once")


class ByEye(unittest.TestCase):
    def tapped(self, taps: int = 3) -> Log:
        log = started()
        log.add(Kind.BOTTLE, bottle_g=312.0)
        for _ in range(taps):
            log.add(Kind.BY_EYE, source="lot-2")
        return log

    def test_the_sum_is_spread_over_the_taps(self) -> None:
        log = self.tapped()
        self.assertIsNone(log.paste.oil_g_per_100g)
        weighing = log.add(Kind.BOTTLE, bottle_g=246.0)
        paste = log.paste
        self.assertAlmostEqual(paste.oil_g, 66)
        self.assertAlmostEqual(paste.oil_g_per_100g or 0, 66)
        spread = paste.by_eye.weighings[weighing]
        self.assertEqual((spread.taps, spread.grams), (3, 66))
        self.assertAlmostEqual(spread.half_width_g, 0.5 * 22 * (2 / 3) ** 0.5)
        one = self.tapped(1)
        lone = one.add(Kind.BOTTLE, bottle_g=246.0)
        self.assertEqual(one.paste.by_eye.weighings[lone].half_width_g, 0)

    def untold(self) -> Log:
        log = started()
        for _ in range(4):
            log.add(Kind.BY_EYE, source="lot-2")
        log.add(Kind.LOOK, stage=slab.Stage.EVEN_PASTE, body=Body.TUBE)
        return log

    def test_no_bottle_is_needed_and_the_eye_carries_the_session(self) -> None:
        log = self.untold()
        for event in log.events:
            if event.kind is Kind.BY_EYE:
                slab.check(started().paste, event, None)
        self.assertIsNone(slab.know(log.paste, FACTS).reading)
        self.assertIs(advise(log.paste, FACTS, PLANNED).act, NextAct.RIGHT)
        oil = slab.reckoned_oil(log.paste, FACTS)
        assert oil is not None
        supposed = slab.supposed(log.paste, FACTS)
        self.assertAlmostEqual(supposed.oil_g, oil.median)
        reading = slab.know(supposed, FACTS).reading
        assert reading is not None
        self.assertIs(reading.body, Body.TUBE)

    def test_a_finish_reckons_what_nobody_told_and_teaches_nothing(self) -> None:
        log = self.untold()
        oil = slab.reckoned_oil(log.paste, FACTS)
        assert oil is not None
        log.add(Kind.FINISH, verdict=slab.Verdict.RIGHT, reckoned=oil)
        self.assertAlmostEqual(log.paste.oil_g, oil.median)
        self.assertAlmostEqual(log.paste.by_eye.used_g, oil.median)
        self.assertGreater(log.paste.oil_sd_ln, 0.05)
        self.assertIsNone(slab.taught(slab.know(log.paste, FACTS), slab.Verdict.RIGHT))

    def test_told_afterwards_it_is_as_good_as_told_at_once(self) -> None:
        log, at_once = self.untold(), self.untold()
        log.add(Kind.FINISH, verdict=slab.Verdict.RIGHT, reckoned=slab.reckoned_oil(log.paste, FACTS))
        log.add(Kind.CAME_OUT, 66.0)
        slab.check(log.paste if not log.events else slab.fold(log.events[:-1]), log.events[-1], None)
        at_once.add(Kind.CAME_OUT, 66.0)
        at_once.add(Kind.FINISH, verdict=slab.Verdict.RIGHT)
        self.assertAlmostEqual(log.paste.oil_g, 66)
        self.assertAlmostEqual(log.paste.by_eye.used_g, 66)
        self.assertEqual(log.paste.oils, at_once.paste.oils)
        self.assertEqual(log.paste.looks, at_once.paste.looks)
        self.assertIsNotNone(slab.taught(slab.know(log.paste, FACTS), slab.Verdict.RIGHT))
        self.assertEqual(log.paste.oil_sd_ln, 0)

    def test_a_tap_struck_out_after_it_was_told_leaves_no_oil(self) -> None:
        log = started()
        tap = log.add(Kind.BY_EYE, source="lot-2")
        log.add(Kind.CAME_OUT, 12.0)
        self.assertAlmostEqual(log.paste.oil_g, 12)
        log.add(Kind.STRIKE, strikes=tap)
        self.assertEqual(log.paste.oil_g, 0)
        self.assertEqual(log.paste.by_eye.taps, 0)

    def test_one_who_overshot_by_eye_has_ways_back(self) -> None:
        log = started()
        for _ in range(4):
            log.add(Kind.BY_EYE, source="lot-2")
        log.add(Kind.LOOK, stage=slab.Stage.EVEN_PASTE, body=Body.LOOSE)
        self.assertIs(advise(log.paste, FACTS, PLANNED).act, NextAct.TOO_LOOSE)
        found = ways(slab.know(slab.supposed(log.paste, FACTS), FACTS), PLANNED, {}, None, None)
        self.assertIn(slab.Way.ADD_PIGMENT, [way.way for way in found])

    def test_a_look_between_taps_gets_its_ratio_from_the_weighing(self) -> None:
        log = self.tapped(2)
        log.add(Kind.LOOK, stage=Stage.EVEN_PASTE, body=Body.STIFF)
        log.add(Kind.BY_EYE, source="lot-2")
        self.assertIsNone(log.paste.looks[0].oil_g_per_100g)
        log.add(Kind.BOTTLE, bottle_g=246.0)
        self.assertAlmostEqual(log.paste.looks[0].oil_g_per_100g or 0, 44)

    def test_the_record_is_as_good_as_the_weighing(self) -> None:
        poured = started(66)
        log = self.tapped()
        log.add(Kind.BOTTLE, bottle_g=246.0)
        self.assertEqual((log.paste.oils, log.paste.poured_g), (poured.paste.oils, poured.paste.poured_g))
        self.assertEqual(slab.know(log.paste, FACTS).reading, slab.know(poured.paste, FACTS).reading)

    def test_striking_a_tap_or_a_weighing_tells_it_anew(self) -> None:
        log = self.tapped()
        log.add(Kind.BOTTLE, bottle_g=246.0)
        tap, weighing = log.events[-2].id, log.events[-1].id
        log.add(Kind.STRIKE, strikes=tap)
        self.assertAlmostEqual(log.paste.oil_g, 66)
        self.assertEqual(log.paste.by_eye.weighings[weighing].taps, 2)
        log.add(Kind.STRIKE, strikes=weighing)
        self.assertEqual((log.paste.oil_g, log.paste.by_eye.taps, log.paste.by_eye.bottle_g), (0, 2, 312))

    def test_what_needs_the_sum_waits_for_the_bottle(self) -> None:
        log = self.tapped()
        for kind, grams, what in ((Kind.SAMPLE, 1.0, {}), (Kind.DRAW_OIL, 1.0, {})):
            paste = log.paste
            log.add(kind, grams, **what)
            with self.subTest(kind), self.assertRaises(Refused) as caught:
                slab.check(paste, log.events.pop(), None)
            self.assertIn("bottle", caught.exception.problem + caught.exception.accepted)
        log.add(Kind.BOTTLE, bottle_g=320.0)
        with self.assertRaises(Refused) as caught:
            slab.check(slab.fold(log.events[:-1]), log.events[-1], None)
        self.assertEqual(caught.exception.field, "bottle_g")
        bare = started()
        bare.add(Kind.CAME_OUT, 30.0)
        with self.assertRaises(Refused):
            slab.check(slab.fold(bare.events[:-1]), bare.events[-1], None)

    def test_advice_goes_by_the_eye_until_the_bottle_is_weighed(self) -> None:
        log = self.tapped(1)
        self.assertIs(advise(log.paste, FACTS, PLANNED).act, NextAct.LOOK)
        log.add(Kind.LOOK, stage=Stage.DRY_ISLANDS)
        self.assertIs(advise(log.paste, FACTS, PLANNED).act, NextAct.POUR)
        log.add(Kind.BY_EYE, source="lot-2")
        log.add(Kind.LOOK, stage=Stage.WET_CURDS)
        self.assertIs(advise(log.paste, FACTS, PLANNED).act, NextAct.MULL)
        log.add(Kind.LOOK, stage=Stage.EVEN_PASTE, body=Body.STIFF)
        self.assertIs(advise(log.paste, FACTS, PLANNED).act, NextAct.POUR)
        log.add(Kind.LOOK, stage=Stage.EVEN_PASTE, body=Body.TUBE)
        self.assertIs(advise(log.paste, FACTS, PLANNED).act, NextAct.BOTTLE)


KINDS = (
    Kind.POWDER,
    Kind.OIL,
    Kind.BY_EYE,
    Kind.BOTTLE,
    Kind.CAME_OUT,
    Kind.SAMPLE,
    Kind.MULL,
    Kind.PAUSE,
    Kind.SCRAPE,
    Kind.LOAD_DONE,
    Kind.FINENESS,
    Kind.GATHER,
    Kind.LOOK,
    Kind.PHASE,
    Kind.NOTE,
    Kind.CHOOSE_WAY,
)


@st.composite
def sessions(draw: st.DrawFn) -> Log:
    """Any session whose every act was accepted."""
    log = started()
    log.add(Kind.BOTTLE, bottle_g=400.0)
    for kind in draw(st.lists(st.sampled_from(KINDS), max_size=30)):
        log.wait(draw(st.floats(-1, 8)))
        grams = draw(st.floats(0.1, 20)) if kind in (Kind.POWDER, Kind.OIL, Kind.SAMPLE, Kind.CAME_OUT) else None
        known = log.paste.by_eye.bottle_g or 400.0
        what: dict[str, object] = {
            Kind.BY_EYE: {"source": "lot-2"},
            Kind.BOTTLE: {"bottle_g": known * 0.97},
            Kind.LOAD_DONE: {"ended_by": EndedBy.MINUTES},
            Kind.FINENESS: {"fineness_um": draw(st.floats(5, 40)), "target_fineness_um": 15.0},
            Kind.LOOK: {"stage": draw(st.sampled_from(Stage)), "body": draw(st.sampled_from(Body))},
            Kind.PHASE: {"phase": SessionPhase.JUDGE},
            Kind.CHOOSE_WAY: {"way": Way.LEAVE, "target_reduced_pvc": 0.8},
            Kind.MULL: {"of_loads": 3},
        }.get(kind, {})
        before = log.paste
        made = log.add(kind, grams, **what)
        try:
            slab.check(before, log.events[-1], None)
        except Refused:
            log.events.pop()
            continue
        if kind is not Kind.NOTE and draw(st.integers(0, 5)) == 0:
            log.add(Kind.STRIKE, strikes=made)
    return log


class WholeSessions(unittest.TestCase):
    @given(sessions(), st.randoms())
    def test_the_snapshot_is_the_full_fold_and_arrival_order_is_nothing(self, log: Log, chance: object) -> None:
        shuffled = list(log.events)
        chance.shuffle(shuffled)  # type: ignore[attr-defined]
        self.assertEqual(slab.fold(shuffled), log.paste)
        paste = slab.Paste()
        for n, event in enumerate(log.events):
            # As the record keeps it: a strike is folded anew, all else only adds.
            paste = slab.fold(log.events[: n + 1]) if event.kind is Kind.STRIKE else slab.after(paste, event)
        self.assertEqual(paste, log.paste)

    @given(sessions())
    def test_striking_the_last_act_and_adding_it_again_gives_the_same_state(self, log: Log) -> None:
        last = next((e for e in reversed(log.events) if e.kind is not Kind.STRIKE), None)
        assert last is not None
        if last.id in struck(log.events):
            return
        wanted = replace(log.paste, struck=frozenset())
        log.add(Kind.STRIKE, strikes=last.id)
        again = replace(last, id=log.add(Kind.NOTE), seq=len(log.events))
        log.events[-1] = again
        told = replace(log.paste, struck=frozenset())
        # The act that stands for it now has another name.
        self.assertEqual([pour.grams for pour in told.pours], [pour.grams for pour in wanted.pours])
        told, wanted = (
            replace(paste, pours=(), powder_acts={}, by_eye=replace(paste.by_eye, weighings={}))
            for paste in (told, wanted)
        )
        if not [e for e in log.events if e.seq > last.seq and e.kind is not Kind.STRIKE and e.id != again.id]:
            self.assertEqual(told, wanted)

    @given(sessions())
    def test_there_is_always_one_next_act_and_a_phase(self, log: Log) -> None:
        for load_ml in (None, 10.0):
            told = next_act(log, load_ml)
            self.assertTrue(told.line and told.reason)
            advices.phase_now(slab.know(log.paste, FACTS), PLANNED, muller_now(log.paste, log.clock, load_ml))
