"""Forked processes do what fresh ones do: same words, same exit codes, and what is to be done at the end."""

import atexit
import os
import signal
import subprocess
import tempfile
import time
import unittest
from pathlib import Path

from niddy.operations.forking import Forked
from niddy.operations.instance import NOWHERE, Instance


def leave_a_word(file: str) -> None:
    """Work for a forked process: a word now, and one at its end."""
    print("at work", os.environ["NIDDY_WORD"])
    atexit.register(Path(file).write_text, "left")


class Forks(unittest.TestCase):
    def begun(self, *given: object, work: object = time.sleep, out: Path = NOWHERE) -> Forked:
        process = Forked(work, given, {**os.environ, "NIDDY_WORD": "ochre"}, out, NOWHERE)  # type: ignore[arg-type]
        self.addCleanup(process.kill)
        return process

    def test_a_command_says_and_answers_the_same_forked_or_fresh(self) -> None:
        for arguments in (("stop",), ("restore", "/no/such/place.backup"), ("backup", "/no/such/place.backup")):
            with self.subTest(arguments):
                told = []
                for cold in (True, False):
                    instance = Instance(cold=cold)
                    self.addCleanup(instance.destroy)
                    done = instance.run(*arguments)
                    told.append((done.returncode, done.stdout, done.stderr))
                self.assertEqual(*told)
                self.assertTrue(told[0][1] or told[0][2])

    def test_it_is_waited_for_and_killed(self) -> None:
        process = self.begun(60)
        self.assertIsNone(process.poll())
        self.assertRaises(subprocess.TimeoutExpired, process.wait, 0.1)
        process.kill()
        self.assertEqual(process.wait(20), -signal.SIGKILL)
        process.send_signal(signal.SIGTERM)
        self.assertEqual(process.poll(), -signal.SIGKILL)

    def test_it_has_its_own_words_and_does_at_its_end_what_it_said_it_would(self) -> None:
        folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        process = self.begun(str(folder / "word"), work=leave_a_word, out=folder / "printed")
        self.assertEqual(process.wait(60), 0)
        self.assertEqual((folder / "printed").read_text(), "at work ochre\n")
        self.assertEqual((folder / "word").read_text(), "left")
        self.assertNotIn("NIDDY_WORD", os.environ)

    def test_what_goes_wrong_is_an_exit_code(self) -> None:
        self.assertEqual(self.begun("no number").wait(60), 1)
