"""Correction: the paste is off; by how much, and what each way back costs."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from niddy.core.errors import density_g_per_ml, mass_g, oil_g_per_100g
from niddy.core.wetting import Body, body_at, reduced_at

NEAR_ENOUGH = 0.005
"""Within this fraction of the target ratio nothing is corrected."""

BOTH_WAYS_LIMIT = 2


class Direction(StrEnum):
    """Which way a correction goes."""

    ADD_PIGMENT = "add_pigment"
    ADD_OIL = "add_oil"
    NONE = "none"


@dataclass(frozen=True, slots=True)
class Correction:
    """What brings the paste to its target. Amounts not called for are 0; `reachable` is about pigment on hand."""

    direction: Direction
    pigment_to_add_g: float
    oil_to_add_g: float
    oil_to_draw_g: float
    reduced_pvc_now: float
    body_now: Body
    reduced_pvc_after: float
    volume_before_ml: float
    volume_after_ml: float
    reachable: bool


def correct(
    pigment_g: float,
    oil_g: float,
    target: float,
    pigment_density: float,
    oil_density: float,
    oil_absorption: float,
    pigment_on_hand_g: float | None = None,
) -> Correction:
    """The way from what is in the paste (g pigment, g oil) to a target ratio; oil absorption in this oil.

    Too loose: pigment to add, or oil to draw out. Too stiff: oil to add. Where less pigment is on hand
    than needed, `reachable` is False and the state after is how far it reaches. Raises Refused.
    """
    mass_g("pigment_g", pigment_g)
    mass_g("oil_g", oil_g, zero=True)
    oil_g_per_100g("target_oil_g_per_100g", target)
    density_g_per_ml("pigment_density_g_per_ml", pigment_density)
    density_g_per_ml("oil_density_g_per_ml", oil_density)
    oil_g_per_100g("oil_absorption_g_per_100g", oil_absorption)
    if pigment_on_hand_g is not None:
        mass_g("pigment_on_hand_g", pigment_on_hand_g, zero=True)

    ratio = 100 * oil_g / pigment_g
    add_pigment = add_oil = draw_oil = 0.0
    direction, reachable = Direction.NONE, True
    if abs(ratio / target - 1) <= NEAR_ENOUGH:
        pass
    elif ratio > target:
        direction = Direction.ADD_PIGMENT
        add_pigment = 100 * oil_g / target - pigment_g
        draw_oil = oil_g - target * pigment_g / 100
        reachable = pigment_on_hand_g is None or pigment_on_hand_g >= add_pigment
    else:
        direction = Direction.ADD_OIL
        add_oil = target * pigment_g / 100 - oil_g
    pigment_after = pigment_g + (add_pigment if reachable else pigment_on_hand_g or 0.0)
    oil_after = oil_g + add_oil

    def reduced(pigment: float, oil: float) -> float:
        return reduced_at(100 * oil / pigment, oil_absorption, pigment_density, oil_density)

    return Correction(
        direction,
        add_pigment,
        add_oil,
        draw_oil,
        reduced(pigment_g, oil_g),
        body_at(reduced(pigment_g, oil_g)),
        reduced(pigment_after, oil_after),
        pigment_g / pigment_density + oil_g / oil_density,
        pigment_after / pigment_density + oil_after / oil_density,
        reachable,
    )
