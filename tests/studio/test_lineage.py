"""Lineage both ways, to any depth: from a lot to every tube, from a tube to every lot."""

from datetime import timedelta
from uuid import uuid4

from niddy.studio import additives, lineage, materials, plan, shelf, slab, tubes, workshop
from niddy.studio.errors import Missing
from niddy.studio.lineage import What
from niddy.studio.materials import NewLot
from niddy.studio.shelf import Left
from niddy.studio.tubes import FillAsked
from tests.studio.recording import record_item
from tests.support import NOW, DatabaseTest


class Lineage(DatabaseTest):
    def setUp(self) -> None:
        self.session = self.enterContext(self.database.session())
        self.addCleanup(self.session.rollback)
        day = NOW.date()

        def lot(kind: str, key: str, code: str) -> int:
            return materials.receive(self.session, NOW, NewLot(kind, key, f"{code}-{uuid4().hex[:6]}", day, 900.0))

        self.powder, self.oil = lot("pigment", "bone-black", "P"), lot("oil", "linseed-refined", "O")
        self.stearate, self.unused = lot("additive", "aluminium-stearate", "S"), lot("pigment", "viridian", "U")
        gel = additives.GelAsked.model_validate(
            {
                "additive_key": "aluminium-stearate",
                "oil_key": "linseed-refined",
                "additive_g": 10.0,
                "oil_g": 90.0,
                "yield_g": 98.0,
                "code": f"G-{uuid4().hex[:6]}",
                "additive_lot_id": self.stearate,
            }
        )
        self.gel = additives.make_gel(self.session, NOW, gel).id

    def log(self, number: int, kind: str, **what: object) -> slab.SlabView:
        act = slab.act_of({"id": uuid4(), "kind": kind, "made_at": NOW, **what})
        return slab.record(self.session, NOW, number, act)

    def made(self) -> tuple[int, int]:
        """A batch of the lots with the gel in it, and the id of a tube of it."""
        asked = {
            "lines": [{"lot_id": self.powder, "parts": 1}],
            "oil": {"lot_id": self.oil},
            "reduced_pvc": 0.86,
            "pigment_g": 100.0,
            "additives": [{"lot_id": self.gel, "dose_pct": 1.0}],
        }
        number = slab.take_to_slab(self.session, NOW, uuid4(), plan.PlanAsked.model_validate(asked))
        self.log(number, "ready")
        self.log(number, "powder", source=f"lot-{self.powder}", measure={"amount": 100.0})
        self.log(number, "oil", source=f"lot-{self.oil}", measure={"amount": 50.0})
        self.log(number, "additive", source=f"lot-{self.gel}", measure={"amount": 5.0})
        self.log(number, "look", stage="even_paste", body="tube")
        self.log(number, "finish", verdict="right", tubes=[], leftover_ml=60.0)
        return number, self.fill(number)

    def fill(self, number: int) -> int:
        small = workshop.workshop(self.session).tube_types[0].id
        asked = FillAsked.model_validate({"id": uuid4(), "tube_type_id": small, "volume_ml": 18.0, "place": "Drawer 2"})
        return tubes.fill(self.session, NOW, number, asked).item_id

    def seen(self, found: lineage.Lineage) -> list[tuple[What, int, int]]:
        return [(place.what, place.id, place.depth) for place in found.places]

    def test_a_raw_lot_leads_through_gel_batch_tube_and_the_batch_that_was_ground_again(self) -> None:
        number, tube = self.made()
        again = shelf.regrind(self.session, NOW, tube, uuid4()).number
        self.log(again, "finish", verdict="right", tubes=[], leftover_ml=15.0)
        found = lineage.went_into(self.session, self.stearate)
        self.assertEqual(
            self.seen(found),
            [
                (What.LOT, self.stearate, 0),
                (What.LOT, self.gel, 1),
                (What.BATCH, number, 2),
                (What.ITEM, tube, 3),
                (What.BATCH, again, 4),
            ],
        )
        self.assertEqual([place.grams for place in found.places[1:3]], [10.0, 5.0])
        self.assertEqual((found.batches, found.items, found.here, found.gone), (2, 1, 0, 1))

    def test_a_tube_leads_back_to_every_lot_and_to_the_old_paint_in_it(self) -> None:
        number, tube = self.made()
        back = {(place.what, place.id) for place in lineage.behind(self.session, tube).places}
        self.assertEqual(
            back,
            {
                (What.ITEM, tube),
                (What.BATCH, number),
                (What.LOT, self.powder),
                (What.LOT, self.oil),
                (What.LOT, self.gel),
                (What.LOT, self.stearate),
            },
        )
        again = shelf.regrind(self.session, NOW, tube, uuid4()).number
        self.log(again, "finish", verdict="right", tubes=[], leftover_ml=15.0)
        small = workshop.workshop(self.session).tube_types[0].id
        asked = FillAsked.model_validate({"id": uuid4(), "tube_type_id": small, "volume_ml": 10.0})
        second = tubes.fill(self.session, NOW, again, asked).item_id
        deep = lineage.behind(self.session, second)
        self.assertIn((What.LOT, self.stearate), {(place.what, place.id) for place in deep.places})
        self.assertEqual(max(place.depth for place in deep.places), 5)

    def test_what_was_planned_and_not_poured_or_struck_out_is_not_in_it(self) -> None:
        asked = {
            "lines": [{"lot_id": self.unused, "parts": 1}],
            "oil": {"lot_id": self.oil},
            "reduced_pvc": 0.86,
            "pigment_g": 50.0,
        }
        number = slab.take_to_slab(self.session, NOW, uuid4(), plan.PlanAsked.model_validate(asked))
        self.assertEqual(len(lineage.went_into(self.session, self.unused).places), 1)
        self.log(number, "ready")
        seen = self.log(number, "powder", source=f"lot-{self.unused}", measure={"amount": 50.0})
        self.assertEqual(len(lineage.went_into(self.session, self.unused).places), 2)
        self.log(number, "strike", strikes=str(seen.timeline[-1].id))
        self.assertEqual(len(lineage.went_into(self.session, self.unused).places), 1)

    def test_where_a_tube_is_or_to_whom_it_went(self) -> None:
        _, tube = self.made()
        place = lineage.went_into(self.session, self.powder).places[-1]
        self.assertEqual((place.says, place.here), ("Drawer 2", True))
        gone = shelf.ITEMS.acts.act_of(
            {
                "id": uuid4(),
                "kind": "leave",
                "made_at": NOW + timedelta(minutes=1),
                "how": Left.SOLD,
                "text": "to the class",
            }
        )
        record_item(self.session, NOW, tube, gone)
        found = lineage.went_into(self.session, self.powder)
        self.assertEqual((found.places[-1].says, found.gone), ("sold: to the class", 1))

    def test_nothing_kept_under_an_id_is_said(self) -> None:
        for ask in (lineage.behind, lineage.went_into):
            with self.assertRaises(Missing):
                ask(self.session, 999_999)
