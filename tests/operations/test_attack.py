"""A short part of `./niddy attack`, seeded: nothing acknowledged is lost and no instance is bricked."""

import random
import unittest

from niddy.operations import attack
from niddy.operations.attack import Outcome
from niddy.operations.attack_foreign import foreign_page
from niddy.operations.instance import Instance

SEED = 4


class Kills(unittest.TestCase):
    def held(self, outcome: Outcome, tries: int) -> None:
        self.assertEqual(outcome.tries, tries, outcome.notes)
        self.assertTrue(outcome.held, outcome)

    def test_a_first_start_killed_in_the_middle(self) -> None:
        self.held(attack.kills_at_start(random.Random(SEED), 2), 2)

    def test_server_and_database_killed_under_an_open_slab(self) -> None:
        self.held(attack.kills_at_the_slab(random.Random(SEED), 5), 5)

    def test_backup_and_restore_killed(self) -> None:
        self.held(attack.kills_at_backup_and_restore(random.Random(SEED), 4), 4)

    def test_an_import_killed(self) -> None:
        self.held(attack.kills_at_import(random.Random(SEED), 2), 2)

    def test_a_whole_studio_killed_on_its_way_out_and_in(self) -> None:
        self.held(attack.kills_at_whole_studio(random.Random(SEED), 3), 3)


class Foreign(unittest.TestCase):
    def test_a_foreign_page_changes_nothing(self) -> None:
        instance = Instance.furnished(attack.DAY)
        self.addCleanup(instance.destroy)
        instance.start()
        tries, harm = foreign_page(instance)
        self.assertGreater(tries, 10)
        self.assertEqual(harm, [])
