"""The log every craft shares: what counts of it, whatever order it came in."""

import unittest
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from random import Random
from uuid import UUID, uuid4

from hypothesis import given
from hypothesis import strategies as st

from niddy.core import log, timers
from niddy.core.due import Due, in_order
from niddy.core.timers import Timer

AT = datetime(2026, 3, 2, 9, tzinfo=UTC)


@dataclass(frozen=True)
class Act:
    id: UUID
    seq: int
    strikes: UUID | None = None
    adds: int = 0


def logged(strikes: list[int | None]) -> list[Act]:
    """A log where each place adds a power of two, or strikes an earlier place."""
    acts: list[Act] = []
    for n, target in enumerate(strikes):
        struck = acts[target % n].id if n and target is not None else None
        acts.append(Act(uuid4(), n + 1, struck, 0 if struck else 1 << n))
    return acts


class Folding(unittest.TestCase):
    def test_a_strike_takes_out_and_striking_it_brings_back(self) -> None:
        acts = logged([None, None, 0])
        self.assertEqual(log.fold(acts, 0, lambda total, act: total + act.adds), 2)
        acts = logged([None, None, 0, 2])
        self.assertEqual(log.fold(acts, 0, lambda total, act: total + act.adds), 3)
        acts = logged([None, None, 0, 2, 3])
        self.assertEqual(log.fold(acts, 0, lambda total, act: total + act.adds), 2)

    @given(st.lists(st.none() | st.integers(0, 50), max_size=20), st.integers(0, 1_000))
    def test_the_order_it_came_in_changes_nothing(self, strikes: list[int | None], seed: int) -> None:
        acts = logged(strikes)
        shuffled = Random(seed).sample(acts, len(acts))
        self.assertEqual(log.counting(shuffled), log.counting(acts))
        counted = {act.id for act in log.counting(acts)}
        for act in acts:
            live = [one for one in acts if one.strikes == act.id and one.id not in log.struck(acts)]
            self.assertEqual(act.id in counted, not live and act.strikes is None)


class Timers(unittest.TestCase):
    def test_spells_add_up_and_a_running_one_counts(self) -> None:
        timer = timers.started(Timer(), AT)
        self.assertIs(timers.started(timer, AT + timedelta(minutes=1)), timer)
        self.assertEqual(timers.spent_s(timer, AT + timedelta(minutes=2)), 120)
        timer = timers.stopped(timer, AT + timedelta(minutes=3))
        self.assertEqual((timers.spent_s(timer), timers.spent_s(timer, AT + timedelta(hours=1))), (180, 180))
        self.assertIs(timers.stopped(timer, AT), timer)
        again = timers.stopped(timers.started(timer, AT), AT + timedelta(hours=9), minutes=5)
        self.assertEqual(again.seconds, 480)

    def test_a_clock_set_back_takes_nothing_away(self) -> None:
        spell = timers.ended(AT, AT - timedelta(minutes=1))
        self.assertEqual((spell.seconds, spell.backwards), (0.0, True))
        known = timers.ended(AT, AT - timedelta(minutes=1), minutes=2)
        self.assertEqual((known.seconds, known.backwards), (120.0, False))


class Waiting(unittest.TestCase):
    def test_the_earliest_comes_first(self) -> None:
        one, other = (Due("checks", key, "Bleed", "Bone black", "", AT, "/") for key in ("b", "a"))
        early = Due("shelf", "z", "Look at", "Viridian", "", AT - timedelta(days=1), "/")
        self.assertEqual(in_order([one, other, early]), (early, other, one))
