"""Plan: one batch on paper, from what is wanted to what to weigh, what to pour first and what to beware of."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from enum import StrEnum

from niddy.core import additives as doses
from niddy.core import drying, measures, oils, pours, sizing, wetting
from niddy.core.additives import Dosing, InPaste, Moment
from niddy.core.cautions import ALWAYS, DEFERENCE, Caution, cautions_for
from niddy.core.colour import masstone_of, undertone_of
from niddy.core.demand import blend_sd_ln
from niddy.core.errors import MIN_PARTS, Refused, mass_g, reduced_pvc, within
from niddy.core.estimate import Basis, Estimate, total, weakest
from niddy.core.figure import Figure, Input, Working
from niddy.core.materials import FILM_MM, TAU_MIN, BinderOil, DryPigment, Particle, coarsest
from niddy.core.measures import Measure, Unit
from niddy.core.wetting import Body, Zone

ASBECK = "Asbeck and Van Loo 1949; oil absorption by rub-out, ISO 787-5 or ASTM D281"
MULL_DISPERSION_TIMES = 2.0
"""A load is mulled for twice its dispersion time before it is judged (assumed)."""


class Tooth(StrEnum):
    """How well a slab or muller face still bites."""

    FRESH = "fresh"
    FAIR = "fair"
    WORN = "worn"


TOOTH_FACTOR = {Tooth.FRESH: 1.0, Tooth.FAIR: 1.25, Tooth.WORN: 1.6}
"""How much longer a load takes as the frosting wears (assumed)."""


@dataclass(frozen=True, slots=True)
class Bench:
    """The slab and muller a batch is planned for; `film_mm` where the studio knows its own."""

    slab_id: int | None
    slab_name: str
    area_cm2: float
    slab_tooth: Tooth
    film_mm: float | None
    muller_id: int | None
    muller_name: str
    muller_tooth: Tooth


@dataclass(frozen=True, slots=True)
class Line:
    """One dry pigment of the plan: its parts by mass, or the spoons in which it is measured."""

    pigment: DryPigment
    parts: float | None = None
    spoons: Measure | None = None


@dataclass(frozen=True, slots=True)
class Extender:
    """An extender by its dose in percent of the pigment, and the pigment as which it counts."""

    dosing: Dosing
    pigment: DryPigment


@dataclass(frozen=True, slots=True)
class Tubes:
    """Tubes wanted or filled, of one type."""

    tube_type_id: int | None
    name: str
    usable_ml: float
    count: int


@dataclass(frozen=True, slots=True)
class OldPaint:
    """An old paint that is ground again: what it is called, and the hazard keys it was known to hold."""

    name: str
    hazards: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Wish:
    """What a maker asks of a plan. Exactly one starting point: tubes, pigment in hand (g), or spoons in the lines."""

    lines: tuple[Line, ...]
    oil: BinderOil
    reduced_pvc: float
    bench: Bench | None
    loss: sizing.LossLearned
    tubes: tuple[Tubes, ...] | None = None
    pigment_g: float | None = None
    last_released_ratio: float | None = None
    smallest_step_g: float = pours.SMALLEST_STEP_G
    target_fineness_um: float | None = None
    last_released_minutes: float | None = None
    additives: tuple[Dosing, ...] = ()
    extenders: tuple[Extender, ...] = ()
    trial: bool = False
    old_paint: OldPaint | None = None


@dataclass(frozen=True, slots=True)
class Weigh:
    """One powder to weigh out; `spoons` says it in the maker's spoons where that is how it is measured.

    `extends_pct` is the dose of an extender, which counts as a pigment; None for a pigment.
    """

    pigment: DryPigment
    share: float
    mass: Figure
    spoons: str | None
    extends_pct: float | None = None


@dataclass(frozen=True, slots=True)
class AdditiveLine:
    """One additive to weigh out as gel or dry, its drops where it is counted in them, and what to know of it."""

    dosing: Dosing
    name: str
    moment: Moment
    weigh: Figure
    additive_g: float
    oil_in_gel_g: float
    drops: float | None
    over_ceiling: bool
    says: str


@dataclass(frozen=True, slots=True)
class Rung:
    """One pour of the ladder as shown."""

    quantile: float
    cumulative_g: float
    step_g: float
    oil_g_per_100g: float


@dataclass(frozen=True, slots=True)
class StartingRule:
    """One way people start, and where it lands for this pigment in this oil."""

    key: str
    name: str
    rule: str
    oil_g_per_100g: float
    oil_g: float
    reduced_pvc: float
    body: Body
    basis: Basis


@dataclass(frozen=True, slots=True)
class Scale:
    """The wetting scale in figures: zones, the target and the band in which it truly lies (90 %)."""

    zones: tuple[Zone, ...]
    target_reduced_pvc: float
    target_oil_g_per_100g: float
    band_low_oil_g_per_100g: float
    band_high_oil_g_per_100g: float
    basis: Basis
    says: str


@dataclass(frozen=True, slots=True)
class Facts:
    """What the slab needs of the plan to go on computing: the blend in this oil."""

    pigment_density_g_per_ml: float
    oil_density_g_per_ml: float
    oil_absorption_g_per_100g: float
    demand_sd_ln: float
    target_reduced_pvc: float
    smallest_step_g: float
    tau_min: float
    target_fineness_um: float | None = None
    last_minutes_per_load: float | None = None
    additives: tuple[InPaste, ...] = ()


@dataclass(frozen=True, slots=True)
class Plan:
    """A computed plan."""

    name: str
    body: Body
    masstone_srgb: str
    undertone_srgb: str
    lines: tuple[Weigh, ...]
    oil: BinderOil
    bench: Bench | None
    tubes: tuple[Tubes, ...]
    pigment_mass: Figure
    ratio: Figure
    oil_absorption: Figure
    oil_mass: Figure
    first_pour: Figure
    rungs: tuple[Rung, ...]
    volume: Figure
    density: Figure
    leftover: Figure
    loads: Figure | None
    load_volume: Figure | None
    minutes: Figure | None
    scale: Scale
    rules: tuple[StartingRule, ...]
    cautions: tuple[Caution, ...]
    caution_always: str
    caution_deference: str
    facts: Facts
    additives: tuple[AdditiveLine, ...] = ()
    oil_to_pour: Figure | None = None
    stiffening: Figure | None = None
    film_pvc: Figure | None = None
    touch_dry: tuple[Figure, ...] = ()
    keeps_days: int | None = None
    pigment_and_oil_only: bool = True
    trial: bool = False
    oil_note: oils.BlendNote | None = None
    old_paint: OldPaint | None = None


def compute(wish: Wish) -> Plan:
    """Everything a maker needs to know before powder goes onto the slab.

    Raises Refused for a blend of nothing, a lot twice, a target off the scale, or amounts nobody can grind.
    """
    main = _checked(wish)
    reduced_pvc("reduced_pvc", wish.reduced_pvc)
    doses.check_doses([*wish.additives, *(one.dosing for one in wish.extenders)], trial=wish.trial)
    oil = wish.oil
    measured = _spoon_masses(main)
    lines, measured = _extended(wish, main, measured)
    shares = _shares(lines, measured)

    mixed = wetting.blend(
        [
            wetting.Part(share, line.pigment.density_g_per_ml, line.pigment.demand_g_per_100g)
            for share, line in zip(shares, lines, strict=True)
        ]
    )
    absorption = wetting.in_oil(mixed.oil_absorption_g_per_100g, oil.density_g_per_ml)
    sd_ln = blend_sd_ln(
        [
            (share, line.pigment.demand_g_per_100g, line.pigment.demand_sd_ln)
            for share, line in zip(shares, lines, strict=True)
        ]
    )
    basis = weakest(*(line.pigment.demand_basis for line in lines))
    says = "; ".join(dict.fromkeys(line.pigment.demand_says for line in lines))
    demand = Estimate.lognormal(absorption, sd_ln, basis)

    def dosed(oil_absorption: float) -> doses.Amounts:
        bound = wetting.ratio_at(wish.reduced_pvc, oil_absorption, mixed.density_g_per_ml, oil.density_g_per_ml)
        if bound <= 0:
            raise Refused("reduced_pvc", "so dry a body needs no oil at all", "a wetter target")
        return doses.amounts(list(wish.additives), 100, bound / oil.density_g_per_ml, oil.density_g_per_ml)

    expected = dosed(demand.median)
    ratio = Estimate(expected.oil_g, _oil_or_none(dosed, demand.low), dosed(demand.high).oil_g, basis)
    shape = _Additives(wish, expected)

    sized = _sized(wish, ratio.median, mixed.density_g_per_ml, measured, shape)
    pigment_mass = total(list(measured)) if measured else Estimate.exact(sized.pigment_g, Basis.ENTERED)
    steps = pours.ladder(
        sized.pigment_g, demand.median, sd_ln, mixed.density_g_per_ml, oil.density_g_per_ml,
        wish.reduced_pvc, wish.smallest_step_g,
    )  # fmt: skip
    shape.check_gels(sized.pigment_g)
    rungs = _rungs(steps, sized.pigment_g, shape, max(pours.SMALLEST_STEP_G, wish.smallest_step_g))
    if not rungs:
        raise Refused("pigment_g", "so little powder that no drop of oil fits", "more pigment")

    masstone = masstone_of(
        [(share, line.pigment.tinting, line.pigment.masstone_srgb) for share, line in zip(shares, lines, strict=True)]
    )
    inputs = _Inputs(wish, mixed, demand, ratio, sized, shape)
    loads_figure, load_ml, minutes = _bench_figures(wish, lines, sized)
    blended = [(share, line.pigment) for share, line in zip(shares, lines, strict=True)]
    additive_lines = shape.lines(sized.pigment_g, rungs, steps)
    displaced = shape.displaced_g_per_100g
    return Plan(
        name=_name(main),
        body=wetting.body_at(wish.reduced_pvc),
        masstone_srgb=masstone,
        undertone_srgb=undertone_of(masstone),
        lines=_weigh_lines(wish, lines, shares, measured, sized.pigment_g, inputs),
        oil=oil,
        bench=wish.bench,
        tubes=wish.tubes or (),
        pigment_mass=inputs.pigment_mass(pigment_mass),
        ratio=inputs.ratio_figure(),
        oil_absorption=inputs.demand_figure(lines, shares),
        oil_mass=inputs.oil_mass(),
        first_pour=inputs.first_pour(rungs[0], sd_ln),
        rungs=rungs,
        volume=inputs.volume(),
        density=inputs.density(),
        leftover=inputs.leftover(),
        loads=loads_figure,
        load_volume=load_ml,
        minutes=minutes,
        scale=Scale(
            shifted(wetting.scale_zones(absorption, mixed.density_g_per_ml, oil.density_g_per_ml), displaced),
            wish.reduced_pvc, ratio.median, ratio.low, ratio.high, basis, says,
        ),
        rules=_starting_rules(
            wish, lines, shares, mixed.density_g_per_ml, absorption, ratio, sized.pigment_g, displaced
        ),
        cautions=cautions_for(
            [
                *((line.pigment.name, line.pigment.hazards) for line in lines),
                (oil.name, oil.hazards),
                *shape.hazards(),
                *([(wish.old_paint.name, wish.old_paint.hazards)] if wish.old_paint is not None else []),
            ]
        ),
        caution_always=ALWAYS,
        caution_deference=DEFERENCE,
        facts=Facts(
            mixed.density_g_per_ml, oil.density_g_per_ml, absorption, sd_ln, wish.reduced_pvc,
            wish.smallest_step_g, TAU_MIN[coarsest([line.pigment.particle for line in lines])],
            wish.target_fineness_um, wish.last_released_minutes, shape.in_paste(),
        ),
        additives=additive_lines,
        oil_to_pour=inputs.oil_to_pour() if shape.gel_oil_g_per_100g else None,
        stiffening=inputs.stiffening(),
        film_pvc=inputs.film_pvc(),
        touch_dry=_touch_dry(oil, blended, list(wish.additives)),
        keeps_days=min((k for d in wish.additives if (k := doses.keeps_days(d.additive)) is not None), default=None),
        pigment_and_oil_only=pigment_and_oil_only(oil, [one.name for one in additive_lines], bool(wish.extenders)),
        trial=wish.trial,
        oil_note=oils.note(oil),
        old_paint=wish.old_paint,
    )  # fmt: skip


def pigment_and_oil_only(oil: BinderOil, additives: list[str], extended: bool) -> bool:
    """Whether a label may say so: no additive, no extender, and nothing in the oil but oil."""
    return not additives and not extended and not {"driers", "solvent"} & set(oil.hazards)


def shifted(zones: tuple[Zone, ...], displaced_g_per_100g: float) -> tuple[Zone, ...]:
    """The zones of the scale where additives take the place of some oil, in g for each 100 g of powder."""
    if not displaced_g_per_100g:
        return zones
    return tuple(
        replace(
            zone,
            oil_from_g_per_100g=max(0.0, zone.oil_from_g_per_100g - displaced_g_per_100g),
            oil_to_g_per_100g=max(0.0, zone.oil_to_g_per_100g - displaced_g_per_100g),
        )
        for zone in zones
    )


def _oil_or_none(dosed: Callable[[float], doses.Amounts], absorption: float) -> float:
    """The oil at the low end of the demand, where little may be left of it."""
    try:
        return dosed(absorption).oil_g
    except Refused:
        return 0.0


def _rungs(steps: pours.Ladder, powder_g: float, shape: _Additives, smallest_g: float) -> tuple[Rung, ...]:
    """The ladder as oil: less what additives take the place of, and from where the gel's oil leaves off."""
    rungs: list[Rung] = []
    poured = shape.gel_oil_g_per_100g * powder_g / 100
    for pour in steps.pours:
        cumulative = pour.cumulative_g - shape.displaced_g_per_100g * powder_g / 100
        if cumulative - poured >= smallest_g:
            rungs.append(Rung(pour.quantile, cumulative, cumulative - poured, 100 * cumulative / powder_g))
            poured = cumulative
    return tuple(rungs)


def _extended(
    wish: Wish, lines: tuple[Line, ...], measured: tuple[Estimate, ...]
) -> tuple[tuple[Line, ...], tuple[Estimate, ...]]:
    """The dry blend with its extenders: each a share of the pigment, beside it."""
    if not wish.extenders:
        return lines, measured
    pigment = sum(mass.median for mass in measured) or sum(line.parts or 0.0 for line in lines)
    taken = {line.pigment.source for line in lines}
    more: list[Line] = []
    masses = list(measured)
    for n, one in enumerate(wish.extenders):
        if one.pigment.source in taken:
            raise Refused(
                f"extenders.{n}", f"{one.pigment.name} is in the blend already", "it once: as a pigment or an extender"
            )
        taken.add(one.pigment.source)
        parts = pigment * one.dosing.dose_pct / 100
        if parts > 0:
            more.append(Line(one.pigment, parts))
            if measured:
                masses.append(Estimate.exact(parts, weakest(*(mass.basis for mass in measured))))
    return (*lines, *more), tuple(masses)


def _touch_dry(oil: BinderOil, blend: list[tuple[float, DryPigment]], dosings: list[Dosing]) -> tuple[Figure, ...]:
    shown = []
    for told in drying.touch_dry(oil, blend, dosings):
        middle = (told.days_low + told.days_high) / 2
        shown.append(
            Figure(
                f"Touch-dry, {told.film} film", middle, "days", 0 if middle >= 3 else 1, Basis.ASSUMED,
                Working(
                    "the oil's days x pigment factor x film factor x driers and retarders",
                    (
                        Input("the oil's days, low", oil.touch_dry_days_low or 0.0, "days", Basis.LIBRARY),
                        Input("the oil's days, high", oil.touch_dry_days_high or 0.0, "days", Basis.LIBRARY),
                        Input("pigment factor (fast 0.6, medium 1, slow 1.5)", drying.pigment_factor(blend), "",
                              Basis.ASSUMED),
                        Input(f"film factor, {told.film}", drying.FILM_FACTOR[told.film], "", Basis.ASSUMED),
                        Input("driers and retarders", drying.additive_factor(dosings), "", Basis.ASSUMED),
                    ),
                    "a drier at the high end of its dose halves the days, a retarder doubles them",
                ),
                told.days_low, told.days_high,
            )
        )  # fmt: skip
    return tuple(shown)


@dataclass(frozen=True, slots=True)
class _Additives:
    """The doses of a plan and what they come to for each 100 g of powder."""

    wish: Wish
    per_100g: doses.Amounts

    def _pairs(self) -> list[tuple[Dosing, float]]:
        return [(one, g) for one, g in zip(self.wish.additives, self.per_100g.additives_g, strict=True)]

    @property
    def ml_per_100g(self) -> float:
        """All of their volume, which fills the tube."""
        return sum(g / one.additive.density_g_per_ml for one, g in self._pairs())

    @property
    def g_per_100g(self) -> float:
        return sum(g for _, g in self._pairs())

    @property
    def displaced_g_per_100g(self) -> float:
        """The oil whose place their non-volatile volume takes."""
        return sum(one.binder_ml_per_g * g for one, g in self._pairs()) * self.wish.oil.density_g_per_ml

    @property
    def gel_oil_g_per_100g(self) -> float:
        return sum(g / one.additive_fraction - g for one, g in self._pairs())

    @property
    def ln_stress(self) -> float:
        return sum(one.stiffening_per_pct * one.dose_pct for one in self.wish.additives)

    def in_paste(self) -> tuple[InPaste, ...]:
        """What the slab needs of each dose that is one."""
        ratio = self.per_100g.oil_g / 100
        return tuple(
            doses.in_paste(one, g / 100, ratio, trial=self.wish.trial) for one, g in self._pairs() if one.dose_pct > 0
        )

    def hazards(self) -> list[tuple[str, tuple[str, ...]]]:
        """Hazards by name."""
        return [(doses.named(one), doses.as_weighed(one)) for one, _ in self._pairs()]

    def check_gels(self, powder_g: float) -> None:
        """Refuse gels that bring more oil than the batch takes."""
        oil_g, gel_oil_g = (g * powder_g / 100 for g in (self.per_100g.oil_g, self.gel_oil_g_per_100g))
        if gel_oil_g <= oil_g:
            return
        n, one, per_100g = max(
            ((n, one, g) for n, (one, g) in enumerate(self._pairs())), key=lambda row: row[2] / row[1].additive_fraction
        )
        g = per_100g * powder_g / 100
        raise Refused(
            f"additives.{n}.lot_id",
            f"its gel brings {g / one.additive_fraction - g:.1f} g of oil, the batch takes {oil_g:.1f} g",
            f"a gel stronger than {g / (g + oil_g):.1%}, or a smaller dose",
        )

    def lines(self, powder_g: float, rungs: tuple[Rung, ...], steps: pours.Ladder) -> tuple[AdditiveLine, ...]:
        """What to weigh of each."""
        oil_g = self.per_100g.oil_g * powder_g / 100
        gel_oil_g = self.gel_oil_g_per_100g * powder_g / 100
        shown = []
        for one, per_100g in self._pairs():
            if one.dose_pct == 0:
                continue
            g = per_100g * powder_g / 100
            form_g = g / one.additive_fraction
            first_g = steps.pours[0].cumulative_g - self.displaced_g_per_100g * powder_g / 100
            much = one.gel_strength is not None and gel_oil_g > first_g
            shown.append(
                AdditiveLine(
                    one, doses.named(one), one.moment, self._weigh(one, g, form_g, powder_g, oil_g), g, form_g - g,
                    form_g / one.drop_g if one.drop_g else None, one.dose_pct > one.additive.dose_ceiling_pct,
                    "Its oil alone is more than is safe to pour at first: a stronger gel leaves room." if much else "",
                )
            )  # fmt: skip
        return tuple(shown)

    def _weigh(self, one: Dosing, g: float, form_g: float, powder_g: float, oil_g: float) -> Figure:
        whole = powder_g + oil_g + self.g_per_100g * powder_g / 100
        base = {
            doses.DoseBasis.OIL: ("oil, the gel's counted in", oil_g),
            doses.DoseBasis.PIGMENT: ("powder", powder_g),
            doses.DoseBasis.TOTAL: ("paint, the additive counted in", whole),
        }[one.basis]
        taken = [Input("dose", one.dose_pct, "%", Basis.ENTERED), Input(base[0], base[1], "g")]
        formula = "dose x base / 100"
        if one.gel_strength is not None:
            formula = "dose x base / 100 / strength"
            taken += [
                Input("strength of the gel", one.gel_strength, "", Basis.MEASURED),
                Input("additive in it", g, "g"),
                Input("oil in it, off the pours", form_g - g, "g"),
            ]
        return Figure(
            doses.named(one), form_g, "g", 2 if form_g < 5 else 1, Basis.ENTERED, Working(formula, tuple(taken))
        )


def _checked(wish: Wish) -> tuple[Line, ...]:
    if not wish.lines:
        raise Refused("lines", "a blend of nothing", "at least one pigment")
    spoons = [line.spoons is not None for line in wish.lines]
    starts = [wish.tubes is not None, wish.pigment_g is not None, any(spoons)]
    if sum(starts) != 1:
        raise Refused("start", "exactly one starting point is needed", "tubes, pigment in grams, or spoons")
    if any(spoons) and not all(spoons):
        missing = spoons.index(False)
        raise Refused(f"lines.{missing}.spoons", "missing", "spoons of every pigment of the blend")
    seen: set[str] = set()
    for n, line in enumerate(wish.lines):
        if not any(spoons):
            if line.parts is None:
                raise Refused(f"lines.{n}.parts", "missing", "parts by weight above 0")
            within(f"lines.{n}.parts", line.parts, MIN_PARTS, 10_000)
        if line.pigment.source in seen:
            raise Refused(f"lines.{n}.lot_id", "the same lot stands twice", "each lot once, its parts added up")
        seen.add(line.pigment.source)
    if wish.pigment_g is not None:
        mass_g("pigment_g", wish.pigment_g)
    return wish.lines


def _spoon_masses(lines: tuple[Line, ...]) -> tuple[Estimate, ...]:
    masses = []
    for n, line in enumerate(lines):
        if line.spoons is None:
            return ()
        try:
            masses.append(
                measures.to_grams(
                    line.spoons,
                    loose_density=line.pigment.loose_density_g_per_ml,
                    loose_density_measured=line.pigment.loose_density_measured,
                )
            )
        except Refused as refusal:
            raise refusal.under(f"lines.{n}.spoons") from None
    return tuple(masses)


def _shares(lines: tuple[Line, ...], measured: tuple[Estimate, ...]) -> list[float]:
    parts = [mass.median for mass in measured] or [line.parts or 0.0 for line in lines]
    return [part / sum(parts) for part in parts]


def _sized(
    wish: Wish, ratio: float, pigment_density: float, measured: tuple[Estimate, ...], shape: _Additives
) -> sizing.Sizing:
    pigment_g = sum(mass.median for mass in measured) if measured else wish.pigment_g
    if not measured and pigment_g is not None:
        pigment_g *= 1 + sum(one.dosing.dose_pct for one in wish.extenders) / 100
    tubes = [sizing.TubesWanted(tube.usable_ml, tube.count) for tube in wish.tubes] if wish.tubes is not None else None
    bench = wish.bench
    particle = coarsest([line.pigment.particle for line in wish.lines])
    return sizing.size(
        ratio, pigment_density, wish.oil.density_g_per_ml, tubes=tubes, pigment_g=pigment_g,
        hold_up_ml=wish.loss.hold_up_ml, loss=wish.loss.loss,
        slab_area_cm2=bench.area_cm2 if bench else None,
        film_mm=(bench.film_mm or FILM_MM[particle]) if bench else None,
        additive_ml_per_100g=shape.ml_per_100g, additive_g_per_100g=shape.g_per_100g,
    )  # fmt: skip


def _name(lines: tuple[Line, ...]) -> str:
    return " + ".join(dict.fromkeys(line.pigment.name for line in lines))


def mull_minutes(particle: Particle, bench: Bench) -> float:
    """Minutes to mull one load before judging it: twice the dispersion time, longer on a worn face."""
    worn = max(TOOTH_FACTOR[bench.slab_tooth], TOOTH_FACTOR[bench.muller_tooth])
    return MULL_DISPERSION_TIMES * TAU_MIN[particle] * worn


def _bench_figures(
    wish: Wish, lines: tuple[Line, ...], sized: sizing.Sizing
) -> tuple[Figure | None, Figure | None, Figure | None]:
    bench = wish.bench
    if bench is None or sized.loads is None or sized.load_ml is None:
        return None, None, None
    particle = coarsest([line.pigment.particle for line in lines])
    film_mm = bench.film_mm or FILM_MM[particle]
    film_basis = Basis.ENTERED if bench.film_mm else Basis.ASSUMED
    capacity = Figure(
        "One load holds", sized.load_ml, "ml", 1, Basis.ASSUMED,
        Working(
            "slab area x usable fraction x film / 10",
            (
                Input("slab area", bench.area_cm2, "cm2", Basis.ENTERED),
                Input("usable fraction", sizing.USABLE_FRACTION, "", Basis.ASSUMED),
                Input(f"film ({particle} pigment)", film_mm, "mm", film_basis),
            ),
        ),
    )  # fmt: skip
    count = Figure(
        "Loads", float(sized.loads), "", 0, Basis.ASSUMED,
        Working(
            "paint volume / one load, rounded up",
            (Input("paint volume", sized.volume_ml, "ml"), Input("one load", sized.load_ml, "ml", Basis.ASSUMED)),
        ),
    )  # fmt: skip
    mull = mull_minutes(particle, bench)
    time = Figure(
        "Time at the bench", sizing.session_minutes(sized.loads, mull), "min", 0, Basis.ASSUMED,
        Working(
            "set-up + loads x (mulling + handling) + cleaning",
            (
                Input("set-up", sizing.SET_UP_MIN, "min", Basis.ASSUMED),
                Input("loads", float(sized.loads)),
                Input("mulling a load (twice the dispersion time, by tooth)", mull, "min", Basis.ASSUMED),
                Input("handling a load", sizing.HANDLING_MIN_PER_LOAD, "min", Basis.ASSUMED),
                Input("cleaning", sizing.CLEANING_MIN, "min", Basis.ASSUMED),
            ),
        ),
    )  # fmt: skip
    return count, capacity, time


def _weigh_lines(
    wish: Wish,
    lines: tuple[Line, ...],
    shares: list[float],
    measured: tuple[Estimate, ...],
    pigment_g: float,
    inputs: _Inputs,
) -> tuple[Weigh, ...]:
    weighed = []
    for n, (line, share) in enumerate(zip(lines, shares, strict=True)):
        extender = wish.extenders[n - len(wish.lines)] if n >= len(wish.lines) else None
        if extender is not None:
            grams = measured[n].median if measured else pigment_g * share
            dose_pct = extender.dosing.dose_pct
            said = None
            mass = Figure(
                line.pigment.name, grams, "g", 1, inputs.sized_basis,
                Working(
                    "dose x pigment / 100",
                    (Input("dose", dose_pct, "%", Basis.ENTERED), Input("pigment", 100 * grams / dose_pct, "g")),
                    "an extender counts as pigment in oil absorption, density and PVC",
                ),
            )  # fmt: skip
        elif measured:
            spoons = line.spoons
            assert spoons is not None and spoons.amount is not None
            how = Working("as weighed", (Input("pigment", spoons.amount, "g", Basis.MEASURED),))
            said = None
            if spoons.unit is not Unit.GRAM:
                how = Working(
                    "spoons x spoon volume x loose density",
                    (
                        Input(measures.UNIT_NAMES[spoons.unit], spoons.amount),
                        Input("spoon volume", measures.SPOON_ML.get(spoons.unit, 1.0), "ml"),
                        Input("loose density", line.pigment.loose_density_g_per_ml, "g/ml", measured[n].basis),
                    ),
                    "spread 35 % until a level spoon of this lot was weighed, then 8 %",
                )
                said = f"{spoons.amount:g} x {measures.UNIT_NAMES[spoons.unit]}"
            mass = Figure.of(line.pigment.name, measured[n], "g", 1, how)
        else:
            mass = Figure(
                line.pigment.name, pigment_g * share, "g", 1, inputs.sized_basis,
                Working(
                    "pigment in all x share of the blend",
                    (Input("pigment in all", pigment_g, "g"), Input("share by weight", share)),
                ),
            )  # fmt: skip
            said = None
        weighed.append(Weigh(line.pigment, share, mass, said, extender.dosing.dose_pct if extender else None))
    return tuple(weighed)


def _starting_rules(
    wish: Wish,
    lines: tuple[Line, ...],
    shares: list[float],
    pigment_density: float,
    absorption: float,
    ratio: Estimate,
    pigment_g: float,
    displaced: float,
) -> tuple[StartingRule, ...]:
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
            "equal_volumes", "Equal true volumes", "half of the paint's volume is pigment",
            100 * oil_density / pigment_density, Basis.LIBRARY,
        ),
        rule(
            "equal_spoons", "Equal spoons", "a spoon of oil to each level spoon of powder",
            100 * oil_density * loose_ml, Basis.MEASURED if loose_measured else Basis.LIBRARY,
        ),
    ]  # fmt: skip
    if wish.last_released_ratio is not None:
        rules.append(
            rule("last_time", "Last time", "as the last batch that came out right", wish.last_released_ratio,
                 Basis.MEASURED)
        )  # fmt: skip
    return tuple(rules)


@dataclass(frozen=True, slots=True)
class _Inputs:
    """The intermediate results of one plan, from which its figures and their workings are made."""

    wish: Wish
    mixed: wetting.Blend
    demand: Estimate
    ratio: Estimate
    sized: sizing.Sizing
    shape: _Additives

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
            "Pigment", self.sized.pigment_g, "g", 1, self.demand.basis,
            Working(
                "100 x paint volume / (100 / pigment density + ratio / oil density)",
                (Input("paint volume", self.sized.volume_ml, "ml"), self._pigment_density, self._ratio, self._oil),
            ),
        )  # fmt: skip

    def ratio_figure(self) -> Figure:
        displaced = self.shape.displaced_g_per_100g
        less = (Input("oil whose place additives take", displaced, "g per 100 g"),) if displaced else ()
        return Figure.of(
            "Ratio", self.ratio, "g oil per 100 g", 1,
            Working(
                "OA / reduced PVC + (100 x oil density / pigment density) x (1 / reduced PVC - 1)"
                + (" - oil whose place additives take" if displaced else ""),
                (
                    Input("OA, oil absorption in this oil", self.demand.median, "g per 100 g", self.demand.basis),
                    Input("reduced PVC, the target", self.wish.reduced_pvc, "", Basis.ENTERED),
                    self._pigment_density,
                    self._oil,
                    *less,
                ),
                ASBECK,
            ),
        )  # fmt: skip

    def demand_figure(self, lines: tuple[Line, ...], shares: list[float]) -> Figure:
        taken = tuple(
            Input(
                f"{line.pigment.name}, share {share:.2f}", line.pigment.demand_g_per_100g,
                "g per 100 g", line.pigment.demand_basis,
            )
            for share, line in zip(shares, lines, strict=True)
        )  # fmt: skip
        return Figure.of(
            "Oil absorption", self.demand, "g per 100 g", 1,
            Working(
                "sum of (share x OA in the reference oil) x oil density / 0.930",
                (*taken, self._oil),
                "another oil wets by volume; the range is the central 90 %",
            ),
        )  # fmt: skip

    def oil_mass(self) -> Figure:
        scale = self.sized.pigment_g / 100
        return Figure.of(
            "Oil expected",
            Estimate(self.ratio.median * scale, self.ratio.low * scale, self.ratio.high * scale, self.ratio.basis),
            "g", 1,
            Working("pigment x ratio / 100", (Input("pigment", self.sized.pigment_g, "g"), self._ratio)),
        )  # fmt: skip

    def first_pour(self, rung: Rung, sd_ln: float) -> Figure:
        gel = self._gel_oil_g
        less = (Input("oil the gel brings", gel, "g"),) if gel else ()
        safe = round(10 * (1 - rung.quantile))
        often = {9: "nine", 7: "seven", 5: "five", 3: "three", 1: "one"}.get(safe, str(safe))
        return Figure(
            "Pour first", rung.step_g, "g", 1, self.demand.basis,
            Working(
                f"pigment x ratio at the {100 * rung.quantile:.0f} % quantile of the demand / 100"
                + (" - oil the gel brings" if gel else ""),
                (
                    Input("pigment", self.sized.pigment_g, "g"),
                    Input("ratio at that quantile", rung.oil_g_per_100g, "g oil per 100 g", self.ratio.basis),
                    Input("spread of the demand, sd of ln OA", sd_ln, "", self.demand.basis),
                    *less,
                ),
                f"{often} times in ten this is less than will be needed",
            ),
        )  # fmt: skip

    @property
    def _gel_oil_g(self) -> float:
        return self.shape.gel_oil_g_per_100g * self.sized.pigment_g / 100

    def oil_to_pour(self) -> Figure:
        """The oil that comes from the bottle, the gel's taken off."""
        scale = self.sized.pigment_g / 100
        gel = self._gel_oil_g
        low, high = max(0.0, self.ratio.low * scale - gel), self.ratio.high * scale - gel
        return Figure.of(
            "Oil to pour", Estimate(self.ratio.median * scale - gel, low, high, self.ratio.basis), "g", 1,
            Working(
                "oil expected - oil the gel brings",
                (Input("oil expected", self.ratio.median * scale, "g", self.ratio.basis),
                 Input("oil the gel brings", gel, "g")),
            ),
        )  # fmt: skip

    def stiffening(self) -> Figure | None:
        """How many times the yield stress of the same paste without additives; None without any that tell."""
        told = [one for one in self.wish.additives if one.stiffening_per_pct and one.dose_pct]
        if not told:
            return None
        basis = weakest(*(one.stiffening_basis for one in told))
        return Figure(
            "Stiffer by", math.exp(self.shape.ln_stress), "times", 2, basis,
            Working(
                "exp(sum of stiffening for each % x dose)",
                tuple(
                    Input(f"{one.additive.name}, for each % x {one.dose_pct:g} %", one.stiffening_per_pct, "",
                          one.stiffening_basis)
                    for one in told
                ),
                "; ".join(dict.fromkeys(one.stiffening_says for one in told)),
            ),
        )  # fmt: skip

    def film_pvc(self) -> Figure:
        """Pigment in the dry film, where what is volatile has left."""
        oil = self.wish.oil
        pigment_ml = 100 / self.mixed.density_g_per_ml
        oil_ml = self.ratio.median * oil.nonvolatile_fraction / oil.density_g_per_ml
        additive_ml = self.shape.displaced_g_per_100g / oil.density_g_per_ml
        wet_ml = pigment_ml + self.ratio.median / oil.density_g_per_ml + self.shape.ml_per_100g
        film_ml = pigment_ml + oil_ml + additive_ml
        return Figure(
            "Pigment in the dry film", 100 * pigment_ml / film_ml, "% by volume", 0, self.ratio.basis,
            Working(
                "pigment / (pigment + oil and additives that do not leave)",
                (
                    Input("pigment, of 100 g", pigment_ml, "ml"),
                    Input("oil that stays", oil_ml, "ml", self.ratio.basis),
                    Input("additives that stay", additive_ml, "ml"),
                    Input("what leaves as it dries, of the paint", 100 * max(0.0, 1 - film_ml / wet_ml), "%"),
                ),
            ),
        )  # fmt: skip

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
                    Input("pigment", self.sized.pigment_g, "g"), self._pigment_density,
                    Input("oil", self.sized.oil_g, "g", self.ratio.basis), self._oil, *self._additive_volume(),
                ),
            )  # fmt: skip
        return Figure("Paint", self.sized.volume_ml, "ml", 1, self.ratio.basis, how)

    def _additive_volume(self) -> tuple[Input, ...]:
        if not self.wish.additives:
            return ()
        return (Input("additives, all of their volume", self.shape.ml_per_100g * self.sized.pigment_g / 100, "ml"),)

    def density(self) -> Figure:
        return Figure(
            "Paint density", self.sized.paint_density_g_per_ml, "g/ml", 2, Basis.LIBRARY,
            Working(
                "(100 + ratio) / (100 / pigment density + ratio / oil density)"
                + (", additives added to both" if self.wish.additives else ""),
                (self._ratio, self._pigment_density, self._oil, *self._additive_volume()),
            ),
        )  # fmt: skip

    def leftover(self) -> Figure:
        loss = self.wish.loss
        wanted = float(sum(tube.usable_ml * tube.count for tube in self.wish.tubes or ()))
        label = "To fill" if self.wish.tubes is None else "Left over"
        return Figure(
            label, self.sized.leftover_ml, "ml", 1, weakest(self.ratio.basis, loss.basis),
            Working(
                "paint x (1 - loss) - hold-up - tubes",
                (
                    Input("paint", self.sized.volume_ml, "ml"),
                    Input("loss", loss.loss, "", loss.basis),
                    Input("hold-up on the tools", loss.hold_up_ml, "ml", Basis.ASSUMED),
                    Input("tubes", wanted, "ml", Basis.ENTERED),
                ),
            ),
        )  # fmt: skip
