"""What a maker is told: read from the code as a list, and held to the manner of the house."""

import re
import unittest

from niddy.operations.words import Told, told

HOUSE_WORDS = re.compile(r"\b(reckon\w*|struck out|strike out|not decided on|till then|as assumed, until|Accepted)\b")
AT_MOST = 260
"""So long is the longest that is said at once."""


class Words(unittest.TestCase):
    told: tuple[Told, ...]

    @classmethod
    def setUpClass(cls) -> None:
        cls.told = told()

    def where(self, wrong: list[Told]) -> str:
        return "\n".join(f"{one.where}: {one.words}" for one in wrong[:12])

    def test_both_floors_and_screens_are_in_it(self) -> None:
        self.assertGreater(len(self.told), 3_000)
        words = {one.words for one in self.told}
        self.assertIn(
            "Oily rags and paper into the metal can of water, lid on: they can catch fire by themselves.", words
        )
        self.assertIn("What will you make?", words)

    def test_no_word_of_the_house_is_said_to_a_maker(self) -> None:
        wrong = [one for one in self.told if HOUSE_WORDS.search(one.words)]
        self.assertFalse(wrong, self.where(wrong))

    def test_none_has_a_doubled_space_or_is_a_page_long(self) -> None:
        kept = [one for one in self.told if not one.where.startswith("exchange/") and "select " not in one.words]
        wrong = [one for one in kept if "  " in one.words.strip() or len(one.words) > AT_MOST]
        self.assertFalse(wrong, self.where(wrong))

    def test_a_sentence_ends_before_the_next_begins(self) -> None:
        wrong = [one for one in self.told if re.search(r"[a-z]\.[A-Z][a-z]+ [a-z]", one.words)]
        self.assertFalse(wrong, self.where(wrong))
