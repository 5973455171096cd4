"""Tests of every floor. Property tests are bounded by examples, never by wall-clock time.

The examples are the same on every run, so that a failure says something about the change at hand;
NIDDY_FRESH_EXAMPLES=1 draws new ones.
"""

import os

from hypothesis import settings

settings.register_profile("niddy", deadline=None, derandomize=not os.environ.get("NIDDY_FRESH_EXAMPLES"))
settings.load_profile("niddy")
