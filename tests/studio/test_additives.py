"""Additives in the studio: gels as lots, doses in plan and slab, ladders from design to recipe, use-by."""

from datetime import timedelta
from uuid import UUID, uuid4

from sqlalchemy import select
from sqlalchemy.orm import Session

from niddy.core.contents import Role
from niddy.core.errors import Refused
from niddy.core.ladder import Measured
from niddy.core.slab import Kind, Stage
from niddy.core.wetting import Body
from niddy.db.rubout import DemandRecord
from niddy.studio import additives, batches, cost, day, due, home, materials, recipes, slab
from niddy.studio import plan as plans
from niddy.studio.additives import GelAsked, LadderAsked, LadderPart, RungKind, TargetAsked
from niddy.studio.batches.contents import contents_of
from niddy.studio.cost import CostAsked
from niddy.studio.errors import Conflict, Missing
from niddy.studio.plan import AdditiveAsked, LineAsked, OilAsked, OilPartAsked, PlanAsked
from niddy.studio.slab import AmountAsked, act_of
from tests.studio.recording import record_rung
from tests.support import NOW, DatabaseTest

GEL = GelAsked(
    additive_key="aluminium-stearate", oil_key="linseed-refined", additive_g=10.0, oil_g=90.0, yield_g=95.0, code="G-9"
)


def asked(**what: object) -> PlanAsked:
    return PlanAsked.model_validate(
        {
            "lines": [LineAsked(pigment_key="bone-black", parts=1.0)],
            "oil": OilAsked(oil_key="linseed-refined"),
            "reduced_pvc": 0.86,
            "pigment_g": 100.0,
            **what,
        }
    )


class Rooms(DatabaseTest):
    def setUp(self) -> None:
        self.session = self.enterContext(self.database.session())
        self.addCleanup(self.session.rollback)

    def receive(self, kind: str, key: str, code: str, grams: float = 500.0) -> int:
        return materials.receive(self.session, NOW, materials.NewLot(kind, key, code, NOW.date(), grams))

    def refused(self, field: str, does: object, *what: object, **named: object) -> Refused:
        with self.assertRaises(Refused) as caught:
            does(*what, **named)  # type: ignore[operator]
        self.assertEqual(caught.exception.field, field)
        return caught.exception


class Gels(Rooms):
    def test_its_strength_is_what_was_weighed_in_and_its_lots_are_drawn_on(self) -> None:
        tin, bottle = (
            self.receive("additive", "aluminium-stearate", "A-1"),
            self.receive("oil", "linseed-refined", "L-1"),
        )
        kept = additives.make_gel(
            self.session, NOW, GEL.model_copy(update={"additive_lot_id": tin, "oil_lot_id": bottle})
        )
        self.assertEqual((kept.kind, kept.strength, kept.on_hand), ("gel", 0.1, 95.0))
        self.assertEqual(kept.name, "Aluminium stearate gel, 10 %")
        self.assertEqual(kept.use_by, NOW.date() + timedelta(days=180))
        self.assertEqual([materials.lot(self.session, n).on_hand for n in (tin, bottle)], [490.0, 410.0])

    def test_what_cannot_be_is_refused_and_nothing_is_drawn(self) -> None:
        tin = self.receive("additive", "beeswax", "A-2")
        for change, field in (
            ({"yield_g": 120.0}, "yield_g"),
            ({"additive_g": 95.0}, "additive_g"),
            ({"additive_key": "egg-yolk"}, "additive_key"),
            ({"code": " "}, "code"),
            ({"additive_lot_id": tin}, "additive_lot_id"),
        ):
            self.refused(field, additives.make_gel, self.session, NOW, GEL.model_copy(update=change))
        self.assertEqual(materials.lot(self.session, tin).on_hand, 500.0)
        additives.make_gel(self.session, NOW, GEL)
        self.refused("code", additives.make_gel, self.session, NOW, GEL)
        self.refused(
            "kind", materials.receive, self.session, NOW, materials.NewLot("gel", "beeswax", "X", NOW.date(), 10.0)
        )


class InAPlan(Rooms):
    def test_a_gel_comes_off_the_pours_and_is_on_the_list_of_supplies(self) -> None:
        gel = additives.make_gel(self.session, NOW, GEL.model_copy(update={"yield_g": 5.0}))
        told = plans.compute(self.session, asked(additives=[AdditiveAsked(lot_id=gel.id, dose_pct=1.5)]))
        line, oil = told.plan.additives[0], told.plan.oil_to_pour
        assert oil is not None
        self.assertAlmostEqual(oil.value + line.oil_in_gel_g, told.plan.oil_mass.value)
        short = [supply for supply in told.supplies if not supply.suffices]
        self.assertEqual([supply.source for supply in short], [f"lot-{gel.id}"])

    def test_the_bottle_holds_the_highest_rung_less_what_the_gel_brings(self) -> None:
        gel = additives.make_gel(self.session, NOW, GEL)
        told = plans.compute(self.session, asked(additives=[AdditiveAsked(lot_id=gel.id, dose_pct=1.5)]))
        bottle = next(supply for supply in told.supplies if supply.source == "library-linseed-refined")
        self.assertGreater(told.plan.additives[0].oil_in_gel_g, 5)
        self.assertAlmostEqual(bottle.needed_g, told.plan.rungs[-1].cumulative_g - told.plan.additives[0].oil_in_gel_g)

    def test_the_oil_of_a_gel_is_paid_with_the_gel(self) -> None:
        gel = additives.make_gel(self.session, NOW, GEL)
        wish = asked(additives=[AdditiveAsked(lot_id=gel.id, dose_pct=1.5)])
        told = plans.compute(self.session, wish).plan
        lines = {line.name: float(line.amount) for line in cost.cost(self.session, CostAsked(plan=wish)).cost.lines}
        self.assertAlmostEqual(
            lines["Linseed oil, refined"] * 1000, told.oil_mass.value - told.additives[0].oil_in_gel_g, 1
        )

    def test_a_gel_of_another_strength_has_a_price_of_its_own(self) -> None:
        thin = additives.make_gel(self.session, NOW, GEL)
        thick = additives.make_gel(
            self.session, NOW, GEL.model_copy(update={"code": "G-10", "additive_g": 20.0, "oil_g": 80.0})
        )
        prices = materials.lot_prices(self.session, f"lot-{thin.id}")
        self.assertEqual([one.lot_id for one in prices], [thin.id])
        self.assertNotEqual(thin.strength, thick.strength)

    def test_an_extender_lot_joins_the_dry_blend(self) -> None:
        chalk = self.receive("additive", "chalk-extender", "CH-1")
        told = plans.compute(self.session, asked(additives=[AdditiveAsked(lot_id=chalk, dose_pct=20.0)])).plan
        self.assertEqual(
            [(w.pigment.key, round(w.mass.value, 6)) for w in told.lines], [("bone-black", 100), ("chalk", 20)]
        )
        self.assertEqual(told.lines[1].pigment.source, f"lot-{chalk}")

    def test_oils_stirred_together_draw_on_each_bottle(self) -> None:
        one, other = self.receive("oil", "linseed-refined", "L-1"), self.receive("oil", "linseed-stand", "S-1")
        blend = OilAsked(blend=[OilPartAsked(lot_id=one, parts=3.0), OilPartAsked(lot_id=other, parts=1.0)])
        number = slab.take_to_slab(self.session, NOW, uuid4(), asked(oil=blend))
        act(self.session, number, Kind.READY)
        act(self.session, number, Kind.POWDER, source="library-bone-black", grams=100.0)
        poured = act(self.session, number, Kind.OIL, source="blend", grams=40.0)
        left = [materials.lot(self.session, n).on_hand for n in (one, other)]
        self.assertEqual(left, [470.0, 490.0])
        oils = [(c.name, c.grams) for c in contents_of(batches.batch(self.session, number)) if c.role is Role.OIL]
        self.assertEqual([round(grams, 6) for _, grams in oils], [30.0, 10.0])
        self.assertNotEqual(oils[0][0], oils[1][0])
        act(self.session, number, Kind.STRIKE, strikes=poured)
        self.assertEqual([materials.lot(self.session, n).on_hand for n in (one, other)], [500.0, 500.0])

    def test_named_where_it_stands(self) -> None:
        self.refused(
            "additives.0.dose_pct",
            plans.compute,
            self.session,
            asked(additives=[AdditiveAsked(additive_key="aluminium-stearate", dose_pct=5.0)]),
        )
        self.refused("additives.0", plans.compute, self.session, asked(additives=[AdditiveAsked(dose_pct=1.0)]))
        with self.assertRaises(Missing):
            plans.compute(self.session, asked(additives=[AdditiveAsked(additive_key="honey", dose_pct=1.0)]))


def act(session: Session, number: int, kind: Kind, grams: float | None = None, **what: object) -> UUID:
    said = act_of(
        {
            "id": uuid4(),
            "kind": kind,
            "made_at": NOW,
            **what,
            **({"measure": AmountAsked(amount=grams)} if grams is not None else {}),
        }
    )
    slab.record(session, NOW, number, said)
    return said.id


class AtTheSlab(Rooms):
    def paste(self, **what: object) -> int:
        number = slab.take_to_slab(self.session, NOW, uuid4(), asked(**what))
        act(self.session, number, Kind.READY)
        act(self.session, number, Kind.POWDER, source="library-bone-black", grams=100.0)
        return number

    def test_a_gel_in_is_drawn_from_its_pot_and_its_oil_is_oil(self) -> None:
        gel = additives.make_gel(self.session, NOW, GEL)
        number = self.paste(additives=[AdditiveAsked(lot_id=gel.id, dose_pct=1.5)])
        seen = slab.view(self.session, NOW, number)
        self.assertEqual((seen.advice.act, seen.advice.source), ("additive", f"lot-{gel.id}"))
        told = round(seen.advice.grams or 0.0, 2)
        act(self.session, number, Kind.ADDITIVE, source=f"lot-{gel.id}", grams=told)
        seen = slab.view(self.session, NOW, number)
        self.assertAlmostEqual(seen.oil.in_g, 0.9 * told)
        self.assertEqual(seen.advice.act, "pour")
        self.assertFalse(seen.pigment_and_oil_only)
        self.assertAlmostEqual(materials.lot(self.session, gel.id).on_hand, 95.0 - told)

    def test_one_the_plan_did_not_have_keeps_to_its_ceiling(self) -> None:
        number = self.paste()
        act(self.session, number, Kind.OIL, source="library-linseed-refined", grams=50.0)
        self.assertTrue(slab.view(self.session, NOW, number).pigment_and_oil_only)
        act(self.session, number, Kind.ADDITIVE, source="library-clove-oil", grams=1.0)
        seen = slab.view(self.session, NOW, number)
        self.assertEqual([(a.name, a.planned_g, a.in_g) for a in seen.additives], [("Clove oil", 0.0, 1.0)])
        self.refused("measure.amount", act, self.session, number, Kind.ADDITIVE, source="library-clove-oil", grams=2.0)
        self.refused("source", act, self.session, number, Kind.ADDITIVE, source="library-chalk-extender", grams=2.0)
        self.refused("source", act, self.session, number, Kind.ADDITIVE, source="a jar", grams=2.0)

    def finished(self, lot: int, **what: object) -> int:
        number = slab.take_to_slab(self.session, NOW, uuid4(), asked(lines=[LineAsked(lot_id=lot, parts=1.0)], **what))
        act(self.session, number, Kind.READY)
        act(self.session, number, Kind.POWDER, source=f"lot-{lot}", grams=100.0)
        act(self.session, number, Kind.OIL, source="library-linseed-refined", grams=62.0)
        if "additives" in what:
            act(self.session, number, Kind.ADDITIVE, source="library-beeswax", grams=0.6)
        act(self.session, number, Kind.LOOK, stage=Stage.EVEN_PASTE, body=Body.TUBE)
        act(self.session, number, Kind.FINISH, verdict="right", leftover_ml=5.0)
        return number

    def test_what_an_additive_did_to_the_body_teaches_nothing_of_the_powder(self) -> None:
        lot = self.receive("pigment", "bone-black", "BB-T")
        taught = select(DemandRecord.ref).where(DemandRecord.kind == "verdict", DemandRecord.lot_id == lot)
        waxed = self.finished(lot, additives=[AdditiveAsked(additive_key="beeswax", dose_pct=1.0)])
        plain = self.finished(lot)
        self.assertEqual(self.session.scalars(taught).all(), [plain])
        self.assertNotEqual(waxed, plain)

    def test_more_paint_than_was_made_is_no_leftover(self) -> None:
        number = self.paste()
        act(self.session, number, Kind.OIL, source="library-linseed-refined", grams=60.0)
        act(self.session, number, Kind.LOOK, stage=Stage.EVEN_PASTE, body=Body.TUBE)
        made = batches.line(self.session, number).made_ml
        self.refused("leftover_ml", act, self.session, number, Kind.FINISH, verdict="right", leftover_ml=1.2 * made)
        # A spoon and an eye may well claim a tenth more than the weights say.
        act(self.session, number, Kind.FINISH, verdict="right", leftover_ml=1.1 * made)

    def test_an_act_is_not_of_a_time_to_come(self) -> None:
        number = self.paste()
        said = {"id": uuid4(), "kind": Kind.NOTE, "text": "x"}
        ahead = act_of({**said, "made_at": NOW + timedelta(minutes=6)})
        self.refused("made_at", slab.record, self.session, NOW, number, ahead)
        slab.record(self.session, NOW, number, act_of({**said, "made_at": NOW + timedelta(minutes=4)}))

    def test_a_recipe_of_pigment_and_oil_only_takes_none(self) -> None:
        recipe = recipes.RecipeAsked(
            pigments=[recipes.PartAsked(pigment_key="bone-black")], oil_keys=["linseed-refined"], reduced_pvc=0.86
        )
        recipe_id = recipes.make(self.session, NOW, "Plain black", recipe)
        number = self.paste(recipe_id=recipe_id)
        self.refused("source", act, self.session, number, Kind.ADDITIVE, source="library-clove-oil", grams=0.5)
        wish = asked(recipe_id=recipe_id, additives=[AdditiveAsked(additive_key="clove-oil", dose_pct=1.0)])
        self.refused("additives", recipes.planned, self.session, wish)
        self.refused("additives", slab.take_to_slab, self.session, NOW, uuid4(), wish)
        with_dose = recipe.model_copy(update={"additives": [recipes.RecipeDose(additive_key="beeswax", dose_pct=1.0)]})
        self.refused("additives", recipes.change, self.session, NOW, recipe_id, with_dose, "wax")

    def test_yolk_sets_a_use_by_that_home_tells_until_it_is_thrown_away(self) -> None:
        number = self.paste(additives=[AdditiveAsked(additive_key="egg-yolk", dose_pct=2.0)])
        act(self.session, number, Kind.OIL, source="library-linseed-refined", grams=55.0)
        act(self.session, number, Kind.LOOK, stage=Stage.EVEN_PASTE, body=Body.TUBE)
        yolk = act(self.session, number, Kind.ADDITIVE, source="library-egg-yolk", grams=3.0)
        self.assertEqual(batches.keeping(self.session, number).use_by, NOW.date() + timedelta(days=5))
        act(self.session, number, Kind.STRIKE, strikes=yolk)
        self.assertIsNone(batches.keeping(self.session, number).use_by)
        act(self.session, number, Kind.ADDITIVE, source="library-egg-yolk", grams=3.0)
        act(self.session, number, Kind.FINISH, verdict="right", leftover_ml=5.0)
        self.assertEqual(batches.past_use_by(self.session, (NOW + timedelta(days=5)).date()), ())
        later = NOW + timedelta(days=6)
        first = home.home(self.session, later).attention[0]
        self.assertEqual((first.page, first.harm), (f"/batches/{number}", True))
        self.assertIn("past its use-by", first.says)
        self.refused("why", batches.discard, self.session, later, number, " ")
        batches.discard(self.session, later, number, "spoiled")
        self.assertNotIn(f"/batches/{number}", [one.page for one in home.home(self.session, later).attention])
        self.refused("number", batches.discard, self.session, later, number, "again")

    def test_a_recipe_made_from_it_keeps_its_doses(self) -> None:
        number = self.paste(
            additives=[
                AdditiveAsked(additive_key="beeswax", dose_pct=1.0),
                AdditiveAsked(additive_key="chalk-extender", dose_pct=10.0),
            ]
        )
        act(self.session, number, Kind.ADDITIVE, source="library-beeswax", grams=0.5)
        suggested = recipes.from_batch(self.session, number).recipe
        self.assertEqual(
            {one.additive_key: one.dose_pct for one in suggested.additives}, {"beeswax": 1.0, "chalk-extender": 10.0}
        )
        self.assertEqual([(p.pigment_key, p.parts) for p in suggested.pigments], [("bone-black", 100.0)])


LADDER = LadderAsked(
    name="Black, stearate",
    additives=[LadderPart(additive_key="aluminium-stearate", top_dose_pct=3.0)],
    oil_g_per_100g=60.0,
    paste_per_rung_g=10.0,
    rungs=4,
    targets=[TargetAsked(what=Measured.BLEED, at_most=2.5)],
)


class Ladders(Rooms):
    def begin(self, **change: object) -> int:
        return additives.begin(self.session, NOW, uuid4(), LADDER.model_copy(update=change))

    def rung(self, ladder: int, n: int, kind: RungKind, days: float = 0, **what: object) -> additives.LadderPage:
        told = {"id": uuid4(), "rung": n, "kind": kind, "made_at": NOW + timedelta(days=days), **what}
        return record_rung(self.session, NOW + timedelta(days=days), ladder, additives.LADDERS.acts.act_of(told))

    def run_it(self, ladder: int) -> None:
        for n in range(4):
            self.rung(ladder, n, RungKind.WEIGHED)
            self.rung(ladder, n, RungKind.MIXED)
            self.rung(ladder, n, RungKind.SPREAD, diameters_mm=[46.0 - n, 46.0 - n])
            self.rung(ladder, n, RungKind.STRING, length_mm=20.0 - 3 * n)
        for n in range(4):
            self.rung(ladder, n, RungKind.BLEED, 1.1, length_mm=4.0 - n)

    def test_what_comes_next_and_the_dose_it_finds(self) -> None:
        ladder = self.begin()
        seen = additives.page(self.session, NOW, ladder)
        self.assertEqual((seen.next_rung, seen.next_kind), (0, RungKind.WEIGHED))
        self.assertEqual(additives.known(self.session), {})
        self.run_it(ladder)
        seen = additives.page(self.session, NOW + timedelta(days=2), ladder)
        assert seen.fit is not None and seen.fit.answer is not None
        self.assertAlmostEqual(seen.fit.answer.dose_pct or 0, 1.5)
        self.assertEqual(len(seen.fit.lines), 3)
        known = additives.known(self.session)["aluminium-stearate"]
        self.assertAlmostEqual(known.least_dose_pct or 0, 1.5)
        told = plans.compute(
            self.session, asked(additives=[AdditiveAsked(additive_key="aluminium-stearate", dose_pct=1.0)])
        ).plan
        assert told.stiffening is not None
        self.assertIn("Black, stearate", told.stiffening.working.source)
        self.assertEqual(told.stiffening.basis, "learned")

    def test_halos_wait_a_day_and_home_says_when(self) -> None:
        ladder = self.begin()
        self.refused("kind", self.rung, ladder, 0, RungKind.MIXED)
        self.rung(ladder, 0, RungKind.WEIGHED)
        self.refused("kind", self.rung, ladder, 0, RungKind.BLEED, length_mm=1.0)
        self.rung(ladder, 0, RungKind.MIXED)
        self.refused("kind", self.rung, ladder, 0, RungKind.BLEED, 0.2, length_mm=1.0)
        page = f"/additives/ladders/{ladder}"
        for days, waits in ((0.0, False), (1.1, True)):
            seen = day.view(self.session, NOW + timedelta(days=days), None, 0)
            self.assertEqual(page in [line.page for line in (*seen.lines, *seen.left_over)], waits)
        mine = [wait for wait in due.everything(self.session, NOW) if wait.room == "additives"]
        self.assertEqual([(wait.at - NOW).days for wait in mine], [1])
        self.rung(ladder, 0, RungKind.BLEED, 1.1, length_mm=0.0)

    def test_odd_readings_are_named(self) -> None:
        ladder = self.begin()
        self.refused("diameters_mm", self.rung, ladder, 0, RungKind.SPREAD, diameters_mm=[44.0])
        self.refused("diameters_mm.1", self.rung, ladder, 0, RungKind.SPREAD, diameters_mm=[44.0, 3.0])
        self.refused("rung", self.rung, ladder, 4, RungKind.WEIGHED)
        for change, field in (
            ({"paste_per_rung_g": 2.0}, "paste_per_rung_g"),
            ({"doses": [0.0, 1.0, 1.0]}, "doses.2"),
            ({"rungs": 2}, "rungs"),
            ({"name": " "}, "name"),
            ({"additives": [LadderPart(additive_key="chalk-extender", top_dose_pct=3.0)]}, "additives.0.additive_key"),
            ({"targets": [TargetAsked(what=Measured.BLEED)]}, "targets.0"),
            (
                {"trial": False, "additives": [LadderPart(additive_key="aluminium-stearate", top_dose_pct=9.0)]},
                "additives.0.top_dose_pct",
            ),
        ):
            self.refused(field, self.begin, **change)

    def test_sent_twice_it_counts_once_and_a_mistake_is_taken_back(self) -> None:
        request = uuid4()
        first = additives.begin(self.session, NOW, request, LADDER)
        self.assertEqual(additives.begin(self.session, NOW, request, LADDER), first)
        with self.assertRaises(Conflict):
            additives.begin(self.session, NOW, request, LADDER.model_copy(update={"rungs": 5}))
        one = additives.LADDERS.acts.act_of(
            {"id": uuid4(), "rung": 0, "kind": RungKind.STRING, "made_at": NOW, "length_mm": 12.0}
        )
        for _ in range(2):
            record_rung(self.session, NOW, first, one)
        with self.assertRaises(Conflict):
            record_rung(self.session, NOW, first, one.model_copy(update={"length_mm": 13.0}))
        self.rung(first, 0, RungKind.STRING, length_mm=14.0)
        self.assertEqual(additives.page(self.session, NOW, first).rungs[0].string_mm, 14.0)
        self.rung(first, 0, "strike", of=RungKind.STRING)
        self.assertIsNone(additives.page(self.session, NOW, first).rungs[0].string_mm)

    def test_its_answer_goes_into_a_recipe_as_a_new_version(self) -> None:
        recipe_id = recipes.make(
            self.session,
            NOW,
            "Black for keeping",
            recipes.RecipeAsked(
                pigments=[recipes.PartAsked(pigment_key="bone-black")], oil_keys=["linseed-refined"], reduced_pvc=0.86
            ),
        )
        ladder = self.begin()
        self.refused("ladder_id", recipes.take_ladder, self.session, NOW, recipe_id, ladder)
        self.run_it(ladder)
        self.assertEqual(recipes.take_ladder(self.session, NOW, recipe_id, ladder), 2)
        version = recipes.version_of(self.session, recipe_id, None)
        self.assertEqual(
            [(one.additive_key, one.dose_pct, one.ladder_id) for one in version.asked.additives],
            [("aluminium-stearate", 1.5, ladder)],
        )
        self.assertIn("Black, stearate", version.why)
        self.assertIs(version.asked.stance, recipes.Stance.ADDITIVES)
        again = recipes.again(self.session, recipe_id, recipes.AgainAsked(pigment_g=100.0))
        self.assertEqual([one.dose_pct for one in again.plan.additives], [1.5])
        additives.retarget(self.session, NOW, ladder, [TargetAsked(what=Measured.BLEED, at_most=0.1)])
        refusal = self.refused("ladder_id", recipes.take_ladder, self.session, NOW, recipe_id, ladder)
        self.assertIn("None does", refusal.problem)

    def test_put_away_it_teaches_no_more(self) -> None:
        ladder = self.begin()
        self.run_it(ladder)
        additives.retire(self.session, NOW, ladder)
        self.assertEqual(additives.known(self.session), {})
        self.assertEqual(additives.lines(self.session, NOW), ())


class ByIntent(Rooms):
    def test_three_schools_for_a_lot_of_the_shelf(self) -> None:
        lot = self.receive("pigment", "viridian", "VI-9")
        wish = additives.IntentAsked(
            stand="butter", brush="keeps", thread="short", keep="years", pigment_lot_id=lot, oil_key="poppy-refined"
        )
        self.assertEqual(
            [one.school for one in additives.routes(self.session, wish)], ["none", "traditional", "modern"]
        )
        self.refused("oil_key", additives.routes, self.session, wish.model_copy(update={"oil_key": None}))
