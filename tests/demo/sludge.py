"""The demo's sludge: two cans over a year, a dish half dry, a cake in stock, and a tube of warm grey made of it."""

from __future__ import annotations

import math
from collections.abc import Iterable
from datetime import datetime, timedelta
from decimal import Decimal

from sqlalchemy.orm import Session

from niddy.core.slab import Kind, Stage, Verdict
from niddy.core.sludge import Method, Much
from niddy.core.wetting import Body
from niddy.studio import recorder, sludge, tubes, workshop
from niddy.studio.plan import LineAsked, OilAsked, PlanAsked, TubesAsked
from niddy.studio.slab import AmountAsked
from niddy.studio.sludge import CanAsked, DishAsked, TubePriceAsked
from niddy.studio.tubes import FillAsked
from tests.demo.session import Acted, demo_id, numbers_of

_WINDOW = (
    # days ago, what was on the brush, how much
    (352, "ultramarine-blue", "brushful"),
    (345, "burnt-umber", "palette"),
    (338, "green-earth", "brushful"),
    (331, "burnt-umber", "little"),
    (324, "chromium-oxide-green", "brushful"),
    (316, "ultramarine-blue", "palette"),
    (309, "burnt-umber", "palette"),
    (301, "green-earth", "brushful"),
    (294, "indian-red", "brushful"),
    (287, "ultramarine-blue", "brushful"),
    (280, "burnt-umber", "palette"),
    (272, "red-ochre", "brushful"),
    (265, "lamp-black", "little"),
    (258, "indian-red", "palette"),
    (251, "ultramarine-blue", "brushful"),
    (243, "burnt-umber", "palette"),
    (236, "chromium-oxide-green", "brushful"),
    (229, "red-ochre", "palette"),
    (222, "green-earth", "brushful"),
    (214, "burnt-umber", "brushful"),
    (207, "ultramarine-blue", "palette"),
    (200, "indian-red", "brushful"),
    (193, "red-ochre", "palette"),
    (186, "burnt-umber", "palette"),
)
_SINCE = (
    (176, "mars-yellow", "brushful"),
    (165, "red-ochre", "palette"),
    (154, "ultramarine-blue", "brushful"),
    (143, "mars-yellow", "palette"),
    (131, "burnt-umber", "brushful"),
    (120, "chromium-oxide-green", "palette"),
    (108, "red-ochre", "brushful"),
    (97, "ultramarine-blue", "palette"),
    (85, "indian-red", "brushful"),
    (73, "burnt-umber", "palette"),
    (61, "mars-yellow", "brushful"),
    (50, "green-earth", "palette"),
    (40, "lamp-black", "little"),
    (30, "burnt-umber", "palette"),
    (22, "red-ochre", "brushful"),
    (15, "ultramarine-blue", "palette"),
    (9, "indian-red", "brushful"),
)
_AFTER = ((1.1, "ultramarine-blue", "brushful"), (1.0, "red-ochre", "little"))
_BENCH = (
    (205, "cobalt-blue", "brushful"),
    (180, "lead-tin-yellow", "little"),
    (150, "cobalt-blue", "palette"),
    (118, None, "brushful"),
    (88, "lead-tin-yellow", "little"),
    (57, "cobalt-blue", "brushful"),
    (33, None, "little"),
    (12, "cobalt-blue", "brushful"),
    (0.6, "cobalt-blue", "little"),
)


class _Can:
    """One can of the demo, acted on in the order of its days."""

    def __init__(self, session: Session, now: datetime, ago: float, asked: CanAsked) -> None:
        self.session, self.now, self.key, self.count = session, now, asked.name, 0
        self.number = sludge.begin_can(session, now - timedelta(days=ago), asked)

    def act(self, ago: float, kind: str, **what: object) -> None:
        """One act so many days ago."""
        self.count += 1
        at = self.now - timedelta(days=ago)
        act = sludge.CANS.acts.act_of(
            {"id": demo_id(f"can/{self.key}", self.count), "kind": kind, "made_at": at, **what}
        )
        recorder.record(self.session, at, sludge.CANS, self.number, act)

    def wash(self, washings: Iterable[tuple[float, str | None, str]]) -> None:
        """Washings, as the tables above list them; None is nobody knows what."""
        numbers = numbers_of(self.session)
        for ago, key, much in washings:
            if key is None:
                self.act(ago, "washing", unlogged=Much(much))
            else:
                paints = [{"batch_number": numbers[f"old/{key}"], "much": much}]
                self.act(ago, "washing", paints=paints)

    def again(self, ago: float, solvent: str, ml: float) -> None:
        """Read, poured off, and used again with a little new."""
        self.act(ago + 0.02, "height", clear_mm=62.0, total_mm=96.0)
        self.act(ago, "pour_off", ml=ml)
        self.act(ago - 0.01, "solvent_in", solvent_key=solvent, ml=ml, origin="recovered")


def _dish(session: Session, begun: datetime, key: str, asked: DishAsked, weighed: Iterable[tuple[float, float]]) -> int:
    """A dish begun, and weighed after so many hours."""
    number = sludge.begin_dish(session, begun, asked)
    for n, (hours, gross) in enumerate(weighed, 1):
        at = begun + timedelta(hours=hours)
        act = sludge.DISHES.acts.act_of({"id": demo_id(key, n), "kind": "weigh", "made_at": at, "g": gross})
        recorder.record(session, at, sludge.DISHES, number, act)
    return number


def _drying(tare: float, start: float, dry: float, tau: float, hours: Iterable[float]) -> list[tuple[float, float]]:
    return [(h, round(tare + dry + (start - dry) * math.exp(-h / tau), 1)) for h in hours]


def sludge_of_a_year(session: Session, now: datetime, lots: dict[str, int]) -> None:
    """Load it all."""
    spirit = "odourless-mineral-spirit"
    window = _Can(
        session,
        now,
        360,
        CanAsked(
            request_id=demo_id("can", 1),
            name="Window can",
            place="north window",
            solvent_key=spirit,
            solvent_ml=750.0,
            tare_g=212.0,
            holds_ml=1_000.0,
            price_per_l=Decimal("11.50"),
        ),
    )
    window.wash(_WINDOW[:9])
    window.again(290, spirit, 520.0)
    window.wash(_WINDOW[9:17])
    window.again(232, spirit, 480.0)
    window.wash(_WINDOW[17:])
    window.act(181, "height", clear_mm=58.0, total_mm=92.0)
    window.act(180.5, "pour_off", ml=460.0)
    first = now - timedelta(days=180, hours=3)
    asked = DishAsked(
        request_id=demo_id("dish", 1),
        can_number=window.number,
        method=Method.EVAPORATE,
        wiped=True,
        tare_g=148.0,
        gross_g=391.0,
        place="glass on the sill",
    )
    dish = _dish(session, first, "dish/1", asked, _drying(148.0, 243.0, 138.0, 31.0, (20, 44, 92, 164, 188)))
    cake_lot = _into_stock(session, first + timedelta(hours=192), dish)
    window.act(179, "solvent_in", solvent_key=spirit, ml=440.0, origin="recovered")
    window.act(178.9, "solvent_in", solvent_key=spirit, ml=250.0, origin="bought")
    window.wash(_SINCE[:9])
    window.again(80, spirit, 470.0)
    window.wash(_SINCE[9:])
    window.act(3.2, "height", clear_mm=55.0, total_mm=90.0)
    window.act(3.1, "pour_off", ml=430.0)
    second = now - timedelta(days=2, hours=22)
    _dish(
        session,
        second,
        "dish/2",
        DishAsked(
            request_id=demo_id("dish", 2),
            can_number=window.number,
            method=Method.EVAPORATE,
            wiped=True,
            tare_g=152.5,
            gross_g=345.5,
            place="glass on the sill",
        ),
        _drying(152.5, 193.0, 112.0, 34.0, (15, 26, 47)),
    )
    window.act(2.5, "solvent_in", solvent_key=spirit, ml=410.0, origin="recovered")
    window.act(2.4, "solvent_in", solvent_key=spirit, ml=200.0, origin="bought")
    window.wash(_AFTER)
    window.act(0.5, "height", clear_mm=31.0, total_mm=94.0)
    _under_the_bench(session, now)
    sludge.set_tube_price(session, TubePriceAsked(bought_tube_price=Decimal("9.80")))
    _warm_grey(session, now, cake_lot, lots["linseed-cold-pressed"])


def _into_stock(session: Session, at: datetime, dish: int) -> int:
    strained = {"kind": "strained", "mesh_um": 150.0, "hairs": True}
    stocked = {"kind": "to_stock", "g": 136.0, "code": "WG-1", "anyway": True}
    for n, what in enumerate((strained, stocked), 20):
        act = sludge.DISHES.acts.act_of({**what, "id": demo_id(f"dish/{dish}", n), "made_at": at})
        recorder.record(session, at, sludge.DISHES, dish, act)
    lot_id = sludge.dish(session, at, dish).lot_id
    assert lot_id is not None
    return lot_id


def _under_the_bench(session: Session, now: datetime) -> None:
    """A can nobody logged for a while, and with lead in it: not for a tube without asking."""
    can = _Can(
        session,
        now,
        220,
        CanAsked(
            request_id=demo_id("can", 2),
            name="Brown can",
            place="under the bench",
            solvent_key="turpentine",
            solvent_ml=400.0,
            holds_ml=500.0,
            price_per_l=Decimal("19.00"),
            unlogged=Much.PALETTE,
        ),
    )
    can.wash(_BENCH[:4])
    can.again(100, "turpentine", 240.0)
    can.wash(_BENCH[4:])


def _warm_grey(session: Session, now: datetime, lot_id: int, oil_id: int) -> None:
    """A tube ground of the cake this morning."""
    small = workshop.workshop(session).tube_types[0].id
    asked = PlanAsked(
        lines=[LineAsked(lot_id=lot_id, parts=1.0)],
        oil=OilAsked(lot_id=oil_id),
        reduced_pvc=0.84,
        tubes=[TubesAsked(tube_type_id=small, count=1)],
    )
    grey = Acted(session, "warm-grey", now - timedelta(minutes=150), asked)
    grey.act(3, Kind.READY)
    grey.powder(5, lot_id, 44.0)
    grey.act(3, Kind.OIL, source=f"lot-{oil_id}", measure=AmountAsked(amount=7.5))
    grey.look(9, Stage.CRUMBS)
    grey.oil(3, oil_id, 2.4)
    grey.look(8, Stage.WET_CURDS)
    grey.load(9)
    grey.look(1, Stage.EVEN_PASTE, Body.TUBE)
    grey.act(12, Kind.FINISH, verdict=Verdict.RIGHT, leftover_ml=1.0, tubes=[TubesAsked(tube_type_id=small, count=1)])
    fill = FillAsked(id=demo_id("fill/warm-grey", 0), tube_type_id=small, place="Drawer 4")
    tubes.keep(session, grey.clock + timedelta(minutes=15), grey.number, fill)
