"""A run on paper as its screen shows it: what to weigh, and every figure with its working."""

from __future__ import annotations

from dataclasses import dataclass

from niddy.core import making as core
from niddy.core.cautions import held_word
from niddy.core.estimate import Basis, Estimate
from niddy.core.figure import Figure, Input, Working
from niddy.core.making import LeftOver, Process, RunPlan, Scaled
from niddy.core.making.lake import GAS_L_PER_MOL


@dataclass(frozen=True, slots=True)
class RunPaper:
    """One run: what to weigh, and what it may come to, takes and leaves, each figure with how it was got."""

    factor: float
    weigh: tuple[Scaled, ...]
    equation: str
    limiting: str
    left: tuple[LeftOver, ...]
    figures: tuple[Figure, ...]
    waste_holds: tuple[str, ...]
    foams: bool
    cannot: str
    unasked: tuple[str, ...]


def paper(plan: RunPlan, process: Process) -> RunPaper:
    """A run on paper."""
    foams = plan.gas_l > 0 or any("foams" in one.hazards for one in plan.weigh)
    found = [*_yielded(plan), *_liquid(plan, foams), *_washed(plan, process)]
    return RunPaper(
        plan.factor,
        plan.weigh,
        plan.equation,
        plan.limiting or "",
        plan.left,
        tuple(found),
        tuple(held_word(key) for key in plan.waste_holds),
        foams,
        process.cannot,
        process.unasked,
    )


def _exact(label: str, value: float, unit: str, digits: int, working: Working, basis: Basis = Basis.ENTERED) -> Figure:
    return Figure.of(label, Estimate.exact(value, basis), unit, digits, working)


def theory_of(plan: RunPlan) -> Figure | None:
    """What the equation allows of what is weighed; None without an equation."""
    if plan.theory_g is None:
        return None
    weighed = tuple(Input(one.name, one.g, "g", Basis.ENTERED) for one in plan.weigh)
    return _exact(
        "Theory",
        plan.theory_g,
        "g",
        1 if plan.theory_g >= 10 else 2,
        Working(
            f"what {plan.limiting or 'the first'} can make of it, by the equation",
            weighed,
            "molar masses of the standard atomic weights",
        ),
    )


def _yielded(plan: RunPlan) -> list[Figure]:
    theory = theory_of(plan)
    found = [theory] if theory is not None else []
    if plan.expected_g is not None:
        own = plan.expected_g.basis is Basis.LEARNED
        found.append(
            Figure.of(
                "Expect",
                plan.expected_g,
                "g",
                1,
                Working(
                    "theory x yield" if plan.theory_g is not None else "what goes in x yield",
                    (
                        Input(
                            "theory" if plan.theory_g is not None else "what goes in",
                            plan.theory_g if plan.theory_g is not None else sum(one.g for one in plan.weigh),
                            "g",
                        ),
                    ),
                    "the yields of this process's own runs" if own else "assumed until a run was finished",
                    "how its runs differed" if own else "",
                ),
            )
        )
    return found


def _liquid(plan: RunPlan, foams: bool) -> list[Figure]:
    found = []
    if plan.vessel_ml > 0:
        times = plan.vessel_ml / plan.liquid_ml if plan.liquid_ml else 0.0
        found.append(
            _exact(
                "Vessel, at least",
                plan.vessel_ml,
                "ml",
                0,
                Working(
                    "liquid x room",
                    (Input("liquid", plan.liquid_ml, "ml"), Input("room", times, "times")),
                    "three times where it foams, else one and a half (assumed)",
                ),
                Basis.ASSUMED,
            )
        )
    if plan.gas_l > 0.01:
        found.append(
            _exact(
                "Gas that foams off",
                plan.gas_l,
                "l",
                1,
                Working(
                    "moles of carbon dioxide x litres of one",
                    (Input("litres of a mole", GAS_L_PER_MOL, "l", Basis.LIBRARY),),
                    "at 20 °C and 101.3 kPa",
                ),
            )
        )
    return found


def _washed(plan: RunPlan, process: Process) -> list[Figure]:
    found = []
    retained = core.retained_ml(plan, process)
    if plan.wash_ml > 0:
        found.append(
            _exact(
                "Washing water",
                plan.wash_ml,
                "ml",
                0,
                Working("ml of one wash x washes x scale", (Input("scale", plan.factor, "times"),)),
            )
        )
    if plan.left_fraction is not None:
        left = plan.left_fraction
        found.append(
            Figure.of(
                "Salts left after it",
                Estimate(100 * left, 100 * left / 3, min(100.0, 300 * left), Basis.ASSUMED),
                "%",
                3 if left < 0.001 else 2 if left < 0.01 else 1,
                Working(
                    "v / (v + V) for each wash, multiplied",
                    (
                        Input("v, what the cake holds", retained, "ml", Basis.ASSUMED),
                        Input("V, all the water", plan.wash_ml, "ml"),
                    ),
                    "well stirred; ISO 787-3 checks the salts",
                    "what the cake holds is assumed",
                ),
            )
        )
    if plan.waste_ml > 0:
        found.append(
            _exact(
                "Waste",
                plan.waste_ml,
                "ml",
                0,
                Working(
                    "liquid of the solutions + washing water",
                    (Input("liquid", plan.liquid_ml, "ml"), Input("washing water", plan.wash_ml, "ml")),
                ),
            )
        )
    return found
