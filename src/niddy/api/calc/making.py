"""Making pigment: equations, lakes, washing, sieving, heating."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from niddy.api.calc.base import Asked, MassOrNone, example, router
from niddy.core import making as core
from niddy.core.amounts import Grams, Millilitres
from niddy.core.errors import Refused
from niddy.core.making import Alum, Heated, Lake, Reaction, Sieved, Soda, Washes
from niddy.core.words import Words

FormulaText = Annotated[Words, Field(max_length=80)]
Coefficient = Annotated[int, Field(strict=True, ge=1, le=10_000)]
Share = Annotated[float, Field(strict=True, gt=0, le=1)]


class ReactantAsked(Asked):
    """What goes in; without a mass there is more than enough of it."""

    formula: FormulaText
    coefficient: Coefficient | None = None
    mass_g: Grams | None = None
    purity: Share = 1.0


class ProductAsked(Asked):
    """What comes out."""

    formula: FormulaText
    coefficient: Coefficient | None = None


class ReactionAsked(Asked):
    """An equation, which product is wanted, what was obtained or is wanted of it."""

    reactants: Annotated[list[ReactantAsked], Field(max_length=12)]
    products: Annotated[list[ProductAsked], Field(max_length=12)]
    wanted: FormulaText
    obtained_g: MassOrNone | None = None
    wanted_g: Grams | None = None
    expected_yield: Annotated[float, Field(strict=True, gt=0, le=1.2)] = 1.0


_REACTION = {
    "reactants": [{"formula": "CuSO4.5H2O", "mass_g": 50}, {"formula": "Na2CO3", "mass_g": 25}],
    "products": [{"formula": "Cu2(OH)2CO3"}, {"formula": "Na2SO4"}, {"formula": "CO2"}, {"formula": "H2O"}],
    "wanted": "Cu2(OH)2CO3",
    "obtained_g": 20,
}


@router.post("/reaction")
def reaction(asked: Annotated[ReactionAsked, example("a basic copper carbonate", **_REACTION)]) -> Reaction:
    """What limits a precipitation, what it may yield, what stays over, and what to weigh for so much."""
    reagents = [core.Reagent(one.formula, one.coefficient, one.mass_g, one.purity) for one in asked.reactants]
    products = [core.Term(one.formula, one.coefficient) for one in asked.products]
    return core.reaction(
        reagents,
        products,
        asked.wanted,
        obtained_g=asked.obtained_g,
        wanted_g=asked.wanted_g,
        expected_yield=asked.expected_yield,
    )


class LakeAsked(Asked):
    """Alum for a lake, which soda is at hand, and what share of the neutralisation is taken."""

    alum_g: Grams
    alum: Alum = Alum.POTASH
    soda: Soda = Soda.ANHYDROUS
    share: Share = 1.0


@router.post("/lake")
def lake(asked: Annotated[LakeAsked, example("20 g of potash alum", alum_g=20)]) -> Lake:
    """The soda for some alum, the substrate it makes, and the gas that foams."""
    return core.lake(asked.alum_g, asked.alum, asked.soda, asked.share)


class WashesAsked(Asked):
    """Liquid the cake holds; and either each wash and the share that may be left, or all water and how many washes."""

    retained_ml: Millilitres
    wash_ml: Annotated[float, Field(strict=True, ge=0, le=1_000_000)] | None = None
    target_fraction: Annotated[float, Field(strict=True, ge=1e-6, le=0.99)] | None = None
    water_ml: Annotated[float, Field(strict=True, ge=0, le=1_000_000)] | None = None
    washes: Annotated[int, Field(strict=True, ge=1, le=200)] | None = None


@router.post("/washes")
def washes(
    asked: Annotated[WashesAsked, example("down to a thousandth", retained_ml=40, wash_ml=200, target_fraction=0.001)],
) -> Washes:
    """How many washes it takes, or what so many leave."""
    if asked.wash_ml is not None and asked.target_fraction is not None:
        return core.washes_to(asked.retained_ml, asked.wash_ml, asked.target_fraction)
    if asked.water_ml is not None and asked.washes is not None:
        return core.washes_of(asked.retained_ml, asked.water_ml, asked.washes)
    raise Refused("wash_ml", "missing", "wash_ml with target_fraction, or water_ml with washes")


class FractionAsked(Asked):
    """One sieve of a stack, the coarsest first."""

    aperture_um: Annotated[float, Field(strict=True, ge=5, le=5_000)]
    retained_g: MassOrNone


class SieveAsked(Asked):
    """A stack of sieves, what lies on each and in the pan, and what went in."""

    fractions: Annotated[list[FractionAsked], Field(max_length=15)]
    pan_g: MassOrNone
    charge_g: Grams | None = None


_STACK = [
    {"aperture_um": 250, "retained_g": 2},
    {"aperture_um": 125, "retained_g": 8},
    {"aperture_um": 63, "retained_g": 18},
    {"aperture_um": 38, "retained_g": 9},
]


@router.post("/sieve")
def sieve(asked: Annotated[SieveAsked, example("four sieves", fractions=_STACK, pan_g=3, charge_g=41)]) -> Sieved:
    """What passes each sieve, and the sizes below which a tenth, half and nine tenths lie."""
    fractions = [core.Fraction(one.aperture_um, one.retained_g) for one in asked.fractions]
    return core.sieve(fractions, asked.pan_g, asked.charge_g)


class HeatingAsked(Asked):
    """What it weighed before and after, from what to what; how many of the one come of the other, if not plain."""

    before_g: Grams
    after_g: Grams
    from_formula: FormulaText
    to_formula: FormulaText
    to_per_from: Annotated[float, Field(strict=True, ge=0.01, le=100)] | None = None


_HEATED = {"before_g": 10, "after_g": 7.2, "from_formula": "Cu2(OH)2CO3", "to_formula": "CuO"}


@router.post("/heating")
def heating(asked: Annotated[HeatingAsked, example("to the oxide", **_HEATED)]) -> Heated:
    """What it weighs once all has turned, and how much of it has."""
    return core.heating(asked.before_g, asked.after_g, asked.from_formula, asked.to_formula, asked.to_per_from)
