"""Databases for a while."""

from __future__ import annotations

import os
import tempfile
from pathlib import Path

from niddy.operations.cluster import Cluster


def throwaway(prefix: str = "niddy-test-", *, durable: bool = False) -> Cluster:
    """A cluster for tests or the bench, in memory where the machine allows it and nothing need last."""
    memory = Path("/dev/shm")  # noqa: S108
    parent = memory if not durable and os.access(memory, os.W_OK) else Path(tempfile.gettempdir())
    home = Path(tempfile.mkdtemp(prefix=prefix, dir=parent))
    home.chmod(0o755)
    return Cluster(home, durable=durable)
