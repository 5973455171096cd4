"""Powders taken for a kind, what a painter wants to know, uses, cleaning up, ways to fill."""

import unittest
from dataclasses import replace

from niddy.core.cautions import known_hazards
from niddy.core.cleanup import cleaning
from niddy.core.filling import WAYS
from niddy.core.kinds import PigmentKind, kind_of, values_of
from niddy.core.plan import Tool
from niddy.core.purposes import BODIES, PURPOSES, Purpose, suits
from niddy.core.traits import oils_for, traits_of
from niddy.core.wetting import body_at
from niddy.reference import library
from tests.core.test_plan import OIL, dry

PIGMENTS = library().pigments


class Kinds(unittest.TestCase):
    def test_every_member_lies_within_its_kind(self) -> None:
        for pigment in PIGMENTS.values():
            kind = kind_of(pigment)
            if kind is None:
                self.assertEqual(pigment.family, "extender")
                continue
            taken = values_of(kind, PIGMENTS.values())
            self.assertLessEqual(taken.oil_absorption_low, pigment.oil_absorption_low)
            self.assertGreaterEqual(taken.oil_absorption_high, pigment.oil_absorption_high)
            self.assertLessEqual(set(pigment.hazards), set(taken.hazards))

    def test_a_kind_is_wide_and_cautious(self) -> None:
        earth = values_of(PigmentKind.EARTH, PIGMENTS.values())
        self.assertGreater(earth.oil_absorption_high / earth.oil_absorption_low, 3)
        self.assertIn("silica", earth.hazards)
        self.assertNotIn("antimony", earth.hazards)
        self.assertIn("lead", values_of(PigmentKind.WHITE, PIGMENTS.values()).hazards)
        for kind in PigmentKind:
            self.assertLessEqual(set(values_of(kind, PIGMENTS.values()).hazards), known_hazards())

    def test_a_ready_mixed_powder_is_as_wide_as_all_it_may_be_mixed_of(self) -> None:
        mixed = values_of(PigmentKind.MIXED, PIGMENTS.values())
        for kind in (PigmentKind.ORGANIC, PigmentKind.LAKE, PigmentKind.STONE, PigmentKind.WHITE):
            part = values_of(kind, PIGMENTS.values())
            self.assertLessEqual(mixed.oil_absorption_low, part.oil_absorption_low)
            self.assertGreaterEqual(mixed.oil_absorption_high, part.oil_absorption_high)
            self.assertLessEqual(set(part.hazards), set(mixed.hazards))


class Painters(unittest.TestCase):
    def test_every_pigment_has_its_traits_and_its_oils(self) -> None:
        for pigment in PIGMENTS.values():
            traits = traits_of(pigment)
            self.assertEqual(len(traits), 5)
            self.assertTrue(all(trait.word and trait.says for trait in traits), pigment.key)
            self.assertIn("oil", oils_for(pigment))
        words = {trait.key: trait.word for trait in traits_of(PIGMENTS["madder-lake"])}
        self.assertEqual((words["covering"], words["light"]), ("transparent", "fades"))

    def test_bodies_stand_in_their_own_zone_and_uses_follow(self) -> None:
        for choice in BODIES:
            self.assertIs(body_at(choice.reduced_pvc), choice.body)
        lean = next(choice for choice in PURPOSES if choice.purpose is Purpose.UNDERPAINTING)
        glaze = next(choice for choice in PURPOSES if choice.purpose is Purpose.GLAZE)
        self.assertGreater(lean.reduced_pvc, glaze.reduced_pvc)

    def test_what_does_not_suit_a_use_is_said(self) -> None:
        slow = replace(dry("ultramarine-blue"), drying="slow", opacity="semi")
        covering = replace(dry("titanium-white-rutile"), drying="slow", opacity="opaque")
        self.assertEqual(suits(Purpose.BODY_COLOUR, (slow, covering), OIL), ())
        said = " ".join(suits(Purpose.UNDERPAINTING, (covering,), OIL))
        self.assertIn("slowly", said)
        self.assertIn("covers", " ".join(suits(Purpose.GLAZE, (covering,), OIL)))
        self.assertEqual(suits(Purpose.GLAZE, (slow,), OIL), ())

    def test_for_wood_and_wall_boiled_oil_is_named_and_its_warm_tint_said(self) -> None:
        white, blue = dry("titanium-white-rutile"), dry("ultramarine-blue")
        raw = replace(OIL, touch_dry_days_low=4.0, touch_dry_days_high=7.0)
        self.assertIn("Boiled linseed oil dries sooner", " ".join(suits(Purpose.WOOD, (blue,), raw)))
        boiled = replace(OIL, name="Linseed oil, boiled", hazards=("oily-rags", "driers"), touch_dry_days_low=1.0)
        (said,) = suits(Purpose.WOOD, (white, blue), boiled)
        self.assertIn("Titanium white", said)
        self.assertIn("yellower", said)
        self.assertNotIn("Ultramarine", said)
        (said,) = suits(Purpose.WOOD, (blue,), boiled)
        self.assertNotIn("yellower", said)


class Cleaning(unittest.TestCase):
    def test_lead_keeps_its_own_tools_and_rags_go_into_water(self) -> None:
        keys = [step.key for step in cleaning(Tool.MULLER, ("lead", "oily-rags"))]
        self.assertIn("apart", keys)
        self.assertIn("rags", keys)
        self.assertNotIn("apart", [step.key for step in cleaning(Tool.MULLER, ("nuisance-dust",))])
        muller = cleaning(Tool.MULLER, ())[0].text
        self.assertIn("Rock the muller", muller)
        self.assertNotIn("muller", cleaning(Tool.KNIFE, ())[0].text)

    def test_a_jar_is_never_folded(self) -> None:
        jar = next(way for way in WAYS if way.jar)
        self.assertFalse(any("fold it" in step.lower() for step in jar.steps))
        self.assertTrue(all(any("fold" in step for step in way.steps) for way in WAYS if not way.jar))
