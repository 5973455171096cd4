"""Sludge on the record: cans, dishes, a cake into stock and on to a labelled tube; what cannot be is named."""

from datetime import datetime, timedelta
from decimal import Decimal
from typing import Any
from uuid import uuid4

from niddy.core.errors import Refused
from niddy.core.estimate import Basis
from niddy.core.log import Status
from niddy.core.plan import Plan
from niddy.core.slab import Kind
from niddy.core.sludge import Grey, Method, Much, mass_at
from niddy.studio import batches, day, labels, lineage, materials, plan, shelf, slab, sludge, tubes, workshop
from niddy.studio.errors import Conflict, Missing
from niddy.studio.lineage import What
from niddy.studio.materials import OwnOil
from niddy.studio.plan import LineAsked, OilAsked, PlanAsked, TubesAsked
from niddy.studio.slab import AmountAsked
from niddy.studio.sludge import CanAsked, CanChange, CanView, DishAsked, DishView, SteerAsked, TubePriceAsked
from niddy.studio.tubes import FillAsked
from tests.studio.recording import record_can, record_dish, record_item
from tests.support import NOW, DatabaseTest

SPIRIT = "white-spirit"
LEAD = "lead-tin-yellow"


class SludgeTest(DatabaseTest):
    with_demo = True

    def setUp(self) -> None:
        self.session = self.enterContext(self.database.session())
        self.addCleanup(self.session.rollback)

    def refused(self, field: str, does: Any, *what: object, **named: object) -> Refused:
        with self.assertRaises(Refused) as caught:
            does(*what, **named)
        self.assertEqual(caught.exception.field, field)
        return caught.exception

    def begin(self, **what: Any) -> int:
        asked = {
            "request_id": uuid4(),
            "name": f"Can {uuid4().hex[:6]}",
            "solvent_key": SPIRIT,
            "solvent_ml": 500.0,
            **what,
        }
        return sludge.begin_can(self.session, NOW - timedelta(days=9), CanAsked.model_validate(asked))

    def can(self, number: int, kind: str, at: datetime = NOW, **what: Any) -> CanView:
        asked = {"id": uuid4(), "kind": kind, "made_at": at, **what}
        return record_can(self.session, at, number, sludge.CANS.acts.act_of(asked))

    def wash(self, number: int, *keys: str, much: str = "palette", **what: Any) -> CanView:
        paints = [{"source": f"library-{key}", "much": much} for key in keys]
        return self.can(number, "washing", paints=paints, **what)

    def dish_of(self, number: int, **what: Any) -> int:
        asked = {
            "request_id": uuid4(),
            "can_number": number,
            "method": Method.EVAPORATE,
            "tare_g": 100.0,
            "gross_g": 280.0,
            **what,
        }
        return sludge.begin_dish(self.session, NOW - timedelta(hours=100), DishAsked.model_validate(asked))

    def act(self, number: int, kind: str, at: datetime = NOW, **what: Any) -> DishView:
        asked = {"id": uuid4(), "kind": kind, "made_at": at, **what}
        return record_dish(self.session, at, number, sludge.DISHES.acts.act_of(asked))

    def dried(self, number: int) -> int:
        """A dish of a can's sludge, weighed till it is dry enough: 180 g to 112 g dry."""
        dish = self.dish_of(number)
        for hours in (6, 24, 48, 96):
            at = NOW + timedelta(hours=hours - 100)
            self.act(dish, "weigh", at, g=round(100 + mass_at(hours, 180, 112, 18), 2))
        return dish

    def stocked(self, number: int, code: str = "", **what: Any) -> int:
        seen = self.act(self.dried(number), "to_stock", g=110.0, code=code or f"C-{uuid4().hex[:6]}", **what)
        assert seen.lot_id is not None
        return seen.lot_id


class Cans(SludgeTest):
    def test_an_old_jar_is_begun_by_how_full_it_is_and_how_high_its_sludge_stands(self) -> None:
        number = self.begin(solvent_ml=None, holds_ml=370.0, full=0.5, sludge=0.5)
        seen = sludge.can(self.session, NOW, number)
        sludge_ml, dry_g = 370 * 0.25, 0.55 * 370 * 0.25
        assert seen.solids is not None
        self.assertAlmostEqual(seen.solids.value, dry_g, delta=0.6)
        self.assertAlmostEqual(seen.ledger.held_ml, 185 - dry_g / 3, delta=0.1)
        self.assertEqual((seen.ledger.bought_ml, seen.unlogged), (0.0, 1))
        self.assertAlmostEqual(seen.ledger.found_ml, seen.ledger.held_ml)
        self.assertIn(f"about {sludge_ml:.0f} ml of old sludge", seen.timeline[-1].text)
        assert seen.cake is not None
        self.assertIn("unknown-parts", seen.cake.hazards)
        dish = self.dish_of(number, tare_g=None, gross_g=None)
        self.act(dish, "judged", smell="none", paper="dry", crumbles=True)
        spoons = {"code": "J-1", "measure": {"unit": "tablespoon", "amount": 3.0}}
        self.refused("anyway", self.act, dish, "to_stock", **spoons)
        self.assertIsNotNone(self.act(dish, "to_stock", anyway=True, **spoons).lot_id)

    def test_an_old_jar_that_says_half_of_it_is_asked_for_the_rest(self) -> None:
        for field, what in (
            ("holds_ml", {"old": True}),
            ("full", {"old": True, "holds_ml": 370.0}),
            ("holds_ml", {"full": 0.5, "sludge": 0.5}),
            ("sludge", {"full": 0.5, "holds_ml": 370.0}),
            ("full", {"sludge": 0.5, "holds_ml": 370.0}),
        ):
            self.refused(field, self.begin, **what)

    def test_more_poured_off_than_was_logged_was_in_it_before(self) -> None:
        number = self.begin(solvent_ml=200.0, holds_ml=1_000.0)
        said = self.refused("anyway", self.can, number, "pour_off", ml=450.0)
        self.assertIn("Was there liquid in it before?", said.problem)
        seen = self.can(number, "pour_off", ml=450.0, anyway=True)
        self.assertEqual((seen.ledger.held_ml, seen.ledger.found_ml, seen.ledger.waiting_ml), (0.0, 250.0, 450.0))
        self.refused("ml", self.can, number, "pour_off", ml=1_200.0, anyway=True)
        back = self.can(number, "strike", strikes=seen.timeline[0].id)
        self.assertEqual((back.ledger.held_ml, back.ledger.found_ml), (200.0, 0.0))

    def test_begun_once_however_often_it_is_sent(self) -> None:
        asked = CanAsked(request_id=uuid4(), name="New", solvent_key=SPIRIT, solvent_ml=400.0, unlogged=Much.LITTLE)
        number = sludge.begin_can(self.session, NOW, asked)
        self.assertEqual(sludge.begin_can(self.session, NOW, asked), number)
        seen = sludge.can(self.session, NOW, number)
        self.assertEqual((seen.ledger.bought_ml, seen.washings, seen.unlogged), (400.0, 1, 1))
        with self.assertRaises(Conflict):
            sludge.begin_can(self.session, NOW, asked.model_copy(update={"name": "Other"}))

    def test_a_washing_of_a_tube_brings_all_that_is_in_it(self) -> None:
        number = self.begin()
        item = shelf.by_code(self.session, "3-1")
        assert item is not None
        act = sludge.CANS.acts.act_of({"id": uuid4(), "kind": "washing", "made_at": NOW, "paints": [{"item_id": item}]})
        for _ in range(2):
            seen = record_can(self.session, NOW, number, act)
        self.assertEqual(seen.washings, 1)
        assert seen.cake is not None
        self.assertIn("lead", seen.cake.hazards)
        self.assertEqual([part.name for part in seen.cake.parts], ["Lead-tin yellow"])
        self.assertTrue(seen.cake.asked_first)
        self.assertIn("Lead-tin yellow", seen.timeline[0].text)
        self.assertTrue(any("lead" in caution.key for caution in seen.cautions))

    def test_what_cannot_be_is_refused_at_its_field_and_nothing_is_lost(self) -> None:
        number = self.begin(holds_ml=600.0)
        for field, kind, what in (
            ("paints", "washing", {}),
            ("paints.0", "washing", {"paints": [{}]}),
            ("paints.0.item_id", "washing", {"paints": [{"item_id": 99_999}]}),
            ("source", "washing", {"paints": [{"source": "item-3"}]}),
            ("ml", "pour_off", {}),
            ("anyway", "pour_off", {"ml": 600.0}),
            ("g", "pour_off", {"g": 600.0}),
            ("ml", "solvent_in", {"solvent_key": SPIRIT, "ml": 300.0}),
            ("anyway", "solvent_in", {"solvent_key": "turpentine", "ml": 50.0}),
            ("clear_mm", "height", {"clear_mm": 91.0, "total_mm": 90.0}),
            ("g", "weighed", {"g": 800.0}),
            ("kind", "sludge_out", {}),
            ("strikes", "strike", {"strikes": uuid4()}),
        ):
            with self.subTest(kind=kind, what=what):
                try:
                    self.can(number, kind, **what)
                except Missing as missing:
                    self.assertTrue(field.startswith(str(missing.field)), missing.field)
                except Refused as refusal:
                    self.assertEqual(refusal.field, field)
                else:
                    self.fail("taken")
        seen = sludge.can(self.session, NOW, number)
        self.assertEqual((len(seen.timeline), seen.ledger.held_ml), (1, 500.0))
        with self.assertRaises(Missing):
            sludge.can(self.session, NOW, 99_999)

    def test_mixed_with_open_eyes_it_says_so(self) -> None:
        number = self.begin()
        seen = self.can(number, "solvent_in", solvent_key="turpentine", ml=50.0, anyway=True)
        self.assertEqual(seen.solvents, (SPIRIT, "turpentine"))

    def test_poured_off_used_again_and_lost_to_the_air(self) -> None:
        number = self.begin(price_per_l=Decimal(10), tare_g=200.0)
        self.wash(number, "red-ochre")
        self.can(number, "pour_off", ml=300.0)
        seen = self.can(number, "solvent_in", solvent_key=SPIRIT, ml=280.0, origin="recovered")
        self.assertEqual((seen.ledger.waiting_ml, seen.ledger.held_ml), (20.0, 480.0))
        self.assertEqual(seen.ledger.saved, Decimal("2.80"))
        seen = self.can(number, "weighed", g=200.0 + 2.0 + 440 * 0.78)
        self.assertAlmostEqual(seen.ledger.lost_ml, 40.0, delta=1.0)
        last = seen.timeline[0]
        seen = self.can(number, "strike", strikes=last.id)
        self.assertEqual(seen.ledger.lost_ml, 0.0)
        self.assertTrue(seen.timeline[1].struck)

    def test_heights_tell_when_it_is_clear_and_it_comes_due(self) -> None:
        number = self.begin()
        self.wash(number, "red-ochre", at=NOW - timedelta(hours=20))
        before = sludge.can(self.session, NOW, number).settled
        seen = self.can(number, "height", clear_mm=30.0, total_mm=90.0).settled
        self.assertEqual((before.readings, seen.readings), (0, 1))
        self.assertAlmostEqual(seen.clear_now, 1 / 3, delta=0.05)
        assert seen.clear_at is not None and seen.clear_low is not None and seen.clear_high is not None
        self.assertTrue(NOW < seen.clear_low < seen.clear_at < seen.clear_high)
        dues = {due.page: due for due in sludge.waits(self.session, NOW)}
        self.assertEqual(dues[f"/sludge/cans/{number}"].at, seen.clear_at)
        late = sludge.can(self.session, seen.clear_at + timedelta(hours=1), number)
        self.assertTrue(late.settled.ready)

    def test_set_right_and_out_of_use(self) -> None:
        number = self.begin()
        seen = sludge.change_can(self.session, NOW, number, CanChange(name="Blue can", place="sill", holds_ml=700.0))
        self.assertEqual((seen.name, seen.place, seen.holds_ml), ("Blue can", "sill", 700.0))
        self.refused("name", sludge.change_can, self.session, NOW, number, CanChange(name="  "))
        self.assertIs(self.can(number, "close").status, Status.FINISHED)
        self.refused("kind", self.wash, number, "red-ochre")
        self.assertNotIn(number, [line.number for line in sludge.room(self.session, NOW).cans])

    def test_its_own_label_opens_it(self) -> None:
        number = self.begin(name="Tall can")
        label = labels.of_can(self.session, number)
        self.assertEqual((label.address, label.name), (f"/sludge/cans/{number}", "Tall can"))


class Dishes(SludgeTest):
    def setUp(self) -> None:
        super().setUp()
        self.number = self.begin()
        self.wash(self.number, "red-ochre", "burnt-umber", at=NOW - timedelta(days=5))

    def test_a_dish_takes_its_share_and_its_makeup_stays(self) -> None:
        dish = self.dish_of(self.number, share=0.5)
        self.wash(self.number, LEAD)
        seen = sludge.dish(self.session, NOW, dish)
        self.assertNotIn("lead", seen.cake.hazards)
        self.assertEqual({part.name for part in seen.cake.parts}, {"Red ochre", "Burnt umber"})
        line = next(one for one in sludge.can(self.session, NOW, self.number).timeline if "taken out" in one.text)
        self.assertFalse(line.can_strike)
        self.refused("strikes", self.can, self.number, "strike", strikes=line.id)

    def test_three_weighings_make_a_forecast_and_a_calendar_entry(self) -> None:
        dish = self.dish_of(self.number)
        seen = sludge.dish(self.session, NOW, dish)
        self.assertEqual((seen.weighings_missing, seen.curve), (2, None))
        self.assertIn("2 more weighings", seen.next_says)
        for hours in (6, 24):
            seen = self.act(dish, "weigh", NOW + timedelta(hours=hours - 100), g=100 + mass_at(hours, 180, 112, 26))
        assert seen.curve is not None and seen.ready_at is not None and seen.dry is not None
        assert seen.dry.low is not None and seen.dry.high is not None
        self.assertTrue(seen.dry.low < 112 < seen.dry.high)
        self.assertRegex(seen.next_says, r"Dry enough between .* and .*\. Weigh it again on ")
        self.assertIn("burst the tube", seen.says)
        self.assertAlmostEqual(seen.enough_g or 0, seen.dry.value / 0.97)
        due = next(one for one in sludge.waits(self.session, NOW) if one.page == f"/sludge/dishes/{dish}")
        self.assertEqual(due.at, seen.ready_at)
        later = day.view(self.session, due.at - timedelta(days=1), None, 0).later
        self.assertIn(f"/sludge/dishes/{dish}", [wait.page for wait in later])

    def test_what_cannot_be_is_refused_at_its_field(self) -> None:
        dish = self.dish_of(self.number)
        self.act(dish, "weigh", NOW - timedelta(hours=94), g=266.0)
        for field, kind, what in (
            ("g", "weigh", {"g": 99.0}),
            ("anyway", "weigh", {"g": 300.0}),
            ("g", "added", {"g": 100.0}),
            ("mesh_um", "strained", {"hairs": False}),
            ("g", "to_stock", {"g": 400.0, "code": "X"}),
            ("wet", "to_stock", {"g": 150.0, "code": "X"}),
            ("strikes", "strike", {"strikes": uuid4()}),
        ):
            with self.subTest(kind=kind, what=what):
                said = self.refused(field, self.act, dish, kind, **what)
        said = self.refused("anyway", self.act, dish, "weigh", g=300.0)
        self.assertIn("added", said.problem)
        seen = self.act(dish, "weigh", g=300.0, anyway=True)
        self.assertEqual((len(seen.timeline), [one.g for one in seen.readings]), (3, [200.0]))
        self.refused("gross_g", self.dish_of, self.number, gross_g=90.0)
        self.refused("method", self.dish_of, self.number, method=Method.DRAIN)
        self.refused("kind", self.dish_of, self.begin())

    def test_oil_washes_only_drain(self) -> None:
        oily = self.begin(solvent_key="wash-oil")
        self.wash(oily, "red-ochre", at=NOW - timedelta(days=5))
        self.refused("method", self.dish_of, oily)
        dish = self.dish_of(oily, method=Method.DRAIN)
        self.refused("kind", self.act, dish, "judged", smell="none", paper="dry")
        self.assertNotIn("judged", [one.key for one in sludge.dish(self.session, NOW, dish).entries])
        self.assertIn("nothing evaporates", sludge.dish(self.session, NOW, dish).says)
        self.act(dish, "weigh", NOW - timedelta(hours=60), g=222.0)
        seen = self.act(dish, "weigh", NOW - timedelta(hours=30), g=221.8)
        self.assertIn("Nothing more drains", seen.says)

    def test_thrown_away_it_waits_for_nothing(self) -> None:
        dish = self.dried(self.number)
        self.assertTrue(sludge.dish(self.session, NOW, dish).dry_enough)
        seen = self.act(dish, "throw", text="tin by the door")
        self.assertEqual((seen.status, seen.lot_id), (Status.FINISHED, None))
        self.refused("kind", self.act, dish, "weigh", g=212.0)
        self.assertNotIn(f"/sludge/dishes/{dish}", [due.page for due in sludge.waits(self.session, NOW)])
        seen = self.act(dish, "strike", strikes=seen.timeline[0].id)
        self.assertIs(seen.status, Status.OPEN)


class Cakes(SludgeTest):
    def setUp(self) -> None:
        super().setUp()
        self.number = self.begin(name="Test can")
        self.wash(self.number, "red-ochre", "burnt-umber", at=NOW - timedelta(days=5))
        self.oil = next(lot.id for lot in materials.lots(self.session, "oil") if "linseed" in lot.material_key)

    def planned(self, lot_id: int) -> Plan:
        asked = PlanAsked(
            lines=[LineAsked(lot_id=lot_id, parts=1.0)], oil=OilAsked(lot_id=self.oil), reduced_pvc=0.86, pigment_g=50.0
        )
        return plan.compute(self.session, asked).plan

    def ground(self, lot_id: int, grams: float = 40.0) -> tuple[int, int]:
        """A batch of a cake, finished and filled into one tube: the batch, the tube."""
        tube = workshop.workshop(self.session).tube_types[0].id
        asked = PlanAsked(
            lines=[LineAsked(lot_id=lot_id, parts=1.0)],
            oil=OilAsked(lot_id=self.oil),
            reduced_pvc=0.86,
            tubes=[TubesAsked(tube_type_id=tube, count=1)],
        )
        number = slab.take_to_slab(self.session, NOW, uuid4(), asked)

        def act(kind: Kind, **what: Any) -> None:
            told = {"id": uuid4(), "kind": kind, "made_at": NOW, **what}
            slab.keep(self.session, NOW, number, slab.act_of(told))

        act(Kind.READY)
        act(Kind.POWDER, source=f"lot-{lot_id}", measure=AmountAsked(amount=grams))
        act(Kind.OIL, source=f"lot-{self.oil}", measure=AmountAsked(amount=9.0))
        act(Kind.LOOK, stage="even_paste", body="tube")
        act(Kind.FINISH, verdict="right", tubes=[TubesAsked(tube_type_id=tube, count=1)])
        fill = FillAsked(id=uuid4(), tube_type_id=tube, reason="a trial")
        return number, tubes.fill(self.session, NOW, number, fill).item_id

    def test_a_cake_is_a_lot_of_pigment_with_all_it_inherits(self) -> None:
        lot_id = self.stocked(self.number, "TC-1")
        lot = materials.lot(self.session, lot_id)
        self.assertEqual((lot.name, lot.kind, lot.on_hand), ("Cake of Test can", "pigment", 110.0))
        self.assertIn("manganese", lot.hazards)
        assert lot.cake is not None and lot.oil_absorption is not None
        self.assertEqual({part.name for part in lot.cake.parts}, {"Red ochre", "Burnt umber"})
        self.assertLess(lot.oil_absorption.low or 0, 0.7 * lot.oil_absorption.value)
        planned = self.planned(lot_id)
        self.assertIn("manganese", {caution.key for caution in planned.cautions})
        self.refused("code", self.stocked, self.number, "TC-1")

    def test_a_tube_of_it_and_its_lineage_both_ways(self) -> None:
        lot_id = self.stocked(self.number)
        _, item = self.ground(lot_id)
        behind = lineage.behind(self.session, item)
        self.assertIn(What.DISH, {place.what for place in behind.places})
        self.assertIn("Test can", " ".join(place.name for place in behind.places))
        page = shelf.page(self.session, NOW, item)
        self.assertTrue(any("anganese" in words for words in page.hazards))
        of_tube = self.begin()
        self.can(of_tube, "washing", NOW - timedelta(days=5), paints=[{"item_id": item, "much": "palette"}])
        second = self.stocked(of_tube)
        self.assertIn("manganese", materials.lot(self.session, second).hazards)
        went = lineage.went_into(self.session, lot_id)
        self.assertIn(second, [place.id for place in went.places if place.what is What.LOT])

    def test_lead_is_asked_about_before_it_becomes_paint_and_before_it_leaves(self) -> None:
        self.wash(self.number, LEAD, at=NOW - timedelta(days=5))
        dish = self.dried(self.number)
        asked: dict[str, Any] = {"g": 100.0, "code": "PB-1"}
        said = self.refused("anyway", self.act, dish, "to_stock", **asked)
        self.assertIn("disposal", said.accepted)
        lot_id = self.act(dish, "to_stock", anyway=True, **asked).lot_id
        assert lot_id is not None
        _, item = self.ground(lot_id)
        gone = {"id": uuid4(), "kind": "leave", "made_at": NOW, "how": "sold"}
        self.refused("anyway", record_item, self.session, NOW, item, shelf.ITEMS.acts.act_of(gone))
        page = record_item(self.session, NOW, item, shelf.ITEMS.acts.act_of({**gone, "anyway": True}))
        self.assertEqual(page.line.status, "sold")

    def test_unlogged_washings_are_unknown_parts_of_it(self) -> None:
        self.can(self.number, "washing", NOW - timedelta(days=5), unlogged="brushful")
        dish = self.dried(self.number)
        self.refused("anyway", self.act, dish, "to_stock", g=100.0, code="U-1")
        lot_id = self.act(dish, "to_stock", g=100.0, code="U-1", anyway=True).lot_id
        assert lot_id is not None
        lot = materials.lot(self.session, lot_id)
        self.assertIn("unknown-parts", lot.hazards)
        assert lot.cake is not None
        self.assertAlmostEqual(lot.cake.unknown_share, 0.2)

    def test_without_a_balance_it_is_judged_dry_and_goes_into_stock_by_spoons(self) -> None:
        dish = self.dish_of(self.number, tare_g=None, gross_g=None)
        by_spoons = {"code": f"S-{uuid4().hex[:6]}", "measure": {"unit": "tablespoon", "amount": 2.0}}
        seen = self.act(dish, "judged", smell="faint", paper="dry")
        self.assertFalse(seen.dry_enough)
        self.assertIn("no smell and dry paper", seen.says)
        assert seen.residual is not None
        self.assertGreater(seen.residual.high or 0, 3)
        self.refused("wet", self.act, dish, "to_stock", **by_spoons)
        seen = self.act(dish, "judged", smell="none", paper="dry", crumbles=True)
        self.assertTrue(seen.dry_enough)
        self.assertIn("Dry enough to tube", seen.says)
        ready = {line.number: line.ready_at for line in sludge.room(self.session, NOW).dishes}
        self.assertEqual(ready[dish], NOW, "the list of dishes says the same")
        for wrong in ({}, {"unit": "drop", "amount": 3.0}):
            asked = {**by_spoons, "measure": wrong or None}
            field = "measure" if not wrong else "measure.unit"
            self.refused(field, self.act, dish, "to_stock", **asked)
        seen = self.act(dish, "to_stock", **by_spoons)
        assert seen.lot_id is not None
        lot = materials.lot(self.session, seen.lot_id)
        self.assertAlmostEqual(lot.on_hand, 30 * 0.35 * seen.cake.density_g_per_ml, delta=0.1)

    def test_its_jar_and_its_paint_say_that_they_are_recycled_and_of_what(self) -> None:
        self.wash(self.number, "viridian", at=NOW - timedelta(days=5))
        lot_id = self.stocked(self.number, "R-1", anyway=True)
        jar = labels.of_lot(self.session, lot_id)
        self.assertRegex(jar.besides, "^Recycled; contents: .*viridian.*mask on")
        self.assertEqual((jar.batch, jar.address), ("lot R-1", f"/stock/{lot_id}"))
        self.assertIn("safety data sheet", jar.hazards)
        batch, item = self.ground(lot_id)
        seen = slab.view(self.session, NOW, batch)
        self.assertEqual((seen.pigment_and_oil_only, seen.fully_known), (False, True))
        self.assertTrue(batches.batch(self.session, batch).plan.lines[0].pigment.recycled)
        tube = labels.texts(self.session, [item])[0]
        self.assertRegex(tube.besides, "Recycled; contents: .*viridian")
        self.assertNotIn("only", tube.besides)

    def test_any_jar_has_a_label_and_a_lot_that_is_not_there_has_none(self) -> None:
        for lot in (materials.lot(self.session, n) for n in range(1, 30)):
            label = labels.of_lot(self.session, lot.id)
            self.assertEqual((label.name, label.address), (lot.name, f"/stock/{lot.id}"))
            self.assertEqual("Dry powder" in label.besides, lot.kind in ("pigment", "raw"), lot.name)
        with self.assertRaises(Missing):
            labels.of_lot(self.session, 99_999)

    def test_wet_sludge_is_weighed_wet_and_counts_dry(self) -> None:
        dish = self.dish_of(self.number, method=Method.SQUEEZE)
        self.act(dish, "squeezed", NOW - timedelta(hours=99), g=240.0)
        lot_id = self.act(dish, "to_stock", g=120.0, code="W-1", wet=True).lot_id
        assert lot_id is not None
        lot = materials.lot(self.session, lot_id)
        share = lot.liquid_share
        assert share is not None
        self.assertAlmostEqual(share, 0.325)
        self.assertIn("solvent", lot.hazards)
        self.assertIn("Still wet", labels.of_lot(self.session, lot_id).besides)
        asked = PlanAsked(
            lines=[LineAsked(lot_id=lot_id, parts=1.0)], oil=OilAsked(lot_id=self.oil), reduced_pvc=0.86, pigment_g=40.0
        )
        line = plan.compute(self.session, asked).plan.lines[0]
        assert line.wet is not None
        self.assertAlmostEqual(line.wet.value, line.mass.value / (1 - share))
        number, _ = self.ground(lot_id, 60.0)
        seen = slab.view(self.session, NOW, number)
        self.assertAlmostEqual(seen.pigments[0].in_g, 60.0)
        self.assertGreater(seen.leaving_ml, 10)
        assert seen.ratio is not None
        self.assertAlmostEqual(seen.ratio.value, 100 * 9.0 / (60.0 * (1 - share)), delta=0.5)
        self.assertAlmostEqual(materials.lot(self.session, lot_id).on_hand, 60.0)

    def test_its_first_batch_teaches_the_second_cake_of_the_same_can(self) -> None:
        first = self.stocked(self.number)
        before = self.planned(first).lines[0].pigment
        self.assertIs(before.demand_basis, Basis.ASSUMED)
        self.ground(first)
        self.wash(self.number, "red-ochre", "burnt-umber", at=NOW - timedelta(days=5))
        after = self.planned(self.stocked(self.number)).lines[0].pigment
        self.assertIs(after.demand_basis, Basis.LEARNED)
        self.assertLess(after.demand_sd_ln, 0.7 * before.demand_sd_ln)

    def test_steering_ranks_what_the_studio_has(self) -> None:
        lot_id = self.stocked(self.number)
        found = sludge.steer(self.session, NOW, lot_id, SteerAsked(wish=Grey.COOL))
        self.assertTrue(found.ways)
        self.assertLess(found.ways[0].off, found.off)
        self.assertNotIn(f"lot-{lot_id}", [way.paint.id for way in found.ways])
        own = sludge.steer(self.session, NOW, lot_id, SteerAsked(srgb="#224488"))
        self.assertEqual(own.aim_srgb, "#224488")
        self.refused("lot_id", sludge.steer, self.session, NOW, self.oil, SteerAsked())

    def test_a_cake_nobody_can_name_has_no_colour_until_it_was_looked_at(self) -> None:
        dish = self.dish_of(
            self.begin(solvent_ml=None, holds_ml=370.0, full=0.5, sludge=0.5), tare_g=None, gross_g=None
        )
        self.assertFalse(sludge.dish(self.session, NOW, dish).cake.colour_known)
        self.act(dish, "judged", smell="none", paper="dry", crumbles=True)
        amount = {"unit": "tablespoon", "amount": 3.0}
        seen = self.act(dish, "to_stock", code="J-9", measure=amount, anyway=True)
        assert seen.lot_id is not None
        lines = {line.lot.id: line.leans for line in sludge.room(self.session, NOW).cakes}
        self.assertEqual(lines[seen.lot_id], "")
        self.refused("looks", sludge.steer, self.session, NOW, seen.lot_id, SteerAsked())
        found = sludge.steer(self.session, NOW, seen.lot_id, SteerAsked(looks="#7a5f45"))
        self.assertEqual((found.cake_srgb, found.leans), ("#7a5f45", "yellow brown"))


class Whole(SludgeTest):
    def test_enough_for_a_tube_from_weeks_of_washings(self) -> None:
        number = self.begin()
        for week in range(8):
            self.wash(number, "red-ochre", at=NOW - timedelta(days=3 + 7 * week))
        few = sludge.can_enough(self.session, NOW, number, None, 1)
        many = sludge.can_enough(self.session, NOW, number, None, 6)
        assert few.days is not None and many.days is not None
        self.assertGreater(many.days.median, few.days.median)
        self.assertAlmostEqual(many.want_g, 6 * few.want_g)
        self.assertTrue(many.earliest and many.on and many.earliest <= many.on)
        fresh = self.begin()
        self.wash(fresh, "red-ochre")
        self.assertEqual(sludge.can_enough(self.session, NOW, fresh, None, 6).weeks_missing, 4)

    def test_saved_counts_solvent_cake_and_money(self) -> None:
        seen = sludge.room(self.session, NOW).saved
        self.assertGreater(seen.solvent_ml, 2_000)
        self.assertAlmostEqual(seen.cake_g, 136.0)
        self.assertEqual(sum(month.solvent_ml for month in seen.months), seen.solvent_ml)
        sludge.set_tube_price(self.session, TubePriceAsked(bought_tube_price=Decimal("40")))
        dearer = sludge.room(self.session, NOW).saved
        assert dearer.paint_money is not None and dearer.solvent_money is not None
        self.assertEqual(dearer.money, dearer.paint_money + dearer.solvent_money)
        self.assertEqual(
            dearer.paint_money, (Decimal(40) * Decimal(f"{seen.paint_ml / 40:.6f}")).quantize(Decimal("0.01"))
        )

    def test_a_binder_of_ones_own_shares_a_tube_and_says_what_leaves(self) -> None:
        own = OwnOil(
            name="Slow medium",
            density_g_per_ml=0.9,
            nonvolatile_fraction=0.6,
            touch_dry_days_low=2.0,
            touch_dry_days_high=5.0,
        )
        key = materials.add_own(self.session, NOW, "oil", own.oil())
        found = materials.oil_of(self.session, key)
        assert found is not None
        self.assertEqual(found.hazards, ("oily-rags", "solvent", "flammable"))
        asked = PlanAsked.model_validate(
            {
                "lines": [{"pigment_key": "red-ochre", "parts": 1}],
                "pigment_g": 50.0,
                "reduced_pvc": 0.86,
                "oil": {"blend": [{"oil_key": key, "parts": 1}, {"oil_key": "linseed-refined", "parts": 1}]},
            }
        )
        planned = plan.compute(self.session, asked).plan
        self.assertAlmostEqual(planned.oil.nonvolatile_fraction, 0.8)
        assert planned.oil.touch_dry_days_low is not None
        self.assertAlmostEqual(planned.oil.touch_dry_days_low, 3.0)
        backwards = own.model_copy(update={"name": "Odd", "touch_dry_days_high": 1.0})
        self.refused("touch_dry_days_high", materials.add_own, self.session, NOW, "oil", backwards.oil())

    def test_the_demo_tells_a_year_of_it(self) -> None:
        seen = sludge.room(self.session, NOW)
        self.assertEqual([line.name for line in seen.cans], ["Window can", "Brown can"])
        half_dry = next(line for line in seen.dishes if line.status is Status.OPEN)
        assert half_dry.ready_at is not None
        self.assertGreater(half_dry.ready_at, NOW)
        self.assertEqual([cake.lot.code for cake in seen.cakes], ["WG-1"])
        grey = shelf.by_code(self.session, "31-1")
        assert grey is not None
        behind = lineage.behind(self.session, grey)
        self.assertTrue({What.DISH, What.BATCH, What.LOT} <= {place.what for place in behind.places})
        self.assertEqual(batches.batch(self.session, 31, 0).name, "Cake of Window can")
