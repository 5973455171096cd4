"""Mixing paints in numbers: a paint's two constants from its masstone and tint, and what a mixture looks like."""

from niddy.core.mixing.constants import (
    K1,
    K2,
    SCATTERS,
    Paint,
    assumed,
    calibrated,
    inside,
    k_over_s,
    mixed,
    outside,
    reflectance_of,
    white_of,
)

__all__ = [
    "K1",
    "K2",
    "SCATTERS",
    "Paint",
    "assumed",
    "calibrated",
    "inside",
    "k_over_s",
    "mixed",
    "outside",
    "reflectance_of",
    "white_of",
]
