"""Formulas of compounds, with hydrates: what atoms are in them, what a mole weighs, what their elements call for."""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import lru_cache
from typing import Any, cast

from molmass import Formula, FormulaError

from niddy.core.errors import Refused

MAX_LENGTH = 80
_DOTS = str.maketrans(dict.fromkeys("\u00b7\u2022\u2219\u22c5*", "."))
_SUBSCRIPTS = str.maketrans("\u2080\u2081\u2082\u2083\u2084\u2085\u2086\u2087\u2088\u2089", "0123456789")
_PLAIN = re.compile(r"[A-Za-z0-9()\[\].]+")


@dataclass(frozen=True, slots=True)
class Compound:
    """A compound: its formula as read, g of a mole, and how many atoms of each element are in it."""

    formula: str
    molar_g: float
    atoms: tuple[tuple[str, int], ...]

    @property
    def elements(self) -> frozenset[str]:
        return frozenset(element for element, _ in self.atoms)

    def of(self, element: str) -> int:
        """How many atoms of an element."""
        return dict(self.atoms).get(element, 0)


def compound(field: str, formula: str) -> Compound:
    """A formula read, hydrates with a point or a middle dot. Raises Refused that says where it cannot be read."""
    text = formula.translate(_DOTS).translate(_SUBSCRIPTS).replace(" ", "")
    accepted = "a formula such as CuSO4.5H2O or Na2CO3"
    if not text:
        raise Refused(field, "empty", accepted)
    if len(text) > MAX_LENGTH:
        raise Refused(field, f"{len(text)} characters", f"up to {MAX_LENGTH}")
    odd = _PLAIN.match(text)
    if odd is None or odd.end() != len(text):
        at = odd.end() if odd is not None else 0
        raise Refused(field, f"'{text[at]}' at place {at + 1} belongs to no formula", accepted)
    bare = re.search(r"^\.|\.(?=\.|$)", text)
    if bare is not None:
        raise Refused(field, f"nothing stands beside the point at place {bare.start() + 1}", accepted)
    return _read(field, text)


def one_wanted(text: str) -> Compound:
    """The one product that becomes the pigment. Raises Refused where more than one is named."""
    if re.search(r"[+,;]", text):
        raise Refused("wanted", "more than one product", "the one that becomes the pigment")
    return compound("wanted", text)


@lru_cache(maxsize=1_024)
def _parsed(text: str) -> Compound:
    read = Formula(text, parse_groups=False, parse_oligos=False, parse_fractions=False, allow_empty=False)
    # A hydrate's water is a part of its own to the library; composition adds it up.
    counts = {item.symbol: item.count for item in cast(Any, read.composition()).values()}
    return Compound(text, float(read.mass), tuple(sorted((str(key), int(count)) for key, count in counts.items())))


def _read(field: str, text: str) -> Compound:
    try:
        return _parsed(text)
    except FormulaError as error:
        at = getattr(error, "position", None)
        where = f" at place {at + 1}" if isinstance(at, int) and at >= 0 else ""
        if isinstance(at, int) and 0 <= at < len(text):
            where = f"'{text[at]}'{where} cannot be read"
        raise Refused(field, where or "it cannot be read", "a formula such as CuSO4.5H2O or Na2CO3") from None
    except (ValueError, OverflowError, KeyError, RecursionError):
        raise Refused(field, "it cannot be read", "a formula such as CuSO4.5H2O or Na2CO3") from None


_OF_ELEMENT = {
    "Pb": "lead",
    "Cd": "cadmium",
    "Hg": "mercury",
    "As": "arsenic",
    "Sb": "antimony",
    "Co": "cobalt",
    "Ni": "nickel",
    "Cr": "chromium-3",
    "Mn": "manganese",
    "Cu": "copper",
    "Zn": "zinc",
    "Se": "selenium",
    "V": "vanadium",
    "Ba": "barium",
    "Tl": "thallium",
}
_CYANIDE = re.compile(r"CN(?![a-z])")
_CHROMATE = re.compile(r"CrO4|Cr2O7")
_CARBONATE = re.compile(r"CO3|HCO3")
_AMMONIA = re.compile(r"NH4|NH3")
_SOLUBLE = re.compile(r"SO4|NO3|Cl(?!O)|Br|I(?![nr])|CH3COO|C2H3O2|CHO2|HCOO")
_AS_SALT = {"cobalt": "cobalt-salt", "nickel": "nickel-salt"}
"""What is bound in a pigment and what dissolves harm differently."""

_STRONG_ACIDS = frozenset({"HCl", "H2SO4", "HNO3", "H3PO4"})
_CAUSTICS = frozenset({"NaOH", "KOH", "LiOH", "CaO", "Ca(OH)2"})


def hazards_of(one: Compound) -> tuple[str, ...]:
    """What a compound's elements and groups call for, as keys of cautions; a data sheet says more."""
    found = [key for element, key in _OF_ELEMENT.items() if element in one.elements]
    if _SOLUBLE.search(one.formula):
        found = [_AS_SALT.get(key, key) for key in found]
    if one.formula == "BaSO4":
        found.remove("barium")
    if _CHROMATE.search(one.formula):
        found = ["chromium-6" if key == "chromium-3" else key for key in found]
    if _CYANIDE.search(one.formula):
        found.append("acid-heat-cyanide")
    if _CARBONATE.search(one.formula):
        found.append("foams")
    if _AMMONIA.search(one.formula):
        found.append("ammonia")
    if one.formula in _STRONG_ACIDS:
        found.append("strong-acid")
    if one.formula in _CAUSTICS:
        found.append("caustic")
    return tuple(sorted(set(found)))
