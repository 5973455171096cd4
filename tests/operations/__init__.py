"""Whole instances; their demo is the one of the shared cluster, where there is one."""

import os
from pathlib import Path

from niddy.operations.instance import DEMOS
from tests.support import TODAY, demo_backup

if home := os.environ.get("NIDDY_TEST_CLUSTER"):
    DEMOS[TODAY.isoformat()] = demo_backup(Path(home))
