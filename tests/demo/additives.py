"""The demo's gels, ladders and yolk."""

from __future__ import annotations

from datetime import datetime, timedelta

from sqlalchemy.orm import Session

from niddy.core.ladder import Measured
from niddy.core.measures import Unit
from niddy.core.mulling import EndedBy
from niddy.core.slab import Kind, Stage, StringLength, Verdict
from niddy.core.wetting import Body
from niddy.studio import additives, materials, recorder, workshop
from niddy.studio.additives import GelAsked, LadderAsked, LadderPart, RungKind, TargetAsked
from niddy.studio.plan import AdditiveAsked, TubesAsked
from niddy.studio.slab import AmountAsked
from tests.demo.session import Acted, asked_for, demo_id


def gels_and_ladders(session: Session, now: datetime, lots: dict[str, int], recipe_id: int) -> None:
    """Two gels; a stearate ladder with an answer, a castor ladder where none does; yolk paint past its use-by."""
    made = {lot.code: lot for lot in materials.lots(session, kind="additive")}
    oil_id = lots["linseed-cold-pressed"]

    def gel(code: str, key: str, tin: str, days_ago: float, additive_g: float, oil_g: float, out_g: float) -> int:
        asked = GelAsked(
            additive_key=key,
            oil_key="linseed-cold-pressed",
            additive_g=additive_g,
            oil_g=oil_g,
            yield_g=out_g,
            code=code,
            additive_lot_id=made[tin].id,
            oil_lot_id=oil_id,
        )
        return additives.make_gel(session, now - timedelta(days=days_ago), asked).id

    stearate = gel("G-1", "aluminium-stearate", "AS-1", 96, 12.1, 108.4, 114.8)
    castor = gel("G-2", "hydrogenated-castor-oil", "HC-1", 40, 8.0, 72.3, 76.1)
    _ladder(
        session,
        now - timedelta(days=88, hours=2),
        _SIENNA_LADDER,
        "stearate",
        LadderAsked(
            name="Burnt sienna: least stearate against the halo",
            recipe_id=recipe_id,
            additives=[LadderPart(additive_key="aluminium-stearate", lot_id=stearate, top_dose_pct=2.5)],
            oil_g_per_100g=42.0,
            paste_per_rung_g=6.0,
            rungs=6,
            targets=[TargetAsked(what=Measured.BLEED, at_most=1.5), TargetAsked(what=Measured.STRING, at_least=8.0)],
        ),
    )
    _ladder(
        session,
        now - timedelta(days=30, hours=1),
        _MAGENTA_LADDER,
        "castor",
        LadderAsked(
            name="Magenta: short enough, and no halo, by castor wax",
            additives=[LadderPart(additive_key="hydrogenated-castor-oil", lot_id=castor, top_dose_pct=1.5)],
            oil_g_per_100g=63.0,
            paste_per_rung_g=5.0,
            rungs=5,
            targets=[TargetAsked(what=Measured.BLEED, at_most=1.4), TargetAsked(what=Measured.STRING, at_least=9.0)],
        ),
    )

    small = workshop.workshop(session).tube_types[0].id
    buff, poppy = lots["titanate-buff"], lots["poppy-refined"]
    plan = asked_for(buff, poppy, 0.86, [(small, 1)]).model_copy(
        update={"additives": [AdditiveAsked(additive_key="egg-yolk", dose_pct=2.0)]}
    )
    yolk = Acted(session, "titanate-buff-yolk", now - timedelta(days=13, hours=4), plan)
    yolk.act(3, Kind.READY)
    yolk.powder(4, buff, 52.0)
    yolk.oil(4, poppy, 9.8)
    yolk.look(12, Stage.WET_CURDS)
    yolk.act(2, Kind.MULL)
    yolk.act(16, Kind.LOAD_DONE, ended_by=EndedBy.MINUTES)
    yolk.look(1, Stage.EVEN_PASTE, Body.TUBE)
    yolk.act(4, Kind.ADDITIVE, source="library-egg-yolk", measure=AmountAsked(unit=Unit.DROP, amount=60))
    yolk.look(3, Stage.EVEN_PASTE, Body.STIFF, string=StringLength.BREAKS)
    yolk.act(5, Kind.FINISH, verdict=Verdict.RIGHT, leftover_ml=1.0, tubes=[TubesAsked(tube_type_id=small, count=1)])


_SIENNA_LADDER = (
    # two diameters in mm, string mm, halo mm
    ((46.1, 45.3), 15.0, 3.5),
    ((44.0, 44.6), 14.0, 2.9),
    ((43.2, 42.8), 13.0, 2.0),
    ((41.9, 41.5), 11.0, 1.6),
    ((40.6, 41.2), 10.0, 0.8),
    ((39.8, 39.2), 9.0, 0.4),
)


_MAGENTA_LADDER = (
    ((49.2, 48.6), 21.0, 3.0),
    ((46.0, 46.8), 16.0, 2.6),
    ((44.1, 43.3), 12.0, 2.1),
    ((41.0, 41.6), 9.0, 1.8),
    ((39.4, 39.0), 7.0, 1.2),
)


def _ladder(
    session: Session,
    begin: datetime,
    read: tuple[tuple[tuple[float, float], float, float], ...],
    key: str,
    asked: LadderAsked,
) -> None:
    """A ladder weighed out, read the same day, and its halos a day on."""
    ladder_id = additives.begin(session, begin, demo_id(f"ladder/{key}", 0), asked)
    count = 0

    def read_rung(at: datetime, rung: int, kind: RungKind, **what: object) -> None:
        nonlocal count
        count += 1
        asked = {"id": demo_id(f"ladder/{key}", count), "rung": rung, "kind": kind, "made_at": at, **what}
        act = additives.LADDERS.acts.act_of(asked)
        recorder.record(session, at, additives.LADDERS, ladder_id, act)

    for n in range(len(read)):
        read_rung(begin + timedelta(minutes=6 * n + 3), n, RungKind.WEIGHED)
        read_rung(begin + timedelta(minutes=6 * n + 5), n, RungKind.MIXED)
    for n, (across, string_mm, halo_mm) in enumerate(read):
        read_rung(begin + timedelta(minutes=50 + 4 * n), n, RungKind.SPREAD, diameters_mm=list(across))
        read_rung(begin + timedelta(minutes=52 + 4 * n), n, RungKind.STRING, length_mm=string_mm)
        read_rung(begin + timedelta(hours=26, minutes=n), n, RungKind.BLEED, length_mm=halo_mm)
