"""Rub-out: oil worked into weighed pigment by small steps until it coheres (ISO 787-5, ASTM D281)."""

from __future__ import annotations

import math
from dataclasses import dataclass

from niddy.core.demand import WEIGHED_SD_LN
from niddy.core.errors import Refused, density_g_per_ml, mass_g, within
from niddy.core.estimate import Basis, Estimate, total
from niddy.core.figure import Figure, Input, Working
from niddy.core.measures import Unit, sd_ln_of
from niddy.core.steps import Step
from niddy.core.wetting import in_reference_oil

DEFAULT_PIGMENT_G = 5.0
AGREEMENT = 0.10
"""Two repeats that differ by more than this fraction of their mean ask for a third."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Phase(Step):
    """A step of the rub-out that holds while the oil is still below a fraction of what is expected."""

    below: float


PHASES = (
    Phase(
        key="dust",
        below=0.55,
        name="Dust and specks",
        says="pour freely",
        how="Powder stays loose; oil makes dark specks. Fold them in with the edge of the knife.",
    ),
    Phase(
        key="crumbs",
        below=0.80,
        name="Crumbs",
        says="a few drops",
        how="Small crumbs that fall apart under the knife. Press and smear hard.",
    ),
    Phase(
        key="lumps",
        below=0.94,
        name="Lumps that gather",
        says="two drops",
        how="Lumps stick to each other but crack when pressed.",
    ),
    Phase(
        key="close",
        below=9.0,
        name="Close to the end",
        says="one drop, then rub again",
        how="The end is one coherent putty: it gathers in a ball, spreads without cracking, just smears the glass.",
    ),
)
"""Phases by oil poured over oil expected (assumed): a guide for the eye, never the end point itself."""


@dataclass(frozen=True, slots=True)
class Added:
    """Oil added once: its mass, and how it was measured."""

    mass: Estimate
    unit: Unit


@dataclass(frozen=True, slots=True)
class Result:
    """What a rub-out says: oil absorption in its oil and in the reference oil, and the sd of its logarithm.

    `measuring_sd_ln` is the part that counting the oil leaves open.
    """

    oil_g: Estimate
    in_oil: Figure
    in_reference: Figure
    sd_ln: float
    measuring_sd_ln: float = 0.0


def oil_so_far(steps: tuple[Added, ...]) -> Estimate:
    """The oil of all steps; drops and spoons of one bottle err together, so their spreads add up."""
    added = total([step.mass for step in steps])
    half = sum(step.mass.half_width for step in steps)
    return Estimate(added.median, added.median - half, added.median + half, added.basis)


def phase(oil_g: float, pigment_g: float, expected_g_per_100g: float) -> Phase:
    """Where a rub-out likely stands, by what this pigment is expected to take in this oil."""
    share = 100 * oil_g / pigment_g / expected_g_per_100g
    return next(known_phase for known_phase in PHASES if share < known_phase.below or known_phase is PHASES[-1])


def check_start(pigment_g: float, temperature_c: float | None) -> None:
    """Refuse an amount of pigment or a temperature no rub-out is made with."""
    within("pigment_g", pigment_g, 0.2, 100, "g")
    if temperature_c is not None:
        within("temperature_c", temperature_c, 0, 60, "C")


def result(pigment_g: float, steps: tuple[Added, ...], oil_density: float) -> Result:
    """Oil absorption at the end point. Raises Refused where no oil was added."""
    mass_g("pigment_g", pigment_g)
    density_g_per_ml("oil_density_g_per_ml", oil_density)
    if not steps:
        raise Refused("steps", "no oil was added yet", "the end point after at least one step of oil")
    oil = oil_so_far(steps)
    # Drops and spoons of one bottle err together.
    measuring = sum(step.mass.median * sd_ln_of(step.mass) for step in steps) / oil.median
    scale = 100 / pigment_g
    here = Estimate(oil.median * scale, oil.low * scale, oil.high * scale, Basis.MEASURED)
    inputs = (Input("oil", oil.median, "g", oil.basis), Input("pigment", pigment_g, "g", Basis.MEASURED))
    source = "rub-out with the knife, ISO 787-5 or ASTM D281"
    in_oil = Figure.of("Oil absorption", here, "g per 100 g", 1, Working("100 x oil / pigment", inputs, source))
    median, low, high = (in_reference_oil(value, oil_density) for value in (here.median, here.low, here.high))
    turned = Estimate(median, low, high, Basis.MEASURED)
    in_reference = Figure.of(
        "In the reference oil",
        turned,
        "g per 100 g",
        1,
        Working(
            "oil absorption x 0.930 / oil density",
            (
                Input("oil absorption", here.median, "g per 100 g", Basis.MEASURED),
                Input("oil density", oil_density, "g/ml"),
            ),
            "the same volume of oil wets",
        ),
    )
    return Result(oil, in_oil, in_reference, math.hypot(WEIGHED_SD_LN, measuring), measuring)


@dataclass(frozen=True, slots=True)
class Agreement:
    """Repeats of one lot: how many, their mean, the largest difference over the mean, and what to do."""

    count: int
    mean_g_per_100g: float
    difference: float
    ask_again: bool
    says: str


def agreement(values: list[float]) -> Agreement | None:
    """How well repeats (oil absorption in the reference oil) agree; None without any."""
    if not values:
        return None
    mean = sum(values) / len(values)
    difference = (max(values) - min(values)) / mean
    if len(values) == 1:
        return Agreement(1, mean, 0.0, True, "One test says little of the hand: make a second.")
    if len(values) == 2 and difference > AGREEMENT:
        return Agreement(2, mean, difference, True, f"They differ by {difference:.0%} of their mean: make a third.")
    if difference > AGREEMENT:
        says = f"They differ by {difference:.0%}; the estimate weighs them all."
        return Agreement(len(values), mean, difference, False, says)
    return Agreement(len(values), mean, difference, False, f"They agree to {difference:.0%} of their mean.")
