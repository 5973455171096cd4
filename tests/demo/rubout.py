"""What the demo studio learned of its lots."""

from __future__ import annotations

from datetime import datetime, timedelta
from decimal import Decimal

from sqlalchemy.orm import Session

from niddy.core.acting import AmountAsked
from niddy.core.measures import Unit
from niddy.studio import materials, rubout
from niddy.studio.materials import Asked
from tests.demo.session import demo_id


def demand_records(session: Session, now: datetime) -> None:
    """What the studio learned: lots that drift, a test that went wrong, a range from a data sheet, one under way."""
    linseed = Asked(None, "linseed-refined")

    def rub_out(key: str, code: str, days_ago: float, steps: list[float], *, done: bool = True) -> int:
        at = now - timedelta(days=days_ago)
        lot_id = next(kept.id for kept in materials.lots_of(session, key) if kept.code == code)
        name = f"{code}/{days_ago}"
        test_id = rubout.begin(session, at, demo_id(name, 0), lot_id, linseed, 5.0, 20.0)
        for n, grams in enumerate(steps, 1):
            at += timedelta(minutes=2)
            rubout.add_oil(session, at, test_id, demo_id(name, n), AmountAsked(unit=Unit.GRAM, amount=grams))
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
