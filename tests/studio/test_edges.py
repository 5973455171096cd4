"""Ends of what is accepted, what a new record begins as, and what is counted where: each at its edge."""

from decimal import Decimal
from typing import Any

from pydantic import TypeAdapter, ValidationError

from niddy.core import amounts
from niddy.core.errors import Refused
from niddy.studio import batches, cost, shelf, workshop
from niddy.studio.cost import CostAsked
from niddy.studio.shelf import Wanted
from tests.studio.test_slab import Session
from tests.support import NOW, DatabaseTest


class Amounts(DatabaseTest):
    ENDS: dict[str, tuple[float, float]] = {
        "Grams": (0.001, 20_000),
        "Millilitres": (0.01, 20_000),
        "TubeMillilitres": (0.1, 20_000),
        "Density": (0.01, 25),
        "OilRatio": (0.1, 1_000),
        "Parts": (0.001, 10_000),
        "DropGrams": (0.0005, 1),
        "FilmMillimetres": (0.01, 20),
        "FaceMillimetres": (1, 500),
        "SquareCentimetres": (1, 100_000),
    }

    def test_the_ends_are_accepted_and_nothing_beyond(self) -> None:
        for name, (low, high) in self.ENDS.items():
            kind: TypeAdapter[float] = TypeAdapter(getattr(amounts, name))
            for value in (low, high):
                self.assertEqual(kind.validate_python(float(value)), value)
            wrong: tuple[Any, ...] = (low * 0.999, high * 1.001, str(high), True, None)
            for value in wrong:
                with self.subTest(name=name, value=value), self.assertRaises(ValidationError):
                    kind.validate_python(value)


class Begun(Session):
    def test_a_batch_begins_with_nothing_in_it(self) -> None:
        self.begin()
        with self.database.session() as session:
            line = batches.line(session, self.number)
        self.assertEqual((line.pigment_g, line.oil_g, line.made_ml, line.tubes_filled), (0.0, 0.0, 0.0, 0))
        self.assertIsNone(line.verdict)

    def test_one_rung_is_next_and_those_before_it_are_done(self) -> None:
        self.begin()
        self.act("ready")
        seen = self.act("powder", source=f"lot-{self.powder}", measure={"amount": 100})
        self.assertEqual(seen.rungs[0].state, "next")
        for _ in range(2):
            poured = next(rung for rung in seen.rungs if rung.state == "next")
            self.assertEqual(poured.step_g, seen.advice.grams)
            self.act("oil", source=f"lot-{self.oil}", measure={"amount": poured.cumulative_g - seen.oil.in_g})
            seen = self.act("look", stage="crumbs")
            states = [rung.state for rung in seen.rungs]
            self.assertEqual(states.count("next"), 1 if "next" in states else 0)
            self.assertEqual(states, sorted(states, key=["done", "next", "to_come"].index))
        self.assertGreaterEqual(states.count("done"), 2)


class Counted(DatabaseTest):
    with_demo = True

    def test_a_shelf_is_shown_from_its_first(self) -> None:
        with self.database.session() as session:
            whole = shelf.search(session, NOW, Wanted())
            later = shelf.search(session, NOW, Wanted(offset=1))
        self.assertEqual(len(whole.items), whole.total)
        self.assertEqual([one.id for one in later.items], [one.id for one in whole.items[1:]])

    def test_labels_cost_only_where_they_have_a_price(self) -> None:
        with self.database.session() as session:
            priced = cost.cost(session, CostAsked(batch_number=24, label_price=Decimal("0.25")))
            bare = cost.cost(session, CostAsked(batch_number=24))
        labels = [line for line in priced.cost.lines if line.name == "Labels"]
        self.assertEqual([int(line.amount) for line in labels], [priced.tubes])
        self.assertNotIn("Labels", [line.name for line in bare.cost.lines])
        self.assertEqual(priced.cost.total - bare.cost.total, labels[0].cost)

    def test_a_tube_by_its_measures_wants_all_three(self) -> None:
        with self.database.session() as session:
            for field, measures in (
                ("diameter_mm", (None, 90.0, 20.0)),
                ("length_mm", (20.0, None, 20.0)),
                ("headspace_mm", (20.0, 90.0, None)),
            ):
                with self.assertRaises(Refused) as refused:
                    workshop.keep_tube_type(session, None, "By measure", None, *measures)
                self.assertEqual(refused.exception.field, field)
            session.rollback()
