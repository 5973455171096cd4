"""Sessions without a scale on the record: spoons and drops, the eye alone, and what is told afterwards."""

from dataclasses import replace
from datetime import timedelta
from uuid import uuid4

from niddy.core.advice import NextAct
from niddy.core.errors import Refused
from niddy.core.measures import Holds, Unit, spoons_of
from niddy.core.plan import Tool
from niddy.core.slab import Way
from niddy.core.telling import Measuring, Small, Told
from niddy.studio import batches, materials, rubout, slab, tubes, workshop
from niddy.studio import plan as plans
from niddy.studio.plan import PlanAsked
from niddy.studio.tubes import FillAsked
from tests.studio.test_slab import Session
from tests.support import NOW


def as_told(told: Told) -> dict[str, object]:
    """An amount taken as it was told, as the slab's one tap sends it."""
    parts = [{"unit": part.unit, "amount": part.amount} for part in told.parts]
    return {"unit": told.unit, "amount": told.amount, "parts": parts}


class Spoons(Session):
    def test_what_is_told_is_what_is_logged(self) -> None:
        self.begin(measuring="spoons", pigment_g=6.0)
        self.act("ready")
        with self.database.session() as session:
            seen = slab.view(session, NOW, self.number)
        told = seen.advice_told
        assert told is not None
        self.assertIn("level", told.words)
        seen = self.act("powder", source=f"lot-{self.powder}", measure=as_told(told))
        self.assertAlmostEqual(seen.pigments[0].in_g, told.grams)
        self.assertIs(seen.advice.act, NextAct.POUR)
        pour = seen.advice_told
        assert pour is not None
        seen = self.act("oil", source=f"lot-{self.oil}", measure=as_told(pour))
        self.assertAlmostEqual(seen.oil.in_g, pour.grams)
        self.assertNotIn("level", seen.timeline[-1].text)
        # The first pour is in: nobody is asked for the crumbs that rounding left.
        self.assertIs(seen.advice.act, NextAct.LOOK)
        self.assertEqual(seen.rungs[0].state, "done")

    def test_the_same_spoon_again_is_trusted_and_a_scale_knows_nothing_of_it(self) -> None:
        self.begin(measuring="spoons", pigment_g=12.0)
        spoons = [{"lot_id": self.powder, "spoons": {"unit": "teaspoon", "amount": 4.0}}]
        asked = {"lines": spoons, "oil": {"lot_id": self.oil}, "reduced_pvc": 0.86, "measuring": "spoons"}
        with self.database.session() as session:
            before = plans.compute(session, PlanAsked.model_validate(asked)).plan
        self.act("ready")
        self.act("powder", source=f"lot-{self.powder}", measure={"unit": "teaspoon", "amount": 4.0})
        need_g = before.rungs[len(before.rungs) // 2].cumulative_g
        self.act("oil", source=f"lot-{self.oil}", measure={"unit": "ml", "amount": round(need_g / 0.93, 1)})
        self.act("look", 30, stage="even_paste", body="tube")
        self.act("finish", 5, verdict="right")
        with self.database.session() as session:
            after = plans.compute(session, PlanAsked.model_validate(asked)).plan
            lines = [{"lot_id": self.powder, "parts": 1.0}]
            weighed = {**asked, "lines": lines, "measuring": "scale", "pigment_g": 12.0}
            scale = plans.compute(session, PlanAsked.model_validate(weighed)).plan
        self.assertFalse(before.facts.spooned or scale.facts.spooned)
        self.assertTrue(after.facts.spooned)
        self.assertIn("the same spoon once before", after.scale.says)
        first = [plan.rungs[0].cumulative_g / plan.rungs[-1].cumulative_g for plan in (before, after)]
        self.assertGreater(first[1], first[0] + 0.15)
        # The spoon is weighed now: it counts otherwise in grams and the same in spoons.
        with self.database.session() as session:
            materials.weigh_spoon(session, self.powder, Unit.TEASPOON, 1.5, 1)
            again = plans.compute(session, PlanAsked.model_validate(asked)).plan
        self.assertTrue(again.facts.spooned)
        lighter = again.lines[0].mass.value / after.lines[0].mass.value
        self.assertLess(lighter, 0.8)
        less_oil = again.oil_mass.value / after.oil_mass.value
        self.assertTrue(lighter + 0.1 < less_oil < 1.05, "so many spoons take about the oil they took")
        # Of another drop nothing is known yet.
        with self.database.session() as session:
            materials.weigh_drops(session, self.oil, 20, 0.8)
            other = plans.compute(session, PlanAsked.model_validate(asked)).plan
            eye = plans.compute(session, PlanAsked.model_validate({**weighed, "measuring": "eye"})).plan
        self.assertFalse(other.facts.spooned or eye.facts.spooned)

    def test_a_studio_says_once_how_it_measures_and_a_plan_may_differ(self) -> None:
        with self.database.session() as session:
            kept = workshop.settings(session)
            workshop.change_settings(
                session, replace(kept, measuring=Measuring.SPOONS, small=Small.ML, tool=Tool.KNIFE)
            )
            asked = {
                "lines": [{"pigment_key": "bone-black", "parts": 1.0}],
                "oil": {"oil_key": "linseed-refined"},
                "reduced_pvc": 0.86,
                "pigment_g": 20.0,
            }
            own = plans.compute(session, PlanAsked.model_validate(asked)).plan
            other = plans.compute(session, PlanAsked.model_validate({**asked, "measuring": "scale"})).plan
            workshop.change_settings(session, kept)
        self.assertTrue(own.rungs[0].told and own.rungs[0].told.words.endswith("ml"))
        self.assertEqual(own.facts.tool, Tool.KNIFE)
        self.assertEqual(own.bench and own.bench.muller_name, "Knife only")
        self.assertIsNone(other.rungs[0].told)


class MeasuresOfOnesOwn(Session):
    def setUp(self) -> None:
        super().setUp()
        with self.database.session() as session:
            own = [
                workshop.keep_own_measure(session, None, "straw", False, True, Holds.ML, 1.5),
                workshop.keep_own_measure(session, None, "scoop", True, False, Holds.SPOONS, 2.0, Unit.TEASPOON),
            ]
        self.addCleanup(self.forget, own)

    def forget(self, own: list[int]) -> None:
        with self.database.session() as session:
            for one in own:
                workshop.retire(session, "measure", one)

    def test_they_are_told_taken_and_said_and_keep_their_grams_when_they_are_gone(self) -> None:
        self.begin(measuring="spoons", pigment_g=12.0)
        self.act("ready")
        with self.database.session() as session:
            told = slab.view(session, NOW, self.number).advice_told
        assert told is not None
        self.assertIn("scoop", told.words)
        seen = self.act("powder", source=f"lot-{self.powder}", measure=as_told(told))
        in_g = seen.pigments[0].in_g
        self.assertAlmostEqual(in_g, told.grams)
        seen = self.act("oil", source=f"lot-{self.oil}", measure={"unit": "own_1", "amount": 2})
        self.assertAlmostEqual(seen.oil.in_g, 2 * 1.5 * 0.93, places=1)
        self.assertIn("2 straws", seen.timeline[-1].text)
        self.doCleanups()
        with self.database.session() as session:
            seen = slab.view(session, NOW, self.number)
        self.assertAlmostEqual(seen.pigments[0].in_g, in_g)
        self.assertIn("2 straws", seen.timeline[-1].text)

    def test_a_straw_of_powder_and_a_name_twice_are_refused(self) -> None:
        self.begin(measuring="spoons", pigment_g=12.0)
        self.act("ready")
        with self.assertRaisesRegex(Refused, "a straw is not for powder"):
            self.act("powder", source=f"lot-{self.powder}", measure={"unit": "own_1", "amount": 1})
        with self.assertRaisesRegex(Refused, "no such measure"):
            self.act("powder", source=f"lot-{self.powder}", measure={"unit": "own_7", "amount": 1})
        with self.assertRaisesRegex(Refused, "in use already"), self.database.session() as session:
            workshop.keep_own_measure(session, None, "straw", True, True, Holds.UNKNOWN)

    def test_more_than_there_are_places_for_is_refused(self) -> None:
        more = []
        self.addCleanup(self.forget, more)
        with self.database.session() as session:
            for n in range(6):
                more.append(workshop.keep_own_measure(session, None, f"cup {n}", True, True, Holds.UNKNOWN))
        with self.assertRaisesRegex(Refused, "8 measures already"), self.database.session() as session:
            workshop.keep_own_measure(session, None, "one more", True, True, Holds.UNKNOWN)

    def test_no_spoon_at_all_is_refused(self) -> None:
        with self.database.session() as session:
            kept = workshop.settings(session)
            with self.assertRaises(Refused) as refused:
                workshop.change_settings(session, replace(kept, spoons_missing=spoons_of(us=False)))
        self.assertEqual(refused.exception.field, "spoons_missing")


class EyeAlone(Session):
    def session(self, pours: int = 3, body: str = "tube") -> None:
        self.begin(measuring="eye")
        self.act("ready")
        seen = self.act("powder", source=f"lot-{self.powder}", measure={"unit": "eye"})
        self.assertAlmostEqual(seen.pigments[0].in_g, seen.pigments[0].planned_g)
        for _ in range(pours):
            self.act("by_eye", 1, source=f"lot-{self.oil}")
        self.seen = self.act("look", 10, stage="even_paste", body=body)

    def taught(self) -> int:
        with self.database.session() as session:
            return len([r for r in rubout.pigment_page(session, "bone-black").records if r.ref == self.number])

    def test_no_figure_is_asked_and_it_is_filled_all_the_same(self) -> None:
        self.session()
        self.assertIs(self.seen.advice.act, NextAct.RIGHT)
        self.assertIsNone(self.seen.ratio)
        self.assertTrue(self.seen.can_finish)
        full = self.left(self.oil)
        done = self.act("finish", 5, verdict="right")
        self.assertGreater(done.oil.in_g, 40)
        self.assertAlmostEqual(full - self.left(self.oil), done.oil.in_g)
        self.assertEqual(self.taught(), 0)
        with self.database.session() as session:
            run = tubes.filling(session, NOW, self.number)
            self.assertGreater(run.left_ml, 50)
            tubes.fill(session, NOW, self.number, FillAsked(id=uuid4(), jar="jar", volume_ml=round(run.left_ml, 1)))

    def test_told_afterwards_stock_record_and_lesson_follow(self) -> None:
        self.session()
        full = self.left(self.oil)
        self.act("finish", 5, verdict="right")
        with self.assertRaises(Refused):
            self.act("oil", 1, source=f"lot-{self.oil}", measure={"amount": 3.0})
        told = self.act("came_out", 60, measure={"unit": "weigh_back", "before_g": 400.0, "after_g": 334.0})
        self.assertAlmostEqual(told.oil.in_g, 66)
        self.assertAlmostEqual(full - self.left(self.oil), 66)
        self.assertIsNotNone(told.ratio)
        self.assertEqual(self.taught(), 1)
        self.assertFalse(told.can_tell)
        with self.database.session() as session:
            self.assertAlmostEqual(batches.line(session, self.number).oil_g, 66)

    def test_a_guess_is_kept_as_wide_as_a_guess(self) -> None:
        self.session()
        seen = self.act("came_out", 1, measure={"unit": "tablespoon", "amount": 5.0}, guessed=True)
        assert seen.ratio is not None
        measured_low = seen.ratio.low or 0
        self.assertLess(measured_low, 0.8 * seen.ratio.value)
        self.assertIn("guessed", seen.timeline[-1].text)

    def test_one_who_overshot_gets_a_way_back_and_its_powder_in_spoons(self) -> None:
        self.session(body="loose")
        self.assertIs(self.seen.advice.act, NextAct.TOO_LOOSE)
        seen = self.act("choose_way", way=Way.ADD_PIGMENT)
        self.assertIs(seen.advice.act, NextAct.POWDER)
        assert seen.advice_told is not None
        self.assertIn("spoon", seen.advice_told.figures)
        self.act("powder", 1, source=f"lot-{self.powder}", measure={"unit": "eye"})
        seen = self.act("look", 10, stage="even_paste", body="tube")
        self.assertIs(seen.advice.act, NextAct.RIGHT)


class OwnClock(Session):
    def test_one_session_says_how_long_this_studio_takes(self) -> None:
        with self.database.session() as session:
            slabs = workshop.workshop(session)
            self.assertIsNone(batches.learned(session, []).pace)
        for n in range(4):
            # From the second on the plan knows the pace, and the session takes what it says.
            late = 1 if n else 2
            self.begin(slab_id=slabs.slabs[0].id, muller_id=slabs.mullers[0].id)
            self.act("ready")
            self.weigh_in()
            seen = self.pour(66)
            with self.database.session() as session:
                planned = batches.batch(session, self.number).plan.minutes
            assert planned is not None
            self.act("finish", late * planned.value, verdict="right")
            self.assertEqual(seen.number, self.number)
            with self.database.session() as session:
                self.assertAlmostEqual(batches.learned(session, []).pace or 0, 2, delta=0.1)
        self.assertLess(timedelta(0), self.clock - NOW)
