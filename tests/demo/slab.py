"""The demo's batches of the last weeks, and its kept plans."""

from __future__ import annotations

from datetime import datetime, timedelta

from sqlalchemy.orm import Session

from niddy.core.mulling import EndedBy
from niddy.core.slab import Gloss, Grit, Kind, Stage, StringLength, Verdict, Way
from niddy.core.wetting import Body
from niddy.studio import plan as plans
from niddy.studio import workshop
from niddy.studio.plan import TubesAsked
from tests.demo.session import Acted, asked_for


def recent_batches(session: Session, now: datetime, lots: dict[str, int]) -> None:
    """Three finished batches, one on the slab, two plans."""
    small, middle, *_ = (tube.id for tube in workshop.workshop(session).tube_types)
    linseed, poppy, walnut = lots["linseed-cold-pressed"], lots["poppy-refined"], lots["walnut-refined"]

    def at(days_ago: float, hour: float) -> datetime:
        day = (now - timedelta(days=days_ago)).replace(hour=0, minute=0, second=0, microsecond=0)
        return day + timedelta(hours=hour)

    black = Acted(session, "bone-black", at(34, 9.5), asked_for(lots["bone-black"], linseed, 0.86, [(middle, 3)]))
    black.act(3, Kind.READY)
    black.powder(6, lots["bone-black"], 112.0)
    black.oil(4, linseed, 63.0)
    black.look(12, Stage.CRUMBS)
    black.picture("#1f1c1a", 0.1, "crumbs, and some dry islands under them")
    black.oil(3, linseed, 7.5)
    black.look(16, Stage.WET_CURDS)
    black.load(16)
    black.look(1, Stage.EVEN_PASTE, Body.STIFF, grit=Grit.FAINT, string=StringLength.BREAKS, gloss=Gloss.SATIN)
    black.oil(2, linseed, 5.4)
    black.load(16)
    black.look(1, Stage.EVEN_PASTE, Body.TUBE, grit=Grit.NONE, string=StringLength.SHORT, gloss=Gloss.SATIN)
    for n in range(5):
        black.load(15 + n % 3, EndedBy.SILENCE if n % 3 == 2 else EndedBy.MINUTES)
    black.act(3, Kind.GATHER)
    black.act(1, Kind.NOTE, text="Strings a little already; the last drops were plenty.")
    black.look(4, Stage.EVEN_PASTE, Body.TUBE, grit=Grit.NONE, string=StringLength.SHORT, gloss=Gloss.SATIN)
    black.picture("#1f1c1a", 1.0, "all six loads together")
    black.act(25, Kind.FINISH, verdict=Verdict.RIGHT, leftover_ml=1.8, tubes=[TubesAsked(tube_type_id=middle, count=3)])

    red = Acted(session, "caput-mortuum", at(20, 13.25), asked_for(lots["caput-mortuum"], linseed, 0.86, [(middle, 2)]))
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
    red.act(18, Kind.FINISH, verdict=Verdict.SOFT, leftover_ml=7.5, tubes=[TubesAsked(tube_type_id=middle, count=2)])

    green = Acted(session, "cobalt-green", at(8, 10), asked_for(lots["cobalt-green"], walnut, 0.86, [(small, 2)]))
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
    green.act(20, Kind.FINISH, verdict=Verdict.RIGHT, leftover_ml=2.2, tubes=[TubesAsked(tube_type_id=small, count=2)])

    magenta = Acted(
        session,
        "quinacridone-magenta",
        now - timedelta(minutes=52),
        asked_for(lots["quinacridone-magenta"], poppy, 0.86, [(middle, 2)]),
    )
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

    plans.save(
        session,
        now - timedelta(days=2),
        "Viridian, stiff, for two tubes",
        asked_for(lots["viridian"], poppy, 0.9, [(middle, 2)]),
    )
    plans.save(
        session,
        now - timedelta(days=1),
        "Titanate buff for the set",
        asked_for(lots["titanate-buff"], linseed, 0.86, [(small, 2), (middle, 1)]),
    )
