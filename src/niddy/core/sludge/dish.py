"""A dish of sludge that dries, or only drains, as it stands."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from enum import StrEnum

from niddy.core.estimate import Basis, Estimate
from niddy.core.log import Status
from niddy.core.sludge.drydown import (
    DRY_SHARE,
    DRY_SHARE_SD_LN,
    LEAST_ERROR_G,
    LEAST_READINGS,
    RISE,
    SURE,
    TAU_H,
    TAU_SD_LN,
    TUBING_RESIDUAL,
    Curve,
    DryDown,
    Sign,
    Weighing,
    curve,
    drydown,
)
from niddy.core.sludge.signs import Judged, liquid_by_signs

SQUEEZED_LOW, SQUEEZED_HIGH = 0.25, 0.40
"""Liquid that stays after squeezing in paper, as a share of the whole (assumed)."""


LIKELIER = 0.5


class Method(StrEnum):
    """How liquid leaves: pressed out in paper, dried in the air, or only drained, where it is oil."""

    SQUEEZE = "squeeze"
    EVAPORATE = "evaporate"
    DRAIN = "drain"


@dataclass(frozen=True, slots=True)
class Weighed:
    """One weighing: when, and g of sludge."""

    at: datetime
    g: float


@dataclass(frozen=True, slots=True)
class Dish:
    """A dish now. `weighed` are the weighings since it was last added to or squeezed; `all_weighed` every one.

    Both are of the sludge, without the empty dish (`tare_g`). `judged` is how dry it was judged to be last, since then.
    """

    tare_g: float = 0.0
    weighed: tuple[Weighed, ...] = ()
    all_weighed: tuple[Weighed, ...] = ()
    squeezed_at: datetime | None = None
    judged: Judged | None = None
    added: int = 0
    strained_um: float | None = None
    hairs_out: bool = False
    status: Status = Status.OPEN
    ended_g: float | None = None

    @property
    def judged_dry(self) -> bool:
        """Whether signs say that it may be tubed, and no weighing since says otherwise."""
        later = self.judged is not None and (not self.weighed or self.weighed[-1].at <= self.judged.at)
        return later and self.judged is not None and self.judged.may_be_tubed

    def readings(self) -> list[Weighing]:
        """The weighings since the start of this drying, by the hour; one an hour apart at the least is no matter."""
        if not self.weighed:
            return []
        start = self.weighed[0].at
        found: list[Weighing] = []
        for one in self.weighed:
            hours = (one.at - start).total_seconds() / 3600
            if not found or hours > found[-1].hours:
                found.append(Weighing(hours, one.g))
        return found


def on_the_balance(dish: Dish, at: datetime, gross_g: float) -> Dish:
    """The dish once it was weighed with what is in it."""
    one = Weighed(at, gross_g - dish.tare_g)
    # A client's clock orders nothing but the weighings themselves.
    return replace(
        dish,
        weighed=_since_it_rose(sorted((*dish.weighed, one), key=lambda each: each.at)),
        all_weighed=tuple(sorted((*dish.all_weighed, one), key=lambda each: each.at)),
    )


def _since_it_rose(weighed: Sequence[Weighed]) -> tuple[Weighed, ...]:
    """The weighings since the last that was heavier than the one before: no drying spans it, whatever made it so."""
    rose = [n for n in range(1, len(weighed)) if weighed[n].g > weighed[n - 1].g * (1 + RISE) + LEAST_ERROR_G]
    return tuple(weighed[rose[-1] :] if rose else weighed)


@dataclass(frozen=True, slots=True)
class Forecast:
    """What a dish will come to: dry weight, liquid left now as a share, hours from its first weighing till it is ready.

    `down` is the fit behind it where there are weighings enough; before that all is assumed. `missing` weighings.
    """

    dry_g: Estimate
    residual_now: Estimate
    ready_hours: Estimate | None
    down: DryDown | None
    missing: int


def forecast(dish: Dish, method: Method, tau_h: float = TAU_H, tau_sd_ln: float = TAU_SD_LN) -> Forecast | None:
    """What a dish will come to; None before it was weighed at all."""
    readings = dish.readings()
    if not readings:
        return None
    now = readings[-1].g
    if method is Method.EVAPORATE and len(readings) >= LEAST_READINGS:
        down = drydown(readings, tau_h=tau_h, tau_sd_ln=tau_sd_ln, sign=_sign(dish))
        return Forecast(down.dry_g, down.residual, down.hours_to_target, down, 0)
    if method is Method.EVAPORATE and dish.squeezed_at is None:
        share, first = Estimate.lognormal(DRY_SHARE, DRY_SHARE_SD_LN, Basis.ASSUMED), readings[0].g
        middle, low, high = (min(now, at * first) for at in (share.median, share.low, min(0.98, share.high)))
        dry = Estimate(middle, low, high, Basis.ASSUMED)
        ready: Estimate | None = _assumed_ready(tau_h, tau_sd_ln)
    else:
        dry = Estimate(
            now * (1 - (SQUEEZED_LOW + SQUEEZED_HIGH) / 2),
            now * (1 - SQUEEZED_HIGH),
            now * (1 - SQUEEZED_LOW),
            Basis.ASSUMED,
        )
        ready = _assumed_ready(tau_h, tau_sd_ln) if method is Method.EVAPORATE else None
    left = Estimate(1 - dry.median / now, max(0.0, 1 - dry.high / now), max(0.0, 1 - dry.low / now), Basis.ASSUMED)
    missing = LEAST_READINGS - len(readings) if method is Method.EVAPORATE else 0
    return Forecast(dry, left, ready, None, max(0, missing))


def liquid_now(dish: Dish, found: Forecast | None) -> Estimate | None:
    """The share of liquid in a dish by weighings and signs together; None where neither says anything."""
    if found is not None and found.down is not None:
        return found.residual_now
    weighed = found.residual_now if found is not None else None
    return liquid_by_signs(dish.judged, weighed) if dish.judged is not None else weighed


def _sign(dish: Dish) -> Sign | None:
    """What was judged of it, by the hour from its first weighing."""
    if dish.judged is None or not dish.weighed:
        return None
    return Sign((dish.judged.at - dish.weighed[0].at).total_seconds() / 3600, dish.judged)


def dry_enough(dish: Dish, found: Forecast | None) -> bool:
    """Whether it may be tubed: little enough is left nine times in ten by the balance.

    By smell and paper both where there are no weighings, or where these too hold it likelier than not.
    """
    if found is None or found.down is None:
        return dish.judged_dry
    return found.down.enough >= (LIKELIER if dish.judged_dry else SURE)


def _assumed_ready(tau_h: float, tau_sd_ln: float) -> Estimate:
    ratio = (1 - DRY_SHARE) * (1 - TUBING_RESIDUAL) / (TUBING_RESIDUAL * DRY_SHARE)
    return Estimate.lognormal(tau_h * math.log(ratio), tau_sd_ln, Basis.ASSUMED)


def drawn(dish: Dish, until_h: float, tau_h: float = TAU_H, tau_sd_ln: float = TAU_SD_LN) -> Curve | None:
    """The curve of a dish and its band from its first weighing to so many hours; None before three weighings."""
    readings = dish.readings()
    if len(readings) < LEAST_READINGS:
        return None
    return curve(readings, until_h, tau_h=tau_h, tau_sd_ln=tau_sd_ln, sign=_sign(dish))


OWN_DISHES = 5
"""So many of the studio's own dishes, and their pace stands for the next ones."""


def own_pace(taus_h: Sequence[float]) -> tuple[float, float]:
    """Tau in h and the sd of its logarithm to begin a fit from: assumed, or the studio's own from five dishes on."""
    if len(taus_h) < OWN_DISHES:
        return TAU_H, TAU_SD_LN
    logs = [math.log(tau) for tau in taus_h]
    mean = sum(logs) / len(logs)
    sd = math.sqrt(sum((one - mean) ** 2 for one in logs) / (len(logs) - 1))
    return math.exp(mean), max(0.15, sd * math.sqrt(1 + 1 / len(logs)))
