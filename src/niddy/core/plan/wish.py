"""What a maker asks of a plan, and what is checked before anything is computed."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from enum import StrEnum

from niddy.core import measures, pours, sizing
from niddy.core.additives import Dosing
from niddy.core.demand import Spooned
from niddy.core.errors import MIN_PARTS, Refused, mass_g, within
from niddy.core.estimate import Estimate, weakest
from niddy.core.evidence import Eye
from niddy.core.materials import BinderOil, DryPigment, Particle
from niddy.core.measures import Measure
from niddy.core.purposes import Purpose
from niddy.core.telling import Habit

ASBECK = "Asbeck and Van Loo 1949; oil absorption by rub-out, ISO 787-5 or ASTM D281"


QUIET_DISPERSION_TIMES = 2.0
"""A muller falls silent after twice the dispersion time (assumed)."""


class Tooth(StrEnum):
    """How well a slab or muller face still bites."""

    FRESH = "fresh"
    FAIR = "fair"
    WORN = "worn"


TOOTH_FACTOR = {Tooth.FRESH: 1.0, Tooth.FAIR: 1.25, Tooth.WORN: 1.6}
"""How much longer a load takes as the frosting wears (assumed)."""


class Tool(StrEnum):
    """What the paste is worked with."""

    MULLER = "muller"
    KNIFE = "knife"
    JAR = "jar"
    GLASS = "glass"


TOOL_FACTOR = {Tool.MULLER: 1.0, Tool.GLASS: 1.3, Tool.JAR: 1.5, Tool.KNIFE: 1.5}
"""How much longer a load takes than under a muller (assumed)."""

KNIFE_ML = 10.0
"""So much a knife works at once as readily as a muller works a load (assumed)."""

ONE_MASS_POWER = 0.6
"""Worked in one mass, minutes grow with this power of what would be loads (assumed)."""

TIDYING_MIN = {Tool.MULLER: 12.0, Tool.GLASS: 9.0, Tool.JAR: 6.0, Tool.KNIFE: 3.0}
TIDYING_STRICT_MIN = 10.0
"""Minutes to set up and clean, by what is used; so many more after powders that must not spread (assumed)."""

MINUTES_SPREAD = 1 / 3
PACE_SPREAD = 0.15
"""How far minutes may be out either way: assumed, and once the studio's own pace is known (assumed)."""

EXPECTED_UM = {Particle.FINE: 15.0, Particle.MEDIUM: 25.0, Particle.COARSE: 50.0}
"""Fineness in um that a muller brings a bought powder to (assumed); it does not grind a coarse one to dust."""

TOOL_FINENESS = {Tool.MULLER: 1.0, Tool.GLASS: 1.2, Tool.JAR: 1.4, Tool.KNIFE: 2.0}
"""How much coarser than a muller each tool leaves it (assumed)."""

LEAST_OF_A_LOAD = 0.4
"""However little is on the slab, it takes this share of a full load's minutes."""


@dataclass(frozen=True, slots=True)
class Bench:
    """The slab and the tool a batch is planned for; `film_mm` where the studio knows its own.

    `one_mass`: all of it is worked at once, not in loads.
    """

    slab_id: int | None
    slab_name: str
    area_cm2: float
    slab_tooth: Tooth
    film_mm: float | None
    muller_id: int | None
    muller_name: str
    muller_tooth: Tooth
    tool: Tool = Tool.MULLER
    one_mass: bool = False

    @property
    def in_one_mass(self) -> bool:
        """Whether all of it is worked at once: as chosen, and always in a jar or with a knife."""
        return self.one_mass or self.tool in (Tool.KNIFE, Tool.JAR)


@dataclass(frozen=True, slots=True)
class Line:
    """One dry pigment of the plan: its parts by mass, or the spoons in which it is measured, a smaller one behind."""

    pigment: DryPigment
    parts: float | None = None
    spoons: Measure | None = None
    behind: Measure | None = None

    @property
    def measured(self) -> tuple[Measure, ...]:
        """The measures it takes, one after the other; none where it is weighed."""
        return tuple(one for one in (self.spoons, self.behind) if one is not None)


@dataclass(frozen=True, slots=True)
class Extender:
    """An extender by its dose in percent of the pigment, and the pigment as which it counts."""

    dosing: Dosing
    pigment: DryPigment


@dataclass(frozen=True, slots=True)
class Tubes:
    """Tubes wanted or filled, of one type."""

    tube_type_id: int | None
    name: str
    usable_ml: float
    count: int


@dataclass(frozen=True, slots=True)
class OldPaint:
    """An old paint that is ground again: what it is called, and the hazard keys it was known to hold."""

    name: str
    hazards: tuple[str, ...]


class Grind(StrEnum):
    """The finish wanted: brushable keeps its bite (coarse), smooth is usual, finest (smooth) takes longest."""

    COARSE = "coarse"
    USUAL = "usual"
    SMOOTH = "smooth"


GRIND_DISPERSIONS = {Grind.COARSE: 0.6, Grind.USUAL: 1.0, Grind.SMOOTH: 2.0}
GRIND_FINENESS = {Grind.COARSE: 1.7, Grind.USUAL: 1.0, Grind.SMOOTH: 0.6}
GRIND_NAMES = {Grind.COARSE: "brushable", Grind.USUAL: "smooth", Grind.SMOOTH: "finest"}
"""Dispersion times a load is worked for each finish, the fineness it leaves against the usual (assumed), its name."""


@dataclass(frozen=True, slots=True)
class Wish:
    """What a maker asks of a plan. Exactly one starting point: tubes, pigment in hand (g), or spoons in the lines.

    Parts are by weight, or with `parts_by_spoons` by level spoons. `fills` are tubes that were wanted where the powder
    is told in whole spoons since. `same_ratio` is what came out right before and is aimed at again, as it was counted.
    `pace` is how the studio's own sessions took against what was planned.
    """

    lines: tuple[Line, ...]
    oil: BinderOil
    reduced_pvc: float
    bench: Bench | None
    loss: sizing.LossLearned
    tubes: tuple[Tubes, ...] | None = None
    pigment_g: float | None = None
    last_released_ratio: float | None = None
    same_ratio: float | None = None
    smallest_step_g: float = pours.SMALLEST_STEP_G
    target_fineness_um: float | None = None
    last_released_minutes: float | None = None
    additives: tuple[Dosing, ...] = ()
    extenders: tuple[Extender, ...] = ()
    trial: bool = False
    old_paint: OldPaint | None = None
    learned_tau_min: float | None = None
    tested_days: tuple[float, ...] = ()
    eye: Eye = field(default_factory=Eye)
    spooned: Spooned | None = None
    habit: Habit = field(default_factory=Habit)
    parts_by_spoons: bool = False
    fills: tuple[Tubes, ...] = ()
    pace: float | None = None
    purpose: Purpose | None = None
    grind: Grind = Grind.USUAL


def by_weight(wish: Wish) -> Wish:
    """The wish with its parts by weight, where they were told by level spoons."""
    if not wish.parts_by_spoons:
        return wish
    lines = tuple(
        line if line.parts is None else replace(line, parts=line.parts * line.pigment.loose_density_g_per_ml)
        for line in wish.lines
    )
    return replace(wish, lines=lines, parts_by_spoons=False)


def with_extenders(
    wish: Wish, lines: tuple[Line, ...], measured: tuple[Estimate, ...]
) -> tuple[tuple[Line, ...], tuple[Estimate, ...]]:
    """The dry blend with its extenders: each a share of the pigment, beside it."""
    if not wish.extenders:
        return lines, measured
    pigment = sum(mass.median for mass in measured) or sum(line.parts or 0.0 for line in lines)
    taken = {line.pigment.source for line in lines}
    more: list[Line] = []
    masses = list(measured)
    for n, extender in enumerate(wish.extenders):
        if extender.pigment.source in taken:
            raise Refused(
                f"extenders.{n}",
                f"{extender.pigment.name} is in the blend already",
                "it once: as a pigment or an extender",
            )
        taken.add(extender.pigment.source)
        parts = pigment * extender.dosing.dose_pct / 100
        if parts > 0:
            more.append(Line(extender.pigment, parts))
            if measured:
                masses.append(Estimate.exact(parts, weakest(*(mass.basis for mass in measured))))
    return (*lines, *more), tuple(masses)


def checked(wish: Wish) -> tuple[Line, ...]:
    """The line that names the batch, once the lines are known to make sense. Raises Refused naming the field."""
    if not wish.lines:
        raise Refused("lines", "a blend of nothing", "at least one pigment")
    spoons = [line.spoons is not None for line in wish.lines]
    starts = [wish.tubes is not None, wish.pigment_g is not None, any(spoons)]
    if sum(starts) != 1:
        raise Refused("start", "exactly one starting point is needed", "tubes, pigment in grams, or spoons")
    if any(spoons) and not all(spoons):
        missing = spoons.index(False)
        raise Refused(f"lines.{missing}.spoons", "missing", "spoons of every pigment of the blend")
    seen: set[str] = set()
    for n, line in enumerate(wish.lines):
        if not any(spoons):
            if line.parts is None:
                raise Refused(f"lines.{n}.parts", "missing", "parts by weight above 0")
            within(f"lines.{n}.parts", line.parts, MIN_PARTS, 10_000)
        if line.pigment.source in seen:
            raise Refused(f"lines.{n}.lot_id", "the same lot stands twice", "each lot once, its parts added up")
        seen.add(line.pigment.source)
    if wish.pigment_g is not None:
        mass_g("pigment_g", wish.pigment_g)
    return wish.lines


def spoon_masses(lines: tuple[Line, ...]) -> tuple[Estimate, ...]:
    """The mass of each line that was told in spoons, ml or grams, with its spread."""
    masses = []
    for n, line in enumerate(lines):
        if line.spoons is None:
            return ()
        try:
            parts = [
                measures.to_grams(
                    one,
                    loose_density=line.pigment.loose_density_g_per_ml,
                    loose_density_measured=line.pigment.loose_density_measured,
                )
                for one in line.measured
            ]
            # Of one tin they err together: how loosely it lies is most of it.
            masses.append(
                Estimate(
                    sum(part.median for part in parts),
                    sum(part.low for part in parts),
                    sum(part.high for part in parts),
                    parts[0].basis,
                )
            )
        except Refused as refusal:
            raise refusal.under(f"lines.{n}.spoons") from None
    return tuple(masses)


def shares_of(lines: tuple[Line, ...], measured: tuple[Estimate, ...]) -> list[float]:
    """Shares by weight."""
    parts = [mass.median for mass in measured] or [line.parts or 0.0 for line in lines]
    return [part / sum(parts) for part in parts]
