"""What is in a paint travels with the gram; sources name where it came from."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from niddy.core.contents import Content, Role, grams_of, hazard_keys, hazards_of, joined, scaled
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
            ("lot-12", SourceKind.LOT), ("library-bone-black", SourceKind.LIBRARY), ("blend", SourceKind.BLEND),
            ("old-1f", SourceKind.OLD),
        ):  # fmt: skip
            self.assertEqual((str(source(name)), source(name).kind), (name, kind))
        self.assertEqual((lot_of("lot-12"), lot_of("library-x"), lot_of("lot-0")), (12, None, None))
        self.assertEqual((of_lot(3, "x"), of_lot(None, "x")), ("lot-3", "library-x"))
        self.assertEqual(source("lot-7"), Source(SourceKind.LOT, 7))

    def test_what_names_nothing_is_refused(self) -> None:
        for odd in ("", "lot-", "lot--1", "lot-01", "library-", "LOT-1", "lot-1 ", "old-xyz"):
            with self.subTest(odd), self.assertRaises(Refused) as caught:
                source(odd)
            self.assertEqual(caught.exception.field, "source")
