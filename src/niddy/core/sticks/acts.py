"""Acts at the pot and on the sticks that came of it: what each takes, when it can be, and what it does to the pot."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import replace
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from niddy.core import log
from niddy.core.acting import AmountAsked, Logged, Note, Picture, Source, Text, Undo
from niddy.core.amounts import Grams, Millilitres
from niddy.core.asked import Asked, Drawn, Live
from niddy.core.documents import Document, RowId
from niddy.core.errors import Refused
from niddy.core.log import Status
from niddy.core.sticks.casting import Feel
from niddy.core.sticks.folding import By, Dent, Pot, Taught, put_in, read, read_at
from niddy.core.sticks.materials import BaseMix, StickOil
from niddy.core.sticks.pot import BEESWAX_DMM, at_25_c
from niddy.core.sticks.pot_act import Names, PotAct, PotFacts
from niddy.core.sticks.sets import FEEL_DENT
from niddy.core.sticks.trying import Dried, DryTrial, FlawSeen, VerdictSaid, WetTrial
from niddy.core.words import Words

INTO_POT = Asked("How much", "g", "how much went in, in g", large=True, live=Live.BALANCE)
THERMOMETER = Asked("Temperature", "°C", "-20 to 400 °C", large=True, live=Live.THERMOMETER)
Temperature = Annotated[float, Field(strict=True, ge=-20, le=400)]

TOO_SOFT_DMM = 130.0
"""What "too soft" is taken for, in 0.1 mm (assumed)."""

MORE_THAN_MELTED = 1.05
"""Sticks that weigh so many times what was in the pot were weighed with something else (assumed)."""


class PotReady(PotAct):
    """The kit is at hand."""

    kind: Literal["ready"]

    def fold(self, pot: Pot, facts: PotFacts) -> Pot:
        return replace(pot, ready=True)

    def words(self, facts: PotFacts, names: Names) -> str:
        return "kit checked"


class _IntoPot(PotAct):
    """Something goes into the pot."""

    def check(self, pot: Pot) -> None:
        if pot.poured_at is not None:
            raise Refused("kind", "it is poured already", "undoing the pour first")

    def fold(self, pot: Pot, facts: PotFacts) -> Pot:
        return put_in(pot, facts.bases, facts.oils, facts.pigments, stays=False)

    def words(self, facts: PotFacts, names: Names) -> str:
        parts = [f"{names.get(source, source)} {grams:.1f} g" for source, grams in facts.grams.items()]
        return "in: " + ", ".join(parts)


class BaseIn(_IntoPot):
    """Base goes in: a block, or a wax of it."""

    kind: Literal["base"]
    source: Source
    measure: Annotated[AmountAsked, INTO_POT]

    def fold(self, pot: Pot, facts: PotFacts) -> Pot:
        return put_in(pot, facts.bases, facts.oils, facts.pigments, stays=not pot.melted)


class PotOilIn(_IntoPot):
    """Oil goes in."""

    kind: Literal["oil"]
    source: Source
    measure: Annotated[AmountAsked, INTO_POT]


class PigmentIn(_IntoPot):
    """Dry pigment goes in."""

    kind: Literal["pigment"]
    source: Source
    measure: Annotated[AmountAsked, INTO_POT]


class MulledPart(Document):
    """Grams of one material in a mulled paste."""

    source: Source
    grams: Grams


class MulledIn(_IntoPot):
    """Several at once: pigment that was mulled into the oil first, or more of each wax of a base."""

    kind: Literal["mulled"]
    parts: Annotated[list[MulledPart], Field(min_length=1, max_length=12)]

    def words(self, facts: PotFacts, names: Names) -> str:
        return ("mulled paste " if facts.pigments else "") + super().words(facts, names)


class PasteIn(_IntoPot):
    """Paste of an earlier batch goes in: so much of a tube or jar."""

    kind: Literal["paste"]
    item_id: Annotated[RowId, Asked("Tube, jar or old stick", accepted="one of them", drawn=Drawn.PICK)]
    volume_ml: Annotated[Millilitres, Asked("How much of it", "ml", "how many ml of it")]

    def words(self, facts: PotFacts, names: Names) -> str:
        return f"{self.volume_ml:g} ml of paste in"


class ReadTemperature(PotAct):
    """The thermometer was read."""

    kind: Literal["temperature"]
    temperature_c: Annotated[Temperature, THERMOMETER]

    def fold(self, pot: Pot, facts: PotFacts) -> Pot:
        return replace(read_at(pot, self.temperature_c, self.made_at), heat_off=False)

    def words(self, facts: PotFacts, names: Names) -> str:
        return f"{self.temperature_c:.0f} °C"


class Melted(PotAct):
    """It is clear, at this temperature where one was read."""

    kind: Literal["melted"]
    temperature_c: Temperature | None = None

    def fold(self, pot: Pot, facts: PotFacts) -> Pot:
        return replace(read_at(pot, self.temperature_c, self.made_at), melted=True, heat_off=False)

    def words(self, facts: PotFacts, names: Names) -> str:
        return "melted and clear" + _at(self.temperature_c)


class HeatOff(PotAct):
    """The heat is off: nobody need stand by the pot."""

    kind: Literal["heat_off"]

    def fold(self, pot: Pot, facts: PotFacts) -> Pot:
        return replace(pot, heat_off=True)

    def words(self, facts: PotFacts, names: Names) -> str:
        return "heat off"


class Stirred(PotAct):
    """It was stirred from the bottom."""

    kind: Literal["stir"]

    def fold(self, pot: Pot, facts: PotFacts) -> Pot:
        return replace(pot, stirred_at=self.made_at)

    def words(self, facts: PotFacts, names: Names) -> str:
        return "stirred from the bottom"


FELT = {Feel.HARD: "hard", Feel.FIRM: "firm", Feel.SOFT: "soft", Feel.BUTTERY: "buttery", Feel.TOO_SOFT: "too soft"}


class DentSaid(PotAct):
    """A dent: by a needle in 0.1 mm, or by feel; at what temperature where it was not 25 C."""

    by: By
    dent_dmm: Annotated[float, Field(strict=True, ge=0.1, le=400)] | None = None
    feel: Literal[Feel.HARD, Feel.FIRM, Feel.SOFT, Feel.BUTTERY, Feel.TOO_SOFT] | None = None
    at_c: Annotated[float, Field(strict=True, ge=0, le=40)] | None = None

    of_stick: ClassVar[bool] = False

    def check(self, pot: Pot) -> None:
        if self.by is By.NEEDLE and self.dent_dmm is None:
            raise Refused("dent_dmm", "missing", "how deep the needle went, in 0.1 mm")
        if self.by is By.FEEL and self.feel is None:
            raise Refused("feel", "missing", "how it felt under the nail")

    def at_standard(self, needle_on_beeswax_dmm: float | None) -> float:
        """What was read, carried to 25 C and to the needle of the standard, in 0.1 mm."""
        if self.dent_dmm is not None and self.by is By.NEEDLE:
            dent = self.dent_dmm * BEESWAX_DMM / (needle_on_beeswax_dmm or BEESWAX_DMM)
        else:
            dent = FEEL_DENT.get(self.feel or Feel.TOO_SOFT, TOO_SOFT_DMM)
        return min(400.0, max(0.1, at_25_c(dent, self.at_c) if self.at_c is not None else dent))

    def fold(self, pot: Pot, facts: PotFacts) -> Pot:
        assert facts.dent_dmm is not None
        dent = Dent(self.id, facts.dent_dmm, self.by, self.feel, self.made_at, self.of_stick)
        return replace(pot, dents=(*pot.dents, dent), changed_since_drop=False)

    def words(self, facts: PotFacts, names: Names) -> str:
        what = "a stick" if self.of_stick else "a drop"
        if self.by is By.NEEDLE:
            return f"{what} dents {facts.dent_dmm:.0f} by needle"
        return f"{what} feels {FELT[self.feel or Feel.TOO_SOFT]}"


class Drop(DentSaid):
    """A drop on cold glass was pressed."""

    kind: Literal["drop"]

    def check(self, pot: Pot) -> None:
        if pot.base_g + pot.oil_g <= 0:
            raise Refused("kind", "there is nothing in the pot", "base or oil first")
        super().check(pot)


class StickDent(DentSaid):
    """A stick was pressed."""

    kind: Literal["dent"]
    afterwards: ClassVar[bool] = True
    of_stick: ClassVar[bool] = True


class Poured(PotAct):
    """It was poured, at this temperature."""

    kind: Literal["pour"]
    temperature_c: Annotated[
        Temperature | None,
        Asked("At what temperature, if it was read", "°C", "-20 to 400 °C", large=True, live=Live.THERMOMETER),
    ] = None

    def check(self, pot: Pot) -> None:
        if pot.total_g <= 0:
            raise Refused("kind", "there is nothing in the pot", "base and oil first")

    def fold(self, pot: Pot, facts: PotFacts) -> Pot:
        read = read_at(pot, self.temperature_c, self.made_at)
        return replace(read, poured_c=self.temperature_c, poured_at=self.made_at)

    def words(self, facts: PotFacts, names: Names) -> str:
        return "poured" + _at(self.temperature_c)


class SkinSeen(PotAct):
    """A skin was seen on what cools, at this temperature: where it sets."""

    kind: Literal["skin"]
    temperature_c: Temperature

    def fold(self, pot: Pot, facts: PotFacts) -> Pot:
        return replace(pot, skin_c=self.temperature_c)

    def words(self, facts: PotFacts, names: Names) -> str:
        return "a skin" + _at(self.temperature_c)


class Out(PotAct):
    """Sticks came out of the moulds: how many, and what they weigh together where they were weighed."""

    kind: Literal["out"]
    count: Annotated[int, Field(strict=True, ge=0, le=2_000), Asked("How many", "", "a whole number", large=True)]
    grams: Annotated[Grams | None, Asked("Together, if weighed", "g", large=True)] = None

    def check(self, pot: Pot) -> None:
        if pot.poured_at is None:
            raise Refused("kind", "nothing was poured yet", "the pour first")
        if self.grams is not None and self.grams > MORE_THAN_MELTED * pot.total_g:
            raise Refused("grams", f"{self.grams:g} g out of {pot.total_g:.1f} g", f"up to {pot.total_g:.1f} g")

    def fold(self, pot: Pot, facts: PotFacts) -> Pot:
        return replace(pot, out_at=self.made_at, sticks=self.count, sticks_g=self.grams)

    def words(self, facts: PotFacts, names: Names) -> str:
        return f"{self.count} out of the moulds" + (f", {self.grams:g} g together" if self.grams else "")


class PotNote(Note, PotAct):
    """A few words."""


class PotPicture(Picture, PotAct):
    """A picture, sent by its own address."""


class PotFinish(PotAct):
    """The sticks go to the shelf, to a place."""

    kind: Literal["finish"]
    place: Annotated[Words, Field(max_length=80), Asked("Box or shelf")] = ""

    def check(self, pot: Pot) -> None:
        if not pot.sticks:
            raise Refused("kind", "no stick is out of its mould", "how many came out, or giving the pot up")

    def fold(self, pot: Pot, facts: PotFacts) -> Pot:
        return replace(pot, status=Status.FINISHED)

    def words(self, facts: PotFacts, names: Names) -> str:
        return "onto the shelf"


class PotAbandon(PotAct):
    """The pot is given up."""

    kind: Literal["abandon"]
    text: Annotated[Text, Asked("Why, in a few words")] = ""

    def fold(self, pot: Pot, facts: PotFacts) -> Pot:
        return replace(pot, status=Status.ABANDONED)

    def words(self, facts: PotFacts, names: Names) -> str:
        return "given up" + (f": {self.text}" if self.text else "")


class PotStrike(Undo, PotAct):
    """An earlier act is undone."""


AnyPotAct = Annotated[
    PotReady
    | BaseIn
    | ReadTemperature
    | Melted
    | HeatOff
    | PotOilIn
    | PigmentIn
    | MulledIn
    | PasteIn
    | Stirred
    | Drop
    | StickDent
    | Poured
    | SkinSeen
    | Out
    | FlawSeen
    | DryTrial
    | WetTrial
    | Dried
    | VerdictSaid
    | PotNote
    | PotPicture
    | PotFinish
    | PotAbandon
    | PotStrike,
    Field(discriminator="kind"),
]
"""One act of a pot."""

PotLog = Iterable[Logged[PotAct, PotFacts]]


def check_act(pot: Pot, act: PotAct) -> None:
    """Refuse an act that cannot be in this pot. Raises Refused."""
    if pot.status is not Status.OPEN and not act.afterwards:
        raise Refused("kind", f"the pot is {pot.status}", "a trial, a dent, a verdict or a note")
    act.check(pot)


def check_undo(pot: Pot, act: PotAct) -> None:
    """Refuse the undoing of an act that cannot be undone any more. Raises Refused."""
    if isinstance(act, PotFinish):
        raise Refused("strikes", "its sticks are on the shelf", "putting the sticks themselves right, there")
    if pot.status is Status.FINISHED and not act.afterwards and not isinstance(act, PotStrike):
        raise Refused("strikes", "the pot is done", "undoing a trial, a dent or a note")


def after(pot: Pot, logged: Logged[PotAct, PotFacts]) -> Pot:
    """The pot after one more act that counts."""
    return logged.act.fold(pot, logged.facts)


def fold(acts: PotLog) -> Pot:
    """What a log of acts comes to; the order is that of `seq`."""
    return log.fold(acts, Pot(), after)


def taught(acts: PotLog, base: BaseMix, oil: StickOil) -> tuple[Taught, ...]:
    """What the dents of a log teach of its base: each against what was in the pot when it was read."""
    pot, found = Pot(), []
    for act in log.counting(acts):
        pot, before = after(pot, act), pot
        reading = read(pot, base, oil, 0.0) if len(pot.dents) > len(before.dents) else None
        if reading is not None and reading.ln_dent_bare is not None:
            dent = pot.dents[-1]
            found.append(Taught(dent.id, math.log(dent.dent_dmm) - reading.ln_dent_bare, dent.by, dent.at))
    return tuple(found)


def _at(temperature_c: float | None) -> str:
    return f" at {temperature_c:.0f} °C" if temperature_c is not None else ""
