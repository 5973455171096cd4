"""Tubes: the filling run, labels, and cost."""

from __future__ import annotations

import base64
import json
from collections.abc import Iterator
from dataclasses import replace
from typing import Annotated

from fastapi import Request, Response
from fastapi.responses import StreamingResponse
from pydantic import BaseModel, Field

from niddy.api import policy
from niddy.api.context import Db, Now, RowId
from niddy.api.problems import REFUSALS
from niddy.api.router import Router
from niddy.core.documents import Document
from niddy.core.words import Words
from niddy.exchange import label_sheet, labels_pdf, printing
from niddy.exchange.label_sheet import LabelForm, LabelSize, Sheet
from niddy.exchange.labels_pdf import LabelStyle
from niddy.studio import cost as costs
from niddy.studio import labels as texts
from niddy.studio import tubes as studio
from niddy.studio.cost import CostAsked, Costed, RecipeCost, Reckoning
from niddy.studio.labels import Label
from niddy.studio.tubes import Done, Empties, FillAsked, Filling, ToFill

router = Router(prefix="/api/tubes", tags=["tubes"], responses=REFUSALS)
Mm = Annotated[float, Field(strict=True, ge=0, le=400)]


class LabelsAsked(Document):
    """Labels of some tubes and jars, in order: a grid on a sheet from its n-th place, or one label a page.

    `pictograms` prints the standard pictograms: the maker has confirmed the classification.
    """

    items: Annotated[list[RowId], Field(max_length=600)]
    paper: Annotated[Words, Field(max_length=20)] = "a4"
    columns: Annotated[int, Field(strict=True)] = 3
    rows: Annotated[int, Field(strict=True)] = 8
    margin_x_mm: Mm = 7.0
    margin_y_mm: Mm = 12.0
    gap_x_mm: Mm = 2.5
    gap_y_mm: Mm = 0.0
    width_mm: Mm | None = None
    height_mm: Mm | None = None
    start_at: Annotated[int, Field(strict=True)] = 1
    pictograms: bool = False
    style: LabelStyle = LabelStyle.BAND
    form: LabelForm = LabelForm.FLAT
    name: Annotated[Words, Field(max_length=300)] | None = None

    def sheet(self) -> Sheet:
        single = (self.width_mm, self.height_mm) if self.width_mm and self.height_mm else None
        return Sheet(
            self.paper,
            self.columns,
            self.rows,
            self.margin_x_mm,
            self.margin_y_mm,
            self.gap_x_mm,
            self.gap_y_mm,
            single,
            self.form,
        )


class LabelsPreview(BaseModel):
    """The first page as a PNG in base64, drawn from the PDF itself; how many pages, and what could not be printed.

    `label_png` is the first label alone, at `width_mm` its true size; `lines` are its words, to copy by hand.
    """

    png: str
    label_png: str
    width_mm: float
    height_mm: float
    lines: list[str]
    pages: int
    says: list[str]


def _labels(db: Db, request: Request, asked: LabelsAsked) -> list[Label]:
    with db.session() as session:
        labels = texts.texts(session, asked.items)
    base = request.app.state.settings.origin or str(request.base_url).rstrip("/")
    return [
        replace(
            label,
            name=(asked.name or "").strip() or label.name,
            pictograms=label.pictograms if asked.pictograms else (),
            address=base + label.address,
        )
        for label in labels
    ]


@router.get("")
def to_fill(db: Db) -> tuple[ToFill, ...]:
    """Finished batches with paint still to fill."""
    with db.session() as session:
        return studio.to_fill(session)


@router.get("/empties")
def empties(db: Db) -> tuple[Empties, ...]:
    """The tube types in use and their empties."""
    with db.session() as session:
        return studio.empties(session)


@router.get("/labels/sizes")
def label_sizes(paper: str = "a4") -> tuple[LabelSize, ...]:
    """Labels that fit the usual tubes and a jar, each with the grid it makes on a sheet."""
    return label_sheet.label_sizes(paper)


@router.post("/labels.pdf", response_class=Response, responses={200: {"content": {"application/pdf": {}}}})
@policy.looks()
def labels(db: Db, request: Request, asked: LabelsAsked) -> Response:
    """The labels as PDF."""
    printed = labels_pdf.labels(_labels(db, request, asked), asked.sheet(), asked.start_at, asked.style)
    name = 'inline; filename="niddy-labels.pdf"'
    return Response(printed.pdf, media_type="application/pdf", headers={"content-disposition": name})


@router.post("/labels/preview")
@policy.looks()
def preview(db: Db, request: Request, asked: LabelsAsked) -> LabelsPreview:
    """The first page of the labels as they will be printed."""
    wanted, sheet = _labels(db, request, asked), asked.sheet()
    printed = labels_pdf.labels(wanted, sheet, asked.start_at, asked.style)
    width, height = size = label_sheet.size_of(sheet)
    one = labels_pdf.labels(wanted[:1], replace(sheet, single_mm=size), style=asked.style)
    return LabelsPreview(
        png=base64.b64encode(printing.picture(printed.pdf)).decode(),
        label_png=base64.b64encode(printing.picture(one.pdf, width_px=800)).decode(),
        width_mm=width,
        height_mm=height,
        lines=wanted[0].lines,
        pages=printed.pages,
        says=list(printed.says),
    )


@router.post(
    "/labels/stream", response_class=StreamingResponse, responses={200: {"content": {"application/x-ndjson": {}}}}
)
@policy.looks()
def stream(db: Db, request: Request, asked: LabelsAsked) -> StreamingResponse:
    """The labels with their progress: a line every few labels, and the PDF in base64 in the last."""
    wanted, sheet = _labels(db, request, asked), asked.sheet()
    labels_pdf.check(wanted, sheet, asked.start_at)

    def lines() -> Iterator[str]:
        steps = labels_pdf.label_by_label(wanted, sheet, asked.start_at, asked.style)
        while True:
            try:
                done = next(steps)
            except StopIteration as ended:
                pdf = base64.b64encode(ended.value.pdf).decode()
                yield json.dumps({"done": len(wanted), "of": len(wanted), "pdf": pdf, "says": ended.value.says}) + "\n"
                return
            if done % 10 == 0:
                yield json.dumps({"done": done, "of": len(wanted)}) + "\n"

    return StreamingResponse(lines(), media_type="application/x-ndjson")


@router.post("/cost")
@policy.looks()
def cost(db: Db, asked: CostAsked) -> Costed:
    """What a batch or a plan costs."""
    with db.session() as session:
        return costs.cost(session, asked)


@router.post("/cost/recipe/{recipe_id}")
@policy.looks()
def recipe_cost(db: Db, recipe_id: RowId, asked: Reckoning) -> RecipeCost:
    """What a recipe costs by its latest batches."""
    with db.session() as session:
        return costs.of_recipe(session, recipe_id, asked)


@router.get("/{number}")
def filling(db: Db, now: Now, number: RowId) -> Filling:
    """A batch being filled."""
    with db.session() as session:
        return studio.filling(session, now, number)


@router.post("/{number}/fill")
@policy.works("Filled a tube or jar")
def fill(db: Db, now: Now, number: RowId, asked: FillAsked) -> Done:
    """Log one filled tube or jar."""
    with db.session() as session:
        return studio.fill(session, now, number, asked)
