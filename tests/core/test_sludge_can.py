"""Cans, dishes and cakes as their logs tell them; hazards over whole lineages; a colour steered."""

import math
import random
import unittest
from datetime import UTC, datetime, timedelta
from typing import Any
from uuid import UUID

from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter

from niddy.core.acting import Logged
from niddy.core.cautions import known_hazards
from niddy.core.colorimetry import seen_off
from niddy.core.errors import Refused
from niddy.core.estimate import Basis
from niddy.core.falling import Shape
from niddy.core.log import Status
from niddy.core.sludge import (
    GRAMS_PER_WEIGHT,
    UNKNOWN_PARTS,
    Can,
    CanAct,
    CanFacts,
    DishAct,
    DishFacts,
    Grey,
    Height,
    Makeup,
    Method,
    Origin,
    Paint,
    Washed,
    added,
    aim_of,
    asked_first,
    beside,
    cake_of,
    can_after,
    can_of,
    check_height,
    dish_forecast,
    dish_of,
    drawn,
    lean_of,
    mass_at,
    own_pace,
    settling,
    share_of,
    steer,
    together,
    week_of,
)
from niddy.core.sludge.can_acts import AnyCanAct
from niddy.core.sludge.dish_acts import AnyDishAct

BEGUN = datetime(2026, 3, 2, 9, tzinfo=UTC)


def washed(key: str = "red-ochre", weight: float = 2.0, *hazards: str, colour: str = "#8a3b22") -> Washed:
    return Washed(key, key.replace("-", " "), weight, 18.0, 26.0, 4.1, colour, "medium", hazards)


CAN: TypeAdapter[CanAct] = TypeAdapter(AnyCanAct)
DISH: TypeAdapter[DishAct] = TypeAdapter(AnyDishAct)
FACTS = ("washed", "unknown", "beside", "sources", "density_g_per_ml", "g_per_weight")
KINDS = ("washing", "solvent_in", "pour_off", "sludge_out", "height", "weighed")
WHOLE: dict[str, dict[str, Any]] = {"to_stock": {"code": "C-1"}}


class Log:
    """A log of a can or dish, with a clock."""

    def __init__(self) -> None:
        self.acts: list[Any] = []

    def can(self, hours: float, kind: str, **what: Any) -> UUID:
        """An act with as much of its payload as matters, and what the record makes of it."""
        facts = {name: what.pop(name) for name in FACTS if name in what}
        if kind == "weighed":
            facts["net_g"] = what["g"]
        if kind == "pour_off":
            facts["ml"] = what.pop("ml")
        said = {**WHOLE.get(kind, {}), **what}
        return self._add(CAN, CanFacts(**facts), hours, kind, said)

    def dish(self, hours: float, kind: str, **what: Any) -> UUID:
        return self._add(DISH, DishFacts(), hours, kind, {**WHOLE.get(kind, {}), **what})

    def _add(self, acts: TypeAdapter[Any], facts: Any, hours: float, kind: str, said: dict[str, Any]) -> UUID:
        n = len(self.acts) + 1
        at = BEGUN + timedelta(hours=hours)
        act = acts.validate_python({**said, "id": UUID(int=n), "kind": kind, "made_at": at})
        self.acts.append(Logged(act.id, n, act, facts, said.get("strikes")))
        return UUID(int=n)


class Cans(unittest.TestCase):
    def setUp(self) -> None:
        self.log = Log()
        self.log.can(0, "solvent_in", solvent_key="white-spirit", density_g_per_ml=0.78, ml=500.0, origin=Origin.BOUGHT)

    def now(self) -> Can:
        return can_of(self.log.acts)

    def test_solvent_balances(self) -> None:
        self.log.can(1, "washing", washed=(washed(),))
        self.log.can(30, "pour_off", ml=300.0)
        can = self.now()
        self.assertEqual((can.bought_ml, can.held_ml, can.clear_ml), (500.0, 200.0, 300.0))
        self.assertEqual(can.times_used, 1.0)
        self.log.can(
            31, "solvent_in", solvent_key="white-spirit", density_g_per_ml=0.78, ml=250.0, origin=Origin.RECOVERED
        )
        can = self.now()
        self.assertEqual((can.bought_ml, can.held_ml, can.clear_ml, can.recovered_ml), (500.0, 450.0, 50.0, 250.0))
        self.assertEqual(can.times_used, 1.5)
        self.assertEqual(can.monthly, {"2026-03": 250.0})

    def test_a_weighing_says_what_went_into_the_air_or_was_never_logged(self) -> None:
        self.log.can(1, "washing", washed=(washed(weight=4.0),))
        solids = 4.0 * GRAMS_PER_WEIGHT
        self.log.can(50, "weighed", g=500 * 0.78 + solids - 39.0)
        can = self.now()
        self.assertAlmostEqual(can.lost_ml, 50.0)
        self.assertAlmostEqual(can.held_ml, 450.0)
        self.log.can(60, "weighed", g=450 * 0.78 + solids + 15.6)
        can = self.now()
        self.assertAlmostEqual(can.found_ml, 20.0)
        self.assertAlmostEqual(can.held_ml, 470.0)
        self.assertAlmostEqual(can.bought_ml + can.found_ml - can.lost_ml, can.held_ml)

    def test_sludge_taken_out_takes_its_liquid_and_leaves_the_walls(self) -> None:
        self.log.can(1, "washing", washed=(washed(weight=40.0, colour="#101010"),), unknown=4.0)
        out = self.log.can(40, "sludge_out", share=1.0, g=22.0 + 78.0)
        can = self.now()
        self.assertAlmostEqual(can.with_sludge_ml, 100.0)
        self.assertAlmostEqual(can.held_ml, 400.0)
        self.assertAlmostEqual(can.makeup.weight, 44.0 * 0.05)
        self.log.can(41, "strike", strikes=out)
        self.assertAlmostEqual(self.now().makeup.weight, 44.0)
        self.log.can(42, "sludge_out", share=0.25)
        self.assertAlmostEqual(self.now().makeup.weight, 33.0)
        self.log.can(43, "sludge_out", share=1.0, wiped=True)
        self.assertEqual(self.now().makeup, Makeup())
        self.assertEqual(self.now().washings, 1)

    def test_weeks_are_counted_from_their_monday(self) -> None:
        self.assertEqual(week_of(BEGUN.date()), "2026-03-02")
        for hours, weight in ((0, 1.0), (24 * 6, 2.0), (24 * 7, 4.0)):
            self.log.can(hours, "washing", washed=(washed(weight=weight),))
        self.assertEqual(self.now().weekly, {"2026-03-02": 3.0, "2026-03-09": 4.0})
        for week in range(2, 40):
            self.log.can(24 * 7 * week, "washing", unknown=1.0)
        self.assertEqual(len(self.now().weekly), 30)
        self.assertNotIn("2026-03-02", self.now().weekly)
        self.assertEqual(self.now().unlogged, 38)

    def test_washing_stirs_it_up_and_closing_ends_it(self) -> None:
        self.log.can(1, "washing", washed=(washed(),))
        self.log.can(25, "height", clear_mm=40.0, total_mm=90.0)
        can = self.now()
        self.assertEqual(can.heights, (Height(24.0, 40.0, 90.0),))
        self.assertEqual((can.clear_mm, can.stirred_at), (40.0, BEGUN + timedelta(hours=1)))
        self.log.can(30, "washing", washed=(washed(),))
        self.assertIsNone(self.now().clear_mm)
        self.log.can(31, "close")
        self.assertIs(self.now().status, Status.FINISHED)

    @given(st.lists(st.tuples(st.sampled_from(KINDS), st.floats(0.1, 400), st.integers(0, 5)), max_size=25))
    def test_act_by_act_it_is_what_the_whole_log_says(self, acts: list[tuple[str, float, int]]) -> None:
        log, state = Log(), Can()
        for n, (kind, size, which) in enumerate(acts):
            what: dict[str, Any] = {}
            if kind == "washing":
                what = {"washed": (washed(f"p{which}", size),), "unknown": float(which == 0)}
            elif kind == "solvent_in":
                what = {
                    "solvent_key": f"s{which % 2}",
                    "density_g_per_ml": 0.8,
                    "ml": size,
                    "origin": Origin.BOUGHT if which < 3 else Origin.RECOVERED,
                }
            elif kind == "pour_off":
                what = {"ml": min(size, state.held_ml)}
            elif kind == "sludge_out":
                what = {"share": min(1.0, size / 400), "g": size if which else None}
            elif kind == "weighed":
                what = {"g": size}
            else:
                what = {"clear_mm": size / 2, "total_mm": max(1.0, size)}
            log.can(n, kind, **what)
            state = can_after(state, log.acts[-1])
            self.assertGreaterEqual(state.held_ml, -1e-6)
            balance = state.bought_ml + state.recovered_ml + state.found_ml
            balance -= state.poured_off_ml + state.with_sludge_ml + state.lost_ml
            self.assertAlmostEqual(balance, state.held_ml, 4)
        self.assertEqual(can_of(log.acts), state)


class Settling(unittest.TestCase):
    def test_readings_of_a_made_up_can_come_back_and_narrow(self) -> None:
        end, tau = 0.62, 20.0
        heights = [Height(h, 100 * end * (1 - math.exp(-h / tau)), 100.0) for h in (8.0, 20.0, 44.0)]
        none, all_ = settling(()), settling(heights)
        self.assertIs(none.hours_to_clear.basis, Basis.ASSUMED)
        self.assertIsNot(all_.hours_to_clear.basis, Basis.ASSUMED)
        self.assertEqual((none.readings, all_.readings), (0, 3))
        self.assertTrue(all_.clear_share.low < end < all_.clear_share.high)
        spread = [one.hours_to_clear.high / one.hours_to_clear.low for one in (none, all_)]
        self.assertLess(spread[1], 0.6 * spread[0])
        clear = [settling(heights, hours).clear_now.median for hours in (0.0, 2.0, 30.0, 500.0)]
        self.assertEqual(clear, sorted(clear))
        self.assertLessEqual(clear[-1], 1.0)
        self.assertGreater(all_.read_again_h, 44.0)

    def test_a_can_that_falls_at_a_constant_rate_is_no_exponential(self) -> None:
        # Clear water over a sharp edge that sinks 2 mm an hour until it packs.
        heights = [Height(h, 2.0 * h, 100.0) for h in (6.0, 12.0, 20.0, 28.0)]
        made = settling(heights)
        self.assertGreater(made.shape[Shape.CONSTANT], 0.5)
        self.assertLess(made.hours_to_clear.low, 45.0)

    def test_heights_that_cannot_be_are_named(self) -> None:
        with self.assertRaises(Refused) as refused:
            check_height(120.0, 100.0)
        self.assertEqual(
            (refused.exception.field, refused.exception.accepted), ("clear_mm", "at most 100 mm, all of it")
        )
        # One that was kept before it was asked about still opens its can.
        self.assertLessEqual(settling([Height(4.0, 120.0, 100.0)]).clear_share.median, 1.0)


class Makeups(unittest.TestCase):
    def test_a_pigment_twice_is_one_part_with_both_hazards(self) -> None:
        made = added(added(Makeup(), [washed("a", 1, "lead")], 0), [washed("a", 3, "silica")], 0, ["item-1"])
        self.assertEqual(made.washed["a"].weight, 4.0)
        self.assertEqual(made.hazards, ("lead", "nuisance-dust", "silica"))
        self.assertEqual(made.sources, ("item-1",))
        self.assertEqual(asked_first(made), ("lead",))

    def test_what_nobody_logged_is_a_hazard_and_asked_about(self) -> None:
        made = added(Makeup(), [washed("a", 3)], 1.0)
        self.assertEqual(made.unknown_share, 0.25)
        self.assertIn(UNKNOWN_PARTS, made.hazards)
        self.assertEqual(asked_first(made), (UNKNOWN_PARTS,))
        self.assertIn(UNKNOWN_PARTS, Makeup().hazards)

    @given(st.integers(0, 2**32))
    def test_hazards_of_what_comes_out_are_the_union_over_its_whole_lineage(self, seed: int) -> None:
        chance = random.Random(seed)
        keys = sorted(known_hazards() - {"none"})
        heaps: list[tuple[Makeup, set[str]]] = []
        for n in range(chance.randint(1, 20)):
            how = chance.choice(("wash", "wash", "share", "together", "beside"))
            if how == "wash" or not heaps:
                mine = set(chance.sample(keys, chance.randint(0, 3)))
                unknown = float(chance.random() < 0.2)
                heaps.append(
                    (
                        added(Makeup(), [washed(f"p{chance.randint(0, 4)}", 1.0, *mine)], unknown, [f"item-{n}"]),
                        mine | ({UNKNOWN_PARTS} if unknown else set()),
                    )
                )
            elif how == "share":
                made, found = chance.choice(heaps)
                heaps.append((share_of(made, chance.uniform(0.01, 1.0)), found))
            elif how == "together":
                (one, of_one), (other, of_other) = chance.choice(heaps), chance.choice(heaps)
                heaps.append((together(one, other), of_one | of_other))
            else:
                made, found = chance.choice(heaps)
                more = chance.choice(keys)
                heaps.append((beside(made, {f"oil {n}": (more,)}), found | {more}))
        for made, found in heaps:
            self.assertEqual(set(made.hazards), found | {"nuisance-dust"})
            self.assertEqual({key for _, keys in made.by_material for key in keys}, found)

    def test_a_drained_cake_holds_more_oil(self) -> None:
        made = added(Makeup(), [washed("a", 3)], 0.0)
        self.assertLess(cake_of(made, oily=True).oil_absorption.median, cake_of(made).oil_absorption.median)


class DishLogs(unittest.TestCase):
    def weighed(self, *pairs: tuple[float, float]) -> Log:
        log = Log()
        for hours, grams in pairs:
            log.dish(hours, "weigh", g=grams)
        return log

    def test_before_three_weighings_it_is_assumed_and_says_how_many_are_missing(self) -> None:
        self.assertIsNone(dish_forecast(dish_of([]), Method.EVAPORATE))
        for readings, missing in (((0, 180.0),), 2), (((0, 180.0), (6, 166.0)), 1):
            found = dish_forecast(dish_of(self.weighed(*readings).acts), Method.EVAPORATE)
            assert found is not None
            self.assertEqual((found.missing, found.down, found.dry_g.basis), (missing, None, Basis.ASSUMED))
        self.assertIsNone(drawn(dish_of(self.weighed((0, 180.0), (6, 166.0)).acts), 50))

    def test_the_worked_dish_from_its_log(self) -> None:
        log = self.weighed(*((h, mass_at(h, 180, 112, 26)) for h in (0, 6, 24, 48)))
        found = dish_forecast(dish_of(log.acts), Method.EVAPORATE)
        assert found is not None and found.ready_hours is not None
        self.assertTrue(found.dry_g.low < 112 < found.dry_g.high)
        self.assertTrue(found.ready_hours.low < 77.4 < found.ready_hours.high)
        curve = drawn(dish_of(log.acts), 100)
        assert curve is not None
        self.assertAlmostEqual(curve.median_g[0], 180, delta=0.6)
        band = [high - low for low, high in zip(curve.low_g, curve.high_g, strict=True)]
        self.assertLess(band[0], band[-1])

    def test_more_sludge_begins_anew_and_striking_takes_it_back(self) -> None:
        log = self.weighed((0, 180.0), (6, 166.0), (24, 139.0))
        more = log.dish(30, "added", g=260.0)
        dish = dish_of(log.acts)
        self.assertEqual((len(dish.weighed), len(dish.all_weighed), dish.added), (1, 4, 1))
        log.dish(31, "strike", strikes=more)
        self.assertEqual(len(dish_of(log.acts).weighed), 3)

    def test_squeezed_sludge_is_a_quarter_to_two_fifths_liquid(self) -> None:
        log = self.weighed((0, 180.0))
        log.dish(1, "squeezed", g=100.0)
        found = dish_forecast(dish_of(log.acts), Method.SQUEEZE)
        assert found is not None
        self.assertAlmostEqual(found.dry_g.low or 0, 60)
        self.assertAlmostEqual(found.dry_g.high or 0, 75)
        self.assertIsNone(found.ready_hours)

    def test_strained_and_into_stock_ends_it(self) -> None:
        log = self.weighed((0, 180.0))
        log.dish(90, "strained", mesh_um=150.0, hairs=True)
        log.dish(91, "to_stock", g=112.0)
        dish = dish_of(log.acts)
        self.assertEqual((dish.strained_um, dish.hairs_out, dish.status), (150.0, True, Status.FINISHED))

    def test_five_dishes_make_the_studio_s_own_pace(self) -> None:
        self.assertEqual(own_pace([20.0] * 4), (30.0, 0.9))
        tau, sd = own_pace([18.0, 20.0, 22.0, 19.0, 21.0])
        self.assertAlmostEqual(tau, 19.95, delta=0.05)
        self.assertEqual(sd, 0.15)


class Steered(unittest.TestCase):
    PAINTS = (
        Paint("1", "blue", "high", "#22398a"),
        Paint("2", "red", "medium", "#8a2f22"),
        Paint("3", "black", "high", "#111111"),
    )

    def test_it_says_which_way_a_colour_leans(self) -> None:
        for srgb, lean in (
            ("#808080", "neutral"),
            ("#6f8a6a", "green"),
            ("#8a6f55", "yellow brown"),
            ("#566a92", "blue"),
            ("#9a6a6a", "red brown"),
        ):
            self.assertEqual(lean_of(srgb)[0], lean, srgb)

    def test_the_opposite_colour_brings_it_nearest(self) -> None:
        brown = "#7a5f45"
        steering = steer(brown, "medium", aim_of(brown, Grey.NEUTRAL), self.PAINTS)
        self.assertEqual(steering.ways[0].paint.name, "blue")
        self.assertLess(steering.ways[0].off, 0.75 * steering.off)
        self.assertEqual([way.off for way in steering.ways], sorted(way.off for way in steering.ways))
        for way in steering.ways:
            self.assertLess(way.off, steering.off)
            self.assertEqual(way.says, seen_off(way.off, 12.0))

    def test_how_far_off_it_looks_is_said(self) -> None:
        said = [seen_off(off) for off in (0.4, 1.0, 2.9, 3.0, 7.9, 8.0)]
        self.assertEqual([seen_off(0.4, may) for may in (0.5, 0.6, 4.0)], ["no different from", "close to", "close to"])
        self.assertEqual(seen_off(3.0, 4.0), "near")
        self.assertEqual(said, ["no different from", "close to", "close to", "near", "near", "far from"])

    def test_warm_and_cool_lie_on_either_side_of_neutral(self) -> None:
        grey = "#777777"
        warm, cool = aim_of(grey, Grey.WARM), aim_of(grey, Grey.COOL)
        self.assertGreater(int(warm[1:3], 16), int(warm[5:7], 16))
        self.assertLess(int(cool[1:3], 16), int(cool[5:7], 16))
        self.assertEqual(steer(grey, "medium", grey, self.PAINTS).ways, ())
