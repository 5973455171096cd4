"""A plan computed from a wish."""

from __future__ import annotations

import math
from dataclasses import replace

from niddy.core import additives as doses
from niddy.core import measures, oils, pours, spread, telling, wetting
from niddy.core.cautions import ALWAYS, DEFERENCE, cautions_for, kept_apart
from niddy.core.colour import masstone_of, undertone_of
from niddy.core.demand import Share, blend_sd_ln
from niddy.core.errors import REDUCED_PVC_HIGH, REDUCED_PVC_LOW, Refused, reduced_pvc
from niddy.core.estimate import Basis, Estimate, total, weakest
from niddy.core.evidence import ZONE_REDUCED, Aim, Eye, Prior, needed, prior
from niddy.core.materials import STILL_WET, Particle
from niddy.core.measures import Family, Measure
from niddy.core.plan.bench import bench_figures, dispersion_minutes, dispersions, expected_fineness, working_factor
from niddy.core.plan.dosing import AdditivesShape, touch_dry_figures
from niddy.core.plan.facts import Facts, Plan, Rung, Scale, fully_known, pigment_and_oil_only, shifted
from niddy.core.plan.sized import oil_or_none, sized_wish
from niddy.core.plan.weighing import starting_rules, weigh_lines
from niddy.core.plan.wish import Line, Tool, Wish, by_weight, checked, shares_of, spoon_masses, with_extenders
from niddy.core.plan.workings import Inputs
from niddy.core.purposes import suits
from niddy.core.telling import Habit, Measuring


def compute(wish: Wish) -> Plan:
    """Everything a maker needs to know before powder goes onto the slab.

    Raises Refused for a blend of nothing, a lot twice, a target off the scale, or amounts nobody can grind.
    """
    wish = in_spoons(by_weight(wish))
    main = checked(wish)
    reduced_pvc("reduced_pvc", wish.reduced_pvc)
    doses.check_doses([*wish.additives, *(extender.dosing for extender in wish.extenders)], trial=wish.trial)
    oil = wish.oil
    measured = spoon_masses(main)
    lines, measured = with_extenders(wish, main, measured)
    shares = shares_of(lines, measured)

    mixed = wetting.blend(
        [
            wetting.Part(share, line.pigment.density_g_per_ml, line.pigment.demand_g_per_100g)
            for share, line in zip(shares, lines, strict=True)
        ]
    )
    absorption = wetting.in_oil(mixed.oil_absorption_g_per_100g, oil.density_g_per_ml)
    sd_ln = blend_sd_ln(
        [
            Share(
                share,
                line.pigment.demand_g_per_100g,
                line.pigment.demand_sd_ln,
                line.pigment.key,
                line.pigment.demand_shared_sd_ln,
            )
            for share, line in zip(shares, lines, strict=True)
        ]
    )
    powder_sd = _measuring_sd(measured)
    spoons = len(lines) == 1 and {one.known.family for one in lines[0].measured} == {Family.SPOON}
    known = wish.spooned if spoons else None
    if known is not None:
        absorption = wetting.in_oil(known.oil_absorption_g_per_100g, oil.density_g_per_ml)
        sd_ln, powder_sd = known.sd_ln, 0.0
        # What this eye sees as right is in what it called right before.
        wish = replace(wish, eye=replace(wish.eye, bias=0.0, bias_sd=0.0, covariance=0.0, demand_shift_ln=0.0))
    basis = weakest(*(line.pigment.demand_basis for line in lines))
    says = "; ".join(dict.fromkeys(line.pigment.demand_says for line in lines))
    if known is not None:
        says = f"{says}; the same spoon {'once' if known.batches == 1 else f'{known.batches} times'} before"
    demand = Estimate.lognormal(absorption, sd_ln, basis)

    if wish.same_ratio is not None and not wish.additives:
        c = 100 * oil.density_g_per_ml / mixed.density_g_per_ml
        wish = replace(wish, reduced_pvc=as_last_time(wish.same_ratio, absorption, wish.eye, c, wish.reduced_pvc))
    # Additives move the oil that leads to the body wanted, not the body.
    stiffened = min(doses.stiffens(wish.additives), wish.reduced_pvc - wetting.LEAST_AIM)
    aimed_at = wish.reduced_pvc - stiffened

    def dosed(oil_absorption: float) -> doses.Amounts:
        bound = wetting.ratio_at(aimed_at, oil_absorption, mixed.density_g_per_ml, oil.density_g_per_ml)
        if bound <= 0:
            raise Refused("reduced_pvc", "so dry a body needs no oil at all", "a wetter target")
        return doses.amounts(list(wish.additives), 100, bound / oil.density_g_per_ml, oil.density_g_per_ml)

    # Pours aim at what this maker will see as right.
    aim = Aim(aimed_at, 100 * oil.density_g_per_ml / mixed.density_g_per_ml)
    seen = prior(absorption, sd_ln, aim, wish.eye)
    aimed = Estimate.lognormal(math.exp(seen.mean), seen.sd, basis)
    expected = dosed(aimed.median)
    ratio = Estimate(expected.oil_g, oil_or_none(dosed, aimed.low), dosed(aimed.high).oil_g, basis)
    shape = AdditivesShape(wish, expected)
    counted = _counted(ratio, seen, aim, powder_sd)

    sized = sized_wish(wish, ratio.median, mixed.density_g_per_ml, measured, shape)
    pigment_mass = total(list(measured)) if measured else Estimate.exact(sized.pigment_g, Basis.ENTERED)
    steps = pours.ladder(
        sized.pigment_g,
        aimed.median,
        seen.sd,
        mixed.density_g_per_ml,
        oil.density_g_per_ml,
        aimed_at,
        wish.smallest_step_g,
        pigment_sd_ln=powder_sd,
    )
    shape.check_gels(sized.pigment_g)
    rungs = _rungs(steps, sized.pigment_g, shape, max(pours.SMALLEST_STEP_G, wish.smallest_step_g))
    if not rungs:
        raise Refused("pigment_g", "so little powder that no drop of oil fits", "more pigment")

    masstone = masstone_of(
        [(share, line.pigment.tinting, line.pigment.masstone_srgb) for share, line in zip(shares, lines, strict=True)]
    )
    spreads = _spreads(absorption, sd_ln, basis, aim, wish, powder_sd)
    inputs = Inputs(wish, mixed, demand, ratio, sized, shape, counted, spreads)
    cautions = cautions_for(
        [
            *((line.pigment.name, line.pigment.hazards) for line in lines),
            (oil.name, oil.hazards),
            *shape.hazards(),
            *([(wish.old_paint.name, wish.old_paint.hazards)] if wish.old_paint is not None else []),
        ]
    )
    apart = kept_apart(tuple(caution.key for caution in cautions))
    bench = bench_figures(wish, lines, sized, strict_powders=bool(apart))
    factor = working_factor(wish.bench, sized)
    blended = [(share, line.pigment) for share, line in zip(shares, lines, strict=True)]
    additive_lines = shape.lines(sized.pigment_g, rungs, steps)
    displaced = shape.displaced_g_per_100g
    return Plan(
        name=_name(main),
        body=wetting.body_at(wish.reduced_pvc),
        masstone_srgb=masstone,
        undertone_srgb=undertone_of(masstone),
        lines=weigh_lines(wish, lines, shares, measured, sized.pigment_g, inputs),
        oil=oil,
        bench=wish.bench,
        tubes=wish.tubes or wish.fills,
        pigment_mass=inputs.pigment_mass(pigment_mass),
        ratio=inputs.ratio_figure(),
        oil_absorption=inputs.demand_figure(lines, shares),
        oil_mass=inputs.oil_mass(),
        first_pour=inputs.first_pour(rungs[0], seen.sd),
        rungs=rungs,
        volume=inputs.volume(),
        density=inputs.density(),
        leftover=inputs.leftover(),
        loads=bench.loads,
        load_volume=bench.load_ml,
        minutes=bench.minutes,
        tidying=bench.tidying,
        fineness=expected_fineness(wish.bench, lines, wish.grind),
        remarks=(
            *([f"As last time: {wish.same_ratio:.1f} g of oil for each 100 g."] if wish.same_ratio is not None else []),
            *(suits(wish.purpose, tuple(line.pigment for line in lines), wish.oil) if wish.purpose else ()),
            *([STILL_WET] if any(line.pigment.liquid_share for line in lines) else []),
        ),
        grit=_grit(lines),
        oil_told=telling.oil_in_all(expected.oil_g * sized.pigment_g / 100, oil.density_g_per_ml, wish.habit),
        scale=Scale(
            shifted(
                wetting.scale_zones(absorption, mixed.density_g_per_ml, oil.density_g_per_ml, stiffened), displaced
            ),
            wish.reduced_pvc,
            ratio.median,
            ratio.low,
            ratio.high,
            basis,
            says,
        ),
        rules=starting_rules(
            wish, lines, shares, mixed.density_g_per_ml, absorption, ratio, sized.pigment_g, displaced
        ),
        cautions=cautions,
        caution_always=ALWAYS,
        caution_deference=DEFERENCE,
        facts=Facts(
            mixed.density_g_per_ml,
            oil.density_g_per_ml,
            absorption,
            sd_ln,
            wish.reduced_pvc,
            wish.smallest_step_g,
            dispersion_minutes(wish, lines) * factor,
            wish.target_fineness_um,
            wish.last_released_minutes,
            shape.in_paste(),
            wish.eye,
            powder_sd,
            wish.habit,
            wish.bench.tool if wish.bench else Tool.MULLER,
            factor,
            dispersions(wish),
            wish.bench.in_one_mass if wish.bench else False,
            wish.pace,
            known is not None,
        ),
        additives=additive_lines,
        oil_to_pour=inputs.oil_to_pour() if shape.gel_oil_g_per_100g else None,
        stiffening=inputs.stiffening(),
        film_pvc=inputs.film_pvc(),
        touch_dry=touch_dry_figures(oil, blended, list(wish.additives), wish.tested_days),
        keeps_days=min((k for d in wish.additives if (k := doses.keeps_days(d.additive)) is not None), default=None),
        pigment_and_oil_only=pigment_and_oil_only(
            oil,
            [added.name for added in additive_lines],
            bool(wish.extenders),
            known=fully_known((line.pigment.hazards for line in lines), old_paint=wish.old_paint is not None)
            and not any(line.pigment.recycled for line in lines),
        ),
        trial=wish.trial,
        oil_note=oils.note(oil),
        old_paint=wish.old_paint,
    )


def as_last_time(ratio: float, absorption: float, eye: Eye, c: float, wanted: float) -> float:
    """The reduced PVC at which a plan comes to a counted ratio again, within the body that was wanted."""
    k = (ratio + c) / absorption
    seen = absorption * math.exp(eye.demand_shift_ln + k * eye.bias)
    low, high = ZONE_REDUCED[wetting.body_at(wanted)]
    inside = min(max((seen + c) / (ratio + c), low + _INSIDE), high - _INSIDE)
    return min(max(inside, REDUCED_PVC_LOW), REDUCED_PVC_HIGH)


_INSIDE = 0.005
"""So far inside its body a target stays, whatever came out right before."""


def _grit(lines: tuple[Line, ...]) -> str:
    """What grit to expect of coarse powders, which is no fault; nothing of finer ones."""
    coarse = [line.pigment.name for line in lines if line.pigment.particle is Particle.COARSE]
    if not coarse:
        return ""
    feel = "feels" if len(coarse) == 1 else "feel"
    return f"{' and '.join(coarse)} always {feel} a little gritty; that is normal."


def _measuring_sd(measured: tuple[Estimate, ...]) -> float:
    """Sd of the logarithm of the powder's mass where it is measured by spoons: each lot errs by itself."""
    grams = sum(mass.median for mass in measured)
    return math.hypot(*(mass.median * measures.sd_ln_of(mass) for mass in measured)) / grams if grams else 0.0


def _counted(ratio: Estimate, seen: Prior, aim: Aim, powder_sd: float) -> Estimate:
    """The ratio in grams as they are counted: the powder's own measure may be out besides."""
    if not powder_sd:
        return ratio
    less = aim.ratio(math.exp(seen.mean)) - ratio.median
    low, high = (needed(seen, aim, share, powder_sd, 0.0) - less for share in (0.05, 0.95))
    return Estimate(ratio.median, max(0.0, low), high, ratio.basis)


def _spreads(absorption: float, sd_ln: float, basis: Basis, aim: Aim, wish: Wish, powder_sd: float) -> str:
    """Where the spread of the oil comes from, in ln ratio."""
    ratio = aim.ratio(absorption)
    wets = aim.a * absorption / ratio
    k = (ratio + aim.c) / absorption
    return spread.says(
        (
            spread.of_powder((wets * sd_ln) ** 2, known=basis is not Basis.LIBRARY),
            spread.of_eye((wets * k * wish.eye.bias_sd) ** 2),
            spread.of_spoon(powder_sd**2),
        )
    )


def _rungs(steps: pours.Ladder, powder_g: float, shape: AdditivesShape, smallest_g: float) -> tuple[Rung, ...]:
    """The ladder as oil: less what additives take the place of, and from where the gel's oil leaves off."""
    oil, habit = shape.wish.oil, shape.wish.habit
    gel_oil_g = shape.gel_oil_g_per_100g * powder_g / 100
    wanted = [(pour.quantile, pour.cumulative_g - shape.displaced_g_per_100g * powder_g / 100) for pour in steps.pours]
    return tuple(
        Rung(
            pour.quantile,
            pour.cumulative_g,
            pour.step_g,
            100 * pour.cumulative_g / powder_g,
            telling.oil(pour.step_g, oil.density_g_per_ml, habit, there_g=pour.cumulative_g - pour.step_g),
        )
        for pour in telling.pourable(wanted, smallest_g, oil.density_g_per_ml, habit, gel_oil_g)
    )


def in_spoons(wish: Wish) -> Wish:
    """The wish with whole level spoons of each powder, for a maker who has no scale."""
    if wish.habit.how is Measuring.SCALE or any(line.spoons is not None for line in wish.lines):
        return wish
    weighed = compute(replace(wish, habit=Habit(), bench=None))
    lines = []
    for line, weigh in zip(wish.lines, weighed.lines, strict=False):
        told = telling.powder(
            weigh.mass.value, line.pigment.loose_density_g_per_ml, wish.habit, up=wish.tubes is not None
        )
        assert told is not None
        own = {one.unit: one for one in wish.habit.own}
        first, *behind = (Measure(one.unit, one.amount, own=own.get(one.unit)) for one in told.parts or (told,))
        lines.append(replace(line, parts=None, spoons=first, behind=behind[0] if behind else None))
    return replace(wish, lines=tuple(lines), tubes=None, pigment_g=None, fills=wish.tubes or ())


def _name(lines: tuple[Line, ...]) -> str:
    return " + ".join(dict.fromkeys(line.pigment.name for line in lines))
