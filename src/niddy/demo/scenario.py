"""A small made-up studio by an estuary, preparing a set of nine colours. All dates are relative to today."""

from __future__ import annotations

from datetime import datetime, timedelta
from decimal import Decimal
from uuid import NAMESPACE_URL, UUID, uuid5

from sqlalchemy.orm import Session

from niddy.core.measures import Measure, Unit
from niddy.core.plan import Tooth
from niddy.core.slab import Kind, Stage, Verdict, Way
from niddy.core.wetting import Body
from niddy.db import Database
from niddy.studio import batches, materials, rubout, slab, workshop
from niddy.studio import plan as plans
from niddy.studio.batches import Search
from niddy.studio.materials import Asked
from niddy.studio.plan import LineAsked, OilAsked, PlanAsked, TubesAsked
from niddy.studio.slab import Act, AmountAsked

STUDIO_NAME = "Saltmarsh Bench"

_PIGMENTS = (
    # key, code, days ago, grams, price per kg, weighed loose density
    ("bone-black", "BB-3", 210, 900.0, "14.50", 0.52),
    ("cerulean-blue", "CE-1", 150, 400.0, "148.00", None),
    ("viridian", "VI-2", 150, 350.0, "96.00", None),
    ("caput-mortuum", "CM-1", 320, 700.0, "19.80", None),
    ("nickel-titanate-yellow", "NT-1", 120, 500.0, "42.00", None),
    ("pyrrole-red", "PR-4", 60, 250.0, "118.00", 0.28),
    ("quinacridone-magenta", "QM-2", 60, 180.0, "164.00", None),
    ("cobalt-green", "CG-1", 90, 300.0, "132.00", None),
    ("titanate-buff", "TB-1", 90, 450.0, "38.50", None),
    ("lead-antimonate-yellow", "LA-1", 45, 220.0, "176.00", None),
)
_OILS = (
    ("poppy-refined", "P-7", 80, 900.0, "31.00", 0.0215),
    ("linseed-cold-pressed", "L-12", 130, 1900.0, "17.50", None),
    ("walnut-refined", "W-3", 95, 700.0, "26.00", None),
)
_OTHERS = (
    ("additive", "aluminium-stearate", "AS-1", 260, 250.0, "22.00"),
    ("additive", "beeswax", "BW-2", 300, 180.0, "28.00"),
    ("tube", "20 ml tube", "T20-1", 110, 60.0, "0.34"),
    ("tube", "40 ml tube", "T40-2", 110, 85.0, "0.41"),
    ("jar", "100 ml jar", "J100-1", 140, 12.0, "1.15"),
)


def load_if_empty(database: Database, now: datetime) -> bool:
    """Load the demo where no lot and no batch was ever recorded; whether it was loaded."""
    with database.session() as session:
        if materials.lots(session, with_used_up=True, limit=1) or batches.search(session, Search(limit=1)).batches:
            return False
        load(session, now)
        return True


def load(session: Session, now: datetime) -> None:
    """Load the demo studio."""
    workshop.furnish(session)
    _furnish_more(session)
    lots = {}
    for key, code, ago, grams, price, loose in _PIGMENTS:
        day = now - timedelta(days=ago)
        lots[key] = materials.receive(
            session, day,
            materials.NewLot("pigment", key, code, day.date(), grams, Decimal(price), loose_density_g_per_ml=loose),
        )  # fmt: skip
    for key, code, ago, grams, price, drop in _OILS:
        day = now - timedelta(days=ago)
        new = materials.NewLot(
            "oil", key, code, day.date(), grams, Decimal(price), drop_g=drop, supplier_code="H", opened_on=day.date()
        )
        lots[key] = materials.receive(session, day, new)
    for kind, key, code, ago, amount, price in _OTHERS:
        day = now - timedelta(days=ago)
        materials.receive(session, day, materials.NewLot(kind, key, code, day.date(), amount, Decimal(price)))
    _batches(session, now, lots)
    _demand(session, now)


def _demand(session: Session, now: datetime) -> None:
    """What the studio learned: lots that drift, a test that went wrong, a range from a data sheet, one under way."""
    linseed = Asked(None, "linseed-refined")

    def rub_out(key: str, code: str, days_ago: float, steps: list[float], *, done: bool = True) -> int:
        at = now - timedelta(days=days_ago)
        lot_id = next(kept.id for kept in materials.lots_of(session, key) if kept.code == code)
        name = f"{code}/{days_ago}"
        test_id = rubout.begin(session, at, _uuid(name, 0), lot_id, linseed, 5.0, 20.0)
        for n, grams in enumerate(steps, 1):
            at += timedelta(minutes=2)
            rubout.add_oil(session, at, test_id, _uuid(name, n), Measure(Unit.GRAM, grams))
        if done:
            rubout.end(session, at + timedelta(minutes=3), test_id)
        return test_id

    # Yellow ochre from one pit, drier with every lot.
    for n, (code, days_ago, absorbed) in enumerate((("YO-1", 400, 1.52), ("YO-2", 250, 1.66), ("YO-3", 70, 1.83))):
        day = now - timedelta(days=days_ago)
        materials.receive(
            session, day, materials.NewLot("pigment", "yellow-ochre", code, day.date(), 600.0, Decimal("11.20"))
        )
        rub_out("yellow-ochre", code, days_ago - 5, [absorbed - 0.34, 0.2, 0.14])
        if n < 2:
            rub_out("yellow-ochre", code, days_ago - 6, [absorbed - 0.40, 0.3, 0.14])

    # Bone black agrees with itself but for one test.
    for days_ago, absorbed in ((200, 2.62), (199, 2.71), (120, 2.66)):
        rub_out("bone-black", "BB-3", days_ago, [absorbed - 0.5, 0.3, 0.2])
    rub_out("bone-black", "BB-3", 40, [2.9, 0.6, 0.4])

    rubout.enter_prior(session, "pyrrole-red", 47.0, 55.0, "data sheet that came with the tin")
    rub_out("cerulean-blue", "CE-1", 0.02, [0.6, 0.15], done=False)


def _furnish_more(session: Session) -> None:
    kept = workshop.workshop(session)
    workshop.keep_slab(session, None, "Marble offcut 20 x 25 cm", 500.0, Tooth.WORN, None)
    workshop.keep_muller(session, None, "Small muller", 45.0, Tooth.FAIR)
    chosen = kept.settings
    workshop.change_settings(
        session,
        workshop.Settings(
            STUDIO_NAME, chosen.spoon_set, chosen.default_reduced_pvc, chosen.default_slab_id,
            chosen.default_muller_id, chosen.mass_unit, chosen.currency,
        ),
    )  # fmt: skip


class _Session:
    """One batch of the demo, acted out with a clock of its own."""

    def __init__(self, session: Session, key: str, begin: datetime, asked: PlanAsked) -> None:
        self.session, self.key, self.clock = session, key, begin
        self.count = 0
        self.number = slab.take_to_slab(session, begin, _uuid(key, 0), asked)
        self.asked = asked

    def act(self, after_min: float, kind: Kind, **what: object) -> UUID:
        self.count += 1
        self.clock += timedelta(minutes=after_min)
        event_id = _uuid(self.key, self.count)
        act = Act.model_validate({"id": event_id, "kind": kind, "made_at": self.clock, **what})
        slab.record(self.session, self.clock, self.number, act)
        return event_id

    def powder(self, after_min: float, lot_id: int, grams: float) -> UUID:
        return self.act(after_min, Kind.POWDER, source=f"lot-{lot_id}", measure=AmountAsked(amount=grams))

    def oil(self, after_min: float, lot_id: int, grams: float) -> UUID:
        return self.act(after_min, Kind.OIL, source=f"lot-{lot_id}", measure=AmountAsked(amount=grams))

    def look(self, after_min: float, stage: Stage, body: Body | None = None) -> UUID:
        return self.act(after_min, Kind.LOOK, stage=stage, body=body)


def _uuid(key: str, count: int) -> UUID:
    return uuid5(NAMESPACE_URL, f"niddy-demo/{key}/{count}")


def _asked(lot_id: int, oil_id: int, reduced: float, tubes: list[tuple[int, int]]) -> PlanAsked:
    return PlanAsked(
        lines=[LineAsked(lot_id=lot_id, parts=1.0)],
        oil=OilAsked(lot_id=oil_id),
        reduced_pvc=reduced,
        tubes=[TubesAsked(tube_type_id=t, count=n) for t, n in tubes],
    )


def _batches(session: Session, now: datetime, lots: dict[str, int]) -> None:
    small, middle, _ = (tube.id for tube in workshop.workshop(session).tube_types)
    linseed, poppy, walnut = lots["linseed-cold-pressed"], lots["poppy-refined"], lots["walnut-refined"]

    def at(days_ago: float, hour: float) -> datetime:
        day = (now - timedelta(days=days_ago)).replace(hour=0, minute=0, second=0, microsecond=0)
        return day + timedelta(hours=hour)

    black = _Session(session, "bone-black", at(34, 9.5), _asked(lots["bone-black"], linseed, 0.86, [(middle, 3)]))
    black.powder(6, lots["bone-black"], 112.0)
    black.oil(4, linseed, 63.0)
    black.look(12, Stage.CRUMBS)
    black.oil(3, linseed, 7.5)
    black.look(16, Stage.WET_CURDS)
    black.look(38, Stage.EVEN_PASTE, Body.STIFF)
    black.oil(2, linseed, 5.4)
    black.act(1, Kind.NOTE, text="Strings a little already; the last drops were plenty.")
    black.look(20, Stage.EVEN_PASTE, Body.TUBE)
    black.act(
        25,
        Kind.FINISH,
        verdict=Verdict.RIGHT,
        leftover_ml=1.8,
        tubes=[TubesAsked(tube_type_id=middle, count=3)],
    )

    red = _Session(session, "caput-mortuum", at(20, 13.25), _asked(lots["caput-mortuum"], linseed, 0.86, [(middle, 2)]))
    red.powder(5, lots["caput-mortuum"], 171.5)
    red.oil(4, linseed, 39.4)
    red.look(14, Stage.WET_CURDS)
    slip = red.oil(10, linseed, 96.0)
    red.act(1, Kind.STRIKE, strikes=slip)
    red.oil(1, linseed, 9.6)
    red.look(25, Stage.EVEN_PASTE, Body.SOFT)
    red.act(2, Kind.CHOOSE_WAY, way=Way.ADD_PIGMENT)
    red.powder(3, lots["caput-mortuum"], 18.5)
    red.look(22, Stage.EVEN_PASTE, Body.TUBE)
    red.act(
        18,
        Kind.FINISH,
        verdict=Verdict.SOFT,
        leftover_ml=7.5,
        tubes=[TubesAsked(tube_type_id=middle, count=2)],
    )

    green = _Session(session, "cobalt-green", at(8, 10), _asked(lots["cobalt-green"], walnut, 0.86, [(small, 2)]))
    green.powder(7, lots["cobalt-green"], 117.0)
    green.oil(5, walnut, 23.5)
    green.look(10, Stage.CRUMBS)
    green.oil(4, walnut, 4.4)
    green.look(34, Stage.EVEN_PASTE, Body.TUBE)
    green.act(
        20,
        Kind.FINISH,
        verdict=Verdict.RIGHT,
        leftover_ml=2.2,
        tubes=[TubesAsked(tube_type_id=small, count=2)],
    )

    magenta = _Session(
        session, "quinacridone-magenta", now - timedelta(minutes=52),
        _asked(lots["quinacridone-magenta"], poppy, 0.86, [(middle, 2)]),
    )  # fmt: skip
    magenta.powder(6, lots["quinacridone-magenta"], 57.9)
    magenta.oil(5, poppy, 34.5)
    magenta.look(13, Stage.CRUMBS)
    magenta.oil(4, poppy, 2.2)
    magenta.look(14, Stage.WET_CURDS)

    plans.save(session, now - timedelta(days=2), "Viridian, stiff, for two tubes",
               _asked(lots["viridian"], poppy, 0.9, [(middle, 2)]))  # fmt: skip
    plans.save(session, now - timedelta(days=1), "Titanate buff for the set",
               _asked(lots["titanate-buff"], linseed, 0.86, [(small, 2), (middle, 1)]))  # fmt: skip
