"""The end of a batch: where its paint goes, and what that makes; and what lies on each slab until it is cleaned."""

from datetime import timedelta
from typing import Any
from uuid import uuid4

from sqlalchemy.orm import Session

from niddy.core.errors import Refused
from niddy.core.slab import Kind, Status
from niddy.core.wetting import Body
from niddy.studio import ending, home, shelf, slab, tubes, workshop
from niddy.studio import plan as plans
from niddy.studio.plan import PlanAsked
from niddy.studio.shelf import Wanted
from niddy.studio.slab import DAB_ML, SlabView, Surface, act_of
from tests.support import NOW, DatabaseTest

PLAN = {
    "lines": [{"pigment_key": "bone-black", "parts": 1.0}],
    "oil": {"oil_key": "linseed-refined"},
    "reduced_pvc": 0.86,
    "pigment_g": 40.0,
}


class Ends(DatabaseTest):
    def setUp(self) -> None:
        super().setUp()
        self.session = Session(self.database.engine, expire_on_commit=False)
        self.addCleanup(self.session.close)
        self.addCleanup(self.session.rollback)
        workshop.furnish(self.session)
        self.clock = NOW

    def act(self, number: int, kind: str, **what: Any) -> SlabView:
        self.clock += timedelta(minutes=1)
        act = act_of({"id": uuid4(), "kind": kind, "made_at": self.clock, **what})
        return ending.record(self.session, self.clock, number, act)

    def paste(self, **plan: Any) -> int:
        asked = PlanAsked.model_validate(PLAN | plan)
        number = slab.take_to_slab(self.session, self.clock, uuid4(), asked)
        seen = self.act(number, "ready")
        self.act(number, "powder", source=seen.pigments[0].source, measure={"amount": 40.0})
        self.act(number, "oil", source=seen.oil.source, measure={"amount": 26.0})
        return number

    def left(self, number: int) -> float:
        return tubes.filling(self.session, self.clock, number).left_ml

    def here(self) -> list[tuple[str, float]]:
        return [(item.container, item.volume_ml) for item in shelf.search(self.session, self.clock, Wanted()).items]


class WhereItGoes(Ends):
    def test_used_at_once_it_waits_nowhere(self) -> None:
        number = self.paste()
        seen = self.act(number, "finish", verdict="right", goes=[{"to": "palette"}])
        self.assertIs(seen.status, Status.FINISHED)
        self.assertAlmostEqual(self.left(number), 0.0, delta=0.1)
        self.assertEqual(tubes.to_fill(self.session), ())
        self.assertEqual(self.here(), [])

    def test_a_jar_takes_all_of_it_and_a_dab_is_set_aside(self) -> None:
        number = self.paste()
        made = self.act(number, "look", stage="wet_curds").volume
        assert made is not None
        self.act(number, "finish", verdict="right", goes=[{"to": "dab"}, {"to": "jar"}])
        kept = dict(self.here())
        self.assertEqual(kept["dab, set aside"], DAB_ML)
        self.assertAlmostEqual(kept["jar"], made.value - DAB_ML, delta=0.1)
        self.assertEqual(tubes.to_fill(self.session), ())

    def test_full_tubes_and_one_that_is_not_full_take_all_that_is_left(self) -> None:
        number = self.paste()
        volume = self.act(number, "look", stage="wet_curds").volume
        assert volume is not None
        small, large = workshop.workshop(self.session).tube_types[0], workshop.workshop(self.session).tube_types[1]
        finish = {
            "id": uuid4(),
            "kind": "finish",
            "made_at": self.clock,
            "verdict": "right",
            "tubes": [{"tube_type_id": small.id, "count": 1}],
            "goes": [{"to": "tube", "tube_type_id": large.id}],
        }
        for _ in range(2):
            # Sent again it makes nothing twice.
            ending.record(self.session, self.clock, number, act_of(finish))
        kept = self.here()
        self.assertEqual(sorted(name for name, _ in kept), sorted([small.name, large.name]))
        self.assertAlmostEqual(sum(ml for _, ml in kept), volume.value, delta=0.2)
        self.assertAlmostEqual(self.left(number), 0.0, delta=0.2)

    def test_full_tubes_and_a_dab_are_all_there_is_where_nothing_is_left(self) -> None:
        number = self.paste()
        small = workshop.workshop(self.session).tube_types[0]
        filled = [{"tube_type_id": small.id, "count": 1}]
        self.act(number, "finish", verdict="right", tubes=filled, goes=[{"to": "dab"}])
        self.assertEqual(dict(self.here()), {small.name: small.usable_ml, "dab, set aside": DAB_ML})
        self.assertEqual(tubes.to_fill(self.session), ())
        last = slab.page(self.session, self.clock, number).view.timeline[-1]
        self.assertEqual(last.text, f"finished, right: 1 x {small.name}, a dab set aside")

    def test_without_a_place_it_waits_to_be_filled(self) -> None:
        number = self.paste()
        self.act(number, "finish", verdict="right", goes=[])
        self.assertEqual([line.number for line in tubes.to_fill(self.session)], [number])
        self.assertEqual(self.here(), [])

    def test_a_tube_without_its_kind_is_no_place(self) -> None:
        with self.assertRaises(ValueError):
            act_of({"id": uuid4(), "kind": "finish", "made_at": NOW, "verdict": "right", "goes": [{"to": "tube"}]})


class Surfaces(Ends):
    def on_slab(self) -> slab.SlabNow:
        return home.home(self.session, self.clock).slabs[0]

    def test_clean_in_use_to_be_cleaned_and_clean_again(self) -> None:
        self.assertIs(self.on_slab().surface, Surface.CLEAN)
        number = self.paste()
        self.assertEqual((self.on_slab().surface, self.on_slab().batch), (Surface.IN_USE, number))
        other = slab.take_to_slab(self.session, self.clock, uuid4(), PlanAsked.model_validate(PLAN))
        seen = slab.view(self.session, self.clock, other).surface
        assert seen is not None
        self.assertEqual((seen.surface, seen.batch, seen.strict), (Surface.IN_USE, number, False))
        self.act(number, "finish", verdict="right", goes=[{"to": "palette"}])
        self.assertIs(self.on_slab().surface, Surface.TO_CLEAN)
        seen = slab.view(self.session, self.clock, number).surface
        self.assertIsNone(seen, "its own paint is no news to a batch")
        told = self.act(number, "cleaned")
        self.assertEqual(told.timeline[-1].text, "slab cleaned")
        self.assertIs(self.on_slab().surface, Surface.CLEAN)
        self.assertIsNone(slab.view(self.session, self.clock, other).surface)

    def test_after_powders_that_must_not_spread_it_is_said(self) -> None:
        number = self.paste(lines=[{"pigment_key": "lead-white", "parts": 1.0}])
        self.assertTrue(self.on_slab().strict)
        self.act(number, "finish", verdict="right", goes=[{"to": "palette"}])
        self.assertEqual((self.on_slab().surface, self.on_slab().strict), (Surface.TO_CLEAN, True))
        # Nobody leaves a slab for days: it is taken for clean then.
        self.clock += timedelta(days=4)
        self.assertIs(self.on_slab().surface, Surface.CLEAN)

    def test_powder_after_that_is_on_it_again_and_the_act_can_be_struck(self) -> None:
        number = self.paste()
        seen = self.act(number, "cleaned")
        self.assertIs(self.on_slab().surface, Surface.CLEAN)
        self.act(number, "strike", strikes=seen.timeline[-1].id)
        self.assertIs(self.on_slab().surface, Surface.IN_USE)
        self.act(number, "cleaned")
        self.act(number, "powder", source=seen.pigments[0].source, measure={"amount": 2.0})
        self.assertIs(self.on_slab().surface, Surface.IN_USE)
        with self.assertRaises(Refused):
            self.act(number, "look", stage="crumbs", body="runs")
        self.assertNotIn(Kind.CLEANED, [line.kind for line in self.act(number, "note", text="so").timeline[-2:]])


class TheSameAgain(Ends):
    def test_it_aims_at_the_counted_ratio_that_came_out_right_whatever_was_learned_since(self) -> None:
        number = self.paste()
        self.act(number, "look", stage="even_paste", body="tube")
        self.act(number, "finish", verdict="right", goes=[{"to": "palette"}])
        again = plans.compute(self.session, PlanAsked.model_validate({**PLAN, "same_as": number})).plan
        self.assertAlmostEqual(again.ratio.value, 65.0, places=6)
        self.assertIs(again.body, Body.TUBE)
        self.assertIn("As last time: 65.0 g", again.remarks[0])
        # Another powder, another wish or a batch that did not come out right is planned by what is known today.
        usual = plans.compute(self.session, PlanAsked.model_validate(PLAN)).plan
        self.assertNotAlmostEqual(usual.ratio.value, 65.0, places=2)
        umber = {**PLAN, "lines": [{"pigment_key": "raw-umber", "parts": 1.0}]}
        other = plans.compute(self.session, PlanAsked.model_validate({**umber, "same_as": number})).plan
        plain = plans.compute(self.session, PlanAsked.model_validate(umber)).plan
        self.assertEqual(other.ratio.value, plain.ratio.value)
        soft = self.paste()
        self.act(soft, "finish", verdict="soft", goes=[])
        asked = PlanAsked.model_validate({**PLAN, "same_as": soft})
        self.assertEqual(
            plans.compute(self.session, asked).plan.ratio.value,
            plans.compute(self.session, PlanAsked.model_validate(PLAN)).plan.ratio.value,
        )

    def test_an_additive_without_a_dose_is_asked_for(self) -> None:
        asked = PlanAsked.model_validate({**PLAN, "additives": [{"additive_key": "egg-yolk"}]})
        with self.assertRaises(Refused) as caught:
            plans.compute(self.session, asked)
        self.assertEqual(caught.exception.field, "additives.0.dose_pct")
