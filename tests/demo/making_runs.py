"""The demo's runs of its processes: one out of its pH window, one washed too little, a soda under suspicion."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from decimal import Decimal
from uuid import UUID

from sqlalchemy.orm import Session

from niddy.studio import making, materials, recorder
from niddy.studio.making import RunBegin
from niddy.studio.materials import NewLot, OwnRaw
from tests.demo.session import demo_id

# name, formula, code, days ago, g, price a kg, purity
RAW = (
    ("Copper sulfate", "CuSO4.5H2O", "CS-2", 230, 900.0, "9.80", 0.99),
    ("Soda, anhydrous", "Na2CO3", "SO-1", 230, 400.0, "4.60", 0.99),
    ("Soda, anhydrous", "Na2CO3", "SO-2", 60, 500.0, "4.90", 0.99),
    ("Potash alum", "KAl(SO4)2.12H2O", "AL-1", 120, 350.0, "7.20", None),
    ("Marshwort flowers, dried", "", "MW-1", 100, 320.0, "38.00", None),
)


def raw_lots(session: Session, now: datetime) -> dict[str, int]:
    """Receive what the runs are weighed from; their ids by code."""
    keys: dict[str, str] = {}
    found = {}
    for name, formula, code, ago, grams, price, purity in RAW:
        day = now - timedelta(days=ago)
        if name not in keys:
            keys[name] = materials.add_own(session, day, materials.RAW, OwnRaw(name=name, formula=formula).raw())
        new = NewLot(materials.RAW, keys[name], code, day.date(), grams, Decimal(price), purity=purity)
        found[code] = materials.receive(session, day, new)
    return found


@dataclass
class Script:
    """A run of the demo: acts one after another on a clock of its own."""

    session: Session
    key: str
    number: int
    clock: datetime
    count: int = 0

    def act(self, after_min: float, kind: str, **what: object) -> UUID:
        self.clock += timedelta(minutes=after_min)
        self.count += 1
        said = {"id": demo_id(self.key, self.count), "made_at": self.clock, "kind": kind, **what}
        recorder.record(self.session, self.clock, making.RUNS, self.number, making.RUNS.acts.act_of(said))
        return demo_id(self.key, self.count)

    def weighed_in(self, after_min: float, ingredient: str) -> None:
        """All of an ingredient, as planned."""
        seen = making.run(self.session, self.clock, self.number)
        grams = round(next(one.g for one in seen.weigh if one.key == ingredient), 2)
        self.act(after_min, "added", ingredient=ingredient, measure={"amount": grams})

    def done(self, after_min: float, step: int) -> None:
        self.act(after_min, "done", step=f"step-{step}")

    def held(self, step: int, minutes: float) -> None:
        self.act(2, "hold", step=f"step-{step}")
        self.done(minutes, step)

    def ph(self, readings: Sequence[tuple[float, float]]) -> None:
        for after_min, ph in readings:
            self.act(after_min, "ph", ph=ph)

    def washed(self, times: int, ml: float) -> None:
        for n in range(times):
            self.act(35 if n else 10, "washed", ml=ml)

    def dried(self, grams: Sequence[tuple[float, float]], tare_g: float = 84.0) -> None:
        for hours, g in grams:
            self.act(60 * hours, "weighed", g=g + tare_g, tare_g=tare_g)


def begun(session: Session, key: str, process: int, at: datetime, lots: dict[int, int], **what: object) -> Script:
    """Begin a run of the demo."""
    asked = RunBegin.model_validate({"request_id": demo_id(key, 0), "lots": lots, **what})
    script = Script(session, key, making.begin_run(session, at, process, asked), at)
    script.act(1, "ready")
    return script


def copper_runs(session: Session, now: datetime, process: int, lots: dict[str, int]) -> None:
    """Four runs of the copper carbonate; the last one dries."""
    ways = (
        # days ago, version, soda lot, what was changed, pH read while the soda went in, washes, dry g
        (205, 1, "SO-1", "", ((12, 6.9), (6, 7.3), (8, 7.6), (10, 7.4)), 3, 18.6),
        (138, 2, "SO-1", "washes: 3 to 5", ((11, 6.8), (7, 7.2), (9, 7.5), (8, 7.3)), 5, 19.5),
        (64, 2, "SO-1", "", ((8, 5.6), (9, 5.9), (7, 6.1), (9, 6.3), (12, 6.9)), 5, 15.2),
    )
    for n, (ago, version, soda, changed, ph, washes, dry_g) in enumerate(ways, 1):
        run = begun(
            session,
            f"copper-{n}",
            process,
            now - timedelta(days=ago, hours=3),
            {0: lots["CS-2"], 1: lots[soda]},
            version=version,
            changed=changed,
        )
        _precipitated(run, ph)
        run.washed(washes, 300.0)
        run.dried(((3, 3.3 * dry_g), (22, 1.9 * dry_g), (25, 1.12 * dry_g), (48, 1.004 * dry_g), (26, dry_g)))
        run.done(20, 8)
        if n == 2:
            stack = [(250, 0.0), (125, 0.6), (63, 9.4), (38, 6.3)]
            run.act(
                15,
                "sieved",
                pan_g=2.9,
                charge_g=19.5,
                fractions=[{"aperture_um": float(um), "retained_g": g} for um, g in stack],
            )
        else:
            run.done(15, 9)
        run.act(10, "finish", g=dry_g)
        litres = 300.0 * washes + 420.0
        run.act(5, "waste", ml=litres, way="kept", text="blue canister, under the bench")
        run.act(20, "tried", takes="gritty" if n == 1 else "well")
    _copper_afterwards(session, now)
    run = begun(
        session,
        "copper-4",
        process,
        now - timedelta(days=3, hours=4),
        {0: lots["CS-2"], 1: lots["SO-2"]},
        version=2,
        changed="pH: inside all the time",
    )
    _precipitated(run, ((10, 7.0), (8, 7.2), (9, 7.4), (9, 7.3)))
    run.washed(5, 300.0)
    run.dried(((3, 61.4), (19, 41.6), (12, 34.4), (11.5, 29.9)))


def _precipitated(run: Script, ph: Sequence[tuple[float, float]]) -> None:
    run.weighed_in(6, "in-1")
    run.weighed_in(5, "in-2")
    run.done(22, 2)
    run.ph(ph)
    run.done(3, 3)
    run.act(2, "temperature", temperature_c=21.0)
    run.act(1, "colour", srgb="#7fb3a6", text="a thin blue")
    run.held(4, 92)
    run.act(1, "colour", srgb="#4f9a7c", text="green now")
    run.held(5, 1380)


def _copper_afterwards(session: Session, now: datetime) -> None:
    """Run 2 becomes a pigment, tried in every way; run 3's soda falls under suspicion."""
    two = Script(session, "copper-after", _number(session, "copper-2"), now - timedelta(days=128))
    two.act(5, "density", powder_g=10.0, full_g=62.40, with_powder_g=69.98, oil_g_per_ml=0.93)
    two.act(20, "strength", white_parts=9.0, reference_white_parts=10.0, text="the green of an old jar")
    two.act(10, "spot", tried_with="acid", seen="fizzed", text="vinegar")
    two.act(4, "spot", tried_with="alkali", seen="unchanged")
    two.act(
        9,
        "to_stock",
        g=17.0,
        code="EG-1",
        taken_for="mineral",
        masstone_srgb="#3f8f6d",
        hazards=["copper", "nuisance-dust"],
        hazards_confirmed=True,
    )
    two.act(30, "light", text="south window")
    for days, fading in ((7, "none"), (21, "none"), (57, "none")):
        two.act(days * 1440, "faded", fading=fading)
    two.act(2, "light_verdict", verdict="holds")
    three = Script(session, "copper-three", _number(session, "copper-3"), now - timedelta(days=55))
    three.act(1, "note", text="soda of lot SO-1 is caked: it may have drawn water")


def _number(session: Session, key: str) -> int:
    asked = {"copper-1": 0, "copper-2": 1, "copper-3": 2}
    return making.page(session, 1).yields.runs[asked[key]].number


def lake_runs(session: Session, now: datetime, process: int, lots: dict[str, int]) -> None:
    """Three runs of the lake: washed too little, then as written; the last one's light test hangs half way."""
    for n, (ago, soda, washes, dry_g, takes) in enumerate(
        ((92, "SO-1", 2, 6.9, "gritty"), (75, "SO-1", 4, 6.2, "well"), (46, "SO-2", 4, 6.4, "well")), 1
    ):
        run = begun(
            session,
            f"lake-{n}",
            process,
            now - timedelta(days=ago, hours=5),
            {0: lots["MW-1"], 1: lots["AL-1"], 2: lots[soda]},
            changed="washes: 2 to 4" if n == 2 else "",
        )
        run.weighed_in(4, "in-1")
        run.act(8, "temperature", temperature_c=71.0)
        run.held(1, 62)
        run.weighed_in(4, "in-2")
        run.weighed_in(6, "in-3")
        run.done(18, 3)
        run.ph(((6, 6.6), (5, 6.7), (6, 6.9)))
        run.done(3, 4)
        run.held(5, 1290)
        run.washed(washes, 300.0)
        if washes < 4:
            run.act(5, "skip", step="step-6", why="in a hurry before the market")
        run.dried(((4, 24.0), (20, 12.4), (24, 7.6), (40, 1.004 * dry_g), (25, dry_g)))
        run.done(12, 8)
        run.done(9, 9)
        run.act(6, "finish", g=dry_g)
        run.act(4, "waste", ml=250.0 + 300.0 * washes, way="kept", text="alum canister")
        run.act(15, "tried", takes=takes)
        if n == 3:
            run.act(
                8,
                "to_stock",
                g=5.8,
                code="ML-1",
                taken_for="lake",
                masstone_srgb="#8a5a1f",
                hazards=["nuisance-dust"],
                hazards_confirmed=True,
            )
            run.act(12, "light", text="south window")
            run.act(7 * 1440, "faded", fading="none")
            run.act(22 * 1440, "faded", fading="barely")


def runs(session: Session, now: datetime, copper: int, lake: int) -> None:
    """Load them."""
    lots = raw_lots(session, now)
    copper_runs(session, now, copper, lots)
    lake_runs(session, now, lake, lots)
    noted = now.date() - timedelta(days=55)
    materials.suspect(session, lots["SO-1"], f"caked, and slow to bring the pH in; noted {noted:%-d %B}")
