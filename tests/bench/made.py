"""What the bench's record is made of."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, datetime

from pydantic import TypeAdapter

from niddy.core.plan import Plan
from niddy.db import Database
from niddy.studio import materials, plan, sticks, workshop
from niddy.studio.materials import NewLot
from niddy.studio.plan import PlanAsked
from niddy.studio.sticks import BaseAsked, MouldAsked
from niddy.studio.sticks.bases import BasePartAsked

NOW = datetime(2026, 6, 18, 10, tzinfo=UTC)
PIGMENTS = ("bone-black", "viridian", "caput-mortuum", "cobalt-green", "pyrrole-red")
BASE = {"beeswax": 50.0, "microcrystalline-hard": 35.0, "carnauba": 15.0}


@dataclass(frozen=True)
class Made:
    """What the bench's record is made of: one plan a pigment, with its lots; and a set of sticks that is asked for."""

    plans: list[dict[str, object]]
    asked: list[dict[str, object]]
    lots: list[tuple[int, int]]
    twelve_sticks: dict[str, object]


def materials_of(url: str) -> Made:
    """Put lots, a base and a mould into an empty record; what is planned and asked of them."""
    database = Database(url)
    plans: list[dict[str, object]] = []
    wishes: list[dict[str, object]] = []
    lots: list[tuple[int, int]] = []
    with database.session() as session:
        workshop.furnish(session)
        for key in PIGMENTS:
            powder = materials.receive(session, NOW, NewLot("pigment", key, f"{key}-1", NOW.date(), 20_000))
            oil = materials.receive(session, NOW, NewLot("oil", "linseed-refined", f"oil-{key}", NOW.date(), 20_000))
            asked = PlanAsked.model_validate(
                {
                    "lines": [{"lot_id": powder, "parts": 1.0}],
                    "oil": {"lot_id": oil},
                    "reduced_pvc": 0.86,
                    "tubes": [{"tube_type_id": 2, "count": 3}],
                }
            )
            planned = plan.compute(session, asked).plan
            plans.append(TypeAdapter(Plan).dump_python(planned, mode="json"))
            wishes.append(asked.model_dump(mode="json"))
            lots.append((powder, oil))
        base = sticks.add(
            session,
            NOW,
            BaseAsked(name="Bench", parts=[BasePartAsked(wax_key=key, share=share) for key, share in BASE.items()]),
        )
        mould = sticks.add_mould(session, MouldAsked(name="Stick", water_g=18.0))
        oil = lots[0][1]
    database.dispose()
    twelve = [
        {
            "pigments": [{"lot_id": lots[n % len(lots)][0]}],
            "moulds": [{"mould_id": mould, "count": 6}],
            "dent_dmm": 30.0,
        }
        for n in range(12)
    ]
    return Made(plans, wishes, lots, {"base_id": base, "oil_lot_id": oil, "colours": twelve})
