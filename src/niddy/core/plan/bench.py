"""Loads and minutes on a bench."""

from __future__ import annotations

from dataclasses import dataclass

from niddy.core import sizing
from niddy.core.estimate import Basis
from niddy.core.figure import Figure, Input, Working
from niddy.core.materials import FILM_MM, TAU_MIN, coarsest, slowest
from niddy.core.plan.wish import (
    EXPECTED_UM,
    GRIND_FINENESS,
    GRIND_TIME,
    LEAST_OF_A_LOAD,
    MULL_DISPERSION_TIMES,
    TOOL_FACTOR,
    TOOL_FINENESS,
    TOOTH_FACTOR,
    Bench,
    Grind,
    Line,
    Tool,
    Wish,
)


def mull_minutes(tau_min: float, bench: Bench) -> float:
    """Minutes to work one load before judging it: twice the dispersion time `tau_min`, longer on a worn face.

    `tau_min` is the tool's own, for as much as lies on the slab.
    """
    worn = max(TOOTH_FACTOR[bench.slab_tooth], TOOTH_FACTOR[bench.muller_tooth])
    return MULL_DISPERSION_TIMES * tau_min * worn


def dispersion_minutes(wish: Wish, lines: tuple[Line, ...]) -> float:
    """Dispersion time of a blend: what the studio's own clock says of it, else by its slowest pigment's class.

    Wanted coarse it is shorter, wanted smooth longer.
    """
    known = wish.learned_tau_min
    usual = known if known is not None else TAU_MIN[slowest([line.pigment.dispersing for line in lines])]
    return usual * GRIND_TIME[wish.grind]


def working_factor(bench: Bench | None, sized: sizing.Sizing) -> float:
    """How long a load takes against a full one under a muller: by its tool, and less where less lies on the slab."""
    if bench is None or sized.loads is None or not sized.load_ml:
        return 1.0
    of_full = min(1.0, sized.volume_ml / sized.loads / sized.load_ml)
    return TOOL_FACTOR[bench.tool] * max(LEAST_OF_A_LOAD, of_full)


def tidying_minutes(sized: sizing.Sizing) -> tuple[float, float]:
    """Minutes to set up and to clean: less where a little lies on one corner of the slab (assumed)."""
    if sized.loads is None or not sized.load_ml or sized.loads > 1:
        return sizing.SET_UP_MIN, sizing.CLEANING_MIN
    share = max(LEAST_TIDYING, min(1.0, sized.volume_ml / sized.load_ml))
    return sizing.SET_UP_MIN * share, sizing.CLEANING_MIN * share


LEAST_TIDYING = 0.4
"""However little is made, it takes this share of the usual setting up and cleaning (assumed)."""


def expected_fineness(bench: Bench | None, lines: tuple[Line, ...], grind: Grind = Grind.USUAL) -> Figure:
    """How fine the tool leaves the coarsest of the powders, wanted coarse or smooth."""
    tool = bench.tool if bench is not None else Tool.MULLER
    particle = coarsest([line.pigment.particle for line in lines])
    return Figure(
        "Fineness to expect", EXPECTED_UM[particle] * TOOL_FINENESS[tool] * GRIND_FINENESS[grind], "um", 0,
        Basis.ASSUMED,
        Working(
            "fineness under a muller x factor of the tool" + ("" if grind is Grind.USUAL else " x factor of the wish"),
            (
                Input(f"under a muller ({particle} pigment)", EXPECTED_UM[particle], "um", Basis.ASSUMED),
                Input(f"factor ({tool})", TOOL_FINENESS[tool], "", Basis.ASSUMED),
                *([Input(f"factor ({grind})", GRIND_FINENESS[grind], "", Basis.ASSUMED)]
                  if grind is not Grind.USUAL else []),
            ),
        ),
    )  # fmt: skip


@dataclass(frozen=True, slots=True)
class BenchFigures:
    """Loads on the slab, what one holds, the minutes at the slab, and those to set up and clean."""

    loads: Figure | None = None
    load_ml: Figure | None = None
    minutes: Figure | None = None
    tidying: Figure | None = None


def bench_figures(wish: Wish, lines: tuple[Line, ...], sized: sizing.Sizing) -> BenchFigures:
    """What the bench makes of an amount."""
    bench = wish.bench
    if bench is None or sized.loads is None or sized.load_ml is None:
        return BenchFigures()
    particle = coarsest([line.pigment.particle for line in lines])
    film_mm = bench.film_mm or FILM_MM[particle]
    film_basis = Basis.ENTERED if bench.film_mm else Basis.ASSUMED
    capacity = Figure(
        "One load holds", sized.load_ml, "ml", 1, Basis.ASSUMED,
        Working(
            "slab area x usable fraction x film / 10",
            (
                Input("slab area", bench.area_cm2, "cm2", Basis.ENTERED),
                Input("usable fraction", sizing.USABLE_FRACTION, "", Basis.ASSUMED),
                Input(f"film ({particle} pigment)", film_mm, "mm", film_basis),
            ),
        ),
    )  # fmt: skip
    count = Figure(
        "Loads", float(sized.loads), "", 0, Basis.ASSUMED,
        Working(
            "paint volume / one load, rounded up",
            (Input("paint volume", sized.volume_ml, "ml"), Input("one load", sized.load_ml, "ml", Basis.ASSUMED)),
        ),
    )  # fmt: skip
    factor = working_factor(bench, sized)
    mull = mull_minutes(dispersion_minutes(wish, lines) * factor, bench)
    pace = wish.pace or 1.0
    basis = Basis.ASSUMED if wish.pace is None else Basis.LEARNED
    set_up, cleaning = tidying_minutes(sized)
    handling = sizing.HANDLING_MIN_PER_LOAD * min(1.0, factor)
    hands_on = sized.loads * (mull + handling) * pace
    time = Figure(
        "At the slab", hands_on, "min", 0, basis,
        Working(
            "loads x (working + handling) x your pace",
            (
                Input("loads", float(sized.loads)),
                Input("working a load (twice the dispersion time, by tool, tooth and amount)", mull, "min",
                      Basis.ASSUMED),
                Input("handling a load", handling, "min", Basis.ASSUMED),
                Input("your pace, by your own clock", pace, "", basis),
            ),
        ),
    )  # fmt: skip
    tidying = Figure(
        "Set up and clean", set_up + cleaning, "min", 0, Basis.ASSUMED,
        Working(
            "setting up + cleaning, less for a little on one corner of the slab",
            (Input("setting up", set_up, "min", Basis.ASSUMED), Input("cleaning", cleaning, "min", Basis.ASSUMED)),
        ),
    )  # fmt: skip
    return BenchFigures(count, capacity, time, tidying)
