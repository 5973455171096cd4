"""What is on the slab now."""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from datetime import date
from uuid import UUID

from niddy.core.additives import InPaste
from niddy.core.estimate import Z90
from niddy.core.log import Status
from niddy.core.measures import SPOON_SPREAD, Family
from niddy.core.mulling import Mulling
from niddy.core.slab.acts import Grit, Question, SessionPhase, Stage, Verdict, Way
from niddy.core.wetting import Body

ANOTHER_SPOON_SD_LN = math.log1p(SPOON_SPREAD) / Z90
"""How far one spoon may be from another, as sd of its logarithm."""


@dataclass(frozen=True, slots=True)
class Added:
    """An additive that is in the paste: what it is, its own grams (a gel's oil counts as oil), how long it keeps."""

    what: InPaste
    grams: float
    use_by: date | None = None


@dataclass(frozen=True, slots=True)
class Worked:
    """Some of the powder: its share of all that is in, and the minutes it had been worked when somebody looked."""

    share: float
    minutes: float


@dataclass(frozen=True, slots=True)
class Look:
    """A look that counts: what the eye saw, and the ratio it saw it at.

    The ratio is None without powder, and while `taps` by eye wait for the bottle to be weighed; then
    `pigment_g` and `oil_g` are what was known to be in. `worked` is how long the powder had been worked, nothing where
    nobody kept time or it was dispersed, `settled_min` how long the last addition,
    and `worked_s` how long all of it. Set `aside` it no
    longer counts; `answered` it counts, and is not asked about again.
    """

    stage: Stage
    body: Body | None
    oil_g_per_100g: float | None
    worked: tuple[Worked, ...] = ()
    settled_min: float | None = None
    worked_s: float | None = None
    taps: int = 0
    pigment_g: float = 0.0
    oil_g: float = 0.0
    additives: tuple[Added, ...] = ()
    grit: Grit | None = None
    aside: bool = False
    answered: bool = False


@dataclass(frozen=True, slots=True)
class Spread:
    """A bottle weighed after taps by eye: grams in all, spread over so many taps, and a tap's 90 % half-width."""

    grams: float
    taps: int
    half_width_g: float


@dataclass(frozen=True, slots=True)
class ByEye:
    """Oil poured by eye: the bottle's last weight in g, the taps since, and what earlier weighings came to.

    `used_g` is all oil that bottle weighings and guesses say went in; `weighings` holds the spread by their id.
    `reckoned_g` is what a finish took to be in for the taps that nobody told, from the body that was seen.
    """

    bottle_g: float | None = None
    source: str = ""
    taps: int = 0
    used_g: float = 0.0
    reckoned_g: float = 0.0
    weighings: dict[UUID, Spread] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class Charge:
    """Powder that went in at one time, in g, and the seconds the paste had been worked by then.

    None: it is dispersed, as the gauge or a silent muller says.
    """

    grams: float
    at_s: float | None


@dataclass(frozen=True, slots=True)
class Poured:
    """One pour as it was made: its act, and its g; None while nobody knows what a pour by eye came to."""

    act: UUID
    grams: float | None


@dataclass(frozen=True, slots=True)
class Paste:
    """What is on the slab now. Masses in g by source (a lot, or the library).

    `powder_spreads` and `oil_spreads` are sums of g x sd of ln mass by what was measured with what: one spoon of
    one lot errs alike in all its acts, different measures independently. `widened_sd_ln` is what the maker's eye is
    believed beyond that. `stabiliser` is what a way back chosen stirs in, `way_g` what it has still to add, by
    source. `charges` is the powder by when it went in, `pours` the oil as it was poured, `asked` what is asked
    about entries and not answered yet, `powder_acts` the last entry of each powder; `cleaned` says that the slab
    was cleaned of it.
    """

    pigments: dict[str, float] = field(default_factory=dict)
    oils: dict[str, float] = field(default_factory=dict)
    poured_g: float = 0.0
    powder_spreads: dict[str, float] = field(default_factory=dict)
    oil_spreads: dict[str, float] = field(default_factory=dict)
    widened_sd_ln: float = 0.0
    sampled_g: float = 0.0
    drawn_g: float = 0.0
    looks: tuple[Look, ...] = ()
    swings: int = 0
    corrective: tuple[str, ...] = ()
    way: Way | None = None
    stabiliser: InPaste | None = None
    way_g: dict[str, float] = field(default_factory=dict)
    charges: tuple[Charge, ...] = ()
    pours: tuple[Poured, ...] = ()
    asked: tuple[Question, ...] = ()
    powder_acts: dict[str, UUID] = field(default_factory=dict)
    cleaned: bool = False
    target_reduced_pvc: float | None = None
    status: Status = Status.OPEN
    verdict: Verdict | None = None
    struck: frozenset[UUID] = frozenset()
    ready: bool = False
    phase: SessionPhase | None = None
    mulling: Mulling = field(default_factory=Mulling)
    by_eye: ByEye = field(default_factory=ByEye)
    additives: dict[str, Added] = field(default_factory=dict)
    left_out: frozenset[str] = frozenset()

    @property
    def pigment_g(self) -> float:
        return sum(self.pigments.values())

    @property
    def oil_g(self) -> float:
        return sum(self.oils.values())

    @property
    def powder_sd_ln(self) -> float:
        """Sd of the logarithm of the powder's mass, from how it was measured."""
        return math.hypot(*self.powder_spreads.values()) / self.pigment_g if self.pigment_g > 0 else 0.0

    @property
    def powder_by(self) -> str:
        """The family of measures its powder was taken with; nothing where there were several, or a scale alone."""
        families = {key.rsplit(" ", 1)[-1] for key in self.powder_spreads}
        return families.pop() if len(families) == 1 else ""

    def counting_sd_ln(self, *, spooned: bool) -> tuple[float, float]:
        """What counting powder and oil leaves open beside the demand, as sd of ln; nothing of the same spoon again.

        Powder that was measured otherwise than by the spoon that was counted with may be out by what that spoon is.
        """
        if not spooned:
            return self.powder_sd_ln, self.oil_sd_ln
        if self.pigment_g <= 0 or self.powder_by == Family.SPOON:
            return 0.0, 0.0
        return math.hypot(self.powder_sd_ln, ANOTHER_SPOON_SD_LN), self.oil_sd_ln

    @property
    def oil_sd_ln(self) -> float:
        """Sd of the logarithm of the oil's mass, from how it was measured."""
        return math.hypot(*self.oil_spreads.values()) / self.oil_g if self.oil_g > 0 else 0.0

    @property
    def additives_in(self) -> tuple[Added, ...]:
        """The additives that are in, always in the same order, however the record gave them back."""
        return tuple(self.additives[source] for source in sorted(self.additives))

    @property
    def additives_g(self) -> float:
        return sum(additive.grams for additive in self.additives.values())

    @property
    def total_g(self) -> float:
        return self.pigment_g + self.oil_g + self.additives_g

    @property
    def use_by(self) -> date | None:
        """The day after which something in it is spoiled, or None where nothing in it spoils."""
        return min(
            (additive.use_by for additive in self.additives.values() if additive.use_by is not None), default=None
        )

    @property
    def oil_g_per_100g(self) -> float | None:
        """The ratio now, or None before there is powder and while nobody knows what taps by eye came to."""
        return 100 * self.oil_g / self.pigment_g if self.pigment_g > 0 and not self.untold else None

    @property
    def untold(self) -> bool:
        """Whether oil went in by eye of which nothing is known or reckoned yet."""
        return self.by_eye.taps > 0 and not self.by_eye.reckoned_g


def dusty(paste: Paste) -> bool:
    """Whether powder may still become airborne: from wet curds on none can."""
    wet = (Stage.WET_CURDS, Stage.COARSE_PASTE, Stage.EVEN_PASTE)
    return paste.pigment_g > 0 and not (paste.looks and paste.looks[-1].stage in wet)


def dry(paste: Paste) -> bool:
    """Whether the last look that counts saw dust, crumbs or curds: nobody who sees that has poured too much."""
    return stage_seen(paste) in (Stage.DRY_ISLANDS, Stage.CRUMBS, Stage.WET_CURDS)


def stage_seen(paste: Paste) -> Stage | None:
    """The stage of the last look, as long as it counts."""
    return paste.looks[-1].stage if paste.looks and not paste.looks[-1].aside else None


def last_look_here(paste: Paste) -> Look | None:
    """The last look, if it counts and nothing went in or came out since that changed the ratio."""
    if not paste.looks or paste.looks[-1].aside:
        return None
    look = paste.looks[-1]
    if look.taps != paste.by_eye.taps or look.additives != paste.additives_in:
        return None
    if look.taps:
        return look if look.pigment_g == paste.pigment_g and look.oil_g == paste.oil_g else None
    now = paste.oil_g_per_100g
    same = look.oil_g_per_100g is not None and now is not None and math.isclose(look.oil_g_per_100g, now)
    return look if same else None


def last_even_look(paste: Paste) -> Look | None:
    """The last look, if it was at an even paste, named a body, and the ratio is still what it was."""
    look = last_look_here(paste)
    return look if look is not None and look.stage is Stage.EVEN_PASTE and look.body is not None else None
