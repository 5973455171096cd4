"""Bases: waxes and resins by share, in versions; what each comes to, what it taught, what was cast of it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from decimal import Decimal
from typing import Annotated
from uuid import UUID

from pydantic import Field
from sqlalchemy import func, select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from niddy.core import sticks as core
from niddy.core.errors import Refused
from niddy.core.estimate import Basis, Estimate
from niddy.core.figure import Figure, Input, Working
from niddy.core.materials import Wax
from niddy.core.sources import of_lot
from niddy.core.sticks import BaseMix, Offset
from niddy.db.base import table_of
from niddy.db.sticks import StickBase, StickBaseVersion, StickPot, StickReading
from niddy.studio import materials
from niddy.studio.amounts import Grams
from niddy.studio.documents import Document, Key, RowId
from niddy.studio.errors import Missing
from niddy.studio.materials import Block, NewBlock, WaxIn
from niddy.studio.words import Words

MOST_PARTS = 12
MOST_BESIDE = 6
Share = Annotated[float, Field(strict=True, ge=0, le=1_000)]


class BasePartAsked(Document):
    """One wax or resin of a base and its share, in any measure of weight."""

    wax_key: Key
    share: Share


class VersionAsked(Document):
    """A version of a base: its parts, and why it differs from the one before."""

    parts: Annotated[list[BasePartAsked], Field(min_length=1, max_length=MOST_PARTS)]
    why: Annotated[Words, Field(max_length=300)] = ""


class BaseAsked(VersionAsked):
    """A new base."""

    name: Annotated[Words, Field(min_length=1, max_length=80)]
    note: Annotated[Words, Field(max_length=500)] = ""


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


def _checked(session: Session, asked: VersionAsked) -> list[tuple[Wax, float]]:
    found: list[tuple[Wax, float]] = []
    for n, part in enumerate(asked.parts):
        wax = materials.wax_of(session, part.wax_key)
        if wax is None:
            raise Refused(
                f"parts.{n}.wax_key", f"'{part.wax_key}' is no wax or resin", "one of the library, or one of your own"
            )
        if any(wax.key == other.key for other, _ in found):
            raise Refused(f"parts.{n}.wax_key", f"{wax.name} stands in it already", "each wax once")
        found.append((wax, part.share))
    if sum(share for _, share in found) <= 0:
        raise Refused("parts", "its shares sum to nothing", "shares above 0, such as 60 and 40")
    mix_of(found)
    return found


def mix_of(parts: Sequence[tuple[Wax, float]]) -> BaseMix:
    """Waxes and their shares as the calculations need them. Raises Refused."""
    return core.base_of(
        [core.Part(share, wax.density_g_per_ml, wax.penetration_dmm, wax.melting_c) for wax, share in parts]
    )


def add(session: Session, now: datetime, asked: BaseAsked) -> int:
    """Keep a new base; its id. Raises Refused naming the field."""
    _checked(session, asked)
    if not asked.name.strip():
        raise Refused("name", "empty", "a name of 1 to 80 characters")
    base = StickBase(name=asked.name.strip(), note=asked.note.strip(), added_at=now)
    try:
        with session.begin_nested():
            session.add(base)
            session.flush()
    except IntegrityError:
        raise Refused("name", f"'{asked.name.strip()}' is kept already", "a name of its own") from None
    _keep(session, now, base.id, 1, asked)
    return base.id


def add_version(session: Session, now: datetime, base_id: int, asked: VersionAsked) -> int:
    """Keep a further version of a base; its number. Raises Refused, Missing."""
    base = session.get(StickBase, base_id, with_for_update=True)
    if base is None:
        raise Missing("base", base_id)
    _checked(session, asked)
    if not asked.why.strip():
        raise Refused("why", "empty", "a few words why this version differs")
    last = _version(session, base_id, None)
    if _shares(last.parts) == _shares([part.model_dump() for part in asked.parts]):
        raise Refused("parts", f"the same as version {last.version}", "another share, or another wax")
    _keep(session, now, base_id, last.version + 1, asked)
    return last.version + 1


def _shares(parts: list[dict[str, object]]) -> dict[str, float]:
    whole = sum(float(str(part["share"])) for part in parts)
    return {str(part["wax_key"]): round(float(str(part["share"])) / whole, 6) for part in parts}


def _keep(session: Session, now: datetime, base_id: int, version: int, asked: VersionAsked) -> None:
    parts = [part.model_dump() for part in asked.parts if part.share > 0]
    session.add(
        StickBaseVersion(base_id=base_id, version=version, parts=parts, why=asked.why.strip(), made_at=now)
    )  # fmt: skip
    session.flush()


def _version(session: Session, base_id: int, version: int | None) -> StickBaseVersion:
    wanted = select(StickBaseVersion).where(StickBaseVersion.base_id == base_id)
    if version is not None:
        wanted = wanted.where(StickBaseVersion.version == version)
    row = session.scalar(wanted.order_by(StickBaseVersion.version.desc()).limit(1))
    if row is None:
        raise Missing("base" if version is None else f"version {version} of base", base_id)
    return row


@dataclass(frozen=True, slots=True)
class BaseKnown:
    """A version of a base as plans use it."""

    base_id: int
    version_id: int
    version: int
    name: str
    waxes: tuple[tuple[Wax, float], ...]
    mix: BaseMix
    offset: Offset


def known(session: Session, base_id: int, version: int | None = None) -> BaseKnown:
    """A base by its id, its latest version where none is named. Raises Missing."""
    base = session.get(StickBase, base_id)
    if base is None:
        raise Missing("base", base_id, "base_id")
    return _known(session, base, _version(session, base_id, version))


def known_version(session: Session, version_id: int) -> BaseKnown:
    """A version of a base by its own id. Raises Missing."""
    row = session.get(StickBaseVersion, version_id)
    if row is None:
        raise Missing("version of a base", version_id)
    base = session.get(StickBase, row.base_id)
    assert base is not None
    return _known(session, base, row)


def _known(session: Session, base: StickBase, row: StickBaseVersion) -> BaseKnown:
    waxes = []
    for part in row.parts:
        wax = materials.wax_of(session, part["wax_key"])
        if wax is None:
            raise Missing("wax", part["wax_key"])
        waxes.append((wax, float(part["share"])))
    return BaseKnown(
        base.id, row.id, row.version, base.name, tuple(waxes), mix_of(waxes), core.learn_offset(_reads(session, row.id))
    )


def _reads(session: Session, version_id: int) -> list[core.DentRead]:
    rows = session.execute(
        select(StickReading.ln_ratio, StickReading.by)
        .where(StickReading.base_version_id == version_id)
        .order_by(StickReading.at, StickReading.act_id)
    )
    return [core.DentRead(row.ln_ratio, core.READING_SD[row.by]) for row in rows]


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
        base = _known(session, row, _version(session, row.id, None))
        whole = sum(share for _, share in base.waxes)
        parts = tuple(f"{100 * share / whole:.0f} {wax.name}" for wax, share in base.waxes)
        found.append(
            BaseLine(
                row.id, row.name, base.version, base.version_id, parts,
                math.exp(base.mix.ln_penetration + base.offset.offset_ln), base.mix.melt_c,
                base.mix.melt_c <= core.WATER_BATH_C, len(_reads(session, base.version_id)), made.get(row.id, 0),
            )
        )  # fmt: skip
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
    waxes = _checked(session, asked)
    return _shown(
        session, BaseKnown(0, 0, 0, "", tuple(waxes), mix_of(waxes), core.learn_offset([])), kept=False
    )  # fmt: skip


def _shown(session: Session, base: BaseKnown, *, kept: bool = True) -> BaseShown:
    row = session.get(StickBaseVersion, base.version_id) if kept else None
    parent = session.get(StickBase, base.base_id) if kept else None
    whole = sum(share for _, share in base.waxes)
    costs = materials.known_prices(session, [of_lot(None, wax.key) for wax, _ in base.waxes])
    parts = tuple(
        PartShown(
            wax.key, wax.name, wax.kind, 100 * share / whole, wax.penetration_dmm, wax.melting_low_c,
            wax.melting_high_c, costs.get(of_lot(None, wax.key)), wax.note,
        )
        for wax, share in sorted(base.waxes, key=lambda part: -part[1])
    )  # fmt: skip
    reads = _reads(session, base.version_id) if kept else []
    bare = math.exp(base.mix.ln_penetration)
    inputs = tuple(Input(f"P of {part.name.lower()}", part.penetration_dmm, "0.1 mm", Basis.LIBRARY) for part in parts)
    dent = Figure.of(
        "Dent of the base alone", Estimate.lognormal(bare, core.OFFSET_SD, Basis.ASSUMED), "0.1 mm", 0,
        Working(
            "ln P = sum of share x ln P of each wax", inputs, "log mixing (assumed); needle as ASTM D1321",
            "before any reading a base may be off by 35 %",
        ),
    )  # fmt: skip
    measured = None
    if reads:
        measured = Figure.of(
            "As readings say", Estimate.lognormal(
                bare * math.exp(base.offset.offset_ln), base.offset.sd_ln, Basis.LEARNED
            ), "0.1 mm", 0,
            Working(
                "P x exp(offset)",
                (Input("P", bare, "0.1 mm", Basis.ASSUMED), Input("offset", base.offset.offset_ln, "ln", Basis.LEARNED),
                 Input("readings", float(len(reads)))),
                "normal, 0.35 before any reading; 0.12 by needle, 0.35 by feel", "from the readings",
            ),
        )  # fmt: skip
    sets = base.mix.mean_melting_c - core.SET_DROP_C * 0.5
    melt = min(core.HIGHEST_C, base.mix.melt_c)
    prices = [(part.price_per_kg, part.share_pct) for part in parts]
    price = (
        sum((Decimal(str(share)) / 100 * each for each, share in prices if each is not None), Decimal(0))
        if all(each is not None for each, _ in prices) else None
    )  # fmt: skip
    hazards = tuple(dict.fromkeys(key for wax, _ in base.waxes for key in wax.hazards))
    low, high = core.POUR_ABOVE_SET_C
    return BaseShown(
        base.base_id, base.version_id, base.name, base.version,
        _version(session, base.base_id, None).version if kept else 0,
        parent.note if parent else "", row.why if row else "", parts, dent, measured, base.offset.offset_ln,
        base.offset.sd_ln, len(reads), melt, sets + low, base.mix.melt_c <= core.WATER_BATH_C,
        base.mix.melt_c > core.HIGHEST_C, min(melt, sets + low), min(melt, sets + high), base.mix.density_g_per_ml,
        price.quantize(Decimal("0.01")) if price is not None else None,
        _cast(session, base.version_id) if kept else (),
        materials.blocks(session, [base.version_id]) if kept else (), hazards,
    )  # fmt: skip


def _cast(session: Session, version_id: int) -> tuple[Cast, ...]:
    rows = session.scalars(
        select(StickPot).where(StickPot.base_version_id == version_id).order_by(StickPot.number.desc()).limit(40)
    )
    return tuple(
        Cast(
            pot.number, pot.name, pot.masstone_srgb, pot.started_at, pot.status, pot.target_dmm, pot.dent_dmm,
            pot.verdict, pot.sticks,
        )
        for pot in rows
    )  # fmt: skip


class WaxWeighed(Document):
    """What was weighed of one wax, of which lot."""

    wax_key: Key
    grams: Grams
    lot_id: RowId | None = None


class BlockAsked(Document):
    """A base melted once and cast into a block: what was weighed in, what came out, its code."""

    request_id: UUID
    waxes: Annotated[list[WaxWeighed], Field(min_length=1, max_length=MOST_PARTS)]
    yield_g: Grams
    code: Annotated[Words, Field(max_length=40)]
    note: Annotated[Words, Field(max_length=500)] = ""


OFF_SHARE = 0.03
"""A block is of its base while no share is further off than this."""


def melt_block(session: Session, now: datetime, base_id: int, version: int | None, asked: BlockAsked) -> int:
    """Keep a block of a base as a lot; its id. Raises Refused where it is not that base, Missing."""
    base = known(session, base_id, version)
    whole = sum(share for _, share in base.waxes)
    weighed = {wax.wax_key: wax.grams for wax in asked.waxes}
    total = sum(weighed.values())
    for n, wax in enumerate(asked.waxes):
        if wax.wax_key not in {known_wax.key for known_wax, _ in base.waxes}:
            raise Refused(f"waxes.{n}.wax_key", f"'{wax.wax_key}' is not in this base", "a wax of it, or a new version")
    for n, (wax_known, share) in enumerate(base.waxes):
        off = weighed.get(wax_known.key, 0.0) / total - share / whole
        if abs(off) > OFF_SHARE:
            raise Refused(
                f"waxes.{n}.grams", f"{wax_known.name} is {100 * abs(off):.0f} in 100 {'over' if off > 0 else 'short'}",
                f"about {share / whole * total:.0f} g of {total:.0f} g, or a new version of the base",
            )  # fmt: skip
    hazards = tuple(dict.fromkeys(key for wax, _ in base.waxes for key in wax.hazards))
    return materials.keep_block(
        session, now, asked.request_id,
        NewBlock(
            base.version_id, f"{base.name}, version {base.version}", base.mix.density_g_per_ml, hazards,
            tuple(WaxIn(wax.wax_key, wax.grams, wax.lot_id) for wax in asked.waxes), asked.yield_g, asked.code,
            asked.note,
        ),
    )  # fmt: skip
