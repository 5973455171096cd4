"""The demo's shelf over four years."""

from __future__ import annotations

from datetime import datetime, timedelta

from sqlalchemy.orm import Session

from niddy.core.shelf import KeptBody, Skin, Smell
from niddy.core.slab import Kind, Stage, Verdict
from niddy.core.wetting import Body
from niddy.studio import batches, recorder, shelf, tubes, workshop
from niddy.studio.plan import LineAsked, OilAsked, PlanAsked, TubesAsked
from niddy.studio.shelf import FoundAsked, InspectAsked, ItemKind, Left
from niddy.studio.slab import AmountAsked
from niddy.studio.tubes import FillAsked
from tests.demo.recipes import SIENNA
from tests.demo.session import Acted, demo_id, numbers_of

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
)


def shelf_of_years(session: Session, now: datetime) -> None:
    """About sixty tubes and jars over four years: some separated, one skinned, one part-filled, one nobody can name."""
    small, middle, *_ = (tube.id for tube in workshop.workshop(session).tube_types)
    filled: dict[str, list[int]] = {}

    def fill(at: datetime, number: int, key: str, tube: int, place: str, n: int, **what: object) -> int:
        asked = {"id": demo_id(f"fill/{key}", n), "tube_type_id": tube, "place": place, **what}
        _, item = tubes.keep(session, at, number, FillAsked.model_validate(asked))
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
        batch = Acted(session, f"old/{key}", start, asked)
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

    numbers = numbers_of(session)
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
    decanted = FillAsked(id=demo_id("fill/jar", 0), jar="100 ml jar", volume_ml=7.0, cover="oil", place="Drawer 4")
    tubes.keep(session, jar + timedelta(hours=1), red, decanted)
    for n in range(len(SIENNA) - 1):
        number = numbers[f"burnt-sienna/{n}"]
        ended = batches.batch(session, number, 0).ended_at or now
        fill(ended + timedelta(days=6), number, "sienna", middle, "Drawer 4" if n < 9 else "Drawer 5", n)

    def look(key: str, which: int, days_ago: float, layer: float, height: float, **what: object) -> None:
        at = now - timedelta(days=days_ago)
        asked = {
            "id": demo_id(f"look/{key}", which * 100 + int(days_ago)),
            "made_on": at.date(),
            "layer_mm": layer,
            "fill_height_mm": height,
            **what,
        }
        shelf.keep_look(session, at, filled[key][which], InspectAsked.model_validate(asked))

    # What keeps well has been looked at in rounds, and rests for a year after the third.
    for key, first in (
        ("lead-tin-yellow", 0),
        ("green-earth", 2),
        ("cobalt-blue", 1),
        ("chromium-oxide-green", 0),
        ("indian-red", 0),
        ("red-ochre", 0),
        ("mars-yellow", 0),
    ):
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
        asked = shelf.ITEMS.acts.act_of(
            {"id": demo_id(f"leave/{key}", which), "kind": "leave", "made_at": at, "how": how, "text": text}
        )
        recorder.record(session, at, shelf.ITEMS, filled[key][which], asked)

    leave("burnt-umber", 3, 500, Left.USED_UP, "")
    leave("indian-red", 1, 90, Left.GIVEN, "for the class in the boathouse")
    nameless = FoundAsked(
        id=demo_id("found", 0),
        kind=ItemKind.JAR,
        container="glass jar",
        srgb="#24308a",
        volume_ml=62.0,
        gross_g=202.4,
        tare_g=98.0,
        place="Cellar sill",
        note="no label left, oil on top",
    )
    shelf.find(session, now - timedelta(days=3), nameless)
