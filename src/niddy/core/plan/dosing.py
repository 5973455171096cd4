"""Additives in a plan: their amounts, what they bring, and what they do to the pours."""

from __future__ import annotations

from dataclasses import dataclass
from statistics import median

from niddy.core import additives as doses
from niddy.core import drying, pours
from niddy.core.additives import Dosing, InPaste
from niddy.core.errors import Refused
from niddy.core.estimate import Basis
from niddy.core.figure import Figure, Input, Working
from niddy.core.materials import BinderOil, DryPigment
from niddy.core.plan.facts import AdditiveLine, Rung
from niddy.core.plan.wish import Wish


def touch_dry_figures(
    oil: BinderOil, blend: list[tuple[float, DryPigment]], dosings: list[Dosing], tested_days: tuple[float, ...] = ()
) -> tuple[Figure, ...]:
    """Days to touch-dry of the oil or of each oil of a blend, with what driers and retarders do to them."""
    shown = []
    for span in drying.touch_dry(oil, blend, dosings, tested_days):
        middle = (span.days_low + span.days_high) / 2
        if tested_days:
            shown.append(_tested(span, middle, tested_days))
            continue
        shown.append(
            Figure(
                f"Touch-dry, {span.film} film",
                middle,
                "days",
                0 if middle >= 3 else 1,
                Basis.ASSUMED,
                Working(
                    "the oil's days x pigment factor x film factor x driers and retarders",
                    (
                        Input("the oil's days, low", oil.touch_dry_days_low or 0.0, "days", Basis.LIBRARY),
                        Input("the oil's days, high", oil.touch_dry_days_high or 0.0, "days", Basis.LIBRARY),
                        Input(
                            "pigment factor (fast 0.6, medium 1, slow 1.5)",
                            drying.pigment_factor(blend),
                            "",
                            Basis.ASSUMED,
                        ),
                        Input(f"film factor, {span.film}", drying.FILM_FACTOR[span.film], "", Basis.ASSUMED),
                        Input("driers and retarders", drying.additive_factor(dosings), "", Basis.ASSUMED),
                    ),
                    "a drier at the high end of its dose halves the days, a retarder doubles them",
                ),
                span.days_low,
                span.days_high,
            )
        )
    return tuple(shown)


def _tested(found: drying.TouchDry, middle: float, tested_days: tuple[float, ...]) -> Figure:
    inputs = (
        Input("finger tests of this recipe", float(len(tested_days)), "", Basis.MEASURED),
        Input("their middle", median(tested_days), "days", Basis.MEASURED),
        Input(f"film factor, {found.film}", drying.FILM_FACTOR[found.film], "", Basis.ASSUMED),
    )
    return Figure(
        f"Touch-dry, {found.film} film",
        middle,
        "days",
        0 if middle >= 3 else 1,
        Basis.LEARNED,
        Working("the recipe's own finger tests x film factor", inputs, "the assumed days are a prior, log-normal"),
        found.days_low,
        found.days_high,
    )


@dataclass(frozen=True, slots=True)
class AdditivesShape:
    """The doses of a plan and what they come to for each 100 g of powder."""

    wish: Wish
    per_100g: doses.Amounts

    def _pairs(self) -> list[tuple[Dosing, float]]:
        return [(dosing, g) for dosing, g in zip(self.wish.additives, self.per_100g.additives_g, strict=True)]

    @property
    def ml_per_100g(self) -> float:
        """All of their volume, which fills the tube."""
        return sum(g / dosing.additive.density_g_per_ml for dosing, g in self._pairs())

    @property
    def g_per_100g(self) -> float:
        return sum(g for _, g in self._pairs())

    @property
    def displaced_g_per_100g(self) -> float:
        """The oil whose place their non-volatile volume takes."""
        return sum(dosing.binder_ml_per_g * g for dosing, g in self._pairs()) * self.wish.oil.density_g_per_ml

    @property
    def gel_oil_g_per_100g(self) -> float:
        return sum(g / dosing.additive_fraction - g for dosing, g in self._pairs())

    @property
    def ln_stress(self) -> float:
        return sum(dosing.stiffening_per_pct * dosing.dose_pct for dosing in self.wish.additives)

    def in_paste(self) -> tuple[InPaste, ...]:
        """What the slab needs of each dose that is one."""
        ratio = self.per_100g.oil_g / 100
        return tuple(
            doses.in_paste(dosing, g / 100, ratio, trial=self.wish.trial)
            for dosing, g in self._pairs()
            if dosing.dose_pct > 0
        )

    def hazards(self) -> list[tuple[str, tuple[str, ...]]]:
        """Hazards by name."""
        return [(doses.named(dosing), doses.as_weighed(dosing)) for dosing, _ in self._pairs()]

    def check_gels(self, powder_g: float) -> None:
        """Refuse gels that bring more oil than the batch takes."""
        oil_g, gel_oil_g = (g * powder_g / 100 for g in (self.per_100g.oil_g, self.gel_oil_g_per_100g))
        if gel_oil_g <= oil_g:
            return
        n, dosing, per_100g = max(
            ((n, dosing, g) for n, (dosing, g) in enumerate(self._pairs())),
            key=lambda row: row[2] / row[1].additive_fraction,
        )
        g = per_100g * powder_g / 100
        raise Refused(
            f"additives.{n}.lot_id",
            f"its gel brings {g / dosing.additive_fraction - g:.1f} g of oil, the batch takes {oil_g:.1f} g",
            f"a gel stronger than {g / (g + oil_g):.1%}, or a smaller dose",
        )

    def lines(self, powder_g: float, rungs: tuple[Rung, ...], steps: pours.Ladder) -> tuple[AdditiveLine, ...]:
        """What to weigh of each."""
        oil_g = self.per_100g.oil_g * powder_g / 100
        gel_oil_g = self.gel_oil_g_per_100g * powder_g / 100
        shown = []
        for dosing, per_100g in self._pairs():
            if dosing.dose_pct == 0:
                continue
            g = per_100g * powder_g / 100
            form_g = g / dosing.additive_fraction
            first_g = steps.pours[0].cumulative_g - self.displaced_g_per_100g * powder_g / 100
            much = dosing.gel_strength is not None and gel_oil_g > first_g
            shown.append(
                AdditiveLine(
                    dosing,
                    doses.named(dosing),
                    dosing.moment,
                    self._weigh(dosing, g, form_g, powder_g, oil_g),
                    g,
                    form_g - g,
                    form_g / dosing.drop_g if dosing.drop_g else None,
                    dosing.dose_pct > dosing.additive.dose_ceiling_pct,
                    "Its oil alone is more than is safe to pour at first: a stronger gel leaves room." if much else "",
                )
            )
        return tuple(shown)

    def _weigh(self, dosing: Dosing, g: float, form_g: float, powder_g: float, oil_g: float) -> Figure:
        whole = powder_g + oil_g + self.g_per_100g * powder_g / 100
        base = {
            doses.DoseBasis.OIL: ("oil, the gel's counted in", oil_g),
            doses.DoseBasis.PIGMENT: ("powder", powder_g),
            doses.DoseBasis.TOTAL: ("paint, the additive counted in", whole),
        }[dosing.basis]
        taken = [Input("dose", dosing.dose_pct, "%", Basis.ENTERED), Input(base[0], base[1], "g")]
        formula = "dose x base / 100"
        if dosing.gel_strength is not None:
            formula = "dose x base / 100 / strength"
            taken += [
                Input("strength of the gel", dosing.gel_strength, "", Basis.MEASURED),
                Input("additive in it", g, "g"),
                Input("oil in it, off the pours", form_g - g, "g"),
            ]
        return Figure(
            doses.named(dosing), form_g, "g", 2 if form_g < 5 else 1, Basis.ENTERED, Working(formula, tuple(taken))
        )
