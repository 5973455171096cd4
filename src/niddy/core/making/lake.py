"""A lake on alum: the soda for it, the substrate it makes, the gas that foams.

2 KAl(SO4)2.12H2O + 3 Na2CO3 -> 2 Al(OH)3 + K2SO4 + 3 Na2SO4 + 3 CO2
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from niddy.core.errors import mass_g, within
from niddy.core.making.formula import compound

GAS_L_PER_MOL = 24.06
"""A mole of carbon dioxide at 20 C and 101.3 kPa."""

VESSEL_TIMES = 3.0
"""A vessel holds at least so many times the liquid, for the foam (assumed)."""


class Alum(StrEnum):
    """Which alum."""

    POTASH = "potash"
    AMMONIUM = "ammonium"


class Soda(StrEnum):
    """Which soda, by the water in its crystals."""

    ANHYDROUS = "anhydrous"
    MONOHYDRATE = "monohydrate"
    DECAHYDRATE = "decahydrate"


FORMULAS = {
    Alum.POTASH: "KAl(SO4)2.12H2O",
    Alum.AMMONIUM: "NH4Al(SO4)2.12H2O",
    Soda.ANHYDROUS: "Na2CO3",
    Soda.MONOHYDRATE: "Na2CO3.H2O",
    Soda.DECAHYDRATE: "Na2CO3.10H2O",
}
SUBSTRATE = "Al(OH)3"


@dataclass(frozen=True, slots=True)
class Lake:
    """What some alum takes and makes: g of soda, g of substrate, litres of gas."""

    soda_g: float
    substrate_g: float
    co2_l: float


def lake(alum_g: float, alum: Alum = Alum.POTASH, soda: Soda = Soda.ANHYDROUS, share: float = 1.0) -> Lake:
    """Soda for a share of the neutralisation; many stop earlier than all. Raises Refused naming the amount."""
    mass_g("alum_g", alum_g)
    within("share", share, 0, 1, open_low=True)
    moles = alum_g / compound("alum", FORMULAS[alum]).molar_g * share
    return Lake(
        1.5 * moles * compound("soda", FORMULAS[soda]).molar_g,
        moles * compound("substrate", SUBSTRATE).molar_g,
        1.5 * moles * GAS_L_PER_MOL,
    )
