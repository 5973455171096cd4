"""Acts on a dish of sludge: what each takes, and what it does to the dish."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from niddy.core import log
from niddy.core.acting import Act, AmountAsked, Logged, Note, Text, Undo
from niddy.core.amounts import Grams
from niddy.core.asked import Asked, Live, Option
from niddy.core.errors import Refused
from niddy.core.log import Status
from niddy.core.sludge.dish import Dish, on_the_balance
from niddy.core.sludge.drydown import RISE
from niddy.core.sludge.signs import PAPER_WORDS, SMELL_WORDS, Judged, PaperSign, SolventSmell
from niddy.core.words import Words

Code = Annotated[Words, Field(max_length=40)]
ON_THE_BALANCE = Asked(
    "Dish and sludge", "g", "what the dish weighs with the sludge in it, in g", large=True, live=Live.BALANCE
)
SMELLS = (
    Option(SolventSmell.SOLVENT.value, "solvent"),
    Option(SolventSmell.FAINT.value, "a little"),
    Option(SolventSmell.NONE.value, "nothing"),
)
PAPERS = (
    Option(PaperSign.WET.value, "wet"),
    Option(PaperSign.PRINT.value, "a print"),
    Option(PaperSign.DRY.value, "stays dry"),
)
MESHES = (
    Option(None, "by hand only"),
    Option(250.0, "kitchen sieve, 250 µm"),
    Option(150.0, "fine sieve, 150 µm"),
    Option(60.0, "stocking, 60 µm"),
)
Mesh = Annotated[float, Field(strict=True, ge=5, le=5_000)]


@dataclass(frozen=True, slots=True)
class DishFacts:
    """What the record adds to an act: g of a measure, the lot a cake became, what of it is still liquid or dry."""

    g: float | None = None
    lot_id: int | None = None
    liquid_share: float = 0.0
    dry_g: float | None = None


class DishAct(Act):
    """What every act on a dish is: it may be refused, it changes the dish, and its log tells it in words."""

    def check(self, dish: Dish) -> None:
        """Refuse what cannot be in this dish. Raises Refused."""

    def fold(self, dish: Dish, facts: DishFacts) -> Dish:
        """The dish after it."""
        return dish

    def words(self, facts: DishFacts, tare_g: float) -> str:
        """It in words."""
        raise NotImplementedError


def _above_the_empty_dish(dish: Dish, g: float | None) -> None:
    if g is not None and g <= dish.tare_g:
        raise Refused("g", f"no more than the empty dish's {dish.tare_g:g} g", f"above {dish.tare_g:g} g")


class DishWeighed(DishAct):
    """The dish on the balance. `anyway` where it is heavier than before and nothing was added."""

    kind: Literal["weigh"]
    g: Annotated[Grams, ON_THE_BALANCE]
    anyway: Annotated[bool, Field(strict=True)] = False

    def check(self, dish: Dish) -> None:
        _above_the_empty_dish(dish, self.g)
        if not dish.weighed or self.anyway:
            return
        last, now_g = dish.weighed[-1].g, self.g - dish.tare_g
        if now_g > last * (1 + RISE) + 0.1:
            raise Refused(
                "anyway",
                f"{now_g:.1f} g of sludge, and {last:.1f} g the time before: was something added?",
                "a weight below the last one; or say that something was added",
            )

    def fold(self, dish: Dish, facts: DishFacts) -> Dish:
        return on_the_balance(dish, self.made_at, self.g)

    def words(self, facts: DishFacts, tare_g: float) -> str:
        return f"{self.g - tare_g:.1f} g of sludge"


class DishAdded(DishAct):
    """More sludge went into the dish; it now weighs so much."""

    kind: Literal["added"]
    g: Annotated[Grams, ON_THE_BALANCE]

    def check(self, dish: Dish) -> None:
        _above_the_empty_dish(dish, self.g)

    def fold(self, dish: Dish, facts: DishFacts) -> Dish:
        return on_the_balance(replace(dish, weighed=(), judged=None, added=dish.added + 1), self.made_at, self.g)

    def words(self, facts: DishFacts, tare_g: float) -> str:
        return f"more sludge in: now {self.g - tare_g:.1f} g"


class Squeezed(DishAct):
    """It was pressed in paper; it now weighs so much, the paper left out."""

    kind: Literal["squeezed"]
    g: Annotated[Grams | None, ON_THE_BALANCE] = None

    def check(self, dish: Dish) -> None:
        _above_the_empty_dish(dish, self.g)

    def fold(self, dish: Dish, facts: DishFacts) -> Dish:
        pressed = replace(dish, weighed=(), judged=None, squeezed_at=self.made_at)
        return on_the_balance(pressed, self.made_at, self.g) if self.g is not None else pressed

    def words(self, facts: DishFacts, tare_g: float) -> str:
        return "squeezed in paper" + (f": now {self.g - tare_g:.1f} g" if self.g else "")


class DryBySigns(DishAct):
    """How dry it is without a balance: its smell, paper pressed on it, and whether it crumbles."""

    kind: Literal["judged"]
    smell: Annotated[SolventSmell, Asked("What does it smell of?", choices=SMELLS)]
    paper: Annotated[PaperSign, Asked("Clean paper, pressed on for ten seconds", choices=PAPERS)]
    crumbles: Annotated[bool, Field(strict=True), Asked("It crumbles under the knife")] = False

    def fold(self, dish: Dish, facts: DishFacts) -> Dish:
        if dish.judged is not None and dish.judged.at > self.made_at:
            return dish
        return replace(dish, judged=Judged(self.made_at, self.smell, self.paper, self.crumbles))

    def words(self, facts: DishFacts, tare_g: float) -> str:
        knife = ", crumbles" if self.crumbles else ""
        return f"{SMELL_WORDS[self.smell]}, {PAPER_WORDS[self.paper]}{knife}"


class Strained(DishAct):
    """It went through a mesh, and the hairs are out."""

    kind: Literal["strained"]
    mesh_um: Annotated[Mesh | None, Asked("Mesh", choices=MESHES)] = None
    hairs: Annotated[bool, Field(strict=True), Asked("Hairs picked out")] = True

    def check(self, dish: Dish) -> None:
        if self.mesh_um is None and not self.hairs:
            raise Refused("mesh_um", "missing", "the mesh in micrometres, or that hairs were picked out")

    def fold(self, dish: Dish, facts: DishFacts) -> Dish:
        return replace(dish, strained_um=self.mesh_um or dish.strained_um, hairs_out=dish.hairs_out or self.hairs)

    def words(self, facts: DishFacts, tare_g: float) -> str:
        mesh = f"through a mesh of {self.mesh_um:g} µm" if self.mesh_um else ""
        return ", ".join(part for part in (mesh, "hairs picked out" if self.hairs else "") if part)


class DishNote(Note, DishAct):
    """A few words."""

    afterwards: ClassVar[bool] = False


class ToStock(DishAct):
    """It becomes a lot of pigment: so much of it as it is, in g or as it was measured.

    `anyway` after the question whether it should be paint at all.

    `wet` where it goes in before it is dry: what is still liquid in it is reckoned.
    """

    kind: Literal["to_stock"]
    measure: Annotated[
        AmountAsked | None, Asked("How much, as it is", "g", "how much goes into stock, in g or spoons", large=True)
    ] = None
    g: Grams | None = None
    code: Annotated[Code, Asked("Code on its jar", accepted="a few letters", large=True)]
    wet: Annotated[
        bool,
        Field(strict=True),
        Asked(
            "It is still wet: the liquid in it counts as liquid at the slab",
            detail="leave the paint open until the smell is gone, then tube it",
        ),
    ] = False
    anyway: Annotated[bool, Field(strict=True)] = False

    def check(self, dish: Dish) -> None:
        if (self.g is None) == (self.measure is None):
            raise Refused("measure", "missing", "how much goes into stock, in g or in spoons")

    def fold(self, dish: Dish, facts: DishFacts) -> Dish:
        return replace(dish, status=Status.FINISHED, ended_g=self.g if self.g is not None else facts.g)

    def words(self, facts: DishFacts, tare_g: float) -> str:
        g = self.g if self.g is not None else facts.g or 0.0
        return f"{g:.4g} g into stock as {self.code}" + (", still wet" if facts.liquid_share else "")


class Thrown(DishAct):
    """It is kept for licensed disposal instead."""

    kind: Literal["throw"]
    text: Annotated[Text, Asked("Where it is kept, or why")] = ""

    def fold(self, dish: Dish, facts: DishFacts) -> Dish:
        return replace(dish, status=Status.FINISHED)

    def words(self, facts: DishFacts, tare_g: float) -> str:
        return "kept for licensed disposal" + (f": {self.text}" if self.text else "")


class DishStrike(Undo, DishAct):
    """An earlier act is undone."""


AnyDishAct = Annotated[
    DishWeighed | DishAdded | Squeezed | DryBySigns | Strained | DishNote | ToStock | Thrown | DishStrike,
    Field(discriminator="kind"),
]
"""One act on a dish."""

DishLogged = Logged[DishAct, DishFacts]


def check_act(dish: Dish, act: DishAct) -> None:
    """Refuse an act that cannot be in this dish. Raises Refused."""
    if dish.status is not Status.OPEN:
        raise Refused("kind", "the dish is done with", "undoing what ended it first")
    act.check(dish)


def check_undo(dish: Dish, act: DishAct) -> None:
    """Refuse the undoing of an act that other things stand on. Raises Refused."""
    if isinstance(act, ToStock):
        raise Refused("strikes", "it is a lot in stock", "putting the lot right, in Materials")
    if dish.status is not Status.OPEN and not isinstance(act, Thrown | DishStrike):
        raise Refused("strikes", "the dish is done with", "undoing what ended it first")


def after(dish: Dish, logged: DishLogged) -> Dish:
    """A dish after one more act that counts."""
    return logged.act.fold(dish, logged.facts)


def fold(acts: Iterable[DishLogged], tare_g: float = 0.0) -> Dish:
    """A dish from its whole log."""
    return log.fold(acts, Dish(tare_g=tare_g), after)
