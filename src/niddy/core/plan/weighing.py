"""What a plan weighs of each powder, and the rules of thumb it starts from."""

from __future__ import annotations

from niddy.core import measures, telling, wetting
from niddy.core.estimate import Basis, Estimate
from niddy.core.figure import Figure, Input, Working
from niddy.core.materials import DryPigment
from niddy.core.measures import Unit
from niddy.core.plan.facts import StartingRule, Weigh
from niddy.core.plan.wish import Line, Wish
from niddy.core.plan.workings import Inputs
from niddy.core.telling import Part, Told


def weigh_lines(
    wish: Wish,
    lines: tuple[Line, ...],
    shares: list[float],
    measured: tuple[Estimate, ...],
    pigment_g: float,
    inputs: Inputs,
) -> tuple[Weigh, ...]:
    """What to weigh of each powder, in the maker's spoons where that is how it is measured."""
    weighed = []
    for n, (line, share) in enumerate(zip(lines, shares, strict=True)):
        extender = wish.extenders[n - len(wish.lines)] if n >= len(wish.lines) else None
        if extender is not None:
            grams = measured[n].median if measured else pigment_g * share
            dose_pct = extender.dosing.dose_pct
            said = None
            mass = Figure(
                line.pigment.name,
                grams,
                "g",
                1,
                inputs.sized_basis,
                Working(
                    "dose x pigment / 100",
                    (Input("dose", dose_pct, "%", Basis.ENTERED), Input("pigment", 100 * grams / dose_pct, "g")),
                    "an extender counts as pigment in oil absorption, density and PVC",
                ),
            )
        elif measured:
            spoons = line.spoons
            assert spoons is not None and spoons.amount is not None
            how = Working("as weighed", (Input("pigment", spoons.amount, "g", Basis.MEASURED),))
            said = None
            if spoons.unit is not Unit.GRAM:
                how = Working(
                    "spoons x spoon volume x loose density",
                    (
                        *(
                            given
                            for one in line.measured
                            for given in (
                                Input(one.known.one, one.amount or 0.0),
                                Input(f"{one.known.one} holds", one.known.ml or 1.0, "ml"),
                            )
                        ),
                        Input("loose density", line.pigment.loose_density_g_per_ml, "g/ml", measured[n].basis),
                    ),
                    "spread 35 % until a level spoon of this lot was weighed, then 8 %",
                )
                said = " and ".join(
                    measures.amount_words(one.amount or 0.0, one.known, liquid=n > 0)
                    for n, one in enumerate(line.measured)
                )
            mass = Figure.of(line.pigment.name, measured[n], "g", 1, how)
        else:
            mass = Figure(
                line.pigment.name,
                pigment_g * share,
                "g",
                1,
                inputs.sized_basis,
                Working(
                    "pigment in all x share of the blend",
                    (Input("pigment in all", pigment_g, "g"), Input("share by weight", share)),
                ),
            )
            said = None
        told = None
        if line.spoons is not None and line.spoons.amount is not None and said:
            told = Told(line.spoons.unit, line.spoons.amount, said, mass.value, _parts(line, mass.value))
            told = telling.beside_the_most(told, max(one.median for one in measured), wish.habit)
        elif extender is not None:
            told = telling.powder(mass.value, line.pigment.loose_density_g_per_ml, wish.habit)
        weighed.append(
            Weigh(
                line.pigment,
                share,
                mass,
                said,
                extender.dosing.dose_pct if extender else None,
                told,
                _wet(line.pigment, mass.value),
            )
        )
    return tuple(weighed)


def _parts(line: Line, mass_g: float) -> tuple[Part, ...]:
    """The measures of a line that takes two, each with its share of the grams."""
    if len(line.measured) < 2:
        return ()
    volumes = [(one.amount or 0.0) * (one.known.ml or 1.0) for one in line.measured]
    return tuple(
        Part(
            one.unit,
            one.amount or 0.0,
            measures.amount_words(one.amount or 0.0, one.known, liquid=n > 0),
            mass_g * volumes[n] / sum(volumes),
        )
        for n, one in enumerate(line.measured)
    )


def _wet(pigment: DryPigment, dry_g: float) -> Figure | None:
    """What to weigh of a lot that is still wet; None of a dry one."""
    if not pigment.liquid_share:
        return None
    return Figure(
        f"{pigment.name}, wet",
        pigment.wet_g(dry_g),
        "g",
        1,
        Basis.ASSUMED,
        Working(
            "dry / (1 - liquid)",
            (Input("dry", dry_g, "g"), Input("liquid, by weight", pigment.liquid_share, "", Basis.ASSUMED)),
            f"about {pigment.leaving_ml(dry_g):.0f} ml of it leaves again: ratio and volume count without it",
        ),
    )


def starting_rules(
    wish: Wish,
    lines: tuple[Line, ...],
    shares: list[float],
    pigment_density: float,
    absorption: float,
    ratio: Estimate,
    pigment_g: float,
    displaced: float,
) -> tuple[StartingRule, ...]:
    """Where each way to start lands on the scale of this powder."""
    oil_density = wish.oil.density_g_per_ml
    loose_ml = sum(s / line.pigment.loose_density_g_per_ml for s, line in zip(shares, lines, strict=True))
    loose_measured = all(line.pigment.loose_density_measured for line in lines)

    def rule(key: str, name: str, says: str, oil_ratio: float, basis: Basis) -> StartingRule:
        reduced = wetting.reduced_at(oil_ratio + displaced, absorption, pigment_density, oil_density)
        return StartingRule(
            key, name, says, oil_ratio, oil_ratio * pigment_g / 100, reduced, wetting.body_at(reduced), basis
        )

    rules = [
        rule("rub_out", "From the rub-out", "what this pigment takes, at your target", ratio.median, ratio.basis),
        rule("equal_weights", "Equal weights", "100 g oil to 100 g pigment", 100.0, Basis.ENTERED),
        rule(
            "equal_volumes",
            "Equal volumes without air",
            "half of the paint's volume is pigment",
            100 * oil_density / pigment_density,
            Basis.LIBRARY,
        ),
        rule(
            "equal_spoons",
            "Equal spoons",
            "a spoon of oil to each level spoon of powder",
            100 * oil_density * loose_ml,
            Basis.MEASURED if loose_measured else Basis.LIBRARY,
        ),
    ]
    if wish.last_released_ratio is not None:
        rules.append(
            rule(
                "last_time",
                "Last time",
                "as the last batch that came out right",
                wish.last_released_ratio,
                Basis.MEASURED,
            )
        )
    return tuple(rules)
