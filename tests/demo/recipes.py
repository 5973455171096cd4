"""Burnt sienna, sixteen batches: another lot, a drift, one held and mended."""

from __future__ import annotations

import random
from datetime import datetime, timedelta
from decimal import Decimal
from uuid import UUID

from sqlalchemy.orm import Session

from niddy.core.checks import CheckKind
from niddy.core.colorimetry import spectrum_of
from niddy.core.mulling import EndedBy
from niddy.core.slab import Kind, Stage, Verdict
from niddy.core.verdicts import Release
from niddy.core.wetting import Body
from niddy.studio import checks, materials, recipes, workshop
from niddy.studio.plan import TubesAsked
from tests.demo.session import Acted, asked_for, demo_id


def sienna_recipe(session: Session, now: datetime) -> int:
    """Burnt sienna, sixteen batches: another lot from the ninth on, a drift that a rule finds, one held and mended."""
    lots = []
    for code, days_ago in (("BS-1", 300), ("BS-2", 140)):
        day = now - timedelta(days=days_ago)
        new = materials.NewLot("pigment", "burnt-sienna", code, day.date(), 1600.0, Decimal("13.60"))
        lots.append(materials.receive(session, day, new))
    oil = materials.receive(
        session,
        now - timedelta(days=310),
        materials.NewLot(
            "oil",
            "linseed-cold-pressed",
            "L-11",
            (now - timedelta(days=310)).date(),
            1800.0,
            Decimal("17.20"),
            opened_on=(now - timedelta(days=310)).date(),
        ),
    )
    middle = workshop.workshop(session).tube_types[1].id
    asked = recipes.RecipeAsked(
        pigments=[recipes.PartAsked(pigment_key="burnt-sienna")],
        oil_keys=["linseed-cold-pressed", "walnut-refined"],
        reduced_pvc=0.86,
        minutes_per_load=16.0,
        fineness_um=20.0,
        checks=[
            recipes.WantedAsked(kind=CheckKind.SPREAD, target=45.0, low=42.0, high=48.0),
            recipes.WantedAsked(kind=CheckKind.STRING, target=14.0, low=8.0, high=22.0),
            recipes.WantedAsked(kind=CheckKind.BLEED, target=1.0, high=4.0),
            recipes.WantedAsked(kind=CheckKind.MASSTONE, high=2.5),
            recipes.WantedAsked(kind=CheckKind.DRYING),
        ],
    )
    began = now - timedelta(days=234, hours=-3)
    recipe_id = recipes.make(session, began, "Burnt sienna, body colour", asked)
    reader = random.Random(11)
    for n, (ratio, spread_mm, string_mm, bleed_mm) in enumerate(SIENNA):
        start = began + timedelta(days=15.5 * n)
        lot = lots[0] if n < 8 else lots[1]
        plan = asked_for(lot, oil, 0.86, [(middle, 1)]).model_copy(update={"recipe_id": recipe_id})
        batch = Acted(session, f"burnt-sienna/{n}", start, plan)
        batch.act(2, Kind.READY)
        batch.powder(4, lot, 62.0)
        batch.oil(5, oil, round(62 * ratio / 100, 1))
        batch.look(15, Stage.WET_CURDS)
        batch.act(2, Kind.MULL)
        batch.act(13 + n % 4, Kind.LOAD_DONE, ended_by=EndedBy.MINUTES)
        batch.look(1, Stage.EVEN_PASTE, Body.TUBE)
        if n == _HELD:
            _held_and_mended(session, batch, lot, middle)
        batch.act(
            8, Kind.FINISH, verdict=Verdict.RIGHT, leftover_ml=1.0, tubes=[TubesAsked(tube_type_id=middle, count=1)]
        )
        _checked(session, batch, spread_mm, string_mm, bleed_mm, reader, last=n == len(SIENNA) - 1)
        if n == 1:
            recipes.change(
                session,
                start + timedelta(days=2),
                recipe_id,
                asked.model_copy(update={"standard_batch": batch.number}),
                f"batch {batch.number} made the standard",
            )
    return recipe_id


_HELD = 10


SIENNA = (
    # ratio g per 100 g, spread mm, string mm, bleed mm
    (40.4, 44.6, 13.0, 1.0),
    (40.9, 45.3, 14.0, 1.5),
    (40.1, 44.2, 12.0, 1.0),
    (41.2, 46.0, 15.0, 1.0),
    (40.6, 45.1, 14.0, 0.5),
    (40.3, 44.5, 13.0, 1.0),
    (41.0, 45.6, 15.0, 1.5),
    (40.7, 44.9, 13.0, 1.0),
    (40.8, 43.6, 12.0, 1.0),
    (41.9, 44.8, 14.0, 1.0),
    (42.4, 44.0, 14.0, 1.5),
    (42.1, 44.3, 13.0, 1.0),
    (42.3, 44.9, 14.0, 1.5),
    (42.5, 45.5, 15.0, 2.0),
    (42.8, 46.2, 16.0, 2.5),
    (43.0, 47.1, 18.0, 2.5),
)


def _held_and_mended(session: Session, batch: Acted, lot: int, tube: int) -> None:
    """Spread out of its tolerance: held, taken up again, pigment ground in, mulled, and finished anew."""
    finish = batch.act(
        6, Kind.FINISH, verdict=Verdict.SOFT, leftover_ml=2.0, tubes=[TubesAsked(tube_type_id=tube, count=1)]
    )
    reading = _reading(session, batch, CheckKind.SPREAD, 60, diameters_mm=[50.6, 51.4])
    checks.decide(
        session,
        batch.clock,
        batch.number,
        checks.ReleaseAsked(
            id=demo_id(batch.key, 900), release=Release.HOLD, reason="spreads too far; pigment goes in"
        ),
    )
    batch.act(30, Kind.STRIKE, strikes=finish)
    batch.powder(2, lot, 2.6)
    batch.act(2, Kind.MULL)
    batch.act(15, Kind.LOAD_DONE, ended_by=EndedBy.MINUTES)
    batch.look(1, Stage.EVEN_PASTE, Body.TUBE)
    checks.set_aside(session, batch.clock, batch.number, reading, "before the pigment was ground in")


def _reading(session: Session, batch: Acted, kind: CheckKind, after_min: float, **what: object) -> UUID:
    batch.count += 1
    batch.clock += timedelta(minutes=after_min)
    check_id = demo_id(batch.key, 500 + batch.count)
    asked = checks.CheckAsked.model_validate({"id": check_id, "kind": kind, "made_at": batch.clock, **what})
    checks.keep(session, batch.clock, batch.number, asked)
    return check_id


def _checked(
    session: Session,
    batch: Acted,
    spread_mm: float,
    string_mm: float,
    bleed_mm: float,
    reader: random.Random,
    *,
    last: bool,
) -> None:
    for by in (-0.3, 0.3):
        _reading(session, batch, CheckKind.SPREAD, 4, diameters_mm=[spread_mm + by - 0.4, spread_mm + by + 0.4])
    _reading(session, batch, CheckKind.STRING, 2, length_mm=string_mm)
    colour = list(_seen("#7a3b22", reader))
    _reading(session, batch, CheckKind.MASSTONE, 3, spectrum=colour)
    if last:
        return
    _reading(session, batch, CheckKind.BLEED, 60 * 24, length_mm=bleed_mm)
    for days, choice in ((1, "wet"), (1, "tacky"), (2, "touch-dry")):
        _reading(session, batch, CheckKind.DRYING, 60 * 24 * days, choice=choice)
    advised = checks.page(session, batch.clock, batch.number).verdict
    release = advised.release if advised and advised.release is Release.WATCH else Release.RELEASE
    checks.decide(session, batch.clock, batch.number, checks.ReleaseAsked(id=demo_id(batch.key, 901), release=release))


def _seen(colour: str, chance: random.Random) -> tuple[float, ...]:
    """What a colour reader would see: the demo's own, since a device is not the demo's to use."""
    tilt = chance.gauss(0, 0.012)
    return tuple(min(1.0, max(0.001, r * (1 + tilt) + chance.gauss(0, 0.002))) for r in spectrum_of(colour))
