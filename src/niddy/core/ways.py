"""Ways back from a paste that is off, each with its price in pigment, paint, loads and minutes."""

from __future__ import annotations

from dataclasses import dataclass

from niddy.core import sizing, wetting
from niddy.core.advice import Planned
from niddy.core.correction import Direction, correct
from niddy.core.plan import Facts
from niddy.core.slab import Paste, Way, binder_g, demand_now, target_now, target_ratio, volume_ml
from niddy.core.wetting import Body

BLOTTING_LIMIT_FRACTION = 0.15
"""Blotting paper draws at best about this much of the oil out before it skins (assumed)."""


@dataclass(frozen=True, slots=True)
class LoadSize:
    """How a load of this batch is worked: what it holds, and the minutes it takes in all."""

    load_ml: float
    minutes_per_load: float


@dataclass(frozen=True, slots=True)
class Portion:
    """Grams of one powder to add, and whether that much is in the tin."""

    source: str
    name: str
    grams: float
    on_hand_g: float | None


@dataclass(frozen=True, slots=True)
class WayBack:
    """One way, what it asks for and what comes of it. Extra figures are against the paste as it is."""

    way: Way
    title: str
    says: str
    portions: tuple[Portion, ...]
    oil_g: float
    target_reduced_pvc: float
    reduced_pvc_after: float
    body_after: Body
    volume_after_ml: float
    extra_ml: float
    extra_tubes: int
    extra_loads: int | None
    extra_minutes: float | None
    reachable: bool


def ways(
    paste: Paste,
    facts: Facts,
    planned: tuple[Planned, ...],
    on_hand_g: dict[str, float],
    load: LoadSize | None,
    tube_ml: float | None,
) -> tuple[WayBack, ...]:
    """Every way open to this paste, none while it is within 0.5 % of its target or holds no powder and oil.

    `on_hand_g` is what is left of each powder by source (left out where no lot is kept); `tube_ml` the
    tube that extra paint would go into.
    """
    if paste.pigment_g <= 0 or paste.oil_g <= 0 or not planned:
        return ()
    target = target_ratio(paste, facts)
    absorption, _, _ = demand_now(paste, facts)
    bound = binder_g(0.0, paste.additives.values(), facts)
    limits = [
        max(0.0, on_hand_g[line.source]) / line.share for line in planned if line.source in on_hand_g and line.share > 0
    ]
    answer = correct(
        paste.pigment_g, paste.oil_g, target, facts.pigment_density_g_per_ml, facts.oil_density_g_per_ml,
        absorption, min(limits) if limits else None,
    )  # fmt: skip
    if answer.direction is Direction.NONE:
        return ()
    maker = _Maker(paste, facts, absorption, volume_ml(paste, facts), bound, load, tube_ml)
    aim = target_now(paste, facts)
    now = min(max(maker.reduced(paste.pigment_g, paste.oil_g), wetting.SCALE_REDUCED_WET), wetting.SCALE_REDUCED_DRY)
    leave = maker.way(
        Way.LEAVE, f"Leave it {wetting.body_at(now)}", "Costs nothing; the batch is judged as this body from now on.",
        paste.pigment_g, paste.oil_g, now,
    )  # fmt: skip
    if answer.direction is Direction.ADD_OIL:
        oil = maker.way(
            Way.ADD_OIL, "Pour more oil", "A little at a time: mull and look between.",
            paste.pigment_g, paste.oil_g + answer.oil_to_add_g, aim, oil_g=answer.oil_to_add_g,
        )  # fmt: skip
        return oil, leave
    portions = tuple(
        Portion(line.source, line.name, answer.pigment_to_add_g * line.share, on_hand_g.get(line.source))
        for line in planned
    )
    if answer.reachable:
        says = "Costs powder, and makes more paint: more loads and tubes."
        pigment_after = paste.pigment_g + answer.pigment_to_add_g
    else:
        reach = min(limits)
        pigment_after = paste.pigment_g + reach
        reached = wetting.body_at(maker.reduced(pigment_after, paste.oil_g))
        says = f"Not enough powder: {reach:.1f} g on hand brings it to {reached}."
    add = maker.way(
        Way.ADD_PIGMENT, "Add pigment", says, pigment_after, paste.oil_g, aim,
        portions=portions, reachable=answer.reachable,
    )  # fmt: skip
    drawable = paste.oil_g * BLOTTING_LIMIT_FRACTION
    slow = (
        "Costs oil and an hour or more; the paper takes some pigment with it."
        if answer.oil_to_draw_g <= drawable
        else "More than paper usually draws: expect several sheets and a poor end."
    )
    draw = maker.way(
        Way.DRAW_OIL, "Draw oil out", slow, paste.pigment_g, paste.oil_g - answer.oil_to_draw_g, aim,
        oil_g=-answer.oil_to_draw_g,
    )  # fmt: skip
    return add, draw, leave


@dataclass(frozen=True, slots=True)
class _Maker:
    """Prices a way from what would be in the paste after it."""

    paste: Paste
    facts: Facts
    absorption: float
    volume_before_ml: float
    bound_g: float
    load: LoadSize | None
    tube_ml: float | None

    def reduced(self, pigment_g: float, oil_g: float) -> float:
        """Reduced PVC of so much powder and oil with the additives that are in."""
        facts = self.facts
        return wetting.reduced_at(
            100 * (oil_g + self.bound_g) / pigment_g, self.absorption, facts.pigment_density_g_per_ml,
            facts.oil_density_g_per_ml,
        )  # fmt: skip

    def way(
        self,
        way: Way,
        title: str,
        says: str,
        pigment_g: float,
        oil_g_after: float,
        target: float,
        *,
        portions: tuple[Portion, ...] = (),
        oil_g: float = 0.0,
        reachable: bool = True,
    ) -> WayBack:
        facts = self.facts
        change_ml = (pigment_g - self.paste.pigment_g) / facts.pigment_density_g_per_ml
        change_ml += (oil_g_after - self.paste.oil_g) / facts.oil_density_g_per_ml
        volume = self.volume_before_ml + change_ml
        reduced = self.reduced(pigment_g, oil_g_after)
        extra_ml = volume - self.volume_before_ml
        loads = minutes = None
        if self.load is not None:
            loads = sizing.loads(volume, self.load.load_ml) - sizing.loads(self.volume_before_ml, self.load.load_ml)
            # New powder has to be mulled in even where it makes no load more.
            again = max(loads, 1) if portions else loads
            minutes = again * self.load.minutes_per_load
        tubes = int(extra_ml / self.tube_ml) if self.tube_ml else 0
        return WayBack(
            way, title, says, portions, oil_g, target, reduced, wetting.body_at(reduced), volume,
            extra_ml, max(0, tubes), loads, minutes, reachable,
        )  # fmt: skip
