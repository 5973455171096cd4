"""How dry a dish is by signs: what it smells of, paper pressed on it, whether it crumbles."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum

import numpy as np
from scipy.special import ndtr

from niddy.core.estimate import Z90, Basis, Estimate


class SolventSmell(StrEnum):
    """What a dish smells of, from a hand's breadth, the window open."""

    SOLVENT = "solvent"
    FAINT = "faint"
    NONE = "none"


class PaperSign(StrEnum):
    """What clean paper shows that was pressed on for ten seconds."""

    WET = "wet"
    PRINT = "print"
    DRY = "dry"


SMELL_WORDS = {
    SolventSmell.SOLVENT: "smells of solvent",
    SolventSmell.FAINT: "smells faintly",
    SolventSmell.NONE: "smells of nothing",
}
PAPER_WORDS = {
    PaperSign.WET: "paper comes off wet",
    PaperSign.PRINT: "paper shows a print",
    PaperSign.DRY: "paper stays dry",
}


@dataclass(frozen=True, slots=True)
class Judged:
    """How dry it was judged to be: by its smell, by paper, and whether it was seen to crumble under the knife."""

    at: datetime
    smell: SolventSmell
    paper: PaperSign
    crumbles: bool = False

    @property
    def may_be_tubed(self) -> bool:
        """Nothing is smelled and paper stays dry: both, since neither alone is enough."""
        return self.smell is SolventSmell.NONE and self.paper is PaperSign.DRY


LIQUID_FROM, LIQUID_TO = 0.002, 0.7
"""Between these shares of liquid nothing is held likelier than anything else, as its logarithm (assumed)."""

SMELL_AT, SMELL_SD = (0.02, 0.08), 0.9
PAPER_AT, PAPER_SD = (0.03, 0.15), 0.7
CRUMBLES_BELOW, CRUMBLES_SD = 0.10, 0.8
"""Shares of liquid at which half of all noses, papers and knives tell one sign from the next, and the sd of ln
(assumed)."""


def liquid_by_signs(judged: Judged, weighed: Estimate | None = None) -> Estimate:
    """The share of liquid in a dish after it was judged: its middle and 90 % band.

    `weighed` is what weighings say of the share by now; a measured one is hardly moved by a nose.
    """
    ln = np.linspace(np.log(LIQUID_FROM), np.log(LIQUID_TO), 400)
    weight = likelihood(judged, np.exp(ln)) * (1.0 if weighed is None else _from(weighed)(ln))
    below = np.cumsum(weight) / np.sum(weight)
    low, middle, high = (float(np.exp(np.interp(share, below, ln))) for share in (0.05, 0.5, 0.95))
    return Estimate(middle, low, high, weighed.basis if weighed is not None else Basis.ASSUMED)


def likelihood(judged: Judged, liquid: np.ndarray) -> np.ndarray:
    """How likely what was smelled, felt and seen is at each share of liquid."""
    ln = np.log(liquid)
    found = _ordered(ln, list(SolventSmell)[::-1].index(judged.smell), SMELL_AT, SMELL_SD)
    found = found * _ordered(ln, list(PaperSign)[::-1].index(judged.paper), PAPER_AT, PAPER_SD)
    if judged.crumbles:
        found = found * ndtr((np.log(CRUMBLES_BELOW) - ln) / CRUMBLES_SD)
    return np.asarray(found)


def _ordered(ln: np.ndarray, sign: int, at: tuple[float, float], sd: float) -> np.ndarray:
    """How likely a sign is at each share: 0 the driest, 2 the wettest."""
    drier, wetter = (ndtr((np.log(one) - ln) / sd) for one in at)
    return np.asarray((drier, wetter - drier, 1 - wetter)[sign])


def _from(weighed: Estimate) -> Callable[[np.ndarray], np.ndarray]:
    middle = max(LIQUID_FROM, weighed.median)
    high = max(middle * 1.05, weighed.high or middle)
    sd = float(np.log(high / middle)) / Z90
    return lambda ln: np.exp(-0.5 * ((ln - np.log(middle)) / sd) ** 2)
