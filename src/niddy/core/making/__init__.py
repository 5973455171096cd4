"""Making pigment: processes and their runs on paper; equations, lakes, acidity, washing, sieving, heating."""

from __future__ import annotations

from niddy.core.making.acidity import PhReading, asks_for, share_inside
from niddy.core.making.comparing import CAUSES, Change, Difference, RunFacts, Takes, differences, propose
from niddy.core.making.equation import Equation, Term, equation
from niddy.core.making.formula import Compound, compound, hazards_of
from niddy.core.making.heating import Heated, heating
from niddy.core.making.lake import VESSEL_TIMES, Alum, Lake, Soda, lake
from niddy.core.making.process import Does, Ingredient, Process, ProcessStep, StepKind, check
from niddy.core.making.reaction import LeftOver, Reaction, Reagent, reaction
from niddy.core.making.run import (
    At,
    Run,
    RunAct,
    RunKind,
    drying,
    held_min,
    is_dry,
    last_of,
    out_of_order,
    ph_inside,
    step_now,
    washed_to,
    yield_of,
)
from niddy.core.making.run import after as run_after
from niddy.core.making.run import fold as run_of
from niddy.core.making.running import OwnYield, RunPlan, Scaled, plan_run
from niddy.core.making.sieving import ASTM_NUMBERS, Fraction, Passing, Sieved, sieve
from niddy.core.making.templates import Template, template
from niddy.core.making.washing import Washes, left_after, washes_of, washes_to

__all__ = [
    "ASTM_NUMBERS",
    "CAUSES",
    "VESSEL_TIMES",
    "Alum",
    "At",
    "Change",
    "Compound",
    "Difference",
    "Does",
    "Equation",
    "Fraction",
    "Heated",
    "Ingredient",
    "Lake",
    "LeftOver",
    "OwnYield",
    "Passing",
    "PhReading",
    "Process",
    "ProcessStep",
    "Reaction",
    "Reagent",
    "Run",
    "RunAct",
    "RunFacts",
    "RunKind",
    "RunPlan",
    "Scaled",
    "Sieved",
    "Soda",
    "StepKind",
    "Takes",
    "Template",
    "Term",
    "Washes",
    "asks_for",
    "check",
    "compound",
    "differences",
    "drying",
    "equation",
    "hazards_of",
    "heating",
    "held_min",
    "is_dry",
    "lake",
    "last_of",
    "left_after",
    "out_of_order",
    "ph_inside",
    "plan_run",
    "propose",
    "reaction",
    "run_after",
    "run_of",
    "share_inside",
    "sieve",
    "step_now",
    "template",
    "washed_to",
    "washes_of",
    "washes_to",
    "yield_of",
]  # fmt: skip
