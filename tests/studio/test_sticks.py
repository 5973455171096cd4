"""Sticks on the record: bases, blocks, sets, the pot and its stock, what a base learns, sticks on the shelf."""

import math
from dataclasses import replace
from datetime import timedelta
from typing import Any
from uuid import uuid4

from niddy.core.contents import Role
from niddy.core.errors import Refused
from niddy.core.shelf import Outcome, Skin
from niddy.core.sticks import Loading, PigmentWay
from niddy.core.telling import Measuring
from niddy.studio import home, labels, lineage, materials, shelf, sticks, workshop
from niddy.studio.errors import Conflict, Missing
from niddy.studio.materials import NewLot
from niddy.studio.shelf import StickInspectAsked
from niddy.studio.sticks import (
    BaseAsked,
    BlockAsked,
    BoughtAsked,
    ColourAsked,
    MouldAsked,
    MouldsAsked,
    PigmentAsked,
    PotView,
    SetAsked,
    StickRecipeAsked,
    VersionAsked,
    WaxWeighed,
)
from niddy.studio.sticks.bases import BasePartAsked
from niddy.studio.sticks.view import view as sticks_view
from tests.studio.recording import record_pot
from tests.support import NOW, DatabaseTest


class SticksTest(DatabaseTest):
    """A studio with two waxes, bone black and linseed oil in stock, one base and one mould."""

    def setUp(self) -> None:
        self.session = self.database.session().__enter__()
        self.addCleanup(self.session.close)
        self.addCleanup(self.session.rollback)
        self.wax = self.lot("wax", "beeswax", 900.0, "20")
        self.hard = self.lot("wax", "carnauba", 300.0, "24")
        self.black = self.lot("pigment", "bone-black", 500.0, "15")
        self.oil = self.lot("oil", "linseed-refined", 800.0, "18")
        self.base = sticks.add(self.session, NOW, self.asked_base())
        self.mould = sticks.add_mould(self.session, MouldAsked(name="Stick", water_g=18.0))

    def lot(self, kind: str, key: str, grams: float, price: str) -> int:
        from decimal import Decimal

        new = NewLot(kind, key, f"{key}-{uuid4().hex[:6]}", NOW.date(), grams, Decimal(price))
        return materials.receive(self.session, NOW, new)

    def asked_base(self, name: str = "Plain", **shares: float) -> BaseAsked:
        parts = shares or {"beeswax": 80.0, "carnauba": 20.0}
        return BaseAsked(name=name, parts=[BasePartAsked(wax_key=key, share=share) for key, share in parts.items()])

    def asked(self, *, blending: bool = False, dent: float = 30.0, count: int = 2, **what: Any) -> SetAsked:
        pigments = [] if blending else [PigmentAsked(lot_id=self.black)]
        colour = ColourAsked(pigments=pigments, moulds=[MouldsAsked(mould_id=self.mould, count=count)], dent_dmm=dent)
        return SetAsked(base_id=self.base, oil_lot_id=self.oil, colours=[colour], **what)

    def begin(self, **what: Any) -> int:
        (number,) = sticks.take_to_pots(self.session, NOW, uuid4(), self.asked(**what))
        return number

    def act(self, number: int, kind: str, after: float = 0.0, **what: Any) -> PotView:
        at = NOW + timedelta(minutes=after)
        act = sticks.POTS.acts.act_of({"id": uuid4(), "kind": kind, "made_at": at, **what})
        return record_pot(self.session, at, number, act)

    def put_in(self, number: int, role: Role, kind: str) -> PotView:
        seen = sticks.view(self.session, NOW, number)
        for material in seen.materials:
            if material.role is role and material.planned_g > material.in_g:
                seen = self.act(number, kind, source=material.source, measure={"amount": material.planned_g})
        return seen

    def filled(self, **what: Any) -> int:
        number = self.begin(way=PigmentWay.DRY, **what)
        self.act(number, "ready")
        self.put_in(number, Role.WAX, "base")
        self.act(number, "melted", temperature_c=88.0)
        self.put_in(number, Role.OIL, "oil")
        self.put_in(number, Role.PIGMENT, "pigment")
        self.act(number, "stir")
        return number

    def cast(self, **what: Any) -> int:
        number = self.filled(**what)
        self.act(number, "drop", by="needle", dent_dmm=30.0)
        self.act(number, "pour", temperature_c=70.0)
        self.act(number, "out", count=2, grams=40.0)
        self.act(number, "finish", place="box 3")
        return number

    def on_hand(self, lot_id: int) -> float:
        self.session.expire_all()
        return materials.lot(self.session, lot_id).on_hand

    def refuses(self, field: str, work: Any, *args: Any, **what: Any) -> Refused:
        with self.assertRaises(Refused) as caught:
            work(*args, **what)
        self.assertEqual(caught.exception.field, field)
        return caught.exception


class Bases(SticksTest):
    def test_versions_are_kept_and_say_why(self) -> None:
        changed = VersionAsked(parts=self.asked_base(beeswax=70, carnauba=30).parts, why="too soft in summer")
        self.assertEqual(sticks.add_version(self.session, NOW, self.base, changed), 2)
        page = sticks.page(self.session, self.base)
        self.assertEqual((page.versions, page.shown.version, page.shown.why), ((2, 1), 2, "too soft in summer"))
        first = sticks.page(self.session, self.base, 1).shown
        self.assertGreater(first.dent.value, page.shown.dent.value)
        self.assertAlmostEqual(first.dent.value, math.exp(0.8 * math.log(17)))
        self.assertEqual([round(part.share_pct) for part in first.parts], [80, 20])
        self.refuses("why", sticks.add_version, self.session, NOW, self.base, changed.model_copy(update={"why": " "}))
        again = changed.model_copy(update={"parts": self.asked_base(beeswax=7, carnauba=3).parts})
        self.refuses("parts", sticks.add_version, self.session, NOW, self.base, again)
        with self.assertRaises(Missing):
            sticks.page(self.session, self.base, 9)

    def test_a_bought_base_needs_a_name_and_is_less_sure_until_drops_say(self) -> None:
        bought = sticks.add_bought(self.session, NOW, BoughtAsked(name="Stick base of a friend"))
        shown, own = sticks.page(self.session, bought).shown, sticks.page(self.session, self.base).shown
        self.assertEqual([part.name for part in shown.parts], ["Stick base of a friend"])
        self.assertGreater(shown.offset_sd_ln, 2 * own.offset_sd_ln)
        self.assertIn("nobody here knows", shown.note)
        asked = self.asked(dent=40.0).model_copy(update={"base_id": bought})
        (number,) = sticks.take_to_pots(self.session, NOW, uuid4(), asked)
        self.assertEqual(sticks.view(self.session, NOW, number).advice.act, "ready")
        self.refuses("name", sticks.add_bought, self.session, NOW, BoughtAsked(name="Stick base of a friend"))
        self.refuses("name", sticks.add_bought, self.session, NOW, BoughtAsked(name=" "))

    def test_what_is_no_base_is_refused(self) -> None:
        for field, asked in (
            ("parts.0.wax_key", self.asked_base("A", butter=10)),
            ("parts", self.asked_base("B", beeswax=0, carnauba=0)),
            ("name", self.asked_base("Plain")),
            ("name", self.asked_base("  ")),
        ):
            self.refuses(field, sticks.add, self.session, NOW, asked)
        twice = BaseAsked(name="C", parts=[BasePartAsked(wax_key="beeswax", share=1)] * 2)
        self.refuses("parts.1.wax_key", sticks.add, self.session, NOW, twice)
        self.refuses("bases", sticks.beside, self.session, [(self.base, None)])

    def test_prices_of_every_wax_make_the_price_of_a_base(self) -> None:
        shown = sticks.page(self.session, self.base).shown
        self.assertAlmostEqual(float(shown.price_per_kg or 0), 0.8 * 20 + 0.2 * 24)
        other = sticks.add(self.session, NOW, self.asked_base("Dear", beeswax=1, dammar=1))
        self.assertIsNone(sticks.page(self.session, other).shown.price_per_kg)
        one, two = sticks.beside(self.session, [(self.base, 1), (other, None)])
        self.assertEqual((one.name, two.name), ("Plain", "Dear"))
        self.assertTrue(one.water_bath)
        self.assertFalse(two.water_bath)

    def block(self, code: str = "B-1", beeswax: float = 160.0, out: float = 195.0) -> BlockAsked:
        waxes = [
            WaxWeighed(wax_key="beeswax", grams=beeswax, lot_id=self.wax),
            WaxWeighed(wax_key="carnauba", grams=40.0, lot_id=self.hard),
        ]
        return BlockAsked(request_id=uuid4(), waxes=waxes, yield_g=out, code=code)

    def test_a_block_is_a_lot_that_sticks_draw_on(self) -> None:
        asked = self.block()
        lot_id = sticks.melt_block(self.session, NOW, self.base, None, asked)
        self.assertEqual(sticks.melt_block(self.session, NOW, self.base, None, asked), lot_id)
        self.assertEqual((self.on_hand(self.wax), self.on_hand(self.hard)), (740.0, 260.0))
        lot = materials.lot(self.session, lot_id)
        self.assertEqual((lot.kind, lot.name, lot.on_hand), ("base", "Plain, version 1", 195.0))
        self.assertAlmostEqual(float(lot.price_per_unit or 0), (160 * 20 + 40 * 24) / 195, 3)
        number = self.filled(block_lot_id=lot_id)
        pot = sticks.view(self.session, NOW, number)
        self.assertAlmostEqual(self.on_hand(lot_id), 195.0 - pot.materials[0].in_g)
        went = lineage.went_into(self.session, self.wax)
        self.assertEqual([place.what for place in went.places], ["lot", "lot", "pot"])

    def test_what_is_no_block_of_it_is_refused(self) -> None:
        melt = sticks.melt_block
        self.refuses("waxes.0.grams", melt, self.session, NOW, self.base, None, self.block(beeswax=100.0, out=138.0))
        self.refuses("yield_g", melt, self.session, NOW, self.base, None, self.block(out=240.0))
        self.refuses("yield_g", melt, self.session, NOW, self.base, None, self.block(out=90.0))
        not_wax = self.block()
        not_wax.waxes[0].lot_id = self.oil
        self.refuses("waxes.0.lot_id", melt, self.session, NOW, self.base, None, not_wax)
        self.refuses("code", melt, self.session, NOW, self.base, None, self.block(code=" "))
        other = sticks.add(self.session, NOW, self.asked_base("Other", beeswax=50, candelilla=50))
        self.refuses("waxes.1.wax_key", melt, self.session, NOW, other, None, self.block())
        lot_id = melt(self.session, NOW, self.base, None, self.block())
        asked = self.asked(block_lot_id=lot_id).model_copy(update={"base_id": other})
        self.refuses("block_lot_id", sticks.compute, self.session, asked)


class Plans(SticksTest):
    def test_a_set_adds_up_to_one_shopping_list(self) -> None:
        asked = self.asked()
        blending = self.asked(blending=True, dent=45.0).colours[0]
        planned = sticks.compute(self.session, asked.model_copy(update={"colours": [*asked.colours, blending]})).planned
        self.assertEqual(planned.order, (1, 0))
        self.assertEqual(planned.sticks, 4)
        for got, of in ((planned.base_g, "base"), (planned.oil_g, "oil")):
            self.assertAlmostEqual(got, sum(getattr(colour, of).value for colour in planned.colours))
        needed = {supply.name: supply for supply in planned.supplies}
        self.assertAlmostEqual(needed["Beeswax"].needed_g, 0.8 * planned.base_g)
        self.assertEqual(needed["Beeswax"].on_hand_g, 900.0)
        self.assertAlmostEqual(needed["Bone black"].needed_g, planned.pigment_g)
        self.assertEqual(planned.colours[1].plan.name, "Blending stick")
        self.assertIsNone(planned.colours[1].pigment)
        prices = sum(float(supply.price or 0) for supply in planned.supplies)
        self.assertAlmostEqual(float(planned.cost or 0), prices, 1)
        each = sum(float(colour.cost_a_stick or 0) * colour.plan.sticks for colour in planned.colours)
        self.assertAlmostEqual(each, prices, delta=0.05)

    def test_refusals_name_the_colour(self) -> None:
        good = self.asked()
        for field, change in (
            ("oil_key", {"oil_lot_id": None}),
            ("colours.0.pigments.0", {"colours": [good.colours[0].model_copy(update={"pigments": [PigmentAsked()]})]}),
            ("colours.0.dent_dmm", {"colours": [good.colours[0].model_copy(update={"dent_dmm": None})]}),
            ("colours.0.share", {"colours": [good.colours[0].model_copy(update={"share": 1.0})]}),
        ):
            self.refuses(field, sticks.compute, self.session, good.model_copy(update=change))
        for field, change in (
            (
                "colours.0.pigments.0.lot_id",
                {"colours": [good.colours[0].model_copy(update={"pigments": [PigmentAsked(lot_id=self.oil)]})]},
            ),
            (
                "colours.0.moulds.0.mould_id",
                {"colours": [good.colours[0].model_copy(update={"moulds": [MouldsAsked(mould_id=999, count=1)]})]},
            ),
            ("oil_lot_id", {"oil_lot_id": self.black}),
        ):
            with self.assertRaises(Missing) as missing:
                sticks.compute(self.session, good.model_copy(update=change))
            self.assertEqual(missing.exception.field, field)

    def test_what_cannot_be_cast_is_planned_with_what_would_lift_it_and_not_taken(self) -> None:
        hard = self.asked(dent=4.5)
        planned = sticks.compute(self.session, hard).planned
        self.assertIn(
            "too soft for it", planned.colours[0].plan.lifting.says if planned.colours[0].plan.lifting else ""
        )
        self.refuses("colours.0.dent_dmm", sticks.take_to_pots, self.session, NOW, uuid4(), hard)

    def test_paint_that_never_dries_is_a_crayon_or_refused(self) -> None:
        never = self.asked(blending=True, dent=20.0)
        planned = sticks.compute(self.session, never).planned
        self.assertIn("would never dry", " ".join(planned.colours[0].remarks))
        self.refuses("crayon", sticks.take_to_pots, self.session, NOW, uuid4(), never)
        crayon = self.asked(blending=True, dent=20.0, crayon=True)
        self.assertEqual(len(sticks.take_to_pots(self.session, NOW, uuid4(), crayon)), 1)

    def test_sent_twice_it_begins_its_pots_once(self) -> None:
        request = uuid4()
        first = sticks.take_to_pots(self.session, NOW, request, self.asked())
        self.assertEqual(sticks.take_to_pots(self.session, NOW, request, self.asked()), first)
        with self.assertRaises(Conflict):
            sticks.take_to_pots(self.session, NOW, request, self.asked(dent=40.0))

    def test_moulds_by_water_or_by_size(self) -> None:
        sticks.add_mould(self.session, MouldAsked(name="Round", diameter_mm=20.0, length_mm=50.0))
        sticks.add_mould(self.session, MouldAsked(name="Square", side_mm=10.0, length_mm=50.0))
        found = {mould.name: mould.ml for mould in sticks.moulds(self.session)}
        self.assertAlmostEqual(found["Round"], math.pi * 5)
        self.assertAlmostEqual(found["Square"], 5.0)
        self.assertEqual(found["Stick"], 18.0)
        for field, asked in (
            ("water_g", MouldAsked(name="A")),
            ("water_g", MouldAsked(name="A", diameter_mm=10.0)),
            ("diameter_mm", MouldAsked(name="A", length_mm=10.0)),
            ("diameter_mm", MouldAsked(name="A", length_mm=10.0, diameter_mm=5.0, side_mm=5.0)),
            ("name", MouldAsked(name="Stick", water_g=4.0)),
            ("name", MouldAsked(name=" ", water_g=4.0)),
            ("length_mm", MouldAsked(name="A", length_mm=1_000.0, side_mm=500.0)),
        ):
            self.refuses(field, sticks.add_mould, self.session, asked)
        sticks.retire_mould(self.session, self.mould)
        self.assertNotIn("Stick", [mould.name for mould in sticks.moulds(self.session)])


class Pots(SticksTest):
    def test_what_goes_in_is_drawn_once_and_given_back(self) -> None:
        number = self.begin()
        act_id = uuid4()
        act = sticks.POTS.acts.act_of(
            {"id": act_id, "kind": "oil", "made_at": NOW, "source": f"lot-{self.oil}", "measure": {"amount": 12.5}}
        )
        record_pot(self.session, NOW, number, act)
        record_pot(self.session, NOW, number, act)
        self.assertEqual(self.on_hand(self.oil), 787.5)
        other = sticks.POTS.acts.act_of(
            {"id": act_id, "kind": "oil", "made_at": NOW, "source": f"lot-{self.oil}", "measure": {"amount": 1.0}}
        )
        with self.assertRaises(Conflict):
            record_pot(self.session, NOW, number, other)
        struck = uuid4()
        strike = {"id": struck, "kind": "strike", "made_at": NOW, "strikes": act_id}
        seen = record_pot(self.session, NOW, number, sticks.POTS.acts.act_of(strike))
        self.assertEqual((self.on_hand(self.oil), seen.total_g), (800.0, 0.0))
        back = {"id": uuid4(), "kind": "strike", "made_at": NOW, "strikes": struck}
        seen = record_pot(self.session, NOW, number, sticks.POTS.acts.act_of(back))
        self.assertEqual((self.on_hand(self.oil), seen.total_g), (787.5, 12.5))
        self.refuses("strikes", self.act, number, "strike", strikes=uuid4())

    def test_a_pot_is_filled_by_spoons_of_loose_powder_grated_wax_and_oil(self) -> None:
        kept = workshop.settings(self.session)
        workshop.change_settings(self.session, replace(kept, measuring=Measuring.SPOONS))
        number = self.begin()
        self.act(number, "ready")
        seen, told_once = sticks_view(self.session, NOW, number), []
        while seen.advice.act in ("base", "oil", "pigment"):
            told = seen.told[seen.advice.source]
            self.assertRegex(told.words, "spoon|drop|cup")
            before, wanted = seen.total_g, seen.advice.grams or 0.0
            parts = [{"unit": part.unit, "amount": part.amount} for part in told.parts] or None
            measure = {"unit": told.unit, "amount": told.amount, "parts": parts}
            seen = self.act(number, seen.advice.act, source=seen.advice.source, measure=measure)
            self.assertAlmostEqual(seen.total_g - before, told.grams, delta=0.01)
            self.assertAlmostEqual(told.grams, wanted, delta=max(0.8, 0.16 * wanted))
            told_once.append(seen.advice.source)
            self.assertLess(len(told_once), 20, "it comes to an end")
        self.refuses(
            "measure.unit",
            self.act,
            number,
            "pigment",
            source=f"lot-{self.black}",
            measure={"unit": "drop", "amount": 3.0},
        )

    def test_a_spoon_of_powder_is_loose_and_not_solid(self) -> None:
        number = self.begin()
        before = self.on_hand(self.black)
        spoon = {"unit": "teaspoon", "amount": 1.0}
        self.act(number, "pigment", source=f"lot-{self.black}", measure=spoon)
        loose = materials.lot(self.session, self.black).loose_density
        assert loose is not None
        self.assertAlmostEqual(before - self.on_hand(self.black), 5 * loose.value, delta=0.01)

    def test_mulled_paste_goes_in_whole(self) -> None:
        number = self.begin(way=PigmentWay.MULLED)
        parts = [{"source": f"lot-{self.black}", "grams": 20.0}, {"source": f"lot-{self.oil}", "grams": 15.0}]
        seen = self.act(number, "mulled", parts=parts)
        self.assertAlmostEqual(seen.total_g, 35.0)
        self.assertEqual((self.on_hand(self.black), self.on_hand(self.oil)), (480.0, 785.0))
        wrong = [{"source": "lot-99999", "grams": 20.0}]
        self.refuses("parts.0.source", self.act, number, "mulled", parts=wrong)
        waxes = [{"source": f"lot-{self.wax}", "grams": 8.0}, {"source": f"lot-{self.hard}", "grams": 2.0}]
        seen = self.act(number, "mulled", parts=waxes)
        self.assertEqual((self.on_hand(self.wax), self.on_hand(self.hard)), (892.0, 298.0))
        self.assertEqual(seen.timeline[0].text, "in: Beeswax 8.0 g, Carnauba wax 2.0 g")

    def test_what_cannot_be_is_refused_at_its_field(self) -> None:
        number = self.begin()
        for field, kind, what in (
            ("source", "base", {"source": f"lot-{self.oil}", "measure": {"amount": 5}}),
            ("source", "oil", {"source": "lot-99999", "measure": {"amount": 5}}),
            ("kind", "drop", {"by": "needle", "dent_dmm": 20.0}),
            ("kind", "pour", {}),
            ("kind", "out", {"count": 1}),
            ("kind", "finish", {}),
            ("seen.line", "dry_trial", {"seen": {"line": "wavy"}}),
            ("seen", "dry_trial", {"seen": {}}),
            ("kind", "photo", {}),
        ):
            with self.subTest(kind=kind, field=field):
                self.refuses(field, self.act, number, kind, **what)
        self.put_in(number, Role.OIL, "oil")
        self.refuses("dent_dmm", self.act, number, "drop", by="needle")
        self.refuses("feel", self.act, number, "drop", by="feel")
        self.act(number, "temperature", temperature_c=131.0)
        seen = sticks.view(self.session, NOW, number)
        self.assertIn("off the heat now", seen.advice.urgent)
        self.assertEqual(seen.strip.hottest_c, 131.0)

    def test_after_the_pour_nothing_goes_in_and_no_more_comes_out_than_went_in(self) -> None:
        number = self.filled()
        self.act(number, "pour")
        oil = {"source": f"lot-{self.oil}", "measure": {"amount": 5}}
        self.refuses("kind", self.act, number, "oil", **oil)
        self.refuses("grams", self.act, number, "out", count=2, grams=5_000.0)

    def test_half_a_correction_and_then_the_rest_bring_the_drop_to_what_is_wanted(self) -> None:
        number = self.filled(dent=30.0)
        seen, dent = sticks.view(self.session, NOW, number), 17.0
        assert seen.dent is not None
        before = seen.dent
        for rest in (True, False):
            seen = self.act(number, "drop", by="needle", dent_dmm=dent)
            assert seen.advice.grams is not None and seen.advice.mend is not None and seen.dent is not None
            self.assertIs(seen.advice.act, "oil")
            self.assertEqual(seen.advice.mend.rest_g > 0, rest)
            self.assertLess(seen.dent.high / seen.dent.low, before.high / before.low)
            was = seen.dent.value
            seen = self.act(number, "oil", source=seen.advice.source, measure={"amount": seen.advice.grams})
            assert seen.dent is not None
            dent *= seen.dent.value / was
            self.act(number, "stir")
        self.assertAlmostEqual(seen.dent.value, 30.0, delta=0.1)

    def test_the_band_of_a_pot_counts_its_pigment_as_the_plan_does(self) -> None:
        planned = sticks.compute(self.session, self.asked()).planned.colours[0].plan
        number = self.filled()
        dent = sticks.view(self.session, NOW, number).dent
        assert dent is not None
        self.assertAlmostEqual(dent.high / dent.low, planned.dent_high_dmm / planned.dent_low_dmm)
        bare = sticks.view(self.session, NOW, self.filled(blending=True)).dent
        assert bare is not None
        self.assertLess(bare.high / bare.low, dent.high / dent.low)

    def test_a_pot_on_heat_that_nobody_touches_is_told_everywhere(self) -> None:
        number = self.filled()
        self.assertNotIn(number, [pot.number for pot in sticks.left_alone(self.session, NOW)])
        later = NOW + timedelta(minutes=16)
        alone = {pot.number: pot for pot in home.home(self.session, later).left_alone}
        self.assertEqual(alone[number].minutes, 16)
        self.assertIn("never water", alone[number].says)
        self.act(number, "heat_off", after=16.0)
        self.assertNotIn(number, [pot.number for pot in sticks.left_alone(self.session, NOW + timedelta(hours=2))])

    def test_a_base_learns_from_each_dent_and_forgets_what_is_struck(self) -> None:
        number = self.filled()
        seen = sticks.view(self.session, NOW, number)
        assert seen.dent is not None
        read = self.act(number, "drop", by="needle", dent_dmm=round(seen.dent.value * math.exp(0.4), 2))
        shown = sticks.page(self.session, self.base).shown
        self.assertEqual(shown.readings, 1)
        self.assertAlmostEqual(shown.offset_ln, 0.4 * 0.35**2 / (0.35**2 + 0.12**2), 3)
        again = sticks.compute(self.session, self.asked()).planned
        self.assertAlmostEqual(again.base_offset_ln, shown.offset_ln)
        self.act(number, "strike", strikes=read.timeline[0].id)
        self.assertEqual(sticks.page(self.session, self.base).shown.readings, 0)

    def test_a_needle_of_ones_own_and_another_warmth(self) -> None:
        from dataclasses import replace

        kept = workshop.settings(self.session)
        workshop.change_settings(self.session, replace(kept, needle_on_beeswax_dmm=34.0))
        number = self.filled()
        seen = self.act(number, "drop", by="needle", dent_dmm=60.0)
        self.assertAlmostEqual(seen.dents[-1].dent_dmm, 30.0)
        seen = self.act(number, "drop", by="needle", dent_dmm=60.0, at_c=30.0)
        self.assertAlmostEqual(seen.dents[-1].dent_dmm, 30.0 * math.exp(-0.3))
        workshop.change_settings(self.session, kept)
        seen = self.act(number, "drop", by="feel", feel="soft")
        self.assertEqual((seen.dents[-1].dent_dmm, seen.dents[-1].by), (35.0, "feel"))

    def test_the_clock_warns_of_the_mould_and_the_trials_come_due(self) -> None:
        number = self.cast()
        due = {wait.key: wait for wait in sticks.waits(self.session, NOW)}[str(number)]
        self.assertEqual((due.what, due.at), ("first trial", NOW + timedelta(days=1)))
        self.act(number, "dry_trial", seen={"line": "even"})
        waiting = {wait.key: wait.what for wait in sticks.waits(self.session, NOW)}
        self.assertEqual(waiting[str(number)], "finger test")
        self.act(number, "dried", what="touch")
        self.act(number, "dried", what="through")
        self.assertNotIn(str(number), {wait.key for wait in sticks.waits(self.session, NOW)})
        open_ = self.filled()
        self.act(open_, "pour")
        mould = {wait.key: wait for wait in sticks.waits(self.session, NOW)}[str(open_)]
        self.assertEqual(mould.what, "out of the moulds")
        self.assertAlmostEqual((mould.at - NOW).total_seconds() / 60, 12.0)
        lines = {line.number: line for line in sticks.pots(self.session, NOW + timedelta(hours=1))}
        self.assertEqual(lines[open_].waits, "out of the moulds")
        self.assertEqual(lines[number].waits, "")

    def test_given_up_it_waits_for_nothing(self) -> None:
        number = self.filled()
        seen = self.act(number, "abandon", text="fell over")
        self.assertEqual(seen.status, "abandoned")
        self.refuses("kind", self.act, number, "stir")
        self.assertNotIn(str(number), {wait.key for wait in sticks.waits(self.session, NOW)})


class Shelf(SticksTest):
    def test_each_stick_is_on_the_shelf_with_all_that_is_in_it(self) -> None:
        number = self.cast()
        seen = sticks.view(self.session, NOW, number)
        self.assertEqual([item.code for item in seen.items], [f"S{number}-1", f"S{number}-2"])
        self.assertEqual(
            [(item.weight_g, item.place, item.kind) for item in seen.items], [(20.0, "box 3", "stick")] * 2
        )
        (held,) = shelf.held(self.session, [seen.items[0].id])
        self.assertAlmostEqual(sum(content.grams for content in held.contents), 20.0)
        roles = {content.role for content in held.contents}
        self.assertEqual(roles, {Role.WAX, Role.OIL, Role.PIGMENT})
        behind = lineage.behind(self.session, seen.items[0].id)
        self.assertEqual((behind.pots, behind.batches), (1, 0))
        lots = {place.id for place in behind.places if place.what == "lot"}
        self.assertEqual(lots, {self.wax, self.hard, self.black, self.oil})
        went = lineage.went_into(self.session, self.black)
        self.assertEqual((went.items, went.here), (2, 2))
        self.refuses("kind", self.act, number, "finish")
        self.assertAlmostEqual(float(seen.cost or 0), 2 * float(seen.cost_a_stick or 0), delta=0.02)
        grams = {material.name: material.in_g for material in seen.materials}
        prices = {"Beeswax": 20, "Carnauba wax": 24, "Bone black": 15}
        known = sum(grams[name] / 1000 * price for name, price in prices.items())
        oil = grams["Linseed oil, refined"] / 1000 * 18
        self.assertAlmostEqual(float(seen.cost or 0), known + oil, delta=0.006)
        self.assertEqual(seen.cost_missing, ())
        finish = next(line for line in seen.timeline if line.kind == "finish")
        self.refuses("strikes", self.act, number, "strike", strikes=finish.id)

    def test_a_stick_nobody_weighed_weighs_what_the_plan_says_of_each(self) -> None:
        planned = sticks.compute(self.session, self.asked()).planned.colours[0].plan
        number = self.filled()
        self.act(number, "pour", temperature_c=70.0)
        self.act(number, "out", count=2)
        self.act(number, "finish")
        for item in sticks.view(self.session, NOW, number).items:
            self.assertAlmostEqual(item.weight_g or 0.0, planned.stick_g, delta=0.02 * planned.stick_g)
            (label,) = labels.texts(self.session, [item.id])
            self.assertEqual(label.volume, f"{item.weight_g:.1f} g")

    def test_without_a_scale_the_set_is_told_in_spoons(self) -> None:
        kept = workshop.settings(self.session)
        workshop.change_settings(self.session, replace(kept, measuring=Measuring.SPOONS))
        seen = sticks.compute(self.session, self.asked()).planned
        (colour,) = seen.colours
        for told, figure in (
            (colour.pigment_told, colour.pigment),
            (colour.oil_told, colour.oil),
            (colour.base_told, colour.base),
        ):
            assert told is not None and figure is not None
            self.assertRegex(told.words, "spoon|cup|drop")
            self.assertAlmostEqual(told.grams, figure.value, delta=0.13 * figure.value)
        self.assertTrue(all(supply.told for supply in seen.supplies))

    def test_a_label_says_what_a_stick_is(self) -> None:
        number = self.cast()
        item = sticks.view(self.session, NOW, number).items[0]
        (label,) = labels.texts(self.session, [item.id])
        self.assertEqual((label.batch, label.volume), (f"{item.code}, pot {number}", "20.0 g"))
        self.assertEqual(label.address, f"/sticks/{number}")
        self.assertIn("Paint stick, base of beeswax, carnauba wax.", label.besides)
        self.assertNotIn("only", label.besides)

    def test_an_inspection_of_a_stick(self) -> None:
        number = self.cast()
        item = sticks.view(self.session, NOW, number).items[0]
        for what, outcome in (
            ({}, Outcome.GOOD),
            ({"bloom": True}, Outcome.WIPE),
            ({"sweats": True}, Outcome.WIPE),
            ({"skin": Skin.SKIN}, Outcome.PEEL),
            ({"cracked": True, "skin": Skin.SKIN}, Outcome.MELT_AGAIN),
            ({"skin": Skin.THROUGH, "cracked": True}, Outcome.DISCARD),
            ({"label_readable": False}, Outcome.MATCH_FIRST),
        ):
            asked = StickInspectAsked(id=uuid4(), made_on=NOW.date(), **what)  # type: ignore[arg-type]
            page = shelf.inspect(self.session, NOW, item.id, asked)
            assert page.inspected is not None
            self.assertIs(page.inspected.outcome, outcome)
            self.assertEqual(page.line.last_outcome, outcome)
        tube = shelf.InspectAsked(id=uuid4(), made_on=NOW.date(), layer_mm=0, fill_height_mm=80)
        self.refuses("id", shelf.inspect, self.session, NOW, item.id, tube)

    def test_an_old_stick_is_melted_into_another_pot_and_given_back(self) -> None:
        item = sticks.view(self.session, NOW, self.cast()).items[0]
        number = self.begin()
        seen = self.act(number, "paste", item_id=item.id, volume_ml=item.volume_ml)
        self.assertAlmostEqual(seen.total_g, 20.0, 1)
        left = shelf.lines_of(self.session, [item.id])[0]
        self.assertEqual(left.status, "used_up")
        self.act(number, "strike", strikes=seen.timeline[0].id)
        back = shelf.lines_of(self.session, [item.id])[0]
        self.assertEqual((back.status, round(back.volume_ml, 1)), ("kept", round(item.volume_ml, 1)))
        self.refuses("volume_ml", self.act, number, "paste", item_id=item.id, volume_ml=500.0)


class Recipes(SticksTest):
    def test_a_recipe_of_a_pot_and_its_chart(self) -> None:
        number = self.cast()
        recipe_id = sticks.keep_recipe(self.session, NOW, number, StickRecipeAsked(name="Firm black"))
        page = sticks.recipe(self.session, recipe_id)
        self.assertEqual((page.line.pots, page.line.oil_key, page.line.target_dmm), (1, "linseed-refined", 30.0))
        self.assertEqual([part.pigment_key for part in page.colour.pigments], ["bone-black"])
        self.assertIs(page.colour.school, Loading.VOLUME)
        self.assertIsNone(page.control)
        self.refuses("name", sticks.keep_recipe, self.session, NOW, number, StickRecipeAsked(name="Firm black"))
        for dent in (31.0, 29.0):
            asked = self.asked()
            colour = asked.colours[0].model_copy(update={"recipe_id": recipe_id})
            (again,) = sticks.take_to_pots(
                self.session, NOW, uuid4(), asked.model_copy(update={"colours": [colour], "way": PigmentWay.DRY})
            )
            self.put_in(again, Role.WAX, "base")
            self.put_in(again, Role.OIL, "oil")
            self.put_in(again, Role.PIGMENT, "pigment")
            self.act(again, "drop", by="needle", dent_dmm=dent)
            self.act(again, "pour")
            self.act(again, "out", count=2)
            self.act(again, "finish")
        page = sticks.recipe(self.session, recipe_id)
        self.assertEqual([point.dent_dmm for point in page.points], [30.0, 31.0, 29.0])
        assert page.control is not None
        self.assertAlmostEqual(page.control.mean, (math.log(30) + math.log(31) + math.log(29)) / 3)
        self.assertEqual(page.says, "Nothing is out of the ordinary.")

    def test_ids(self) -> None:
        with self.assertRaises(Missing):
            sticks.recipe(self.session, 4711)
        with self.assertRaises(Missing):
            sticks.view(self.session, NOW, 4711)
