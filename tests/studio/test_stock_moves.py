"""What an act at the slab draws from which lots, and what its undoing gives back."""

import unittest
from dataclasses import replace
from datetime import UTC, datetime
from uuid import uuid4

from niddy.core import plan, slab
from niddy.core.estimate import Basis, Estimate
from niddy.core.materials import BLEND, OilPart
from niddy.core.plan import Line
from niddy.core.slab import Event, Kind, Paste
from niddy.studio.slab.stock import bottle_moves, stock_moves
from tests.core.test_plan import OIL, WISH, dry

AT = datetime(2026, 6, 18, 10, tzinfo=UTC)
PLAN = plan.compute(WISH)


def event(kind: Kind, grams: float | None = None, source: str = "lot-1", **what: object) -> Event:
    mass = Estimate.exact(grams, Basis.MEASURED) if grams is not None else None
    return Event(uuid4(), 1, kind, AT, mass=mass, source=source, **what)  # type: ignore[arg-type]


def changes(*moves: object) -> list[tuple[int, str, float]]:
    return [(move.lot_id, move.reason, round(move.change, 6)) for move in moves]  # type: ignore[attr-defined]


class Moves(unittest.TestCase):
    def test_what_goes_in_comes_out_of_its_lot(self) -> None:
        for kind in (Kind.POWDER, Kind.OIL, Kind.ADDITIVE):
            found = stock_moves(PLAN, event(kind, 12.5), None)
            self.assertEqual(changes(*found), [(1, "used", -12.5)], kind)

    def test_what_no_lot_is_kept_of_moves_nothing(self) -> None:
        self.assertEqual(stock_moves(PLAN, event(Kind.POWDER, 5.0, "library-bone-black"), None), ())

    def test_looks_and_words_move_nothing(self) -> None:
        for kind in (Kind.LOOK, Kind.NOTE, Kind.MULL, Kind.SAMPLE, Kind.DRAW_OIL, Kind.FINISH):
            self.assertEqual(stock_moves(PLAN, event(kind, 3.0), None), (), kind)

    def test_undone_it_goes_back_and_undone_twice_it_is_drawn_again(self) -> None:
        powder = event(Kind.POWDER, 7.0)
        undo = event(Kind.STRIKE, strikes=powder.id)
        self.assertEqual(changes(*stock_moves(PLAN, undo, powder)), [(1, "struck_out", 7.0)])
        again = event(Kind.STRIKE, strikes=undo.id)
        self.assertEqual(changes(*stock_moves(PLAN, again, undo, powder)), [(1, "used", -7.0)])

    def test_put_right_the_wrong_goes_back_and_the_right_is_drawn(self) -> None:
        wrong = event(Kind.POWDER, 70.0)
        right = event(Kind.AMEND, 7.0, "", amends=wrong.id)
        found = changes(*stock_moves(PLAN, right, wrong))
        self.assertEqual(found, [(1, "struck_out", 70.0), (1, "used", -7.0)])

    def test_a_blend_takes_of_each_oil_its_share(self) -> None:
        parts = (
            OilPart(4, "linseed-refined", "Linseed", "", 0.75, 40.0, 3, 1),
            OilPart(5, "poppy-refined", "Poppy", "", 0.25, 50.0, 1, 3),
        )
        blended = replace(PLAN, oil=replace(PLAN.oil, parts=parts))
        found = stock_moves(blended, event(Kind.OIL, 20.0, BLEND), None)
        self.assertEqual(changes(*found), [(4, "used", -15.0), (5, "used", -5.0)])

    def test_a_lot_that_is_still_wet_is_drawn_as_it_is_weighed(self) -> None:
        wet = replace(dry("bone-black", 1), liquid_share=0.2)
        soaked = plan.compute(replace(WISH, lines=(Line(wet, 1.0),)))
        found = stock_moves(soaked, event(Kind.POWDER, 8.0, wet.source), None)
        self.assertEqual(changes(*found), [(1, "used", -10.0)])

    def test_oil_by_the_bottle_moves_with_what_the_weighings_come_to(self) -> None:
        before = Paste()
        told = replace(before, by_eye=replace(before.by_eye, used_g=9.0, source="lot-3"))
        self.assertAlmostEqual(told.by_eye.used_g, 9.0)
        self.assertEqual(changes(*bottle_moves(PLAN, before, told)), [(3, "used", -9.0)])
        self.assertEqual(changes(*bottle_moves(PLAN, told, before)), [(3, "struck_out", 9.0)])
        self.assertEqual(bottle_moves(PLAN, told, told), ())


class Nothing(unittest.TestCase):
    def test_an_oil_of_the_library_is_no_lot(self) -> None:
        self.assertEqual(stock_moves(PLAN, event(Kind.OIL, 4.0, OIL.source), None), ())
        self.assertEqual(slab.fold([]).oil_g, 0.0)
