"""Answers of the busiest endpoints, written to JSON straight from the studio's dataclasses.

They are built by the studio's own types, so a second validation of every answer would only cost time;
the endpoints still name their type for the API's description.
"""

from __future__ import annotations

from dataclasses import replace
from functools import cache
from typing import Annotated, Any

from fastapi import Query, Request, Response
from pydantic import TypeAdapter

from niddy.exchange import label_sheet, labels_pdf
from niddy.studio.labels import Label

A_PDF: dict[int | str, dict[str, Any]] = {200: {"content": {"application/pdf": {}}}}
"""How an address says that it answers with a PDF."""

LabelWidth = Annotated[float, Query(ge=25, le=300)]
LabelHeight = Annotated[float, Query(ge=15, le=300)]


@cache
def _writer(kind: Any) -> TypeAdapter[Any]:
    return TypeAdapter(kind)


def answer(value: Any, kind: Any = None) -> Response:
    """A dataclass of the studio (or a value of a type given) as a JSON response."""
    of: Any = kind or type(value)
    return Response(_writer(of).dump_json(value), media_type="application/json")


def one_label(request: Request, label: Label, width_mm: float, height_mm: float) -> Response:
    """One label a page as PDF, its code made whole: it opens on a phone what the label is of."""
    base = request.app.state.settings.origin or str(request.base_url).rstrip("/")
    sheet = label_sheet.Sheet(single_mm=(width_mm, height_mm))
    printed = labels_pdf.labels([replace(label, address=base + label.address)], sheet)
    return Response(printed.pdf, media_type="application/pdf")
