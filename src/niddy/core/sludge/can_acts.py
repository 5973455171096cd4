"""Acts on a washing can: what each takes, and what it does to the can."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace
from datetime import timedelta
from typing import Annotated, Literal

from pydantic import Field

from niddy.core import log
from niddy.core.acting import Act, Logged, Note, Source, Undo
from niddy.core.amounts import Grams, Millilitres
from niddy.core.asked import Asked, Drawn, Live, Option
from niddy.core.documents import Document, Key, RowId
from niddy.core.errors import MAX_VOLUME_ML
from niddy.core.log import Status
from niddy.core.sludge.can import (
    GRAMS_PER_WEIGHT,
    HEIGHTS_KEPT,
    MONTHS_KEPT,
    OLD_SLUDGE_G_PER_ML,
    WEEKS_KEPT,
    Can,
    Height,
    Liquid,
    Origin,
    counted,
    emptied,
    less,
    stirred,
    surplus,
    week_of,
    weighed,
)
from niddy.core.sludge.makeup import Much, Washed, added, beside

Millimetres = Annotated[float, Field(strict=True, ge=0, le=2_000)]
Share = Annotated[float, Field(strict=True, gt=0, le=1)]
FROM = (Option(Origin.BOUGHT.value, "new"), Option(Origin.RECOVERED.value, "poured off before"))
SHARES = (Option(0.25, "a quarter"), Option(0.5, "half"), Option(1.0, "all"))
MUCH = {Much.LITTLE: "a little", Much.BRUSHFUL: "a brushful", Much.PALETTE: "a palette's worth"}


@dataclass(frozen=True, slots=True)
class CanFacts:
    """What the record adds to an act: what was washed off and what else it brings, densities, weights, the dish.

    `g_per_weight` is what a washing of weight 1 was known to leave when the act was made; `beyond` the solvent of what
    was poured off and never logged.
    """

    washed: tuple[Washed, ...] = ()
    unknown: float = 0.0
    beside: Mapping[str, tuple[str, ...]] = field(default_factory=dict)
    sources: tuple[str, ...] = ()
    names: tuple[str, ...] = ()
    density_g_per_ml: float = 0.0
    ml: float | None = None
    net_g: float = 0.0
    g_per_weight: float = GRAMS_PER_WEIGHT
    dish: int | None = None
    beyond: str = ""


Names = Mapping[str, str]


class CanAct(Act):
    """What every act on a can is: it changes the can, and its log tells it in words."""

    def fold(self, can: Can, facts: CanFacts) -> Can:
        """The can after it."""
        return can

    def words(self, facts: CanFacts, solvents: Names) -> str:
        """It in words, of solvents by their names."""
        raise NotImplementedError


class OffPaint(Document):
    """Paint that was washed off, and how much: of a tube or jar, of a batch, or of a lot or entry of the library."""

    item_id: RowId | None = None
    batch_number: RowId | None = None
    source: Source | None = None
    much: Much = Much.BRUSHFUL


class WashingIn(CanAct):
    """Brushes were washed: what was on them, or `unlogged` where nobody knows."""

    kind: Literal["washing"]
    paints: Annotated[list[OffPaint], Field(max_length=12)] = []
    unlogged: Much | None = None

    def fold(self, can: Can, facts: CanFacts) -> Can:
        makeup = beside(added(can.makeup, facts.washed, facts.unknown, facts.sources), dict(facts.beside))
        weight = sum(one.weight for one in facts.washed) + facts.unknown
        return replace(
            stirred(can, self.made_at),
            makeup=makeup,
            washings=can.washings + 1,
            weekly=counted(can.weekly, week_of(self.made_at.date()), weight, WEEKS_KEPT),
            unlogged=can.unlogged + bool(facts.unknown),
        )

    def words(self, facts: CanFacts, solvents: Names) -> str:
        amounts = [paint.much for paint in self.paints] + ([self.unlogged] if self.unlogged else [])
        return "washed: " + "; ".join(f"{name}, {MUCH[much]}" for name, much in zip(facts.names, amounts, strict=True))


class SolventIn(CanAct):
    """Solvent goes in. `anyway` where it is another than the can's own, and they are mixed with open eyes."""

    kind: Literal["solvent_in"]
    ml: Annotated[Millilitres, Asked("How much", "ml", "how many ml went in", large=True)]
    solvent_key: Annotated[Key, Asked("Solvent", drawn=Drawn.PICK)]
    origin: Annotated[Origin, Asked("Where it is from", choices=FROM)] = Origin.BOUGHT
    anyway: Annotated[bool, Field(strict=True)] = False

    def fold(self, can: Can, facts: CanFacts) -> Can:
        there = can.liquids.get(self.solvent_key)
        liquid = Liquid((there.ml if there else 0.0) + self.ml, facts.density_g_per_ml)
        filled = replace(stirred(can, self.made_at), liquids={**can.liquids, self.solvent_key: liquid}, level_mm=None)
        if self.origin is Origin.BOUGHT:
            return replace(filled, bought_ml=can.bought_ml + self.ml)
        monthly = counted(can.monthly, self.made_at.strftime("%Y-%m"), self.ml, MONTHS_KEPT)
        return replace(filled, recovered_ml=can.recovered_ml + self.ml, monthly=monthly)

    def words(self, facts: CanFacts, solvents: Names) -> str:
        how = "bought" if self.origin is Origin.BOUGHT else "used again"
        return f"{self.ml:g} ml {solvents.get(self.solvent_key, self.solvent_key).lower()} in, {how}"


class SludgeFound(CanAct):
    """Old sludge that nobody logged lay in it already, settled, with so much solvent."""

    kind: Literal["found"]
    sludge_ml: Annotated[
        Millilitres,
        Asked(
            "Sludge at the bottom, about",
            "ml",
            "how many ml of sludge",
            large=True,
            detail="How much of the can it fills",
        ),
    ]
    liquid_ml: Annotated[float, Field(strict=True, ge=0, le=MAX_VOLUME_ML)] = 0.0
    solvent_key: Key | None = None

    def fold(self, can: Can, facts: CanFacts) -> Can:
        makeup = added(can.makeup, (), facts.unknown, ())
        there = replace(stirred(can, self.made_at), makeup=makeup, unlogged=can.unlogged + 1)
        if not self.liquid_ml or self.solvent_key is None:
            return there
        return surplus(there, self.solvent_key, self.liquid_ml, facts.density_g_per_ml)

    def words(self, facts: CanFacts, solvents: Names) -> str:
        dry = OLD_SLUDGE_G_PER_ML * self.sludge_ml
        return f"about {self.sludge_ml:.0f} ml of old sludge in it, nobody knows what; some {dry:.0f} g dry"


class PourOff(CanAct):
    """Clear solvent is poured off: by ml, or weighed. `anyway` where more than was logged had been in it before."""

    kind: Literal["pour_off"]
    ml: Annotated[
        Millilitres | None, Asked("How much", "ml", "how much was poured off", large=True, or_by=("g", "g"))
    ] = None
    g: Grams | None = None
    anyway: Annotated[bool, Field(strict=True)] = False

    def fold(self, can: Can, facts: CanFacts) -> Can:
        ml = facts.ml if facts.ml is not None else self.ml or 0.0
        if ml > can.held_ml and facts.beyond:
            can = surplus(can, facts.beyond, ml - can.held_ml, facts.density_g_per_ml)
        return replace(less(can, ml), poured_off_ml=can.poured_off_ml + ml, clear_mm=None, level_mm=None)

    def words(self, facts: CanFacts, solvents: Names) -> str:
        return f"{facts.ml:.0f} ml poured off clear"


class SludgeOut(CanAct):
    """Sludge is taken out and thrown away: what share of it, its wet weight, and whether the can was wiped clean."""

    kind: Literal["sludge_out"]
    share: Annotated[Share, Asked("How much of it", choices=SHARES)] = 1.0
    g: Annotated[Grams | None, Asked("Wet, if weighed", "g", large=True)] = None
    wiped: Annotated[bool, Field(strict=True)] = False

    def fold(self, can: Can, facts: CanFacts) -> Can:
        return emptied(can, self.made_at, self.share, self.g or 0.0, facts.g_per_weight, wiped=self.wiped)

    def words(self, facts: CanFacts, solvents: Names) -> str:
        wet = f", {self.g:g} g wet" if self.g else ""
        into = f" into dish {facts.dish}" if facts.dish is not None else ", kept for disposal"
        return f"{share_words(self.share)} taken out{wet}{into}" + ("; the can wiped clean" if self.wiped else "")


class HeightRead(CanAct):
    """How far the can has cleared: mm of clear liquid, and mm of everything."""

    kind: Literal["height"]
    clear_mm: Annotated[Millimetres, Asked("Clear above", "mm", "both heights in mm", large=True)]
    total_mm: Annotated[
        float, Field(strict=True, ge=1, le=2_000), Asked("All of it", "mm", "both heights in mm", large=True)
    ]

    def fold(self, can: Can, facts: CanFacts) -> Can:
        since = self.made_at - can.stirred_at if can.stirred_at else timedelta(0)
        height = Height(max(0.0, since.total_seconds() / 3600), self.clear_mm, self.total_mm)
        heights = (*can.heights, height)[-HEIGHTS_KEPT:]
        return replace(can, heights=heights, level_mm=self.total_mm, clear_mm=self.clear_mm)

    def words(self, facts: CanFacts, solvents: Names) -> str:
        return f"clear down to {self.clear_mm:g} of {self.total_mm:g} mm"


class CanWeighed(CanAct):
    """The can on the balance, with what is in it."""

    kind: Literal["weighed"]
    g: Annotated[
        Grams,
        Asked("With all in it, no lid", "g", "what the can weighs with all in it, in g", large=True, live=Live.BALANCE),
    ]

    def fold(self, can: Can, facts: CanFacts) -> Can:
        return weighed(can, facts.net_g, facts.g_per_weight)

    def words(self, facts: CanFacts, solvents: Names) -> str:
        return f"can weighed: {facts.net_g:.0f} g in it"


class CanNote(Note, CanAct):
    """A few words."""


class CanClosed(CanAct):
    """The can is out of use."""

    kind: Literal["close"]

    def fold(self, can: Can, facts: CanFacts) -> Can:
        return replace(can, status=Status.FINISHED)

    def words(self, facts: CanFacts, solvents: Names) -> str:
        return "out of use"


class CanStrike(Undo, CanAct):
    """An earlier act is undone."""


AnyCanAct = Annotated[
    WashingIn
    | SolventIn
    | SludgeFound
    | PourOff
    | SludgeOut
    | HeightRead
    | CanWeighed
    | CanNote
    | CanClosed
    | CanStrike,
    Field(discriminator="kind"),
]
"""One act on a can."""

CanLogged = Logged[CanAct, CanFacts]


def after(can: Can, logged: CanLogged) -> Can:
    """A can after one more act that counts."""
    return logged.act.fold(can, logged.facts)


def fold(acts: Iterable[CanLogged]) -> Can:
    """A can from its whole log."""
    return log.fold(acts, Can(), after)


def share_words(share: float) -> str:
    """A share of the sludge in words."""
    if share >= 0.999:
        return "all sludge"
    return "half of the sludge" if abs(share - 0.5) < 0.01 else f"{100 * share:.0f} in 100 of the sludge"
