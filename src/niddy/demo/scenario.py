"""A small made-up studio by an estuary, preparing a set of nine colours. All dates are relative to today."""

from __future__ import annotations

import random
from datetime import datetime, timedelta
from decimal import Decimal
from uuid import NAMESPACE_URL, UUID, uuid5

from sqlalchemy.orm import Session

from niddy.core.checks import CheckKind
from niddy.core.colorimetry import spectrum_of
from niddy.core.ladder import Measured
from niddy.core.measures import Measure, Unit
from niddy.core.mulling import EndedBy
from niddy.core.plan import Tooth
from niddy.core.shelf import KeptBody, Skin, Smell
from niddy.core.slab import Gloss, Grit, Kind, Stage, StringLength, Verdict, Way
from niddy.core.verdicts import Release
from niddy.core.wetting import Body
from niddy.db import Database
from niddy.demo import pictures
from niddy.studio import additives, batches, checks, materials, recipes, rubout, shelf, slab, tubes, workshop
from niddy.studio import plan as plans
from niddy.studio.additives import GelAsked, LadderAsked, LadderPart, RungAct, RungActAsked, TargetAsked
from niddy.studio.batches import Search
from niddy.studio.materials import Asked
from niddy.studio.plan import AdditiveAsked, LineAsked, OilAsked, PlanAsked, TubesAsked
from niddy.studio.shelf import FoundAsked, InspectAsked, ItemAct, ItemActAsked, ItemKind, Left
from niddy.studio.slab import Act, AmountAsked, PhotoAsked
from niddy.studio.tubes import FillAsked

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
    ("additive", "hydrogenated-castor-oil", "HC-1", 200, 120.0, "34.00"),
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
    recipe_id = _recipe(session, now)
    _stirred_in(session, now, lots, recipe_id)
    _shelf(session, now)


def _recipe(session: Session, now: datetime) -> int:
    """Burnt sienna, sixteen batches: another lot from the ninth on, a drift that a rule finds, one held and mended."""
    lots = []
    for code, days_ago in (("BS-1", 300), ("BS-2", 140)):
        day = now - timedelta(days=days_ago)
        new = materials.NewLot("pigment", "burnt-sienna", code, day.date(), 1600.0, Decimal("13.60"))
        lots.append(materials.receive(session, day, new))
    oil = materials.receive(
        session, now - timedelta(days=310),
        materials.NewLot("oil", "linseed-cold-pressed", "L-11", (now - timedelta(days=310)).date(), 1800.0,
                         Decimal("17.20"), opened_on=(now - timedelta(days=310)).date()),
    )  # fmt: skip
    middle = workshop.workshop(session).tube_types[1].id
    asked = recipes.RecipeAsked(
        pigments=[recipes.PartAsked(pigment_key="burnt-sienna")], oil_keys=["linseed-cold-pressed", "walnut-refined"],
        reduced_pvc=0.86, minutes_per_load=16.0, fineness_um=20.0,
        checks=[
            recipes.WantedAsked(kind=CheckKind.SPREAD, target=45.0, low=42.0, high=48.0),
            recipes.WantedAsked(kind=CheckKind.STRING, target=14.0, low=8.0, high=22.0),
            recipes.WantedAsked(kind=CheckKind.BLEED, target=1.0, high=4.0),
            recipes.WantedAsked(kind=CheckKind.MASSTONE, high=2.5),
            recipes.WantedAsked(kind=CheckKind.DRYING),
        ],
    )  # fmt: skip
    began = now - timedelta(days=234, hours=-3)
    recipe_id = recipes.make(session, began, "Burnt sienna, body colour", asked)
    reader = random.Random(11)
    for n, (ratio, spread_mm, string_mm, bleed_mm) in enumerate(_SIENNA):
        start = began + timedelta(days=15.5 * n)
        lot = lots[0] if n < 8 else lots[1]
        plan = _asked(lot, oil, 0.86, [(middle, 1)]).model_copy(update={"recipe_id": recipe_id})
        batch = _Session(session, f"burnt-sienna/{n}", start, plan)
        batch.act(2, Kind.READY)
        batch.powder(4, lot, 62.0)
        batch.oil(5, oil, round(62 * ratio / 100, 1))
        batch.look(15, Stage.WET_CURDS)
        batch.act(2, Kind.MULL)
        batch.act(13 + n % 4, Kind.LOAD_DONE, ended_by=EndedBy.MINUTES)
        batch.look(1, Stage.EVEN_PASTE, Body.TUBE)
        if n == _HELD:
            _held_and_mended(session, batch, lot, middle)
        batch.act(8, Kind.FINISH, verdict=Verdict.RIGHT, leftover_ml=1.0,
                  tubes=[TubesAsked(tube_type_id=middle, count=1)])  # fmt: skip
        _checked(session, batch, spread_mm, string_mm, bleed_mm, reader, last=n == len(_SIENNA) - 1)
        if n == 1:
            recipes.change(
                session, start + timedelta(days=2), recipe_id,
                asked.model_copy(update={"standard_batch": batch.number}), f"batch {batch.number} made the standard",
            )  # fmt: skip
    return recipe_id


_HELD = 10
_SIENNA = (
    # ratio g per 100 g, spread mm, string mm, bleed mm
    (40.4, 44.6, 13.0, 1.0), (40.9, 45.3, 14.0, 1.5), (40.1, 44.2, 12.0, 1.0), (41.2, 46.0, 15.0, 1.0),
    (40.6, 45.1, 14.0, 0.5), (40.3, 44.5, 13.0, 1.0), (41.0, 45.6, 15.0, 1.5), (40.7, 44.9, 13.0, 1.0),
    (40.8, 43.6, 12.0, 1.0), (41.9, 44.8, 14.0, 1.0), (42.4, 44.0, 14.0, 1.5), (42.1, 44.3, 13.0, 1.0),
    (42.3, 44.9, 14.0, 1.5), (42.5, 45.5, 15.0, 2.0), (42.8, 46.2, 16.0, 2.5), (43.0, 47.1, 18.0, 2.5),
)  # fmt: skip


def _held_and_mended(session: Session, batch: _Session, lot: int, tube: int) -> None:
    """Spread out of its tolerance: held, taken up again, pigment ground in, mulled, and finished anew."""
    finish = batch.act(
        6, Kind.FINISH, verdict=Verdict.SOFT, leftover_ml=2.0, tubes=[TubesAsked(tube_type_id=tube, count=1)]
    )
    reading = _reading(session, batch, CheckKind.SPREAD, 60, diameters_mm=[50.6, 51.4])
    checks.decide(
        session, batch.clock, batch.number,
        checks.ReleaseAsked(id=_uuid(batch.key, 900), release=Release.HOLD, reason="spreads too far; pigment goes in"),
    )  # fmt: skip
    batch.act(30, Kind.STRIKE, strikes=finish)
    batch.powder(2, lot, 2.6)
    batch.act(2, Kind.MULL)
    batch.act(15, Kind.LOAD_DONE, ended_by=EndedBy.MINUTES)
    batch.look(1, Stage.EVEN_PASTE, Body.TUBE)
    checks.set_aside(session, batch.clock, batch.number, reading, "before the pigment was ground in")


def _reading(session: Session, batch: _Session, kind: CheckKind, after_min: float, **what: object) -> UUID:
    batch.count += 1
    batch.clock += timedelta(minutes=after_min)
    check_id = _uuid(batch.key, 500 + batch.count)
    asked = checks.CheckAsked.model_validate({"id": check_id, "kind": kind, "made_at": batch.clock, **what})
    checks.keep(session, batch.clock, batch.number, asked)
    return check_id


def _checked(
    session: Session, batch: _Session, spread_mm: float, string_mm: float, bleed_mm: float, reader: random.Random,
    *, last: bool,
) -> None:  # fmt: skip
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
    checks.decide(
        session, batch.clock, batch.number, checks.ReleaseAsked(id=_uuid(batch.key, 901), release=release)
    )  # fmt: skip


def _seen(colour: str, chance: random.Random) -> tuple[float, ...]:
    """What a colour reader would see: the demo's own, since a device is not the demo's to use."""
    tilt = chance.gauss(0, 0.012)
    return tuple(min(1.0, max(0.001, r * (1 + tilt) + chance.gauss(0, 0.002))) for r in spectrum_of(colour))


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
    for tube, diameter, length, headspace, tare in zip(
        kept.tube_types, (20.0, 25.0, 28.5), (90.0, 110.0, 125.0), (26.0, 28.0, 31.0), (6.4, 9.1, 11.8), strict=True
    ):
        workshop.keep_tube_type(session, tube.id, tube.name, tube.usable_ml, diameter, length, headspace, tare, 3)
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
        _numbers(session)[key] = self.number
        self.asked = asked

    def act(self, after_min: float, kind: Kind, **what: object) -> UUID:
        self.count += 1
        self.clock += timedelta(minutes=after_min)
        event_id = _uuid(self.key, self.count)
        act = Act.model_validate({"id": event_id, "kind": kind, "made_at": self.clock, **what})
        slab.keep(self.session, self.clock, self.number, act)
        return event_id

    def powder(self, after_min: float, lot_id: int, grams: float) -> UUID:
        return self.act(after_min, Kind.POWDER, source=f"lot-{lot_id}", measure=AmountAsked(amount=grams))

    def oil(self, after_min: float, lot_id: int, grams: float) -> UUID:
        return self.act(after_min, Kind.OIL, source=f"lot-{lot_id}", measure=AmountAsked(amount=grams))

    def look(self, after_min: float, stage: Stage, body: Body | None = None, **seen: object) -> UUID:
        return self.act(after_min, Kind.LOOK, stage=stage, body=body, **seen)

    def load(self, minutes: float, by: EndedBy = EndedBy.MINUTES) -> None:
        """One load set out, mulled with a scrape half way, and put aside."""
        self.act(1.5, Kind.MULL)
        self.act(minutes / 2, Kind.SCRAPE)
        self.act(minutes / 2, Kind.LOAD_DONE, ended_by=by)

    def picture(self, colour: str, spread: float, text: str) -> None:
        self.count += 1
        self.clock += timedelta(minutes=0.5)
        asked = PhotoAsked(_uuid(self.key, self.count), self.clock, text)
        slab.take_photo(self.session, self.clock, self.number, asked, pictures.paste(colour, spread, self.count))


def _numbers(session: Session) -> dict[str, int]:
    """The numbers the demo's batches got, by their keys: they start where an interrupted loading left off."""
    numbers: dict[str, int] = session.info.setdefault("demo", {})
    return numbers


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
    black.act(3, Kind.READY)
    black.powder(6, lots["bone-black"], 112.0)
    black.oil(4, linseed, 63.0)
    black.look(12, Stage.CRUMBS)
    black.picture("#1f1c1a", 0.1, "crumbs, and some dry islands under them")
    black.oil(3, linseed, 7.5)
    black.look(16, Stage.WET_CURDS)
    black.load(16)
    black.look(
        1, Stage.EVEN_PASTE, Body.STIFF, grit=Grit.FAINT, string=StringLength.BREAKS, gloss=Gloss.SATIN
    )  # fmt: skip
    black.oil(2, linseed, 5.4)
    black.load(16)
    black.look(1, Stage.EVEN_PASTE, Body.TUBE, grit=Grit.NONE, string=StringLength.SHORT, gloss=Gloss.SATIN)
    for n in range(5):
        black.load(15 + n % 3, EndedBy.SILENCE if n % 3 == 2 else EndedBy.MINUTES)
    black.act(3, Kind.GATHER)
    black.act(1, Kind.NOTE, text="Strings a little already; the last drops were plenty.")
    black.look(4, Stage.EVEN_PASTE, Body.TUBE, grit=Grit.NONE, string=StringLength.SHORT, gloss=Gloss.SATIN)
    black.picture("#1f1c1a", 1.0, "all six loads together")
    black.act(
        25,
        Kind.FINISH,
        verdict=Verdict.RIGHT,
        leftover_ml=1.8,
        tubes=[TubesAsked(tube_type_id=middle, count=3)],
    )

    red = _Session(session, "caput-mortuum", at(20, 13.25), _asked(lots["caput-mortuum"], linseed, 0.86, [(middle, 2)]))
    red.act(2, Kind.READY)
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
    green.act(4, Kind.READY)
    green.powder(7, lots["cobalt-green"], 117.0)
    green.act(2, Kind.BOTTLE, bottle_g=431.6)
    green.act(3, Kind.BY_EYE, source=f"lot-{walnut}")
    green.look(10, Stage.CRUMBS)
    green.act(4, Kind.BY_EYE, source=f"lot-{walnut}")
    green.look(9, Stage.WET_CURDS)
    green.load(17)
    green.load(16)
    green.look(2, Stage.EVEN_PASTE, Body.TUBE, grit=Grit.NONE)
    green.act(2, Kind.BOTTLE, bottle_g=403.7)
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
    magenta.act(2, Kind.READY)
    magenta.powder(4, lots["quinacridone-magenta"], 57.9)
    magenta.oil(5, poppy, 34.5)
    magenta.look(13, Stage.CRUMBS)
    magenta.oil(4, poppy, 2.2)
    magenta.look(12, Stage.WET_CURDS)
    magenta.picture("#8a1f4e", 0.35, "wet curds, no dust left")
    magenta.act(1, Kind.MULL)
    magenta.act(3, Kind.SCRAPE)
    magenta.act(2.5, Kind.PAUSE)

    plans.save(session, now - timedelta(days=2), "Viridian, stiff, for two tubes",
               _asked(lots["viridian"], poppy, 0.9, [(middle, 2)]))  # fmt: skip
    plans.save(session, now - timedelta(days=1), "Titanate buff for the set",
               _asked(lots["titanate-buff"], linseed, 0.86, [(small, 2), (middle, 1)]))  # fmt: skip


def _stirred_in(session: Session, now: datetime, lots: dict[str, int], recipe_id: int) -> None:
    """Two gels; a stearate ladder with an answer, a castor ladder where none does; yolk paint past its use-by."""
    made = {lot.code: lot for lot in materials.lots(session, kind="additive")}
    oil_id = lots["linseed-cold-pressed"]

    def gel(code: str, key: str, tin: str, days_ago: float, additive_g: float, oil_g: float, out_g: float) -> int:
        asked = GelAsked(
            additive_key=key, oil_key="linseed-cold-pressed", additive_g=additive_g, oil_g=oil_g, yield_g=out_g,
            code=code, additive_lot_id=made[tin].id, oil_lot_id=oil_id,
        )  # fmt: skip
        return additives.make_gel(session, now - timedelta(days=days_ago), asked).id

    stearate = gel("G-1", "aluminium-stearate", "AS-1", 96, 12.1, 108.4, 114.8)
    castor = gel("G-2", "hydrogenated-castor-oil", "HC-1", 40, 8.0, 72.3, 76.1)
    _ladder(
        session, now - timedelta(days=88, hours=2), _SIENNA_LADDER, "stearate",
        LadderAsked(
            name="Burnt sienna: least stearate against the halo", recipe_id=recipe_id,
            additives=[LadderPart(additive_key="aluminium-stearate", lot_id=stearate, top_dose_pct=2.5)],
            oil_g_per_100g=42.0, paste_per_rung_g=6.0, rungs=6,
            targets=[TargetAsked(what=Measured.BLEED, at_most=1.5), TargetAsked(what=Measured.STRING, at_least=8.0)],
        ),
    )  # fmt: skip
    _ladder(
        session, now - timedelta(days=30, hours=1), _MAGENTA_LADDER, "castor",
        LadderAsked(
            name="Magenta: short enough, and no halo, by castor wax",
            additives=[LadderPart(additive_key="hydrogenated-castor-oil", lot_id=castor, top_dose_pct=1.5)],
            oil_g_per_100g=63.0, paste_per_rung_g=5.0, rungs=5,
            targets=[TargetAsked(what=Measured.BLEED, at_most=1.4), TargetAsked(what=Measured.STRING, at_least=9.0)],
        ),
    )  # fmt: skip

    small = workshop.workshop(session).tube_types[0].id
    buff, poppy = lots["titanate-buff"], lots["poppy-refined"]
    plan = _asked(buff, poppy, 0.86, [(small, 1)]).model_copy(
        update={"additives": [AdditiveAsked(additive_key="egg-yolk", dose_pct=2.0)]}
    )
    yolk = _Session(session, "titanate-buff-yolk", now - timedelta(days=13, hours=4), plan)
    yolk.act(3, Kind.READY)
    yolk.powder(4, buff, 52.0)
    yolk.oil(4, poppy, 9.8)
    yolk.look(12, Stage.WET_CURDS)
    yolk.act(2, Kind.MULL)
    yolk.act(16, Kind.LOAD_DONE, ended_by=EndedBy.MINUTES)
    yolk.look(1, Stage.EVEN_PASTE, Body.TUBE)
    yolk.act(4, Kind.ADDITIVE, source="library-egg-yolk", measure=AmountAsked(unit=Unit.DROP, amount=60))
    yolk.look(3, Stage.EVEN_PASTE, Body.STIFF, string=StringLength.BREAKS)
    yolk.act(5, Kind.FINISH, verdict=Verdict.RIGHT, leftover_ml=1.0,
             tubes=[TubesAsked(tube_type_id=small, count=1)])  # fmt: skip


_SIENNA_LADDER = (
    # two diameters in mm, string mm, halo mm
    ((46.1, 45.3), 15.0, 3.5), ((44.0, 44.6), 14.0, 2.9), ((43.2, 42.8), 13.0, 2.0),
    ((41.9, 41.5), 11.0, 1.6), ((40.6, 41.2), 10.0, 0.8), ((39.8, 39.2), 9.0, 0.4),
)  # fmt: skip
_MAGENTA_LADDER = (
    ((49.2, 48.6), 21.0, 3.0), ((46.0, 46.8), 16.0, 2.6), ((44.1, 43.3), 12.0, 2.1), ((41.0, 41.6), 9.0, 1.8),
    ((39.4, 39.0), 7.0, 1.2),
)  # fmt: skip


def _ladder(
    session: Session,
    begin: datetime,
    read: tuple[tuple[tuple[float, float], float, float], ...],
    key: str,
    asked: LadderAsked,
) -> None:
    """A ladder weighed out, read the same day, and its halos a day on."""
    ladder_id = additives.begin(session, begin, _uuid(f"ladder/{key}", 0), asked)
    count = 0

    def act(at: datetime, rung: int, kind: RungAct, **what: object) -> None:
        nonlocal count
        count += 1
        told = {"id": _uuid(f"ladder/{key}", count), "rung": rung, "kind": kind, "made_at": at, **what}
        additives.act(session, at, ladder_id, RungActAsked.model_validate(told))

    for n in range(len(read)):
        act(begin + timedelta(minutes=6 * n + 3), n, RungAct.WEIGHED)
        act(begin + timedelta(minutes=6 * n + 5), n, RungAct.MIXED)
    for n, (across, string_mm, halo_mm) in enumerate(read):
        act(begin + timedelta(minutes=50 + 4 * n), n, RungAct.SPREAD, diameters_mm=list(across))
        act(begin + timedelta(minutes=52 + 4 * n), n, RungAct.STRING, length_mm=string_mm)
        act(begin + timedelta(hours=26, minutes=n), n, RungAct.BLEED, length_mm=halo_mm)


_OLD = (
    # pigment, oil, months ago, powder g, oil g, tubes of 40 ml, of 20 ml, place
    ("ultramarine-blue", "linseed-refined", 47, 220.0, 82.0, 3, 1, "Drawer 1"),
    ("burnt-umber", "linseed-refined", 43, 180.0, 104.0, 4, 1, "Drawer 1"),
    ("lead-tin-yellow", "walnut-refined", 38, 330.0, 42.0, 2, 1, "Locked box"),
    ("green-earth", "linseed-refined", 33, 160.0, 98.0, 3, 2, "Drawer 2"),
    ("cobalt-blue", "poppy-refined", 27, 190.0, 72.0, 2, 2, "Locked box"),
    ("chromium-oxide-green", "linseed-refined", 22, 240.0, 44.0, 2, 0, "Drawer 2"),
    ("indian-red", "linseed-refined", 16, 210.0, 42.0, 2, 0, "Drawer 3"),
    ("lamp-black", "linseed-refined", 12, 60.0, 72.0, 2, 0, "Drawer 3"),
    ("red-ochre", "linseed-refined", 9, 210.0, 66.0, 2, 2, "Drawer 3"),
    ("mars-yellow", "walnut-refined", 5, 130.0, 74.0, 2, 2, "Drawer 4"),
)  # fmt: skip


def _shelf(session: Session, now: datetime) -> None:
    """About sixty tubes and jars over four years: some separated, one skinned, one part-filled, one nobody can name."""
    small, middle, _ = (tube.id for tube in workshop.workshop(session).tube_types)
    filled: dict[str, list[int]] = {}

    def fill(at: datetime, number: int, key: str, tube: int, place: str, n: int, **what: object) -> int:
        told = {"id": _uuid(f"fill/{key}", n), "tube_type_id": tube, "place": place, **what}
        _, item = tubes.keep(session, at, number, FillAsked.model_validate(told))
        filled.setdefault(key, []).append(item)
        return item

    for key, oil, months, powder_g, oil_g, middles, smalls, place in _OLD:
        start = now - timedelta(days=30.4 * months, hours=5)
        asked = PlanAsked(
            lines=[LineAsked(pigment_key=key, parts=1.0)],
            oil=OilAsked(oil_key=oil),
            reduced_pvc=0.86,
            pigment_g=powder_g,
        )
        batch = _Session(session, f"old/{key}", start, asked)
        batch.act(4, Kind.READY)
        batch.act(4, Kind.POWDER, source=f"library-{key}", measure=AmountAsked(amount=powder_g))
        batch.act(4, Kind.OIL, source=f"library-{oil}", measure=AmountAsked(amount=oil_g))
        batch.look(20, Stage.WET_CURDS)
        batch.look(40, Stage.EVEN_PASTE, Body.TUBE)
        wanted = [TubesAsked(tube_type_id=middle, count=middles), TubesAsked(tube_type_id=small, count=smalls)]
        batch.act(10, Kind.FINISH, verdict=Verdict.RIGHT, leftover_ml=2.0, tubes=wanted)
        sizes = [middle] * middles + [small] * smalls
        for n, tube in enumerate(sizes):
            fill(batch.clock, batch.number, key, tube, place, n)

    numbers = _numbers(session)
    recent = (
        ("bone-black", "bone-black", [middle, middle, middle], "Drawer 3"),
        ("caput-mortuum", "caput-mortuum", [middle, middle], "Drawer 4"),
        ("cobalt-green", "cobalt-green", [small, small], "Locked box"),
        ("titanate-buff-yolk", "yolk", [small], "Cold box"),
    )
    for name, key, sizes, place in recent:
        number = numbers[name]
        ended = batches.batch(session, number, 0).ended_at or now
        for n, tube in enumerate(sizes):
            fill(ended + timedelta(minutes=20 + n), number, key, tube, place, n)
    red = numbers["caput-mortuum"]
    jar = batches.batch(session, red, 0).ended_at or now
    told = FillAsked(id=_uuid("fill/jar", 0), jar="100 ml jar", volume_ml=7.0, cover="oil", place="Drawer 4")
    tubes.keep(session, jar + timedelta(hours=1), red, told)
    for n in range(len(_SIENNA) - 1):
        number = numbers[f"burnt-sienna/{n}"]
        ended = batches.batch(session, number, 0).ended_at or now
        fill(ended + timedelta(days=6), number, "sienna", middle, "Drawer 4" if n < 9 else "Drawer 5", n)

    def look(key: str, which: int, days_ago: float, layer: float, height: float, **what: object) -> None:
        at = now - timedelta(days=days_ago)
        told = {"id": _uuid(f"look/{key}", which * 100 + int(days_ago)), "made_on": at.date(), "layer_mm": layer,
                "fill_height_mm": height, **what}  # fmt: skip
        shelf.keep_look(session, at, filled[key][which], InspectAsked.model_validate(told))

    # What keeps well has been looked at in rounds, and rests for a year after the third.
    for key, first in (("lead-tin-yellow", 0), ("green-earth", 2), ("cobalt-blue", 1), ("chromium-oxide-green", 0),
                       ("indian-red", 0), ("red-ochre", 0), ("mars-yellow", 0)):  # fmt: skip
        for which in range(first, len(filled[key])):
            for days_ago in (150, 110, 45 + which):
                look(key, which, days_ago, 0, 80)
    for which in range(4):
        look("ultramarine-blue", which, 700, 1.0, 80)
        look("ultramarine-blue", which, 120, 9.5 if which < 2 else 0.0, 80)
    for which in range(3):
        look("burnt-umber", which, 900, 0, 80)
        look("burnt-umber", which, 300, 0, 80)
    look("green-earth", 0, 60, 14.0, 80)
    look("green-earth", 1, 60, 3.0, 80)
    look("lamp-black", 0, 40, 0, 80, body=KeptBody.STIFFER)
    look("sienna", 0, 30, 0, 80, skin=Skin.SKIN)
    look("sienna", 1, 30, 5.0, 80)
    look("cobalt-blue", 0, 200, 0, 80, smell=Smell.RANCID)
    for which in range(4, 12):
        look("sienna", which, 20, 0, 80)

    def leave(key: str, which: int, days_ago: float, how: Left, text: str) -> None:
        at = now - timedelta(days=days_ago)
        asked = ItemActAsked(id=_uuid(f"leave/{key}", which), kind=ItemAct.LEAVE, made_at=at, how=how, text=text)
        shelf.act(session, at, filled[key][which], asked)

    leave("burnt-umber", 3, 500, Left.USED_UP, "")
    leave("indian-red", 1, 90, Left.GIVEN, "for the class in the boathouse")
    nameless = FoundAsked(
        id=_uuid("found", 0), kind=ItemKind.JAR, container="glass jar", srgb="#24308a", volume_ml=62.0, gross_g=202.4,
        tare_g=98.0, place="Cellar sill", note="no label left, oil on top",
    )  # fmt: skip
    shelf.find(session, now - timedelta(days=3), nameless)
