"""A ladder of doses designed: equal oil in every rung, what to weigh for each."""

from __future__ import annotations

from dataclasses import dataclass

from niddy.core.additives import DoseBasis
from niddy.core.errors import MIN_OIL_G_PER_100G, Refused, mass_g, within
from niddy.core.ladder.fitting import RUNGS_TO_FIT

LEAST_RUNG_G = 3.0
"""Less paste than this cannot be weighed, mixed and checked honestly."""


LEAST_WEIGHED_G = 0.02
"""Below this a bench balance of 0.01 g reads mostly noise."""


TOP_OF_USUAL = 1.5
"""How far above the usual dose a first ladder reaches: the answer should lie within it, not at its end."""

SPARE = 1.10
"""Mother paste to make for each gram that the rungs take: some stays on the knife (assumed)."""


@dataclass(frozen=True, slots=True)
class Ingredient:
    """One additive of a ladder: its top dose, basis, and the strength of its gel where it comes from one."""

    name: str
    top_dose_pct: float
    basis: DoseBasis
    ceiling_pct: float
    gel_strength: float | None = None

    @property
    def oil_per_g(self) -> float:
        """Oil that comes with each gram of the additive."""
        return 0.0 if self.gel_strength is None else 1 / self.gel_strength - 1


@dataclass(frozen=True, slots=True)
class Mother:
    """The mother paste: g of powder and of oil in it; the paste each rung takes of it, in g."""

    pigment_g: float
    oil_g: float
    paste_per_rung_g: float

    @property
    def oil_share(self) -> float:
        return self.oil_g / (self.pigment_g + self.oil_g)


@dataclass(frozen=True, slots=True)
class Weighing:
    """One additive of a rung: its dose in percent, itself in g, and what to weigh of its gel where it has one."""

    name: str
    dose_pct: float
    additive_g: float
    weigh_g: float
    too_little: bool


@dataclass(frozen=True, slots=True)
class RungPlan:
    """One rung: paste, additives and plain oil in g, in the order of weighing; `label` marks its dab."""

    label: str
    paste_g: float
    additives: tuple[Weighing, ...]
    oil_g: float
    whole_g: float


@dataclass(frozen=True, slots=True)
class Design:
    """A ladder on paper: what each rung takes, the mother paste in all, and the oil every rung ends with."""

    rungs: tuple[RungPlan, ...]
    mother_paste_g: float
    mother_pigment_g: float
    mother_oil_g: float
    oil_g_per_100g: float
    mother_oil_g_per_100g: float


def mother(oil_g_per_100g: float, paste_per_rung_g: float, ingredients: list[Ingredient], top_pct: float) -> Mother:
    """The mother paste for rungs that end at a ratio: short of oil by what the top rung's gels bring.

    Raises Refused for gels that would bring more oil than the rungs are to hold.
    """
    within("oil_g_per_100g", oil_g_per_100g, MIN_OIL_G_PER_100G, 1_000, "g per 100 g")
    if not ingredients:
        raise Refused("additives", "none", "one additive or two")
    for n, ingredient in enumerate(ingredients):
        within(f"additives.{n}.top_dose_pct", ingredient.top_dose_pct, 0.001, 60, "%")
        if ingredient.gel_strength is not None:
            within(f"additives.{n}.gel_strength", ingredient.gel_strength, 0.001, 1)
    ratio = oil_g_per_100g / 100
    top = [_dose_of(ingredient, ingredients[0], top_pct) for ingredient in ingredients]
    amounts = _amounts(Mother(1.0, ratio, 1 + ratio), ingredients, top, 0.0)
    brought = sum(g * ingredient.oil_per_g for g, ingredient in zip(amounts, ingredients, strict=True))
    if brought >= ratio:
        raise Refused(
            "additives.0.gel_strength",
            f"at the top dose its gel brings {100 * brought:.0f} g of oil for 100 g of powder, the paste holds "
            f"{100 * ratio:.0f} g",
            "a stronger gel or a smaller top dose",
        )
    return Mother(100.0, 100 * (ratio - brought), paste_per_rung_g)


def usual_top_pct(dose_high_pct: float, ceiling_pct: float) -> float:
    """The top dose of a first ladder, on the additive's own basis: above the usual one, never above its ceiling."""
    return min(TOP_OF_USUAL * dose_high_pct, ceiling_pct)


def even_doses(rungs: int, top_pct: float) -> list[float]:
    """Doses from 0 to the top in even steps."""
    within("rungs", rungs, RUNGS_TO_FIT, 12)
    return [top_pct * n / (rungs - 1) for n in range(rungs)]


def design(mother: Mother, ingredients: list[Ingredient], doses: list[float], *, trial: bool = True) -> Design:
    """What to weigh for each dose of the first additive; a second rises in proportion to its own top.

    Every rung gets the same oil in all, so that only the additive differs: what a gel brings less than the
    top rung's is made up with plain oil. Raises Refused for a rung below 3 g, two rungs of one dose, a dose
    above the ceiling where this is no trial, a gel that is none or brings more oil than the paste holds.
    """
    mass_g("mother.pigment_g", mother.pigment_g)
    mass_g("mother.oil_g", mother.oil_g)
    if mother.paste_per_rung_g < LEAST_RUNG_G:
        raise Refused(
            "paste_per_rung_g",
            f"{mother.paste_per_rung_g:g} g is too little to weigh and check",
            f"{LEAST_RUNG_G:g} g or more",
        )
    mass_g("paste_per_rung_g", mother.paste_per_rung_g)
    if not 1 <= len(ingredients) <= 2:
        raise Refused("additives", f"{len(ingredients)} of them", "one additive or two")
    _check_doses(ingredients, doses, trial=trial)
    first = ingredients[0]
    top = max(doses)
    extra = _extra_oil(mother, ingredients, [_dose_of(ingredient, first, top) for ingredient in ingredients])
    rungs = []
    for n, dose in enumerate(doses):
        amounts = _amounts(
            mother, ingredients, [_dose_of(ingredient, first, dose) for ingredient in ingredients], extra
        )
        weighings = tuple(
            Weighing(
                ingredient.name,
                _dose_of(ingredient, first, dose),
                g,
                g / (ingredient.gel_strength or 1.0),
                0 < g / (ingredient.gel_strength or 1.0) < LEAST_WEIGHED_G,
            )
            for ingredient, g in zip(ingredients, amounts, strict=True)
        )
        gel_oil = sum(g * ingredient.oil_per_g for ingredient, g in zip(ingredients, amounts, strict=True))
        whole = mother.paste_per_rung_g + extra + sum(amounts)
        rungs.append(RungPlan(f"R{n}", mother.paste_per_rung_g, weighings, max(0.0, extra - gel_oil), whole))
    need = mother.paste_per_rung_g * len(doses) * SPARE
    pigment = need * (1 - mother.oil_share)
    ended = mother.paste_per_rung_g * mother.oil_share + extra
    return Design(
        tuple(rungs),
        need,
        pigment,
        need - pigment,
        100 * ended / (mother.paste_per_rung_g * (1 - mother.oil_share)),
        100 * mother.oil_g / mother.pigment_g,
    )


def _check_doses(ingredients: list[Ingredient], doses: list[float], *, trial: bool) -> None:
    if len(doses) < RUNGS_TO_FIT:
        raise Refused("doses", f"{len(doses)} doses tell nothing", f"{RUNGS_TO_FIT} doses or more")
    seen: dict[float, int] = {}
    for n, dose in enumerate(doses):
        within(f"doses.{n}", dose, 0, 60, "%")
        if round(dose, 4) in seen:
            raise Refused(f"doses.{n}", f"doses {seen[round(dose, 4)]} and {n} are the same", "a dose of its own")
        seen[round(dose, 4)] = n
    if max(doses) <= 0:
        raise Refused("doses", "all of them are 0", "a top dose above 0")
    for n, ingredient in enumerate(ingredients):
        field = f"additives.{n}"
        within(f"{field}.top_dose_pct", ingredient.top_dose_pct, 0.001, 60, "%")
        if ingredient.gel_strength is not None:
            within(f"{field}.gel_strength", ingredient.gel_strength, 0.001, 1)
        most = _dose_of(ingredient, ingredients[0], max(doses))
        if most > ingredient.ceiling_pct and not trial:
            raise Refused(
                f"{field}.top_dose_pct",
                f"{most:g} % is above the ceiling of {ingredient.name.lower()}",
                f"up to {ingredient.ceiling_pct:g} %; above it only in a trial",
            )


def _dose_of(ingredient: Ingredient, first: Ingredient, dose: float) -> float:
    return dose * ingredient.top_dose_pct / first.top_dose_pct


def _extra_oil(mother: Mother, ingredients: list[Ingredient], top: list[float]) -> float:
    """The oil that the top rung's gels bring: every rung gets as much. Found by going round until it stands."""
    extra = 0.0
    for _ in range(200):
        amounts = _amounts(mother, ingredients, top, extra)
        again = sum(g * ingredient.oil_per_g for ingredient, g in zip(ingredients, amounts, strict=True))
        if again > mother.paste_per_rung_g:
            break
        if abs(again - extra) < 1e-10:
            return again
        extra = again
    raise Refused(
        "additives.0.gel_strength", "so weak a gel would bring more oil than there is paste", "a stronger gel"
    )


def _amounts(mother: Mother, ingredients: list[Ingredient], doses: list[float], extra_g: float) -> list[float]:
    """Each additive itself, in g, for one rung with so much oil beside its paste."""
    paste, oil = mother.paste_per_rung_g, mother.paste_per_rung_g * mother.oil_share + extra_g
    of_total = sum(d for d, ingredient in zip(doses, ingredients, strict=True) if ingredient.basis is DoseBasis.TOTAL)
    if of_total >= 100:
        raise Refused("doses", "nothing but additive", "less than 100 % of the total")
    others = sum(
        d / 100 * (oil if ingredient.basis is DoseBasis.OIL else paste * (1 - mother.oil_share))
        for d, ingredient in zip(doses, ingredients, strict=True)
        if ingredient.basis is not DoseBasis.TOTAL
    )
    whole = (paste + extra_g + others) / (1 - of_total / 100)
    base = {DoseBasis.OIL: oil, DoseBasis.PIGMENT: paste * (1 - mother.oil_share), DoseBasis.TOTAL: whole}
    return [d / 100 * base[ingredient.basis] for d, ingredient in zip(doses, ingredients, strict=True)]
