"""What can be wrong with a stick, what it comes of, and what to do the next time."""

from __future__ import annotations

from enum import StrEnum


class Flaw(StrEnum):
    """What can be wrong with a stick."""

    SANK = "sank"
    PALE_TOP = "pale_top"
    GRAINY = "grainy"
    CRACKED = "cracked"
    GREASY = "greasy"
    STUCK = "stuck"


FLAW_WORDS: dict[Flaw, tuple[str, str, str]] = {
    Flaw.SANK: ("sank in the middle", "Wax shrinks as it sets.", "Top up while the middle is still soft; pour cooler."),
    Flaw.PALE_TOP: (
        "pale at the top",
        "Pigment sank while it stood hot.",
        "Stir to the last moment, pour at the cool end of the window, cast thinner.",
    ),
    Flaw.GRAINY: (
        "grainy",
        "Cooled too fast, or the hardest wax was not molten; or the powder was not wetted.",
        "Melt until it is clear, warm the moulds, mull the pigment into the oil first.",
    ),
    Flaw.CRACKED: (
        "cracked",
        "Cooled too fast, or too brittle a base.",
        "Let it set in a warm place; a little soft wax in the base.",
    ),
    Flaw.GREASY: (
        "greasy, oil on the skin",
        "More oil than the wax holds.",
        "Less oil, or a wax that holds oil (microcrystalline, ozokerite, sunflower).",
    ),
    Flaw.STUCK: ("stuck in the mould", "Too soft, or taken out warm.", "Half an hour in the cold, then press it out."),
}
"""What each flaw is called, its likely cause, and what to do the next time."""
