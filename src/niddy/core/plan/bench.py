"""Loads and minutes on a bench."""

from __future__ import annotations

from dataclasses import dataclass

from niddy.core import sizing
from niddy.core.estimate import Basis
from niddy.core.figure import Figure, Input, Working
from niddy.core.materials import FILM_MM, TAU_MIN, coarsest, slowest
from niddy.core.plan.wish import (
    EXPECTED_UM,
    GRIND_DISPERSIONS,
    GRIND_FINENESS,
    GRIND_NAMES,
    KNIFE_ML,
    LEAST_OF_A_LOAD,
    MINUTES_SPREAD,
    ONE_MASS_POWER,
    PACE_SPREAD,
    QUIET_DISPERSION_TIMES,
    TIDYING_MIN,
    TIDYING_STRICT_MIN,
    TOOL_FACTOR,
    TOOL_FINENESS,
    TOOTH_FACTOR,
    Bench,
    Grind,
    Line,
    Tool,
    Wish,
)


def mull_minutes(tau_min: float, bench: Bench, dispersions: float) -> float:
    """Minutes to work a load before judging it: so many dispersion times `tau_min`, longer on a worn face.

    `tau_min` is the tool's own, for as much as lies on the slab.
    """
    worn = max(TOOTH_FACTOR[bench.slab_tooth], TOOTH_FACTOR[bench.muller_tooth])
    return dispersions * tau_min * worn


def dispersion_minutes(wish: Wish, lines: tuple[Line, ...]) -> float:
    """Dispersion time of a blend: what the studio's own clock says of it, else by its slowest pigment's class."""
    known = wish.learned_tau_min
    return known if known is not None else TAU_MIN[slowest([line.pigment.dispersing for line in lines])]


def dispersions(wish: Wish) -> float:
    """How many dispersion times a load is worked for the finish wanted; by its own clock until it is silent."""
    own = QUIET_DISPERSION_TIMES if wish.learned_tau_min is not None else 1.0
    return GRIND_DISPERSIONS[wish.grind] * own


def loads_of(bench: Bench | None, sized: sizing.Sizing) -> int:
    """How many loads it is worked in: one, where all of it is worked at once."""
    if bench is None or sized.loads is None or bench.in_one_mass:
        return 1
    return sized.loads


def working_factor(bench: Bench | None, sized: sizing.Sizing) -> float:
    """How long a load takes against a full one under a muller: by its tool, by less on the slab, or by all at once."""
    if bench is None or sized.loads is None or not sized.load_ml:
        return 1.0
    if loads_of(bench, sized) > 1:
        return TOOL_FACTOR[bench.tool]
    of_full = sized.volume_ml / (KNIFE_ML if bench.tool is Tool.KNIFE else sized.load_ml)
    return TOOL_FACTOR[bench.tool] * (of_full**ONE_MASS_POWER if of_full > 1 else max(LEAST_OF_A_LOAD, of_full))


def expected_fineness(bench: Bench | None, lines: tuple[Line, ...], grind: Grind = Grind.USUAL) -> Figure:
    """How fine the tool leaves the coarsest of the powders, wanted coarse or smooth."""
    tool = bench.tool if bench is not None else Tool.MULLER
    particle = coarsest([line.pigment.particle for line in lines])
    return Figure(
        "Fineness to expect",
        EXPECTED_UM[particle] * TOOL_FINENESS[tool] * GRIND_FINENESS[grind],
        "um",
        0,
        Basis.ASSUMED,
        Working(
            "fineness under a muller x factor of the tool" + ("" if grind is Grind.USUAL else " x factor of the wish"),
            (
                Input(f"under a muller ({particle} pigment)", EXPECTED_UM[particle], "um", Basis.ASSUMED),
                Input(f"factor ({tool})", TOOL_FINENESS[tool], "", Basis.ASSUMED),
                *(
                    [Input(f"factor ({GRIND_NAMES[grind]})", GRIND_FINENESS[grind], "", Basis.ASSUMED)]
                    if grind is not Grind.USUAL
                    else []
                ),
            ),
        ),
    )


@dataclass(frozen=True, slots=True)
class BenchFigures:
    """Loads on the slab, what one holds, the minutes at the slab, and those to set up and clean."""

    loads: Figure | None = None
    load_ml: Figure | None = None
    minutes: Figure | None = None
    tidying: Figure | None = None


def bench_figures(wish: Wish, lines: tuple[Line, ...], sized: sizing.Sizing, *, strict_powders: bool) -> BenchFigures:
    """What the bench makes of an amount; `strict_powders` must not spread, and take longer to clean up after."""
    bench = wish.bench
    if bench is None or sized.loads is None or sized.load_ml is None:
        return BenchFigures()
    particle = coarsest([line.pigment.particle for line in lines])
    film_mm = bench.film_mm or FILM_MM[particle]
    film_basis = Basis.ENTERED if bench.film_mm else Basis.ASSUMED
    capacity = Figure(
        "One load holds",
        sized.load_ml,
        "ml",
        1,
        Basis.ASSUMED,
        Working(
            "slab area x usable fraction x film / 10",
            (
                Input("slab area", bench.area_cm2, "cm2", Basis.ENTERED),
                Input("usable fraction", sizing.USABLE_FRACTION, "", Basis.ASSUMED),
                Input(f"film ({particle} pigment)", film_mm, "mm", film_basis),
            ),
        ),
    )
    many = loads_of(bench, sized)
    count = Figure(
        "Loads",
        float(many),
        "",
        0,
        Basis.ASSUMED,
        Working(
            "all of it worked at once" if bench.in_one_mass else "paint volume / one load, rounded up",
            (Input("paint volume", sized.volume_ml, "ml"), Input("one load", sized.load_ml, "ml", Basis.ASSUMED)),
        ),
    )
    factor = working_factor(bench, sized)
    mull = mull_minutes(dispersion_minutes(wish, lines) * factor, bench, dispersions(wish))
    pace = wish.pace or 1.0
    basis, spread = (Basis.ASSUMED, MINUTES_SPREAD) if wish.pace is None else (Basis.LEARNED, PACE_SPREAD)
    handling = sizing.HANDLING_MIN_PER_LOAD * min(1.0, factor)
    hands_on = many * (mull + handling) * pace
    time = Figure(
        "At the slab",
        hands_on,
        "min",
        0,
        basis,
        Working(
            "loads x (working + handling) x your pace",
            (
                Input("loads", float(many)),
                Input(
                    f"working a load, for a {GRIND_NAMES[wish.grind]} finish, by tool, tooth and amount",
                    mull,
                    "min",
                    Basis.ASSUMED,
                ),
                Input("handling a load", handling, "min", Basis.ASSUMED),
                Input("your pace, by your own clock", pace, "", basis),
            ),
            "a third either way until one batch of your own was timed" if wish.pace is None else "",
        ),
        hands_on * (1 - spread),
        hands_on * (1 + spread),
    )
    strict = TIDYING_STRICT_MIN if strict_powders else 0.0
    tidying = Figure(
        "Set up and clean",
        TIDYING_MIN[bench.tool] + strict,
        "min",
        0,
        Basis.ASSUMED,
        Working(
            "by what is used, more after powders that must not spread",
            (
                Input(f"with the {bench.tool}", TIDYING_MIN[bench.tool], "min", Basis.ASSUMED),
                Input("for such powders", strict, "min", Basis.ASSUMED),
            ),
        ),
    )
    return BenchFigures(count, capacity, time, tidying)
