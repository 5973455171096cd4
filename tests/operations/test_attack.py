"""A short part of `./niddy attack`, seeded: nothing acknowledged is lost and no instance is bricked."""

import random
import unittest
from unittest import mock

from niddy.operations.instance import Instance
from tests.attack import acts as attack_acts
from tests.attack import attacking as attack
from tests.attack import files as attack_files
from tests.attack import people as attack_people
from tests.attack.attacking import Outcome
from tests.attack.foreign import foreign_page

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


class Short(unittest.TestCase):
    """The other attacks, each for a moment."""

    def held(self, outcome: Outcome, at_least: int) -> None:
        self.assertEqual(outcome.notes, [])
        self.assertGreaterEqual(outcome.tries, at_least)

    def test_acts_are_undone_at_random_and_an_older_backup_comes_back(self) -> None:
        luck = random.Random(SEED)
        self.held(attack._plain("undone", lambda at: attack_acts.undone(at, luck, 2)), 20)
        self.held(attack._plain("older", attack_acts.after_an_older_backup), 5)

    def test_two_windows_of_one_browser_send_one_queue(self) -> None:
        self.held(attack._plain("windows", lambda at: attack_acts.two_windows(at, 1)), 1)

    def test_crafted_files_and_garbled_notes(self) -> None:
        self.held(attack._plain("backups", attack_files.crafted_backups), 3)
        self.held(attack._plain("packages", attack_files.crafted_packages), 9)
        self.held(attack._plain("notes", attack_files.garbled_notes), 10)

    def test_nobody_gets_past_a_role_and_nobody_waits_for_a_flood(self) -> None:
        self.held(attack._plain("roles", attack_people.past_a_role, network=True), 2_000)
        # How long who works waits is for the long run to say: here others work on the same cores.
        with mock.patch.object(attack_people, "QUICK_S", 30.0):
            self.held(attack._plain("floods", attack_people.floods_of_passwords, network=True), 160)
