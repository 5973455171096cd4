"""Scale, spoon and eye weighed together: each case a maker met where the figures were sure and wrong."""

import math
import unittest
from dataclasses import replace
from uuid import UUID

from hypothesis import given
from hypothesis import strategies as st

from niddy.core import advice, evidence, measures, mulling, plan, slab
from niddy.core.advice import NextAct, Planned
from niddy.core.estimate import Z90, Basis, Estimate
from niddy.core.evidence import Aim, Eye, LookAt, believe, prior, taught
from niddy.core.measures import Family, Fill, Measure, Unit, to_grams
from niddy.core.plan import Facts
from niddy.core.slab import DoubtAnswer, Event, Kind, Stage, Verdict, Way
from niddy.core.ways import ways
from niddy.core.wetting import Body, ratio_at
from tests.core.test_plan import WISH, dry
from tests.core.test_slab import AT, PLANNED, Log


def an_id(n: int) -> UUID:
    return UUID(int=n + 1)


FOUR_RUB_OUTS = Facts(2.5, 0.930, 52.0, 0.029, 0.86, 0.05, 8.0)
SIENNA = Facts(3.6, 0.930, 45.0, 0.16, 0.86, 0.05, 8.0)


def next_act(log: Log, facts: Facts, planned: tuple[Planned, ...] = PLANNED) -> advice.Advice:
    muller = mulling.now(log.paste.mulling, mulling.Muller(None, 16.0, 8.0), 50.0, log.clock)
    return advice.advise(slab.know(log.paste, facts), planned, muller)


def begun(pigment_g: float, oil_g: float, facts: Facts = FOUR_RUB_OUTS) -> Log:
    log = Log()
    log.add(Kind.READY)
    log.add(Kind.POWDER, pigment_g)
    log.add(Kind.OIL, oil_g)
    return log


class WhatTheEyeSays(unittest.TestCase):
    def test_too_loose_by_eye_never_asks_for_more_oil(self) -> None:
        for body in (Body.SOFT, Body.LOOSE):
            log = begun(100, 63)
            log.add(Kind.LOOK, stage=Stage.EVEN_PASTE, body=body)
            if slab.know(log.paste, FOUR_RUB_OUTS).doubt is not None:
                log.add(
                    Kind.ANSWER,
                    answer=DoubtAnswer.BELIEVE_EYE,
                    widened_sd_ln=slab.widening(slab.know(log.paste, FOUR_RUB_OUTS)),
                )
            self.assertIs(next_act(log, FOUR_RUB_OUTS).act, NextAct.TOO_LOOSE)
            offered = ways(slab.know(log.paste, FOUR_RUB_OUTS), PLANNED, {}, None, None)
            self.assertNotIn(Way.ADD_OIL, [way.way for way in offered])
            self.assertIn(Way.ADD_PIGMENT, [way.way for way in offered])

    def test_an_amount_in_another_unit_is_asked_about(self) -> None:
        log = begun(80, 1.08)
        log.add(Kind.LOOK, stage=Stage.WET_CURDS)
        for _ in range(2):
            log.add(Kind.LOOK, stage=Stage.EVEN_PASTE, body=Body.TUBE)
        told = next_act(log, SIENNA, (Planned("lot-1", "Burnt sienna", 80.0, 1.0),))
        self.assertIs(told.act, NextAct.DOUBT)
        doubt = slab.know(log.paste, SIENNA).doubt
        assert doubt is not None
        self.assertTrue(doubt.impossible)
        # Ounces for grams would fit, drops for grams would not.
        entry = slab.Entry(
            log.events[2].id,
            Kind.OIL,
            "lot-2",
            "Oil",
            Unit.GRAM,
            1.08,
            1.08,
            slab.units_of_liquid(0.93, None),
            30.0,
            33.0,
        )
        found = slab.doubted([entry], slab.know(log.paste, SIENNA))
        assert found is not None
        self.assertEqual((found[0], found[1].unit, found[1].amount), (log.events[2].id, Unit.OUNCE, 1.08))
        self.assertIsNone(slab.taught(slab.know(log.paste, SIENNA), Verdict.RIGHT), "what is doubted teaches nothing")

    def test_more_powder_than_entered_is_noticed_before_long(self) -> None:
        log = begun(100, 50)
        true_g, asked = 135.0, 0
        for n in range(15):
            log.add(Kind.LOOK, stage=Stage.EVEN_PASTE, body=Body.PUTTY)
            if next_act(log, FOUR_RUB_OUTS).act is NextAct.DOUBT:
                asked = n + 1
                break
            log.add(Kind.OIL, 1.5)
        self.assertTrue(0 < asked < 12, f"asked after {asked} looks at {true_g:g} g")

    def test_right_at_its_stiff_side_is_right_and_left_it_is_not_as_planned(self) -> None:
        log = begun(100, 62)
        log.add(Kind.LOOK, stage=Stage.EVEN_PASTE, body=Body.TUBE)
        told = next_act(log, FOUR_RUB_OUTS)
        self.assertIs(told.act, NextAct.RIGHT)
        self.assertIsNone(told.grams)
        self.assertEqual(slab.know(log.paste, FOUR_RUB_OUTS).rungs, ())
        log.add(Kind.CHOOSE_WAY, way=Way.LEAVE, target_reduced_pvc=0.71)
        self.assertNotIn("as planned", next_act(log, FOUR_RUB_OUTS).reason)

    def test_looks_that_are_answered_no_longer_speak(self) -> None:
        log = begun(100, 30)
        log.add(Kind.LOOK, stage=Stage.EVEN_PASTE, body=Body.RUNS)
        self.assertIs(next_act(log, FOUR_RUB_OUTS).act, NextAct.DOUBT)
        for answer in (DoubtAnswer.LOOKS_ASIDE, DoubtAnswer.MISSED):
            again = Log()
            again.events = [*log.events]
            again.add(Kind.ANSWER, answer=answer)
            self.assertIsNone(slab.know(again.paste, FOUR_RUB_OUTS).doubt)
            self.assertIs(slab.know(again.paste, FOUR_RUB_OUTS).demand[2], Basis.LIBRARY)


class Spoons(unittest.TestCase):
    def spooned(self, teaspoons: float, grams: float = 50.0) -> Log:
        log = Log()
        mass = to_grams(Measure(Unit.TEASPOON, teaspoons), loose_density=0.55)
        log.events.append(Event(an_id(1), 1, Kind.POWDER, AT, "lot-1", mass, family=Family.SPOON))
        log.add(Kind.OIL, grams)
        return log

    def test_what_a_spoon_leaves_open_is_in_the_body_as_in_the_ratio(self) -> None:
        log = self.spooned(20, 38.0)
        facts = replace(FOUR_RUB_OUTS, eye=Eye(bias_sd=0.0))
        seen = slab.know(log.paste, facts).reading
        assert seen is not None
        low, high = (ratio_at(reduced, 52.0, 2.5, 0.930) for reduced in (seen.reduced_high, seen.reduced_low))
        self.assertGreater(high / low, 1.6)
        self.assertAlmostEqual(log.paste.powder_sd_ln, math.log(1.35) / Z90)

    def test_many_acts_with_one_measure_are_no_surer_than_one(self) -> None:
        whole, parts = Log(), Log()
        for log, acts in ((whole, 1), (parts, 20)):
            spoons = to_grams(Measure(Unit.TEASPOON, 20 / acts), loose_density=0.6)
            drops = to_grams(Measure(Unit.DROP, 400 / acts))
            for n in range(acts):
                log.events.append(Event(an_id(2 * n), 2 * n + 1, Kind.POWDER, AT, "lot-1", spoons, family=Family.SPOON))
                log.events.append(Event(an_id(2 * n + 1), 2 * n + 2, Kind.OIL, AT, "lot-2", drops, family=Family.DROP))
        self.assertAlmostEqual(parts.paste.powder_sd_ln, whole.paste.powder_sd_ln)
        self.assertAlmostEqual(parts.paste.oil_sd_ln, whole.paste.oil_sd_ln)

    def test_the_plan_says_how_wide_the_oil_is_and_what_would_narrow_it(self) -> None:
        spooned = replace(WISH, lines=(plan.Line(dry("bone-black", 1), spoons=Measure(Unit.TEASPOON, 20)),), tubes=None)
        made = plan.compute(spooned)
        assert made.oil_mass.low is not None and made.oil_mass.high is not None
        self.assertGreater(made.oil_mass.high / made.oil_mass.low, 1.7)
        self.assertIn("weigh one level spoon", made.oil_mass.working.spread)
        weighed = plan.compute(
            replace(
                spooned,
                lines=(
                    replace(
                        spooned.lines[0],
                        pigment=replace(spooned.lines[0].pigment, demand_sd_ln=0.12, demand_basis=Basis.LEARNED),
                    ),
                ),
            )
        )
        self.assertIn("spoon", weighed.oil_mass.working.spread)

    def test_a_spoon_may_be_tapped_or_heaped(self) -> None:
        level, tapped, heaped = (
            to_grams(Measure(Unit.TEASPOON, 2, fill=fill), loose_density=0.55).median for fill in Fill
        )
        self.assertAlmostEqual(level, 5.5)
        self.assertAlmostEqual(tapped / level, 1.25)
        self.assertAlmostEqual(heaped / level, 1.6)

    def test_marks_leave_five_in_a_hundred_open(self) -> None:
        read = to_grams(Measure(Unit.MILLILITRE, 10), density=0.93, by_marks=True)
        self.assertAlmostEqual(measures.sd_ln_of(read), math.log(1.05) / Z90)
        self.assertEqual(measures.sd_ln_of(Estimate.exact(5, Basis.MEASURED)), 0.0)


class TheGrid(unittest.TestCase):
    AIM = Aim(0.86, 100 * 0.93 / 2.5)

    def test_what_is_not_in_doubt_teaches_and_nothing_seen_teaches_nothing(self) -> None:
        before = prior(52, 0.16, self.AIM, Eye())
        self.assertIsNone(taught(believe(before, (), self.AIM.c), self.AIM))
        seen = believe(before, (LookAt.of_body(55.0, Body.STIFF), LookAt.of_body(63.0, Body.TUBE)), self.AIM.c)
        told = taught(seen, self.AIM)
        assert told is not None
        self.assertAlmostEqual(told.k, (self.AIM.ratio(math.exp(seen.mean)) + self.AIM.c) / math.exp(seen.mean))
        # Prior and what was taught together are the posterior.
        precision = 1 / before.sd**2 + 1 / told.sd**2
        self.assertAlmostEqual(precision, 1 / seen.sd**2, 6)
        self.assertAlmostEqual((before.mean / before.sd**2 + told.ln_absorption / told.sd**2) / precision, seen.mean, 6)
        counted = taught(seen, self.AIM, 0.2)
        assert counted is not None
        self.assertAlmostEqual(counted.sd, math.hypot(told.sd, 0.2))

    @given(st.sampled_from(list(Body)), st.floats(20, 120))
    def test_a_stiffer_look_at_one_ratio_never_asks_for_less_oil(self, body: Body, ratio: float) -> None:
        order = list(Body)
        before = prior(52, 0.16, self.AIM, Eye())
        place = order.index(body)
        if place == 0:
            return
        one, other = (
            believe(before, (LookAt.of_body(ratio, which),), self.AIM.c) for which in (order[place - 1], body)
        )
        if one.looked and other.looked:
            self.assertGreaterEqual(one.mean, other.mean - 1e-9)

    @given(st.floats(10, 100), st.floats(0.03, 0.3), st.floats(0.6, 1.0), st.floats(0.0, 0.3), st.floats(0.0, 0.3))
    def test_rungs_rise_and_the_middle_is_the_middle(
        self, absorption: float, sd: float, reduced: float, powder: float, oil: float
    ) -> None:
        aim = Aim(reduced, 37.2)
        before = prior(absorption, sd, aim, Eye(bias_sd=0.0))
        needs = [evidence.needed(before, aim, share, powder, oil) for share in (0.1, 0.3, 0.5, 0.7, 0.9)]
        self.assertEqual(needs, sorted(needs))
        self.assertAlmostEqual(needs[2], aim.ratio(absorption), 6)

    def test_a_bias_known_moves_what_is_aimed_at(self) -> None:
        seen = prior(52, 0.05, self.AIM, Eye(0.02, 0.01))
        k = (self.AIM.ratio(52) + self.AIM.c) / 52
        self.assertAlmostEqual(seen.mean, math.log(52) + 0.02 * k)
        self.assertAlmostEqual(seen.sd, math.hypot(0.05, 0.01 * k))


class NothingIsAdvisedThatIsNotOffered(unittest.TestCase):
    @given(
        st.lists(
            st.one_of(
                st.tuples(st.just("advice"), st.just(0.0)),
                st.tuples(st.just("pour"), st.floats(0.05, 20)),
                st.tuples(st.just("powder"), st.floats(0.1, 20)),
                st.tuples(st.just("look"), st.integers(0, 6)),
                st.tuples(st.just("way"), st.integers(0, 3)),
                st.tuples(st.just("answer"), st.integers(0, 2)),
                st.tuples(st.just("mull"), st.floats(0, 40)),
            ),
            max_size=14,
        )
    )
    def test_random_sessions(self, acts: list[tuple[str, float]]) -> None:
        log = begun(5.0, 2.0)
        planned = (Planned("lot-1", "Caput mortuum", 5.0, 1.0),)
        facts = Facts(5.0, 0.93, 22.0, 0.17, 0.86, 0.05, 8.0)
        for what, value in acts:
            self.do(log, facts, planned, what, value)
            told = next_act(log, facts, planned)
            offered = ways(slab.know(log.paste, facts), planned, {}, None, None)
            if told.act is NextAct.TOO_LOOSE:
                self.assertTrue(offered, "a way back is asked for, and none is offered")
                if slab.last_even_look(log.paste) is not None:
                    self.assertNotIn(Way.ADD_OIL, [way.way for way in offered])
            if told.act in (NextAct.POUR, NextAct.POWDER, NextAct.DRAW_OIL) and told.grams is not None:
                self.assertGreater(told.grams, 0)
            if told.act is NextAct.DOUBT:
                self.assertIsNotNone(slab.know(log.paste, facts).doubt)

    def do(self, log: Log, facts: Facts, planned: tuple[Planned, ...], what: str, value: float) -> None:
        paste = log.paste
        match what:
            case "advice":
                told = next_act(log, facts, planned)
                if told.act is NextAct.POUR and told.grams:
                    log.add(Kind.OIL, told.grams)
                elif told.act is NextAct.POWDER and told.grams:
                    log.add(Kind.POWDER, told.grams)
                elif told.act is NextAct.DRAW_OIL and told.grams and told.grams < paste.oil_g:
                    log.add(Kind.DRAW_OIL, told.grams)
            case "pour":
                log.add(Kind.OIL, value)
            case "powder":
                log.add(Kind.POWDER, value)
            case "look":
                log.add(Kind.LOOK, stage=Stage.EVEN_PASTE, body=list(Body)[int(value)])
            case "way":
                offered = ways(slab.know(paste, facts), planned, {}, None, None)
                if offered:
                    way = offered[int(value) % len(offered)]
                    log.add(Kind.CHOOSE_WAY, way=way.way, target_reduced_pvc=way.target_reduced_pvc)
            case "answer":
                if slab.know(paste, facts).doubt is not None:
                    log.add(
                        Kind.ANSWER,
                        answer=list(DoubtAnswer)[int(value)],
                        widened_sd_ln=slab.widening(slab.know(paste, facts)),
                    )
            case "mull":
                if paste.mulling.running_since is None and not slab.dusty(paste):
                    log.add(Kind.MULL)
                    log.wait(value)
                    log.add(Kind.PAUSE)
