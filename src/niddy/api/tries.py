"""Wrong tries at passwords and codes: counted by device and address first, and by name with a wait that grows."""

from __future__ import annotations

import math
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass

from limits import RateLimitItem, RateLimitItemPerHour, RateLimitItemPerMinute
from limits.storage import MemoryStorage
from limits.strategies import MovingWindowRateLimiter

from niddy.api.problems import TooOften
from niddy.core.errors import Refused
from niddy.core.makers import FORGOTTEN_AFTER, name_key, wait_after

OF_AN_ADDRESS = (RateLimitItemPerMinute(20), RateLimitItemPerHour(200))
OF_A_DEVICE = (RateLimitItemPerMinute(10), RateLimitItemPerHour(100))
MOST_NAMES = 5_000
"""Of more names than this nothing is remembered: the least recent are forgotten first."""

RIGHT_ONE = "the right one"


@dataclass(slots=True)
class _Name:
    wrong: int = 0
    last: float = 0.0
    until: float = 0.0


@dataclass(frozen=True, slots=True)
class From:
    """Where a try comes from: its network address, and a device where the maker it names signed in before."""

    address: str
    device: str = ""


class Tries:
    """What was tried at one app process, and who has to wait."""

    def __init__(self, clock: Callable[[], float] = time.monotonic) -> None:
        self._clock = clock
        self._lock = threading.Lock()
        self.reset()

    def reset(self) -> None:
        """Forget every try."""
        self._storage = MemoryStorage()
        self._counted = MovingWindowRateLimiter(self._storage)
        self._names: dict[str, _Name] = {}

    @contextmanager
    def counted(self, where: From, name: str | None, *fields: str) -> Iterator[None]:
        """Count a try before it is looked at, so that a hundred at once are a hundred; the right one clears its name.

        Refusals at `fields` are wrong tries. A device known to belong to the name is counted by itself: neither what
        others try at its name nor what comes from its address makes it wait. Raises TooOften.
        """
        known = bool(where.device)
        key = f"device {where.device}" if known else f"address {where.address}"
        kinds: tuple[RateLimitItem, ...] = OF_A_DEVICE if known else OF_AN_ADDRESS
        hits = [self._counted.hit(kind, key) for kind in kinds]
        if not all(hits):
            raise TooOften(fields[0], "too many tries", f"{RIGHT_ONE}, a minute from now", 60)
        named = name_key(name) if name is not None and not known else None
        if named is not None:
            self._begin(named, fields[0])
        wrong = False
        try:
            yield
        except Refused as refused:
            wrong = refused.field in fields
            raise
        except TooOften:
            # Nobody looked at it: neither right nor wrong.
            if named is not None:
                self._give_back(named)
                named = None
            raise
        finally:
            if named is not None and not wrong:
                self._forget(named)

    def _begin(self, key: str, field: str) -> None:
        with self._lock:
            now = self._clock()
            tried = self._names.pop(key, _Name())
            if now - tried.last > FORGOTTEN_AFTER.total_seconds():
                tried = _Name()
            self._names[key] = tried
            if now < tried.until:
                wait = math.ceil(tried.until - now)
                raise TooOften(
                    field,
                    "too many wrong tries at this name",
                    f"{RIGHT_ONE}, {_in_words(wait)} from now; or from a device you signed in on before",
                    wait,
                )
            tried.wrong += 1
            tried.last = now
            tried.until = now + wait_after(tried.wrong).total_seconds()
            while len(self._names) > MOST_NAMES:
                del self._names[next(iter(self._names))]

    def _give_back(self, key: str) -> None:
        with self._lock:
            tried = self._names.get(key)
            if tried is not None:
                tried.wrong = max(0, tried.wrong - 1)
                tried.until = tried.last + wait_after(tried.wrong).total_seconds()

    def _forget(self, key: str) -> None:
        with self._lock:
            self._names.pop(key, None)


def _in_words(seconds: int) -> str:
    return f"{seconds} seconds" if seconds < 90 else f"{math.ceil(seconds / 60)} minutes"
