"""What is in a paint travels with the gram; sources name where it came from."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from niddy.core.cautions import protection_words
from niddy.core.contents import Content, Role, grams_of, hazard_keys, hazards_of, joined, not_fully_known, scaled
from niddy.core.errors import Refused
from niddy.core.sources import Source, SourceKind, lot_of, of_lot, source

BLACK = Content("lot-1", Role.PIGMENT, "Bone black", 100.0, 2.5, ("carbon-dust", "nuisance-dust"))
DRIER = Content("library-cobalt-drier", Role.ADDITIVE, "Cobalt drier", 0.2, 0.95, ("driers", "cobalt"))


class Contents(unittest.TestCase):
    def test_hazards_follow_each_gram_and_dust_stays_with_the_making(self) -> None:
        paint = (BLACK, DRIER)
        self.assertEqual(hazards_of(paint), (("Bone black", ()), ("Cobalt drier", ("driers", "cobalt"))))
        self.assertEqual(hazard_keys(scaled(paint, 0.001)), ("cobalt", "driers"))

    def test_the_same_from_the_same_source_becomes_one_with_the_hazards_of_both(self) -> None:
        noted = Content("lot-1", Role.PIGMENT, "Bone black", 50.0, 2.5, ("lead",))
        other = Content("lot-2", Role.PIGMENT, "Bone black", 5.0, 2.5)
        both = joined((BLACK,), (noted, other))
        self.assertEqual([one.grams for one in both], [150.0, 5.0])
        self.assertEqual(both[0].hazards, ("carbon-dust", "nuisance-dust", "lead"))

    @given(st.floats(0, 100), st.lists(st.floats(0.001, 500), max_size=6))
    def test_nothing_is_lost_in_parts(self, factor: float, masses: list[float]) -> None:
        paint = tuple(Content(f"lot-{n % 3 + 1}", Role.OIL, "Oil", grams) for n, grams in enumerate(masses))
        self.assertAlmostEqual(grams_of(joined(scaled(paint, factor))), factor * sum(masses), 6)


class Sources(unittest.TestCase):
    def test_each_kind_comes_back_as_it_was_named(self) -> None:
        for name, kind in (
            ("lot-12", SourceKind.LOT),
            ("library-bone-black", SourceKind.LIBRARY),
            ("blend", SourceKind.BLEND),
            ("old-1f", SourceKind.OLD),
        ):
            self.assertEqual((str(source(name)), source(name).kind), (name, kind))
        self.assertEqual((lot_of("lot-12"), lot_of("library-x"), lot_of("lot-0")), (12, None, None))
        self.assertEqual((of_lot(3, "x"), of_lot(None, "x")), ("lot-3", "library-x"))
        self.assertEqual(source("lot-7"), Source(SourceKind.LOT, 7))

    def test_what_names_nothing_is_refused(self) -> None:
        for odd in ("", "lot-", "lot--1", "lot-01", "library-", "LOT-1", "lot-1 ", "old-xyz"):
            with self.subTest(odd), self.assertRaises(Refused) as caught:
                source(odd)
            self.assertEqual(caught.exception.field, "source")


class Known(unittest.TestCase):
    def test_what_a_part_of_is_unknown_is_not_fully_known(self) -> None:
        cake = Content("lot-9", Role.PIGMENT, "Grey cake", 40.0, 3.0, ("unknown-parts", "lead"))
        old = Content("item-3", Role.OLD_PAINT, "Found jar", 10.0)
        self.assertFalse(not_fully_known((BLACK, DRIER)))
        for part in (cake, old):
            self.assertTrue(not_fully_known((BLACK, scaled((part,), 0.001)[0])))

    def test_dust_asks_for_still_air_and_vapour_for_moving_air(self) -> None:
        for dust, vapour, there, not_there in (
            (True, False, ("Mask", "no draught"), ("moving",)),
            (False, True, ("air moving", "window open"), ("Mask", "draught")),
            (True, True, ("Mask", "air moving", "none of it over the dry powder"), ("no draught",)),
        ):
            words = protection_words(dust=dust, vapour=vapour)
            with self.subTest(words):
                self.assertTrue(all(one in words for one in there))
                self.assertFalse(any(one in words for one in not_there))
