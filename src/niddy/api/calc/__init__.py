"""Calculators: the rules of the job without a record, with fixed fields."""

from __future__ import annotations

from niddy.api.calc import (
    additives,
    base,
    checks,
    day,
    demand,
    making,
    measuring,
    mixing,
    sizing,
    sludge,
    sticks,
    tubes,
    wetting,
)
from niddy.api.calc.base import router

__all__ = [
    "additives",
    "base",
    "checks",
    "day",
    "demand",
    "making",
    "measuring",
    "mixing",
    "router",
    "sizing",
    "sludge",
    "sticks",
    "tubes",
    "wetting",
]
