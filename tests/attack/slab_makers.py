"""Made-up makers at the slab: in what manner they work, and what they plan."""

from __future__ import annotations

from enum import StrEnum
from typing import Any


class Manner(StrEnum):
    """How a made-up maker works: does as told, in a hurry, or anything but."""

    CAREFUL = "careful"
    HASTY = "hasty"
    CONTRARY = "contrary"


OBEYS = {Manner.CAREFUL: 0.85, Manner.HASTY: 0.55, Manner.CONTRARY: 0.2}
"""How often each does what is advised."""

_YOLK = {"additive_key": "egg-yolk", "dose_pct": 2.0}
_STEARATE = {"additive_key": "aluminium-stearate", "dose_pct": 1.5}
PLANS: tuple[dict[str, Any], ...] = (
    {"lines": [{"pigment_key": "bone-black", "parts": 1.0}], "pigment_g": 40.0},
    {"lines": [{"pigment_key": "bone-black", "parts": 1.0}], "pigment_g": 100.0, "reduced_pvc": 0.93},
    {
        "lines": [{"pigment_key": "burnt-sienna", "parts": 2.0}, {"pigment_key": "raw-umber", "parts": 1.0}],
        "pigment_g": 30.0,
        "reduced_pvc": 0.75,
        "additives": [_YOLK],
    },
    {
        "lines": [{"pigment_key": "caput-mortuum", "spoons": {"amount": 2.0, "unit": "half_teaspoon"}}],
        "measuring": "spoons",
        "tool": "knife",
    },
    {
        "lines": [{"pigment_key": "raw-umber", "spoons": {"amount": 3.0, "unit": "teaspoon"}}],
        "measuring": "eye",
        "tool": "knife",
    },
    {
        "lines": [{"pigment_key": "burnt-sienna", "parts": 1.0}],
        "pigment_g": 25.0,
        "additives": [_STEARATE],
        "measuring": "spoons",
        "tool": "jar",
    },
    {"lines": [{"pigment_key": "caput-mortuum", "parts": 1.0}], "pigment_g": 220.0, "additives": [_YOLK, _STEARATE]},
)
