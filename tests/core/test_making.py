"""Making pigment on paper against the worked figures; mass balance over equations nobody wrote down."""

import random
import unittest

from hypothesis import given
from hypothesis import strategies as st
from molmass import Formula

from niddy.core.cautions import known_hazards
from niddy.core.errors import Refused
from niddy.core.making import (
    Alum,
    Fraction,
    Reagent,
    Soda,
    Term,
    compound,
    equation,
    hazards_of,
    heating,
    lake,
    reaction,
    sieve,
    washes_of,
    washes_to,
)

MALACHITE = ("Cu2(OH)2CO3", "Na2SO4", "CO2", "H2O")
COMPOUNDS = (
    "CuSO4.5H2O",
    "Na2CO3",
    "Na2CO3.10H2O",
    "KAl(SO4)2.12H2O",
    "Al(OH)3",
    "CaCO3",
    "CaCl2.2H2O",
    "FeSO4.7H2O",
    "Fe2O3",
    "ZnSO4.7H2O",
    "ZnO",
    "NaOH",
    "MgSO4.7H2O",
    "BaSO4",
    "Na2SiO3.5H2O",
    "NaHCO3",
    "(NH4)2CO3",
    "CuCl2.2H2O",
)


class Case(unittest.TestCase):
    def refused(self, field: str, does: object, *what: object, **named: object) -> Refused:
        with self.assertRaises(Refused) as caught:
            does(*what, **named)  # type: ignore[operator]
        self.assertEqual(caught.exception.field, field)
        return caught.exception


class Formulas(Case):
    def test_masses_are_the_library_s_own(self) -> None:
        for text in COMPOUNDS:
            self.assertAlmostEqual(compound("f", text).molar_g / Formula(text).mass, 1, 4, text)

    def test_points_dots_and_small_figures_are_one_formula(self) -> None:
        plain = compound("f", "CuSO4.5H2O")
        self.assertEqual(dict(plain.atoms), {"Cu": 1, "H": 10, "O": 9, "S": 1})
        for text in ("CuSO4\u00b75H2O", "CuSO\u2084\u00b75H\u2082O", " CuSO4 . 5 H2O "):
            self.assertEqual(compound("f", text), plain)

    def test_what_cannot_be_read_is_said_with_its_place(self) -> None:
        for text, place in (
            ("", ""),
            ("Xx2", "'x' at place 2"),
            ("Cu(SO4", "'(' at place 3"),
            ("Na2CO3!", "'!' at place 7"),
            ("Na2CO3.", "place 7"),
            (".H2O", "place 1"),
            ("GGG", "place 3"),
            ("C" * 90, "90 characters"),
        ):
            self.assertIn(place, self.refused("f", compound, "f", text).problem, text)

    @given(st.text("CuSO4.52HNa()[]Xx-+ ", max_size=14))
    def test_whatever_is_typed_is_read_or_refused(self, text: str) -> None:
        try:
            made = compound("f", text)
        except Refused as refusal:
            self.assertTrue(refusal.problem and refusal.accepted)
        else:
            self.assertGreater(made.molar_g, 0.9)

    def test_elements_call_for_their_cautions(self) -> None:
        for text, keys in (
            ("PbCO3", {"lead", "foams"}),
            ("K4[Fe(CN)6].3H2O", {"acid-heat-cyanide"}),
            ("K2CrO4", {"chromium-6"}),
            ("CrCl3", {"chromium-3"}),
            ("NaOH", {"caustic"}),
            ("HCl", {"strong-acid"}),
            ("(NH4)2CO3", {"ammonia", "foams"}),
            ("CuSO4.5H2O", {"copper"}),
            ("CoCl2.6H2O", {"cobalt-salt"}),
            ("CoAl2O4", {"cobalt"}),
            ("NiSO4.6H2O", {"nickel-salt"}),
            ("BaCl2", {"barium"}),
            ("BaSO4", set()),
            ("NaCl", set()),
        ):
            self.assertEqual(set(hazards_of(compound("f", text))), keys, text)
            self.assertLessEqual(keys, known_hazards() | {"none"})


class Equations(Case):
    def test_the_worked_equation_is_solved(self) -> None:
        made = equation([Term("CuSO4.5H2O"), Term("Na2CO3")], [Term(one) for one in MALACHITE])
        self.assertEqual(made.text, "2 CuSO4.5H2O + 2 Na2CO3 -> Cu2(OH)2CO3 + 2 Na2SO4 + CO2 + 9 H2O")

    def test_water_and_gases_may_stand_on_either_side(self) -> None:
        made = equation(
            [Term("CuSO4.5H2O"), Term("Na2CO3"), Term("CO2"), Term("H2O")], [Term("Cu2(OH)2CO3"), Term("Na2SO4")]
        )
        self.assertEqual(made.coefficients["H2O"], 9)
        self.assertEqual({one.formula for one, _ in made.products}, set(MALACHITE))
        said = self.refused("reactants.0.formula", equation, [Term("Fe"), Term("FeO")], [Term("Fe2O3")])
        self.assertIn("belongs on the other side", said.problem)

    def test_what_does_not_balance_names_the_element_and_by_how_much(self) -> None:
        said = self.refused(
            "products",
            equation,
            [Term("CuSO4.5H2O", 1), Term("Na2CO3", 1)],
            [Term("Cu2(OH)2CO3", 1), Term("Na2SO4", 1)],
        )
        self.assertIn("1 before, 2 after", said.problem)
        self.assertIn("1 more Cu", said.accepted)
        said = self.refused("reactants", equation, [Term("CuSO4"), Term("NaCl")], [Term("CuCO3"), Term("Na2SO4")])
        self.assertIn("C stands after the arrow alone", said.problem)

    def test_other_refusals(self) -> None:
        two, out = [Term("CuSO4"), Term("Na2CO3")], [Term("CuCO3"), Term("Na2SO4")]
        self.refused("reactants", equation, [], out)
        self.refused("products", equation, two, [])
        self.refused("products.1.formula", equation, two, [*out[:1], Term("CuSO4")])
        self.refused(
            "products.1.coefficient",
            equation,
            [Term("CuSO4", 1), Term("Na2CO3", 1)],
            [Term("CuCO3", 1), Term("Na2SO4")],
        )
        self.refused("reactants.0.coefficient", equation, [Term("H2O2")], [Term("H2O"), Term("O2"), Term("H2")])
        self.refused("reactants.2.formula", equation, [*two, Term("O2")], out)
        self.refused("products", equation, two, [Term("CuCO3")] + [Term(f"C{n}H{n}") for n in range(1, 12)])

    @given(st.integers(0, 2**32))
    def test_whatever_balances_keeps_every_atom_and_every_gram(self, seed: int) -> None:
        chance = random.Random(seed)
        names = chance.sample(COMPOUNDS, chance.randint(2, 4))
        cut = chance.randint(1, len(names) - 1)
        before, behind = names[:cut], [*names[cut:], "H2O", "CO2"]
        try:
            made = equation([Term(one) for one in before], [Term(one) for one in behind])
        except Refused:
            return
        grams = [sum(n * one.molar_g for one, n in side) for side in (made.reactants, made.products)]
        self.assertAlmostEqual(grams[0] / grams[1], 1, 9)
        self.assertTrue(all(n >= 1 for n in made.coefficients.values()))


class Reactions(Case):
    REAGENTS = (Reagent("CuSO4.5H2O", mass_g=50), Reagent("Na2CO3", mass_g=25))
    OUT = tuple(Term(one) for one in MALACHITE)

    def test_the_worked_figures(self) -> None:
        made = reaction(self.REAGENTS, self.OUT, "Cu2(OH)2CO3", obtained_g=20)
        self.assertEqual((made.limiting, made.left[0].formula), ("CuSO4.5H2O", "Na2CO3"))
        self.assertAlmostEqual(made.theoretical_g, 22.139, 3)
        self.assertAlmostEqual(made.left[0].g, 3.776, 3)
        self.assertAlmostEqual(made.yield_fraction or 0, 0.9034, 4)
        self.assertIsNone(made.masses_g)

    def test_back_from_what_is_wanted(self) -> None:
        made = reaction(self.REAGENTS, self.OUT, "Cu2(OH)2CO3", wanted_g=100, expected_yield=0.8)
        masses = made.masses_g or {}
        self.assertAlmostEqual(masses["CuSO4.5H2O"] / masses["Na2CO3"], 2)
        scaled = [Reagent(formula, mass_g=grams) for formula, grams in masses.items()]
        self.assertAlmostEqual(0.8 * reaction(scaled, self.OUT, "Cu2(OH)2CO3").theoretical_g, 100, 6)
        bare = reaction(
            [Reagent("CuSO4.5H2O", purity=0.98), Reagent("Na2CO3")], self.OUT, "Cu2(OH)2CO3", wanted_g=22.139473
        )
        assert bare.masses_g is not None
        self.assertIsNone(bare.limiting)
        self.assertAlmostEqual(bare.masses_g["CuSO4.5H2O"], 50 / 0.98, 4)
        self.assertAlmostEqual(bare.masses_g["Na2CO3"], 25 - 3.7755462, 4)

    def test_purity_counts_for_theory_and_for_what_is_left(self) -> None:
        made = reaction([Reagent("CuSO4.5H2O", mass_g=50, purity=0.5), self.REAGENTS[1]], self.OUT, "Cu2(OH)2CO3")
        self.assertAlmostEqual(made.theoretical_g, 22.139473 / 2, 5)
        weak = reaction([self.REAGENTS[0], Reagent("Na2CO3", mass_g=50, purity=0.5)], self.OUT, "Cu2(OH)2CO3")
        self.assertAlmostEqual(weak.left[0].g, 2 * 3.7755462, 5)

    def test_refusals_name_the_field(self) -> None:
        self.refused("wanted", reaction, self.REAGENTS, self.OUT, "CuO")
        self.refused("reactants.0.mass_g", reaction, [Reagent("CuSO4.5H2O"), Reagent("Na2CO3")], self.OUT, "CO2")
        self.refused("reactants.1.purity", reaction, [self.REAGENTS[0], Reagent("Na2CO3", purity=0)], self.OUT, "CO2")
        self.refused("expected_yield", reaction, self.REAGENTS, self.OUT, "CO2", wanted_g=2, expected_yield=0)


class Bench(Case):
    def test_a_lake_as_worked(self) -> None:
        made = lake(20)
        self.assertAlmostEqual(made.soda_g, 6.7026, 4)
        self.assertAlmostEqual(made.substrate_g, 3.2886, 4)
        self.assertAlmostEqual(made.co2_l, 1.5215, 4)
        self.assertAlmostEqual(lake(20, soda=Soda.DECAHYDRATE).soda_g, 18.0954, 4)
        self.assertAlmostEqual(lake(20, share=0.5).soda_g, made.soda_g / 2)
        by_equation = reaction(
            [Reagent("NH4Al(SO4)2.12H2O", mass_g=20), Reagent("Na2CO3.H2O")],
            [Term("Al(OH)3"), Term("(NH4)2SO4"), Term("Na2SO4"), Term("CO2"), Term("H2O")],
            "Al(OH)3",
        )
        self.assertAlmostEqual(lake(20, Alum.AMMONIUM, Soda.MONOHYDRATE).substrate_g, by_equation.theoretical_g)
        self.refused("share", lake, 20, share=0)

    def test_washes_as_worked(self) -> None:
        self.assertEqual(washes_to(40, 200, 0.001).washes, 4)
        self.assertAlmostEqual(washes_to(40, 200, 0.001).left_fraction, 0.000772, 6)
        for washes, left in ((1, 0.0625), (3, 0.00463), (6, 0.000544)):
            self.assertAlmostEqual(washes_of(40, 600, washes).left_fraction, left, 6)
        self.assertEqual(washes_to(40, 200, (1 / 6) ** 3).washes, 3)
        self.refused("wash_ml", washes_to, 40, 0.0, 0.001)
        self.refused("water_ml", washes_of, 40, 0.0, 3)
        self.refused("washes", washes_of, 40, 600, 0)
        self.refused("wash_ml", washes_to, 1_000, 0.1, 0.001)

    @given(st.floats(1, 500), st.floats(1, 5_000), st.floats(1e-5, 0.9))
    def test_one_wash_less_would_not_do(self, retained: float, wash: float, target: float) -> None:
        try:
            made = washes_to(retained, wash, target)
        except Refused:
            return
        self.assertLessEqual(made.left_fraction, target * (1 + 1e-6))
        if made.washes > 1:
            self.assertGreater(made.left_fraction * (retained + wash) / retained, target * (1 - 1e-6))

    def test_a_stack_as_worked(self) -> None:
        stack = [Fraction(250, 2), Fraction(125, 8), Fraction(63, 18), Fraction(38, 9)]
        made = sieve(stack, 3, 41)
        for one, percent in zip(made.passing, (95, 75, 30, 7.5), strict=True):
            self.assertAlmostEqual(one.percent, percent)
        self.assertAlmostEqual(made.d50_um or 0, 85.43, 2)
        self.assertAlmostEqual(made.loss_fraction or 0, 0.0244, 4)
        self.assertEqual([one.astm for one in made.passing], ["60", "120", "230", "400"])
        self.assertTrue((made.d10_um or 0) < (made.d50_um or 0) < (made.d90_um or 0))
        coarse = sieve([Fraction(250, 20), Fraction(125, 10)], 2)
        self.assertEqual((coarse.d90_um, coarse.d50_um, coarse.loss_fraction), (None, None, None))
        self.refused("fractions.1.aperture_um", sieve, [Fraction(63, 1), Fraction(125, 1)], 1)
        self.refused("charge_g", sieve, stack, 3, 30)
        self.refused("pan_g", sieve, [Fraction(63, 0)], 0)
        self.refused("fractions", sieve, [], 3)

    def test_heating_to_the_oxide(self) -> None:
        made = heating(10, 10 * 2 * Formula("CuO").mass / Formula("Cu2(OH)2CO3").mass, "Cu2(OH)2CO3", "CuO")
        self.assertAlmostEqual(made.conversion, 1)
        self.assertAlmostEqual(made.expected_after_g, 7.1949, 4)
        self.assertAlmostEqual(heating(10, 10, "Cu2(OH)2CO3", "CuO").conversion, 0)
        self.assertAlmostEqual(heating(10, 9, "FeO(OH)", "Fe2O3").expected_after_g, 8.9863, 3)
        self.assertAlmostEqual(heating(10, 9, "FeO(OH)", "Fe2O3", 0.5).expected_after_g, 8.9863, 3)
        self.refused("to_per_from", heating, 10, 9, "NaCl", "CuO")
        self.refused("to_formula", heating, 10, 9, "CuO", "CuO")
