"""Names found as they are typed."""

import unittest

from hypothesis import example, given
from hypothesis import strategies as st

from niddy.core.names import Named, find_named, folded, words_of
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


SHIPPED = [Named(one.key, one.name, one.synonyms, (one.ci_name, one.family)) for one in library().pigments.values()]


class Found(unittest.TestCase):
    def keys(self, typed: str) -> list[str]:
        return [one.key for one in find_named(typed, SHIPPED).found]

    def test_as_makers_type_them(self) -> None:
        for typed, first in (
            ("ocher", "yellow-ochre"),
            ("Yellow OCHER", "yellow-ochre"),
            ("ultramarine blue deep", "ultramarine-blue"),
            ("green earth german", "green-earth"),
            ("earth green", "green-earth"),
            ("viridan", "viridian"),
            ("zinc wite", "zinc-white"),
            ("burnt umbre", "burnt-umber"),
            ("pb 29", "ultramarine-blue"),
            ("PB29", "ultramarine-blue"),
            ("lapis", "ultramarine-blue"),
            ("terre verte", "green-earth"),
        ):
            with self.subTest(typed):
                self.assertEqual(self.keys(typed)[:1], [first])

    def test_never_a_piece_inside_another_word_nor_another_first_letter(self) -> None:
        self.assertEqual(self.keys("ine"), [])
        self.assertEqual(self.keys("erald"), [])
        azurite = find_named("azurite", SHIPPED)
        self.assertEqual(azurite.found, ())
        self.assertNotIn("ultramarine-blue", [one.key for one in azurite.nearest], "lazurite is another stone")

    def test_a_slip_needs_five_letters(self) -> None:
        self.assertEqual(self.keys("blux"), [])
        self.assertIn("blanc-fixe", self.keys("blanx"))

    def test_a_whole_name_stands_before_a_longer_one(self) -> None:
        self.assertEqual(self.keys("umber"), ["raw-umber", "burnt-umber"])
        self.assertEqual(self.keys("red")[0], "red-ochre")
        self.assertGreater(self.keys("earth").index("yellow-ochre"), self.keys("earth").index("green-earth"))

    def test_it_says_by_which_other_name(self) -> None:
        (one,) = find_named("lapis", SHIPPED).found
        self.assertEqual(one.also, "lapis")
        self.assertEqual(find_named("ultramarine", SHIPPED).found[0].also, "")

    def test_nothing_found_offers_the_three_most_alike(self) -> None:
        found = find_named("cobaltian bleu", SHIPPED)
        self.assertEqual(found.found, ())
        self.assertTrue([one.key for one in found.nearest if "cobalt" in one.key])
        self.assertLessEqual(len(found.nearest), 3)

    def test_nothing_typed_is_everything_in_order(self) -> None:
        self.assertEqual(self.keys(" "), [one.key for one in SHIPPED])

    def test_every_shipped_pigment_is_first_by_its_own_name(self) -> None:
        for one in SHIPPED:
            self.assertEqual(self.keys(one.name)[0], one.key)

    @given(st.text(max_size=80))
    def test_whatever_is_typed(self, typed: str) -> None:
        found = find_named(typed, SHIPPED[:6])
        self.assertFalse(found.found and found.nearest)
