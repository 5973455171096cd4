"""Who may do what in a studio: roles, passwords and PINs, and how long one stays signed in."""

from __future__ import annotations

import re
from dataclasses import dataclass
from datetime import datetime, timedelta
from enum import StrEnum
from itertools import pairwise

from niddy.core.errors import Refused

LEAST_PASSWORD, LONGEST_PASSWORD = 10, 200
LEAST_PIN, LONGEST_PIN = 4, 8
PIN_TRIES = 5
"""So many wrong PINs in a row, and only the password helps."""

PAIRING_LASTS = timedelta(minutes=2)
STAYS = timedelta(days=30)
"""So long after it was last used a device is still signed in."""

CLOCK_SLACK = timedelta(days=1)
"""A clock set back by more than this makes all that was signed in before worth nothing."""

READING = frozenset({"GET", "HEAD", "OPTIONS"})


class MakerRole(StrEnum):
    """What somebody is in a studio."""

    OWNER = "owner"
    MAKER = "maker"
    LOOKER = "looker"


class By(StrEnum):
    """How somebody came in on a device."""

    PASSWORD = "password"  # noqa: S105
    PHONE = "phone"
    PIN = "pin"


@dataclass(frozen=True, slots=True)
class Who:
    """Somebody who is signed in: by whom, in which role, and how they came in."""

    maker_id: int
    name: str
    initials: str
    role: MakerRole
    by: By
    session_id: int

    @property
    def owns(self) -> bool:
        """Whether they may do what an owner may: one who came in by PIN is a maker until the password is given."""
        return self.role is MakerRole.OWNER and self.by is not By.PIN


_OWNERS = re.compile(r"/api/(?:workshop|makers|package)(?:/.*)?")
"""Settings, makers and the studio as a whole are changed by an owner alone."""

_EVERYBODYS = re.compile(r"/api/makers/(?:sign-in|sign-out|switch|pair|pairing|shared|me/.*)|/api/makers/sessions/\d+")
"""What anybody does to what is their own."""

REMEMBERS_NOTHING = re.compile(
    r"/api/calc/.*|/api/plan|/api/checks/(?:reading-file|photograph)|/api/tubes/(?:labels.*|cost.*)|/api/sticks/(?:bases/preview|plan)"
    r"|/api/making/(?:preview|processes/\d+/plan)|/api/additives/(?:intent|ladders/design)|/api/recipes/\d+/again"
    r"|/api/swap/look|/api/sludge/cakes/\d+/steer|/api/mixing/(?:find|charts/(?:preview|\d+/(?:file|photograph|stand-in-reading)))"
    r"|/api/mixing/paints/\d+/stand-in-reading"
)
"""What is asked with a body but only computed or printed."""


def refusal(who: Who, method: str, path: str) -> str:
    """Why somebody may not do something, in words; empty where they may.

    `method` and `path` as they come over HTTP.
    """
    owners = _OWNERS.fullmatch(path) is not None
    if method in READING:
        if path.startswith("/api/package") and not who.owns:
            return _why_not_owner(who)
        return ""
    if _EVERYBODYS.fullmatch(path) or REMEMBERS_NOTHING.fullmatch(path):
        return ""
    if who.role is MakerRole.LOOKER:
        return "You look and print here; ask an owner to let you work"
    return _why_not_owner(who) if owners and not who.owns else ""


def _why_not_owner(who: Who) -> str:
    if who.role is MakerRole.OWNER:
        return "A PIN is not enough for this: sign in with your password"
    return "Only an owner does this: settings, makers, the whole studio"


def password(given: str, name: str) -> str:
    """A password that is good enough. Raises Refused; its words never repeat what was given."""
    accepted = f"{LEAST_PASSWORD} to {LONGEST_PASSWORD} characters, not your name, not one sign over and over"
    if not LEAST_PASSWORD <= len(given) <= LONGEST_PASSWORD:
        raise Refused("password", "too short" if len(given) < LEAST_PASSWORD else "too long", accepted)
    bare = given.casefold().strip()
    if len(set(bare)) < 4 or bare == name.casefold().strip() or bare in ("password12", "1234567890", "0123456789"):
        raise Refused("password", "too easy to guess", accepted)
    return given


def pin(given: str) -> str:
    """A PIN that is good enough. Raises Refused."""
    accepted = f"{LEAST_PIN} to {LONGEST_PIN} digits, not all the same and not in a row"
    if re.fullmatch(rf"[0-9]{{{LEAST_PIN},{LONGEST_PIN}}}", given) is None:
        raise Refused("pin", "no PIN", accepted)
    steps = {ord(after) - ord(before) for before, after in pairwise(given)}
    if steps in ({0}, {1}, {-1}):
        raise Refused("pin", "too easy to guess", accepted)
    return given


def initials_of(name: str) -> str:
    """Two letters for a name, or what there is of it."""
    words = re.findall(r"\w+", name)
    letters = "".join(word[0] for word in words[:3]) if len(words) > 1 else "".join(words)[:2]
    return letters.upper()


def still_good(began_at: datetime, seen_at: datetime, now: datetime) -> bool:
    """Whether a device is still signed in: used not too long ago, and not in what is now the future."""
    return now - seen_at <= STAYS and max(began_at, seen_at) - now <= CLOCK_SLACK


def pairing_refusal(made_at: datetime, used_at: datetime | None, now: datetime) -> str:
    """Why a code for a phone is worth nothing any more; empty where it is."""
    if used_at is not None:
        return "this code was used already"
    if now < made_at:
        return "the clock here was set back since this code was made"
    if now - made_at > PAIRING_LASTS:
        return "this code is older than two minutes"
    return ""
