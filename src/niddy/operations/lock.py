"""The lock of an instance's folder: one command at a time works on it."""

from __future__ import annotations

import fcntl
import os
from pathlib import Path


def try_lock(home: Path) -> int | None:
    """A held lock on the home as a file descriptor, or None where another process holds it. Closing releases it."""
    home.mkdir(parents=True, exist_ok=True)
    descriptor = os.open(home / "lock", os.O_RDWR | os.O_CREAT, 0o600)
    try:
        fcntl.flock(descriptor, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        os.close(descriptor)
        return None
    return descriptor
