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


MAX_MASS_G = 20_000.0
MAX_VOLUME_ML = 20_000.0
MAX_DENSITY_G_PER_ML = 25.0
MAX_OIL_G_PER_100G = 1_000.0
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
    """A mass a bench can hold: above 0 (or from 0 where `zero`) and at most 20 kg."""
    return within(field, value, 0, MAX_MASS_G, "g", open_low=not zero)


def density_g_per_ml(field: str, value: float) -> float:
    """A density of matter: above 0 and at most 25 g/ml."""
    return within(field, value, 0, MAX_DENSITY_G_PER_ML, "g/ml", open_low=True)


def oil_g_per_100g(field: str, value: float) -> float:
    """A ratio or an oil absorption: above 0 and at most 1000 g oil per 100 g pigment."""
    return within(field, value, 0, MAX_OIL_G_PER_100G, "g per 100 g", open_low=True)


def reduced_pvc(field: str, value: float) -> float:
    """A target on the wetting scale: 0.5 to 1.15."""
    return within(field, value, REDUCED_PVC_LOW, REDUCED_PVC_HIGH)
