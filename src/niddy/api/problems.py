"""Refusals as RFC 9457 problem documents: the field, what was wrong, what would be accepted."""

from __future__ import annotations

import json
import logging
from collections.abc import Sequence
from pathlib import Path
from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from pydantic import BaseModel
from sqlalchemy.exc import InterfaceError, OperationalError
from sqlalchemy.exc import TimeoutError as PoolTimeout
from starlette.exceptions import HTTPException
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from niddy.api import policy
from niddy.core.errors import Refused
from niddy.studio.errors import Conflict, Missing

AWAY = "The database does not answer yet; nothing is lost, and this is tried again by itself."
log = logging.getLogger("niddy")


class TooOften(Exception):
    """Somebody tries too often."""

    def __init__(self, field: str, problem: str, accepted: str, wait_s: int = 60) -> None:
        super().__init__(problem)
        self.field, self.problem, self.accepted, self.wait_s = field, problem, accepted, wait_s


class FieldProblem(BaseModel):
    """One refused field."""

    field: str
    problem: str
    accepted: str


class Problem(BaseModel):
    """A problem document (RFC 9457)."""

    type: str
    title: str
    status: int
    detail: str
    errors: list[FieldProblem]


MEDIA_TYPE = "application/problem+json"
_SCHEMAS = "#/components/schemas/{model}"
# Told by reference, not as a model of each address: FastAPI would build a validator for every one of them at a start.
REFUSALS: dict[int | str, dict[str, Any]] = {
    status: {"description": text, "content": {MEDIA_TYPE: {"schema": {"$ref": _SCHEMAS.format(model="Problem")}}}}
    for status, text in {
        400: "The request could not be read",
        401: "Nobody is signed in on this device",
        403: "The role of who is signed in does not allow it",
        404: "Not kept here",
        409: "Contradicts the record",
        413: "The request is too large",
        422: "A field was refused",
        429: "Too many tries",
    }.items()
}


def problem(status: int, kind: str, title: str, errors: Sequence[FieldProblem] = (), detail: str = "") -> JSONResponse:
    """A problem document as a response."""
    detail = detail or "; ".join(f"{e.field}: {e.problem}; accepted: {e.accepted}" for e in errors) or title
    body = Problem(type=f"about:blank#{kind}", title=title, status=status, detail=detail, errors=list(errors))
    return JSONResponse(body.model_dump(), status, media_type=MEDIA_TYPE)


_ACCEPTED: dict[str, str] = {
    "float_type": "a number",
    "int_type": "a whole number",
    "float_parsing": "a number",
    "int_parsing": "a whole number",
    "int_from_float": "a whole number",
    "finite_number": "a finite number",
    "string_type": "text",
    "bool_type": "true or false",
    "uuid_parsing": "a UUID",
    "uuid_type": "a UUID",
    "missing": "a value",
    "union_tag_not_found": "what happened",
    "extra_forbidden": "no such field",
    "list_type": "a list",
    "model_attributes_type": "an object",
    "model_type": "an object",
    "dict_type": "an object",
    "timezone_aware": "a time with its offset from UTC",
    "date_from_datetime_parsing": "a date like 2026-03-31",
    "date_parsing": "a date like 2026-03-31",
    "datetime_from_date_parsing": "a time like 2026-03-31T10:00:00Z",
    "datetime_parsing": "a time like 2026-03-31T10:00:00Z",
    "json_invalid": "well-formed JSON",
    "not_writable": "plain text without control characters",
}


def _accepted(kind: str, context: dict[str, Any]) -> str:
    bounds = {
        "greater_than": "above {gt}",
        "greater_than_equal": "at least {ge}",
        "less_than": "below {lt}",
        "less_than_equal": "at most {le}",
        "string_too_short": "at least {min_length} characters",
        "string_too_long": "at most {max_length} characters",
        "too_short": "at least {min_length}",
        "too_long": "at most {max_length}",
        "enum": "{expected}",
        "literal_error": "{expected}",
        "union_tag_invalid": "{expected_tags}",
    }
    if kind in bounds:
        shown = {name: f"{value:g}" if isinstance(value, float) else value for name, value in context.items()}
        return bounds[kind].format(**shown)
    return _ACCEPTED.get(kind, "a value as the API's description says")


_PROBLEMS = {
    "missing": "missing",
    "json_invalid": "cannot be read",
    "extra_forbidden": "not asked for",
    "finite_number": "no number",
    "greater_than": "{input} is too little",
    "greater_than_equal": "{input} is too little",
    "less_than": "{input} is too much",
    "less_than_equal": "{input} is too much",
    "string_too_short": "empty",
    "string_too_long": "too long",
    "too_short": "too few",
    "too_long": "too many",
    "not_writable": "it holds control characters",
    "int_from_float": "{input} is not whole",
    "timezone_aware": "a time without its offset",
    "union_tag_invalid": "nothing that can happen here",
    "union_tag_not_found": "missing",
}


def _problem(kind: str, given: object) -> str:
    """What is wrong in words said aloud; for the rest, that it is not what is wanted there."""
    shown = f"'{given[:40]}'" if isinstance(given, str) else f"{given:g}" if isinstance(given, int | float) else ""
    if given is None and kind != "extra_forbidden":
        return "missing"
    if kind in _PROBLEMS:
        return _PROBLEMS[kind].format(input=shown or "that")
    if kind.startswith(("float", "int", "decimal")):
        return f"{shown or 'that'} is not a number"
    if kind.startswith("date"):
        return f"{shown or 'that'} is not a date"
    return f"{shown or 'that'} is not what is wanted here"


AWAY_ERRORS = (OperationalError, InterfaceError, PoolTimeout)
"""What is raised where the database does not answer."""


def away(method: str, path: str, error: Exception) -> JSONResponse:
    """The answer where the database does not answer."""
    why = (str(getattr(error, "orig", None) or error).splitlines() or [""])[0]
    log.warning("the database does not answer at %s %s: %s", method, path, why)
    answer = problem(503, "database-away", "The database does not answer yet; nothing is lost", detail=AWAY)
    answer.headers["retry-after"] = "2"
    return answer


def _from_validation(error: dict[str, Any], act: bool) -> FieldProblem:
    where = [str(part) for part in error["loc"] if part not in ("body", "query", "path")]
    if error["type"].startswith("union_tag"):
        where = [*where, "kind"]
    elif act and len(where) > 1:
        # The kind by which an act is told from others is no part of the field's own name.
        del where[0]
    if error["type"] == "json_invalid":
        where = []
    return FieldProblem(
        field=".".join(where) or "body",
        problem=_problem(error["type"], error.get("input")),
        accepted=_accepted(error["type"], error.get("ctx") or {}),
    )


_DESCRIPTION: dict[str, Any] = {}


def describe(app: FastAPI, written: Path | None = None) -> None:
    """In the API's description, say what a refusal is.

    It takes seconds and is the same for every app: made once, or taken from where the build has `written` it.
    """
    plain = app.openapi

    def openapi() -> dict[str, Any]:
        if not _DESCRIPTION and written is not None and written.is_file():
            _DESCRIPTION.update(json.loads(written.read_text()))
        if not _DESCRIPTION:
            made = plain()
            problem_document = Problem.model_json_schema(ref_template=_SCHEMAS)
            made["components"]["schemas"] |= {**problem_document.pop("$defs"), "Problem": problem_document}
            _DESCRIPTION.update(made)
        return _DESCRIPTION

    app.openapi = openapi  # type: ignore[method-assign]


def install(app: FastAPI) -> None:
    """Answer every refusal of every floor with a problem document, and unforeseen errors with a silent one."""

    @app.exception_handler(Refused)
    async def refused(_: Request, error: Refused) -> JSONResponse:
        entry = FieldProblem(field=error.field, problem=error.problem, accepted=error.accepted)
        return problem(422, "refused", "A value was refused", [entry])

    @app.exception_handler(Missing)
    async def missing(_: Request, error: Missing) -> JSONResponse:
        entry = FieldProblem(
            field=error.field or "path", problem=f"no {error.what} '{error.key}'", accepted=f"a {error.what} kept here"
        )
        return problem(422 if error.field else 404, "missing", f"No such {error.what}", [entry])

    @app.exception_handler(Conflict)
    async def conflict(_: Request, error: Conflict) -> JSONResponse:
        entry = FieldProblem(field=error.field, problem=error.problem, accepted=error.accepted)
        return problem(409, "conflict", "Contradicts what is on record", [entry])

    @app.exception_handler(TooOften)
    async def too_often(_: Request, error: TooOften) -> JSONResponse:
        entry = FieldProblem(field=error.field, problem=error.problem, accepted=error.accepted)
        answer = problem(429, "too-often", "Too many tries", [entry])
        answer.headers["retry-after"] = str(error.wait_s)
        return answer

    @app.exception_handler(RequestValidationError)
    async def invalid(request: Request, error: RequestValidationError) -> JSONResponse:
        # Every room's acts come to an address of this end, told apart by their kind.
        act = request.url.path.endswith("/acts")
        entries = [_from_validation(dict(e), act) for e in error.errors()[:20]]
        return problem(422, "refused", "A value was refused", entries)

    @app.exception_handler(HTTPException)
    async def http(_: Request, error: HTTPException) -> JSONResponse:
        return problem(error.status_code, "http", str(error.detail))

    async def database_away(request: Request, error: Exception) -> JSONResponse:
        return away(request.method, request.url.path, error)

    for kind in AWAY_ERRORS:
        app.add_exception_handler(kind, database_away)


class BodyLimit:
    """ASGI middleware: refuses a body over the limit before it is read, and while it arrives."""

    def __init__(self, app: ASGIApp, limit: int = policy.MAX_BODY_BYTES) -> None:
        self.app, self.limit = app, limit

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        stands = policy.of(scope)
        limit = self.limit if stands is None else stands.body.most_bytes
        if limit is None:
            # Read as it comes, with a limit of its own.
            await self.app(scope, receive, send)
            return
        declared = dict(scope["headers"]).get(b"content-length", b"0")
        if declared.isdigit() and int(declared) > limit:
            await self._refuse(scope, receive, send, limit)
            return
        taken, started = 0, False

        async def counted() -> Message:
            nonlocal taken
            message = await receive()
            taken += len(message.get("body", b""))
            if taken > limit:
                raise _TooLarge
            return message

        async def watched(message: Message) -> None:
            nonlocal started
            started = started or message["type"] == "http.response.start"
            await send(message)

        try:
            await self.app(scope, counted, watched)
        except _TooLarge:
            if not started:
                await self._refuse(scope, receive, send, limit)

    async def _refuse(self, scope: Scope, receive: Receive, send: Send, limit: int) -> None:
        entry = FieldProblem(field="body", problem="too large", accepted=f"at most {limit // 1000} kB")
        await problem(413, "too-large", "The request is too large", [entry])(scope, receive, send)


class _TooLarge(Exception):
    pass
