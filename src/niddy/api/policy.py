"""What stands on every address: who may use it, what its body is, and the words a change without a log is noted in."""

from __future__ import annotations

import unicodedata
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Any, TypeVar

from starlette.routing import BaseRoute, compile_path
from starlette.types import ASGIApp, Receive, Scope, Send

from niddy.core.makers import Reach
from niddy.studio.photos import MAX_BYTES as PICTURE_BYTES

MAX_BODY_BYTES = 1_000_000


@dataclass(frozen=True, slots=True)
class Body:
    """What an address takes: its media types (none: what FastAPI reads as JSON) and the most bytes.

    `most_bytes` is None where the room reads the body as it comes and counts it itself.
    """

    kinds: tuple[str, ...] = ()
    most_bytes: int | None = MAX_BODY_BYTES


PICTURE_KINDS = ("image/jpeg", "image/png", "image/webp")
JSON = Body()
PICTURE = Body(PICTURE_KINDS, PICTURE_BYTES)
JSON_OR_PICTURE = Body(("application/json", *PICTURE_KINDS), PICTURE_BYTES)
CSV = Body(("text/csv",), None)
ZIP = Body(("application/zip", "application/x-zip-compressed"), None)


@dataclass(frozen=True, slots=True)
class Policy:
    """Who may, what comes, and what is noted of it.

    `noted` is what somebody did, in words, where the change has no log of its own; empty where it has, or where
    nothing changes. `lasts` says that the answer goes on, and ends with the sign-in of its device. Of what is asked
    with a secret `few` are let in at one time: looking at one takes a good part of a core.
    """

    reach: Reach
    noted: str = ""
    body: Body = JSON
    lasts: bool = False
    few: bool = False


E = TypeVar("E", bound=Callable[..., Any])


def _with(policy: Policy) -> Callable[[E], E]:
    def stand(endpoint: E) -> E:
        endpoint.policy = policy  # type: ignore[attr-defined]
        return endpoint

    return stand


def anybody(*, few: bool = False) -> Callable[[E], E]:
    """Asked before one is signed in: nothing of the studio is in its answer."""
    return _with(Policy(Reach.ANYBODY, few=few))


def looks(noted: str = "", body: Body = JSON, *, lasts: bool = False, few: bool = False) -> Callable[[E], E]:
    """For whoever is signed in: reads, computes, prints, or changes what is their own."""
    return _with(Policy(Reach.LOOKS, noted, body, lasts, few))


def works(noted: str, body: Body = JSON) -> Callable[[E], E]:
    """Work, for makers and owners, noted in words."""
    return _with(Policy(Reach.WORKS, noted, body))


def logs(body: Body = JSON) -> Callable[[E], E]:
    """Work that stands in a log, with who did it."""
    return _with(Policy(Reach.WORKS, "", body))


def owns(noted: str = "", body: Body = JSON) -> Callable[[E], E]:
    """For owners who gave their password."""
    return _with(Policy(Reach.OWNS, noted, body))


def of_endpoint(endpoint: Callable[..., Any], methods: Iterable[str]) -> Policy:
    """The policy of an endpoint. Reading needs none said; whatever else has none is a mistake of its author.

    Raises TypeError.
    """
    policy = getattr(endpoint, "policy", None)
    if isinstance(policy, Policy):
        return policy
    if set(methods) <= {"GET", "HEAD"}:
        return Policy(Reach.LOOKS)
    raise TypeError(f"{endpoint.__module__}.{endpoint.__name__} does not say who may: see niddy.api.policy")


@dataclass(frozen=True, slots=True)
class Address:
    """An address as the router has it, with what stands on it."""

    methods: frozenset[str]
    path: str
    endpoint: Callable[..., Any]
    policy: Policy


@dataclass(frozen=True, slots=True)
class _Row:
    matches: Callable[[str], object]
    address: Address


class Addresses:
    """All addresses of the rooms, found as the router finds them: in order, by method and whole path."""

    def __init__(self, routes: Iterable[BaseRoute]) -> None:
        self.all = tuple(_addresses(routes))
        self._by_room: dict[str, list[_Row]] = {}
        for address in self.all:
            pattern, _, _ = compile_path(address.path)
            self._by_room.setdefault(_room(address.path), []).append(_Row(pattern.match, address))

    def find(self, method: str, path: str) -> Address | None:
        """The address that answers, or None."""
        for row in self._by_room.get(_room(path), ()):
            if method in row.address.methods and row.matches(path):
                return row.address
        return None


def _room(path: str) -> str:
    return "/".join(path.split("/", 3)[:3])


def _addresses(routes: Iterable[BaseRoute]) -> Iterable[Address]:
    for route in routes:
        inner = getattr(route, "original_router", None)
        if inner is not None:
            yield from _addresses(inner.routes)
            continue
        path, methods, endpoint = (getattr(route, name, None) for name in ("path", "methods", "endpoint"))
        if path and methods and endpoint:
            yield Address(frozenset(methods), path, endpoint, of_endpoint(endpoint, methods))


def odd(path: str) -> bool:
    """Whether a path holds what no address of ours does: control characters, or a letter that is half of one."""
    return any(unicodedata.category(letter) in ("Cc", "Cs", "Zl", "Zp") for letter in path)


class Found:
    """ASGI middleware: finds the address once, before anybody decides by it, and hands it on as `scope["address"]`."""

    def __init__(self, app: ASGIApp, addresses: Addresses, refuse: Callable[[], ASGIApp]) -> None:
        self.app, self._addresses, self._refuse = app, addresses, refuse

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] == "http":
            if odd(scope["path"]):
                await self._refuse()(scope, receive, send)
                return
            scope["address"] = self._addresses.find(scope["method"], scope["path"])
        await self.app(scope, receive, send)


def of(scope: Scope) -> Policy | None:
    """What stands on the address asked for; None where it is no room's."""
    address: Address | None = scope.get("address")
    return address.policy if address is not None else None


def of_one_mind(scope: Scope) -> bool:
    """Whether the router came to the address that was decided about."""
    address: Address | None = scope.get("address")
    return address is not None and address.endpoint is scope.get("endpoint")
