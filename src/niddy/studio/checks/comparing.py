"""Two batches side by side."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy.orm import Session

from niddy.core import checks
from niddy.core.checks import UNITS, CheckKind
from niddy.core.errors import Refused
from niddy.core.explain import BatchInputs, Explained, explain
from niddy.core.mulling import dispersing_minutes_per_load
from niddy.core.plan import Facts
from niddy.core.rebuild import Wets
from niddy.core.slab import additive_ln_stress, binder_g
from niddy.core.wetting import reduced_at
from niddy.studio import batches
from niddy.studio.batches import Made
from niddy.studio.checks.blends import Known, facts_now, own_slope


@dataclass(frozen=True, slots=True)
class Side:
    """One batch of a comparison: what went in and what came out."""

    number: int
    name: str
    started_at: datetime
    masstone_srgb: str
    lots: str
    oil: str
    oil_g_per_100g: float | None
    oil_absorption_g_per_100g: float
    reduced_pvc: float | None
    minutes_per_load: float | None
    additives: str
    release: str | None
    results: dict[str, float | str]


@dataclass(frozen=True, slots=True)
class Comparison:
    """Two batches side by side, and the change in spread shared out; `why_not` where it cannot be."""

    one: Side
    other: Side
    units: dict[CheckKind, str]
    explained: Explained | None
    why_not: str


def compare(session: Session, one: int, other: int) -> Comparison:
    """Compare two batches: inputs, results, and what the change in spread comes from. Raises Refused, Missing."""
    if one == other:
        raise Refused("other", "the same batch", "another batch")
    first, second = batches.made(session, one), batches.made(session, other)
    explained, why_not = None, ""
    known: Known = {}
    diameters = [m.results.get(CheckKind.SPREAD) for m in (first, second)]
    ratios = [m.kept.paste.oil_g_per_100g for m in (first, second)]
    if None in diameters:
        why_not = "Spread was not checked on both."
    elif not all(ratios):
        why_not = "The ratio is not known of both."
    else:
        recipe = second.recipe_id if second.recipe_id is not None else first.recipe_id
        slope = checks.slope([])
        if recipe is not None:
            slope = own_slope(session, batches.of_recipe(session, recipe), known)
        inputs = [_inputs(made, facts_now(session, made, known)) for made in (first, second)]
        explained = explain(inputs[0], float(diameters[0] or 0), inputs[1], float(diameters[1] or 0), slope)
    sides = [_side(made, facts_now(session, made, known)) for made in (first, second)]
    return Comparison(sides[0], sides[1], dict(UNITS), explained, why_not)


def _inputs(made: Made, facts: Facts) -> BatchInputs:
    return BatchInputs(
        made.kept.paste.oil_g_per_100g or 0.0,
        Wets(facts.oil_absorption_g_per_100g, facts.pigment_density_g_per_ml, facts.oil_density_g_per_ml),
        dispersing_minutes_per_load(made.kept.paste.mulling),
        facts.tau_min,
        additive_ln_stress(made.kept.paste.additives.values(), made.kept.paste.pigment_g),
    )


def _side(made: Made, facts: Facts) -> Side:
    kept = made.kept
    paste = kept.paste
    ratio = paste.oil_g_per_100g
    bound = 100 * binder_g(paste.oil_g, paste.additives.values(), facts) / paste.pigment_g if ratio else 0.0
    return Side(
        kept.number,
        kept.name,
        kept.started_at,
        kept.masstone_srgb,
        ", ".join(w.pigment.lot_code or "library" for w in kept.plan.lines),
        kept.plan.oil.name + (f", {kept.plan.oil.lot_code}" if kept.plan.oil.lot_code else ""),
        ratio,
        facts.oil_absorption_g_per_100g,
        reduced_at(bound, facts.oil_absorption_g_per_100g, facts.pigment_density_g_per_ml, facts.oil_density_g_per_ml)
        if ratio
        else None,
        dispersing_minutes_per_load(kept.paste.mulling),
        ", ".join(f"{additive.what.name} {additive.grams:.2f} g" for additive in paste.additives.values()) or "none",
        made.release,
        made.results,
    )
