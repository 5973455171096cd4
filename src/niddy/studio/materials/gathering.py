"""Lots and library entries as calculations need them."""

from __future__ import annotations

from dataclasses import dataclass, replace

from sqlalchemy import Integer, bindparam, func, select
from sqlalchemy.dialects.postgresql import ARRAY
from sqlalchemy.orm import Session

from niddy.core import additives as doses
from niddy.core import library, oils
from niddy.core.additives import Dosing, Moment
from niddy.core.estimate import Basis
from niddy.core.materials import SOLVENT_G_PER_ML, Additive, BinderOil, DryPigment, Oil, Pigment
from niddy.core.measures import DROP_G
from niddy.db.materials import Lot
from niddy.studio.errors import Missing
from niddy.studio.materials.demand import TaughtDemand
from niddy.studio.materials.kept import GEL, colour_of, gel_strength, taught_demand
from niddy.studio.materials.own import material_of


@dataclass(frozen=True, slots=True)
class Asked:
    """A material as a request names it: a lot of the shelf, or an entry of the library."""

    lot_id: int | None
    key: str | None


@dataclass(frozen=True, slots=True)
class Gathered:
    """The materials of a plan, and what the shelf holds of those that are lots, in g by lot id."""

    pigments: tuple[DryPigment, ...]
    oil: BinderOil
    on_hand_g: dict[int, float]


def gather(
    session: Session, pigments: list[Asked], oil: Asked, unseen: dict[str, TaughtDemand] | None = None
) -> Gathered:
    """Pigments, in order, and oil for a calculation; `unseen` is what is known of pigments by key beyond the library.

    Raises Missing naming `lines.N` or `oil`.
    """
    rows = _lots(session, [*pigments, oil])
    dry = []
    for n, ask in enumerate(pigments):
        row = lot_row(rows, ask, "pigment", f"lines.{n}")
        pigment = material_of(session, "pigment", row.material_key if row else ask.key or "")
        if not isinstance(pigment, Pigment):
            raise Missing("pigment", ask.key, f"lines.{n}.pigment_key")
        dry.append(_dry(pigment, row, (unseen or {}).get(pigment.key)))
    bottle = _portion(session, rows, oil, 1.0, "oil").oil
    return Gathered(tuple(dry), bottle, {row.id: row.on_hand for row in rows.values()})


def _lots(session: Session, asked: list[Asked]) -> dict[int, Lot]:
    wanted = list({ask.lot_id for ask in asked if ask.lot_id is not None})
    return {row.id: row for row in session.scalars(_NAMED, {"lot_ids": wanted})} if wanted else {}


# Of the busy path: built once.
_NAMED = select(Lot).where(Lot.id == func.any(bindparam("lot_ids", type_=ARRAY(Integer))))


def _portion(session: Session, rows: dict[int, Lot], oil: Asked, parts: float, field: str) -> oils.Portion:
    row = lot_row(rows, oil, "oil", field)
    shipped = material_of(session, "oil", row.material_key if row else oil.key or "")
    if not isinstance(shipped, Oil):
        raise Missing("oil", oil.key, f"{field}.oil_key")
    return oils.Portion(
        _binder(shipped, row), parts, shipped.viscosity_mpa_s, shipped.yellowing_rank, shipped.film_rank
    )


def portions(
    session: Session, asked: list[tuple[Asked, float]], field: str
) -> tuple[list[oils.Portion], dict[int, float]]:
    """Oils and their parts, and what is on hand of those that are bottles. Raises Missing naming `field.N`."""
    rows = _lots(session, [ask for ask, _ in asked])
    found = [_portion(session, rows, ask, parts, f"{field}.{n}") for n, (ask, parts) in enumerate(asked)]
    return found, {row.id: row.on_hand for row in rows.values()}


@dataclass(frozen=True, slots=True)
class Stirred:
    """Additives as doses, and the extenders among them with the pigments they count as; what is on hand of lots."""

    dosings: tuple[Dosing, ...]
    extenders: tuple[tuple[Dosing, DryPigment], ...]
    on_hand_g: dict[int, float]


def dosings(
    session: Session, asked: list[tuple[Asked, float]], taught: dict[str, tuple[float, str]], field: str = "additives"
) -> Stirred:
    """Doses (lot or key, percent) for a calculation. `taught` is ln stress a percent by key, and where it is from.

    Raises Missing naming `field.N`, Refused for a gel whose day has passed.
    """
    rows = _lots(session, [ask for ask, _ in asked])
    plain: list[Dosing] = []
    extending: list[tuple[Dosing, DryPigment]] = []
    for n, (ask, pct) in enumerate(asked):
        row = rows.get(ask.lot_id) if ask.lot_id is not None else None
        if ask.lot_id is not None and (row is None or row.kind not in ("additive", GEL)):
            raise Missing("additive lot", ask.lot_id, f"{field}.{n}.lot_id")
        additive = material_of(session, "additive", row.material_key if row else ask.key or "")
        if not isinstance(additive, Additive):
            raise Missing("additive", ask.key, f"{field}.{n}.additive_key")
        slope, says = taught.get(additive.key, (additive.stiffening_per_pct, ""))
        counted = doses.moment_of(additive) is Moment.LAST
        dosing = Dosing(
            additive,
            pct,
            row.id if row else None,
            row.code if row else "",
            gel_strength(row) if row is not None and row.kind == GEL else None,
            ((row and row.drop_g) or DROP_G) if counted else None,
            bool(row and row.drop_g),
            slope,
            Basis.LEARNED if says else Basis.ASSUMED,
            says or "assumed until a ladder says",
        )
        key = doses.extends_as(additive)
        if key is None:
            plain.append(dosing)
            continue
        pigment = material_of(session, "pigment", key)
        assert isinstance(pigment, Pigment)
        extending.append((dosing, _dry(pigment, row, None)))
    return Stirred(tuple(plain), tuple(extending), {row.id: row.on_hand for row in rows.values()})


def lot_row(rows: dict[int, Lot], asked: Asked, kind: str, field: str) -> Lot | None:
    """The row of a lot of one kind. Raises Missing naming the field."""
    if asked.lot_id is None:
        return None
    row = rows.get(asked.lot_id)
    if row is None or row.kind != kind:
        raise Missing(f"{kind} lot", asked.lot_id, f"{field}.lot_id")
    return row


def _dry(pigment: Pigment, row: Lot | None, unseen: TaughtDemand | None) -> DryPigment:
    taught = taught_demand(pigment, row, unseen)
    dry = replace(
        library.dry_of(pigment),
        masstone_srgb=colour_of(pigment, row),
        demand_g_per_100g=taught.demand.estimate.median,
        demand_sd_ln=taught.demand.sd_ln,
        demand_basis=taught.demand.estimate.basis,
        demand_says=taught.says,
        demand_shared_sd_ln=taught.demand.shared_sd_ln,
        demand_eye_covariance=taught.demand.eye_covariance,
    )
    if row is None:
        return dry
    return replace(
        dry,
        lot_id=row.id,
        lot_code=row.code,
        density_g_per_ml=row.density_g_per_ml or dry.density_g_per_ml,
        loose_density_g_per_ml=_loose(pigment, row),
        loose_density_measured=bool(row.loose_density_g_per_ml),
        hazards=_hazards(row, dry.hazards),
        liquid_share=row.liquid_share or 0.0,
        liquid_density_g_per_ml=row.liquid_density_g_per_ml or SOLVENT_G_PER_ML,
    )


def _hazards(row: Lot, shipped: tuple[str, ...]) -> tuple[str, ...]:
    return tuple(row.hazards) if row.hazards is not None else shipped


def _loose(pigment: Pigment, row: Lot) -> float:
    """Dry g in a spoon's ml. A lot that is still wet holds no air, but its liquid takes the room of powder."""
    if row.loose_density_g_per_ml is not None or not row.liquid_share:
        return row.loose_density_g_per_ml or pigment.loose_density_g_per_ml
    dry = 1 - row.liquid_share
    liquid = row.liquid_share / (row.liquid_density_g_per_ml or SOLVENT_G_PER_ML)
    return dry / (dry / (row.density_g_per_ml or pigment.density_g_per_ml) + liquid)


def _binder(oil: Oil, row: Lot | None) -> BinderOil:
    bottle = library.binder_of(oil)
    if row is None:
        return bottle
    return replace(
        bottle,
        lot_id=row.id,
        lot_code=row.code,
        density_g_per_ml=row.density_g_per_ml or bottle.density_g_per_ml,
        hazards=_hazards(row, bottle.hazards),
        drop_g=row.drop_g or bottle.drop_g,
        drop_measured=bool(row.drop_g),
    )
