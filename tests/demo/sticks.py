"""The demo's sticks: two bases, a set of eight with their trials, a block in stock, and one pot in progress."""

from __future__ import annotations

import math
from datetime import datetime, timedelta
from decimal import Decimal
from uuid import UUID

from sqlalchemy.orm import Session

from niddy.core import sticks as core
from niddy.core.sticks import PigmentWay
from niddy.studio import materials, recorder, sticks
from niddy.studio.sticks import (
    BaseAsked,
    BlockAsked,
    ColourAsked,
    MouldAsked,
    MouldsAsked,
    PigmentAsked,
    SetAsked,
    StickRecipeAsked,
    VersionAsked,
    WaxWeighed,
)
from niddy.studio.sticks.bases import BasePartAsked
from niddy.studio.sticks.kept import pot as pot_kept
from tests.demo.materials import WAXES
from tests.demo.session import demo_id

FIRM, SOFT, BLENDING = 18.0, 34.0, 48.0
REALLY = {"Estuary base": 0.22, "Meadow base": -0.12}
"""By how much sticks of each base truly dent otherwise than reckoned, ln."""

WELL = {"line": "even", "glide": "glides", "crumbs": "none", "cover": "even", "breaks": "holds", "hands": "clean"}
WASHED = {"opens": "opens", "even": "even", "streaks": "none", "bleeds": "no"}


class Acted:
    """One pot of the demo, acted out with a clock of its own."""

    def __init__(self, session: Session, number: int, begin: datetime) -> None:
        self.session, self.number, self.clock, self.count = session, number, begin, 0

    def act(self, after_min: float, kind: str, **what: object) -> UUID:
        """One act so many minutes after the last."""
        self.count += 1
        self.clock += timedelta(minutes=after_min)
        act_id = demo_id(f"pot-{self.number}", self.count)
        act = sticks.POTS.acts.act_of({"id": act_id, "kind": kind, "made_at": self.clock, **what})
        recorder.record(self.session, self.clock, sticks.POTS, self.number, act)
        return act_id

    def view(self) -> sticks.PotView:
        """The pot as it is."""
        return sticks.view(self.session, self.clock, self.number)

    def to_the_drop(self, off: float) -> None:
        """Base in, melted, pigment in, stirred, and a drop that dents `off` (ln) otherwise than reckoned."""
        self.act(0, "ready")
        self.put_in("wax", "base")
        self.act(9, "temperature", temperature_c=71.0)
        self.act(6, "melted", temperature_c=self.view().strip.melt_c)
        self.mulled()
        self.act(3, "stir")
        self.drop(off)

    def put_in(self, role: str, kind: str) -> None:
        """All that was planned of one role."""
        for material in self.view().materials:
            if material.role == role:
                amount = {"amount": round(material.planned_g, 1)}
                self.act(1, kind, source=material.source, measure=amount)

    def mulled(self) -> None:
        """Pigment mulled into the oil, in at once; of a blending stick the oil alone."""
        parts = [
            {"source": material.source, "grams": round(material.planned_g, 1)}
            for material in self.view().materials
            if material.role in ("pigment", "oil")
        ]
        if len(parts) > 1:
            self.act(2, "mulled", parts=parts)
        else:
            self.put_in("oil", "oil")

    def drop(self, off: float, of_stick: bool = False) -> None:
        """A dent by the needle."""
        kept = pot_kept(self.session, self.number)
        plan = kept.planned.plan
        reading = core.read(kept.pot, plan.base, plan.oil, plan.offset_ln)
        assert reading is not None and reading.dent_dmm is not None
        kind = "dent" if of_stick else "drop"
        self.act(4, kind, by="needle", dent_dmm=round(reading.dent_dmm * math.exp(off), 1))

    def cast(self, off: float) -> None:
        """Put right where the drop says so, poured, cold, out, on the shelf."""
        for _ in range(3):
            mend = self.view().advice.mend
            if mend is None or mend.kind == "both" or not mend.add_g:
                break
            role = "oil" if mend.kind == "oil" else "wax"
            source = next(one.source for one in self.view().materials if one.role == role)
            self.act(2, mend.kind, source=source, measure={"amount": max(0.1, round(mend.add_g, 1))})
            self.act(2, "stir")
            self.drop(off)
        seen = self.view()
        self.act(3, "pour", temperature_c=round((seen.strip.pour_low_c + seen.strip.pour_high_c) / 2))
        self.act(6, "skin", temperature_c=round(seen.strip.pour_low_c - 7))
        self.act(50, "out", count=seen.sticks_planned, grams=round(seen.total_g * 0.9, 1))
        self.act(3, "finish", place="stick box")


def sticks_of_two_bases(session: Session, now: datetime, lots: dict[str, int]) -> None:
    """Load it all."""
    for key, code, ago, grams, price in WAXES:
        day = now - timedelta(days=ago)
        materials.receive(session, day, materials.NewLot("wax", key, code, day.date(), grams, Decimal(price)))
    begun = (now - timedelta(days=52)).replace(hour=10, minute=0, second=0, microsecond=0)
    slim = sticks.add_mould(session, MouldAsked(name="Slim round", diameter_mm=13.0, length_mm=90.0))
    thick = sticks.add_mould(session, MouldAsked(name="Thick stick", water_g=18.0))
    estuary = sticks.add(
        session,
        begun - timedelta(days=120),
        BaseAsked(name="Estuary base", note="for lines", parts=_parts(beeswax=70, carnauba=30)),
    )
    sticks.add_version(
        session,
        begun - timedelta(days=60),
        estuary,
        VersionAsked(parts=_parts(beeswax=50, microcrystalline_hard=35, carnauba=15), why="the first one snapped"),
    )
    meadow = sticks.add(
        session,
        begun - timedelta(days=30),
        BaseAsked(name="Meadow base", note="plants and bees only", parts=_parts(beeswax=60, candelilla=30, soy_wax=10)),
    )
    block = sticks.melt_block(
        session,
        begun - timedelta(days=2),
        estuary,
        None,
        BlockAsked(
            request_id=demo_id("block", 1),
            code="EB-1",
            yield_g=292.0,
            waxes=[
                WaxWeighed(wax_key=key, grams=grams, lot_id=_lot(session, key))
                for key, grams in (("beeswax", 150.0), ("microcrystalline-hard", 105.0), ("carnauba", 45.0))
            ],
        ),
    )
    first = _set(
        session,
        begun,
        "Shore colours",
        estuary,
        lots,
        thick,
        FIRM,
        ("bone-black", "cerulean-blue", "viridian", "caput-mortuum", None),
        block,
    )
    second = _set(
        session,
        begun + timedelta(days=9),
        "Warm colours",
        meadow,
        lots,
        thick,
        SOFT,
        ("nickel-titanate-yellow", "titanate-buff", "pyrrole-red"),
        None,
    )
    for n, number in enumerate(first):
        pot = Acted(session, number, begun + timedelta(hours=2 * n))
        pot.to_the_drop(REALLY["Estuary base"] + (-0.06, 0.05, 0.02, -0.03, 0.04)[n])
        pot.cast(REALLY["Estuary base"])
        _tried(pot, REALLY["Estuary base"], WELL, WASHED)
    for n, number in enumerate(second):
        pot = Acted(session, number, begun + timedelta(days=9, hours=2 * n))
        pot.to_the_drop(REALLY["Meadow base"] + (0.05, -0.04, 0.02)[n])
        pot.cast(REALLY["Meadow base"])
        red = pot.view().name.startswith("Pyrrole")
        seen = {**WELL, "hands": "smears", "cover": "thick"} if red else WELL
        _tried(pot, REALLY["Meadow base"], seen, {**WASHED, "bleeds": "yes", "opens": "opens"} if red else WASHED)
        if red:
            pot.act(5, "note", text="Red runs into the paper as soon as solvent touches it.")
    sticks.keep_recipe(session, begun + timedelta(days=20), first[3], StickRecipeAsked(name="Shore blue, firm"))
    (open_pot,) = _set(
        session,
        now - timedelta(hours=2),
        "Magenta for the shore set",
        estuary,
        lots,
        slim,
        SOFT,
        ("quinacridone-magenta",),
        None,
        count=3,
    )
    pot = Acted(session, open_pot, now - timedelta(minutes=38))
    pot.act(0, "ready")
    pot.put_in("wax", "base")
    pot.act(8, "temperature", temperature_c=74.0)
    pot.act(7, "melted", temperature_c=pot.view().strip.melt_c)
    pot.mulled()
    pot.act(3, "temperature", temperature_c=83.0)
    pot.act(1, "stir")
    pot.act(1, "heat_off")


def _parts(**shares: float) -> list[BasePartAsked]:
    return [BasePartAsked(wax_key=key.replace("_", "-"), share=float(share)) for key, share in shares.items()]


def _lot(session: Session, wax_key: str) -> int:
    return next(lot.id for lot in materials.lots(session, materials.WAX) if lot.material_key == wax_key)


def _set(
    session: Session,
    at: datetime,
    name: str,
    base_id: int,
    lots: dict[str, int],
    mould_id: int,
    dent: float,
    colours: tuple[str | None, ...],
    block: int | None,
    count: int = 1,
) -> tuple[int, ...]:
    asked = SetAsked(
        name=name,
        base_id=base_id,
        block_lot_id=block,
        oil_lot_id=lots["linseed-cold-pressed"],
        way=PigmentWay.MULLED,
        colours=[
            ColourAsked(
                pigments=[PigmentAsked(lot_id=lots[key])] if key else [],
                moulds=[MouldsAsked(mould_id=mould_id, count=count)],
                dent_dmm=dent if key else BLENDING,
            )
            for key in colours
        ],
    )
    return sticks.take_to_pots(session, at, demo_id(name, 1), asked)


def _tried(pot: Acted, off: float, dry: dict[str, str], wet: dict[str, str]) -> None:
    """The day after: drawn with and washed; then the finger test, a month on hard through."""
    pot.act(60 * 22, "dry_trial", seen=dry)
    pot.act(6, "wet_trial", tool="solvent", seen=wet)
    pot.drop(off, of_stick=True)
    pot.act(60 * 12, "dried", what="skin")
    pot.act(60 * 24 * 5, "dried", what="touch")
    if pot.number < 8:
        pot.act(60 * 24 * 25, "dried", what="through")
