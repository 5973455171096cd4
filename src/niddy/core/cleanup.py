"""Cleaning up after a batch: what to do with tool, slab, knives, rags and rinse, for what was in it."""

from __future__ import annotations

from dataclasses import dataclass

from niddy.core.cautions import kept_apart
from niddy.core.plan import Tool


@dataclass(frozen=True, slots=True)
class CleaningStep:
    """One thing to clean: its key, what to do, and whether harm is likely where it is left out."""

    key: str
    text: str
    strict: bool = False


_TOOL = {
    Tool.MULLER: "Rock the muller and slide it off over the edge of the slab; never pull it straight up. "
    "Scrape its face, then wipe.",
    Tool.JAR: "Slide the jar off over the edge; scrape its bottom and rim, then wipe.",
    Tool.GLASS: "Slide the glass off over the edge; scrape its bottom, then wipe.",
    Tool.KNIFE: "Scrape both faces of the knife onto the paint that is left, then wipe.",
}


_APART = (
    "Keep a slab, tools and cloths for this paint only. Bag the waste for licensed disposal; wash hands and arms, and "
    "change the apron."
)


_RAGS = "Oily rags and paper into the metal can of water, lid on: they can catch fire by themselves."


def cleaning(tool: Tool, hazards: tuple[str, ...]) -> tuple[CleaningStep, ...]:
    """The clean-up of one batch, in order; `hazards` are the keys of all that was in it."""
    steps = [CleaningStep("tool", _TOOL[tool])]
    if tool is not Tool.KNIFE:
        steps.append(CleaningStep("knives", "Scrape the knives clean, then wipe them from handle to tip."))
    steps.append(
        CleaningStep("slab", "Scrape the slab, rub it with a little plain oil, and wipe it wet. Never sweep or blow.")
    )
    if kept_apart(hazards):
        steps.append(CleaningStep("apart", _APART, True))
    steps += [
        CleaningStep("rags", _RAGS, True),
        CleaningStep("rinse", "Brush rinse into the sludge can, never into the drain."),
        CleaningStep("hands", "Gloves off last; wash hands before you eat or drink."),
    ]
    return tuple(steps)
