"""The workshop: slabs, mullers, tube types, settings."""

from __future__ import annotations

from typing import Annotated, Literal, Protocol

from fastapi import Request, Response
from fastapi.concurrency import run_in_threadpool
from pydantic import Field

from niddy.api import policy
from niddy.api.context import Db, RowId
from niddy.api.log import PICTURE
from niddy.api.problems import REFUSALS
from niddy.api.router import Router
from niddy.core.amounts import FaceMillimetres, FilmMillimetres, Grams, SquareCentimetres, TubeMillilitres
from niddy.core.balance import PATTERN_LIMIT
from niddy.core.documents import Document
from niddy.core.errors import Refused
from niddy.core.measures import Holds, Unit
from niddy.core.plan import Tool, Tooth
from niddy.core.telling import Measuring, Small
from niddy.core.words import Words
from niddy.studio import photos
from niddy.studio import workshop as studio
from niddy.studio.errors import Missing
from niddy.studio.workshop import BackupsSeen, Workshop

router = Router(prefix="/api/workshop", tags=["workshop"], responses=REFUSALS)


class Backups(Protocol):
    """Whoever makes backups: asked how they stand, and to make one now."""

    def seen(self) -> BackupsSeen:
        """How they stand."""

    def now(self) -> BackupsSeen:
        """Make one, and how they stand then; what went wrong is its trouble."""


Name = Annotated[Words, Field(min_length=1, max_length=80)]


class SettingsAsked(Document):
    """The studio's own settings."""

    name: Annotated[Words, Field(max_length=80)]
    spoon_set: Literal["metric", "us"]
    default_reduced_pvc: Annotated[float, Field(strict=True, ge=0.5, le=1.15)]
    default_slab_id: int | None = None
    default_muller_id: int | None = None
    mass_unit: Literal["g", "oz"]
    currency: Annotated[Words, Field(pattern="^[A-Z]{3}$")]
    scrape_interval_min: Annotated[float, Field(strict=True, ge=0, le=60, description="0: no reminder")] = 3.0
    scrape_sound: bool = True
    initials_on_labels: bool = False
    balance_port: Annotated[Words, Field(max_length=100, description="empty: no balance")] = ""
    balance_baud: Literal[1200, 2400, 4800, 9600, 19200, 38400, 57600, 115200] = 9600
    balance_pattern: Annotated[Words, Field(max_length=PATTERN_LIMIT, description="empty: the plain protocol")] = ""
    balance_unit: Literal["g", "kg", "mg", "oz"] = "g"
    balance_tare: Annotated[Words, Field(max_length=40, description="what the balance takes to tare")] = "tare"
    measuring: Measuring = Measuring.SCALE
    small: Small = Small.DROPS
    tool: Tool = Tool.MULLER
    thermometer_port: Annotated[Words, Field(max_length=100)] = ""
    ph_port: Annotated[Words, Field(max_length=100)] = ""
    needle_on_beeswax_dmm: Annotated[float, Field(strict=True, ge=0.1, le=400)] | None = None
    spoons_missing: Annotated[tuple[Unit, ...], Field(max_length=16, description="spoons not owned")] = ()


class SlabAsked(Document):
    """A slab; `film_mm` only where the studio knows its own."""

    name: Name
    area_cm2: SquareCentimetres
    tooth: Tooth
    film_mm: FilmMillimetres | None = None


class MullerAsked(Document):
    """A muller."""

    name: Name
    face_mm: FaceMillimetres
    tooth: Tooth


class TubeTypeAsked(Document):
    """A tube type: what it takes to its mark, or the measures that follow from."""

    name: Name
    usable_ml: TubeMillilitres | None = None
    diameter_mm: FaceMillimetres | None = None
    length_mm: FaceMillimetres | None = None
    headspace_mm: Annotated[float, Field(strict=True, ge=0, le=500)] | None = None
    tare_g: Grams | None = None
    folds: Annotated[int, Field(strict=True, ge=1, le=6)] | None = None


class OwnMeasureAsked(Document):
    """A measure of one's own: a straw, a scoop, a cap. `amount` is ml, spoons, drops or g of water; none: unknown."""

    name: Annotated[Words, Field(min_length=1, max_length=30)]
    powder: bool
    liquid: bool
    holds: Holds
    amount: Annotated[float, Field(strict=True, gt=0, le=100_000)] | None = None
    spoon: Unit | None = None


@router.get("")
def workshop(db: Db) -> Workshop:
    """The workshop as it is."""
    with db.session() as session:
        return studio.workshop(session)


@router.put("/settings")
@policy.owns("Changed the settings")
def settings(db: Db, asked: SettingsAsked) -> Workshop:
    """Change the settings."""
    with db.session() as session:
        studio.change_settings(session, studio.Settings(**dict(asked)))
        return studio.workshop(session)


@router.get("/mark.png", response_class=Response, responses={200: {"content": {"image/png": {}}}})
def mark(db: Db) -> Response:
    """The studio's own mark. 404 where it has none."""
    with db.session() as session:
        png = studio.mark(session)
    if png is None:
        raise Missing("mark", 1)
    return Response(png, media_type="image/png", headers={"cache-control": "no-store"})


@router.put("/mark", openapi_extra=PICTURE)
@policy.owns("Changed the studio's mark", body=policy.PICTURE)
async def keep_mark(request: Request, db: Db) -> Workshop:
    """Keep a mark for labels (the body: a JPEG, PNG or WebP file)."""
    picture = await request.body()

    def kept() -> Workshop:
        png = photos.mark(picture)
        with db.session() as session:
            studio.keep_mark(session, png)
            return studio.workshop(session)

    return await run_in_threadpool(kept)


@router.delete("/mark")
@policy.owns("Took the studio's mark off")
def drop_mark(db: Db) -> Workshop:
    """Do without a mark."""
    with db.session() as session:
        studio.keep_mark(session, None)
        return studio.workshop(session)


@router.post("/slabs", status_code=201)
@policy.owns("Added a slab")
def add_slab(db: Db, asked: SlabAsked) -> Workshop:
    """Add a slab."""
    with db.session() as session:
        studio.keep_slab(session, None, **dict(asked))
        return studio.workshop(session)


@router.put("/slabs/{slab_id}")
@policy.owns("Changed a slab")
def change_slab(db: Db, slab_id: RowId, asked: SlabAsked) -> Workshop:
    """Change a slab."""
    with db.session() as session:
        studio.keep_slab(session, slab_id, **dict(asked))
        return studio.workshop(session)


@router.post("/mullers", status_code=201)
@policy.owns("Added a muller")
def add_muller(db: Db, asked: MullerAsked) -> Workshop:
    """Add a muller."""
    with db.session() as session:
        studio.keep_muller(session, None, **dict(asked))
        return studio.workshop(session)


@router.put("/mullers/{muller_id}")
@policy.owns("Changed a muller")
def change_muller(db: Db, muller_id: RowId, asked: MullerAsked) -> Workshop:
    """Change a muller."""
    with db.session() as session:
        studio.keep_muller(session, muller_id, **dict(asked))
        return studio.workshop(session)


@router.post("/tube-types", status_code=201)
@policy.owns("Added a tube type")
def add_tube_type(db: Db, asked: TubeTypeAsked) -> Workshop:
    """Add a tube type."""
    with db.session() as session:
        studio.keep_tube_type(session, None, **dict(asked))
        return studio.workshop(session)


@router.put("/tube-types/{tube_type_id}")
@policy.owns("Changed a tube type")
def change_tube_type(db: Db, tube_type_id: RowId, asked: TubeTypeAsked) -> Workshop:
    """Change a tube type."""
    with db.session() as session:
        studio.keep_tube_type(session, tube_type_id, **dict(asked))
        return studio.workshop(session)


@router.post("/measures", status_code=201)
@policy.owns("Added a measure")
def add_measure(db: Db, asked: OwnMeasureAsked) -> Workshop:
    """Add a measure of one's own."""
    with db.session() as session:
        studio.keep_own_measure(session, None, **dict(asked))
        return studio.workshop(session)


@router.put("/measures/{measure_id}")
@policy.owns("Changed a measure")
def change_measure(db: Db, measure_id: RowId, asked: OwnMeasureAsked) -> Workshop:
    """Change a measure of one's own; what was taken with it before keeps its grams."""
    with db.session() as session:
        studio.keep_own_measure(session, measure_id, **dict(asked))
        return studio.workshop(session)


Retired = Literal["slabs", "mullers", "tube-types", "measures"]
RETIRED = {"slabs": "slab", "mullers": "muller", "tube-types": "tube_type", "measures": "measure"}


@router.delete("/{kind}/{item_id}")
@policy.owns("Put something of the workshop out of use")
def retire(db: Db, kind: Retired, item_id: RowId) -> Workshop:
    """Put a slab, muller, tube type or measure out of use; past batches keep theirs."""
    with db.session() as session:
        studio.retire(session, RETIRED[kind], item_id)
        return studio.workshop(session)


@router.get("/backups")
def backups(request: Request) -> BackupsSeen:
    """When the last backup was made, whether it is too old, and what went wrong since."""
    keeper: Backups | None = request.app.state.backups
    return BackupsSeen(kept_here=False) if keeper is None else keeper.seen()


@router.post("/backups")
@policy.owns("Made a backup")
def back_up_now(request: Request) -> BackupsSeen:
    """Make a backup now, read back whole before it counts."""
    keeper: Backups | None = request.app.state.backups
    if keeper is None:
        raise Refused("", "this database is not Niddy's own", "a backup by the tools of the database")
    return keeper.now()
