"""Oils blended by weight: what the blend is like, by volume where it wets, by weight where it dries."""

from __future__ import annotations

import math
from dataclasses import dataclass

from niddy.core.errors import MIN_PARTS, Refused, within
from niddy.core.materials import BinderOil, OilPart


@dataclass(frozen=True, slots=True)
class Portion:
    """One oil and its parts by weight, with what its part of a blend is like."""

    oil: BinderOil
    parts: float
    viscosity_mpa_s: float
    yellowing_rank: int
    film_rank: int


@dataclass(frozen=True, slots=True)
class BlendNote:
    """What a blend of oils is like; ranks from 1 (least) to 5, weighed by the shares. All but density is assumed."""

    density_g_per_ml: float
    viscosity_mpa_s: float
    yellowing: float
    film: float
    touch_dry_days_low: float | None
    touch_dry_days_high: float | None
    says: str


def blend(portions: list[Portion]) -> BinderOil:
    """Oils stirred together as one: volumes add up, days to dry and what is not volatile go by weight.

    Raises Refused for fewer than two oils or one twice.
    """
    if len(portions) < 2:
        raise Refused("oil.blend", "one oil is not a blend", "two oils or more, or one oil alone")
    for n, portion in enumerate(portions):
        within(f"oil.blend.{n}.parts", portion.parts, MIN_PARTS, 10_000)
    if len({portion.oil.source for portion in portions}) < len(portions):
        raise Refused("oil.blend", "one oil twice", "each oil once, its parts added up")
    whole = sum(portion.parts for portion in portions)
    shares = [portion.parts / whole for portion in portions]
    days = [
        _mean(shares, [portion.oil.touch_dry_days_low for portion in portions]),
        _mean(shares, [portion.oil.touch_dry_days_high for portion in portions]),
    ]
    first = portions[0].oil
    return BinderOil(
        lot_id=None,
        key=first.key,
        name=" + ".join(f"{100 * share:.0f} % {p.oil.name}" for share, p in zip(shares, portions, strict=True)),
        lot_code="",
        density_g_per_ml=1 / sum(s / portion.oil.density_g_per_ml for s, portion in zip(shares, portions, strict=True)),
        hazards=tuple(dict.fromkeys(hazard for portion in portions for hazard in portion.oil.hazards)),
        drop_g=first.drop_g,
        drop_measured=False,
        touch_dry_days_low=days[0],
        touch_dry_days_high=days[1],
        nonvolatile_fraction=_mean(shares, [portion.oil.nonvolatile_fraction for portion in portions]) or 1.0,
        parts=tuple(
            OilPart(
                portion.oil.lot_id,
                portion.oil.key,
                portion.oil.name,
                portion.oil.lot_code,
                share,
                portion.viscosity_mpa_s,
                portion.yellowing_rank,
                portion.film_rank,
            )
            for share, portion in zip(shares, portions, strict=True)
        ),
    )


def note(oil: BinderOil) -> BlendNote | None:
    """What a blend is like against its first oil; None for one oil alone.

    Viscosity goes by the mean of its logarithm (Arrhenius 1887), the ranks by weight.
    """
    if not oil.parts:
        return None
    shares = [part.share for part in oil.parts]
    viscosity = math.exp(sum(p.share * math.log(p.viscosity_mpa_s) for p in oil.parts))
    first = oil.parts[0].viscosity_mpa_s
    feel = (
        f"about {viscosity / first:.0f} times as thick as {oil.parts[0].name.lower()}: it levels and strings more"
        if viscosity > 1.5 * first
        else f"about as thin as {oil.parts[0].name.lower()}"
    )
    return BlendNote(
        oil.density_g_per_ml,
        viscosity,
        _mean(shares, [p.yellowing_rank for p in oil.parts]) or 0.0,
        _mean(shares, [p.film_rank for p in oil.parts]) or 0.0,
        oil.touch_dry_days_low,
        oil.touch_dry_days_high,
        feel,
    )


def _mean(shares: list[float], values: list[float | None] | list[float] | list[int]) -> float | None:
    known = [value for value in values if value is not None]
    if len(known) < len(values):
        return None
    return sum(share * value for share, value in zip(shares, known, strict=True))
