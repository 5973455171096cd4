"""The words of the craft: each in a sentence that can be read aloud, and each with a drawing on screen."""

import re
import unittest

from niddy.reference import terms
from niddy.settings import ROOT

DRAWN = (ROOT / "frontend" / "src" / "kit" / "terms.ts").read_text()


class Terms(unittest.TestCase):
    def test_each_stands_once_and_ends_as_a_sentence(self) -> None:
        names = [term.term for term in terms()]
        self.assertEqual(len(names), len(set(names)))
        for term in terms():
            with self.subTest(term.term):
                self.assertRegex(term.says, r"^[A-ZΔ].*[.]$")
                self.assertNotIn("  ", term.says)
                self.assertLess(len(term.says), 150)

    def test_each_has_a_drawing_and_no_drawing_is_left_over(self) -> None:
        drawn = set(re.findall(r"^  '?([\w -]+?)'?: \[", DRAWN, re.MULTILINE))
        self.assertEqual(drawn, {term.term for term in terms()})

    def test_every_term_that_a_screen_names_is_one(self) -> None:
        names = {term.term for term in terms()}
        screens = (ROOT / "frontend" / "src" / "rooms").rglob("*.vue")
        asked = {name for screen in screens for name in re.findall(r'<Term of="([^"]+)"', screen.read_text())}
        self.assertGreater(len(asked), 12)
        self.assertLessEqual(asked, names)
