"""Making pigment: processes and their runs on paper; equations, lakes, acidity, washing, sieving, heating."""

from __future__ import annotations

from niddy.core.making.acidity import PhReading, asks_for, share_inside
from niddy.core.making.equation import Equation, Term, equation
from niddy.core.making.formula import Compound, compound, hazards_of
from niddy.core.making.heating import Heated, heating
from niddy.core.making.lake import VESSEL_TIMES, Alum, Lake, Soda, lake
from niddy.core.making.process import Ingredient, Process, ProcessStep, Role, StepKind, check
from niddy.core.making.reaction import Left, Reaction, Reagent, reaction
from niddy.core.making.running import OwnYield, RunPlan, Scaled, plan_run
from niddy.core.making.sieving import ASTM_NUMBERS, Fraction, Passing, Sieved, sieve
from niddy.core.making.templates import Template, template
from niddy.core.making.washing import Washes, left_after, washes_of, washes_to

__all__ = [
    "ASTM_NUMBERS", "VESSEL_TIMES", "Alum", "Compound", "Equation", "Fraction", "Heated", "Ingredient", "Lake",
    "Left", "OwnYield", "Passing", "PhReading", "Process", "ProcessStep", "Reaction", "Reagent", "Role", "RunPlan",
    "Scaled", "Sieved", "Soda", "StepKind", "Template", "Term", "Washes", "asks_for", "check", "compound", "equation",
    "hazards_of", "heating", "lake", "left_after", "plan_run", "reaction", "share_inside", "sieve", "template",
    "washes_of", "washes_to",
]  # fmt: skip
