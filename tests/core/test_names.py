"""Names found as they are typed."""

import unittest

from hypothesis import example, given
from hypothesis import strategies as st

from niddy.core.names import folded, words_of
from niddy.reference import library


class Names(unittest.TestCase):
    def test_accents_capitals_commas_and_hyphens_do_not_matter(self) -> None:
        self.assertEqual(folded("Terre  d'ombre, brûlée"), "terre d ombre brulee")
        self.assertEqual(words_of("Linseed oil, refined"), ("linseed", "oil", "refined"))
        self.assertEqual(words_of("LEAD-TIN_yellow"), ("lead", "tin", "yellow"))
        self.assertEqual(words_of(" , - "), ())
        self.assertEqual(words_of("#24-1, PY 35:1"), ("24-1", "py", "35:1"))

    @given(st.text(max_size=60))
    @example("0:_0")
    @example("\N{BLACK-LETTER CAPITAL H}")
    def test_folding_twice_changes_nothing(self, text: str) -> None:
        self.assertEqual(folded(folded(text)), folded(text))

    def test_every_pigment_is_found_by_each_of_its_names_in_capitals(self) -> None:
        for pigment in library().pigments.values():
            for name in (pigment.name, *pigment.synonyms):
                self.assertTrue(all(word in pigment.names for word in words_of(name.upper())), name)
