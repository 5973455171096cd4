"""Plan: one batch on paper, from what is wanted to what to weigh, what to pour first and what to beware of."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from niddy.core import measures, pours, sizing, wetting
from niddy.core.cautions import ALWAYS, DEFERENCE, Caution, cautions_for
from niddy.core.colour import masstone_of, undertone_of
from niddy.core.demand import blend_sd_ln
from niddy.core.errors import Refused, mass_g, reduced_pvc, within
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
class Tubes:
    """Tubes wanted or filled, of one type."""

    tube_type_id: int | None
    name: str
    usable_ml: float
    count: int


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


@dataclass(frozen=True, slots=True)
class Weigh:
    """One powder to weigh out; `spoons` says it in the maker's spoons where that is how it is measured."""

    pigment: DryPigment
    share: float
    mass: Figure
    spoons: str | None


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


def compute(wish: Wish) -> Plan:
    """Everything a maker needs to know before powder goes onto the slab.

    Raises Refused for a blend of nothing, a lot twice, a target off the scale, or amounts nobody can grind.
    """
    lines = _checked(wish)
    reduced_pvc("reduced_pvc", wish.reduced_pvc)
    oil = wish.oil
    measured = _spoon_masses(lines)
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

    def ratio_for(oil_absorption: float) -> float:
        return wetting.ratio_at(wish.reduced_pvc, oil_absorption, mixed.density_g_per_ml, oil.density_g_per_ml)

    ratio = Estimate(ratio_for(demand.median), ratio_for(demand.low), ratio_for(demand.high), basis)
    if ratio.median <= 0:
        raise Refused("reduced_pvc", "so dry a body needs no oil at all", "a wetter target")

    sized = _sized(wish, ratio.median, mixed.density_g_per_ml, measured)
    pigment_mass = total(list(measured)) if measured else Estimate.exact(sized.pigment_g, Basis.ENTERED)
    steps = pours.ladder(
        sized.pigment_g, demand.median, sd_ln, mixed.density_g_per_ml, oil.density_g_per_ml,
        wish.reduced_pvc, wish.smallest_step_g,
    )  # fmt: skip
    rungs = tuple(
        Rung(p.quantile, p.cumulative_g, p.step_g, 100 * p.cumulative_g / sized.pigment_g) for p in steps.pours
    )
    if not rungs:
        raise Refused("pigment_g", "so little powder that no drop of oil fits", "more pigment")

    masstone = masstone_of(
        [(share, line.pigment.tinting, line.pigment.masstone_srgb) for share, line in zip(shares, lines, strict=True)]
    )
    inputs = _Inputs(wish, mixed, demand, ratio, sized)
    loads_figure, load_ml, minutes = _bench_figures(wish, lines, sized)
    return Plan(
        name=_name(lines),
        body=wetting.body_at(wish.reduced_pvc),
        masstone_srgb=masstone,
        undertone_srgb=undertone_of(masstone),
        lines=_weigh_lines(lines, shares, measured, sized.pigment_g, inputs),
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
            wetting.scale_zones(absorption, mixed.density_g_per_ml, oil.density_g_per_ml),
            wish.reduced_pvc, ratio.median, ratio.low, ratio.high, basis, says,
        ),
        rules=_starting_rules(wish, lines, shares, mixed.density_g_per_ml, absorption, ratio, sized.pigment_g),
        cautions=cautions_for(
            [*((line.pigment.name, line.pigment.hazards) for line in lines), (oil.name, oil.hazards)]
        ),
        caution_always=ALWAYS,
        caution_deference=DEFERENCE,
        facts=Facts(
            mixed.density_g_per_ml, oil.density_g_per_ml, absorption, sd_ln, wish.reduced_pvc,
            wish.smallest_step_g, TAU_MIN[coarsest([line.pigment.particle for line in lines])],
            wish.target_fineness_um, wish.last_released_minutes,
        ),
    )  # fmt: skip


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
            within(f"lines.{n}.parts", line.parts, 0, 10_000, open_low=True)
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


def _sized(wish: Wish, ratio: float, pigment_density: float, measured: tuple[Estimate, ...]) -> sizing.Sizing:
    pigment_g = sum(mass.median for mass in measured) if measured else wish.pigment_g
    tubes = [sizing.TubesWanted(tube.usable_ml, tube.count) for tube in wish.tubes] if wish.tubes is not None else None
    bench = wish.bench
    particle = coarsest([line.pigment.particle for line in wish.lines])
    return sizing.size(
        ratio, pigment_density, wish.oil.density_g_per_ml, tubes=tubes, pigment_g=pigment_g,
        hold_up_ml=wish.loss.hold_up_ml, loss=wish.loss.loss,
        slab_area_cm2=bench.area_cm2 if bench else None,
        film_mm=(bench.film_mm or FILM_MM[particle]) if bench else None,
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
    lines: tuple[Line, ...],
    shares: list[float],
    measured: tuple[Estimate, ...],
    pigment_g: float,
    inputs: _Inputs,
) -> tuple[Weigh, ...]:
    weighed = []
    for n, (line, share) in enumerate(zip(lines, shares, strict=True)):
        if measured:
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
        weighed.append(Weigh(line.pigment, share, mass, said))
    return tuple(weighed)


def _starting_rules(
    wish: Wish,
    lines: tuple[Line, ...],
    shares: list[float],
    pigment_density: float,
    absorption: float,
    ratio: Estimate,
    pigment_g: float,
) -> tuple[StartingRule, ...]:
    oil_density = wish.oil.density_g_per_ml
    loose_ml = sum(s / line.pigment.loose_density_g_per_ml for s, line in zip(shares, lines, strict=True))
    loose_measured = all(line.pigment.loose_density_measured for line in lines)

    def rule(key: str, name: str, says: str, oil_ratio: float, basis: Basis) -> StartingRule:
        reduced = wetting.reduced_at(oil_ratio, absorption, pigment_density, oil_density)
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
        return Figure.of(
            "Ratio", self.ratio, "g oil per 100 g", 1,
            Working(
                "OA / reduced PVC + (100 x oil density / pigment density) x (1 / reduced PVC - 1)",
                (
                    Input("OA, oil absorption in this oil", self.demand.median, "g per 100 g", self.demand.basis),
                    Input("reduced PVC, the target", self.wish.reduced_pvc, "", Basis.ENTERED),
                    self._pigment_density,
                    self._oil,
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
        return Figure(
            "Pour first", rung.cumulative_g, "g", 1, self.demand.basis,
            Working(
                "pigment x ratio at the 10 % quantile of the demand / 100",
                (
                    Input("pigment", self.sized.pigment_g, "g"),
                    Input("ratio at that quantile", rung.oil_g_per_100g, "g oil per 100 g", self.ratio.basis),
                    Input("spread of the demand, sd of ln OA", sd_ln, "", self.demand.basis),
                ),
                "nine times in ten this is less than will be needed",
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
                "pigment / pigment density + oil / oil density",
                (
                    Input("pigment", self.sized.pigment_g, "g"), self._pigment_density,
                    Input("oil", self.sized.oil_g, "g", self.ratio.basis), self._oil,
                ),
            )  # fmt: skip
        return Figure("Paint", self.sized.volume_ml, "ml", 1, self.ratio.basis, how)

    def density(self) -> Figure:
        return Figure(
            "Paint density", self.sized.paint_density_g_per_ml, "g/ml", 2, Basis.LIBRARY,
            Working(
                "(100 + ratio) / (100 / pigment density + ratio / oil density)",
                (self._ratio, self._pigment_density, self._oil),
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
