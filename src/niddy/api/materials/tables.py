"""The shelf of lots in open formats: out as a table, and in again row by row, looked at first."""

from __future__ import annotations

import json
from collections.abc import Iterator
from dataclasses import asdict
from itertools import islice
from tempfile import SpooledTemporaryFile
from threading import BoundedSemaphore
from typing import IO, Any

from fastapi import Request, Response
from fastapi.responses import StreamingResponse
from sqlalchemy.exc import IntegrityError

from niddy.api import policy
from niddy.api.context import Db, Now
from niddy.api.materials.base import router
from niddy.core.errors import Refused
from niddy.exchange import stock_csv
from niddy.studio import materials as studio
from niddy.studio.materials import LotKept

MAX_FILE_BYTES = 20_000_000
_IMPORTS = BoundedSemaphore(2)
"""So many files at once; whoever only looks at Niddy meanwhile is answered."""

ROWS_AT_ONCE = 500


@router.get("/export.csv", response_class=Response, responses={200: {"content": {"text/csv": {}}}})
def export_csv(db: Db) -> StreamingResponse:
    """The whole shelf as CSV, used-up lots included, gels left out."""

    def lines() -> Iterator[str]:
        with db.session() as session:
            yield from stock_csv.write(_all_lots(session))

    headers = {"content-disposition": 'attachment; filename="niddy-stock.csv"'}
    return StreamingResponse(lines(), media_type="text/csv; charset=utf-8", headers=headers)


def _all_lots(session: Any) -> Iterator[LotKept]:
    offset = 0
    while found := studio.lots(session, with_used_up=True, limit=ROWS_AT_ONCE, offset=offset):
        yield from found
        offset += len(found)


@router.get("/export.json")
def export_json(db: Db) -> list[LotKept]:
    """The whole shelf as JSON."""
    with db.session() as session:
        return list(_all_lots(session))


@router.post("/import", response_class=StreamingResponse, responses={200: {"content": {"application/x-ndjson": {}}}})
@policy.works("Took in a shelf from a table", policy.CSV)
async def import_csv(request: Request, db: Db, now: Now, write: bool = False) -> StreamingResponse:
    """A shelf from CSV (the body). Without `write` nothing is kept: it says what each row would do.

    Answers line by line as it goes: `{"row": ...}` for every row, `{"progress": rows}` now and then, and at the
    end `{"done": ...}` with the counts; or `{"refused": ...}`. With one refused cell nothing at all is written.
    """
    file: IO[bytes] = SpooledTemporaryFile(max_size=2_000_000)  # noqa: SIM115  closed by the generator
    try:
        size = 0
        async for chunk in request.stream():
            size += len(chunk)
            if size > MAX_FILE_BYTES:
                raise Refused("file", "too large", f"at most {MAX_FILE_BYTES // 1_000_000} MB")
            file.write(chunk)
    except BaseException:
        file.close()
        raise
    return StreamingResponse(_imported(file, db, now, write), media_type="application/x-ndjson")


def _chunks(file: IO[bytes]) -> Iterator[list[stock_csv.RowRead]]:
    file.seek(0)
    rows = stock_csv.read(file)
    while chunk := list(islice(rows, ROWS_AT_ONCE)):
        yield chunk


def _imported(file: IO[bytes], db: Db, now: Now, write: bool) -> Iterator[str]:
    """First the whole file is read and every row judged, in short reading transactions; only then, where all are good
    and it is wanted, all is written in one transaction during which nobody waits for the reader of this answer."""
    counts = {"receive": 0, "change": 0, "nothing": 0, "refused": 0}
    written = False
    if not _IMPORTS.acquire(blocking=False):
        file.close()
        yield _json({"refused": {"problem": "other files are being brought in just now", "accepted": "it in a moment"}})
        return
    try:
        for chunk in _chunks(file):
            yield from _judged(db, now, chunk, counts)
            yield _json({"progress": sum(counts.values())})
        if write and not counts["refused"]:
            written = _write_all(file, db, now)
        yield _json({"done": counts, "written": written})
    except Refused as refusal:
        yield _json({"refused": {"problem": refusal.problem, "accepted": refusal.accepted}})
    finally:
        file.close()
        _IMPORTS.release()


def _judged(db: Db, now: Now, chunk: list[stock_csv.RowRead], counts: dict[str, int]) -> list[str]:
    """What each row of a part of the file would do, a line each; nothing is written."""
    with db.session() as session:
        good = [(row.lot, row.on_hand) for row in chunk if row.lot is not None]
        done = iter(studio.import_lots(session, now, good, write=False))
    judged = []
    for row in chunk:
        if row.lot is None:
            does, refused = "refused", [asdict(problem) for problem in row.problems]
        else:
            outcome = next(done)
            does = outcome.does
            refused = [{"column": c, "problem": p, "accepted": a} for c, p, a in outcome.refused]
        counts[does] += 1
        judged.append(_json({"row": {"line": row.line, "code": row.code, "does": does, "refused": refused}}))
    return judged


def _write_all(file: IO[bytes], db: Db, now: Now) -> bool:
    """Write every row in one transaction; False where the stock changed since it was judged, and nothing is written."""
    try:
        with db.session() as session:
            for chunk in _chunks(file):
                good = [(row.lot, row.on_hand) for row in chunk if row.lot is not None]
                if any(received.does == "refused" for received in studio.import_lots(session, now, good, write=True)):
                    raise _NothingWritten
                session.expunge_all()
    except (_NothingWritten, IntegrityError):
        return False
    return True


class _NothingWritten(Exception):
    pass


def _json(value: object) -> str:
    return json.dumps(value, ensure_ascii=False) + "\n"
