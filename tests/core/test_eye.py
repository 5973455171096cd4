"""A maker's eye: bias and spread from judgements, how surely they are known, and what is said of them."""

import math
import random
import unittest

from hypothesis import given
from hypothesis import strategies as st

from niddy.core import eye as core
from niddy.core.errors import Refused
from niddy.core.estimate import Basis
from niddy.core.eye import BIAS_SD, EYE_SD, Eye, Judgement, eye_of, middle_of
from niddy.core.wetting import Body, body_at


class OfTheEye(unittest.TestCase):
    def test_worked_figures(self) -> None:
        said = ((0.86, Body.STIFF), (0.80, Body.TUBE), (0.72, Body.SOFT))
        eye = eye_of([Judgement(true, body) for true, body in said])
        self.assertAlmostEqual(eye.bias, 0.03491, 5)
        self.assertAlmostEqual(eye.sd, 0.05069, 5)

    def test_before_any_judgement_it_is_any_eye(self) -> None:
        eye = eye_of([])
        self.assertEqual((eye.bias, eye.sd), (0.0, EYE_SD))

    def test_many_judgements_find_the_bias(self) -> None:
        chance = random.Random(4)
        judged = []
        for _ in range(4_000):
            true = chance.uniform(0.62, 1.0)
            judged.append(Judgement(true, body_at(true + 0.04)))
        self.assertAlmostEqual(eye_of(judged).bias, 0.04, delta=0.006)

    def test_middles_lie_in_their_body(self) -> None:
        for body in Body:
            self.assertIs(body_at(middle_of(body)), body)

    def test_a_truth_off_the_scale_is_named(self) -> None:
        with self.assertRaises(Refused) as caught:
            eye_of([Judgement(0.8, Body.TUBE), Judgement(4.0, Body.TUBE)])
        self.assertEqual(caught.exception.field, "judgements.1.true_reduced_pvc")


class HowSurely(unittest.TestCase):
    def test_nothing_known_is_as_wide_as_eyes_differ(self) -> None:
        self.assertAlmostEqual(core.bias_sd(Eye(0.0, EYE_SD), 0), BIAS_SD)

    def test_precisions_add_up(self) -> None:
        sd = core.bias_sd(Eye(0.02, 0.05), 25)
        self.assertAlmostEqual(1 / sd**2, 1 / BIAS_SD**2 + 25 / 0.05**2)

    def test_an_eye_that_never_scatters_is_not_believed_to_the_end(self) -> None:
        self.assertAlmostEqual(core.bias_sd(Eye(0.0, 0.001), 8), core.bias_sd(Eye(0.0, EYE_SD / 2), 8))

    @given(st.integers(0, 500), st.floats(0.03, 0.2))
    def test_each_judgement_makes_it_surer(self, count: int, sd: float) -> None:
        self.assertLess(core.bias_sd(Eye(0.0, sd), count + 1), core.bias_sd(Eye(0.0, sd), count))


class Told(unittest.TestCase):
    def test_bodies_stand_side_by_side_from_stiff_to_soft(self) -> None:
        self.assertEqual([one.body for one in core.SCALE], list(Body))
        for one, other in zip(core.SCALE, core.SCALE[1:], strict=False):
            self.assertEqual(one.soft_edge, other.stiff_edge)
        self.assertTrue(all(one.stiff_edge > one.soft_edge for one in core.SCALE))
        self.assertTrue(all(math.isfinite(one.stiff_edge + one.soft_edge) for one in core.SCALE))

    def test_a_difference_is_said_in_bodies_larger_ones_never_as_less(self) -> None:
        for reduced, says in (
            (0.034, "a third of a body"),
            (-0.05, "half a body"),
            (0.1, "a whole body"),
            (0.31, "3 bodies"),
        ):
            self.assertEqual(core.bodies_said(reduced), says)

    def test_which_way_an_eye_leans(self) -> None:
        self.assertEqual(core.leans_said(Eye(0.0, EYE_SD), 0), "Your eye is not known yet.")
        self.assertEqual(core.leans_said(Eye(-0.009, 0.05), 12), "Your eye is even: neither stiffer nor softer.")
        self.assertIn("stiffer than they are, by a third", core.leans_said(Eye(0.034, 0.05), 12))
        self.assertIn("softer than they are, by half", core.leans_said(Eye(-0.05, 0.05), 12))

    def test_figures_are_in_bodies_with_spread_basis_and_working(self) -> None:
        eye = Eye(0.034, 0.05)
        leans = core.leans(eye, 25)
        self.assertAlmostEqual(leans.value, 0.34)
        assert leans.low is not None and leans.high is not None
        self.assertAlmostEqual((leans.high - leans.low) / 2, 1.6448536 * core.bias_sd(eye, 25) / 0.1)
        self.assertIs(leans.basis, Basis.MEASURED)
        self.assertIn(0.034, [given.value for given in leans.working.inputs])
        self.assertAlmostEqual(core.scatters(eye, 25).value, 0.5)
        self.assertIs(core.scatters(eye, 0).basis, Basis.ASSUMED)

    def test_near_an_edge_the_next_body_is_named_with_it(self) -> None:
        for reduced, says in (
            (0.85, "tube"),
            (0.89, "tube, close to stiff"),
            (0.81, "tube, close to soft"),
            (1.12, "crumbles"),
            (0.51, "runs"),
            (0.575, "runs, close to loose"),
        ):
            self.assertEqual(core.place_said(reduced), says)

    @given(st.floats(0.5, 1.14))
    def test_a_place_begins_with_its_body(self, reduced: float) -> None:
        self.assertTrue(core.place_said(reduced).startswith(body_at(reduced)))

    def test_bodies_are_tallied_by_what_they_were(self) -> None:
        judged = [Judgement(0.85, Body.TUBE), Judgement(0.85, Body.STIFF), Judgement(0.85, Body.RUNS)]
        tube = next(one for one in core.tallies(judged) if one.body is Body.TUBE)
        self.assertEqual((tube.right, tube.stiffer, tube.softer), (1, 1, 1))
        self.assertEqual(sum(one.right + one.stiffer + one.softer for one in core.tallies(judged)), 3)
