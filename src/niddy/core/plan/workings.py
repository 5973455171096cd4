"""The figures of a plan, each with its formula, inputs and basis."""

from __future__ import annotations

import math
from dataclasses import dataclass

from niddy.core import additives as doses
from niddy.core import sizing, wetting
from niddy.core.estimate import Basis, Estimate, weakest
from niddy.core.figure import Figure, Input, Working
from niddy.core.plan.dosing import AdditivesShape
from niddy.core.plan.facts import Rung
from niddy.core.plan.wish import ASBECK, Line, Wish

SPIRIT_G_PER_ML = 0.78
"""Density of the spirit in a medium (assumed)."""


@dataclass(frozen=True, slots=True)
class Inputs:
    """The intermediate results of one plan, from which its figures and their workings are made."""

    wish: Wish
    mixed: wetting.Blend
    demand: Estimate
    ratio: Estimate
    sized: sizing.Sizing
    shape: AdditivesShape
    counted: Estimate
    spreads: str = ""

    @property
    def sized_basis(self) -> Basis:
        return Basis.ENTERED if self.wish.pigment_g is not None else self.demand.basis

    @property
    def _oil(self) -> Input:
        return Input("oil density", self.wish.oil.density_g_per_ml, "g/ml", Basis.LIBRARY)

    @property
    def _pigment_density(self) -> Input:
        return Input("pigment density", self.mixed.density_g_per_ml, "g/ml", Basis.LIBRARY)

    @property
    def _ratio(self) -> Input:
        return Input("ratio", self.ratio.median, "g oil per 100 g", self.ratio.basis)

    def pigment_mass(self, mass: Estimate) -> Figure:
        if self.wish.tubes is None:
            basis = mass.basis if mass.high > mass.low else Basis.ENTERED
            how = Working("as entered", (Input("pigment", mass.median, "g", basis),))
            return Figure.of("Pigment", mass, "g", 1, how)
        return Figure(
            "Pigment",
            self.sized.pigment_g,
            "g",
            1,
            self.demand.basis,
            Working(
                "100 x paint volume / (100 / pigment density + ratio / oil density)",
                (Input("paint volume", self.sized.volume_ml, "ml"), self._pigment_density, self._ratio, self._oil),
            ),
        )

    def ratio_figure(self) -> Figure:
        displaced = self.shape.displaced_g_per_100g
        stiffened = doses.stiffens(self.wish.additives)
        stiffer = (Input("less for what additives stiffen", stiffened, "", Basis.ASSUMED),) if stiffened else ()
        less = (Input("oil whose place additives take", displaced, "g per 100 g"),) if displaced else ()
        return Figure.of(
            "Ratio",
            self.ratio,
            "g oil per 100 g",
            1,
            Working(
                "OA / reduced PVC + (100 x oil density / pigment density) x (1 / reduced PVC - 1)"
                + (" - oil whose place additives take" if displaced else ""),
                (
                    Input("OA, oil absorption in this oil", self.demand.median, "g per 100 g", self.demand.basis),
                    Input("reduced PVC, the target", self.wish.reduced_pvc, "", Basis.ENTERED),
                    *stiffer,
                    self._pigment_density,
                    self._oil,
                    *less,
                ),
                ASBECK,
                self.spreads,
            ),
        )

    def demand_figure(self, lines: tuple[Line, ...], shares: list[float]) -> Figure:
        taken = tuple(
            Input(
                f"{line.pigment.name}, share {share:.2f}",
                line.pigment.demand_g_per_100g,
                "g per 100 g",
                line.pigment.demand_basis,
            )
            for share, line in zip(shares, lines, strict=True)
        )
        return Figure.of(
            "Oil absorption",
            self.demand,
            "g per 100 g",
            1,
            Working(
                "sum of (share x OA in the reference oil) x oil density / 0.930",
                (*taken, self._oil),
                "another oil wets by volume; the range is the central 90 %",
            ),
        )

    def oil_mass(self) -> Figure:
        scale = self.sized.pigment_g / 100
        return Figure.of(
            "Oil expected",
            Estimate(
                self.counted.median * scale, self.counted.low * scale, self.counted.high * scale, self.counted.basis
            ),
            "g",
            1,
            Working(
                "pigment x ratio / 100", (Input("pigment", self.sized.pigment_g, "g"), self._ratio), spread=self.spreads
            ),
        )

    def first_pour(self, rung: Rung, sd_ln: float) -> Figure:
        gel = self._gel_oil_g
        less = (Input("oil the gel brings", gel, "g"),) if gel else ()
        safe = round(10 * (1 - rung.quantile))
        often = {9: "nine", 7: "seven", 5: "five", 3: "three", 1: "one"}.get(safe, str(safe))
        return Figure(
            "Pour first",
            rung.step_g,
            "g",
            1,
            self.demand.basis,
            Working(
                f"pigment x ratio at the {100 * rung.quantile:.0f} % quantile of the demand / 100"
                + (" - oil the gel brings" if gel else ""),
                (
                    Input("pigment", self.sized.pigment_g, "g"),
                    Input("ratio at that quantile", rung.oil_g_per_100g, "g oil per 100 g", self.ratio.basis),
                    Input("spread of the demand and of your eye, sd of ln OA", sd_ln, "", self.demand.basis),
                    *less,
                ),
                f"{often} times in ten this is less than will be needed",
                self.spreads,
            ),
        )

    @property
    def _gel_oil_g(self) -> float:
        return self.shape.gel_oil_g_per_100g * self.sized.pigment_g / 100

    def oil_to_pour(self) -> Figure:
        """The oil that comes from the bottle, the gel's taken off."""
        scale = self.sized.pigment_g / 100
        gel = self._gel_oil_g
        low, high = max(0.0, self.counted.low * scale - gel), self.counted.high * scale - gel
        return Figure.of(
            "Oil to pour",
            Estimate(self.ratio.median * scale - gel, low, high, self.ratio.basis),
            "g",
            1,
            Working(
                "oil expected - oil the gel brings",
                (
                    Input("oil expected", self.ratio.median * scale, "g", self.ratio.basis),
                    Input("oil the gel brings", gel, "g"),
                ),
            ),
        )

    def stiffening(self) -> Figure | None:
        """How many times the yield stress of the same paste without additives; None without any that tell."""
        stiffeners = [dosing for dosing in self.wish.additives if dosing.stiffening_per_pct and dosing.dose_pct]
        if not stiffeners:
            return None
        basis = weakest(*(dosing.stiffening_basis for dosing in stiffeners))
        return Figure(
            "Stiffer by",
            math.exp(self.shape.ln_stress),
            "times",
            2,
            basis,
            Working(
                "exp(sum of stiffening for each % x dose)",
                tuple(
                    Input(
                        f"{dosing.additive.name}, for each % x {dosing.dose_pct:g} %",
                        dosing.stiffening_per_pct,
                        "",
                        dosing.stiffening_basis,
                    )
                    for dosing in stiffeners
                ),
                "; ".join(dict.fromkeys(dosing.stiffening_says for dosing in stiffeners)),
            ),
        )

    def film_pvc(self) -> Figure:
        """Pigment in the dry film, where what is volatile has left."""
        oil = self.wish.oil
        pigment_ml = 100 / self.mixed.density_g_per_ml
        # What leaves is spirit, lighter than what stays: volumes, not masses.
        leaves_ml = self.ratio.median * (1 - oil.nonvolatile_fraction) / SPIRIT_G_PER_ML
        oil_ml = self.ratio.median / oil.density_g_per_ml - leaves_ml
        additive_ml = self.shape.displaced_g_per_100g / oil.density_g_per_ml
        wet_ml = pigment_ml + self.ratio.median / oil.density_g_per_ml + self.shape.ml_per_100g
        film_ml = pigment_ml + oil_ml + additive_ml
        return Figure(
            "Pigment in the dry film",
            100 * pigment_ml / film_ml,
            "% by volume",
            0,
            self.ratio.basis,
            Working(
                "pigment / (pigment + oil and additives that do not leave)",
                (
                    Input("pigment, of 100 g", pigment_ml, "ml"),
                    Input("oil that stays", oil_ml, "ml", self.ratio.basis),
                    Input("additives that stay", additive_ml, "ml"),
                    Input("what leaves as it dries, of the paint", 100 * max(0.0, 1 - film_ml / wet_ml), "%"),
                ),
            ),
        )

    def volume(self) -> Figure:
        loss = self.wish.loss
        if self.wish.tubes is not None:
            wanted = float(sum(tube.usable_ml * tube.count for tube in self.wish.tubes))
            how = Working(
                "(tubes + hold-up) / (1 - loss)",
                (
                    Input("tubes", wanted, "ml", Basis.ENTERED),
                    Input("hold-up on the tools", loss.hold_up_ml, "ml", Basis.ASSUMED),
                    Input("loss", loss.loss, "", loss.basis),
                ),
                f"loss learned from {loss.batches} batches" if loss.basis is Basis.LEARNED else "",
            )
        else:
            how = Working(
                "pigment / pigment density + oil / oil density" + (" + additives" if self.wish.additives else ""),
                (
                    Input("pigment", self.sized.pigment_g, "g"),
                    self._pigment_density,
                    Input("oil", self.sized.oil_g, "g", self.ratio.basis),
                    self._oil,
                    *self._additive_volume(),
                ),
            )
        return Figure("Paint", self.sized.volume_ml, "ml", 1, self.ratio.basis, how)

    def _additive_volume(self) -> tuple[Input, ...]:
        if not self.wish.additives:
            return ()
        return (Input("additives, all of their volume", self.shape.ml_per_100g * self.sized.pigment_g / 100, "ml"),)

    def density(self) -> Figure:
        return Figure(
            "Paint density",
            self.sized.paint_density_g_per_ml,
            "g/ml",
            2,
            Basis.LIBRARY,
            Working(
                "(100 + ratio) / (100 / pigment density + ratio / oil density)"
                + (", additives added to both" if self.wish.additives else ""),
                (self._ratio, self._pigment_density, self._oil, *self._additive_volume()),
            ),
        )

    def leftover(self) -> Figure:
        loss = self.wish.loss
        fills = self.wish.fills
        wanted = float(sum(tube.usable_ml * tube.count for tube in self.wish.tubes or fills))
        label = "To fill" if self.wish.tubes is None and not fills else "Left over"
        left_ml = max(0.0, self.sized.leftover_ml - (wanted if fills else 0.0))
        return Figure(
            label,
            left_ml,
            "ml",
            1,
            weakest(self.ratio.basis, loss.basis),
            Working(
                "paint x (1 - loss) - hold-up - tubes",
                (
                    Input("paint", self.sized.volume_ml, "ml"),
                    Input("loss", loss.loss, "", loss.basis),
                    Input("hold-up on the tools", loss.hold_up_ml, "ml", Basis.ASSUMED),
                    Input("tubes", wanted, "ml", Basis.ENTERED),
                ),
            ),
        )
