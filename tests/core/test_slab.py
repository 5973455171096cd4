"""The slab's fold, its advice and its ways back."""

import math
import random
import unittest
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from uuid import UUID, uuid4

from hypothesis import given
from hypothesis import strategies as st

from niddy.core import advice as advices
from niddy.core import measures, mulling, slab, wetting
from niddy.core.advice import NextAct, Planned
from niddy.core.errors import Refused
from niddy.core.estimate import Z90, Basis, Estimate
from niddy.core.plan import Facts
from niddy.core.slab import Event, Kind, Paste, Stage, Status, Verdict, Way
from niddy.core.ways import LoadSize, ways
from niddy.core.wetting import Body

AT = datetime(2026, 6, 18, 10, tzinfo=UTC)
FACTS = Facts(2.5, 0.918, 53.4, 0.167, 0.86, 0.05, 8.0)
PLANNED = (Planned("lot-1", "Bone black", 100.0, 1.0),)


MULLER = mulling.Muller(load_ml=None, minutes=16.0, tau_min=8.0)


def advise(paste: Paste, facts: Facts, planned: tuple[Planned, ...], at: datetime = AT) -> advices.Advice:
    """The advice with one load and the muller as the paste has it."""
    return advices.advise(slab.know(paste, facts), planned, muller_now(paste, at))


def muller_now(paste: Paste, at: datetime = AT, load_ml: float | None = None) -> mulling.MullingNow:
    reading = slab.know(paste, FACTS).reading
    muller = mulling.Muller(load_ml, MULLER.minutes, MULLER.tau_min)
    return mulling.now(paste.mulling, muller, reading.volume_ml if reading else 0.0, at)


class Log:
    """A log being written; `clock` moves on with `wait`."""

    def __init__(self) -> None:
        self.events: list[Event] = []
        self.clock = AT

    def wait(self, minutes: float) -> None:
        self.clock += timedelta(minutes=minutes)

    def add(self, kind: Kind, grams: float | None = None, **what: object) -> UUID:
        mass = Estimate.exact(grams, Basis.MEASURED) if grams is not None else None
        known = {Kind.POWDER: "lot-1", Kind.OIL: "lot-2"}
        what.setdefault("source", known.get(kind, ""))
        event = Event(uuid4(), len(self.events) + 1, kind, self.clock, mass=mass, **what)  # type: ignore[arg-type]
        self.events.append(event)
        return event.id

    @property
    def paste(self) -> Paste:
        return slab.fold(self.events)


def started(oil_g: float = 0.0) -> Log:
    log = Log()
    log.add(Kind.READY)
    log.add(Kind.POWDER, 100)
    if oil_g:
        log.add(Kind.OIL, oil_g)
    return log


ACTS = st.lists(
    st.tuples(
        st.sampled_from((Kind.POWDER, Kind.OIL, Kind.SAMPLE, Kind.DRAW_OIL, Kind.NOTE)),
        st.floats(0.1, 50),
        st.booleans(),
    ),
    max_size=25,
)


class Fold(unittest.TestCase):
    def test_a_sample_takes_everything_in_proportion(self) -> None:
        log = started(60)
        log.add(Kind.SAMPLE, 16)
        self.assertAlmostEqual(log.paste.pigment_g, 90)
        self.assertAlmostEqual(log.paste.oil_g, 54)
        self.assertAlmostEqual(log.paste.oil_g_per_100g or 0, 60)

    def test_striking_and_adding_again_gives_the_same_state(self) -> None:
        plain = started(60)
        struck = started(60)
        struck.add(Kind.STRIKE, strikes=struck.events[-1].id)
        self.assertEqual(struck.paste.oil_g, 0)
        struck.add(Kind.OIL, 60)
        self.assertEqual((struck.paste.pigments, struck.paste.oils), (plain.paste.pigments, plain.paste.oils))

    @given(ACTS, st.integers())
    def test_any_order_of_arrival_gives_the_same_state(self, acts: list[tuple[Kind, float, bool]], seed: int) -> None:
        log = Log()
        for kind, grams, strike in acts:
            made = log.add(kind, grams)
            if strike:
                log.add(Kind.STRIKE, strikes=made)
        shuffled = list(log.events)
        random.Random(seed).shuffle(shuffled)
        self.assertEqual(slab.fold(shuffled), log.paste)

    @given(ACTS)
    def test_nothing_ever_falls_below_zero(self, acts: list[tuple[Kind, float, bool]]) -> None:
        log = Log()
        for kind, grams, _ in acts:
            log.add(kind, grams)
        for n in range(len(log.events) + 1):
            paste = slab.fold(log.events[:n])
            self.assertGreaterEqual(min([0.0, *paste.pigments.values(), *paste.oils.values()]), 0.0)

    @given(ACTS)
    def test_one_act_more_is_the_fold_of_one_act_more(self, acts: list[tuple[Kind, float, bool]]) -> None:
        log = Log()
        for kind, grams, strike in acts:
            before = log.paste
            made = log.add(kind, grams)
            self.assertEqual(slab.after(before, log.events[-1]), log.paste)
            if strike:
                log.add(Kind.STRIKE, strikes=made)

    def test_a_spoonful_carries_its_spread(self) -> None:
        log = Log()
        spoon = Estimate.plus_minus(5.5, 0.35, Basis.LIBRARY)
        for n in (1, 2):
            log.events.append(Event(uuid4(), n, Kind.POWDER, AT, "lot-1", spoon))
        # One spoon of one powder errs alike in all its acts: twice the same is not surer than once.
        self.assertAlmostEqual(log.paste.powder_sd_ln, math.log(1.35) / Z90)
        log.events.append(replace(log.events[-1], id=uuid4(), seq=3, source="lot-7"))
        two = math.log(1.35) / Z90 * math.hypot(2, 1) / 3
        self.assertAlmostEqual(log.paste.powder_sd_ln, two)

    def test_what_is_taken_takes_its_share_of_the_spread_and_what_is_drawn_adds_its_own(self) -> None:
        log = Log()
        for n, (kind, grams, wide) in enumerate(((Kind.POWDER, 100.0, 4.0), (Kind.OIL, 60.0, 3.0)), 1):
            log.events.append(Event(uuid4(), n, kind, AT, f"lot-{n}", Estimate.plus_minus(grams, wide, Basis.ASSUMED)))
        whole = log.paste
        log.add(Kind.SAMPLE, 40)
        self.assertAlmostEqual(log.paste.powder_sd_ln, whole.powder_sd_ln)
        self.assertAlmostEqual(log.paste.oil_sd_ln, whole.oil_sd_ln)
        by_eye = Estimate.plus_minus(9.0, 2.0, Basis.ASSUMED)
        log.events.append(Event(uuid4(), 4, Kind.DRAW_OIL, AT, mass=by_eye))
        left = log.paste.oil_g
        drawn = by_eye.median * measures.sd_ln_of(by_eye) / left
        self.assertAlmostEqual(log.paste.oil_sd_ln, math.hypot(whole.oil_sd_ln, drawn))

    def test_dust_can_fly_until_the_curds_are_wet(self) -> None:
        self.assertFalse(slab.dusty(Paste()))
        log = started(60)
        wet = (Stage.WET_CURDS, Stage.COARSE_PASTE, Stage.EVEN_PASTE)
        stages = [(Stage.DRY_ISLANDS, True), (Stage.CRUMBS, True), *((stage, False) for stage in wet)]
        for stage, dusty in stages:
            log.add(Kind.LOOK, stage=stage)
            self.assertIs(slab.dusty(log.paste), dusty)

    def test_the_kit_is_asked_about_before_powder_is_out_and_never_again(self) -> None:
        log = Log()
        self.assertIs(advise(log.paste, FACTS, PLANNED).act, NextAct.READY)
        log.add(Kind.POWDER, 100)
        self.assertIsNot(advise(log.paste, FACTS, PLANNED).act, NextAct.READY)

    def test_oil_poured_into_a_paste_that_is_dispersed_takes_half_its_time(self) -> None:
        log = started(60)
        self.assertAlmostEqual(muller_now(log.paste).need_minutes, 16.0)
        log.add(Kind.MULL)
        log.wait(16)
        log.add(Kind.LOAD_DONE, ended_by=mulling.EndedBy.MINUTES)
        log.add(Kind.OIL, 2)
        self.assertAlmostEqual(muller_now(log.paste, log.clock).need_minutes, MULLER.tau_min / 2)

    def test_to_and_fro_is_counted_from_the_first_correction(self) -> None:
        log = started(60)
        log.add(Kind.OIL, 5)
        self.assertEqual(log.paste.swings, 0)
        for kind in (Kind.POWDER, Kind.OIL, Kind.POWDER, Kind.OIL):
            log.add(kind, 2)
        self.assertEqual(log.paste.swings, 3)
        self.assertIs(advise(log.paste, FACTS, PLANNED).act, NextAct.REST)


class Checks(unittest.TestCase):
    def refused(self, log: Log, field: str, kind: Kind, grams: float | None = None, **what: object) -> None:
        before = log.paste
        known: dict[UUID | None, Event] = {event.id: event for event in log.events}
        log.add(kind, grams, **what)
        with self.assertRaises(Refused) as caught:
            slab.check(before, log.events[-1], known.get(log.events[-1].strikes))
        self.assertEqual(caught.exception.field, field)

    def test_each_names_its_field(self) -> None:
        self.refused(started(60), "measure.amount", Kind.SAMPLE, 161)
        self.refused(started(60), "measure.amount", Kind.DRAW_OIL, 61)
        self.refused(started(60), "strikes", Kind.STRIKE, strikes=uuid4())
        self.refused(started(), "kind", Kind.FINISH, verdict=Verdict.RIGHT)
        finished = started(60)
        finished.add(Kind.FINISH, verdict=Verdict.RIGHT)
        self.assertIs(finished.paste.status, Status.FINISHED)
        self.refused(finished, "kind", Kind.OIL, 1)

    def test_an_act_is_struck_only_once_and_struck_back_in(self) -> None:
        log = started(60)
        before = log.paste
        strike = log.add(Kind.STRIKE, strikes=log.events[-1].id)
        self.assertEqual(log.paste.oil_g, 0)
        log.add(Kind.STRIKE, strikes=strike)
        self.assertEqual(log.paste.oil_g, before.oil_g)
        log.add(Kind.STRIKE, strikes=log.events[2].id)
        self.refused(log, "strikes", Kind.STRIKE, strikes=log.events[2].id)

    def test_a_finished_batch_takes_notes_and_can_be_taken_up_again(self) -> None:
        log = started(60)
        finish = log.add(Kind.FINISH, verdict=Verdict.RIGHT)
        known: dict[UUID | None, Event] = {event.id: event for event in log.events}
        for kind, what in ((Kind.NOTE, {"text": "hm"}), (Kind.STRIKE, {"strikes": finish})):
            event = Event(uuid4(), 9, kind, AT, **what)
            slab.check(log.paste, event, known.get(event.strikes))  # type: ignore[arg-type]


class Advice(unittest.TestCase):
    def test_powder_first_then_the_safe_pour(self) -> None:
        self.assertIs(advise(Paste(), FACTS, PLANNED).act, NextAct.READY)
        self.assertIs(advise(Paste(ready=True), FACTS, PLANNED).act, NextAct.POWDER)
        advice = advise(started().paste, FACTS, PLANNED)
        self.assertIs(advice.act, NextAct.POUR)
        self.assertAlmostEqual(advice.grams or 0, slab.know(started().paste, FACTS).rungs[0].cumulative_g)

    def test_dust_after_each_pour_leads_up_until_it_is_asked_about_and_never_to_too_loose(self) -> None:
        log = started()
        seen = []
        for _ in range(12):
            advice = advise(log.paste, FACTS, PLANNED)
            if advice.act is NextAct.DOUBT:
                break
            self.assertIs(advice.act, NextAct.POUR)
            before = slab.know(log.paste, FACTS).absorption
            log.add(Kind.OIL, advice.grams)
            folding = advise(log.paste, FACTS, PLANNED)
            self.assertIs(folding.act, NextAct.LOOK)
            self.assertIn("no dust", folding.line)
            log.add(Kind.LOOK, stage=Stage.DRY_ISLANDS)
            self.assertGreater(slab.know(log.paste, FACTS).absorption, before)
            seen.append(log.paste.oil_g)
        self.assertIs(advise(log.paste, FACTS, PLANNED).act, NextAct.DOUBT)
        self.assertIn("drier", advise(log.paste, FACTS, PLANNED).reason)
        self.assertGreater(len(seen), 3)
        self.assertEqual(slab.know(log.paste, FACTS).standing, slab.Standing.DRY)
        self.assertFalse(
            [
                way
                for way in ways(slab.know(log.paste, FACTS), PLANNED, {}, None, None)
                if way.way in (Way.ADD_PIGMENT, Way.DRAW_OIL)
            ]
        )

    def test_more_than_the_ladder_is_looked_at_before_anybody_says_too_loose(self) -> None:
        advice = advise(started(90).paste, FACTS, PLANNED)
        self.assertIs(advice.act, NextAct.LOOK)
        self.assertIn("no dust", advice.line)

    def test_the_eye_outranks_the_ladder(self) -> None:
        log = started(60)
        log.add(Kind.LOOK, stage=Stage.EVEN_PASTE, body=Body.TUBE)
        self.assertIs(advise(log.paste, FACTS, PLANNED).act, NextAct.RIGHT)
        log.add(Kind.LOOK, stage=Stage.EVEN_PASTE, body=Body.SOFT)
        self.assertIs(advise(log.paste, FACTS, PLANNED).act, NextAct.TOO_LOOSE)
        log.add(Kind.OIL, 1)
        self.assertIsNone(slab.last_even_look(log.paste))

    def test_a_look_moves_the_demand_towards_what_it_implies(self) -> None:
        log = started(80)
        before, wide, _ = slab.know(log.paste, FACTS).demand
        log.add(Kind.LOOK, stage=Stage.EVEN_PASTE, body=Body.STIFF)
        after, narrow, basis = slab.know(log.paste, FACTS).demand
        self.assertGreater(after, before)
        self.assertLess(narrow, wide)
        self.assertIs(basis, Basis.LEARNED)

    def test_dry_stages_move_the_demand_up_and_coarse_paste_says_nothing(self) -> None:
        before = slab.know(started(60).paste, FACTS).demand[0]
        for stage, moved in ((Stage.DRY_ISLANDS, 1), (Stage.CRUMBS, 1), (Stage.COARSE_PASTE, 0)):
            log = started(60)
            log.add(Kind.LOOK, stage=stage)
            after = slab.know(log.paste, FACTS).demand[0]
            self.assertEqual(after > before + 0.5, bool(moved), stage)


class WaysBack(unittest.TestCase):
    def open_ways(self, log: Log, on_hand: float = 500) -> dict[Way, object]:
        found = ways(slab.know(log.paste, FACTS), PLANNED, {"lot-1": on_hand}, LoadSize(20, 19), 40)
        return {way.way: way for way in found}

    def test_too_loose_has_three_and_adding_pigment_makes_more_paint(self) -> None:
        found = ways(slab.know(started(74).paste, FACTS), PLANNED, {"lot-1": 500}, LoadSize(20, 19), 20)
        self.assertEqual([way.way for way in found], [Way.ADD_PIGMENT, Way.DRAW_OIL, Way.STIFF_BATCH, Way.LEAVE])
        add, draw, stiff, leave = found
        target = slab.know(started(74).paste, FACTS).ratio_wanted
        self.assertAlmostEqual(100 * 74 / (100 + add.portions[0].grams), target, 6)
        self.assertGreater(add.extra_ml, 0)
        self.assertGreaterEqual(add.extra_minutes or 0, 19)
        self.assertAlmostEqual(100 * (74 + draw.oil_g) / 100, target, 6)
        self.assertLess(draw.extra_ml, 0)
        more_g = stiff.portions[0].grams
        self.assertAlmostEqual(100 * (74 + stiff.oil_g) / (100 + more_g), target, 6)
        self.assertAlmostEqual(100 * stiff.oil_g / more_g, slab.know(started(74).paste, FACTS).absorption, 6)
        self.assertGreater(more_g, add.portions[0].grams)
        self.assertEqual(leave.extra_ml, 0)
        self.assertEqual(leave.body_after, wetting.body_at(leave.reduced_pvc_after))

    def test_too_stiff_has_two(self) -> None:
        self.assertEqual(list(self.open_ways(started(40))), [Way.ADD_OIL, Way.LEAVE])

    def test_on_target_or_empty_has_none(self) -> None:
        on_target = started(slab.know(started(60).paste, FACTS).ratio_wanted)
        self.assertEqual(self.open_ways(on_target), {})
        self.assertEqual(self.open_ways(Log()), {})

    def test_powder_running_out_says_how_far_it_reaches(self) -> None:
        add = ways(slab.know(started(90).paste, FACTS), PLANNED, {"lot-1": 2}, None, None)[0]
        self.assertFalse(add.reachable)
        self.assertIn("2.0 g on hand", add.says)
        self.assertIsNone(add.extra_loads)

    def test_a_book_that_says_less_than_nothing_reads_as_nothing(self) -> None:
        add = ways(slab.know(started(90).paste, FACTS), PLANNED, {"lot-1": -22.9}, None, None)[0]
        self.assertFalse(add.reachable)
        self.assertIn("0.0 g on hand", add.says)

    def test_the_chosen_way_becomes_the_advice_until_it_is_done(self) -> None:
        for way, kind in ((Way.ADD_PIGMENT, Kind.POWDER), (Way.DRAW_OIL, Kind.DRAW_OIL)):
            with self.subTest(way):
                log = started(90)
                log.add(Kind.LOOK, stage=Stage.EVEN_PASTE, body=Body.SOFT)
                chosen = next(w for w in ways(slab.know(log.paste, FACTS), PLANNED, {}, None, None) if w.way is way)
                log.add(
                    Kind.CHOOSE_WAY,
                    way=way,
                    target_reduced_pvc=0.86,
                    portions={portion.source: portion.grams for portion in chosen.portions},
                )
                advice = advise(log.paste, FACTS, PLANNED)
                self.assertEqual(advice.act.value, kind.value)
                log.add(kind, advice.grams)
                self.assertLess(log.paste.oil_g_per_100g or 0, 90)
                self.assertNotEqual(advise(log.paste, FACTS, PLANNED).act.value, kind.value)

    def test_a_paste_that_stays_dry_is_never_told_crumbs_of_oil(self) -> None:
        log = started(60)
        for _ in range(20):
            log.add(Kind.LOOK, stage=Stage.WET_CURDS)
            rungs, oil_g = slab.know(log.paste, FACTS).rungs, log.paste.oil_g
            self.assertTrue(rungs)
            self.assertGreaterEqual(rungs[0].step_g, 0.0199 * oil_g)
            log.add(Kind.OIL, rungs[0].step_g)

    def test_a_way_back_goes_with_the_powder_it_was_chosen_for(self) -> None:
        log = started()
        powder = log.events[-1].id
        log.add(Kind.OIL, 90)
        log.add(Kind.LOOK, stage=Stage.EVEN_PASTE, body=Body.SOFT)
        more = ways(slab.know(log.paste, FACTS), PLANNED, {}, None, None)[0]
        log.add(Kind.CHOOSE_WAY, way=more.way, portions={one.source: one.grams for one in more.portions})
        self.assertEqual(log.paste.way, Way.ADD_PIGMENT)
        log.add(Kind.STRIKE, strikes=powder)
        self.assertEqual((log.paste.way, dict(log.paste.way_g)), (None, {}))

    def test_a_stiff_batch_asks_for_its_powder_then_for_its_oil_and_for_neither_again(self) -> None:
        log = started(74)
        log.add(Kind.LOOK, stage=Stage.EVEN_PASTE, body=Body.SOFT)
        stiff = self.open_ways(log)[Way.STIFF_BATCH]
        powder = stiff.portions[0]
        log.add(
            Kind.CHOOSE_WAY,
            way=Way.STIFF_BATCH,
            target_reduced_pvc=0.86,
            portions={powder.source: powder.grams, "lot-2": stiff.oil_g},
        )
        asked = []
        for _ in range(2):
            advice = advise(log.paste, FACTS, PLANNED)
            asked.append((advice.act, advice.grams))
            log.add(Kind(advice.act.value) if advice.act is NextAct.POWDER else Kind.OIL, advice.grams)
        self.assertEqual(asked, [(NextAct.POWDER, powder.grams), (NextAct.POUR, stiff.oil_g)])
        self.assertNotEqual(advise(log.paste, FACTS, PLANNED).line, "Pour on the new powder")

    def test_oil_of_a_stiff_batch_that_was_poured_by_eye_is_not_asked_for_again(self) -> None:
        log = started(74)
        log.add(Kind.LOOK, stage=Stage.EVEN_PASTE, body=Body.SOFT)
        stiff = self.open_ways(log)[Way.STIFF_BATCH]
        log.add(
            Kind.CHOOSE_WAY,
            way=Way.STIFF_BATCH,
            target_reduced_pvc=0.86,
            portions={stiff.portions[0].source: stiff.portions[0].grams, "lot-2": stiff.oil_g},
        )
        log.add(Kind.POWDER, stiff.portions[0].grams)
        self.assertEqual(advise(log.paste, FACTS, PLANNED).line, "Pour on the new powder")
        log.add(Kind.BY_EYE, source="lot-2")
        self.assertNotEqual(advise(log.paste, FACTS, PLANNED).line, "Pour on the new powder")

    def test_a_stiff_batch_is_no_way_to_a_putty_nor_without_its_powder(self) -> None:
        self.assertNotIn(Way.STIFF_BATCH, self.open_ways(started(90), on_hand=30))
        putty = replace(FACTS, target_reduced_pvc=0.97)
        found = ways(slab.know(started(90).paste, putty), PLANNED, {}, None, None)
        self.assertEqual([way.way for way in found], [Way.ADD_PIGMENT, Way.DRAW_OIL, Way.LEAVE])

    def test_leaving_it_makes_that_body_the_target(self) -> None:
        log = started(90)
        leave = ways(slab.know(log.paste, FACTS), PLANNED, {}, None, None)[-1]
        log.add(Kind.CHOOSE_WAY, way=Way.LEAVE, target_reduced_pvc=leave.target_reduced_pvc)
        self.assertAlmostEqual(slab.know(log.paste, FACTS).ratio_wanted, 90, 6)
        log.add(Kind.LOOK, stage=Stage.EVEN_PASTE, body=Body.SOFT)
        self.assertIs(advise(log.paste, FACTS, PLANNED).act, NextAct.RIGHT)
