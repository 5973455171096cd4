"""The practice slab on the record: tries under the slab's own rules, and nothing of them anywhere else."""

import math
from datetime import datetime, timedelta
from typing import Any
from uuid import UUID, uuid4

from sqlalchemy import text

from niddy.core import practice as core
from niddy.core.errors import Refused
from niddy.core.mulling import minutes_in_load
from niddy.core.pours import reading_excess
from niddy.core.practice import PASTES, Exercise
from niddy.core.practice.hidden import FRESH_OIL
from niddy.core.slab import Status
from niddy.core.wetting import body_at
from niddy.studio import home, plan, practice, rubout, slab, workshop
from niddy.studio.errors import Conflict, Missing
from niddy.studio.plan import PlanAsked
from niddy.studio.practice import EyeAsked, JudgeAsked, PassAsked, TryAsked
from niddy.studio.practice.kept import a_try
from niddy.studio.slab import SlabView
from tests.support import NOW, DatabaseTest

PRACTICE_ONLY = {"numbering", "job", "act", "practice_try", "studio_settings"}


class Tries(DatabaseTest):
    def setUp(self) -> None:
        self.session = self.enterContext(self.database.session())
        self.addCleanup(self.session.rollback)
        self.now = NOW

    def begin(self, exercise: Exercise, **what: Any) -> int:
        asked = TryAsked.model_validate({"id": str(uuid4()), "exercise": exercise, "maker": "M", **what})
        return practice.begin(self.session, self.now, asked)

    def act(self, number: int, kind: str, at: datetime | None = None, **what: Any) -> SlabView:
        self.now += timedelta(seconds=20)
        seen = practice.view(self.session, self.now, number)
        act = slab.act_of({"id": uuid4(), "kind": kind, "made_at": at or seen.now, **what})
        return practice.record(self.session, self.now, number, act)

    def mull_out(self, number: int) -> SlabView:
        seen = self.act(number, "mull")
        seconds = 60 * max(0.0, seen.mulling.need_minutes - seen.mulling.minutes) + 1
        practice.pass_time(self.session, self.now, number, PassAsked(seconds=seconds))
        return self.act(number, "load_done", ended_by="minutes")


class Trying(Tries):
    def test_a_first_pour_as_advised_ends_right_and_is_set_against_the_ladder(self) -> None:
        number = self.begin(Exercise.FIRST, seed=7)
        seen = practice.view(self.session, self.now, number)
        assert seen.practice is not None
        self.assertTrue(seen.practice.advised)
        self.assertIsNone(seen.practice.seen, "no oil is in yet")
        self.assertEqual(seen.advice.act, "pour")
        behind = a_try(self.session, number).begun
        for _ in range(60):
            match seen.advice.act:
                case "pour":
                    seen = self.act(
                        number, "oil", source=seen.oil.source, measure={"amount": round(seen.advice.grams or 0.1, 2)}
                    )
                case "mull":
                    seen = self.mull_out(number)
                case "look":
                    at = a_try(self.session, number)
                    last = at.last_moment()
                    assert last is not None and seen.practice is not None and seen.practice.seen is not None
                    shown = seen.practice.seen
                    if seen.dusty or not seen.mulling.begun:
                        seen = self.act(number, "look", stage=shown.stage)
                    else:
                        true = core.reduced(last.pigment_g, last.oil_g, behind.plan.facts, behind.hidden)
                        seen = self.act(number, "look", stage="even_paste", body=body_at(true))
                case "right":
                    seen = self.act(number, "finish", verdict="right")
                    break
                case other:
                    self.fail(other)
        assert seen.practice is not None and seen.practice.score is not None
        score = seen.practice.score
        self.assertEqual(seen.status, Status.FINISHED)
        self.assertTrue(score.mine.right)
        self.assertLess(score.mine.overshoot_g, 0.05)
        self.assertEqual(score.lot_g_per_100g, behind.hidden.oil_absorption_g_per_100g)
        self.assertTrue(score.lesson)
        room = practice.room(self.session, "M")
        first = next(one for one in room.exercises if one.about.exercise is Exercise.FIRST)
        self.assertEqual([line.number for line in first.tries], [number])
        self.assertGreaterEqual(room.eye.judgements, 1)

    def test_the_body_drawn_is_the_body_of_the_fold_and_what_mulls_away(self) -> None:
        number = self.begin(Exercise.LOOSENING, seed=3)
        behind = a_try(self.session, number).begun
        facts, hidden = behind.plan.facts, behind.hidden
        self.act(number, "mull")
        strings = []
        for minutes in (0.0, 2.0, 5.0, 9.0):
            if minutes:
                practice.pass_time(self.session, self.now, number, PassAsked(seconds=60 * minutes))
            seen = practice.view(self.session, self.now, number)
            paste = a_try(self.session, number).kept.paste
            ran = minutes_in_load(paste.mulling, seen.now)
            ratio = paste.oil_g_per_100g or 0.0
            more = reading_excess(ran, hidden.tau_min)
            fresh = FRESH_OIL * math.exp(-ran / (hidden.tau_min / 2))
            drawn = (hidden.oil_absorption_g_per_100g + facts.c) / (ratio + facts.c) + more - fresh
            assert seen.practice is not None
            assert seen.practice.seen is not None
            expected = core.seen_at(drawn, more / 0.10, fresh)
            self.assertEqual(seen.practice.seen.says, expected.says)
            self.assertAlmostEqual(seen.practice.seen.stands, expected.stands)
            self.assertAlmostEqual(seen.practice.seen.string_mm, expected.string_mm)
            strings.append(seen.practice.seen.string_mm)
        self.assertEqual(strings, sorted(strings), "it loosens by itself")
        self.assertGreater(strings[-1], strings[0] + 1)

    def test_the_same_seed_is_the_same_paste_and_the_same_request_one_try(self) -> None:
        one, other = (a_try(self.session, self.begin(Exercise.THIRSTY, seed=11)) for _ in range(2))
        self.assertEqual(one.begun, other.begun)
        self.assertNotEqual(one.row.number, other.row.number)
        asked = TryAsked(id=uuid4(), exercise=Exercise.HEAVY, maker="M")
        self.assertEqual(practice.begin(self.session, self.now, asked), practice.begin(self.session, self.now, asked))
        with self.assertRaises(Conflict):
            practice.begin(self.session, self.now, asked.model_copy(update={"maker": "N"}))

    def test_without_advice_nothing_gives_it_away_until_the_maker_asks(self) -> None:
        number = self.begin(Exercise.LOOSENING, seed=3)
        seen = practice.view(self.session, self.now, number)
        self.assertEqual((seen.rungs, seen.advice.grams, seen.body), ((), None, None))
        seen = practice.show_advice(self.session, self.now, number)
        assert seen.practice is not None
        self.assertTrue(seen.practice.advised)
        self.assertEqual(seen.advice.act, "mull")

    def test_spoons_and_drops_hold_what_the_hidden_ones_hold(self) -> None:
        number = self.begin(Exercise.SPOONS, seed=5)
        before = a_try(self.session, number)
        seen = self.act(number, "oil", source=before.begun.plan.oil.source, measure={"unit": "drop", "amount": 20.0})
        after = a_try(self.session, number).last_moment()
        assert after is not None
        self.assertAlmostEqual(after.oil_g, seen.oil.in_g * before.begun.hidden.drop)
        self.assertAlmostEqual(after.pigment_g, seen.pigments[0].in_g * before.begun.hidden.spoon)

    def test_what_practice_refuses(self) -> None:
        number = self.begin(Exercise.OVERSHOT, seed=2)
        one = a_try(self.session, number)
        oil = next(logged for logged in one.log if logged.event.kind == "oil")
        cases: list[tuple[str, str, dict[str, Any]]] = [
            ("strikes", "strike", {"strikes": oil.event.id}),
            ("kind", "additive", {"source": "library-beeswax", "measure": {"amount": 1.0}}),
            ("kind", "by_eye", {"source": one.begun.plan.oil.source}),
            ("source", "oil", {"source": "lot-1", "measure": {"amount": 1.0}}),
            ("measure.amount", "draw_oil", {"measure": {"amount": one.kept.paste.oil_g * 0.4}}),
            ("way", "choose_way", {"way": "stabilise"}),
        ]
        for field, kind, what in cases:
            with self.subTest(kind), self.assertRaises(Refused) as refused:
                self.act(number, kind, **what)
            self.assertEqual(refused.exception.field, field)
        dry = self.begin(Exercise.FIRST)
        with self.assertRaises(Refused) as refused:
            self.act(dry, "look", stage="even_paste", body="tube")
        self.assertEqual(refused.exception.field, "body")
        self.act(dry, "look", stage="dry_islands")
        with self.assertRaises(Missing):
            practice.judging(self.session, number)
        with self.assertRaises(Missing):
            practice.view(self.session, self.now, self.begin(Exercise.JUDGING))
        with self.assertRaises(Refused):
            self.act(self.begin(Exercise.FIRST), "finish", verdict="right")

    def test_a_try_left_half_way_goes_on_or_is_thrown_away(self) -> None:
        number = self.begin(Exercise.NEW_LOT)
        self.act(number, "oil", source="library-linseed-refined", measure={"amount": 1.0})
        mine = next(one for one in practice.room(self.session, "M").exercises if one.about.exercise is Exercise.NEW_LOT)
        self.assertEqual(mine.open_number, number)
        practice.throw_away(self.session, self.now, number)
        mine = next(one for one in practice.room(self.session, "M").exercises if one.about.exercise is Exercise.NEW_LOT)
        self.assertEqual((mine.open_number, mine.tries), (None, ()))
        with self.assertRaises(Conflict):
            practice.pass_time(self.session, self.now, number, PassAsked(seconds=5))
        with self.assertRaises(Refused):
            self.act(number, "oil", source="library-linseed-refined", measure={"amount": 1.0})

    def test_nothing_of_practice_is_in_any_other_table(self) -> None:
        names = self.session.scalars(text("select tablename from pg_tables where schemaname = 'public'"))
        tables = [name for name in names if name not in PRACTICE_ONLY]
        everything = " union all ".join(
            f"select '{name}', md5(coalesce(string_agg(t::text, '' order by t::text), '')) from {name} t"
            for name in tables
        )
        elsewhere = "select count(*) from job where room <> 'practice'"

        def state() -> tuple[Any, ...]:
            rows = self.session.execute(text(everything)).all()
            known = rubout.untested(self.session, set()).eye
            counted = self.session.scalar(text(elsewhere))
            return (sorted(map(tuple, rows)), counted, known, home.home(self.session, NOW))

        before = state()
        for exercise in (Exercise.OVERSHOT, Exercise.SPOONS):
            number = self.begin(exercise, seed=1, advised=True)
            seen = (
                self.mull_out(number)
                if exercise is Exercise.OVERSHOT
                else practice.view(self.session, self.now, number)
            )
            self.act(number, "oil", source=seen.oil.source, measure={"unit": "drop", "amount": 9.0})
            self.act(number, "powder", source=seen.pigments[0].source, measure={"unit": "teaspoon", "amount": 1.0})
            self.act(number, "look", stage="even_paste", body="tube")
            self.act(number, "finish", verdict="right")
        self.session.flush()
        self.assertEqual(state(), before)


class Judging(Tries):
    def judge(self, number: int, place: int, body: str, act_id: UUID | None = None) -> practice.JudgingView:
        asked = JudgeAsked.model_validate({"id": str(act_id or uuid4()), "place": place, "body": body})
        return practice.judge(self.session, self.now, number, asked)

    def test_forty_pastes_are_named_and_the_eye_is_found(self) -> None:
        number = self.begin(Exercise.JUDGING, seed=4)
        leaning = 0.05
        for place, true in enumerate(core.pastes(4), 1):
            seen = practice.judging(self.session, number)
            self.assertEqual((seen.place, seen.of), (place, PASTES))
            self.assertEqual(seen.seen, core.seen_at(true))
            seen = self.judge(number, place, body_at(true + leaning))
        self.assertEqual(seen.status, Status.FINISHED)
        self.assertIsNone(seen.seen)
        self.assertEqual(len(seen.judged), PASTES)
        self.assertGreater(seen.eye.bias, 0.02)
        self.assertIn("stiffer", seen.eye.says)
        with self.assertRaises(Conflict):
            self.judge(number, PASTES, "tube")

    def test_only_the_paste_that_is_up_is_judged_and_twice_is_once(self) -> None:
        number = self.begin(Exercise.JUDGING)
        with self.assertRaises(Refused) as refused:
            self.judge(number, 2, "tube")
        self.assertEqual(refused.exception.field, "place")
        act_id = uuid4()
        self.assertEqual(self.judge(number, 1, "tube", act_id).place, 2)
        self.assertEqual(self.judge(number, 1, "tube", act_id).place, 2)
        with self.assertRaises(Conflict):
            self.judge(number, 1, "soft", act_id)


class EyeAtTheSlab(Judging):
    def asked(self) -> PlanAsked:
        return PlanAsked.model_validate(
            {
                "lines": [{"pigment_key": "mars-yellow", "parts": 1.0}],
                "oil": {"oil_key": "linseed-refined"},
                "reduced_pvc": 0.86,
                "pigment_g": 30.0,
            }
        )

    def learned(self, leaning: float) -> None:
        number = self.begin(Exercise.JUDGING, seed=9)
        for place, true in enumerate(core.pastes(9), 1):
            self.judge(number, place, body_at(true + leaning))

    def test_below_eight_judgements_the_slab_does_not_use_it(self) -> None:
        with self.assertRaises(Refused) as refused:
            practice.use_eye(self.session, EyeAsked(maker="M", use=True))
        self.assertEqual(refused.exception.field, "use")
        self.assertIsNone(workshop.practised_eye(self.session))

    def test_the_slab_corrects_looks_by_the_bias_once_it_may(self) -> None:
        before = plan.compute(self.session, self.asked()).plan.facts.eye
        self.learned(0.05)
        self.assertEqual(plan.compute(self.session, self.asked()).plan.facts.eye, before)
        eye = practice.use_eye(self.session, EyeAsked(maker="M", use=True))
        self.assertTrue(eye.used)
        facts = plan.compute(self.session, self.asked()).plan.facts
        self.assertAlmostEqual(facts.eye.look_bias, eye.bias)
        self.assertAlmostEqual(facts.eye.look_sd, eye.sd)
        self.assertLess(facts.eye.bias_sd, before.bias_sd)
        number = slab.take_to_slab(self.session, self.now, uuid4(), self.asked())
        seen = slab.view(self.session, self.now, number)
        self.assertIn("practice", seen.eye_says)
        practice.use_eye(self.session, EyeAsked(maker="M", use=False))
        self.assertEqual(plan.compute(self.session, self.asked()).plan.facts.eye, before)
        self.assertIsNone(workshop.practised_eye(self.session))
