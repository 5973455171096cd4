"""Doses on their own basis, from dry and from gels, in a plan and at the slab."""

import unittest
from dataclasses import replace
from datetime import date

from hypothesis import given
from hypothesis import strategies as st

from niddy.core import additives, gels, oils, plan, slab, wetting
from niddy.core.additives import DoseBasis, Dosing, InPaste, Moment, dose
from niddy.core.advice import NextAct
from niddy.core.errors import Refused
from niddy.core.estimate import Basis, Estimate
from niddy.core.plan import Extender
from niddy.core.slab import Kind, Stage, Way
from niddy.core.ways import ways
from niddy.core.wetting import Body
from niddy.reference import library
from tests.core.test_intent import portion
from tests.core.test_plan import BENCH, LOSS, OIL, WISH, dry
from tests.core.test_slab import FACTS, PLANNED, Log, advise, started

GRAMS = st.floats(1, 500)


class WorkedFigures(unittest.TestCase):
    def test_stearate_from_a_ten_per_cent_gel(self) -> None:
        told = dose(1.5, DoseBasis.OIL, 112, 74.4, 0.10)
        for got, wanted in (
            (told.additive_g, 1.116),
            (told.gel_g, 11.16),
            (told.oil_in_gel_g, 10.044),
            (told.oil_to_pour_g, 64.356),
        ):
            self.assertAlmostEqual(got or 0, wanted, 9)

    def test_two_per_cent_of_the_total(self) -> None:
        told = dose(2, DoseBasis.TOTAL, 100, 40)
        self.assertAlmostEqual(told.additive_g, 2.8571, 4)
        self.assertEqual((told.gel_g, told.oil_to_pour_g), (None, 40))

    def test_of_the_pigment(self) -> None:
        self.assertAlmostEqual(dose(3, DoseBasis.PIGMENT, 80, 40).additive_g, 2.4)


class Properties(unittest.TestCase):
    @given(st.floats(0, 5), st.sampled_from(DoseBasis), GRAMS, GRAMS, st.floats(0.6, 1))
    def test_the_oil_of_gel_and_pours_is_the_batchs_oil(
        self, pct: float, basis: DoseBasis, pigment_g: float, oil_g: float, strength: float
    ) -> None:
        try:
            told = dose(pct, basis, pigment_g, oil_g, strength)
        except Refused as refusal:
            self.assertEqual(refusal.field, "gel_strength")
            return
        self.assertAlmostEqual((told.oil_in_gel_g or 0) + told.oil_to_pour_g, oil_g, 6)
        self.assertAlmostEqual((told.gel_g or 0) * strength, told.additive_g, 6)

    @given(st.sampled_from(DoseBasis), GRAMS, GRAMS)
    def test_a_dose_of_nothing_changes_nothing(self, basis: DoseBasis, pigment_g: float, oil_g: float) -> None:
        told = dose(0, basis, pigment_g, oil_g, 0.1)
        self.assertEqual((told.additive_g, told.gel_g, told.oil_to_pour_g), (0, 0, oil_g))


class Refusals(unittest.TestCase):
    def test_each_names_its_field(self) -> None:
        for pct, basis, oil_g, strength, field in (
            (-1, DoseBasis.OIL, 40, None, "dose_pct"),
            (100, DoseBasis.TOTAL, 40, None, "dose_pct"),
            (1, DoseBasis.OIL, 0, None, "oil_g"),
            (1, DoseBasis.OIL, 40, 0, "gel_strength"),
            (1, DoseBasis.OIL, 40, 1.2, "gel_strength"),
            (9, DoseBasis.OIL, 40, 0.05, "gel_strength"),
        ):
            with self.subTest(field, pct=pct), self.assertRaises(Refused) as caught:
                dose(pct, basis, 100, oil_g, strength)
            self.assertEqual(caught.exception.field, field)


def dosing(key: str, pct: float, strength: float | None = None, **what: object) -> Dosing:
    additive = library().additives[key]
    return Dosing(
        additive,
        pct,
        gel_strength=strength,
        stiffening_per_pct=additive.stiffening_per_pct,
        **what,  # type: ignore[arg-type]
    )


IN_HAND = replace(WISH, tubes=None, pigment_g=100.0)
GEL = dosing("aluminium-stearate", 1.5, 0.10)


class InAPlan(unittest.TestCase):
    @given(st.floats(0.1, 4), st.floats(0.2, 1))
    def test_oil_poured_and_oil_of_the_gel_are_the_plans_oil(self, pct: float, strength: float) -> None:
        made = plan.compute(replace(IN_HAND, additives=(dosing("aluminium-stearate", pct, strength),)))
        gel = made.additives[0]
        poured = made.oil_to_pour.value if made.oil_to_pour else made.oil_mass.value
        self.assertAlmostEqual(poured + gel.oil_in_gel_g, made.oil_mass.value)
        self.assertAlmostEqual(gel.additive_g, made.oil_mass.value * pct / 100)
        self.assertAlmostEqual(gel.weigh.value * strength, gel.additive_g)

    def test_a_dose_of_nothing_changes_nothing(self) -> None:
        plain = plan.compute(IN_HAND)
        for key in ("aluminium-stearate", "egg-yolk", "clove-oil"):
            none = plan.compute(replace(IN_HAND, additives=(dosing(key, 0),)))
            for name in ("oil_mass", "first_pour", "volume", "density", "ratio"):
                self.assertAlmostEqual(getattr(none, name).value, getattr(plain, name).value, 9, f"{key} {name}")
            self.assertEqual((none.additives, none.facts, none.pigment_and_oil_only), ((), plain.facts, True))

    def test_the_additives_volume_joins_the_binder_and_the_paint(self) -> None:
        plain, made = plan.compute(IN_HAND), plan.compute(replace(IN_HAND, additives=(GEL,)))
        stearate = made.additives[0].additive_g
        binder_ml = made.oil_mass.value / 0.918 + stearate / 1.01
        # The body is kept: what it stiffens, a little more binder gives back.
        stiffens = additives.stiffens([GEL])
        self.assertGreater(stiffens, 0.01)
        facts = plain.facts
        wetter = wetting.ratio_at(0.86 - stiffens, facts.oil_absorption_g_per_100g, 2.5, 0.918)
        self.assertAlmostEqual(binder_ml, wetter / 0.918)
        self.assertAlmostEqual(made.volume.value, 100 / 2.5 + binder_ml)
        self.assertAlmostEqual(made.density.value, (100 + made.oil_mass.value + stearate) / made.volume.value)
        self.assertLess(made.rungs[0].step_g, plain.rungs[0].step_g)
        self.assertAlmostEqual(made.first_pour.value, made.rungs[0].cumulative_g - made.additives[0].oil_in_gel_g)
        self.assertFalse(made.pigment_and_oil_only)
        self.assertIn("nine times in ten", made.first_pour.working.source)

    def test_water_of_the_yolk_fills_the_tube_and_leaves_the_film(self) -> None:
        made = plan.compute(replace(IN_HAND, additives=(dosing("egg-yolk", 3),)))
        yolk = made.additives[0].additive_g
        whole = 100 + made.oil_mass.value + yolk
        self.assertAlmostEqual(yolk, 0.03 * whole)
        self.assertAlmostEqual(made.volume.value, 40 + made.oil_mass.value / 0.918 + yolk / 1.03)
        film_ml = 40 + made.oil_mass.value / 0.918 + yolk * 0.5 / 1.03
        assert made.film_pvc is not None
        self.assertAlmostEqual(made.film_pvc.value, 100 * 40 / film_ml)
        self.assertEqual((made.keeps_days, made.additives[0].moment), (5, Moment.LAST))
        self.assertIn("egg", [caution.key for caution in made.cautions])

    def test_an_extender_counts_as_pigment(self) -> None:
        chalk = dry("chalk")
        extended = plan.compute(replace(IN_HAND, extenders=(Extender(dosing("chalk-extender", 20), chalk),)))
        black = dry("bone-black")
        mixed = wetting.blend(
            [
                wetting.Part(1, black.density_g_per_ml, black.demand_g_per_100g),
                wetting.Part(0.2, chalk.density_g_per_ml, chalk.demand_g_per_100g),
            ]
        )
        # What it takes of a lighter oil: the same volume.
        self.assertAlmostEqual(extended.oil_absorption.value, mixed.oil_absorption_g_per_100g * 0.918 / 0.93)
        self.assertEqual([round(line.mass.value, 6) for line in extended.lines], [100, 20])
        self.assertEqual((extended.name, extended.pigment_and_oil_only), ("Bone black", False))
        with self.assertRaisesRegex(Refused, "in the blend already"):
            plan.compute(replace(IN_HAND, extenders=(Extender(dosing("chalk-extender", 20), dry("bone-black", 1)),)))

    def test_driers_hasten_and_retarders_delay(self) -> None:
        oil = replace(OIL, touch_dry_days_low=4.0, touch_dry_days_high=7.0)
        wish = replace(IN_HAND, oil=oil)
        plain = [f.value for f in plan.compute(wish).touch_dry]
        self.assertEqual([round(days, 2) for days in plain], [5.5, 8.25, 22.0])
        fast = plan.compute(replace(wish, additives=(dosing("cobalt-drier", 0.3, drop_g=0.02),)))
        slow = plan.compute(replace(wish, additives=(dosing("clove-oil", 2.0),)))
        self.assertAlmostEqual(fast.touch_dry[0].value, plain[0] / 2)
        self.assertAlmostEqual(slow.touch_dry[0].value, plain[0] * 2)
        drops = fast.additives[0].drops
        self.assertAlmostEqual(drops or 0, fast.oil_mass.value * 0.003 / 0.02)
        self.assertLessEqual({"driers", "cobalt", "solvent"}, {caution.key for caution in fast.cautions})

    def test_what_cannot_be_is_named(self) -> None:
        for wish, field in (
            (replace(IN_HAND, additives=(dosing("aluminium-stearate", 4.5),)), "additives.0.dose_pct"),
            (replace(IN_HAND, additives=(dosing("aluminium-stearate", 2, 0),)), "additives.0.gel_strength"),
            (replace(IN_HAND, additives=(dosing("aluminium-stearate", 2, 1.1),)), "additives.0.gel_strength"),
            (replace(IN_HAND, additives=(dosing("aluminium-stearate", 4, 0.03),)), "additives.0.lot_id"),
            (replace(IN_HAND, additives=(GEL, GEL)), "additives.1.additive"),
        ):
            with self.subTest(field), self.assertRaises(Refused) as caught:
                plan.compute(wish)
            self.assertEqual(caught.exception.field, field)
        trial = plan.compute(replace(IN_HAND, trial=True, additives=(dosing("aluminium-stearate", 4.5),)))
        self.assertTrue(trial.additives[0].over_ceiling)

    def test_stiffening_is_told_with_where_it_comes_from(self) -> None:
        made = plan.compute(replace(IN_HAND, additives=(GEL, dosing("hydrogenated-castor-oil", 0.5))))
        assert made.stiffening is not None
        self.assertAlmostEqual(made.stiffening.value, 2.718281828 ** (0.25 * 1.5 + 0.5 * 0.5), 6)


class OilsTogether(unittest.TestCase):
    def test_a_quarter_of_stand_oil(self) -> None:
        mixed = oils.blend([portion("linseed-refined", 3), portion("linseed-stand", 1)])
        self.assertAlmostEqual(mixed.density_g_per_ml, 4 / (3 / 0.930 + 1 / 0.965))
        note = oils.note(mixed)
        assert note is not None
        self.assertAlmostEqual(note.viscosity_mpa_s, 45**0.75 * 5000**0.25, 6)
        self.assertAlmostEqual(note.yellowing, 0.75 * 4 + 0.25 * 2)
        self.assertEqual((note.touch_dry_days_low, note.touch_dry_days_high), (4.25, 7.5))
        made = plan.compute(plan.Wish((plan.Line(dry("bone-black"), 1.0),), mixed, 0.86, BENCH, LOSS, pigment_g=100))
        by_volume = wetting.in_oil(dry("bone-black").demand_g_per_100g, mixed.density_g_per_ml)
        self.assertAlmostEqual(made.oil_absorption.value, by_volume)
        with self.assertRaisesRegex(Refused, "one oil twice"):
            oils.blend([portion("linseed-refined", 3), portion("linseed-refined", 1)])


STEARATE = InPaste("lot-9", "Stearate gel", Moment.FIRST, 0.1, 1.01, 1.0, 40.0, 0.08, 0.2, "4 % of the oil")
YOLK = InPaste("lot-8", "Egg yolk", Moment.LAST, 1.0, 1.03, 0.5, 20.0, 0.03, None, "", 5, 0.05, False)
WITH = replace(FACTS, additives=(STEARATE, YOLK))


class AtTheSlab(unittest.TestCase):
    def stir(self, log: Log, what: InPaste, grams: float) -> None:
        log.add(Kind.ADDITIVE, grams, source=what.source, additive=what)

    def test_the_gel_comes_first_and_its_oil_off_the_pours(self) -> None:
        log = started()
        told = advise(log.paste, WITH, PLANNED)
        self.assertEqual((told.act, told.source), (NextAct.ADDITIVE, "lot-9"))
        self.assertAlmostEqual(told.grams or 0, 8.0)
        before = slab.know(log.paste, WITH).rungs[0].cumulative_g
        self.stir(log, STEARATE, 8.0)
        paste = log.paste
        self.assertAlmostEqual(paste.oil_g, 7.2)
        self.assertAlmostEqual(paste.total_g, 108.0)
        pour = advise(paste, WITH, PLANNED)
        self.assertIs(pour.act, NextAct.POUR)
        # What was kept back for the gel is in now: the first pour from the bottle is the same either way.
        self.assertAlmostEqual(pour.grams or 0, before, 6)

    def test_the_yolk_waits_for_the_right_body_and_has_a_use_by(self) -> None:
        log = started(60.0)
        self.stir(log, STEARATE, 8.0)
        wanted = slab.know(log.paste, WITH).wanted
        log.add(Kind.LOOK, stage=Stage.EVEN_PASTE, body=wanted)
        told = advise(log.paste, WITH, PLANNED)
        self.assertEqual((told.act, told.source), (NextAct.ADDITIVE, "lot-8"))
        self.assertIn("2.9 ml", told.line)
        self.assertIsNone(log.paste.use_by)
        self.stir(log, YOLK, 3.0)
        self.assertEqual(log.paste.use_by, date(2026, 6, 23))
        self.assertIsNot(advise(log.paste, WITH, PLANNED).act, NextAct.ADDITIVE)

    def test_an_additive_left_out_is_not_asked_for_again(self) -> None:
        log = started()
        log.add(Kind.LEAVE_OUT, source="lot-9")
        self.assertIs(advise(log.paste, WITH, PLANNED).act, NextAct.POUR)
        self.assertEqual(slab.missing_additive_g(log.paste, STEARATE), 0)

    def test_a_stiffened_paste_does_not_teach_a_thirstier_lot(self) -> None:
        plain, stiffened = started(60.0), started(52.8)
        self.stir(stiffened, STEARATE, 8.0)
        for log in (plain, stiffened):
            log.add(Kind.LOOK, stage=Stage.EVEN_PASTE, body=Body.STIFF)
        told, told_stiff = (slab.know(log.paste, FACTS).demand[0] for log in (plain, stiffened))
        self.assertGreater(told, told_stiff)

    def test_a_way_back_counts_the_additives_that_are_in(self) -> None:
        log = started(45)
        self.stir(log, YOLK, 4.0)
        reading = slab.know(log.paste, FACTS).reading
        assert reading is not None
        leave = next(one for one in ways(slab.know(log.paste, FACTS), PLANNED, {}, None, None) if one.way is Way.LEAVE)
        self.assertAlmostEqual(leave.reduced_pvc_after, reading.reduced_pvc)
        self.stir(log, YOLK, 4.0)
        looser = next(one for one in ways(slab.know(log.paste, FACTS), PLANNED, {}, None, None) if one.way is Way.LEAVE)
        self.assertLess(looser.reduced_pvc_after, leave.reduced_pvc_after)

    def test_a_stabiliser_is_a_way_back_that_is_led_to_its_end(self) -> None:
        log = started(76)
        log.add(Kind.LOOK, stage=Stage.EVEN_PASTE, body=Body.SOFT)
        found = {way.way: way for way in ways(slab.know(log.paste, FACTS), PLANNED, {}, None, None, (YOLK,))}
        way = found[Way.STABILISE]
        assert way.stabiliser is not None
        self.assertEqual([(way.reachable, way.body_after), way.portions[0].source], [(True, Body.TUBE), "lot-8"])
        self.assertLess(way.reduced_pvc_after, FACTS.target_reduced_pvc)
        log.add(Kind.CHOOSE_WAY, way=Way.STABILISE, target_reduced_pvc=way.target_reduced_pvc, additive=way.stabiliser)
        told = advise(log.paste, FACTS, PLANNED)
        self.assertEqual((told.act, told.source), (NextAct.ADDITIVE, "lot-8"))
        self.assertAlmostEqual(told.grams or 0, way.portions[0].grams / 2)
        self.assertIn(" ml", told.line)
        self.assertIs(slab.know(log.paste, FACTS).wanted, Body.TUBE)
        # Half of it in, the other half is still asked for; all in, the eye has the word.
        self.stir(log, YOLK, way.portions[0].grams / 2)
        self.assertAlmostEqual(advise(log.paste, FACTS, PLANNED).grams or 0, way.portions[0].grams / 2)
        self.stir(log, YOLK, way.portions[0].grams / 2)
        self.assertIsNot(advise(log.paste, FACTS, PLANNED).act, NextAct.ADDITIVE)
        self.assertIs(slab.know(log.paste, FACTS).wanted, Body.TUBE)
        log.add(Kind.LOOK, stage=Stage.EVEN_PASTE, body=Body.TUBE)
        self.assertIs(advise(log.paste, FACTS, PLANNED).act, NextAct.RIGHT)

    def test_what_may_go_in_of_a_stabiliser_may_be_too_little(self) -> None:
        log = started(78)
        log.add(Kind.LOOK, stage=Stage.EVEN_PASTE, body=Body.SOFT)
        scant = replace(YOLK, ceiling_per_g=0.04, ceiling_says="5 % of the whole")
        found = {way.way: way for way in ways(slab.know(log.paste, FACTS), PLANNED, {}, None, None, (scant,))}
        way = found[Way.STABILISE]
        self.assertFalse(way.reachable)
        self.assertIn("Up to 5 % of the whole", way.says)
        self.assertAlmostEqual(way.portions[0].grams, 4.0)
        hardly = replace(scant, ceiling_per_g=0.01)
        self.assertNotIn(
            Way.STABILISE, [w.way for w in ways(slab.know(log.paste, FACTS), PLANNED, {}, None, None, (hardly,))]
        )
        self.assertNotIn(Way.STABILISE, {way.way for way in ways(slab.know(log.paste, FACTS), PLANNED, {}, None, None)})

    def test_above_the_ceiling_is_refused(self) -> None:
        log = started(50)
        event = slab.Event(log.events[0].id, 9, Kind.ADDITIVE, log.clock, "lot-9", additive=STEARATE)
        with self.assertRaisesRegex(Refused, "above the ceiling"):
            slab.check(log.paste, replace(event, mass=Estimate.exact(20.1, Basis.MEASURED)), None)
        slab.check(log.paste, replace(event, mass=Estimate.exact(19.9, Basis.MEASURED)), None)

    def test_striking_it_out_takes_it_all_back(self) -> None:
        log = started(50)
        before = log.paste
        self.stir(log, STEARATE, 8.0)
        log.add(Kind.STRIKE, strikes=log.events[-1].id)
        after = log.paste
        self.assertEqual((after.oils, after.additives, after.total_g), (before.oils, {}, before.total_g))


class Gels(unittest.TestCase):
    def test_a_hundred_grams_of_ten_per_cent_stearate(self) -> None:
        made = gels.plan(library().additives["aluminium-stearate"], 100)
        self.assertAlmostEqual(made.additive_g + made.oil_g, 100 / 0.95)
        self.assertAlmostEqual(gels.strength_of(made.additive_g, made.oil_g), 0.10)
        hot = [step.window for step in made.steps if step.window is not None and step.window.low is not None]
        self.assertEqual([(window.low, window.high) for window in hot], [(80, 110)] * 2)
        self.assertIn("never left alone", made.steps[0].caution)

    def test_each_refusal_names_its_field(self) -> None:
        stearate = library().additives["aluminium-stearate"]
        for ask, field in (
            (lambda: gels.plan(library().additives["egg-yolk"], 50), "additive_key"),
            (lambda: gels.plan(stearate, 2), "grams"),
            (lambda: gels.plan(stearate, 50, 0), "strength"),
            (lambda: gels.plan(stearate, 50, 0.7), "strength"),
            (lambda: gels.strength_of(0, 10), "additive_g"),
            (lambda: gels.check_yield(10, 90, 140), "yield_g"),
        ):
            with self.subTest(field), self.assertRaises(Refused) as caught:
                ask()
            self.assertEqual(caught.exception.field, field)
