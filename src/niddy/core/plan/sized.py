"""How much to make: from tubes, from pigment in hand, or from spoons."""

from __future__ import annotations

from collections.abc import Callable

from niddy.core import additives as doses
from niddy.core import sizing
from niddy.core.errors import Refused
from niddy.core.estimate import Estimate
from niddy.core.materials import FILM_MM, coarsest
from niddy.core.plan.dosing import AdditivesShape
from niddy.core.plan.wish import Wish


def oil_or_none(dosed: Callable[[float], doses.Amounts], absorption: float) -> float:
    """The oil at the low end of the demand, where little may be left of it."""
    try:
        return dosed(absorption).oil_g
    except Refused:
        return 0.0


def sized_wish(
    wish: Wish, ratio: float, pigment_density: float, measured: tuple[Estimate, ...], shape: AdditivesShape
) -> sizing.Sizing:
    """How much pigment a wish comes to. Raises Refused where nothing says how much."""
    pigment_g = sum(mass.median for mass in measured) if measured else wish.pigment_g
    if not measured and pigment_g is not None:
        pigment_g *= 1 + sum(extender.dosing.dose_pct for extender in wish.extenders) / 100
    tubes = [sizing.TubesWanted(tube.usable_ml, tube.count) for tube in wish.tubes] if wish.tubes is not None else None
    bench = wish.bench
    particle = coarsest([line.pigment.particle for line in wish.lines])
    return sizing.size(
        ratio,
        pigment_density,
        wish.oil.density_g_per_ml,
        tubes=tubes,
        pigment_g=pigment_g,
        hold_up_ml=wish.loss.hold_up_ml,
        loss=wish.loss.loss,
        slab_area_cm2=bench.area_cm2 if bench else None,
        film_mm=(bench.film_mm or FILM_MM[particle]) if bench else None,
        additive_ml_per_100g=shape.ml_per_100g,
        additive_g_per_100g=shape.g_per_100g,
    )
