"""Oil poured by eye of which nobody knows the amount: what the eye says it must be about."""

from __future__ import annotations

import math
from datetime import UTC, datetime
from uuid import UUID

from niddy.core import evidence, wetting
from niddy.core.errors import MIN_MASS_G
from niddy.core.estimate import Basis, Estimate
from niddy.core.plan import Facts
from niddy.core.slab.acts import Event, Kind
from niddy.core.slab.binder import displaced_g_per_100g
from niddy.core.slab.folding import after
from niddy.core.slab.knowledge import Knowledge, know
from niddy.core.slab.paste import Paste
from niddy.core.wetting import Body

RECKONED_SD = 0.06
"""How surely an eye places reduced PVC within a body, for oil that nobody told (assumed)."""


def reckoned_oil(paste: Paste, facts: Facts) -> Estimate | None:
    """The oil of pours by eye that nobody told, from the body last seen; as planned where none was. None without any.

    What is known of the powder decides it, so that it can teach nothing of the powder.
    """
    if not paste.untold or paste.pigment_g <= 0:
        return None
    known = know(paste, facts)
    look = next((look for look in reversed(paste.looks) if look.body is not None and look.taps), None)
    if look is None or look.body is None:
        grams, reduced = _oil_g(known, known.wanted, paste.pigment_g)
        grams -= paste.oil_g
    else:
        grams, reduced = _oil_g(known, look.body, look.pigment_g)
        grams = (grams - look.oil_g) / look.taps * paste.by_eye.taps
    sd = math.hypot(facts.demand_sd_ln, paste.powder_sd_ln, RECKONED_SD / reduced)
    return Estimate.lognormal(max(MIN_MASS_G, grams), sd, Basis.ASSUMED)


def _oil_g(known: Knowledge, body: Body, pigment_g: float) -> tuple[float, float]:
    """The oil of so much powder at a body, and the reduced PVC that is taken for it."""
    low, high = evidence.ZONE_REDUCED[body]
    paste, facts, target = known.paste, known.facts, known.target
    reduced = target if low <= target <= high or not math.isfinite(low + high) else (low + high) / 2
    if not math.isfinite(low + high) and not low <= target <= high:
        reduced = high if math.isfinite(high) else low
    reduced -= known.target - known.aim.reduced
    ratio = wetting.ratio_at(
        reduced, facts.oil_absorption_g_per_100g, facts.pigment_density_g_per_ml, facts.oil_density_g_per_ml
    )
    return (ratio - displaced_g_per_100g(paste, facts)) * pigment_g / 100, reduced


def supposed(paste: Paste, facts: Facts) -> Paste:
    """The paste as it is if pours by eye came to what they are reckoned: for loads, volume and ways back."""
    oil = reckoned_oil(paste, facts)
    if oil is None:
        return paste
    return after(paste, Event(UUID(int=0), 0, Kind.CAME_OUT, datetime.min.replace(tzinfo=UTC), mass=oil))
