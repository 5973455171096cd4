"""Loads and minutes on a bench."""

from __future__ import annotations

from niddy.core import sizing
from niddy.core.estimate import Basis
from niddy.core.figure import Figure, Input, Working
from niddy.core.materials import FILM_MM, TAU_MIN, coarsest, slowest
from niddy.core.plan.wish import MULL_DISPERSION_TIMES, TOOTH_FACTOR, Bench, Line, Wish


def mull_minutes(tau_min: float, bench: Bench) -> float:
    """Minutes to mull one load before judging it: twice the dispersion time `tau_min`, longer on a worn face."""
    worn = max(TOOTH_FACTOR[bench.slab_tooth], TOOTH_FACTOR[bench.muller_tooth])
    return MULL_DISPERSION_TIMES * tau_min * worn


def dispersion_minutes(wish: Wish, lines: tuple[Line, ...]) -> float:
    """Dispersion time of a blend: what the studio's own clock says of it, else by its slowest pigment's class."""
    if wish.learned_tau_min is not None:
        return wish.learned_tau_min
    return TAU_MIN[slowest([line.pigment.dispersing for line in lines])]


def bench_figures(
    wish: Wish, lines: tuple[Line, ...], sized: sizing.Sizing
) -> tuple[Figure | None, Figure | None, Figure | None]:
    """Loads on the slab, what one holds, and the minutes of the session."""
    bench = wish.bench
    if bench is None or sized.loads is None or sized.load_ml is None:
        return None, None, None
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
    mull = mull_minutes(dispersion_minutes(wish, lines), bench)
    time = Figure(
        "Time at the bench", sizing.session_minutes(sized.loads, mull), "min", 0, Basis.ASSUMED,
        Working(
            "set-up + loads x (mulling + handling) + cleaning",
            (
                Input("set-up", sizing.SET_UP_MIN, "min", Basis.ASSUMED),
                Input("loads", float(sized.loads)),
                Input("mulling a load (twice the dispersion time, by tooth)", mull, "min", Basis.ASSUMED),
                Input("handling a load", sizing.HANDLING_MIN_PER_LOAD, "min", Basis.ASSUMED),
                Input("cleaning", sizing.CLEANING_MIN, "min", Basis.ASSUMED),
            ),
        ),
    )  # fmt: skip
    return count, capacity, time
