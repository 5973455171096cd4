"""Bases as screens show them: lists, one base, several side by side, one that is not kept yet."""

from __future__ import annotations

import math
from dataclasses import dataclass
from datetime import datetime
from decimal import Decimal

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from niddy.core import sticks as core
from niddy.core.errors import Refused
from niddy.core.estimate import Basis, Estimate
from niddy.core.figure import Figure, Input, Working
from niddy.core.sources import of_lot
from niddy.db.base import table_of
from niddy.db.sticks import StickBase, StickBaseVersion, StickPot
from niddy.studio import materials
from niddy.studio.materials import Block
from niddy.studio.sticks.bases import BaseKnown, VersionAsked, checked, known, known_of, mix_of, reads, version_row

MOST_BESIDE = 6


@dataclass(frozen=True, slots=True)
class PartShown:
    """One part of a base: its share of the whole, what it is like, and what a kg of it costs where that is known."""

    wax_key: str
    name: str
    kind: str
    share_pct: float
    penetration_dmm: float
    melting_low_c: float
    melting_high_c: float
    price_per_kg: Decimal | None
    note: str


@dataclass(frozen=True, slots=True)
class Cast:
    """A pot that was cast of a base, and how it came out."""

    number: int
    name: str
    masstone_srgb: str
    started_at: datetime
    status: str
    target_dmm: float
    dent_dmm: float | None
    verdict: str | None
    sticks: int


@dataclass(frozen=True, slots=True)
class BaseShown:
    """One version of a base in figures, with what readings taught of it.

    `dent` is of the base alone; `offset_ln` with its sd says by how much sticks of it dent otherwise than predicted.
    """

    base_id: int
    version_id: int
    name: str
    version: int
    latest: int
    note: str
    why: str
    parts: tuple[PartShown, ...]
    dent: Figure
    measured_dent: Figure | None
    offset_ln: float
    offset_sd_ln: float
    readings: int
    melt_c: float
    hold_low_c: float
    water_bath: bool
    too_hot: bool
    pour_low_c: float
    pour_high_c: float
    density_g_per_ml: float
    price_per_kg: Decimal | None
    cast: tuple[Cast, ...]
    blocks: tuple[Block, ...]
    hazards: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class BaseLine:
    """A base as lists show it: its latest version, what it dents, how many sticks came of all its versions."""

    id: int
    name: str
    version: int
    version_id: int
    parts: tuple[str, ...]
    dent_dmm: float
    melt_c: float
    water_bath: bool
    readings: int
    pots: int


@dataclass(frozen=True, slots=True)
class BasePage:
    """A base: the version asked for, and all there are."""

    shown: BaseShown
    versions: tuple[int, ...]


def bases(session: Session) -> tuple[BaseLine, ...]:
    """The bases by name."""
    rows = session.scalars(select(StickBase).order_by(StickBase.name)).all()
    pot = table_of(StickPot).c
    counted = session.execute(
        select(StickBaseVersion.base_id, func.count())
        .join(StickPot, pot.base_version_id == StickBaseVersion.id)
        .group_by(StickBaseVersion.base_id)
    )
    made: dict[int, int] = {row[0]: row[1] for row in counted}
    found = []
    for row in rows:
        base = known_of(session, row, version_row(session, row.id, None))
        whole = sum(share for _, share in base.waxes)
        parts = tuple(f"{100 * share / whole:.0f} {wax.name}" for wax, share in base.waxes)
        found.append(
            BaseLine(
                row.id,
                row.name,
                base.version,
                base.version_id,
                parts,
                math.exp(base.mix.ln_penetration + base.offset.offset_ln),
                base.mix.melt_c,
                base.mix.melt_c <= core.WATER_BATH_C,
                len(reads(session, base.version_id)),
                made.get(row.id, 0),
            )
        )
    return tuple(found)


def page(session: Session, base_id: int, version: int | None = None) -> BasePage:
    """One base. Raises Missing."""
    shown = _shown(session, known(session, base_id, version))
    numbers = session.scalars(
        select(StickBaseVersion.version)
        .where(StickBaseVersion.base_id == base_id)
        .order_by(StickBaseVersion.version.desc())
    )
    return BasePage(shown, tuple(numbers))


def beside(session: Session, asked: list[tuple[int, int | None]]) -> tuple[BaseShown, ...]:
    """Two to six bases side by side. Raises Refused, Missing."""
    if not 2 <= len(asked) <= MOST_BESIDE:
        raise Refused("bases", f"{len(asked)} of them", f"2 to {MOST_BESIDE} bases")
    return tuple(_shown(session, known(session, base_id, version)) for base_id, version in asked)


def preview(session: Session, asked: VersionAsked) -> BaseShown:
    """What a base would be, before it is kept. Raises Refused."""
    waxes = checked(session, asked)
    return _shown(session, BaseKnown(0, 0, 0, "", tuple(waxes), mix_of(waxes), core.learn_offset([])), kept=False)


def _shown(session: Session, base: BaseKnown, *, kept: bool = True) -> BaseShown:
    row = session.get(StickBaseVersion, base.version_id) if kept else None
    parent = session.get(StickBase, base.base_id) if kept else None
    whole = sum(share for _, share in base.waxes)
    costs = materials.known_prices(session, [of_lot(None, wax.key) for wax, _ in base.waxes])
    parts = tuple(
        PartShown(
            wax.key,
            wax.name,
            wax.kind,
            100 * share / whole,
            wax.penetration_dmm,
            wax.melting_low_c,
            wax.melting_high_c,
            costs.get(of_lot(None, wax.key)),
            wax.note,
        )
        for wax, share in sorted(base.waxes, key=lambda part: -part[1])
    )
    read = reads(session, base.version_id) if kept else []
    bare = math.exp(base.mix.ln_penetration)
    inputs = tuple(Input(f"P of {part.name.lower()}", part.penetration_dmm, "0.1 mm", Basis.LIBRARY) for part in parts)
    dent = Figure.of(
        "Dent of the base alone",
        Estimate.lognormal(bare, core.OFFSET_SD, Basis.ASSUMED),
        "0.1 mm",
        0,
        Working(
            "ln P = sum of share x ln P of each wax",
            inputs,
            "log mixing (assumed); needle as ASTM D1321",
            "before any reading a base may be off by 35 %",
        ),
    )
    measured = None
    if read:
        measured = Figure.of(
            "As readings say",
            Estimate.lognormal(bare * math.exp(base.offset.offset_ln), base.offset.sd_ln, Basis.LEARNED),
            "0.1 mm",
            0,
            Working(
                "P x exp(offset)",
                (
                    Input("P", bare, "0.1 mm", Basis.ASSUMED),
                    Input("offset", base.offset.offset_ln, "ln", Basis.LEARNED),
                    Input("readings", float(len(read))),
                ),
                "normal, 0.35 before any reading; 0.12 by needle, 0.35 by feel",
                "from the readings",
            ),
        )
    sets = base.mix.mean_melting_c - core.SET_DROP_C * 0.5
    melt = min(core.HIGHEST_C, base.mix.melt_c)
    prices = [(part.price_per_kg, part.share_pct) for part in parts]
    price = (
        sum((Decimal(str(share)) / 100 * each for each, share in prices if each is not None), Decimal(0))
        if all(each is not None for each, _ in prices)
        else None
    )
    hazards = tuple(dict.fromkeys(key for wax, _ in base.waxes for key in wax.hazards))
    low, high = core.POUR_ABOVE_SET_C
    return BaseShown(
        base.base_id,
        base.version_id,
        base.name,
        base.version,
        version_row(session, base.base_id, None).version if kept else 0,
        parent.note if parent else "",
        row.why if row else "",
        parts,
        dent,
        measured,
        base.offset.offset_ln,
        base.offset.sd_ln,
        len(read),
        melt,
        sets + low,
        base.mix.melt_c <= core.WATER_BATH_C,
        base.mix.melt_c > core.HIGHEST_C,
        min(melt, sets + low),
        min(melt, sets + high),
        base.mix.density_g_per_ml,
        price.quantize(Decimal("0.01")) if price is not None else None,
        _cast(session, base.version_id) if kept else (),
        materials.blocks(session, [base.version_id]) if kept else (),
        hazards,
    )


def _cast(session: Session, version_id: int) -> tuple[Cast, ...]:
    rows = session.scalars(
        select(StickPot).where(StickPot.base_version_id == version_id).order_by(StickPot.number.desc()).limit(40)
    )
    return tuple(
        Cast(
            pot.number,
            pot.name,
            pot.masstone_srgb,
            pot.started_at,
            pot.status,
            pot.target_dmm,
            pot.dent_dmm,
            pot.verdict,
            pot.sticks,
        )
        for pot in rows
    )
