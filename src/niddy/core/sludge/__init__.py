"""Brush-washing sludge: cans, how they settle, how a dish of it dries, what oil a cake takes, enough for a tube."""

from niddy.core.contents import UNKNOWN_PARTS
from niddy.core.sludge.cake import LEAST_OIL, Cake, Washing, cake
from niddy.core.sludge.can import GRAMS_PER_WEIGHT, OFF_THE_LEDGER, WEEKS_KEPT, Can, Height, Liquid, Origin, week_of
from niddy.core.sludge.can_acts import CanAct, CanFacts, CanLogged
from niddy.core.sludge.can_acts import after as can_after
from niddy.core.sludge.can_acts import fold as can_of
from niddy.core.sludge.dish import SQUEEZED_HIGH, SQUEEZED_LOW, Dish, Forecast, Method, Weighed, drawn, own_pace
from niddy.core.sludge.dish import forecast as dish_forecast
from niddy.core.sludge.dish_acts import DishAct, DishFacts, DishLogged
from niddy.core.sludge.dish_acts import fold as dish_of
from niddy.core.sludge.drydown import (
    LEAST_READINGS,
    RISE,
    TUBING_RESIDUAL,
    Curve,
    DryDown,
    Weighing,
    drydown,
    hours_to,
    mass_at,
)
from niddy.core.sludge.filling import LEAST_WEEKS, forecast
from niddy.core.sludge.makeup import (
    ASKED_FIRST,
    WEIGHT,
    Makeup,
    Much,
    Washed,
    added,
    asked_first,
    beside,
    cake_of,
    density_of,
    own_tools,
    share_of,
    together,
)
from niddy.core.sludge.settling import Settling, settling
from niddy.core.sludge.steering import Grey, Numbers, Paint, Steered, Steering, aim_of, lean_of, steer

__all__ = [
    "ASKED_FIRST",
    "GRAMS_PER_WEIGHT",
    "LEAST_OIL",
    "LEAST_READINGS",
    "LEAST_WEEKS",
    "OFF_THE_LEDGER",
    "RISE",
    "SQUEEZED_HIGH",
    "SQUEEZED_LOW",
    "TUBING_RESIDUAL",
    "UNKNOWN_PARTS",
    "WEEKS_KEPT",
    "WEIGHT",
    "Cake",
    "Can",
    "CanAct",
    "CanFacts",
    "CanLogged",
    "Curve",
    "Dish",
    "DishAct",
    "DishFacts",
    "DishLogged",
    "DryDown",
    "Forecast",
    "Grey",
    "Height",
    "Liquid",
    "Makeup",
    "Method",
    "Much",
    "Numbers",
    "Origin",
    "Paint",
    "Settling",
    "Steered",
    "Steering",
    "Washed",
    "Washing",
    "Weighed",
    "Weighing",
    "added",
    "aim_of",
    "asked_first",
    "beside",
    "cake",
    "cake_of",
    "can_after",
    "can_of",
    "density_of",
    "dish_forecast",
    "dish_of",
    "drawn",
    "drydown",
    "forecast",
    "hours_to",
    "lean_of",
    "mass_at",
    "own_pace",
    "own_tools",
    "settling",
    "share_of",
    "steer",
    "together",
    "week_of",
]
