"""Mixing: paints in numbers, charts on screen, on paper and back, mixtures found."""

from __future__ import annotations

import re
from typing import Annotated, Any, Literal
from uuid import UUID

from fastapi import Query, Request, Response
from fastapi.concurrency import run_in_threadpool
from pydantic import BaseModel, ConfigDict, Field, TypeAdapter
from pydantic_core import to_json

from niddy.api import policy
from niddy.api.answers import answer
from niddy.api.context import Db, Now, RowId
from niddy.api.log import add_room
from niddy.api.problems import REFUSALS
from niddy.api.router import Router
from niddy.core.colorimetry import CARD_REFLECTANCE, Lab, spectrum_of, srgb_of
from niddy.core.errors import Refused
from niddy.core.words import Words
from niddy.devices import colour_reader
from niddy.exchange import chart_pdf, chart_photo, colour_reading
from niddy.exchange.chart_pdf import ChartSheet, Listed
from niddy.exchange.colour_reading import LightScale, Reading
from niddy.studio import mixing as studio
from niddy.studio.mixing import (
    ChartAsked,
    ChartView,
    FindAsked,
    MixingRoom,
    MixturesFound,
    PaintAsked,
    PaintChange,
    PaintPage,
    ReadingAsked,
    RecipeColour,
    SheetAsked,
    SheetToBe,
    SightAsked,
)

router = Router(prefix="/api/mixing", tags=["mixing"], responses=REFUSALS)
MAX_FILE_BYTES = 2_000_000
_FILE: dict[str, Any] = {
    "requestBody": {"required": True, "content": {"text/plain": {"schema": {"type": "string", "format": "binary"}}}}
}
_PICTURE: dict[str, Any] = {
    "requestBody": {"required": True, "content": {"image/jpeg": {"schema": {"type": "string", "format": "binary"}}}}
}
_TEXT: dict[int | str, dict[str, Any]] = {200: {"content": {"text/plain": {}}}}


CHARTS_KEPT = 24
_AS_SEEN: dict[tuple[int, str], bytes] = {}
"""Charts as they were last written, by what they were made from: a view of many squares is made once."""

_WRITTEN = TypeAdapter(ChartView)


class PaintMade(BaseModel):
    """The id of the paint that was made known."""

    id: int


class ChartMade(BaseModel):
    """The number of the chart that was made."""

    number: int


class ReadingAside(BaseModel):
    """Why a reading does not count; null lets it count again."""

    model_config = ConfigDict(extra="forbid")
    reason: Annotated[Words, Field(max_length=300)] | None = None


class BandsRead(BaseModel):
    """A made-up reading: 31 bands from 400 to 700 nm, 0 to 1."""

    spectrum: list[float]


class SquareFound(BaseModel):
    """A square found in a file or picture: its colour, how far off that may be, and whether it looks unpainted.

    `x` and `y` are its middle in the picture, as shares of width and height.
    """

    code: str
    lab: Lab
    spectrum: tuple[float, ...] | None = None
    srgb: str
    off: float | None = None
    empty: bool = False
    x: float | None = None
    y: float | None = None


class SheetCorner(BaseModel):
    """A corner of a sheet in its picture, as shares of width and height."""

    x: float
    y: float


class SquaresFound(BaseModel):
    """What was found; of a picture where the sheet lies in it (corners clockwise), and which corner codes were seen."""

    squares: list[SquareFound]
    corners: list[SheetCorner] | None = None
    seen: list[int] | None = None
    paper: str | None = None


@router.get("", response_model=MixingRoom)
def room(db: Db) -> Response:
    """The room: its paints with what they want, the white, the charts."""
    with db.session() as session:
        seen = studio.room(session)
    return answer(seen)


@router.put("/sight", response_model=MixingRoom)
@policy.works("Chose the white and the shine")
def sight(db: Db, asked: SightAsked) -> Response:
    """Choose the studio's white, and say what its readings have of the surface's shine."""
    with db.session() as session:
        studio.see_by(session, asked)
        seen = studio.room(session)
    return answer(seen)


@router.post("/paints", status_code=201)
@policy.works("Added a paint")
def add_paint(db: Db, now: Now, asked: PaintAsked) -> PaintMade:
    """Make a paint known by its name, or a tube or jar of the shelf. Asked twice under one id it is one paint."""
    with db.session() as session:
        made = studio.add_paint(session, now, asked)
    return PaintMade(id=made)


@router.get("/paints/{paint_id}", response_model=PaintPage)
def paint(db: Db, now: Now, paint_id: RowId) -> Response:
    """A paint with all that was read of it."""
    with db.session() as session:
        seen = studio.page(session, now, paint_id)
    return answer(seen)


@router.put("/paints/{paint_id}", response_model=PaintPage)
@policy.works("Changed a paint")
def change_paint(db: Db, now: Now, paint_id: RowId, asked: PaintChange) -> Response:
    """Change what is said of a paint besides its readings."""
    with db.session() as session:
        studio.change_paint(session, paint_id, asked)
        seen = studio.page(session, now, paint_id)
    return answer(seen)


@router.post("/paints/{paint_id}/readings", response_model=PaintPage)
@policy.works("Read a paint's colour")
def read_paint(db: Db, now: Now, paint_id: RowId, asked: ReadingAsked) -> Response:
    """Keep a masstone or tint of a paint; of a batch it is one of its checks. The same again changes nothing."""
    with db.session() as session:
        studio.keep(session, now, paint_id, asked)
        seen = studio.page(session, now, paint_id)
    return answer(seen)


@router.put("/paints/{paint_id}/readings/{reading_id}", response_model=PaintPage)
@policy.works("Left a reading out, or let it count again")
def set_reading_aside(db: Db, now: Now, paint_id: RowId, reading_id: UUID, asked: ReadingAside) -> Response:
    """Let a reading not count, with a reason, or count again."""
    with db.session() as session:
        studio.set_aside(session, now, paint_id, reading_id, asked.reason)
        seen = studio.page(session, now, paint_id)
    return answer(seen)


@router.post("/paints/{paint_id}/stand-in-reading")
@policy.looks()
def stand_in_paint(db: Db, now: Now, paint_id: RowId, kind: Literal["masstone", "tint"]) -> BandsRead:
    """A reading of the stand-in colour reader, made from the paint's swatch; not kept."""
    with db.session() as session:
        seen = studio.page(session, now, paint_id)
    masstone = spectrum_of(seen.line.srgb)
    if kind == "tint":
        # What ten of white make of it, roughly: this reader makes everything up.
        masstone = tuple(min(0.93, 0.93 - 0.42 * (0.95 - r) ** 1.6) for r in masstone)
    return BandsRead(spectrum=list(colour_reader.near(masstone)))


@router.get("/readings.txt", response_class=Response, responses=_TEXT)
def readings(db: Db, spectra: bool = True) -> Response:
    """Every paint's masstone and tint that counts, as CGATS.17 text: those with spectra, or the Lab of all."""
    with db.session() as session:
        kept = studio.several(session)
    samples = [
        Reading(f"{one.row.name}, {what}", reading.spectrum, reading.lab)
        for one in kept.values()
        for what, reading in (("masstone", one.known.masstone), ("tint", one.known.tint))
        if reading is not None and (reading.spectrum is not None or not spectra)
    ]
    return _as_text(colour_reading.write(samples, "Paints"), "paints")


@router.get("/recipes/{recipe_id}", response_model=RecipeColour)
def recipe(db: Db, recipe_id: RowId) -> Response:
    """A recipe's colour: its batches as read, and a blend predicted from its pigments' own paints."""
    with db.session() as session:
        seen = studio.recipe_colour(session, recipe_id)
    return answer(seen)


@router.post("/charts", status_code=201)
@policy.works("Began a chart")
def make_chart(db: Db, now: Now, asked: ChartAsked) -> ChartMade:
    """Make a chart. Asked twice under one id it is one chart."""
    with db.session() as session:
        number = studio.begin(session, now, asked)
    return ChartMade(number=number)


@router.post("/charts/preview")
@policy.looks()
async def preview(asked: SheetAsked) -> SheetToBe:
    """How many squares a chart would have, and how large they would be; changes nothing."""
    return studio.sheet_to_be(asked)


@router.get("/charts/{number}", response_model=ChartView)
def chart(db: Db, now: Now, number: RowId) -> Response:
    """A chart: predicted beside painted."""
    with db.session() as session:
        stamp = studio.stamp_of_chart(session, number)
        body = _AS_SEEN.get((number, stamp))
        if body is None:
            body = _WRITTEN.dump_json(studio.view(session, now, number), exclude={"now"})
            # What changed while it was looked at is not kept under what was there before.
            if studio.stamp_of_chart(session, number) == stamp:
                if len(_AS_SEEN) >= CHARTS_KEPT:
                    _AS_SEEN.clear()
                _AS_SEEN[number, stamp] = body
    # Of what is kept only the time is another.
    return Response(b'{"now":' + to_json(now) + b"," + body[1:], media_type="application/json")


@router.get(
    "/charts/{number}/sheet.pdf", response_class=Response, responses={200: {"content": {"application/pdf": {}}}}
)
def sheet(db: Db, now: Now, number: RowId, paper: Literal["a4", "letter"] = "a4") -> Response:
    """The chart on paper: empty squares with corner codes, and the list of its paints."""
    with db.session() as session:
        kept = studio.chart_of(session, number)
    plan = kept.plan
    paints = tuple(Listed(one.name, one.code) for one in plan.paints)
    white = f"{plan.white.name}{', ' + plan.white.code if plan.white.code else ''}" if plan.white is not None else ""
    said = ChartSheet(number, kept.name, now.date(), plan.layout, paints, white, studio.heavy_assumed(plan))
    made = chart_pdf.chart(said, paper)
    headers = {"content-disposition": f'inline; filename="chart-{number}.pdf"'}
    return Response(made.pdf, media_type="application/pdf", headers=headers)


@router.get("/charts/{number}/squares.txt", response_class=Response, responses=_TEXT)
def squares(db: Db, number: RowId) -> Response:
    """The painted squares of a chart as CGATS.17 text, named by their codes; spectra where every one has one."""
    with db.session() as session:
        kept = studio.chart_of(session, number)
        read = studio.squares_read(session, kept)
    samples = [Reading(code, reading.spectrum, reading.lab) for code, reading in read.items()]
    return _as_text(colour_reading.write(samples, kept.name), f"chart-{number}")


@router.post("/charts/{number}/file", openapi_extra=_FILE)
@policy.looks()
async def file(request: Request, db: Db, number: RowId, scale: LightScale | None = None) -> SquaresFound:
    """The squares in a colour reader's file (the body), by their codes or in reading order; nothing is kept yet."""
    content = await request.body()
    if len(content) > MAX_FILE_BYTES:
        raise Refused("file", "too large", f"up to {MAX_FILE_BYTES // 1000} kB")

    def found() -> SquaresFound:
        samples = colour_reading.read(content, scale)
        with db.session() as session:
            kept = studio.chart_of(session, number)
        places = studio.placed(kept, [sample.name for sample in samples])
        return SquaresFound(
            squares=[_of_file(square.code, sample) for square, sample in zip(places, samples, strict=True)]
        )

    return await run_in_threadpool(found)


def _of_file(code: str, sample: Reading) -> SquareFound:
    try:
        lab = studio.colour_of(sample.lab, sample.spectrum)
    except Refused as refused:
        raise refused.under(f"file.{code}") from None
    return SquareFound(code=code, lab=lab, spectrum=sample.spectrum, srgb=srgb_of(lab))


@router.post("/charts/{number}/photograph", openapi_extra=_PICTURE)
@policy.looks(body=policy.PICTURE)
async def photograph(
    request: Request,
    db: Db,
    number: RowId,
    corners: Annotated[
        str | None,
        Query(max_length=200, description="four corners by hand, x,y;x,y;x,y;x,y from the top left, shares of 1"),
    ] = None,
    paper: Literal["a4", "letter"] | None = None,
    card_reflectance: float = CARD_REFLECTANCE,
) -> SquaresFound:
    """The squares in one photograph of the whole sheet (the body), a grey card on its place; nothing is kept yet."""
    picture = await request.body()
    by_hand = _corners(corners) if corners is not None else None

    def found() -> SquaresFound:
        with db.session() as session:
            kept = studio.chart_of(session, number)
        read = chart_photo.read(
            picture, number, kept.plan.layout, corners=by_hand, paper=paper, card_reflectance=card_reflectance
        )
        return SquaresFound(
            squares=[
                SquareFound(
                    code=one.square.code,
                    lab=one.read.lab,
                    srgb=srgb_of(one.read.lab),
                    off=one.read.off,
                    empty=one.read.empty,
                    x=one.x,
                    y=one.y,
                )
                for one in read.squares
            ],
            corners=[SheetCorner(x=x, y=y) for x, y in read.found.corners],
            seen=list(read.found.seen),
            paper=read.found.paper,
        )

    return await run_in_threadpool(found)


_PAIR = r"-?\d*\.?\d+"


def _corners(text: str) -> list[tuple[float, float]]:
    if re.fullmatch(rf"{_PAIR},{_PAIR}(;{_PAIR},{_PAIR}){{3}}", text) is None:
        raise Refused("corners", "not four places", "x,y;x,y;x,y;x,y from the top left clockwise, shares of 1")
    places = []
    for n, pair in enumerate(text.split(";")):
        x, y = (float(at) for at in pair.split(","))
        if not (0 <= x <= 1 and 0 <= y <= 1):
            raise Refused("corners", f"corner {n + 1} is outside the picture", "all four inside the picture")
        places.append((x, y))
    return places


@router.post("/charts/{number}/stand-in-reading")
@policy.looks()
def stand_in_square(db: Db, number: RowId, square: Annotated[Words, Query(min_length=2, max_length=4)]) -> BandsRead:
    """A reading of a square by the stand-in colour reader, made from what is predicted; not kept."""
    with db.session() as session:
        seen = studio.reflectance_at(session, number, square)
    return BandsRead(spectrum=list(colour_reader.near(seen)))


@router.post("/find", response_model=MixturesFound)
@policy.looks()
def find(db: Db, asked: FindAsked) -> Response:
    """The mixtures of the studio's paints that come nearest to a wanted colour; changes nothing."""
    with db.session() as session:
        found = studio.find(session, asked)
    return answer(found)


add_room(router, studio.CHARTS, ChartView, studio.view_of, path="/charts/{number}")


def _as_text(text: str, name: str) -> Response:
    headers = {"content-disposition": f'attachment; filename="{name}.txt"'}
    return Response(text, media_type="text/plain; charset=utf-8", headers=headers)
