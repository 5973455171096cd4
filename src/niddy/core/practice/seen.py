"""What a paste shows the eye and the knife, without the name of its body: figures for a drawing, and words."""

from __future__ import annotations

import math
from dataclasses import dataclass

from niddy.core.slab import Gloss, Grit, Stage, StringLength


@dataclass(frozen=True, slots=True)
class Seen:
    """A paste at the knife. `stands` is 1 where it holds any shape, 0 where it runs; `crumbs` how far it falls apart.

    `string_mm` is the thread the lifted knife draws, `shine` from 0 (matte) to 1, `grit` from 0 to 1.
    """

    stage: Stage
    stands: float
    crumbs: float
    string_mm: float
    shine: float
    grit: float
    string: StringLength
    gloss: Gloss
    grit_felt: Grit
    says: tuple[str, ...]


_FALLS, _POINT, _BENDS, _ROUNDS, _SPREADS, _SLIDES = 1.08, 0.965, 0.885, 0.82, 0.74, 0.62


def _knife(reduced: float) -> str:
    """What it does under the knife, in steps that are not those of the bodies."""
    for least, says in (
        (_FALLS, "It falls apart under the knife."),
        (1.01, "Pressed hard it holds together; the edge cracks."),
        (_POINT, "It kneads like clay and drags at the knife."),
        (0.925, "Lifted, it stands in a sharp point that stays."),
        (_BENDS, "Lifted, it stands in a point; the tip bends a little."),
        (_ROUNDS, "It stands where it is put; the tip bends over and stays bent."),
        (0.78, "It stands for a moment, then its edges round off."),
        (_SPREADS, "It sags while you watch."),
        (0.68, "It spreads by its own weight."),
        (_SLIDES, "It slides off the knife in a lump."),
        (0.56, "It slides off the knife and trails."),
    ):
        if reduced >= least:
            return says
    return "It runs off the knife in a thread."


DUST_LEFT, CRUMBS_LEFT, CRUMBLES = 1.16, 1.03, 1.10
"""Folded in and not worked yet, powder is dust, crumbs or curds by how wet it looks; worked, it may still crumble."""


def stage_at(reduced: float, undispersed: float) -> Stage:
    """How far it has come: by the oil that is in until it is wet, then by how far it is worked."""
    if undispersed > 0.9:
        if reduced > DUST_LEFT:
            return Stage.DRY_ISLANDS
        return Stage.CRUMBS if reduced > CRUMBS_LEFT else Stage.WET_CURDS
    if reduced > CRUMBLES:
        return Stage.CRUMBS
    return Stage.COARSE_PASTE if undispersed > 0.45 else Stage.EVEN_PASTE


def seen_at(reduced: float, undispersed: float = 0.0, slippery: float = 0.0) -> Seen:
    """What a paste of a reduced PVC (as it looks now) shows, so much of it still to be dispersed (1: all of it).

    `slippery` is by how much fresh oil makes it look wetter than it is: that oil shines.
    """
    stage = stage_at(reduced, undispersed)
    string_mm = max(0.0, 46 * (0.97 - reduced) / 0.45) ** 1.15
    shine = 1 / (1 + math.exp((reduced - 4 * slippery - 0.83) / 0.035))
    grit = min(1.0, max(0.0, undispersed))
    string = StringLength.BREAKS if string_mm < 3 else StringLength.SHORT if string_mm < 16 else StringLength.LONG
    gloss = Gloss.MATTE if shine < 0.12 else Gloss.SATIN if shine < 0.7 else Gloss.GLOSSY
    felt = Grit.GRITTY if grit > 0.45 else Grit.FAINT if grit > 0.14 else Grit.NONE
    return Seen(
        stage,
        min(1.0, max(0.0, (reduced - 0.5) / 0.42)),
        min(1.0, max(0.0, (reduced - 0.94) / 0.16)),
        string_mm,
        shine,
        grit,
        string,
        gloss,
        felt,
        _says(stage, reduced, string_mm, gloss, felt, slippery),
    )


SLIDES_FROM = 0.015
"""Fresh oil that makes it look so much wetter than it is can be felt (assumed)."""


def _says(stage: Stage, reduced: float, string_mm: float, gloss: Gloss, grit: Grit, slippery: float) -> tuple[str, ...]:
    if stage is Stage.DRY_ISLANDS:
        return ("Dry powder still lies between islands of wet.", "Dust rises when you fold.")
    if stage is Stage.CRUMBS:
        return ("Damp crumbs; hardly any dust.", "They do not hang together yet.")
    if stage is Stage.WET_CURDS:
        return ("Wet curds, and no dust left.", "They want working before the body can be told.")
    thread = "It draws no thread." if string_mm < 3 else f"The thread is about {5 * round(string_mm / 5) or 5} mm long."
    feel = {
        Grit.GRITTY: "Grit grinds under the knife.",
        Grit.FAINT: "A little grit is left.",
        Grit.NONE: "No grit is felt.",
    }[grit]
    fresh = ("Fresh oil slides on it, not worked in yet.",) if slippery > SLIDES_FROM else ()
    return (*fresh, _knife(reduced), thread, f"The fresh face is {gloss}.", feel)
