"""What a tube takes, which to fill, what its weight says; what it costs, in decimal money."""

import itertools
import random
import unittest
from decimal import Decimal

from hypothesis import given
from hypothesis import strategies as st

from niddy.core.cost import Item, cost, money, of_several
from niddy.core.errors import Refused
from niddy.core.tubes import Fill, Kind, by_volume, choose, target_fill_g, usable_ml, weigh


class WorkedFigures(unittest.TestCase):
    def test_a_tube_of_25_by_110_mm(self) -> None:
        self.assertAlmostEqual(usable_ml(25, 110, 25), 41.724, 3)

    def test_one_of_each_takes_131_ml(self) -> None:
        told = choose(131, [Kind(40, 3), Kind(20, 2), Kind(60, 1)])
        self.assertEqual(told.use, (Kind(40, 1), Kind(20, 1), Kind(60, 1)))
        self.assertEqual((told.filled_ml, told.leftover_ml), (120, 11))

    def test_full_tubes_only(self) -> None:
        self.assertEqual(choose(39.9, [Kind(40, 5)]).use, ())
        self.assertEqual(choose(1000, [Kind(40, 2), Kind(7.5, 3)]).filled_ml, 102.5)
        self.assertEqual(choose(0, [Kind(40, 2)]).leftover_ml, 0)


class AgainstBruteForce(unittest.TestCase):
    def test_the_most_then_the_fewest_then_the_larger(self) -> None:
        for seed in range(250):
            luck = random.Random(seed)
            sizes = luck.sample([5, 7.5, 20, 40, 41.724, 60, 12.3, 9.9, 37], luck.randint(1, 4))
            stock = [Kind(size, luck.randint(0, 4)) for size in sizes]
            volume = luck.uniform(0, 220)
            told = choose(volume, stock)
            self.assertLessEqual(told.filled_ml, volume + 1e-6)
            by_size = sorted(stock, key=lambda kind: -kind.usable_ml)
            best = max(
                (
                    (round(filled, 3), -sum(counts), counts)
                    for counts in itertools.product(*(range(kind.count + 1) for kind in by_size))
                    if (filled := sum(n * k.usable_ml for n, k in zip(counts, by_size, strict=True))) <= volume + 1e-9
                ),
                default=(0.0, 0, ()),
            )
            used = {one.usable_ml: one.count for one in told.use}
            self.assertEqual(
                (round(told.filled_ml, 3), -sum(used.values()), tuple(used.get(k.usable_ml, 0) for k in by_size)),
                best,
                f"{seed}: {volume} ml of {stock}",
            )

    @given(st.floats(0, 2_000), st.lists(st.tuples(st.integers(3, 120), st.integers(0, 100)), max_size=12))
    def test_many_kinds_and_empties_stay_within_stock_and_volume(
        self, volume: float, stock: list[tuple[int, int]]
    ) -> None:
        told = choose(volume, [Kind(size, count) for size, count in stock])
        self.assertLessEqual(told.filled_ml, volume + 1e-6)
        self.assertAlmostEqual(told.filled_ml + told.leftover_ml, volume, 6)
        self.assertLessEqual(sum(one.count for one in told.use), sum(count for _, count in stock))

    @given(st.floats(0, 500), st.lists(st.tuples(st.integers(3, 90), st.integers(0, 6)), min_size=1, max_size=5))
    def test_one_more_empty_never_fills_less(self, volume: float, stock: list[tuple[int, int]]) -> None:
        kinds = [Kind(size, count) for size, count in stock]
        before = choose(volume, kinds)
        self.assertEqual(len(before.counts), len(kinds))
        self.assertTrue(all(n <= kind.count for n, kind in zip(before.counts, kinds, strict=True)))
        more = [Kind(kinds[0].usable_ml, kinds[0].count + 1), *kinds[1:]]
        self.assertGreaterEqual(choose(volume, more).filled_ml, before.filled_ml - 1e-6)

    def test_two_kinds_of_one_size_are_told_apart(self) -> None:
        told = choose(125, [Kind(40, 1), Kind(60, 0), Kind(40, 2)])
        self.assertEqual(told.filled_ml, 120)
        self.assertEqual((told.counts[1], sum(told.counts)), (0, 3))
        self.assertEqual(told.counts, (1, 0, 2))


class AtTheScale(unittest.TestCase):
    @given(st.floats(5, 200), st.floats(0.9, 4), st.floats(0.01, 1.2), st.floats(0, 30))
    def test_weight_and_volume_say_the_same(self, usable: float, density: float, part: float, tare: float) -> None:
        volume = usable * part
        heavy, seen = weigh(tare + volume * density, tare, usable, density), by_volume(volume, usable, density)
        if min(abs(part - 0.98 * edge) for edge in (0.9, 0.97, 1.03 / 0.98)) > 0.001:
            self.assertIs(heavy.fill, seen.fill)
        self.assertAlmostEqual(heavy.volume_ml, seen.volume_ml, 6)
        self.assertAlmostEqual(heavy.of_target, part / 0.98, 6)
        self.assertAlmostEqual(heavy.of_usable, part, 6)

    def test_full_short_airy_and_over(self) -> None:
        target = target_fill_g(40, 1.5)
        self.assertAlmostEqual(target, 40 * 1.5 * 0.98)
        for net, fill in ((target, Fill.FULL), (target * 0.94, Fill.AIRY), (target * 0.5, Fill.PART), (66, Fill.OVER)):
            told = weigh(9 + net, 9, 40, 1.5)
            self.assertIs(told.fill, fill, net)
            self.assertTrue(told.says)
            self.assertAlmostEqual(told.volume_ml, net / 1.5)

    def test_refused(self) -> None:
        for ask, field in (
            (lambda: usable_ml(25, 110, 110), "headspace_mm"),
            (lambda: usable_ml(0, 110, 10), "diameter_mm"),
            (lambda: weigh(9, 9, 40, 1.5), "gross_g"),
            (lambda: choose(-1, []), "volume_ml"),
            (lambda: choose(10, [Kind(0, 1)]), "stock.0.usable_ml"),
            (lambda: choose(10, [Kind(5, 1), Kind(5, -1)]), "stock.1.count"),
        ):
            with self.subTest(field), self.assertRaises(Refused) as caught:
                ask()
            self.assertEqual(caught.exception.field, field)


D = Decimal
ITEMS = [
    Item("Bone black", D("0.112"), "kg", D("14.50")),
    Item("Linseed oil", D("0.0744"), "kg", D("17.50")),
    Item("40 ml tube", D(3), "pieces", D("0.41")),
]


class Cost(unittest.TestCase):
    def test_a_batch_against_a_bought_price(self) -> None:
        told = cost(ITEMS, D(131), tube_ml=D(40), bought_per_ml=D("0.22"), tools=D(180))
        self.assertEqual([line.cost for line in told.lines], [D("1.62"), D("1.30"), D("1.23")])
        self.assertEqual((told.total, told.per_ml, told.per_tube), (D("4.15"), D("0.0317"), D("1.27")))
        assert told.against is not None
        self.assertEqual(told.against.saving, D("24.67"))
        self.assertEqual(told.against.pays_back_tubes, 24)
        self.assertEqual(told.missing, ())

    def test_work_counts_where_it_is_wanted_and_no_price_is_named(self) -> None:
        told = cost([*ITEMS, Item("Smalt", D("0.02"), "kg", None)], D(131), hours=D(2), wage_per_hour=D(18))
        self.assertEqual(told.total, D("40.15"))
        self.assertEqual(told.missing, ("Smalt",))
        self.assertIsNone(told.against)

    def test_making_may_cost_more(self) -> None:
        told = cost(ITEMS, D(131), bought_per_ml=D("0.01"), tools=D(180))
        assert told.against is not None
        self.assertLess(told.against.saving, 0)
        self.assertIsNone(told.against.pays_back_ml)
        self.assertIn("more than buying", told.against.says)

    def test_several_batches_count_by_what_they_made(self) -> None:
        told = of_several([(D("4.15"), D(131)), (D("1.00"), D(20))], D(40))
        # All the money over all the millilitres, not the mean of the means.
        self.assertEqual((told.per_ml, told.per_tube), (D("0.0341"), D("1.36")))
        self.assertEqual((told.low, told.high), (D("0.0317"), D("0.0500")))
        one = of_several([(D("4.15"), D(131))])
        self.assertEqual((one.low, one.per_ml, one.high, one.per_tube), (*[D("0.0317")] * 3, None))
        for batches in ([], [(D(1), D(0))], [(D(-1), D(5))]):
            with self.assertRaises(Refused):
                of_several(batches)

    def test_half_a_cent_goes_up_and_binary_fractions_play_no_part(self) -> None:
        self.assertEqual(money(D("2.675")), D("2.68"))
        self.assertEqual(cost([Item("x", D("0.1"), "kg", D("0.1"))] * 3, D(1)).total, D("0.03"))

    def test_refused(self) -> None:
        for ask, field in (
            (lambda: cost([], D(1)), "items"),
            (lambda: cost(ITEMS, D(0)), "volume_ml"),
            (lambda: cost(ITEMS, D(1), tube_ml=D(-1)), "tube_ml"),
            (lambda: cost(ITEMS, D(1), hours=D(-1)), "hours"),
            (lambda: cost([Item("x", D("NaN"), "kg", None)], D(1)), "items.0.amount"),
        ):
            with self.subTest(field), self.assertRaises(Refused) as caught:
                ask()
            self.assertEqual(caught.exception.field, field)
