"""A powder and an oil as the calculations need them before anybody had a lot of either: by the library alone."""

from __future__ import annotations

from functools import lru_cache

from niddy.core.demand import Demand, learn
from niddy.core.materials import CAKE_FAMILY, BinderOil, DryPigment, Oil, Pigment
from niddy.core.measures import DROP_G


@lru_cache(maxsize=512)
def shipped_says(low: float, high: float) -> Demand:
    """The demand the library gives a pigment: that of a lot nobody saw yet."""
    return learn(low, high).unseen_lot


def range_says(pigment: Pigment) -> str:
    """The line for a demand that rests on the library alone."""
    return f"library range {pigment.oil_absorption_low:g} to {pigment.oil_absorption_high:g}, approximate"


def dry_of(pigment: Pigment) -> DryPigment:
    """A powder of no lot: the library's figures, its oil absorption as wide as the range given there."""
    demand = shipped_says(pigment.oil_absorption_low, pigment.oil_absorption_high)
    return DryPigment(
        lot_id=None,
        key=pigment.key,
        name=pigment.name,
        lot_code="",
        ci_name=pigment.ci_name,
        density_g_per_ml=pigment.density_g_per_ml,
        loose_density_g_per_ml=pigment.loose_density_g_per_ml,
        loose_density_measured=False,
        particle=pigment.particle,
        tinting=pigment.tinting,
        masstone_srgb=pigment.masstone_srgb,
        hazards=pigment.hazards,
        demand_g_per_100g=demand.estimate.median,
        demand_sd_ln=demand.sd_ln,
        demand_basis=demand.estimate.basis,
        demand_says=range_says(pigment),
        drying=pigment.drying,
        dispersing=pigment.dispersing,
        opacity=pigment.opacity,
        recycled=pigment.family == CAKE_FAMILY,
    )


def binder_of(oil: Oil) -> BinderOil:
    """An oil of no bottle, its drops as drops usually are."""
    return BinderOil(
        lot_id=None,
        key=oil.key,
        name=oil.full_name,
        lot_code="",
        density_g_per_ml=oil.density_g_per_ml,
        hazards=oil.hazards,
        drop_g=DROP_G,
        drop_measured=False,
        touch_dry_days_low=oil.touch_dry_days_low,
        touch_dry_days_high=oil.touch_dry_days_high,
        nonvolatile_fraction=oil.nonvolatile_fraction,
    )
