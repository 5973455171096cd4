"""Binder and volume of a paste, additives in it and to come counted."""

from __future__ import annotations

from collections.abc import Iterable

from niddy.core import wetting
from niddy.core.additives import InPaste
from niddy.core.plan import Facts
from niddy.core.slab.paste import Added, Paste


def binder_g(oil_g: float, additives: Iterable[Added], facts: Facts) -> float:
    """The binder as g of oil: the oil, and what additives add to it that does not leave."""
    return oil_g + sum(
        additive.what.binder_as_oil_g(additive.grams, facts.oil_density_g_per_ml) for additive in additives
    )


def reserve_g(paste: Paste, facts: Facts) -> float:
    """The part of the binder, as g of oil, that planned additives will still bring with them."""
    to_come = 0.0
    for additive in facts.additives:
        form_g = missing_additive_g(paste, additive)
        own = additive.binder_as_oil_g(form_g * additive.additive_fraction, facts.oil_density_g_per_ml)
        to_come += own + form_g * (1 - additive.additive_fraction)
    return to_come


def gel_oil_to_come_g(paste: Paste, facts: Facts) -> float:
    """The oil that planned gels will still bring."""
    return sum(missing_additive_g(paste, additive) * (1 - additive.additive_fraction) for additive in facts.additives)


def missing_additive_g(paste: Paste, planned: InPaste) -> float:
    """How much of a planned additive, as weighed, is still to come for the powder that is in."""
    if planned.source in paste.left_out:
        return 0.0
    there = paste.additives.get(planned.source)
    form_g = there.grams / planned.additive_fraction if there else 0.0
    missing = planned.planned_per_g * paste.pigment_g - form_g
    return missing if missing > ADDITIVE_SLACK * planned.planned_per_g * paste.pigment_g else 0.0


ADDITIVE_SLACK = 0.05
"""An additive counts as in once all but this fraction of it is: drops are no finer (assumed)."""


def additive_ln_stress(additives: Iterable[Added], pigment_g: float) -> float:
    """By how much additives raise ln yield stress."""
    return sum(additive.what.ln_stress * additive.grams for additive in additives) / pigment_g if pigment_g > 0 else 0.0


def additive_excess(additives: Iterable[Added], pigment_g: float) -> float:
    """By how much reduced PVC reads too high for additives: stress goes with D^-5, D with reduced PVC (assumed)."""
    return additive_ln_stress(additives, pigment_g) / wetting.LN_STRESS_PER_REDUCED


def volume_ml(paste: Paste, facts: Facts) -> float:
    """The paint there is: powder, oil, and all of the additives, the volatile in them too."""
    added = sum(additive.grams / additive.what.density_g_per_ml for additive in paste.additives.values())
    return paste.pigment_g / facts.pigment_density_g_per_ml + paste.oil_g / facts.oil_density_g_per_ml + added


def displaced_g_per_100g(paste: Paste, facts: Facts) -> float:
    """The oil whose place additives take or will bring, in g for each 100 g of powder."""
    if paste.pigment_g <= 0:
        return 0.0
    own = binder_g(0.0, paste.additives.values(), facts)
    return 100 * (own + reserve_g(paste, facts)) / paste.pigment_g
