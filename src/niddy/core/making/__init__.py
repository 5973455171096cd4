"""Making pigment: processes and their runs on paper; equations, lakes, acidity, washing, sieving, heating."""

from __future__ import annotations

from niddy.core.making.acidity import PhReading, asks_for, share_inside
from niddy.core.making.acts import RunLogged
from niddy.core.making.acts import after as run_after
from niddy.core.making.acts import fold as run_of
from niddy.core.making.comparing import CAUSES, Change, Difference, RunFacts, Takes, differences, propose
from niddy.core.making.equation import Equation, Term, equation
from niddy.core.making.formula import Compound, compound, hazards_of
from niddy.core.making.guide import (
    RunAdvice,
    Tap,
    advise,
    caution_of,
    completes,
    hand_minutes,
    is_in,
    more_of,
    to_weigh,
)
from niddy.core.making.heating import Heated, heating
from niddy.core.making.lake import VESSEL_TIMES, Alum, Lake, Soda, lake
from niddy.core.making.light import (
    SCHEDULE_DAYS,
    VERDICT_WORDS,
    Fading,
    LightTest,
    LightVerdict,
    fading_of,
    next_look,
    suggested,
)
from niddy.core.making.powder import LOOSE_SHARE, density_by_displacement, particle_of, strength_percent
from niddy.core.making.process import Does, Ingredient, Process, ProcessStep, StepKind, changed, check
from niddy.core.making.reaction import LeftOver, Reaction, Reagent, reaction
from niddy.core.making.run import (
    DRY_RESIDUAL,
    At,
    Run,
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
from niddy.core.making.run_act import RunAct, RunActFacts
from niddy.core.making.running import (
    NOT_IN_WASTE,
    OwnYield,
    RawLot,
    RunPlan,
    Scaled,
    plan_run,
    retained_ml,
    waste_holds,
)
from niddy.core.making.sieving import ASTM_NUMBERS, Fraction, Passing, Sieved, sieve
from niddy.core.making.standing_in import grams_per_gram
from niddy.core.making.templates import Template, template
from niddy.core.making.washing import Washes, left_after, washes_of, washes_to

__all__ = [
    "ASTM_NUMBERS",
    "CAUSES",
    "DRY_RESIDUAL",
    "LOOSE_SHARE",
    "NOT_IN_WASTE",
    "SCHEDULE_DAYS",
    "VERDICT_WORDS",
    "VESSEL_TIMES",
    "Alum",
    "At",
    "Change",
    "Compound",
    "Difference",
    "Does",
    "Equation",
    "Fading",
    "Fraction",
    "Heated",
    "Ingredient",
    "Lake",
    "LeftOver",
    "LightTest",
    "LightVerdict",
    "OwnYield",
    "Passing",
    "PhReading",
    "Process",
    "ProcessStep",
    "RawLot",
    "Reaction",
    "Reagent",
    "Run",
    "RunAct",
    "RunActFacts",
    "RunAdvice",
    "RunFacts",
    "RunLogged",
    "RunPlan",
    "Scaled",
    "Sieved",
    "Soda",
    "StepKind",
    "Takes",
    "Tap",
    "Template",
    "Term",
    "Washes",
    "advise",
    "asks_for",
    "caution_of",
    "changed",
    "check",
    "completes",
    "compound",
    "density_by_displacement",
    "differences",
    "drying",
    "equation",
    "fading_of",
    "grams_per_gram",
    "hand_minutes",
    "hazards_of",
    "heating",
    "held_min",
    "is_dry",
    "is_in",
    "lake",
    "last_of",
    "left_after",
    "more_of",
    "next_look",
    "out_of_order",
    "particle_of",
    "ph_inside",
    "plan_run",
    "propose",
    "reaction",
    "retained_ml",
    "run_after",
    "run_of",
    "share_inside",
    "sieve",
    "step_now",
    "strength_percent",
    "suggested",
    "template",
    "to_weigh",
    "washed_to",
    "washes_of",
    "washes_to",
    "waste_holds",
    "yield_of",
]
