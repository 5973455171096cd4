"""Why two batches differ: the change in spread shared out over what changed, and what stays."""

from __future__ import annotations

import math
from dataclasses import dataclass

from niddy.core import pours
from niddy.core.checks import Slope
from niddy.core.rebuild import Wets
from niddy.core.wetting import reduced_at


@dataclass(frozen=True, slots=True)
class BatchInputs:
    """What went into a batch, as far as it bears on its body. `minutes` a load, None where nobody kept time."""

    oil_g_per_100g: float
    wets: Wets
    minutes: float | None = None
    tau_min: float = 8.0
    additive_ln_stress: float = 0.0


@dataclass(frozen=True, slots=True)
class Share:
    """One input's change and its expected share of the change in ln D; `mm` is that share at the first batch's D."""

    what: str
    before: float | None
    after: float | None
    unit: str
    ln_d: float
    mm: float


@dataclass(frozen=True, slots=True)
class Explained:
    """The change in spread in all, shared out, and what no input explains."""

    change_mm: float
    shares: tuple[Share, ...]
    unexplained_mm: float
    unexplained_ln_d: float
    slope: Slope


def explain(before: BatchInputs, before_mm: float, after: BatchInputs, after_mm: float, by: Slope) -> Explained:
    """Share the change of a spread diameter out over ratio, lot, oil, additive and minutes.

    One input is changed after the other, in that order, from the first batch to the second, so that the
    shares add up; each step's change of reduced PVC times the slope is its share.
    """
    total = math.log(after_mm / before_mm)
    old, new = before.wets, after.wets
    steps = [
        ("ratio", before.oil_g_per_100g, after.oil_g_per_100g, "g per 100 g", old),
        (
            "lot",
            old.oil_absorption_g_per_100g / old.oil_density_g_per_ml,
            new.oil_absorption_g_per_100g / new.oil_density_g_per_ml,
            "ml oil per 100 g",
            Wets(
                new.oil_absorption_g_per_100g * old.oil_density_g_per_ml / new.oil_density_g_per_ml,
                new.pigment_density_g_per_ml,
                old.oil_density_g_per_ml,
            ),
        ),
        ("oil", old.oil_density_g_per_ml, new.oil_density_g_per_ml, "g/ml", new),
    ]
    shares = []
    at = _reduced(before.oil_g_per_100g, old)
    for what, was, now, unit, wets in steps:
        then = _reduced(after.oil_g_per_100g, wets)
        shares.append(_share(what, was, now, unit, by.per_reduced * (then - at), before_mm))
        at = then
    # Stress goes with D^-5 at one volume and mass.
    stiffer = after.additive_ln_stress - before.additive_ln_stress
    shares.append(
        _share("additive", before.additive_ln_stress, after.additive_ln_stress, "ln stress", -stiffer / 5, before_mm)
    )
    if before.minutes is not None and after.minutes is not None:
        excess = pours.reading_excess(after.minutes, after.tau_min) - pours.reading_excess(
            before.minutes, before.tau_min
        )
        shares.append(
            _share("minutes a load", before.minutes, after.minutes, "min", by.per_reduced * excess, before_mm)
        )
    left = total - sum(share.ln_d for share in shares)
    return Explained(after_mm - before_mm, tuple(shares), before_mm * math.expm1(left), left, by)


def _reduced(ratio: float, wets: Wets) -> float:
    return reduced_at(ratio, wets.oil_absorption_g_per_100g, wets.pigment_density_g_per_ml, wets.oil_density_g_per_ml)


def _share(what: str, was: float | None, now: float | None, unit: str, ln_d: float, at_mm: float) -> Share:
    return Share(what, was, now, unit, ln_d, at_mm * math.expm1(ln_d))
