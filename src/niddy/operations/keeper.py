"""Keeping our own database up while we serve: a server that died is brought back on its port."""

from __future__ import annotations

import logging
import threading

from niddy.operations.cluster import Cluster, ClusterError

log = logging.getLogger("niddy")
LOOK_EVERY_S = 0.5


class Keeper:
    """A thread that looks after one cluster while the block lasts."""

    def __init__(self, cluster: Cluster) -> None:
        self._cluster = cluster
        self._over = threading.Event()
        self._thread = threading.Thread(target=self._look_after, name="keeper", daemon=True)

    def __enter__(self) -> Keeper:
        self._thread.start()
        return self

    def __exit__(self, *_: object) -> None:
        self._over.set()
        self._thread.join(timeout=70)

    def _look_after(self) -> None:
        while not self._over.wait(LOOK_EVERY_S):
            if self._cluster.running():
                continue
            log.warning("the database's server died; it is started again")
            try:
                up = self._cluster.revive(lambda: not self._over.is_set())
            except (ClusterError, OSError) as error:
                log.warning("it did not start: %s", error)
                continue
            if up:
                log.warning("the database is back")
            elif not self._over.is_set():
                log.warning("it does not start yet: %s", self._cluster.log_tail(3))
