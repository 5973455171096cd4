"""Who may do what in a studio: roles, passwords and PINs, and how long one stays signed in."""

from __future__ import annotations

import re
import unicodedata
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

PROVED_LASTS = timedelta(minutes=10)
"""So long an owner who came in by PIN is one after giving the password."""

FREE_TRIES = 5
"""So many wrong tries at a name cost nobody any waiting."""

FIRST_WAIT, LONGEST_WAIT = timedelta(seconds=10), timedelta(minutes=15)
FORGOTTEN_AFTER = timedelta(hours=1)
"""So long after the last wrong try at a name they count no more."""

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
    proved: bool = False

    @property
    def owns(self) -> bool:
        """Whether they may do what an owner may: one who came in by PIN is a maker until the password is given.

        `proved` says that it was given on this device within the last `PROVED_LASTS`.
        """
        return self.role is MakerRole.OWNER and (self.by is not By.PIN or self.proved)


class Reach(StrEnum):
    """Who may use an address."""

    ANYBODY = "anybody"
    LOOKS = "looks"
    WORKS = "works"
    OWNS = "owns"


def refusal(who: Who, reach: Reach) -> str:
    """Why somebody may not do something, in words; empty where they may."""
    if reach in (Reach.WORKS, Reach.OWNS) and who.role is MakerRole.LOOKER:
        return "You look and print here; ask an owner to let you work"
    if reach is Reach.OWNS and not who.owns:
        return _why_not_owner(who)
    return ""


def _why_not_owner(who: Who) -> str:
    if who.role is MakerRole.OWNER:
        return "A PIN is not enough for this: give your password as well, under your initials"
    return "Only an owner does this: settings, makers, the whole studio"


def password(given: str, name: str) -> str:
    """A password that is good enough. Raises Refused; its words never repeat what was given."""
    accepted = f"{LEAST_PASSWORD} to {LONGEST_PASSWORD} characters, not your name, not one sign over and over"
    if not LEAST_PASSWORD <= len(given) <= LONGEST_PASSWORD:
        raise Refused("password", "too short" if len(given) < LEAST_PASSWORD else "too long", accepted)
    bare = given.casefold().strip()
    if len(set(bare)) < 4 or name_key(given) == name_key(name) or bare in ("password12", "1234567890", "0123456789"):
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


def wait_after(wrong: int) -> timedelta:
    """How long a name waits after so many wrong tries: none at first, then twice as long each time, up to a limit."""
    over = wrong - FREE_TRIES
    return timedelta(0) if over < 0 else min(LONGEST_WAIT, FIRST_WAIT * 2 ** min(over, 10))


_LOOKS_LIKE = str.maketrans(
    # Greek and Cyrillic letters, small or large, that look like a Latin one; as casefolded.
    "αβεζηικμνορτυχϲϳавекмнорстухіјѕԁһԛԝӏıɑɡ",
    "abezhikmnoptyxcjabekmhopctyxijsdhqwliag",
)


_UNSEEN = frozenset("\u034f") | {chr(code) for code in range(0xFE00, 0xFE10)}
"""Joiners and variation selectors."""


def name_key(name: str) -> str:
    """What two names have in common that nobody can tell apart: case, width, unseen signs, letters of other scripts."""
    folded = unicodedata.normalize("NFKC", unicodedata.normalize("NFKC", name).casefold())
    seen = "".join(letter for letter in folded if unicodedata.category(letter) != "Cf" and letter not in _UNSEEN)
    return " ".join(seen.translate(_LOOKS_LIKE).split())


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
