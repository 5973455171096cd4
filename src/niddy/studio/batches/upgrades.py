"""Plans kept in an earlier shape, brought to the next."""

from __future__ import annotations

from typing import Any

from niddy.core.wetting import LN_STRESS_PER_REDUCED
from niddy.reference import library

LEARNED_HAZARDS = {
    "ultramarine-blue": ("acid-sulphide",),
    "prussian-blue": ("acid-heat-cyanide",),
    "smalt": ("arsenic",),
    "graphite": ("silica",),
}
"""Hazards of pigments that the library did not know when the first plans were kept."""


def with_what_is_known_now(plan: dict[str, Any]) -> dict[str, Any]:
    """From 1 to 2: how readily each powder disperses, and the hazards that are known of it since."""
    shipped = library().pigments
    lines = []
    for line in plan["lines"]:
        pigment = dict(line["pigment"])
        known = shipped.get(pigment["key"])
        pigment["dispersing"] = known.dispersing if known is not None else "medium"
        pigment["hazards"] = list(dict.fromkeys((*pigment["hazards"], *LEARNED_HAZARDS.get(pigment["key"], ()))))
        lines.append({**line, "pigment": pigment})
    return {**plan, "lines": lines}


def aimed_at_the_body(plan: dict[str, Any]) -> dict[str, Any]:
    """From 2 to 3: the target is the body as it will look, with what additives do to it; the oil stays what it was."""
    facts = plan["facts"]
    stiffened = sum(
        what["ln_stress"] * what["planned_per_g"] * what["additive_fraction"] for what in facts.get("additives") or ()
    )
    target = facts["target_reduced_pvc"] + stiffened / LN_STRESS_PER_REDUCED
    return {
        **plan,
        "facts": {**facts, "target_reduced_pvc": target},
        "scale": {**plan["scale"], "target_reduced_pvc": target},
    }
