"""Making pigment: equations, lakes, washing, sieving, heating; all on paper."""

from __future__ import annotations

from niddy.core.making.equation import Equation, Term, equation
from niddy.core.making.formula import Compound, compound, hazards_of
from niddy.core.making.heating import Heated, heating
from niddy.core.making.lake import VESSEL_TIMES, Alum, Lake, Soda, lake
from niddy.core.making.reaction import Left, Reaction, Reagent, reaction
from niddy.core.making.sieving import ASTM_NUMBERS, Fraction, Passing, Sieved, sieve
from niddy.core.making.washing import Washes, left_after, washes_of, washes_to

__all__ = [
    "ASTM_NUMBERS", "VESSEL_TIMES", "Alum", "Compound", "Equation", "Fraction", "Heated", "Lake", "Left", "Passing",
    "Reaction", "Reagent", "Sieved", "Soda", "Term", "Washes", "compound", "equation", "hazards_of", "heating", "lake",
    "left_after", "reaction", "sieve", "washes_of", "washes_to",
]  # fmt: skip
