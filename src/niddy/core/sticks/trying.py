"""Acts on the sticks that came of a pot: flaws, trials, drying, the verdict."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from niddy.core.asked import Asked, Drawn
from niddy.core.errors import Refused
from niddy.core.sticks.flaws import FLAW_WORDS, Flaw
from niddy.core.sticks.folding import Pot
from niddy.core.sticks.pot_act import Names, PotAct, PotFacts
from niddy.core.sticks.trials import DRY, DRYING, WET, Question, SticksVerdict, check_seen
from niddy.core.words import Words

_Short = Annotated[Words, Field(max_length=20)]
Seen = Annotated[dict[_Short, _Short], Field(max_length=8)]


class FlawSeen(PotAct):
    """Something is wrong with the sticks."""

    kind: Literal["flaw"]
    flaw: Annotated[Flaw, Asked("What is wrong with them", drawn=Drawn.AT_ONCE)]
    afterwards: ClassVar[bool] = True

    def fold(self, pot: Pot, facts: PotFacts) -> Pot:
        return replace(pot, flaws=pot.flaws | {self.flaw})

    def words(self, facts: PotFacts, names: Names) -> str:
        return FLAW_WORDS[self.flaw][0]


class _Trial(PotAct):
    """A stick was tried: what was seen, question by question."""

    seen: Seen
    afterwards: ClassVar[bool] = True
    questions: ClassVar[tuple[Question, ...]] = DRY

    @property
    def how(self) -> str:
        """How it was tried."""
        return "dry"

    def check(self, pot: Pot) -> None:
        check_seen(self.questions, self.seen)
        if not self.seen:
            raise Refused("seen", "nothing was answered", "at least one answer")

    def fold(self, pot: Pot, facts: PotFacts) -> Pot:
        return replace(pot, trials={**pot.trials, self.how: dict(self.seen)})

    def words(self, facts: PotFacts, names: Names) -> str:
        how = {"solvent": "with solvent", "blender": "with the blending stick"}.get(self.how, self.how)
        answers = (
            f"{question.says.lower()}: {choice.says}"
            for question in self.questions
            for choice in question.choices
            if self.seen.get(question.key) == choice.key
        )
        return f"{how}; " + "; ".join(answers)


class DryTrial(_Trial):
    """A stick was drawn with, dry."""

    kind: Literal["dry_trial"]


class WetTrial(_Trial):
    """A stick was worked with solvent and brush, or with the blending stick."""

    kind: Literal["wet_trial"]
    tool: Literal["solvent", "blender"]
    questions: ClassVar[tuple[Question, ...]] = WET

    @property
    def how(self) -> str:
        return self.tool


class Dried(PotAct):
    """A skin overnight, dry to the touch, or hard through: from this day."""

    kind: Literal["dried"]
    what: Literal["skin", "touch", "through"]
    afterwards: ClassVar[bool] = True

    def fold(self, pot: Pot, facts: PotFacts) -> Pot:
        return replace(pot, dried={**pot.dried, self.what: self.made_at})

    def words(self, facts: PotFacts, names: Names) -> str:
        return DRYING[self.what]


class VerdictSaid(PotAct):
    """What the maker says of the sticks, whatever the trials add up to."""

    kind: Literal["verdict"]
    verdict: SticksVerdict
    afterwards: ClassVar[bool] = True

    def fold(self, pot: Pot, facts: PotFacts) -> Pot:
        return replace(pot, verdict=self.verdict)

    def words(self, facts: PotFacts, names: Names) -> str:
        said = "it crumbles" if self.verdict is SticksVerdict.CRUMBLES else self.verdict.replace("_", " ")
        return f"verdict: {said}"
