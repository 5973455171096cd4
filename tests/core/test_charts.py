"""Charts: what is called out of the ordinary, how seldom by chance, and how soon where it is so."""

import random
import unittest

from niddy.core.charts import FROZEN_FROM, Alarm, capability, chart, drifts, trend
from niddy.core.checks import TOWARDS, CheckKind


def series(luck: random.Random, count: int, shift: float = 0.0, after: int = 0) -> list[float]:
    return [45 + luck.gauss(shift if n >= after and shift else 0, 1) for n in range(count)]


class FalseAlarms(unittest.TestCase):
    def test_below_one_in_a_hundred_batches(self) -> None:
        luck = random.Random(20)
        judged = raised = 0
        for _ in range(400):
            told = chart(series(luck, 60))
            assert told is not None
            judged += 60 - FROZEN_FROM
            raised += len({one.at for one in told.alarms if one.at >= FROZEN_FROM})
        self.assertLess(raised / judged, 0.01, f"{raised} of {judged}")

    def test_few_before_the_limits_are_frozen(self) -> None:
        luck = random.Random(21)
        raised = judged = 0
        for _ in range(600):
            told = chart(series(luck, 19))
            assert told is not None
            self.assertTrue(told.provisional)
            self.assertNotIn(Alarm.DRIFT, {one.alarm for one in told.alarms})
            judged += 19 - 8
            raised += len(told.alarms)
        self.assertLess(raised / judged, 0.01, f"{raised} of {judged}")


class Found(unittest.TestCase):
    def waits(self, shift: float) -> float:
        luck = random.Random(22)
        waits = []
        for _ in range(200):
            told = chart(series(luck, 100, shift, FROZEN_FROM))
            assert told is not None
            waits.append(min((one.at for one in told.alarms if one.at >= FROZEN_FROM), default=100) - FROZEN_FROM + 1)
        return sorted(waits)[100]

    def test_a_shift_of_one_sigma_within_some_batches_and_of_two_soon(self) -> None:
        self.assertLessEqual(self.waits(1.0), 16)
        self.assertLessEqual(self.waits(2.0), 5)

    def test_a_late_outlier_marks_none_before_it(self) -> None:
        luck = random.Random(23)
        for count in (12, 30):
            values = [*series(luck, count), 70.0]
            told = chart(values)
            assert told is not None
            self.assertEqual({one.at for one in told.alarms}, {count})
            self.assertIn(Alarm.FAR_OFF, {one.alarm for one in told.alarms})

    def test_a_trend_is_said_with_its_step_and_chance_is_not(self) -> None:
        rising = trend([45 + 0.5 * n + 0.1 * (-1) ** n for n in range(10)])
        assert rising is not None
        self.assertIn("Drifts up: 0.49 a batch over the last 10", rising.says)
        self.assertEqual(
            drifts(-0.5, TOWARDS[CheckKind.SPREAD], "mm"), "Drifts stiffer: 0.5 mm a batch over the last 10."
        )
        self.assertIsNone(trend([45 + (-1) ** n for n in range(10)]))
        self.assertIsNone(trend([1.0, 2.0, 3.0]))

    def test_the_range_of_cpk_holds_the_true_one_nine_times_in_ten(self) -> None:
        luck, of = random.Random(38), 400
        for n in (8, 20):
            held = 0
            for _ in range(of):
                off = luck.uniform(0, 2)
                found = capability([luck.gauss(45 + off, 1) for _ in range(n)], 41, 49)
                assert found is not None
                held += found.low <= (4 - off) / 3 <= found.high
            self.assertTrue(0.85 <= held / of <= 0.96, (n, held / of))

    def test_few_batches_speak_of_one_far_off_as_rarely_as_many_do(self) -> None:
        luck, of = random.Random(3), 2_000
        raised = sum(bool((told := chart(series(luck, 12))) and told.alarms) for _ in range(of))
        self.assertLess(raised / of, 0.01)
        told = chart([*(45 + 0.3 * (-1) ** n for n in range(9)), 52.0, 45.0])
        assert told is not None
        self.assertEqual([(one.alarm, one.at) for one in told.alarms], [(Alarm.FAR_OFF, 9)])

    def test_cpk_has_a_range_and_too_few_say_nothing(self) -> None:
        told = chart(series(random.Random(24), 40), 40, 50)
        assert told is not None and told.cpk is not None and told.cpk_low is not None and told.cpk_high is not None
        self.assertTrue(told.cpk_low < told.cpk < told.cpk_high)
        self.assertIsNone(chart([45.0] * 7))
        even = chart([45.0] * 30)
        assert even is not None
        self.assertEqual((even.alarms, even.cpk), ((), None))
