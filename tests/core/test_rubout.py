"""Rub-outs in the core, and the promise of the learned demand: its band holds the truth, its first pour is safe."""

import math
import random
import unittest
from dataclasses import replace

from niddy.core import pours, rubout, wetting
from niddy.core.demand import (
    COUNTED_SD_LN,
    LOT_SD_LN,
    WEIGHED_SD_LN,
    EyeKnown,
    LotRecords,
    Observation,
    learn,
    lot_sd,
    rub_out_sd,
    weigh_records,
)
from niddy.core.errors import Refused
from niddy.core.estimate import Z90, Basis, Estimate
from niddy.core.measures import Measure, Unit, to_grams
from niddy.core.rubout import Added
from niddy.reference import library


def weighed(*grams: float) -> tuple[Added, ...]:
    return tuple(Added(Estimate.exact(g, Basis.MEASURED), Unit.GRAM) for g in grams)


class OneTest(unittest.TestCase):
    def test_a_weighed_test(self) -> None:
        found = rubout.result(5.0, weighed(2.0, 0.6), 0.930)
        self.assertAlmostEqual(found.in_oil.value, 52.0)
        self.assertAlmostEqual(found.in_reference.value, 52.0)
        self.assertEqual(found.sd_ln, WEIGHED_SD_LN)

    def test_one_step_by_drops_makes_it_a_counted_one(self) -> None:
        drops = Added(to_grams(Measure(Unit.DROP, 10)), Unit.DROP)
        found = rubout.result(5.0, (*weighed(2.0), drops, drops), 0.924)
        # Two times ten drops of one bottle err together, over all the oil there is.
        measuring = 0.46 * math.log(1.3) / Z90 / 2.46
        self.assertAlmostEqual(found.measuring_sd_ln, measuring)
        self.assertAlmostEqual(found.sd_ln, math.hypot(WEIGHED_SD_LN, measuring))
        all_drops = rubout.result(5.0, (Added(to_grams(Measure(Unit.DROP, 110)), Unit.DROP),), 0.930)
        self.assertAlmostEqual(all_drops.sd_ln, math.hypot(0.05, 0.1595), 4)
        self.assertAlmostEqual(found.oil_g.half_width, 2 * 0.23 * 0.3)
        self.assertAlmostEqual(found.in_reference.value, found.in_oil.value * 0.930 / 0.924)

    def test_the_eye_is_led_from_dust_to_the_end(self) -> None:
        keys = [rubout.phase(oil, 5.0, 52.0).key for oil in (0.0, 1.6, 2.2, 2.5, 4.0)]
        self.assertEqual(keys, ["dust", "crumbs", "lumps", "close", "close"])

    def test_refusals(self) -> None:
        for field, call in {
            "steps": lambda: rubout.result(5.0, (), 0.93),
            "pigment_g": lambda: rubout.check_start(-5.0, None),
            "temperature_c": lambda: rubout.check_start(5.0, 99.0),
            "oil_density_g_per_ml": lambda: rubout.result(5.0, weighed(2), 0.0),
        }.items():
            with self.subTest(field), self.assertRaises(Refused) as caught:
                call()
            self.assertEqual(caught.exception.field, field)


class Repeats(unittest.TestCase):
    def test_agreement(self) -> None:
        self.assertIsNone(rubout.agreement([]))
        cases = {(52.0,): True, (52.0, 55.0): False, (50.0, 56.0): True, (50.0, 56.0, 53.0): False}
        for values, again in cases.items():
            found = rubout.agreement(list(values))
            assert found is not None
            self.assertEqual((found.count, found.ask_again), (len(values), again), values)
            self.assertAlmostEqual(found.mean_g_per_100g, sum(values) / len(values))

    def test_exactly_a_tenth_is_still_agreement(self) -> None:
        found = rubout.agreement([95.0, 105.0])
        assert found is not None
        self.assertFalse(found.ask_again)


class Contributions(unittest.TestCase):
    def test_the_share_is_how_far_the_estimate_follows_a_record(self) -> None:
        records = (Observation(52, 0.05), Observation(55, 0.1), Observation(50, 0.12))
        lots = (LotRecords("A", records), LotRecords("B", (Observation(60, 0.05),)))
        base = math.log(learn(42, 68, lots).lots["A"].estimate.median)
        for n, said in enumerate(weigh_records(42, 68, lots)["A"]):
            moved = list(records)
            moved[n] = Observation(records[n].oil_absorption_g_per_100g * math.exp(0.01), records[n].sd_ln)
            after = math.log(learn(42, 68, (LotRecords("A", tuple(moved)), lots[1])).lots["A"].estimate.median)
            self.assertAlmostEqual(said.share, (after - base) / 0.01, 9)

    def test_a_record_read_by_eye_has_the_share_its_bias_leaves_it(self) -> None:
        records = (Observation(52, 0.05), Observation(58, 0.08, eye_k=1.0), Observation(49, 0.1, eye_k=0.6))
        told = weigh_records(42, 68, (LotRecords("A", records),))["A"]
        base = math.log(learn(42, 68, (LotRecords("A", records),)).lots["A"].estimate.median)
        for n, said in enumerate(told):
            moved = list(records)
            moved[n] = replace(records[n], oil_absorption_g_per_100g=records[n].oil_absorption_g_per_100g * 1.01)
            after = math.log(learn(42, 68, (LotRecords("A", tuple(moved)),)).lots["A"].estimate.median)
            self.assertAlmostEqual(said.share, (after - base) / math.log(1.01), 9)
        plain = weigh_records(42, 68, (LotRecords("A", tuple(replace(one, eye_k=0.0) for one in records)),))["A"]
        self.assertLess(told[1].share, plain[1].share, "a bias nobody knows makes a look say less")
        self.assertGreater(told[0].share, plain[0].share)

    def test_a_record_is_judged_against_the_estimate_made_without_it(self) -> None:
        records = (Observation(52, 0.05), Observation(55, 0.1))
        without = learn(42, 68, (LotRecords("A", records[:1]),)).lots["A"]
        off = math.log(55 / without.estimate.median) / math.hypot(without.sd_ln, 0.1)
        self.assertAlmostEqual(weigh_records(42, 68, (LotRecords("A", records),))["A"][1].off_sd, off, 9)

    def test_only_what_is_far_off_is_an_outlier(self) -> None:
        lots = (LotRecords("A", (*(Observation(v, 0.05) for v in (52, 53, 51)), Observation(70, 0.05))),)
        self.assertEqual([w.outlier for w in weigh_records(42, 68, lots)["A"]], [False, False, False, True])

    def test_one_far_off_is_held_back_until_it_is_confirmed(self) -> None:
        good = tuple(Observation(v, 0.05) for v in (51, 52.5, 52.8))
        wild = Observation(52.8 * 1.3, 0.05)
        without = learn(42, 68, (LotRecords("A", good),)).lots["A"].estimate
        held = learn(42, 68, (LotRecords("A", (*good, wild)),), hold_back=True).lots["A"].estimate
        self.assertAlmostEqual(held.median, without.median)
        self.assertTrue(held.low < 52 < held.high)
        (*_, last) = weigh_records(42, 68, (LotRecords("A", (*good, wild)),), hold_back=True)["A"]
        self.assertTrue(last.outlier)
        self.assertEqual(last.share, 0.0)
        sure = (*good, replace(wild, confirmed=True))
        self.assertGreater(learn(42, 68, (LotRecords("A", sure),), hold_back=True).lots["A"].estimate.median, 54)
        self.assertFalse(weigh_records(42, 68, (LotRecords("A", sure),), hold_back=True)["A"][-1].outlier)

    def test_the_studio_learns_its_own_noise(self) -> None:
        self.assertAlmostEqual(rub_out_sd([]), WEIGHED_SD_LN)
        self.assertAlmostEqual(rub_out_sd([[4.0, 4.0]]), WEIGHED_SD_LN * math.sqrt(8 / 9))
        self.assertAlmostEqual(rub_out_sd([[4.0, 4.2], [3.0]]), math.sqrt((8 * 0.0025 + 0.02) / 9))
        self.assertEqual(lot_sd([4.0, 4.4]), LOT_SD_LN)
        self.assertAlmostEqual(lot_sd([4.0, 4.1, 4.2]), math.sqrt((6 * 0.0064 + 0.02) / 8))

    def test_rub_outs_tell_the_eye_from_the_powder(self) -> None:
        seen = Observation(60.0, 0.04, eye_k=2.0)
        alone = learn(42, 68, (LotRecords("A", (seen, seen)),))
        both = learn(42, 68, (LotRecords("A", (seen, seen, *(Observation(52.0, 0.03) for _ in range(4)))),))
        self.assertGreater(both.eye_bias, alone.eye_bias)
        self.assertGreater(both.eye_bias, 0.04)
        self.assertLess(both.eye_sd, alone.eye_sd)
        self.assertAlmostEqual(both.lots["A"].estimate.median, 52.3, delta=0.8)
        # What the eye is known to do elsewhere is taken off here.
        known = learn(42, 68, (LotRecords("A", (seen,)),), eye=EyeKnown(0.06, 0.005))
        self.assertLess(
            known.lots["A"].estimate.median, learn(42, 68, (LotRecords("A", (seen,)),)).lots["A"].estimate.median
        )
        self.assertAlmostEqual(known.eye_precision, alone.eye_precision, delta=alone.eye_precision)


class MadeUpStudios(unittest.TestCase):
    """300 seeded studios whose hidden truth is drawn from the model."""

    def test_the_band_holds_the_truth_and_the_first_pour_is_safe(self) -> None:
        held = overshot = count = 0
        pigments = list(library().pigments.values())
        for seed in range(300):
            luck = random.Random(seed)
            pigment = luck.choice(pigments)
            low, high = pigment.oil_absorption_low, pigment.oil_absorption_high
            theta = luck.gauss((math.log(low) + math.log(high)) / 2, math.log(high / low) / (2 * Z90))
            truths, lots = {}, []
            for key in ("A", "B", "C"):
                truth = theta + luck.gauss(0, LOT_SD_LN)
                truths[key] = math.exp(truth)
                records = []
                for _ in range(luck.randrange(4)):
                    sd = luck.choice((WEIGHED_SD_LN, COUNTED_SD_LN, 0.12))
                    records.append(Observation(math.exp(truth + luck.gauss(0, sd)), sd))
                lots.append(LotRecords(key, tuple(records)))
            learned = learn(low, high, tuple(lots)).lots
            density = pigment.density_g_per_ml
            for key, truth_g in truths.items():
                demand = learned[key]
                count += 1
                held += demand.estimate.low <= truth_g <= demand.estimate.high
                first = pours.ladder(100, demand.estimate.median, demand.sd_ln, density, 0.930, 0.86).pours[0]
                overshot += first.cumulative_g > wetting.ratio_at(0.86, truth_g, density, 0.930)
        self.assertTrue(0.86 <= held / count <= 0.94, f"{held} of {count} held")
        self.assertLessEqual(overshot / count, 0.13, f"{overshot} of {count} overshot")
