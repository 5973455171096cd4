"""How the core says no: which field, what was wrong, what would be accepted."""

from __future__ import annotations

import math


class Refused(Exception):
    """A value the rules of the job cannot work with.

    `field` is the dotted path of the value in the request (`tubes.0.count`), `problem` says what was
    wrong, `accepted` what would be taken instead.
    """

    def __init__(self, field: str, problem: str, accepted: str) -> None:
        super().__init__(f"{field}: {problem}; accepted: {accepted}")
        self.field = field
        self.problem = problem
        self.accepted = accepted

    def under(self, prefix: str) -> Refused:
        """The same refusal, its field seen from one level further out."""
        return Refused(f"{prefix}.{self.field}" if self.field else prefix, self.problem, self.accepted)


MIN_MASS_G = 0.001
"""Less than a milligram no bench can hold: a slip of the finger, or nonsense that would blow up what divides by it."""

MAX_MASS_G = 20_000.0
MIN_VOLUME_ML = 0.01
MAX_VOLUME_ML = 20_000.0
MIN_DENSITY_G_PER_ML = 0.01
MAX_DENSITY_G_PER_ML = 25.0
MIN_OIL_G_PER_100G = 0.1
MAX_OIL_G_PER_100G = 1_000.0
MIN_LENGTH_MM = 0.01
MIN_TUBE_ML = 0.1
MIN_DROP_G = 0.0005
MIN_PARTS = 0.001
REDUCED_PVC_LOW = 0.5
REDUCED_PVC_HIGH = 1.15


def within(field: str, value: float, low: float, high: float, unit: str = "", *, open_low: bool = False) -> float:
    """`value` where it is finite and between the limits (`open_low`: above the lower one); Refused otherwise."""
    unit = f" {unit}" if unit else ""
    accepted = f"{'above' if open_low else 'from'} {low:g} {'up to' if open_low else 'to'} {high:g}{unit}"
    if not math.isfinite(value):
        raise Refused(field, "not a finite number", accepted)
    if value < low or value > high or (open_low and value <= low):
        raise Refused(field, f"{value:g}{unit} is outside", accepted)
    return value


def mass_g(field: str, value: float, *, zero: bool = False) -> float:
    """A mass a bench can hold: from 1 mg (or nothing at all where `zero`) to 20 kg."""
    return within(field, value, 0 if zero else MIN_MASS_G, MAX_MASS_G, "g")


def volume_ml(field: str, value: float) -> float:
    """A volume that something holds: from 0.01 ml to 20 l."""
    return within(field, value, MIN_VOLUME_ML, MAX_VOLUME_ML, "ml")


def density_g_per_ml(field: str, value: float) -> float:
    """A density of matter, loose powder included: from 0.01 to 25 g/ml."""
    return within(field, value, MIN_DENSITY_G_PER_ML, MAX_DENSITY_G_PER_ML, "g/ml")


def oil_g_per_100g(field: str, value: float) -> float:
    """A ratio or an oil absorption: from 0.1 to 1000 g oil per 100 g pigment."""
    return within(field, value, MIN_OIL_G_PER_100G, MAX_OIL_G_PER_100G, "g per 100 g")


def reduced_pvc(field: str, value: float) -> float:
    """A target on the wetting scale: 0.5 to 1.15."""
    return within(field, value, REDUCED_PVC_LOW, REDUCED_PVC_HIGH)
