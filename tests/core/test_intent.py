"""Body by intent: the three schools side by side, and what the studio's own ladder changes."""

import itertools
import unittest

from niddy.core import intent, oils
from niddy.core.intent import Brush, Cupboard, Intent, Keep, Known, School, Stand, Thread
from niddy.core.materials import BinderOil
from niddy.core.wetting import Body
from niddy.reference import library
from tests.core.test_plan import dry


def portion(key: str, parts: float = 1.0) -> oils.Portion:
    oil = library().oils[key]
    bottle = BinderOil(
        None,
        key,
        oil.full_name,
        "",
        oil.density_g_per_ml,
        oil.hazards,
        0.02,
        False,
        oil.touch_dry_days_low,
        oil.touch_dry_days_high,
        oil.nonvolatile_fraction,
    )
    return oils.Portion(bottle, parts, oil.viscosity_mpa_s, oil.yellowing_rank, oil.film_rank)


CUPBOARD = Cupboard(
    library().additives,
    {key: dry(key.removesuffix("-extender")) for key in library().additives if key.endswith("-extender")},
    {key: portion(key) for key in ("linseed-stand", "linseed-sun-thickened")},
)
BUTTER = Intent(Stand.BUTTER, Brush.KEEPS, Thread.SHORT, Keep.YEARS)


def routes(wanted: Intent, known: dict[str, Known] | None = None) -> dict[School, intent.Route]:
    told = intent.routes(wanted, dry("bone-black"), portion("linseed-refined"), CUPBOARD, known or {})
    return {route.school: route for route in told}


class Routes(unittest.TestCase):
    def test_every_choice_gives_three_routes_that_keep_to_ceilings(self) -> None:
        for choice in itertools.product(Stand, Brush, Thread, Keep):
            told = routes(Intent(*choice))
            self.assertEqual(list(told), list(School))
            self.assertEqual(told[School.NONE].additives, ())
            for route in told.values():
                for one in route.additives:
                    self.assertLessEqual(one.dose_pct, library().additives[one.key].dose_ceiling_pct)
                self.assertTrue(0.5 <= route.reduced_pvc <= 1.15)
                self.assertTrue(route.wishes and route.assumed and route.film and route.keeps)

    def test_butter_that_keeps_for_years(self) -> None:
        told = routes(BUTTER)
        self.assertEqual(
            {one.key for one in told[School.MODERN].additives}, {"aluminium-stearate", "hydrogenated-castor-oil"}
        )
        self.assertLess(told[School.MODERN].reduced_pvc, told[School.NONE].reduced_pvc)
        self.assertLess(told[School.MODERN].colour_strength_pct, 100)
        self.assertAlmostEqual(told[School.NONE].colour_strength_pct, 100)
        kept = {route.school: route.wishes[-1].met for route in told.values()}
        self.assertEqual(kept, {School.NONE: False, School.TRADITIONAL: False, School.MODERN: True})

    def test_yolk_only_where_weeks_are_enough(self) -> None:
        short = routes(Intent(Stand.BUTTER, Brush.KEEPS, Thread.SHORT, Keep.WEEKS))[School.TRADITIONAL]
        self.assertEqual([one.key for one in short.additives], ["egg-yolk"])
        self.assertEqual(short.keeps_days, 5)
        self.assertIn("egg", [caution.key for caution in short.cautions])
        self.assertNotIn("egg-yolk", [one.key for one in routes(BUTTER)[School.TRADITIONAL].additives])

    def test_honey_takes_thick_oil_and_no_castor(self) -> None:
        told = routes(Intent(Stand.FLOWS, Brush.LEVELS, Thread.HONEY, Keep.YEAR))
        for route in told.values():
            self.assertEqual(len(route.oil_parts), 2)
        self.assertIs(told[School.NONE].body, Body.LOOSE)
        self.assertNotIn("hydrogenated-castor-oil", [one.key for one in told[School.MODERN].additives])

    def test_a_ladder_outranks_what_is_assumed(self) -> None:
        assumed = routes(BUTTER)[School.MODERN]
        known = routes(BUTTER, {"aluminium-stearate": Known(3, "Sienna", 0.6, 1.2, False)})[School.MODERN]
        dose = {one.key: one.dose_pct for one in known.additives}["aluminium-stearate"]
        self.assertEqual(dose, 1.2)
        self.assertNotEqual(known.stiffer_times, assumed.stiffer_times)
        self.assertTrue(any("Sienna" in says for says in known.known))
        self.assertEqual(assumed.known, ())
