"""Lots of the shelf, plans kept, the workshop: against a real PostgreSQL."""

from datetime import date
from decimal import Decimal
from uuid import uuid4

from niddy.core.errors import Refused
from niddy.core.estimate import Basis
from niddy.core.plan import Tooth
from niddy.studio import materials, plan, workshop
from niddy.studio.errors import Missing
from niddy.studio.materials import Asked, NewLot
from niddy.studio.plan import PlanAsked
from tests.support import NOW, DatabaseTest


def asked(**change: object) -> PlanAsked:
    known: dict[str, object] = {
        "lines": [{"pigment_key": "bone-black", "parts": 1.0}],
        "oil": {"oil_key": "linseed-refined"},
        "reduced_pvc": 0.86,
        "pigment_g": 100.0,
    }
    return PlanAsked.model_validate(known | change)


class Lots(DatabaseTest):
    def receive(self, **change: object) -> int:
        known: dict[str, object] = {
            "kind": "pigment",
            "material_key": "viridian",
            "code": uuid4().hex[:10],
            "received_on": NOW.date(),
            "received": 200.0,
        }
        with self.database.session() as session:
            return materials.receive(session, NOW, NewLot(**(known | change)))  # type: ignore[arg-type]

    def test_received_weighed_in_and_used_up(self) -> None:
        lot_id = self.receive(price_per_unit=Decimal("96.40"))
        with self.database.session() as session:
            materials.weigh_in(session, NOW, lot_id, 187.5, "after the move")
        with self.database.session() as session:
            kept = materials.lot(session, lot_id)
            moves = materials.movements(session, lot_id)
        self.assertEqual((kept.on_hand, kept.received, kept.price_per_unit), (187.5, 200.0, Decimal("96.40")))
        self.assertEqual([(m.reason, m.change) for m in moves], [("weighed_in", -12.5), ("received", 200.0)])
        with self.database.session() as session:
            materials.weigh_in(session, NOW, lot_id, 0)
            self.assertNotIn(lot_id, [lot.id for lot in materials.lots(session)])
            self.assertIn(lot_id, [lot.id for lot in materials.lots(session, with_used_up=True)])

    def test_a_lot_without_a_code_is_given_the_next_that_is_free(self) -> None:
        with self.database.session() as session:
            codes = []
            for _ in range(3):
                lot_id = materials.receive(session, NOW, NewLot("pigment", "caput-mortuum", " ", NOW.date(), 100.0))
                codes.append(materials.lot(session, lot_id).code)
            first = int(codes[0].removeprefix("CM-"))
            self.assertEqual(codes, [f"CM-{first + n}" for n in range(3)])
            session.rollback()

    def test_found_by_the_name_one_types(self) -> None:
        lot_id = self.receive(material_key="ultramarine-blue", code="named-1")
        with self.database.session() as session:
            found = materials.named(session, "pigment", "lapis").found
            self.assertEqual([one.also for one in found], ["lapis"] * len(found))
            self.assertEqual((found[0].lot_code, found[-1].source), ("named-1", "library-ultramarine-blue"))
            only = materials.named(session, "pigment", "lapis", lots_only=True).found
            self.assertEqual([one.source for one in only], [f"lot-{lot_id}"])
            self.assertEqual(materials.named(session, "pigment", "named-1").found[0].source, f"lot-{lot_id}")
            nothing = materials.named(session, "pigment", "azurite")
            self.assertEqual(nothing.found, ())
            self.assertNotIn("Ultramarine blue", [one.name for one in nothing.nearest])
            oils = [one.name for one in materials.named(session, "oil", "wallnut").found]
            self.assertTrue(oils and all("Walnut" in name for name in oils))

    def test_values_of_its_own_come_before_the_librarys(self) -> None:
        plain, own = self.receive(), self.receive(density_g_per_ml=3.41, loose_density_g_per_ml=0.5)
        with self.database.session() as session:
            first, second = (materials.lot(session, lot_id) for lot_id in (plain, own))
            (dry,) = materials.gather(session, [Asked(own, None)], Asked(None, "walnut-refined")).pigments
        assert first.density and second.density
        self.assertEqual((first.density.value, first.density.basis), (3.30, Basis.LIBRARY))
        self.assertEqual((second.density.value, second.density.basis), (3.41, Basis.ENTERED))
        self.assertEqual(
            (dry.density_g_per_ml, dry.loose_density_g_per_ml, dry.loose_density_measured), (3.41, 0.5, True)
        )

    def test_bad_receipts_name_their_field(self) -> None:
        code = uuid4().hex[:10]
        self.receive(code=code)
        cases: dict[str, dict[str, object]] = {
            "kind": {"kind": "brush"},
            "material_key": {"material_key": "unobtainium"},
            "code": {"code": code},
            "received": {"received": 1_000_000.0},
            "received_on": {"received_on": date(9999, 1, 1)},
            "density_g_per_ml": {"density_g_per_ml": 0.0},
            "loose_density_g_per_ml": {"loose_density_g_per_ml": float("nan")},
        }
        for field, change in cases.items():
            with self.subTest(field), self.assertRaises(Refused) as caught:
                self.receive(**change)
            self.assertEqual(caught.exception.field, field)

    def test_search_finds_by_name_code_and_note(self) -> None:
        lot_id = self.receive(code="VX-77", note="under the window")
        with self.database.session() as session:
            for words in ("virid", "vx-7", "window virid"):
                self.assertIn(lot_id, [lot.id for lot in materials.lots(session, words=words)], words)
            self.assertEqual(materials.lots(session, words="window madder"), ())


class Plans(DatabaseTest):
    with_demo = True

    def test_a_lot_that_does_not_suffice_is_said(self) -> None:
        with self.database.session() as session:
            lot = next(kept for kept in materials.lots(session) if kept.code == "LA-1")
            planned = plan.compute(session, asked(lines=[{"lot_id": lot.id, "parts": 1.0}], pigment_g=300.0))
        (powder, oil) = planned.supplies
        self.assertFalse(powder.suffices)
        self.assertEqual((powder.needed_g, powder.on_hand_g), (300.0, 220.0))
        self.assertTrue(oil.suffices)

    def test_kept_plans_compute_again_and_can_be_forgotten(self) -> None:
        with self.database.session() as session:
            plan_id = plan.save(session, NOW, "  Black for Tuesday ", asked())
            kept = plan.saved_plan(session, plan_id)
            self.assertEqual((kept.name, kept.asked.pigment_g), ("Black for Tuesday", 100.0))
            plan.discard(session, plan_id)
            with self.assertRaises(Missing):
                plan.saved_plan(session, plan_id)
            with self.assertRaises(Refused):
                plan.save(session, NOW, "   ", asked())

    def test_what_is_not_kept_names_its_field(self) -> None:
        cases: dict[str, dict[str, object]] = {
            "lines.0.pigment_key": {"lines": [{"pigment_key": "unobtainium", "parts": 1.0}]},
            "lines.0.lot_id": {"lines": [{"lot_id": 99_999, "parts": 1.0}]},
            "oil.oil_key": {"oil": {"oil_key": "butter"}},
            "tubes.0.tube_type_id": {"pigment_g": None, "tubes": [{"tube_type_id": 99, "count": 1}]},
            "slab_id": {"slab_id": 99},
        }
        for field, change in cases.items():
            with self.subTest(field), self.database.session() as session, self.assertRaises(Missing) as caught:
                plan.compute(session, asked(**change))
            self.assertEqual(caught.exception.field, field)
        with self.database.session() as session, self.assertRaises(Refused):
            plan.compute(session, asked(lines=[{"parts": 1.0}]))


class Workshop(DatabaseTest):
    def test_furnished_once(self) -> None:
        with self.database.session() as session:
            workshop.furnish(session)
            kept = workshop.workshop(session)
        self.assertEqual((len(kept.slabs), len(kept.mullers), len(kept.tube_types)), (1, 1, 4))
        self.assertEqual(kept.settings.default_slab_id, kept.slabs[0].id)

    def test_a_slab_is_added_changed_used_and_retired(self) -> None:
        with self.database.session() as session:
            slab_id = workshop.keep_slab(session, None, " Marble ", 500.0, Tooth.WORN, None)
            workshop.keep_slab(session, slab_id, "Marble", 520.0, Tooth.FAIR, 0.45)
            bench = workshop.bench(session, slab_id, None)
            assert bench is not None
            self.assertEqual((bench.area_cm2, bench.slab_tooth, bench.film_mm), (520.0, Tooth.FAIR, 0.45))
            chosen = workshop.settings(session)
            workshop.change_settings(session, workshop.Settings("Bench", "us", 0.9, slab_id, None, "g", "GBP"))
            workshop.retire(session, "slab", slab_id)
            self.assertIsNone(workshop.settings(session).default_slab_id)
            self.assertNotIn(slab_id, [slab.id for slab in workshop.workshop(session).slabs])
            workshop.change_settings(session, chosen)

    def test_names_stay_apart_and_defaults_exist(self) -> None:
        with self.database.session() as session, self.assertRaises(Refused) as caught:
            workshop.keep_tube_type(session, None, "40 ml tube", 41.0)
        self.assertEqual(caught.exception.field, "name")
        with self.database.session() as session, self.assertRaises(Refused) as caught:
            workshop.change_settings(session, workshop.Settings("", "metric", 0.86, 999, None, "g", "EUR"))
        self.assertEqual(caught.exception.field, "default_slab_id")
        with self.database.session() as session, self.assertRaises(Missing):
            workshop.retire(session, "muller", 999)


class WhatATubGives(DatabaseTest):
    def test_it_is_what_a_plan_of_all_of_it_comes_to(self) -> None:
        with self.database.session() as session:
            day = NOW.date()
            tub = materials.receive(session, NOW, materials.NewLot("pigment", "raw-sienna", "TUB-1", day, 100.0))
            oil = materials.receive(session, NOW, materials.NewLot("oil", "linseed-refined", "TUB-2", day, 100.0))
            found = materials.gives(session, materials.lot(session, tub))
            asked = {
                "lines": [{"lot_id": tub, "parts": 1.0}],
                "oil": {"oil_key": "linseed-refined"},
                "reduced_pvc": 0.86,
                "pigment_g": 100.0,
            }
            made = plan.compute(session, PlanAsked.model_validate(asked)).plan
            assert found is not None
            paint = made.volume.value * 0.97 - 1.0
            figure = found.paint
            self.assertAlmostEqual(figure.value, paint, delta=0.03 * paint)
            self.assertTrue((figure.low or 0) < figure.value < (figure.high or 0))
            self.assertEqual((found.tubes, found.tube_ml), (int(figure.value // 40), 40.0))
            self.assertIsNone(materials.gives(session, materials.lot(session, oil)))
            materials.weigh_in(session, NOW, tub, 0.0, "used up")
            self.assertIsNone(materials.gives(session, materials.lot(session, tub)))
            session.rollback()
