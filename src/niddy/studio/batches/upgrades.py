"""Plans kept in an earlier shape, brought to the next."""

from __future__ import annotations

from typing import Any

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
