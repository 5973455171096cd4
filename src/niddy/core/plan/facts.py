"""A computed plan: what to weigh, to pour, to beware of, and what the slab needs to know."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field, replace

from niddy.core import oils
from niddy.core.additives import Dosing, InPaste, Moment
from niddy.core.cautions import Caution
from niddy.core.contents import UNKNOWN_PARTS
from niddy.core.estimate import Basis
from niddy.core.evidence import Eye
from niddy.core.figure import Figure
from niddy.core.materials import BinderOil, DryPigment
from niddy.core.plan.wish import Bench, OldPaint, Tool, Tubes
from niddy.core.telling import Habit, Told
from niddy.core.wetting import Body, Zone


@dataclass(frozen=True, slots=True)
class Weigh:
    """One powder to weigh out; `spoons` says it in the maker's spoons where that is how it is measured.

    `extends_pct` is the dose of an extender, which counts as a pigment; None for a pigment. `wet` is what to weigh of a
    lot that is still wet, of which `mass` is the dry part.
    """

    pigment: DryPigment
    share: float
    mass: Figure
    spoons: str | None
    extends_pct: float | None = None
    told: Told | None = None
    wet: Figure | None = None


@dataclass(frozen=True, slots=True)
class AdditiveLine:
    """One additive to weigh out as gel or dry, its drops where it is counted in them, and what to know of it."""

    dosing: Dosing
    name: str
    moment: Moment
    weigh: Figure
    additive_g: float
    oil_in_gel_g: float
    drops: float | None
    over_ceiling: bool
    says: str


@dataclass(frozen=True, slots=True)
class Rung:
    """One pour of the ladder as shown."""

    quantile: float
    cumulative_g: float
    step_g: float
    oil_g_per_100g: float
    told: Told | None = None


@dataclass(frozen=True, slots=True)
class StartingRule:
    """One way people start, and where it lands for this pigment in this oil."""

    key: str
    name: str
    rule: str
    oil_g_per_100g: float
    oil_g: float
    reduced_pvc: float
    body: Body
    basis: Basis


@dataclass(frozen=True, slots=True)
class Scale:
    """The wetting scale in figures: zones, the target and the band in which it truly lies (90 %)."""

    zones: tuple[Zone, ...]
    target_reduced_pvc: float
    target_oil_g_per_100g: float
    band_low_oil_g_per_100g: float
    band_high_oil_g_per_100g: float
    basis: Basis
    says: str


@dataclass(frozen=True, slots=True)
class Facts:
    """What the slab needs of the plan to go on computing: the blend in this oil, and the eye that will judge it.

    `pigment_sd_ln` is how surely the powder is measured where it is planned by spoons, `habit` how this maker
    measures. `tau_min` is for the tool and for so much on the slab: `working_factor` times a full load's, mulled.
    A load is worked for so many `dispersions`, all of it at once where it is `one_mass`.
    `pace` is the studio's own, which the plan's minutes hold; None before it was timed. `spooned`: the demand is as
    the same spoon and drops counted it before, which are in its sd with the powder.
    """

    pigment_density_g_per_ml: float
    oil_density_g_per_ml: float
    oil_absorption_g_per_100g: float
    demand_sd_ln: float
    target_reduced_pvc: float
    smallest_step_g: float
    tau_min: float
    target_fineness_um: float | None = None
    last_minutes_per_load: float | None = None
    additives: tuple[InPaste, ...] = ()
    eye: Eye = field(default_factory=Eye)
    pigment_sd_ln: float = 0.0
    habit: Habit = field(default_factory=Habit)
    tool: Tool = Tool.MULLER
    working_factor: float = 1.0
    dispersions: float = 2.0
    one_mass: bool = False
    pace: float | None = None
    spooned: bool = False

    @property
    def c(self) -> float:
        """100 rho_o / rho_p: how the pigment's own volume counts as oil."""
        return 100 * self.oil_density_g_per_ml / self.pigment_density_g_per_ml


@dataclass(frozen=True, slots=True)
class Plan:
    """A computed plan."""

    name: str
    body: Body
    masstone_srgb: str
    undertone_srgb: str
    lines: tuple[Weigh, ...]
    oil: BinderOil
    bench: Bench | None
    tubes: tuple[Tubes, ...]
    pigment_mass: Figure
    ratio: Figure
    oil_absorption: Figure
    oil_mass: Figure
    first_pour: Figure
    rungs: tuple[Rung, ...]
    volume: Figure
    density: Figure
    leftover: Figure
    loads: Figure | None
    load_volume: Figure | None
    minutes: Figure | None
    scale: Scale
    rules: tuple[StartingRule, ...]
    cautions: tuple[Caution, ...]
    caution_always: str
    caution_deference: str
    facts: Facts
    additives: tuple[AdditiveLine, ...] = ()
    oil_to_pour: Figure | None = None
    stiffening: Figure | None = None
    film_pvc: Figure | None = None
    touch_dry: tuple[Figure, ...] = ()
    keeps_days: int | None = None
    pigment_and_oil_only: bool = True
    trial: bool = False
    oil_note: oils.BlendNote | None = None
    old_paint: OldPaint | None = None
    tidying: Figure | None = None
    fineness: Figure | None = None
    remarks: tuple[str, ...] = ()
    grit: str = ""
    oil_told: Told | None = None


def pigment_and_oil_only(oil: BinderOil, additives: list[str], extended: bool, *, known: bool = True) -> bool:
    """Whether a label may say so: no additive, no extender, nothing in the oil but oil, and no part unknown."""
    return known and not additives and not extended and not {"driers", "solvent"} & set(oil.hazards)


def fully_known(pigments: Iterable[Iterable[str]], *, old_paint: bool) -> bool:
    """Whether all that a plan puts together is known; `pigments` are the hazards of each."""
    return not old_paint and all(UNKNOWN_PARTS not in hazards for hazards in pigments)


def shifted(zones: tuple[Zone, ...], displaced_g_per_100g: float) -> tuple[Zone, ...]:
    """The zones of the scale where additives take the place of some oil, in g for each 100 g of powder."""
    if not displaced_g_per_100g:
        return zones
    return tuple(
        replace(
            zone,
            oil_from_g_per_100g=max(0.0, zone.oil_from_g_per_100g - displaced_g_per_100g),
            oil_to_g_per_100g=max(0.0, zone.oil_to_g_per_100g - displaced_g_per_100g),
        )
        for zone in zones
    )
