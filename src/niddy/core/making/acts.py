"""Acts in a run: what each takes, and what it does to the run."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import replace
from datetime import datetime
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from niddy.core import log
from niddy.core.acting import AmountAsked, Logged, Note, Picture, Undo
from niddy.core.amounts import Grams
from niddy.core.asked import Asked, Drawn, Live
from niddy.core.documents import Document, RowId
from niddy.core.log import Status
from niddy.core.making.run import At, Run, at_rest, in_order, step_done
from niddy.core.making.run_act import RunAct, RunActFacts, Short, StepKey, Steps, noted
from niddy.core.making.sieving import Fraction, sieve
from niddy.core.making.trying import (
    Displaced,
    DyeInMedium,
    LightHung,
    LightJudged,
    LightLooked,
    PinchTried,
    PowderToStock,
    SpotTried,
    StrengthSeen,
)
from niddy.core.making.wasting import WasteHandedOver, WasteOut
from niddy.core.timers import Timer, started, stopped

Acidity = Annotated[float, Field(strict=True, ge=0, le=14)]
Celsius = Annotated[float, Field(strict=True, ge=-20, le=1_400)]
Colour = Annotated[str, Field(pattern="^#[0-9a-fA-F]{6}$")]
Tare = Annotated[float, Field(strict=True, ge=0, le=20_000)]


class RunReady(RunAct):
    """Goggles on, data sheets read."""

    kind: Literal["ready"]

    def fold(self, run: Run, facts: RunActFacts) -> Run:
        return replace(run, ready=True)

    def words(self, facts: RunActFacts, steps: Steps) -> str:
        return "goggles and gloves on, data sheets read"


class WeighedIn(RunAct):
    """An ingredient went in: by weight or spoon, of which lot where another than planned; `step` where not the next."""

    kind: Literal["added"]
    ingredient: StepKey
    measure: Annotated[AmountAsked, Asked("How much", "g", "how much went in", large=True, live=Live.BALANCE)]
    lot_id: Annotated[RowId | None, Asked("Of which lot", drawn=Drawn.PICK)] = None
    step: StepKey = ""

    def fold(self, run: Run, facts: RunActFacts) -> Run:
        return replace(run, added={**run.added, self.ingredient: run.added.get(self.ingredient, 0.0) + facts.counted_g})

    def words(self, facts: RunActFacts, steps: Steps) -> str:
        return _added(self.measure, facts)


class PhRead(RunAct):
    """A strip or meter was read."""

    kind: Literal["ph"]
    ph: Annotated[
        Acidity,
        Asked("pH, by strip or meter", "", "the pH, 0 to 14", large=True, live=Live.PH_METER, detail="By strip"),
    ]

    def fold(self, run: Run, facts: RunActFacts) -> Run:
        return replace(run, ph=in_order(run.ph, At(self.made_at, self.ph)))

    def words(self, facts: RunActFacts, steps: Steps) -> str:
        return f"pH {self.ph:g}"


class WarmthRead(RunAct):
    """A thermometer was read."""

    kind: Literal["temperature"]
    temperature_c: Annotated[Celsius, Asked("Temperature", "°C", "degrees", large=True, live=Live.THERMOMETER)]

    def fold(self, run: Run, facts: RunActFacts) -> Run:
        return replace(run, temperatures=in_order(run.temperatures, At(self.made_at, self.temperature_c)))

    def words(self, facts: RunActFacts, steps: Steps) -> str:
        return f"{self.temperature_c:g} °C"


class HoldBegun(RunAct):
    """The time of a step runs."""

    kind: Literal["hold"]
    step: StepKey

    def fold(self, run: Run, facts: RunActFacts) -> Run:
        return _turned(run, self.step, started, self.made_at)

    def words(self, facts: RunActFacts, steps: Steps) -> str:
        return f"{_step(self.step, steps)}: the time runs"


class HoldRested(RunAct):
    """The time of a step rests."""

    kind: Literal["rest"]
    step: StepKey

    def fold(self, run: Run, facts: RunActFacts) -> Run:
        return _turned(run, self.step, stopped, self.made_at)

    def words(self, facts: RunActFacts, steps: Steps) -> str:
        return f"{_step(self.step, steps)}: the time rests"


class WashDone(RunAct):
    """One wash with so much water, stirred, settled, poured off."""

    kind: Literal["washed"]
    ml: Annotated[
        float, Field(strict=True, ge=0, le=100_000), Asked("Water", "ml", "the ml of one wash, above 0", large=True)
    ]
    step: StepKey = ""

    def fold(self, run: Run, facts: RunActFacts) -> Run:
        return replace(run, washes=(*run.washes, self.ml), washed_at=(*run.washed_at, facts.step or self.step))

    def words(self, facts: RunActFacts, steps: Steps) -> str:
        return f"washed with {self.ml:g} ml"


class PlateWeighed(RunAct):
    """What dries, on the balance with its plate. `anyway` where it is heavier than before."""

    kind: Literal["weighed"]
    g: Annotated[
        Grams, Asked("With its plate", "g", "what it weighs with its plate, in g", large=True, live=Live.BALANCE)
    ]
    tare_g: Annotated[Tare, Asked("Plate alone", "g")] = 0.0
    anyway: Annotated[bool, Field(strict=True)] = False
    step: StepKey = ""

    def fold(self, run: Run, facts: RunActFacts) -> Run:
        return replace(run, weighed=in_order(run.weighed, At(self.made_at, facts.g or 0.0, facts.step or self.step)))

    def words(self, facts: RunActFacts, steps: Steps) -> str:
        return f"{facts.g:.1f} g on the plate"


class HeatedBy(RunAct):
    """It was heated: its weight before and after."""

    kind: Literal["heated"]
    before_g: Annotated[Grams, Asked("Before", "g", "both weights, in g", large=True)]
    g: Annotated[Grams, Asked("After", "g", "both weights, in g", large=True, live=Live.BALANCE)]
    step: StepKey = ""

    def fold(self, run: Run, facts: RunActFacts) -> Run:
        return replace(run, heated=(self.before_g, self.g))

    def words(self, facts: RunActFacts, steps: Steps) -> str:
        return f"heated: {self.before_g:g} g before, {self.g:g} g after"


class OnSieve(Document):
    """What one sieve held back."""

    aperture_um: Annotated[float, Field(strict=True, ge=5, le=5_000)]
    retained_g: Annotated[float, Field(strict=True, ge=0, le=20_000)]


class StackSieved(RunAct):
    """A stack of sieves from the coarsest down, what each held back, what lay in the pan, what went in."""

    kind: Literal["sieved"]
    fractions: Annotated[list[OnSieve], Field(max_length=15)]
    pan_g: Annotated[float, Field(strict=True, ge=0, le=20_000)]
    charge_g: Grams | None = None
    step: StepKey = ""

    @property
    def held_back(self) -> tuple[Fraction, ...]:
        """What each sieve held back, as the core reads it."""
        return tuple(Fraction(one.aperture_um, one.retained_g) for one in self.fractions)

    def fold(self, run: Run, facts: RunActFacts) -> Run:
        return replace(run, sieved=sieve(self.held_back, self.pan_g, self.charge_g))

    def words(self, facts: RunActFacts, steps: Steps) -> str:
        return _sieved(self.held_back, self.pan_g)


class StepDone(RunAct):
    """A step is done; `why` where one before it is not."""

    kind: Literal["done"]
    step: StepKey
    why: Annotated[Short, Asked("Why? (only if skipped or out of order)")] = ""

    def fold(self, run: Run, facts: RunActFacts) -> Run:
        return step_done(run, facts.step or self.step, self.made_at, self.why)

    def words(self, facts: RunActFacts, steps: Steps) -> str:
        return f"{_step(self.step, steps)}: done{_because(self.why)}"


class StepSkipped(RunAct):
    """A step is left out, and why."""

    kind: Literal["skip"]
    step: StepKey
    why: Short = ""

    def fold(self, run: Run, facts: RunActFacts) -> Run:
        return replace(run, skipped={**run.skipped, facts.step or self.step: self.why})

    def words(self, facts: RunActFacts, steps: Steps) -> str:
        return f"{_step(self.step, steps)}: left out{_because(self.why)}"


class ColourSeen(RunAct):
    """A colour as it looked then."""

    kind: Literal["colour"]
    srgb: Annotated[Colour, Asked("Colour", drawn=Drawn.COLOUR)]
    text: Annotated[Short, Asked("In words")] = ""
    afterwards: ClassVar[bool] = True

    def words(self, facts: RunActFacts, steps: Steps) -> str:
        return f"looks so{noted(self.text)}"


class RunFinished(RunAct):
    """All of it is dry: what there is, in g, or measured in spoons. `anyway` where it is more than there can be."""

    kind: Literal["finish"]
    g: Annotated[Grams | None, Asked("Without its dish", "g", "what there is, in g", large=True, live=Live.BALANCE)] = (
        None
    )
    measure: Annotated[AmountAsked | None, Asked("What there is", "g", "g, or level spoons of it", large=True)] = None
    anyway: Annotated[bool, Field(strict=True)] = False

    def fold(self, run: Run, facts: RunActFacts) -> Run:
        return replace(at_rest(run, self.made_at), status=Status.FINISHED, yield_g=self.g or facts.g)

    def words(self, facts: RunActFacts, steps: Steps) -> str:
        return f"{facts.said}, about {facts.g:.0f} g in all" if facts.said else f"{self.g or facts.g:g} g in all"


class RunGivenUp(RunAct):
    """It is given up, and why."""

    kind: Literal["abandon"]
    text: Annotated[Short, Asked("Why")] = ""

    def fold(self, run: Run, facts: RunActFacts) -> Run:
        return replace(at_rest(run, self.made_at), status=Status.ABANDONED)

    def words(self, facts: RunActFacts, steps: Steps) -> str:
        return f"given up{noted(self.text)}"


class RunPicture(Picture, RunAct):
    """A picture was taken; it comes by its own address."""

    def words(self, *_: object) -> str:
        return f"picture{noted(self.text or '')}"


class RunNote(Note, RunAct):
    """A few words."""


class RunStrike(Undo, RunAct):
    """An earlier act is undone."""

    afterwards: ClassVar[bool] = True


AnyRunAct = Annotated[
    RunReady
    | WeighedIn
    | PhRead
    | WarmthRead
    | HoldBegun
    | HoldRested
    | WashDone
    | PlateWeighed
    | HeatedBy
    | StackSieved
    | StepDone
    | StepSkipped
    | WasteOut
    | WasteHandedOver
    | RunPicture
    | ColourSeen
    | RunNote
    | RunFinished
    | RunGivenUp
    | PinchTried
    | StrengthSeen
    | SpotTried
    | DyeInMedium
    | LightHung
    | LightLooked
    | LightJudged
    | Displaced
    | PowderToStock
    | RunStrike,
    Field(discriminator="kind"),
]
"""One act in a run."""

RunLogged = Logged[RunAct, RunActFacts]


def after(run: Run, logged: RunLogged) -> Run:
    """The run after one more act that counts; one that completes its step ends that too."""
    act, facts = logged.act, logged.facts
    run = act.fold(run, facts)
    return step_done(run, facts.step, act.made_at) if facts.completes else run


def fold(acts: Iterable[RunLogged]) -> Run:
    """A run from its whole log."""
    return log.fold(acts, Run(), after)


def words_of(logged: RunLogged, steps: Steps) -> str:
    """An act in words, with the step that was done with it."""
    said = logged.act.words(logged.facts, steps)
    return f"{said}; {steps.get(logged.facts.step, 'the step')}: done" if logged.facts.completes else said


def _turned(run: Run, step: str, turn: Callable[[Timer, datetime], Timer], at: datetime) -> Run:
    return replace(run, holds={**run.holds, step: turn(run.holds.get(step, Timer()), at)})


def _step(key: str, steps: Steps) -> str:
    return steps.get(key, "a step")


def _because(why: str) -> str:
    return f", because {why}" if why else ""


def _added(asked: AmountAsked, facts: RunActFacts) -> str:
    of = f" of lot {facts.lot_code}" if facts.lot_code else ""
    if facts.g == 0:
        return f"some {facts.name}{of} in"
    said = facts.said or asked.said({})
    if not said:
        return f"{facts.g:.2f} g {facts.name}{of} in"
    return f"{said} of {facts.name}{of} in, about {facts.g:.0f} g"


def _sieved(fractions: Iterable[Fraction], pan_g: float) -> str:
    on = ", ".join(f"{one.retained_g:g} g on {one.aperture_um:g} µm" for one in fractions)
    return f"sieved: {on}, {pan_g:g} g in the pan"
