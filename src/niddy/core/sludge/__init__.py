"""Brush-washing sludge: how it dries, what oil a cake of it takes, when there is enough for a tube."""

from niddy.core.sludge.cake import Cake, Washing, cake
from niddy.core.sludge.drydown import TUBING_RESIDUAL, DryDown, Weighing, drydown, hours_to, mass_at
from niddy.core.sludge.filling import LEAST_WEEKS, forecast

__all__ = [
    "LEAST_WEEKS", "TUBING_RESIDUAL", "Cake", "DryDown", "Washing", "Weighing", "cake", "drydown", "forecast",
    "hours_to", "mass_at",
]  # fmt: skip
